//! Steps and causes under any entry whose reader knows none, in whatever form they are printed: a
//! line with a place or an address, numbered or behind `at`, `in`, `from`, its place on the same
//! line or the next.

use super::excerpt::{self, Excerpt, Row};
use super::general::indented_step;
use super::{FRAME_CAP, Take};
use crate::read::find_place;
use izba_model::pattern::Pattern;
use izba_model::{Cause, Report, StackFrame};

/// What stands over a list of steps.
static HEADER: Pattern = Pattern::new(
    r"(?i)^\W*(?:(?:stack ?)?(?:back|call)?[- ]?trace(?: \(.*\))?|(?:stack )?traceback(?: \(.*\))?|(?:call )?stack|called from|script stack|.*\(?most recent call (?:first|last)\)?)\W*$",
);
/// What stands over a list of causes.
static CAUSES: Pattern = Pattern::new(r"(?i)^(?:caused by|because|reasons?):$");
/// A step with a number or an address before it.
static NUMBERED: Pattern = Pattern::new(concat!(
    r"^\s*(?:#?\[?(?P<number>\d{1,4})\]?[:.)]?\s+)(?:0x[0-9a-fA-F]+:?\s+)?",
    r"(?:-\s+|in\s+|at\s+)?(?P<rest>\S.*)$"
));
/// A step behind a word or a sign.
static BEHIND: Pattern = Pattern::new(concat!(
    r"^\s*(?:[Aa]t:?|in|from|by|(?i:(?:re-)?raised (?:by [a-z ]+ )?at|called from|called by)|❯|→|↳|>|-|#)\s+",
    r"(?:0x[0-9a-fA-F]+:?\s+(?:in\s+|-\s+)?)?(?P<rest>\S.*)$"
));

/// Steps and causes so far.
#[derive(Debug, Clone, Default)]
pub(super) struct Steps {
    frames: Vec<StackFrame>,
    causes: Vec<String>,
    /// Whether their heading was seen.
    headed: bool,
    in_causes: bool,
    blanks: u32,
    /// A function whose place is still to come.
    called: Option<String>,
    /// The number of the last step that has one.
    number: Option<u32>,
    /// The code that is shown.
    shown: Excerpt,
}

/// The place that a line names, in any of the forms of a step.
pub fn place_in(text: &str) -> Option<StackFrame> {
    let (file, line, column) = match find_place(text, 0) {
        Some(place) => (place.file.to_owned(), place.line, place.column),
        None => worded_place(text).map(|(file, line, _)| (file, line, None))?,
    };
    Some(StackFrame { file: Some(file), line: Some(line), column, ..StackFrame::default() })
}

/// Whether a line stands over a list of steps or causes.
pub(super) fn is_heading(text: &str) -> bool {
    let words = text.trim();
    HEADER.is_match(words) || CAUSES.is_match(words)
}

impl Steps {
    /// Looks at the next line below the entry.
    pub(super) fn take(&mut self, text: &str) -> Take {
        let words = text.trim();
        if !self.headed && self.number.is_none() {
            let row = match self.shown.file {
                Some(_) => excerpt::row_of_file(text),
                None => excerpt::row(text),
            };
            if let Some(row) = row {
                return self.show(row);
            }
        }
        if words.is_empty() {
            self.blanks += 1;
            self.in_causes = false;
            return if self.blanks <= 2 { Take::Held } else { Take::Refused };
        }
        if HEADER.is_match(words) && self.frames.is_empty() {
            (self.headed, self.in_causes) = (true, false);
            return Take::Held;
        }
        if CAUSES.is_match(words) {
            self.in_causes = true;
            return Take::Held;
        }
        if self.in_causes && text.starts_with([' ', '\t']) {
            let numbered = NUMBERED.found(text).map(|found| found["rest"].to_owned());
            self.causes.push(numbered.unwrap_or_else(|| words.to_owned()));
            return Take::Took;
        }
        self.in_causes = false;
        if !self.frames.is_empty() && words.starts_with("... ") {
            return Take::Took;
        }
        if let Some((number, rest)) = numbered(text) {
            return self.counted(text, number, &rest);
        }
        if (self.headed || !self.frames.is_empty())
            && let Some(frame) = super::lua::step(text)
        {
            return self.push(frame);
        }
        let behind = BEHIND.found(text).map(|found| found["rest"].to_owned());
        let placed = match &behind {
            Some(rest) => step_of(rest),
            None if self.headed || !self.frames.is_empty() => step_of(words),
            None => indented_step(text).and_then(|_| step_of(words)),
        };
        match placed {
            Some(frame) => self.push(frame),
            None => Take::Refused,
        }
    }

    /// A row of the code that is shown below an error. Rows without a number belong to it if one
    /// that is meant follows.
    fn show(&mut self, row: Row) -> Take {
        let sure = match &row {
            Row::Field => false,
            Row::Code { number, meant, .. } => {
                *meant && self.shown.is_seen() || number.is_some() || self.shown.file.is_some()
            }
            Row::Mark(_) => self.shown.is_seen(),
            Row::File(_) => true,
        };
        self.shown.take(row);
        if sure { Take::Took } else { Take::Held }
    }

    /// A step with a number: they go up by one.
    fn counted(&mut self, text: &str, number: u32, rest: &str) -> Take {
        let next = match self.number {
            Some(last) => number == last + 1 || number == 0,
            None => number <= 1,
        };
        if !next || !(self.headed || self.number.is_some() || text.starts_with([' ', '\t', '#'])) {
            return Take::Refused;
        }
        // A second list tells of something else, such as where a value came from.
        let again = self.number.is_some() && number == 0;
        self.number = Some(number);
        if again {
            return Take::Took;
        }
        if let Some(called) = self.called.take() {
            self.push(StackFrame { function: Some(called), ..StackFrame::default() });
        }
        if let Some(frame) = step_of(rest) {
            return self.push(frame);
        }
        self.called = Some(rest.to_owned());
        if self.headed || !self.frames.is_empty() { Take::Took } else { Take::Held }
    }

    fn push(&mut self, frame: StackFrame) -> Take {
        let function = frame.function.clone().or_else(|| self.called.take());
        if self.frames.len() < FRAME_CAP {
            self.frames.push(StackFrame { function, ..frame });
        }
        Take::Took
    }

    /// Adds them to what its reader understood.
    pub(super) fn add_to(&self, report: &mut Report) {
        if report.head.is_none() {
            report.head.clone_from(&self.shown.file);
        }
        if let Some(head) = &mut report.head {
            self.shown.complete(head);
        }
        if report.frames.is_empty() {
            report.frames.clone_from(&self.frames);
            let rest = self.called.iter().map(|called| StackFrame {
                function: Some(called.clone()),
                ..StackFrame::default()
            });
            report.frames.extend(rest.filter(|_| !self.frames.is_empty()));
        }
        if report.causes.is_empty() {
            let cause = |message: &String| Cause {
                kind: None,
                message: message.clone(),
                frames: Vec::new(),
            };
            report.causes = self.causes.iter().map(cause).collect();
        }
    }
}

fn numbered(text: &str) -> Option<(u32, String)> {
    let found = NUMBERED.found(text)?;
    Some((found["number"].parse().ok()?, found["rest"].to_owned()))
}

/// Reads a step without what counts it: a place, and the words before or behind it.
fn step_of(text: &str) -> Option<StackFrame> {
    let text = text.trim_end();
    let (file, line, column, span) = match find_place(text, 0) {
        Some(p) => (p.file.to_owned(), p.line, p.column, p.span),
        None => {
            let (file, line, span) = worded_place(text)?;
            (file, line, None, span)
        }
    };
    let before =
        text[..span.0].trim().trim_end_matches(['(', '[', '@', ' ', '-', '–', ',']).trim_end();
    let words = [" in file", " in", "(at", "(in", " at"];
    let before = words.iter().find_map(|w| before.strip_suffix(w)).unwrap_or(before).trim_end();
    let after = text[span.1..].trim_start_matches([':', ')', ']', ',', '.', ' ', '\t']).trim();
    if before.split_whitespace().count() > 6 || after.split_whitespace().count() > 5 {
        return None;
    }
    let words = ["in function ", "in method ", "in "].iter().find_map(|w| after.strip_prefix(w));
    let named = |w: &str| {
        let w = w.trim_matches(['\'', '`', '"', '<', '>', ' ']);
        (!w.is_empty()).then(|| w.to_owned())
    };
    let function = words
        .and_then(named)
        .or_else(|| named(before).filter(|w| !["from", "at", "in", "by"].contains(&w.as_str())))
        .or_else(|| named(after));
    Some(StackFrame { file: Some(file), line: Some(line), column, function, own: None })
}

/// `file, line 3`, `"file" line 3`, `file (line 3)`.
pub(super) fn worded_place(text: &str) -> Option<(String, u32, (usize, usize))> {
    static WORDED: Pattern = Pattern::new(
        r#"["'(]?(?P<file>[^\s"'(),:]+\.\w{1,8})["')]?,? ?\(?(?:on |at )?line (?P<line>\d{1,7})\)?"#,
    );
    let found = WORDED.found(text)?;
    let all = found.get(0)?;
    Some((found["file"].to_owned(), found["line"].parse().ok()?, (all.start(), all.end())))
}

#[cfg(test)]
mod tests {
    use super::*;
    use izba_model::Level;
    use proptest::prelude::*;

    fn read(lines: &str) -> (usize, Report) {
        let mut steps = Steps::default();
        let taken = lines.lines().take_while(|l| steps.take(l) != Take::Refused).count();
        let mut report = Report::new("x", Level::Error, "x");
        steps.add_to(&mut report);
        (taken, report)
    }

    fn told(lines: &str) -> Vec<String> {
        let (_, report) = read(lines);
        let one = |f: &StackFrame| {
            let (file, line) = (f.file.as_deref().unwrap_or("-"), f.line.unwrap_or(0));
            format!("{} {file}:{line}", f.function.as_deref().unwrap_or("-"))
        };
        report.frames.iter().map(one).collect()
    }

    #[test]
    fn steps_of_forms_that_nobody_listed_are_read() {
        let oar = ["Boat.row quay/boat.x:12", "main quay/main.x:3"];
        for form in [
            "  Boat.row (at quay/boat.x:12)\n  main (at quay/main.x:3)",
            "\n ❯ Boat.row quay/boat.x:12:4\n ❯ main quay/main.x:3:1",
            "#0 0x0000555 in Boat.row quay/boat.x:12\n#1  0x0000556 in main quay/main.x:3",
            "Stack backtrace:\n   0: Boat.row\n             at quay/boat.x:12\n   1: main\n      at quay/main.x:3",
            "  at Boat.row (quay/boat.x:12)\n  at main (quay/main.x:3)",
            "Call stack:\nBoat.row, quay/boat.x line 12\nmain, quay/main.x line 3",
            "Raised at Boat.row in file \"quay/boat.x\", line 12\nCalled from main in file \"quay/main.x\", line 3",
            "    from quay/boat.x:12:in `Boat.row'\n    from quay/main.x:3:in `main'",
        ] {
            assert_eq!(told(form), oar, "{form}");
        }
    }

    #[test]
    fn what_is_no_step_is_left_alone() {
        for other in [
            "boat.x:12: the next error",
            "the ferry leaves",
            "  a sentence that names boat.x:12: it is set in",
            "3 cars on deck",
            "2026-11-29 09:00 boat.x:12 leaves",
        ] {
            assert_eq!(read(other).0, 0, "{other}");
        }
        let (_, report) =
            read("\nCaused by:\n    0: reading the log\n    1: No such file\n\nthe end");
        let causes: Vec<&str> = report.causes.iter().map(|c| c.message.as_str()).collect();
        assert_eq!(causes, ["reading the log", "No such file"]);
    }

    proptest! {
        #[test]
        fn any_lines_are_answered(lines in "([ \t#a-z0-9:.(),❯-]{0,30}\n){0,8}") {
            let _ = read(&lines);
        }
    }
}
