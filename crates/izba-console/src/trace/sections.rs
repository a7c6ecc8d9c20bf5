//! Failed tests told in sections: a title between rulers, the source with marks, the sentence
//! behind an `E`, and the places on lines of their own; Python's usual runner writes so.

use super::{Begin, Draft, FRAME_CAP, Reader, Start, Take};
use izba_model::pattern::Pattern;
use izba_model::project::Project;
use izba_model::{Level, Report, StackFrame};

/// Failed tests in sections.
pub static READER: Reader = Reader {
    id: "sections",
    name: "failed tests in sections",
    begins,
    sample: "________________ test_bell ________________",
};

static TITLE: Pattern = Pattern::new(r"^_{3,} (?P<title>\S.*?) _{3,}$");
static SUMMARY: Pattern = Pattern::new(r"(?i)^={3,} short test summary.*={3,}$");
static ENDS: Pattern = Pattern::new(
    r"^={3,} .*\b(?:passed|failed|errors?|skipped|deselected|xfailed)\b.* in [\d.]+ ?s\b.* ={3,}$",
);
static RULER: Pattern = Pattern::new(r"^(?:={3,}.*={3,}|!{3,}.*!{3,}|_{3,} .* _{3,})$");
static SAYS: Pattern = Pattern::new(r"^E {2,}(?P<said>\S.*)$");
static KIND: Pattern = Pattern::new(r"^(?P<kind>[A-Za-z_][\w.]*): ?(?P<message>.*)$");
/// The head of a function in the source that is shown.
static SHOWN: Pattern = Pattern::new(r"^[> ] +(?:async )?def (?P<name>\w+)\(");
static PLACE: Pattern =
    Pattern::new(r"^(?P<file>[^\s:][^:]*\.\w{1,8}):(?P<line>\d+): ?(?P<what>.*)$");

#[derive(Debug, Default)]
struct Section {
    title: String,
    said: Option<String>,
    frames: Vec<StackFrame>,
    kind: Option<String>,
    /// The function whose source is shown.
    shown: Option<String>,
    /// A list that repeats what the sections told.
    summary: bool,
}

fn begins(start: &Start<'_>) -> Option<Begin> {
    let text = start.text.trim_end();
    if !text.starts_with(['_', '=']) {
        return None;
    }
    if SUMMARY.is_match(text) || ENDS.is_match(text) {
        return Begin::new(92, Section { summary: true, ..Section::default() });
    }
    let title = TITLE.found(text)?["title"].to_owned();
    Begin::new(62, Section { title, ..Section::default() })
}

impl Draft for Section {
    fn take(&mut self, text: &str, _project: &Project) -> Take {
        let text = text.trim_end();
        if RULER.is_match(text) {
            return Take::Refused;
        }
        if self.summary {
            return if text.is_empty() { Take::Refused } else { Take::Took };
        }
        if let Some(found) = SHOWN.found(text) {
            self.shown = Some(found["name"].to_owned());
        }
        if let Some(found) = SAYS.found(text) {
            self.said.get_or_insert_with(|| found["said"].to_owned());
        } else if let Some(found) = PLACE.found(text)
            && self.frames.len() < FRAME_CAP
        {
            let what = found["what"].trim();
            let named = what.strip_prefix("in ").map(str::to_owned);
            if named.is_none() && !what.is_empty() && !what.contains(' ') {
                self.kind = Some(what.to_owned());
            }
            let function = named.or_else(|| self.shown.take());
            self.frames.push(StackFrame {
                file: Some(found["file"].to_owned()),
                line: found["line"].parse().ok(),
                function,
                ..StackFrame::default()
            });
        }
        Take::Took
    }

    fn report(&self) -> Option<Report> {
        let said = self.said.as_ref()?;
        let named = KIND.found(said).filter(|f| {
            let kind = &f["kind"];
            self.kind.as_deref() == Some(kind) || self.kind.is_none() && kind.ends_with("Error")
        });
        let (kind, message) = match &named {
            Some(found) => (Some(found["kind"].to_owned()), found["message"].to_owned()),
            None => (self.kind.clone(), said.clone()),
        };
        let mut report = Report::new(READER.id, Level::Error, message.trim());
        report.kind = kind;
        report.frames = self.frames.iter().rev().cloned().collect();
        // The outermost step is the test itself.
        let test = self.title.rsplit([' ', '.']).next().unwrap_or(&self.title);
        if let Some(outer) = report.frames.last_mut().filter(|f| f.function.is_none()) {
            outer.function = Some(test.to_owned());
        }
        Some(report)
    }
}
