//! Names by how often they are set and read: set and never read, read and never made, made too late.

use super::says::{
    FORGOTTEN_LOOKUP, LATE_LOCAL, LOST_LOCAL, MADE_BEFORE, MADE_TWICE, NEVER_READ, READ_HERE,
    UNREAD_FOR_UNMADE, WRITE_ONLY, is_known_outside, on_the_way,
};
use crate::suspect::check::{Seen, Strength};
use crate::suspect::flow::bindings;
use crate::suspect::query::Query;
use crate::suspect::symbols::As;
use crate::suspect::value::Eval;
use izba_model::Family;
use izba_model::code::{At, FileFacts, Flag, How, Kind, NameEdit, name_edit};
use izba_model::dialect::HandsOut;
use izba_model::say;

/// A member that is set once and never read, and nearly called like one that is read on the way.
pub(super) fn write_only(query: &Query<'_>, seen: &mut Seen) {
    let wanted = on_the_way(query);
    for file in query.scope.iter().filter(|f| f.language.is_code()) {
        for set in
            file.tree.all().filter(|n| n.is(Kind::Field) && n.defines() == Some(How::Assigned))
        {
            let Some(name) = set.text().filter(|n| n.len() > 2 && query.symbols.count(n) == 1)
            else {
                continue;
            };
            let slip = wanted.iter().find_map(|w| {
                let edit = name_edit(name, w).filter(|e| *e == NameEdit::Letter && *w != name)?;
                let kept = set.assigned_value().is_some_and(|v| v.last_name() == Some(*w));
                let plain = !crate::suspect::plural(name, w) || kept;
                plain.then_some((*w, edit))
            });
            let Some((other, edit)) = slip else { continue };
            let reason = say!(WRITE_ONLY, name, other, edit = edit.says(name, other));
            let suspect = seen.suspect(&file.path, set.line(), Strength::Plain, reason);
            if let Some(path) = query.path() {
                suspect.saw(path, query.line, say!(READ_HERE));
            }
        }
    }
}

/// A table that nothing reads, and a field that holds what the table's keys are: the entry was meant.
pub(super) fn forgotten_lookup(query: &Query<'_>, seen: &mut Seen) {
    let names = on_the_way(query);
    for home in query.scope.iter().filter(|f| f.language.is_code()) {
        for table in home.tree.all().filter(|n| n.is(Kind::Table)) {
            let target = table.parent().filter(|p| p.is(Kind::Values)).and_then(At::parent);
            let Some(name) = target
                .and_then(|a| a.part(Kind::Targets)?.child(0))
                .filter(|t| t.is(Kind::Name))
                .and_then(At::text)
            else {
                continue;
            };
            let keys: Vec<&str> =
                table.children().filter(|c| c.is(Kind::Pair)).filter_map(At::text).collect();
            if keys.len() < 2 || query.symbols.count(name) != 1 {
                continue;
            }
            for field in &names {
                let sets =
                    query.symbols.occurrences(field).iter().filter_map(|s| Some((s.file, s.node?)));
                let sets =
                    sets.filter(|(_, n)| n.is(Kind::Field) && n.defines() == Some(How::Assigned));
                for (file, set) in sets {
                    let Some(value) = set.assigned_value() else { continue };
                    let held = Eval::new(query).of(file, value);
                    let words: Vec<String> =
                        held.list.iter().filter_map(crate::suspect::value::Val::word).collect();
                    if words.len() >= 2
                        && !held.lost
                        && words.iter().all(|w| keys.contains(&w.as_str()))
                    {
                        let reason = say!(FORGOTTEN_LOOKUP, name = *field, table = name);
                        let suspect = seen.suspect(&file.path, set.line(), Strength::Plain, reason);
                        suspect.saw(&home.path, table.line(), say!(NEVER_READ, name));
                    }
                }
            }
        }
    }
}

/// Variables that are made below the function that reads them, and others that are read under a
/// name that nothing makes.
pub(super) fn late_locals(query: &Query<'_>, seen: &mut Seen) {
    let by_place = |f: &&&FileFacts| {
        f.language.hands_out == Some(HandsOut::Globals) && !f.language.declares_by_assigning
    };
    for file in query.scope.iter().filter(by_place) {
        for made in file.tree.all().filter(|n| {
            n.is(Kind::Name)
                && n.defines() == Some(How::Assigned)
                && n.parent().and_then(At::parent).is_some_and(|a| a.has(Flag::Local))
                || n.is(Kind::Func) && n.has(Flag::Local)
        }) {
            let Some(name) = made.text() else { continue };
            let all: Vec<At<'_>> = file.tree.named(name).filter(|n| n.is(Kind::Name)).collect();
            let others = file.tree.named(name).any(|n| {
                n != made && n.defines().is_some() && !n.is(Kind::Pair) && !n.is(Kind::Field)
            });
            let early = all.iter().find(|n| {
                n.defines().is_none()
                    && n.line() < made.line()
                    && n.function().is_some()
                    && n.function() != made.function()
            });
            if let (Some(early), false) = (early, others) {
                let on_way = query.relevance(file, early.line()) > 0.2
                    || query.steps.iter().any(|s| s.file.path == file.path);
                // Another name that is known there is nearly this one: a slip of the fingers.
                let near = file.tree.all().any(|n| {
                    n.is(Kind::Name)
                        && n.defines() == Some(How::Assigned)
                        && n.function().is_none()
                        && n.line() < early.line()
                        && n.text().is_some_and(|t| {
                            t != name && name_edit(t, name).is_some_and(|e| e <= NameEdit::Letter)
                        })
                });
                let strength = match (near, on_way) {
                    (true, _) => Strength::Weak,
                    (false, true) => Strength::Plain,
                    _ => Strength::Fair,
                };
                let suspect =
                    seen.suspect(&file.path, made.line(), strength, say!(LATE_LOCAL, name));
                suspect.saw(&file.path, early.line(), say!(READ_HERE));
            }
        }
        lost_locals(query, file, seen);
    }
    unread_for_unmade(query, seen);
    made_twice(query, seen);
}

/// What is asked for is made nowhere, and beside where it should be a function is made twice under
/// one name.
fn made_twice(query: &Query<'_>, seen: &mut Seen) {
    let Some(name) = query.asked.as_deref() else { return };
    let absent = query.family() == Family::NameNotThere
        || query.said.contains("nil value")
        || query.said.contains("not a function")
        || query.said.contains("has no attribute");
    if !absent || query.named(name).any(|(_, n)| n.defines().is_some()) {
        return;
    }
    let beside = |f: At<'_>| {
        (
            f.part(Kind::Owner).and_then(|o| o.child(0)).and_then(At::text).map(str::to_owned),
            f.class().map(At::id),
            f.function().map(At::id),
        )
    };
    let mut found: Vec<(&FileFacts, At<'_>, At<'_>)> = Vec::new();
    for file in query.scope.iter().filter(|f| f.language.is_code() && !f.language.checked) {
        let functions: Vec<At<'_>> =
            file.tree.all().filter(|n| n.is(Kind::Func) && n.text().is_some()).collect();
        let mut before: std::collections::HashMap<_, At<'_>> = Default::default();
        for again in functions {
            // A getter and a setter share a name.
            if crate::suspect::value::is_property(file, again) {
                continue;
            }
            if let Some(one) = before.insert((again.text(), beside(again)), again) {
                found.push((file, one, again));
            }
        }
    }
    if let [(file, one, again)] = found[..] {
        let reason = say!(MADE_TWICE, name = one.text().unwrap_or_default(), other = name);
        let suspect = seen.suspect(&file.path, again.line(), Strength::Strong, reason);
        suspect.saw(&file.path, one.line(), say!(MADE_BEFORE));
    }
}

/// A name is read in a function and nothing makes it, and the function makes one that it never
/// reads: the one was meant to be the other.
fn unread_for_unmade(query: &Query<'_>, seen: &mut Seen) {
    let (Some(file), Some(name)) = (query.file, query.asked.as_deref()) else { return };
    let unmade = query.family() == Family::NameNotThere
        && !file.tree.named(name).any(|n| n.defines().is_some() && !n.is(Kind::Pair))
        && file.tree.named(name).any(|n| n.is(Kind::Name));
    if !unmade {
        return;
    }
    let within = query.steps.first().and_then(|s| s.function);
    let names = |n: &At<'_>| matches!(n.kind(), Kind::Name | Kind::Param) && n.text().is_some();
    let uses = |word: &str, within: Option<At<'_>>| {
        file.tree
            .named(word)
            .filter(|n| n.is(Kind::Name) && n.defines().is_none())
            .filter(|n| within.is_none_or(|f| n.ancestors().any(|a| a == f)))
            .count()
    };
    let made_in = |function: Option<At<'_>>| -> Vec<(String, u32)> {
        let all = file.tree.all().filter(names).filter(|n| n.function() == function);
        let mut found: Vec<(String, u32)> = all
            .filter(|n| matches!(n.defines(), Some(How::Parameter | How::Assigned | How::Loop)))
            .filter_map(|n| Some((n.text()?.to_owned(), n.line())))
            .filter(|(t, _)| !t.starts_with('_') && !matches!(t.as_str(), "self" | "cls" | "this"))
            .filter(|(t, _)| uses(t, function) == 0)
            .collect();
        found.dedup();
        found
    };
    // Several on one line are several that were changed at once.
    let unread = within.map(|f| made_in(Some(f))).unwrap_or_default();
    let lines: Vec<u32> = unread.iter().map(|(_, line)| *line).collect();
    let Some((word, line)) = unread.first().filter(|_| lines.iter().all(|l| *l == lines[0])) else {
        return;
    };
    let reason = say!(UNREAD_FOR_UNMADE, name = word.as_str(), other = name);
    // One slip at the making leaves every reading alone; one slip at a reading leaves the others.
    let unmade = file
        .tree
        .all()
        .filter(|n| n.is(Kind::Name) && n.defines().is_none() && n.function() == within)
        .filter(|n| {
            n.text().is_some_and(|t| {
                !matches!(t, "self" | "this" | "super")
                    && bindings(file, *n, t).is_empty()
                    && !query.symbols.is_made(t)
                    && (t == name || !is_known_outside(query, t))
            })
        })
        .count();
    let strength = if unmade >= 2 { Strength::Plain } else { Strength::Weak };
    let suspect = seen.suspect(&file.path, *line, strength, reason);
    suspect.saw(&file.path, query.line, say!(READ_HERE));
}

/// A variable or parameter that nobody reads, and near it one that is read and that nobody makes.
pub(super) fn lost_locals(query: &Query<'_>, file: &FileFacts, seen: &mut Seen) {
    for function in file.tree.all().filter(|n| n.is(Kind::Func)) {
        let inside: Vec<At<'_>> =
            function.whole().filter(|n| n.is(Kind::Name) || n.is(Kind::Param)).collect();
        let unread = inside.iter().copied().filter(|n| {
            let local = n.is(Kind::Param)
                || n.defines() == Some(How::Assigned)
                    && n.parent().and_then(At::parent).is_some_and(|a| a.has(Flag::Local));
            local
                && n.text().is_some_and(|t| {
                    t != "_" && inside.iter().filter(|o| o.is_called(t)).count() == 1
                })
        });
        for made in unread {
            let Some(name) = made.text() else { continue };
            let unmade = inside.iter().copied().find_map(|n| {
                let other = n.text().filter(|_| n.is(Kind::Name))?;
                let edit =
                    name_edit(name, other).filter(|e| *e <= NameEdit::Letters && other != name)?;
                let unknown = bindings(file, n, other).iter().all(|b| {
                    b.parent().and_then(At::parent).is_some_and(|a| !a.has(Flag::Local))
                        && b.function() == Some(function)
                }) && !is_known_outside(query, other)
                    && !query
                        .symbols
                        .occurrences(other)
                        .iter()
                        .any(|s| s.file.path != file.path && matches!(s.as_what, As::Made(_)));
                unknown.then_some((other, edit, n))
            });
            let Some((other, edit, read)) = unmade else { continue };
            // The one that stands elsewhere too is spelt right.
            if query.symbols.count(other) <= 1 || query.symbols.count(name) > 1 {
                continue;
            }
            let reason = say!(LOST_LOCAL, name, other, edit = edit.says(name, other));
            seen.suspect(&file.path, made.line(), Strength::Plain, reason).saw(
                &file.path,
                read.line(),
                say!(READ_HERE),
            );
        }
    }
}
