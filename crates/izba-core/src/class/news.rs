//! What there is to tell of the groups since they were told last.

use super::Change;
use crate::engine::{RunMark, Snapshot};
use crate::group::{GroupBy, GroupView, Verdict};
use crate::state::State;
use izba_model::{Family, Level, Millis};
use std::collections::HashMap;
use std::sync::Arc;

/// A mistake that goes on is told again after so many milliseconds at the earliest.
const AGAIN_MS: i64 = 30_000;

/// Of what earlier sessions met it is told that it is gone when it was there so many runs ago.
const LATELY: u32 = 20;

/// What became of one mistake.
#[derive(Debug, Clone)]
pub struct News {
    /// The mistake, as it is now.
    pub group: Arc<GroupView>,
    /// What became of it.
    pub change: Change,
}

/// What was told of one mistake last.
#[derive(Debug, Clone, Copy)]
struct Told {
    gone: bool,
    total: u64,
    at: Millis,
}

/// Knows what was told, and so what is new.
#[derive(Debug, Default)]
pub struct Newsroom {
    told: HashMap<String, Told>,
}

impl Newsroom {
    /// What is new at a moment. Only errors with a place in the user's own files are told, and
    /// nothing that the user set aside.
    pub fn news(&mut self, snapshot: &Snapshot, now: Millis) -> Vec<News> {
        // Rows by object or place are no mistakes.
        let by_mistake = snapshot.by == GroupBy::Mistake;
        let groups = snapshot.groups.iter().filter(|g| by_mistake && is_told(g));
        groups
            .filter_map(|group| {
                let source = snapshot.sources.get(group.source);
                // Before it runs there are only mistakes of earlier sessions.
                let source = source.filter(|s| s.mark != RunMark::Waiting)?;
                let lately = source.run.saturating_sub(group.last_run) <= LATELY;
                let gone = is_gone(snapshot, group);
                let change = self.change(group, gone, lately, now)?;
                Some(News { group: group.clone(), change })
            })
            .collect()
    }

    /// What became of a mistake that is `gone` or not, and was there `lately`.
    fn change(
        &mut self,
        group: &GroupView,
        gone: bool,
        lately: bool,
        now: Millis,
    ) -> Option<Change> {
        let silent = group.state == State::Quiet;
        let before = self.told.get(group.identity.as_str()).copied();
        let change = match before {
            // An earlier session met it, and may have told of it.
            None if gone && lately => Change::Gone,
            None if silent => return None,
            None => Change::Met,
            Some(told) if gone && !told.gone => Change::Gone,
            Some(told) if !silent && told.gone => Change::Back,
            Some(told) if group.total > told.total && now.0 - told.at.0 >= AGAIN_MS => {
                Change::Again
            }
            Some(_) => return None,
        };
        let told = Told { gone, total: group.total, at: now };
        self.told.insert(group.identity.as_str().to_owned(), told);
        Some(change)
    }
}

fn is_told(group: &GroupView) -> bool {
    group.level() >= Level::Error && group.is_own() && !group.foreign && !group.muted
}

/// Whether it is as good as proved that it does not come any more.
fn is_gone(snapshot: &Snapshot, group: &GroupView) -> bool {
    let shown = match group.silence.map(|s| s.verdict) {
        Some(Verdict::VeryLikely) => true,
        Some(Verdict::NothingChanged) => false,
        _ => group.entry.family == Family::DoesNotParse || snapshot.got_past(group),
    };
    group.state == State::Quiet && shown
}
