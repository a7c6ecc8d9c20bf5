//! What a stop changes about the reasons: values that were seen make one likely or rule it out.

use super::remark::{FAILED, STOPPED, Shows, VALUE, VALUE_WITH_FIELDS, remarks};
use super::{Witness, is_nothing};
use crate::suspect::Findings;
use izba_model::claim::{
    About, Claim, Evidence, Fill, LIKELY, Reason, Saying, Slot, Suspect, Verdict,
};
use izba_model::code::Language;
use izba_model::say;

/// How sure a suspect is at least that a stop speaks for.
const SEEN: f32 = 0.85;

/// Weighs what was found about an error by what was seen when the program stopped in its line.
pub fn weigh(findings: &mut Findings, witness: &Witness, language: Language) {
    let remarks = remarks(language, &witness.values);
    let when = if witness.at_error { &FAILED } else { &STOPPED };
    let evidence = |what: Slot| Evidence {
        file: witness.file.clone(),
        line: witness.line,
        saw: Saying::new(when).with("what", &what),
    };
    let out_of_range = remarks.iter().find(|r| r.shows == Shows::OutOfRange);
    let there = values_there(witness, language);
    let speaks = |claim: &Claim| -> Option<(Verdict, &Saying)> {
        match (claim.about(), out_of_range) {
            (About::Range, Some(remark)) => Some((Verdict::Likely, &remark.says)),
            (About::Absence, Some(remark)) => Some((Verdict::RuledOut, &remark.says)),
            (About::Absence, None) => {
                let name = claim.subject()?;
                let (_, saw) = there.iter().find(|(spoken, _)| *spoken == name)?;
                Some((Verdict::RuledOut, saw))
            }
            _ => None,
        }
    };
    for suspect in &mut findings.suspects {
        let Some((verdict, saw)) = speaks(&suspect.claim) else { continue };
        suspect.claim.evidence.push(evidence(saw.fill()));
        match verdict {
            Verdict::Likely => suspect.confidence = suspect.confidence.max(SEEN),
            Verdict::RuledOut => suspect.confidence = 0.0,
            Verdict::CantTell => {}
        }
    }
    for reason in &mut findings.reasons {
        let Some((verdict, saw)) = speaks(&reason.claim) else { continue };
        if (verdict, reason.verdict) != (Verdict::RuledOut, Verdict::RuledOut) {
            reason.verdict = verdict;
            reason.claim.evidence.push(evidence(saw.fill()));
        }
    }
    // What no check could know without the program: a suspect of its own.
    let of_range = |s: &Suspect| s.confidence >= LIKELY && s.claim.about() == About::Range;
    let known = findings.suspects.iter().any(of_range);
    if let Some(remark) = out_of_range.filter(|_| !known) {
        let line = witness.values[remark.at].0.line;
        let mut claim = Claim::from(remark.says.clone());
        claim.evidence.push(evidence(Slot::words(witness.text.as_str())));
        findings.reasons.push(Reason { claim: claim.clone(), verdict: Verdict::Likely });
        let (file, to_line) = (witness.file.clone(), line);
        findings.suspects.push(Suspect { file, line, to_line, claim, confidence: LIKELY });
    }
    findings.suspects.retain(|s| s.confidence > 0.0);
    findings.suspects.sort_by(|a, b| b.confidence.total_cmp(&a.confidence));
    findings.reasons.sort_by_key(|r| r.verdict);
}

/// What is there, though a claim may say that it is gone: each value with how it is said.
fn values_there(witness: &Witness, language: Language) -> Vec<(&str, Saying)> {
    let there = witness.values.iter().filter_map(|(spoken, seen)| {
        let seen = seen.as_ref().filter(|s| !is_nothing(language, &s.shown))?;
        let value = Slot::words(seen.shown.as_str());
        let says = match seen.fields.filter(|n| *n > 1) {
            Some(fields) => say!(VALUE_WITH_FIELDS, name = spoken.text, value, fields),
            None => say!(VALUE, name = spoken.text, value),
        };
        Some((spoken.text.as_str(), says))
    });
    there.collect()
}
