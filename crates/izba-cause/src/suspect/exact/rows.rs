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
        && function(place.suspect.line) == function(other);
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
    let imports: Vec<At<'_>> = place.file.tree.all().filter(|n| n.is(Kind::Import)).collect();
    // Where it is made is what was seen for it.
    let made = place.suspect.claim.evidence.iter().find(|e| *e.file != *place.file.path);
    let Some(home) = made else { return standard(place, name, &imports) };
    let (folder, file) = home.file.rsplit_once('/').unwrap_or(("", &home.file));
    let stem = file.split_once('.').map_or(file, |(stem, _)| stem);
    let own = place.file.path.rsplit_once('/').map_or("", |(folder, _)| folder);
    let beside = imports.iter().rev().find_map(|i| like_another(place, i.line(), name, stem));
    let text = match (beside, folder == own) {
        (Some(text), _) => text,
        (None, true) => {
            let template = place.file.language.imports.lines.first()?;
            template.replace("{name}", name).replace("{stem}", stem)
        }
        _ => return None,
    };
    below_imports(place, &text)
}

/// What comes with the language is brought in, as the script brings in what else it needs.
fn standard(place: &Place<'_>, name: &str, imports: &[At<'_>]) -> Option<Fix> {
    let lines = || imports.iter().filter_map(|i| place.file.line(i.line()));
    let begins = |word: &str| lines().any(|l| l.split_whitespace().next() == Some(word));
    let text = place.file.language.imports.standard_line(name, begins)?;
    // What is there already does not mend it.
    let there = place.file.text.lines().any(|l| l.trim() == text);
    (!there).then(|| below_imports(place, &text))?
}

/// One more line below those that bring something in for the whole script; before its first step
/// where there is none, and so below what says what it belongs to.
fn below_imports(place: &Place<'_>, text: &str) -> Option<Fix> {
    let all = place.file.tree.all();
    let imports = all.filter(|n| n.is(Kind::Import) && n.function().is_none());
    let mut steps = place.file.tree.root()?.children();
    let first = steps.find(|n| !matches!(n.kind(), Kind::Other | Kind::Str));
    let behind = match (imports.map(At::last_line).max(), first) {
        (Some(last), _) => whole(place.file, last)?.end,
        (None, Some(first)) => place.file.line_span(first.step().line())?.start,
        (None, None) => 0,
    };
    let begin = if place.file.text[..behind].ends_with('\n') || behind == 0 { "" } else { "\n" };
    Fix::one(&place.file.path, behind..behind, format!("{begin}{text}\n"))
}

/// A line that brings in what the console names, where the language needs nothing but its name.
pub(super) fn brought_in_whole(place: &Place<'_>) -> Option<Fix> {
    let lines = &place.file.language.imports.lines;
    let template = lines.iter().find(|line| !line.contains("{stem}"))?;
    below_imports(place, &template.replace("{name}", place.name("name")?))
}

/// A line like the one that puts a sibling in, with the sibling's name changed to this one wherever it
/// stands there, however it is written.
pub(super) fn put_in_like(place: &Place<'_>) -> Option<Fix> {
    let name = place.name("name")?;
    // The last thing seen is where the sibling is put in.
    let sibling = place.suspect.claim.evidence.last().filter(|e| *e.file == *place.file.path)?;
    let line = place.file.line(sibling.line)?;
    let (old, new) = name_parts(line, name)?;
    let capital = |word: &str| {
        let mut chars = word.chars();
        chars.next().map(|c| c.to_uppercase().collect::<String>() + chars.as_str())
    };
    let mut text = line.to_owned();
    for (old, new) in [
        (old.clone(), new.clone()),
        (old.to_uppercase(), new.to_uppercase()),
        (old.to_lowercase(), new.to_lowercase()),
        (capital(&old)?, capital(&new)?),
    ] {
        // What was changed already holds the new name, which may hold the old one.
        if !text.contains(&new) {
            text = text.replace(&old, &new);
        }
    }
    let at = whole(place.file, place.suspect.line)?.end;
    let begin = if place.file.text[..at].ends_with('\n') { "" } else { "\n" };
    (text != *line).then(|| Fix::one(&place.file.path, at..at, format!("{begin}{text}\n")))?
}

/// Which part of a word of the line stands where another part stands in the name: `drop` and `nap` of
/// `on_drop` and `on_nap`. Of words that share nothing with it, one that the line has twice.
fn name_parts(line: &str, name: &str) -> Option<(String, String)> {
    let part = |c: char| c.is_alphanumeric() || c == '_';
    let words: Vec<&str> = line.split(|c| !part(c)).filter(|w| w.len() > 2 && *w != name).collect();
    // What they share ends, or begins, where words are joined: `on_`, `On`.
    let shared = |word: &str| {
        let (own, other): (Vec<char>, Vec<char>) = (word.chars().collect(), name.chars().collect());
        let joined = |at: usize| {
            let sign = |at: Option<usize>| at.and_then(|at| own.get(at)) == Some(&'_');
            let upper = own.get(at).is_some_and(|c| c.is_uppercase());
            upper || sign(Some(at)) || sign(at.checked_sub(1))
        };
        let head = own.iter().zip(&other).take_while(|(a, b)| a == b).count();
        let head = (1..=head).rev().find(|at| joined(*at)).unwrap_or(0);
        let room = own.len().min(other.len()) - head;
        let tail = own.iter().rev().zip(other.iter().rev()).take_while(|(a, b)| a == b).count();
        let tail = (1..=tail.min(room)).rev().find(|n| joined(own.len() - n)).unwrap_or(0);
        (head, tail)
    };
    let cut = |text: &str, (head, tail): (usize, usize)| {
        let count = text.chars().count() - head - tail;
        text.chars().skip(head).take(count).collect::<String>()
    };
    let akin = words.iter().map(|w| (*w, shared(w))).max_by_key(|(_, s)| s.0 + s.1);
    if let Some((word, s)) = akin.filter(|(_, s)| s.0 + s.1 >= AKIN) {
        let (old, new) = (cut(word, s), cut(name, s));
        if old.len() >= LEAST && new.len() >= LEAST {
            return Some((old, new));
        }
    }
    let lower = line.to_lowercase();
    let twice = |w: &&&str| lower.matches(&w.to_lowercase()).count() >= 2;
    words.iter().find(twice).map(|w| ((*w).to_owned(), name.to_owned()))
}

/// Signs that two names share at least, to be of one kind; and signs of what differs in them.
const AKIN: usize = 2;
const LEAST: usize = 2;

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

#[cfg(test)]
mod tests {
    use super::name_parts;

    #[test]
    fn what_differs_between_a_name_and_its_sibling_is_found() {
        let of = |line: &str, name: &str| {
            name_parts(line, name).map(|(old, new)| format!("{old} > {new}"))
        };
        let bind = "self.events.bind(Event.DROP, self.on_drop)";
        assert_eq!(of(bind, "on_nap").as_deref(), Some("drop > nap"));
        assert_eq!(of("handlers[\"pick\"] = OnPick;", "OnDrop").as_deref(), Some("Pick > Drop"));
        assert_eq!(
            of("commands.put(\"sum\", this::sum);", "count").as_deref(),
            Some("sum > count")
        );
        // That two words begin alike makes them no kin.
        let commands = "commands.put(\"feed\", this::feed);";
        assert_eq!(of(commands, "count").as_deref(), Some("feed > count"));
        assert_eq!(of("x = 1", "count"), None);
    }
}
