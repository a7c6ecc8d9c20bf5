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
        findings.suspects.push(Suspect {
            file,
            line,
            to_line,
            claim,
            confidence: LIKELY,
            fix: None,
        });
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

#[cfg(test)]
mod tests {
    use super::*;
    use izba_model::claim::{Kind, Words};
    use izba_model::spoken::{Part, Seen, Spoken};

    static RANGE: Words = Words::new("range", About::Range, "past = \"past the end\"");
    static PAST: Kind = Kind { words: &RANGE, key: "past" };
    static ABSENCE: Words = Words::new("absence", About::Absence, "gone = \"{name} is gone\"");
    static GONE: Kind = Kind { words: &ABSENCE, key: "gone" };

    fn findings(claims: &[(Saying, f32)]) -> Findings {
        let suspect = |(says, confidence): &(Saying, f32)| Suspect {
            file: "a.lua".into(),
            line: 9,
            to_line: 9,
            claim: says.clone().into(),
            confidence: *confidence,
            fix: None,
        };
        let reason = |(says, _): &(Saying, f32)| Reason {
            claim: says.clone().into(),
            verdict: Verdict::CantTell,
        };
        Findings {
            suspects: claims.iter().map(suspect).collect(),
            reasons: claims.iter().map(reason).collect(),
            ..Findings::default()
        }
    }

    fn value(text: &str, shown: &str, part: Part) -> (Spoken, Option<Seen>) {
        let spoken = Spoken { text: text.into(), line: 4, part, asked: true };
        (spoken, Some(Seen { shown: shown.into(), ..Seen::default() }))
    }

    fn witness(values: Vec<(Spoken, Option<Seen>)>) -> Witness {
        let text = "local wick = wicks[level]".to_owned();
        Witness { file: "a.lua".into(), line: 4, text, at_error: true, values }
    }

    fn lua() -> Language {
        Language::of_id("lua").expect("it ships with Izba")
    }

    #[test]
    fn what_is_there_rules_out_that_it_is_gone_and_nothing_else() {
        let mut found = findings(&[
            (say!(GONE, name = "boat.mast"), 0.7),
            (say!(GONE, name = "wick"), 0.6),
            (say!(PAST), 0.5),
        ]);
        let seen = witness(vec![
            value("boat.mast", "Mast#3", Part::Value),
            value("wick", "nil", Part::Value),
        ]);
        weigh(&mut found, &seen, lua());
        let left: Vec<String> = found.suspects.iter().map(Suspect::reason).collect();
        assert_eq!(left, ["`wick` is gone", "past the end"], "only what was seen to be there goes");
        let mast = &found.reasons.last().expect("ruled out stands last");
        assert_eq!((mast.text(), mast.verdict), ("`boat.mast` is gone".into(), Verdict::RuledOut));
        let saw: Vec<String> = mast.claim.evidence.iter().map(|e| e.saw.to_string()).collect();
        assert_eq!(saw, ["when it failed: `boat.mast` is Mast#3"]);
    }

    #[test]
    fn an_index_past_its_list_makes_that_likely_and_absence_no_reason() {
        let values = || {
            vec![
                value("wicks", "list", Part::Value),
                value("level", "9", Part::Value),
                value("wicks[level]", "nil", Part::Entry { list: 0, index: 1 }),
                value("#wicks", "7", Part::Length { of: 0 }),
            ]
        };
        let mut found = findings(&[(say!(GONE, name = "wick"), 0.8), (say!(PAST), 0.4)]);
        weigh(&mut found, &witness(values()), lua());
        let told: Vec<_> = found.suspects.iter().map(|s| (s.reason(), s.confidence)).collect();
        assert_eq!(told, [("past the end".to_owned(), SEEN)]);
        let verdicts: Vec<_> = found.reasons.iter().map(|r| r.verdict).collect();
        assert_eq!(verdicts, [Verdict::Likely, Verdict::RuledOut]);
        // No check knew it: what was seen is a suspect of its own, at the line of the entry.
        let mut found = findings(&[]);
        weigh(&mut found, &witness(values()), lua());
        let one = found.suspects.first().expect("one of its own");
        assert_eq!(
            (one.reason().as_str(), one.line),
            ("`level` is 9, but `wicks` has 7 entries", 4)
        );
        assert_eq!(one.claim.subject(), Some("level"));
    }

    #[test]
    fn where_nothing_was_seen_nothing_changes() {
        let claims = [(say!(GONE, name = "wick"), 0.7), (say!(PAST), 0.5)];
        let mut found = findings(&claims);
        weigh(&mut found, &witness(Vec::new()), lua());
        assert_eq!(found, findings(&claims));
    }
}
