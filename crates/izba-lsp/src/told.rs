//! One thing that is told of a file, with what can be done about it.

use crate::shown::Change;
use izba_watch::sharing::Request;
use lsp_types::Diagnostic;
use std::path::PathBuf;
use std::sync::Arc;

/// One thing that is told at one line.
#[derive(Debug, Clone)]
pub(crate) struct Told {
    pub(crate) diagnostic: Diagnostic,
    /// What can be done about it.
    pub(crate) acts: Vec<Act>,
    /// What it means, for one who points at it; Markdown.
    pub(crate) means: String,
    /// What stands above its line.
    pub(crate) above: Option<String>,
}

/// Something that can be done.
#[derive(Debug, Clone)]
pub(crate) enum Act {
    /// An exact edit of a file.
    Edit {
        /// What it does, in words.
        title: String,
        /// Path in the project.
        file: Arc<str>,
        /// Line by line, in the text that was looked at.
        changes: Vec<Change>,
        /// Whether the text that was looked at is the one of now.
        same: bool,
    },
    /// Ask the session that told it.
    Ask {
        /// What for, in words.
        title: String,
        /// At which socket.
        socket: PathBuf,
        /// For what.
        request: Request,
    },
}
