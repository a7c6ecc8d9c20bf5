//! What an error asks for: the expression that had to be something else, and how it can be told that
//! a value does not fit there.

use super::query::Query;
use super::raises;
use crate::suspect::value::{Val, What, Written, written};
use izba_model::Family;
use izba_model::code::{At, FileFacts, Flag, Kind};

/// How it is told that a value does not fit.
#[derive(Debug, Clone, PartialEq)]
pub(super) enum Need {
    /// It has to be there.
    Present,
    /// It has to be a number, or a text that is one.
    Number,
    /// It must not be of this kind.
    NotKind(String),
    /// It must not be a list, since it is asked by names.
    NotList,
    /// It has to be found.
    Found,
    /// What the condition says of it must not hold.
    Not(Condition),
}

/// What a program's own condition tests, where it raises an error.
#[derive(Debug, Clone, PartialEq)]
pub(super) enum Condition {
    /// It is nothing.
    IsNothing,
    /// It is none of these.
    NotIn(Vec<String>),
    /// It stands so to a number.
    Compares(String, f64),
    /// It is no number.
    NotNumber,
}

impl Need {
    /// Whether a value is one that does not fit; `None` where it cannot be told.
    pub(super) fn fails(&self, val: &Val<'_>) -> Option<bool> {
        Some(match self {
            // It may be there or not.
            _ if matches!(val.what, What::Element(_)) => return None,
            Need::Present => val.is_nothing() || matches!(val.what, What::Num(n) if n.is_nan()),
            Need::Found => val.missed.is_some(),
            Need::Number => match &val.what {
                What::Text(text) => text.trim().parse::<f64>().is_err(),
                What::Num(n) => n.is_nan(),
                What::Nothing => true,
                _ => return None,
            },
            Need::NotKind(kind) => kind_of(val)? == kind,
            Need::NotList => match &val.what {
                What::Table(table) => written(val.file, *table)? == Written::List,
                What::Items(_) => true,
                _ => return None,
            },
            Need::Not(Condition::IsNothing) => val.is_nothing(),
            Need::Not(Condition::NotIn(words)) => !words.contains(&val.word()?),
            Need::Not(Condition::Compares(sign, number)) => {
                crate::suspect::value::compare(sign, val.number()?, *number)?
            }
            Need::Not(Condition::NotNumber) => matches!(&val.what, What::Num(n) if n.is_nan()),
        })
    }
}

/// The kind of a value, in the words that messages are put into by [`plain`].
pub(super) fn kind_of(val: &Val<'_>) -> Option<&'static str> {
    Some(match &val.what {
        What::Nothing => "nothing",
        What::Bool(_) => "bool",
        What::Num(_) => "number",
        What::Text(_) | What::AnyText => "text",
        What::Func(_) => "function",
        What::Table(_) | What::Items(_) => "table",
        // Objects are tables where there is nothing else.
        What::Object(of, _) if of.is(Kind::Table) => "table",
        _ => return None,
    })
}

/// What a runtime calls a kind, as one word for all of them.
pub(super) fn plain(kind: &str) -> Option<&'static str> {
    Some(match kind.rsplit('.').next().unwrap_or(kind) {
        "nil" | "null" | "undefined" | "None" | "NoneType" => "nothing",
        "string" | "str" | "String" => "text",
        "number" | "int" | "float" | "Integer" | "Double" => "number",
        "boolean" | "bool" | "Boolean" => "bool",
        "table" | "list" | "dict" | "tuple" => "table",
        "function" | "builtin_function_or_method" | "method" => "function",
        _ => return None,
    })
}

/// Whether the sentence tells what kind of values met there, none of which is nothing: then nothing
/// was missing.
pub(super) fn met_values(query: &Query<'_>) -> bool {
    let fact = |key: &str| query.entry.facts.get(key).map(String::as_str);
    let present = |kind: &str| plain(kind).is_some_and(|k| k != "nothing");
    query.family() == Family::WrongKind
        && fact("have").is_some_and(present)
        && fact("other").or(fact("want")).is_none_or(present)
}

/// Functions that take a text as a number.
const READS_NUMBERS: &[&str] = &[
    "int",
    "float",
    "parseInt",
    "parseDouble",
    "Parse",
    "ToInt32",
    "ToDouble",
    "getint",
    "getfloat",
    "valueOf",
    "parseFloat",
    "Number",
    "Decimal",
];

/// The expressions that the error may be about, each with what it needed, the likeliest first.
pub(super) fn needs<'a>(query: &Query<'a>) -> Vec<(At<'a>, Need)> {
    let mut found = all_needs(query);
    if let Some(file) = query.file {
        found.retain(|(operand, need)| *need != Need::Present || !was_there(file, *operand));
    }
    found
}

/// Whether an expression was asked for a member in an earlier step of the same block, and so was
/// there.
fn was_there(file: &FileFacts, operand: At<'_>) -> bool {
    if !matches!(operand.kind(), Kind::Name | Kind::Field) {
        return false;
    }
    let text = |n: At<'_>| file.text.get(n.span().0..n.span().1).unwrap_or_default();
    let (own, begins) = (text(operand), operand.span().0);
    let blocks = operand.ancestors().take_while(|a| !a.is(Kind::Func));
    for block in blocks.filter(|a| a.is(Kind::Block)) {
        for step in block.children().filter(|s| s.span().1 <= begins) {
            let asked = step.whole().find(|n| {
                n.kind() == operand.kind()
                    && text(*n) == own
                    && n.parent().is_some_and(|p| {
                        p.is(Kind::Field)
                            && p.child(0) == Some(*n)
                            && !p.has(Flag::Lenient)
                            && p.parent().is_none_or(|c| !c.has(Flag::Lenient))
                    })
                    && n.ancestors().find(|a| matches!(a.kind(), Kind::Block | Kind::Func))
                        == Some(block)
            });
            let Some(asked) = asked else { continue };
            let given_anew = file.tree.all().any(|n| {
                n.defines().is_some()
                    && n.last_name() == operand.last_name()
                    && n.span().0 > asked.span().1
                    && n.span().0 < begins
            });
            if !given_anew {
                return true;
            }
        }
    }
    false
}

fn all_needs<'a>(query: &Query<'a>) -> Vec<(At<'a>, Need)> {
    let mut found = Vec::new();
    let Some(file) = query.file else { return found };
    if raises::raises(file, query.line) {
        for condition in raises::conditions(file, query.line).take(1) {
            of_condition(query, condition, &mut found);
        }
        return found;
    }
    let nodes: Vec<At<'a>> = query.on_line().collect();
    let said = &query.said;
    // Functions of the language that take a text first, and were handed something else.
    let opens = nodes.iter().filter(|n| {
        n.is(Kind::Call)
            && n.child(0).is_some_and(|c| c.is(Kind::Name) && matches!(c.text(), Some("open")))
    });
    for call in opens.filter(|_| query.family() != Family::FileNotThere) {
        if let Some(first) = call.arguments().next() {
            found.push((first, Need::NotKind("number".into())));
            found.push((first, Need::Present));
        }
    }
    let converts = [
        "could not convert",
        "invalid literal",
        "NumberFormat",
        "FormatException",
        "not in a correct format",
        "For input string",
    ]
    .iter()
    .any(|w| said.contains(w));
    if converts {
        let calls = nodes.iter().filter(|n| {
            n.is(Kind::Call) && n.last_name().is_some_and(|name| READS_NUMBERS.contains(&name))
        });
        let arguments = calls.filter_map(|c| {
            // Of `get(section, key)` it is what the call gives.
            if c.arguments().count() > 1 { Some(*c) } else { c.arguments().next() }
        });
        found.extend(arguments.map(|a| (a, Need::Number)));
    }
    if said.contains("KeyError") || said.contains("KeyNotFound") || said.contains("NoSuchElement") {
        found.extend(nodes.iter().filter(|n| n.is(Kind::Index)).map(|n| (*n, Need::Found)));
    }
    if query.family() == Family::OutOfRange {
        let indexed = nodes.iter().filter(|n| n.is(Kind::Index));
        found.extend(
            marked(query, indexed.copied().collect()).into_iter().map(|n| (n, Need::Found)),
        );
    }
    // A member that is asked for by a text.
    if said.contains("has no attribute") {
        let by_text = nodes.iter().filter(|n| {
            n.is(Kind::Call)
                && matches!(n.last_name(), Some("getattr"))
                && n.arguments().count() == 2
        });
        found.extend(by_text.map(|n| (*n, Need::Found)));
    }
    // What is added up one by one.
    if let (Some(have), Some(other)) = (
        query.entry.facts.get("have").and_then(|k| plain(k)),
        query.entry.facts.get("other").and_then(|k| plain(k)),
    ) && let Some(sum) = nodes.iter().find(|n| n.is(Kind::Call) && n.last_name() == Some("sum"))
        && let Some(list) = sum.arguments().next()
    {
        let kind = if have == "number" { other } else { have };
        let each = list.child(0).filter(|_| list.part(Kind::ForIn).is_some()).unwrap_or(list);
        found.push((each, Need::NotKind(kind.into())));
        return found;
    }
    if said.contains("not iterable") {
        let loops = nodes.iter().filter(|n| n.is(Kind::ForIn));
        let through = loops.filter_map(|n| {
            n.children().find(|c| !matches!(c.kind(), Kind::Targets | Kind::Block | Kind::Type))
        });
        found.extend(through.map(|n| (n, Need::Present)));
    }
    // A text is asked for an entry by a word.
    if said.contains("string indices must be") {
        let owners = nodes.iter().filter(|n| n.is(Kind::Index)).filter_map(|n| n.child(0));
        found.extend(owners.map(|n| (n, Need::NotKind("text".into()))));
    }
    // Some runtimes name the very expression.
    if let Some(named) = said.split("because \"").nth(1).and_then(|r| r.split('"').next()) {
        let last = named.rsplit('.').next().unwrap_or(named);
        found.extend(
            nodes
                .iter()
                .filter(|n| matches!(n.kind(), Kind::Name | Kind::Field) && n.is_called(last))
                .map(|n| (*n, Need::Present)),
        );
    }
    if said.contains("list indices must be") {
        let owners = nodes.iter().filter(|n| n.is(Kind::Index)).filter_map(|n| n.child(0));
        found.extend(owners.map(|n| (n, Need::NotList)));
    }
    // What browsers bring along tells which of its calls was handed something that does not fit.
    if let Some(call) = query.said.split("Failed to execute '").nth(1)
        && let Some(name) = call.split('\'').next()
        && ["undefined", "null", "is not of type", "non-finite", "provided value"]
            .iter()
            .any(|w| call.contains(w))
    {
        let calls = nodes.iter().filter(|n| n.is(Kind::Call) && n.last_name() == Some(name));
        let arguments: Vec<At<'a>> = calls.flat_map(|c| c.arguments()).collect();
        found.extend(arguments.into_iter().map(|a| (a, Need::Present)));
    }
    if said.contains("not a constructor") {
        found.extend(nodes.iter().filter(|n| n.is(Kind::New)).map(|n| (*n, Need::Present)));
    }
    if said.contains("not a function") {
        let callees = nodes.iter().filter(|n| n.is(Kind::Call)).filter_map(|n| n.child(0));
        found.extend(
            callees
                .filter(|c| {
                    c.is(Kind::Index) || c.last_name().is_some_and(|name| said.contains(name))
                })
                .map(|c| (c, Need::Present)),
        );
    }
    // What a call of a table or map gave.
    if said.contains("return value of") {
        let called = nodes.iter().filter(|n| {
            n.is(Kind::Call)
                && n.last_name().is_some_and(|name| said.contains(&format!(".{name}(")))
        });
        found.extend(called.map(|n| (*n, Need::Present)));
        if !found.is_empty() {
            return found;
        }
    }
    if let Some((operand, need)) = of_kinds(query, &nodes) {
        // A comparison may have been turned round before it was made.
        let other = operand
            .parent()
            .filter(|p| p.is(Kind::Bin) && matches!(p.text(), Some("<" | ">" | "<=" | ">=")));
        let twin = other.and_then(|p| p.children().find(|c| *c != operand));
        found.push((operand, need.clone()));
        found.extend(twin.map(|t| (t, need)));
        return found;
    }
    let absent = query.family() == Family::ValueNotThere
        || said.contains("NoneType")
        || said.contains("of undefined")
        || said.contains("of null")
        || said.contains("a nil value")
        || said.contains("not a function")
        || said.contains("cannot be null");
    if absent {
        let subjects: Vec<At<'a>> = query.subjects.iter().copied().take(6).collect();
        for subject in marked(query, subjects) {
            // What a call tries to run is its first argument.
            let tries = subject.parent().filter(|p| {
                p.is(Kind::Call)
                    && p.child(0) == Some(subject)
                    && matches!(subject.text(), Some("pcall" | "xpcall"))
            });
            let subject = tries.and_then(|t| t.arguments().next()).unwrap_or(subject);
            // Where the list is told to be there and its entry not, what is read of it is nothing.
            found.push((subject, Need::Present));
        }
    }
    found
}

/// Those that the console marked, where it marked any; else all.
fn marked<'a>(query: &Query<'a>, nodes: Vec<At<'a>>) -> Vec<At<'a>> {
    let (Some(file), Some((from, to))) = (query.file, query.entry.token) else { return nodes };
    let Some(start) = file
        .text
        .lines()
        .take(query.line.saturating_sub(1) as usize)
        .map(|l| l.len() + 1)
        .reduce(|a, b| a + b)
        .or(Some(0))
    else {
        return nodes;
    };
    let (from, to) = (start + from, start + to);
    // A mark of one sign says where a member begins, and its owner ends just before it.
    let touched: Vec<At<'a>> = nodes
        .iter()
        .copied()
        .filter(|n| {
            let (a, b) = n.span();
            if to - from <= 1 { a <= from && from <= b + 1 } else { a < to && from < b }
        })
        .collect();
    if touched.is_empty() { nodes } else { touched }
}

/// Where a message names the kinds of two operands in their order, or the kind of the one.
fn of_kinds<'a>(query: &Query<'a>, nodes: &[At<'a>]) -> Option<(At<'a>, Need)> {
    let fact = |key: &str| query.entry.facts.get(key).map(String::as_str);
    let have = plain(fact("have").or(fact("want").filter(|_| fact("other").is_some()))?)?;
    // Lua names what stood left first, then what stood right.
    let ordered = query.said.contains("attempt to ") && query.said.contains(" with a");
    let other = fact("other").or(fact("want").filter(|_| ordered)).and_then(plain);
    let two = nodes.iter().copied().filter(|n| {
        n.is(Kind::Bin) || n.is(Kind::Assign) && n.has(izba_model::code::Flag::Augmented)
    });
    let two = marked(query, two.collect());
    if let Some(other) = other {
        // The one that is nothing, or else the one that is no number.
        let (at, kind) = match (have, other) {
            ("nothing", _) => (0, "nothing"),
            (_, "nothing") => (1, "nothing"),
            ("text", _) => (0, "text"),
            (_, "text") => (1, "text"),
            _ => (0, have),
        };
        let bin = two.first()?;
        let operand = match bin.kind() {
            Kind::Assign => match at {
                0 => bin.part(Kind::Targets)?.child(0)?,
                _ => bin.part(Kind::Values)?.child(0)?,
            },
            _ => bin.child(at)?,
        };
        return Some((operand, Need::NotKind(kind.into())));
    }
    let mut subject = *query.subjects.first()?;
    // It is what the member is asked of.
    let member = query.said.contains("has no attribute")
        && subject.is(Kind::Field)
        && query.asked.as_deref().is_some_and(|a| subject.is_called(a));
    if let Some(owner) = subject.child(0).filter(|_| member) {
        subject = owner;
    }
    Some((subject, Need::NotKind(have.into())))
}

/// What a condition reads, and what must not be so.
fn of_condition<'a>(query: &Query<'a>, condition: At<'a>, found: &mut Vec<(At<'a>, Need)>) {
    let parts: Vec<At<'a>> = condition.children().collect();
    match (condition.kind(), condition.text(), parts.as_slice()) {
        (Kind::Bin, Some("or" | "||" | "and" | "&&"), parts) => {
            parts.iter().for_each(|p| of_condition(query, *p, found));
        }
        (Kind::Bin, Some("is" | "==" | "==="), [one, nothing]) if nothing.is(Kind::Nil) => {
            found.push((*one, Need::Not(Condition::IsNothing)));
        }
        (Kind::Bin, Some("not in"), [one, list]) => {
            let words = keys_of_name(query, *list);
            if !words.is_empty() {
                found.push((*one, Need::Not(Condition::NotIn(words))));
            }
        }
        (Kind::Bin, Some(sign @ ("<" | "<=" | ">" | ">=" | "==" | "===")), [one, number])
            if number.is(Kind::Num) =>
        {
            if let Some(n) = number.text().and_then(|t| t.parse().ok()) {
                found.push((*one, Need::Not(Condition::Compares(sign.into(), n))));
            }
        }
        (Kind::Un, Some("not" | "!"), [one]) => {
            // `not T[k]`, `!m.has(k)`.
            match one.kind() {
                Kind::Call
                    if matches!(
                        one.last_name(),
                        Some(
                            "has"
                                | "includes"
                                | "containsKey"
                                | "contains"
                                | "ContainsKey"
                                | "Contains"
                        )
                    ) =>
                {
                    let owner = one.child(0).and_then(|c| c.child(0));
                    let words = owner.map(|o| keys_of_name(query, o)).unwrap_or_default();
                    if let (Some(key), false) = (one.arguments().next(), words.is_empty()) {
                        found.push((key, Need::Not(Condition::NotIn(words))));
                    }
                }
                _ => found.push((*one, Need::Not(Condition::IsNothing))),
            }
        }
        (Kind::Call, _, _)
            if condition.last_name().is_some_and(|n| n.eq_ignore_ascii_case("isnan")) =>
        {
            if let Some(argument) = condition.arguments().next() {
                found.push((argument, Need::Not(Condition::NotNumber)));
            }
        }
        _ => {}
    }
}

/// The keys of the one table that bears this name.
fn keys_of_name(query: &Query<'_>, list: At<'_>) -> Vec<String> {
    let Some(name) = list.last_name() else { return Vec::new() };
    let tables = query.scope.iter().flat_map(|f| f.tree.named(name)).filter_map(At::assigned_value);
    let tables: Vec<At<'_>> =
        tables.filter(|t| matches!(t.kind(), Kind::Table | Kind::New)).collect();
    let [table] = tables[..] else { return Vec::new() };
    let entries = table
        .whole()
        .skip(1)
        .filter(|c| c.parent() == Some(table) || c.parent().and_then(At::parent) == Some(table));
    entries
        .filter(|c| matches!(c.kind(), Kind::Pair | Kind::Str))
        .filter_map(|c| c.text().map(str::to_owned))
        .collect()
}
