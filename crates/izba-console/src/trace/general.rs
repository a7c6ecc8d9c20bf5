//! Anything that calls itself a warning or an error, in whatever console: the reader for what no
//! other one knows.

use super::{Begin, Draft, FRAME_CAP, Reader, Start, Take};
use crate::read::find_place;
use izba_model::pattern::Pattern;
use izba_model::project::Project;
use izba_model::{Column, Level, Report, StackFrame};

/// Lines with a level of their own, and the indented steps under them.
pub static READER: Reader = Reader {
    id: "general",
    name: "any console",
    begins,
    sample: "12.4 | error | Bell#1.tick | the rope is not tied to anything",
};

/// What the system says when something cannot be opened, behind words that say so.
static CANNOT: Pattern = Pattern::new(concat!(
    r"(?i)\b(?:cannot|could not|couldn't|can't|failed to",
    r"|unable to)\b.*: (?:No such file or directory|Permission denied)$"
));

/// A heading whose sentence stands below it: `error during build:`.
static FAILED: Pattern = Pattern::new(r"^(?i:errors?) (?:during|while|in|at) [a-z][a-z -]{2,30}:$");

/// A sentence that only counts what is told below it: `Transform failed with 2 errors:`.
static COUNTED: Pattern = Pattern::new(r"(?i)\bwith \d+ (?:errors?|problems?|warnings?):$");
/// What a phone says before the exception that ended an app: the exception has the entry.
static CRASHED: Pattern = Pattern::new(r"^(?:FATAL EXCEPTION: \S.*|Process: [\w.:]+, PID: \d+)$");

/// How Izba's own lines of a page's errors begin.
const PAGE: &str = "[page error] ";

/// Whether a line is the first of what a page says, as Izba writes it: no part of what it said before.
pub(super) fn is_of_page(text: &str) -> bool {
    let levels = ["error] ", "warning] ", "note] "];
    text.strip_prefix("[page ").is_some_and(|rest| levels.iter().any(|l| rest.starts_with(l)))
}
/// Lines of a sentence of a page.
const GOES_ON: u8 = 12;

#[derive(Debug)]
struct General {
    report: Report,
    /// Whether its sentence stood below its place.
    opens: bool,
    /// Lines that may tell more of it.
    details: u8,
    /// Whether it may be only a heading, such as `In procedure open:`.
    heads: bool,
    /// Whether its sentence stands on the next line that is not empty.
    below: bool,
    /// Whether it turned out that it only counts what follows.
    counts: bool,
    /// Lines of its sentence that may follow: what a page prints may have several, and whatever it
    /// prints next begins with who it is.
    goes_on: u8,
}

fn begins(start: &Start<'_>) -> Option<Begin> {
    let asserted = start.text.starts_with("Assertion failed");
    let refused = ["No such file or directory", "Permission denied"];
    let failed = start.prefix.level.is_none()
        && refused.iter().any(|end| start.text.ends_with(end))
        && CANNOT.is_match(start.rest());
    let heading = start.prefix.level.is_none() && FAILED.is_match(start.rest().trim());
    let level = if asserted || failed || heading {
        Level::Error
    } else {
        start.prefix.level.filter(|l| *l >= Level::Warning)?
    };
    let rest = start.rest().trim();
    // A field of something that is shown over several lines.
    if rest.is_empty() || matches!(rest, "{" | "[" | "(") || CRASHED.is_match(rest) {
        return None;
    }
    let mut report = Report::new(READER.id, level, rest);
    let below = stands_below(rest, &mut report);
    report.object = start.prefix.object.clone();
    report.handler = start.prefix.handler.clone();
    let mut confidence = 20;
    if let Some((file, line)) =
        start.prefix.place.as_ref().filter(|(file, _)| start.project.find(file).is_some())
    {
        report.head = Some(StackFrame {
            file: Some(file.clone()),
            line: Some(*line),
            function: start.prefix.function.clone(),
            ..StackFrame::default()
        });
    }
    if let Some(place) = find_place(rest, 0).filter(|p| start.project.find(p.file).is_some()) {
        report.head = Some(StackFrame {
            file: Some(place.file.to_owned()),
            line: Some(place.line),
            column: place.column,
            ..StackFrame::default()
        });
        if place.span.0 == 0 {
            report.message = rest[place.span.1..].trim_start_matches([':', ' ']).to_owned();
        }
        confidence = 40;
    }
    // What ends with a colon and names no more than a procedure is no sentence.
    let heads = report.message.ends_with(':') && report.message.starts_with("In ");
    let goes_on = if start.text.starts_with(PAGE) { GOES_ON } else { 0 };
    let (opens, details, counts) = (false, 0, false);
    Begin::new(confidence, General { report, opens, details, heads, below, counts, goes_on })
}

impl Draft for General {
    fn take(&mut self, text: &str, project: &Project) -> Take {
        // A logger's name with a number in brackets is no sentence; that stands below it, set in.
        let named = |m: &str| m.ends_with(']') && m.contains('[') && !m.contains(' ');
        if named(&self.report.message)
            && text.starts_with("      ")
            && self.report.frames.is_empty()
        {
            self.report.message = text.trim().to_owned();
            return Take::Took;
        }
        if self.below && text.trim().is_empty() {
            return Take::Held;
        }
        // What is counted stands below it, each at its place.
        let placed = |text: &str| find_place(text, 0).is_some_and(|place| place.span.0 == 0);
        if self.report.head.is_none()
            && self.report.frames.is_empty()
            && COUNTED.is_match(&self.report.message)
            && placed(text.trim())
        {
            self.counts = true;
            return Take::Refused;
        }
        if std::mem::take(&mut self.below) && crate::read::split_prefix(text).level.is_none() {
            if COUNTED.is_match(text) {
                self.counts = true;
                return Take::Refused;
            }
            self.say(text.trim());
            return Take::Took;
        }
        let step = || super::v8::step(text.trim().strip_prefix("at ").unwrap_or("")).is_some();
        if self.goes_on > 0 && !step() {
            self.goes_on -= 1;
            if text.trim().is_empty() {
                return Take::Held;
            }
            self.report.details.push(text.trim().to_owned());
            return Take::Took;
        }
        self.goes_on = 0;
        // A place alone: its sentence stands below it, set in, and may go on.
        let within = text.starts_with("  ") && self.report.head.is_some();
        if self.report.message.is_empty() && (within || self.opens) {
            self.report.message = text.trim().to_owned();
            self.opens = true;
            return Take::Took;
        }
        if self.opens && within && indented_step(text).is_none() {
            return Take::Took;
        }
        // A heading: the sentence stands below it.
        let flush = !text.starts_with([' ', '\t']) && !text.trim().is_empty();
        if self.heads && flush && self.report.frames.is_empty() {
            self.heads = false;
            let plain = crate::read::split_prefix(text).level.is_none();
            if plain {
                self.report.message = text.trim().to_owned();
                return Take::Took;
            }
        }
        // What belongs to it may stand between a record and its trace: `handle: <…>`.
        if self.report.frames.is_empty() && self.details < DETAILS && is_detail(text) {
            self.details += 1;
            return Take::Held;
        }
        // The code that is shown below it, with the row that names its file.
        if self.report.frames.is_empty() && super::excerpt::row(text).is_some() {
            return Take::Refused;
        }
        match indented_step(text).or_else(|| super::ruby::step(text)) {
            Some(mut frame) => {
                if self.report.frames.is_empty() && frame.function.is_none() {
                    self.name_function(&mut frame, project);
                }
                if self.report.frames.len() < FRAME_CAP {
                    self.report.frames.push(frame);
                }
                Take::Took
            }
            None => Take::Refused,
        }
    }

    fn report(&self) -> Option<Report> {
        if self.counts {
            return None;
        }
        let mut report = self.report.clone();
        // With steps below it, what stands in brackets behind a sentence is the kind of an
        // exception.
        let named = |k: &&str| {
            k.starts_with(|c: char| c.is_ascii_uppercase())
                && k.chars().all(|c| c.is_alphanumeric() || c == ':')
        };
        if let Some((message, kind)) = report
            .message
            .strip_suffix(')')
            .and_then(|m| m.rsplit_once(" ("))
            .filter(|(_, k)| !report.frames.is_empty() && named(k))
        {
            report.kind = Some(kind.to_owned());
            report.message = message.to_owned();
        }
        Some(report)
    }
}

/// Lines with a name and a value that may stand between a record and its trace.
const DETAILS: u8 = 6;

/// Whether a line names something and its value, and no level.
fn is_detail(text: &str) -> bool {
    // A field of an object that is shown over several lines.
    let set_in = text.starts_with("  ");
    let field = text.trim().split_once(':').map(|(name, value)| (name.trim(), value.trim()));
    if let Some((name, value)) = field.filter(|_| set_in) {
        let inner = name.trim_matches('"');
        let word = !inner.is_empty() && inner.chars().all(|c| c.is_alphanumeric() || c == '_');
        if word && (inner.len() + 2 == name.len() || value.starts_with(['{', '[', '"', '\''])) {
            return true;
        }
    }
    let Some((name, value)) = text.split_once(": ") else { return false };
    let plain = |c: char| c.is_ascii_lowercase() || c == '_';
    !name.is_empty()
        && name.len() <= 24
        && name.chars().all(plain)
        && value.starts_with(['<', '{', '[', '"', '\''])
        && Level::from_word(name).is_none()
}

/// Whether a heading names no more than where (`in ./src/sea.js 24:51`) or when (`during build:`)
/// it was; then where is noted.
fn stands_below(rest: &str, report: &mut Report) -> bool {
    static IN: Pattern = Pattern::new(
        r"^(?:in|at|from) (?P<file>\.{0,2}/?[^\s:]+\.\w{1,8})(?:[ :](?P<line>\d{1,7})(?::(?P<column>\d{1,5})(?:-\d[\d:]*)?)?)?$",
    );
    static WHEN: Pattern = Pattern::new(r"^(?:during|while|in|at) [a-z][a-z -]{2,30}:$");
    if WHEN.is_match(rest) || FAILED.is_match(rest) {
        return true;
    }
    let Some(found) = IN.found(rest) else { return false };
    let number = |part: &str| found.name(part).and_then(|n| n.as_str().parse::<u32>().ok());
    report.head = Some(StackFrame {
        file: Some(found["file"].to_owned()),
        line: number("line"),
        // Tools that write a place so count from 0.
        column: number("column").map(|c| Column::chars(c + 1)),
        ..StackFrame::default()
    });
    true
}

impl General {
    /// The sentence that stands below a heading, without a place before it.
    fn say(&mut self, said: &str) {
        static PLACED: Pattern = Pattern::new(
            r"^(?P<file>[^\s:()]+\.\w{1,8}) \((?P<line>\d{1,7}):(?P<column>\d{1,5})\): (?P<said>.+)$",
        );
        let found = PLACED.found(said);
        if let Some(found) = &found
            && self.report.head.is_none()
        {
            let number = |part: &str| found[part].parse::<u32>().ok();
            self.report.head = Some(StackFrame {
                file: Some(found["file"].to_owned()),
                line: number("line"),
                column: number("column").map(Column::chars),
                ..StackFrame::default()
            });
        }
        self.report.message =
            found.as_ref().map_or(said, |f| f.name("said").map_or(said, |m| m.as_str())).to_owned();
    }

    /// A sentence may begin with the function that its place lies in: it stands in that file, with
    /// a bracket behind it.
    fn name_function(&mut self, frame: &mut StackFrame, project: &Project) {
        let Some((name, said)) = self.report.message.split_once(": ") else { return };
        let plain = name.chars().all(|c| c.is_alphanumeric() || c == '_') && name.len() <= 60;
        let file = frame.file.as_deref().and_then(|f| project.file(&project.find(f)?));
        let text = file.and_then(|f| f.text.as_deref()).unwrap_or("");
        let called = format!("{name}(");
        if plain && !name.is_empty() && text.contains(&called) {
            frame.function = Some(name.to_owned());
            self.report.message = said.to_owned();
        }
    }
}

/// Reads an indented line that names a place as a step: the words before or after the place are its
/// function.
pub(super) fn indented_step(text: &str) -> Option<StackFrame> {
    if !text.starts_with([' ', '\t']) {
        return None;
    }
    let place = find_place(text, 0)?;
    // With a colon behind its place a line is a sentence about that place, unless the step's
    // function follows.
    let behind = &text[place.span.1..];
    if behind.starts_with(": ") && !behind.starts_with(": in ") {
        return None;
    }
    let before = text[..place.span.0].trim();
    let after = text[place.span.1..].trim_start_matches([':', ')', ']', '.', ' ', '\t']).trim();
    // A sentence that happens to be indented is no step.
    if before.split_whitespace().count() > 4 || after.split_whitespace().count() > 4 {
        return None;
    }
    let words = after.strip_prefix("in ").unwrap_or(after);
    let words =
        words.strip_prefix("function ").unwrap_or(words).trim_matches(['\'', '`', '"', '<', '>']);
    let named = before.trim_end_matches(['(', '[', '@', ' ']);
    let linking = ["from", "at", "in", "by", "called from"];
    let named = (!named.is_empty()
        && !linking.contains(&named.trim_end_matches(':').to_ascii_lowercase().as_str()))
    .then_some(named);
    let function = Some(words).filter(|w| !w.is_empty()).or(named).map(str::to_owned);
    Some(StackFrame {
        file: Some(place.file.to_owned()),
        line: Some(place.line),
        column: place.column,
        function,
        own: None,
    })
}
