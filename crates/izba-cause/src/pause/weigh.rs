//! What a stop changes about the reasons: values that were seen make one likely or rule it out.

use super::remark::{Shows, remarks};
use super::{Witness, is_nothing};
use crate::suspect::Findings;
use izba_model::claim::{Evidence, LIKELY, Reason, Suspect, Verdict};
use izba_model::code::Language;

/// How sure a suspect is at least that a stop speaks for.
const SEEN: f32 = 0.85;

/// Checks that speak of an index or list that does not fit.
const OF_RANGE: &[&str] = &["bounds", "lists"];
/// Checks that say a thing was taken away or never was there.
const OF_ABSENCE: &[&str] = &["removed", "missing", "unread", "order"];

/// Weighs what was found about an error by what was seen when the program stopped in its line.
pub fn weigh(findings: &mut Findings, witness: &Witness, language: Language) {
    let remarks = remarks(language, &witness.values);
    let evidence = |saw: String| Evidence { file: witness.file.clone(), line: witness.line, saw };
    let when = if witness.at_error { "when it failed" } else { "when it stopped just before" };
    let out_of_range = remarks.iter().find(|r| r.shows == Shows::OutOfRange);
    // Something is there that a reason says is gone.
    let there: Vec<(&str, String)> = witness
        .values
        .iter()
        .filter_map(|(spoken, seen)| {
            let seen = seen.as_ref().filter(|s| !is_nothing(language, &s.shown))?;
            let more = seen
                .fields
                .filter(|n| *n > 1)
                .map_or(String::new(), |n| format!(", with {n} fields"));
            Some((spoken.text.as_str(), format!("{when}: {} is {}{more}", spoken.text, seen.shown)))
        })
        .collect();
    let speaks = |check: &str, text: &str| -> Option<(Verdict, String)> {
        if let Some(remark) = out_of_range.filter(|_| OF_RANGE.contains(&check)) {
            return Some((Verdict::Likely, format!("{when}: {}", remark.text)));
        }
        if !OF_ABSENCE.contains(&check) {
            return None;
        }
        if let Some(remark) = out_of_range {
            return Some((Verdict::RuledOut, format!("{when}: {}", remark.text)));
        }
        let name = text.split_whitespace().next()?;
        there
            .iter()
            .find(|(spoken, _)| *spoken == name)
            .map(|(_, saw)| (Verdict::RuledOut, saw.clone()))
    };
    let weighed: Vec<(String, Option<(Verdict, String)>)> =
        findings.suspects.iter().map(|s| (s.reason.clone(), speaks(s.check, &s.reason))).collect();
    for (suspect, (_, said)) in findings.suspects.iter_mut().zip(&weighed) {
        let Some((verdict, saw)) = said else { continue };
        suspect.evidence.push(evidence(saw.clone()));
        match verdict {
            Verdict::Likely => suspect.confidence = suspect.confidence.max(SEEN),
            Verdict::RuledOut => suspect.confidence = 0.0,
            Verdict::CantTell => {}
        }
    }
    for reason in &mut findings.reasons {
        let said = weighed
            .iter()
            .find(|(text, _)| *text == reason.text)
            .and_then(|(_, said)| said.clone())
            .or_else(|| speaks(reason.check, &reason.text));
        if let Some((verdict, saw)) =
            said.filter(|(v, _)| !(*v == Verdict::RuledOut && reason.verdict == Verdict::RuledOut))
        {
            reason.verdict = verdict;
            reason.evidence.push(evidence(saw));
        }
    }
    // What no check could know without the program: a suspect of its own.
    let known =
        findings.suspects.iter().any(|s| s.confidence >= LIKELY && OF_RANGE.contains(&s.check));
    if let Some(remark) = out_of_range.filter(|_| !known) {
        let line = witness.values[remark.at].0.line;
        let seen = evidence(format!("{when}: {}", witness.text));
        findings.reasons.push(Reason {
            text: remark.text.clone(),
            verdict: Verdict::Likely,
            evidence: vec![seen.clone()],
            check: "seen",
        });
        let (file, reason) = (witness.file.clone(), remark.text.clone());
        findings.suspects.push(Suspect {
            file,
            line,
            to_line: line,
            reason,
            confidence: LIKELY,
            evidence: vec![seen],
            check: "seen",
        });
    }
    findings.suspects.retain(|s| s.confidence > 0.0);
    findings.suspects.sort_by(|a, b| b.confidence.total_cmp(&a.confidence));
    findings.reasons.sort_by_key(|r| r.verdict);
}
