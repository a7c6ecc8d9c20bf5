//! odd: what can't be meant as it stands, whatever the rest of the program does: a step that works
//! something out and drops it, a text that is counted with, a number in quotes among numbers, nothing
//! where a number is counted.

use super::check::{Check, Seen, Strength};
use super::never::on_the_way;
use super::query::Query;
use izba_model::Family;
use izba_model::claim::Saying;
use izba_model::code::{At, FileFacts, Flag, How, Kind};
use izba_model::{say, sayings};

sayings! {
    "odd", Any, "../../words/suspects/odd.toml";
    DROPPED = "dropped",
    TEXT_COUNTED = "text-counted",
    NOTHING_COUNTED = "nothing-counted",
    IN_QUOTES = "in-quotes",
    IN_QUOTES_HERE = "in-quotes-here",
}

/// The check for this: what can't be meant as it stands.
pub static CHECK: Check = Check {
    id: "odd",
    kinds: KINDS,
    applies: |query| query.file.is_some() && query.family() != Family::DoesNotParse,
    look,
};

/// Operators that count.
const COUNTS: &[&str] = &["+", "-", "*", "/", "%", "<", ">", "<=", ">="];

fn look(query: &Query<'_>, seen: &mut Seen) {
    let wanted = on_the_way(query);
    for file in query.scope.iter().filter(|f| f.language.is_code() && !f.broken) {
        for node in file.tree.all() {
            let found = match node.kind() {
                Kind::Bin => counted(file, node).or_else(|| joined_by_counting(query, file, node)),
                Kind::Assign => begun_with_nothing(node),
                Kind::For => counted_to_nothing(node),
                Kind::Call => handed_in_quotes(query, file, node),
                Kind::Str => kept_in_quotes(query, file, node),
                _ => None,
            };
            let found = found.or_else(|| dropped(file, node));
            let Some((says, strength)) = found else { continue };
            let named = |n: At<'_>| n.text().is_some_and(|t| wanted.contains(&t));
            let here = query.path() == Some(&file.path) && query.line == node.line();
            let near = here
                || query.relevance(file, node.line()) > 0.2
                || node.step().whole().any(named)
                || node.function().is_some_and(|f| named(f) || is_on_way(query, f));
            let strength = if near { strength } else { strength.with(-1) };
            seen.suspect(&file.path, node.line(), strength, says);
        }
    }
}

/// Whether a function is one of the steps, or is called on the line of one.
fn is_on_way(query: &Query<'_>, function: At<'_>) -> bool {
    query.steps.iter().any(|s| {
        s.function == Some(function) || s.calls().iter().any(|c| c.last_name() == function.text())
    })
}

fn is_number(node: At<'_>) -> bool {
    node.is(Kind::Str)
        && node.text().is_some_and(|t| {
            !t.is_empty()
                && t.len() < 12
                && t.parse::<f64>().is_ok()
                && !t.contains(char::is_alphabetic)
        })
}

/// A text, a number in quotes, or nothing is counted with.
fn counted(file: &FileFacts, node: At<'_>) -> Option<(Saying, Strength)> {
    let sign = node.text().filter(|s| COUNTS.contains(s))?;
    let (left, right) = (node.child(0)?, node.child(1)?);
    let either = |kind: Kind| left.is(kind) || right.is(kind);
    if either(Kind::Nil) {
        return Some((say!(NOTHING_COUNTED), Strength::Plain));
    }
    // With `+` texts are joined, with `*` repeated and with `%` filled in, as the language has it.
    let joins = file.language.text_operators.iter().any(|o| o == sign);
    let text = [left, right].into_iter().find(|n| n.is(Kind::Str))?;
    let other = if text == left { right } else { left };
    if is_number(text) && !joins && !other.is(Kind::Str) {
        let quoted = text.text().unwrap_or_default();
        return Some((say!(IN_QUOTES_HERE, text = quoted), Strength::Plain));
    }
    // Two texts are compared by the alphabet.
    let by_order = matches!(sign, "<" | ">" | "<=" | ">=");
    (!joins && !by_order).then(|| (say!(TEXT_COUNTED, sign), Strength::Plain))
}

/// Beside a sign that joins texts one that counts, where the console says that a text was counted.
fn joined_by_counting(
    query: &Query<'_>,
    file: &FileFacts,
    node: At<'_>,
) -> Option<(Saying, Strength)> {
    let sign = node.text().filter(|s| *s == "+")?;
    let here = query.path() == Some(&file.path) && query.line == node.line();
    let joins = |n: At<'_>| n.is(Kind::Bin) && n.text() == Some("..");
    let beside = node.parent().is_some_and(joins) || node.children().any(joins);
    let told = query.said.contains("string") || query.said.contains("arithmetic");
    (here && beside && told).then(|| (say!(TEXT_COUNTED, sign), Strength::Plain))
}

/// A counter begins with nothing, or nothing is added to it.
fn begun_with_nothing(node: At<'_>) -> Option<(Saying, Strength)> {
    let value = node.part(Kind::Values)?.child(0).filter(|v| v.is(Kind::Nil))?;
    let counter = node.has(Flag::Augmented)
        || node.parent().is_some_and(|p| matches!(p.kind(), Kind::For | Kind::While));
    let first = value.line() == node.line();
    (counter && first).then(|| (say!(NOTHING_COUNTED), Strength::Plain))
}

/// A loop counts from nothing, or to nothing.
fn counted_to_nothing(node: At<'_>) -> Option<(Saying, Strength)> {
    let nothing = node.children().any(|c| c.is(Kind::Nil));
    nothing.then(|| (say!(NOTHING_COUNTED), Strength::Plain))
}

/// A number in quotes is handed over beside numbers, on the very line that the console names.
fn handed_in_quotes(
    query: &Query<'_>,
    file: &FileFacts,
    call: At<'_>,
) -> Option<(Saying, Strength)> {
    let here = query.path() == Some(&file.path) && query.line == call.line();
    let quoted = call.arguments().find(|a| is_number(*a)).filter(|_| here)?;
    let counts = |a: At<'_>| a.is(Kind::Num) || a.is(Kind::Bin);
    let beside = call.arguments().any(counts) || call.last_name() == Some("range");
    let text = quoted.text().unwrap_or_default();
    beside.then(|| (say!(IN_QUOTES_HERE, text), Strength::Plain))
}

/// A number in quotes is kept under a name that is counted with.
fn kept_in_quotes(query: &Query<'_>, file: &FileFacts, node: At<'_>) -> Option<(Saying, Strength)> {
    if !is_number(node) {
        return None;
    }
    let parent = node.parent()?;
    let name = match parent.kind() {
        Kind::Pair => parent.text()?,
        // One of a list of numbers.
        Kind::Table => {
            let others: Vec<At<'_>> = parent.children().filter(|c| *c != node).collect();
            let numbers = others.len() >= 2 && others.iter().all(|c| c.is(Kind::Num));
            let text = node.text().unwrap_or_default();
            return numbers.then(|| (say!(IN_QUOTES_HERE, text), Strength::Plain));
        }
        Kind::Values => parent.parent()?.part(Kind::Targets)?.child(0)?.text()?,
        // One of two that are chosen between, the other of which is a number.
        Kind::If | Kind::Other => {
            let beside = parent.children().any(|c| c != node && c.is(Kind::Num) || is_minus(c));
            let text = node.text().unwrap_or_default();
            return beside.then(|| (say!(IN_QUOTES_HERE, text), Strength::Plain));
        }
        _ => return None,
    };
    let reads = query
        .named(name)
        .filter(|(f, n)| f.path == file.path || n.is(Kind::Field) || n.is(Kind::Pair));
    let (mut counted, mut numbers, mut texts) = (false, 0, 0);
    for (_, n) in reads {
        if let Some(value) = n.assigned_value() {
            numbers += usize::from(value.is(Kind::Num));
            texts += usize::from(value.is(Kind::Str));
        }
        let sums = n.parent().is_some_and(|p| {
            p.is(Kind::Bin) && p.text().is_some_and(|s| COUNTS.contains(&s) && s != "+")
                || p.is(Kind::Bin) && p.text() == Some("+") && p.children().any(|c| c.is(Kind::Num))
        });
        let adds = n.parent().filter(|p| p.is(Kind::Targets)).and_then(At::parent);
        let adds = adds.is_some_and(|a| a.has(Flag::Augmented));
        counted |= sums || adds && n.defines() != Some(How::Assigned);
    }
    let text = node.text().unwrap_or_default();
    (counted || numbers > texts).then(|| (say!(IN_QUOTES, name, text), Strength::Plain))
}

fn is_minus(node: At<'_>) -> bool {
    node.is(Kind::Un) && node.child(0).is_some_and(|n| n.is(Kind::Num))
}

/// A step works something out, and nothing is done with it.
fn dropped(file: &FileFacts, node: At<'_>) -> Option<(Saying, Strength)> {
    let block = node.parent().filter(|p| p.is(Kind::Block))?;
    let works_out = matches!(node.kind(), Kind::Bin | Kind::Index | Kind::Num | Kind::Bool)
        || node.is(Kind::Field) && !file.language.checked;
    // What a script of one expression gives is its last one.
    let function = node.function()?;
    let arrow = function.part(Kind::Block) == Some(block) && block.children().count() == 1;
    let short = arrow && function.line() == node.line();
    let assigns = node.whole().any(|n| matches!(n.kind(), Kind::Assign | Kind::Call | Kind::New));
    (works_out && !assigns && !short).then(|| (say!(DROPPED), Strength::Plain))
}
