//! A trace whose heading comes first and whose sentence comes last, in whatever language:
//! `Backtrace:`, its steps, and below them what went wrong.

use super::placed::WRONG;
use super::steps::{Steps, is_heading};
use super::{Begin, Draft, Reader, Start, Take};
use crate::read::{find_place, split_prefix};
use izba_model::project::Project;
use izba_model::{Level, Report, StackFrame};

/// Traces whose sentence comes last.
pub static READER: Reader = Reader {
    id: "traced",
    name: "traces with their sentence at the end",
    begins,
    sample: "Backtrace:",
};

/// Lines of such a trace.
const LINES: usize = 400;

#[derive(Debug, Default)]
struct Traced {
    steps: Steps,
    head: Option<StackFrame>,
    message: Option<String>,
    /// Whether that is a heading, with the sentence below it.
    unsaid: bool,
    /// Whether something says that it is a mistake.
    wrong: bool,
    lines: usize,
}

fn begins(start: &Start<'_>) -> Option<Begin> {
    let text = start.text.trim_end();
    // One below a sentence belongs to that sentence.
    let alone = start.before.is_none_or(|before| before.trim().is_empty() || !ends_open(before));
    (text.ends_with(':') && is_heading(text) && !text.starts_with([' ', '\t']) && alone)
        .then(|| Begin::new(54, Traced::default()))?
}

/// Whether a line may be the sentence of a trace that follows it.
fn ends_open(before: &str) -> bool {
    let prefix = split_prefix(before);
    prefix.level.is_some_and(|level| level >= Level::Warning)
        || before.contains(": ")
        || before.trim_end().ends_with(':')
}

impl Draft for Traced {
    fn take(&mut self, text: &str, project: &Project) -> Take {
        self.lines += 1;
        let words = text.trim();
        if self.lines > LINES || self.message.is_some() && !self.unsaid {
            return Take::Refused;
        }
        if words.is_empty() {
            return Take::Held;
        }
        let flush = !text.starts_with([' ', '\t']);
        // Where steps are grouped by file, the file stands flush.
        let grouped = words.starts_with("In ") && words.ends_with(':');
        if self.message.is_none() && (!flush || grouped) {
            let _ = self.steps.take(text);
            return Take::Took;
        }
        let prefix = split_prefix(text);
        let said = text[prefix.rest_at..].trim();
        let place = find_place(said, 0).filter(|p| p.span.0 == 0);
        let own = place.as_ref().filter(|p| project.find(p.file).is_some());
        if let Some(own) = own {
            self.head = Some(own.frame());
        }
        let behind = place.map_or(said, |p| said[p.span.1..].trim_start_matches([':', ' ']));
        self.unsaid = behind.ends_with(':') && self.message.is_none();
        // A path that was printed on purpose is followed by anything.
        self.wrong |= self.unsaid
            || self.head.is_some()
            || prefix.level.is_some_and(|level| level >= Level::Warning)
            || behind.contains(": ")
            || WRONG.is_match(behind);
        self.message = Some(behind.trim_end_matches(':').to_owned());
        Take::Took
    }

    fn report(&self) -> Option<Report> {
        let message = self.message.clone().filter(|_| self.wrong)?;
        let mut report = Report::new(READER.id, Level::Error, message);
        report.head = self.head.clone();
        self.steps.add_to(&mut report);
        Some(report)
    }
}
