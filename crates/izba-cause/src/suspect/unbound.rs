//! unbound: a method is handed over by itself, so that it no longer knows whose it is when it is
//! called: `setInterval(ferry.move, 50)`.
//!
//! After ECMA-262, 13.3.6: only a call by a member expression gives a function its object.

use super::check::{Check, Seen, Strength};
use super::flow::is_in_braces;
use super::query::Query;
use super::value::object_of;
use izba_model::code::{At, FileFacts, Kind};
use izba_model::{Family, say, sayings};

sayings! {
    "unbound", Any, "../../words/suspects/unbound.toml";
    HANDED_OVER = "handed-over",
    ASKS_ITS_OBJECT = "asks-its-object",
}

/// The check for this: a method that is handed over without its object.
pub static CHECK: Check = Check {
    id: "unbound",
    kinds: KINDS,
    applies: |query| {
        query.file.is_some_and(|f| f.language.loses_itself)
            && (matches!(query.family(), Family::ValueNotThere | Family::NameNotThere)
                || ["is not iterable", "is not a function"].iter().any(|w| query.said.contains(w)))
    },
    look,
};

fn look(query: &Query<'_>, seen: &mut Seen) {
    let (Some(path), Some(step)) = (query.path(), query.steps.first()) else { return };
    let owned = |f: &At<'_>| f.class().is_some() || object_of(step.file, *f).is_some();
    let Some(method) = step.function.filter(owned) else { return };
    let itself = |n: At<'_>| is_itself(step.file, n);
    let asks = query.on_line().any(|n| n.is(Kind::Field) && n.child(0).is_some_and(itself));
    let Some(name) = method.text().filter(|_| asks) else { return };
    // An arrow inside keeps the object.
    for file in query.scope.iter().filter(|f| f.language.loses_itself) {
        let loses = |n: &At<'_>| match n.kind() {
            Kind::Field => is_handed_over(*n) || is_called_alone(file, *n),
            Kind::Name => is_taken_out(file, *n),
            _ => false,
        };
        for node in file.tree.named(name).filter(loses) {
            let says = say!(HANDED_OVER, name);
            let suspect = seen.suspect(&file.path, node.line(), Strength::Plain, says);
            suspect.saw(path, query.line, say!(ASKS_ITS_OBJECT, name));
        }
    }
}

fn is_itself(file: &FileFacts, node: At<'_>) -> bool {
    file.language.itself.as_deref().is_some_and(|itself| node.is_called(itself))
}

/// Whether a member is kept in a variable that is called by itself.
fn is_called_alone(file: &FileFacts, node: At<'_>) -> bool {
    let Some(assign) = node.parent().filter(|p| p.is(Kind::Values)).and_then(At::parent) else {
        return false;
    };
    let targets = assign.part(Kind::Targets).into_iter().flat_map(At::children);
    let mut kept = targets.filter(|t| t.is(Kind::Name) && t.assigned_value() == Some(node));
    let Some(name) = kept.next().and_then(At::text) else { return false };
    is_called_by_itself(file, name)
}

fn is_called_by_itself(file: &FileFacts, name: &str) -> bool {
    file.tree.named(name).any(|n| n.is(Kind::Name) && n.is_callee())
}

/// Whether a method is taken out of its object by a pattern, `const { moor } = quay`, and called by
/// itself.
fn is_taken_out(file: &FileFacts, node: At<'_>) -> bool {
    let Some(targets) = node.parent().filter(|p| p.is(Kind::Targets)) else { return false };
    let braced = targets.child(0).is_some_and(|first| is_in_braces(file, first));
    let values = targets.parent().and_then(|assign| assign.part(Kind::Values));
    let of_object = values.and_then(|v| v.child(0)).is_some_and(|v| v.is(Kind::Name));
    braced && of_object && node.text().is_some_and(|name| is_called_by_itself(file, name))
}

/// Whether a member is an argument, or is kept as what is called at an event, and not called here.
fn is_handed_over(node: At<'_>) -> bool {
    let Some(parent) = node.parent() else { return false };
    match parent.kind() {
        Kind::Call => parent.arguments().any(|a| a == node),
        _ => parent.assigned_value() == Some(node),
    }
}
