//! Bytes of a text in UTF-16, as some systems write their logs, become UTF-8 before anything else
//! sees them. Only a mark at the beginning tells (Unicode, section 23.8).

use std::borrow::Cow;

/// Turns what arrives into UTF-8, if it begins with a mark of UTF-16; else it stays as it is.
#[derive(Default)]
pub struct ToUtf8 {
    state: State,
    /// Whether the mark was passed.
    marked: bool,
}

#[derive(Default)]
enum State {
    /// Nothing, or a single byte, has come yet.
    #[default]
    Beginning,
    /// One byte that may be half of a mark.
    Half(u8),
    Plain,
    Wide(Wide),
}

/// A text in UTF-16 on its way; what is half a unit or half a pair waits for its other half.
struct Wide {
    big: bool,
    byte: Option<u8>,
    lead: Option<u16>,
}

impl ToUtf8 {
    /// The next bytes; what is half a sign waits for the rest.
    pub fn feed<'a>(&mut self, bytes: &'a [u8]) -> Cow<'a, [u8]> {
        if bytes.is_empty() {
            return Cow::Borrowed(bytes);
        }
        let joined: Cow<'a, [u8]> = match self.state {
            State::Half(first) => Cow::Owned([&[first], bytes].concat()),
            _ => Cow::Borrowed(bytes),
        };
        if matches!(self.state, State::Beginning | State::Half(_)) {
            self.state = match *joined {
                [0xff, 0xfe, ..] => State::Wide(Wide { big: false, byte: None, lead: None }),
                [0xfe, 0xff, ..] => State::Wide(Wide { big: true, byte: None, lead: None }),
                [one @ (0xff | 0xfe)] => {
                    self.state = State::Half(one);
                    return Cow::Borrowed(&[]);
                }
                _ => State::Plain,
            };
        }
        let State::Wide(wide) = &mut self.state else { return joined };
        let mark = !std::mem::replace(&mut self.marked, true);
        Cow::Owned(wide.decode(if mark { &joined[2..] } else { &joined }).into_bytes())
    }
}

impl Wide {
    /// The text of these bytes; half a pair without its other half becomes U+FFFD.
    fn decode(&mut self, bytes: &[u8]) -> String {
        let mut units: Vec<u16> = self.lead.take().into_iter().collect();
        for byte in bytes {
            match self.byte.take() {
                Some(first) if self.big => units.push(u16::from_be_bytes([first, *byte])),
                Some(first) => units.push(u16::from_le_bytes([first, *byte])),
                None => self.byte = Some(*byte),
            }
        }
        self.lead = units.pop_if(|last| (0xd800..0xdc00).contains(last));
        let signs = char::decode_utf16(units);
        signs.map(|sign| sign.unwrap_or(char::REPLACEMENT_CHARACTER)).collect()
    }
}

#[cfg(test)]
mod tests {
    use super::ToUtf8;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn any_text_comes_out_however_it_is_cut(text in "\\PC{0,60}", cuts in proptest::collection::vec(0usize..130, 0..6), big in any::<bool>()) {
            let wide: Vec<u8> = std::iter::once(0xfeff).chain(text.encode_utf16()).flat_map(|u| if big { u.to_be_bytes() } else { u.to_le_bytes() }).collect();
            for (bytes, want) in [(wide, text.clone().into_bytes()), (text.clone().into_bytes(), text.clone().into_bytes())] {
                let mut cuts: Vec<usize> = cuts.iter().map(|c| (*c).min(bytes.len())).chain([0, bytes.len()]).collect();
                cuts.sort_unstable();
                let mut reader = ToUtf8::default();
                let got: Vec<u8> = cuts.windows(2).flat_map(|w| reader.feed(&bytes[w[0]..w[1]]).into_owned()).collect();
                prop_assert_eq!(got, want);
            }
        }
    }
}
