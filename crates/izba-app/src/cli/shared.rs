//! What all commands share.

use crate::command_error::CommandError;
use izba_watch::Setup;
use izba_watch::collector::Tell;
use izba_watch::kinds::Origin;
use std::path::PathBuf;

/// Settings that every command shares.
#[derive(Debug, Clone)]
pub struct Shared {
    /// `--store`.
    pub store: Option<PathBuf>,
    /// `--project`.
    pub project: Option<PathBuf>,
    /// `--trust`: given at all, what izba.toml names is done; what needs its name, if it is here.
    pub trust: Vec<String>,
    /// `--tell` and `--tell-as`: who is told what becomes of mistakes.
    pub tell: Option<Tell>,
}

impl Shared {
    /// What is to be watched in the project's folder.
    pub fn setup(&self, session: PathBuf, sources: Vec<(String, Origin)>) -> Setup {
        Setup { tell: self.tell.clone(), ..Setup::new(self.root(), session, sources) }
    }

    /// The project's folder: named, or found from the folder we are in.
    pub fn root(&self) -> PathBuf {
        match &self.project {
            Some(folder) => folder.clone(),
            None => izba_files::find_root(
                &std::env::current_dir().unwrap_or_else(|_| PathBuf::from(".")),
            ),
        }
    }
}

/// What a command comes to: its exit code.
pub type Outcome = Result<u8, CommandError>;

/// The program that a command starts.
#[derive(clap::Args, Debug)]
pub struct Started {
    /// The program and its arguments; a script alone finds its interpreter
    #[arg(
        required = true,
        trailing_var_arg = true,
        allow_hyphen_values = true,
        value_name = "CMD"
    )]
    pub words: Vec<std::ffi::OsString>,
}
