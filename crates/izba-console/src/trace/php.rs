//! PHP: the place stands behind the sentence; uncaught exceptions with numbered steps; causes come
//! first, joined by “Next”.

use super::{Begin, Draft, FRAME_CAP, Reader, Start, Take};
use izba_model::pattern::Pattern;
use izba_model::project::Project;
use izba_model::{Cause, Level, Report, StackFrame};

/// Errors and uncaught exceptions of PHP.
pub static READER: Reader = Reader {
    id: "php",
    name: "PHP",
    begins,
    sample: "Fatal error: Uncaught Error: no such boat in /srv/boat.php:4",
};

static HEAD: Pattern = Pattern::new(concat!(
    r"^(?:PHP )?(?P<grade>(?:Recoverable |Catchable )?[Ff]atal error|Parse error",
    r"|Warning|Notice|Deprecated|Strict Standards): +",
    r"(?:(?P<uncaught>Uncaught )(?:(?P<kind>[\w\\]+): )?)?(?P<message>.*?)(?: in",
    r" (?P<file>\S.*?)(?: on line |:)(?P<line>\d+))?$"
));
/// An exception in a record: `{"exception":"[object] (Kind(code: 0): sentence at file:line)`.
static RECORDED: Pattern = Pattern::new(
    r"\[object\] \((?P<kind>[\w\\]+)\(code: -?\w+\): (?P<message>.*) at (?P<file>\S.*?):(?P<line>\d+)\)",
);
static NEXT: Pattern = Pattern::new(
    r"^Next (?P<kind>[\w\\]+)(?:: (?P<message>.*?))? in (?P<file>\S.*?):(?P<line>\d+)$",
);
static STEP: Pattern = Pattern::new(concat!(
    r"^#\d+ (?:(?P<file>[^\s(]\S*?)\((?P<line>\d+)\)|\[internal function\]",
    r"|\{main\})(?:: (?P<function>[^(]*)\(.*)?$"
));

#[derive(Debug, Clone)]
struct Thrown {
    kind: Option<String>,
    message: String,
    frames: Vec<StackFrame>,
}

#[derive(Debug)]
struct Php {
    level: Level,
    /// The innermost first, as PHP tells them.
    thrown: Vec<Thrown>,
    uncaught: bool,
    done: bool,
}

fn place(found: &regex::Captures<'_>) -> Option<StackFrame> {
    let (file, line) = (found.name("file")?.as_str(), found.name("line")?.as_str().parse().ok());
    Some(StackFrame { file: Some(file.to_owned()), line, ..StackFrame::default() })
}

fn begins(start: &Start<'_>) -> Option<Begin> {
    let text = start.text.trim_end();
    if !["rror", "arning", "otice", "eprecated", "tandards"].iter().any(|w| text.contains(w)) {
        return None;
    }
    if let Some(found) = RECORDED.found(text) {
        let kind = Some(found["kind"].to_owned());
        let message = found["message"].to_owned();
        let thrown = Thrown { kind, message, frames: place(&found).into_iter().collect() };
        let level = start.prefix.level.unwrap_or(Level::Error).max(Level::Warning);
        return Begin::new(82, Php { level, thrown: vec![thrown], uncaught: true, done: false });
    }
    // Output without a line's end stands before it.
    let glued = text.find("PHP ").map(|at| &text[at..]);
    let found = HEAD
        .found(start.rest().trim_end())
        .or_else(|| HEAD.found(text))
        .or_else(|| HEAD.found(glued?))?;
    let uncaught = found.name("uncaught").is_some();
    // Without a place of this form the sentence is anybody's.
    let place = place(&found);
    if place.is_none() && !uncaught {
        return None;
    }
    let level = if found["grade"].ends_with("rror") { Level::Error } else { Level::Warning };
    let kind = found.name("kind").map(|k| k.as_str().to_owned());
    let thrown =
        Thrown { kind, message: found["message"].to_owned(), frames: place.into_iter().collect() };
    Begin::new(80, Php { level, thrown: vec![thrown], uncaught, done: false })
}

impl Draft for Php {
    fn take(&mut self, text: &str, _project: &Project) -> Take {
        let text = text.trim_end();
        if !self.uncaught || self.done {
            return Take::Refused;
        }
        let Some(last) = self.thrown.last_mut() else { return Take::Refused };
        if let Some(found) = STEP.found(text) {
            // The function of a step is the one that was called from it, so it belongs to the step
            // before.
            if let Some(before) = last.frames.last_mut() {
                before.function = before
                    .function
                    .take()
                    .or_else(|| found.name("function").map(|f| f.as_str().to_owned()));
            }
            if let Some(frame) = place(&found).filter(|_| last.frames.len() < FRAME_CAP) {
                last.frames.push(frame);
            }
            return Take::Took;
        }
        if let Some(found) = NEXT.found(text) {
            let message = found.name("message").map_or(String::new(), |m| m.as_str().to_owned());
            self.thrown.push(Thrown {
                kind: Some(found["kind"].to_owned()),
                message,
                frames: place(&found).into_iter().collect(),
            });
            return Take::Took;
        }
        if text.starts_with("  thrown in ") {
            self.done = true;
            return Take::Took;
        }
        if matches!(text, "Stack trace:" | "[stacktrace]") {
            return Take::Took;
        }
        // The record ends.
        if text.starts_with("\"}") {
            self.done = true;
            return Take::Took;
        }
        if text.is_empty() || self.thrown[0].frames.is_empty() { Take::Held } else { Take::Refused }
    }

    fn report(&self) -> Option<Report> {
        let outer = self.thrown.last()?;
        let mut report = Report::new(READER.id, self.level, outer.message.as_str());
        report.kind = outer.kind.clone();
        if self.uncaught {
            report.frames = outer.frames.clone();
        } else {
            report.head = outer.frames.first().cloned();
        }
        report.causes = self.thrown[..self.thrown.len() - 1]
            .iter()
            .rev()
            .map(|t| Cause {
                kind: t.kind.clone(),
                message: t.message.clone(),
                frames: t.frames.clone(),
            })
            .collect();
        Some(report)
    }
}
