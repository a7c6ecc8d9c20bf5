//! Values that the program prints: looked for in the lines that are there once somebody asks, and in those that come.

use super::Worker;
use super::unread::Unread;
use izba_core::values::{Errors, Series, Store, told};
use std::sync::Arc;
use std::time::{Duration, Instant};

/// How often what is known is shown.
const SHOWN: Duration = Duration::from_millis(400);

/// What the screen shows of values.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct ValuesView {
    /// The series, by source, who prints them, and name.
    pub series: Vec<Arc<Series>>,
    /// When groups were seen.
    pub errors: Arc<Errors>,
    /// Lines that were not looked at yet.
    pub waiting: u64,
    /// Values that found no room.
    pub beyond: u64,
}

/// What was found so far.
#[derive(Default)]
pub(super) struct Valuing {
    unread: Unread,
    store: Store,
    shown: Option<Instant>,
    view: Arc<ValuesView>,
}

impl Valuing {
    /// What is known by now.
    pub(super) fn view(&self) -> Arc<ValuesView> {
        self.view.clone()
    }

    /// Whether there are rows that were not looked at.
    pub(super) fn is_busy(&self, rows: u64) -> bool {
        self.unread.is_busy(rows)
    }
}

impl Worker {
    /// Looks at the next rows; whether there is anything new to be shown.
    pub(super) fn value(&mut self) -> bool {
        let rows = self.engine.rows();
        let Some(mut valuing) = self.valuing.take() else { return false };
        let read = valuing.unread.take(self);
        for row in &read {
            let Some(time) = row.time else { continue };
            if let Some((group, first)) = row.group {
                if first {
                    valuing.store.error(group, time.0);
                }
                continue;
            }
            let text = row.text.as_str();
            // Most lines hold no digit and no sign of a state.
            if !text.bytes().any(|b| b.is_ascii_digit() || b == b'=' || b == b':') {
                continue;
            }
            let prefix = self.engine.layouts(row.line.source).prefix(text);
            let who = prefix.object.or(prefix.name).unwrap_or_default();
            // A name before a number looks like one who speaks; it is that only where a time or level stands with it.
            let speaks = prefix.timed || prefix.level.is_some();
            let mut values = if speaks { told(text.get(prefix.rest_at..).unwrap_or("")) } else { Vec::new() };
            let who = if values.is_empty() { String::new() } else { who };
            // A bare number may look like a time, and its name like one who speaks.
            if values.is_empty() && prefix.level.is_none() {
                values = told(text);
            }
            valuing.store.line(row.line.source.0, &who, row.row, time.0, values);
        }
        let due = valuing.shown.is_none_or(|s| s.elapsed() >= SHOWN) && (!read.is_empty() || valuing.view.waiting > 0 || valuing.shown.is_none());
        if due {
            valuing.shown = Some(Instant::now());
            let waiting = valuing.unread.waiting(rows);
            valuing.view =
                Arc::new(ValuesView { series: valuing.store.listed(), errors: valuing.store.errors(), waiting, beyond: valuing.store.beyond });
        }
        self.valuing = Some(valuing);
        due
    }
}
