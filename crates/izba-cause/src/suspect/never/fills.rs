//! Functions that would fill what is read, and that nobody calls.

use super::says::{FILLS_HERE, NOT_CALLED, READ_HERE, on_the_way};
use crate::suspect::check::{Seen, Strength};
use crate::suspect::flow::bindings;
use crate::suspect::query::{Query, Step};
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
            if !alone || function.parent().is_some_and(|p| p.is(Kind::Call)) {
                continue;
            }
            let Some((home, fill)) = fills(query, file, function, &names, 3) else { continue };
            let what = fill.last_name().unwrap_or_default();
            let line = place_of_call(begin, function);
            let suspect = seen.suspect(
                &begin.file.path,
                line,
                Strength::Plain,
                say!(NOT_CALLED, function = name, name = what),
            );
            suspect.to(line + 1).saw(&home.path, fill.line(), say!(FILLS_HERE, name = what));
            suspect.saw(&file.path, function.line(), say!(READ_HERE));
        }
    }
}

/// The line behind which a method would be called: where the script that begins makes an object of
/// its type; else before the step of that script which led to the error.
fn place_of_call(begin: &Step<'_>, function: At<'_>) -> u32 {
    let class = function.class().and_then(At::text);
    let makes = |n: &At<'_>| {
        matches!(n.kind(), Kind::New | Kind::Call) && class.is_some() && n.last_name() == class
    };
    let mut made = begin.file.tree.all().filter(makes);
    if let (Some(made), None) = (made.next(), made.next()) {
        return made.step().line();
    }
    let led = begin.file.tree.on_line(begin.line).next();
    let step = led.and_then(|n| {
        let mut around = std::iter::once(n).chain(n.ancestors());
        around.find(|a| a.parent().is_some_and(|p| p.parent().is_none()))
    });
    let line = step.filter(|_| begin.function.is_none()).map_or(begin.line, At::line);
    line.saturating_sub(1).max(1)
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
        // A variable outside of all functions is everybody's.
        let shared = field.is(Kind::Name)
            && function.class().is_none()
            && bindings(file, field, field.text()?).iter().all(|b| b.function().is_none());
        ((field.is(Kind::Field) || shared) && named && !only_nothing()).then_some(field)
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
