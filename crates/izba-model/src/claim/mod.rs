//! What a check claims: places that may be guilty, reasons with their verdicts, and what was seen.
//! A claim is a value; its words are made from it in [`saying`], in one place.

mod fix;
pub mod saying;

pub use fix::{Change, Fix, Piece};
pub use saying::{About, Fill, Kind, Saying, Slot, Words, misworded};

use serde::Serialize;
use std::sync::Arc;

/// From this confidence on a suspect's reason is called likely.
pub const LIKELY: f32 = 0.6;
/// From this confidence on a suspect is worth a look while none is likely.
pub const WORTH: f32 = 0.1;
/// Beside a likely one a suspect is worth a look from this confidence on: the others would lead away
/// from it.
pub const WORTH_BESIDE: f32 = 0.3;
/// What Izba found when it looked into a reason.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize)]
#[serde(rename_all = "kebab-case")]
pub enum Verdict {
    /// Something was seen that speaks for it.
    Likely,
    /// It could not be seen.
    CantTell,
    /// What was seen speaks against it.
    RuledOut,
}

impl Verdict {
    /// The word with which a verdict is told.
    pub fn word(self) -> &'static str {
        match self {
            Verdict::Likely => "likely",
            Verdict::CantTell => "can't tell",
            Verdict::RuledOut => "ruled out",
        }
    }
}

/// What was seen, and where.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
pub struct Evidence {
    /// Path relative to the project.
    pub file: Arc<str>,
    /// Line, from 1; 0 for the file as a whole.
    pub line: u32,
    /// What stands there.
    pub saw: Saying,
}

/// A claim with what was seen for it or against it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Claim {
    /// What is claimed.
    pub says: Saying,
    /// What was seen, and where.
    pub evidence: Vec<Evidence>,
}

impl Claim {
    /// Of which kind it is.
    pub fn kind(&self) -> &'static Kind {
        self.says.kind
    }

    /// What the claim is about, so that others may hold what they see against it.
    pub fn about(&self) -> About {
        self.says.kind.about()
    }

    /// The name that it is about.
    pub fn subject(&self) -> Option<&str> {
        self.says.subject()
    }

    /// The id of the check that claims it.
    pub fn check(&self) -> &'static str {
        self.says.kind.of()
    }

    /// Adds evidence: what was seen, and where.
    pub fn saw(&mut self, file: &Arc<str>, line: u32, saw: Saying) -> &mut Claim {
        self.evidence.push(Evidence { file: file.clone(), line, saw });
        self
    }
}

impl From<Saying> for Claim {
    fn from(says: Saying) -> Claim {
        Claim { says, evidence: Vec::new() }
    }
}

/// A place that may be guilty.
#[derive(Debug, Clone, PartialEq)]
pub struct Suspect {
    /// Path relative to the project.
    pub file: Arc<str>,
    /// First line, from 1; 0 for the file as a whole.
    pub line: u32,
    /// Last line, from 1; the same as `line` where it is one.
    pub to_line: u32,
    /// Why.
    pub claim: Claim,
    /// How sure, 0 to 1. From [`LIKELY`] on it is the share of suspects as sure as this one that were
    /// guilty, in programs whose guilty line is known; what is right less often stays below.
    pub confidence: f32,
    /// The edit that would mend it, where it is known to the byte.
    pub fix: Option<Fix>,
}

/// One thing that may have led to the error, with what was found out about it.
#[derive(Debug, Clone, PartialEq)]
pub struct Reason {
    /// What may have happened.
    pub claim: Claim,
    /// What was found.
    pub verdict: Verdict,
}

impl Suspect {
    /// Why, as a sentence without a full stop.
    pub fn reason(&self) -> String {
        self.claim.says.to_string()
    }

    /// Whether it is only what the console names anyway.
    pub fn is_reported(&self) -> bool {
        self.claim.about() == About::Reported
    }

    /// Adds evidence: what was seen, and where.
    pub fn saw(&mut self, file: &Arc<str>, line: u32, saw: Saying) -> &mut Suspect {
        self.claim.saw(file, line, saw);
        self
    }

    /// Extends the place to a later line, which is one of it.
    pub fn to(&mut self, line: u32) -> &mut Suspect {
        self.to_line = line.max(self.line);
        self
    }
}

impl Reason {
    /// What may have happened, as a sentence without a full stop.
    pub fn text(&self) -> String {
        self.claim.says.to_string()
    }
}

impl Serialize for Suspect {
    fn serialize<S: serde::Serializer>(&self, to: S) -> Result<S::Ok, S::Error> {
        use serde::ser::SerializeStruct;
        let mut map = to.serialize_struct("Suspect", 8)?;
        map.serialize_field("file", &self.file)?;
        map.serialize_field("line", &self.line)?;
        map.serialize_field("to_line", &self.to_line)?;
        map.serialize_field("kind", self.claim.kind())?;
        if let Some(subject) = self.claim.subject() {
            map.serialize_field("subject", subject)?;
        }
        map.serialize_field("reason", &self.claim.says)?;
        map.serialize_field("confidence", &self.confidence)?;
        map.serialize_field("evidence", &self.claim.evidence)?;
        map.end()
    }
}

impl Serialize for Reason {
    fn serialize<S: serde::Serializer>(&self, to: S) -> Result<S::Ok, S::Error> {
        use serde::ser::SerializeStruct;
        let mut map = to.serialize_struct("Reason", 5)?;
        map.serialize_field("kind", self.claim.kind())?;
        if let Some(subject) = self.claim.subject() {
            map.serialize_field("subject", subject)?;
        }
        map.serialize_field("text", &self.claim.says)?;
        map.serialize_field("verdict", &self.verdict)?;
        map.serialize_field("evidence", &self.claim.evidence)?;
        map.end()
    }
}
