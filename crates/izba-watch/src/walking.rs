//! Paths that were printed on purpose: looked for in the lines that are there once somebody asks,
//! and in those that come.

use crate::unread::Unread;
use izba_console::paths::{Collector, Folded};
use std::collections::BTreeMap;
use std::sync::Arc;

/// What was found so far.
#[derive(Default)]
pub(crate) struct Walking {
    pub(crate) unread: Unread,
    /// Each stream of each source has paths of its own.
    pub(crate) collectors: BTreeMap<(usize, bool), Collector>,
    pub(crate) all: Folded,
    pub(crate) folded: Arc<Folded>,
}

impl Walking {
    /// The paths, folded.
    pub(crate) fn folded(&self) -> Arc<Folded> {
        self.folded.clone()
    }

    /// Whether there are rows that were not looked at.
    pub(crate) fn is_busy(&self, rows: u64) -> bool {
        self.unread.is_busy(rows)
    }
}
