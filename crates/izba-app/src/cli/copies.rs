//! What commands share that run copies of the project: what is run, where the copy lies, which error is
//! meant, and that it can be stopped.

use super::shared::Shared;
use crate::command_error::CommandError;
use izba_core::GroupView;
use izba_core::filter::Around;
use izba_model::Level;
use izba_sources::{Command, CommandSpec, Program, Store};
use izba_watch::cornering::{self, Needs, Start};
use std::ffi::OsString;
use std::path::{Path, PathBuf};
use std::sync::Arc;
use std::sync::atomic::AtomicBool;
use std::time::Duration;

/// A project of which copies are run.
pub(super) struct Copies {
    /// What is run.
    pub start: Start,
    /// Set by an interrupt.
    pub stop: Arc<AtomicBool>,
    /// What the program is called in the ledger.
    pub name: String,
    store: Store,
}

impl Copies {
    /// Copies of the project, for a program that is started from the folder we are in; `budget` is how
    /// many runs and how long.
    pub fn of(
        shared: &Shared,
        words: &[OsString],
        input: Option<&Path>,
        budget: (u32, Duration),
        needs: Needs,
    ) -> Result<Copies, CommandError> {
        let here = std::env::current_dir().map_err(|e| {
            CommandError::input(format!("the folder we are in cannot be read: {e}"))
        })?;
        let root = shared.root().canonicalize().unwrap_or_else(|_| shared.root());
        let within = here
            .canonicalize()
            .unwrap_or(here.clone())
            .strip_prefix(&root)
            .map(PathBuf::from)
            .unwrap_or_default();
        let spec = CommandSpec {
            words: words.to_vec(),
            folder: here,
            environment: Vec::new(),
            pipes: true,
            inherit_input: false,
        };
        let command = Command::new(spec)?;
        let input = match input {
            Some(path) => {
                let failed = |e: std::io::Error| {
                    CommandError::input(format!(
                        "{} cannot be read: {}",
                        path.display(),
                        izba_sources::plain_io(&e)
                    ))
                };
                std::fs::read_to_string(path).map_err(failed)?
            }
            None => String::new(),
        };
        let store = Store::open(shared.store.clone())?;
        let session = store.session()?;
        let start = Start {
            project: Arc::new(izba_files::scan(&root)),
            root: root.clone(),
            program: Program {
                words: command.words().to_vec(),
                within,
                environment: Vec::new(),
                input,
            },
            beside: session.join("copy"),
            budget,
            needs,
        };

        let stop = Arc::new(AtomicBool::new(false));
        for signal in [signal_hook::consts::SIGINT, signal_hook::consts::SIGTERM] {
            let _ = signal_hook::flag::register(signal, stop.clone());
        }
        Ok(Copies { start, stop, name: command.line(), store })
    }

    /// Where runs are kept.
    pub fn store(&self) -> &Path {
        self.store.folder()
    }

    /// Runs the program once, and gives the first error that fits the phrase; none where it came none.
    pub fn error(&self, phrase: Option<&str>) -> Result<Option<Arc<GroupView>>, CommandError> {
        let phrase = super::logs::phrase_of(phrase)?;
        let groups = cornering::look(&self.start, &self.stop).map_err(CommandError::input)?;
        let names = vec!["copy".to_owned()];
        let around = Around { sources: &names, now: None, utc_offset: 0 };
        let fits = |g: &Arc<GroupView>| {
            g.level() >= Level::Error && phrase.as_ref().is_none_or(|p| p.fits_group(g, &around))
        };
        Ok(groups.into_iter().find(fits))
    }
}
