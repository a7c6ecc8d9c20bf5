//! The exact edit that would mend a fault: what is taken out of one file and put in, byte by byte, so
//! that it can be shown before it is made, made, and taken back.

use crate::text::counted;
use serde::Serialize;
use std::collections::BTreeMap;
use std::ops::Range;
use std::sync::Arc;

/// One place of a file at which something is taken out, put in, or both.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
pub struct Piece {
    /// Byte of the text where it goes, from 0.
    pub at: usize,
    /// How many bytes are taken out there.
    pub remove: usize,
    /// What is put in.
    pub insert: String,
}

/// A small edit of one file. Its pieces stand in ascending order and do not overlap.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Fix {
    /// Path relative to the project.
    pub file: Arc<str>,
    pieces: Vec<Piece>,
}

/// Lines of a file before and after an edit.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
pub struct Change {
    /// First line that is another one, from 1; of lines that are new, the one they come before.
    pub line: u32,
    /// The lines as they are; empty where lines are only put in.
    pub before: Vec<String>,
    /// The lines as they would be; empty where lines are only taken out.
    pub after: Vec<String>,
}

impl Fix {
    /// An edit of `file` with these pieces; `None` where there is none, two of them overlap, or
    /// nothing would be another than before.
    pub fn new(file: &Arc<str>, mut pieces: Vec<Piece>) -> Option<Fix> {
        pieces.retain(|p| p.remove > 0 || !p.insert.is_empty());
        pieces.sort_by_key(|p| (p.at, p.remove));
        let apart = pieces.windows(2).all(|two| two[0].at + two[0].remove <= two[1].at);
        (!pieces.is_empty() && apart).then(|| Fix { file: file.clone(), pieces })
    }

    /// An edit at one place.
    pub fn one(file: &Arc<str>, range: Range<usize>, insert: impl Into<String>) -> Option<Fix> {
        let (at, remove) = (range.start, range.len());
        Fix::new(file, vec![Piece { at, remove, insert: insert.into() }])
    }

    /// Edits that are all made from the same texts as one for each file; `None` where two of them take
    /// the same bytes.
    pub fn together(fixes: &[&Fix]) -> Option<Vec<Fix>> {
        let mut files: BTreeMap<&Arc<str>, Vec<Piece>> = BTreeMap::new();
        for fix in fixes {
            files.entry(&fix.file).or_default().extend(fix.pieces.iter().cloned());
        }
        files.into_iter().map(|(file, pieces)| Fix::new(file, pieces)).collect()
    }

    /// Its pieces, in ascending order.
    pub fn pieces(&self) -> &[Piece] {
        &self.pieces
    }

    /// The text as it would be; `None` where a piece does not fit it, because it is another text
    /// than the one that was looked at.
    pub fn apply(&self, text: &str) -> Option<String> {
        let mut out = String::with_capacity(text.len() + 64);
        let mut done = 0;
        for piece in &self.pieces {
            out.push_str(text.get(done..piece.at)?);
            out.push_str(&piece.insert);
            done = piece.at.checked_add(piece.remove)?;
            text.get(piece.at..done)?;
        }
        out.push_str(text.get(done..)?);
        Some(out)
    }

    /// What it changes in `text`, line by line, so that it can be shown; lines next to one another
    /// are one change. Empty where the edit does not fit the text.
    pub fn changes(&self, text: &str) -> Vec<Change> {
        if !self.fits(text) {
            return Vec::new();
        }
        // Only the lines round the pieces are looked at: a screen asks for them at each drawing.
        let line_end = |at: usize| text[at..].find('\n').map_or(text.len(), |n| at + n);
        let mut changes = Vec::new();
        let mut at = 0;
        while at < self.pieces.len() {
            // The lines that a piece touches, and with it all pieces that touch one of them.
            let from = text[..self.pieces[at].at].rfind('\n').map_or(0, |n| n + 1);
            let (mut to, mut end) = (from, at);
            while end < self.pieces.len() && (end == at || self.pieces[end].at <= to) {
                let piece = &self.pieces[end];
                to = line_end(piece.at + piece.remove);
                end += 1;
            }
            let shifted = |p: &Piece| Piece { at: p.at - from, ..p.clone() };
            let pieces = self.pieces[at..end].iter().map(shifted).collect();
            let part = &text[from..to];
            let after = Fix { file: self.file.clone(), pieces }.apply(part).unwrap_or_default();
            let line = text[..from].matches('\n').count() as u32 + 1;
            changes.extend(Change::of(line, part, &after));
            at = end;
        }
        changes
    }

    /// Whether it only takes whole lines out of a text, and puts nothing in their place.
    pub fn only_takes_lines_out(&self, text: &str) -> bool {
        let changes = self.changes(text);
        !changes.is_empty() && changes.iter().all(|c| c.after.is_empty())
    }

    /// Whether every piece lies within a text, between whole characters.
    fn fits(&self, text: &str) -> bool {
        self.pieces
            .iter()
            .all(|p| p.at.checked_add(p.remove).is_some_and(|end| text.get(p.at..end).is_some()))
    }

    /// What is to be done, in words without a full stop: “in line 6, `…` becomes `…`”.
    pub fn says(&self, text: &str) -> String {
        let changes = self.changes(text);
        let told = |c: &Change| match (c.before.as_slice(), c.after.as_slice()) {
            ([before], [after]) => single(c.line, before, after),
            ([], after) => format!("put {} before line {}: {}", lines(after), c.line, first(after)),
            (before, []) => {
                format!("take {} out: {}", numbered(c.line, before), first(before))
            }
            (before, after) => {
                format!(
                    "replace {}: {} becomes {}",
                    numbered(c.line, before),
                    first(before),
                    first(after)
                )
            }
        };
        changes.iter().map(told).collect::<Vec<_>>().join("; ")
    }
}

impl Change {
    /// The lines of two texts that differ, the first of which is a file's line of this number;
    /// `None` where they are alike.
    fn of(mut line: u32, before: &str, after: &str) -> Option<Change> {
        let (mut before, mut after): (Vec<&str>, Vec<&str>) =
            (before.split('\n').collect(), after.split('\n').collect());
        while before.first().is_some_and(|b| after.first() == Some(b)) {
            before.remove(0);
            after.remove(0);
            line += 1;
        }
        while before.last().is_some_and(|b| after.last() == Some(b)) {
            before.pop();
            after.pop();
        }
        let owned = |lines: Vec<&str>| lines.into_iter().map(str::to_owned).collect::<Vec<_>>();
        let (before, after) = (owned(before), owned(after));
        (before != after).then_some(Change { line, before, after })
    }
}

/// One line that becomes another: what of it is put in, taken out or exchanged.
fn single(line: u32, before: &str, after: &str) -> String {
    let (before, after) = (before.trim_end(), after.trim_end());
    let same = before.chars().zip(after.chars()).take_while(|(a, b)| a == b);
    let head: usize = same.map(|(a, _)| a.len_utf8()).sum();
    let (old, new) = (&before[head..], &after[head..]);
    let same = old.chars().rev().zip(new.chars().rev()).take_while(|(a, b)| a == b);
    let tail: usize = same.map(|(a, _)| a.len_utf8()).sum();
    let at_end = tail == 0;
    // A word is told whole, however little of it is another.
    let part = |c: char| c.is_alphanumeric() || c == '_';
    let word = before[head..before.len() - tail].chars().any(part)
        || after[head..after.len() - tail].chars().any(part);
    let widen = |text: &str| text.len() - text.trim_end_matches(part).len();
    let (from, until) = match word {
        true => {
            let behind = &before[before.len() - tail..];
            let more = behind.len() - behind.trim_start_matches(part).len();
            (head - widen(&before[..head]), tail - more)
        }
        false => (head, tail),
    };
    let (old, new) = (&before[from..before.len() - until], &after[from..after.len() - until]);
    match (old.trim(), new.trim()) {
        ("", new) if at_end => format!("put `{new}` at the end of line {line}"),
        _ if before.len() <= WHOLE && after.len() <= WHOLE => {
            format!("line {line} becomes `{}`", after.trim())
        }
        (old, "") => format!("take `{old}` out of line {line}"),
        ("", new) => format!("put `{new}` into line {line}"),
        (old, new) => format!("in line {line}, `{old}` becomes `{new}`"),
    }
}

/// A line up to this long is told whole.
const WHOLE: usize = 60;

fn lines(all: &[String]) -> String {
    match all.len() {
        1 => "a line".to_owned(),
        n => counted(n as u64, "line", "lines"),
    }
}

fn numbered(line: u32, all: &[String]) -> String {
    match all.len() {
        1 => format!("line {line}"),
        n => format!("lines {line} to {}", line as usize + n - 1),
    }
}

/// The first of some lines, as an example of them.
fn first(all: &[String]) -> String {
    let more = if all.len() > 1 { " …" } else { "" };
    format!("`{}{more}`", all.first().map_or("", |l| l.trim()))
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    const FERRY: &str =
        "local Ferry = {}\nlocal boats = { 1, 2 }\nFerry.draft = boats[1]\nreturn Ferry\n";

    fn fix(pieces: &[(&str, usize, &str)]) -> Fix {
        let piece = |(at, remove, insert): &(&str, usize, &str)| Piece {
            at: FERRY.find(at).expect("it stands there"),
            remove: *remove,
            insert: (*insert).to_owned(),
        };
        Fix::new(&"ferry.lua".into(), pieces.iter().map(piece).collect()).expect("it fits")
    }

    #[test]
    fn whole_lines_that_are_taken_out_are_told_from_all_else() {
        let text = "row()\nrest()\nrow()\n";
        let only = |range: std::ops::Range<usize>, put: &str| {
            let fix = Fix::one(&"boat.lua".into(), range, put).expect("it changes something");
            fix.only_takes_lines_out(text)
        };
        assert!(only(6..13, ""));
        assert!(!only(6..13, "-- rest()\n"), "something stands there then");
        assert!(!only(6..8, ""), "a part of a line");
        assert!(!only(40..50, ""), "it does not fit the text");
    }

    #[test]
    fn an_edit_is_told_and_shown_by_its_lines() {
        let told = |f: &Fix| f.says(FERRY);
        let comma = fix(&[("\nFerry.draft", 0, ",")]);
        assert_eq!(told(&comma), "put `,` at the end of line 2");
        let word = fix(&[("draft", 5, "draught")]);
        assert_eq!(told(&word), "line 3 becomes `Ferry.draught = boats[1]`");
        let shown = word.changes(FERRY);
        assert_eq!(shown.len(), 1);
        assert_eq!((shown[0].line, shown[0].before[0].as_str()), (3, "Ferry.draft = boats[1]"));
        let out = fix(&[("Ferry.draft", "Ferry.draft = boats[1]\n".len(), "")]);
        assert_eq!(told(&out), "take line 3 out: `Ferry.draft = boats[1]`");
        assert_eq!(out.changes(FERRY)[0].after, Vec::<String>::new());
        let new = fix(&[("return", 0, "local sail = 1\n")]);
        assert_eq!(told(&new), "put a line before line 4: `local sail = 1`");
        // A line that goes elsewhere is two changes.
        let long =
            FERRY.replace("boats[1]", "boats[1] -- the first of them is the one that is moored");
        let at = long.find("draft").expect("it stands there");
        let letter = Fix::one(&"ferry.lua".into(), at + 3..at + 4, "u").expect("a fix");
        assert_eq!(letter.says(&long), "in line 3, `draft` becomes `draut`");
        let moved = fix(&[
            ("local boats", "local boats = { 1, 2 }\n".len(), ""),
            ("return", 0, "local boats = { 1, 2 }\n"),
        ]);
        assert_eq!(moved.changes(FERRY).len(), 2, "{:?}", moved.changes(FERRY));
        assert!(moved.apply(FERRY).expect("it fits").ends_with("boats = { 1, 2 }\nreturn Ferry\n"));
    }

    #[test]
    fn what_overlaps_or_changes_nothing_is_no_edit() {
        let piece = |at, remove| Piece { at, remove, insert: "x".into() };
        assert_eq!(Fix::new(&"a".into(), vec![piece(0, 4), piece(2, 1)]), None);
        assert_eq!(Fix::new(&"a".into(), Vec::new()), None);
        assert_eq!(Fix::one(&"a".into(), 3..3, ""), None);
        // Another text than the one that was looked at.
        assert_eq!(Fix::one(&"a".into(), 90..91, "x").expect("a fix").apply("short"), None);
    }

    proptest! {
        /// What is shown is what is done: the changes put into the lines give the text.
        #[test]
        fn the_changes_are_the_edit(text in "[ab\nü]{0,60}", cuts in prop::collection::vec((0usize..60, 0usize..8, "[ab\n]{0,6}"), 1..4)) {
            let pieces = cuts.into_iter().map(|(at, remove, insert)| Piece { at, remove, insert }).collect();
            if let Some(fix) = Fix::new(&"a".into(), pieces)
                && let Some(after) = fix.apply(&text)
            {
                let _ = fix.says(&text);
                let mut lines: Vec<&str> = text.split('\n').collect();
                let changes = fix.changes(&text);
                for change in changes.iter().rev() {
                    let from = change.line as usize - 1;
                    let old: Vec<&str> = lines.splice(from..from + change.before.len(), change.after.iter().map(String::as_str)).collect();
                    prop_assert_eq!(&old, &change.before);
                }
                let wanted: Vec<&str> = after.split('\n').collect();
                prop_assert_eq!(lines, wanted);
            }
        }
    }
}
