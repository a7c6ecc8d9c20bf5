//! Rows of room Lines: read again from the spools when they are asked for, and searched.

use super::state::Worker;
use crate::rows::row_of;
use crate::{Answer, LineRow, Sieve, Sought};
use izba_console::Splitter;
use izba_core::filter::{Around, LineFacts};
use izba_core::{GroupId, LineRef, Phrase};
use izba_model::Level;
use izba_model::Stream;
use izba_model::text::counted;
use izba_model::text::decode;
use izba_sources::{Event, Gap};
use std::borrow::Cow;
use std::collections::HashMap;

/// Rows that a search reads in one go.
const FIND_ROWS: u64 = 4_000;

/// What is shown in place of a line that is left out.
fn left_out_line(lines: u64) -> izba_console::RawLine<'static> {
    let text = format!(
        "({} left out here: the run printed more than is kept)",
        counted(lines, "line is", "lines are")
    );
    let len = text.len() as u64;
    let bytes = Cow::Owned(text.into_bytes());
    izba_console::RawLine { stream: Stream::Out, time: None, bytes, len }
}

impl Worker {
    /// Reads lines again from the spools, each from the checkpoint before it: its row, where it
    /// belongs, itself.
    pub(crate) fn each_line(
        &self,
        from: u64,
        count: u64,
        look: &mut dyn FnMut(u64, LineRef, &izba_console::RawLine<'_>),
    ) {
        for window in self.engine.windows(from, count) {
            let Some(source) = self.sources.get(window.source.0) else { continue };
            let Ok(mut reader) = source.reader.reopen_at(window.checkpoint.offset) else {
                continue;
            };
            let mut splitter = Splitter::resume(&window.checkpoint);
            let end = window.first + window.count;
            let mut see = |number: u64, line: izba_console::RawLine<'_>| {
                if (window.first..end).contains(&number) {
                    let at = LineRef { source: window.source, line: number };
                    look(window.row + (number - window.first), at, &line);
                }
            };
            while splitter.lines() < end {
                match reader.next_record() {
                    Ok(Some(record)) => match record.event {
                        Event::Bytes(stream) => splitter.feed(
                            stream,
                            Some(record.time),
                            record.offset,
                            &record.bytes,
                            &mut see,
                        ),
                        Event::Picture => {}
                        Event::Gap => {
                            let Some(gap) = Gap::of(&record) else { break };
                            let from = splitter.lines().max(window.first);
                            splitter.skip(gap.lines, &gap.carry);
                            for number in from..splitter.lines().min(end) {
                                see(number, left_out_line(gap.lines));
                            }
                        }
                        // A run's end also ends its last line, and so does an answer to it.
                        Event::Start | Event::End { .. } | Event::Typed | Event::Update => {
                            splitter.finish(Some(record.time), &mut see)
                        }
                    },
                    Ok(None) | Err(_) => break,
                }
            }
        }
    }

    /// The rows of a stretch.
    pub(crate) fn rows(&self, from: u64, count: u64) -> Vec<LineRow> {
        let published = self.slot.load();
        let of = |g: &std::sync::Arc<izba_core::GroupView>| {
            let level = g.level();
            g.members.iter().map(|id| (*id, level)).collect::<Vec<_>>()
        };
        let levels: HashMap<GroupId, Level> =
            published.snapshot.groups.iter().flat_map(of).collect();
        let mut rows = Vec::new();
        self.each_line(from, count, &mut |row, at, line| {
            let group = self.engine.group_at(at, line.stream);
            let level = group.and_then(|(id, _)| levels.get(&id).copied());
            let overlooked = group.is_none() && self.engine.is_overlooked(at);
            let text = decode(&line.bytes);
            let starts = self.run_begun_at(at);
            rows.push(LineRow { starts, ..row_of(row, at, line, &text, group, level, overlooked) });
        });
        rows
    }

    /// The first row that arrived at this time or later, or the last one; `None` where rows tell no
    /// time.
    pub(crate) fn row_at(&self, time: izba_model::Millis) -> Option<u64> {
        let rows = self.engine.rows();
        let (mut from, mut to) = (0, rows);
        // Rows stand in the order in which they arrived.
        while from < to {
            let middle = from + (to - from) / 2;
            match self.rows(middle, 1).first().and_then(|r| r.time)? < time {
                true => from = middle + 1,
                false => to = middle,
            }
        }
        Some(from.min(rows.checked_sub(1)?))
    }

    /// The number of the run whose first line this is.
    fn run_begun_at(&self, at: LineRef) -> Option<u32> {
        let runs = self.engine.runs_of(at.source);
        let begun = &runs[..runs.partition_point(|r| r.first_line <= at.line)];
        begun.last().filter(|r| r.first_line == at.line).map(|r| r.run)
    }

    /// Reads the rows of a stretch that are let through, in order.
    pub(crate) fn rows_let_through(
        &self,
        from: u64,
        count: u64,
        sieve: &Sieve,
        keep: &mut dyn FnMut(LineRow),
    ) {
        let mut see = |row: LineRow| {
            if !sieve.firsts || row.group.is_none_or(|(_, first)| first) {
                keep(row);
            }
        };
        match &sieve.phrase {
            Some(phrase) => self.rows_that_fit(from, count, phrase, &mut see),
            None => self.rows(from, count).into_iter().for_each(see),
        }
    }

    /// Reads the rows of a stretch that a phrase fits, in order.
    pub(crate) fn rows_that_fit(
        &self,
        from: u64,
        count: u64,
        phrase: &Phrase,
        keep: &mut dyn FnMut(LineRow),
    ) {
        let published = self.slot.load();
        let groups: HashMap<GroupId, &izba_core::GroupView> = published
            .snapshot
            .groups
            .iter()
            .flat_map(|g| g.members.iter().map(move |id| (*id, &**g)))
            .collect();
        let names: Vec<String> = self.sources.iter().map(|s| s.name.clone()).collect();
        let around = Around {
            sources: &names,
            now: Some(published.snapshot.now),
            utc_offset: self.utc_offset,
        };
        let is_text = phrase.is_text();
        self.each_line(from, count, &mut |row, at, line| {
            let text = decode(&line.bytes);
            let facts = match is_text {
                true => LineFacts { text: &text, ..LineFacts::default() },
                false => self.facts(at, line, &text, &groups),
            };
            // Who speaks may be told by a name that is made of the line.
            let speaker =
                (!is_text).then(|| self.engine.layouts(at.source).speaker_of(&text)).flatten();
            let own = is_text || self.is_own(at, speaker.as_deref());
            if !phrase.fits_line(&LineFacts { speaker: speaker.as_deref(), own, ..facts }, &around)
            {
                return;
            }
            let group = self.engine.group_at(at, line.stream);
            let level = group.and_then(|(id, _)| groups.get(&id)).map(|g| g.level());
            let overlooked = group.is_none() && self.engine.is_overlooked(at);
            let starts = self.run_begun_at(at);
            keep(LineRow { starts, ..row_of(row, at, line, &text, group, level, overlooked) });
        });
    }

    /// What is known of a line beside who speaks.
    fn facts<'a>(
        &self,
        at: LineRef,
        line: &izba_console::RawLine<'_>,
        text: &'a str,
        groups: &HashMap<GroupId, &'a izba_core::GroupView>,
    ) -> LineFacts<'a> {
        let group =
            self.engine.group_at(at, line.stream).and_then(|(id, _)| groups.get(&id).copied());
        let level = group
            .map(izba_core::GroupView::level)
            .or_else(|| self.engine.layouts(at.source).prefix(text).level);
        let runs = self.engine.runs_of(at.source);
        let run =
            runs[..runs.partition_point(|r| r.first_line <= at.line)].last().map_or(0, |r| r.run);
        LineFacts {
            text,
            level,
            source: at.source.0,
            time: line.time,
            run,
            overlooked: group.is_none() && self.engine.is_overlooked(at),
            group,
            ..LineFacts::default()
        }
    }

    /// Whether what is said in a source under this name is the user's.
    fn is_own(&self, at: LineRef, speaker: Option<&str>) -> bool {
        let own = self.sources.get(at.source.0).map_or(&[][..], |s| s.own_names());
        own.is_empty() || speaker.is_some_and(|s| own.iter().any(|name| name == s))
    }

    /// The groups that are counted as one with this one, and itself.
    fn members_of(&self, id: GroupId) -> Vec<GroupId> {
        let published = self.slot.load();
        let view = published.snapshot.groups.iter().find(|g| g.members.contains(&id));
        view.map_or_else(|| vec![id], |g| g.members.to_vec())
    }

    pub(crate) fn look_for(&mut self) {
        let Some(mut finding) = self.finding.take() else { return };
        let total = self.engine.rows();
        let (from, count) = if finding.up {
            let from = finding.at.saturating_sub(FIND_ROWS);
            (from, finding.at - from)
        } else {
            (finding.at, FIND_ROWS.min(total.saturating_sub(finding.at)))
        };
        let mut rows = self.rows(from, count);
        finding.searched += rows.len() as u64;
        if finding.up {
            rows.reverse();
        }
        let passed = match finding.sought {
            Sought::Error(Some(id)) => self.members_of(id),
            _ => Vec::new(),
        };
        let hit = rows.iter().find(|row| match &finding.sought {
            Sought::Words(words) => {
                let text = row.text.as_str().to_lowercase();
                words.iter().all(|word| text.contains(word.as_str()))
            }
            Sought::Error(_) => row.group.is_some_and(|(id, first)| first && !passed.contains(&id)),
        });
        let end = if finding.up { from == 0 } else { from + count >= total };
        let (id, searched, row) = (finding.id, finding.searched, hit.map(|h| h.row));
        let done = row.is_some() || end;
        let _ = self.answers.send(Answer::Found { id, row, done, searched });
        if !done {
            finding.at = if finding.up { from } else { from + count };
            self.finding = Some(finding);
        }
    }
}
