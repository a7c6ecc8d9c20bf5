//! Leaving takes at most a second, whatever is still at work: jobs are asked to stop, waited for a
//! while, then left behind. What they would have kept can be made again from the runs' bytes.

use std::thread::JoinHandle;
use std::time::{Duration, Instant};

/// What a watched program gets to end by itself before it is killed, when Izba is left.
pub(crate) const PROGRAMS: Duration = Duration::from_millis(300);
/// What a job gets that works on code, a copy or a page.
pub(crate) const JOBS: Duration = Duration::from_millis(150);
/// What the ledger gets to write what is new.
pub(crate) const LEDGER: Duration = Duration::from_millis(300);
/// What all of it gets.
pub(crate) const ALL: Duration = Duration::from_millis(950);

/// What a thread came to, when it ends within `bound`; else it is left behind.
pub(crate) fn join_within<T>(thread: JoinHandle<T>, bound: Duration) -> Option<T> {
    let begun = Instant::now();
    while !thread.is_finished() {
        if begun.elapsed() >= bound {
            return None;
        }
        std::thread::sleep(Duration::from_millis(2));
    }
    thread.join().ok()
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::sync::mpsc::channel;

    #[test]
    fn what_does_not_end_is_left_behind() {
        assert_eq!(join_within(std::thread::spawn(|| 4), Duration::from_secs(60)), Some(4));
        let (end, ended) = channel::<()>();
        let waits = std::thread::spawn(move || ended.recv().is_err());
        assert_eq!(join_within(waits, Duration::from_millis(20)), None);
        drop(end);
    }
}
