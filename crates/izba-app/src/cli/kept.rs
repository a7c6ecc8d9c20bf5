//! What commands take from the ledger.

use super::shared::Shared;
use crate::command_error::CommandError;
use izba_sources::Store;
use izba_store::{Ledger, RunRow, StoreError};

/// The ledger and the name under which this project stands in it.
pub fn ledger(shared: &Shared) -> Result<(Ledger, String), CommandError> {
    let store = Store::look(shared.store.clone())?;
    let root = shared.root();
    let project = root.canonicalize().unwrap_or(root).to_string_lossy().into_owned();
    let ledger = Ledger::look(store.folder()).map_err(failed)?;
    let none = || {
        CommandError::input(format!(
            "nothing was watched yet that is kept in {}",
            store.folder().display()
        ))
        .hint("a run is kept by: izba run CMD…")
    };
    Ok((ledger.ok_or_else(none)?, project))
}

/// What the ledger refused, with what helps.
pub fn failed(error: StoreError) -> CommandError {
    let told = CommandError::input(error.to_string());
    match error.is_damage() {
        true => told.hint(
            "the runs themselves are whole: watch anything once (izba run CMD…), and the ledger is \
             made anew from them",
        ),
        false => told,
    }
}

/// Whose run of this number is meant.
fn source_of(
    runs: &[RunRow],
    numbers: &[u32],
    named: Option<&str>,
) -> Result<String, CommandError> {
    let mut names: Vec<&str> = Vec::new();
    for run in runs {
        let has = |number: &u32| {
            runs.iter().any(|r| r.card.source == run.card.source && r.card.number == *number)
        };
        if named.is_none_or(|n| n == run.card.source)
            && numbers.iter().all(has)
            && !names.contains(&run.card.source.as_str())
        {
            names.push(&run.card.source);
        }
    }
    let told = numbers.iter().map(u32::to_string).collect::<Vec<_>>().join(" and ");
    match names.as_slice() {
        [one] => Ok((*one).to_owned()),
        [] => Err(CommandError::input(missing(runs, numbers, named)).hint("izba runs lists them")),
        many => Err(CommandError::wrong_use(
            format!("several sources have a run {told}"),
            format!("name one: --source \"{}\"", many.join("\" or \"")),
        )),
    }
}

/// Which of the runs that were named is missing, and which there are.
fn missing(runs: &[RunRow], numbers: &[u32], named: Option<&str>) -> String {
    // Meant is the source that was named, or the one that has most of them.
    let has = |source: &str, number: u32| {
        runs.iter().any(|r| r.card.source == source && r.card.number == number)
    };
    let of = |source: &str| numbers.iter().filter(|n| has(source, **n)).count();
    let sources = runs.iter().map(|r| r.card.source.as_str());
    let most = sources.filter(|s| named.is_none_or(|n| n == *s)).max_by_key(|s| of(s));
    let Some(source) = most else {
        return match named {
            Some(name) => format!("this project has no runs of “{name}”"),
            None => "this project has no runs yet".into(),
        };
    };
    let lacks: Vec<String> =
        numbers.iter().filter(|n| !has(source, **n)).map(u32::to_string).collect();
    let there = || runs.iter().filter(|r| r.card.source == source).map(|r| r.card.number);
    let (first, last) = (there().min().unwrap_or(0), there().max().unwrap_or(0));
    let span = if first == last {
        format!("the only one is run {first}")
    } else {
        format!("they go from {first} to {last}")
    };
    match lacks.as_slice() {
        // Each is there, but no source has them all.
        [] => "these runs are of different sources, and only runs of one can be compared".into(),
        lacks => format!("{source} has no run {}: {span}", lacks.join(" and ")),
    }
}

/// The groups of a source with all their runs up to one, and its name; for comparisons.
pub fn history(
    shared: &Shared,
    numbers: &[u32],
    source: Option<&str>,
    before: Option<u32>,
) -> Result<(String, Vec<izba_core::RunSpan>, Vec<izba_core::Recalled>), CommandError> {
    let (ledger, project) = ledger(shared)?;
    let runs = ledger.runs(&project, None).map_err(failed)?;
    let source = source_of(&runs, numbers, source)?;
    let (spans, groups) = ledger.history(&project, &source, before).map_err(failed)?;
    Ok((source, spans, groups))
}
