//! The time in which values are compared: that of all series together, without the long silences in
//! it.

use super::{Kept, Series};
use std::sync::Arc;

/// A silence of everything longer than this counts for no more than it, in milliseconds.
const SILENCE: i64 = 5_000;

/// Time without the long silences in it.
pub(super) struct Time {
    /// Where a stretch begins, and how much was left out before it.
    cuts: Vec<(i64, i64)>,
    from: i64,
    pub(super) length: i64,
}

impl Time {
    /// Of what was printed until a moment; `None` where nothing was.
    pub(super) fn of(series: &[Arc<Series>], until: i64) -> Option<Time> {
        let mut all: Vec<i64> =
            series.iter().flat_map(|s| times(s)).filter(|t| *t <= until).collect();
        all.sort_unstable();
        all.dedup();
        let from = *all.first()?;
        let (mut cuts, mut out) = (Vec::new(), 0);
        for pair in all.windows(2) {
            if pair[1] - pair[0] > SILENCE {
                out += pair[1] - pair[0] - SILENCE;
                cuts.push((pair[1], out));
            }
        }
        Some(Time { cuts, from, length: all.last()? - from - out + 1 })
    }

    /// Where a moment stands in it.
    pub(super) fn at(&self, time: i64) -> i64 {
        let cut = self.cuts.partition_point(|c| c.0 <= time);
        let out = if cut == 0 { 0 } else { self.cuts[cut - 1].1 };
        // What lies in a silence that was left out stands at its end.
        let next = self.cuts.get(cut).map_or(i64::MAX, |c| c.0 - self.from - c.1);
        (time - self.from - out).clamp(0, self.length - 1).min(next)
    }
}

fn times(series: &Series) -> Vec<i64> {
    match &series.kept {
        Kept::Numbers(buckets) => buckets.iter().map(|b| b.to).collect(),
        Kept::States(_, changes) => changes.iter().map(|c| c.0).collect(),
    }
}
