//! A level that does not stand alone: in a compound column such as `[main/WARN]`, `ERROR[Main]:`,
//! `logger.WARNING:`, or behind the name of who speaks, `Thing - Warning:`.

use super::Prefix;
use super::prefix::find_place;
use izba_model::Level;

/// Bytes of a line in which such a level may stand.
const HEAD: usize = 120;
/// Words of a name before a level.
const NAME: usize = 3;

/// Finds the level of a line for which no column of its own tells it, and takes off what stands up
/// to it.
pub(super) fn level(text: &str, prefix: &Prefix) -> Option<Prefix> {
    let from = prefix.rest_at;
    let found = in_brackets(text).or_else(|| with_brackets(&text[from..]).map(|f| shift(f, from)));
    let found = found.or_else(|| named(&text[from..]).map(|f| shift(f, from)));
    let found = found.or_else(|| behind_tool(&text[from..]).map(|f| shift(f, from)));
    let found = found.or_else(|| behind_sign(&text[from..]).map(|f| shift(f, from)));
    let found = found.or_else(|| behind_name(&text[from..]).map(|f| shift(f, from)));
    let behind = || prefix.timed.then(|| behind_place(&text[from..])).flatten();
    let mut place = prefix.place.clone();
    let found = found.or_else(|| {
        let (level, at, named) = behind()?;
        place = Some(named);
        Some((level, at + from))
    });
    let (level, rest_at) = found?;
    let rest_at = rest_at.max(from);
    let rest = text[rest_at..].trim_start_matches([':', ' ', '\t', '-', '|']);
    // Without a sentence it is none.
    let told = rest.chars().filter(|c| c.is_alphanumeric()).count() >= 2;
    told.then(|| Prefix {
        level: Some(level),
        rest_at: text.len() - rest.len(),
        place,
        ..prefix.clone()
    })
}

fn shift((level, at): (Level, usize), from: usize) -> (Level, usize) {
    (level, at + from)
}

/// A level among the parts of a group in brackets at the head of a line.
fn in_brackets(text: &str) -> Option<(Level, usize)> {
    let mut at = text.len() - text.trim_start().len();
    for _ in 0..4 {
        let rest = &text[at..];
        let close = match rest.as_bytes().first()? {
            b'[' => ']',
            b'(' => ')',
            b'<' => '>',
            _ => return None,
        };
        let (end, _) = rest.char_indices().take(HEAD).find(|(_, c)| *c == close)?;
        let inner = &rest[1..end];
        let after = at + end + 1;
        if let Some(level) = shouted_part(inner) {
            return Some((level, after));
        }
        let gap = text[after..].len() - text[after..].trim_start_matches([' ', ':', '\t']).len();
        at = after + gap;
    }
    None
}

/// A part of a compound column that is a level, in capitals.
fn shouted_part(column: &str) -> Option<Level> {
    let parts = column.split(|c: char| !c.is_alphanumeric());
    parts.filter(|p| is_shouted(p)).find_map(Level::from_word)
}

fn is_shouted(word: &str) -> bool {
    word.len() >= 3 && word.bytes().all(|b| b.is_ascii_uppercase())
}

/// `ERROR[Main]: sentence`, `WARN(net): sentence`.
fn with_brackets(text: &str) -> Option<(Level, usize)> {
    let word = text.find(['[', '('])?;
    let level = Some(&text[..word]).filter(|w| is_shouted(w)).and_then(Level::from_word)?;
    let close = if text[word..].starts_with('[') { ']' } else { ')' };
    let (end, _) = text[word..].char_indices().take(60).find(|(_, c)| *c == close)?;
    let after = word + end + 1;
    text[after..].starts_with([':', ' ']).then_some((level, after))
}

/// A name of a few words, and a level with a colon: `Lua warning: `, `SCRIPT ERROR: `,
/// `bakery.WARNING: `, `Thing - Warning: `.
fn named(text: &str) -> Option<(Level, usize)> {
    let colon = text.as_bytes().iter().take(HEAD).position(|b| *b == b':')?;
    let head = &text[..colon];
    if !text[colon + 1..].starts_with(' ') || head.contains(['(', '[', '"', '\'', '=', ',']) {
        return None;
    }
    let start = head
        .rfind(|c: char| !c.is_alphanumeric())
        .map_or(0, |at| at + head[at..].chars().next().map_or(1, char::len_utf8));
    let (name, word) = (&head[..start], &head[start..]);
    let level = Level::from_word(word).filter(|_| word.len() >= 4)?;
    if name.is_empty() {
        return None;
    }
    let glued = name.ends_with(['.', '/', '|']) && !name.contains(' ');
    let words: Vec<&str> = name.split_whitespace().filter(|w| *w != "-").collect();
    // A sentence that ends with the word is no name: each of its words begins like a name, or all
    // of it is shouted.
    let capital = |w: &&str| w.starts_with(|c: char| c.is_uppercase() || c.is_ascii_digit());
    let plain = |w: &&str| w.chars().all(|c| c.is_alphanumeric() || "._-".contains(c));
    // A warning is no value that a sentence could name.
    let most = if word == "warning" { 2 * NAME } else { NAME };
    let proper = words.len() <= most && words.iter().all(|w| capital(w) && plain(w));
    let counted = ["Last", "First", "Total", "No", "Previous", "Next"];
    let value = text[colon + 1..].trim();
    let nothing = ["none", "null", "nil", "no", "ok", "n/a", "-"];
    let tells = !counted.contains(words.first().unwrap_or(&""))
        && !nothing.contains(&value.to_ascii_lowercase().as_str())
        && value.parse::<f64>().is_err();
    // Words that make a fault of any level word behind them.
    let faults = ["exception", "fatal", "runtime", "internal", "uncaught", "unhandled", "syntax"];
    let fault = words.iter().any(|w| faults.contains(&w.to_ascii_lowercase().as_str()))
        && words.len() <= NAME;
    ((glued || proper || fault) && tells).then_some((level, colon + 1))
}

/// As [`named`], behind the name of a tool.
fn behind_tool(text: &str) -> Option<(Level, usize)> {
    let (tool, after) = text.split_once(": ")?;
    let plain = !tool.is_empty() && tool.len() <= 24 && tool.chars().all(|c| c.is_alphanumeric());
    plain.then(|| named(after)).flatten().map(|found| shift(found, tool.len() + 2))
}

/// A shouted level behind a sign that draws the eye: `⚠ WARN sentence`, `✘ [ERROR] sentence`.
fn behind_sign(text: &str) -> Option<(Level, usize)> {
    let mut words = text.trim_start().split(' ');
    let sign = words.next().filter(|s| s.chars().count() == 1 && !s.is_ascii())?;
    let word = words.next()?;
    let bare = word.strip_prefix('[').and_then(|w| w.strip_suffix(']')).unwrap_or(word);
    let level = Some(bare).filter(|w| is_shouted(w)).and_then(Level::from_word)?;
    Some((level, text.len() - text.trim_start().len() + sign.len() + 1 + word.len()))
}

/// A shouted level behind the name of who speaks: `fares.x: ERROR sentence`.
fn behind_name(text: &str) -> Option<(Level, usize)> {
    let (name, after) = text.split_once(": ")?;
    let plain = |c: char| c.is_alphanumeric() || "._/-[]#".contains(c);
    let mut words = after.split(' ');
    let word = words.next()?;
    let level = Some(word).filter(|w| is_shouted(w)).and_then(Level::from_word)?;
    // In a headline in capitals the word is a part of it.
    if words.next().is_none_or(|next| is_shouted(next.trim_end_matches(':'))) {
        return None;
    }
    let named = !name.is_empty() && name.len() <= 40 && name.chars().all(plain);
    named.then(|| (level, name.len() + 2 + word.len()))
}

/// A shouted level behind a column with a place: `main.x:64: WARN sentence`.
fn behind_place(text: &str) -> Option<(Level, usize, (String, u32))> {
    let place = find_place(text, 0).filter(|p| p.span.0 == 0)?;
    let after = text[place.span.1..].trim_start_matches([':', ']', ' ', '\t']);
    let word = after.split([' ', '\t', ':']).next()?;
    let level = Some(word).filter(|w| is_shouted(w)).and_then(Level::from_word)?;
    let named = (place.file.to_owned(), place.line);
    Some((level, text.len() - after.len() + word.len(), named))
}

#[cfg(test)]
mod tests {
    use crate::read::split_prefix;
    use izba_model::Level::{Error, Warning};

    #[test]
    fn levels_in_compound_columns_are_seen() {
        for (text, level, rest) in [
            ("[main/WARN]: 1 recipe read", Warning, "1 recipe read"),
            ("[06:55:04] [Crowd thread/ERROR]: it left", Error, "it left"),
            ("ERROR[Main]: mod lamps did not load", Error, "mod lamps did not load"),
            ("Lua warning: it has no weight", Warning, "it has no weight"),
            ("SCRIPT ERROR: no such lamp", Error, "no such lamp"),
            ("[2026-11-23T06:55:25] bakery.WARNING: yeast is old", Warning, "yeast is old"),
            ("Thing - Warning: the rope is old", Warning, "the rope is old"),
            ("fares.x: ERROR no fare for child", Error, "no fare for child"),
            ("deck: exception error: no match", Error, "no match"),
            ("Internal server error: no such file", Error, "no such file"),
            ("✘ [ERROR] no such file", Error, "no such file"),
            ("2026/11/23 06:55:27 main.x:64: WARN no chart", Warning, "no chart"),
            ("[875:933:1123/065434.04:ERROR:bus/bus.cc:405] gone", Error, "gone"),
        ] {
            let prefix = split_prefix(text);
            assert_eq!((prefix.level, &text[prefix.rest_at..]), (Some(level), rest), "{text}");
        }
    }

    #[test]
    fn sentences_that_hold_such_a_word_are_none() {
        for text in [
            "the last error: a rope was torn",
            "Last error: none",
            "Total errors: 3",
            "(no error) all is well",
            "[12 errors] in the list",
            "handled the warning: go on",
            "set level=error: done",
        ] {
            let level = split_prefix(text).level;
            assert_eq!(level.filter(|l| *l >= Warning), None, "{text}");
        }
    }
}
