//! Rows of room Lines: read again from the spools when they are asked for, and searched.

use super::{Answer, FIND_ROWS, LineRow, Worker};
use izba_core::read::LINE_CAP;
use izba_core::text::decode;
use izba_core::{GroupId, Level, LineRef, SafeText, Splitter};
use izba_sources::Event;

impl Worker {
    /// Reads rows again from the spools, each from the checkpoint before it.
    pub(super) fn rows(&mut self, from: u64, count: u64) -> Vec<LineRow> {
        let levels: std::collections::HashMap<GroupId, Level> = self.slot.load().snapshot.groups.iter().map(|g| (g.id, g.level())).collect();
        let mut rows = Vec::new();
        for window in self.engine.windows(from, count) {
            let Some(source) = self.sources.get(window.source.0) else { continue };
            let Ok(mut reader) = source.reader.reopen_at(window.checkpoint.offset) else { continue };
            let mut splitter = Splitter::resume(&window.checkpoint);
            let end = window.first + window.count;
            let (engine, rows) = (&self.engine, &mut rows);
            let mut keep = |number: u64, line: izba_core::RawLine<'_>| {
                if number < window.first || number >= end {
                    return;
                }
                let at = LineRef { source: window.source, line: number };
                let group = engine.group_at(at, line.stream);
                rows.push(LineRow {
                    row: window.row + (number - window.first),
                    line: at,
                    stream: line.stream,
                    time: line.time,
                    text: SafeText::new(&decode(&line.bytes)),
                    cut_from: (line.len > LINE_CAP as u64).then_some(line.len),
                    group,
                    level: group.and_then(|(id, _)| levels.get(&id).copied()),
                });
            };
            while splitter.lines() < end {
                match reader.next_record() {
                    Ok(Some(record)) => match record.event {
                        Event::Bytes(stream) => splitter.feed(stream, Some(record.time), record.offset, &record.bytes, &mut keep),
                        // A run's end also ends its last line, and so does an answer to it.
                        Event::Start | Event::End { .. } | Event::Typed => splitter.finish(Some(record.time), &mut keep),
                    },
                    Ok(None) | Err(_) => break,
                }
            }
        }
        rows
    }

    pub(super) fn look_for(&mut self) {
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
