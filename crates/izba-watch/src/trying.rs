//! Trials by themselves: what was tried of which error, and whether Izba may try without being asked.

use crate::cornering::Tried;
use izba_core::GroupId;
use izba_store::Trust;
use std::collections::{HashMap, HashSet};
use std::path::Path;
use std::sync::Arc;

/// Of so many errors at most it is kept what was tried.
pub(crate) const KEPT: usize = 400;

/// What was tried, and whether Izba tries by itself.
#[derive(Debug, Default)]
pub(crate) struct Trying {
    /// Whether the user said that it may.
    pub(crate) alone: bool,
    /// Errors that were begun with, by itself or by the user.
    pub(crate) begun: HashSet<GroupId>,
    /// What came of it.
    pub(crate) of: HashMap<GroupId, Arc<Vec<Tried>>>,
}

impl Trying {
    /// As the user said it once for the project in `root`; `store` is where answers are kept.
    pub(crate) fn of(root: &Path, store: &Path) -> Trying {
        let root = root.canonicalize().unwrap_or_else(|_| root.to_owned());
        let alone = Trust::of_trials(store).given(&root, "").is_some();
        Trying { alone, ..Trying::default() }
    }

    /// Keeps what came of trying the edits of an error.
    pub(crate) fn keep(&mut self, group: GroupId, tried: Arc<Vec<Tried>>) {
        if self.of.len() < KEPT {
            self.of.insert(group, tried);
        }
    }

    /// That an error was begun with.
    pub(crate) fn begin(&mut self, group: GroupId) {
        self.begun.insert(group);
    }
}
