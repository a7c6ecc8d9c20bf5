//! Edits of a word or a sign of the line: one that stands for another, or that something is missing
//! beside.

use super::place::{Place, only_word, whole_words};
use izba_model::claim::Fix;
use std::ops::Range;

/// One word in the place of another, which stands in the line once; or everywhere in it, where the
/// file has it nowhere else.
pub(super) fn exchange(place: &Place<'_>, old: &str, new: &str) -> Option<Fix> {
    if old == new {
        return None;
    }
    let all: Vec<usize> = whole_words(place.line, old).collect();
    let elsewhere = || whole_words(&place.file.text, old).count() > all.len();
    if all.is_empty() || all.len() > 1 && elsewhere() {
        return None;
    }
    place.pieces(all.into_iter().map(|at| (at..at + old.len(), new.to_owned())).collect())
}

/// The other name is what should stand there.
pub(super) fn other_for_name(place: &Place<'_>) -> Option<Fix> {
    // A file's name with its ending never stands for one without.
    let dots = |slot: &str| Some(place.name(slot)?.contains('.'));
    if dots("name")? != dots("other")? {
        return None;
    }
    exchange(place, place.name("name")?, place.name("other")?)
}

/// What is made under another name should have this one.
pub(super) fn name_for_other(place: &Place<'_>) -> Option<Fix> {
    exchange(place, place.name("other")?, place.name("name")?)
}

/// A name that is nearly one that means something.
pub(super) fn real_for_name(place: &Place<'_>) -> Option<Fix> {
    exchange(place, place.name("name")?, place.name("real")?)
}

/// The signs with which something is called.
pub(super) fn called(place: &Place<'_>) -> Option<Fix> {
    let word = only_word(place.line, place.name("name")?)?;
    let open = place.line[word.end..].trim_start().starts_with('(');
    (!open).then(|| place.insert(word.end, "()"))?
}

/// Another sign before the name: `.` for `:` or the other way round.
pub(super) fn sign_before(place: &Place<'_>, old: &str, new: &str) -> Option<Fix> {
    let name = place.name("name")?;
    let name = name.rsplit(['.', ':']).next().unwrap_or(name);
    let word = only_word(place.line, &format!("{old}{name}"))?;
    place.replace(word.start..word.start + old.len(), new)
}

/// The entry under what a name holds, for the one under the name itself.
pub(super) fn by_what_it_holds(place: &Place<'_>) -> Option<Fix> {
    let (name, owner) = (place.name("name")?, place.name("owner")?);
    exchange(place, &format!("{owner}.{name}"), &format!("{owner}[{name}]"))
}

/// A word before the whole chain of names that ends with this one: `await boats.load()`.
pub(super) fn before_chain(place: &Place<'_>, what: &str) -> Option<Fix> {
    let name = place.name("name")?;
    let chain = only_chain(place.line, name.rsplit('.').next().unwrap_or(name))?;
    place.insert(chain.start, what)
}

/// The one word of a line, with what it is a part of: `sea.lamps.first`.
fn only_chain(line: &str, word: &str) -> Option<Range<usize>> {
    let word = only_word(line, word)?;
    let part = |c: char| c.is_alphanumeric() || matches!(c, '_' | '$' | '.');
    Some(line[..word.start].trim_end_matches(part).len()..word.end)
}

/// A function that calls the method, for the method by itself.
pub(super) fn called_later(place: &Place<'_>) -> Option<Fix> {
    let chain = only_chain(place.line, place.name("name")?)?;
    let made = format!("() => {}()", &place.line[chain.clone()]);
    place.replace(chain, &made)
}

/// The name itself, for the word in quotes.
pub(super) fn out_of_quotes(place: &Place<'_>) -> Option<Fix> {
    let name = place.name("name")?;
    let quoted = ['"', '\'', '`'].map(|q| format!("{q}{name}{q}"));
    let mut found = quoted.iter().filter_map(|q| Some((place.line.find(q.as_str())?, q)));
    let (at, quoted) = found.next()?;
    place.replace(at..at + quoted.len(), name)
}

/// Belongs to each object and not to the type.
pub(super) fn not_static(place: &Place<'_>) -> Option<Fix> {
    let word = only_word(place.line, "static")?;
    let room = place.line[word.end..].len() - place.line[word.end..].trim_start().len();
    place.replace(word.start..word.end + room, "")
}

/// Belongs to the type: behind the words that say who may use it.
pub(super) fn made_static(place: &Place<'_>) -> Option<Fix> {
    let access = ["public", "protected", "private", "internal"];
    let behind = access.iter().filter_map(|a| Some(only_word(place.line, a)?.end + 1)).max();
    place.insert(behind.unwrap_or(place.indent()), "static ")
}

/// What the line works out is given back.
pub(super) fn given_back(place: &Place<'_>) -> Option<Fix> {
    (!place.line.trim_start().starts_with("return"))
        .then(|| place.insert(place.indent(), "return "))?
}

/// One sign in the place of another that stands in the line once.
pub(super) fn exchange_sign(place: &Place<'_>, old: &str, new: &str) -> Option<Fix> {
    place.replace(only_word(place.line, old)?, new)
}

/// The entry that is never filled, for the one that is filled twice.
pub(super) fn other_entry(place: &Place<'_>) -> Option<Fix> {
    let entry = |slot: &str| Some(format!("[{}]", place.number(slot)?));
    exchange(place, &entry("number")?, &entry("missing")?)
}

/// A loop begins one before the length.
pub(super) fn one_less(place: &Place<'_>) -> Option<Fix> {
    let lengths = [".length()", ".length", ".Length", ".size()", ".Count", ".Count()"];
    let found = lengths.iter().filter_map(|l| only_word(place.line, l)).max_by_key(|r| r.end);
    if let Some(length) = found {
        return place.insert(length.end, " - 1");
    }
    // `len(x)` of Python ends with its bracket.
    let at = only_word(place.line, "len")?.end;
    let close = place.line[at..].find(')')? + at + 1;
    place.insert(close, " - 1")
}

/// The field of the object, for a variable of the same name that is made anew.
pub(super) fn own_field(place: &Place<'_>) -> Option<Fix> {
    let name = place.name("name")?;
    let word = only_word(&place.line[..place.line.find('=')?], name)?;
    // Where fields need no word before them, it may be one of the type as well as one of the object.
    let own = match place.file.language.fields_are_bare {
        true => String::new(),
        false => format!("{}.", place.file.language.itself.as_deref()?),
    };
    // All that makes it a new one stands before it: `local`, `var`, its type.
    place.replace(place.indent()..word.start, &own)
}

/// The sign that ends a comment, at the end of the line where it begins.
pub(super) fn comment_closed(place: &Place<'_>) -> Option<Fix> {
    let signs = &place.file.language.signs.block_comments;
    let (_, close) = signs.iter().find(|(open, _)| place.line.contains(open.as_str()))?;
    place.insert(place.line.trim_end().len(), &format!(" {close}"))
}
