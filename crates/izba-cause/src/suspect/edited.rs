//! edited: what was changed between a run without an error and the first run with it is evidence
//! of its own: a suspect there is surer, and a single edit is a suspect by itself.

use super::check::{Findings, one_is_likely, verdict};
use super::reported;
use crate::hunks::hunks;
use izba_model::claim::{Claim, Evidence, Reason, Saying, Suspect, Verdict};
use izba_model::code::{FileFacts, Index};
use izba_model::{Entry, Family};
use izba_model::{say, sayings};
use std::sync::Arc;

sayings! {
    "edited", Any, "../../words/suspects/edited.toml";
    CHANGED = "changed",
    WAS = "was",
    TAKEN_OUT = "taken-out",
}

/// With more edits than this between two runs, none of them says anything.
const MANY: usize = 20;
/// An edit of this few is a suspect, whatever it changed.
const FEW: usize = 3;

/// The edits between two runs.
#[derive(Debug, Clone, Default)]
pub struct Edits {
    all: Vec<Edit>,
}

/// Lines that took the place of others.
#[derive(Debug, Clone)]
struct Edit {
    file: Arc<str>,
    /// Lines now, from 1; where lines were only taken out, the one that stands there now.
    from: u32,
    to: u32,
    /// The first of the lines that were there before, where one was.
    was: Option<String>,
    /// Whether nothing stands there for what was taken out.
    taken_out: bool,
}

impl Edits {
    /// The edits that lead from the files of one run to those of the next; none where they are too
    /// many to say anything.
    pub fn between(before: &Index, after: &Index) -> Edits {
        let mut all = Vec::new();
        for file in after.files() {
            let Some(old) = before.file(&file.path).filter(|old| old.text != file.text) else {
                continue;
            };
            all.extend(of_file(old, file));
            if all.len() > MANY {
                return Edits::default();
            }
        }
        Edits { all }
    }

    /// Whether there is nothing to say.
    pub fn is_empty(&self) -> bool {
        self.all.is_empty()
    }
}

fn of_file(old: &FileFacts, new: &FileFacts) -> Vec<Edit> {
    let empty = |lines: &[&str]| lines.iter().all(|l| l.trim().is_empty());
    let (was, is): (Vec<&str>, Vec<&str>) =
        (old.text.lines().collect(), new.text.lines().collect());
    hunks(&old.text, &new.text)
        .into_iter()
        // Free lines change nothing.
        .filter(|h| !(empty(&was[h.old.0..h.old.1]) && empty(&is[h.new.0..h.new.1])))
        .map(|h| {
            let taken_out = h.new.0 == h.new.1;
            let last = (is.len() as u32).max(1);
            Edit {
                file: new.path.clone(),
                from: (h.new.0 as u32 + 1).min(last),
                to: if taken_out { (h.new.0 as u32 + 1).min(last) } else { h.new.1 as u32 },
                was: was[h.old.0..h.old.1]
                    .iter()
                    .find(|l| !l.trim().is_empty())
                    .map(|l| (*l).to_owned()),
                taken_out,
            }
        })
        .collect()
}

/// Weighs what was found about an error that came for the first time after these edits.
pub fn weigh(findings: &mut Findings, edits: &Edits, entry: &Entry) {
    // Of a script that cannot be read the repair says where.
    if edits.is_empty() || entry.family == Family::DoesNotParse {
        return;
    }
    let share = if edits.all.len() <= FEW { 0.5 } else { 0.2 };
    for edit in &edits.all {
        let covers = |s: &Suspect| {
            s.file == edit.file && s.line <= edit.to && s.to_line.max(s.line) >= edit.from
        };
        let mut known = false;
        for suspect in findings.suspects.iter_mut().filter(|s| covers(s)) {
            // That the console names a line says less of it than that it was changed.
            if reported::is_bare(suspect.claim.says.kind) && edits.all.len() <= FEW {
                let own = of_edit(edit, entry, edits.all.len());
                suspect.confidence = suspect.confidence.max(own.confidence);
                suspect.claim = own.claim;
                known = true;
                continue;
            }
            suspect.confidence += (0.95 - suspect.confidence).max(0.0) * share;
            let says = suspect.claim.says.clone();
            let mut of_reason = findings.reasons.iter_mut().find(|r| r.claim.says == says);
            let mut behind = 1;
            saw(edit, |says| {
                suspect.claim.saw(&edit.file, edit.from, says.clone());
                // Right behind the line itself: it is what the user knows best.
                if let Some(reason) = &mut of_reason {
                    let seen = Evidence { file: edit.file.clone(), line: edit.from, saw: says };
                    let at = reason.claim.evidence.len().min(behind);
                    reason.claim.evidence.insert(at, seen);
                    behind += 1;
                }
            });
            known = true;
        }
        if !known && edits.all.len() <= FEW {
            findings.suspects.push(of_edit(edit, entry, edits.all.len()));
        }
    }
    findings.suspects.sort_by(|a, b| b.confidence.total_cmp(&a.confidence));
    one_is_likely(&mut findings.suspects);
    // Reasons say what the suspects say.
    for reason in findings.reasons.iter_mut().filter(|r| r.verdict != Verdict::RuledOut) {
        let of_it = findings.suspects.iter().find(|s| s.claim.says == reason.claim.says);
        reason.verdict = of_it.map_or(reason.verdict, verdict);
    }
    if let Some(first) = findings.suspects.first().filter(|s| s.claim.check() == CHANGED.of()) {
        let reason = Reason { claim: first.claim.clone(), verdict: verdict(first) };
        findings.reasons.insert(0, reason);
    }
    findings.reasons.sort_by_key(|r| r.verdict);
}

/// Tells of an edit: that it was made, and what stood there.
fn saw(edit: &Edit, mut tell: impl FnMut(Saying)) {
    tell(if edit.taken_out { say!(TAKEN_OUT) } else { say!(CHANGED) });
    if let Some(was) = &edit.was {
        tell(say!(WAS, text = was.trim()));
    }
}

/// A suspect of its own: surer in a script that the error came through, and where it is the only
/// edit.
fn of_edit(edit: &Edit, entry: &Entry, edits: usize) -> Suspect {
    let here = entry.place.as_ref().is_some_and(|p| p.file == edit.file)
        || entry.report.frames.iter().any(|f| f.own.as_ref() == Some(&edit.file));
    let confidence = match (edits, here) {
        (1, true) => 0.65,
        (1, false) | (_, true) => 0.5,
        _ => 0.4,
    };
    let mut claim = Claim::from(if edit.taken_out { say!(TAKEN_OUT) } else { say!(CHANGED) });
    if let Some(was) = &edit.was {
        claim.saw(&edit.file, edit.from, say!(WAS, text = was.trim()));
    }
    Suspect {
        file: edit.file.clone(),
        line: edit.from,
        to_line: edit.to,
        claim,
        confidence,
        fix: None,
    }
}
