//! The one place where errors become a sentence, a hint and an exit code.

use izba_sources::SourceError;
use izba_watch::wanted::Refused;

/// Exit codes, as the README lists them.
pub mod exit {
    /// Exit code: the log held no error that is not set aside.
    pub const WELL: u8 = 0;
    /// An unmuted error was found.
    pub const FOUND: u8 = 1;
    /// Exit code: the command line was wrong, before anything was read.
    pub const USE: u8 = 2;
    /// The input could not be read.
    pub const INPUT: u8 = 3;
}

/// Why a command ended, with what helps.
#[derive(Debug, thiserror::Error)]
#[error("{text}")]
pub struct CommandError {
    /// The exit code, one of [`exit`].
    pub code: u8,
    /// One sentence.
    pub text: String,
    /// What helps.
    pub hint: Option<String>,
}

impl CommandError {
    /// Wrong use: the words of the command are off.
    pub fn wrong_use(text: impl Into<String>, hint: impl Into<String>) -> CommandError {
        CommandError { code: exit::USE, text: text.into(), hint: Some(hint.into()) }
    }

    /// The input could not be read.
    pub fn input(text: impl Into<String>) -> CommandError {
        CommandError { code: exit::INPUT, text: text.into(), hint: None }
    }

    /// Adds a sentence on what to do, shown below the error.
    #[must_use]
    pub fn hint(mut self, hint: impl Into<String>) -> CommandError {
        self.hint = Some(hint.into());
        self
    }
}

impl From<Refused> for CommandError {
    fn from(refused: Refused) -> CommandError {
        CommandError { code: exit::INPUT, text: refused.text, hint: refused.hint }
    }
}

impl From<SourceError> for CommandError {
    fn from(error: SourceError) -> CommandError {
        let text = error.sentence();
        match error {
            SourceError::Start { .. } => CommandError {
                code: exit::INPUT,
                text,
                hint: Some("check the spelling, or give the whole path to the program".into()),
            },
            SourceError::NoInterpreter { .. } => CommandError {
                code: exit::INPUT,
                text,
                hint: Some(
                    "install one of them, or give the command in full: izba run -- COMMAND …"
                        .into(),
                ),
            },
            SourceError::Io { .. } | SourceError::System { .. } => {
                CommandError { code: exit::INPUT, text, hint: None }
            }
        }
    }
}
