//! Whose member a name is: only of what the project itself makes, from its beginning to its end, can
//! be said that it has no such member.

use super::check::Look;
use crate::suspect::{As, is_near, names_file};
use izba_model::code::{At, FileFacts, How, Kind};

/// Whether all members of what stands before a dot are known: an own type whose bases are own too,
/// an object of one, an own table or an own script.
pub(super) fn all_known(look: &Look<'_>, file: &FileFacts, owner: At<'_>) -> bool {
    match owner.kind() {
        Kind::Name => {
            let Some(name) = owner.text() else { return false };
            if is_itself(name) {
                return owner.class().is_some_and(|class| own_class(look, file, class, 0));
            }
            named(look, file, owner, name)
        }
        Kind::Field => {
            let (Some(name), Some(class)) = (owner.text(), owner.class()) else { return false };
            let of_itself = owner.child(0).and_then(At::text).is_some_and(is_itself);
            let mut given = file
                .tree
                .named(name)
                .filter(|n| n.is(Kind::Field) && n.defines() == Some(How::Assigned))
                .filter(|n| n.class() == Some(class))
                .peekable();
            of_itself && given.peek().is_some() && given.all(|n| makes_own(look, file, n))
        }
        Kind::New | Kind::Call => class_made(look, file, owner),
        _ => false,
    }
}

fn is_itself(name: &str) -> bool {
    matches!(name, "self" | "this")
}

/// What a name stands for: by everything that gives it a value in its script.
fn named(look: &Look<'_>, file: &FileFacts, at: At<'_>, name: &str) -> bool {
    let mut makers = file
        .tree
        .named(name)
        .filter(|n| n.defines().is_some() && !n.is(Kind::Field))
        .filter(|n| n.function().is_none() || n.function() == at.function())
        .peekable();
    makers.peek().is_some()
        && makers.all(|n| match n.defines() {
            Some(How::Class) => own_class(look, file, n, 0),
            Some(How::Import) => n.parent().is_some_and(|import| {
                let whole = import.text().unwrap_or_default();
                let scripts = || {
                    look.index
                        .code()
                        .filter(|f| names_file(whole, f) && is_near(look.index, file, f, whole))
                };
                // Of a script as a whole, or of a type that it hands out.
                scripts().any(|f| f.stem() == name || whole.ends_with(name) || hands_table(f))
                    || scripts().any(|f| {
                        f.tree
                            .named(name)
                            .any(|n| n.defines() == Some(How::Class) && own_class(look, f, n, 0))
                    })
            }),
            Some(How::Assigned) => makes_own(look, file, n),
            _ => false,
        })
}

/// Whether a script gives a table of its own to those who bring it in.
fn hands_table(file: &FileFacts) -> bool {
    file.tree.all().any(|n| n.is(Kind::Return) && n.function().is_none())
}

/// Whether what is assigned there is an own table, or an object of an own type.
fn makes_own(look: &Look<'_>, file: &FileFacts, target: At<'_>) -> bool {
    let Some(assign) = target.ancestors().find(|a| a.is(Kind::Assign)) else { return false };
    let Some(values) = assign.part(Kind::Values) else { return false };
    let mut all = values.children();
    let (first, more) = (all.next(), all.next());
    more.is_none()
        && first.is_some_and(|value| match value.kind() {
            Kind::Table => value.children().all(|c| c.is(Kind::Pair)),
            Kind::New | Kind::Call => class_made(look, file, value),
            _ => false,
        })
}

/// Whether a call makes an object of an own type.
fn class_made(look: &Look<'_>, file: &FileFacts, call: At<'_>) -> bool {
    let Some(callee) = call.child(0).filter(|c| c.is(Kind::Name)).and_then(At::text) else {
        return call.is(Kind::New) && call.text().is_some_and(|t| class_named(look, file, t, 0));
    };
    class_named(look, file, callee, 0)
}

fn class_named(look: &Look<'_>, file: &FileFacts, name: &str, deep: usize) -> bool {
    let mut classes = look
        .symbols
        .occurrences(name)
        .iter()
        .filter(|s| s.as_what == As::Made(How::Class) && s.file.language == file.language)
        .filter_map(|s| Some((s.file, s.node?)))
        .peekable();
    classes.peek().is_some() && classes.all(|(home, class)| own_class(look, home, class, deep))
}

/// Whether a type and all its bases are the project's own.
fn own_class(look: &Look<'_>, file: &FileFacts, class: At<'_>, deep: usize) -> bool {
    let Some(class) = std::iter::once(class).chain(class.ancestors()).find(|n| n.is(Kind::Class))
    else {
        return false;
    };
    let bases = class.part(Kind::Bases).into_iter().flat_map(At::children);
    deep < 6
        && bases.into_iter().all(|base| {
            base.is(Kind::Name) && base.text().is_some_and(|b| class_named(look, file, b, deep + 1))
        })
}
