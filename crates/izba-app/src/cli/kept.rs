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
        [] => {
            let whose = named.map(|n| format!(" of “{n}”")).unwrap_or_default();
            Err(CommandError::input(format!(
                "there is no run {told}{whose} in the ledger of this project"
            ))
            .hint("izba runs lists them"))
        }
        many => Err(CommandError::wrong_use(
            format!("several sources have a run {told}"),
            format!("name one: --source \"{}\"", many.join("\" or \"")),
        )),
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
