//! Paths that were printed on purpose: looked for in the lines that are there once somebody asks,
//! and in those that come.

use super::Worker;
use super::unread::Unread;
use izba_console::paths::{Collector, Folded};
use izba_model::Stream;
use std::collections::BTreeMap;
use std::sync::Arc;

/// What was found so far.
#[derive(Default)]
pub(super) struct Walking {
    unread: Unread,
    /// Each stream of each source has paths of its own.
    collectors: BTreeMap<(usize, bool), Collector>,
    all: Folded,
    folded: Arc<Folded>,
}

impl Walking {
    /// The paths, folded.
    pub(super) fn folded(&self) -> Arc<Folded> {
        self.folded.clone()
    }

    /// Whether there are rows that were not looked at.
    pub(super) fn is_busy(&self, rows: u64) -> bool {
        self.unread.is_busy(rows)
    }
}

impl Worker {
    /// Looks at the next rows; whether anything was found.
    pub(super) fn walk(&mut self) -> bool {
        let Some(mut walking) = self.walking.take() else { return false };
        let mut any = false;
        let project = self.project.clone();
        for row in walking.unread.take(self) {
            let collector = walking
                .collectors
                .entry((row.line.source.0, row.stream == Stream::Err))
                .or_default();
            collector.line(row.row, row.text.as_str(), row.group.is_some(), &project);
            for walk in collector.take() {
                walking.all.add(&walk);
                any = true;
            }
        }
        if any {
            walking.folded = Arc::new(walking.all.clone().sorted());
        }
        self.walking = Some(walking);
        any
    }
}
