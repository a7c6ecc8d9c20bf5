//! Foreign text made harmless and measured: what a console printed becomes text that a terminal
//! shows and never obeys.

use std::borrow::Cow;
use unicode_segmentation::UnicodeSegmentation;
use unicode_width::UnicodeWidthStr;

/// Text without control bytes, escape sequences or direction marks: safe to draw.
///
/// Tabs are spread to the next multiple of eight cells, as terminals do.
#[derive(Debug, Clone, PartialEq, Eq, Default, Hash, serde::Serialize)]
pub struct SafeText(String);

impl SafeText {
    /// Makes `foreign` safe. What can't be shown stands as a visible sign, so nothing silently
    /// vanishes.
    pub fn new(foreign: &str) -> Self {
        let mut out = String::with_capacity(foreign.len());
        let mut cells = 0;
        for ch in foreign.chars() {
            match ch {
                '\t' => {
                    let pad = 8 - cells % 8;
                    out.extend(std::iter::repeat_n(' ', pad));
                    cells += pad;
                    continue;
                }
                '\u{0}'..='\u{1f}' => out.push(char::from_u32(0x2400 + ch as u32).unwrap_or('?')),
                '\u{7f}' => out.push('\u{2421}'),
                '\u{80}'..='\u{9f}'
                | '\u{200b}'..='\u{200f}'
                | '\u{202a}'..='\u{202e}'
                | '\u{2060}'..='\u{2069}'
                | '\u{feff}' => {
                    out.push('\u{fffd}');
                }
                _ => out.push(ch),
            }
            cells += 1;
        }
        SafeText(out)
    }

    /// The text, which holds nothing that a terminal obeys.
    pub fn as_str(&self) -> &str {
        &self.0
    }
}

impl std::fmt::Display for SafeText {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str(&self.0)
    }
}

/// Decodes the bytes of one line for reading: invalid UTF-8 becomes U+FFFD, escape sequences
/// (ECMA-48) are taken out, of a line redrawn with carriage returns the last drawing is kept, and a
/// byte order mark is dropped.
pub fn decode(bytes: &[u8]) -> Cow<'_, str> {
    let bytes = bytes.strip_suffix(b"\r").unwrap_or(bytes);
    let bytes = bytes.strip_prefix(b"\xef\xbb\xbf").unwrap_or(bytes);
    let bytes = match memchr::memrchr(b'\r', bytes) {
        Some(at) if at + 1 < bytes.len() => &bytes[at + 1..],
        _ => bytes,
    };
    if memchr::memchr2(0x1b, 0x9b, bytes).is_none() {
        // Nearly all lines are whole; finding that out is quicker than looking for what is not.
        return std::str::from_utf8(bytes)
            .map_or_else(|_| String::from_utf8_lossy(bytes), Cow::Borrowed);
    }
    Cow::Owned(without_escapes(&String::from_utf8_lossy(bytes)))
}

fn without_escapes(text: &str) -> String {
    let mut out = String::with_capacity(text.len());
    let mut chars = text.chars().peekable();
    while let Some(ch) = chars.next() {
        let introducer = match ch {
            '\u{1b}' => match chars.next() {
                Some(next) => next,
                None => break,
            },
            '\u{9b}' => '[',
            _ => {
                out.push(ch);
                continue;
            }
        };
        match introducer {
            // A control sequence ends at its final byte. One that erases the whole line (EL 2)
            // takes what stood there with it.
            '[' => {
                let mut erases = String::new();
                for c in chars.by_ref() {
                    if erases.len() < 2 {
                        erases.push(c);
                    }
                    if ('\u{40}'..='\u{7e}').contains(&c) {
                        break;
                    }
                }
                if erases == "2K" {
                    out.clear();
                }
            }
            // A string (title, link, private) ends at BEL or ST.
            ']' | 'P' | 'X' | '^' | '_' => {
                while let Some(c) = chars.next() {
                    if c == '\u{7}' || (c == '\u{1b}' && chars.next_if_eq(&'\\').is_some()) {
                        break;
                    }
                }
            }
            // Intermediate bytes precede one final byte.
            ' '..='/' => while chars.next().is_some_and(|c| (' '..='/').contains(&c)) {},
            _ => {}
        }
    }
    out
}

/// Width of `text` in terminal cells.
pub fn width_cells(text: &str) -> usize {
    text.width()
}

/// Cuts `text` to at most `cells` cells, with an ellipsis where something was left out.
pub fn fit(text: &str, cells: usize) -> Cow<'_, str> {
    if text.width() <= cells {
        return Cow::Borrowed(text);
    }
    if cells == 0 {
        return Cow::Borrowed("");
    }
    let mut out = take_cells(text, cells - 1);
    out.push('…');
    Cow::Owned(out)
}

fn take_cells(text: &str, cells: usize) -> String {
    let mut used = 0;
    text.graphemes(true)
        .take_while(|g| {
            used += g.width();
            used <= cells
        })
        .collect()
}

/// Shortens a path to `cells` cells in its middle, never in the file name while that fits.
pub fn fit_path(path: &str, cells: usize) -> Cow<'_, str> {
    if path.width() <= cells {
        return Cow::Borrowed(path);
    }
    let name_at = path.rfind('/').map_or(0, |at| at);
    let name = &path[name_at..];
    if name_at == 0 || name.width() + 2 > cells {
        return fit(path.trim_start_matches('/').rsplit('/').next().unwrap_or(path), cells)
            .into_owned()
            .into();
    }
    let head = take_cells(&path[..name_at], cells - name.width() - 1);
    Cow::Owned(format!("{head}…{name}"))
}

/// Breaks `text` into lines of at most `cells` cells, at spaces where there are any.
pub fn wrap(text: &str, cells: usize) -> Vec<String> {
    let cells = cells.max(1);
    let mut lines = Vec::new();
    let mut line = String::new();
    for word in text.split(' ') {
        let mut word = word;
        let gap = usize::from(!line.is_empty());
        if line.width() + gap + word.width() <= cells {
            if gap == 1 {
                line.push(' ');
            }
            line.push_str(word);
            continue;
        }
        if !line.is_empty() {
            lines.push(std::mem::take(&mut line));
        }
        while word.width() > cells {
            let head = take_cells(word, cells);
            if head.is_empty() {
                break;
            }
            word = &word[head.len()..];
            lines.push(head);
        }
        line.push_str(word);
    }
    lines.push(line);
    lines
}

/// A count with its noun: `1 error`, `2 errors`, `1,200 errors`.
pub fn counted(count: u64, one: &str, many: &str) -> String {
    format!("{} {}", thousands(count), if count == 1 { one } else { many })
}

/// A number with thin groups of three: `41 802`.
pub fn thousands(number: u64) -> String {
    let digits = number.to_string();
    let mut out = String::new();
    for (at, digit) in digits.chars().enumerate() {
        if at > 0 && (digits.len() - at).is_multiple_of(3) {
            out.push(' ');
        }
        out.push(digit);
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn escapes_are_taken_out_and_the_words_stay() {
        assert_eq!(
            decode(b"\x1b[31mred\x1b[0m \x1b]0;title\x07plain \x1b]8;;http://x\x1b\\link"),
            "red plain link"
        );
        assert_eq!(decode(b"10%\r50%\r100%\r"), "100%");
        assert_eq!(decode(b"caf\xe9"), "caf\u{fffd}");
        assert_eq!(SafeText::new("a\tb\u{7}\u{202e}").as_str(), "a       b␇\u{fffd}");
    }

    #[test]
    fn paths_are_shortened_in_the_middle() {
        assert_eq!(fit_path("scripts/levels/marsh/lantern.lua", 22), "scripts/l…/lantern.lua");
        assert_eq!(fit_path("scripts/lantern.lua", 9), "lantern.…");
    }

    proptest! {
        #[test]
        fn nothing_that_a_terminal_obeys_survives(bytes in proptest::collection::vec(any::<u8>(), 0..200)) {
            let text = decode(&bytes);
            let safe = SafeText::new(&text);
            prop_assert!(safe.as_str().chars().all(|c| !c.is_control()));
        }

        #[test]
        fn fitted_text_fits(text in "\\PC{0,60}", cells in 0usize..40) {
            prop_assert!(width_cells(&fit(&text, cells)) <= cells);
            // A single sign may be some cells wide and is never cut in two.
            for line in wrap(&text, cells.max(6)) {
                prop_assert!(width_cells(&line) <= cells.max(6));
            }
        }
    }
}
