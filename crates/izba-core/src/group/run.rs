//! One run of a source, as groups are held against it.

use izba_model::Millis;
use serde::{Deserialize, Serialize};

/// One run of a source.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct RunSpan {
    /// Its number, from 1.
    pub run: u32,
    /// When it started, where known.
    pub started: Option<Millis>,
    /// How long it went on, or goes on so far, in milliseconds.
    pub ran_ms: u64,
    /// Own files that were changed since the run before it, as paths.
    pub edits: Vec<String>,
    /// Actions of the user that the source told in it.
    pub actions: u32,
    /// Number of its first line, in the order of the session.
    pub first_line: u64,
    /// Pictures of the page that were taken in it, the oldest first.
    #[serde(default)]
    pub pictures: Vec<Picture>,
    /// Files that were read anew while it went on, the oldest first.
    #[serde(default)]
    pub updates: Vec<Update>,
}

/// Files that a program which runs on has read anew, such as modules that a build server hands to a
/// page that stays as it is.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Update {
    /// When they were, in milliseconds since 1970 (UTC).
    pub time: Millis,
    /// Their paths in the project.
    pub files: Vec<String>,
}

/// A picture of a page, which stands in the run's spool.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub struct Picture {
    /// When it was taken, in milliseconds since 1970 (UTC).
    pub time: Millis,
    /// Byte of the spool where its record begins.
    pub offset: u64,
}

/// Updates that are kept of a run; the oldest go first.
const UPDATES: usize = 200;

impl RunSpan {
    /// Notes that files were read anew.
    pub fn update(&mut self, update: Update) {
        if self.updates.len() == UPDATES {
            self.updates.remove(0);
        }
        self.updates.push(update);
    }

    /// The first time after `seen` at which one of these files was read anew.
    pub(super) fn read_anew(&self, seen: Millis, of: impl Fn(&str) -> bool) -> Option<Millis> {
        let fits = |u: &&Update| u.time > seen && u.files.iter().any(|f| of(f));
        self.updates.iter().find(fits).map(|u| u.time)
    }
}
