//! What is known of one file: its language, its tree or data, and what does not parse in it.

use super::page::{Element, Style};
use super::{Datum, Tree};
use crate::claim::{Piece, Saying};
use crate::dialect::Language;
use std::sync::{Arc, OnceLock};

/// One rung of the ladder of blocks: what is opened, and where it is closed.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Rung {
    /// The sign or word that opens it.
    pub opener: Box<str>,
    /// Line of the opener, from 1.
    pub from: u32,
    /// Line of its closer, where it has one.
    pub to: Option<u32>,
    /// How deep it stands, from 0.
    pub depth: u32,
    /// What disagrees here.
    pub clash: Clash,
}

/// How a rung disagrees with the way the script is indented.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum Clash {
    /// It agrees.
    #[default]
    None,
    /// Nothing closes it.
    Open,
    /// Its closer stands at another depth than its opener.
    Slanted,
    /// It closes what nothing opened.
    Stray,
}

/// One place that does not parse, with the repair that lets the rest be read.
#[derive(Debug, Clone, PartialEq)]
pub struct SyntaxFault {
    /// Where to mend it: line from 1.
    pub line: u32,
    /// The last line of the span that it may be in; the same as `line` when that is certain.
    pub to_line: u32,
    /// Byte of the file where the repair goes.
    pub at: usize,
    /// The repair to the byte, in the file as it is; `None` where none is known, or where it would
    /// be in what another repair put in.
    pub piece: Option<Piece>,
    /// What is wrong, as a sentence without a full stop: “the closing ) is missing”.
    pub what: Saying,
    /// What was seen, with lines.
    pub seen: Vec<(u32, Saying)>,
    /// How sure, 0 to 1.
    pub confidence: f32,
    /// The line as it would be.
    pub mended: Option<String>,
    /// Other repairs after which it parses too, best first: line, what, confidence.
    pub others: Vec<(u32, Saying, f32)>,
    /// Where the parser notices, from 1.
    pub noticed: u32,
}

/// What is known of one file.
#[derive(Debug, Clone)]
pub struct FileFacts {
    /// Path relative to the project, with `/`.
    pub path: Arc<str>,
    /// Its language.
    pub language: Language,
    /// Its text.
    pub text: Arc<str>,
    /// Code as a tree; empty for data.
    pub tree: Tree,
    /// Keys and values of data; empty for code.
    pub data: Vec<Datum>,
    /// Elements of a page that scripts ask for, and its scripts, in their order; empty for all else.
    pub elements: Vec<Element>,
    /// Classes that the styles of a sheet or page are for; empty for all else.
    pub styles: Vec<Style>,
    /// Whether it does not parse as it stands.
    pub broken: bool,
    /// What does not parse, first one first. Of code it stays empty until repairs were tried, which
    /// takes its time.
    pub faults: Vec<SyntaxFault>,
    /// Blocks that end at another depth than they begin.
    pub slanted: Vec<Rung>,
    /// Where its lines begin.
    pub lines: Lines,
}

/// Where the lines of a text begin; worked out with the first question.
#[derive(Debug, Clone, Default)]
pub struct Lines(OnceLock<Box<[u32]>>);

impl Lines {
    /// The byte at which each line begins; a line break at the end begins none.
    fn of(&self, text: &str) -> &[u32] {
        self.0.get_or_init(|| {
            let behind =
                text.bytes().enumerate().filter(|(_, b)| *b == b'\n').map(|(at, _)| at + 1);
            let begins = std::iter::once(0).chain(behind).filter(|at| *at < text.len());
            begins.map(|at| at as u32).collect()
        })
    }
}

impl FileFacts {
    /// Line `number` (from 1) of its text.
    pub fn line(&self, number: u32) -> Option<&str> {
        let starts = self.lines.of(&self.text);
        let from = *starts.get((number as usize).checked_sub(1)?)? as usize;
        self.text[from..].lines().next()
    }

    /// The bytes of line `number` (from 1) of its text, without the end of the line.
    pub fn line_span(&self, number: u32) -> Option<std::ops::Range<usize>> {
        let starts = self.lines.of(&self.text);
        let from = *starts.get((number as usize).checked_sub(1)?)? as usize;
        let line = self.text[from..].lines().next()?;
        Some(from..from + line.len())
    }

    /// How many lines its text has.
    pub fn line_count(&self) -> u32 {
        self.lines.of(&self.text).len() as u32
    }

    /// Line (from 1) of a byte of the text.
    pub fn line_of(&self, byte: usize) -> u32 {
        let starts = self.lines.of(&self.text);
        // Behind the last line break a line begins even where nothing stands on it.
        let last = u32::from(byte >= self.text.len() && self.text.ends_with('\n'));
        (starts.partition_point(|at| *at as usize <= byte) as u32 + last).max(1)
    }

    /// The name of the file without its folders.
    pub fn name(&self) -> &str {
        self.path.rsplit('/').next().unwrap_or(&self.path)
    }

    /// Name without folders and ending.
    pub fn stem(&self) -> &str {
        let name = self.name();
        name.split_once('.').map_or(name, |(stem, _)| stem)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    impl FileFacts {
        fn of_text(text: &str) -> FileFacts {
            FileFacts {
                path: "a.lua".into(),
                language: Language::of("a.lua").expect("a dialect"),
                text: text.into(),
                tree: Tree::default(),
                data: Vec::new(),
                elements: Vec::new(),
                styles: Vec::new(),
                broken: false,
                faults: Vec::new(),
                slanted: Vec::new(),
                lines: Lines::default(),
            }
        }
    }

    proptest::proptest! {
        /// Lines by their numbers are those of the text, and each byte lies on its line.
        #[test]
        fn lines_are_those_of_the_text(text in "[a\r\n]{0,12}") {
            let lines = Lines::default();
            let starts = lines.of(&text);
            proptest::prop_assert_eq!(starts.len(), text.lines().count());
            for (at, line) in starts.iter().zip(text.lines()) {
                proptest::prop_assert_eq!(text[*at as usize..].lines().next(), Some(line));
            }
            let file = FileFacts::of_text(&text);
            for byte in 0..=text.len() {
                let before = text[..byte].matches('\n').count() as u32;
                proptest::prop_assert_eq!(file.line_of(byte), before + 1);
            }
        }
    }
}
