//! The table of groups: counts, times, rates and states over the runs of each source.

use super::Identity;
use crate::explain::{Explanation, Sentence, explain};
use crate::model::{Entry, Level, Millis};
use crate::project::Project;
use serde::Serialize;
use std::collections::HashMap;
use std::sync::Arc;

/// Runs remembered for each group; older ones are summed into the total.
const RUNS_CAP: usize = 64;
/// Groups kept apart; what differs from all of them is counted as one, so that memory stays bounded.
const GROUPS_CAP: usize = 2_000;
/// Objects told apart for each group.
const OBJECTS_CAP: usize = 64;
/// Seconds over which a rate is measured.
const RATE_SECONDS: usize = 5;

/// Number of a group within one engine.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize)]
pub struct GroupId(pub u32);

/// A group against the earlier runs of its own source.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize)]
#[serde(rename_all = "lowercase")]
pub enum State {
    /// First met in this run.
    New,
    /// Met before too.
    Still,
    /// Met before, not in this run so far.
    Quiet,
    /// Silent through a whole run, and here again.
    Back,
}

/// What one run saw of a group.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct RunTally {
    /// Number of the run within its source, from 1.
    pub run: u32,
    /// How often.
    pub count: u64,
}

#[derive(Debug, Clone)]
struct Group {
    id: GroupId,
    source: usize,
    entry: Arc<Entry>,
    explanation: Arc<Explanation>,
    total: u64,
    runs: Vec<RunTally>,
    first: Option<Millis>,
    last: Option<Millis>,
    objects: Vec<(String, u64)>,
    seconds: [(i64, u32); RATE_SECONDS + 1],
    first_line: u64,
    last_line: u64,
}

/// A group as a screen or a script sees it: a value that never changes.
#[derive(Debug, Clone)]
pub struct GroupView {
    /// Its number.
    pub id: GroupId,
    /// Index of its source.
    pub source: usize,
    /// Its first entry in the latest run that saw it.
    pub entry: Arc<Entry>,
    /// What Izba says of it.
    pub explanation: Arc<Explanation>,
    /// How often in the current run; of a quiet group, in the last run that saw it.
    pub count: u64,
    /// How often in all.
    pub total: u64,
    /// Times a second, over the last five seconds.
    pub rate: f64,
    /// First and last time, where times are known.
    pub first: Option<Millis>,
    /// Last time.
    pub last: Option<Millis>,
    /// Against earlier runs.
    pub state: State,
    /// First run that saw it.
    pub first_run: u32,
    /// Last run that saw it.
    pub last_run: u32,
    /// Objects at fault with counts, most frequent first.
    pub objects: Vec<(String, u64)>,
    /// Line of the source at which it was first met in the latest run that saw it.
    pub first_line: u64,
    /// Line of the source at which it was last met.
    pub last_line: u64,
}

impl GroupView {
    /// Level of its entries.
    pub fn level(&self) -> Level {
        self.entry.report.level
    }

    /// Whether it has an own place.
    pub fn is_own(&self) -> bool {
        self.entry.place.is_some()
    }
}

/// All groups of one engine.
#[derive(Debug, Clone, Default)]
pub struct GroupTable {
    groups: Vec<Group>,
    by_identity: HashMap<(usize, Identity), GroupId>,
}

/// One sighting on its way into the table.
#[derive(Debug)]
pub struct Sighting {
    /// Index of the source.
    pub source: usize,
    /// Run of that source.
    pub run: u32,
    /// Number of the entry's first line.
    pub line: u64,
    /// The entry.
    pub entry: Entry,
}

impl GroupTable {
    /// The group that an entry belongs to, or the one it would begin.
    pub fn id_of(&self, source: usize, entry: &Entry, project: &Project) -> GroupId {
        let next = GroupId(self.groups.len() as u32);
        self.by_identity.get(&(source, self.kept_apart(source, Identity::of(entry, project)))).copied().unwrap_or(next)
    }

    /// The identity to count under: its own, or the common one when there are too many.
    fn kept_apart(&self, source: usize, identity: Identity) -> Identity {
        let key = (source, identity);
        if self.groups.len() < GROUPS_CAP || self.by_identity.contains_key(&key) { key.1 } else { Identity::beyond() }
    }

    /// Counts one sighting and returns its group.
    pub fn record(&mut self, sighting: Sighting, project: &Project) -> GroupId {
        let Sighting { source, run, line, entry } = sighting;
        let key = (source, self.kept_apart(source, Identity::of(&entry, project)));
        let beyond = key.1 == Identity::beyond();
        let next = GroupId(self.groups.len() as u32);
        let id = *self.by_identity.entry(key).or_insert(next);
        if id == next {
            let explanation = Arc::new(if beyond { too_many() } else { explain(&entry) });
            let (first, last) = (entry.time, entry.time);
            self.groups.push(Group {
                id,
                source,
                entry: Arc::new(entry.clone()),
                explanation,
                total: 0,
                runs: Vec::new(),
                first,
                last,
                objects: Vec::new(),
                seconds: Default::default(),
                first_line: line,
                last_line: line,
            });
        }
        let group = &mut self.groups[id.0 as usize];
        group.count(run, line, entry);
        id
    }

    /// Every group, most important first. `runs` gives the current run of each source, `now` the time for rates.
    pub fn views(&self, runs: &[u32], now: Option<Millis>) -> Vec<Arc<GroupView>> {
        let mut views: Vec<_> = self.groups.iter().map(|g| Arc::new(g.view(runs.get(g.source).copied().unwrap_or(1), now))).collect();
        views.sort_by_key(|v| {
            let quiet = v.state == State::Quiet;
            let unread = v.entry.family.id == "does-not-parse";
            (quiet, std::cmp::Reverse(v.level()), !v.is_own(), !unread, std::cmp::Reverse(v.count), v.id)
        });
        views
    }
}

fn too_many() -> Explanation {
    Explanation {
        headline: Sentence::from_text("there are ").name("more different errors than are kept apart").text("; the first of the rest stands here."),
        short: "more different errors than are kept apart".into(),
        note: "the first of the rest".into(),
        plain: vec![format!(
            "More than {GROUPS_CAP} different errors have come. The rest is counted here together; every line of it is in room Lines."
        )],
        token: None,
    }
}

impl Group {
    fn count(&mut self, run: u32, line: u64, entry: Entry) {
        self.total += 1;
        self.first = self.first.or(entry.time);
        self.last = entry.time.or(self.last);
        self.last_line = line;
        if let Some(object) = &entry.report.object {
            let room = self.objects.len() < OBJECTS_CAP;
            match self.objects.iter_mut().find(|(name, _)| name == object) {
                Some((_, count)) => *count += 1,
                None if room => self.objects.push((object.clone(), 1)),
                None => {}
            }
        }
        if let Some(time) = entry.time {
            let second = time.0.div_euclid(1000);
            let slot = &mut self.seconds[second.rem_euclid(RATE_SECONDS as i64 + 1) as usize];
            if slot.0 != second {
                *slot = (second, 0);
            }
            slot.1 += 1;
        }
        match self.runs.last_mut() {
            Some(tally) if tally.run == run => tally.count += 1,
            _ => {
                if self.runs.len() == RUNS_CAP {
                    self.runs.remove(1);
                }
                if !self.runs.is_empty() {
                    // The line may have moved since the last run; show where it stands in this one.
                    self.explanation = Arc::new(explain(&entry));
                    self.entry = Arc::new(entry);
                    self.first_line = line;
                    self.objects.retain(|(_, count)| *count > 0);
                }
                self.runs.push(RunTally { run, count: 1 });
            }
        }
    }

    fn view(&self, current: u32, now: Option<Millis>) -> GroupView {
        let first_run = self.runs.first().map_or(current, |t| t.run);
        let last = self.runs.last().copied().unwrap_or(RunTally { run: current, count: 0 });
        let before = self.runs.iter().rev().map(|t| t.run).find(|r| *r < current);
        let state = match (last.run == current, before) {
            (false, _) => State::Quiet,
            (true, None) => State::New,
            (true, Some(before)) if before + 1 < current => State::Back,
            (true, Some(_)) => State::Still,
        };
        let rate = now.map_or(0.0, |now| {
            let second = now.0.div_euclid(1000);
            let counted: u32 = self.seconds.iter().filter(|(s, _)| *s < second && *s >= second - RATE_SECONDS as i64).map(|(_, n)| n).sum();
            // Only whole seconds are counted, so only they are divided by.
            let whole = Millis(second * 1000);
            let met_for = self.first.map_or(RATE_SECONDS as f64, |first| (whole.since(first) as f64 / 1000.0).clamp(1.0, RATE_SECONDS as f64));
            f64::from(counted) / met_for
        });
        let mut objects = self.objects.clone();
        objects.sort_by(|a, b| b.1.cmp(&a.1).then(a.0.cmp(&b.0)));
        GroupView {
            id: self.id,
            source: self.source,
            entry: self.entry.clone(),
            explanation: self.explanation.clone(),
            count: last.count,
            total: self.total,
            rate,
            first: self.first,
            last: self.last,
            state,
            first_run,
            last_run: last.run,
            objects,
            first_line: self.first_line,
            last_line: self.last_line,
        }
    }
}
