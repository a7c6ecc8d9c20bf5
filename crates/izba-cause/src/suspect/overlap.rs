//! overlap: a routine that is started again while it still runs; who starts it.

use super::check::{Check, Seen, Strength};
use super::query::Query;
use super::raises::{conditions, raises};
use izba_model::Family;
use izba_model::claim::{Evidence, Verdict};
use izba_model::code::{At, Kind};
use izba_model::{say, sayings};

sayings! {
    "overlap", Any, "../../words/suspects/overlap.toml";
    SETS_NOTHING = "sets-nothing",
    STARTED_AGAIN = "started-again",
    STARTED_HERE = "started-here",
    SETS = "sets",
    SET_BACK = "set-back",
    WAS_STARTED_AGAIN = "was-started-again",
}

/// The check for this: a routine that is started again while it still runs.
pub static CHECK: Check = Check {
    id: "overlap",
    kinds: KINDS,
    applies: |query| {
        query.file.is_some_and(|f| raises(f, query.line)) && query.family() == Family::Other
    },
    look,
};

fn look(query: &Query<'_>, seen: &mut Seen) {
    let (Some(file), Some(step)) = (query.file, query.steps.first()) else { return };
    let (Some(function), Some(condition)) = (step.function, conditions(file, query.line).next())
    else {
        return;
    };
    let Some(name) = function.text() else { return };
    // What the condition reads, the same function sets further down, and sets again before it ends.
    let read: Vec<&str> = condition
        .whole()
        .filter(|n| matches!(n.kind(), Kind::Name | Kind::Field))
        .filter_map(At::text)
        .collect();
    let mut sets: Vec<At<'_>> = function
        .whole()
        .filter(|n| {
            n.defines() == Some(izba_model::code::How::Assigned)
                && n.text().is_some_and(|t| read.contains(&t))
                && n.line() > query.line
        })
        .collect();
    sets.sort_by_key(|n| n.line());
    let ([first, .., last], true) = (sets.as_slice(), sets.len() >= 2) else {
        if let Some(path) = query.path() {
            let evidence =
                vec![Evidence { file: path.clone(), line: query.line, saw: say!(SETS_NOTHING) }];
            seen.reason(Verdict::RuledOut, say!(STARTED_AGAIN, name), evidence);
        }
        return;
    };
    let field = first.text().unwrap_or_default();
    let starters =
        query.symbols.occurrences(name).iter().filter_map(|s| Some((s.file, s.node?))).filter(
            |(_, n)| {
                matches!(n.kind(), Kind::Name | Kind::Field)
                    && n.defines().is_none()
                    && n.function() != Some(function)
            },
        );
    for (home, start) in starters.take(6) {
        let reason = say!(STARTED_HERE, name);
        let suspect = seen.suspect(&home.path, start.line(), Strength::Strong, reason);
        suspect.saw(&file.path, first.line(), say!(SETS, name = field));
        suspect.saw(&file.path, last.line(), say!(SET_BACK, name = field));
        suspect.saw(&file.path, query.line, say!(WAS_STARTED_AGAIN, name = field));
    }
}
