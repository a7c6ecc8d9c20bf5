//! The code that a tool shows below an error: rows with a number and a bar, the mark below one of
//! them, and the row that names its file.

use crate::read::find_place;
use izba_model::pattern::Pattern;
use izba_model::{Column, StackFrame};

/// A row with a line's number: `> 24 | draw();`, `  3 │ draw()`.
static NUMBERED: Pattern =
    Pattern::new(r"^\s*(?P<sign>[>❯→»*]?)\s*(?P<number>\d{1,7}) *(?P<bar>[|│┃¦])(?P<code>.*)$");
/// A row without one: `| draw();`, `>   draw();`.
static BARE: Pattern = Pattern::new(r"^\s*(?P<sign>[|│┃¦>])(?P<code>(?:\s.*)?)$");
/// A row with a colon behind its number, which only stands below the name of a file: `24: draw();`.
static COLON: Pattern = Pattern::new(r"^ *(?P<number>\d{1,7}):(?P<code>(?: .*)?)$");
/// The mark below a row.
static MARK: Pattern = Pattern::new(r"^\s*(?P<bar>[|│┃¦╵]?)(?P<gap>\s*)(?:[\^~]+|[╰┬─]{2,}.*)\s*$");
/// What names the file: `File: src/sea.js:1:22`.
static FILE: Pattern =
    Pattern::new(r"^\s*(?i:in |at )?(?i:file|source|module)\s*: *(?P<path>\S+[./]\S+)$");
/// Another row of the same kind: `Plugin: lines`.
static FIELD: Pattern = Pattern::new(r"^\s{2,}[A-Z][a-z]+: \S+$");

/// What a line below an error is.
#[derive(Debug, Clone, PartialEq)]
pub(super) enum Row {
    /// A line of the shown code.
    Code {
        /// Its number.
        number: Option<u32>,
        /// Whether a sign before it says that it is meant.
        meant: bool,
        /// Characters before the code.
        from: usize,
    },
    /// The mark below it, with the characters before it.
    Mark(usize),
    /// The file.
    File(StackFrame),
    /// Something else about the error.
    Field,
}

/// What a line is, when it belongs to shown code.
pub(super) fn row(text: &str) -> Option<Row> {
    let text = text.trim_end();
    if let Some(found) = FILE.found(text) {
        let path = &found["path"];
        let frame = match find_place(path, 0).filter(|p| p.span.0 == 0) {
            Some(place) => place.frame(),
            None => StackFrame { file: Some(path.to_owned()), ..StackFrame::default() },
        };
        return Some(Row::File(frame));
    }
    let chars = |to: usize| text[..to].chars().count();
    if let Some(found) = NUMBERED.found(text) {
        let code = found.name("code")?;
        // The rows of a table have a bar on their other side too.
        if code.as_str().trim_end().ends_with(['|', '│']) && code.as_str().len() > 2 {
            return None;
        }
        return Some(Row::Code {
            number: found["number"].parse().ok(),
            meant: !found["sign"].is_empty(),
            from: chars(code.start()) + blanks(code.as_str()),
        });
    }
    if let Some(found) = MARK.found(text) {
        return Some(Row::Mark(chars(found.name("gap")?.end())));
    }
    if let Some(found) = BARE.found(text) {
        let code = found.name("code")?;
        return Some(Row::Code {
            number: None,
            meant: &found["sign"] == ">",
            from: chars(code.start()) + blanks(code.as_str()),
        });
    }
    FIELD.is_match(text).then_some(Row::Field)
}

/// What a line below the name of a file is.
pub(super) fn row_of_file(text: &str) -> Option<Row> {
    row(text).or_else(|| {
        let found = COLON.found(text.trim_end())?;
        let code = found.name("code")?;
        let from = text[..code.start()].chars().count() + blanks(code.as_str());
        Some(Row::Code { number: found["number"].parse().ok(), meant: false, from })
    })
}

/// The blanks that set the code off from its bar: one or two.
fn blanks(code: &str) -> usize {
    code.chars().take_while(|c| *c == ' ').count().min(1)
}

/// The rows below one error.
#[derive(Debug, Clone, Default)]
pub(super) struct Excerpt {
    /// The file that a row named.
    pub(super) file: Option<StackFrame>,
    /// The last row with code: its number, and the characters before it.
    last: Option<(Option<u32>, usize)>,
    meant: Option<(u32, Option<u32>)>,
}

impl Excerpt {
    /// Takes one row.
    pub(super) fn take(&mut self, row: Row) {
        match row {
            Row::File(frame) => self.file = self.file.take().or(Some(frame)),
            Row::Code { number, meant, from } => {
                self.last = Some((number, from));
                if let Some(number) = number.filter(|_| meant) {
                    self.meant = Some((number, None));
                }
            }
            Row::Mark(at) => {
                if let Some((Some(number), from)) = self.last {
                    let column = (at >= from).then(|| (at - from) as u32 + 1);
                    self.meant = Some((number, column));
                }
            }
            Row::Field => {}
        }
    }

    /// Whether a row of code or of a file was seen.
    pub(super) fn is_seen(&self) -> bool {
        self.file.is_some() || self.last.is_some()
    }

    /// Says in a place which line and column were meant, where it does not say so itself.
    pub(super) fn complete(&self, frame: &mut StackFrame) {
        let Some((line, column)) = self.meant else { return };
        let same = frame.line.is_none_or(|own| own == line);
        if same {
            frame.line = Some(line);
            frame.column = frame.column.or(column.map(Column::chars));
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn meant(text: &str) -> (Option<String>, Option<u32>, Option<u32>) {
        let mut excerpt = Excerpt::default();
        text.lines().filter_map(row_of_file).for_each(|row| excerpt.take(row));
        let mut frame = excerpt.file.clone().unwrap_or_default();
        excerpt.complete(&mut frame);
        (frame.file, frame.line, frame.column.map(|c| c.number))
    }

    #[test]
    fn the_meant_row_is_found_in_each_form() {
        let file = Some("src/quay.x".to_owned());
        for text in [
            "  File: src/quay.x:7:5\n  6  |  rope\n  7  |  tie()\n     |      ^\n  8  |  go",
            "file: src/quay.x\n  6 | rope\n> 7 |     tie()\n    |     ^^^\n  8 | go",
            "file: src/quay.x\n\n6: rope\n7:     tie()\n       ^\n8: go",
            "In file: src/quay.x\n      7 │     tie()\n        ╵     ~~~",
        ] {
            let (named, line, column) = meant(text);
            assert_eq!((named, line), (file.clone(), Some(7)), "{text}");
            assert_eq!(column, Some(5), "{text}");
        }
    }

    #[test]
    fn what_shows_no_code_is_no_row() {
        for text in [
            "3 boats | 4 lamps",
            "| Heron | 12 |",
            "12 | Heron | 4 |",
            "  the file: it was open",
            "File: none",
            "src/quay.x:7: rope",
            "~ the tide turns",
        ] {
            assert_eq!(row(text).filter(|r| !matches!(r, Row::Code { number: None, .. })), None);
        }
    }

    proptest! {
        #[test]
        fn any_line_is_answered(text in "[ |>^~0-9a-zé:│╵./]{0,40}") {
            let mut excerpt = Excerpt::default();
            if let Some(row) = row(&text) {
                excerpt.take(row);
            }
        }
    }
}
