//! Fields that are read and that no line sets.

use super::says::{
    HIDDEN_BY_LOCAL, NEVER_MADE, NEVER_SET, NEVER_SET_IDLE, NEVER_SET_OWN, READ_HERE, SET_ALONE,
    is_known_outside, on_the_way, own,
};
use crate::suspect::check::{Seen, Strength};
use crate::suspect::query::Query;
use crate::suspect::symbols::As;
use crate::suspect::value::{Eval, What};
use izba_model::code::{At, FileFacts, Flag, How, Kind, NameEdit};
use izba_model::say;

/// A member that is read on the way and that no line sets.
pub(super) fn never_set<'a>(query: &Query<'a>, seen: &mut Seen) {
    // A compiler that misses a member of a type saw no value at all.
    if query.said.contains("does not exist on type") {
        return;
    }
    let mut names = on_the_way(query);
    // The sentence names it, where it says that an object has no such attribute.
    let asked = query.said.contains("has no attribute") && !query.said.contains("NoneType");
    names.extend(query.asked.as_deref().filter(|_| asked));
    names.sort_unstable();
    names.dedup();
    for name in names {
        let all: Vec<(&'a FileFacts, At<'a>)> = query
            .symbols
            .occurrences(name)
            .iter()
            .filter_map(|s| Some((s.file, s.node?)))
            .collect();
        let reads: Vec<(&'a FileFacts, At<'a>)> = all
            .iter()
            .copied()
            .filter(|(f, n)| match n.kind() {
                Kind::Field => n.defines().is_none(),
                Kind::Name => f.language.fields_are_bare && n.defines().is_none(),
                _ => false,
            })
            .filter(|(_, n)| {
                !n.parent().is_some_and(|p| p.is(Kind::Call) && p.child(0) == Some(*n))
            })
            .collect();
        if reads.is_empty() || is_known_outside(query, name) {
            continue;
        }
        let declared: Vec<At<'a>> = all
            .iter()
            .map(|(_, n)| *n)
            .filter(|n| n.is_bare() && n.function().is_none() && n.class().is_some())
            .collect();
        if declared.is_empty() {
            // What objects of other types are given is no value of this one.
            let class = class_on_way(query, name);
            let of_class = class.map_or(Vec::new(), |class| {
                let of_it = |n: &At<'a>| own(*n) && n.class() == Some(class);
                reads.iter().copied().filter(|(_, n)| of_it(n)).collect()
            });
            let unset_there = class.is_some_and(|class| {
                let family = family_of(query, class);
                let here = |n: &At<'a>| n.class().is_none_or(|c| !own(*n) || family.contains(&c));
                let near: Vec<_> = all.iter().copied().filter(|(_, n)| here(n)).collect();
                !of_class.is_empty() && !is_set(query, &near, &of_class, name)
            });
            if unset_there {
                tell_never_set(query, name, &of_class, None, seen);
            } else if !is_set(query, &all, &reads, name) {
                tell_never_set(query, name, &reads, None, seen);
            }
        }
        for member in declared {
            let class = member.class();
            let read =
                reads.iter().any(|(_, n)| n.class() == class || n.is(Kind::Field) && !own(*n));
            let of_words = query.file.is_some_and(|f| f.language.checked)
                && member.parent().and_then(At::parent).is_some_and(|a| declared_type(a).is_none());
            if read && !of_words && !all.iter().any(|(f, n)| sets_member(f, *n, class)) {
                tell_never_set(query, name, &reads, Some(member), seen);
            }
        }
    }
}

/// The type in whose code a member of this name is asked of the object itself, on the way to the
/// error.
fn class_on_way<'a>(query: &Query<'a>, name: &str) -> Option<At<'a>> {
    let on_way = query.slice.iter().filter(|m| m.weight > 0.3).filter_map(|m| m.node);
    let mut reads = query.on_line().chain(on_way);
    reads.find(|n| n.is(Kind::Field) && n.is_called(name) && own(*n))?.class()
}

/// A type with those that it is derived from and those that are derived from one of these.
fn family_of<'a>(query: &Query<'a>, class: At<'a>) -> Vec<At<'a>> {
    let code = query.scope.iter().filter(|f| f.language.is_code());
    let all: Vec<At<'a>> = code.flat_map(|f| f.tree.all()).filter(|n| n.is(Kind::Class)).collect();
    let bases = |c: At<'a>| {
        let named = c.part(Kind::Bases).into_iter().flat_map(At::children);
        named.filter_map(At::last_name).collect::<Vec<_>>()
    };
    let mut family = vec![class];
    let mut next = 0;
    while let Some(one) = family.get(next).copied() {
        next += 1;
        let above = bases(one);
        for other in &all {
            let ties = other.text().is_some_and(|t| above.contains(&t))
                || one.text().is_some_and(|t| bases(*other).contains(&t));
            if ties && !family.contains(other) {
                family.push(*other);
            }
        }
    }
    family
}

/// Whether a line sets a member of this type: from inside, or from outside on some object.
pub(super) fn sets_member(file: &FileFacts, node: At<'_>, class: Option<At<'_>>) -> bool {
    let target = node.parent().filter(|p| p.is(Kind::Targets)).and_then(At::parent);
    let Some(assign) = target.filter(|a| a.is(Kind::Assign)) else { return false };
    if node.is_bare() {
        return false;
    }
    match node.kind() {
        Kind::Field => !own(node) || node.class() == class,
        Kind::Name if node.class() == class => {
            // A variable of a function that bears its name is another one.
            let local = node.function().is_some()
                && (assign.has(Flag::Local) || assign.part(Kind::Type).is_some());
            !local || !file.language.fields_are_bare
        }
        _ => false,
    }
}

/// The type that a declaration names; of one with parameters, the outer one.
fn declared_type(declaration: At<'_>) -> Option<&str> {
    let plain = declaration.part(Kind::Type);
    let with_parameters = || {
        let parts = declaration.children().filter(|c| c.is(Kind::Other));
        parts.filter_map(|o| o.child(0)).find(|t| t.is(Kind::Type))
    };
    plain.or_else(with_parameters).and_then(At::text)
}

/// Whether a field is declared as a list, map or the like of the language.
fn is_container(field: At<'_>) -> bool {
    let declaration = field.parent().and_then(At::parent);
    let kind = declaration.and_then(declared_type).unwrap_or_default();
    ["List", "Map", "Set", "Dictionary", "Queue", "Stack", "Deque", "Vector"]
        .iter()
        .any(|c| kind.split(['<', '[']).next().is_some_and(|k| k.ends_with(c)))
}

/// Whether an assignment only counts on from what its own target held before, as `x = x + 1` does:
/// that gives no first value. What helps itself out, as `x = x or 0`, does.
pub(crate) fn counts_on_itself(target: At<'_>) -> bool {
    let Some(value) = target.assigned_value() else { return false };
    let helped = |read: At<'_>| {
        let mut within = read.ancestors().take_while(|a| !a.is(Kind::Assign));
        within.any(|a| a.is(Kind::Bin) && matches!(a.text(), Some("or" | "||" | "??")))
    };
    value.whole().any(|read| {
        read.kind() == target.kind()
            && read.text() == target.text()
            && read.child(0).and_then(At::text) == target.child(0).and_then(At::text)
            && !helped(read)
    })
}

/// Whether anything in code or data gives a field of this name a value.
pub(super) fn is_set<'a>(
    query: &Query<'a>,
    all: &[(&'a FileFacts, At<'a>)],
    reads: &[(&'a FileFacts, At<'a>)],
    name: &str,
) -> bool {
    let bare = reads.iter().any(|(_, n)| n.is(Kind::Name));
    let itself = reads.iter().all(|(_, n)| own(*n));
    let by_code = all.iter().any(|(f, n)| match n.defines() {
        Some(How::Assigned) if counts_on_itself(*n) => false,
        Some(How::Assigned) => {
            let class_level = n.function().is_none() && n.class().is_some();
            n.is(Kind::Field) || bare || class_level
        }
        Some(How::Function) => {
            n.class().is_some()
                || n.part(Kind::Owner).is_some()
                || n.parent().is_some_and(|p| p.is(Kind::Table))
        }
        Some(How::Key) => !itself,
        Some(How::Class | How::Import) => bare,
        // What is handed out of a script by its name.
        None if n.is(Kind::Str) => true,
        _ => {
            f.language.checked
                && n.parent().is_some_and(|p| {
                    p.is(Kind::Targets) && p.parent().is_some_and(|a| a.has(Flag::Augmented))
                })
        }
    });
    let by_data = query.symbols.occurrences(name).iter().any(|s| s.as_what == As::DataKey);
    let slip = || {
        let made = |o: &[crate::suspect::Occurrence<'_>]| {
            o.iter().any(|s| {
                let method = s.node.is_some_and(|n| {
                    n.is(Kind::Func) && (n.class().is_some() || n.part(Kind::Owner).is_some())
                });
                matches!(s.as_what, As::Made(How::Assigned | How::Key))
                    || s.as_what == As::DataKey
                    || method
            })
        };
        let near = query.symbols.near(name, |w, o| made(o) && !crate::suspect::plural(w, name));
        near.first().is_some_and(|(_, edit)| *edit <= NameEdit::Letter)
    };
    by_code || by_data && !itself || slip()
}

pub(super) fn tell_never_set<'a>(
    query: &Query<'a>,
    name: &str,
    reads: &[(&'a FileFacts, At<'a>)],
    declared: Option<At<'a>>,
    seen: &mut Seen,
) {
    // A variable of the same name, made anew where the field should have been set.
    let hiding =
        query.symbols.occurrences(name).iter().filter_map(|s| Some((s.file, s.node?))).find(
            |(_, n)| {
                n.is(Kind::Name)
                    && n.defines() == Some(How::Assigned)
                    && declared.is_some_and(|d| d.class() == n.class())
                    && n.function().is_some()
            },
        );
    if let Some((file, hiding)) = hiding {
        let suspect =
            seen.suspect(&file.path, hiding.line(), Strength::Plain, say!(HIDDEN_BY_LOCAL, name));
        if let Some(declared) = declared {
            suspect.saw(&file.path, declared.line(), say!(READ_HERE));
        }
        return;
    }
    // The same without a declaration: a variable of the constructor that nothing reads.
    let own_class = reads.iter().find_map(|(f, n)| Some((*f, n.class().filter(|_| own(*n))?)));
    if let Some((file, class)) = own_class.filter(|_| declared.is_none()) {
        let lost = file.tree.named(name).find(|n| {
            n.is(Kind::Name)
                && n.defines() == Some(How::Assigned)
                && n.class() == Some(class)
                && n.function().is_some_and(|f| {
                    !f.params().any(|p| p.is_called(name))
                        && f.whole().filter(|o| o.is(Kind::Name) && o.is_called(name)).count() == 1
                })
        });
        if let Some(lost) = lost {
            let suspect =
                seen.suspect(&file.path, lost.line(), Strength::Plain, say!(HIDDEN_BY_LOCAL, name));
            suspect.saw(&file.path, reads[0].1.line(), say!(READ_HERE));
            return;
        }
    }
    // Set by its name alone, in a function that sets others of the object itself.
    if let Some((file, alone)) = set_alone(query, reads, name).filter(|_| declared.is_none()) {
        let suspect =
            seen.suspect(&file.path, alone.line(), Strength::Plain, say!(SET_ALONE, name));
        suspect.saw(&file.path, reads[0].1.line(), say!(READ_HERE));
        return;
    }
    // Where the others of the same object are set.
    let class = declared
        .and_then(At::class)
        .or_else(|| reads.iter().find_map(|(_, n)| n.class().filter(|_| own(*n))));
    let home = |class: At<'_>| {
        reads
            .iter()
            .map(|(f, _)| *f)
            .chain(query.scope.iter().copied())
            .find(|f| f.tree.at(class.id()) == Some(class))
            .map(|f| f.path.clone())
    };
    if let Some(class) = class
        && let Some(path) = home(class)
    {
        // A method takes something and does nothing with it.
        let keeps_others =
            |m: At<'_>| m.whole().any(|n| n.is(Kind::Field) && n.defines().is_some());
        let idle = class.children().filter(|m| m.is(Kind::Func) && !keeps_others(*m)).find(|m| {
            let mut params =
                m.params().filter(|p| !matches!(p.text(), Some("self" | "cls"))).peekable();
            params.peek().is_some()
                && m.part(Kind::Block).is_some_and(|b| b.children().next().is_some())
                && params.any(|p| {
                    let same_type = declared.is_none_or(|d| {
                        let of = d
                            .parent()
                            .and_then(At::parent)
                            .and_then(|a| a.part(Kind::Type))
                            .and_then(At::text);
                        of.is_some() && of == p.part(Kind::Type).and_then(At::text)
                    });
                    let named = p.is_called(name) || declared.is_some();
                    same_type
                        && named
                        && !m.whole().any(|n| n.is(Kind::Name) && n.text() == p.text())
                })
        });
        if let Some(idle) = idle {
            let suspect = seen.suspect(
                &path,
                idle.line(),
                Strength::Plain,
                say!(NEVER_SET_IDLE, name, function = idle.text().unwrap_or_default()),
            );
            suspect.to(idle.last_line());
            if let Some((file, read)) = reads.first() {
                suspect.saw(&file.path, read.line(), say!(READ_HERE));
            }
            return;
        }
        if declared.is_some() && set_from_outside(query, class, name, declared, seen) {
            return;
        }
        if let Some(field) = declared.filter(|d| is_container(*d))
            && !class.children().any(|m| {
                m.is(Kind::Func)
                    && m.has(Flag::Constructor)
                    && m.whole()
                        .any(|n| n.is(Kind::New) && n.parent().is_some_and(|p| p.is(Kind::Values)))
            })
        {
            let suspect =
                seen.suspect(&path, field.line(), Strength::Plain, say!(NEVER_MADE, name));
            if let Some((file, read)) = reads.first() {
                suspect.saw(&file.path, read.line(), say!(READ_HERE));
            }
            return;
        }
        let constructor = class.children().find(|m| {
            m.is(Kind::Func)
                && (m.has(Flag::Constructor)
                    || matches!(m.text(), Some("__init__" | "constructor")))
        });
        let sets = |function: At<'_>| -> Vec<u32> {
            let bare = declared.is_some();
            function
                .whole()
                .filter(|n| {
                    n.defines() == Some(How::Assigned)
                        && (n.is(Kind::Field) && own(*n) || bare && n.is(Kind::Name))
                })
                .map(|n| n.line())
                .collect()
        };
        let lines = constructor.map(sets).unwrap_or_default();
        if let Some(to) = lines.iter().max() {
            let line = constructor.map_or(*to, |c| place_in(c, name, declared, &lines));
            let suspect = seen.suspect(&path, line, Strength::Plain, say!(NEVER_SET, name));
            suspect.to((*to).max(line));
            if let Some((file, read)) = reads.first() {
                suspect.saw(&file.path, read.line(), say!(READ_HERE));
            }
            return;
        }
        if let Some(constructor) = constructor {
            seen.suspect(&path, constructor.line(), Strength::Fair, say!(NEVER_SET, name))
                .to(constructor.last_line());
            return;
        }
    }
    // The others are set on an object that was just made.
    if let Some(class) = class.filter(|_| declared.is_some()) {
        let members: Vec<&str> =
            class.children().filter_map(|m| m.part(Kind::Targets)?.child(0)?.text()).collect();
        let sets: Vec<(&FileFacts, At<'_>)> = query
            .scope
            .iter()
            .flat_map(|f| f.tree.all().map(move |n| (*f, n)))
            .filter(|(_, n)| {
                n.is(Kind::Field)
                    && n.defines() == Some(How::Assigned)
                    && !own(*n)
                    && n.text().is_some_and(|t| members.contains(&t))
            })
            .collect();
        if let Some((file, set)) = sets.iter().max_by_key(|(_, n)| n.line()) {
            let suspect =
                seen.suspect(&file.path, set.line(), Strength::Plain, say!(NEVER_SET_OWN, name));
            suspect.to(set.line() + 1);
            return;
        }
    }
    // A function that makes objects when it is called with `new`, named like what is read.
    for (file, read) in reads {
        let Some(owner) = read.child(0).and_then(At::last_name) else { continue };
        let begins = query.scope.iter().find_map(|f| {
            let found = f.tree.all().find(|n| {
                n.is(Kind::Func)
                    && n.text().is_some_and(|t| {
                        t.starts_with(char::is_uppercase) && t.eq_ignore_ascii_case(owner)
                    })
                    && n.whole().any(|s| s.is(Kind::Field) && own(s) && s.defines().is_some())
            })?;
            Some((*f, found))
        });
        let Some((home, begins)) = begins else { continue };
        let lines: Vec<u32> = begins
            .whole()
            .filter(|n| n.is(Kind::Field) && own(*n) && n.defines().is_some())
            .map(At::line)
            .collect();
        let Some(to) = lines.iter().max().copied() else { continue };
        let suspect = seen.suspect(&home.path, to, Strength::Plain, say!(NEVER_SET_OWN, name));
        suspect.saw(&file.path, read.line(), say!(READ_HERE));
        return;
    }
    // A function beside the method that reads it, which makes the objects and sets the others.
    for (file, read) in reads.iter().filter(|(_, n)| own(*n)) {
        let owner = |f: At<'a>| f.part(Kind::Owner).and_then(At::last_name);
        let Some(method) = read.function().filter(|f| owner(*f).is_some()) else { continue };
        let sets = |f: At<'a>| -> Vec<u32> {
            let set = |n: &At<'a>| {
                n.is(Kind::Field) && n.defines() == Some(How::Assigned) && !counts_on_itself(*n)
            };
            f.whole().filter(set).map(At::line).collect()
        };
        let makers = file.tree.all().filter(|f| {
            f.is(Kind::Func) && owner(*f) == owner(method) && !f.has(Flag::Method) && *f != method
        });
        let Some(lines) = makers.map(sets).max_by_key(Vec::len).filter(|l| !l.is_empty()) else {
            continue;
        };
        let last = lines[lines.len() - 1];
        let suspect = seen.suspect(&file.path, last, Strength::Plain, say!(NEVER_SET_OWN, name));
        suspect.to(last + 1).saw(&file.path, read.line(), say!(READ_HERE));
        return;
    }
    // A script of plain settings: `S.cards = …`.
    for (_, read) in reads {
        let mut eval = Eval::new(query);
        let Some((file, _)) = reads.iter().find(|(_, n)| n == read) else { continue };
        let Some(of) = read.child(0) else { continue };
        let made = eval.of(file, of).list.into_iter().find_map(|v| match v.what {
            What::Table(table) => Some((v.file, table)),
            _ => None,
        });
        let Some((home, table)) = made else { continue };
        let (puts, _) = eval.puts(home, table);
        let mut lines: Vec<u32> = puts
            .iter()
            .filter(|p| {
                p.named.is_some()
                    && p.file.path == home.path
                    && p.value.is_none_or(|v| !v.is(Kind::Func))
            })
            .map(|p| p.at.line())
            .collect();
        lines.extend(table.children().filter(|c| c.is(Kind::Pair)).map(At::line));
        if let (Some(from), Some(to)) = (lines.iter().min(), lines.iter().max()) {
            let suspect =
                seen.suspect(&home.path, *from, Strength::Plain, say!(NEVER_SET_OWN, name));
            suspect.to(*to).saw(&file.path, read.line(), say!(READ_HERE));
            return;
        }
    }
}

/// A variable that nothing declares, of the name of a field that is read, in a function which sets
/// others of its object.
fn set_alone<'a>(
    query: &Query<'a>,
    reads: &[(&'a FileFacts, At<'a>)],
    name: &str,
) -> Option<(&'a FileFacts, At<'a>)> {
    let marks = |f: &FileFacts| !f.language.fields_are_bare && !f.language.declares_by_assigning;
    let mut sets = query.named(name).filter(|(f, n)| {
        let assign = n.parent().and_then(At::parent);
        marks(f)
            && n.is(Kind::Name)
            && n.defines() == Some(How::Assigned)
            && !assign.is_some_and(|a| a.has(Flag::Local))
            && n.function().is_some_and(|function| {
                function.whole().any(|o| o.is(Kind::Field) && own(o) && o.defines().is_some())
            })
    });
    let found = sets.next().filter(|_| sets.next().is_none())?;
    reads.iter().all(|(_, n)| n.is(Kind::Field)).then_some(found)
}

/// The type's other fields are set by somebody else, who is of the type that this field holds.
pub(super) fn set_from_outside(
    query: &Query<'_>,
    class: At<'_>,
    name: &str,
    declared: Option<At<'_>>,
    seen: &mut Seen,
) -> bool {
    let of = declared
        .and_then(At::parent)
        .and_then(At::parent)
        .and_then(|a| a.part(Kind::Type))
        .and_then(At::text);
    let Some(of) = of else { return false };
    let members: Vec<&str> =
        class.children().filter_map(|m| m.part(Kind::Targets)?.child(0)?.text()).collect();
    for file in query.scope.iter().filter(|f| f.language.is_code()) {
        for holder in file.tree.named(of).filter(|n| n.is(Kind::Class) && *n != class) {
            for function in holder.children().filter(|m| m.is(Kind::Func)) {
                let sets: Vec<u32> = function
                    .whole()
                    .filter(|n| {
                        n.is(Kind::Field)
                            && n.defines() == Some(How::Assigned)
                            && !own(*n)
                            && n.text().is_some_and(|t| members.contains(&t))
                            && n.child(0)
                                .is_some_and(|o| function.params().any(|p| p.text() == o.text()))
                    })
                    .map(|n| n.line())
                    .collect();
                if let (Some(from), Some(to)) = (sets.iter().min(), sets.iter().max()) {
                    seen.suspect(&file.path, *from, Strength::Plain, say!(NEVER_SET_OWN, name))
                        .to(*to);
                    return true;
                }
            }
        }
    }
    false
}

/// The line of a constructor at which a field would be set: after that of the one that is declared
/// or taken before it.
pub(super) fn place_in(
    constructor: At<'_>,
    name: &str,
    declared: Option<At<'_>>,
    lines: &[u32],
) -> u32 {
    let set = |word: &str| {
        constructor
            .whole()
            .find(|n| n.defines() == Some(How::Assigned) && n.is_called(word))
            .map(|n| n.line())
    };
    // In the order of the parameters, where one of them is not kept.
    let params: Vec<&str> = constructor.params().filter_map(At::text).collect();
    if let Some(at) = params.iter().position(|p| *p == name) {
        let before = params[..at].iter().rev().find_map(|p| set(p));
        if let Some(line) = before {
            return line;
        }
    }
    // In the order of the declarations.
    if let Some(declared) = declared {
        let members: Vec<&str> = declared
            .class()
            .into_iter()
            .flat_map(At::children)
            .filter_map(|m| m.part(Kind::Targets)?.child(0)?.text())
            .collect();
        if let Some(at) = members.iter().position(|m| *m == name) {
            if let Some(line) = members[..at].iter().rev().find_map(|m| set(m)) {
                return line;
            }
            if let Some(line) = members[at + 1..].iter().find_map(|m| set(m)) {
                return line.saturating_sub(1);
            }
        }
    }
    lines.iter().min().copied().unwrap_or(1)
}
