//! What is known of one file: its language, its tree or data, and what does not parse in it.

use super::{Datum, Tree};
use crate::claim::Saying;
use crate::dialect::Language;
use std::sync::Arc;

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
    /// Whether it does not parse as it stands.
    pub broken: bool,
    /// What does not parse, first one first. Of code it stays empty until repairs were tried, which
    /// takes its time.
    pub faults: Vec<SyntaxFault>,
    /// Blocks that end at another depth than they begin.
    pub slanted: Vec<Rung>,
}

impl FileFacts {
    /// Line `number` (from 1) of its text.
    pub fn line(&self, number: u32) -> Option<&str> {
        self.text.lines().nth((number as usize).checked_sub(1)?)
    }

    /// Line (from 1) of a byte of the text.
    pub fn line_of(&self, byte: usize) -> u32 {
        self.text.as_bytes().iter().take(byte).filter(|b| **b == b'\n').count() as u32 + 1
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
