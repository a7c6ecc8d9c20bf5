//! Functions that would fill what is read, and that nobody calls.

use super::says::{FILLS_HERE, NOT_CALLED, READ_HERE, on_the_way};
use crate::suspect::check::{Seen, Strength};
use crate::suspect::query::Query;
use crate::suspect::symbols::BEGINNINGS;
use izba_model::code::{At, FileFacts, Flag, How, Kind};
use izba_model::say;

/// A function would fill or set what is read, and nobody calls it.
pub(super) fn not_called(query: &Query<'_>, seen: &mut Seen) {
    let Some(begin) =
        query.steps.iter().rev().find(|s| s.function.is_none()).or(query.steps.last())
    else {
        return;
    };
    let names = on_the_way(query);
    for file in query.scope.iter().filter(|f| f.language.is_code()) {
        for function in file.tree.all().filter(|n| n.is(Kind::Func) && !n.has(Flag::Constructor)) {
            let Some(name) = function.text() else { continue };
            let alone = query.symbols.count(name) == 1
                && !BEGINNINGS.contains(&name)
                && !name.starts_with("__");
            // What is only ever given nothing fails when it is filled too.
            if !alone || function.class().is_none() && function.part(Kind::Owner).is_none() {
                continue;
            }
            let Some((home, fill)) = fills(query, file, function, &names, 3) else { continue };
            let what = fill.last_name().unwrap_or_default();
            let suspect = seen.suspect(
                &begin.file.path,
                begin.line.saturating_sub(1).max(1),
                Strength::Plain,
                say!(NOT_CALLED, function = name, name = what),
            );
            suspect.to(begin.line).saw(&home.path, fill.line(), say!(FILLS_HERE, name = what));
            suspect.saw(&file.path, function.line(), say!(READ_HERE));
        }
    }
}

/// Where a function, or one that it calls, puts something into one of these.
pub(super) fn fills<'a>(
    query: &Query<'a>,
    file: &'a FileFacts,
    function: At<'a>,
    names: &[&str],
    deep: u32,
) -> Option<(&'a FileFacts, At<'a>)> {
    let own_fill = |n: &At<'a>| {
        let field = match n.kind() {
            Kind::Call => {
                let called = n.child(0).filter(|c| {
                    c.is(Kind::Field)
                        && matches!(
                            c.text(),
                            Some("append" | "push" | "add" | "put" | "set" | "Add" | "insert")
                        )
                })?;
                called.child(0)
            }
            Kind::Index if n.parent().is_some_and(|p| p.is(Kind::Targets)) => n.child(0),
            Kind::Field
                if n.defines() == Some(How::Assigned)
                    && !n.assigned_value().is_some_and(|v| v.is(Kind::Nil)) =>
            {
                Some(*n)
            }
            _ => None,
        }?;
        let named = field.last_name().is_some_and(|t| names.contains(&t));
        let only_nothing = || {
            let made = query.symbols.occurrences(field.last_name().unwrap_or_default()).iter();
            let values = made.filter_map(|s| s.node?.assigned_value());
            let (none, some): (Vec<At<'a>>, Vec<At<'a>>) = values.partition(|v| v.is(Kind::Nil));
            !none.is_empty() && some.is_empty() && n.is(Kind::Call)
        };
        (field.is(Kind::Field) && named && !only_nothing()).then_some(field)
    };
    if let Some(found) = function.whole().find_map(|n| own_fill(&n)) {
        return Some((file, found));
    }
    if deep == 0 {
        return None;
    }
    function.whole().filter(|n| n.is(Kind::Call)).filter_map(At::last_name).find_map(|called| {
        let mut own =
            query.symbols.occurrences(called).iter().filter_map(|s| Some((s.file, s.node?)));
        let (home, inner) = own.find(|(_, n)| n.is(Kind::Func) && *n != function)?;
        fills(query, home, inner, names, deep - 1)
    })
}
