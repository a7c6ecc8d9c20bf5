//! changing: a list is changed while a loop goes through it.

use super::check::{Check, Seen, Strength};
use super::query::Query;
use izba_model::code::{At, FileFacts, Kind};
use izba_model::{say, sayings};

sayings! {
    "changing", Any, "../../words/suspects/changing.toml";
    CHANGED = "changed",
    GOES_THROUGH = "goes-through",
}

/// The check for this: a list is changed while a loop goes through it.
pub static CHECK: Check = Check {
    id: "changing",
    kinds: KINDS,
    applies: |query| query.file.is_some() && SAID.iter().any(|w| query.said.contains(w)),
    look,
};

/// How the runtimes say it.
const SAID: &[&str] = &[
    "ConcurrentModification",
    "ollection was modified",
    "changed size during iteration",
    "mutated during iteration",
];

/// How deep calls are followed.
const DEEP: u32 = 2;

fn look(query: &Query<'_>, seen: &mut Seen) {
    for step in &query.steps {
        let around = step.file.tree.all().filter(|n| {
            matches!(n.kind(), Kind::ForIn | Kind::For)
                && n.line() <= step.line
                && n.last_line() >= step.line
        });
        let lists = around.filter_map(|walk| {
            let through = walk
                .children()
                .find(|c| !matches!(c.kind(), Kind::Targets | Kind::Block | Kind::Type));
            Some((walk, walk.part(Kind::Block)?, through.and_then(gone_through)?))
        });
        let iterators = by_iterator(step.file, step.line);
        let iterators = iterators.into_iter().map(|(walk, list)| (walk, walk, list));
        for (walk, body, list) in lists.chain(iterators) {
            for (file, change) in changes(query, step.file, body, list, DEEP) {
                let reason =
                    say!(CHANGED, name = list, line = walk.line(), file = step.file.name());
                seen.suspect(&file.path, change.line(), Strength::Plain, reason).saw(
                    &step.file.path,
                    walk.line(),
                    say!(GOES_THROUGH, name = list),
                );
            }
        }
    }
}

/// Loops with an iterator of their own that stand around a line, each with its list.
fn by_iterator(file: &FileFacts, line: u32) -> Vec<(At<'_>, &str)> {
    let loops =
        file.tree.all().filter(|n| n.is(Kind::While) && n.line() <= line && n.last_line() >= line);
    loops
        .filter_map(|walk| {
            let asks = walk
                .child(0)?
                .whole()
                .find(|n| n.is(Kind::Field) && matches!(n.text(), Some("hasNext" | "MoveNext")))?;
            let iterator = asks.child(0)?.text()?;
            let made = file.tree.named(iterator).find_map(At::assigned_value)?;
            // `kites.keySet().iterator()`: the innermost owner is the list.
            let mut at = made;
            while let Some(inner) =
                at.child(0).filter(|_| matches!(at.kind(), Kind::Call | Kind::Field))
            {
                if at.is(Kind::Field)
                    && !inner.is(Kind::Call)
                    && !matches!(
                        at.text(),
                        Some(
                            "iterator"
                                | "keySet"
                                | "entrySet"
                                | "values"
                                | "GetEnumerator"
                                | "listIterator"
                        )
                    )
                {
                    break;
                }
                at = inner;
            }
            Some((walk, at.last_name()?))
        })
        .collect()
}

/// The list that a loop goes through: `roster` of `self.roster`, of `roster.values()` and of
/// `enumerate(roster)`.
fn gone_through(part: At<'_>) -> Option<&str> {
    match part.kind() {
        Kind::Call => part
            .child(0)
            .filter(|c| c.is(Kind::Field))
            .and_then(|c| c.child(0))
            .or_else(|| part.arguments().next())
            .and_then(At::last_name),
        _ => part.last_name(),
    }
}

/// Lines of a part of the code, and of what it calls, that put something into a list or take
/// something out of it.
fn changes<'a>(
    query: &Query<'a>,
    file: &'a FileFacts,
    part: At<'a>,
    list: &str,
    deep: u32,
) -> Vec<(&'a FileFacts, At<'a>)> {
    let mut found = Vec::new();
    for node in part.whole() {
        match node.kind() {
            Kind::Call => {
                let Some(name) = node.child(0).and_then(At::last_name) else { continue };
                let owner = node.child(0).and_then(|c| c.child(0)).and_then(At::last_name);
                let calls = &file.language.calls;
                if owner == Some(list) && (calls.removes(name) || calls.adds(name)) {
                    found.push((file, node));
                } else if deep > 0 {
                    let mut made = query.named(name).filter(|(_, n)| n.is(Kind::Func));
                    if let (Some((home, function)), None) = (made.next(), made.next()) {
                        found.extend(changes(query, home, function, list, deep - 1));
                    }
                }
            }
            Kind::Un
                if matches!(node.text(), Some("del" | "delete"))
                    && node.whole().skip(1).any(|n| n.last_name() == Some(list)) =>
            {
                found.push((file, node));
            }
            _ => {}
        }
    }
    found
}
