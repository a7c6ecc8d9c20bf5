//! The engine: the one pure machine behind `read`, watching and old runs. Bytes go in, snapshots come out.
//!
//! How the bytes are cut into chunks, and how often [`Engine::tick`] is called, makes no difference to the groups.

use crate::group::{GroupId, GroupTable, GroupView, Sighting, State};
use crate::model::{Entry, Level, Millis};
use crate::project::Project;
use crate::read::{Checkpoint, RawLine, Splitter, Stream};
use crate::text::{SafeText, decode};
use crate::timeline::{MarkKind, Timeline};
use crate::trace::{Assembled, Lanes};
use std::sync::Arc;

/// An entry that nothing has followed for this long is shown as it stands.
const SETTLED_MS: u64 = 150;

/// Index of a source within one engine.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct SourceId(pub usize);

/// How a source's run goes.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub enum RunMark {
    /// Nothing has started yet.
    #[default]
    Waiting,
    /// It runs, or is watched.
    Running,
    /// It has ended.
    Ended {
        /// In these words (“ended with exit code 1”).
        how: String,
        /// Whether that is nothing to worry about.
        well: bool,
    },
}

#[derive(Debug)]
struct Source {
    name: String,
    splitter: Splitter,
    assemblers: [Lanes; 2],
    spans: Vec<Span>,
    project: Arc<Project>,
    run: u32,
    run_started: Option<Millis>,
    run_first_line: u64,
    mark: RunMark,
    fed: u64,
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

/// Neighbouring rows that come from one source: read `count` lines from `first` on, starting at `checkpoint`.
#[derive(Debug, Clone)]
pub struct Window {
    /// The source to read again.
    pub source: SourceId,
    /// Row of the first line over all sources.
    pub row: u64,
    /// First line wanted.
    pub first: u64,
    /// How many.
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
    /// When that run began.
    pub run_started: Option<Millis>,
    /// How it goes.
    pub mark: RunMark,
    /// Lines so far, over all runs.
    pub lines: u64,
    /// Lines of this run.
    pub run_lines: u64,
    /// Bytes so far.
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
    pub groups: Vec<Arc<GroupView>>,
    /// Lines and errors over time.
    pub timeline: Arc<Timeline>,
    /// Rows over all sources.
    pub rows: u64,
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
    now: Option<Millis>,
}

impl Engine {
    /// An engine for `project` with no source yet.
    pub fn new(project: Arc<Project>) -> Engine {
        Engine { sources: Vec::new(), groups: GroupTable::default(), timeline: Timeline::default(), weave: Vec::new(), rows: 0, project, now: None }
    }

    /// Adds a source under a name that people see.
    pub fn add_source(&mut self, name: impl Into<String>) -> SourceId {
        self.sources.push(Source {
            name: name.into(),
            splitter: Splitter::default(),
            assemblers: Default::default(),
            spans: Vec::new(),
            project: self.project.clone(),
            run: 0,
            run_started: None,
            run_first_line: 0,
            mark: RunMark::Waiting,
            fed: 0,
        });
        SourceId(self.sources.len() - 1)
    }

    /// Begins the next run of `source`, with the project's files as they are now.
    pub fn start_run(&mut self, source: SourceId, time: Option<Millis>, project: Arc<Project>) {
        self.end_lines(source, time);
        self.project = project.clone();
        let Some(entry) = self.sources.get_mut(source.0) else { return };
        entry.project = project;
        entry.run += 1;
        entry.run_started = time;
        entry.run_first_line = entry.splitter.lines();
        entry.mark = RunMark::Running;
        let run = entry.run;
        if let Some(time) = time {
            self.timeline.mark(time, MarkKind::RunStart(source.0, run));
        }
    }

    /// Notes that the run of `source` has ended, in words (“ended with exit code 1”), and whether all is well with that.
    pub fn end_run(&mut self, source: SourceId, time: Option<Millis>, how: String, well: bool) {
        self.end_lines(source, time);
        if let Some(entry) = self.sources.get_mut(source.0) {
            entry.mark = RunMark::Ended { how, well };
        }
    }

    /// Notes that an own file was saved.
    pub fn saved(&mut self, time: Millis, path: String) {
        self.timeline.mark(time, MarkKind::Saved(path));
    }

    /// Takes the chunk that begins at `offset` of the source's segment.
    pub fn feed(&mut self, source: SourceId, stream: Stream, time: Option<Millis>, offset: u64, bytes: &[u8]) {
        if time.is_some() {
            self.now = self.now.max(time);
        }
        let Some(mut splitter) = self.sources.get_mut(source.0).map(|s| std::mem::take(&mut s.splitter)) else { return };
        let before = splitter.lines();
        splitter.feed(stream, time, offset, bytes, |number, line| self.line(source, number, &line));
        self.woven(source, before, splitter.lines(), time);
        if let Some(entry) = self.sources.get_mut(source.0) {
            entry.splitter = splitter;
            entry.fed += bytes.len() as u64;
        }
    }

    /// Says what time it is; nothing else changes.
    pub fn tick(&mut self, now: Millis) {
        self.now = self.now.max(Some(now));
    }

    /// Ends all sources: unfinished lines and entries are complete.
    pub fn finish(&mut self) {
        for at in 0..self.sources.len() {
            self.end_lines(SourceId(at), None);
        }
    }

    /// Makes lines of what stands unfinished, because the user has answered it.
    pub fn end_unfinished(&mut self, source: SourceId, time: Option<Millis>) {
        let Some(mut splitter) = self.sources.get_mut(source.0).map(|s| std::mem::take(&mut s.splitter)) else { return };
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
        for stream in [Stream::Out, Stream::Err] {
            let mut done = Vec::new();
            let entry = &mut self.sources[source.0];
            let mut assembler = std::mem::take(&mut entry.assemblers[stream.index()]);
            assembler.finish(&entry.project.clone(), &mut |a| done.push(a));
            for assembled in done {
                self.entry(source, stream, assembled);
            }
        }
    }

    fn line(&mut self, source: SourceId, number: u64, line: &RawLine<'_>) {
        let entry = &mut self.sources[source.0];
        let text = decode(&line.bytes);
        let mut done = Vec::new();
        entry.assemblers[line.stream.index()].line(number, line.time, &text, &entry.project, &mut |a| done.push(a));
        for assembled in done {
            self.entry(source, line.stream, assembled);
        }
    }

    fn entry(&mut self, source: SourceId, stream: Stream, assembled: Assembled) {
        let Assembled { report, first_line, last_line, time } = assembled;
        if let Some(time) = time {
            self.timeline.entry(source.0, time, report.level);
        }
        let owner = &mut self.sources[source.0];
        let entry = Entry::resolve(report, &owner.project, time);
        let group = self.groups.record(Sighting { source: source.0, run: owner.run.max(1), line: first_line, entry }, &owner.project);
        let span = Span { first: first_line, count: (last_line - first_line + 1) as u32, group, stream };
        let at = owner.spans.iter().rposition(|s| s.first <= first_line).map_or(0, |at| at + 1);
        owner.spans.insert(at, span);
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

    /// A sentence about a program that ended badly while its console holds no error that would explain it.
    pub fn unexplained_end(&self) -> Option<String> {
        unexplained_end(self.sources.iter().map(|s| (s.name.as_str(), &s.mark)), &self.groups())
    }

    /// Rows over all sources.
    pub fn rows(&self) -> u64 {
        self.rows
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
                windows.push(Window { source: SourceId(weave.source), row, first, count, checkpoint: checkpoint.clone() });
            }
            row += count;
            at += 1;
        }
        windows
    }

    /// Places what comes from now on in `project`, within the run that goes on: a bundle was built meanwhile.
    pub fn set_project(&mut self, source: SourceId, project: Arc<Project>) {
        if let Some(source) = self.sources.get_mut(source.0) {
            source.project = project;
        }
    }

    /// The row of a line over all sources.
    pub fn row_of(&self, line: LineRef) -> Option<u64> {
        let weave = self.weave.iter().rev().find(|w| w.source == line.source.0 && w.line <= line.line)?;
        Some(weave.row + (line.line - weave.line).min(weave.count.saturating_sub(1)))
    }

    /// The group whose entry holds this line, and whether the line is the entry's first.
    pub fn group_at(&self, line: LineRef, stream: Stream) -> Option<(GroupId, bool)> {
        let source = self.sources.get(line.source.0)?;
        let spans = &source.spans;
        let after = spans.partition_point(|s| s.first <= line.line);
        let span = spans[..after].iter().rev().take(8).find(|s| s.stream == stream && line.line < s.first + u64::from(s.count));
        if let Some(span) = span {
            return Some((span.group, span.first == line.line));
        }
        // The entry that is still open may hold it.
        let holds = |open: &Assembled| (open.first_line..=open.last_line).contains(&line.line);
        let open = source.assemblers[stream.index()].peek().find(holds)?;
        let first = line.line == open.first_line;
        let entry = Entry::resolve(open.report, &source.project, open.time);
        Some((self.groups.id_of(line.source.0, &entry, &source.project), first))
    }

    /// The groups, most important first; complete after [`Engine::finish`].
    pub fn groups(&self) -> Vec<Arc<GroupView>> {
        self.groups.views(&self.runs(), self.now)
    }

    fn runs(&self) -> Vec<u32> {
        self.sources.iter().map(|s| s.run.max(1)).collect()
    }

    /// Everything a screen shows, as of the last tick. An entry that nothing has followed for a moment counts as it stands.
    pub fn snapshot(&self) -> Snapshot {
        let now = self.now.unwrap_or_default();
        // Each stream for itself: output may flow on and on after the one error that was told.
        let settled = |a: &Lanes| a.newest().is_none_or(|newest| now.since(newest) >= SETTLED_MS);
        let open: Vec<(usize, Assembled)> = self
            .sources
            .iter()
            .enumerate()
            .flat_map(|(at, s)| s.assemblers.iter().filter(|a| settled(a)).flat_map(move |a| a.peek().map(move |open| (at, open))))
            .collect();
        let groups = if open.is_empty() {
            self.groups()
        } else {
            let mut table = self.groups.clone();
            for (at, open) in open {
                let source = &self.sources[at];
                let entry = Entry::resolve(open.report, &source.project, open.time);
                table.record(Sighting { source: at, run: source.run.max(1), line: open.first_line, entry }, &source.project);
            }
            table.views(&self.runs(), self.now)
        };
        let sources = self
            .sources
            .iter()
            .map(|s| SourceView {
                name: s.name.clone(),
                run: s.run,
                run_started: s.run_started,
                mark: s.mark.clone(),
                lines: s.splitter.lines(),
                run_lines: s.splitter.lines() - s.run_first_line,
                bytes: s.fed,
                unfinished: s.splitter.unfinished().next().map(|(_, bytes)| SafeText::new(&decode(&bytes[..bytes.len().min(4096)]))),
            })
            .collect();
        Snapshot { project: self.project.clone(), sources, groups, timeline: Arc::new(self.timeline.clone()), rows: self.rows, now }
    }

    /// Bytes of memory that grow with what was read.
    pub fn memory_usage(&self) -> usize {
        self.weave.capacity() * size_of::<Weave>()
            + self.sources.iter().map(|s| s.splitter.memory_usage() + s.spans.capacity() * size_of::<Span>()).sum::<usize>()
    }
}

impl Snapshot {
    /// A sentence about a program that ended badly while its console holds no error that would explain it.
    pub fn unexplained_end(&self) -> Option<String> {
        unexplained_end(self.sources.iter().map(|s| (s.name.as_str(), &s.mark)), &self.groups)
    }
}

fn unexplained_end<'a>(mut sources: impl Iterator<Item = (&'a str, &'a RunMark)>, groups: &[Arc<GroupView>]) -> Option<String> {
    if groups.iter().any(|g| g.state != State::Quiet && g.level() >= Level::Error) {
        return None;
    }
    sources.find_map(|(name, mark)| match mark {
        RunMark::Ended { how, well: false } => Some(format!("{name} {how}, and its console does not say why.")),
        _ => None,
    })
}
