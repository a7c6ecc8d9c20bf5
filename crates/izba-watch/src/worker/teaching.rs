//! Lessons: what they would change, and the run read anew once one is kept.

use super::state::Worker;
use crate::orders::Answer;
use crate::teaching::{TRIED, Tried};
use izba_console::learn::KeptLine;
use izba_console::read::Layout;
use izba_core::SourceId;
use izba_model::text::{counted, decode};
use std::sync::Arc;

/// Lines of a run that are read anew at most, and in one go.
const AGAIN: u64 = 500_000;
const STEP: u64 = 4_000;

impl Worker {
    /// Reads lines like this as the user says, those that arrived too, and keeps the reader for all
    /// sources of this kind.
    pub(crate) fn teach(&mut self, source: usize, layout: Arc<Layout>) {
        let mut layout = Arc::unwrap_or_clone(layout);
        layout.kind = self.kind_of(source).map(str::to_owned);
        if let Err(sentence) = crate::readers::keep(&self.root, &layout) {
            return self.trouble(sentence);
        }
        // The newest lesson comes first.
        self.readers.insert(0, Arc::new(layout));
        let (mut groups, mut left) = (0, false);
        for at in 0..self.sources.len() {
            let (id, kind) = (self.sources[at].id, self.kind_of(at));
            let taught = crate::readers::of_source(&self.readers, &self.sources[at].name, kind);
            if !taught.first().is_some_and(|first| Arc::ptr_eq(first, &self.readers[0])) {
                continue;
            }
            self.engine.set_taught(id, taught);
            let run = self.engine.run_lines(id).unwrap_or(0);
            left |= run > AGAIN;
            if run <= AGAIN {
                let lines = self.lines_of_run(id, AGAIN);
                self.engine.read_again(id, lines.into_iter());
            }
            groups += self.engine.groups().iter().filter(|g| g.source == at && g.count > 0).count();
        }
        let told = match left {
            true => "holds for what comes from now on: too much has arrived".to_owned(),
            false => {
                format!("what arrived is {} now", counted(groups as u64, "mistake", "mistakes"))
            }
        };
        self.say(format!("kept in {}; {told}", crate::readers::FILE));
    }

    /// Tells what a lesson would change in the run that is shown.
    pub(crate) fn try_lesson(&mut self, id: u64, source: usize, layout: &Arc<Layout>) {
        let Some(watched) = self.sources.get(source) else { return };
        let taught = crate::readers::of_source(&self.readers, &watched.name, self.kind_of(source));
        let lines = self.lines_of_run(watched.id, TRIED);
        let tried = Tried::of(&self.project, &taught, layout, &lines);
        let _ = self.answers.send(Answer::Tried { id, tried });
    }

    fn kind_of(&self, source: usize) -> Option<&'static str> {
        Some(self.sources.get(source)?.wanted.as_ref()?.kind.word)
    }

    /// The latest lines of the current run of a source.
    fn lines_of_run(&self, id: SourceId, most: u64) -> Vec<KeptLine> {
        let count = self.engine.run_lines(id).unwrap_or(0);
        let all = self.engine.lines_of(id);
        let first = all.saturating_sub(count.min(most));
        let from = self.engine.row_of(izba_core::LineRef { source: id, line: first });
        let mut lines = Vec::new();
        let (mut row, end) = (from.unwrap_or(0), self.engine.rows());
        while row < end && count > 0 {
            self.each_line(row, STEP, &mut |_, at, line| {
                if at.source == id && at.line >= first {
                    lines.push(KeptLine {
                        number: at.line,
                        time: line.time,
                        stream: line.stream,
                        text: decode(&line.bytes).into_owned(),
                    });
                }
            });
            row += STEP;
        }
        lines
    }
}
