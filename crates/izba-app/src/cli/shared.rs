//! What all commands share.

use crate::command_error::CommandError;
use std::io::{IsTerminal, Write};
use std::path::PathBuf;

/// Settings that every command shares.
#[derive(Debug, Clone)]
pub struct Shared {
    /// `--store`.
    pub store: Option<PathBuf>,
    /// `--project`.
    pub project: Option<PathBuf>,
}

impl Shared {
    /// The project's folder: named, or found from the folder we are in.
    pub fn root(&self) -> PathBuf {
        match &self.project {
            Some(folder) => folder.clone(),
            None => izba_sources::find_root(
                &std::env::current_dir().unwrap_or_else(|_| PathBuf::from(".")),
            ),
        }
    }
}

/// What a command comes to: its exit code.
pub type Outcome = Result<u8, CommandError>;

/// Whether there is a terminal to draw on.
pub fn has_screen() -> bool {
    std::io::stdout().is_terminal()
}

/// Writes to standard output; a reader that went away is a quiet end.
pub fn print(text: &str) {
    let mut out = std::io::stdout().lock();
    let _ = out.write_all(text.as_bytes()).and_then(|()| out.flush());
}
