//! The one error of this crate.

use std::io;
use std::path::PathBuf;

/// Why a source could not be opened, read or kept.
#[derive(Debug, thiserror::Error)]
pub enum SourceError {
    /// The command is not there, or may not be run.
    #[error("cannot start {command:?}")]
    Start {
        /// What was to be started.
        command: String,
        /// Why.
        #[source]
        cause: io::Error,
    },
    /// A script was given and nothing that runs it is installed.
    #[error("nothing that runs {script} was found; looked for {looked_for}")]
    NoInterpreter {
        /// The script.
        script: String,
        /// The names that were looked for.
        looked_for: String,
    },
    /// Reading or writing failed.
    #[error("cannot {doing} {}", path.display())]
    Io {
        /// What was tried: `read`, `write to`, `open`.
        doing: &'static str,
        /// On what.
        path: PathBuf,
        /// Why.
        #[source]
        cause: io::Error,
    },
    /// The system refused something that has no path.
    #[error("cannot {doing}")]
    System {
        /// What was tried.
        doing: &'static str,
        /// Why.
        #[source]
        cause: io::Error,
    },
}

impl SourceError {
    pub(crate) fn io(
        doing: &'static str,
        path: impl Into<PathBuf>,
    ) -> impl FnOnce(io::Error) -> SourceError {
        let path = path.into();
        move |cause| SourceError::Io { doing, path, cause }
    }

    pub(crate) fn system(doing: &'static str) -> impl FnOnce(io::Error) -> SourceError {
        move |cause| SourceError::System { doing, cause }
    }

    /// The error and its causes in one sentence.
    pub fn sentence(&self) -> String {
        let mut text = self.to_string();
        let mut cause = std::error::Error::source(self);
        while let Some(inner) = cause {
            text.push_str(": ");
            text.push_str(&plain(&inner.to_string()));
            cause = inner.source();
        }
        text
    }
}

/// An error of the system as the end of a sentence: without its number, in small letters.
pub fn plain_io(error: &io::Error) -> String {
    plain(&error.to_string())
}

fn plain(text: &str) -> String {
    text.split(" (os error").next().unwrap_or(text).to_lowercase()
}
