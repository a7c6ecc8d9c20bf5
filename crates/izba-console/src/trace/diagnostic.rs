//! What compilers say before a program runs: a place, a level, a sentence, often the line with a
//! caret under it.

use super::{Begin, Draft, Reader, Start, Take};
use crate::read::{FoundPlace, find_place};
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
static NOTE: Pattern = Pattern::new(r"^:? ?(?:note|info|hint|help)\b.*: ");
static DETAIL: Pattern =
    Pattern::new(r"^\s+(?:symbol|location|required|found|reason)\s*: *(?P<what>.*)$");

#[derive(Debug)]
struct Diagnostic {
    report: Report,
    echo: Option<String>,
    marked: bool,
}

fn begins(start: &Start<'_>) -> Option<Begin> {
    let rest = start.rest();
    if let Some(begin) = lettered(start) {
        return Some(begin);
    }
    let spaced = || spaced_place(rest).filter(|p| start.project.find(p.file).is_some());
    let place = find_place(rest, 0).filter(|p| p.span.0 == 0).or_else(spaced)?;
    if let Some(message) = LINKER.found(&rest[place.span.1..]).map(|c| c["message"].to_owned()) {
        let mut report = Report::new(READER.id, Level::Error, message);
        report.head = Some(StackFrame {
            file: Some(place.file.to_owned()),
            line: Some(place.line),
            column: place.column,
            ..StackFrame::default()
        });
        return Begin::new(85, Diagnostic { report, echo: None, marked: true });
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
    Begin::new(85, Diagnostic { report, echo: None, marked: false })
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
    Begin::new(85, Diagnostic { report, echo: None, marked: false })
}

impl Draft for Diagnostic {
    fn take(&mut self, text: &str, _project: &Project) -> Take {
        let marks = text.trim().trim_start_matches('|').trim();
        let is_marks = !marks.is_empty()
            && marks.bytes().all(|b| matches!(b, b'^' | b'~' | b' '))
            && marks.starts_with(['^', '~']);
        if is_marks && let Some(echo) = self.echo.take() {
            let start = text.find(['^', '~']).map_or(0, |at| text[..at].chars().count());
            let head = self.report.head.get_or_insert_default();
            if head.column.is_none() {
                head.column = Some(Column::chars(start as u32 + 1));
            }
            self.report.caret = Some(Caret { echo, start, len: 1 });
            self.marked = true;
            return Take::Took;
        }
        if let Some(detail) = DETAIL.found(text) {
            self.report.details.push(detail["what"].to_owned());
            return Take::Took;
        }
        // Places below it that are set in belong to it, with what is shown of them.
        if text.starts_with("  ")
            && find_place(text.trim(), 0).is_some_and(|p| p.span == (0, text.trim().len()))
        {
            self.echo = None;
            return Take::Took;
        }
        if let Some(place) = find_place(text, 0).filter(|p| p.span.0 == 0) {
            return if NOTE.is_match(&text[place.span.1..]) { Take::Took } else { Take::Refused };
        }
        if text.trim_start().starts_with(|c: char| c.is_ascii_digit()) && text.contains(" | ")
            || text.trim_start().starts_with("| ")
        {
            self.echo = Some(text.to_owned());
            return Take::Held;
        }
        if !self.marked && self.echo.is_none() && !text.trim().is_empty() {
            self.echo = Some(text.to_owned());
            return Take::Held;
        }
        Take::Refused
    }

    fn report(&self) -> Option<Report> {
        Some(self.report.clone())
    }
}
