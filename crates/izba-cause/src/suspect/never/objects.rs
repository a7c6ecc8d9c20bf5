//! What objects lack that are written out where they are made, what nobody hands to those who call
//! it later, and what is counted on and never begun.

use super::says::{
    ENTRY_OF_OBJECT, NEVER_BEGUN, NOTHING_TO_CALL, READ_HERE, is_known_outside, on_the_way, own,
};
use super::unset::{counts_on_itself, place_in};
use crate::suspect::check::{Seen, Strength};
use crate::suspect::query::Query;
use crate::suspect::symbols::{As, BEGINNINGS, plural};
use izba_model::Family;
use izba_model::code::{At, FileFacts, Flag, How, Kind, Role};
use izba_model::pattern::Pattern;
use izba_model::say;

/// A table written out has what else is read of the same object, and not this.
pub(super) fn entry_of_object(query: &Query<'_>, seen: &mut Seen) {
    for name in on_the_way(query) {
        // What data has under that name may be read itself; a table that takes its entries over from
        // there is another thing.
        let in_data = query.symbols.occurrences(name).iter().any(|s| s.as_what == As::DataKey);
        let nearly = query
            .symbols
            .near(name, |w, o| !plural(w, name) && o.iter().any(|s| s.as_what == As::DataKey));
        let made = !nearly.is_empty()
            || query.named(name).any(|(_, n)| {
                matches!(n.defines(), Some(How::Key | How::Assigned | How::Function))
                    && !n.is_bare()
                    || n.is(Kind::Pair)
            });
        if made || is_known_outside(query, name) {
            continue;
        }
        let reads: Vec<(&FileFacts, At<'_>)> = query
            .named(name)
            .filter(|(_, n)| n.is(Kind::Field) && n.defines().is_none() && !own(*n))
            .filter(|(_, n)| !n.is_callee())
            .collect();
        // What else is read of what bears the same name there.
        let mut beside: Vec<&str> = Vec::new();
        for (file, read) in &reads {
            let Some(owner) = read.child(0).and_then(At::last_name) else { continue };
            let fields = file.tree.all().filter(|n| n.is(Kind::Field) && n.defines().is_none());
            beside.extend(
                fields
                    .filter(|n| n.child(0).and_then(At::last_name) == Some(owner))
                    .filter_map(At::text)
                    .filter(|t| *t != name),
            );
        }
        beside.sort_unstable();
        beside.dedup();
        let keys = |table: At<'_>| {
            table
                .children()
                .filter(|c| c.is(Kind::Pair))
                .filter_map(At::text)
                .filter(|k| beside.contains(k))
                .count()
        };
        let code = query.scope.iter().filter(|f| f.language.is_code() && !f.broken);
        let tables = code.flat_map(|f| f.tree.all().map(move |n| (*f, n)));
        let tables = tables.filter(|(_, n)| n.is(Kind::Table)).map(|(f, t)| (f, t, keys(t)));
        let mut fitting: Vec<_> = tables.filter(|(_, _, n)| *n >= 2).collect();
        fitting.sort_by_key(|(_, _, n)| std::cmp::Reverse(*n));
        let best = match fitting[..] {
            [best] => best,
            [best, next, ..] if best.2 > next.2 => best,
            _ => continue,
        };
        let (file, table, _) = best;
        let takes_over = |p: At<'_>| {
            p.is(Kind::Pair) && p.whole().any(|n| n.is(Kind::Field) && n.text() == p.text())
        };
        if in_data && !table.children().any(takes_over) {
            continue;
        }
        let line = place_of_entry(query, table, name);
        let says = say!(ENTRY_OF_OBJECT, name);
        let suspect = seen.suspect(&file.path, line, Strength::Strong, says);
        suspect.to(line + 1);
        if let Some((file, read)) = reads.first() {
            suspect.saw(&file.path, read.line(), say!(READ_HERE));
        }
    }
}

/// The line of a table behind which an entry would stand: in the order in which the data have it,
/// where they do; else behind the others.
fn place_of_entry(query: &Query<'_>, table: At<'_>, name: &str) -> u32 {
    let pairs: Vec<At<'_>> = table.children().filter(|c| c.is(Kind::Pair)).collect();
    let data = query.scope.iter().filter(|f| !f.data.is_empty());
    for file in data {
        let keys: Vec<&str> =
            file.data.iter().filter(|d| d.role == Role::Key).map(|d| d.text.as_ref()).collect();
        let Some(at) = keys.iter().position(|k| *k == name) else { continue };
        let before = keys[..at].iter().rev().find_map(|k| pairs.iter().find(|p| p.is_called(k)));
        let after = keys[at + 1..].iter().find_map(|k| pairs.iter().find(|p| p.is_called(k)));
        match (before, after) {
            (Some(before), _) => return before.last_line(),
            (_, Some(after)) => return after.line().saturating_sub(1).max(table.line()),
            _ => {}
        }
    }
    pairs.last().map_or(table.line(), |p| p.last_line())
}

/// What is called is a field that nothing sets, and one function is made and nothing uses it: it was
/// to be put there.
pub(super) fn nothing_to_call(query: &Query<'_>, seen: &mut Seen) {
    let Some(asked) = query.asked.as_deref() else { return };
    let absent = query.said.contains("not a function") || query.said.contains("to call a nil");
    let set = |(_, n): (&FileFacts, At<'_>)| n.defines().is_some() || n.is(Kind::Str);
    if !absent || query.named(asked).any(set) || is_known_outside(query, asked) {
        return;
    }
    let called = query.on_line().any(|n| n.is(Kind::Field) && n.is_called(asked) && n.is_callee());
    let unused = |n: &At<'_>| {
        n.is(Kind::Func)
            && n.text().is_some_and(|t| {
                query.symbols.count(t) == 1 && !BEGINNINGS.contains(&t) && !t.starts_with("__")
            })
    };
    let code = query.scope.iter().filter(|f| f.language.is_code() && called && !f.broken);
    let mut found = code.flat_map(|f| f.tree.all().filter(unused).map(move |n| (*f, n)));
    if let (Some((file, function)), None) = (found.next(), found.next()) {
        let end = file.line_of(function.span().1.saturating_sub(1));
        let name = function.text().unwrap_or_default();
        let says = say!(NOTHING_TO_CALL, name, other = asked);
        let suspect = seen.suspect(&file.path, end, Strength::Strong, says);
        suspect.to(end + 1).tied(1.0);
        if let Some(path) = query.path() {
            suspect.saw(path, query.line, say!(READ_HERE));
        }
    }
}

/// A variable outside of all functions is only ever counted on.
pub(super) fn never_begun(query: &Query<'_>, seen: &mut Seen) {
    let (Some(file), Some(main)) = (query.file, query.steps.last()) else { return };
    if !matches!(query.family(), Family::ValueNotThere | Family::NameNotThere | Family::WrongKind) {
        return;
    }
    for name in on_the_way(query) {
        let all: Vec<At<'_>> = query.named(name).map(|(_, n)| n).collect();
        let made: Vec<At<'_>> = all.iter().copied().filter(|n| n.defines().is_some()).collect();
        let counted = |n: &At<'_>| n.is(Kind::Name) && counts_on_itself(*n);
        let asked = query.on_line().any(|n| n.is(Kind::Name) && n.is_called(name));
        if !asked || made.is_empty() || !made.iter().all(counted) || file.language.checked {
            continue;
        }
        // Beside the others that the program begins with.
        let begins = |n: &At<'_>| {
            n.function().is_none()
                && n.is(Kind::Name)
                && n.defines() == Some(How::Assigned)
                && n.assigned_value()
                    .is_some_and(|v| matches!(v.kind(), Kind::Num | Kind::Table | Kind::Str))
        };
        let Some(last) = main.file.tree.all().filter(begins).map(At::line).max() else { continue };
        let says = say!(NEVER_BEGUN, name);
        let suspect = seen.suspect(&main.file.path, last, Strength::Strong, says);
        suspect.to(last + 1).saw(&file.path, query.line, say!(READ_HERE)).tied(1.0);
    }
}

/// A compiler misses the first value of a field at the end of a constructor.
static UNSET: Pattern =
    Pattern::new(r"variable (?<name>\w+) (?:might not have been|not) initialized");

pub(super) fn told_unset(query: &Query<'_>, seen: &mut Seen) {
    let (Some(file), Some(found)) = (query.file, UNSET.captures(&query.said)) else { return };
    let Some(name) = found.name("name").map(|m| m.as_str()) else { return };
    let constructor = file.tree.all().filter(|n| {
        n.is(Kind::Func)
            && n.has(Flag::Constructor)
            && n.line() <= query.line
            && file.line_of(n.span().1.saturating_sub(1)) >= query.line
    });
    let Some(constructor) = constructor.last() else { return };
    // What is set, to itself or from what does not come in, is told of elsewhere.
    let set = |n: At<'_>| n.is_called(name) && n.defines() == Some(How::Assigned);
    if constructor.whole().any(set) {
        return;
    }
    let member = |n: &At<'_>| {
        n.defines().is_some() && n.function().is_none() && n.class() == constructor.class()
    };
    let declared = file.tree.named(name).find(member);
    let lines: Vec<u32> =
        constructor.whole().filter(|n| n.defines() == Some(How::Assigned)).map(At::line).collect();
    let line = match lines.is_empty() {
        true => constructor.part(Kind::Block).map_or(constructor.line(), At::last_line),
        false => place_in(constructor, name, declared, &lines),
    };
    let says = say!(ENTRY_OF_OBJECT, name);
    let suspect = seen.suspect(&file.path, line, Strength::Plain, says);
    suspect.to(line + 1).tied(1.0);
    if let Some(declared) = declared {
        suspect.saw(&file.path, declared.line(), say!(READ_HERE));
    }
}
