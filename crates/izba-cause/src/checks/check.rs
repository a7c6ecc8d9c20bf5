//! What a check without running is, and what it finds.

use crate::suspect::{Arrow, SymbolIndex};
use izba_model::claim::Evidence;
use izba_model::code::{FileFacts, Index};
use serde::Serialize;
use std::sync::Arc;

/// One thing that is found wrong in the code or data.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Remark {
    /// Id of the check.
    pub check: &'static str,
    /// Path relative to the project.
    pub file: Arc<str>,
    /// Line, from 1; 0 for the file as a whole.
    pub line: u32,
    /// Last line.
    pub to_line: u32,
    /// What is wrong, as a sentence without a full stop.
    pub text: String,
    /// How sure, 0 to 1.
    pub confidence: f32,
    /// What was seen.
    pub evidence: Vec<Evidence>,
    /// Whether it stops the script from running at all.
    pub stops: bool,
    /// Of a ring its arrows in order; the last one closes it and is the cheapest to cut.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub ring: Vec<Arrow>,
}

impl Remark {
    /// What it is known by when the user says “I know”: it survives edits elsewhere in the file.
    pub fn key(&self) -> String {
        format!("{} {} {}", self.check, self.file, self.text)
    }

    /// Adds what was seen.
    pub(super) fn saw(mut self, file: &Arc<str>, line: u32, saw: impl Into<String>) -> Remark {
        self.evidence.push(Evidence { file: file.clone(), line, saw: saw.into() });
        self
    }
}

/// All files with their words, as the checks see them.
pub struct Look<'a> {
    /// The files.
    pub index: &'a Index,
    /// All words of them.
    pub symbols: SymbolIndex<'a>,
}

/// One check.
pub struct Check {
    /// The file's name.
    pub id: &'static str,
    /// What it is called on the screen.
    pub title: &'static str,
    /// Looks.
    pub look: fn(&Look<'_>) -> Vec<Remark>,
}

/// A remark of a check about one line.
pub(super) fn remark(
    check: &'static str,
    file: &FileFacts,
    line: u32,
    confidence: f32,
    text: impl Into<String>,
) -> Remark {
    Remark {
        check,
        file: file.path.clone(),
        line,
        to_line: line,
        text: text.into(),
        confidence,
        evidence: Vec::new(),
        stops: false,
        ring: Vec::new(),
    }
}
