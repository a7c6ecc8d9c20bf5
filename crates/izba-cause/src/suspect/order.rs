//! order: what gives the value stands there, and runs too late.

use super::check::{Check, Seen, Strength};
use super::query::Query;
use super::symbols::BEGINNINGS;
use crate::seen::VALUE_HERE;
use izba_model::Family;
use izba_model::claim::{Evidence, Verdict};
use izba_model::code::{At, Datum, FileFacts, Flag, How, Kind, Role};
use izba_model::{say, sayings};

sayings! {
    "order", Absence, "../../words/suspects/order.toml";
    AFTER_NEED = "after-need",
    RUNS_FIRST = "runs-first",
    CALLED_AFTER_NEED = "called-after-need",
    PUT_IN_AFTER = "put-in-after",
    NOTHING_BELOW = "nothing-below",
    TOO_LATE = "too-late",
    CALL_MISSING = "call-missing",
    MADE_AND_UNUSED = "made-and-unused",
    BEGINS_LATER = "begins-later",
    BEGINS_FIRST = "begins-first",
}

/// The check for this: what gives the value stands there, and runs too late.
pub static CHECK: Check = Check {
    id: "order",
    kinds: KINDS,
    applies: |query| {
        query.file.is_some_and(|f| !super::raises::raises(f, query.line))
            && !super::need::met_values(query)
            && matches!(
                query.family(),
                Family::ValueNotThere
                    | Family::NameNotThere
                    | Family::OutOfRange
                    | Family::WrongKind
                    | Family::Other
            )
    },
    look,
};

/// Whether the name that is not there stands alone on the line, and is asked of nothing.
fn asks_alone(query: &Query<'_>) -> bool {
    let Some(asked) = query.asked.as_deref() else { return false };
    let mut said = query.on_line().filter(|n| n.is_called(asked)).peekable();
    said.peek().is_some() && said.all(|n| n.is(Kind::Name))
}

fn look(query: &Query<'_>, seen: &mut Seen) {
    let mut names: Vec<&str> = query.subject_names();
    names.extend(query.asked.as_deref());
    // What the values on the way are called, since the reported name is often that of a parameter.
    let slice: Vec<&str> = query
        .slice
        .iter()
        .filter(|m| m.weight > 0.45)
        .filter_map(|m| m.node)
        .filter(|n| matches!(n.kind(), Kind::Name | Kind::Field))
        .filter_map(At::text)
        .collect();
    // Where keys are no members, setting a member gives no entry.
    let by_key = query.said.contains("KeyError");
    let mut found = false;
    for (depth, step) in query.steps.iter().enumerate().take(12) {
        let end = step.function.map_or(u32::MAX, At::last_line);
        let inside = |n: At<'_>| n.function() == step.function;
        // All that a script makes comes after what it brings in: where that needs it, they need one
        // another, which is told as a ring.
        if depth > 0 && step.file.tree.on_line(step.line).any(|n| n.is(Kind::Import)) {
            continue;
        }
        for node in
            step.file.tree.all().filter(|n| n.line() > step.line && n.line() <= end && inside(*n))
        {
            // Where a name alone is not known, setting a member called so makes none; and where keys
            // are no members, setting one gives no entry.
            let member = node.is(Kind::Field) && !step.file.language.fields_are_bare;
            let other_kind = by_key || query.family() == Family::NameNotThere && asks_alone(query);
            match node.defines() {
                Some(How::Assigned | How::Class | How::Function) if !(member && other_kind) => {
                    let Some(name) = node.text() else { continue };
                    let direct = names.contains(&name);
                    // Of what lies further back only what the step itself reads.
                    let read_by_step = || {
                        step.file
                            .tree
                            .named(name)
                            .any(|n| n.line() == step.line && n.defines().is_none())
                    };
                    if !(direct || slice.contains(&name) && read_by_step()) {
                        continue;
                    }
                    // The reading line has to read it before: by name in the same function, or as a
                    // field anywhere. So may what it calls: the steps further in have run before
                    // the line below it. A variable of the step's own function is not seen there,
                    // and a field is no variable.
                    let everybodys = node.is(Kind::Field)
                        || step.function.is_none_or(|f| {
                            outlives(node, f) && !step.file.language.declares_by_assigning
                        });
                    let reads = |n: At<'_>, line: u32| {
                        n.line() == line
                            && n.defines().is_none()
                            && n.is(Kind::Field) == node.is(Kind::Field)
                    };
                    let by_inner = || {
                        everybodys
                            && query.steps[..depth]
                                .iter()
                                .any(|s| s.file.tree.named(name).any(|n| reads(n, s.line)))
                    };
                    let read_before = step.file.tree.named(name).any(|n| {
                        n.line() <= step.line
                            && n.defines().is_none()
                            && (inside(n) || n.is(Kind::Field))
                    }) || by_inner();
                    let given_before = step.file.tree.named(name).any(|n| {
                        n.defines().is_some_and(|h| h != How::Key)
                            && n.line() <= step.line
                            && (n.function() == step.function)
                            && !n.is_bare()
                    });
                    if given_before && !node.is(Kind::Field)
                        || node
                            .parent()
                            .and_then(At::parent)
                            .is_some_and(|p| p.has(Flag::Augmented))
                    {
                        continue;
                    }
                    if !read_before && !node.is(Kind::Field) {
                        continue;
                    }
                    // Set to nothing it is no value that comes too late.
                    if node.assigned_value().is_some_and(|v| v.is(Kind::Nil)) || given_before {
                        continue;
                    }
                    let strength = if direct { Strength::Plain } else { Strength::Strong };
                    let reason = say!(AFTER_NEED, name, line = step.line);
                    let suspect = seen.suspect(&step.file.path, node.line(), strength, reason);
                    suspect.saw(&step.file.path, step.line, say!(RUNS_FIRST));
                    found = true;
                }
                _ if node.is(Kind::Call) && node.step() == node
                    || node.is(Kind::Call) && node.parent().is_some_and(|p| p.is(Kind::Values)) =>
                {
                    // A call further down that would have set it.
                    let Some(function) = node.last_name().and_then(|n| called(query, n)) else {
                        continue;
                    };
                    let sets = sets(query, function, &names, &slice, 2).filter(|_| !by_key);
                    let Some((home, sets)) = sets else {
                        continue;
                    };
                    // Called before too, it is not too late.
                    let before = step.file.tree.named(node.last_name().unwrap_or("")).any(|n| {
                        n.line() <= step.line
                            && inside(n)
                            && n.parent().is_some_and(|p| p.is(Kind::Call))
                    });
                    let name = sets.text().unwrap_or_default();
                    if before
                        || step.function.is_none() && query.steps.len() == 1 && sets.is(Kind::Name)
                    {
                        continue;
                    }
                    let reason = say!(
                        CALLED_AFTER_NEED,
                        function = node.last_name().unwrap_or_default(),
                        name,
                        line = step.line
                    );
                    let suspect =
                        seen.suspect(&step.file.path, node.line(), Strength::Strong, reason);
                    suspect.saw(&home.path, sets.line(), say!(VALUE_HERE, name)).saw(
                        &step.file.path,
                        step.line,
                        say!(RUNS_FIRST),
                    );
                    found = true;
                }
                _ => {}
            }
        }
    }
    found |= made_later(query, seen);
    found |= never_called(query, &names, seen);
    // A key that is put in by the same function further down.
    if let (Some(file), Some(asked)) = (query.file, &query.asked) {
        let function = query.steps.first().and_then(|s| s.function);
        for text in file
            .tree
            .named(asked)
            .filter(|n| n.is(Kind::Str) && n.line() > query.line && n.function() == function)
        {
            let target = text
                .parent()
                .filter(|p| p.is(Kind::Index) && p.parent().is_some_and(|t| t.is(Kind::Targets)));
            if target.is_some() {
                let suspect = seen.suspect(
                    &file.path,
                    text.line(),
                    Strength::Plain,
                    say!(PUT_IN_AFTER, name = asked, line = query.line),
                );
                suspect.saw(&file.path, query.line, say!(RUNS_FIRST));
                found = true;
            }
        }
    }
    if !found
        && query.path().is_some()
        && query.family() == Family::ValueNotThere
        && !query.steps.is_empty()
    {
        let evidence: Vec<Evidence> = query
            .steps
            .iter()
            .take(4)
            .map(|s| Evidence { file: s.file.path.clone(), line: s.line, saw: say!(NOTHING_BELOW) })
            .collect();
        seen.reason(Verdict::RuledOut, say!(TOO_LATE), evidence);
    }
}

/// Where a function, or one that it calls, gives one of these names a value that is still there
/// afterwards. Of what lies further back on the trail only variables that belong to everybody
/// count.
fn sets<'a>(
    query: &Query<'a>,
    of: (&'a FileFacts, At<'a>),
    names: &[&str],
    slice: &[&str],
    deep: u32,
) -> Option<(&'a FileFacts, At<'a>)> {
    let (file, function) = of;
    let gives = |n: &At<'a>| {
        let lasting = n.is(Kind::Field)
            || n.is(Kind::Name) && outlives(*n, function) && !file.language.declares_by_assigning;
        let asked = |t: &str| names.contains(&t) || n.is(Kind::Name) && slice.contains(&t);
        n.defines() == Some(How::Assigned)
            && lasting
            && n.text().is_some_and(asked)
            && n.assigned_value().is_none_or(|v| !v.is(Kind::Nil))
    };
    let filled = |n: &At<'a>| {
        let called = n.child(0).filter(|c| {
            n.is(Kind::Call)
                && c.is(Kind::Field)
                && matches!(c.text(), Some("push" | "append" | "add" | "put" | "set" | "Add"))
        });
        let list = called.and_then(|c| c.child(0)).filter(|l| l.is(Kind::Field));
        list.is_some_and(|l| l.text().is_some_and(|t| names.contains(&t) || slice.contains(&t)))
    };
    if let Some(found) = function.whole().find(filled).and_then(|n| n.child(0)?.child(0)) {
        return Some((file, found));
    }
    if let Some(found) = function.whole().find(gives) {
        return Some((file, found));
    }
    let inner = function.whole().filter(|n| n.is(Kind::Call) && deep > 0).filter_map(At::last_name);
    inner
        .filter_map(|name| called(query, name))
        .filter(|(_, f)| *f != function)
        .find_map(|f| sets(query, f, names, slice, deep - 1))
}

/// A function that gives the value, and that nobody calls: its call is missing above the line where
/// the program began.
fn never_called(query: &Query<'_>, names: &[&str], seen: &mut Seen) -> bool {
    let Some(begin) =
        query.steps.iter().rev().find(|s| s.function.is_none()).or(query.steps.last())
    else {
        return false;
    };
    let mut any = false;
    for file in query.scope.iter().filter(|f| f.language.is_code()) {
        for function in file
            .tree
            .all()
            .filter(|n| n.is(Kind::Func) && !n.has(Flag::Method) && !n.has(Flag::Constructor))
        {
            let Some(name) =
                function.text().filter(|n| query.symbols.count(n) == 1 && !BEGINNINGS.contains(n))
            else {
                continue;
            };
            if function.line() <= begin.line && function.last_line() >= begin.line {
                continue;
            }
            let key = |n: &At<'_>| {
                n.is(Kind::Index)
                    && n.parent().is_some_and(|p| p.is(Kind::Targets))
                    && n.child(1).is_some_and(|k| {
                        query.asked.is_some() && k.text() == query.asked.as_deref()
                    })
            };
            let given = function
                .whole()
                .find(key)
                .or_else(|| sets(query, (file, function), names, &[], 0).map(|(_, n)| n));
            let Some(given) = given else { continue };
            let what = query
                .asked
                .as_deref()
                .filter(|_| given.is(Kind::Index))
                .or(given.text())
                .unwrap_or_default();
            let reason = say!(CALL_MISSING, function = name, name = what);
            let suspect = seen.suspect(
                &begin.file.path,
                begin.line.saturating_sub(1).max(1),
                Strength::Strong,
                reason,
            );
            suspect.to(begin.line).saw(&file.path, given.line(), say!(VALUE_HERE, name = what));
            suspect.saw(&file.path, function.line(), say!(MADE_AND_UNUSED, name));
            any = true;
        }
    }
    any
}

/// Of two parts that begin in the order in which a list of data names them, the one that gives the
/// value begins later.
fn made_later(query: &Query<'_>, seen: &mut Seen) -> bool {
    let Some(step) = query.steps.first() else { return false };
    let Some(begins) = step.function.and_then(At::text) else { return false };
    let names = query.subject_names();
    let makers = query.scope.iter().filter(|f| f.path != step.file.path).flat_map(|f| {
        let fields = names.iter().flat_map(move |name| f.tree.named(name));
        fields
            .filter(|n| {
                n.is(Kind::Field)
                    && n.defines() == Some(How::Assigned)
                    && n.function().and_then(At::text) == Some(begins)
            })
            .map(move |n| (*f, n))
    });
    let mut any = false;
    for (maker, node) in makers {
        let names_file = |d: &Datum, f: &FileFacts| {
            d.role == Role::Value
                && (d.text.rsplit('/').next() == Some(f.name()) || d.text.as_ref() == f.stem())
        };
        for data in query.scope.iter().filter(|f| !f.data.is_empty()) {
            let reader = data.data.iter().find(|d| names_file(d, step.file));
            let later = data.data.iter().find(|d| names_file(d, maker));
            let (Some(reader), Some(later)) = (reader, later) else { continue };
            if later.record <= reader.record || later.path != reader.path {
                continue;
            }
            let name = node.text().unwrap_or_default();
            let reason = say!(
                BEGINS_LATER,
                maker = maker.name(),
                name,
                function = begins,
                reader = step.file.name()
            );
            let suspect = seen.suspect(&data.path, later.line, Strength::Strong, reason);
            suspect.saw(&data.path, reader.line, say!(BEGINS_FIRST, file = step.file.name()));
            suspect.saw(&maker.path, node.line(), say!(VALUE_HERE, name));
            any = true;
        }
    }
    any
}

/// Whether a variable that a function sets is still there when it has ended.
fn outlives(target: At<'_>, function: At<'_>) -> bool {
    let local = target.parent().and_then(At::parent).is_some_and(|a| a.has(Flag::Local));
    let removed = function.params().any(|p| p.text() == target.text());
    // Lua's and JavaScript's undeclared variables are everybody's; Python's are the function's own.
    !local
        && !removed
        && !function.whole().any(|n| {
            n.defines() == Some(How::Assigned)
                && n.text() == target.text()
                && n.parent().and_then(At::parent).is_some_and(|a| a.has(Flag::Local))
        })
}

fn called<'a>(query: &Query<'a>, name: &str) -> Option<(&'a FileFacts, At<'a>)> {
    let mut found = query.named(name).filter(|(_, n)| n.is(Kind::Func));
    let first = found.next();
    // Of several that are called so, none is sure.
    if found.next().is_some() { None } else { first }
}
