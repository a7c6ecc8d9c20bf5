//! How a group stands against earlier runs.

use serde::{Deserialize, Serialize};

/// A group against the earlier runs of its own source.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum State {
    /// First met in this run.
    New,
    /// Met before too.
    Still,
    /// Met before, not in this run so far.
    Quiet,
    /// Called fixed, or silent through a whole run, and here again.
    Back,
}

impl State {
    /// The word under which it is kept and typed.
    pub fn word(self) -> &'static str {
        match self {
            State::New => "new",
            State::Still => "still",
            State::Quiet => "quiet",
            State::Back => "back",
        }
    }
}
