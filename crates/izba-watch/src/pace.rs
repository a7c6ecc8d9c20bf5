//! How often something may be done that only news ask for: seldom enough to take a small share of
//! one core, however long it takes.

use std::time::{Duration, Instant};

/// So many times as long as the work takes is waited: it takes half a hundredth of a core, where that
/// does not make it too seldom.
const SHARE: u32 = 200;
/// What a person still takes for at once.
const LONGEST: Duration = Duration::from_millis(200);

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
    pub fn gap(&self) -> Duration {
        (self.cost * SHARE).clamp(self.shortest, LONGEST.max(self.shortest))
    }

    /// How long until it may be done again; at once what the user asked for.
    pub fn wait(&self, asked: bool) -> Duration {
        let gap = if asked { self.shortest } else { self.gap() };
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
        assert_eq!(
            (pace.wait(false), pace.gap()),
            (Duration::ZERO, frame),
            "the first time at once"
        );
        (0..40).for_each(|_| pace.took(Duration::from_micros(10)));
        assert_eq!(pace.gap(), frame);
        (0..40).for_each(|_| pace.took(Duration::from_millis(2)));
        assert!(pace.gap() > Duration::from_millis(95), "{:?}", pace.gap());
        // Never so seldom that it looks stuck, and what was asked for does not wait for that.
        (0..40).for_each(|_| pace.took(Duration::from_secs(2)));
        assert_eq!(pace.gap(), LONGEST);
        assert!(pace.wait(true) <= frame);
        // It gets over one slow time.
        (0..40).for_each(|_| pace.took(Duration::from_micros(10)));
        assert_eq!(pace.gap(), frame);
    }
}
