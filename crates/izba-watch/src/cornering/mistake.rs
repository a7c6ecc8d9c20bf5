//! Which error is cornered, in what, and how far that is.

use izba_core::GroupView;
use izba_model::{Family, Project};
use izba_sources::Program;
use std::path::PathBuf;
use std::sync::Arc;
use std::time::Duration;

/// The error that is cornered, as it is known again in another run.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Mistake {
    pub(super) family: Family,
    pub(super) kind: Option<String>,
    pub(super) message: String,
    pub(super) place: Option<(Arc<str>, u32)>,
    /// The own steps that led there.
    pub(super) steps: Vec<(Arc<str>, u32)>,
    /// The sentence about it.
    pub headline: String,
}

/// How alike two sightings have to be to be the same error. The more has to be alike, the surer it
/// is that what is left shows the error for the reason that it had.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) struct Alike {
    /// To the letter; else numbers may differ.
    pub(super) message: bool,
    /// The line.
    pub(super) line: bool,
    /// The own steps that led there.
    pub(super) steps: bool,
}

/// A message without its numbers: addresses and times are others each time.
fn bare(message: &str) -> String {
    message.chars().map(|c| if c.is_ascii_digit() { '0' } else { c }).collect()
}

impl Mistake {
    /// The mistake that a group stands for.
    pub fn of(group: &GroupView) -> Mistake {
        let entry = &group.entry;
        let place = entry.place.as_ref().and_then(|p| Some((p.file.clone(), p.line?)));
        Mistake {
            family: entry.family,
            kind: entry.root_kind.clone(),
            message: entry.root_message.clone(),
            place,
            steps: group
                .path()
                .iter()
                .filter_map(|f| Some((f.own.clone()?, f.line.unwrap_or(0))))
                .collect(),
            headline: group.explanation.headline.to_string(),
        }
    }

    /// Whether another run says it again, after an edit by which lines moved: `at` tells where a line
    /// of a file stands then.
    pub(super) fn is_again(&self, other: &Mistake, at: &dyn Fn(&str, u32) -> u32) -> bool {
        let place = self.place.as_ref().map(|(file, line)| (file.clone(), at(file, *line)));
        bare(&self.message) == bare(&other.message)
            && (self.family, &self.kind, &place) == (other.family, &other.kind, &other.place)
    }

    /// Whether a line by which it came is one of these.
    pub(super) fn comes_by(&self, is_one: impl Fn(&str, u32) -> bool) -> bool {
        self.place.iter().chain(&self.steps).any(|(file, line)| is_one(file, *line))
    }

    pub(super) fn is(&self, other: &Mistake, alike: Alike) -> bool {
        let message = if alike.message {
            self.message == other.message
        } else {
            bare(&self.message) == bare(&other.message)
        };
        let line = |place: &Option<(Arc<str>, u32)>| {
            place.as_ref().map(|(f, l)| (f.clone(), if alike.line { *l } else { 0 }))
        };
        let steps = !alike.steps || self.steps == other.steps;
        message
            && steps
            && (self.family, &self.kind, line(&self.place))
                == (other.family, &other.kind, line(&other.place))
    }
}

/// What is to be run.
#[derive(Debug, Clone)]
pub struct Start {
    /// The project's folder.
    pub root: PathBuf,
    /// The files as they are now.
    pub project: Arc<Project>,
    /// What is run.
    pub program: Program,
    /// A folder of ours for the copy.
    pub beside: PathBuf,
    /// Runs at most, and the longest time in all.
    pub budget: (u32, Duration),
    /// Whether what is read keeps what gives it its value.
    pub needs: Needs,
}

/// Whether what is read keeps what gives it its value.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum Needs {
    /// It does: the error that is left has the origin that it had.
    #[default]
    Kept,
    /// Less is left, at times with an error of another origin that looks the same.
    Loose,
}

/// What is known on the way.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Progress {
    /// How often a copy was run so far.
    pub runs: u32,
    /// Lines, or edits, that are left, of so many.
    pub left: (usize, usize),
    /// Whether edits are counted.
    pub edits: bool,
    /// How long it takes by now, in milliseconds.
    pub took_ms: u64,
    /// What is left out just now.
    pub trying: String,
    /// It came in so many of so many runs of the whole.
    pub seen: (u32, u32),
}
