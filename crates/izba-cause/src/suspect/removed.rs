//! removed: what was emptied, removed or set to nothing before it was needed.

use super::check::{Check, Seen, Strength};
use super::query::Query;
use crate::seen::{NAME_NEEDED_HERE, NEEDED_HERE};
use izba_model::Family;
use izba_model::claim::{Evidence, Verdict};
use izba_model::code::{At, FileFacts, Flag, Kind};
use izba_model::{say, sayings};

sayings! {
    "removed", Absence, "../../words/suspects/removed.toml";
    NOTHING_REMOVES = "nothing-removes",
    STILL_NEEDED = "still-needed",
    TAKEN_AWAY = "taken-away",
    STILL_KEPT = "still-kept",
    KEPT_HERE = "kept-here",
    REMOVED = "removed",
    DELETED = "deleted",
    SET_TO_NOTHING = "set-to-nothing",
    EMPTIED = "emptied",
}

/// The check for this: what was emptied, removed or set to nothing before it was needed.
pub static CHECK: Check = Check {
    id: "removed",
    kinds: KINDS,
    applies: |query| {
        query.file.is_some()
            && matches!(
                query.family(),
                Family::NameNotThere
                    | Family::ValueNotThere
                    | Family::OutOfRange
                    | Family::WrongKind
                    | Family::Other
                    | Family::LooseWiring
            )
    },
    look,
};

fn look(query: &Query<'_>, seen: &mut Seen) {
    let gone = taken_away(query, seen);
    let name = query.subject_names().first().copied().unwrap_or_default();
    if let (false, Family::ValueNotThere, false, Some(path)) =
        (gone, query.family(), name.is_empty(), query.path())
    {
        let evidence =
            vec![Evidence { file: path.clone(), line: query.line, saw: say!(NOTHING_REMOVES) }];
        seen.reason(Verdict::RuledOut, say!(TAKEN_AWAY, name), evidence);
    }
}

/// An object that takes itself away, though others were asked for by the name of its type and are
/// kept.
fn destroyed(query: &Query<'_>, file: &FileFacts, call: At<'_>, seen: &mut Seen) -> bool {
    let takes =
        call.child(0).and_then(At::last_name).is_some_and(|name| file.language.calls.removes(name));
    let own = |n: At<'_>| matches!(n.text(), Some("self" | "this"));
    let itself = call.arguments().next().is_some_and(own)
        || call.child(0).and_then(|c| c.child(0)).is_some_and(own);
    let part_of_it =
        call.child(0).and_then(|c| c.child(0)).is_some_and(|owner| owner.is(Kind::Field));
    if !takes || !itself || part_of_it || query.path() == Some(&file.path) {
        return false;
    }
    // Whoever reads it got it under the name of its type.
    let called = |n: At<'_>| {
        matches!(n.kind(), Kind::Str | Kind::New | Kind::Type)
            && n.text().is_some_and(|t| t.eq_ignore_ascii_case(file.stem()))
    };
    let Some(kept) = query.slice.iter().find(|m| m.node.is_some_and(|n| n.whole().any(called)))
    else {
        return false;
    };
    let what = say!(STILL_KEPT, name = file.stem(), file = kept.file.name());
    let suspect = seen.suspect(&file.path, call.line(), Strength::Strong, what);
    suspect.saw(kept.path(), kept.line(), say!(KEPT_HERE));
    if let Some(path) = query.path() {
        suspect.saw(path, query.line, say!(NEEDED_HERE));
    }
    true
}

/// Lines that empty, remove or set to nothing what the error reads.
fn taken_away(query: &Query<'_>, seen: &mut Seen) -> bool {
    let mut any = false;
    let asks_zero = query.said.to_lowercase().contains("divi")
        || query.said.contains("changed size")
        || query.family() == Family::OutOfRange;
    if !(query.family() == Family::ValueNotThere
        || asks_zero
        || query.said.contains("KeyError")
        || query.said.contains("KeyNotFound")
        || query.said.contains("not iterable")
        || query.said.contains("NoneType")
        || query.said.contains("nil value"))
    {
        return false;
    }
    let mut names: Vec<&str> = query.subject_names();
    // The containers that the value was taken out of.
    names.extend(
        query
            .slice
            .iter()
            .filter(|m| m.weight > 0.4)
            .filter_map(|m| m.node)
            .filter(|n| matches!(n.kind(), Kind::Field | Kind::Name | Kind::Index))
            .filter_map(At::last_name),
    );
    names.sort_unstable();
    names.dedup();
    for file in query.scope.iter().filter(|f| f.language.is_code()) {
        for node in file.tree.all() {
            let (name, how, strength) = match node.kind() {
                Kind::Call => {
                    any |= destroyed(query, file, node, seen);
                    let Some(called) = node.child(0).filter(|c| c.is(Kind::Field)) else {
                        continue;
                    };
                    if !called.text().is_some_and(|t| file.language.calls.removes(t)) {
                        continue;
                    }
                    // `table.remove(queue, i)` names the list first; elsewhere the list is asked.
                    let owner = called
                        .child(0)
                        .filter(|o| !o.is_called("table"))
                        .or_else(|| node.arguments().next());
                    (owner.and_then(At::last_name), say!(REMOVED), Strength::Weak)
                }
                Kind::Un if matches!(node.text(), Some("delete" | "del")) => {
                    (node.whole().skip(1).find_map(At::last_name), say!(DELETED), Strength::Weak)
                }
                Kind::Nil => {
                    let assigned =
                        node.parent().filter(|p| p.is(Kind::Values)).and_then(At::parent);
                    let target =
                        assigned.and_then(|a| a.part(Kind::Targets)).and_then(|t| t.child(0));
                    // A first value is no removal; one in a constructor neither.
                    let first = assigned.is_some_and(|a| a.has(Flag::Local) || a.has(Flag::Member))
                        || node.function().is_none_or(|f| {
                            f.has(Flag::Constructor) || matches!(f.text(), Some("new"))
                        });
                    // A field of somebody else is no variable of that name.
                    let other = target.is_some_and(|t| {
                        t.is(Kind::Field)
                            && query.subjects.iter().all(|s| s.is(Kind::Name))
                            && query.subjects.iter().any(|s| s.text() == t.text())
                    });
                    let target = target.filter(|_| !first && !other);
                    (target.and_then(At::last_name), say!(SET_TO_NOTHING), Strength::Fair)
                }
                Kind::Table if node.children().next().is_none() => {
                    let assigned =
                        node.parent().filter(|p| p.is(Kind::Values)).and_then(At::parent);
                    let target =
                        assigned.and_then(|a| a.part(Kind::Targets)).and_then(|t| t.child(0));
                    let first = assigned.is_some_and(|a| a.has(Flag::Local) || a.has(Flag::Member))
                        || node.function().is_none_or(|f| {
                            f.has(Flag::Constructor) || matches!(f.text(), Some("new"))
                        });
                    // Put in under a key it empties nothing but that entry.
                    (
                        target.filter(|t| !first && !t.is(Kind::Index)).and_then(At::last_name),
                        say!(EMPTIED),
                        Strength::Fair,
                    )
                }
                _ => continue,
            };
            let Some(name) = name.filter(|n| names.contains(n)) else { continue };
            let weight = query
                .slice
                .iter()
                .filter(|m| m.node.is_some_and(|n| n.last_name() == Some(name)))
                .map(|m| m.weight)
                .fold(0.3, f32::max);
            // Where it is taken away on the way to the error itself, that says more.
            let near =
                query.steps.iter().any(|s| s.function.is_some() && s.function == node.function());
            let zero = asks_zero && query.family() != Family::OutOfRange;
            let strength = strength.with(i32::from(near || zero)).min(Strength::Strong);
            let suspect =
                seen.suspect(&file.path, node.line(), strength, say!(STILL_NEEDED, how, name));
            suspect.tied(weight);
            if let Some(path) = query.path() {
                suspect.saw(path, query.line, say!(NAME_NEEDED_HERE, name));
            }
            any = true;
        }
    }
    any
}
