//! Where a source puts what it hears: its spool, and the bell that is rung then.

use crate::Bell;
use crate::spool::{Event, SpoolWriter};
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Mutex};
use std::time::Duration;

/// How often one who waits looks again.
const LOOK: Duration = Duration::from_millis(5);

/// The way from a source into its spool. What the disk refuses is counted by the spool, and the
/// source goes on.
#[derive(Clone)]
pub(crate) struct Sink {
    spool: Arc<Mutex<SpoolWriter>>,
    bell: Bell,
}

impl Sink {
    /// A sink for a spool.
    pub(crate) fn new(spool: Arc<Mutex<SpoolWriter>>, bell: Bell) -> Sink {
        Sink { spool, bell }
    }

    /// Appends one record and rings.
    pub(crate) fn append(&self, event: &Event, bytes: &[u8]) {
        if let Ok(mut spool) = self.spool.lock() {
            let _ = spool.append(event, bytes);
        }
        (self.bell)();
    }

    /// [`Sink::append`], which waits while too much is still to be read, unless `stop` is set.
    pub(crate) fn append_in_turn(&self, event: &Event, bytes: &[u8], stop: &AtomicBool) {
        self.append(event, bytes);
        wait_for_reader(&self.spool, stop);
    }
}

/// Waits while so much of a spool is still to be read that it would fill the disk.
pub(crate) fn wait_for_reader(spool: &Mutex<SpoolWriter>, stop: &AtomicBool) {
    while !stop.load(Ordering::Acquire) && spool.lock().is_ok_and(|spool| spool.is_behind()) {
        std::thread::sleep(LOOK);
    }
}
