//! anew: what a loop fills is begun anew in each of its turns, so that only what the last turn put
//! in is there afterwards.

use super::check::{Check, Seen, Strength};
use super::never::on_the_way;
use super::query::Query;
use izba_model::Family;
use izba_model::code::{At, FileFacts, Flag, How, Kind};
use izba_model::{say, sayings};

sayings! {
    "anew", Any, "../../words/suspects/anew.toml";
    EACH_TURN = "each-turn",
    FILLED_HERE = "filled-here",
    NEEDED_AFTER = "needed-after",
}

/// The check for this: what is filled in a loop and begun anew in it.
pub static CHECK: Check = Check {
    id: "anew",
    kinds: KINDS,
    applies: |query| query.file.is_some() && query.family() != Family::DoesNotParse,
    look,
};

fn look(query: &Query<'_>, seen: &mut Seen) {
    let wanted = on_the_way(query);
    for file in query.scope.iter().filter(|f| f.language.is_code() && !f.broken) {
        for made in file.tree.all().filter(|n| begins_empty(*n)) {
            let Some(name) = made.text() else { continue };
            let Some(turns) = loop_around(made) else { continue };
            let Some(filled) = turns.whole().find(|n| fills(*n, made)) else { continue };
            let Some(after) = read_outside(file, made, turns) else { continue };
            let near = wanted.contains(&name)
                || query.relevance(file, made.line()) > 0.3
                || query.steps.iter().any(|s| s.file.path == file.path && s.line == after.line());
            let strength = if near { Strength::Plain } else { Strength::Fair };
            let suspect = seen.suspect(&file.path, made.line(), strength, say!(EACH_TURN, name));
            suspect.saw(&file.path, filled.line(), say!(FILLED_HERE, name));
            suspect.saw(&file.path, after.line(), say!(NEEDED_AFTER, name));
        }
    }
}

/// Whether something is given an empty container that is not the block's own.
fn begins_empty(node: At<'_>) -> bool {
    let own = node.parent().and_then(At::parent).is_some_and(|a| a.has(Flag::Local));
    let made =
        node.defines() == Some(How::Assigned) && matches!(node.kind(), Kind::Name | Kind::Field);
    made && !own
        && node.assigned_value().is_some_and(|v| match v.kind() {
            Kind::Table => v.children().next().is_none(),
            // Of a known size, or of a type of the language.
            Kind::New => {
                matches!(v.text(), Some("Array" | "Map" | "Set" | "List" | "ArrayList" | "HashMap"))
            }
            _ => false,
        })
}

/// The innermost loop whose own block begins it, within the same function, where that does not
/// hang on a condition.
fn loop_around(made: At<'_>) -> Option<At<'_>> {
    let is_loop = |n: At<'_>| matches!(n.kind(), Kind::For | Kind::ForIn | Kind::While);
    for node in made.ancestors() {
        match node.kind() {
            Kind::If | Kind::Try | Kind::Func | Kind::Class => return None,
            _ if is_loop(node) => return Some(node),
            _ => {}
        }
    }
    None
}

/// Whether something is put into the same container here.
fn fills(node: At<'_>, made: At<'_>) -> bool {
    let same = |n: At<'_>| {
        n.kind() == made.kind()
            && n.text() == made.text()
            && n.child(0).and_then(At::text) == made.child(0).and_then(At::text)
    };
    match node.kind() {
        Kind::Index => {
            node.parent().is_some_and(|p| p.is(Kind::Targets)) && node.child(0).is_some_and(same)
        }
        Kind::Call => {
            let asked = node.child(0).filter(|c| {
                c.is(Kind::Field)
                    && matches!(c.text(), Some("push" | "append" | "add" | "Add" | "put"))
            });
            asked.and_then(|c| c.child(0)).is_some_and(same)
                || node.last_name() == Some("insert") && node.arguments().next().is_some_and(same)
        }
        _ => false,
    }
}

/// Where it is read outside of the loop: in another function if it is a field, else below the loop.
/// What is kept elsewhere before it is begun anew is no longer this one.
fn read_outside<'a>(file: &'a FileFacts, made: At<'a>, turns: At<'a>) -> Option<At<'a>> {
    let name = made.text()?;
    let inside = |n: At<'_>| n.ancestors().any(|a| a == turns);
    let of_same = |n: &At<'a>| n.kind() == made.kind() && n.defines().is_none();
    // Handed on or kept inside, each turn's own is meant.
    let kept = turns.whole().filter(|n| of_same(n) && n.is_called(name)).any(|n| {
        n.parent().is_some_and(|p| {
            n.is_argument()
                || matches!(p.kind(), Kind::Values | Kind::Return | Kind::Pair | Kind::Table)
        })
    });
    if kept {
        return None;
    }
    file.tree.named(name).filter(of_same).find(|n| {
        !inside(*n)
            && (made.is(Kind::Field) && n.function() != made.function()
                || n.function() == made.function() && n.line() > turns.last_line())
    })
}
