//! texts: a text in quotes where the thing itself was meant, and a text that should name something
//! and names nothing.

use super::check::{Check, Seen, Strength};
use super::flow::bindings;
use super::query::Query;
use super::symbols::As;
use izba_model::Family;
use izba_model::code::{At, FileFacts, Kind};
use izba_model::{say, sayings};

sayings! {
    "texts", Any, "../../words/suspects/texts.toml";
    TEXT_FOR_THING = "text-for-thing",
    ASKED_OF_IT = "asked-of-it",
    NAMES_NOTHING = "names-nothing",
    FOUND = "found",
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
