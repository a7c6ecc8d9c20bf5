//! What a check claims: places that may be guilty, reasons with their verdicts, and what was seen.

use serde::Serialize;
use std::sync::Arc;

/// From this confidence on a suspect's reason is called likely.
pub const LIKELY: f32 = 0.6;
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
    /// As it is said.
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
    pub saw: String,
}

/// A place that may be guilty.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Suspect {
    /// Path relative to the project.
    pub file: Arc<str>,
    /// First line, from 1; 0 for the file as a whole.
    pub line: u32,
    /// Last line.
    pub to_line: u32,
    /// Why, as a sentence.
    pub reason: String,
    /// How sure, 0 to 1.
    pub confidence: f32,
    /// What was seen.
    pub evidence: Vec<Evidence>,
    /// Id of the check that found it.
    #[serde(skip)]
    pub check: &'static str,
}

/// One thing that may have led to the error, with what was found out about it.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Reason {
    /// What may have happened.
    pub text: String,
    /// What was found.
    pub verdict: Verdict,
    /// What was seen.
    pub evidence: Vec<Evidence>,
    /// Id of the check.
    #[serde(skip)]
    pub check: &'static str,
}

impl Suspect {
    /// Adds what was seen.
    pub fn saw(&mut self, file: &Arc<str>, line: u32, saw: impl Into<String>) -> &mut Suspect {
        self.evidence.push(Evidence { file: file.clone(), line, saw: saw.into() });
        self
    }

    /// Extends the place.
    pub fn to(&mut self, line: u32) -> &mut Suspect {
        self.to_line = line.max(self.line);
        self
    }
}
