//! How much work one file may take: a grammar in the middle of a text that it does not understand
//! tries more and more, and somebody waits.

use std::cell::Cell;
use std::time::{Duration, Instant};

/// Steps that are left, and the moment at which it is over in any case.
///
/// Steps are counted by the grammar, so that the same text is given up at the same place on every
/// machine; the clock is for what the grammar does not count, such as looking for the end of a text.
#[derive(Debug)]
pub struct Work {
    steps: Cell<u64>,
    until: Instant,
}

/// The grammar tells of itself after so many of its steps.
const TOLD_AFTER: u64 = 100;

impl Work {
    /// For reading a text of so many bytes once. A text that is well takes one or two steps a byte.
    pub fn reading(bytes: usize) -> Work {
        Work::of(200_000 + 24 * bytes as u64, Duration::from_millis(900))
    }

    /// For all repairs of one file.
    pub fn mending() -> Work {
        Work::of(12_000_000, Duration::from_millis(1100))
    }

    fn of(steps: u64, most: Duration) -> Work {
        Work { steps: Cell::new(steps), until: Instant::now() + most }
    }

    /// Whether nothing more is to be begun.
    pub fn is_done(&self) -> bool {
        self.steps.get() == 0 || Instant::now() >= self.until
    }

    /// Notes that the grammar told of itself; gives whether it may go on.
    pub fn goes_on(&self) -> bool {
        self.steps.set(self.steps.get().saturating_sub(TOLD_AFTER));
        !self.is_done()
    }
}
