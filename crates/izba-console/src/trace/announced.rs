//! An error whose place is told first and its sentence below: `Tool Error at list.x:15 (find):`,
//! and a drawn frame around the source under its sentence, `╭─[ src/a.x:3:27 ]`.

use super::{Begin, Draft, Reader, Start, Take};
use crate::read::{find_place, split_prefix};
use izba_model::pattern::Pattern;
use izba_model::project::Project;
use izba_model::{Column, Level, Report, StackFrame};

/// A place, and the sentence below or above it.
pub static READER: Reader = Reader {
    id: "announced",
    name: "a place with its sentence below",
    begins,
    sample: "Build Error at quay/list.txt:15 (find_rope):",
};

static ANNOUNCED: Pattern = Pattern::new(concat!(
    r"^(?:[\w.+-]+ ){0,3}(?P<level>Error|ERROR|error|Warning|WARNING|warning)(?: \([^)]*\))?",
    r" (?:at|in|on) (?P<rest>\S.*):$"
));
static DRAWN: Pattern = Pattern::new(r"^\s*[╭┌]─+\[? ?(?P<place>[^\]]+?) ?\]?$");

/// A place alone, over the source and the sentence: `File "a/b.x", line 4, characters 2-6:`.
static PLACED: Pattern = Pattern::new(
    r#"^(?i:file )"(?P<file>[^"]{1,200})", line (?P<line>\d{1,7})(?:, char(?:acter)?s? (?P<column>\d+)(?:-\d+)?)?:$"#,
);
/// The sentence below the source.
static SAID: Pattern = Pattern::new(
    r"^(?P<level>Error|Warning)(?: \d+)?(?: \[(?P<code>[\w-]+)\])?(?: \([^)]*\))?: (?P<said>.+)$",
);

#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Form {
    /// The sentence stands below, set in.
    Below,
    /// The sentence stood above; a drawn frame shows the source.
    Drawn,
    /// The source is shown, and the sentence behind a level below it.
    Shown,
}

#[derive(Debug)]
struct Announced {
    report: Report,
    form: Form,
    over: bool,
    lines: u32,
}

fn begins(start: &Start<'_>) -> Option<Begin> {
    let text = start.text.trim_end();
    if !text.ends_with([':', ']', '─']) {
        return None;
    }
    let frame = |text: &str| find_place(text, 0).map(|place| place.frame());
    if let Some(found) = DRAWN.found(text) {
        let place = frame(&found["place"])?;
        let before = start.before?.trim();
        if before.is_empty() {
            return None;
        }
        let prefix = split_prefix(before);
        let message = before[prefix.level.map_or(0, |_| prefix.rest_at)..].trim();
        // A code in brackets may stand before the sentence.
        let (code, message) = match message.strip_prefix('[').and_then(|m| m.split_once("] ")) {
            Some((code, rest)) if !code.contains(' ') => (Some(code.to_owned()), rest),
            _ => (None, message),
        };
        let level = prefix.level.unwrap_or(Level::Error).max(Level::Warning);
        let mut report = Report::new(READER.id, level, message);
        (report.code, report.head) = (code, Some(place));
        let begin = Begin::new(70, Announced { report, form: Form::Drawn, over: false, lines: 0 })?;
        return Some(Begin { takes_before: true, ..begin });
    }
    if let Some(found) = PLACED.found(text) {
        let mut report = Report::new(READER.id, Level::Error, "");
        report.head = Some(StackFrame {
            file: Some(found["file"].to_owned()),
            line: found["line"].parse().ok(),
            column: found
                .name("column")
                .and_then(|c| c.as_str().parse::<u32>().ok())
                .map(|from| Column::chars(from + 1)),
            ..StackFrame::default()
        });
        return Begin::new(72, Announced { report, form: Form::Shown, over: false, lines: 0 });
    }
    let found = ANNOUNCED.found(text)?;
    let place = frame(&found["rest"])?;
    let level = Level::from_word(&found["level"])?;
    let mut report = Report::new(READER.id, level, "");
    report.head = Some(place);
    Begin::new(60, Announced { report, form: Form::Below, over: false, lines: 0 })
}

impl Draft for Announced {
    fn take(&mut self, text: &str, _project: &Project) -> Take {
        self.lines += 1;
        let words = text.trim();
        if self.over || self.lines > 60 {
            return Take::Refused;
        }
        if self.form == Form::Shown {
            if let Some(found) = SAID.found(words).filter(|_| self.report.message.is_empty()) {
                self.report.level = Level::from_word(&found["level"]).unwrap_or(Level::Error);
                self.report.code = found.name("code").map(|c| c.as_str().to_owned());
                self.report.message = found["said"].to_owned();
                return Take::Took;
            }
            let shown = words.starts_with(|c: char| c.is_ascii_digit()) && words.contains('|')
                || !words.is_empty()
                    && words.bytes().all(|b| matches!(b, b'^' | b'~' | b' ' | b'.'));
            let goes_on = !self.report.message.is_empty() && text.starts_with("    ");
            return if shown || goes_on { Take::Took } else { Take::Refused };
        }
        if self.form == Form::Drawn {
            self.over = words.ends_with(['╯', '┘']) || words.starts_with(['╰', '└']);
            let framed = words.starts_with(['│', '┃', '|', '╰', '└', '─', '·', '*'])
                || words.starts_with(|c: char| c.is_ascii_digit())
                || self.over;
            return if framed { Take::Took } else { Take::Refused };
        }
        if words.is_empty() {
            return Take::Held;
        }
        if !text.starts_with([' ', '\t']) {
            return Take::Refused;
        }
        if self.report.message.is_empty() {
            self.report.message = words.to_owned();
        }
        Take::Took
    }

    fn report(&self) -> Option<Report> {
        (!self.report.message.is_empty()).then(|| self.report.clone())
    }
}
