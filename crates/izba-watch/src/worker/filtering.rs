//! Lines that a phrase fits: those around a row, and how many there are in all. Both go on a slice
//! at a time between other work, so that the first screenful is there at once, the count grows, and
//! a newer request takes the place of an older one.

use super::state::Worker;
use crate::Answer;
use crate::filtering::{SLICE, STRETCH};
use std::time::Instant;

impl Worker {
    /// Does one slice of filtering.
    pub(crate) fn filter(&mut self) {
        let begun = Instant::now();
        let rows = self.engine.rows();
        if let Some(mut around) = self.filtering.around.take() {
            let had = around.above.len() + around.below.len();
            let mut done = false;
            while begun.elapsed() < SLICE && !done {
                // Both ways in turn, so that what is nearest comes first.
                if around.up.1 > 0 && around.up.0 > 0 {
                    let from = around.up.0.saturating_sub(STRETCH);
                    let mut found = Vec::new();
                    self.rows_let_through(from, around.up.0 - from, &around.sieve, &mut |row| {
                        found.push(row)
                    });
                    let take = found.len().min(around.up.1);
                    around.up = (from, around.up.1 - take);
                    found.drain(..found.len() - take);
                    found.append(&mut around.above);
                    around.above = found;
                }
                if around.down.1 > 0 && around.down.0 < rows {
                    let count = STRETCH.min(rows - around.down.0);
                    let mut found = Vec::new();
                    self.rows_let_through(around.down.0, count, &around.sieve, &mut |row| {
                        found.push(row)
                    });
                    found.truncate(around.down.1);
                    around.down = (around.down.0 + count, around.down.1 - found.len());
                    around.below.append(&mut found);
                }
                done = (around.up.1 == 0 || around.up.0 == 0)
                    && (around.down.1 == 0 || around.down.0 >= rows);
            }
            if done || around.above.len() + around.below.len() > had {
                let rows = around.above.iter().chain(&around.below).cloned().collect();
                let _ = self.answers.send(Answer::Matching { id: around.id, rows, done });
            }
            if !done {
                self.filtering.around = Some(around);
            }
        }
        if let Some(mut count) = self.filtering.count.take() {
            if count.to == u64::MAX {
                (count.from, count.to) = (rows, rows);
            }
            while begun.elapsed() < SLICE && (count.from > 0 || count.to < rows) {
                let (from, n) = if count.to < rows {
                    (count.to, STRETCH.min(rows - count.to))
                } else {
                    let from = count.from.saturating_sub(STRETCH);
                    (from, count.from - from)
                };
                let mut matched = 0;
                self.rows_that_fit(from, n, &count.phrase, &mut |_| matched += 1);
                count.matched += matched;
                if from >= count.to { count.to = from + n } else { count.from = from }
            }
            let looked = count.to - count.from;
            if looked != count.told {
                count.told = looked;
                let _ = self.answers.send(Answer::Counted {
                    id: count.id,
                    matched: count.matched,
                    looked,
                });
            }
            self.filtering.count = Some(count);
        }
    }
}
