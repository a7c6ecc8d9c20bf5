//! Ruby: uncaught exceptions (the place and function stand before the sentence, the kind behind
//! it), their causes, and scripts that cannot be read.

use super::{Begin, Draft, FRAME_CAP, Reader, Start, Take};
use izba_model::pattern::Pattern;
use izba_model::project::Project;
use izba_model::{Caret, Cause, Column, Level, Report, StackFrame};

/// Uncaught exceptions and parse errors of Ruby.
pub static READER: Reader = Reader {
    id: "ruby",
    name: "Ruby",
    begins,
    sample: "shop.rb:12:in `parse': the menu is unreadable (MenuError)",
};

static HEAD: Pattern = Pattern::new(concat!(
    r"^(?P<file><internal:[^>]+>",
    r"|[^\s:][^:]*):(?P<line>\d+):in [`'](?P<function>[^']*)': (?P<message>.*?)(?:",
    r" \((?P<kind>[A-Z][\w:]*)\))?$"
));
static STEP: Pattern = Pattern::new(concat!(
    r"^\s*(?:from |\d+: from )?(?P<file><internal:[^>]+>",
    r"|[^\s:][^:]*):(?P<line>\d+):in [`'](?P<function>[^']*)'$"
));
static PARSE: Pattern = Pattern::new(concat!(
    r"^(?:\S*ruby[\d.]*: )?(?P<file>-e|[^\s:]+\.(?:rb|ru",
    r"|rake)):(?P<line>\d+): (?P<message>(?:syntax error|unterminated|unexpected",
    r"|void value|dynamic constant|Invalid |formal argument|numeric literal",
    r"|embedded document|class definition|.* meets end of file).*)$"
));

#[derive(Debug)]
struct Raised {
    /// The exceptions, the outermost first, with their steps.
    raised: Vec<(Option<String>, String, Vec<StackFrame>)>,
}

#[derive(Debug)]
struct Unread {
    report: Report,
    echo: Option<String>,
}

fn frame(found: &regex::Captures<'_>) -> StackFrame {
    StackFrame {
        file: Some(found["file"].to_owned()),
        line: found["line"].parse().ok(),
        function: Some(
            found["function"]
                .trim_start_matches("block in ")
                .trim_start_matches("rescue in ")
                .to_owned(),
        ),
        ..StackFrame::default()
    }
}

/// A step on a line of its own, as it also stands under log records.
pub(super) fn step(text: &str) -> Option<StackFrame> {
    STEP.found(text.trim_end()).map(|found| frame(&found))
}

fn begins(start: &Start<'_>) -> Option<Begin> {
    let text = start.rest().trim_end();
    if let Some(found) = HEAD.found(text) {
        let kind = found.name("kind").map(|k| k.as_str().to_owned());
        // Without a kind it takes the steps below to be sure.
        let confidence = if kind.is_some() { 85 } else { 30 };
        return Begin::new(
            confidence,
            Raised { raised: vec![(kind, found["message"].to_owned(), vec![frame(&found)])] },
        );
    }
    let found = PARSE.found(text)?;
    let mut report = Report::new(READER.id, Level::Error, &found["message"]);
    report.head = Some(StackFrame {
        file: Some(found["file"].to_owned()),
        line: found["line"].parse().ok(),
        ..StackFrame::default()
    });
    Begin::new(80, Unread { report, echo: None })
}

impl Draft for Raised {
    fn take(&mut self, text: &str, _project: &Project) -> Take {
        let Some((_, _, frames)) = self.raised.last_mut() else { return Take::Refused };
        if let Some(step) = step(text).filter(|_| text.starts_with(['\t', ' '])) {
            if frames.len() < FRAME_CAP {
                frames.push(step);
            }
            return Take::Took;
        }
        if text.starts_with("\t ... ") && text.ends_with(" levels...") {
            return Take::Took;
        }
        // What caused it comes right behind it, in the same form; the same again is another one.
        let again = self.raised.first().is_some_and(|(_, _, f)| {
            HEAD.found(text.trim_end()).is_some_and(|h| f.first() == Some(&frame(&h)))
        });
        let Some((kind, message, frames)) = self.raised.last_mut() else { return Take::Refused };
        if let Some(found) = HEAD
            .found(text.trim_end())
            .filter(|f| f.name("kind").is_some() && frames.len() > 1 && !again)
        {
            self.raised.push((
                found.name("kind").map(|k| k.as_str().to_owned()),
                found["message"].to_owned(),
                vec![frame(&found)],
            ));
            return Take::Took;
        }
        if frames.len() == 1 && kind.is_none() {
            // A sentence of several lines has its kind at the end of one of them.
            let words = text.trim_end();
            if let Some((said, found)) =
                words.strip_suffix(')').and_then(|w| w.rsplit_once(" (")).filter(|(_, k)| {
                    k.starts_with(|c: char| c.is_ascii_uppercase()) && !k.contains(' ')
                })
            {
                *message = format!("{message}\n{said}");
                *kind = Some(found.to_owned());
                return Take::Took;
            }
        }
        // The line at fault is shown, with marks, before the steps come.
        let shown = frames.len() == 1 && text.starts_with(' ');
        if text.is_empty() || shown { Take::Held } else { Take::Refused }
    }

    fn report(&self) -> Option<Report> {
        let (kind, message, frames) = self.raised.first()?;
        if kind.is_none() && frames.len() < 2 {
            return None;
        }
        let mut report = Report::new(READER.id, Level::Error, message.as_str());
        (report.kind, report.frames) = (kind.clone(), frames.clone());
        report.causes = self.raised[1..]
            .iter()
            .map(|(kind, message, frames)| Cause {
                kind: kind.clone(),
                message: message.clone(),
                frames: frames.clone(),
            })
            .collect();
        Some(report)
    }
}

impl Draft for Unread {
    fn take(&mut self, text: &str, _project: &Project) -> Take {
        let marks = text.trim();
        if let Some(echo) = self.echo.take() {
            if !marks.is_empty() && marks.bytes().all(|b| matches!(b, b'^' | b'~')) {
                let start = text.find(['^', '~']).map_or(0, |at| text[..at].chars().count());
                self.report.head.get_or_insert_default().column =
                    Some(Column::chars(start as u32 + 1));
                self.report.caret = Some(Caret { echo, start, len: marks.len() });
                return Take::Took;
            }
            return Take::Refused;
        }
        if self.report.caret.is_some() || marks.is_empty() || PARSE.is_match(text.trim_end()) {
            return Take::Refused;
        }
        self.echo = Some(text.to_owned());
        Take::Held
    }

    fn report(&self) -> Option<Report> {
        Some(self.report.clone())
    }
}
