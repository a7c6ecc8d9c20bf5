//! How often something may be done that only news ask for: seldom enough to take a small share of
//! one core, however long it takes.

use std::time::{Duration, Instant};

/// So many times as long as the work takes is waited: it takes a third of a hundredth of a core,
/// where that does not make it too seldom.
const SHARE: u32 = 300;
/// What a person still takes for at once, where rows changed.
const ROWS: Duration = Duration::from_millis(200);
/// The same, where only lines were counted and time went on.
const COUNTS: Duration = Duration::from_millis(500);

/// Why something is done again.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Cause {
    /// Lines were counted, time went on.
    Counts,
    /// Rows changed: something is new, or met again.
    Rows,
    /// The user asked for it.
    Asked,
}

/// A pace by what the work cost lately.
#[derive(Debug, Clone, Copy)]
pub struct Pace {
    shortest: Duration,
    cost: Duration,
    ended: Option<Instant>,
}

impl Pace {
    /// A pace with at least this much between two times.
    pub fn new(shortest: Duration) -> Pace {
        Pace { shortest, cost: Duration::ZERO, ended: None }
    }

    /// How long is to be waited between two times.
    pub fn gap(&self, cause: Cause) -> Duration {
        let longest = match cause {
            Cause::Counts => COUNTS,
            Cause::Rows => ROWS,
            Cause::Asked => self.shortest,
        };
        (self.cost * SHARE).clamp(self.shortest, longest.max(self.shortest))
    }

    /// How long until it may be done again.
    pub fn wait(&self, cause: Cause) -> Duration {
        let gap = self.gap(cause);
        self.ended.map_or(Duration::ZERO, |ended| gap.saturating_sub(ended.elapsed()))
    }

    /// How long ago it was done last.
    pub fn idle(&self) -> Duration {
        self.ended.map_or(Duration::MAX, |ended| ended.elapsed())
    }

    /// Does it, and learns what it costs: a quarter of each time counts.
    pub fn work<T>(&mut self, work: impl FnOnce() -> T) -> T {
        let begun = Instant::now();
        let done = work();
        self.took(begun.elapsed());
        done
    }

    fn took(&mut self, time: Duration) {
        self.cost = (self.cost * 3 + time) / 4;
        self.ended = Some(Instant::now());
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn dear_work_is_done_seldom_and_cheap_work_as_often_as_asked() {
        let frame = Duration::from_millis(16);
        let mut pace = Pace::new(frame);
        let rows = Cause::Rows;
        assert_eq!((pace.wait(rows), pace.gap(rows)), (Duration::ZERO, frame), "at once, at first");
        (0..40).for_each(|_| pace.took(Duration::from_micros(10)));
        assert_eq!(pace.gap(rows), frame);
        (0..40).for_each(|_| pace.took(Duration::from_micros(500)));
        assert!(pace.gap(rows) > Duration::from_millis(95), "{:?}", pace.gap(rows));
        // Never so seldom that it looks stuck, and what was asked for does not wait for that.
        (0..40).for_each(|_| pace.took(Duration::from_secs(2)));
        assert_eq!((pace.gap(rows), pace.gap(Cause::Counts)), (ROWS, COUNTS));
        assert!(pace.wait(Cause::Asked) <= frame);
        // It gets over one slow time.
        (0..40).for_each(|_| pace.took(Duration::from_micros(10)));
        assert_eq!(pace.gap(rows), frame);
    }
}
