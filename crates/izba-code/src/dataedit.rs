//! The edit that lets a data file be read: a sign put in, taken out or exchanged on the line at which
//! its format's reader gives up, or just before it. Only an edit after which that reader takes the
//! whole file is offered.

use izba_model::claim::Piece;
use std::ops::Range;

/// Files longer than this are not tried: each try reads the whole file.
const LONGEST: usize = 1 << 18;
/// Bytes that all tries together may read.
const MOST_READ: usize = 1 << 24;
/// Lines before the one shown that are looked at.
const ABOVE: usize = 1;

/// The first edit round these lines (from 1) after which `reads` takes the text.
pub(crate) fn piece(
    text: &str,
    lines: Range<usize>,
    reads: impl Fn(&str) -> bool,
) -> Option<Piece> {
    if text.len() > LONGEST {
        return None;
    }
    let from = lines.start.saturating_sub(1 + ABOVE);
    let mut all = Vec::new();
    let mut at = 0;
    for (number, line) in text.split_inclusive('\n').enumerate() {
        if number >= from && number < lines.end {
            of_line(at, line.trim_end_matches(['\n', '\r']), &mut all);
        }
        at += line.len();
    }
    let end = text.trim_end().len();
    all.extend(["}", "]", "]}", "}]", "\n}", "\n]"].map(|closer| put(end, closer)));
    all.truncate((MOST_READ / text.len().max(1)).max(1));
    all.into_iter().find(|piece| {
        let mut tried = text.to_owned();
        tried.replace_range(piece.at..piece.at + piece.remove, &piece.insert);
        reads(&tried)
    })
}

fn put(at: usize, insert: &str) -> Piece {
    Piece { at, remove: 0, insert: insert.to_owned() }
}

/// What could be wrong in one line that begins at a byte, the usual slips first.
fn of_line(begin: usize, line: &str, all: &mut Vec<Piece>) {
    let (head, tail) = (line.len() - line.trim_start().len(), line.trim_end().len());
    if head >= tail {
        return;
    }
    let (first, end) = (begin + head, begin + tail);
    let body = &line[head..tail];
    let take = |at: usize, remove: usize| Piece { at: begin + at, remove, insert: String::new() };
    let change = |at: usize, remove: usize, insert: &str| Piece {
        at: begin + at,
        remove,
        insert: insert.to_owned(),
    };
    // Between two entries, or after the last one.
    all.push(put(end, ","));
    if body.ends_with(',') {
        all.push(take(tail - 1, 1));
        all.push(put(end - 1, "\""));
        all.extend(["}", "]"].map(|closer| put(end - 1, closer)));
    }
    all.extend(line.match_indices(',').map(|(at, _)| take(at, 1)));
    // A quotation mark that is missing, at the end or before a sign.
    all.push(put(end, "\""));
    let word = |at: usize| line[at..].chars().next().is_some_and(char::is_alphanumeric);
    for (at, c) in line.char_indices() {
        match c {
            ':' => {
                all.push(put(begin + at, "\""));
                let value = line[at + 1..].len() - line[at + 1..].trim_start().len() + at + 1;
                all.push(put(begin + value, "\""));
                let (name, value_end) = (line[head..at].trim_end(), tail);
                if !name.is_empty() && !name.contains('"') {
                    all.push(change(head, name.len(), &format!("\"{name}\"")));
                }
                let written = line[value.min(value_end)..value_end].trim_end_matches(',');
                // A list whose end is missing is no text.
                let bare = !written.contains(['"', '[', '{']) && !written.is_empty();
                if bare {
                    all.push(change(value, written.len(), &format!("\"{written}\"")));
                }
            }
            '=' => all.push(change(at, 1, ":")),
            ';' => all.push(change(at, 1, ",")),
            '\'' => all.push(change(at, 1, "\"")),
            '"' => {
                all.push(put(begin + at, ","));
                let behind = line[at + 1..].trim_start();
                if !behind.is_empty() && !behind.starts_with([',', ':', '}', ']']) {
                    all.push(put(begin + at + 1, ":"));
                    all.push(put(begin + at + 1, ","));
                }
            }
            '&' => all.push(change(at, 1, "&amp;")),
            '{' | '[' | '}' | ']' => all.push(take(at, 1)),
            // Elements: a sign that is missing at the end of one, or a name that does not fit.
            '<' => {
                all.push(put(begin + at, ">"));
                all.push(put(begin + at, "/>"));
                if word(at + 1) {
                    all.push(put(begin + at + 1, "/"));
                }
            }
            '>' if at > 0 => {
                all.push(put(begin + at, "/"));
                all.push(put(begin + at, "\""));
            }
            _ => {}
        }
    }
    if !body.starts_with('"') {
        all.push(put(first, "\""));
    }
    all.extend(["}", "]", "},", "],", ">", "/>"].map(|closer| put(end, closer)));
    if let Some((name, value)) = body.split_once('=').filter(|_| !body.contains('"')) {
        // A text without its quotation marks.
        let at = head + name.len() + 1 + value.len() - value.trim_start().len();
        all.push(change(at, tail - at, &format!("\"{}\"", value.trim())));
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn json(text: &str) -> bool {
        serde_json::from_str::<serde_json::Value>(text).is_ok()
    }

    #[test]
    fn one_sign_lets_the_file_be_read_again() {
        let mended = |text: &str, lines: Range<usize>| {
            let piece = piece(text, lines, json)?;
            let mut text = text.to_owned();
            text.replace_range(piece.at..piece.at + piece.remove, &piece.insert);
            Some(text)
        };
        let told = |text: &str, lines| mended(text, lines).expect("it is mended");
        assert_eq!(told("{\n \"a\": 1\n \"b\": 2\n}\n", 2..3), "{\n \"a\": 1,\n \"b\": 2\n}\n");
        assert_eq!(told("{\n \"a\": [1, 2,]\n}", 2..2), "{\n \"a\": [1, 2]\n}");
        assert_eq!(
            told("{\n \"a\": \"up,\n \"b\": 2\n}", 2..3),
            "{\n \"a\": \"up\",\n \"b\": 2\n}"
        );
        assert_eq!(told("{\n a: 1\n}", 2..2), "{\n \"a\": 1\n}");
        assert_eq!(told("{\n \"a\": low\n}", 2..2), "{\n \"a\": \"low\"\n}");
        assert_eq!(told("{\n \"a\": [1, 2\n}", 2..3), "{\n \"a\": [1, 2]\n}");
        assert_eq!(told("{\n \"a\" = 1\n}", 2..2), "{\n \"a\" : 1\n}");
        // Two slips are no single edit.
        assert_eq!(mended("{\n \"a\" = 1\n b: 2\n}", 2..2), None);
    }
}
