//! Trials by themselves: where the user said so once for this project, each new error's edits are
//! tried in copies as soon as they are known, one error after the other.

use super::state::Worker;
use crate::cornered::{Corner, CornerFor, Cornering};
use crate::cornering::{Edits, Tried};
use crate::trying::KEPT;
use izba_core::{GroupId, GroupView, State};
use izba_model::Level;
use izba_model::claim::WORTH;
use izba_store::{Trust, Trusted};
use std::sync::Arc;

impl Worker {
    /// The edits of a group's error that were tried, with what came of them.
    pub(crate) fn tried(&self, group: GroupId) -> Option<Arc<Vec<Tried>>> {
        self.trying.of.get(&group).cloned()
    }

    /// Keeps whether Izba tries by itself in this project, and does so from now on.
    pub(crate) fn try_alone(&mut self, alone: bool) {
        let folder = self.root.canonicalize().unwrap_or_else(|_| self.root.clone());
        let trust = Trust::of_trials(self.store());
        let kept = match alone {
            true => {
                trust.give(Trusted { folder, content: String::new(), named: Default::default() })
            }
            false => trust.take_back(&folder).map(drop),
        };
        self.trying.alone = alone;
        let said = match (alone, kept) {
            (true, Ok(())) => "each new error's edits are tried in copies from now on".to_owned(),
            (false, Ok(())) => "nothing is tried any more unless you ask".to_owned(),
            (_, Err(why)) => format!("this holds for now, but could not be kept: {why}"),
        };
        self.say(said);
    }

    /// Begins with the next error that was not tried yet, where the user said so and no copy runs.
    pub(crate) fn try_next(&mut self) {
        if !self.trying.alone || self.trying.begun.len() >= KEPT {
            return;
        }
        let busy = |c: &Cornering| matches!(c.view().how, Corner::Running(_) | Corner::Trying(_));
        if self.cornering.as_ref().is_some_and(busy) {
            return;
        }
        // What was published last is near enough, and costs nothing at each turn.
        let published = self.slot.load_full();
        let code = self.detecting.code();
        let started = |g: &GroupView| {
            let source = self.sources.get(g.source);
            source.is_some_and(|s| s.command.is_some())
        };
        let mut open = published.snapshot.groups.iter().filter(|g| {
            g.level() >= Level::Error
                && !matches!(g.state, State::Quiet)
                && !self.trying.begun.contains(&g.id)
                && started(g)
        });
        let next = open.find_map(|g| {
            let found = code.findings.get(&g.id)?;
            let edits = Edits::of(found, WORTH);
            (!edits.fixes.is_empty()).then_some((g.id, edits))
        });
        if let Some((group, edits)) = next {
            self.corner(group, CornerFor::Fixes(edits));
        }
    }
}
