//! Variables of one function that bear the name of what everybody reads: a field, or a variable
//! outside. What they are given reaches nobody.

use super::says::{
    HIDDEN_BY_LOCAL, HIDDEN_FROM_OTHERS, HIDES_OUTER, NEVER_READ, READ_HERE, on_the_way, own,
};
use crate::suspect::check::{Seen, Strength};
use crate::suspect::flow::bindings;
use crate::suspect::query::Query;
use izba_model::code::{At, FileFacts, Flag, How, Kind};
use izba_model::dialect::HandsOut;
use izba_model::say;

/// A variable of a function that nothing reads, and a field of the same name that is read.
pub(super) fn hidden_fields(query: &Query<'_>, seen: &mut Seen) {
    let mut wanted = on_the_way(query);
    wanted.extend(query.asked.as_deref());
    for file in query.scope.iter().filter(|f| f.language.is_code() && !f.broken) {
        for made in file.tree.all().filter(|n| is_variable(file, *n)) {
            let (Some(name), Some(function)) = (made.text(), made.function()) else { continue };
            if !wanted.contains(&name) || !is_unread(function, name) {
                continue;
            }
            // Of the same type, or of what the same file makes where types are functions.
            let of_type = |n: &At<'_>| match function.class() {
                Some(class) => n.class() == Some(class),
                None => true,
            };
            let read = file
                .tree
                .named(name)
                .find(|n| n.is(Kind::Field) && own(*n) && n.defines().is_none() && of_type(n));
            let Some(read) = read else { continue };
            let says = say!(HIDDEN_BY_LOCAL, name);
            let suspect = seen.suspect(&file.path, made.line(), Strength::Plain, says);
            suspect.saw(&file.path, read.line(), say!(READ_HERE));
            suspect.saw(&file.path, made.line(), say!(NEVER_READ, name)).tied(1.0);
        }
    }
}

/// A variable outside of all functions is only ever given nothing, and a function makes one of its
/// own under that name.
pub(super) fn hidden_outer(query: &Query<'_>, seen: &mut Seen) {
    let wanted = on_the_way(query);
    let marks = |f: &FileFacts| !f.language.declares_by_assigning && !f.language.checked;
    for file in query.scope.iter().filter(|f| f.language.is_code() && marks(f) && !f.broken) {
        for outer in file.tree.all().filter(|n| n.function().is_none() && is_empty_variable(*n)) {
            let Some(name) = outer.text().filter(|n| wanted.contains(n)) else { continue };
            let made =
                |n: &At<'_>| n.is(Kind::Name) && n.defines() == Some(How::Assigned) && *n != outer;
            let local = |n: &At<'_>| is_variable(file, *n) && n.function().is_some();
            let mut others = file.tree.named(name).filter(made).peekable();
            if others.peek().is_none() || !others.all(|n| local(&n)) {
                continue;
            }
            let Some(hiding) = file.tree.named(name).filter(made).find(local) else { continue };
            // Somebody else has to read it, or it is rightly the function's own.
            let read = file.tree.named(name).find(|n| {
                n.is(Kind::Name) && n.defines().is_none() && n.function() != hiding.function()
            });
            let Some(read) = read else { continue };
            let says = say!(HIDES_OUTER, name);
            let suspect = seen.suspect(&file.path, hiding.line(), Strength::Plain, says);
            suspect.saw(&file.path, outer.line(), say!(READ_HERE));
            suspect.saw(&file.path, read.line(), say!(READ_HERE));
        }
    }
}

/// A name that all scripts could see is made for its own script only, and another one reads it.
pub(super) fn hidden_from_others(query: &Query<'_>, seen: &mut Seen) {
    let Some(file) = query.file.filter(|f| f.language.hands_out == Some(HandsOut::Globals)) else {
        return;
    };
    let mut names: Vec<&str> = query.subject_names();
    names.extend(query.asked.as_deref());
    for name in names {
        let here = file.tree.named(name).find(|n| n.is(Kind::Name) && n.line() == query.line);
        let unmade = here.is_some_and(|n| bindings(file, n, name).is_empty());
        if !unmade {
            continue;
        }
        let others = query.scope.iter().filter(|f| f.path != file.path && f.language.is_code());
        let made = others.filter_map(|f| {
            let local = |n: &At<'_>| {
                n.function().is_none()
                    && (n.is(Kind::Func) && n.has(Flag::Local)
                        || n.is(Kind::Name)
                            && n.defines() == Some(How::Assigned)
                            && n.parent().and_then(At::parent).is_some_and(|a| a.has(Flag::Local)))
            };
            let brought = |n: &At<'_>| n.assigned_value().is_some_and(|v| v.is(Kind::Import));
            let given = f.tree.all().any(|n| {
                n.is(Kind::Return) && n.function().is_none() && n.whole().any(|v| v.is_called(name))
            });
            let made = f.tree.named(name).find(local).filter(|n| !given && !brought(n))?;
            Some((*f, made))
        });
        for (home, made) in made {
            let says = say!(HIDDEN_FROM_OTHERS, name, file = file.name());
            let suspect = seen.suspect(&home.path, made.line(), Strength::Plain, says);
            suspect.saw(&file.path, query.line, say!(READ_HERE)).tied(1.0);
        }
    }
}

/// Whether a name is a variable that a function makes for itself.
fn is_variable(file: &FileFacts, node: At<'_>) -> bool {
    let assign = node.parent().and_then(At::parent);
    node.is(Kind::Name)
        && node.defines() == Some(How::Assigned)
        && node.function().is_some()
        && (file.language.declares_by_assigning
            || assign.is_some_and(|a| a.has(Flag::Local) || a.part(Kind::Type).is_some()))
}

/// Whether a variable begins with nothing.
fn is_empty_variable(node: At<'_>) -> bool {
    let local = node.parent().and_then(At::parent).is_some_and(|a| a.has(Flag::Local));
    let nothing = node.assigned_value().is_none_or(|v| v.is(Kind::Nil));
    node.is(Kind::Name) && node.defines() == Some(How::Assigned) && local && nothing
}

/// Whether nothing in a function reads a name after it was made.
fn is_unread(function: At<'_>, name: &str) -> bool {
    let said = function.whole().filter(|n| matches!(n.kind(), Kind::Name | Kind::Param));
    said.filter(|n| n.is_called(name)).count() == 1
}
