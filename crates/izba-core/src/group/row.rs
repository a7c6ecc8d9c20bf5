//! A row as a screen or a script sees it: a group, or what is counted together, as a value that
//! never changes.

use super::follow::Follow;
use super::id::GroupId;
use super::identity::Identity;
use super::quiet::Silence;
use super::sight::RunTally;
use super::wishes::Split;
use crate::state::State;
use izba_cause::explain::{Explanation, explain_found};
use izba_cause::suspect::Findings;
use izba_model::claim::Suspect;
use izba_model::{Entry, Level, Millis};
use std::sync::Arc;

/// A row: a group, or what is counted together by the user's wish.
#[derive(Debug, Clone)]
pub struct GroupView {
    /// Its number.
    pub id: GroupId,
    /// The groups that are counted in it.
    pub members: Vec<GroupId>,
    /// What it is known by.
    pub identity: Identity,
    /// What the groups in it are known by.
    pub identities: Vec<Identity>,
    /// Index of its source; of several, the one that tells most.
    pub source: usize,
    /// All sources that tell it.
    pub tellers: Vec<usize>,
    /// Its first entry in the latest run that saw it.
    pub entry: Arc<Entry>,
    /// What Izba says of it.
    pub explanation: Arc<Explanation>,
    /// Its message with what changed from one time to the next taken out.
    pub shape: String,
    /// What the rows stand for, when it is not the mistake itself: such as the object.
    pub heading: Option<String>,
    /// How often in the current run; of a quiet group, in the last run that saw it. What two
    /// sources tell is counted once.
    pub count: u64,
    /// How often it was met in all runs.
    pub total: u64,
    /// Times a second, over the last five seconds.
    pub rate: f64,
    /// First and last time, where times are known.
    pub first: Option<Millis>,
    /// When it was met last, in milliseconds since 1970 (UTC).
    pub last: Option<Millis>,
    /// Against earlier runs.
    pub state: State,
    /// First run that saw it.
    pub first_run: u32,
    /// Last run that saw it.
    pub last_run: u32,
    /// Objects at fault with counts, most frequent first.
    pub objects: Vec<(String, u64)>,
    /// Callers with counts, most frequent first.
    pub callers: Vec<(String, u64)>,
    /// How its parts are told apart, when they are.
    pub split: Option<Split>,
    /// Ways in which it could be split: its parts differ in these.
    pub differs: Vec<Split>,
    /// Line of the source at which it was first met in the latest run that saw it.
    pub first_line: u64,
    /// Line of the source at which it was last met.
    pub last_line: u64,
    /// Whether somebody else's app, logger or process said it.
    pub foreign: bool,
    /// Whether the user set it aside.
    pub muted: bool,
    /// When the user called it fixed.
    pub fixed: Option<Millis>,
    /// Whether it ended its run.
    pub stops: bool,
    /// The last run that it ended, whichever that was.
    pub stopped: Option<u32>,
    /// Whether it is new in a run before which something was changed.
    pub since_edit: bool,
    /// The file whose save it came right after, when it was met for the first time while the
    /// program ran.
    pub after_save: Option<String>,
    /// What it only ever comes right after.
    pub follows: Option<Follow>,
    /// Whether it stands under that one.
    pub hangs: bool,
    /// The first message about the same script that cannot be read, where this is a later one; or
    /// the error of a server that this one tells of, in a page: both are one row, until somebody
    /// asks for all.
    pub later_than: Option<GroupId>,
    /// Why it stands where it does: one sentence.
    pub reason: String,
    /// What its silence says, when it is quiet.
    pub silence: Option<Silence>,
    /// What each run saw, oldest first.
    pub runs: Vec<RunTally>,
}

impl GroupView {
    /// The path that leads to its place: that of the deepest cause with own steps, else the
    /// outermost one.
    pub fn path(&self) -> &[izba_model::StackFrame] {
        let report = &self.entry.report;
        let own = |frames: &[izba_model::StackFrame]| frames.iter().any(|f| f.own.is_some());
        report
            .causes
            .iter()
            .rev()
            .map(|c| c.frames.as_slice())
            .find(|f| own(f))
            .unwrap_or(&report.frames)
    }

    /// What Izba says of it, with what was found out about it where that is known.
    pub fn told(&self, found: Option<&Findings>) -> Explanation {
        match found {
            Some(found) => explain_found(&self.entry, &self.explanation, found),
            None => (*self.explanation).clone(),
        }
    }

    /// The gravest level of the entries in the row.
    pub fn level(&self) -> Level {
        self.entry.report.level
    }

    /// Whether it has an own place.
    pub fn is_own(&self) -> bool {
        self.entry.place.is_some()
    }

    /// Whether this group is counted in it.
    pub fn holds(&self, id: GroupId) -> bool {
        self.id == id || self.members.contains(&id)
    }
}

/// The key by which a suspect of a group is known to be innocent.
pub fn suspect_key(group: &GroupView, suspect: &Suspect) -> String {
    format!("suspect {} {} {}", group.identity, suspect.file, suspect.claim.says.identity())
}
