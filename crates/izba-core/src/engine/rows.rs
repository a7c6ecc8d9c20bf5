//! The rows of a snapshot, kept as long as nothing that they are made of changed: a program that
//! prints ordinary lines only must not cost the making of thousands of quiet rows at each of them.

use super::mark::RunMark;
use crate::group::{GroupBy, GroupId, GroupView};
use izba_model::Millis;
use std::collections::HashMap;
use std::ops::Deref;
use std::sync::Arc;

/// The groups of a snapshot, most important first, found by their numbers too.
#[derive(Debug, Default)]
pub struct Rows {
    list: Vec<Arc<GroupView>>,
    /// For the number of each row, and of each group that is counted in it, where it stands.
    at: HashMap<GroupId, usize>,
}

impl Rows {
    /// Rows in this order, with a number that changes when any of them does.
    pub fn of(list: Vec<Arc<GroupView>>) -> Rows {
        let mut at = HashMap::with_capacity(list.len());
        for (place, row) in list.iter().enumerate() {
            for member in &row.members {
                at.entry(*member).or_insert(place);
            }
        }
        // A row's own number says more than that it is counted in another one.
        at.extend(list.iter().enumerate().map(|(place, row)| (row.id, place)));
        Rows { list, at }
    }

    /// The row of this number, or the one that the group of this number is counted in.
    pub fn row(&self, id: GroupId) -> Option<&Arc<GroupView>> {
        self.list.get(*self.at.get(&id)?)
    }
}

impl Deref for Rows {
    type Target = [Arc<GroupView>];

    fn deref(&self) -> &[Arc<GroupView>] {
        &self.list
    }
}

/// What rows are made of, beside the time.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(super) struct MadeOf {
    /// The state of the table.
    pub(super) version: u64,
    pub(super) by: GroupBy,
    /// Of each source its run, how many there were and how often the last one read something anew, how
    /// it goes, and whose words are the user's.
    pub(super) sources: Vec<(u32, usize, RunMark, Vec<String>)>,
    /// Entries that are not complete: source, first and last line.
    pub(super) open: Vec<(usize, u64, u64)>,
}

/// Rows that are out of date by no more than the time that passed are made again after this many
/// milliseconds: while counts a second fall, and while only silences grow.
const LIVELY_MS: u64 = 200;
const QUIET_MS: u64 = 5_000;

/// The rows that were made last.
#[derive(Debug)]
pub(super) struct Kept {
    pub(super) of: MadeOf,
    pub(super) at: Option<Millis>,
    pub(super) rows: Arc<Rows>,
}

impl Kept {
    /// Whether they still hold.
    pub(super) fn holds(&self, of: &MadeOf, now: Option<Millis>) -> bool {
        let passed = match (self.at, now) {
            (Some(at), Some(now)) => now.since(at).max(at.since(now)),
            (None, None) => 0,
            _ => return false,
        };
        let bound = if self.rows.iter().any(|r| r.rate > 0.0) { LIVELY_MS } else { QUIET_MS };
        self.of == *of && passed < bound
    }
}
