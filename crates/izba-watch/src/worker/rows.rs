//! Rows of room Lines: read again from the spools when they are asked for, and searched.

use super::state::Worker;
use crate::rows::row_of;
use crate::{Answer, LineRow};
use izba_console::Splitter;
use izba_core::filter::{Around, LineFacts};
use izba_core::{GroupId, LineRef, Phrase};
use izba_model::Level;
use izba_model::text::decode;
use izba_sources::Event;

/// Rows that a search reads in one go.
const FIND_ROWS: u64 = 4_000;

impl Worker {
    /// Reads rows again from the spools, each from the checkpoint before it.
    pub(crate) fn rows(&mut self, from: u64, count: u64) -> Vec<LineRow> {
        let levels: std::collections::HashMap<GroupId, Level> = self
            .slot
            .load()
            .snapshot
            .groups
            .iter()
            .flat_map(|g| g.members.iter().map(|id| (*id, g.level())))
            .collect();
        let mut rows = Vec::new();
        for window in self.engine.windows(from, count) {
            let Some(source) = self.sources.get(window.source.0) else { continue };
            let Ok(mut reader) = source.reader.reopen_at(window.checkpoint.offset) else {
                continue;
            };
            let mut splitter = Splitter::resume(&window.checkpoint);
            let end = window.first + window.count;
            let (engine, rows) = (&self.engine, &mut rows);
            let mut keep = |number: u64, line: izba_console::RawLine<'_>| {
                if number < window.first || number >= end {
                    return;
                }
                let at = LineRef { source: window.source, line: number };
                let group = engine.group_at(at, line.stream);
                let level = group.and_then(|(id, _)| levels.get(&id).copied());
                rows.push(row_of(
                    window.row + (number - window.first),
                    at,
                    &line,
                    &decode(&line.bytes),
                    group,
                    level,
                    group.is_none() && engine.is_overlooked(at),
                ));
            };
            while splitter.lines() < end {
                match reader.next_record() {
                    Ok(Some(record)) => match record.event {
                        Event::Bytes(stream) => splitter.feed(
                            stream,
                            Some(record.time),
                            record.offset,
                            &record.bytes,
                            &mut keep,
                        ),
                        // A run's end also ends its last line, and so does an answer to it.
                        Event::Start | Event::End { .. } | Event::Typed => {
                            splitter.finish(Some(record.time), &mut keep)
                        }
                    },
                    Ok(None) | Err(_) => break,
                }
            }
        }
        rows
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
        let groups: std::collections::HashMap<GroupId, &izba_core::GroupView> = published
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
        for window in self.engine.windows(from, count) {
            let Some(source) = self.sources.get(window.source.0) else { continue };
            let Ok(mut reader) = source.reader.reopen_at(window.checkpoint.offset) else {
                continue;
            };
            let mut splitter = Splitter::resume(&window.checkpoint);
            let end = window.first + window.count;
            let layouts = self.engine.layouts(window.source);
            let runs = self.engine.runs_of(window.source);
            let mut look = |number: u64, line: izba_console::RawLine<'_>| {
                if number < window.first || number >= end {
                    return;
                }
                let text = decode(&line.bytes);
                let at = LineRef { source: window.source, line: number };
                let fits = if is_text {
                    phrase.fits_line(&LineFacts { text: &text, ..LineFacts::default() }, &around)
                } else {
                    let group = self
                        .engine
                        .group_at(at, line.stream)
                        .and_then(|(id, _)| groups.get(&id).copied());
                    let level = group
                        .map(izba_core::GroupView::level)
                        .or_else(|| layouts.prefix(&text).level);
                    let speaker = layouts.speaker_of(&text);
                    let own = source.own_names().is_empty()
                        || speaker.as_ref().is_some_and(|s| source.own_names().contains(s));
                    let run = runs[..runs.partition_point(|r| r.first_line <= number)]
                        .last()
                        .map_or(0, |r| r.run);
                    let facts = LineFacts {
                        text: &text,
                        level,
                        speaker: speaker.as_deref(),
                        source: window.source.0,
                        own,
                        time: line.time,
                        run,
                        overlooked: group.is_none() && self.engine.is_overlooked(at),
                        group,
                    };
                    phrase.fits_line(&facts, &around)
                };
                if fits {
                    let group = self.engine.group_at(at, line.stream);
                    let level = group.and_then(|(id, _)| groups.get(&id)).map(|g| g.level());
                    keep(row_of(
                        window.row + (number - window.first),
                        at,
                        &line,
                        &text,
                        group,
                        level,
                        group.is_none() && self.engine.is_overlooked(at),
                    ));
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
                            &mut look,
                        ),
                        Event::Start | Event::End { .. } | Event::Typed => {
                            splitter.finish(Some(record.time), &mut look)
                        }
                    },
                    Ok(None) | Err(_) => break,
                }
            }
        }
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
        let hit = rows.iter().find(|row| {
            let text = row.text.as_str().to_lowercase();
            finding.words.iter().all(|word| text.contains(word.as_str()))
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
