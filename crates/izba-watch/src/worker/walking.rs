//! Paths that were printed on purpose: looked for in the lines that are there once somebody asks,
//! and in those that come.

use super::state::Worker;

use izba_model::Stream;
use std::sync::Arc;

impl Worker {
    /// Looks at the next rows; whether anything was found.
    pub(crate) fn walk(&mut self) -> bool {
        let Some(mut walking) = self.walking.take() else { return false };
        let mut any = false;
        let project = self.project.clone();
        for row in walking.unread.take(self.engine.rows(), |from, count| self.rows(from, count)) {
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
