//! overlap: a routine that is started again while it still runs; who starts it.

use super::check::{Check, Seen};
use super::query::Query;
use super::raises::{conditions, raises};
use izba_model::Family;
use izba_model::claim::{Evidence, Verdict};
use izba_model::code::{At, Kind};

/// The check.
pub static CHECK: Check = Check {
    id: "overlap",
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
            let evidence = vec![Evidence {
                file: path.clone(),
                line: query.line,
                saw: "it does not set what it asks for itself".into(),
            }];
            seen.reason(
                Verdict::RuledOut,
                format!("{name} is started again while it still runs"),
                evidence,
            );
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
        let reason = format!(
            "{name} is started here whenever this line is reached, also while it still runs"
        );
        let suspect = seen.suspect(&home.path, start.line(), 0.8, reason);
        suspect.saw(&file.path, first.line(), format!("while it runs it sets {field}"));
        suspect.saw(&file.path, last.line(), format!("only here {field} is set back"));
        suspect.saw(&file.path, query.line, format!("it was started again while {field} was set"));
    }
}
