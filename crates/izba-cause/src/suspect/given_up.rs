//! What is said where looking through the code would have taken too long: a search that did not come
//! to its end has shown nothing, and nothing is ruled out by it.

use super::check::Findings;
use izba_model::claim::{Claim, Reason, Verdict};
use izba_model::{say, sayings};

sayings! {
    "given-up", Any, "../../words/suspects/given-up.toml";
    TOO_LONG = "too-long",
}

/// Says in the findings that not everything was looked at.
pub(super) fn say_so(findings: &mut Findings) {
    let claim = Claim { says: say!(TOO_LONG), evidence: Vec::new() };
    findings.reasons.push(Reason { claim, verdict: Verdict::CantTell });
    findings.reasons.sort_by_key(|r| r.verdict);
}
