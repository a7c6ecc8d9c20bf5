//! Groups of exceptions as Python prints them: a tree with a margin of bars, each branch a trace of
//! its own. The group is one entry; what it holds are its causes, in their order.

use super::python::trace_of;
use super::{Begin, Draft, Reader, Start, Take};
use izba_model::project::Project;
use izba_model::{Cause, Report};

/// Python's groups of exceptions (PEP 654), drawn as a tree.
pub static READER: Reader = Reader {
    id: "python-group",
    name: "Python's groups of exceptions",
    begins,
    sample: "  + Exception Group Traceback (most recent call last):",
};

const HEADER: &str = "Exception Group Traceback (most recent call last):";
/// Lines of one tree.
const LINES: usize = 5_000;

#[derive(Debug)]
struct Group {
    /// The traces, outermost first, each without its margin.
    branches: Vec<Vec<String>>,
    lines: usize,
}

fn begins(start: &Start<'_>) -> Option<Begin> {
    let rest = start.rest().trim().strip_prefix("+ ")?;
    if rest != HEADER {
        return None;
    }
    let mut begin = Begin::new(92, Group { branches: vec![vec![plain(rest)]], lines: 0 })?;
    begin.joins_record = true;
    Some(begin)
}

/// A line as it would stand outside a group.
fn plain(line: &str) -> String {
    line.replace(HEADER, "Traceback (most recent call last):")
}

impl Draft for Group {
    fn take(&mut self, text: &str, _project: &Project) -> Take {
        self.lines += 1;
        let line = text.trim_start();
        if self.lines > LINES {
            return Take::Refused;
        }
        if let Some(bars) = line.strip_prefix('+').filter(|l| l.starts_with(['-', '+'])) {
            // With a number a branch begins; without one the last of them ends.
            if bars.bytes().any(|b| b.is_ascii_digit()) {
                self.branches.push(Vec::new());
            }
            return Take::Took;
        }
        let Some(inner) = line.strip_prefix('|') else { return Take::Refused };
        if let Some(branch) = self.branches.last_mut() {
            branch.push(plain(inner.strip_prefix(' ').unwrap_or(inner)));
        }
        Take::Took
    }

    fn report(&self) -> Option<Report> {
        let mut branches = self.branches.iter().filter_map(|lines| trace_of(lines));
        let mut report = branches.next()?;
        report.reader = READER.id.into();
        for inner in branches {
            report.causes.push(Cause {
                kind: inner.kind,
                message: inner.message,
                frames: inner.frames,
            });
            report.causes.extend(inner.causes);
        }
        Some(report)
    }
}
