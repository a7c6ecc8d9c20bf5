//! When: how many lines and errors came in each stretch of time, in a fixed amount of memory, and
//! the marks between.

use izba_model::{Level, Millis};

/// Most buckets kept; when they are full, two become one.
const BUCKETS: usize = 1024;
/// Width of a bucket at the start.
const FINEST_MS: i64 = 100;
/// Marks kept; the oldest go first.
const MARKS: usize = 500;

/// What came in one stretch of time.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct Bucket {
    /// Lines of any kind that arrived in it.
    pub lines: u32,
    /// Entries in it that warn.
    pub warnings: u32,
    /// Entries in it that are errors or worse.
    pub errors: u32,
}

impl Bucket {
    fn add(&mut self, other: Bucket) {
        self.lines = self.lines.saturating_add(other.lines);
        self.warnings = self.warnings.saturating_add(other.warnings);
        self.errors = self.errors.saturating_add(other.errors);
    }
}

/// Something that happened at a moment.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Mark {
    /// When it was, in milliseconds since 1970 (UTC).
    pub time: Millis,
    /// What.
    pub what: MarkKind,
}

/// What a mark stands for.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum MarkKind {
    /// A run of the source with this index started; its number.
    RunStart(usize, u32),
    /// An own file was saved.
    Saved(String),
    /// The source with this index goes on, and has read this file anew.
    Updated(usize, String),
}

/// Lines and errors over time, a lane for each source.
#[derive(Debug, Clone, Default)]
pub struct Timeline {
    start: Option<Millis>,
    width_ms: i64,
    lanes: Vec<Vec<Bucket>>,
    marks: Vec<Mark>,
}

impl Timeline {
    /// Counts `lines` ordinary or other lines of `source`.
    pub fn lines(&mut self, source: usize, time: Millis, lines: u32) {
        self.bucket(source, time).lines += lines;
    }

    /// Counts an entry of `source`.
    pub fn entry(&mut self, source: usize, time: Millis, level: Level) {
        let bucket = self.bucket(source, time);
        match level {
            Level::Warning => bucket.warnings += 1,
            Level::Error | Level::Fatal => bucket.errors += 1,
            _ => {}
        }
    }

    /// Forgets the entries of `source` from a moment on; its lines stay.
    pub fn forget(&mut self, source: usize, from: Millis) {
        let (Some(start), true) = (self.start, self.width_ms > 0) else { return };
        let first = (from.since(start) as i64 / self.width_ms) as usize;
        let lane = self.lanes.get_mut(source);
        for bucket in lane.into_iter().flat_map(|lane| lane.iter_mut().skip(first)) {
            (bucket.warnings, bucket.errors) = (0, 0);
        }
    }

    /// Sets a mark at a moment, such as the start of a run.
    pub fn mark(&mut self, time: Millis, what: MarkKind) {
        if self.marks.len() == MARKS {
            self.marks.remove(0);
        }
        self.marks.push(Mark { time, what });
    }

    /// The marks that were set, the oldest first.
    pub fn marks(&self) -> &[Mark] {
        &self.marks
    }

    /// When the last of it came.
    pub fn end(&self) -> Option<Millis> {
        let longest = self.lanes.iter().map(Vec::len).max()?;
        Some(Millis(self.start?.0 + longest as i64 * self.width_ms))
    }

    /// When the timeline begins; `None` before anything has a time.
    pub fn start(&self) -> Option<Millis> {
        self.start
    }

    fn bucket(&mut self, source: usize, time: Millis) -> &mut Bucket {
        let start = *self.start.get_or_insert(time);
        if self.width_ms == 0 {
            self.width_ms = FINEST_MS;
        }
        if self.lanes.len() <= source {
            self.lanes.resize(source + 1, Vec::new());
        }
        let since = time.since(start) as i64;
        while since / self.width_ms >= BUCKETS as i64 {
            self.width_ms *= 2;
            for lane in &mut self.lanes {
                let halved = lane
                    .chunks(2)
                    .map(|pair| pair.iter().fold(Bucket::default(), |mut a, b| (a.add(*b), a).1))
                    .collect();
                *lane = halved;
            }
        }
        let index = (since / self.width_ms) as usize;
        let lane = &mut self.lanes[source];
        if lane.len() <= index {
            lane.resize(index + 1, Bucket::default());
        }
        &mut lane[index]
    }

    /// What came of one source in all.
    pub fn total(&self, source: usize) -> Bucket {
        self.lanes.get(source).into_iter().flatten().fold(Bucket::default(), |mut sum, bucket| {
            sum.add(*bucket);
            sum
        })
    }

    /// What one source told, stretch by stretch as it is counted: from when, to when, how much. Their
    /// sums are exact; stretches in which nothing came are left out.
    pub fn counted(&self, source: usize) -> impl Iterator<Item = (Millis, Millis, Bucket)> {
        let lane = self.lanes.get(source).into_iter().flatten().enumerate();
        let told = lane.filter(|(_, bucket)| **bucket != Bucket::default());
        told.filter_map(|(index, bucket)| {
            let from = self.start?.0 + index as i64 * self.width_ms;
            Some((Millis(from), Millis(from + self.width_ms), *bucket))
        })
    }

    /// The stretch `from..to` cut into `columns` equal parts; `source` picks one lane, `None` sums
    /// them all.
    ///
    /// A bucket is shared out among the parts that it covers, so that there are no gaps between and
    /// no waves; what is left of a count in a part is rounded up, so that one error is always seen.
    pub fn strip(
        &self,
        source: Option<usize>,
        from: Millis,
        to: Millis,
        columns: usize,
    ) -> Vec<Bucket> {
        let mut parts = vec![[0.0f64; 3]; columns];
        if let (Some(start), true) = (self.start, columns > 0 && to > from) {
            let part_ms = to.since(from) as f64 / columns as f64;
            for (_, lane) in
                self.lanes.iter().enumerate().filter(|(at, _)| source.is_none_or(|s| s == *at))
            {
                for (index, bucket) in
                    lane.iter().enumerate().filter(|(_, b)| **b != Bucket::default())
                {
                    let begins =
                        ((start.0 - from.0) as f64 + index as f64 * self.width_ms as f64) / part_ms;
                    let ends = begins + self.width_ms as f64 / part_ms;
                    if ends <= 0.0 || begins >= columns as f64 {
                        continue;
                    }
                    let (first, last) =
                        (begins.max(0.0) as usize, (ends.ceil() as usize).clamp(1, columns));
                    for (at, part) in
                        parts.iter_mut().enumerate().take(last).skip(first.min(columns - 1))
                    {
                        let covered =
                            (ends.min(at as f64 + 1.0) - begins.max(at as f64)) / (ends - begins);
                        for (sum, count) in
                            part.iter_mut().zip([bucket.lines, bucket.warnings, bucket.errors])
                        {
                            *sum += covered.max(0.0) * f64::from(count);
                        }
                    }
                }
            }
        }
        // A hair less, so that shares which add up to a whole number stay that number.
        let whole = |share: f64| (share - 1e-6).ceil().max(0.0) as u32;
        parts
            .into_iter()
            .map(|[lines, warnings, errors]| Bucket {
                lines: whole(lines),
                warnings: whole(warnings),
                errors: whole(errors),
            })
            .collect()
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn every_line_is_in_the_strip_and_memory_is_bounded(times in proptest::collection::vec(0i64..40_000_000, 1..200), columns in 1usize..200) {
            let mut timeline = Timeline::default();
            let mut sorted = times.clone();
            sorted.sort_unstable();
            for time in &sorted {
                timeline.lines(0, Millis(*time), 1);
            }
            prop_assert!(timeline.lanes[0].len() <= BUCKETS);
            let strip = timeline.strip(None, Millis(sorted[0]), timeline.end().unwrap_or_default(), columns);
            prop_assert!(strip.iter().map(|b| b.lines as usize).sum::<usize>() >= times.len());
        }
    }
}
