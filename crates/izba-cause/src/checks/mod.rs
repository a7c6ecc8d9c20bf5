//! What can be found wrong without running: few things and right ones, each with its place.
//!
//! A check is one file here and one line in [`CHECKS`].

mod blocks;
mod check;
mod events;
mod handlers;
mod harm;
mod hidden;
mod layouts;
mod names;
mod owner;
mod pages;
mod parses;
mod prints;
mod resources;
mod rings;
mod styles;
mod wiring;

pub use check::{Check, Look, Remark};

use crate::suspect::SymbolIndex;
use izba_model::code::{FileFacts, Index, within};

/// All checks, in the order in which they are shown.
pub static CHECKS: &[&Check] = &[
    &parses::CHECK,
    &rings::CHECK,
    &layouts::CHECK,
    &wiring::CHECK,
    &resources::CHECK,
    &names::CHECK,
    &pages::CHECK,
    &styles::CHECK,
    &events::CHECK,
    &hidden::CHECK,
    &handlers::CHECK,
    &blocks::CHECK,
    &prints::CHECK,
];

/// The heading of a check.
pub fn title_of(id: &str) -> &'static str {
    CHECKS.iter().find(|c| c.id == id).map_or("", |c| c.title)
}

/// A larger project is checked for parse errors and rings only: names of many hands have their own
/// ways.
const WHOLE: usize = 400;

/// Steps through the code for each check.
const STEPS: u64 = 12_000_000;

/// What all checks found.
#[derive(Debug, Clone, Default)]
pub struct Checked {
    /// What is wrong, by check, file and line.
    pub remarks: Vec<Remark>,
    /// Whether there was too much to look at, so that something may not have been found.
    pub gave_up: bool,
}

/// Everything that is found wrong.
///
/// What is read only roughly is left out: a remark has to be right.
pub fn all(index: &Index) -> Checked {
    let rough: Vec<_> = index
        .files()
        .iter()
        .filter(|f| f.language.rough.is_some())
        .map(|f| f.path.clone())
        .collect();
    let whole = index;
    let sure;
    let index = if rough.is_empty() {
        index
    } else {
        sure = index.with(Vec::new(), &rough, index.on_disk.clone());
        &sure
    };
    let files: Vec<&FileFacts> = index.files().iter().map(AsRef::as_ref).collect();
    let small = files.len() <= WHOLE;
    let symbols =
        if small { SymbolIndex::for_checks(&files, index) } else { SymbolIndex::default() };
    let look = Look { index, whole, symbols };
    let mut found: Vec<Remark> = Vec::new();
    let mut gave_up = false;
    for check in CHECKS.iter().filter(|c| small || matches!(c.id, "parses" | "rings")) {
        let Some(mut remarks) = within(STEPS, || (check.look)(&look)) else {
            gave_up = true;
            continue;
        };
        remarks.sort_by(|a, b| a.file.cmp(&b.file).then(a.line.cmp(&b.line)));
        // A line is told of once: what is found first says it better.
        remarks.retain(|r| !found.iter().any(|f| f.file == r.file && f.line == r.line));
        found.extend(remarks);
    }
    Checked { remarks: found, gave_up: gave_up || look.symbols.gave_up() }
}
