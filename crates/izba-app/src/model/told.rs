//! What is said of a group on the screen, and whether it still holds: a claim leaves when what it
//! was made of is gone.

use super::Model;
use izba_cause::explain::Explanation;
use izba_core::{GroupView, State};
use izba_model::Project;
use izba_model::claim::{Slot, Suspect};
use std::sync::Arc;

impl Model {
    /// What Izba says of a group, with what was found out about it and not ruled out by the user.
    pub fn told(&self, group: &GroupView) -> Explanation {
        let Some(found) = self.findings(group) else { return group.told(None) };
        let open = |s: &Suspect| !self.live.known.contains(&Model::suspect_key(group, s));
        match found.suspects.first() {
            Some(first) if !open(first) => {
                let mut left = (**found).clone();
                left.suspects.retain(open);
                group.told(Some(&left))
            }
            _ => group.told(Some(found)),
        }
    }

    /// The name of the file that a group's claims are about, where it was saved since the run that
    /// they are of began: nothing that was said of it is known to hold any more.
    pub fn saved_since(&self, group: &GroupView) -> Option<String> {
        if self.live.past.is_some() || group.state == State::Quiet {
            return None;
        }
        // The place of a slip is that of the first suspect.
        let suspect = self.suspects(group).first().map(|s| s.file.clone());
        let place = group.entry.place.as_ref().map(|p| p.file.clone());
        let (today, then) = (&self.live.today, &self.shown.snapshot.project);
        let changed = |file: &Arc<str>| {
            let text = |project: &Project| project.file(file).and_then(|f| f.text.clone());
            then.file(file).is_some() && text(today) != text(then)
        };
        let file = suspect.into_iter().chain(place).find(changed)?;
        Some(file.rsplit('/').next().unwrap_or(&file).to_owned())
    }

    /// Whether what was found out about a group still stands in the files as they are shown. Of one
    /// that went quiet it may be mended, and then nobody is accused of it any more.
    pub fn holds(&self, group: &GroupView) -> bool {
        if group.state != State::Quiet {
            return true;
        }
        let project = &self.shown.snapshot.project;
        let stands = |file: &str, line: u32, text: &str| {
            project.line(file, line).is_some_and(|now| now.trim() == text.trim())
        };
        let entry = &group.entry;
        let place = entry.place.as_ref().and_then(|p| Some((p.file.as_ref(), p.line?)));
        let named = place.zip(entry.line_text.as_deref());
        if named.is_some_and(|((file, line), text)| !stands(file, line, text)) {
            return false;
        }
        // Each reason begins with the line that it was made of.
        let found = self.findings(group).and_then(|f| Some((f, f.suspects.first()?)));
        let made_of = found.and_then(|(f, first)| {
            let reason = f.reasons.iter().find(|r| r.claim.says == first.claim.says)?;
            let line = reason.claim.evidence.first().filter(|e| e.line == first.line)?;
            match line.saw.slot("text")? {
                Slot::Words(text) => Some((line.file.clone(), line.line, text.clone())),
                _ => None,
            }
        });
        made_of.is_none_or(|(file, line, text)| stands(&file, line, &text))
    }
}
