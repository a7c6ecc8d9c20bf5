//! Where a line's body may begin: behind columns, or behind a sentence that wraps another.

use super::SIDES;
use izba_model::Level;

/// A byte at which a body may begin.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) struct Cut {
    /// The byte.
    pub(crate) at: usize,
    /// Whether only columns stand before it; else a sentence does.
    pub(crate) columns: bool,
    /// Whether that sentence ends with a sign here, as one that passes on what another one says.
    pub(crate) wrapped: bool,
}

/// Bytes of a line that are looked at.
const HEAD: usize = 240;
/// Words before a body.
const WORDS: usize = 24;
/// Words behind each of which a body may begin, whatever they are.
const PLAIN: usize = 6;
/// Bare words that may stand between columns of a line that bears a time.
const BARE: usize = 3;

/// The bytes of a line at which its body may begin, from the left; the first byte is none of them.
pub(crate) fn cuts(text: &str) -> Vec<Cut> {
    let mut cuts = Vec::new();
    let mut at = text.len() - text.trim_start_matches([' ', '\t']).len();
    let (mut columns, mut timed, mut bare) = (true, false, 0);
    if at > 0 && at < text.len() {
        cuts.push(Cut { at, columns, wrapped: false });
    }
    for words in 0..WORDS {
        let rest = &text[at..];
        let width = bracketed(rest).unwrap_or_else(|| rest.find([' ', '\t']).unwrap_or(rest.len()));
        let word = &rest[..width];
        let after = &rest[width..];
        let next = at + width + after.len() - after.trim_start_matches([' ', '\t']).len();
        if next >= text.len().min(HEAD) {
            break;
        }
        match column(word) {
            Some(time) => timed |= time,
            None if timed && is_bare(word) && bare < BARE => {
                // A host, a stream: a column when another one follows, else a sentence begins.
                bare += 1;
                cuts.push(Cut { at: next, columns: false, wrapped: false });
                at = next;
                continue;
            }
            None => columns = false,
        }
        // Behind a few words of its own a program may print what another one says.
        let wrapped = word.ends_with([':', '>', '|', '"', '\'', ']', ')']);
        if wrapped || columns || words < PLAIN {
            cuts.push(Cut { at: next, columns, wrapped });
        }
        at = next;
    }
    cuts
}

/// Where a group in brackets ends that a text begins with.
fn bracketed(text: &str) -> Option<usize> {
    let close = match text.as_bytes().first()? {
        b'[' => ']',
        b'(' => ')',
        b'<' => '>',
        _ => return None,
    };
    if text.starts_with("[string ") || text.starts_with("[C]") {
        return None;
    }
    let (end, _) = text.char_indices().take(60).find(|(_, c)| *c == close)?;
    let end = end + 1;
    let colon = usize::from(text[end..].starts_with(':'));
    Some(end + colon)
}

/// Whether a word is a column by its form, and whether it is a time.
fn column(word: &str) -> Option<bool> {
    let inner = word.trim_end_matches([':', ',', '|', '>']);
    if inner.starts_with(['[', '(', '<']) && word.len() > 2 {
        return Some(inner.bytes().any(|b| b.is_ascii_digit()) && inner.contains(':'));
    }
    let sign = word
        .chars()
        .all(|c| SIDES.contains(&c) || matches!(c, '|' | '-' | '–' | ':' | '>' | '#' | '*'));
    if sign {
        return Some(false);
    }
    let Some(first) = inner.bytes().next() else { return Some(false) };
    let digits = inner.bytes().filter(u8::is_ascii_digit).count();
    let timed = |b: u8| b.is_ascii_digit() || b":-/.,TZ+ms".contains(&b);
    if first.is_ascii_digit() && inner.bytes().all(timed) {
        return Some(digits >= 3 || inner.contains('.'));
    }
    if Level::from_word(inner).is_some() || inner.len() == 1 && b"VDIWEFT".contains(&first) {
        return Some(false);
    }
    // A label, a logger, a worker: one word and a sign.
    let named = word.len() > inner.len() && !inner.is_empty() && word.ends_with([':', '|', '>']);
    let plain = |c: char| c.is_alphanumeric() || "._-/#@[]()$".contains(c);
    (named && inner.chars().all(plain) && !is_placed(inner) && !is_kind(inner)).then_some(false)
}

/// Whether a word before a colon is the kind of an exception.
fn is_kind(word: &str) -> bool {
    let last = word.rsplit(['.', ':']).next().unwrap_or(word);
    ["Error", "Exception", "Throwable", "Warning", "Fault", "Panic"]
        .iter()
        .any(|end| last.ends_with(end) && last.starts_with(|c: char| c.is_ascii_uppercase()))
}

/// Whether a word before a colon is a file: then it is a place, and what follows its sentence.
fn is_placed(word: &str) -> bool {
    let ending = word.rsplit_once('.').map_or("", |(_, e)| e);
    (1..=4).contains(&ending.len()) && word.contains('/')
        || matches!(
            ending,
            "lua"
                | "py"
                | "js"
                | "ts"
                | "c"
                | "h"
                | "cpp"
                | "rs"
                | "go"
                | "rb"
                | "php"
                | "pl"
                | "java"
                | "cs"
                | "kt"
        )
}

fn is_bare(word: &str) -> bool {
    word.len() <= 24 && word.chars().all(|c| c.is_alphanumeric() || "._-/$@".contains(c))
}

#[cfg(test)]
mod tests {
    use super::cuts;

    fn bodies(text: &str, columns: bool) -> Vec<&str> {
        cuts(text).iter().filter(|c| c.columns == columns).map(|c| &text[c.at..]).collect()
    }

    #[test]
    fn columns_end_where_a_sentence_begins() {
        assert_eq!(bodies("[web-1] Traceback now then", true), ["Traceback now then"]);
        assert_eq!(bodies("worker3> boom he said", true), ["boom he said"]);
        let passed_on = bodies("2026-11-29T09:23:05Z stderr F Traceback it is", true);
        assert!(passed_on.contains(&"Traceback it is"), "{passed_on:?}");
        assert!(bodies("the deck said: KeyError: 'x'", true).is_empty());
        assert_eq!(
            bodies("the deck said: KeyError: 'x'", false),
            ["deck said: KeyError: 'x'", "said: KeyError: 'x'", "KeyError: 'x'", "'x'"]
        );
        assert_eq!(bodies("main.lua:3: no lamp", true), Vec::<&str>::new());
    }

    proptest::proptest! {
        #[test]
        fn every_cut_is_within_the_line(text in "(.{0,20}|[ :,>|(a-z0-9\\[-]{0,9} ?){0,8}") {
            for cut in cuts(&text) {
                proptest::prop_assert!(cut.at > 0 && text.is_char_boundary(cut.at) && cut.at < text.len());
            }
        }
    }
}
