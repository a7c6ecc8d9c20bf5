//! Where a source puts what it hears: its spool, and the bell that is rung then.

use crate::Bell;
use crate::spool::{Event, SpoolWriter};
use std::sync::{Arc, Mutex};

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
}
