//! Rust: panics with their backtrace, and the compiler's diagnostics with arrows to their places.

use super::{Begin, Draft, FRAME_CAP, Reader, Start, Take};
use crate::read::find_place;
use izba_model::pattern::Pattern;
use izba_model::project::Project;
use izba_model::{Column, Level, Report, StackFrame};

/// Panics of Rust, and diagnostics whose place stands behind an arrow.
pub static READER: Reader = Reader {
    id: "rust",
    name: "Rust",
    begins,
    sample: "thread 'main' panicked at src/main.rs:5:9:",
};

static PANIC: Pattern = Pattern::new(concat!(
    r"^thread '[^']*'(?: \(\d+\))? panicked at (?:'(?P<message>.*)',",
    r" )?(?P<place>\S+:\d+:\d+)(?P<colon>:?)$"
));
static SAYS: Pattern = Pattern::new(concat!(
    r"^(?P<level>error|warning)(?:\[(?P<code>[\w-]+)\]",
    r"| (?P<number>[A-Z]{2,4}\d+))?: (?P<message>.+)$"
));
static ARROW: Pattern = Pattern::new(r"^\s*(?:-->|:::|╭▸|┌─|╭─\[?) ?(?P<place>.*)$");
static STEP: Pattern = Pattern::new(r"^\s+\d+: (?:0x[0-9a-f]+ - )?(?P<function>\S.*)$");

#[derive(Debug)]
struct Panicked {
    report: Report,
    told: bool,
    walking: bool,
    called: Option<String>,
    /// Lines that may belong to its message.
    waited: usize,
}

/// Lines of a message beside its first one.
const MESSAGE: usize = 6;

#[derive(Debug)]
struct Diagnosed {
    report: Report,
    /// Blank lines and the like have been seen since something that surely belongs to it.
    loose: bool,
    /// The note whose place is still to come.
    note: Option<String>,
}

fn frame(place: &str) -> Option<StackFrame> {
    find_place(place, 0).map(|place| place.frame())
}

fn begins(start: &Start<'_>) -> Option<Begin> {
    let rest = start.text.trim_end();
    if let Some(found) = PANIC.found(rest) {
        let message = found.name("message").map_or("", |m| m.as_str());
        let mut report = Report::new(READER.id, Level::Error, message);
        report.kind = Some("panic".into());
        report.head = frame(&found["place"]);
        return Begin::new(
            90,
            Panicked { report, told: !message.is_empty(), walking: false, called: None, waited: 0 },
        );
    }
    let found = SAYS.found(rest)?;
    let level = if &found["level"] == "warning" { Level::Warning } else { Level::Error };
    let mut report = Report::new(READER.id, level, found["message"].trim());
    report.code = found.name("code").or(found.name("number")).map(|c| c.as_str().to_owned());
    Begin::new(35, Diagnosed { report, loose: false, note: None })
}

impl Draft for Panicked {
    fn take(&mut self, text: &str, _project: &Project) -> Take {
        let words = text.trim_end();
        if !self.told {
            self.told = true;
            self.report.message = words.trim().to_owned();
            return Take::Took;
        }
        if words == "stack backtrace:" || words.starts_with("note: ") {
            self.walking |= words == "stack backtrace:";
            return Take::Took;
        }
        if !self.walking {
            // A message of several lines goes on until its steps come, for a few lines.
            self.waited += 1;
            return if self.waited <= MESSAGE { Take::Held } else { Take::Refused };
        }
        if let Some(at) = words.trim_start().strip_prefix("at ") {
            if let Some(step) = frame(at).filter(|_| self.report.frames.len() < FRAME_CAP) {
                self.report.frames.push(StackFrame { function: self.called.take(), ..step });
            }
            return Take::Took;
        }
        match STEP.found(words) {
            Some(found) => {
                self.called = Some(found["function"].to_owned());
                Take::Took
            }
            None => Take::Refused,
        }
    }

    fn report(&self) -> Option<Report> {
        Some(self.report.clone())
    }
}

impl Draft for Diagnosed {
    fn take(&mut self, text: &str, _project: &Project) -> Take {
        let words = text.trim();
        if let Some(found) = ARROW.found(text) {
            let place = frame(&found["place"]);
            if self.report.head.is_some() {
                let note = self.note.take().unwrap_or_default();
                place.into_iter().for_each(|place| self.report.relate(&note, place));
            } else {
                let Some(place) = place else { return Take::Refused };
                self.report.head = Some(StackFrame {
                    column: place.column.map(|c| Column::chars(c.number)),
                    ..place
                });
            }
            self.loose = false;
            return Take::Took;
        }
        if self.report.head.is_none() {
            return Take::Refused;
        }
        if words.is_empty() {
            self.loose = true;
            return Take::Held;
        }
        let gutter = words.trim_start_matches(|c: char| c.is_ascii_digit()).trim_start();
        let drawn = gutter.starts_with(['|', '=', '│', '╰']) || words.starts_with("...");
        let noted = !self.loose && (words.starts_with("note: ") || words.starts_with("help: "));
        if drawn || noted {
            self.loose = false;
            let said = gutter.trim_start_matches(['=', ' ']);
            self.note = ["note: ", "help: "]
                .iter()
                .find_map(|w| said.strip_prefix(w))
                .map(str::to_owned)
                .or(self.note.take());
            return Take::Took;
        }
        Take::Refused
    }

    fn report(&self) -> Option<Report> {
        Some(self.report.clone())
    }
}
