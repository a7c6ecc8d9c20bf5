//! Rows that somebody has not looked at yet: those that are there once they ask, some at a time,
//! and then those that come.

use crate::rows::LineRow;

/// Rows that are read in one go, and how far back they are read at most.
pub(crate) const STEP: u64 = 4_000;
pub(crate) const BACK: u64 = 2_000_000;

/// How far somebody has read.
#[derive(Debug, Default)]
pub(crate) struct Unread {
    pub(crate) next: Option<u64>,
    pub(crate) left_out: u64,
}

impl Unread {
    /// Whether there are rows that were not looked at, of so many.
    pub(crate) fn is_busy(&self, rows: u64) -> bool {
        self.next.is_none_or(|next| next < rows)
    }

    /// How many rows before the first one that was read are not looked at.
    pub(crate) fn left_out(&self) -> u64 {
        self.left_out
    }

    /// How many rows wait.
    pub(crate) fn waiting(&self, rows: u64) -> u64 {
        rows.saturating_sub(self.next.unwrap_or(0))
    }

    /// The next of so many rows, none when all were read; `read` reads from a row on.
    pub(crate) fn take(
        &mut self,
        rows: u64,
        read: impl FnOnce(u64, u64) -> Vec<LineRow>,
    ) -> Vec<LineRow> {
        let next = self.next.unwrap_or_else(|| {
            self.left_out = rows.saturating_sub(BACK);
            self.left_out
        });
        let read = if next < rows { read(next, STEP) } else { Vec::new() };
        self.next = Some(match read.last() {
            Some(last) => last.row + 1,
            None => next.max(rows),
        });
        read
    }
}
