//! Tags of elements in a script that do not go together: one that is not closed, or that closes
//! nothing.

use super::attempt::{Look, MOST, Try, put};
use crate::tags::{self, Odd, Tag};
use izba_model::{say, sayings};

sayings! {
    "tags", Syntax, "../../../words/tries/tags.toml";
    MISSING = "missing",
    OPENED = "opened",
    WHOLE = "whole",
    OTHER = "other",
    SURPLUS = "surplus",
    IN_IT = "in-it",
}

/// Elements that hold nothing: the HTML standard's void elements.
const VOID: &[&str] = &[
    "area", "base", "br", "col", "embed", "hr", "img", "input", "link", "meta", "source", "track",
    "wbr",
];

pub(super) fn not_together(look: &Look<'_>) -> Vec<Try> {
    if !look.language.tags {
        return Vec::new();
    }
    let lines = Lines::of(look.text);
    let mut out = Vec::new();
    for odd in tags::read(look.language, look.text).1.into_iter().take(MOST) {
        match odd {
            Odd::Unclosed(tag, end) => unclosed(&lines, tag, end, &mut out),
            Odd::Unopened(tag, open) => unopened(&lines, tag, open, &mut out),
        }
    }
    out
}

/// The tag that closes one may be missing at the end of its line, before what it stands in ends,
/// or where the indentation goes back to its own; or it was to hold nothing.
fn unclosed(lines: &Lines<'_>, tag: Tag<'_>, end: Option<Tag<'_>>, out: &mut Vec<Try>) {
    let closer = format!("</{}>", tag.name);
    let (line, last) = (lines.line(tag.start), lines.line(tag.end));
    let mut add = |at: usize, insert: String, line: u32, cost: f32| {
        let what = say!(MISSING, name = closer);
        let mut attempt = put(at, insert, line, what, cost);
        attempt.seen.push((lines.line(tag.start), say!(OPENED, name = lines.shown(tag))));
        out.push(attempt);
    };
    let of_line = lines.end(last);
    let holds = !lines.text[tag.end..of_line.max(tag.end)].trim().is_empty();
    if let Some(end) = end.filter(|e| lines.line(e.start) == last) {
        add(end.start, closer.clone(), last, 0.2);
    } else if holds {
        add(of_line, closer.clone(), last, 0.2);
        // What goes on behind the element stands there too.
        let row = &lines.text[tag.end..of_line];
        let bare = row.trim_end_matches([';', ')', ',']).len();
        if bare < row.len() {
            add(tag.end + bare, closer.clone(), last, if end.is_none() { 0.15 } else { 0.3 });
        }
    }
    let indent = lines.indent(line);
    // Up to the line that is indented as little again, or to the end of what it stands in.
    let until = end.map_or(lines.starts.len() as u32 + 1, |e| lines.line(e.start));
    let back = (last + 1..until)
        .find(|n| !lines.row(*n).trim().is_empty() && lines.indent(*n) <= indent)
        .unwrap_or(until);
    let before = (last..back).rev().find(|n| !lines.row(*n).trim().is_empty());
    // Where nothing stands in it that is indented further, it was to hold nothing.
    let empty = !holds && before == Some(last);
    if let Some(before) = before.filter(|_| until > last) {
        let own = format!("\n{}{closer}", &lines.row(line)[..indent]);
        add(lines.end(before), own, before, if holds || empty { 0.4 } else { 0.22 });
    }
    let mut whole = put(
        tag.end - 1,
        if lines.text[..tag.end - 1].ends_with(' ') { "/" } else { " /" },
        last,
        say!(WHOLE, name = lines.shown(tag)),
        if empty || VOID.contains(&tag.name) { 0.15 } else { 0.45 },
    );
    whole.seen.extend(end.map(|e| (lines.line(e.start), say!(IN_IT, name = lines.shown(e)))));
    // `<>` holds something or is not written.
    if !tag.name.is_empty() {
        out.push(whole);
    }
}

/// A tag that closes nothing has the wrong name, or is one too many.
fn unopened(lines: &Lines<'_>, tag: Tag<'_>, open: Option<Tag<'_>>, out: &mut Vec<Try>) {
    let line = lines.line(tag.start);
    if let Some(open) = open {
        let from = tag.start + "</".len();
        let what = say!(OTHER, name = format!("</{}>", open.name), other = lines.shown(tag));
        let mut attempt = put(from, open.name, line, what, 0.2);
        attempt.remove = tag.name.len();
        attempt.seen.push((lines.line(open.start), say!(OPENED, name = lines.shown(open))));
        out.push(attempt);
    }
    let mut attempt = put(tag.start, "", line, say!(SURPLUS, name = lines.shown(tag)), 0.3);
    attempt.remove = tag.end - tag.start;
    out.push(attempt);
}

/// A text by its lines.
struct Lines<'t> {
    text: &'t str,
    starts: Vec<usize>,
}

impl<'t> Lines<'t> {
    fn of(text: &'t str) -> Self {
        let starts = std::iter::once(0).chain(text.match_indices('\n').map(|(at, _)| at + 1));
        Lines { text, starts: starts.collect() }
    }

    /// The line of a byte, from 1.
    fn line(&self, at: usize) -> u32 {
        self.starts.partition_point(|s| *s <= at) as u32
    }

    /// The line without its end.
    fn row(&self, line: u32) -> &'t str {
        let from = self.starts.get(line as usize - 1).copied().unwrap_or(self.text.len());
        self.text[from..].split('\n').next().unwrap_or("")
    }

    /// The byte behind what a line holds.
    fn end(&self, line: u32) -> usize {
        let from = self.starts.get(line as usize - 1).copied().unwrap_or(self.text.len());
        from + self.row(line).trim_end().len()
    }

    /// Bytes of the blank that a line begins with.
    fn indent(&self, line: u32) -> usize {
        let row = self.row(line);
        row.len() - row.trim_start().len()
    }

    /// A tag as it is told: without its attributes.
    fn shown(&self, tag: Tag<'_>) -> String {
        let slash = if self.text[tag.start..].starts_with("</") { "/" } else { "" };
        format!("<{slash}{}>", tag.name)
    }
}
