//! A trace in a drawn box whose upper side holds its heading; the exception stands below the box:
//! `╭─── Traceback (most recent call last) ───╮`.

use super::at_form::read_head;
use super::{Begin, Draft, FRAME_CAP, Reader, Start, Take};
use crate::read::find_place;
use izba_model::pattern::Pattern;
use izba_model::project::Project;
use izba_model::{Level, Report, StackFrame};

/// Traces in boxes.
pub static READER: Reader = Reader {
    id: "drawn",
    name: "traces in drawn boxes",
    begins,
    sample: "╭──────── Traceback (most recent call last) ────────╮",
};

static TOP: Pattern = Pattern::new(concat!(
    r"^\s*[╭┌┏╔+][─━═-]+ (?P<title>[^─━═]*?(?i:trace|stack|exception|error)[^─━═]*?) ?",
    r"[─━═-]+[╮┐┓╗+]$"
));
static STEP: Pattern = Pattern::new(r"^(?P<place>\S.*:\d+) in (?P<function>\S+)$");

#[derive(Debug, Default)]
struct Drawn {
    frames: Vec<StackFrame>,
    oldest_first: bool,
    closed: bool,
    said: Option<String>,
}

fn begins(start: &Start<'_>) -> Option<Begin> {
    let found = TOP.found(start.text.trim_end())?;
    let oldest_first = found["title"].contains("last");
    let begin = Begin::new(72, Drawn { oldest_first, ..Drawn::default() })?;
    Some(Begin { joins_record: true, ..begin })
}

impl Draft for Drawn {
    fn take(&mut self, text: &str, _project: &Project) -> Take {
        let words = text.trim();
        if self.said.is_some() || self.closed && words.is_empty() {
            return Take::Refused;
        }
        if self.closed {
            self.said = Some(words.to_owned());
            return Take::Took;
        }
        if words.starts_with(['╰', '└', '┗', '╚', '+']) {
            self.closed = true;
            return Take::Took;
        }
        let sides = ['│', '┃', '║', '|'];
        if !words.starts_with(sides) || !words.ends_with(sides) {
            return Take::Refused;
        }
        let inside = words.trim_matches(sides).trim();
        if let Some(found) = STEP.found(inside)
            && let Some(place) = find_place(&found["place"], 0)
            && self.frames.len() < FRAME_CAP
        {
            let function = Some(found["function"].to_owned());
            self.frames.push(StackFrame { function, ..place.frame() });
        }
        Take::Took
    }

    fn report(&self) -> Option<Report> {
        let said = self.said.as_deref()?;
        let head = read_head(said);
        let message = head.as_ref().map_or(said, |h| &h.message);
        let mut report = Report::new(READER.id, Level::Error, message);
        report.kind = head.map(|h| h.kind);
        report.frames.clone_from(&self.frames);
        if self.oldest_first {
            report.frames.reverse();
        }
        Some(report)
    }
}
