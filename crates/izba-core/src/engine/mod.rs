//! The engine: the one pure machine behind `read`, watching and old runs. Bytes go in, snapshots
//! come out.
//!
//! How the bytes are cut into chunks, and how often [`Engine::tick`] is called, makes no difference
//! to the groups.

mod again;
mod feed;
mod last_words;
mod left_out;
mod mark;
mod overlooked;
mod rows;

pub use mark::RunMark;
pub use rows::Rows;

use crate::digest::Placed;
use crate::filter::Around;
use crate::group::{
    GroupBy, GroupId, GroupTable, GroupView, Identity, Picture, Recalled, RunNow, RunSpan,
    RunTally, Sighting, SourceNow, State, Update, Wish, Wishes,
};
use crate::overlooked::Overlooked;
use crate::timeline::{MarkKind, Timeline};
use izba_console::Setting;
use izba_console::learn::Learner;
use izba_console::read::{Checkpoint, Layout, Layouts, Splitter};
use izba_console::trace::{Assembled, Lanes};
use izba_model::Stream;
use izba_model::project::Project;
use izba_model::text::{SafeText, decode};
use izba_model::{Level, Millis};
use jiff::tz::TimeZone;

use last_words::{LastWords, Tail};
use rows::{Kept, MadeOf};
use std::cell::RefCell;
use std::sync::Arc;

/// An entry that nothing has followed for this long is shown as it stands: traces are written line
/// by line, though without a pause. What comes later still belongs to it.
const SETTLED_MS: u64 = 20;

/// Layouts of one source.
const LAYOUTS: usize = 8;

/// Index of a source within one engine.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct SourceId(pub usize);

#[derive(Debug)]
struct Source {
    name: String,
    splitter: Splitter,
    assemblers: [Lanes; 2],
    spans: Vec<Span>,
    setting: Setting,
    learner: Learner,
    taught: Vec<Arc<Layout>>,
    /// Names of apps, loggers or processes that are the user's; empty when all are.
    own: Vec<String>,
    run: u32,
    run_started: Option<Millis>,
    run_first_line: u64,
    /// The runs so far, those of earlier sessions too, oldest first.
    runs: Vec<RunSpan>,
    /// A text that stands in lines which tell of an action of the user.
    action: Option<memchr::memmem::Finder<'static>>,
    mark: RunMark,
    /// What the error stream of this run said last.
    said: Tail,
    /// Its lines that nobody understood though they look as if they mattered.
    overlooked: Overlooked,
    fed: u64,
}

/// Runs of one source that are remembered.
const RUNS: usize = 400;
/// Pictures of a run that are known.
const PICTURES: usize = 40;

impl Source {
    /// How its run stands, for a sighting.
    fn run_now(&self) -> RunNow {
        let [.., before, now] = self.runs.as_slice() else {
            return RunNow {
                run: self.run.max(1),
                started: self.run_started,
                actions: self.actions(),
                ..RunNow::default()
            };
        };
        let before_ran = before.started.map(|started| (started, before.ran_ms));
        RunNow {
            run: self.run.max(1),
            previous: before.run,
            started: now.started,
            before: before_ran,
            ran_before: self.runs.iter().rev().skip(1).map(|r| r.ran_ms).sum(),
            actions: self.actions(),
        }
    }

    /// How it stands, for the states of its groups.
    fn now(&self) -> SourceNow<'_> {
        SourceNow {
            name: &self.name,
            run: self.run.max(1),
            own: &self.own,
            runs: &self.runs,
            tells_actions: self.action.is_some(),
        }
    }

    fn actions(&self) -> u64 {
        self.runs.iter().map(|r| u64::from(r.actions)).sum()
    }
}

/// The lines of one entry, for the way from a line to its group.
#[derive(Debug, Clone, Copy)]
struct Span {
    first: u64,
    count: u32,
    group: GroupId,
    stream: Stream,
}

/// Lines of one source that arrived in a row, for the order over all sources.
#[derive(Debug, Clone, Copy)]
struct Weave {
    source: usize,
    row: u64,
    line: u64,
    count: u64,
}

/// A line by source and number.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct LineRef {
    /// Its source.
    pub source: SourceId,
    /// Its number in the source, from 0.
    pub line: u64,
}

/// Neighbouring rows that come from one source: read `count` lines from `first` on, starting at
/// `checkpoint`.
#[derive(Debug, Clone)]
pub struct Window {
    /// The source to read again.
    pub source: SourceId,
    /// Row of the first line over all sources.
    pub row: u64,
    /// First line wanted, from 0 in its source.
    pub first: u64,
    /// How many lines are wanted.
    pub count: u64,
    /// Where to begin reading.
    pub checkpoint: Checkpoint,
}

/// A source as a screen sees it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct SourceView {
    /// What it is called.
    pub name: String,
    /// Number of its run, from 1; 0 before the first.
    pub run: u32,
    /// When that run began, in milliseconds since 1970 (UTC).
    pub run_started: Option<Millis>,
    /// How it goes.
    pub mark: RunMark,
    /// Lines so far, over all runs.
    pub lines: u64,
    /// Lines of this run so far.
    pub run_lines: u64,
    /// Lines of this run that look as if they mattered and were not understood.
    pub overlooked: u64,
    /// Its runs, those of earlier sessions too, oldest first.
    pub runs: Arc<[RunSpan]>,
    /// Bytes of all runs so far, as they were fed.
    pub bytes: u64,
    /// What it printed last without ending the line: a question, perhaps.
    pub unfinished: Option<SafeText>,
}

/// Everything that a screen shows, at one moment. Cheap to share, never changed.
#[derive(Debug, Clone)]
pub struct Snapshot {
    /// The project as it was when the latest run started.
    pub project: Arc<Project>,
    /// The sources, in the order in which they were added.
    pub sources: Vec<SourceView>,
    /// The groups, most important first.
    pub groups: Arc<Rows>,
    /// Lines and errors over time.
    pub timeline: Arc<Timeline>,
    /// What the rows stand for.
    pub by: GroupBy,
    /// Rows over all sources and runs so far.
    pub rows: u64,
    /// The row of the first line that looks as if it mattered and was not understood.
    pub overlooked: Option<u64>,
    /// The moment of this snapshot.
    pub now: Millis,
}

/// Reads consoles into groups. See the head of this file.
#[derive(Debug)]
pub struct Engine {
    sources: Vec<Source>,
    groups: GroupTable,
    timeline: Timeline,
    weave: Vec<Weave>,
    rows: u64,
    project: Arc<Project>,
    zone: TimeZone,
    by: GroupBy,
    now: Option<Millis>,
    kept: RefCell<Option<Kept>>,
}

impl Engine {
    /// An engine for `project` with no source yet.
    pub fn new(project: Arc<Project>) -> Engine {
        Engine {
            sources: Vec::new(),
            groups: GroupTable::default(),
            timeline: Timeline::default(),
            weave: Vec::new(),
            rows: 0,
            project,
            zone: TimeZone::UTC,
            by: GroupBy::default(),
            now: None,
            kept: RefCell::default(),
        }
    }

    /// Adds a source under a name that people see.
    pub fn add_source(&mut self, name: impl Into<String>) -> SourceId {
        self.sources.push(Source {
            name: name.into(),
            splitter: Splitter::default(),
            assemblers: Default::default(),
            spans: Vec::new(),
            setting: Setting { zone: self.zone.clone(), ..Setting::new(self.project.clone()) },
            learner: Learner::default(),
            taught: Vec::new(),
            own: Vec::new(),
            run: 0,
            run_started: None,
            run_first_line: 0,
            runs: Vec::new(),
            action: None,
            mark: RunMark::Waiting,
            said: Tail::default(),
            overlooked: Overlooked::default(),
            fed: 0,
        });
        if self.sources.len() > 1 {
            self.groups.expect_several();
        }
        SourceId(self.sources.len() - 1)
    }

    /// Counts the lines of `source` that hold this text as actions of the user.
    pub fn set_action(&mut self, source: SourceId, text: Option<&str>) {
        if let Some(source) = self.sources.get_mut(source.0) {
            source.action = text
                .filter(|t| !t.is_empty())
                .map(|t| memchr::memmem::Finder::new(t.as_bytes()).into_owned());
        }
    }

    /// Puts in what earlier sessions knew of `source`, before its first run: the runs so far, and
    /// the groups as they left them.
    pub fn recall(&mut self, source: SourceId, runs: Vec<RunSpan>, groups: Vec<Recalled>) {
        let Some(entry) = self.sources.get_mut(source.0).filter(|s| s.run == 0) else { return };
        entry.run = runs.iter().map(|r| r.run).max().unwrap_or(0);
        entry.runs = runs;
        for group in groups {
            self.groups.recall(source.0, group);
        }
    }

    /// Gives the next run of `source` this number, where it is later than those so far: others may
    /// have run it meanwhile.
    pub fn number_next(&mut self, source: SourceId, number: u32) {
        if let Some(entry) = self.sources.get_mut(source.0) {
            entry.run = entry.run.max(number.saturating_sub(1));
        }
    }

    /// Follows what the user decided; returns the wish that takes it back.
    pub fn wish(&mut self, wish: &Wish) -> Wish {
        self.groups.wish(wish)
    }

    /// The decisions that Izba itself made since the last call: which group is which after its line
    /// was edited.
    pub fn take_found(&mut self) -> Vec<Wish> {
        self.groups.take_found()
    }

    /// What the rows stand for from now on.
    pub fn group_by(&mut self, by: GroupBy) {
        self.by = by;
    }

    /// The groups that the current run of `source` saw, to be kept; of those that `wanted` wants by
    /// what it saw of them.
    pub fn kept(
        &self,
        source: SourceId,
        wanted: impl FnMut(&Identity, &RunTally) -> bool,
    ) -> Vec<Recalled> {
        let run = self.sources.get(source.0).map_or(0, |s| s.run.max(1));
        self.groups.kept(source.0, run, wanted)
    }

    /// What the user decided, those decisions of earlier sessions too.
    pub fn wishes(&self) -> &Wishes {
        self.groups.wishes()
    }

    /// Bytes that came of `source`.
    pub fn bytes_of(&self, source: SourceId) -> u64 {
        self.sources.get(source.0).map_or(0, |s| s.fed)
    }

    /// Lines of the current run of `source`.
    pub fn run_lines(&self, source: SourceId) -> Option<u64> {
        self.sources.get(source.0).map(|s| s.splitter.lines() - s.run_first_line)
    }

    /// Lines of all runs of `source`.
    pub fn lines_of(&self, source: SourceId) -> u64 {
        self.sources.get(source.0).map_or(0, |s| s.splitter.lines())
    }

    /// How the run of `source` goes.
    pub fn mark_of(&self, source: SourceId) -> &RunMark {
        self.sources.get(source.0).map_or(&RunMark::Waiting, |s| &s.mark)
    }

    /// The runs of `source`, those of earlier sessions too, oldest first.
    pub fn runs_of(&self, source: SourceId) -> &[RunSpan] {
        self.sources.get(source.0).map_or(&[], |s| &s.runs)
    }

    /// Takes times that name no zone as told in `zone`, for sources that are added from now on;
    /// else UTC.
    pub fn set_zone(&mut self, zone: TimeZone) {
        self.zone = zone;
    }

    /// Reads the lines of `source` that come from now on with the layouts that the user taught,
    /// before any that is found.
    pub fn set_taught(&mut self, source: SourceId, taught: Vec<Arc<Layout>>) {
        if let Some(source) = self.sources.get_mut(source.0) {
            let found = source.setting.layouts.all().iter().filter(|l| !l.is_taught()).cloned();
            source.setting.layouts = Arc::new(Layouts::new(
                taught.iter().cloned().chain(found).collect(),
                !source.own.is_empty(),
            ));
            source.taught = taught;
        }
    }

    /// Says which apps, loggers or processes of `source` are the user's, by the names that they
    /// speak under; none when all are. What others say ranks after all that is the user's.
    pub fn set_own(&mut self, source: SourceId, own: Vec<String>) {
        if let Some(source) = self.sources.get_mut(source.0) {
            source.setting.layouts =
                Arc::new(Layouts::new(source.setting.layouts.all().to_vec(), !own.is_empty()));
            source.own = own;
        }
    }

    /// How the lines of `source` are divided.
    pub fn layouts(&self, source: SourceId) -> Arc<Layouts> {
        self.sources.get(source.0).map(|s| s.setting.layouts.clone()).unwrap_or_default()
    }

    /// Begins the next run of `source`, with the project's files as they are now.
    pub fn start_run(&mut self, source: SourceId, time: Option<Millis>, project: Arc<Project>) {
        self.end_lines(source, time);
        self.project = project.clone();
        let Some(entry) = self.sources.get_mut(source.0) else { return };
        let before = std::mem::replace(&mut entry.setting.project, project);
        let mut edits =
            if entry.run > 0 { entry.setting.project.changed_since(&before) } else { Vec::new() };
        // What the run before has read anew is among its files already.
        let anew = entry.runs.last().into_iter().flat_map(|r| &r.updates).flat_map(|u| &u.files);
        edits.extend(anew.cloned());
        edits.sort();
        edits.dedup();
        entry.run += 1;
        if entry.runs.len() == RUNS {
            entry.runs.remove(0);
        }
        let first_line = entry.splitter.lines();
        entry.runs.push(RunSpan {
            run: entry.run,
            started: time,
            edits,
            first_line,
            ..RunSpan::default()
        });
        entry.run_started = time;
        entry.run_first_line = entry.splitter.lines();
        entry.learner.restart(entry.splitter.lines());
        entry.mark = RunMark::Running;
        entry.said.clear();
        entry.overlooked.clear();
        let run = entry.run;
        if let Some(time) = time {
            self.timeline.mark(time, MarkKind::RunStart(source.0, run));
        }
    }

    /// Notes that `source` goes on and has read files anew, as it prints their addresses; `project` is
    /// the files as they are now.
    pub fn update_run(
        &mut self,
        source: SourceId,
        time: Millis,
        printed: &str,
        project: Arc<Project>,
    ) {
        self.end_lines(source, Some(time));
        self.ran_until(source, Some(time));
        let Some(entry) = self.sources.get_mut(source.0) else { return };
        let named = printed.lines().map(|address| (address, project.find(address)));
        let (mut files, mut names) = (Vec::new(), Vec::new());
        for (address, own) in named {
            let own = own.map(|f| f.to_string());
            names.push(own.clone().unwrap_or_else(|| address.to_owned()));
            files.extend(own);
        }
        // What was saved and not read anew is still as it was when the run began.
        let anew = files.iter().filter_map(|f| project.file(f).cloned()).collect();
        let project = Arc::new(entry.setting.project.with_changes(anew, &[]));
        entry.setting.project = project.clone();
        self.project = project;
        if let Some(run) = entry.runs.last_mut() {
            run.update(Update { time, files });
        }
        for name in names {
            self.timeline.mark(time, MarkKind::Updated(source.0, name));
        }
    }

    /// Notes that a picture of `source` was taken, which stands in its spool at `offset`.
    pub fn pictured(&mut self, source: SourceId, time: Millis, offset: u64) {
        if let Some(run) = self.sources.get_mut(source.0).and_then(|s| s.runs.last_mut())
            && run.pictures.len() < PICTURES
        {
            run.pictures.push(Picture { time, offset });
        }
    }

    /// Notes that the run of `source` has ended, in words (“ended with exit code 1”), and whether
    /// all is well with that.
    pub fn end_run(&mut self, source: SourceId, time: Option<Millis>, how: String, well: bool) {
        self.end_lines(source, time);
        self.ran_until(source, time);
        self.end_told(source, time, how, well);
    }

    /// Notes how a run ended whose lines are all told.
    fn end_told(&mut self, source: SourceId, time: Option<Millis>, how: String, well: bool) {
        if !well {
            self.tell_last_words(source, time);
        }
        if let Some(entry) = self.sources.get_mut(source.0) {
            if !well {
                self.groups.stopped(source.0, entry.run.max(1));
            }
            entry.mark = RunMark::Ended { how, well };
        }
    }

    /// A program that ended badly and told no error has said something, if only to its error
    /// stream: that is its error then.
    fn tell_last_words(&mut self, source: SourceId, time: Option<Millis>) {
        let Some(entry) = self.sources.get(source.0) else { return };
        if self.groups.has_error(source.0, entry.run.max(1)) {
            return;
        }
        let setting = entry.setting.clone();
        let Some(LastWords { report, first_line, last_line }) =
            entry.said.last_words(&setting.project)
        else {
            return;
        };
        let assembled = Assembled { report, first_line, last_line, time };
        self.entry(source, Stream::Err, Placed::new(assembled, &setting));
    }

    /// Adds to the own files that are known to have changed before the current run of `source`.
    pub fn note_edits(&mut self, source: SourceId, edits: &[String]) {
        if let Some(run) = self.sources.get_mut(source.0).and_then(|s| s.runs.last_mut()) {
            run.edits.extend(
                edits.iter().filter(|e| !run.edits.contains(e)).cloned().collect::<Vec<_>>(),
            );
        }
    }

    /// The current run goes on at least until then.
    fn ran_until(&mut self, source: SourceId, time: Option<Millis>) {
        if let Some(run) = self.sources.get_mut(source.0).and_then(|s| s.runs.last_mut())
            && let (Some(started), Some(time)) = (run.started, time)
        {
            run.ran_ms = run.ran_ms.max(time.since(started));
        }
    }

    /// Notes that an own file was saved.
    pub fn saved(&mut self, time: Millis, path: String) {
        self.groups.saved(time, path.clone());
        self.timeline.mark(time, MarkKind::Saved(path));
    }

    /// Says what time it is; nothing else changes.
    pub fn tick(&mut self, now: Millis) {
        self.now = self.now.max(Some(now));
        for at in 0..self.sources.len() {
            if self.sources[at].mark == RunMark::Running {
                self.ran_until(SourceId(at), self.now);
            }
        }
    }

    /// Ends all sources: unfinished lines and entries are complete.
    pub fn finish(&mut self) {
        for at in 0..self.sources.len() {
            self.end_lines(SourceId(at), None);
        }
    }

    /// Makes lines of what stands unfinished, because the user has answered it.
    pub fn end_unfinished(&mut self, source: SourceId, time: Option<Millis>) {
        let Some(mut splitter) =
            self.sources.get_mut(source.0).map(|s| std::mem::take(&mut s.splitter))
        else {
            return;
        };
        let before = splitter.lines();
        splitter.finish(time, |number, line| self.line(source, number, &line));
        self.woven(source, before, splitter.lines(), time);
        self.sources[source.0].splitter = splitter;
    }

    fn end_lines(&mut self, source: SourceId, time: Option<Millis>) {
        self.end_unfinished(source, time);
        if self.sources.len() <= source.0 {
            return;
        }
        self.learn(source);
        self.close_entries(source);
    }

    fn woven(&mut self, source: SourceId, before: u64, after: u64, time: Option<Millis>) {
        let count = after - before;
        if count == 0 {
            return;
        }
        if let Some(time) = time {
            self.timeline.lines(source.0, time, count as u32);
        }
        match self.weave.last_mut() {
            Some(last) if last.source == source.0 => last.count += count,
            _ => self.weave.push(Weave { source: source.0, row: self.rows, line: before, count }),
        }
        self.rows += count;
    }

    /// The project as it was when the latest run started.
    pub fn project(&self) -> &Project {
        &self.project
    }

    /// A sentence about a program that ended badly while its console holds no error that would
    /// explain it.
    pub fn unexplained_end(&self) -> Option<String> {
        unexplained_end(self.sources.iter().map(|s| (s.name.as_str(), &s.mark)), &self.groups())
    }

    /// Rows over all sources and runs so far; the next line is this row.
    pub fn rows(&self) -> u64 {
        self.rows
    }

    /// A number that another sighting, or what the user decides, makes another one.
    pub fn rows_version(&self) -> u64 {
        self.groups.version()
    }

    /// Where to read the rows `from..from + count` again, in order.
    pub fn windows(&self, from: u64, count: u64) -> Vec<Window> {
        let end = from.saturating_add(count).min(self.rows);
        let mut at = self.weave.partition_point(|w| w.row <= from).saturating_sub(1);
        let (mut row, mut windows) = (from, Vec::new());
        while row < end {
            let Some(weave) = self.weave.get(at) else { break };
            let into = row - weave.row;
            let count = (weave.count - into).min(end - row);
            let first = weave.line + into;
            if let Some(checkpoint) = self.sources[weave.source].splitter.checkpoint_for(first) {
                windows.push(Window {
                    source: SourceId(weave.source),
                    row,
                    first,
                    count,
                    checkpoint: checkpoint.clone(),
                });
            }
            row += count;
            at += 1;
        }
        windows
    }

    /// Places what comes from now on in `project`, within the run that goes on: a bundle was built
    /// meanwhile.
    pub fn set_project(&mut self, source: SourceId, project: Arc<Project>) {
        if let Some(source) = self.sources.get_mut(source.0) {
            source.setting.project = project;
        }
    }

    /// The row of a line over all sources.
    pub fn row_of(&self, line: LineRef) -> Option<u64> {
        let weave =
            self.weave.iter().rev().find(|w| w.source == line.source.0 && w.line <= line.line)?;
        Some(weave.row + (line.line - weave.line).min(weave.count.saturating_sub(1)))
    }

    /// The group whose entry holds this line, and whether the line is the entry's first.
    pub fn group_at(&self, line: LineRef, stream: Stream) -> Option<(GroupId, bool)> {
        let source = self.sources.get(line.source.0)?;
        let spans = &source.spans;
        let after = spans.partition_point(|s| s.first <= line.line);
        let span = spans[..after]
            .iter()
            .rev()
            .take(8)
            .find(|s| s.stream == stream && line.line < s.first + u64::from(s.count));
        if let Some(span) = span {
            return Some((span.group, span.first == line.line));
        }
        // The entry that is still open may hold it.
        let holds = |open: &Assembled| (open.first_line..=open.last_line).contains(&line.line);
        let open = source.assemblers[stream.index()].peek().find(holds)?;
        let first = line.line == open.first_line;
        Some((
            self.groups.id_of(line.source.0, &Placed::new(open, &source.setting).like.identity),
            first,
        ))
    }

    /// The groups, most important first; complete after [`Engine::finish`].
    pub fn groups(&self) -> Vec<Arc<GroupView>> {
        self.views(&self.groups)
    }

    fn views(&self, table: &GroupTable) -> Vec<Arc<GroupView>> {
        let sources: Vec<SourceNow<'_>> = self.sources.iter().map(Source::now).collect();
        let names: Vec<String> = self.sources.iter().map(|s| s.name.clone()).collect();
        let around = Around { sources: &names, now: self.now, ..Around::default() };
        let muting: Vec<_> = table.wishes().muting().map(|(_, phrase)| phrase).collect();
        let mutes = |view: &GroupView| muting.iter().any(|p| p.fits_group(view, &around));
        table.views(&sources, self.by, self.now, &mutes)
    }

    /// When the next entry that is still open will count as it stands, if any was open and too
    /// young at the last tick.
    pub fn settles_at(&self) -> Option<Millis> {
        let now = self.now.unwrap_or_default();
        let lanes = self.sources.iter().flat_map(|s| s.assemblers.iter());
        let moments = lanes.filter_map(|a| {
            let at = Millis(a.newest()?.0.saturating_add(SETTLED_MS as i64));
            (at > now && a.peek().next().is_some()).then_some(at)
        });
        moments.min()
    }

    /// Everything a screen shows, as of the last tick. An entry that nothing has followed for a
    /// moment counts as it stands.
    pub fn snapshot(&self) -> Snapshot {
        let now = self.now.unwrap_or_default();
        // Each stream for itself: output may flow on and on after the one error that was told.
        let settled = |a: &Lanes| a.newest().is_none_or(|newest| now.since(newest) >= SETTLED_MS);
        let open: Vec<(usize, Assembled)> = self
            .sources
            .iter()
            .enumerate()
            .flat_map(|(at, s)| {
                s.assemblers
                    .iter()
                    .filter(|a| settled(a))
                    .flat_map(move |a| a.peek().map(move |open| (at, open)))
            })
            .collect();
        let groups = self.rows_with(open);
        let sources = self
            .sources
            .iter()
            .enumerate()
            .map(|(at, s)| SourceView {
                name: s.name.clone(),
                run: s.run,
                run_started: s.run_started,
                mark: s.mark.clone(),
                lines: s.splitter.lines(),
                run_lines: s.splitter.lines() - s.run_first_line,
                overlooked: self.overlooked_of(at),
                runs: s.runs.as_slice().into(),
                bytes: s.fed,
                unfinished: s
                    .splitter
                    .unfinished()
                    .next()
                    .map(|(_, bytes)| SafeText::new(&decode(&bytes[..bytes.len().min(4096)]))),
            })
            .collect();
        Snapshot {
            project: self.project.clone(),
            sources,
            groups,
            timeline: Arc::new(self.timeline.clone()),
            by: self.by,
            rows: self.rows,
            overlooked: self
                .overlooked()
                .into_iter()
                .filter_map(|(line, _)| self.row_of(line))
                .min(),
            now,
        }
    }

    /// The rows, with entries that are not complete counted as they stand; those of the last call
    /// while nothing changed.
    fn rows_with(&self, open: Vec<(usize, Assembled)>) -> Arc<Rows> {
        let of = MadeOf {
            version: self.groups.version(),
            by: self.by,
            sources: self
                .sources
                .iter()
                .map(|s| {
                    let anew = s.runs.last().map_or(0, |run| run.updates.len());
                    (s.run, s.runs.len() + anew, s.mark.clone(), s.own.clone())
                })
                .collect(),
            open: open.iter().map(|(at, open)| (*at, open.first_line, open.last_line)).collect(),
        };
        if let Some(kept) = self.kept.borrow().as_ref().filter(|k| k.holds(&of, self.now)) {
            return kept.rows.clone();
        }
        let views = if open.is_empty() {
            self.groups()
        } else {
            let mut table = self.groups.clone();
            for (at, open) in open {
                let source = &self.sources[at];
                let Placed { entry, like, first_line, .. } = Placed::new(open, &source.setting);
                table.record(Sighting {
                    source: at,
                    now: source.run_now(),
                    line: first_line,
                    entry,
                    like,
                    project: &source.setting.project,
                });
            }
            self.views(&table)
        };
        let rows = Arc::new(Rows::of(views));
        *self.kept.borrow_mut() = Some(Kept { of, at: self.now, rows: rows.clone() });
        rows
    }

    /// Bytes of memory that grow with what was read.
    pub fn memory_usage(&self) -> usize {
        self.weave.capacity() * size_of::<Weave>()
            + self
                .sources
                .iter()
                .map(|s| s.splitter.memory_usage() + s.spans.capacity() * size_of::<Span>())
                .sum::<usize>()
    }
}

impl Snapshot {
    /// Lines of these runs that look as if they mattered and were not understood.
    pub fn count_overlooked(&self) -> u64 {
        self.sources.iter().map(|s| s.overlooked).sum()
    }

    /// Whether a mistake ended the last run that saw it, and the newest run went well to its own
    /// end.
    pub fn got_past(&self, group: &GroupView) -> bool {
        let source = self.sources.get(group.source);
        let well = source.is_some_and(|s| matches!(s.mark, RunMark::Ended { well: true, .. }));
        well && group.stopped == Some(group.last_run)
    }

    /// A sentence about a program that ended badly while its console holds no error that would
    /// explain it.
    pub fn unexplained_end(&self) -> Option<String> {
        unexplained_end(self.sources.iter().map(|s| (s.name.as_str(), &s.mark)), &self.groups)
    }
}

fn unexplained_end<'a>(
    mut sources: impl Iterator<Item = (&'a str, &'a RunMark)>,
    groups: &[Arc<GroupView>],
) -> Option<String> {
    if groups.iter().any(|g| g.state != State::Quiet && g.level() >= Level::Error) {
        return None;
    }
    sources.find_map(|(name, mark)| match mark {
        // How it ended is a sentence of its own where it is told by who watched it.
        RunMark::Ended { how, well: false } if how.starts_with("the ") => {
            Some(format!("{name} cannot be watched any more: {}.", how.trim_end_matches('.')))
        }
        RunMark::Ended { how, well: false } => {
            Some(format!("{name} {how}, and its console does not say why."))
        }
        _ => None,
    })
}
