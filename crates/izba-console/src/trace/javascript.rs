//! JavaScript: Node's way of showing the source line before an error that nobody
//! caught.

use super::at_form::{Head, read_head};
use super::at_frames::AtDraft;
use super::v8::{split_place, step};
use super::{Begin, Draft, Reader, Start, Take};
use crate::read::find_place;
use izba_model::pattern::Pattern;
use izba_model::project::Project;
use izba_model::{Caret, Column, ColumnUnit, Level, Report, StackFrame};

/// Uncaught errors of Node, which come after the line of source that threw.
pub static READER: Reader = Reader {
    id: "javascript",
    name: "JavaScript (Node)",
    begins,
    sample: "/home/me/ferry/page/times.js:31",
};

#[derive(Debug)]
struct Uncaught {
    inner: AtDraft,
    echo: Option<String>,
    lines: u32,
    headed: bool,
}

static WARNING: Pattern =
    Pattern::new(r"^\(node:\d+\) (?:\[(?P<code>\w+)\] )?(?P<kind>\w*Warning): (?P<message>.*)$");

fn begins(start: &Start<'_>) -> Option<Begin> {
    let text = start.text.trim_end();
    if let Some(found) = WARNING.found(text) {
        let mut report = Report::new(READER.id, Level::Warning, &found["message"]);
        report.kind = Some(found["kind"].to_owned());
        report.code = found.name("code").map(|c| c.as_str().to_owned());
        return Begin::new(70, Warned { report });
    }
    let absolute = text.starts_with('/')
        || text.starts_with("file:///")
        || text.get(1..3) == Some(":\\")
        || text.starts_with("node:");
    let place = find_place(text, 0).map(|p| (p.file, p.line, p.span)).or_else(|| {
        let (file, line, column) = split_place(text)?;
        column.is_none().then_some((file, line, (0, text.len())))
    })?;
    if !absolute || place.2 != (0, text.len()) {
        return None;
    }
    let announced =
        StackFrame { file: Some(place.0.to_owned()), line: Some(place.1), ..StackFrame::default() };
    let inner = AtDraft::announced_at(announced);
    Begin::new(65, Uncaught { inner, echo: None, lines: 0, headed: false })
}

impl Draft for Uncaught {
    fn take(&mut self, text: &str, project: &Project) -> Take {
        if self.headed {
            return self.inner.take(text, project);
        }
        self.lines += 1;
        let marks = text.trim();
        if self.lines == 1 {
            self.echo = Some(text.to_owned());
            return Take::Held;
        }
        if self.lines == 2 && !marks.is_empty() && marks.bytes().all(|b| b == b'^') {
            let echo = self.echo.clone().unwrap_or_default();
            let start = text.chars().take_while(|c| c.is_whitespace()).count();
            if let Some(announced) = &mut self.inner.announced {
                announced.column =
                    Some(Column { number: start as u32 + 1, unit: ColumnUnit::Utf16 });
            }
            self.inner.caret = Some(Caret { echo, start, len: marks.len() });
            return Take::Held;
        }
        if marks.is_empty() && self.lines <= 4 {
            return Take::Held;
        }
        if let Some(head) = read_head(marks) {
            self.inner.head(head);
            self.headed = true;
            return Take::Took;
        }
        if let Some(thrown) = marks
            .strip_prefix("Uncaught ")
            .or(Some(marks))
            .filter(|_| self.lines <= 5 && self.inner.caret.is_some())
        {
            // Something that is no error object was thrown.
            self.inner.head(Head {
                kind: "Error".into(),
                code: None,
                message: thrown.to_owned(),
                lead: false,
            });
            self.headed = true;
            return Take::Took;
        }
        Take::Refused
    }

    fn report(&self) -> Option<Report> {
        self.headed.then(|| self.inner.report()).flatten()
    }
}

/// A warning of the runtime itself, with its steps when it was asked for them.
#[derive(Debug)]
struct Warned {
    report: Report,
}

impl Draft for Warned {
    fn take(&mut self, text: &str, _project: &Project) -> Take {
        if let Some(frame) = text.trim_start().strip_prefix("at ").and_then(step) {
            self.report.frames.push(frame);
            return Take::Took;
        }
        if text.starts_with("(Use `node --") { Take::Took } else { Take::Refused }
    }

    fn report(&self) -> Option<Report> {
        Some(self.report.clone())
    }
}
