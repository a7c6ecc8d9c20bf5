//! What compilers say before a program runs: a place, a level, a sentence, often the line with a
//! caret under it.

use super::{Begin, Draft, Reader, Start, Take};
use crate::read::{FoundPlace, find_place, place_at_start};
use izba_model::pattern::Pattern;
use izba_model::project::Project;
use izba_model::{Caret, Column, Level, Report, StackFrame};

/// Compile diagnostics in the `file:line:` and `file(line,column):` styles.
pub static READER: Reader = Reader {
    id: "diagnostic",
    name: "compilers",
    begins,
    sample: "tickets/Gate.cs(12,9): error CS1002: ; expected",
};

static SAYS: Pattern = Pattern::new(concat!(
    r"^(?: -|:)? ?(?P<level>(?i:fatal error)|(?i:(?:internal |runtime )?error)",
    r"|(?i:warning))(?:[ \[](?P<code>[A-Za-z]+[-_]?\d+|[\w-]+)\]?)?: (?P<message>.+)$"
));
/// What linkers say of a place, without calling it an error.
static LINKER: Pattern = Pattern::new(
    r"^: (?P<message>(?:undefined reference to|multiple definition of|undefined symbol).*)$",
);
static NOTE: Pattern = Pattern::new(
    r"^:? ?(?:(?:note|info|hint|help)\b[^:]*: +|  +(?:required|recursively) )(?P<said>.*)$",
);
/// A file that brings in the one at fault, one of several.
static BROUGHT: Pattern = Pattern::new(r"^(?:In file included| +) from (?P<place>\S+?)[,:]?$");
static DETAIL: Pattern =
    Pattern::new(r"^\s+(?:symbol|location|required|found|reason)\s*: *(?P<what>.*)$");

#[derive(Debug)]
struct Diagnostic {
    report: Report,
    echo: Option<String>,
    marked: bool,
    /// What comes tells of another place.
    aside: bool,
    blanks: u32,
}

impl Diagnostic {
    fn new(report: Report) -> Diagnostic {
        Diagnostic { report, echo: None, marked: false, aside: false, blanks: 0 }
    }
}

/// A diagnostic under the files that bring in the one at fault.
#[derive(Debug, Default)]
struct Led {
    brought: Vec<StackFrame>,
    inner: Option<Diagnostic>,
}

fn begins(start: &Start<'_>) -> Option<Begin> {
    let rest = start.rest();
    if let Some(begin) = lettered(start) {
        return Some(begin);
    }
    if rest.starts_with("In file included") {
        let mut led = Led::default();
        led.take(rest, start.project);
        return if led.brought.is_empty() { None } else { Begin::new(60, led) };
    }
    Begin::new(85, diagnosed(rest, start.project)?)
}

/// A place with a level and a sentence behind it.
fn diagnosed(rest: &str, project: &Project) -> Option<Diagnostic> {
    let spaced = || spaced_place(rest).filter(|p| project.find(p.file).is_some());
    let place = place_at_start(rest).or_else(spaced)?;
    if let Some(message) = LINKER.found(&rest[place.span.1..]).map(|c| c["message"].to_owned()) {
        let mut report = Report::new(READER.id, Level::Error, message);
        report.head = Some(StackFrame {
            file: Some(place.file.to_owned()),
            line: Some(place.line),
            column: place.column,
            ..StackFrame::default()
        });
        return Some(Diagnostic { marked: true, ..Diagnostic::new(report) });
    }
    let says = SAYS.found(&rest[place.span.1..])?;
    let level =
        if says["level"].eq_ignore_ascii_case("warning") { Level::Warning } else { Level::Error };
    let message = says["message"].trim();
    // Build tools add the project file in brackets.
    let message =
        message.strip_suffix(']').and_then(|m| m.rsplit_once(" [")).map_or(message, |(m, _)| m);
    // Compilers name the switch that asked for a warning behind it.
    let switch = says["message"]
        .trim()
        .strip_suffix(']')
        .and_then(|m| m.rsplit_once(" ["))
        .map(|(_, s)| s)
        .filter(|s| s.starts_with('-') || is_code(s));
    let mut report = Report::new(READER.id, level, message);
    // What a checker says while the program runs is a kind of its own.
    let running = says["level"].to_ascii_lowercase().starts_with("runtime");
    report.kind = running.then(|| "runtime error".to_owned());
    report.code = says.name("code").map(|c| c.as_str()).or(switch).map(str::to_owned);
    report.head = Some(StackFrame {
        file: Some(place.file.to_owned()),
        line: Some(place.line),
        column: place.column,
        ..StackFrame::default()
    });
    Some(Diagnostic::new(report))
}

/// Whether a word in brackets behind a sentence is a code to search for, and no project.
fn is_code(word: &str) -> bool {
    word.contains(|c: char| c.is_ascii_lowercase())
        && word.chars().all(|c| c.is_ascii_lowercase() || c.is_ascii_digit() || c == '-')
}

/// A place whose file has blanks in its name, before a level.
fn spaced_place(text: &str) -> Option<FoundPlace<'_>> {
    static SPACED: Pattern = Pattern::new(
        r"^(?P<file>[^:]{1,200}):(?P<line>\d{1,7}):(?:(?P<column>\d{1,5}):)? (?:fatal )?(?:error|warning)\b",
    );
    let found = SPACED.captures(text)?;
    let number = |part: &str| found.name(part).and_then(|n| n.as_str().parse::<u32>().ok());
    let end = found.name("column").or(found.name("line"))?.end();
    Some(FoundPlace {
        file: found.name("file")?.as_str(),
        line: number("line")?,
        column: number("column").map(Column::chars),
        span: (0, end),
    })
}

/// `e: place message` and `w: place message`, also with `(line, column)` behind a file.
fn lettered(start: &Start<'_>) -> Option<Begin> {
    static LETTER: Pattern = Pattern::new(concat!(
        r"^(?P<level>[ew]): (?:file://)?(?P<file>[^\s:]+\.\w+)(?::(?P<line>\d+):",
        r"(?P<column>\d+)|: \((?P<row>\d+), (?P<col>\d+)\)):? (?P<message>.+)$"
    ));
    let found = LETTER.found(start.text.trim_end())?;
    let number = |a: &str, b: &str| {
        found.name(a).or(found.name(b)).and_then(|n| n.as_str().parse::<u32>().ok())
    };
    let mut report = Report::new(
        READER.id,
        if &found["level"] == "w" { Level::Warning } else { Level::Error },
        &found["message"],
    );
    report.head = Some(StackFrame {
        file: Some(found["file"].to_owned()),
        line: number("line", "row"),
        column: number("column", "col").map(Column::chars),
        ..StackFrame::default()
    });
    Begin::new(85, Diagnostic::new(report))
}

impl Draft for Led {
    fn take(&mut self, text: &str, project: &Project) -> Take {
        if let Some(inner) = &mut self.inner {
            return inner.take(text, project);
        }
        if let Some(found) = BROUGHT.found(text) {
            self.brought.extend(find_place(&found["place"], 0).map(|place| place.frame()));
            return Take::Took;
        }
        // In which function, or for which template, it is.
        let told = text.contains(": In ") && text.ends_with(':');
        match diagnosed(text, project) {
            Some(inner) => self.inner = Some(inner),
            None if told => return Take::Held,
            None => return Take::Refused,
        }
        Take::Took
    }

    fn report(&self) -> Option<Report> {
        let mut report = self.inner.as_ref()?.report()?;
        for place in &self.brought {
            report.relate("brings it in", place.clone());
        }
        Some(report)
    }
}

impl Draft for Diagnostic {
    fn take(&mut self, text: &str, _project: &Project) -> Take {
        let marks = text.trim().trim_start_matches('|').trim();
        let is_marks = !marks.is_empty()
            && marks.bytes().all(|b| matches!(b, b'^' | b'~' | b' '))
            && marks.starts_with(['^', '~']);
        if is_marks && let Some(echo) = self.echo.take() {
            let start = text.find(['^', '~']).map_or(0, |at| text[..at].chars().count());
            // What is shown under a note is marked as well.
            if self.report.related.is_empty() {
                let head = self.report.head.get_or_insert_default();
                if head.column.is_none() {
                    head.column = Some(Column::chars(start as u32 + 1));
                }
                self.report.caret = Some(Caret { echo, start, len: 1 });
            }
            self.marked = true;
            return Take::Took;
        }
        if let Some(detail) = DETAIL.found(text) {
            self.report.details.push(detail["what"].to_owned());
            return Take::Took;
        }
        // What it adds in sentences.
        let words = text.trim();
        let sentence = words.starts_with(|c: char| c.is_ascii_uppercase()) && words.ends_with('.');
        if text.starts_with("  ") && sentence && self.echo.is_none() && !self.marked {
            self.report.details.push(words.to_owned());
            return Take::Took;
        }
        // Under another place: its source, what is marked there, and what is said of it.
        if self.aside && text.starts_with("    ") {
            let coded = words.starts_with(|c: char| c.is_ascii_digit());
            let marked = words.bytes().all(|b| matches!(b, b'^' | b'~' | b' '));
            if let Some(last) = self.report.related.last_mut().filter(|_| !coded && !marked) {
                last.words = words.to_owned();
            }
            return Take::Took;
        }
        if words.is_empty() {
            self.blanks += 1;
            self.aside = false;
            return if self.blanks <= 3 { Take::Held } else { Take::Refused };
        }
        // Places below it that are set in belong to it, with what is shown of them.
        if text.starts_with("  ")
            && find_place(text.trim(), 0).is_some_and(|p| p.span == (0, text.trim().len()))
        {
            if let Some(place) = find_place(text.trim(), 0) {
                self.report.relate("", place.frame());
            }
            (self.echo, self.aside) = (None, true);
            return Take::Took;
        }
        // From where the next place was brought in: of this one, if a note follows.
        if BROUGHT.is_match(text) {
            return Take::Held;
        }
        if let Some(place) = find_place(text, 0).filter(|p| p.span.0 == 0) {
            let Some(note) = NOTE.found(&text[place.span.1..]) else { return Take::Refused };
            self.report.relate(&note["said"], place.frame());
            // What is shown of it follows.
            (self.echo, self.marked) = (None, false);
            return Take::Took;
        }
        if text.trim_start().starts_with(|c: char| c.is_ascii_digit()) && text.contains(" | ")
            || text.trim_start().starts_with("| ")
        {
            self.echo = Some(text.to_owned());
            return Take::Held;
        }
        if !self.marked && self.echo.is_none() {
            self.echo = Some(text.to_owned());
            return Take::Held;
        }
        Take::Refused
    }

    fn report(&self) -> Option<Report> {
        Some(self.report.clone())
    }
}
