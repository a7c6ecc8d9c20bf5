//! What a check without running is, and what it finds.

use crate::suspect::{Arrow, SymbolIndex};
use izba_model::claim::{Claim, Kind, Saying};
use izba_model::code::{FileFacts, Index};
use serde::Serialize;
use std::sync::Arc;

/// One thing that is found wrong in the code or data.
#[derive(Debug, Clone, PartialEq)]
pub struct Remark {
    /// Path relative to the project.
    pub file: Arc<str>,
    /// Line, from 1; 0 for the file as a whole.
    pub line: u32,
    /// Last line, from 1; the same as `line` where it is one.
    pub to_line: u32,
    /// What is wrong.
    pub claim: Claim,
    /// How sure, 0 to 1.
    pub confidence: f32,
    /// Whether it stops the script from running at all.
    pub stops: bool,
    /// Of a ring its arrows in order; the last one closes it and is the cheapest to cut.
    pub ring: Vec<Arrow>,
}

impl Remark {
    /// What it is known by when the user says “I know”: it survives edits elsewhere in the file.
    pub fn key(&self) -> String {
        format!("{} {}", self.file, self.claim.says.identity())
    }

    /// What is wrong, as a sentence without a full stop.
    pub fn text(&self) -> String {
        self.claim.says.to_string()
    }

    /// The id of the check.
    pub fn check(&self) -> &'static str {
        self.claim.check()
    }

    /// Adds what was seen.
    pub(super) fn saw(mut self, file: &Arc<str>, line: u32, saw: Saying) -> Remark {
        self.claim.saw(file, line, saw);
        self
    }
}

/// All files with their words, as the checks see them.
pub struct Look<'a> {
    /// The files, but for those that are read only roughly.
    pub index: &'a Index,
    /// All files.
    pub whole: &'a Index,
    /// All words of them.
    pub symbols: SymbolIndex<'a>,
}

/// One check that runs without the program: what it is called and what it looks at.
pub struct Check {
    /// The file's name.
    pub id: &'static str,
    /// All that it may say.
    pub kinds: &'static [&'static Kind],
    /// What it is called on the screen.
    pub title: &'static str,
    /// Looks.
    pub look: fn(&Look<'_>) -> Vec<Remark>,
}

/// A remark of a check about one line.
pub(super) fn remark(file: &FileFacts, line: u32, confidence: f32, says: Saying) -> Remark {
    Remark {
        file: file.path.clone(),
        line,
        to_line: line,
        claim: says.into(),
        confidence,
        stops: false,
        ring: Vec::new(),
    }
}

impl Serialize for Remark {
    fn serialize<S: serde::Serializer>(&self, to: S) -> Result<S::Ok, S::Error> {
        use serde::ser::SerializeStruct;
        let mut map = to.serialize_struct("Remark", 11)?;
        map.serialize_field("check", self.check())?;
        map.serialize_field("file", &self.file)?;
        map.serialize_field("line", &self.line)?;
        map.serialize_field("to_line", &self.to_line)?;
        map.serialize_field("kind", self.claim.kind())?;
        if let Some(subject) = self.claim.subject() {
            map.serialize_field("subject", subject)?;
        }
        map.serialize_field("text", &self.claim.says)?;
        map.serialize_field("confidence", &self.confidence)?;
        map.serialize_field("evidence", &self.claim.evidence)?;
        map.serialize_field("stops", &self.stops)?;
        if !self.ring.is_empty() {
            map.serialize_field("ring", &self.ring)?;
        }
        map.end()
    }
}
