//! Cornering while watching: one error at a time, on a thread of its own; what comes of it is told
//! as evidence.

use crate::cornering::{Cornered, Edit, Progress};
use izba_core::GroupId;
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Mutex};
use std::thread::JoinHandle;
use std::time::Duration;

/// Runs at most, and the longest time in all.
pub(crate) const BUDGET: (u32, Duration) = (2_000, Duration::from_secs(600));

/// How far an error is cornered.
#[derive(Debug, Clone, PartialEq)]
pub enum Corner {
    /// Under way.
    Running(Progress),
    /// What is left.
    Left(Arc<Cornered>),
    /// The edits that brought it, since a run.
    Edits(Arc<Vec<Edit>>, Progress, bool, u32),
    /// It could not be done: why.
    Failed(String),
}

/// What the screen shows of it.
#[derive(Debug, Clone, PartialEq)]
pub struct CornerView {
    /// The group.
    pub group: GroupId,
    /// Its sentence.
    pub headline: String,
    /// How far it is.
    pub how: Corner,
}

/// An error that is being cornered, or was.
pub(crate) struct Cornering {
    pub(crate) group: GroupId,
    pub(crate) stop: Arc<AtomicBool>,
    pub(crate) slot: Arc<Mutex<Arc<CornerView>>>,
    pub(crate) told: Option<Arc<CornerView>>,
    pub(crate) thread: Option<JoinHandle<()>>,
}

impl Cornering {
    /// What is known by now.
    pub(crate) fn view(&self) -> Arc<CornerView> {
        self.slot.lock().map_or_else(|e| e.into_inner().clone(), |v| v.clone())
    }

    /// Ends it; what is known stays.
    pub(crate) fn stop(&self) {
        self.stop.store(true, Ordering::Release);
    }
}

impl Drop for Cornering {
    fn drop(&mut self) {
        self.stop();
        if let Some(thread) = self.thread.take() {
            let _ = crate::leave::join_within(thread, crate::leave::JOBS);
        }
    }
}
