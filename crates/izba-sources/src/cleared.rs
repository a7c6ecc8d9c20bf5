//! The blank lines with which programs clear a terminal: a screenful of line ends, and then the
//! cursor goes back to the first row. On a screen nothing is seen of them; kept as lines they would
//! push everything else away.

use std::borrow::Cow;

/// So many line ends in a row may be a cleared screen; nobody reads as many.
const SCREENFUL: usize = 20;
/// No screen is cleared with more of them; a program that prints nothing else is not waited for.
const MOST: usize = 400;

/// What sends the cursor back to the first row (ECMA-48: CUP and HVP; RIS).
const BACK: [&[u8]; 7] =
    [b"\x1b[H", b"\x1b[;H", b"\x1b[1;1H", b"\x1b[0;0H", b"\x1b[1;1f", b"\x1b[2J", b"\x1bc"];

/// Leaves out the line ends of cleared screens from what a program writes to a terminal.
#[derive(Debug, Default)]
pub(crate) struct Cleared {
    /// A screenful of line ends, and what may become a way back, that came last.
    held: Vec<u8>,
}

impl Cleared {
    /// What is to be kept of what came now; the end of it may be held back until more has come.
    pub(crate) fn take<'b>(&mut self, bytes: &'b [u8]) -> Cow<'b, [u8]> {
        let all: Cow<'b, [u8]> = if self.held.is_empty() {
            Cow::Borrowed(bytes)
        } else {
            let mut all = std::mem::take(&mut self.held);
            all.extend_from_slice(bytes);
            Cow::Owned(all)
        };
        let mut kept: Option<Vec<u8>> = None;
        let (mut at, mut from) = (0, 0);
        while let Some(run) = memchr::memchr(b'\n', &all[at..]).map(|n| at + n) {
            // What it follows is a line that ends there.
            let first = run + 1;
            let (end, count) = line_ends(&all, first);
            at = end;
            if !(SCREENFUL..=MOST).contains(&count) {
                continue;
            }
            let rest = &all[end..];
            let goes_back = BACK.iter().any(|back| rest.starts_with(back));
            let may_go_back = BACK.iter().any(|back| back.starts_with(rest));
            if goes_back || may_go_back {
                let kept = kept.get_or_insert_with(Vec::new);
                if may_go_back && !goes_back {
                    kept.extend_from_slice(&all[from..run]);
                    self.held = all[run..].to_vec();
                    from = all.len();
                    break;
                }
                kept.extend_from_slice(&all[from..first]);
                from = end;
            }
        }
        match kept {
            None => all,
            Some(mut kept) => {
                kept.extend_from_slice(&all[from..]);
                Cow::Owned(kept)
            }
        }
    }

    /// What was held back, where nothing came behind it.
    pub(crate) fn rest(&mut self) -> Vec<u8> {
        std::mem::take(&mut self.held)
    }
}

/// Where a run of line ends that begins here is over, and how many they are; a terminal puts `\r`
/// before each.
fn line_ends(bytes: &[u8], from: usize) -> (usize, usize) {
    let (mut at, mut count) = (from, 0);
    loop {
        match bytes.get(at) {
            Some(b'\n') => (at, count) = (at + 1, count + 1),
            Some(b'\r') if bytes.get(at + 1) == Some(&b'\n') => (at, count) = (at + 2, count + 1),
            _ => return (at, count),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn kept(parts: &[&[u8]]) -> String {
        let mut cleared = Cleared::default();
        let mut all: Vec<u8> = parts.iter().flat_map(|p| cleared.take(p).into_owned()).collect();
        all.extend(cleared.rest());
        String::from_utf8(all).expect("whole signs")
    }

    #[test]
    fn a_screenful_of_line_ends_is_left_out_where_the_cursor_goes_back() {
        let blank = "\r\n".repeat(38);
        for back in ["\x1b[1;1H\x1b[0J", "\x1bc", "\x1b[2J"] {
            let text = format!("tide\r\n{blank}{back}pier\r\n");
            assert_eq!(kept(&[text.as_bytes()]), format!("tide\r\n{back}pier\r\n"));
        }
    }

    #[test]
    fn other_blank_lines_stay() {
        for text in [
            format!("tide{}pier", "\n".repeat(60)),
            format!("tide{}\x1b[31mpier", "\n".repeat(60)),
            format!("tide{}\x1b[H", "\n".repeat(8)),
            "\n".repeat(60),
            format!("{}\x1b[H", "\n".repeat(4000)),
        ] {
            assert_eq!(kept(&[text.as_bytes()]), text);
        }
    }

    #[test]
    fn however_many_line_ends_come_few_are_held_back() {
        let mut cleared = Cleared::default();
        let ends = "\n".repeat(1 << 16);
        for _ in 0..20 {
            assert!(cleared.take(ends.as_bytes()).len() > 1 << 15);
            assert!(cleared.held.len() < 1 << 12);
        }
    }

    proptest! {
        /// However it arrives, the same is kept, and nothing but line ends is left out.
        #[test]
        fn it_does_not_matter_in_which_pieces_it_comes(
            text in "((\n|\r\n){18,24}|tide|\x1b\\[1;1H|\x1b\\[3m|\x1bc|\r){0,12}",
            cuts in prop::collection::vec(any::<prop::sample::Index>(), 0..6),
        ) {
            let bytes = text.as_bytes();
            let mut at: Vec<usize> = cuts.iter().map(|c| c.index(bytes.len() + 1)).collect();
            at.extend([0, bytes.len()]);
            at.sort_unstable();
            let parts: Vec<&[u8]> = at.windows(2).map(|w| &bytes[w[0]..w[1]]).collect();
            let whole = kept(&[bytes]);
            let bare = |t: &str| t.replace(['\r', '\n'], "");
            prop_assert_eq!(bare(&kept(&parts)), bare(&text));
            prop_assert_eq!(bare(&whole), bare(&text));
            prop_assert!(kept(&parts).len() >= whole.len());
        }
    }
}
