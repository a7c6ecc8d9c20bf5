//! Functions that give nothing back though it is used, and methods under another name than the base
//! waits for.

use super::says::{
    NEEDED_HERE, NO_RETURN, NO_RETURN_HERE, OTHER_OVERRIDE, UNUSED_FOR_UNMADE, WAITS_HERE,
    on_the_way, own,
};
use crate::suspect::check::{Seen, Strength};
use crate::suspect::query::Query;
use crate::suspect::symbols::{As, BEGINNINGS};
use izba_model::code::{At, FileFacts, Kind, name_edit};
use izba_model::say;

/// A function ends without giving anything back, and what it gives is used.
pub(super) fn no_return(query: &Query<'_>, seen: &mut Seen) {
    for file in query.scope.iter().filter(|f| f.language.is_code() && !f.language.checked) {
        for function in file.tree.all().filter(|n| n.is(Kind::Func)) {
            let Some(block) = function.part(Kind::Block) else { continue };
            let Some(last) = block.children().last() else { continue };
            let gives = function.whole().any(|n| {
                n.function() == Some(function) && (n.is(Kind::Return) || n.is(Kind::Throw))
            });
            let sends = file
                .text
                .get(function.span().0..function.span().1)
                .is_some_and(|t| t.contains("yield"));
            if gives || sends || has_empty_body(block) {
                continue;
            }
            let named = function.text().or_else(|| kept_as(function));
            let used = match named {
                Some(name) if !matches!(name, "__init__" | "constructor") => {
                    used_values(query, name).into_iter().next()
                }
                Some(_) => None,
                None => handed_to_maker(file, function),
            };
            let Some((home, by)) = used else { continue };
            let tied =
                query.slice.iter().any(|m| {
                    m.path() == &file.path
                        && m.weight > 0.2
                        && m.line() >= function.line()
                        && m.line() <= function.last_line()
                }) || query.steps.iter().any(|s| s.file.path == home.path && s.line == by.line())
                    || named.is_some_and(|n| on_the_way(query).contains(&n));
            let strength = if tied { Strength::Plain } else { Strength::Fair };
            let reason = match named {
                Some(name) => say!(NO_RETURN, name),
                None => say!(NO_RETURN_HERE),
            };
            let line = end_of(file, function, last);
            let suspect = seen.suspect(&file.path, line, strength, reason);
            suspect.saw(&home.path, by.line(), say!(NEEDED_HERE));
        }
    }
}

/// The line behind which the function's last step would stand: the last one before what closes it.
fn end_of(file: &FileFacts, function: At<'_>, last: At<'_>) -> u32 {
    let of_last = last.last_line();
    let closes = file.line_of(function.span().1.saturating_sub(1));
    let filled = |line: &u32| file.line(*line).is_some_and(|t| !t.trim().is_empty());
    (of_last..closes).rev().find(filled).unwrap_or(of_last)
}

/// Whether a function was left empty on purpose.
pub(super) fn has_empty_body(block: At<'_>) -> bool {
    block.children().all(|c| matches!(c.kind(), Kind::Leave | Kind::Str))
}

/// The name under which a function is kept.
pub(crate) fn kept_as(function: At<'_>) -> Option<&str> {
    let parent = function.parent()?;
    match parent.kind() {
        Kind::Values => parent.parent()?.part(Kind::Targets)?.child(0)?.last_name(),
        Kind::Pair => parent.text(),
        _ => None,
    }
}

/// Calls of a function whose value is used; none where another function bears the name too.
pub(super) fn used_values<'a>(query: &Query<'a>, name: &str) -> Vec<(&'a FileFacts, At<'a>)> {
    let occurrences = query.symbols.occurrences(name);
    let made = occurrences.iter().filter(|s| matches!(s.as_what, As::Made(_))).count();
    let outside =
        crate::suspect::is_outside_name(query.index, query.file.map(|f| f.language), name);
    if made != 1 {
        return Vec::new();
    }
    // A member of something else may be called so too; a name alone is this one.
    let occurrences =
        occurrences.iter().filter(|s| !outside || s.node.is_some_and(|n| n.is(Kind::Name)));
    let calls = occurrences.filter_map(|s| Some((s.file, s.node?))).filter_map(|(f, n)| {
        n.parent().filter(|p| p.is(Kind::Call) && p.child(0) == Some(n)).map(|c| (f, c))
    });
    calls
        .filter(|(_, call)| {
            call.parent().is_some_and(|p| match p.kind() {
                Kind::Values | Kind::Bin | Kind::Index => true,
                Kind::Field => p.child(0) == Some(*call),
                Kind::Call => p.child(0) != Some(*call),
                _ => false,
            })
        })
        .collect()
}

/// A function that is handed to a call which makes a list of what it gives.
pub(super) fn handed_to_maker<'a>(
    file: &'a FileFacts,
    function: At<'a>,
) -> Option<(&'a FileFacts, At<'a>)> {
    let call = function.parent().filter(|p| p.is(Kind::Call))?;
    let makes = matches!(
        call.last_name(),
        Some("map" | "filter" | "reduce" | "flatMap" | "find" | "sort" | "every" | "some")
    );
    let first = call.arguments().next() == Some(function);
    (makes && first).then_some((file, call))
}

/// A method is asked for that nothing makes, and its type has just one of its own that nothing
/// calls.
pub(super) fn method_unmade(query: &Query<'_>, seen: &mut Seen) {
    let absent = query.said.contains("not a function")
        || query.said.contains("nil value")
        || query.said.contains("has no attribute");
    let (Some(file), Some(asked)) = (query.file, query.asked.as_deref()) else { return };
    if !absent || query.symbols.is_made(asked) {
        return;
    }
    let call = query.on_line().find(|n| n.is(Kind::Field) && n.is_called(asked) && n.is_callee());
    let Some(class) = call.filter(|c| own(*c)).and_then(At::class) else { return };
    let unused = |m: &At<'_>| {
        m.text().is_some_and(|n| {
            !n.starts_with("__")
                && !BEGINNINGS.contains(&n)
                && !query.named(n).any(|(_, u)| u.is_callee() || u.is(Kind::Str))
        })
    };
    let mut methods = class.children().filter(|m| m.is(Kind::Func)).filter(unused);
    if let (Some(method), None) = (methods.next(), methods.next()) {
        let says = say!(UNUSED_FOR_UNMADE, name = method.text().unwrap_or_default(), other = asked);
        let suspect = seen.suspect(&file.path, method.line(), Strength::Strong, says);
        suspect.saw(&file.path, query.line, say!(NEEDED_HERE)).tied(1.0);
    }
}

/// A base waits for a method that a derived type has under another name.
pub(super) fn other_override(query: &Query<'_>, seen: &mut Seen) {
    if !(query.said.contains("NotImplemented")
        || query.said.contains("not implemented")
        || query.said.contains("abstract")
        || query.said.contains("must be overridden"))
    {
        return;
    }
    let Some(step) = query.steps.first() else { return };
    let Some(waited) = step.function.filter(|f| f.class().is_some()) else { return };
    let (Some(other), Some(base)) = (waited.text(), waited.class().and_then(At::text)) else {
        return;
    };
    let mut found: Vec<(&FileFacts, At<'_>, &str)> = Vec::new();
    for file in query.scope.iter().filter(|f| f.language.is_code()) {
        let derived =
            file.tree.named(base).filter(|n| n.parent().is_some_and(|p| p.is(Kind::Bases)));
        for class in derived.filter_map(At::class) {
            let methods: Vec<At<'_>> = class.children().filter(|m| m.is(Kind::Func)).collect();
            if methods.iter().any(|m| m.is_called(other)) {
                continue;
            }
            let unused = |m: &&At<'_>| {
                m.text().is_some_and(|n| {
                    query.symbols.count(n) == 1 && !n.starts_with("__") && !BEGINNINGS.contains(&n)
                })
            };
            let fitting: Vec<&At<'_>> = methods.iter().filter(unused).collect();
            let best = fitting
                .iter()
                .find(|m| name_edit(other, m.text().unwrap_or_default()).is_some())
                .or_else(|| fitting.iter().find(|m| m.params().count() == waited.params().count()));
            if let Some(method) = best {
                found.push((file, **method, class.text().unwrap_or_default()));
            }
        }
    }
    let alone = found.len() == 1;
    for (file, method, _) in found.into_iter().take(3) {
        let name = method.text().unwrap_or_default();
        let strength = if alone { Strength::Plain } else { Strength::Fair };
        let suspect = seen.suspect(
            &file.path,
            method.line(),
            strength,
            say!(OTHER_OVERRIDE, name, base, other),
        );
        suspect.saw(&step.file.path, step.line, say!(WAITS_HERE, base, other));
    }
}
