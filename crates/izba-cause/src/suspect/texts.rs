//! texts: a text in quotes where the thing itself was meant, and a text that should name something
//! and names nothing.

use super::check::{Check, Seen, Strength};
use super::flow::bindings;
use super::query::Query;
use super::symbols::As;
use izba_model::Family;
use izba_model::code::{At, FileFacts, Kind, Role, name_edit};
use izba_model::{say, sayings};

sayings! {
    "texts", Any, "../../words/suspects/texts.toml";
    TEXT_FOR_THING = "text-for-thing",
    ASKED_OF_IT = "asked-of-it",
    NAMES_NOTHING = "names-nothing",
    FOUND = "found",
    NO_ENTRY = "no-entry",
    NO_ENTRY_NEAR = "no-entry-near",
    LOOKED_FOR = "looked-for",
}

/// The check for this: a text in quotes where the thing itself was meant, and a text that should
/// name something and names nothing.
pub static CHECK: Check = Check {
    id: "texts",
    kinds: KINDS,
    applies: |query| {
        query.file.is_some()
            && matches!(
                query.family(),
                Family::ValueNotThere | Family::NameNotThere | Family::WrongKind | Family::Other
            )
    },
    look,
};

fn look(query: &Query<'_>, seen: &mut Seen) {
    text_for_thing(query, seen);
    names_nothing(query, seen);
    no_entry(query, seen);
}

/// Something is asked of a text as if it were the thing that the text names.
fn text_for_thing(query: &Query<'_>, seen: &mut Seen) {
    let Some(file) = query.file else { return };
    let Some(asked) = query.asked.as_deref() else { return };
    for field in query.on_line().filter(|n| n.is(Kind::Field) && n.is_called(asked)) {
        let Some(owner) = field.child(0).filter(|o| o.is(Kind::Name)) else { continue };
        let Some(name) = owner.text() else { continue };
        let given =
            bindings(file, owner, name).into_iter().filter_map(|b| Some((b, b.assigned_value()?)));
        for (_, value) in given.filter(|(_, v)| v.is(Kind::Str)) {
            let text = value.text().unwrap_or_default();
            let thing = query
                .symbols
                .occurrences(text)
                .iter()
                .any(|s| matches!(s.as_what, As::File | As::DataValue | As::Made(_)));
            let reason = say!(TEXT_FOR_THING, name, text, asked);
            let suspect = seen.suspect(
                &file.path,
                value.line(),
                if thing { Strength::Plain } else { Strength::Strong },
                reason,
            );
            suspect.saw(&file.path, query.line, say!(ASKED_OF_IT, name = asked));
        }
    }
}

/// A function on the way looks for an entry by what it is handed, and is handed a text that stands
/// nowhere else.
fn no_entry(query: &Query<'_>, seen: &mut Seen) {
    if query.family() != Family::ValueNotThere {
        return;
    }
    for (inner, outer) in query.steps.iter().zip(query.steps.iter().skip(1)).take(3) {
        let Some(function) = inner.function else { continue };
        let handed = |c: &At<'_>| c.last_name() == function.text();
        let Some(call) = outer.calls().into_iter().find(handed) else { continue };
        let texts = call.arguments().enumerate().filter(|(_, a)| a.is(Kind::Str));
        for (nth, text) in texts.filter_map(|(nth, a)| Some((nth, a.text()?))) {
            let param = function.params().nth(nth).and_then(At::text);
            let Some(param) = param.filter(|_| text.len() > 2) else { continue };
            if !looks_for(query, function, param, 2) || stands(query, text) > 1 {
                continue;
            }
            // Without a like one, the entry itself may be what is missing.
            let (strength, says) = match nearest(query, text) {
                Some(other) => (Strength::Plain, say!(NO_ENTRY_NEAR, name = text, other)),
                None => (Strength::Fair, say!(NO_ENTRY, name = text)),
            };
            let suspect = seen.suspect(&outer.file.path, call.line(), strength, says);
            suspect.saw(&inner.file.path, query.line, say!(LOOKED_FOR));
        }
    }
}

/// Whether a function compares a parameter with something, or hands it to one that does.
fn looks_for(query: &Query<'_>, function: At<'_>, param: &str, deep: u8) -> bool {
    let used = |n: &At<'_>| n.is(Kind::Name) && n.is_called(param) && n.defines().is_none();
    function.whole().filter(used).any(|n| {
        let Some(parent) = n.parent() else { return false };
        match parent.kind() {
            Kind::Bin => matches!(parent.text(), Some("==" | "===")),
            Kind::Index => parent.child(1) == Some(n),
            Kind::Call if deep > 0 => {
                let nth = parent.arguments().position(|a| a == n);
                let (Some(nth), Some(name)) = (nth, parent.last_name()) else { return false };
                if matches!(name, "get" | "Get") {
                    return true;
                }
                query.named(name).filter(|(_, f)| f.is(Kind::Func)).any(|(_, f)| {
                    let inner = f.params().nth(nth).and_then(At::text);
                    inner.is_some_and(|p| looks_for(query, f, p, deep - 1))
                })
            }
            _ => false,
        }
    })
}

/// How often a text stands in the project, in code and in data.
fn stands(query: &Query<'_>, text: &str) -> usize {
    let code = |f: &&FileFacts| -> usize {
        f.tree.all().filter(|n| n.is(Kind::Str) && n.is_called(text)).count()
            + f.data.iter().filter(|d| d.text.as_ref() == text).count()
    };
    query.scope.iter().map(code).sum()
}

/// A value of data that begins like a text, or is one slip away from it.
fn nearest<'a>(query: &Query<'a>, text: &str) -> Option<&'a str> {
    let first = |t: &str| t.split([' ', '-', '_']).next().unwrap_or_default().to_lowercase();
    let parts = text.split([' ', '-', '_']).count();
    let like = |other: &str| {
        name_edit(text, other).is_some()
            || parts > 1
                && other.split([' ', '-', '_']).count() == parts
                && first(other) == first(text)
    };
    let values = query.scope.iter().flat_map(|f| &f.data).filter(|d| d.role == Role::Value);
    let mut near = values.map(|d| d.text.as_ref()).filter(|other| *other != text && like(other));
    near.next()
}

/// What is looked up under a text that stands nowhere else, while the same call finds its others
/// elsewhere.
fn names_nothing(query: &Query<'_>, seen: &mut Seen) {
    for sliced in query.slice.iter().filter(|m| m.weight > 0.3) {
        let Some(call) = sliced.node.filter(|n| n.is(Kind::Call)) else { continue };
        let (Some(name), Some(text)) = (call.last_name(), lone_text(call)) else { continue };
        let elsewhere = |text: &str, file: &FileFacts, line: u32| {
            query.symbols.occurrences(text).iter().any(|s| {
                s.as_what == As::DataValue
                    || s.as_what != As::Text && (s.file.path != file.path || s.line != line)
            })
        };
        if elsewhere(text, sliced.file, call.line()) {
            continue;
        }
        let others: Vec<(&FileFacts, At<'_>, &str)> = query
            .named(name)
            .filter_map(|(f, n)| {
                let other = n.parent().filter(|p| p.is(Kind::Call) && p.child(0) == Some(n))?;
                Some((f, other, lone_text(other)?))
            })
            .filter(|(_, _, t)| *t != text)
            .collect();
        let found: Vec<_> = others.iter().filter(|(f, n, t)| elsewhere(t, f, n.line())).collect();
        if found.is_empty() || found.len() * 2 < others.len() {
            continue;
        }
        let reason = say!(NAMES_NOTHING, name = text, function = name);
        let suspect = seen.suspect(&sliced.file.path, call.line(), Strength::Strong, reason);
        suspect.tied(sliced.weight);
        for (f, n, t) in found.iter().take(3) {
            suspect.saw(&f.path, n.line(), say!(FOUND, name = t));
        }
    }
}

/// The one text that a call is given.
fn lone_text(call: At<'_>) -> Option<&str> {
    let mut arguments = call.arguments();
    let text = arguments.next().filter(|a| a.is(Kind::Str))?.text()?;
    (arguments.next().is_none() && super::is_name(text)).then_some(text)
}
