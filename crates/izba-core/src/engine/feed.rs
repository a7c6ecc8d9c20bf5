//! How lines get into the engine: chunks cut at the lines where layouts are looked for, digests
//! joined, entries counted.

use super::{Engine, LAYOUTS, LineRef, SourceId, Span};
use crate::digest::{Digest, Placed};
use crate::group::{GroupId, Sighting};
use izba_console::Setting;
use izba_console::learn::KeptLine;
use izba_console::read::layout::infer;
use izba_console::read::{Layout, Layouts, LineSink, RawLine, Scan};
use izba_console::report::failed_tests;
use izba_console::trace::{Lanes, looks_grave};
use izba_model::Millis;
use izba_model::Stream;
use izba_model::text::decode;
use std::sync::Arc;

impl Engine {
    /// Takes the chunk that begins at `offset` of the source's segment.
    pub fn feed(
        &mut self,
        source: SourceId,
        stream: Stream,
        time: Option<Millis>,
        offset: u64,
        bytes: &[u8],
    ) {
        self.feed_chunk(source, stream, time, offset, bytes, None);
    }

    /// As [`Engine::feed`], for a chunk that was read on its own already, perhaps on another
    /// thread.
    pub fn feed_digested(
        &mut self,
        source: SourceId,
        stream: Stream,
        time: Option<Millis>,
        offset: u64,
        bytes: &[u8],
        digest: Digest,
    ) {
        self.feed_chunk(source, stream, time, offset, bytes, Some(digest));
    }

    /// Takes a whole file that is a report of tests; its lines are counted and none is looked at.
    ///
    /// # Errors
    ///
    /// A sentence on where it is no XML.
    pub fn feed_report(&mut self, source: SourceId, text: &str) -> Result<(), String> {
        let Some(entry) = self.sources.get(source.0) else { return Ok(()) };
        let (setting, lines) = (entry.setting.clone(), text.lines().count() as u64);
        for assembled in failed_tests(text, &setting.project)? {
            self.entry(source, Stream::Out, Placed::new(assembled, &setting));
        }
        self.woven(source, 0, lines, None);
        Ok(())
    }

    /// What the lines of this source are read against now.
    pub fn setting_of(&self, source: SourceId) -> Setting {
        self.sources
            .get(source.0)
            .map_or_else(|| Setting::new(self.project.clone()), |s| s.setting.clone())
    }

    fn feed_chunk(
        &mut self,
        source: SourceId,
        stream: Stream,
        time: Option<Millis>,
        offset: u64,
        bytes: &[u8],
        digest: Option<Digest>,
    ) {
        if time.is_some() {
            self.now = self.now.max(time);
        }
        let Some(entry) = self.sources.get_mut(source.0) else { return };
        entry.fed += bytes.len() as u64;
        if let Some((action, run)) = entry.action.as_ref().zip(entry.runs.last_mut()) {
            // A text that two chunks share is missed; chunks are cut at writes.
            run.actions = run.actions.saturating_add(action.find_iter(bytes).count() as u32);
        }
        if let Some((time, run)) = time.zip(entry.runs.last_mut())
            && let Some(started) = run.started
        {
            run.ran_ms = run.ran_ms.max(time.since(started));
        }
        let mut digest = digest.filter(|d| d.is_for(&entry.setting));
        let (mut rest, mut offset) = (bytes, Some(offset));
        while !rest.is_empty() {
            // At fixed lines layouts are looked for, or lines begin to be kept for that: there the
            // chunk is cut.
            let until = self.sources[source.0]
                .learner
                .until_change(self.sources[source.0].splitter.lines());
            let cut = match digest.as_ref().map(|d| u64::from(d.scan.lines)) {
                Some(lines) if lines < until => rest.len(),
                _ => memchr::memchr_iter(b'\n', rest)
                    .nth(until as usize - 1)
                    .map_or(rest.len(), |at| at + 1),
            };
            let (part, behind) = rest.split_at(cut);
            self.feed_part(
                source,
                stream,
                time,
                offset.take(),
                part,
                digest.take().filter(|_| behind.is_empty()),
            );
            rest = behind;
            let entry = &self.sources[source.0];
            if entry.learner.is_due(entry.splitter.lines()) {
                self.learn(source);
            }
        }
        if stream == Stream::Err
            && let Some(entry) = self.sources.get_mut(source.0)
        {
            entry.said.take(bytes, entry.splitter.lines());
        }
    }

    fn feed_part(
        &mut self,
        source: SourceId,
        stream: Stream,
        time: Option<Millis>,
        offset: Option<u64>,
        part: &[u8],
        mut digest: Option<Digest>,
    ) {
        let entry = &mut self.sources[source.0];
        let scan = digest.as_mut().map_or_else(
            || Scan::of(part, &entry.setting.layouts),
            |d| std::mem::take(&mut d.scan),
        );
        let mut splitter = std::mem::take(&mut entry.splitter);
        let before = splitter.lines();
        // The lines of a part are all kept or none of them.
        let keeps = entry.learner.keeps(before);
        splitter.feed_scanned(
            stream,
            time,
            offset,
            part,
            &scan,
            &mut Feeding { engine: self, source, stream, digest: digest.filter(|_| !keeps), keeps },
        );
        self.woven(source, before, splitter.lines(), time);
        self.sources[source.0].splitter = splitter;
    }

    /// Looks for layouts in the lines that were kept, and reads those anew that begin no entry by
    /// their shape alone.
    pub(super) fn learn(&mut self, source: SourceId) {
        let entry = &mut self.sources[source.0];
        if !entry.learner.look() {
            return;
        }
        let texts: Vec<&str> = entry.learner.kept.iter().map(|k| k.text.as_str()).collect();
        let mut found: Vec<Arc<Layout>> = infer(&texts).into_iter().map(Arc::new).collect();
        let known = entry.setting.layouts.all();
        if !entry.learner.is_first() {
            found.retain(|l| !known.iter().any(|k| k.template == l.template));
            found.splice(0..0, known.iter().filter(|l| !l.is_taught()).cloned());
        }
        found.truncate(LAYOUTS);
        let all: Vec<Arc<Layout>> = entry.taught.iter().cloned().chain(found).collect();
        if all.iter().eq(known) {
            return;
        }
        entry.setting.layouts = Arc::new(Layouts::new(all, !entry.own.is_empty()));
        let kept = entry.learner.kept.clone();
        self.read_anew(source, &kept);
    }

    /// Reads lines again that belong to no entry: their layout is known now.
    pub fn read_anew(&mut self, source: SourceId, lines: &[KeptLine]) {
        let Some(entry) = self.sources.get(source.0) else { return };
        let setting = entry.setting.clone();
        let open: Vec<u64> =
            entry.assemblers.iter().flat_map(|a| a.peek().map(|open| open.first_line)).collect();
        for stream in [Stream::Out, Stream::Err] {
            let (mut lanes, mut done) = (Lanes::default(), Vec::new());
            for line in lines
                .iter()
                .filter(|k| k.stream == stream && open.iter().all(|first| k.number < *first))
            {
                let at = LineRef { source, line: line.number };
                if self.group_at(at, stream).is_none() {
                    let grave = looks_grave(&line.text, setting.reading()).is_some();
                    self.sources[source.0].overlooked.judge(line.number, grave);
                    lanes.line(line.number, line.time, &line.text, setting.reading(), &mut |a| {
                        done.push(a)
                    });
                }
            }
            lanes.finish(setting.reading(), &mut |a| done.push(a));
            for assembled in done {
                self.entry(source, stream, Placed::new(assembled, &setting));
            }
        }
    }

    pub(super) fn line(&mut self, source: SourceId, number: u64, line: &RawLine<'_>) {
        let entry = &mut self.sources[source.0];
        let text = decode(&line.bytes);
        let mut done = Vec::new();
        entry.assemblers[line.stream.index()].line(
            number,
            line.time,
            &text,
            entry.setting.reading(),
            &mut |a| done.push(a),
        );
        if !entry.assemblers[line.stream.index()].took(number) {
            entry.overlooked.see(number, line.stream, &text, entry.setting.reading());
        }
        let setting = (!done.is_empty()).then(|| entry.setting.clone());
        for (assembled, setting) in done.into_iter().zip(setting.iter().cycle()) {
            self.entry(source, line.stream, Placed::new(assembled, setting));
        }
    }

    pub(super) fn entry(&mut self, source: SourceId, stream: Stream, placed: Placed) {
        let Placed { entry, like, first_line, last_line } = placed;
        let now = self.sources[source.0].run_now();
        let project = self.sources[source.0].setting.project.clone();
        // That a program ended with some code says nothing that its error has not said.
        if entry.tells_only_an_end() && self.groups.has_error(source.0, now.run) {
            return;
        }
        // A tool that sums up in the end tells nothing new.
        let met = self.groups.met(source.0, &like.identity, now.run);
        if let Some((group, before)) = met
            && self.sources[source.0].overlooked.is_again(first_line, before)
        {
            self.span(
                source,
                stream,
                group,
                (first_line, last_line),
                !entry.report.frames.is_empty(),
            );
            return;
        }
        if let Some(time) = entry.time {
            self.timeline.entry(source.0, time, entry.report.level);
        }
        let thrown = !entry.report.frames.is_empty();
        let group = self.groups.record(Sighting {
            source: source.0,
            now,
            line: first_line,
            entry,
            like,
            project: &project,
        });
        self.span(source, stream, group, (first_line, last_line), thrown);
    }

    /// Notes which lines an entry takes up.
    fn span(
        &mut self,
        source: SourceId,
        stream: Stream,
        group: GroupId,
        (first, last): (u64, u64),
        thrown: bool,
    ) {
        let span = Span { first, count: (last - first + 1) as u32, group, stream };
        let owner = &mut self.sources[source.0];
        owner.overlooked.understood(first, last, stream, thrown);
        let at = owner.spans.iter().rposition(|s| s.first <= first).map_or(0, |at| at + 1);
        owner.spans.insert(at, span);
    }
}

/// The lines of one source on their way into the engine.
struct Feeding<'a> {
    engine: &'a mut Engine,
    source: SourceId,
    stream: Stream,
    digest: Option<Digest>,
    keeps: bool,
}

impl LineSink for Feeding<'_> {
    fn line(&mut self, number: u64, line: RawLine<'_>) {
        if self.keeps {
            self.engine.sources[self.source.0].learner.keep(
                number,
                line.time,
                line.stream,
                &decode(&line.bytes),
            );
        }
        self.engine.line(self.source, number, &line);
    }

    fn is_idle(&self, stream: Stream) -> bool {
        !self.keeps && self.engine.sources[self.source.0].assemblers[stream.index()].is_idle()
    }

    fn pass(&mut self, number: u64, line: RawLine<'_>) {
        self.engine.sources[self.source.0].assemblers[line.stream.index()].pass(
            number,
            line.time,
            &decode(&line.bytes),
        );
    }

    fn jump(&mut self, line: u32, base: u64) -> bool {
        let Some(rest) = self.digest.as_mut().and_then(|d| d.rest_from(line, base)) else {
            return false;
        };
        let overlooked = &mut self.engine.sources[self.source.0].overlooked;
        overlooked.take(rest.overlooked, u64::from(line), base);
        for placed in rest.placed {
            self.engine.entry(self.source, self.stream, placed);
        }
        self.engine.sources[self.source.0].assemblers[self.stream.index()] = rest.end;
        true
    }
}
