//! Values that the program prints: looked for in the lines that are there once somebody asks, and
//! in those that come.

use super::state::Worker;
use crate::valuing::{SHOWN, ValuesView, Valuing};

use izba_core::values::PIN;
use std::sync::Arc;
use std::time::Instant;

impl Worker {
    /// Looks at the next rows; whether there is anything new to be shown.
    pub(crate) fn value(&mut self) -> bool {
        let rows = self.engine.rows();
        // What is pinned to room Now is followed without being asked for again.
        if self.valuing.is_none() && self.engine.wishes().known().iter().any(|k| k.starts_with(PIN))
        {
            self.valuing = Some(Valuing::default());
        }
        let Some(mut valuing) = self.valuing.take() else { return false };
        let read = valuing.unread.take(self.engine.rows(), |from, count| self.rows(from, count));
        for row in &read {
            let Some(time) = row.time else { continue };
            if let Some((group, first)) = row.group {
                if first {
                    valuing.store.error(group, time.0);
                }
                continue;
            }
            valuing.store.read(
                row.line.source.0,
                &self.engine.layouts(row.line.source),
                row.row,
                time.0,
                row.text.as_str(),
            );
        }
        let news = !read.is_empty()
            || valuing.view.waiting > 0
            || valuing.shown.is_none()
            || valuing.news
            || valuing.looking.is_some();
        let due = valuing.shown.is_none_or(|s| s.elapsed() >= SHOWN) && news;
        if due {
            valuing.shown = Some(Instant::now());
            if valuing.unread.waiting(rows) == 0 {
                // The rows as they were published last: to make them anew takes long.
                let published = self.slot.load();
                let group = valuing
                    .asked
                    .and_then(|id| published.snapshot.groups.iter().find(|g| g.holds(id)));
                valuing.differ(group.map_or(&[], |g| g.members.as_slice()));
                valuing.news = false;
            }
            let waiting = valuing.unread.waiting(rows);
            valuing.view = Arc::new(ValuesView {
                series: valuing.store.listed(),
                errors: valuing.store.errors(),
                waiting,
                beyond: valuing.store.beyond,
                left_out: valuing.unread.left_out(),
                differing: valuing.differing.clone(),
            });
        }
        self.valuing = Some(valuing);
        due
    }
}
