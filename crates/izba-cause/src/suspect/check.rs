//! What a way to find out is, and what it saw.

use super::alike::Alike;
use super::query::Query;
use super::ways::Ways;
use izba_model::claim::{Claim, Evidence, Kind, LIKELY, Reason, Saying, Suspect, Verdict};
use std::sync::Arc;

/// The answer for one error.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Findings {
    /// Places, most likely first.
    pub suspects: Vec<Suspect>,
    /// Reasons: likely ones first, then those that cannot be told, then those ruled out.
    pub reasons: Vec<Reason>,
    /// How to mend it.
    pub ways: Option<Ways>,
    /// Where the same is done in the same way as at the first suspect, if that is a likely one.
    pub alike: Vec<Alike>,
    /// Version of the index that was looked at.
    pub version: u64,
}

/// One mistake has one place: of suspects in their order only the first may be likely.
pub(super) fn one_is_likely(suspects: &mut [Suspect]) {
    for suspect in suspects.iter_mut().skip(1) {
        suspect.confidence = suspect.confidence.min(LIKELY - 0.02);
    }
}

/// What a suspect's reason says of it.
pub(super) fn verdict(suspect: &Suspect) -> Verdict {
    if suspect.confidence >= LIKELY { Verdict::Likely } else { Verdict::CantTell }
}

/// One way to find out.
pub struct Check {
    /// The file's name, with `-`.
    pub id: &'static str,
    /// All that it may say.
    pub kinds: &'static [&'static Kind],
    /// Whether it has anything to say of this error.
    pub applies: fn(&Query<'_>) -> bool,
    /// Looks.
    pub look: fn(&Query<'_>, &mut Seen),
}

/// What the checks have seen of one error so far: suspects, reasons and evidence.
#[derive(Debug, Default)]
pub struct Seen {
    pub(super) suspects: Vec<Suspect>,
    pub(super) reasons: Vec<Reason>,
}

impl Seen {
    /// A place that may be guilty. Of equal places the surest counts.
    pub fn suspect(
        &mut self,
        file: &Arc<str>,
        line: u32,
        confidence: f32,
        reason: Saying,
    ) -> &mut Suspect {
        let suspect = Suspect {
            file: file.clone(),
            line,
            to_line: line,
            claim: reason.into(),
            confidence: confidence.clamp(0.0, 0.97),
            fix: None,
        };
        self.suspects.push(suspect);
        self.suspects.last_mut().expect("it was just put in")
    }

    /// A reason with its verdict.
    pub fn reason(&mut self, verdict: Verdict, says: Saying, evidence: Vec<Evidence>) {
        self.reasons.push(Reason { claim: Claim { says, evidence }, verdict });
    }
}
