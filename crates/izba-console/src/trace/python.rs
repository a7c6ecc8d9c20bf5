//! Python 3: tracebacks (fault last), chained exceptions, and syntax errors with their marked line.

use super::{Begin, Draft, FRAME_CAP, Reader, Start, Take};
use izba_model::pattern::Pattern;
use izba_model::project::Project;
use izba_model::{Caret, Cause, Level, Report, StackFrame};

/// Tracebacks of Python 3, chained ones and scripts that do not parse.
pub static READER: Reader =
    Reader { id: "python", name: "Python", begins, sample: "Traceback (most recent call last):" };

static FILE: Pattern = Pattern::new(
    r#"^\s*(?:> )?File "(?P<file>[^"]+)", line (?P<line>\d+)(?:, in (?P<function>.+))?$"#,
);
static LAST: Pattern = Pattern::new(r"^(?P<kind>[A-Za-z_][\w.]*)(?:: (?P<message>.*))?$");

static WARNING: Pattern =
    Pattern::new(r"^(?P<file>\S.*?):(?P<line>\d+): (?P<kind>\w*Warning): (?P<message>.*)$");
static CANNOT_OPEN: Pattern =
    Pattern::new(r"^(?:\S*/)?python[\d.]*: (?P<message>can't open file .*)$");

/// A script that does not parse, told in one line.
static COMPILED: Pattern = Pattern::new(concat!(
    r"^(?:Sorry: )?(?P<kind>(?:Syntax|Indentation",
    r"|Tab)Error): (?P<message>.*) \((?P<file>[^()]+\.pyw?), line (?P<line>\d+)\)$"
));

const HEADER: &str = "Traceback (most recent call last):";
const LINKS: [&str; 2] =
    ["The above exception was the direct cause of", "During handling of the above exception"];

/// One step, with its function.
pub(super) fn step(text: &str) -> Option<StackFrame> {
    let found = FILE.found(text)?;
    let function = Some(found.name("function")?.as_str().to_owned());
    Some(StackFrame {
        file: Some(found["file"].to_owned()),
        line: found["line"].parse().ok(),
        function,
        ..StackFrame::default()
    })
}

#[derive(Debug, Default, Clone)]
struct Segment {
    frames: Vec<StackFrame>,
    /// The last file named without a function: where a parser gave up.
    parsed: Option<StackFrame>,
    echo: Option<String>,
    caret: Option<Caret>,
    kind: Option<String>,
    message: String,
    ended: bool,
}

#[derive(Debug, Default)]
struct Python {
    segments: Vec<Segment>,
    linked: bool,
    /// Whether it began with the line that begins every trace of an error.
    headed: bool,
}

fn begins(start: &Start<'_>) -> Option<Begin> {
    let mut draft = Python { segments: vec![Segment::default()], linked: false, headed: true };
    let confidence = if start.rest().trim_end() == HEADER {
        90
    } else if start.text.trim_end().ends_with(HEADER) {
        // Behind a question that was answered, or a bar of progress.
        60
    } else if FILE.is_match(start.text) {
        // A script that does not parse is told without a header.
        draft.file_line(start.text);
        draft.headed = false;
        70
    } else if let Some(found) = CANNOT_OPEN.found(start.text) {
        let report = Report::new(READER.id, Level::Error, &found["message"]);
        return Begin::new(70, Told { report, echoed: true });
    } else if let Some(found) = COMPILED.found(start.rest().trim_end()) {
        let mut report = Report::new(READER.id, Level::Error, &found["message"]);
        report.kind = Some(found["kind"].to_owned());
        report.head = Some(StackFrame {
            file: Some(found["file"].to_owned()),
            line: found["line"].parse().ok(),
            ..StackFrame::default()
        });
        return Begin::new(80, Told { report, echoed: true });
    } else if let Some(found) = WARNING.found(start.rest()) {
        let mut report = Report::new(READER.id, Level::Warning, &found["message"]);
        report.kind = Some(found["kind"].to_owned());
        report.head = Some(StackFrame {
            file: Some(found["file"].to_owned()),
            line: found["line"].parse().ok(),
            ..StackFrame::default()
        });
        return Begin::new(75, Told { report, echoed: false });
    } else {
        return None;
    };
    Some(Begin {
        confidence,
        draft: Box::new(draft),
        takes_before: false,
        joins_record: true,
        yields: false,
    })
}

impl Python {
    fn file_line(&mut self, text: &str) -> bool {
        let (Some(found), Some(segment)) = (FILE.found(text), self.segments.last_mut()) else {
            return false;
        };
        let frame = StackFrame {
            file: Some(found["file"].to_owned()),
            line: found["line"].parse().ok(),
            function: found.name("function").map(|f| f.as_str().to_owned()),
            ..StackFrame::default()
        };
        segment.echo = None;
        segment.caret = None;
        if frame.function.is_none() {
            segment.parsed = Some(frame);
        } else if segment.frames.len() < FRAME_CAP {
            segment.frames.push(frame);
        }
        true
    }
}

impl Draft for Python {
    fn take(&mut self, text: &str, _project: &Project) -> Take {
        let text = text.trim_end();
        let Some(segment) = self.segments.last_mut() else { return Take::Refused };
        if segment.ended {
            if LINKS.iter().any(|link| text.starts_with(link)) {
                self.linked = true;
                return Take::Took;
            }
            if self.linked && text == HEADER {
                self.linked = false;
                self.segments.push(Segment::default());
                return Take::Took;
            }
            return if text.is_empty() { Take::Held } else { Take::Refused };
        }
        if self.file_line(text) {
            return Take::Took;
        }
        let Some(segment) = self.segments.last_mut() else { return Take::Refused };
        // Between the steps of a trace that shows values stand blank lines, and lines that lead
        // from a name to its value.
        if text.is_empty() && (segment.frames.is_empty() || segment.echo.is_some()) {
            return Take::Held;
        }
        if text.starts_with(' ') && text.trim_start().starts_with(['│', '└', '├']) {
            return Take::Took;
        }
        if text.starts_with(' ') {
            let marks = text.trim_start();
            let marked = !marks.is_empty()
                && marks.bytes().all(|b| matches!(b, b'^' | b'~' | b' '))
                && marks.contains('^');
            if marked && let Some(echo) = &segment.echo {
                let start = text.chars().take_while(|c| *c == ' ').count();
                segment.caret =
                    Some(Caret { echo: echo.clone(), start, len: marks.chars().count() });
            } else {
                segment.echo = Some(text.to_owned());
            }
            return Take::Took;
        }
        let Some(last) = LAST.found(text) else { return Take::Refused };
        if segment.frames.is_empty() && segment.parsed.is_none() {
            return Take::Refused;
        }
        segment.kind = Some(last["kind"].to_owned());
        segment.message = last.name("message").map_or(String::new(), |m| m.as_str().to_owned());
        segment.ended = true;
        Take::Took
    }

    fn report(&self) -> Option<Report> {
        let mut segments: Vec<&Segment> = self
            .segments
            .iter()
            .filter(|s| s.ended || !s.frames.is_empty() || s.parsed.is_some())
            .collect();
        let outer = segments.pop()?;
        if outer.kind.is_none() && outer.parsed.is_some() && outer.frames.is_empty() {
            return None;
        }
        // Steps without a header and without an error at their end were printed on purpose.
        if !self.headed && outer.parsed.is_none() && !outer.kind.as_deref().is_some_and(is_error) {
            return None;
        }
        let mut report = Report::new(READER.id, Level::Error, outer.message.clone());
        report.kind = outer.kind.clone();
        report.frames = outer.frames.iter().rev().cloned().collect();
        report.head = outer.parsed.clone().filter(|_| outer.kind.as_deref().is_some_and(parses));
        report.caret = segments.first().unwrap_or(&outer).caret.clone();
        report.causes = segments
            .iter()
            .rev()
            .map(|s| Cause {
                kind: s.kind.clone(),
                message: s.message.clone(),
                frames: s.frames.iter().rev().cloned().collect(),
            })
            .collect();
        Some(report)
    }
}

/// Whether this may be the name of an error.
fn is_error(kind: &str) -> bool {
    let name = kind.rsplit('.').next().unwrap_or(kind);
    let known =
        ["KeyboardInterrupt", "SystemExit", "StopIteration", "GeneratorExit", "StopAsyncIteration"];
    name.ends_with("Error")
        || name.ends_with("Exception")
        || name.ends_with("Warning")
        || name.ends_with("Timeout")
        || known.contains(&name)
}

/// A sentence of one line, perhaps with the source line echoed under it.
#[derive(Debug)]
struct Told {
    report: Report,
    echoed: bool,
}

impl Draft for Told {
    fn take(&mut self, text: &str, _project: &Project) -> Take {
        let echo = !std::mem::replace(&mut self.echoed, true) && text.starts_with("  ");
        if echo { Take::Took } else { Take::Refused }
    }

    fn report(&self) -> Option<Report> {
        Some(self.report.clone())
    }
}

/// Reads lines as one trace; one that holds no steps is a sentence with its kind.
pub(super) fn trace_of(lines: &[String]) -> Option<Report> {
    let mut draft = Python { segments: vec![Segment::default()], linked: false, headed: true };
    for line in lines.iter().filter(|l| l.trim_end() != HEADER) {
        draft.take(line, &Project::default());
    }
    if let Some(report) = draft.report() {
        return Some(report);
    }
    let last = lines.iter().find_map(|l| LAST.found(l.trim_end()))?;
    let mut report =
        Report::new(READER.id, Level::Error, last.name("message").map_or("", |m| m.as_str()));
    report.kind = Some(last["kind"].to_owned());
    Some(report)
}

fn parses(kind: &str) -> bool {
    matches!(kind, "SyntaxError" | "IndentationError" | "TabError")
}
