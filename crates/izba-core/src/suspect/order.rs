//! order: what gives the value stands there, and runs too late.

use super::{Ask, Check, Evidence, Seen, Verdict};
use crate::code::{At, Datum, FileFacts, How, Kind, Role};

/// The check.
pub static CHECK: Check = Check {
    id: "order",
    applies: |ask| {
        ask.file.is_some_and(|f| !super::raised::raises(f, ask.line))
            && matches!(ask.family(), "value-not-there" | "name-not-there" | "out-of-range" | "wrong-kind" | "other")
    },
    look,
};

fn look(ask: &Ask<'_>, seen: &mut Seen) {
    let mut names: Vec<&str> = ask.subject_names();
    names.extend(ask.asked.as_deref());
    // What the values on the way are called, since the reported name is often that of a parameter.
    let trail: Vec<&str> = ask
        .trail
        .iter()
        .filter(|m| m.weight > 0.45)
        .filter_map(|m| m.node)
        .filter(|n| matches!(n.kind(), Kind::Name | Kind::Field))
        .filter_map(At::text)
        .collect();
    let mut found = false;
    for (depth, step) in ask.steps.iter().enumerate().take(12) {
        let end = step.function.map_or(u32::MAX, At::last_line);
        let inside = |n: At<'_>| n.function() == step.function;
        let weight = 1.0 - 0.03 * depth as f32;
        for node in step.file.tree.all().filter(|n| n.line() > step.line && n.line() <= end && inside(*n)) {
            match node.makes() {
                Some(How::Assigned | How::Class | How::Function) => {
                    let Some(name) = node.text() else { continue };
                    let direct = names.contains(&name);
                    // Of what lies further back only what the step itself reads.
                    let read_by_step = || step.file.tree.named(name).any(|n| n.line() == step.line && n.makes().is_none());
                    if !(direct || trail.contains(&name) && read_by_step()) {
                        continue;
                    }
                    // The reading line has to read it before: by name in the same function, or as a field anywhere.
                    // So may what it calls: the steps further in have run before the line below it.
                    let by_inner = || ask.steps[..depth].iter().any(|s| s.file.tree.named(name).any(|n| n.line() == s.line && n.makes().is_none()));
                    let read_before =
                        step.file.tree.named(name).any(|n| n.line() <= step.line && n.makes().is_none() && (inside(n) || n.is(Kind::Field)))
                            || by_inner();
                    let given_before = step.file.tree.named(name).any(|n| {
                        n.makes().is_some_and(|h| h != How::Key) && n.line() <= step.line && (n.function() == step.function) && !n.is_bare()
                    });
                    if given_before && !node.is(Kind::Field)
                        || node.parent().and_then(At::parent).is_some_and(|p| p.has(crate::code::Flag::Augmented))
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
                    let strength = if direct { 0.86 } else { 0.74 };
                    let reason = format!("{name} gets its value here, after line {} of the same way has needed it", step.line);
                    let suspect = seen.suspect(&step.file.path, node.line(), strength * weight, reason);
                    suspect.saw(&step.file.path, step.line, "this runs first");
                    found = true;
                }
                _ if node.is(Kind::Call) && node.step() == node || node.is(Kind::Call) && node.parent().is_some_and(|p| p.is(Kind::Values)) => {
                    // A call further down that would have set it.
                    let Some(function) = node.last_name().and_then(|n| called(ask, n)) else { continue };
                    let sets = function.1.whole().find(|n| {
                        n.makes() == Some(How::Assigned)
                            && (n.is(Kind::Field) || n.is(Kind::Name) && outlives(*n, function.1))
                            && n.text().is_some_and(|t| names.contains(&t))
                            && n.assigned_value().is_none_or(|v| !v.is(Kind::Nil))
                    });
                    let Some(sets) = sets else { continue };
                    // Called before too, it is not too late.
                    let before = step
                        .file
                        .tree
                        .named(node.last_name().unwrap_or(""))
                        .any(|n| n.line() <= step.line && inside(n) && n.parent().is_some_and(|p| p.is(Kind::Call)));
                    let name = sets.text().unwrap_or_default();
                    if before || step.function.is_none() && ask.steps.len() == 1 && sets.is(Kind::Name) {
                        continue;
                    }
                    let reason = format!(
                        "{} gives {name} its value, and is called only here, after line {} has needed it",
                        node.last_name().unwrap_or_default(),
                        step.line
                    );
                    let suspect = seen.suspect(&step.file.path, node.line(), 0.8 * weight, reason);
                    suspect.saw(&function.0.path, sets.line(), format!("{name} gets its value here")).saw(
                        &step.file.path,
                        step.line,
                        "this runs first",
                    );
                    found = true;
                }
                _ => {}
            }
        }
    }
    found |= made_later(ask, seen);
    // A key that is put in by the same function further down.
    if let (Some(file), Some(asked)) = (ask.file, &ask.asked) {
        let function = ask.steps.first().and_then(|s| s.function);
        for text in file.tree.named(asked).filter(|n| n.is(Kind::Str) && n.line() > ask.line && n.function() == function) {
            let target = text.parent().filter(|p| p.is(Kind::Index) && p.parent().is_some_and(|t| t.is(Kind::Targets)));
            if target.is_some() {
                let suspect =
                    seen.suspect(&file.path, text.line(), 0.85, format!("{asked} is put in only here, after line {} has looked for it", ask.line));
                suspect.saw(&file.path, ask.line, "this runs first");
                found = true;
            }
        }
    }
    if !found && ask.path().is_some() && ask.family() == "value-not-there" && !ask.steps.is_empty() {
        let evidence: Vec<Evidence> = ask
            .steps
            .iter()
            .take(4)
            .map(|s| Evidence { file: s.file.path.clone(), line: s.line, saw: "nothing below this step gives it a value".to_owned() })
            .collect();
        seen.reason(Verdict::RuledOut, "the value comes too late: it is set further down the way that was running", evidence);
    }
}

/// Of two parts that begin in the order in which a list of data names them, the one that gives the value begins later.
fn made_later(ask: &Ask<'_>, seen: &mut Seen) -> bool {
    let Some(step) = ask.steps.first() else { return false };
    let Some(begins) = step.function.and_then(At::text) else { return false };
    let names = ask.subject_names();
    let makers = ask.scope.iter().filter(|f| f.path != step.file.path).flat_map(|f| {
        let fields = names.iter().flat_map(move |name| f.tree.named(name));
        fields
            .filter(|n| n.is(Kind::Field) && n.makes() == Some(How::Assigned) && n.function().and_then(At::text) == Some(begins))
            .map(move |n| (*f, n))
    });
    let mut any = false;
    for (maker, node) in makers {
        let names_file =
            |d: &Datum, f: &FileFacts| d.role == Role::Value && (d.text.rsplit('/').next() == Some(f.name()) || d.text.as_ref() == f.stem());
        for data in ask.scope.iter().filter(|f| !f.data.is_empty()) {
            let reader = data.data.iter().find(|d| names_file(d, step.file));
            let later = data.data.iter().find(|d| names_file(d, maker));
            let (Some(reader), Some(later)) = (reader, later) else { continue };
            if later.record <= reader.record || later.path != reader.path {
                continue;
            }
            let name = node.text().unwrap_or_default();
            let reason =
                format!("{} gives {name} its value in {begins}, and stands here after {}, whose {begins} needs it", maker.name(), step.file.name());
            let suspect = seen.suspect(&data.path, later.line, 0.84, reason);
            suspect.saw(&data.path, reader.line, format!("{} begins first", step.file.name()));
            suspect.saw(&maker.path, node.line(), format!("{name} gets its value here"));
            any = true;
        }
    }
    any
}

/// Whether a variable that a function sets is still there when it has ended.
fn outlives(target: At<'_>, function: At<'_>) -> bool {
    let local = target.parent().and_then(At::parent).is_some_and(|a| a.has(crate::code::Flag::Local));
    let taken = function.params().any(|p| p.text() == target.text());
    // Lua's and JavaScript's undeclared variables are everybody's; Python's are the function's own.
    !local
        && !taken
        && !function.whole().any(|n| {
            n.makes() == Some(How::Assigned)
                && n.text() == target.text()
                && n.parent().and_then(At::parent).is_some_and(|a| a.has(crate::code::Flag::Local))
        })
}

fn called<'a>(ask: &Ask<'a>, name: &str) -> Option<(&'a FileFacts, At<'a>)> {
    let mut found = ask.scope.iter().flat_map(|f| f.tree.named(name).map(move |n| (*f, n))).filter(|(_, n)| n.is(Kind::Func));
    let first = found.next();
    // Of several that are called so, none is sure.
    if found.next().is_some() { None } else { first }
}
