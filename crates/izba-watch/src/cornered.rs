//! Cornering while watching: one error at a time, on a thread of its own; what comes of it is told
//! as evidence.

use crate::cornering::{Cornered, Edit, Edits, Progress, Trials, Tried};
use izba_core::GroupId;
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Mutex};
use std::thread::JoinHandle;
use std::time::Duration;

/// Runs at most, and the longest time in all.
pub(crate) const BUDGET: (u32, Duration) = (2_000, Duration::from_secs(600));

/// The same of trying edits.
pub(crate) const TRIALS: (u32, Duration) = (100, Duration::from_secs(60));

/// How far an error is cornered.
#[derive(Debug, Clone, PartialEq)]
pub enum Corner {
    /// Under way.
    Running(Progress),
    /// What is left.
    Left(Arc<Cornered>),
    /// The edits that brought it, since a run.
    Edits(Arc<Vec<Edit>>, Progress, bool, u32),
    /// Exact edits are tried in a copy.
    Trying(Trials),
    /// What came of trying them.
    Tried(Arc<Vec<Tried>>),
    /// It could not be done: why.
    Failed(String),
}

/// What is to be found out of an error by running copies.
#[derive(Debug, Clone, PartialEq)]
pub enum CornerFor {
    /// The lines that it needs.
    Lines,
    /// Which of the user's edits brought it.
    Edits,
    /// Whether it is gone with one of these edits.
    Fixes(Edits),
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
