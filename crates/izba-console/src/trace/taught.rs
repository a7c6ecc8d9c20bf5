//! Lines that the user taught Izba to read.

use super::general::indented_step;
use super::{Begin, Draft, FRAME_CAP, Reader, Start, Take};
use crate::read::layout::Part;
use izba_model::project::Project;
use izba_model::{Column, ColumnUnit, Level, Report, StackFrame};

/// Lines of a form that the user named the parts of.
pub static READER: Reader = Reader { id: "taught", name: "what you taught", begins, sample: "" };

#[derive(Debug)]
struct Taught {
    report: Option<Report>,
}

fn begins(start: &Start<'_>) -> Option<Begin> {
    let (layout, parts) = start.layouts.taught(start.text)?;
    let level = layout.level_of(&parts).unwrap_or(Level::Info);
    let of = |part: Part| {
        parts
            .iter()
            .find(|(p, ..)| *p == part)
            .map(|(_, text, _)| text.trim())
            .filter(|t| !t.is_empty())
    };
    if level < Level::Warning {
        // The user says that it is harmless; nothing else may read it as an error.
        return Begin::new(98, Taught { report: None });
    }
    let mut report = Report::new(READER.id, level, of(Part::Message).unwrap_or_default());
    report.kind = of(Part::Kind).map(str::to_owned);
    report.code = of(Part::Code).map(str::to_owned);
    report.object = of(Part::Object).map(str::to_owned);
    report.handler = of(Part::Handler).map(str::to_owned);
    if let Some(file) = of(Part::Script) {
        let number = |part| of(part).and_then(|n| n.parse::<u32>().ok()).filter(|n| *n > 0);
        let column = number(Part::Column).map(|number| Column { number, unit: ColumnUnit::Chars });
        let function = of(Part::Function).map(str::to_owned);
        report.head = Some(StackFrame {
            file: Some(file.to_owned()),
            line: number(Part::Line),
            column,
            function,
            own: None,
        });
    }
    Begin::new(98, Taught { report: Some(report) })
}

impl Draft for Taught {
    fn take(&mut self, text: &str, _project: &Project) -> Take {
        let Some((report, frame)) = self.report.as_mut().zip(indented_step(text)) else {
            return Take::Refused;
        };
        if report.frames.len() < FRAME_CAP {
            report.frames.push(frame);
        }
        Take::Took
    }

    fn report(&self) -> Option<Report> {
        self.report.clone()
    }
}
