//! idioms: code that reads well and cannot be meant so, in whatever program it stands: a function
//! that is named and not called, a promise that is not waited for, a loop that moves another
//! counter.

use super::check::{Check, Seen, Strength};
use super::flow::bindings;
use super::query::Query;
use izba_model::claim::Saying;
use izba_model::code::{At, FileFacts, Flag, How, Kind};
use izba_model::dialect::HandsOut;
use izba_model::{Family, say, sayings};

sayings! {
    "idioms", Any, "../../words/suspects/idioms.toml";
    NOT_CALLED = "not-called",
    NOT_CALLED_VALUE = "not-called-value",
    NOT_AWAITED = "not-awaited",
    OTHER_COUNTER = "other-counter",
    NO_START = "no-start",
    SHARED_COUNTER = "shared-counter",
    BY_IDENTITY = "by-identity",
    DOT_FOR_COLON = "dot-for-colon",
    USED_ONCE = "used-once",
    NEVER_RUNS = "never-runs",
    BY_NAME = "by-name",
    NUMBER_AS_ENTRY = "number-as-entry",
    EXPORTS_ALONE = "exports-alone",
    KEYS_OF_LIST = "keys-of-list",
    MADE_INSIDE = "made-inside",
}

/// The check for this: code that reads well and cannot be meant so.
pub static CHECK: Check = Check {
    id: "idioms",
    kinds: KINDS,
    applies: |query| query.file.is_some() && query.family() != Family::DoesNotParse,
    look,
};

/// One slip: where, and what is said of it.
pub(crate) struct Slip<'a> {
    pub(crate) at: At<'a>,
    pub(crate) says: Saying,
}

fn look(query: &Query<'_>, seen: &mut Seen) {
    for file in query.scope.iter().filter(|f| f.language.is_code() && !f.broken) {
        let mut slips = Vec::new();
        in_file(query, file, &mut slips);
        for slip in slips {
            let near = query.relevance(file, slip.at.line()) > 0.2
                || slip.at.function().is_some_and(|f| {
                    query.steps.iter().any(|s| s.function == Some(f) && s.file.path == file.path)
                });
            let strength = if near { Strength::Plain } else { Strength::Fair };
            seen.suspect(&file.path, slip.at.line(), strength, slip.says);
        }
    }
}

fn in_file<'a>(query: &Query<'a>, file: &'a FileFacts, slips: &mut Vec<Slip<'a>>) {
    for node in file.tree.all() {
        let found = match node.kind() {
            Kind::Name => made_inside(query, file, node).or_else(|| not_called(query, file, node)),
            Kind::Field => by_name(query, file, node)
                .or_else(|| not_called(query, file, node))
                .or_else(|| not_called_value(query, file, node)),
            Kind::For => other_counter(node)
                .or_else(|| shared_counter(file, node))
                .or_else(|| never_runs(file, node)),
            Kind::Call => no_start(node)
                .or_else(|| dot_for_colon(file, node))
                .or_else(|| not_awaited(query, file, node)),
            Kind::Import => import_not_awaited(file, node),
            Kind::Bin => by_identity(query, file, node),
            Kind::Assign => used_once(file, node).or_else(|| exports_alone(file, node)),
            Kind::Func => number_as_entry(file, node),
            Kind::ForIn => keys_of_list(file, node),
            _ => None,
        };
        slips.extend(found);
    }
}

/// A step that only names a function.
fn not_called<'a>(query: &Query<'a>, file: &FileFacts, node: At<'a>) -> Option<Slip<'a>> {
    let step = node.parent().is_some_and(|p| matches!(p.kind(), Kind::Block | Kind::File));
    let name = node.text().filter(|_| step)?;
    // The last expression of a function without a return is what it gives, in some languages.
    let made =
        query.symbols.occurrences(name).iter().filter_map(|s| s.node).any(|n| n.is(Kind::Func));
    let alone = file.line(node.line())?.trim().trim_end_matches(';').ends_with(name);
    (made && alone).then(|| Slip { at: node, says: say!(NOT_CALLED, name) })
}

/// A method of the project that is given back or kept where only what it gives makes sense.
fn not_called_value<'a>(query: &Query<'a>, file: &FileFacts, node: At<'a>) -> Option<Slip<'a>> {
    let name = node.text().filter(|_| node.is(Kind::Field))?;
    let parent = node.parent()?;
    // `r.slice` given back by a function that is handed over: a member of the language's texts and
    // lists is no value of its own.
    let of_language = matches!(
        name,
        "slice"
            | "trim"
            | "toUpperCase"
            | "toLowerCase"
            | "split"
            | "join"
            | "strip"
            | "upper"
            | "lower"
            | "toFixed"
            | "toString"
            | "items"
            | "keys"
            | "values"
            | "copy"
            | "reverse"
            | "push"
            | "append"
    ) && file.language.hands_out != Some(HandsOut::Globals)
        && !query.symbols.is_made(name);
    let given = matches!(parent.kind(), Kind::Return)
        || parent.is(Kind::Field)
            && parent.child(0) == Some(node)
            && !matches!(
                parent.text(),
                Some(
                    "call"
                        | "apply"
                        | "bind"
                        | "name"
                        | "length"
                        | "prototype"
                        | "get"
                        | "has"
                        | "size"
                        | "delete"
                        | "forEach"
                )
            );
    (of_language && given && !is_data(query, name))
        .then(|| Slip { at: node, says: say!(NOT_CALLED_VALUE, name) })
}

/// Whether data has keys of this name.
fn is_data(query: &Query<'_>, name: &str) -> bool {
    query.symbols.occurrences(name).iter().any(|s| s.node.is_none())
}

/// `for (x = 0; x < w; y++)`: the step moves another variable than the one that is tested.
fn other_counter(node: At<'_>) -> Option<Slip<'_>> {
    let own = node.part(Kind::Targets)?.child(0)?.text()?;
    let moved = node
        .children()
        .skip(1)
        .filter(|c| matches!(c.kind(), Kind::Assign))
        .filter_map(|c| c.part(Kind::Targets)?.child(0)?.text())
        .last()?;
    if moved == own {
        return None;
    }
    // What the body itself moves is meant so.
    let in_body = node
        .part(Kind::Block)?
        .whole()
        .any(|n| n.is(Kind::Targets) && n.children().any(|t| t.is_called(own)));
    (!in_body).then(|| Slip { at: node, says: say!(OTHER_COUNTER, name = moved, own) })
}

/// `var i` of a loop, read by a function that is made in the loop and runs later.
fn shared_counter<'a>(file: &FileFacts, node: At<'a>) -> Option<Slip<'a>> {
    let own = node.part(Kind::Targets)?.child(0)?;
    let name = own.text()?;
    let head = file.text.get(node.span().0..own.span().0)?;
    if !head.trim_end().ends_with("var") {
        return None;
    }
    let read = node.part(Kind::Block)?.whole().find(|n| {
        n.is(Kind::Name)
            && n.is_called(name)
            && n.defines().is_none()
            && n.function().is_some_and(|f| f.span().0 > node.span().0 && runs_later(f))
    })?;
    Some(Slip { at: read.function().unwrap_or(read), says: say!(SHARED_COUNTER, name) })
}

/// Whether a function is handed to something that calls it when the loop is over.
fn runs_later(function: At<'_>) -> bool {
    function.parent().is_some_and(|p| {
        p.is(Kind::Call)
            && p.last_name().is_some_and(|n| {
                matches!(
                    n,
                    "then"
                        | "setTimeout"
                        | "setInterval"
                        | "on"
                        | "once"
                        | "addEventListener"
                        | "nextTick"
                )
            })
    })
}

/// `reduce` that adds a field of each entry, without a first value.
fn no_start(node: At<'_>) -> Option<Slip<'_>> {
    let one = node.arguments().count() == 1;
    let reduces = node.child(0).is_some_and(|c| c.is(Kind::Field) && c.is_called("reduce"));
    let function = node.arguments().next().filter(|f| one && reduces && f.is(Kind::Func))?;
    let entry = function.params().nth(1)?.text()?;
    let sum = function.params().next()?.text()?;
    let field = function
        .whole()
        .any(|n| n.is(Kind::Field) && n.child(0).is_some_and(|o| o.is_called(entry)));
    let as_number = function
        .whole()
        .any(|n| n.is(Kind::Bin) && n.children().any(|c| c.is(Kind::Name) && c.is_called(sum)));
    (field && as_number).then(|| Slip { at: node, says: say!(NO_START) })
}

/// A function of Lua's texts that is called with a dot, so that it does not get its text.
fn dot_for_colon<'a>(file: &FileFacts, node: At<'a>) -> Option<Slip<'a>> {
    file.language.method_sign.as_ref()?;
    let called = node.child(0).filter(|c| c.is(Kind::Field) && !c.has(Flag::Method))?;
    let name = called.text().filter(|n| {
        matches!(
            *n,
            "sub" | "gsub" | "match" | "gmatch" | "find" | "rep" | "upper" | "lower" | "byte"
        )
    })?;
    let owner = called.child(0).filter(|o| o.is(Kind::Name))?;
    let own = bindings(file, owner, owner.text()?);
    let variable = own.iter().any(|b| matches!(b.defines(), Some(How::Loop | How::Parameter)))
        || own.iter().any(|b| {
            b.assigned_value().is_some_and(|v| {
                !matches!(v.kind(), Kind::Import | Kind::Table) && v.last_name() != Some("string")
            })
        });
    // Handed over by hand it is there.
    let by_hand = node.arguments().next().is_some_and(|a| a.last_name() == owner.text());
    (variable && !by_hand).then(|| Slip { at: node, says: say!(DOT_FOR_COLON, name) })
}

/// A function that waits itself is called, and the caller goes on without waiting, with what it
/// gives.
fn not_awaited<'a>(query: &Query<'a>, file: &'a FileFacts, node: At<'a>) -> Option<Slip<'a>> {
    let name = node.last_name()?;
    let own = || {
        let mut occurrences = query.symbols.occurrences(name).iter();
        occurrences.any(|s| {
            let waits = |n: At<'_>| is_async(s.file, n) || gives_what_waits(query, s.file, n);
            s.node.and_then(At::made_function).is_some_and(waits)
        })
    };
    // A step by itself, after which what it fills in the end is read at once.
    let step = node.parent().is_some_and(|p| matches!(p.kind(), Kind::Block | Kind::File));
    if step
        && query.symbols.is_made(name)
        && !is_awaited(file, node)
        && fills_late(query, file, node)
    {
        return Some(Slip { at: node, says: say!(NOT_AWAITED, name) });
    }
    let waits = match query.symbols.is_made(name) {
        true => own(),
        false => gives_later(file, node, name),
    };
    if !waits || is_awaited(file, node) {
        return None;
    }
    // What it gives is asked for something at once, or kept under a name that is.
    let parent = node.parent()?;
    let promise = |n: At<'a>| matches!(n.text(), Some("then" | "catch" | "finally"));
    let at_once = parent.is(Kind::Field) && parent.child(0) == Some(node) && !promise(parent)
        || parent.is(Kind::Index) && parent.child(0) == Some(node);
    let kept = || {
        let values = node.parent().filter(|p| p.is(Kind::Values))?;
        let target = values.parent()?.part(Kind::Targets)?.child(0).filter(|t| t.is(Kind::Name))?;
        let uses: Vec<At<'a>> = file
            .tree
            .named(target.text()?)
            .filter(|n| {
                n.is(Kind::Name) && n.function() == target.function() && n.line() > target.line()
            })
            .collect();
        // What is asked for a part is not given back or waited for itself.
        let of_part = |n: &At<'a>| {
            n.parent().is_some_and(|p| p.is(Kind::Field) && p.child(0) == Some(*n) && !promise(p))
        };
        let asked = uses.iter().any(of_part);
        let first = uses.iter().filter(|n| of_part(n)).map(|n| n.line()).min().unwrap_or(0);
        let awaited = uses.iter().filter(|n| !of_part(n)).any(|n| {
            // What is handed on first may be waited for there.
            let handed_on = || {
                n.parent()
                    .is_some_and(|p| p.is(Kind::Table) || p.is(Kind::Call) && is_awaited(file, p))
            };
            is_awaited(file, *n) || n.line() >= first && n.is_argument() || handed_on()
        });
        (asked && !awaited).then_some(())
    };
    // Handed to the function in which what it gives is asked for something.
    let handed = || {
        let mut around = std::iter::once(node).chain(node.ancestors().take(2));
        let argument = around.find(|n| n.is_argument())?;
        let call = argument.parent()?;
        let nth = call.arguments().position(|a| a == argument)?;
        let step = query.steps.first()?;
        let function = step.function.filter(|f| f.text() == call.last_name())?;
        let param = function.params().nth(nth).and_then(At::text)?;
        let asked = step.file.tree.on_line(step.line).any(|n| {
            n.is(Kind::Field)
                && !promise(n)
                && n.child(0).is_some_and(|o| o.is(Kind::Name) && o.is_called(param))
        });
        asked.then_some(())
    };
    (at_once || kept().is_some() || handed().is_some())
        .then(|| Slip { at: node, says: say!(NOT_AWAITED, name) })
}

/// Whether a call begins a function that waits and then fills what the error found empty, and the
/// error came in what follows the call.
fn fills_late(query: &Query<'_>, file: &FileFacts, call: At<'_>) -> bool {
    let Some(name) = call.last_name() else { return false };
    let after = query
        .steps
        .iter()
        .any(|s| s.file.path == file.path && s.function == call.function() && s.line > call.line());
    let empty = query.subject_names();
    after
        && query.symbols.occurrences(name).iter().any(|s| {
            let waiting = s.node.and_then(At::made_function).filter(|f| is_async(s.file, *f));
            waiting.is_some_and(|f| {
                f.whole().any(|n| {
                    n.defines() == Some(How::Assigned)
                        && n.text().is_some_and(|t| empty.contains(&t))
                })
            })
        })
}

/// Whether a call of the language's own gives what it gives only later.
fn gives_later(file: &FileFacts, call: At<'_>, name: &str) -> bool {
    let calls = &file.language.calls;
    let later = |n: At<'_>| {
        n.is(Kind::Call) && n.last_name().is_some_and(|n| calls.later.iter().any(|l| l == n))
    };
    let Some(owner) = call.child(0).filter(|c| c.is(Kind::Field)).and_then(|c| c.child(0)) else {
        return later(call);
    };
    // A member of what such a call gave, which was waited for itself.
    calls.later_of.iter().any(|l| l == name)
        && owner.text().is_some_and(|owner| {
            let mut given = file.tree.named(owner).filter_map(At::assigned_value);
            given.any(|value| value.whole().any(later))
        })
}

/// Whether a function is one that waits.
fn is_async(file: &FileFacts, function: At<'_>) -> bool {
    let (from, to) = function.span();
    let head = file.text.get(from..to.min(from + 60)).unwrap_or_default();
    let before = file.text.get(..from).unwrap_or_default();
    head.trim_start().starts_with("async") || before.trim_end().ends_with("async")
}

/// Whether a function does nothing but give back what one that waits gives.
fn gives_what_waits(query: &Query<'_>, file: &FileFacts, function: At<'_>) -> bool {
    let mut given =
        function.whole().filter(|n| n.is(Kind::Return) && n.function() == Some(function));
    let (Some(only), None) = (given.next(), given.next()) else { return false };
    let Some(call) = only.child(0).filter(|c| c.is(Kind::Call)) else { return false };
    let Some(name) = call.last_name().filter(|_| call.child(0).is_some_and(|c| c.is(Kind::Name)))
    else {
        return false;
    };
    let here = file.tree.named(name).filter(|n| n.is(Kind::Func)).any(|n| is_async(file, n));
    here && query.symbols.is_made(name)
}

fn is_awaited(file: &FileFacts, node: At<'_>) -> bool {
    let before = file.text.get(..node.span().0).unwrap_or_default().trim_end_matches(['(', ' ']);
    before.ends_with("await")
        || before.ends_with("return")
        || before.ends_with("=>")
        || node.parent().is_some_and(|p| p.is(Kind::Un) && p.is_called("await"))
}

/// `import()` that is not waited for.
fn import_not_awaited<'a>(file: &'a FileFacts, node: At<'a>) -> Option<Slip<'a>> {
    let text = file.text.get(node.span().0..node.span().1)?;
    let call = text.trim_start().starts_with("import(")
        && node.parent().is_some_and(|p| p.is(Kind::Values));
    (call && !is_awaited(file, node))
        .then(|| Slip { at: node, says: say!(NOT_AWAITED, name = "import") })
}

/// A variable is made inside a block, and its name is read outside of it, where there is none.
fn made_inside<'a>(query: &Query<'a>, file: &'a FileFacts, node: At<'a>) -> Option<Slip<'a>> {
    if file.language.declares_by_assigning || file.language.rough.is_some() {
        return None;
    }
    let name = node.text().filter(|_| node.defines().is_none())?;
    let block = |n: At<'a>| n.ancestors().find(|a| matches!(a.kind(), Kind::Block | Kind::File));
    let mut made = None;
    for maker in file.tree.named(name).filter(|n| n.defines().is_some()) {
        if maker.is(Kind::Field) || maker.is(Kind::Pair) {
            continue;
        }
        let declared = maker
            .parent()
            .and_then(At::parent)
            .filter(|a| a.is(Kind::Assign) && a.has(Flag::Local))
            .filter(|a| !file.text.get(..a.span().0).is_some_and(|t| t.trim_end().ends_with("var")))
            .filter(|a| !file.text.get(a.span().0..).is_some_and(|t| t.starts_with("var ")));
        let inner = block(maker).filter(|b| b.is(Kind::Block))?;
        // One that can be seen there, or is of another kind, explains it.
        if declared.is_none()
            || maker.function() != node.function()
            || node.ancestors().any(|a| a == inner)
            || inner.parent().is_some_and(|p| p.is(Kind::Func))
        {
            return None;
        }
        made.get_or_insert(maker);
    }
    let made = made?;
    // Another script may make it for all.
    let elsewhere = query.named(name).any(|(f, n)| f.path != file.path && n.defines().is_some());
    let outside = crate::suspect::is_outside_name(query.index, Some(file.language), name);
    (!elsewhere && !outside).then(|| Slip { at: made, says: say!(MADE_INSIDE, name) })
}

/// A function for each entry takes the number first: the second is asked for members.
fn number_as_entry<'a>(file: &'a FileFacts, node: At<'a>) -> Option<Slip<'a>> {
    let call = node.parent().filter(|p| {
        p.is(Kind::Call)
            && matches!(
                p.last_name(),
                Some("forEach" | "map" | "filter" | "some" | "every" | "find" | "findIndex")
            )
    })?;
    if file.language.hands_out != Some(HandsOut::Exports) || call.child(0) == Some(node) {
        return None;
    }
    let params: Vec<At<'a>> = node.params().collect();
    let [entry, number, ..] = params[..] else { return None };
    let asked = |p: At<'a>| {
        p.text().is_some_and(|name| {
            node.whole().any(|n| {
                n.is(Kind::Name)
                    && n.is_called(name)
                    && n.parent().is_some_and(|f| {
                        f.is(Kind::Field)
                            && f.child(0) == Some(n)
                            && !f.text().is_some_and(|m| m.starts_with("to"))
                    })
            })
        })
    };
    (asked(number) && !asked(entry)).then(|| Slip {
        at: node,
        says: say!(NUMBER_AS_ENTRY, name = number.text().unwrap_or_default()),
    })
}

/// `exports = X`: the name is given something, and what is handed out stays as it was.
fn exports_alone<'a>(file: &'a FileFacts, node: At<'a>) -> Option<Slip<'a>> {
    let target = node.part(Kind::Targets)?.child(0)?;
    let alone = file.language.hands_out == Some(HandsOut::Exports)
        && target.is(Kind::Name)
        && target.is_called("exports")
        && node.function().is_none()
        && !node.has(Flag::Local)
        && !file.tree.named("exports").any(|n| n.is(Kind::Field));
    alone.then(|| Slip { at: node, says: say!(EXPORTS_ALONE) })
}

/// `for (x in list)` gives keys, and what is wanted of them only entries have.
fn keys_of_list<'a>(file: &'a FileFacts, node: At<'a>) -> Option<Slip<'a>> {
    let counter = node.part(Kind::Targets)?.child(0)?;
    let through = node.child(1)?;
    let between = file.text.get(counter.span().1..through.span().0)?;
    if file.language.hands_out != Some(HandsOut::Exports) || between.trim() != "in" {
        return None;
    }
    let name = counter.text()?;
    let members = |n: &At<'a>| {
        n.is(Kind::Field)
            && n.child(0).is_some_and(|o| o.is(Kind::Name) && o.is_called(name))
            && !n.text().is_some_and(super::value::is_of_texts)
    };
    let as_key = node.whole().any(|n| {
        n.is(Kind::Index) && n.child(1).is_some_and(|k| k.is(Kind::Name) && k.is_called(name))
    });
    (node.whole().any(|n| members(&n)) && !as_key)
        .then(|| Slip { at: node, says: say!(KEYS_OF_LIST, name) })
}

/// A counting loop whose condition does not hold where it begins.
fn never_runs<'a>(file: &'a FileFacts, node: At<'a>) -> Option<Slip<'a>> {
    let (counter, start, until) =
        (node.part(Kind::Targets)?.child(0)?, node.child(1)?, node.child(2)?);
    let number = |n: At<'_>| n.text().filter(|_| n.is(Kind::Num))?.parse::<f64>().ok();
    let from = number(start)?;
    let never = if until.is(Kind::Bin) && until.child(0)?.is_called(counter.text()?) {
        let sign = until.text()?;
        let limit = until.child(1)?;
        let of_length = limit
            .whole()
            .any(|n| matches!(n.last_name(), Some("length" | "size" | "Length" | "Count" | "len")));
        match number(limit) {
            Some(to) => super::value::compare(sign, from, to) == Some(false),
            None => of_length && from == 0.0 && sign == ">",
        }
    } else {
        // Where a third number says by how much it goes on, it may go down.
        let head = file.text.get(node.span().0..node.child(3)?.span().0)?;
        file.language.first_index == 1
            && head.matches(',').count() == 1
            && number(until).is_some_and(|to| from > to)
    };
    never.then(|| Slip { at: node, says: say!(NEVER_RUNS) })
}

/// A field is asked for by the name of the variable that holds the key: `sums.what`.
fn by_name<'a>(query: &Query<'a>, file: &'a FileFacts, node: At<'a>) -> Option<Slip<'a>> {
    if !node.is(Kind::Field) {
        return None;
    }
    let (name, owner) = (node.text()?, node.child(0)?.last_name()?);
    let function = node.function()?;
    let holds = bindings(file, node, name).iter().any(|b| b.function() == Some(function));
    let called = node.parent().is_some_and(|p| p.is(Kind::Call) && p.child(0) == Some(node));
    if !holds || called || file.language.fields_are_bare || file.language.declares_by_assigning {
        return None;
    }
    // Elsewhere the same is asked for by what such variables hold, and nothing has a key of this
    // name.
    let asked = query.named(owner).any(|(_, o)| {
        o.parent().is_some_and(|i| {
            i.is(Kind::Index)
                && i.child(0) == Some(o)
                && i.child(1).is_some_and(|k| k.is(Kind::Name) && k.is_called(name))
        })
    });
    let key = query.named(name).any(|(_, n)| n.is(Kind::Pair));
    (asked && !key).then(|| Slip { at: node, says: say!(BY_NAME, name, owner) })
}

/// Two texts of Java asked whether they are one object.
fn by_identity<'a>(query: &Query<'a>, file: &'a FileFacts, node: At<'a>) -> Option<Slip<'a>> {
    if !file.language.texts_by_identity || !matches!(node.text(), Some("==" | "!=")) {
        return None;
    }
    let is_text = |n: At<'a>| match n.kind() {
        Kind::Str => true,
        Kind::Name => bindings(file, n, n.text().unwrap_or_default()).iter().any(|b| {
            let declared =
                if b.is(Kind::Param) { Some(*b) } else { b.parent().and_then(At::parent) };
            declared.and_then(|d| d.part(Kind::Type)).is_some_and(|t| t.is_called("String"))
        }),
        Kind::Field => n.text().is_some_and(|name| {
            let mut made = query
                .named(name)
                .filter(|(_, m)| m.is(Kind::Name) && m.function().is_none() && m.class().is_some())
                .filter_map(|(_, m)| m.parent().and_then(At::parent))
                .peekable();
            made.peek().is_some()
                && made.all(|d| d.part(Kind::Type).is_some_and(|t| t.is_called("String")))
        }),
        Kind::Call => n.last_name().is_some_and(|name| {
            query.symbols.occurrences(name).iter().filter_map(|s| s.node).any(|f| {
                f.is(Kind::Func) && f.part(Kind::Type).is_some_and(|t| t.is_called("String"))
            })
        }),
        _ => false,
    };
    let both = node.child(0).is_some_and(is_text) && node.child(1).is_some_and(is_text);
    both.then(|| Slip { at: node, says: say!(BY_IDENTITY) })
}

/// What can be gone through once is kept, and asked for its length, an entry, or the way back.
fn used_once<'a>(file: &'a FileFacts, node: At<'a>) -> Option<Slip<'a>> {
    let value = node.part(Kind::Values)?.child(0)?;
    let text = file.text.get(value.span().0..value.span().1)?;
    let generator = value.part(Kind::ForIn).is_some() && text.starts_with('(')
        || value.is(Kind::Call)
            && value.child(0).is_some_and(|c| {
                c.is(Kind::Name) && matches!(c.text(), Some("map" | "filter" | "zip"))
            });
    let target = node.part(Kind::Targets)?.child(0).filter(|t| t.is(Kind::Name) && generator)?;
    if !file.language.declares_by_assigning {
        return None;
    }
    let used = file.tree.named(target.text()?).any(|n| {
        n.line() >= node.line()
            && n.function() == target.function()
            && n.parent().is_some_and(|p| {
                p.is(Kind::Index) && p.child(0) == Some(n)
                    || p.is(Kind::Call)
                        && matches!(p.last_name(), Some("len" | "reversed"))
                        && p.child(0) != Some(n)
            })
    });
    used.then(|| Slip { at: node, says: say!(USED_ONCE) })
}
