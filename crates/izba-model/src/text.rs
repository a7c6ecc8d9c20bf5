//! Foreign text made harmless and measured: what a console printed becomes text that a terminal
//! shows and never obeys.
//!
//! What a terminal obeys are the controls C0 and C1 (ECMA-48). What would deceive a reader are marks
//! of direction (Unicode Standard Annex 9), what has no width of its own, separators of lines that
//! terminals do not show as such, and tags; stacked accents would cover the lines above.

use std::borrow::Cow;
use unicode_segmentation::UnicodeSegmentation;
use unicode_width::{UnicodeWidthChar, UnicodeWidthStr};

/// What stands for a character that a terminal obeys or that deceives a reader; `None` for one that
/// is shown as it is.
fn sign(ch: char) -> Option<char> {
    match ch {
        '\u{0}'..='\u{1f}' => Some(char::from_u32(0x2400 + ch as u32).unwrap_or('?')),
        '\u{7f}' => Some('\u{2421}'),
        // C1.
        '\u{80}'..='\u{9f}'
        // Directions.
        | '\u{61c}'
        | '\u{200e}' | '\u{200f}'
        | '\u{202a}'..='\u{202e}'
        | '\u{2066}'..='\u{2069}'
        // No width, or an empty place where a sign is expected.
        | '\u{ad}' | '\u{34f}' | '\u{115f}' | '\u{1160}' | '\u{17b4}' | '\u{17b5}'
        | '\u{180b}'..='\u{180f}'
        | '\u{200b}'..='\u{200d}'
        | '\u{2060}'..='\u{2065}'
        | '\u{206a}'..='\u{206f}'
        | '\u{3164}' | '\u{feff}' | '\u{ffa0}'
        | '\u{fff0}'..='\u{fffb}'
        // Separators of lines and paragraphs.
        | '\u{2028}' | '\u{2029}'
        // Tags, and choices among forms that nobody sees.
        | '\u{e0000}'..='\u{e0fff}' => Some('\u{fffd}'),
        _ => None,
    }
}

/// Accents that stand over one sign; more would cover what stands around it.
const STACKED: usize = 4;

/// Bounds accents that are stacked on one sign.
#[derive(Default)]
struct Stack(usize);

impl Stack {
    /// What is shown of the next character: itself, a sign that some were left out, or nothing.
    fn next(&mut self, ch: char) -> Option<char> {
        if ch.is_ascii() || ch.width() != Some(0) {
            self.0 = 0;
            return Some(ch);
        }
        self.0 += 1;
        match self.0 {
            n if n <= STACKED => Some(ch),
            n if n == STACKED + 1 => Some('\u{fffd}'),
            _ => None,
        }
    }
}

/// Several lines of a text as they may be printed: each as [`SafeText`] would show it, but tabs stay.
/// Everything that Izba prints goes through here or [`printable_json`] last, whatever it is made of.
pub fn printable(text: &str) -> Cow<'_, str> {
    if text.bytes().all(|b| matches!(b, b'\n' | b'\t' | b' '..=b'~')) {
        return Cow::Borrowed(text);
    }
    let mut stack = Stack::default();
    let shown = text.chars().filter_map(|ch| match ch {
        '\n' | '\t' => Some(ch),
        _ => sign(ch).or_else(|| stack.next(ch)),
    });
    Cow::Owned(shown.collect())
}

/// JSON as it may be printed: what [`printable`] would replace is written as an escape (RFC 8259,
/// section 7), so that nothing is lost. Such characters stand in strings only.
pub fn printable_json(json: &str) -> Cow<'_, str> {
    if json.bytes().all(|b| matches!(b, b'\n' | b' '..=b'~')) {
        return Cow::Borrowed(json);
    }
    let mut out = String::with_capacity(json.len());
    for ch in json.chars() {
        if ch == '\n' || ch == '\t' || sign(ch).is_none() {
            out.push(ch);
            continue;
        }
        for unit in ch.encode_utf16(&mut [0; 2]) {
            out += &format!("\\u{unit:04x}");
        }
    }
    Cow::Owned(out)
}

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
        let (mut cells, mut stack) = (0, Stack::default());
        for ch in foreign.chars() {
            if ch == '\t' {
                let pad = 8 - cells % 8;
                out.extend(std::iter::repeat_n(' ', pad));
                cells += pad;
                continue;
            }
            out.extend(sign(ch).or_else(|| stack.next(ch)));
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

/// The last part of a path: the name of its file.
pub fn base_name(path: &str) -> &str {
    path.rsplit('/').next().unwrap_or(path)
}

/// A count with its noun: `1 error`, `2 errors`, `1 200 errors`.
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
    fn what_deceives_a_reader_is_shown_as_a_sign() {
        for ch in ['\u{61c}', '\u{2028}', '\u{ad}', '\u{e0041}', '\u{3164}', '\u{9b}', '\u{202e}'] {
            let text = format!("a{ch}b");
            assert_eq!(SafeText::new(&text).as_str(), "a\u{fffd}b", "{ch:?}");
            assert_eq!(printable(&text), "a\u{fffd}b", "{ch:?}");
        }
        // Of accents a few stand, as people write them; signs of several parts stay.
        let safe = |text: &str| SafeText::new(text).to_string();
        assert_eq!(safe("e\u{301}\u{323}x"), "e\u{301}\u{323}x");
        assert_eq!(
            safe(&format!("e{}x", "\u{301}".repeat(90))),
            "e\u{301}\u{301}\u{301}\u{301}\u{fffd}x"
        );
        assert_eq!(safe("❤\u{fe0f}"), "❤\u{fe0f}");
    }

    #[test]
    fn what_is_printed_keeps_its_lines_and_json_all_its_words() {
        assert_eq!(printable("a\tb\r\n\u{1b}[31mc"), "a\tb␍\n␛[31mc");
        let json = serde_json::to_string("a\u{9b}31m\u{e0041}é").expect("a string");
        let printed = printable_json(&json);
        assert_eq!(printed, "\"a\\u009b31m\\udb40\\udc41é\"");
        assert_eq!(serde_json::from_str::<String>(&printed).expect("JSON"), "a\u{9b}31m\u{e0041}é");
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
            prop_assert!(safe.as_str().chars().all(|c| sign(c).is_none()));
            let lines = String::from_utf8_lossy(&bytes);
            let shown = |c: char| c == '\n' || c == '\t' || sign(c).is_none();
            prop_assert!(printable(&lines).chars().all(shown));
            let json = serde_json::to_string(&lines).expect("a string");
            let printed = printable_json(&json);
            prop_assert!(printed.chars().all(shown));
            prop_assert_eq!(serde_json::from_str::<String>(&printed).expect("JSON"), lines.as_ref());
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
