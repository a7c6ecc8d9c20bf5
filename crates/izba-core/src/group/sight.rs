//! What was seen of a group: how often in each run, who was at fault, and the gaps between
//! sightings.

use super::Identity;
use izba_model::{Entry, Millis};
use serde::{Deserialize, Serialize};
use std::collections::VecDeque;
use std::sync::Arc;

/// Gaps remembered of each group.
const GAPS: usize = 256;

/// What one run saw of a group.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub struct RunTally {
    /// Number of the run within its source, from 1.
    pub run: u32,
    /// How often it was met in this run.
    pub count: u64,
    /// First time in it, where times are known.
    pub first: Option<Millis>,
    /// When it was met last in this run, in milliseconds since 1970 (UTC).
    pub last: Option<Millis>,
    /// Line of the source at which it was first met in it.
    pub line: u64,
    /// Whether it ended this run.
    #[serde(default)]
    pub ended: bool,
}

/// Sightings of a group that are alike in who was at fault, who called, and in the very words.
#[derive(Debug, Clone, PartialEq)]
pub struct Part {
    /// The object at fault, where the console tells.
    pub object: Option<String>,
    /// Who called the function that failed.
    pub caller: Option<String>,
    /// The words that were taken out of the message; of more than a few different ones the rest
    /// share a part.
    pub words: Vec<String>,
    /// What the three of them come to, for a quick look.
    pub(super) hash: u64,
    /// How often in the last run that saw it.
    pub count: u64,
    /// How often in all runs of this session.
    pub total: u64,
    /// Number of the last run that saw it.
    pub run: u32,
    /// First of its entries.
    pub entry: Arc<Entry>,
}

/// One gap between sightings, in running time of the source.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Gap {
    /// How long it lasted, in milliseconds.
    pub ms: u64,
    /// Actions of the user that the source told meanwhile.
    pub actions: u32,
}

/// The latest gaps between sightings, and how long after the start of a run the first one came.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
pub struct Gaps {
    /// The latest gaps, oldest first.
    pub list: VecDeque<Gap>,
    /// For each of the latest runs that saw it: milliseconds from the start to the first sighting.
    pub starts: VecDeque<u64>,
}

impl Gaps {
    pub(super) fn add(&mut self, gap: Gap) {
        if self.list.len() == GAPS {
            self.list.pop_front();
        }
        self.list.push_back(gap);
    }

    pub(super) fn add_start(&mut self, ms: u64) {
        if self.starts.len() == GAPS {
            self.starts.pop_front();
        }
        self.starts.push_back(ms);
    }
}

/// A group as earlier runs left it.
#[derive(Debug, Clone)]
pub struct Recalled {
    /// Its identity.
    pub identity: Identity,
    /// What it has in common with what other sources tell of the same mistake.
    pub across: Identity,
    /// Its identity without the text of the line.
    pub edited: Option<Identity>,
    /// Its entry in the last run that saw it.
    pub entry: Entry,
    /// What each run saw, oldest first.
    pub runs: Vec<RunTally>,
    /// The gaps between sightings.
    pub gaps: Gaps,
}
