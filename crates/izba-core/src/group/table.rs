//! The table of groups: counts, times, rates and gaps over the runs of each source.

use super::follow::Follows;
use super::id::GroupId;
use super::sight::{Gap, Gaps, Part, Recalled, RunTally};
use super::wishes::{Wish, Wishes};
use super::{Identity, Likeness};
use izba_cause::explain::{Explanation, explain};
use izba_model::project::Project;
use izba_model::sentence::Sentence;
use izba_model::{Entry, Level, Millis};
use std::collections::HashMap;
use std::hash::{Hash, Hasher};
use std::sync::Arc;

/// Runs remembered for each group; older ones are summed into the total.
const RUNS_CAP: usize = 256;
/// Groups kept apart; what differs from all of them is counted as one, so that memory stays
/// bounded.
const GROUPS_CAP: usize = 2_000;
/// Parts told apart for each group.
const PARTS_CAP: usize = 32;
/// Seconds over which a rate is measured.
pub(super) const RATE_SECONDS: usize = 5;
/// Two sources that tell the same within this time tell of one occurrence, in milliseconds.
const TOGETHER_MS: u64 = 1_500;
/// Occurrences that wait to be told by another source.
const WAITING_CAP: usize = 64;
/// Different ones of them.
const WAITING_KEYS: usize = 4_096;
/// What is met for the first time this soon after a save may come of the save, in milliseconds.
const AFTER_SAVE_MS: u64 = 3_000;

#[derive(Debug, Clone)]
pub(super) struct Group {
    pub(super) id: GroupId,
    pub(super) source: usize,
    pub(super) like: Likeness,
    pub(super) entry: Arc<Entry>,
    pub(super) explanation: Arc<Explanation>,
    pub(super) total: u64,
    /// Occurrences of the current run that another source had told before.
    pub(super) told_before: u64,
    pub(super) runs: Vec<RunTally>,
    pub(super) gaps: Gaps,
    pub(super) parts: Vec<Part>,
    /// For each part of the message that changes: whether it was the same every time.
    pub(super) same: Vec<bool>,
    pub(super) seconds: [(i64, u32); RATE_SECONDS + 1],
    pub(super) first_line: u64,
    pub(super) last_line: u64,
    /// A save that came right before it was met for the first time.
    pub(super) after_save: Option<String>,
    /// Actions told in the source when it was met last.
    actions: u64,
}

/// How a run of a source stands when a sighting comes.
#[derive(Debug, Clone, Copy, Default)]
pub struct RunNow {
    /// Its number, from 1.
    pub run: u32,
    /// The number of the run before it, as far as it is known here; 0 when there was none. Numbers
    /// in between were given to others.
    pub previous: u32,
    /// When it started, in milliseconds since 1970 (UTC).
    pub started: Option<Millis>,
    /// How long the run before it went on in milliseconds, and from when.
    pub before: Option<(Millis, u64)>,
    /// How long the runs before it went on in all, in milliseconds.
    pub ran_before: u64,
    /// Actions of the user told so far, over all runs.
    pub actions: u64,
}

/// All groups of one engine.
#[derive(Debug, Clone, Default)]
pub struct GroupTable {
    pub(super) groups: Vec<Arc<Group>>,
    by_identity: Arc<HashMap<(usize, Identity), GroupId>>,
    /// Groups of different sources that tell the same.
    pub(super) across: Arc<HashMap<Identity, Vec<GroupId>>>,
    /// Occurrences that another source may still tell: when, by whom.
    waiting: HashMap<Identity, Vec<(Millis, usize)>>,
    pub(super) follows: Arc<Follows>,
    pub(super) wishes: Arc<Wishes>,
    /// The latest save while a program ran.
    saved: Option<(Millis, String)>,
    /// The error that each source told last, with its run.
    last_error: HashMap<usize, (GroupId, u32)>,
    /// Wishes that Izba itself found, to be kept.
    found: Vec<Wish>,
    /// Whether more than one source tells anything.
    several: bool,
    /// Counts up with each change.
    version: u64,
}

/// One sighting on its way into the table.
#[derive(Debug)]
pub struct Sighting<'a> {
    /// Index of the source, in the order in which they were added.
    pub source: usize,
    /// How its run stands.
    pub now: RunNow,
    /// Number of the entry's first line.
    pub line: u64,
    /// The entry.
    pub entry: Entry,
    /// What makes it the same mistake as others.
    pub like: Likeness,
    /// The project as it was when the run started.
    pub project: &'a Project,
}

impl GroupTable {
    /// The group that an entry belongs to, or the one it would begin.
    pub fn id_of(&self, source: usize, identity: &Identity) -> GroupId {
        let next = GroupId(self.groups.len() as u32);
        self.by_identity
            .get(&(source, self.kept_apart(source, identity.clone())))
            .copied()
            .unwrap_or(next)
    }

    /// The identity to count under: its own, that from before its line was edited, or the common
    /// one when there are too many.
    fn kept_apart(&self, source: usize, identity: Identity) -> Identity {
        let identity = self.wishes.before_edit(&identity).clone();
        let key = (source, identity);
        if self.groups.len() < GROUPS_CAP || self.by_identity.contains_key(&key) {
            key.1
        } else {
            Identity::beyond()
        }
    }

    /// The group of an identity that was met in this run of the source, and at which line first.
    pub fn met(&self, source: usize, identity: &Identity, run: u32) -> Option<(GroupId, u64)> {
        let id = *self.by_identity.get(&(source, identity.clone()))?;
        let tally = self.groups.get(id.0 as usize)?.runs.last().filter(|t| t.run == run)?;
        Some((id, tally.line))
    }

    /// Whether an error was met in this run of the source.
    pub fn has_error(&self, source: usize, run: u32) -> bool {
        self.last_error.get(&source).is_some_and(|(_, r)| *r == run)
    }

    /// A number that is another one after each change.
    pub fn version(&self) -> u64 {
        self.version
    }

    /// From now on more than one source may tell the same.
    pub fn expect_several(&mut self) {
        self.version += 1;
        self.several = true;
    }

    /// What the user decided, those decisions of earlier sessions too.
    pub fn wishes(&self) -> &Wishes {
        &self.wishes
    }

    /// Follows a wish; returns the one that takes it back.
    pub fn wish(&mut self, wish: &Wish) -> Wish {
        self.version += 1;
        Arc::make_mut(&mut self.wishes).follow(wish)
    }

    /// Takes the wishes that were found since the last call.
    pub fn take_found(&mut self) -> Vec<Wish> {
        std::mem::take(&mut self.found)
    }

    /// Notes that an own file was saved while programs run.
    pub fn saved(&mut self, time: Millis, path: String) {
        self.version += 1;
        self.saved = Some((time, path));
    }

    /// Notes that a run ended badly: what it said last is what stopped it.
    pub fn stopped(&mut self, source: usize, run: u32) {
        self.version += 1;
        if let Some((id, _)) = self.last_error.get(&source).filter(|(_, r)| *r == run).copied()
            && let Some(group) = self.groups.get_mut(id.0 as usize)
            // A compiler's last sentence stops no more than its first; what was thrown does.
            && !group.entry.report.frames.is_empty()
            && let Some(tally) = Arc::make_mut(group).runs.iter_mut().rev().find(|t| t.run == run)
        {
            tally.ended = true;
        }
    }

    /// Puts in a group as earlier runs of its source left it.
    pub fn recall(&mut self, source: usize, recalled: Recalled) {
        self.version += 1;
        let Recalled { identity, across, edited, entry, runs, gaps } = recalled;
        let id = GroupId(self.groups.len() as u32);
        if self.groups.len() >= GROUPS_CAP
            || runs.is_empty()
            || self.by_identity.contains_key(&(source, identity.clone()))
        {
            return;
        }
        let masked =
            izba_model::mask::mask(&entry.report.message, entry.line_text.as_deref().unwrap_or(""));
        let like = Likeness { identity: identity.clone(), across, edited, masked, caller: None };
        self.known(source, &like, id);
        let explanation = Arc::new(explain(&entry));
        self.groups.push(Arc::new(Group {
            total: runs.iter().map(|r| r.count).sum(),
            same: vec![true; like.masked.taken.len()],
            first_line: runs.last().map_or(0, |r| r.line),
            runs,
            gaps,
            ..Group::new(id, source, like, Arc::new(entry), explanation, 0)
        }));
    }

    fn known(&mut self, source: usize, like: &Likeness, id: GroupId) {
        Arc::make_mut(&mut self.by_identity).insert((source, like.identity.clone()), id);
        Arc::make_mut(&mut self.across).entry(like.across.clone()).or_default().push(id);
    }

    /// Counts one sighting and returns its group.
    pub fn record(&mut self, sighting: Sighting<'_>) -> GroupId {
        self.version += 1;
        let Sighting { source, now, line, entry, mut like, project } = sighting;
        let mut identity = self.kept_apart(source, like.identity.clone());
        if !self.by_identity.contains_key(&(source, identity.clone()))
            && let Some(before) = self.edited_since(source, &like, now, project)
        {
            let wish = Wish::Edited(like.identity.clone(), Some(before.clone()));
            self.wish(&wish);
            self.found.push(wish);
            identity = before;
        }
        let beyond = identity == Identity::beyond();
        if beyond {
            like.across = Identity::beyond();
        }
        like.identity = identity;
        let id = match self.by_identity.get(&(source, like.identity.clone())) {
            Some(id) => *id,
            None => {
                let id = GroupId(self.groups.len() as u32);
                self.known(source, &like, id);
                let explanation = Arc::new(if beyond { too_many() } else { explain(&entry) });
                let mut group = Group::new(
                    id,
                    source,
                    like.clone(),
                    Arc::new(entry.clone()),
                    explanation,
                    line,
                );
                let close = |(time, path): &(Millis, String)| {
                    (entry.time?.since(*time) <= AFTER_SAVE_MS && entry.time? >= *time)
                        .then(|| path.clone())
                };
                group.after_save = self.saved.as_ref().and_then(close);
                self.groups.push(Arc::new(group));
                id
            }
        };
        if entry.report.level >= Level::Error {
            self.last_error.insert(source, (id, now.run));
        }
        let told_before = self.told_before(&like.across, source, entry.time);
        // Without times the order of what came is the only clock there is.
        let at = entry.time.map_or(line as f64, |t| {
            now.ran_before as f64 + now.started.map_or(t.0, |s| t.since(s) as i64) as f64
        });
        Arc::make_mut(&mut self.follows).saw(id, now.run, at);
        let Some(group) = self.groups.get_mut(id.0 as usize) else { return id };
        Arc::make_mut(group).count(now, line, entry, like, told_before);
        id
    }

    /// Forgets what a run of a source told, its current one: it is read anew. Groups keep their
    /// numbers, and with them what the user said of them.
    pub fn forget_run(&mut self, source: usize, run: u32) {
        self.version += 1;
        for group in &mut self.groups {
            if group.source == source && group.runs.last().is_some_and(|t| t.run == run) {
                Arc::make_mut(group).forget_last_run();
            }
        }
        if self.last_error.get(&source).is_some_and(|(_, of)| *of == run) {
            self.last_error.remove(&source);
        }
        self.waiting.clear();
        // In which order they came is seen anew as well.
        self.follows = Arc::default();
    }

    /// Whether another source told of this occurrence just now.
    fn told_before(&mut self, across: &Identity, source: usize, time: Option<Millis>) -> bool {
        let Some(time) = time else { return false };
        if !self.several {
            return false;
        }
        if self.waiting.len() > WAITING_KEYS {
            self.waiting.clear();
        }
        if self.across.get(across).is_none_or(|groups| groups.len() < 2) {
            // While nobody else tells it, only the latest occurrences are remembered.
            let waiting = self.waiting.entry(across.clone()).or_default();
            if waiting.len() == WAITING_CAP {
                waiting.remove(0);
            }
            waiting.push((time, source));
            return false;
        }
        let waiting = self.waiting.entry(across.clone()).or_default();
        waiting.retain(|(t, _)| time.since(*t) <= TOGETHER_MS && t.since(time) <= TOGETHER_MS);
        if let Some(at) = waiting.iter().position(|(_, by)| *by != source) {
            waiting.remove(at);
            return true;
        }
        if waiting.len() < WAITING_CAP {
            waiting.push((time, source));
        }
        false
    }

    /// The group that this was before its line was edited: one of an earlier run, silent in this
    /// one, in the same function of the same file, with the same words, whose line stands nowhere
    /// in the file any more.
    fn edited_since(
        &self,
        source: usize,
        like: &Likeness,
        now: RunNow,
        project: &Project,
    ) -> Option<Identity> {
        let edited = like.edited.as_ref()?;
        let gone = |group: &Group| {
            let place = group.entry.place.as_ref();
            let text = place.and_then(|p| project.file(&p.file)).and_then(|f| f.text.as_deref());
            let line = group.entry.line_text.as_deref().map(str::trim);
            text.zip(line).is_some_and(|(text, line)| !text.lines().any(|l| l.trim() == line))
        };
        let mut fitting = self.groups.iter().filter(|g| {
            g.source == source
                && g.like.edited.as_ref() == Some(edited)
                && g.runs.last().is_some_and(|t| t.run < now.run && t.run >= now.previous)
                && gone(g)
        });
        let first = fitting.next()?;
        // With two of them it would be a guess.
        fitting.next().is_none().then(|| first.like.identity.clone())
    }

    /// What is to be kept of the groups of a source that a run saw, of those that `wanted` wants by
    /// what it saw of them.
    pub fn kept(
        &self,
        source: usize,
        run: u32,
        mut wanted: impl FnMut(&Identity, &RunTally) -> bool,
    ) -> Vec<Recalled> {
        let mut of_run = |g: &&Arc<Group>| {
            g.source == source
                && g.runs.last().is_some_and(|t| t.run == run && wanted(&g.like.identity, t))
        };
        let kept = |g: &Arc<Group>| Recalled {
            identity: g.like.identity.clone(),
            across: g.like.across.clone(),
            edited: g.like.edited.clone(),
            entry: (*g.entry).clone(),
            // The ledger has the earlier runs.
            runs: g.runs.last().copied().into_iter().collect(),
            gaps: g.gaps.clone(),
        };
        self.groups.iter().filter(|g| of_run(g)).map(kept).collect()
    }
}

fn too_many() -> Explanation {
    Explanation {
        headline: Sentence::from_text(
            "There are more different errors than are kept apart; the first of the rest stands \
            here.",
        ),
        short: Sentence::from_text("more different errors than are kept apart"),
        note: Sentence::from_text("the first of the rest"),
        plain: vec![Sentence::from_text(&format!(
            "More than {GROUPS_CAP} different errors have come. The rest is counted here \
                together; every line of it is in room Lines."
        ))],
        advice: Vec::new(),
        token: None,
        slip: None,
    }
}

impl Group {
    fn new(
        id: GroupId,
        source: usize,
        like: Likeness,
        entry: Arc<Entry>,
        explanation: Arc<Explanation>,
        line: u64,
    ) -> Group {
        Group {
            id,
            source,
            same: vec![true; like.masked.taken.len()],
            like,
            entry,
            explanation,
            total: 0,
            told_before: 0,
            runs: Vec::new(),
            gaps: Gaps::default(),
            parts: Vec::new(),
            seconds: Default::default(),
            first_line: line,
            last_line: line,
            after_save: None,
            actions: 0,
        }
    }

    fn forget_last_run(&mut self) {
        let Some(tally) = self.runs.pop() else { return };
        self.total = self.total.saturating_sub(tally.count);
        for part in self.parts.iter_mut().filter(|p| p.run == tally.run) {
            part.total = part.total.saturating_sub(part.count);
            part.count = 0;
        }
        self.parts.retain(|part| part.total > 0);
        let gaps = usize::try_from(tally.count.saturating_sub(1)).unwrap_or(usize::MAX);
        let kept = self.gaps.list.len().saturating_sub(gaps);
        self.gaps.list.truncate(kept);
        self.gaps.starts.pop_back();
        self.seconds = Default::default();
        self.told_before = 0;
        self.first_line = self.runs.last().map_or(0, |t| t.line);
        self.last_line = self.first_line;
        self.same = vec![true; self.like.masked.taken.len()];
    }

    /// The last run that it ended, whichever that was.
    pub(super) fn stopped(&self) -> Option<u32> {
        self.runs.iter().rev().find(|t| t.ended).map(|t| t.run)
    }

    pub(super) fn first(&self) -> Option<Millis> {
        self.runs.iter().find_map(|t| t.first)
    }

    pub(super) fn last(&self) -> Option<Millis> {
        self.runs.iter().rev().find_map(|t| t.last)
    }

    fn count(&mut self, now: RunNow, line: u64, entry: Entry, like: Likeness, told_before: bool) {
        self.total += 1;
        self.last_line = line;
        for (same, (was, is)) in
            self.same.iter_mut().zip(self.like.masked.taken.iter().zip(&like.masked.taken))
        {
            *same &= was == is;
        }
        if let Some(time) = entry.time {
            let second = time.0.div_euclid(1000);
            let slot = &mut self.seconds[second.rem_euclid(RATE_SECONDS as i64 + 1) as usize];
            if slot.0 != second {
                *slot = (second, 0);
            }
            slot.1 += 1;
            self.gap(now, time);
        }
        self.actions = now.actions;
        let new_run = self.runs.last().is_none_or(|t| t.run != now.run);
        self.told_before = if new_run { 0 } else { self.told_before } + u64::from(told_before);
        let time = entry.time;
        if new_run {
            let known = self.total > 1 || self.last_line != self.first_line;
            if known || !self.runs.is_empty() {
                if self.runs.len() == RUNS_CAP {
                    self.runs.remove(1);
                }
                // The line may have moved since the last run; show where it stands in this one.
                self.explanation = Arc::new(explain(&entry));
                self.entry = Arc::new(entry.clone());
                self.like.edited = like.edited;
                self.first_line = line;
            }
            self.runs.push(RunTally {
                run: now.run,
                count: 0,
                first: time,
                last: time,
                line,
                ended: false,
            });
        }
        if let Some(tally) = self.runs.last_mut() {
            tally.count += 1;
            tally.first = tally.first.or(time);
            tally.last = time.or(tally.last);
        }
        self.part(now.run, entry, like.caller, like.masked.taken);
    }

    /// Counts under who was at fault; of more different ones than are kept apart the rest are one.
    fn part(&mut self, run: u32, entry: Entry, caller: Option<String>, words: Vec<String>) {
        let object = entry.report.object.clone();
        let hash = {
            let mut hasher = std::hash::DefaultHasher::new();
            (&object, &caller, &words).hash(&mut hasher);
            hasher.finish()
        };
        let fits = |p: &Part| {
            p.hash == hash && p.object == object && p.caller == caller && p.words == words
        };
        let at = self.parts.iter().position(fits).or_else(|| {
            let full = self.parts.len() >= PARTS_CAP;
            // Who was at fault is worth more than the words.
            full.then(|| {
                self.parts
                    .iter()
                    .position(|p| p.object == object && p.caller == caller)
                    .unwrap_or(PARTS_CAP - 1)
            })
        });
        let part = match at {
            Some(at) => &mut self.parts[at],
            None => {
                self.parts.push(Part {
                    object,
                    caller,
                    words,
                    hash,
                    count: 0,
                    total: 0,
                    run,
                    entry: Arc::new(entry),
                });
                let last = self.parts.len() - 1;
                &mut self.parts[last]
            }
        };
        if part.run != run {
            (part.run, part.count) = (run, 0);
        }
        part.count += 1;
        part.total += 1;
    }

    /// Notes the gap since the last sighting, in running time.
    fn gap(&mut self, now: RunNow, time: Millis) {
        let actions = u32::try_from(now.actions.saturating_sub(self.actions)).unwrap_or(u32::MAX);
        match self.runs.last() {
            Some(tally) if tally.run == now.run => {
                if let Some(last) = tally.last {
                    self.gaps.add(Gap { ms: time.since(last), actions });
                }
            }
            before => {
                let since_start = now.started.map(|s| time.since(s));
                if let Some(ms) = since_start {
                    self.gaps.add_start(ms);
                }
                // From one run to the next the gap goes on: it was there all the time. Not so after
                // a whole run of silence.
                let next = before.filter(|t| t.run == now.previous);
                if let (Some(tally), Some((began, length)), Some(since)) =
                    (next, now.before, since_start)
                {
                    let tail =
                        tally.last.map_or(0, |last| length.saturating_sub(last.since(began)));
                    self.gaps.add(Gap { ms: tail + since, actions });
                }
            }
        }
    }
}
