//! A sentence about a place of the project that bears no level: `quay/boat.x:3: expected ')'`,
//! `deploy.sh: line 4: no such command`, `File "a/b.x", line 14: a lamp is missing`; and what a
//! tool says when the system refuses it something, `cat: bell.wav: No such file or directory`.

use super::{Begin, Draft, Reader, Start, Take};
use crate::read::{find_place, place_at_start};
use izba_model::pattern::Pattern;
use izba_model::project::Project;
use izba_model::{Caret, Column, Level, Report, StackFrame};

/// Sentences about a place.
pub static READER: Reader =
    Reader { id: "placed", name: "sentences about a place", begins, sample: "" };

/// `path: line 3: sentence`, as shells write it.
static LINE: Pattern = Pattern::new(
    r"^(?P<file>[^:]{1,200}): (?:line (?P<line>\d{1,7})|(?P<bare>\d{1,7})): (?P<message>.+)$",
);
/// `File "path", line 3: sentence`, and the like.
static FILE: Pattern = Pattern::new(concat!(
    r#"^(?i:in )?(?i:file )?["'](?P<file>[^"']{1,200})["'],? (?:on |at )?line (?P<line>\d{1,7})"#,
    r"(?:, col(?:umn)? (?P<column>\d{1,5}))?(?:, (?:in|near) [^:]{1,60})?: (?P<message>.+)$"
));
/// What a build tool gives up with: behind its name or a place, three stars.
static STARS: Pattern =
    Pattern::new(r"^(?P<who>[^:]{1,200}(?::\d{1,7})?): \*\*\* (?P<said>.+?)(?:\s+Stop\.)?$");
/// What a shell says of a script that it reads from elsewhere.
static SHELL: Pattern = Pattern::new(r"^(?:\S*/)?(?:ba|da|k|z)?sh: (?:line )?\d+: (?P<said>.+)$");
/// What a program says with the kind of an exception behind it, in brackets.
static KIND: Pattern =
    Pattern::new(r"^[\w.+-]{1,30}: (?P<said>[^()]+) \((?P<kind>[A-Z]\w*(?:Error|Exception))\)$");
/// A code of a few letters and a number before a sentence, as tools write that look for slips.
static CODE: Pattern = Pattern::new(r"^(?P<code>[A-Z]{1,4}\d{2,5}):? (?P<said>\S.*)$");
/// What the system says when it refuses something.
const REFUSED: [&str; 13] = [
    "No such file or directory",
    "Permission denied",
    "Is a directory",
    "Not a directory",
    "File exists",
    "Directory not empty",
    "Read-only file system",
    "No space left on device",
    "Connection refused",
    "Address already in use",
    "Exec format error",
    "command not found",
    "not found",
];

/// `tool: what it was about: what the system says`.
fn is_refused(text: &str) -> bool {
    let tool = text.split(": ").next().unwrap_or("");
    let plain = |c: char| c.is_alphanumeric() || "_.+-".contains(c);
    let said = |end: &str| text.strip_suffix(end).is_some_and(|before| before.ends_with(": "));
    (1..=30).contains(&tool.len())
        && tool.chars().all(plain)
        && text.len() < 300
        && REFUSED.iter().any(|end| said(end))
}

/// Words with which a sentence tells that something is wrong.
pub(super) static WRONG: Pattern = Pattern::new(concat!(
    r"(?i-u)\b(?:expected|unexpected|undefined|undeclared|unknown|unbound|unterminated|unclosed",
    r"|invalid|illegal|missing|mismatch\w*|not found|not defined|not declared|no such|no method",
    r"|cannot|can't|could not|couldn't|must (?:be|have|not)|failed|fails|failure|unable|denied",
    r"|too (?:many|few)|already defined|redefin\w+|duplicate|out of (?:range|bounds|memory)",
    r"|syntax error|parse error|not allowed|forbidden|divi(?:de|sion) by zero|overflow\w*",
    r"|never (?:set|defined|closed)|means nothing|is not an?|there is no|null|nil)\b"
));

#[derive(Debug)]
struct Placed {
    report: Report,
    echo: Option<String>,
    lines: u32,
}

fn begins(start: &Start<'_>) -> Option<Begin> {
    if start.prefix.level.is_some() || start.prefix.timed {
        return None;
    }
    let rest = start.rest().trim_end();
    if let Some(found) = Some(rest).filter(|r| r.contains(": *** ")).and_then(|r| STARS.found(r)) {
        let mut report = Report::new(READER.id, Level::Error, found["said"].trim());
        report.head = at(found["who"].trim(), start.project);
        return Begin::new(60, Placed { report, echo: None, lines: 9 });
    }
    let placed = placed(rest, start.project);
    if placed.is_none() {
        if let Some(found) = Some(rest).filter(|r| r.contains("sh: ")).and_then(|r| SHELL.found(r))
        {
            let report = Report::new(READER.id, Level::Error, found["said"].trim());
            return Begin::new(45, Placed { report, echo: None, lines: 9 });
        }
        if let Some(found) = Some(rest).filter(|r| r.ends_with(')')).and_then(|r| KIND.found(r)) {
            let mut report = Report::new(READER.id, Level::Error, found["said"].trim());
            report.kind = Some(found["kind"].to_owned());
            return Begin::new(45, Placed { report, echo: None, lines: 9 });
        }
        let refused = is_refused(rest).then(|| Report::new(READER.id, Level::Error, rest))?;
        return Begin::new(45, Placed { report: refused, echo: None, lines: 9 });
    }
    let (frame, message, shell) = placed?;
    if let Some(found) = CODE.found(message) {
        let mut report = Report::new(READER.id, Level::Warning, found["said"].trim());
        report.code = Some(found["code"].to_owned());
        report.head = Some(frame);
        return Begin::new(50, Placed { report, echo: None, lines: 0 });
    }
    if !shell && !WRONG.is_match(message) {
        return None;
    }
    let mut report = Report::new(READER.id, Level::Error, message.trim());
    report.head = Some(frame);
    Begin::new(50, Placed { report, echo: None, lines: 0 })
}

/// An own file with a line behind a colon.
fn at(text: &str, project: &Project) -> Option<StackFrame> {
    let (file, line) = text.rsplit_once(':')?;
    project.find(file)?;
    let line = line.parse().ok();
    Some(StackFrame { file: Some(file.to_owned()), line, ..StackFrame::default() })
}

/// The place in the project that a line begins with, its sentence, and whether the form itself
/// tells of an error.
fn placed<'a>(text: &'a str, project: &Project) -> Option<(StackFrame, &'a str, bool)> {
    let there = |file: &str, line: u32| {
        let file = project.file(&project.find(file)?)?;
        let lines = file.text.as_ref().map(|t| t.lines().count() as u32 + 1)?;
        (1..=lines).contains(&line).then_some(())
    };
    let frame = |file: &str, line: u32, column: Option<Column>| StackFrame {
        file: Some(file.to_owned()),
        line: Some(line),
        column,
        ..StackFrame::default()
    };
    let lined = text.contains("line ")
        || text
            .match_indices(": ")
            .any(|(at, _)| text[at + 2..].starts_with(|c: char| c.is_ascii_digit()));
    let worded = lined.then(|| LINE.found(text).or_else(|| FILE.found(text))).flatten();
    if let Some(found) = worded {
        let digits = found.name("line").or_else(|| found.name("bare"))?.as_str();
        let line = digits.parse().ok()?;
        let file = found.name("file")?.as_str();
        there(file, line)?;
        let column = found.name("column").and_then(|c| c.as_str().parse().ok()).map(Column::chars);
        let worded = found.name("line").is_some();
        return Some((frame(file, line, column), found.name("message")?.as_str(), worded));
    }
    let place = place_at_start(text)?;
    let message = text[place.span.1..].strip_prefix(": ")?;
    there(place.file, place.line)?;
    Some((frame(place.file, place.line, place.column), message, false))
}

impl Draft for Placed {
    fn take(&mut self, text: &str, _project: &Project) -> Take {
        self.lines += 1;
        let marks = text.trim();
        let marked = !marks.is_empty()
            && marks.contains('^')
            && marks.bytes().all(|b| matches!(b, b'^' | b'~' | b'-' | b' ' | b'|'));
        if let (true, Some(echo)) = (marked, self.echo.take()) {
            let start = text.find('^').map_or(0, |at| text[..at].chars().count());
            self.report.caret = Some(Caret { echo, start, len: 1 });
            return Take::Took;
        }
        // The line itself may be shown, with a mark below it.
        if self.lines == 1 && !marks.is_empty() && find_place(text, 0).is_none_or(|p| p.span.0 > 0)
        {
            self.echo = Some(text.to_owned());
            return Take::Held;
        }
        Take::Refused
    }

    fn report(&self) -> Option<Report> {
        Some(self.report.clone())
    }
}

#[cfg(test)]
mod tests {
    use crate::Reading;
    use crate::read::Layouts;
    use crate::trace::Lanes;
    use izba_model::project::{Project, ProjectFile};

    fn told(console: &str) -> Vec<String> {
        let file =
            |path: &str| ProjectFile { path: path.into(), text: Some("a\nb\nc\nd\n".into()) };
        let project =
            Project::new("/srv/x", vec![file("quay/boat.x"), file("my quay/deploy it.sh")]);
        let layouts = Layouts::default();
        let reading = Reading { project: &project, layouts: &layouts };
        let (mut lanes, mut found) = (Lanes::default(), Vec::new());
        for (at, line) in console.lines().enumerate() {
            lanes.line(at as u64, None, line, reading, &mut |a| found.push(a));
        }
        lanes.finish(reading, &mut |a| found.push(a));
        let one = |r: &izba_model::Report| {
            let head = r.head.clone().unwrap_or_default();
            let (file, line) = (head.file.unwrap_or_default(), head.line.unwrap_or(0));
            format!("{file}:{line} {}", r.message)
        };
        found.iter().map(|a| one(&a.report)).collect()
    }

    #[test]
    fn what_is_said_of_a_place_is_an_error_without_a_level() {
        assert_eq!(told("quay/boat.x:3: expected ')'"), ["quay/boat.x:3 expected ')'"]);
        assert_eq!(
            told("my quay/deploy it.sh: line 2: bakery: command not found"),
            ["my quay/deploy it.sh:2 bakery: command not found"]
        );
        assert_eq!(
            told("File \"quay/boat.x\", line 4: a lamp is missing"),
            ["quay/boat.x:4 a lamp is missing"]
        );
        assert_eq!(told("cat: bell.wav: No such file or directory").len(), 1);
        assert_eq!(told("play: no such bell -- x.wav (LoadError)"), [":0 no such bell -- x.wav"]);
        assert_eq!(told("make: *** no rule for bell.  Stop."), [":0 no rule for bell."]);
        assert_eq!(told("quay/boat.x:2: *** no rope.  Stop."), ["quay/boat.x:2 no rope."]);
        assert_eq!(told("quay/boat.x:3:1: W605 an odd sign"), ["quay/boat.x:3 an odd sign"]);
    }

    #[test]
    fn what_is_printed_with_a_place_is_not() {
        for healthy in [
            "quay/boat.x:3: the ferry leaves",
            "other/file.x:3: expected ')'",
            "quay/boat.x:900: expected ')'",
            "12:00:01 quay/boat.x:3: a lamp is missing",
            "note: nothing: not found here",
        ] {
            assert_eq!(told(healthy), Vec::<String>::new(), "{healthy}");
        }
    }
}
