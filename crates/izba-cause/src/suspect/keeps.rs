//! keeps: an object is made, and what it should hold goes elsewhere: into a parameter, into itself,
//! into the type that all objects share; or what was filled is not what is given back.

use super::check::{Check, Seen, Strength};
use super::never::{on_the_way, own};
use super::query::Query;
use izba_model::Family;
use izba_model::claim::Saying;
use izba_model::code::{At, FileFacts, Flag, How, Kind};
use izba_model::{say, sayings};

sayings! {
    "keeps", Absence, "../../words/suspects/keeps.toml";
    SET_TO_ITSELF = "set-to-itself",
    TURNED_ROUND = "turned-round",
    SHARED_BY_ALL = "shared-by-all",
    OTHER_GIVEN_BACK = "other-given-back",
    FILLED_HERE = "filled-here",
    LIKE_A_CONSTRUCTOR = "like-a-constructor",
    NO_INDEX = "no-index",
    NEARLY_INDEX = "nearly-index",
    NOT_TIED = "not-tied",
    TIED_TO_NOTHING = "tied-to-nothing",
    METHOD_HERE = "method-here",
    NEEDED_HERE = "needed-here",
}

/// The check for this: what an object should hold goes elsewhere.
pub static CHECK: Check = Check {
    id: "keeps",
    kinds: KINDS,
    applies: |query| query.file.is_some() && query.family() != Family::DoesNotParse,
    look,
};

fn look(query: &Query<'_>, seen: &mut Seen) {
    let mut wanted = on_the_way(query);
    wanted.extend(query.asked.as_deref());
    for file in query.scope.iter().filter(|f| f.language.is_code() && !f.broken) {
        for function in file.tree.all().filter(|n| n.is(Kind::Func)) {
            kept_wrongly(query, file, function, &wanted, seen);
            other_given_back(query, file, function, seen);
            if function.class().is_none() {
                set_to_itself(query, file, function, &wanted, seen);
            }
            like_a_constructor(query, file, function, seen);
        }
    }
    tables_as_types(query, seen);
}

fn tell(
    query: &Query<'_>,
    file: &FileFacts,
    line: u32,
    strength: Strength,
    says: Saying,
    seen: &mut Seen,
) {
    let suspect = seen.suspect(&file.path, line, strength, says);
    if let Some(path) = query.path() {
        suspect.saw(path, query.line, say!(NEEDED_HERE));
    }
}

/// The field of a type that an assignment's target or value means.
fn field_of<'a>(file: &'a FileFacts, class: At<'a>, node: At<'a>) -> Option<At<'a>> {
    let name = node.text()?;
    let itself = node.is(Kind::Field)
        && node.child(0).is_some_and(|o| matches!(o.text(), Some("this" | "self")));
    let bare = node.is(Kind::Name) && file.language.fields_are_bare;
    if !itself && !bare {
        return None;
    }
    file.tree.named(name).find(|n| {
        n.class() == Some(class)
            && n.function().is_none()
            && n.is(Kind::Name)
            && n.defines() == Some(How::Assigned)
    })
}

/// Assignments of a constructor or method that keep nothing.
fn kept_wrongly<'a>(
    query: &Query<'a>,
    file: &'a FileFacts,
    function: At<'a>,
    wanted: &[&str],
    seen: &mut Seen,
) {
    let Some(class) = function.class() else { return };
    let params: Vec<&str> = function.params().filter_map(At::text).collect();
    if params.is_empty() {
        return;
    }
    for assign in function.whole().filter(|n| n.is(Kind::Assign) && n.function() == Some(function))
    {
        let parts = (
            assign.part(Kind::Targets).and_then(|t| t.child(0)),
            assign.part(Kind::Values).and_then(|v| v.child(0)),
        );
        let (Some(target), Some(value)) = parts else { continue };
        let (Some(left), Some(right)) = (target.text(), value.text()) else { continue };
        let parameter =
            |n: At<'_>| n.is(Kind::Name) && n.text().is_some_and(|t| params.contains(&t));
        let says = if parameter(target) && parameter(value) && left == right {
            // The same name is that of a field, which stays as it is.
            let other = query.named(left).any(|(f, n)| {
                f.path == file.path
                    && n.class() == Some(class)
                    && n.function().is_none()
                    && n.defines() == Some(How::Assigned)
            });
            let kept = query
                .named(left)
                .any(|(f, n)| f.path == file.path && n.is(Kind::Field) && n.class() == Some(class));
            (other || kept).then(|| (left, say!(SET_TO_ITSELF, name = left)))
        } else if parameter(target) && !parameter(value) && value.is_called(right) {
            let field = field_of(file, class, value)
                .or_else(|| Some(value).filter(|v| v.is(Kind::Field) && own(*v)));
            let alike = left.trim_matches('_').eq_ignore_ascii_case(right.trim_matches('_'));
            let read_later = function.whole().any(|n| {
                n.is(Kind::Name) && n.is_called(left) && n != target && n.line() > assign.line()
            });
            (field.is_some() && alike && !read_later)
                .then(|| (right, say!(TURNED_ROUND, name = left, field = right)))
        } else if function.has(Flag::Constructor) && parameter(value) {
            let shared = field_of(file, class, target)
                .filter(|f| f.parent().and_then(At::parent).is_some_and(|a| a.has(Flag::Static)));
            match shared {
                Some(field) if wanted.contains(&left) || searched(query, left) => {
                    let line = field.line();
                    tell(
                        query,
                        file,
                        line,
                        Strength::Plain,
                        say!(SHARED_BY_ALL, name = left),
                        seen,
                    );
                    None
                }
                _ => None,
            }
        } else {
            None
        };
        if let Some((name, says)) = says {
            let near = wanted.contains(&name) || wanted.contains(&left) || searched(query, name);
            let strength = if near { Strength::Plain } else { Strength::Fair };
            tell(query, file, assign.line(), strength, says, seen);
        }
    }
}

/// A parameter is given its own value, where the object has a field called so that others read.
fn set_to_itself(
    query: &Query<'_>,
    file: &FileFacts,
    function: At<'_>,
    wanted: &[&str],
    seen: &mut Seen,
) {
    for assign in function.whole().filter(|n| n.is(Kind::Assign) && !n.has(Flag::Local)) {
        let target = assign.part(Kind::Targets).and_then(|t| t.child(0));
        let value = assign.part(Kind::Values).and_then(|v| v.child(0));
        let (Some(target), Some(value)) = (target, value) else { continue };
        let Some(name) = target.text().filter(|t| value.is(Kind::Name) && value.is_called(t))
        else {
            continue;
        };
        let parameter = target.is(Kind::Name) && function.params().any(|p| p.is_called(name));
        let read = query.named(name).any(|(_, n)| n.is(Kind::Field) && n.defines().is_none());
        if parameter && read && wanted.contains(&name) {
            let says = say!(SET_TO_ITSELF, name);
            tell(query, file, assign.line(), Strength::Plain, says, seen);
        }
    }
}

/// Whether a member is compared in a function on the way to the error.
fn searched(query: &Query<'_>, name: &str) -> bool {
    query.named(name).any(|(file, n)| {
        let compared = n.ancestors().take(3).any(|a| {
            a.is(Kind::Bin)
                && matches!(a.text(), Some("==" | "===" | "!=" | "<" | ">" | "<=" | ">="))
                || a.is(Kind::Call) && matches!(a.last_name(), Some("equals" | "Equals"))
        });
        compared
            && n.function().is_some_and(|f| {
                query.slice.iter().any(|m| {
                    m.path() == &file.path && m.line() >= f.line() && m.line() <= f.last_line()
                })
            })
    })
}

/// A function fills an object and gives back another one that is made anew.
fn other_given_back(query: &Query<'_>, file: &FileFacts, function: At<'_>, seen: &mut Seen) {
    for back in function.whole().filter(|n| n.is(Kind::Return) && n.function() == Some(function)) {
        let Some(new) = back.child(0).filter(|v| v.is(Kind::New) && v.arguments().next().is_none())
        else {
            continue;
        };
        // A variable of the same type that is filled above, and leads nowhere from there.
        let filled = function.whole().find(|n| {
            n.is(Kind::Name)
                && n.defines() == Some(How::Assigned)
                && n.line() < back.line()
                && n.assigned_value().is_some_and(|v| v.is(Kind::New) && v.text() == new.text())
        });
        let Some(name) = filled.and_then(At::text) else { continue };
        let uses: Vec<At<'_>> = function
            .whole()
            .filter(|n| n.is(Kind::Name) && n.is_called(name) && n.defines().is_none())
            .collect();
        let only_filled = !uses.is_empty()
            && uses.iter().all(|n| {
                n.parent().is_some_and(|p| {
                    matches!(p.kind(), Kind::Field | Kind::Index) && p.child(0) == Some(*n)
                })
            });
        if !only_filled {
            continue;
        }
        let strength = if query.relevance(file, back.line()) > 0.0 || calls_it(query, function) {
            Strength::Plain
        } else {
            Strength::Fair
        };
        let says = say!(OTHER_GIVEN_BACK, name, kind = new.text().unwrap_or_default());
        let suspect = seen.suspect(&file.path, back.line(), strength, says);
        suspect.saw(&file.path, uses[0].line(), say!(FILLED_HERE, name));
    }
}

/// Whether a step of the stack calls a function by its name.
fn calls_it(query: &Query<'_>, function: At<'_>) -> bool {
    let Some(name) = function.text() else { return false };
    query.steps.iter().any(|s| {
        s.function
            .or(s.file.tree.root())
            .is_some_and(|f| f.whole().any(|n| n.is(Kind::Call) && n.last_name() == Some(name)))
    })
}

/// A method bears nearly the name that makes it the constructor, and the type has none.
fn like_a_constructor(query: &Query<'_>, file: &FileFacts, function: At<'_>, seen: &mut Seen) {
    let (Some(name), Some(class)) = (function.text(), function.class()) else { return };
    let real = if file.language.declares_by_assigning { "__init__" } else { "constructor" };
    let exports = file.language.hands_out == Some(izba_model::dialect::HandsOut::Exports);
    if !file.language.declares_by_assigning && !exports || name == real {
        return;
    }
    let bare = |n: &str| n.trim_matches('_').to_lowercase();
    let near = bare(name) == bare(real)
        || izba_model::code::name_edit(name, real)
            .is_some_and(|e| e <= izba_model::code::NameEdit::Letter);
    if !near || class.children().any(|m| m.is(Kind::Func) && m.is_called(real)) {
        return;
    }
    // One that is called by its own name is meant so.
    let called = query.named(name).any(|(_, n)| n.defines().is_none());
    if called {
        return;
    }
    let about = class.text().is_some_and(|c| query.says(c))
        || function
            .whole()
            .any(|n| n.is(Kind::Field) && own(n) && n.text().is_some_and(|t| query.says(t)));
    let strength = if about { Strength::Plain } else { Strength::Strong };
    tell(query, file, function.line(), strength, say!(LIKE_A_CONSTRUCTOR, name, real), seen);
}

/// Languages in which a table is the type of others: the tie between them is missing.
fn tables_as_types(query: &Query<'_>, seen: &mut Seen) {
    let Some(asked) = query.asked.as_deref() else { return };
    let absent = query.family() == Family::ValueNotThere || query.said.contains("nil value");
    for (file, method) in query.named(asked).filter(|(f, n)| {
        absent
            && f.language.hands_out == Some(izba_model::dialect::HandsOut::Globals)
            && n.is(Kind::Func)
    }) {
        let Some(owner) = method.part(Kind::Owner).and_then(|o| o.child(0)).and_then(At::text)
        else {
            continue;
        };
        if !method.has(Flag::Method) {
            continue;
        }
        let index = |name: &str| name == "__index";
        let on_owner = |n: &At<'_>| {
            n.is(Kind::Field)
                && n.defines() == Some(How::Assigned)
                && n.child(0).is_some_and(|o| o.is_called(owner))
        };
        let tied: Vec<At<'_>> = file
            .tree
            .all()
            .filter(|n| {
                n.is(Kind::Call)
                    && n.last_name() == Some("setmetatable")
                    && n.arguments()
                        .nth(1)
                        .is_some_and(|m| m.whole().any(|w| w.is(Kind::Name) && w.is_called(owner)))
            })
            .collect();
        let has_index = file
            .tree
            .all()
            .any(|n| n.text().is_some_and(index) && matches!(n.kind(), Kind::Field | Kind::Pair));
        if !tied.is_empty() && !has_index {
            let nearly = file.tree.all().filter(on_owner).find(|n| {
                n.text().is_some_and(|t| t.trim_matches('_').eq_ignore_ascii_case("index"))
                    || n.assigned_value().is_some_and(|v| v.is(Kind::Name) && v.is_called(owner))
            });
            let (line, says) = match nearly {
                Some(n) => {
                    (n.line(), say!(NEARLY_INDEX, name = n.text().unwrap_or_default(), owner))
                }
                None => {
                    let made = file.tree.named(owner).find(|n| n.assigned_value().is_some());
                    (made.map_or(method.line(), At::line), say!(NO_INDEX, owner))
                }
            };
            let suspect = seen.suspect(&file.path, line, Strength::Plain, says);
            suspect.saw(&file.path, method.line(), say!(METHOD_HERE, name = asked));
        }
        if tied.is_empty() && !tied_to_nothing(query, file, owner, seen) {
            not_tied(file, owner, asked, method, seen);
        }
    }
}

/// What an object is tied to is a name that nothing makes.
fn tied_to_nothing(query: &Query<'_>, file: &FileFacts, owner: &str, seen: &mut Seen) -> bool {
    let wrong = file.tree.all().find_map(|n| {
        let meta = n.arguments().nth(1).filter(|_| n.last_name() == Some("setmetatable"))?;
        let name = meta.text().filter(|_| meta.is(Kind::Name))?;
        let unmade = super::flow::bindings(file, meta, name).is_empty()
            && query.named(name).all(|(_, m)| m.defines().is_none());
        unmade.then_some((n, name))
    });
    let Some((call, name)) = wrong else { return false };
    seen.suspect(&file.path, call.line(), Strength::Plain, say!(TIED_TO_NOTHING, name, owner));
    true
}

/// The function that makes objects gives back a plain table.
fn not_tied(file: &FileFacts, owner: &str, asked: &str, method: At<'_>, seen: &mut Seen) {
    let makers = file.tree.all().filter(|n| {
        n.is(Kind::Func)
            && !n.has(Flag::Method)
            && n.part(Kind::Owner).and_then(|o| o.child(0)).is_some_and(|o| o.is_called(owner))
    });
    for maker in makers {
        let given: Vec<&str> = maker
            .whole()
            .filter(|n| n.is(Kind::Return) && n.function() == Some(maker))
            .filter_map(|r| r.child(0).filter(|v| v.is(Kind::Name)).and_then(At::text))
            .collect();
        let made = maker.whole().find(|n| {
            n.is(Kind::Name)
                && n.defines() == Some(How::Assigned)
                && n.text().is_some_and(|t| given.contains(&t))
                && n.assigned_value().is_some_and(|v| v.is(Kind::Table))
        });
        if let Some(made) = made {
            let suspect =
                seen.suspect(&file.path, made.line(), Strength::Plain, say!(NOT_TIED, owner));
            suspect.saw(&file.path, method.line(), say!(METHOD_HERE, name = asked));
        }
    }
}
