//! Perl: the place stands at the end of the sentence, `… at FILE line N.`; the steps of a
//! confession below it.

use super::{Begin, Draft, FRAME_CAP, Reader, Start, Take};
use izba_model::pattern::Pattern;
use izba_model::project::Project;
use izba_model::{Level, Report, StackFrame};

/// Sentences of Perl that name their place.
pub static READER: Reader = Reader {
    id: "perl",
    name: "Perl",
    begins,
    sample: "Can't call method \"moor\" on an undefined value at log.pl line 28.",
};

static SAYS: Pattern = Pattern::new(concat!(
    r"^(?P<message>.+?) at (?P<file>\S+) line (?P<line>\d+)(?:, (?:<\w+> line \d+",
    r"|near .*|at EOF))?\.?$"
));
static STEP: Pattern = Pattern::new(concat!(
    r"^\s+(?P<function>[\w:]+|eval)(?:\(.*\)",
    r"| \{\.\.\.\}) called at (?P<file>\S+) line (?P<line>\d+)\.?$"
));

#[derive(Debug)]
struct Said {
    report: Report,
    head: StackFrame,
    steps: Vec<StackFrame>,
}

fn begins(start: &Start<'_>) -> Option<Begin> {
    let rest = start.rest().trim_end();
    let found = SAYS.found(rest)?;
    let scripted = [".pl", ".pm", ".t", ".cgi"].iter().any(|e| found["file"].ends_with(e));
    if !scripted || start.prefix.level.is_some_and(|l| l < Level::Warning) {
        return None;
    }
    let mild = [
        "Use of uninitialized",
        "Argument \"",
        "Odd number of elements",
        "Useless use",
        "Scalar value",
        "Deep recursion",
        "isn't numeric",
    ];
    let told = if mild.iter().any(|w| found["message"].starts_with(w)) {
        Level::Warning
    } else {
        Level::Error
    };
    let mut report = Report::new(READER.id, start.prefix.level.unwrap_or(told), &found["message"]);
    report.object = start.prefix.object.clone();
    let head = StackFrame {
        file: Some(found["file"].to_owned()),
        line: found["line"].parse().ok(),
        ..StackFrame::default()
    };
    Begin::new(70, Said { report, head, steps: Vec::new() })
}

impl Draft for Said {
    fn take(&mut self, text: &str, _project: &Project) -> Take {
        let Some(found) = STEP.found(text) else { return Take::Refused };
        // The function that was called from here is that of the step before.
        let called = Some(found["function"].to_owned());
        match self.steps.last_mut() {
            Some(before) => before.function = called,
            None => self.steps.push(StackFrame { function: called, ..self.head.clone() }),
        }
        if self.steps.len() < FRAME_CAP {
            self.steps.push(StackFrame {
                file: Some(found["file"].to_owned()),
                line: found["line"].parse().ok(),
                ..StackFrame::default()
            });
        }
        Take::Took
    }

    fn report(&self) -> Option<Report> {
        let mut report = self.report.clone();
        report.head = Some(self.head.clone());
        report.frames = self.steps.clone();
        // The outermost call has no function of its own; it counts only as a place to go to.
        if report.frames.len() > 1 {
            report.frames.pop();
        }
        Some(report)
    }
}
