//! A trace that was written into one line, its line ends as `\n` or `#012`: a text in quotes, a
//! field of a record, a message that another program passed on.

use super::{Begin, Draft, Reader, Start, Take};
use crate::dress::lines_within;
use izba_model::Level;
use izba_model::project::Project;
use izba_model::{Report, StackFrame};

/// Traces written into one line.
pub static READER: Reader = Reader {
    id: "escaped",
    name: "traces written into one line",
    begins,
    sample: r#"the deck failed: "Traceback (most recent call last):\n  File \"a.py\", line 3, in b\n    c()\nKeyError: 'd'""#,
};

#[derive(Debug)]
struct Written {
    report: Report,
}

fn begins(start: &Start<'_>) -> Option<Begin> {
    if start.prefix.level.is_some_and(|level| level < Level::Warning) {
        return None;
    }
    if !start.text.contains('\\') && !start.text.contains("#012") {
        return None;
    }
    let own = |f: &StackFrame| f.file.as_deref().is_some_and(|f| start.project.find(f).is_some());
    let tells = |r: &Report| !r.frames.is_empty() || r.head.as_ref().is_some_and(own);
    let read = |lines: String| start.inner().read(&lines).filter(tells);
    let mut report = lines_within(start.rest()).into_iter().find_map(read)?;
    report.level = report.level.max(start.prefix.level.unwrap_or(report.level));
    Begin::new(88, Written { report })
}

impl Draft for Written {
    fn take(&mut self, _text: &str, _project: &Project) -> Take {
        Take::Refused
    }

    fn report(&self) -> Option<Report> {
        Some(self.report.clone())
    }
}
