//! Edits of whole lines: one taken out, one that goes elsewhere, one that is missing.

use super::place::Place;
use izba_model::claim::{Fix, Piece};
use izba_model::code::{At, FileFacts, Kind};
use izba_model::dialect::By;
use std::ops::Range;

/// The bytes of a line with its end.
fn whole(file: &FileFacts, number: u32) -> Option<Range<usize>> {
    let span = file.line_span(number)?;
    let behind = file.text[span.end..].find('\n').map_or(file.text.len(), |n| span.end + n + 1);
    Some(span.start..behind)
}

/// How deep a line is indented, in bytes.
fn indent(line: &str) -> &str {
    &line[..line.len() - line.trim_start().len()]
}

/// Whether a line is a statement of its own: it opens and closes as many brackets, and begins or ends
/// no block.
fn stands_alone(place: &Place<'_>) -> bool {
    let line = place.line.trim();
    let count = |signs: &[char]| line.chars().filter(|c| signs.contains(c)).count();
    let even = count(&['(', '[', '{']) == count(&[')', ']', '}']);
    let blocks = &place.file.language.blocks;
    let of_block = |word: &str| {
        blocks.pairs.iter().any(|p| p.open == word || p.close == word)
            || blocks.headers.iter().any(|h| h.0 == word)
            || blocks.middles.iter().chain(&blocks.function).any(|w| w == word)
    };
    let words = line.split(|c: char| !c.is_alphanumeric()).filter(|w| !w.is_empty());
    even && !line.ends_with([':', '{', '(', ',', '\\']) && !words.into_iter().any(of_block)
}

/// The line is taken out; in a block that needs a line and has no other, it does nothing instead.
pub(super) fn taken_out(place: &Place<'_>) -> Option<Fix> {
    let at = place.suspect.line;
    if !stands_alone(place) {
        return None;
    }
    let by_indent = place.file.language.blocks.by == By::Indentation;
    let depth = indent(place.line).len();
    let as_deep = |number: u32| {
        place.file.line(number).is_some_and(|l| !l.trim().is_empty() && indent(l).len() == depth)
    };
    let opens = at > 1 && place.file.line(at - 1).is_some_and(|l| l.trim_end().ends_with(':'));
    if by_indent && opens && !as_deep(at + 1) {
        return place.replace(place.indent()..place.line.trim_end().len(), "pass");
    }
    Fix::one(&place.file.path, whole(place.file, at)?, "")
}

/// The line goes before another one of the same block.
pub(super) fn moved_before(place: &Place<'_>, other: u32) -> Option<Fix> {
    let (from, to) = (whole(place.file, place.suspect.line)?, whole(place.file, other)?);
    let function = |line: u32| {
        place.file.tree.all().find(|n| n.line() == line).map(|n| n.function().map(At::line))
    };
    let same_block = indent(place.file.line(other)?) == indent(place.line)
        && function(place.suspect.line)? == function(other)?;
    if !same_block || other >= place.suspect.line || !stands_alone(place) {
        return None;
    }
    let mut text = place.file.text[from.clone()].to_owned();
    if !text.ends_with('\n') {
        text.push('\n');
    }
    Fix::new(
        &place.file.path,
        vec![
            Piece { at: to.start, remove: 0, insert: text },
            Piece { at: from.start, remove: from.len(), insert: String::new() },
        ],
    )
}

/// A line that keeps what came in as the object's own, behind the line that the claim names.
pub(super) fn kept(place: &Place<'_>, field: &str, name: &str) -> Option<Fix> {
    let own = place.file.language.itself.as_deref()?;
    let by_sign = place.file.language.blocks.by == By::Brackets;
    let ends = by_sign && place.file.text.lines().any(|l| l.trim_end().ends_with(';'));
    let end = if ends { ";" } else { "" };
    // As deep as the statement that is there: the next one, where the claim names the head.
    let here = place.line;
    let next = place.file.line(place.suspect.line + 1).unwrap_or("");
    let head =
        here.trim_end().ends_with([':', '{', ')']) && indent(next).len() > indent(here).len();
    let deep = if head { indent(next) } else { indent(here) };
    let at = whole(place.file, place.suspect.line)?.end;
    let begin = if place.file.text[..at].ends_with('\n') { "" } else { "\n" };
    Fix::one(&place.file.path, at..at, format!("{begin}{deep}{own}.{field} = {name}{end}\n"))
}

/// A line that brings a name in, in the way of the other such lines of the file; at its beginning
/// where there is none.
pub(super) fn brought_in(place: &Place<'_>) -> Option<Fix> {
    let name = place.name("name")?;
    // Where it is made is what was seen for it.
    let home = place.suspect.claim.evidence.iter().find(|e| *e.file != *place.file.path)?;
    let imports: Vec<At<'_>> = place.file.tree.all().filter(|n| n.is(Kind::Import)).collect();
    let (folder, file) = home.file.rsplit_once('/').unwrap_or(("", &home.file));
    let stem = file.split_once('.').map_or(file, |(stem, _)| stem);
    let own = place.file.path.rsplit_once('/').map_or("", |(folder, _)| folder);
    let beside = imports.iter().filter_map(|i| like_another(place, i.line(), name, stem)).last();
    let text = match (beside, folder == own) {
        (Some(text), _) => text,
        (None, true) => {
            let template = place.file.language.imports.lines.first()?;
            template.replace("{name}", name).replace("{stem}", stem)
        }
        _ => return None,
    };
    let behind = match imports.iter().map(|i| i.last_line()).max() {
        Some(last) => whole(place.file, last)?.end,
        None => 0,
    };
    let begin = if place.file.text[..behind].ends_with('\n') || behind == 0 { "" } else { "\n" };
    Fix::one(&place.file.path, behind..behind, format!("{begin}{text}\n"))
}

/// A line that brings something in from a file of the project, written for another name and file.
fn like_another(place: &Place<'_>, number: u32, name: &str, stem: &str) -> Option<String> {
    let line = place.file.line(number)?.trim_end();
    let quote = line.find(['"', '\''])?;
    let rest = &line[quote + 1..];
    let path = &rest[..rest.find(['"', '\''])?];
    // Only what names a file by a way from here; a library has a name alone.
    let last = path.rfind('/').map(|at| at + 1)?;
    let ending = path[last..].find('.').map_or("", |at| &path[last + at..]);
    let with_path =
        format!("{}{}{stem}{ending}{}", &line[..=quote], &path[..last], &rest[path.len()..]);
    let bound = match (line.find('{'), line.find('}')) {
        (Some(open), Some(close)) if open < close => open..close + 1,
        _ => {
            let word = line.split_whitespace().nth(1)?;
            let at = line.find(word)?;
            at..at + word.len()
        }
    };
    let new = if line[bound.clone()].starts_with('{') {
        format!("{{ {name} }}")
    } else {
        name.to_owned()
    };
    (bound.end <= quote)
        .then(|| format!("{}{new}{}", &with_path[..bound.start], &with_path[bound.end..]))
}
