//! The sources of the engine thread: opened, held, taken away, started again.

use crate::debugged::Debugged;
use crate::kinds::{Origin, Wanted};
use crate::trimmed::Trimmed;
use izba_core::SourceId;
use izba_model::Project;
use izba_sources::{Adapter, Command, Running, SpoolReader, SpoolWriter};
use std::path::PathBuf;
use std::sync::atomic::{AtomicBool, AtomicU64};
use std::sync::{Arc, Mutex};
use std::thread::JoinHandle;
use std::time::{Duration, Instant};

/// How often files that fit a pattern are looked for.
pub(crate) const FILES: Duration = Duration::from_secs(1);
/// Files of one pattern that are watched.
pub(crate) const FILES_CAP: usize = 50;
/// How long after the last save a command starts again.
pub(crate) const AFTER_SAVE: Duration = Duration::from_millis(300);

/// A source that is not watched from the beginning: its name, where it comes from, and the program
/// that has to run along.
#[derive(Debug)]
pub struct Later {
    /// The name that people see.
    pub name: String,
    /// Where it comes from.
    pub origin: Origin,
    /// A program that is started first and not watched itself.
    pub helper: Option<Command>,
}

/// One source under the engine thread's hands.
pub(crate) struct WatchedSource {
    pub(crate) id: SourceId,
    pub(crate) name: String,
    pub(crate) reader: SpoolReader,
    /// The next record, taken out of the spool and not read yet.
    pub(crate) next: Option<izba_sources::Record>,
    /// Where its bytes are put; a run of an earlier session has its bytes.
    pub(crate) writer: Option<Arc<Mutex<SpoolWriter>>>,
    /// The project as it was when an earlier run started.
    pub(crate) past: Option<Arc<Project>>,
    pub(crate) command: Option<Command>,
    pub(crate) running: Option<Running>,
    /// How it is paused, where it can be, and the session with its adapter.
    pub(crate) debugged: Option<Box<Debugged>>,
    pub(crate) adapter: Option<Adapter>,
    /// What the user typed to the program in this run.
    pub(crate) typed: String,
    pub(crate) complained: bool,
    pub(crate) held: bool,
    pub(crate) taken: bool,
    pub(crate) wanted: Option<Wanted>,
    /// Names under which what is the user's speaks; empty when all is.
    pub(crate) own: Vec<String>,
    pub(crate) stop: Arc<AtomicBool>,
    /// Has something to put away at the end, such as a browser.
    pub(crate) closing: Option<JoinHandle<()>>,
    /// Set to have it loaded again.
    pub(crate) reload: Option<Arc<AtomicBool>>,
    pub(crate) again: bool,
    /// Where it is told how far it was read.
    pub(crate) read_to: Arc<AtomicU64>,
    /// What of its run is left out.
    pub(crate) trimmed: Trimmed,
}

/// Files that fit a pattern are watched as they appear.
pub(crate) struct Glob {
    pub(crate) pattern: String,
    pub(crate) seen: Vec<PathBuf>,
    pub(crate) looked: Instant,
}

impl WatchedSource {
    /// Whether it is a program that can be started again, or a page that can be loaded again.
    pub(crate) fn can_start(&self) -> bool {
        self.command.is_some() || self.debugged.is_some() || self.reload.is_some()
    }

    /// Whether its program runs.
    pub(crate) fn is_running(&self) -> bool {
        let launched = self.debugged.as_ref().is_some_and(|d| d.command.is_none());
        self.running.as_ref().is_some_and(|r| !r.has_ended())
            || launched && self.adapter.as_ref().is_some_and(|a| !a.has_ended())
    }

    /// Ends its program, if it runs.
    pub(crate) fn end_program(&self) {
        if let Some(running) = self.running.as_ref().filter(|r| !r.has_ended()) {
            running.stop();
        } else if let Some(adapter) = self.adapter.as_ref().filter(|a| !a.has_ended()) {
            adapter.want(izba_dap::Want::End);
        }
    }

    /// Names under which what is the user's speaks; empty when all is.
    pub(crate) fn own_names(&self) -> &[String] {
        &self.own
    }
}
