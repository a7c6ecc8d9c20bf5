//! Edits of what stands in brackets: arguments and parameters in another order, one more of them, one
//! more name among several.

use super::place::{Place, only_word, whole_words};
use izba_model::claim::{Fix, Slot};
use std::ops::Range;

/// Two words change places.
pub(super) fn swap(place: &Place<'_>, first: &str, second: &str) -> Option<Fix> {
    let (a, b) = (only_word(place.line, first)?, only_word(place.line, second)?);
    place.pieces(vec![(a, second.to_owned()), (b, first.to_owned())])
}

/// Two names that are the other way round than elsewhere: the claim within tells which.
pub(super) fn crossed(place: &Place<'_>) -> Option<Fix> {
    let within = place.within("crossed")?;
    let name = |slot: &str| match within.slot(slot)? {
        Slot::Name(name) => Some(name.to_string()),
        _ => None,
    };
    let part = |word: &str| whole_part(place.line, only_word(place.line, word)?);
    let (a, b) = (part(&name("name")?)?, part(&name("other")?)?);
    let text = |r: &Range<usize>| place.line[r.clone()].to_owned();
    let (of_a, of_b) = (text(&a), text(&b));
    place.pieces(vec![(a, of_b), (b, of_a)])
}

/// The whole part of a list in brackets in which a word stands: a parameter with its type.
fn whole_part(line: &str, word: Range<usize>) -> Option<Range<usize>> {
    let head = line[..word.start].rfind(['(', ',']).map(|at| at + 1)?;
    let (mut depth, mut end) = (0, None);
    for (at, c) in line[word.end..].char_indices() {
        match c {
            '(' | '[' | '{' => depth += 1,
            ',' | ')' if depth == 0 => {
                end = Some(word.end + at);
                break;
            }
            ')' | ']' | '}' => depth -= 1,
            _ => {}
        }
    }
    Some(trimmed(line, head..end?))
}

/// The parts in the brackets behind a word, as bytes of the line.
fn parts(line: &str, word: &str) -> Option<Vec<Range<usize>>> {
    let last = word.rsplit(['.', ':']).next().unwrap_or(word);
    let behind = |at: usize| line[at + last.len()..].trim_start().starts_with('(');
    let mut calls = whole_words(line, last).filter(|at| behind(*at));
    let (at, more) = (calls.next()?, calls.next());
    if more.is_some() {
        return None;
    }
    let open = at + line[at..].find('(')?;
    let (mut depth, mut quote) = (0, None);
    let mut all = Vec::new();
    let mut from = open + 1;
    for (at, c) in line.char_indices().skip_while(|(at, _)| *at < open) {
        match (quote, c) {
            (Some(q), c) if c == q => quote = None,
            (Some(_), _) => {}
            (None, '"' | '\'' | '`') => quote = Some(c),
            (None, '(' | '[' | '{') => depth += 1,
            (None, ')' | ']' | '}') => {
                depth -= 1;
                if depth == 0 {
                    all.push(from..at);
                    return Some(all.into_iter().map(|r| trimmed(line, r)).collect());
                }
            }
            (None, ',') if depth == 1 => {
                all.push(from..at);
                from = at + 1;
            }
            _ => {}
        }
    }
    None
}

fn trimmed(line: &str, range: Range<usize>) -> Range<usize> {
    let text = &line[range.clone()];
    let head = text.len() - text.trim_start().len();
    let tail = text.trim_end().len().max(head);
    range.start + head..range.start + tail
}

/// Two arguments of a call change places, by their numbers from 1.
pub(super) fn swap_places(place: &Place<'_>, word: &str, first: &str, second: &str) -> Option<Fix> {
    let parts = parts(place.line, word)?;
    let part = |slot: &str| parts.get(place.number(slot)?.checked_sub(1)? as usize).cloned();
    let (a, b) = (part(first)?, part(second)?);
    let text = |r: &Range<usize>| place.line[r.clone()].to_owned();
    let (of_a, of_b) = (text(&a), text(&b));
    place.pieces(vec![(a, of_b), (b, of_a)])
}

/// One more parameter before all others.
pub(super) fn first_parameter(place: &Place<'_>, name: &str) -> Option<Fix> {
    let parts = parts(place.line, place.name("name")?)?;
    let first = parts.first()?;
    let rest = if first.is_empty() { "" } else { ", " };
    place.insert(first.start, &format!("{name}{rest}"))
}

/// One more name among those in the braces of the line, or at the end of a list that has none.
pub(super) fn one_more_name(place: &Place<'_>) -> Option<Fix> {
    let name = place.name("name")?;
    // What is there already is missing for another reason.
    if whole_words(place.line, name).next().is_some() || place.line.contains('*') {
        return None;
    }
    if let Some(close) = place.line.rfind('}') {
        let head = place.line[..close].trim_end();
        // In the way of those that are there: `name`, `name = name`, `name: name`.
        let before = head.trim_end_matches(',').rsplit(['{', ',']).next().unwrap_or("");
        let sign = [" = ", "=", ": "].into_iter().find(|sign| before.contains(sign));
        let entry = sign.map_or_else(|| name.to_owned(), |sign| format!("{name}{sign}{name}"));
        let open = head.ends_with('{');
        let (comma, space) = match (open, head.ends_with(',')) {
            (true, _) => ("", " "),
            (_, true) => ("", " "),
            _ => (",", " "),
        };
        return place.insert(head.len(), &format!("{comma}{space}{entry}"));
    }
    let words = place.line.trim_end();
    let listed = words.contains(" import ") && !words.ends_with(['(', '\\', ')']);
    listed.then(|| place.insert(words.len(), &format!(", {name}")))?
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn arguments_are_told_apart_whatever_stands_in_them() {
        let of = |line: &str, word: &str| {
            parts(line, word).map(|all| all.into_iter().map(|r| line[r].to_owned()).collect())
        };
        let texts = |all: &[&str]| Some(all.iter().map(|t| (*t).to_owned()).collect::<Vec<_>>());
        assert_eq!(
            of("moor(boat, f(1, 2), \"a, b\")", "moor"),
            texts(&["boat", "f(1, 2)", "\"a, b\""])
        );
        assert_eq!(of("self.moor( )", "self.moor"), texts(&[""]));
        assert_eq!(of("moor(1) + moor(2)", "moor"), None, "which of the two is meant?");
        assert_eq!(of("moor(boat,", "moor"), None, "it goes on in the next line");
    }
}
