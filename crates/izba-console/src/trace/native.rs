//! Programs that the system ends: assertions, exceptions that reach the end of C++, Swift and
//! Objective-C programs, signals, and the reports of memory checkers.

use super::{Begin, Draft, FRAME_CAP, Reader, Start, Take};
use crate::read::find_place;
use izba_model::pattern::Pattern;
use izba_model::project::Project;
use izba_model::{Level, Report, StackFrame};

/// Crashes of native programs, and what checkers of memory say.
pub static READER: Reader = Reader {
    id: "native",
    name: "native programs",
    begins,
    sample: "terminate called after throwing an instance of 'std::out_of_range'",
};

static THROWN: Pattern = Pattern::new(concat!(
    r"^(?:terminate called after throwing an instance of '(?P<kind>[^']+)'",
    r"|libc\+\+abi(?:\.dylib)?: terminating (?:due to",
    r"|with) uncaught exception of type (?P<type>[\w:]+)(?:: (?P<what>.*))?)$"
));
static WHAT: Pattern = Pattern::new(r"^\s+what\(\):\s+(?P<message>.*)$");
static TERMINATED: Pattern = Pattern::new(concat!(
    r"\*\*\* Terminating app due to uncaught exception '(?P<kind>[^']+)', reason:",
    r" '(?P<message>.*?)'?$"
));
static ASSERTED: Pattern = Pattern::new(concat!(
    r"^(?:\S+: )?(?P<place>[^\s:]+\.\w+:\d+): (?:(?P<function>.+?):",
    r" )?(?P<message>Assertion [`'].*' failed)\.?$"
));
static SWIFT: Pattern = Pattern::new(concat!(
    r"^(?:(?P<grade>Fatal error|Precondition failed",
    r"|Assertion failed)(?:: (?P<message>.*?))?: file (?P<file>\S+), line",
    r" (?P<line>\d+)|(?P<file2>\S+\.\w+):(?P<line2>\d+): (?P<grade2>Fatal error",
    r"|Precondition failed|Assertion failed)(?:: (?P<message2>.*))?)$"
));
static CHECKED: Pattern = Pattern::new(concat!(
    r"^=*\d*=*(?:ERROR|WARNING): (?P<tool>\w+Sanitizer): (?P<message>.+?)(?: on",
    r" (?:unknown )?address.*)?$"
));
static SIGNAL: Pattern = Pattern::new(concat!(
    r"^(?:\S+: line \d+:\s+\d+ )?(?P<message>Segmentation fault|Bus error",
    r"|Floating point exception|Illegal instruction",
    r"|Aborted)(?:: \d+)?(?: \(core dumped\)| +\(core dumped\).*)?$"
));
static STEP: Pattern = Pattern::new(concat!(
    r"^\s+#?\d+:?\s+(?:0x[0-9a-f]+ (?:in )?)?(?P<function>.*?)(?: at)?",
    r" (?P<place>\(?[^\s()]+:\d+(?::\d+)?\)?)$"
));
/// A step of a library without a place: its number, the library, an address, the function and how
/// far into it.
static NAMED: Pattern = Pattern::new(r"^\s*\d+\s+\S+\s+0x[0-9a-fA-F]+ (?P<function>.+?) \+ \d+$");
static OUTSIDE: Pattern =
    Pattern::new(r"^\s+#?\d+:?\s+(?:\S+\s+)?0x[0-9a-f]+ (?:in (?P<function>\S+) )?.*$");
/// What stands over a list of steps that tells of something else: `freed by thread T0 here:`.
static LISTED: Pattern = Pattern::new(
    r"^(?P<said>\S.* (?:here|at|by|with|in|of) ?[^:]*|[A-Z]\w+ (?:read|write|of size).*|.*\bcreated\b.*):$",
);
/// What a checker of memory draws below its report.
static DRAWN: Pattern = Pattern::new(
    r"^(?:Shadow b|\s*(?:=>)?\s*0x[0-9a-f]+: ?[\[ ]|  [A-Z][\w ]+: +(?:[0-9a-f]{2}\b ?)+$|HINT: |\s+\((?:.*)\)$)",
);

/// One of these stands in every first line.
const SAYS: [&str; 10] = [
    "erminat",
    "ssertion",
    "recondition",
    "atal error",
    "Sanitizer",
    "fault",
    "Bus error",
    "exception",
    "Illegal instruction",
    "Aborted",
];

#[derive(Debug)]
struct Crash {
    report: Report,
    /// More lines belong to it: what was thrown, steps.
    more: bool,
    walked: bool,
    lines: usize,
    /// What stands over the list of steps that comes, until its first own step is noted.
    listed: Option<String>,
    /// The last line of what a checker tells was seen; only what it draws follows.
    summed: bool,
}

fn begins(start: &Start<'_>) -> Option<Begin> {
    let text = start.text.trim_end();
    if !SAYS.iter().any(|words| text.contains(words)) {
        return None;
    }
    let begin =
        |confidence, level, kind: Option<&str>, message: &str, head: Option<StackFrame>, more| {
            let mut report = Report::new(READER.id, level, message);
            report.kind = kind.map(str::to_owned);
            report.head = head;
            Begin::new(
                confidence,
                Crash { report, more, walked: false, lines: 0, listed: None, summed: false },
            )
        };
    if let Some(found) = TERMINATED.found(text) {
        return begin(80, Level::Fatal, Some(&found["kind"]), found["message"].trim(), None, true);
    }
    if let Some(found) = THROWN.found(text) {
        let kind = found.name("kind").or(found.name("type")).map(|k| k.as_str());
        return begin(
            80,
            Level::Fatal,
            kind,
            found.name("what").map_or("", |m| m.as_str()),
            None,
            true,
        );
    }
    if let Some(found) = ASSERTED.found(text) {
        let place = find_place(&found["place"], 0)?;
        let function = found.name("function").map(|f| f.as_str().to_owned());
        let head = StackFrame {
            file: Some(place.file.to_owned()),
            line: Some(place.line),
            function,
            ..StackFrame::default()
        };
        return begin(80, Level::Fatal, None, &found["message"], Some(head), true);
    }
    if let Some(found) = SWIFT.found(text) {
        let of = |name: &str, other: &str| {
            found.name(name).or(found.name(other)).map(|m| m.as_str().to_owned())
        };
        let head = StackFrame {
            file: of("file", "file2"),
            line: of("line", "line2").and_then(|l| l.parse().ok()),
            ..StackFrame::default()
        };
        let message =
            of("message", "message2").or_else(|| of("grade", "grade2")).unwrap_or_default();
        return begin(85, Level::Fatal, None, &message, Some(head), true);
    }
    if let Some(found) = CHECKED.found(text) {
        return begin(80, Level::Error, Some(&found["tool"]), &found["message"], None, true);
    }
    let found = SIGNAL.found(text)?;
    begin(45, Level::Fatal, None, &found["message"], None, false)
}

impl Draft for Crash {
    fn take(&mut self, text: &str, project: &Project) -> Take {
        self.lines += 1;
        let words = text.trim();
        if !self.more || self.lines > FRAME_CAP {
            return Take::Refused;
        }
        if let Some(found) = WHAT.found(text).filter(|_| self.report.message.is_empty()) {
            self.report.message = found["message"].trim().to_owned();
            return Take::Took;
        }
        // How it ended says nothing new.
        if SIGNAL.is_match(words) || words.starts_with("libc++abi") {
            self.more = false;
            return Take::Took;
        }
        if let Some(found) = STEP.found(text) {
            // Only the first list of steps is that of the fault; others tell where something came
            // from.
            if let Some(place) =
                find_place(&found["place"], 0).filter(|p| project.find(p.file).is_some())
                && let Some(said) = self.listed.take_if(|_| self.walked)
            {
                self.report.relate(&said, place.frame());
            }
            if let Some(place) = find_place(&found["place"], 0)
                .filter(|_| !self.walked && self.report.frames.len() < FRAME_CAP)
            {
                let function = Some(found["function"].trim().to_owned()).filter(|f| !f.is_empty());
                self.report.frames.push(StackFrame {
                    file: Some(place.file.to_owned()),
                    line: Some(place.line),
                    column: place.column,
                    function,
                    own: None,
                });
            }
            return Take::Took;
        }
        if let Some(found) = NAMED.found(text) {
            if !self.walked && self.report.frames.len() < FRAME_CAP {
                self.report.frames.push(StackFrame {
                    function: Some(found["function"].to_owned()),
                    ..StackFrame::default()
                });
            }
            return Take::Took;
        }
        if words == "Current stack trace:" {
            return Take::Took;
        }
        if let Some(found) = OUTSIDE.found(text)
            && let Some(function) = found.name("function")
            && !self.walked
        {
            let function = Some(function.as_str().to_owned());
            self.report.frames.push(StackFrame { function, ..StackFrame::default() });
            return Take::Took;
        }
        if OUTSIDE.is_match(text)
            || matches!(words, "(" | ")")
            || words.starts_with("*** First throw call stack")
        {
            return Take::Took;
        }
        let checked = self.report.kind.as_deref().is_some_and(|k| k.ends_with("Sanitizer"));
        if checked && let Some(found) = LISTED.found(words) {
            self.walked |= !self.report.frames.is_empty();
            self.listed = Some(found["said"].to_owned());
            return Take::Took;
        }
        if checked && self.summed && DRAWN.is_match(text) {
            return Take::Took;
        }
        if checked
            && (words.starts_with("SUMMARY: ")
                || words.contains(" at 0x")
                || words.contains(" is located ")
                || words.starts_with("=="))
        {
            self.summed |= words.starts_with("SUMMARY: ");
            self.walked |= !self.report.frames.is_empty();
            return Take::Took;
        }
        if words.is_empty() { Take::Held } else { Take::Refused }
    }

    fn report(&self) -> Option<Report> {
        Some(self.report.clone())
    }
}
