//! Edits of how an object begins: as its base begins.

use super::place::Place;
use izba_model::claim::Fix;
use izba_model::code::{At, Index, Kind};

/// The functions by which a type may begin, and how its base is begun with there.
const BEGINNINGS: &[(&str, &str, &str)] =
    &[("__init__", "super().__init__(", ")"), ("constructor", "super(", ");")];

/// The beginning of the base comes first, with what both are given under the same names; `None` where
/// the base wants what nobody here has.
pub(super) fn as_base(place: &Place<'_>) -> Option<Fix> {
    let base = place.name("base")?;
    let own = place.file.tree.on_line(place.suspect.line).find(|n| n.is(Kind::Func))?;
    let begins = beginning_of(place.index, base)?;
    let itself = place.file.language.itself.as_deref();
    let mine: Vec<&str> = parameters(own).filter_map(At::text).collect();
    let mut given = Vec::new();
    for wanted in parameters(begins).filter(|p| p.text() != itself) {
        match wanted.text().filter(|t| mine.contains(t)) {
            Some(name) => given.push(name),
            // What has a value of its own need not be given, nor what comes after it.
            None if wanted.child(0).is_some() => break,
            None => return None,
        }
    }
    let form = BEGINNINGS.iter().find(|(name, ..)| own.is_called(name));
    let call = match form {
        Some((_, open, close)) => format!("{open}{}{close}", given.join(", ")),
        None => {
            let all: Vec<&str> = itself.into_iter().chain(given).collect();
            format!("{base}.call({});", all.join(", "))
        }
    };
    let first = place.file.line_span(own.part(Kind::Block)?.child(0)?.step().line())?;
    if first.start <= place.span.start {
        return None;
    }
    let line = &place.file.text[first.clone()];
    let indent = &line[..line.len() - line.trim_start().len()];
    Fix::one(&place.file.path, first.start..first.start, format!("{indent}{call}\n"))
}

/// The function by which what is called so begins, if there is one only.
fn beginning_of<'a>(index: &'a Index, base: &str) -> Option<At<'a>> {
    let named = index.code().flat_map(|f| f.tree.named(base));
    let mut found = named.filter_map(|n| match n.kind() {
        Kind::Class => n
            .children()
            .find(|m| m.is(Kind::Func) && BEGINNINGS.iter().any(|(name, ..)| m.is_called(name))),
        Kind::Func => Some(n),
        _ => None,
    });
    found.next().filter(|_| found.next().is_none())
}

fn parameters(function: At<'_>) -> impl Iterator<Item = At<'_>> {
    function.part(Kind::Params).into_iter().flat_map(At::children)
}
