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
}
