//! Failed tests in a numbered list: `  1) Error:`, the sentence, and the steps below
//! it; and Test Anything Protocol's `not ok 1 - name` with its indented block (TAP 14).

use super::steps::Steps;
use super::{Begin, Draft, Reader, Start, Take};
use crate::read::find_place;
use izba_model::pattern::Pattern;
use izba_model::project::Project;
use izba_model::{Level, Report, StackFrame};

/// Failed tests in a numbered list.
pub static READER: Reader =
    Reader { id: "numbered", name: "failed tests in a list", begins, sample: "  1) Failure:" };

static HEAD: Pattern = Pattern::new(r"^ {0,4}\d+\) (?P<what>Error|Failure|Skipped):$");
static NOT_OK: Pattern =
    Pattern::new(r"^(?P<indent> *)not ok \d+(?: -)?(?: (?P<name>[^#]*\S))?(?: *#.*)?$");
static TODO: Pattern = Pattern::new(r"(?i)# *(?:todo|skip)\b");
static NAME: Pattern = Pattern::new(r"^(?P<name>[\w:.]+#\w+)(?: \[(?P<place>[^\]]+)\])?:$");
static KIND: Pattern =
    Pattern::new(r"^(?P<kind>(?:[\w.:]+(?:Error|Exception|Failure))): ?(?P<message>.*)$");
/// Fields of a block whose value is the sentence, and the place.
static FIELD: Pattern = Pattern::new(
    r#"^\s*(?P<key>message|error|name|at|location|file): *['"|>-]*(?P<value>.*?)['"]?$"#,
);

#[derive(Debug)]
struct Test {
    name: Option<String>,
    message: Option<String>,
    kind: Option<String>,
    head: Option<StackFrame>,
    steps: Steps,
    block: bool,
    indent: usize,
    lines: u32,
    skipped: bool,
    /// How far a sentence of several lines is set in that is told now.
    open: Option<usize>,
    /// Whether the place that is told is where it failed.
    leads: bool,
}

fn frame(text: &str) -> Option<StackFrame> {
    find_place(text, 0).map(|place| place.frame())
}

fn begins(start: &Start<'_>) -> Option<Begin> {
    let text = start.text.trim_end();
    if !text.trim_start().starts_with(|c: char| c.is_ascii_digit() || c == 'n') {
        return None;
    }
    let test = |name: Option<&str>, block: bool, indent: usize, skipped: bool| Test {
        name: name.map(str::to_owned),
        message: None,
        kind: None,
        head: None,
        steps: Steps::default(),
        block,
        indent,
        lines: 0,
        skipped,
        open: None,
        leads: true,
    };
    if let Some(found) = NOT_OK.found(text) {
        let skipped = TODO.is_match(text);
        let name = found.name("name").map(|n| n.as_str());
        return Begin::new(85, test(name, true, found["indent"].len(), skipped));
    }
    let found = HEAD.found(text)?;
    Begin::new(85, test(None, false, 0, &found["what"] == "Skipped"))
}

impl Test {
    /// Adds to its sentence.
    fn say(&mut self, words: &str) {
        match &mut self.message {
            Some(message) if words.is_empty() || message.len() > 2_000 => {}
            Some(message) => {
                message.push(' ');
                message.push_str(words);
            }
            None if words.is_empty() => {}
            None => self.message = Some(words.to_owned()),
        }
    }
}

impl Draft for Test {
    fn take(&mut self, text: &str, _project: &Project) -> Take {
        self.lines += 1;
        let words = text.trim();
        if self.block && words.is_empty() {
            return Take::Held;
        }
        if self.block {
            let inside = text.len() - text.trim_start().len() > self.indent && self.lines < 400;
            if !inside {
                return Take::Refused;
            }
            let deep = text.len() - text.trim_start().len();
            if let Some(from) = self.open {
                if deep > from || words.is_empty() {
                    self.say(words);
                    return Take::Took;
                }
                self.open = None;
            }
            if let Some(found) = FIELD.found(text) {
                let value = found["value"].trim();
                match &found["key"] {
                    "message" | "error" if self.message.is_none() => {
                        // What is told over several lines stands below, deeper.
                        self.open = value.is_empty().then_some(deep);
                        self.say(value);
                    }
                    "message" | "error" => {}
                    "name" => {
                        let kind = value.ends_with("Error").then(|| value.to_owned());
                        self.kind = self.kind.take().or(kind);
                    }
                    // Where the test stands, not where it failed.
                    "location" => {
                        self.leads = false;
                        self.head = self.head.take().or_else(|| frame(value));
                    }
                    _ => self.head = self.head.take().or_else(|| frame(value)),
                }
            } else {
                let _ = self.steps.take(text);
            }
            return Take::Took;
        }
        if words.is_empty() {
            return if self.lines < 60 { Take::Held } else { Take::Refused };
        }
        if HEAD.is_match(text) {
            return Take::Refused;
        }
        if let Some(found) = NAME.found(words).filter(|_| self.name.is_none()) {
            self.name = Some(found["name"].to_owned());
            let test = found["name"].rsplit('#').next().map(str::to_owned);
            let place = found.name("place").and_then(|p| frame(p.as_str()));
            self.head = place.map(|place| StackFrame { function: test, ..place });
            return Take::Took;
        }
        if self.message.is_none() && self.name.is_some() {
            let found = KIND.found(words);
            self.kind = found.as_ref().map(|f| f["kind"].to_owned());
            self.message = Some(found.map_or(words.to_owned(), |f| f["message"].to_owned()));
            return Take::Took;
        }
        // A summary stands flush, and so does the rest of a sentence right below it.
        if !text.starts_with(' ') {
            return if self.lines <= 4 { Take::Took } else { Take::Refused };
        }
        let _ = self.steps.take(text);
        Take::Took
    }

    fn report(&self) -> Option<Report> {
        if self.skipped {
            return None;
        }
        let message = self.message.clone().or_else(|| self.name.clone())?;
        let mut report = Report::new(READER.id, Level::Error, message);
        report.kind = self.kind.clone();
        (report.head, report.head_leads) = (self.head.clone(), self.leads);
        self.steps.add_to(&mut report);
        // A list of nothing but a name is no failed test.
        let tells = self.block || self.message.is_some();
        tells.then_some(report)
    }
}
