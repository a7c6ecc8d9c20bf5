//! Failed tests under a bullet with their names: `● bell › rings twice`, and set in below it what
//! was expected or thrown, the source, and steps.

use super::at_form::read_head;
use super::{Begin, Draft, FRAME_CAP, Inside, Reader, Start, Take, at_frames};
use izba_model::pattern::Pattern;
use izba_model::project::Project;
use izba_model::{Level, Report};

/// Failed tests under bullets.
pub static READER: Reader = Reader {
    id: "bulleted",
    name: "failed tests under bullets",
    begins,
    sample: "  ● bell › rings twice",
};

static HEAD: Pattern = Pattern::new(r"^\s{0,8}● (?P<name>\S.{0,200})$");
/// What a test says of a comparison.
static COMPARED: Pattern =
    Pattern::new(r"^(?i:(?:expected|received|actual|got|wanted|difference)\b.*:|expect\()");
/// A line of the source, with its number.
static SHOWN: Pattern = Pattern::new(r"^>? ?\d* ?\|");
/// Lines below one bullet.
const LINES: usize = 400;

#[derive(Debug)]
struct Test {
    name: String,
    lines: Vec<String>,
    /// Whether something below says that it failed.
    failed: bool,
    inside: Inside,
}

fn begins(start: &Start<'_>) -> Option<Begin> {
    let found = HEAD.found(start.text.trim_end())?;
    let name = found["name"].trim().to_owned();
    // A name alone may be an item of any list.
    (name.contains(" › ") || name.contains("failed")).then_some(())?;
    Begin::new(60, Test { name, lines: Vec::new(), failed: false, inside: start.inside })
}

impl Draft for Test {
    fn take(&mut self, text: &str, _project: &Project) -> Take {
        let words = text.trim();
        if self.lines.len() >= LINES || HEAD.is_match(text.trim_end()) {
            return Take::Refused;
        }
        if words.is_empty() {
            self.lines.push(String::new());
            return Take::Held;
        }
        if !text.starts_with("    ") {
            return Take::Refused;
        }
        self.lines.push(text.trim_end().to_owned());
        self.failed |= read_head(words).is_some()
            || COMPARED.is_match(words)
            || at_frames::step(words).is_some();
        if self.failed { Take::Took } else { Take::Held }
    }

    fn report(&self) -> Option<Report> {
        if !self.failed {
            return None;
        }
        let set_in = |l: &&String| !l.is_empty();
        let indent = |l: &String| l.len() - l.trim_start().len();
        let least = self.lines.iter().filter(set_in).map(indent).min().unwrap_or(0);
        let body = |l: &String| l.get(least..).unwrap_or("").to_owned();
        let lines: Vec<String> = self.lines.iter().map(body).collect();
        // What was thrown tells itself.
        let thrown = lines.iter().any(|l| read_head(l).is_some());
        let inner = thrown.then(|| (self.inside)(&lines.join("\n"), &Project::default())).flatten();
        let mut report = inner.unwrap_or_else(|| {
            let said = |l: &&String| !l.trim().is_empty() && !SHOWN.is_match(l.trim());
            let mut told = lines.iter().filter(said).map(|l| l.trim());
            let first = told.next().unwrap_or(&self.name);
            let first = first.split(" // ").next().unwrap_or(first);
            let compared: Vec<&str> = told.filter(|l| COMPARED.is_match(l)).take(2).collect();
            let message = match compared.is_empty() {
                true => first.to_owned(),
                false => format!("{first}: {}", compared.join(", ")),
            };
            Report::new(READER.id, Level::Error, message)
        });
        if report.frames.is_empty() {
            let steps = self.lines.iter().filter_map(|l| at_frames::step(l.trim()));
            report.frames = steps.take(FRAME_CAP).collect();
        }
        report.handler = report.handler.or_else(|| Some(self.name.clone()));
        Some(report)
    }
}
