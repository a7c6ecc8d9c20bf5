//! missing: what was never declared, never kept, or never given a value.

use super::check::{Check, Seen, Strength};
use super::query::Query;
use super::symbols::As;
use izba_model::Family;
use izba_model::claim::{Evidence, Saying, Verdict};
use izba_model::code::{At, FileFacts, Flag, How, Kind};
use izba_model::{say, sayings};

sayings! {
    "missing", Absence, "../../words/suspects/missing.toml";
    ALL_GIVEN = "all-given",
    NEVER_GIVEN = "never-given",
    BEGINS_WITH_NOTHING = "begins-with-nothing",
    DECLARED_NEVER_GIVEN = "declared-never-given",
    NO_OTHER_LINE = "no-other-line",
    HANDED_NOT_KEPT = "handed-not-kept",
    PARAMETER = "parameter",
    TAKEN_NEVER_READ = "taken-never-read",
    NOTHING_FILLS = "nothing-fills",
    FIRST_VALUE_MISSING = "first-value-missing",
}

/// The check for this: what was never declared, never kept, or never given a value.
pub static CHECK: Check = Check {
    id: "missing",
    kinds: KINDS,
    applies: |query| {
        query.file.is_some()
            && matches!(
                query.family(),
                Family::NameNotThere
                    | Family::ValueNotThere
                    | Family::OutOfRange
                    | Family::WrongKind
                    | Family::Other
                    | Family::LooseWiring
            )
    },
    look,
};

fn look(query: &Query<'_>, seen: &mut Seen) {
    let bare = never_given(query, seen);
    unused_parameters(query, seen);
    never_read(query, seen);
    undeclared(query, seen);
    // What was declared and given nothing anywhere is not ruled out by other declarations.
    let anywhere = query.subject_names().into_iter().any(|name| {
        query.symbols.occurrences(name).iter().any(|s| s.node.is_some_and(At::is_bare))
    });
    let name = query.subject_names().first().copied().unwrap_or_default();
    // Nor is what nothing gives a first value, or what every line only counts on from.
    let gives = |s: &super::symbols::Occurrence<'_>| match s.as_what {
        As::Made(_) => s.node.is_none_or(|n| !super::never::counts_on_itself(n)),
        As::DataKey => true,
        _ => false,
    };
    let begun = query.symbols.occurrences(name).iter().any(gives);
    let bare = bare || anywhere || !begun;
    if let (false, Family::ValueNotThere, false, Some(path)) =
        (bare, query.family(), name.is_empty(), query.path())
    {
        let evidence =
            vec![Evidence { file: path.clone(), line: query.line, saw: say!(ALL_GIVEN) }];
        seen.reason(Verdict::RuledOut, say!(NEVER_GIVEN, name), evidence);
    }
}

/// Declared, and given nothing.
fn never_given(query: &Query<'_>, seen: &mut Seen) -> bool {
    let mut any = false;
    // Where the sentence tells what kind of value was met, there was one.
    let met = query.entry.facts.get("have").is_some_and(|have| {
        !matches!(have.as_str(), "nil" | "null" | "undefined" | "None" | "NoneType" | "no value")
    });
    if met && query.family() == Family::WrongKind {
        return false;
    }
    for sliced in &query.slice {
        // Begun with nothing, where every other line counts on from it.
        if let Some(node) = sliced.node.filter(|n| {
            n.defines() == Some(How::Assigned)
                && n.is(Kind::Name)
                && n.assigned_value().is_some_and(|v| v.is(Kind::Nil))
        }) && let Some(name) = node.text()
            && !sliced.file.language.declares_by_assigning
        {
            let mut others = sliced
                .file
                .tree
                .named(name)
                .filter(|n| {
                    *n != node
                        && n.is(Kind::Name)
                        && n.defines() == Some(How::Assigned)
                        && n.function() == node.function()
                })
                .peekable();
            let counts_on = |n: At<'_>| {
                n.parent().and_then(At::parent).is_some_and(|a| a.has(Flag::Augmented))
                    || n.assigned_value()
                        .is_some_and(|v| v.whole().any(|w| w.is(Kind::Name) && w.is_called(name)))
            };
            if others.peek().is_none() || others.all(counts_on) {
                let says = say!(BEGINS_WITH_NOTHING, name);
                let suspect = seen.suspect(&sliced.file.path, sliced.line(), Strength::Fair, says);
                suspect.tied(sliced.weight);
                any = true;
            }
        }
        // Some declare the fields of a type so.
        let Some(node) =
            sliced.node.filter(|n| n.is_bare() && !sliced.file.language.declares_by_assigning)
        else {
            continue;
        };
        let Some(name) = node.text() else { continue };
        // Given a value somewhere else, its declaration is well.
        let given = sliced.file.tree.named(name).any(|n| {
            n.defines() == Some(How::Assigned)
                && !n.is_bare()
                && (n.is(Kind::Name) || n.is(Kind::Field))
        });
        if !given && !sliced.file.language.checked {
            let suspect = seen.suspect(
                &sliced.file.path,
                sliced.line(),
                Strength::Strong,
                say!(DECLARED_NEVER_GIVEN, name),
            );
            suspect.saw(&sliced.file.path, sliced.line(), say!(NO_OTHER_LINE)).tied(sliced.weight);
            any = true;
        }
    }
    any
}

/// A constructor takes what should become the missing field, and does nothing with it.
fn unused_parameters(query: &Query<'_>, seen: &mut Seen) {
    let mut names: Vec<String> = query.asked.iter().cloned().collect();
    names.extend(query.subject_names().into_iter().map(str::to_owned));
    for file in query.scope.iter().filter(|f| f.language.is_code()) {
        for name in &names {
            for param in file.tree.named(name).filter(|n| n.is(Kind::Param)) {
                let Some(function) = param.ancestors().find(|n| n.is(Kind::Func)) else { continue };
                let constructs = function.has(Flag::Constructor)
                    || matches!(function.text(), Some("new" | "init" | "create"));
                let used = function.whole().any(|n| n.is(Kind::Name) && n.is_called(name));
                // Its neighbours are kept under their own names, and it is not.
                // Kept under an underline it is kept.
                let same = |n: At<'_>, word: &str| {
                    n.text().is_some_and(|t| t.trim_matches('_') == word.trim_matches('_'))
                };
                let keeps = |word: &str| {
                    function
                        .whole()
                        .any(|n| n.is(Kind::Field) && same(n, word) && n.defines().is_some())
                };
                let forgotten = !keeps(name)
                    && function
                        .params()
                        .filter(|p| *p != param)
                        .filter_map(At::text)
                        .filter(|p| keeps(p))
                        .count()
                        >= 1;
                if !constructs || used && !forgotten {
                    continue;
                }
                // It was meant to stand where its neighbours among the parameters are kept.
                let before =
                    function.params().take_while(|p| *p != param).filter_map(At::text).last();
                let kept = |word: &str| {
                    function
                        .whole()
                        .find(|n| n.is(Kind::Field) && n.is_called(word) && n.defines().is_some())
                        .map(At::line)
                };
                // Under another name, which nobody reads, it is kept in vain.
                let other = function
                    .whole()
                    .find(|n| n.is(Kind::Field) && n.is_called(name) && n.defines().is_some())
                    .map(At::line);
                let renamed = kept_in_vain(query, function, name).or(other);
                let line = renamed.or_else(|| before.and_then(kept)).unwrap_or(
                    function
                        .part(Kind::Block)
                        .and_then(|b| b.child(0))
                        .map_or(function.line(), At::line),
                );
                let suspect =
                    seen.suspect(&file.path, line, Strength::Strong, say!(HANDED_NOT_KEPT, name));
                suspect.to(line + 1).saw(&file.path, param.line(), say!(PARAMETER, name));
            }
        }
    }
}

/// The line on which a function keeps what came in under this name as a field that is read nowhere.
fn kept_in_vain(query: &Query<'_>, function: At<'_>, name: &str) -> Option<u32> {
    let field = function.whole().find(|n| {
        n.is(Kind::Field)
            && n.defines() == Some(How::Assigned)
            && n.assigned_value().is_some_and(|v| v.is(Kind::Name) && v.is_called(name))
    })?;
    let read = |(_, n): (&FileFacts, At<'_>)| n.is(Kind::Field) && n.defines().is_none();
    (!query.named(field.text()?).any(read)).then(|| field.line())
}

/// A constructor takes what bears the name of one of its class's fields, never reads it, and
/// nothing else fills that field.
fn never_read(query: &Query<'_>, seen: &mut Seen) {
    let same = |a: &str, b: &str| a.trim_matches('_').eq_ignore_ascii_case(b.trim_matches('_'));
    for file in query.scope.iter().filter(|f| f.language.is_code()) {
        for function in file.tree.all().filter(|n| n.is(Kind::Func) && n.has(Flag::Constructor)) {
            let (Some(class), Some(block)) = (function.class(), function.part(Kind::Block)) else {
                continue;
            };
            for param in function.params() {
                let Some(name) = param.text().filter(|t| !matches!(*t, "self" | "this")) else {
                    continue;
                };
                let read = function.whole().any(|n| n.is(Kind::Name) && n.is_called(name));
                let member = |n: &At<'_>| {
                    n.defines().is_some()
                        && n.function().is_none()
                        && n.parent().and_then(At::parent).is_some_and(|p| p.has(Flag::Member))
                };
                let Some(field) =
                    class.whole().filter(|n| n.text().is_some_and(|t| same(t, name))).find(member)
                else {
                    continue;
                };
                let filled = class.whole().any(|n| {
                    n.text().is_some_and(|t| same(t, name))
                        && n.defines() == Some(How::Assigned)
                        && n.assigned_value().is_some()
                        && n.function().is_some()
                });
                if read || filled {
                    continue;
                }
                let kept = |word: &str| {
                    block
                        .whole()
                        .find(|n| n.defines().is_some() && n.text().is_some_and(|t| same(t, word)))
                        .map(At::line)
                };
                let before =
                    function.params().take_while(|p| *p != param).filter_map(At::text).last();
                let last = block.children().last().map_or(block.line(), At::last_line);
                let line = before.and_then(kept).unwrap_or(last);
                let field_name = field.text().unwrap_or(name);
                let about = query
                    .subject_names()
                    .iter()
                    .chain(query.asked.as_deref().iter())
                    .any(|n| same(n, name))
                    || query.says(name);
                let strength = if about { Strength::Plain } else { Strength::Fair };
                let reason = say!(TAKEN_NEVER_READ, name, field = field_name);
                let suspect = seen.suspect(&file.path, line, strength, reason);
                suspect.to(line + 1).saw(
                    &file.path,
                    field.line(),
                    say!(NOTHING_FILLS, name = field_name),
                );
            }
        }
    }
}

/// A variable that a function reads and writes and that nothing declares: its first line is
/// missing.
fn undeclared(query: &Query<'_>, seen: &mut Seen) {
    let (Some(name), Some(step)) = (query.asked.as_deref(), query.steps.first()) else { return };
    let unset = query.family() == Family::NameNotThere
        || query.said.contains("UnboundLocalError")
        || query.said.contains("local variable");
    if !unset || !name.starts_with(|c: char| c.is_lowercase()) {
        return;
    }
    // Counting on is no making, and neither is giving a value where a compiler wants a declaration.
    let counts_on = |n: At<'_>| {
        n.parent().and_then(At::parent).is_some_and(|a| {
            a.has(Flag::Augmented) || step.file.language.checked && !a.has(Flag::Local)
        })
    };
    if step.file.tree.named(name).any(|n| {
        n.defines().is_some_and(|how| how != How::Assigned)
            || n.defines().is_some() && n.is(Kind::Name) && !counts_on(n)
    }) {
        return;
    }
    let uses: Vec<At<'_>> = step
        .file
        .tree
        .named(name)
        .filter(|n| n.is(Kind::Name) && n.function() == step.function)
        .collect();
    let Some(first) = uses.first().filter(|_| uses.len() >= 2) else { return };
    // The step of the function's own block that reads it first; a loop is begun above it.
    let block = match step.function {
        Some(function) => function.part(Kind::Block),
        None => step.file.tree.root(),
    };
    let Some(begin) = first.ancestors().find(|a| a.parent() == block && block.is_some()) else {
        return;
    };
    let line = begin.line().saturating_sub(1).max(1);
    let reason = say!(FIRST_VALUE_MISSING, name, line = begin.line());
    let suspect = seen.suspect(&step.file.path, line, Strength::Strong, reason);
    suspect.to(begin.line());
    for one in uses.iter().take(3) {
        suspect.saw(&step.file.path, one.line(), Saying::quote(name));
    }
}
