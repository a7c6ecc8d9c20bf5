//! never: what should have happened and has no place in the program: a field that nobody sets, a
//! beginning that is not handed on to the base, a function that gives nothing back, a method that
//! would fill a list and that nobody calls.

use super::check::{Check, Seen};
use super::flow::bindings;
use super::query::Query;
use super::symbols::{As, BEGINNINGS};
use crate::value::{Eval, What};
use izba_model::Family;
use izba_model::code::{At, FileFacts, Flag, How, Kind, NameEdit, name_edit};
use izba_model::dialect::HandsOut;
use izba_model::{say, sayings};

sayings! {
    "never", Absence, "../../words/suspects/never.toml";
    NEVER_SET = "never-set",
    NEVER_SET_OWN = "never-set-own",
    NEVER_SET_IDLE = "never-set-idle",
    WRITE_ONLY = "write-only",
    FORGOTTEN_LOOKUP = "forgotten-lookup",
    NEVER_READ = "never-read",
    HIDDEN_BY_LOCAL = "hidden-by-local",
    NO_SUPER = "no-super",
    NO_SUPER_KNOWN = "no-super-known",
    NO_RETURN = "no-return",
    NO_RETURN_HERE = "no-return-here",
    NEEDED_HERE = "needed-here",
    OTHER_OVERRIDE = "other-override",
    WAITS_HERE = "waits-here",
    NOT_CALLED = "not-called",
    FILLS_HERE = "fills-here",
    READ_HERE = "read-here",
    LATE_LOCAL = "late-local",
    LOST_LOCAL = "lost-local",
    NO_FIRST_VALUE = "no-first-value",
}

/// The check for this: what should have happened and has no place in the program.
pub static CHECK: Check = Check {
    id: "never",
    kinds: KINDS,
    applies: |query| query.file.is_some() && query.family() != Family::DoesNotParse,
    look,
};

fn look(query: &Query<'_>, seen: &mut Seen) {
    never_set(query, seen);
    no_super(query, seen);
    no_return(query, seen);
    other_override(query, seen);
    not_called(query, seen);
    late_locals(query, seen);
    write_only(query, seen);
    forgotten_lookup(query, seen);
    no_base_call(query, seen);
}

/// A member that is set once and never read, and nearly called like one that is read on the way.
fn write_only(query: &Query<'_>, seen: &mut Seen) {
    let wanted = on_the_way(query);
    for file in query.scope.iter().filter(|f| f.language.is_code()) {
        for set in
            file.tree.all().filter(|n| n.is(Kind::Field) && n.defines() == Some(How::Assigned))
        {
            let Some(name) = set.text().filter(|n| n.len() > 2 && query.symbols.count(n) == 1)
            else {
                continue;
            };
            let slip = wanted.iter().find_map(|w| {
                let edit = name_edit(name, w).filter(|e| *e == NameEdit::Letter && *w != name)?;
                let kept = set.assigned_value().is_some_and(|v| v.last_name() == Some(*w));
                let plain = !super::plural(name, w) || kept;
                plain.then_some((*w, edit))
            });
            let Some((other, edit)) = slip else { continue };
            let reason = say!(WRITE_ONLY, name, other, edit = edit.says());
            let suspect = seen.suspect(&file.path, set.line(), 0.9, reason);
            if let Some(path) = query.path() {
                suspect.saw(path, query.line, say!(READ_HERE));
            }
        }
    }
}

/// A table that nothing reads, and a field that holds what the table's keys are: the entry was meant.
fn forgotten_lookup(query: &Query<'_>, seen: &mut Seen) {
    let names = on_the_way(query);
    for home in query.scope.iter().filter(|f| f.language.is_code()) {
        for table in home.tree.all().filter(|n| n.is(Kind::Table)) {
            let target = table.parent().filter(|p| p.is(Kind::Values)).and_then(At::parent);
            let Some(name) = target
                .and_then(|a| a.part(Kind::Targets)?.child(0))
                .filter(|t| t.is(Kind::Name))
                .and_then(At::text)
            else {
                continue;
            };
            let keys: Vec<&str> =
                table.children().filter(|c| c.is(Kind::Pair)).filter_map(At::text).collect();
            if keys.len() < 2 || query.symbols.count(name) != 1 {
                continue;
            }
            for field in &names {
                let sets =
                    query.symbols.occurrences(field).iter().filter_map(|s| Some((s.file, s.node?)));
                let sets =
                    sets.filter(|(_, n)| n.is(Kind::Field) && n.defines() == Some(How::Assigned));
                for (file, set) in sets {
                    let Some(value) = set.assigned_value() else { continue };
                    let held = Eval::new(query).of(file, value);
                    let words: Vec<String> =
                        held.list.iter().filter_map(crate::value::Val::word).collect();
                    if words.len() >= 2
                        && !held.lost
                        && words.iter().all(|w| keys.contains(&w.as_str()))
                    {
                        let reason = say!(FORGOTTEN_LOOKUP, name = *field, table = name);
                        let suspect = seen.suspect(&file.path, set.line(), 0.9, reason);
                        suspect.saw(&home.path, table.line(), say!(NEVER_READ, name));
                    }
                }
            }
        }
    }
}

/// A function that makes objects is told to be of another one's kind, and does not begin as that one
/// does: `Base.call(this, …)` is missing.
fn no_base_call(query: &Query<'_>, seen: &mut Seen) {
    for file in query.scope.iter().filter(|f| f.language.hands_out == Some(HandsOut::Exports)) {
        for function in file.tree.all().filter(|n| n.is(Kind::Func)) {
            let Some(name) = function.text().filter(|n| n.starts_with(char::is_uppercase)) else {
                continue;
            };
            let sets =
                function.whole().any(|n| n.is(Kind::Field) && own(n) && n.defines().is_some());
            let begins_as = |base: &str| {
                function.whole().any(|n| {
                    n.is(Kind::Field)
                        && matches!(n.text(), Some("call" | "apply"))
                        && n.child(0).is_some_and(|o| o.last_name() == Some(base))
                })
            };
            // `inherit(Name, Base)`, `Name.prototype = Object.create(Base.prototype)`.
            let base = file.tree.named(name).filter(|n| n.is(Kind::Name)).find_map(|n| {
                let call = n.parent().filter(|p| p.is(Kind::Call) && p.child(0) != Some(n))?;
                let mut arguments = call.arguments();
                let (one, other) = (arguments.next()?, arguments.next()?);
                let base = other
                    .text()
                    .filter(|t| other.is(Kind::Name) && t.starts_with(char::is_uppercase))?;
                (one == n && arguments.next().is_none()).then_some(base)
            });
            let Some(base) = base.filter(|b| sets && !begins_as(b)) else { continue };
            let fields: Vec<&str> = query
                .symbols
                .occurrences(base)
                .iter()
                .filter_map(|s| s.node.filter(|n| n.is(Kind::Func)))
                .flat_map(At::whole)
                .filter(|n| n.is(Kind::Field) && own(*n) && n.defines().is_some())
                .filter_map(At::text)
                .collect();
            if fields.is_empty() {
                continue;
            }
            let reason = say!(NO_SUPER, name, base, fields = fields.as_slice());
            seen.suspect(&file.path, function.line(), 0.9, reason).to(function.line() + 1);
        }
    }
}

/// Names that the error may have been looking for: its subjects, and what lies on the way to them.
fn on_the_way<'a>(query: &Query<'a>) -> Vec<&'a str> {
    let mut names: Vec<&'a str> = query.subject_names();
    let near = query.slice.iter().filter(|m| m.weight > 0.3).filter_map(|m| m.node);
    names.extend(near.filter(|n| n.is(Kind::Field) || n.is(Kind::Name)).filter_map(At::text));
    let needed = super::need::needs(query);
    names.extend(needed.iter().filter(|(n, _)| n.is(Kind::Field)).filter_map(|(n, _)| n.text()));
    names.sort_unstable();
    names.dedup();
    names
}

/// A member that is read on the way and that no line sets.
fn never_set<'a>(query: &Query<'a>, seen: &mut Seen) {
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
        if declared.is_empty() && !is_set(query, &all, &reads, name) {
            tell_never_set(query, name, &reads, None, seen);
        }
        for member in declared {
            let class = member.class();
            let read =
                reads.iter().any(|(_, n)| n.class() == class || n.is(Kind::Field) && !own(*n));
            let of_words = query.file.is_some_and(|f| f.language.checked)
                && member
                    .parent()
                    .and_then(At::parent)
                    .is_some_and(|a| a.part(Kind::Type).is_none());
            if read && !of_words && !all.iter().any(|(f, n)| sets_member(f, *n, class)) {
                tell_never_set(query, name, &reads, Some(member), seen);
            }
        }
    }
}

/// Whether a line sets a member of this type: from inside, or from outside on some object.
fn sets_member(file: &FileFacts, node: At<'_>, class: Option<At<'_>>) -> bool {
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

/// Whether anything in code or data gives a field of this name a value.
fn is_set<'a>(
    query: &Query<'a>,
    all: &[(&'a FileFacts, At<'a>)],
    reads: &[(&'a FileFacts, At<'a>)],
    name: &str,
) -> bool {
    let bare = reads.iter().any(|(_, n)| n.is(Kind::Name));
    let itself = reads.iter().all(|(_, n)| own(*n));
    let by_code = all.iter().any(|(f, n)| match n.defines() {
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
        let made = |o: &[super::Occurrence<'_>]| {
            o.iter().any(|s| {
                matches!(s.as_what, As::Made(How::Assigned | How::Key)) || s.as_what == As::DataKey
            })
        };
        let near = query.symbols.near(name, |w, o| made(o) && !super::plural(w, name));
        near.first().is_some_and(|(_, edit)| *edit <= NameEdit::Letter)
    };
    by_code || by_data && !itself || slip()
}

/// Whether a name comes from the language or a library.
fn is_known_outside(query: &Query<'_>, name: &str) -> bool {
    super::is_outside_name(query.index, query.file.map(|f| f.language), name)
}

fn tell_never_set<'a>(
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
        let suspect = seen.suspect(&file.path, hiding.line(), 0.9, say!(HIDDEN_BY_LOCAL, name));
        if let Some(declared) = declared {
            suspect.saw(&file.path, declared.line(), say!(READ_HERE));
        }
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
        let idle = class.children().filter(|m| m.is(Kind::Func)).find(|m| {
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
                0.89,
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
        if let (Some(from), Some(to)) = (lines.iter().min(), lines.iter().max()) {
            let line = constructor.map_or(*to, |c| place_in(query, c, name, declared, &lines));
            let suspect = seen.suspect(&path, line, 0.86, say!(NEVER_SET, name));
            suspect.to((*to).max(line)).saw(&path, *from, say!(READ_HERE));
            if let Some((file, read)) = reads.first() {
                suspect.saw(&file.path, read.line(), say!(READ_HERE));
            }
            return;
        }
        if let Some(constructor) = constructor {
            seen.suspect(&path, constructor.line(), 0.7, say!(NEVER_SET, name))
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
            let suspect = seen.suspect(&file.path, set.line(), 0.86, say!(NEVER_SET_OWN, name));
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
        let (Some(from), Some(to)) = (lines.iter().min().copied(), lines.iter().max().copied())
        else {
            continue;
        };
        let suspect = seen.suspect(&home.path, to, 0.86, say!(NEVER_SET_OWN, name));
        suspect.saw(&home.path, from, say!(READ_HERE)).saw(
            &file.path,
            read.line(),
            say!(READ_HERE),
        );
        return;
    }
    // A script of plain settings: `S.cards = …`.
    for (_, read) in reads {
        let Some(owner) = read.child(0).and_then(At::last_name) else { continue };
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
            let suspect = seen.suspect(&home.path, *from, 0.86, say!(NEVER_SET_OWN, name));
            suspect.to(*to).saw(&file.path, read.line(), say!(READ_HERE));
            let _ = owner;
            return;
        }
    }
}

/// The type's other fields are set by somebody else, who is of the type that this field holds.
fn set_from_outside(
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
                    seen.suspect(&file.path, *from, 0.86, say!(NEVER_SET_OWN, name)).to(*to);
                    return true;
                }
            }
        }
    }
    false
}

/// The line of a constructor at which a field would be set: after that of the one that is declared
/// or taken before it.
fn place_in(
    query: &Query<'_>,
    constructor: At<'_>,
    name: &str,
    declared: Option<At<'_>>,
    lines: &[u32],
) -> u32 {
    let _ = query;
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

/// Whether a member is asked of the object itself.
fn own(node: At<'_>) -> bool {
    node.child(0).is_some_and(|o| matches!(o.text(), Some("self" | "this")))
}

/// A type begins without the beginning of its base.
fn no_super(query: &Query<'_>, seen: &mut Seen) {
    for file in query.scope.iter().filter(|f| f.language.is_code()) {
        for class in file.tree.all().filter(|n| n.is(Kind::Class)) {
            let Some(base) = class.part(Kind::Bases).and_then(|b| b.child(0)) else { continue };
            let Some(base_name) = base.last_name().or(base.text()) else { continue };
            let constructor = class
                .children()
                .find(|m| m.is(Kind::Func) && matches!(m.text(), Some("__init__" | "constructor")));
            let Some(constructor) = constructor else { continue };
            let hands_on = constructor
                .whole()
                .any(|n| n.is_called("super") || n.is_called("__init__") && n.is(Kind::Field));
            if hands_on {
                continue;
            }
            let name = class.text().unwrap_or_default();
            let known = query
                .scope
                .iter()
                .find_map(|f| f.tree.named(base_name).find(|n| n.is(Kind::Class)).map(|n| (*f, n)));
            let fields: Vec<&str> = match known {
                Some((_, base)) => {
                    let begins = base.children().find(|m| {
                        m.is(Kind::Func) && matches!(m.text(), Some("__init__" | "constructor"))
                    });
                    let sets = begins.into_iter().flat_map(At::whole);
                    sets.filter(|n| n.is(Kind::Field) && n.defines().is_some() && own(*n))
                        .filter_map(At::text)
                        .collect()
                }
                // Of a base that is not here the language itself asks for it.
                None if file.language.hands_out == Some(HandsOut::Exports) => Vec::new(),
                None => continue,
            };
            if known.is_some() && fields.is_empty() {
                continue;
            }
            let mine: Vec<&str> = constructor
                .whole()
                .filter(|n| n.is(Kind::Field) && n.defines().is_some())
                .filter_map(At::text)
                .collect();
            if !fields.is_empty() && fields.iter().all(|f| mine.contains(f)) {
                continue;
            }
            let asked = fields.iter().any(|f| query.says(f) || on_the_way(query).contains(f));
            let here = query.path() == Some(&file.path);
            let by_word = query.said.contains("super constructor");
            let sure = if asked || by_word && here { 0.93 } else { 0.55 };
            let reason = match fields.is_empty() {
                true => say!(NO_SUPER_KNOWN, name, base = base_name),
                false => say!(NO_SUPER, name, base = base_name, fields = fields.as_slice()),
            };
            let suspect = seen.suspect(&file.path, constructor.line(), sure, reason);
            suspect.to(constructor.line() + 1);
        }
    }
}

/// A function ends without giving anything back, and what it gives is used.
fn no_return(query: &Query<'_>, seen: &mut Seen) {
    for file in query.scope.iter().filter(|f| f.language.is_code() && !f.language.checked) {
        for function in file.tree.all().filter(|n| n.is(Kind::Func)) {
            let Some(block) = function.part(Kind::Block) else { continue };
            let Some(last) = block.children().last() else { continue };
            let gives = function.whole().any(|n| {
                n.function() == Some(function) && (n.is(Kind::Return) || n.is(Kind::Throw))
            });
            let sends = file
                .text
                .get(function.span().0..function.span().1)
                .is_some_and(|t| t.contains("yield"));
            if gives || sends || has_empty_body(block) {
                continue;
            }
            let named = function.text().or_else(|| kept_as(function));
            let used = match named {
                Some(name) if !matches!(name, "__init__" | "constructor") => {
                    used_values(query, name).into_iter().next()
                }
                Some(_) => None,
                None => handed_to_maker(file, function),
            };
            let Some((home, by)) = used else { continue };
            let tied =
                query.slice.iter().any(|m| {
                    m.path() == &file.path
                        && m.weight > 0.2
                        && m.line() >= function.line()
                        && m.line() <= function.last_line()
                }) || query.steps.iter().any(|s| s.file.path == home.path && s.line == by.line())
                    || named.is_some_and(|n| on_the_way(query).contains(&n));
            let sure = if tied { 0.89 } else { 0.56 };
            let reason = match named {
                Some(name) => say!(NO_RETURN, name),
                None => say!(NO_RETURN_HERE),
            };
            let line = last.last_line().max(last.line());
            let suspect = seen.suspect(&file.path, line, sure, reason);
            suspect.saw(&home.path, by.line(), say!(NEEDED_HERE));
        }
    }
}

/// Whether a function was left empty on purpose.
fn has_empty_body(block: At<'_>) -> bool {
    block.children().all(|c| matches!(c.kind(), Kind::Leave | Kind::Str))
}

/// The name under which a function is kept.
fn kept_as(function: At<'_>) -> Option<&str> {
    let parent = function.parent()?;
    match parent.kind() {
        Kind::Values => parent.parent()?.part(Kind::Targets)?.child(0)?.last_name(),
        Kind::Pair => parent.text(),
        _ => None,
    }
}

/// Calls of a function whose value is used; none where another function bears the name too.
fn used_values<'a>(query: &Query<'a>, name: &str) -> Vec<(&'a FileFacts, At<'a>)> {
    let occurrences = query.symbols.occurrences(name);
    let made = occurrences.iter().filter(|s| matches!(s.as_what, As::Made(_))).count();
    let outside = super::is_outside_name(query.index, query.file.map(|f| f.language), name);
    if made != 1 {
        return Vec::new();
    }
    // A member of something else may be called so too; a name alone is this one.
    let occurrences =
        occurrences.iter().filter(|s| !outside || s.node.is_some_and(|n| n.is(Kind::Name)));
    let calls = occurrences.filter_map(|s| Some((s.file, s.node?))).filter_map(|(f, n)| {
        n.parent().filter(|p| p.is(Kind::Call) && p.child(0) == Some(n)).map(|c| (f, c))
    });
    calls
        .filter(|(_, call)| {
            call.parent().is_some_and(|p| match p.kind() {
                Kind::Values | Kind::Bin | Kind::Index => true,
                Kind::Field => p.child(0) == Some(*call),
                Kind::Call => p.child(0) != Some(*call),
                _ => false,
            })
        })
        .collect()
}

/// A function that is handed to a call which makes a list of what it gives.
fn handed_to_maker<'a>(file: &'a FileFacts, function: At<'a>) -> Option<(&'a FileFacts, At<'a>)> {
    let call = function.parent().filter(|p| p.is(Kind::Call))?;
    let makes = matches!(
        call.last_name(),
        Some("map" | "filter" | "reduce" | "flatMap" | "find" | "sort" | "every" | "some")
    );
    let first = call.arguments().next() == Some(function);
    (makes && first).then_some((file, call))
}

/// A base waits for a method that a derived type has under another name.
fn other_override(query: &Query<'_>, seen: &mut Seen) {
    if !(query.said.contains("NotImplemented")
        || query.said.contains("not implemented")
        || query.said.contains("abstract")
        || query.said.contains("must be overridden"))
    {
        return;
    }
    let Some(step) = query.steps.first() else { return };
    let Some(waited) = step.function.filter(|f| f.class().is_some()) else { return };
    let (Some(other), Some(base)) = (waited.text(), waited.class().and_then(At::text)) else {
        return;
    };
    let mut found: Vec<(&FileFacts, At<'_>, &str)> = Vec::new();
    for file in query.scope.iter().filter(|f| f.language.is_code()) {
        let derived =
            file.tree.named(base).filter(|n| n.parent().is_some_and(|p| p.is(Kind::Bases)));
        for class in derived.filter_map(At::class) {
            let methods: Vec<At<'_>> = class.children().filter(|m| m.is(Kind::Func)).collect();
            if methods.iter().any(|m| m.is_called(other)) {
                continue;
            }
            let unused = |m: &&At<'_>| {
                m.text().is_some_and(|n| {
                    query.symbols.count(n) == 1 && !n.starts_with("__") && !BEGINNINGS.contains(&n)
                })
            };
            let fitting: Vec<&At<'_>> = methods.iter().filter(unused).collect();
            let best = fitting
                .iter()
                .find(|m| name_edit(other, m.text().unwrap_or_default()).is_some())
                .or_else(|| fitting.iter().find(|m| m.params().count() == waited.params().count()));
            if let Some(method) = best {
                found.push((file, **method, class.text().unwrap_or_default()));
            }
        }
    }
    let alone = found.len() == 1;
    for (file, method, _) in found.into_iter().take(3) {
        let name = method.text().unwrap_or_default();
        let sure = if alone { 0.93 } else { 0.58 };
        let suspect =
            seen.suspect(&file.path, method.line(), sure, say!(OTHER_OVERRIDE, name, base, other));
        suspect.saw(&step.file.path, step.line, say!(WAITS_HERE, base, other));
    }
}

/// A function would fill or set what is read, and nobody calls it.
fn not_called(query: &Query<'_>, seen: &mut Seen) {
    let Some(begin) =
        query.steps.iter().rev().find(|s| s.function.is_none()).or(query.steps.last())
    else {
        return;
    };
    let names = on_the_way(query);
    for file in query.scope.iter().filter(|f| f.language.is_code()) {
        for function in file.tree.all().filter(|n| n.is(Kind::Func) && !n.has(Flag::Constructor)) {
            let Some(name) = function.text() else { continue };
            let alone = query.symbols.count(name) == 1
                && !BEGINNINGS.contains(&name)
                && !name.starts_with("__");
            // What is only ever given nothing fails when it is filled too.
            if !alone || function.class().is_none() && function.part(Kind::Owner).is_none() {
                continue;
            }
            let Some((home, fill)) = fills(query, file, function, &names, 3) else { continue };
            let what = fill.last_name().unwrap_or_default();
            let suspect = seen.suspect(
                &begin.file.path,
                begin.line.saturating_sub(1).max(1),
                0.86,
                say!(NOT_CALLED, function = name, name = what),
            );
            suspect.to(begin.line).saw(&home.path, fill.line(), say!(FILLS_HERE, name = what));
            suspect.saw(&file.path, function.line(), say!(READ_HERE));
        }
    }
}

/// Where a function, or one that it calls, puts something into one of these.
fn fills<'a>(
    query: &Query<'a>,
    file: &'a FileFacts,
    function: At<'a>,
    names: &[&str],
    deep: u32,
) -> Option<(&'a FileFacts, At<'a>)> {
    let own_fill = |n: &At<'a>| {
        let field = match n.kind() {
            Kind::Call => {
                let called = n.child(0).filter(|c| {
                    c.is(Kind::Field)
                        && matches!(
                            c.text(),
                            Some("append" | "push" | "add" | "put" | "set" | "Add" | "insert")
                        )
                })?;
                called.child(0)
            }
            Kind::Index if n.parent().is_some_and(|p| p.is(Kind::Targets)) => n.child(0),
            Kind::Field
                if n.defines() == Some(How::Assigned)
                    && !n.assigned_value().is_some_and(|v| v.is(Kind::Nil)) =>
            {
                Some(*n)
            }
            _ => None,
        }?;
        let named = field.last_name().is_some_and(|t| names.contains(&t));
        let only_nothing = || {
            let made = query.symbols.occurrences(field.last_name().unwrap_or_default()).iter();
            let values = made.filter_map(|s| s.node?.assigned_value());
            let (none, some): (Vec<At<'a>>, Vec<At<'a>>) = values.partition(|v| v.is(Kind::Nil));
            !none.is_empty() && some.is_empty() && n.is(Kind::Call)
        };
        (field.is(Kind::Field) && named && !only_nothing()).then_some(field)
    };
    if let Some(found) = function.whole().find_map(|n| own_fill(&n)) {
        return Some((file, found));
    }
    if deep == 0 {
        return None;
    }
    function.whole().filter(|n| n.is(Kind::Call)).filter_map(At::last_name).find_map(|called| {
        let mut own =
            query.symbols.occurrences(called).iter().filter_map(|s| Some((s.file, s.node?)));
        let (home, inner) = own.find(|(_, n)| n.is(Kind::Func) && *n != function)?;
        fills(query, home, inner, names, deep - 1)
    })
}

/// Variables that are made below the function that reads them, and others that are read under a
/// name that nothing makes.
fn late_locals(query: &Query<'_>, seen: &mut Seen) {
    let by_place = |f: &&&FileFacts| {
        f.language.hands_out == Some(HandsOut::Globals) && !f.language.declares_by_assigning
    };
    for file in query.scope.iter().filter(by_place) {
        for made in file.tree.all().filter(|n| {
            n.is(Kind::Name)
                && n.defines() == Some(How::Assigned)
                && n.parent().and_then(At::parent).is_some_and(|a| a.has(Flag::Local))
                || n.is(Kind::Func) && n.has(Flag::Local)
        }) {
            let Some(name) = made.text() else { continue };
            let all: Vec<At<'_>> = file.tree.named(name).filter(|n| n.is(Kind::Name)).collect();
            let others = file.tree.named(name).any(|n| {
                n != made && n.defines().is_some() && !n.is(Kind::Pair) && !n.is(Kind::Field)
            });
            let early = all.iter().find(|n| {
                n.defines().is_none()
                    && n.line() < made.line()
                    && n.function().is_some()
                    && n.function() != made.function()
            });
            if let (Some(early), false) = (early, others) {
                let on_way = query.relevance(file, early.line()) > 0.2
                    || query.steps.iter().any(|s| s.file.path == file.path);
                let sure = if on_way { 0.92 } else { 0.7 };
                let suspect = seen.suspect(&file.path, made.line(), sure, say!(LATE_LOCAL, name));
                suspect.saw(&file.path, early.line(), say!(READ_HERE));
            }
        }
        lost_locals(query, file, seen);
    }
}

/// A variable or parameter that nobody reads, and near it one that is read and that nobody makes.
fn lost_locals(query: &Query<'_>, file: &FileFacts, seen: &mut Seen) {
    for function in file.tree.all().filter(|n| n.is(Kind::Func)) {
        let inside: Vec<At<'_>> =
            function.whole().filter(|n| n.is(Kind::Name) || n.is(Kind::Param)).collect();
        let unread = inside.iter().copied().filter(|n| {
            let local = n.is(Kind::Param)
                || n.defines() == Some(How::Assigned)
                    && n.parent().and_then(At::parent).is_some_and(|a| a.has(Flag::Local));
            local
                && n.text().is_some_and(|t| {
                    t != "_" && inside.iter().filter(|o| o.is_called(t)).count() == 1
                })
        });
        for made in unread {
            let Some(name) = made.text() else { continue };
            let unmade = inside.iter().copied().find_map(|n| {
                let other = n.text().filter(|_| n.is(Kind::Name))?;
                let edit =
                    name_edit(name, other).filter(|e| *e <= NameEdit::Letters && other != name)?;
                let unknown = bindings(file, n, other).iter().all(|b| {
                    b.parent().and_then(At::parent).is_some_and(|a| !a.has(Flag::Local))
                        && b.function() == Some(function)
                }) && !is_known_outside(query, other)
                    && !query
                        .symbols
                        .occurrences(other)
                        .iter()
                        .any(|s| s.file.path != file.path && matches!(s.as_what, As::Made(_)));
                unknown.then_some((other, edit, n))
            });
            let Some((other, edit, read)) = unmade else { continue };
            // The one that stands elsewhere too is spelt right.
            if query.symbols.count(other) <= 1 || query.symbols.count(name) > 1 {
                continue;
            }
            let reason = say!(LOST_LOCAL, name, other, edit = edit.says());
            seen.suspect(&file.path, made.line(), 0.9, reason).saw(
                &file.path,
                read.line(),
                say!(READ_HERE),
            );
        }
    }
}
