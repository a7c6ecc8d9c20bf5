//! What a way to find out is, and what it saw.

use super::alike::Alike;
use super::query::Query;
use super::ways::Ways;
use izba_model::claim::{Claim, Evidence, Kind, LIKELY, Reason, Saying, Suspect, Verdict};
use izba_model::code::NameEdit;
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

/// How strongly what a check saw at a place speaks for it: a kind of evidence, no number. How much
/// each counts is learned.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Strength {
    /// The error came by here; nothing odd was seen.
    Faint,
    /// It is odd, as much healthy code is.
    Weak,
    /// It is odd and has to do with what the error asks for; other ways are open.
    Fair,
    /// It explains the error, as some other thing may.
    Strong,
    /// It can't be right, and it explains the error.
    Plain,
}

impl Strength {
    /// All of them, weakest first.
    pub const ALL: [Strength; 5] =
        [Strength::Faint, Strength::Weak, Strength::Fair, Strength::Strong, Strength::Plain];

    /// Its name.
    pub fn word(self) -> &'static str {
        ["faint", "weak", "fair", "strong", "plain"][self as usize]
    }

    /// With so many more things that speak for it; with fewer, where it is below 0.
    pub fn with(self, more: i32) -> Strength {
        let at = (self as i32).saturating_add(more).clamp(0, Strength::ALL.len() as i32 - 1);
        Strength::ALL[at as usize]
    }

    /// Where it hangs on a slip of the pen: less, the less two names are alike.
    pub fn of_slip(self, slip: NameEdit) -> Strength {
        self.with(match slip {
            NameEdit::Letter | NameEdit::Case => 0,
            NameEdit::Edge | NameEdit::Letters => -1,
            NameEdit::Word => -2,
        })
    }
}

/// A place that a check points at.
#[derive(Debug)]
pub struct Sighting {
    pub(super) suspect: Suspect,
    pub(super) strength: Strength,
    /// How much the place has to do with what the error asks for, 0 to 1, where the check knows
    /// better than the way that was followed.
    pub(super) tie: Option<f32>,
}

impl Sighting {
    /// Adds evidence: what was seen, and where.
    pub fn saw(&mut self, file: &Arc<str>, line: u32, saw: Saying) -> &mut Sighting {
        self.suspect.saw(file, line, saw);
        self
    }

    /// How much the place has to do with what the error asks for, 0 to 1.
    pub fn tied(&mut self, tie: f32) -> &mut Sighting {
        self.tie = Some(tie.clamp(0.0, 1.0));
        self
    }

    /// Extends the place to a later line, which is one of it.
    pub fn to(&mut self, line: u32) -> &mut Sighting {
        self.suspect.to(line);
        self
    }
}

/// What the checks have seen of one error so far: suspects, reasons and evidence.
#[derive(Debug, Default)]
pub struct Seen {
    pub(super) suspects: Vec<Sighting>,
    pub(super) reasons: Vec<Reason>,
}

impl Seen {
    /// A place that may be guilty, and how strongly what was seen speaks for it.
    pub fn suspect(
        &mut self,
        file: &Arc<str>,
        line: u32,
        strength: Strength,
        reason: Saying,
    ) -> &mut Sighting {
        let suspect = Suspect {
            file: file.clone(),
            line,
            to_line: line,
            claim: reason.into(),
            confidence: 0.0,
            fix: None,
        };
        self.suspects.push(Sighting { suspect, strength, tie: None });
        self.suspects.last_mut().expect("it was just put in")
    }

    /// A reason with its verdict.
    pub fn reason(&mut self, verdict: Verdict, says: Saying, evidence: Vec<Evidence>) {
        self.reasons.push(Reason { claim: Claim { says, evidence }, verdict });
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_speaks_for_it_makes_it_stronger_and_never_more_than_plain() {
        assert_eq!(Strength::Weak.with(2), Strength::Strong);
        assert_eq!(Strength::Weak.with(-9), Strength::Faint);
        assert_eq!(Strength::Fair.with(i32::MAX), Strength::Plain);
        assert!(Strength::ALL.is_sorted());
    }

    #[test]
    fn the_less_alike_two_names_are_the_less_a_slip_says() {
        let of = |slip| Strength::Plain.of_slip(slip);
        assert_eq!(of(NameEdit::Letter), Strength::Plain);
        assert_eq!(of(NameEdit::Letters), Strength::Strong);
        assert_eq!(of(NameEdit::Word), Strength::Fair);
    }
}
