//! Lines that a phrase fits: those around a row, and how many there are in all. Both go on a slice
//! at a time between other work, so that the first screenful is there at once, the count grows, and
//! a newer request takes the place of an older one.

use crate::{LineRow, Sieve};
use izba_core::Phrase;
use std::sync::Arc;
use std::time::Duration;

/// Rows that are read in one go.
pub(crate) const STRETCH: u64 = 8_192;
/// How long a slice of work may last.
pub(crate) const SLICE: Duration = Duration::from_millis(12);

/// Lines wanted around a row.
pub(crate) struct Around {
    pub(crate) id: u64,
    pub(crate) sieve: Sieve,
    /// The next row to look at upwards (behind it) and downwards, and how many are still wanted.
    pub(crate) up: (u64, usize),
    pub(crate) down: (u64, usize),
    pub(crate) above: Vec<LineRow>,
    pub(crate) below: Vec<LineRow>,
}

/// A count under way: it begins with the newest lines, and goes on with those that come.
pub(crate) struct Count {
    pub(crate) id: u64,
    pub(crate) phrase: Arc<Phrase>,
    pub(crate) matched: u64,
    /// Rows `from..to` are counted.
    pub(crate) from: u64,
    pub(crate) to: u64,
    pub(crate) told: u64,
}

/// What is being filtered.
#[derive(Default)]
pub(crate) struct Filtering {
    pub(crate) around: Option<Around>,
    pub(crate) count: Option<Count>,
}

impl Filtering {
    pub(crate) fn look(
        &mut self,
        id: u64,
        sieve: Sieve,
        from: u64,
        up: usize,
        down: usize,
        rows: u64,
    ) {
        let from = from.min(rows);
        self.around = Some(Around {
            id,
            sieve,
            up: (from, up),
            down: (from, down),
            above: Vec::new(),
            below: Vec::new(),
        });
    }

    pub(crate) fn count(&mut self, id: u64, phrase: Arc<Phrase>) {
        self.count =
            Some(Count { id, phrase, matched: 0, from: u64::MAX, to: u64::MAX, told: u64::MAX });
    }

    /// Whether there is something to do at once.
    pub(crate) fn is_busy(&self, rows: u64) -> bool {
        self.around.is_some() || self.count.as_ref().is_some_and(|c| c.from > 0 || c.to < rows)
    }
}
