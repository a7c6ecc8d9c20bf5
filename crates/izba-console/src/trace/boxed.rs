//! Reports between rulers: a line of signs such as `=====`, what happened inside, and a ruler at
//! the end. Long dumps have this form too; in them one sentence is the reason, and their end says
//! nothing.

use super::general::indented_step;
use super::{Begin, Draft, FRAME_CAP, Reader, Start, Take};
use crate::read::{find_place, split_prefix};
use izba_model::pattern::Pattern;
use izba_model::project::Project;
use izba_model::{Level, Report, StackFrame};

/// Reports between rulers, and frames that hold one.
pub static READER: Reader = Reader {
    id: "boxed",
    name: "reports between rulers",
    begins,
    sample: "~~~~~~~~ the game had to stop with an error ~~~~~~~~",
};

/// Signs that make a ruler.
const RULERS: [char; 6] = ['=', '~', '*', '#', '-', '_'];
/// Lines of a report without prefixes; a ruler that nothing closes must not swallow what follows.
const BARE: usize = 60;
/// A frame is at least so wide, in signs.
const WIDE: usize = 20;
/// A ruler is at least so long.
const RULER: usize = 4;

static REASON: Pattern = Pattern::new(concat!(
    r"(?i)^(?:reason|cause|caused by|why|abort message|error|fatal(?: error)?",
    r"|exception|message|trouble|problem|what(?: happened)?)\s*(?:[:=]",
    r"|\.{2,})\s*(?P<said>\S.*)$"
));
static ENDED: Pattern = Pattern::new(concat!(
    r"(?i)\b(?:ends?|ended|exit(?:s|ed)?|killed|terminated)\b.*\b(?:signal|code",
    r"|status) \d+\.?$"
));
static TROUBLE: Pattern = Pattern::new(concat!(
    r"(?i)\b(?:errors?|fail(?:ed|ure)?|fatal|crash(?:ed)?|panic|exception|fault",
    r"|abort(?:ed)?|gave up|was left|(?:has|had) to stop)\b"
));

/// The sign of a ruler that a line begins with, and the words beside it.
fn ruler(text: &str) -> Option<(char, &str)> {
    let text = text.trim();
    let sign = text.chars().next().filter(|c| RULERS.contains(c))?;
    let words = text.trim_matches(sign);
    let long = text.len() - text.trim_start_matches(sign).len() >= RULER;
    long.then_some((sign, words.trim()))
}

#[derive(Debug)]
struct Boxed {
    report: Report,
    sign: char,
    title: String,
    told: Option<String>,
    reason: Option<String>,
    closed: bool,
    lines: usize,
    /// A frame with sides, whose first line says nothing.
    framed: bool,
    /// Each line bears the prefix of a log, so that its end is sure to be noticed.
    prefixed: bool,
    /// Something inside says that it is a report of trouble.
    troubled: bool,
    /// The steps are told in the order in which they were taken.
    oldest_first: bool,
}

fn begins(start: &Start<'_>) -> Option<Begin> {
    let (sign, title) = ruler(start.rest())?;
    // So a phone's log divides its parts, whatever they hold.
    if title.starts_with("beginning of ") || title.starts_with("switch to ") {
        return None;
    }
    if title.is_empty() && start.rest().trim().len() >= WIDE && start.prefix.level.is_none() {
        // A frame: what stands inside decides whether it is a report.
        let report = Report::new(READER.id, Level::Error, "");
        let begin = Begin::new(25, Boxed { framed: true, ..Boxed::new(report, sign, "") })?;
        return Some(Begin { yields: true, ..begin });
    }
    let level = start
        .prefix
        .level
        .or_else(|| TROUBLE.is_match(title).then_some(Level::Error))
        .filter(|l| *l >= Level::Error)?;
    if title.is_empty() {
        return None;
    }
    let report = Report {
        object: start.prefix.object.clone(),
        handler: start.prefix.handler.clone(),
        ..Report::new(READER.id, level, title)
    };
    let begin =
        Begin::new(50, Boxed { prefixed: start.prefix.timed, ..Boxed::new(report, sign, title) })?;
    Some(Begin { yields: true, ..begin })
}

impl Boxed {
    fn new(report: Report, sign: char, title: &str) -> Boxed {
        Boxed {
            report,
            sign,
            title: title.to_owned(),
            told: None,
            reason: None,
            closed: false,
            lines: 0,
            framed: false,
            prefixed: false,
            troubled: false,
            oldest_first: false,
        }
    }
}

impl Draft for Boxed {
    fn take(&mut self, text: &str, project: &Project) -> Take {
        self.lines += 1;
        if self.lines > FRAME_CAP {
            return Take::Refused;
        }
        // What stands inside may bear a prefix on each line; without one the whole line is meant.
        let prefix = split_prefix(text);
        let inside = if prefix.timed { text[prefix.rest_at..].trim_end() } else { text.trim_end() };
        if self.closed {
            // How it ended, right behind the dump, says nothing new.
            return if ENDED.is_match(inside) { Take::Took } else { Take::Refused };
        }
        // A frame has sides; and without a prefix on each line, whatever begins an entry of its own
        // is not part of a report.
        let sided = !self.framed || inside.trim_start().starts_with(self.sign);
        let another = !self.prefixed
            && (prefix.level.is_some()
                || inside.trim_start().starts_with("Traceback (")
                || self.lines > BARE);
        if !sided || another {
            return Take::Refused;
        }
        if ruler(inside).is_some_and(|(sign, _)| sign == self.sign) {
            self.closed = true;
            return Take::Took;
        }
        let inside =
            if self.framed { inside.trim().trim_matches(self.sign).trim() } else { inside };
        if self.framed {
            // Letters set apart are a word in large.
            let joined: String =
                inside.split_whitespace().filter(|w| w.chars().count() == 1).collect();
            self.troubled |=
                TROUBLE.is_match(&joined) || REASON.is_match(inside) || TROUBLE.is_match(inside);
            self.oldest_first |= inside.to_lowercase().contains("oldest");
            if let Some(frame) = indented_step(&format!(
                " {}",
                inside.trim_start_matches(|c: char| c.is_ascii_digit() || c == '.')
            )) {
                self.report.frames.push(StackFrame {
                    function: frame.function.map(|f| of_step(&f).to_owned()),
                    ..frame
                });
                return Take::Took;
            }
        }
        if let Some(frame) = indented_step(text)
            .or_else(|| prefix.timed.then(|| indented_step(&format!(" {inside}"))).flatten())
        {
            if self.report.frames.len() < FRAME_CAP {
                self.report.frames.push(StackFrame {
                    function: frame.function.map(|f| of_step(&f).to_owned()),
                    ..frame
                });
            }
            return Take::Took;
        }
        let words = inside.trim();
        if let Some(found) = REASON.found(words) {
            self.reason.get_or_insert_with(|| found["said"].to_owned());
        } else if self.told.is_none() && !words.is_empty() {
            let place = find_place(words, 0).filter(|p| project.find(p.file).is_some());
            if let Some(place) = place {
                self.report.head = Some(StackFrame {
                    file: Some(place.file.to_owned()),
                    line: Some(place.line),
                    column: place.column,
                    ..StackFrame::default()
                });
            }
            let behind = find_place(words, 0)
                .filter(|p| p.span.0 == 0)
                .map_or(words, |p| words[p.span.1..].trim_start_matches([':', ' ']));
            self.told = Some(behind.to_owned());
        }
        Take::Took
    }

    fn report(&self) -> Option<Report> {
        if self.framed && !(self.troubled && self.reason.is_some()) {
            return None;
        }
        let mut report = self.report.clone();
        if self.oldest_first {
            report.frames.reverse();
        }
        // The sentence of a report of a few lines is its first; a dump's is the one that calls
        // itself the reason.
        report.message =
            self.reason.clone().or_else(|| self.told.clone()).unwrap_or_else(|| self.title.clone());
        // Where the place of the sentence is the last step, the fault was told last.
        let same = |f: &StackFrame| {
            report.head.as_ref().is_some_and(|h| h.file == f.file && h.line == f.line)
        };
        if report.frames.len() > 1
            && report.frames.last().is_some_and(same)
            && !report.frames.first().is_some_and(same)
        {
            report.frames.reverse();
        }
        Some(report)
    }
}

/// The function of a step such as `via shine`.
fn of_step(words: &str) -> &str {
    let words = words.trim_end_matches(['(', ' ']);
    ["via ", "to ", "from ", "in ", "through ", "by "]
        .iter()
        .find_map(|w| words.strip_prefix(w))
        .unwrap_or(words)
        .trim()
}
