//! Programs that can be paused: the sessions with their adapters, the breakpoints as they stand in
//! the files that run, and what a stop tells as evidence.

use izba_cause::pause::{Breakpoint, Spoken, spoken};
use izba_core::GroupId;
use izba_dap::{Plan, State, Want, World};
use izba_model::Project;
use izba_model::code::Index;
use std::collections::{BTreeMap, BTreeSet};
use std::path::{Path, PathBuf};
use std::sync::Arc;

/// At which errors the program shall stop.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub enum Stops {
    /// At none.
    #[default]
    None,
    /// At those that nobody catches.
    Uncaught,
    /// At all of them.
    All,
    /// Only where this group fails: its headline, its file and line.
    Group(GroupId, String, Arc<str>, u32),
}

impl Stops {
    /// As the end of a sentence: it stops …
    pub fn words(&self) -> String {
        match self {
            Stops::None => "at no error".to_owned(),
            Stops::Uncaught => "at each error that nobody catches".to_owned(),
            Stops::All => "at each error, also those that the program catches".to_owned(),
            Stops::Group(_, headline, file, at) => {
                format!("when this happens again, at {file}:{at}: {headline}")
            }
        }
    }
}

/// What is asked of a program that can be paused.
#[derive(Debug, Clone, PartialEq)]
pub enum PauseOrder {
    /// Something of the session.
    Want(Want),
    /// At which errors to stop: none, those that nobody catches, all.
    Errors(Stops),
    /// At which errors to stop: the next choice.
    NextErrors,
    /// Stop when this group fails again.
    Again(GroupId),
    /// Stop just before this group fails again.
    Before(GroupId),
    /// Until the handler that runs begins again for the same object.
    Tick,
    /// Watch an expression.
    Watch(String),
    /// Watch it no longer.
    Unwatch(usize),
}

/// A breakpoint as it stands.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct BreakRow {
    /// Its key among the decisions.
    pub key: String,
    /// As it was set.
    pub breakpoint: Breakpoint,
    /// Its line in the files as they are now; `None` when its line is gone.
    pub today: Option<u32>,
    /// What the adapter said of it, where it did not take it.
    pub refused: Option<String>,
    /// Whether the program stopped at it in this run.
    pub reached: bool,
}

/// What the screen shows of pausing.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct PauseView {
    /// The source whose session is shown; `None` while nothing can be paused.
    pub source: Option<usize>,
    /// Its name.
    pub name: String,
    /// What is known of the session.
    pub state: Arc<State>,
    /// At which errors it stops.
    pub stops: Stops,
    /// The breakpoints.
    pub breakpoints: Vec<BreakRow>,
    /// Watched expressions.
    pub watches: Vec<String>,
}

/// What the engine thread keeps of pausing.
#[derive(Default)]
pub(crate) struct Pausing {
    pub(crate) stops: Stops,
    pub(crate) watches: Vec<String>,
    /// Files that the running program read again, by which its lines are those of today.
    pub(crate) reread: BTreeSet<Arc<str>>,
    /// For which project and index the sessions know what stands where.
    pub(crate) told: Option<(Arc<Project>, Arc<Index>)>,
    pub(crate) plan: Option<Plan>,
    /// The state that was looked at last, of each source.
    pub(crate) seen: BTreeMap<usize, Arc<State>>,
    /// Breakpoints that were reached in this run, by their keys.
    pub(crate) reached: BTreeSet<String>,
    /// The stop that was counted as evidence last, of each source.
    pub(crate) witnessed: BTreeMap<usize, u64>,
    pub(crate) view: Arc<PauseView>,
}

/// What a session has to know of the project.
pub(crate) struct Files {
    pub(crate) root: PathBuf,
    pub(crate) project: Arc<Project>,
    pub(crate) today: Arc<Project>,
    pub(crate) reread: BTreeSet<Arc<str>>,
    pub(crate) index: Arc<Index>,
}

impl World for Files {
    fn own(&self, path: &str) -> Option<Arc<str>> {
        let inside =
            Path::new(path).strip_prefix(&self.root).ok().map(|p| p.to_string_lossy().into_owned());
        let found = inside.and_then(|p| self.today.file(&p)).map(|f| f.path.clone());
        found.or_else(|| if path.starts_with('/') { None } else { self.today.find(path) })
    }

    fn absolute(&self, file: &str) -> String {
        self.root.join(file).to_string_lossy().into_owned()
    }

    fn spoken(&self, file: &str, line: u32) -> Vec<Spoken> {
        let text = if self.reread.contains(file) {
            self.today.line(file, line)
        } else {
            self.project.line(file, line)
        };
        let Some(facts) = self.index.file(file) else { return Vec::new() };
        // The index may be of another version of the file than the one that runs.
        let line = if facts.line(line) == text {
            line
        } else {
            let Some(found) = text.and_then(|t| {
                (1..=facts.text.lines().count() as u32).find(|l| facts.line(*l) == Some(t))
            }) else {
                return Vec::new();
            };
            found
        };
        spoken(facts, line)
    }
}

/// What to do when nothing can be paused.
pub(crate) const NO_ADAPTER: &str = "nothing here runs under a debug adapter: name one with izba run --adapter, or as adapter \
    = \"…\" in izba.toml";
