//! The lines that were overlooked, of each source and of all.

use super::{Engine, LineRef, Source, SourceId};
use crate::overlooked::{Line, QUOTED};
use izba_console::trace::Grave;
use izba_model::{SafeText, Stream};

impl Source {
    /// Those that no entry holds, not even one that is still open.
    fn overlooked(&self, told: bool) -> impl Iterator<Item = &Line> {
        let open: Vec<(Stream, u64, u64)> = [Stream::Out, Stream::Err]
            .into_iter()
            .flat_map(|s| {
                let open = self.assemblers[s.index()].peek();
                open.map(move |o| (s, o.first_line, o.last_line))
            })
            .collect();
        let lines = self.overlooked.lines.iter();
        lines.filter(move |line| {
            let held = |(stream, first, last): &(Stream, u64, u64)| {
                *stream == line.stream && (*first..=*last).contains(&line.number)
            };
            let counts = told && line.grave == Grave::Counts;
            !counts && !open.iter().any(held)
        })
    }

    /// How many they are.
    fn count_overlooked(&self, told: bool) -> u64 {
        self.overlooked(told).count() as u64 + self.overlooked.more
    }
}

impl Engine {
    /// Lines of the current run of each source that look as if they mattered and belong to no
    /// entry, with their words; of many the first ones.
    pub fn overlooked(&self) -> Vec<(LineRef, SafeText)> {
        let of = |(at, source): (usize, &Source)| {
            let said = |line: &Line| {
                let at = LineRef { source: SourceId(at), line: line.number };
                (at, SafeText::new(&line.words))
            };
            source.overlooked(self.tells(at)).take(QUOTED).map(said).collect::<Vec<_>>()
        };
        self.sources.iter().enumerate().flat_map(of).collect()
    }

    /// How many they are.
    pub fn count_overlooked(&self) -> u64 {
        (0..self.sources.len()).map(|at| self.overlooked_of(at)).sum()
    }

    /// How many they are of one source.
    pub(super) fn overlooked_of(&self, at: usize) -> u64 {
        self.sources[at].count_overlooked(self.tells(at))
    }

    /// Whether the current run of a source told an error: then what only counts errors says nothing
    /// more.
    fn tells(&self, at: usize) -> bool {
        self.groups.has_error(at, self.sources[at].run.max(1))
    }

    /// Whether this line is one of them.
    pub fn is_overlooked(&self, line: LineRef) -> bool {
        let Some(source) = self.sources.get(line.source.0) else { return false };
        let lines = &source.overlooked.lines;
        let found = lines.binary_search_by_key(&line.line, |l| l.number).ok();
        found.is_some_and(|at| lines[at].grave == Grave::Tells || !self.tells(line.source.0))
    }
}
