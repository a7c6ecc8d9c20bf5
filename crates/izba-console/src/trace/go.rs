//! Go: panics with their goroutines, compile errors without a level, and failed tests.

use super::{Begin, Draft, FRAME_CAP, Reader, Start, Take};
use izba_model::pattern::Pattern;
use izba_model::project::Project;
use izba_model::{Column, Level, Report, StackFrame};

/// Panics, compile errors and failed tests of Go.
pub static READER: Reader = Reader {
    id: "go",
    name: "Go",
    begins,
    sample: "panic: runtime error: index out of range [3] with length 3",
};

static PANIC: Pattern =
    Pattern::new(r"^(?P<kind>panic|fatal error): (?P<message>.+?)(?: \[recovered\])?$");
static SAYS: Pattern = Pattern::new(concat!(
    r"^(?:vet: )?(?P<file>(?:\./",
    r"|\.\./)*[\w./-]+\.go):(?P<line>\d+)(?::(?P<column>\d+))?: (?P<message>.+)$"
));
static CALL: Pattern = Pattern::new(concat!(
    r"^(?:created by )?(?P<function>[\w./*()\[\]{}$·-]+?)(?:\((?:[^()]",
    r"|\([^()]*\))*\))?(?: in goroutine \d+)?$"
));
static AT: Pattern =
    Pattern::new(r"^\t(?P<file>\S.*):(?P<line>\d+)(?: \+0x[0-9a-f]+)?(?: [fs]p=\S+)*(?: pc=\S+)?$");

#[derive(Debug)]
struct Panicked {
    report: Report,
    called: Option<String>,
    walking: bool,
    /// Only the first goroutine is the one that panicked.
    over: bool,
}

/// A test that failed, and perhaps one within it.
static FAILED: Pattern = Pattern::new(r"^\s*--- FAIL: (?P<name>\S+)(?: \([\d.]+s\))?$");
/// What it says of itself.
static TOLD: Pattern = Pattern::new(r"^\s+(?P<file>[\w./-]+\.go):(?P<line>\d+): (?P<message>.+)$");

#[derive(Debug)]
struct Test {
    report: Report,
    name: String,
}

#[derive(Debug)]
struct Said {
    report: Report,
}

fn begins(start: &Start<'_>) -> Option<Begin> {
    if let Some(found) = PANIC.found(start.text.trim_end()) {
        let mut report = Report::new(READER.id, Level::Fatal, &found["message"]);
        report.kind = Some(found["kind"].to_owned());
        report.level = Level::Error;
        return Begin::new(70, Panicked { report, called: None, walking: false, over: false });
    }
    let text = start.text.trim_end();
    if let Some(found) = FAILED.found(text) {
        let report = Report::new(READER.id, Level::Error, "");
        return Begin::new(70, Test { report, name: found["name"].to_owned() });
    }
    let found = SAYS.found(text.trim_start())?;
    // Indented, it is what a test says of itself when it has failed.
    let tested = text.starts_with("    ") && found["file"].ends_with("_test.go");
    if text.starts_with([' ', '\t']) && !tested || start.project.find(&found["file"]).is_none() {
        return None;
    }
    // Other levels are read by those who know them.
    if found["message"].starts_with("warning:")
        || found["message"].starts_with("error:")
        || found["message"].starts_with("note:")
    {
        return None;
    }
    let mut report = Report::new(READER.id, Level::Error, &found["message"]);
    let column = found.name("column").and_then(|c| c.as_str().parse().ok());
    report.head = Some(StackFrame {
        file: Some(found["file"].to_owned()),
        line: found["line"].parse().ok(),
        column: column.map(Column::chars),
        ..StackFrame::default()
    });
    Begin::new(52, Said { report })
}

impl Draft for Test {
    fn take(&mut self, text: &str, _project: &Project) -> Take {
        if !self.report.message.is_empty() {
            return Take::Refused;
        }
        if let Some(found) = FAILED.found(text).filter(|_| text.starts_with(' ')) {
            self.name = found["name"].to_owned();
            return Take::Took;
        }
        let Some(found) = TOLD.found(text) else { return Take::Refused };
        self.report.message = found["message"].to_owned();
        self.report.head = Some(StackFrame {
            file: Some(found["file"].to_owned()),
            line: found["line"].parse().ok(),
            function: Some(self.name.clone()),
            ..StackFrame::default()
        });
        Take::Took
    }

    fn report(&self) -> Option<Report> {
        (!self.report.message.is_empty()).then(|| self.report.clone())
    }
}

impl Draft for Said {
    fn take(&mut self, _text: &str, _project: &Project) -> Take {
        Take::Refused
    }

    fn report(&self) -> Option<Report> {
        Some(self.report.clone())
    }
}

impl Draft for Panicked {
    fn take(&mut self, text: &str, _project: &Project) -> Take {
        let text = text.trim_end();
        if text.trim_start().starts_with("goroutine ") && text.ends_with("]:") {
            self.over = self.walking && !self.report.frames.is_empty();
            self.walking = true;
            return Take::Took;
        }
        // The runtime's own steps, before those of the one that failed.
        if text == "runtime stack:" {
            (self.walking, self.over) = (true, true);
            return Take::Took;
        }
        if !self.walking {
            let belongs = text.is_empty()
                || text.starts_with("[signal ")
                || text.starts_with('\t')
                || text.starts_with("panic: ");
            return if belongs { Take::Held } else { Take::Refused };
        }
        if text.is_empty() {
            return Take::Held;
        }
        if let Some(found) = AT.found(text) {
            let frame = StackFrame {
                file: Some(found["file"].to_owned()),
                line: found["line"].parse().ok(),
                function: self.called.take(),
                ..StackFrame::default()
            };
            if !self.over && self.report.frames.len() < FRAME_CAP {
                self.report.frames.push(frame);
            }
            return Take::Took;
        }
        if text == "exit status 2" || text.starts_with("...additional frames") {
            return Take::Took;
        }
        match CALL.found(text).filter(|_| text.ends_with(')') || text.starts_with("created by ")) {
            Some(found) => {
                self.called = Some(found["function"].to_owned());
                Take::Held
            }
            None => Take::Refused,
        }
    }

    fn report(&self) -> Option<Report> {
        Some(self.report.clone())
    }
}
