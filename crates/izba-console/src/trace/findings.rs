//! Findings of a tool in a list below the name of a file: `  13:9  error  sentence  code`.

use super::{Begin, Draft, Reader, Start, Take};
use izba_model::pattern::Pattern;
use izba_model::project::Project;
use izba_model::{Column, Level, Report, StackFrame};

/// Findings below the name of a file.
pub static READER: Reader =
    Reader { id: "findings", name: "findings below a file's name", begins, sample: "" };

static FINDING: Pattern = Pattern::new(concat!(
    r"^\s+(?P<line>\d{1,7}):(?P<column>\d{1,5})\s+(?P<level>error|warning|info)\s+",
    r"(?P<message>\S.*?)(?:\s{2,}(?P<code>[@\w/.-]+))?$"
));

#[derive(Debug)]
struct Finding {
    report: Report,
}

fn begins(start: &Start<'_>) -> Option<Begin> {
    let file = start.heading?;
    let found = FINDING.found(start.text.trim_end())?;
    let level = Level::from_word(&found["level"]).filter(|l| *l >= Level::Warning)?;
    let mut report = Report::new(READER.id, level, &found["message"]);
    report.code = found.name("code").map(|c| c.as_str().to_owned());
    report.head = Some(StackFrame {
        file: Some(file.to_owned()),
        line: found["line"].parse().ok(),
        column: found["column"].parse().ok().map(Column::chars),
        ..StackFrame::default()
    });
    Begin::new(86, Finding { report })
}

impl Draft for Finding {
    fn take(&mut self, _text: &str, _project: &Project) -> Take {
        Take::Refused
    }

    fn report(&self) -> Option<Report> {
        Some(self.report.clone())
    }
}
