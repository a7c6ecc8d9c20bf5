//! Lines that the user taught Izba to read. What their sentence says, and what stands below, goes
//! through the other readers as if it bore no columns.

use super::general::indented_step;
use super::{Begin, Draft, FRAME_CAP, Reader, Start, Take};
use crate::read::layout::{Layout, Part, Parts};
use crate::read::split_prefix;
use izba_model::project::Project;
use izba_model::{Column, ColumnUnit, Level, Report, StackFrame};
use std::sync::Arc;

/// Lines of a form that the user named the parts of.
pub static READER: Reader = Reader { id: "taught", name: "what you taught", begins, sample: "" };

/// A reader less sure than this would take any sentence.
const KNOWN: u8 = 55;

#[derive(Debug)]
struct Taught {
    report: Option<Report>,
    layout: Arc<Layout>,
    /// What another reader makes of the sentence and of what stands below.
    inner: Option<Box<dyn Draft>>,
}

/// One part of a line, without white space around it; an empty one is none.
fn of<'a>(parts: &Parts<'a>, part: Part) -> Option<&'a str> {
    let found = parts.iter().find(|(p, ..)| *p == part);
    found.map(|(_, text, _)| text.trim()).filter(|t| !t.is_empty())
}

/// The place that a line names.
fn place(parts: &Parts<'_>) -> Option<StackFrame> {
    let number = |part| of(parts, part).and_then(|n| n.parse::<u32>().ok()).filter(|n| *n > 0);
    let column = number(Part::Column).map(|number| Column { number, unit: ColumnUnit::Chars });
    let file = of(parts, Part::Script)?.to_owned();
    let function = of(parts, Part::Function).map(str::to_owned);
    Some(StackFrame { file: Some(file), line: number(Part::Line), column, function, own: None })
}

fn begins(start: &Start<'_>) -> Option<Begin> {
    let (layout, parts) = start.layouts.taught(start.text)?;
    let level = layout.level_of(&parts).unwrap_or(Level::Info);
    let layout = layout.clone();
    if level < Level::Warning {
        // The user says that it is harmless; nothing else may read it as an error.
        return Begin::new(98, Taught { report: None, layout, inner: None });
    }
    let mut report = Report::new(READER.id, level, of(&parts, Part::Message).unwrap_or_default());
    fill(&mut report, &parts);
    report.head = place(&parts);
    let inner = sentence(start, &parts, level);
    Begin::new(98, Taught { report: Some(report), layout, inner })
}

/// Notes what a line names beside its place and its sentence.
fn fill(report: &mut Report, parts: &Parts<'_>) {
    let named = [
        (&mut report.kind, Part::Kind),
        (&mut report.code, Part::Code),
        (&mut report.object, Part::Object),
        (&mut report.handler, Part::Handler),
        (&mut report.speaker, Part::Name),
    ];
    for (field, part) in named {
        *field = field.take().or_else(|| of(parts, part).map(str::to_owned));
    }
}

/// The reader that knows the sentence of a line.
fn sentence(start: &Start<'_>, parts: &Parts<'_>, level: Level) -> Option<Box<dyn Draft>> {
    let (_, text, _) = parts.iter().find(|(p, ..)| *p == Part::Message)?;
    let mut prefix = split_prefix(text);
    prefix.level = prefix.level.or(Some(level));
    let begin = (start.within)(text, &prefix, start)?;
    (begin.confidence >= KNOWN && !begin.takes_before).then_some(begin.draft)
}

impl Taught {
    /// A line of one of the forms that may stand below.
    fn below(&mut self, text: &str) -> bool {
        let Some(report) = &mut self.report else { return false };
        // Of several forms that fit, the one that asks for most.
        let forms = self.layout.below().iter();
        let fitting = forms.filter_map(|b| Some((b.template.says(), b.parts(text)?)));
        let Some((_, parts)) = fitting.max_by_key(|(says, _)| *says) else { return false };
        fill(report, &parts);
        if let Some(place) = place(&parts) {
            match report.head {
                None => report.head = Some(place),
                Some(_) if report.frames.len() < FRAME_CAP => report.frames.push(place),
                Some(_) => {}
            }
        }
        match of(&parts, Part::Message) {
            Some(message) if report.message.is_empty() => report.message = message.to_owned(),
            Some(more) => report.details.push(more.to_owned()),
            None => {}
        }
        true
    }
}

impl Draft for Taught {
    fn take(&mut self, text: &str, project: &Project) -> Take {
        // The next line of the form begins the next entry.
        if self.report.is_none() || self.layout.parts(text).is_some() {
            return Take::Refused;
        }
        if self.below(text) {
            return Take::Took;
        }
        if let Some(inner) = &mut self.inner {
            match inner.take(text, project) {
                Take::Refused => {}
                take => return take,
            }
        }
        let Some((report, frame)) = self.report.as_mut().zip(indented_step(text)) else {
            return Take::Refused;
        };
        if report.frames.len() < FRAME_CAP {
            report.frames.push(frame);
        }
        Take::Took
    }

    fn report(&self) -> Option<Report> {
        let taught = self.report.as_ref()?;
        let Some(inner) = self.inner.as_ref().and_then(|inner| inner.report()) else {
            return Some(taught.clone());
        };
        // What was named by hand counts; the rest is what the sentence tells.
        let Report { level, kind, code, object, handler, speaker, head, frames, .. } =
            taught.clone();
        let mut details = taught.details.clone();
        details.extend(inner.details.iter().cloned());
        Some(Report {
            level,
            kind: kind.or(inner.kind),
            code: code.or(inner.code),
            object: object.or(inner.object),
            handler: handler.or(inner.handler),
            speaker: speaker.or(inner.speaker),
            head: head.or(inner.head),
            frames: if inner.frames.is_empty() { frames } else { inner.frames },
            details,
            ..inner
        })
    }
}
