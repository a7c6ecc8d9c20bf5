//! Runs that print without end: which stretches of them say nothing that an entry does, and how what
//! is left out is passed over when a run is read again.

use super::{Engine, SourceId};
use izba_console::Checkpoint;

/// Lines of an entry that are looked back for.
const LOOK_BACK: usize = 64;

impl Engine {
    /// The stretches of a source between two offsets of its spool in which no line belongs to an
    /// entry, each from one checkpoint to another; all of it in one when `all` is set. Only such as
    /// are at least `least` bytes long.
    pub fn quiet_stretches(
        &self,
        source: SourceId,
        (from, to): (u64, u64),
        least: u64,
        all: bool,
    ) -> Vec<(Checkpoint, Checkpoint)> {
        let Some(entry) = self.sources.get(source.0) else { return Vec::new() };
        let points = entry.splitter.checkpoints();
        let begin = points.partition_point(|c| c.offset < from);
        let end = points.partition_point(|c| c.offset <= to);
        let Some(points) = points.get(begin..end) else { return Vec::new() };
        let holds_entry = |from: u64, to: u64| {
            let after = entry.spans.partition_point(|s| s.first <= to);
            let near = entry.spans[..after].iter().rev().take(LOOK_BACK);
            near.into_iter().any(|s| s.first + u64::from(s.count) >= from)
        };
        let mut stretches: Vec<(usize, usize)> = Vec::new();
        for at in 1..points.len() {
            if !all && holds_entry(points[at - 1].line, points[at].line) {
                continue;
            }
            match stretches.last_mut() {
                Some(last) if last.1 == at - 1 => last.1 = at,
                _ => stretches.push((at - 1, at)),
            }
        }
        let long = |(a, b): &(usize, usize)| points[*b].offset - points[*a].offset >= least;
        let found = stretches.into_iter().filter(long);
        found.map(|(a, b)| (points[a].clone(), points[b].clone())).collect()
    }

    /// Notes that what lies between two offsets of a source is left out from now on.
    pub fn left_out(&mut self, source: SourceId, from: u64, to: u64) {
        if let Some(entry) = self.sources.get_mut(source.0) {
            entry.splitter.forget(from, to);
        }
    }

    /// Passes over lines that were left out when the run was kept.
    pub fn pass_left_out(&mut self, source: SourceId, lines: u64, carry: &[Vec<u8>; 2]) {
        let Some(entry) = self.sources.get_mut(source.0) else { return };
        let before = entry.splitter.lines();
        entry.splitter.skip(lines, carry);
        let after = entry.splitter.lines();
        self.woven(source, before, after, None);
    }
}

#[cfg(test)]
mod tests {
    use crate::Engine;
    use izba_model::{Project, Stream};
    use std::sync::Arc;

    /// Offsets of chunks as a spool has them, and their bytes: two thousand lines, an error in one.
    fn chunks() -> Vec<(u64, Vec<u8>)> {
        let line = |n: u64| match n {
            1_000 => "ERROR: the bell is stuck\n".to_owned(),
            _ => format!("{n:07} {}\n", "of the tide ".repeat(80)),
        };
        let all: String = (0..2_000).map(line).collect();
        let mut at = 0;
        all.as_bytes()
            .chunks(9_973)
            .map(|chunk| {
                let begins = at;
                at += chunk.len() as u64;
                (begins, chunk.to_vec())
            })
            .collect()
    }

    #[test]
    fn what_says_nothing_can_be_left_out_and_all_that_follows_keeps_its_place() {
        let project = Arc::new(Project::new("/ferry", Vec::new()));
        let begin = || {
            let mut engine = Engine::new(project.clone());
            let source = engine.add_source("game");
            engine.start_run(source, None, project.clone());
            (engine, source)
        };
        let (mut whole, source) = begin();
        for (at, bytes) in chunks() {
            whole.feed(source, Stream::Out, None, at, &bytes);
        }
        let end = chunks().last().expect("there are some").0;
        let quiet = whole.quiet_stretches(source, (200_000, end), 100_000, false);
        assert_eq!(quiet.len(), 2, "before and behind the error: {quiet:?}");
        let (from, to) = &quiet[1];
        assert!(quiet[0].1.line <= 1_000 && from.line > 1_000);
        assert_eq!(whole.quiet_stretches(source, (200_000, end), 100_000, true).len(), 1);
        assert!(whole.quiet_stretches(source, (200_000, end), 10_000_000, true).is_empty());
        // Read again without it, each line has the number and the row that it had.
        let (mut again, other) = begin();
        for (at, bytes) in chunks().iter().filter(|(at, _)| !(from.offset..to.offset).contains(at))
        {
            if *at == to.offset {
                let carry = to.carry.each_ref().map(|bytes| bytes.to_vec());
                again.pass_left_out(other, to.line - from.line, &carry);
            }
            again.feed(other, Stream::Out, None, *at, bytes);
        }
        whole.finish();
        again.finish();
        assert_eq!(again.rows(), whole.rows());
        let lines = |e: &Engine| e.groups().iter().map(|g| g.count).collect::<Vec<_>>();
        assert_eq!(lines(&again), lines(&whole));
        // No way leads into it any more.
        whole.left_out(source, from.offset, to.offset);
        let middle = whole.windows((from.line + to.line) / 2, 1);
        assert_eq!(middle[0].checkpoint.offset, from.offset);
    }
}
