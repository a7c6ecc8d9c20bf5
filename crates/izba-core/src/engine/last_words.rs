//! What a program said last before it ended badly, where its console told no error that anybody
//! understood: better these words than that all is well.

use izba_console::trace::place_in;
use izba_model::text::decode;
use izba_model::{Level, Project, Report, StackFrame};

/// Id under which such a report is known.
pub(super) const READER: &str = "last-words";
/// So many bytes of a stream are remembered.
const BYTES: usize = 4096;
/// A block is no longer than this.
const LINES: usize = 16;

/// The end of one stream of a run.
#[derive(Debug, Clone, Default)]
pub(super) struct Tail {
    bytes: Vec<u8>,
    /// Lines of the source when the last of it had arrived.
    until: u64,
}

/// The last block of a stream: what it says, and on which lines of its source.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct LastWords {
    pub report: Report,
    pub first_line: u64,
    pub last_line: u64,
}

impl Tail {
    /// Takes what arrived; the source has `lines` lines then.
    pub(super) fn take(&mut self, bytes: &[u8], lines: u64) {
        let from = bytes.len().saturating_sub(BYTES);
        self.bytes.extend_from_slice(&bytes[from..]);
        if self.bytes.len() > 2 * BYTES {
            self.bytes.drain(..self.bytes.len() - BYTES);
        }
        self.until = lines;
    }

    /// Forgets what an earlier run said.
    pub(super) fn clear(&mut self) {
        self.bytes.clear();
    }

    /// The last block: the lines since the last empty one. One of them speaks for it: the first with
    /// a word of failing, else the one under which a place in an own file stands, else the last.
    pub(super) fn last_words(&self, project: &Project) -> Option<LastWords> {
        let from = self.bytes.len().saturating_sub(BYTES);
        let whole = from == 0;
        let text = decode(&self.bytes[from..]);
        let lines: Vec<&str> = text.lines().skip(usize::from(!whole)).map(str::trim_end).collect();
        let last = lines.iter().rposition(|l| !l.trim().is_empty())?;
        let begin = lines[..last].iter().rposition(|l| l.trim().is_empty()).map_or(0, |at| at + 1);
        let block = &lines[begin.max((last + 1).saturating_sub(LINES))..=last];
        let places: Vec<Option<StackFrame>> = block.iter().map(|l| own_place(l, project)).collect();
        let fails = |line: &&str| FAILING.iter().any(|w| line.to_lowercase().contains(w));
        let placed = places.iter().position(Option::is_some);
        let speaks = block
            .iter()
            .position(fails)
            .or_else(|| placed.map(|at| heading(block, at)))
            .unwrap_or(block.len() - 1);
        let mut report = Report::new(READER, Level::Error, block[speaks].trim());
        report.head = places.into_iter().flatten().next();
        let others =
            block.iter().enumerate().filter(|(at, l)| *at != speaks && !l.trim().is_empty());
        report.details = others.map(|(_, l)| l.trim().to_owned()).collect();
        let ended = text.ends_with('\n');
        let after = (lines.len() - 1 - last) as u64;
        let last_line = self.until.saturating_sub(u64::from(ended)).saturating_sub(after);
        let first_line = last_line.saturating_sub(block.len() as u64 - 1);
        Some(LastWords { report, first_line, last_line })
    }
}

/// The line that a line is set in below; itself, where it stands as far out as the one above.
fn heading(block: &[&str], at: usize) -> usize {
    let indent = |line: &str| line.len() - line.trim_start().len();
    (0..at).rev().find(|above| indent(block[*above]) < indent(block[at])).unwrap_or(at)
}

/// Words that tell of failing, in small letters.
const FAILING: &[&str] =
    &["error", "fatal", "panic", "fail", "exception", "abort", "cannot", "can't", "not found"];

/// A place that a line names, if the file is one of the project's.
fn own_place(line: &str, project: &Project) -> Option<StackFrame> {
    let place = place_in(line)?;
    project.find(place.file.as_deref()?)?;
    Some(place)
}

#[cfg(test)]
mod tests {
    use super::*;
    use izba_model::ProjectFile;
    use proptest::prelude::*;

    fn project() -> Project {
        let files = ["src/quay.x", "tide.y"]
            .map(|path| ProjectFile { path: path.into(), text: Some("one\ntwo\nthree\n".into()) });
        Project::new("/srv/marsh", files.to_vec())
    }

    fn said(text: &str) -> Option<LastWords> {
        let mut tail = Tail::default();
        tail.take(text.as_bytes(), text.lines().count() as u64);
        tail.last_words(&project())
    }

    #[test]
    fn what_a_place_in_an_own_file_stands_under_speaks_for_the_last_block() {
        let told = said("all is well\n\nthe quay is flooded:\n  at src/quay.x:2\ngiving up\n\n");
        let told = told.expect("something was said");
        assert_eq!(told.report.message, "the quay is flooded:");
        assert_eq!(told.report.details, ["at src/quay.x:2", "giving up"]);
        assert_eq!(told.report.head.and_then(|h| h.line), Some(2));
        assert_eq!((told.first_line, told.last_line), (2, 4));
    }

    #[test]
    fn without_a_place_a_word_of_failing_speaks_else_the_last_line() {
        let message = |text| said(text).map(|w| w.report.message);
        assert_eq!(message("rope lost\nCannot moor\nbye\n").as_deref(), Some("Cannot moor"));
        assert_eq!(message("rope lost\nbye").as_deref(), Some("bye"));
        assert_eq!(message("all well\ntide.y:2 is dry\nbye\n").as_deref(), Some("tide.y:2 is dry"));
        // A place may be told in words.
        let worded = said("no such rope\n    (file \"src/quay.x\" line 3)\n").expect("said");
        assert_eq!(worded.report.head.and_then(|h| h.line), Some(3));
        // A place in a file of somebody else is none.
        assert_eq!(message("lib/other.z:9 said so\nbye\n").as_deref(), Some("bye"));
        assert_eq!(message(" \n\n"), None);
    }

    proptest! {
        /// However it arrives, the same is remembered, and never more than a little.
        #[test]
        fn any_cutting_into_pieces_says_the_same(text in "([a-z:. ]{0,30}\n?){0,9}", at in 0usize..200) {
            let bytes = text.as_bytes();
            let at = at.min(bytes.len());
            let lines = text.matches('\n').count() as u64;
            let mut cut = Tail::default();
            cut.take(&bytes[..at], 0);
            cut.take(&bytes[at..], lines);
            let mut whole = Tail::default();
            whole.take(bytes, lines);
            prop_assert_eq!(cut.last_words(&project()), whole.last_words(&project()));
        }

        #[test]
        fn memory_is_bounded(pieces in prop::collection::vec(0usize..9_000, 0..9)) {
            let mut tail = Tail::default();
            for piece in pieces {
                tail.take(&vec![b'x'; piece], 0);
            }
            prop_assert!(tail.bytes.len() <= 2 * BYTES);
        }
    }
}
