//! Notes, while watching: read from their folders, offered to the screen, written for a group with
//! what can be offered of itself.

use super::state::Worker;
use crate::noting::difference;
use crate::{Answer, before_run};
use izba_core::notes::{Likely, Note, offered};
use izba_core::{GroupId, GroupView, State};
use std::path::PathBuf;
use std::sync::Arc;

impl Worker {
    /// Sends a note about a group to be written: the one that is there, or a new one with the edit
    /// that made it quiet.
    pub(crate) fn note(&mut self, group: GroupId) {
        let snapshot = self.engine.snapshot();
        let Some(view) = snapshot.groups.iter().find(|g| g.holds(group)).cloned() else { return };
        let found = offered(self.noting.kept.iter().map(|k| &k.note), &view)
            .into_iter()
            .find(|a| a.likely != Likely::Edited);
        if let Some(kept) = found.and_then(|a| self.noting.kept.get(a.note)) {
            let _ = self
                .answers
                .send(Answer::Note(Box::new(kept.note.clone()), Some(kept.path.clone())));
            return;
        }
        let diff = self.edit_that_helped(&view);
        let start = self
            .sources
            .get(view.source)
            .and_then(|s| s.command.as_ref())
            .map(izba_sources::Command::line);
        // A note may be shared; where this user's home lies is nobody's business.
        let start = start.map(|s| izba_core::help::redact(&s, &crate::request::owner()).text);
        let held = self.tried(view.id).and_then(|all| all.iter().find(|t| t.holds()).cloned());
        let proved = held.map(|t| format!("{}: {}; {}", t.fix.file, t.says, t.sentence()));
        let note = Note::about(
            &view,
            &snapshot.project,
            izba_sources::now(),
            diff.as_deref(),
            proved.as_deref(),
            start.as_deref(),
        );
        let _ = self.answers.send(Answer::Note(Box::new(note), None));
    }

    /// What was changed since the last run that saw a group which is quiet now, as a diff.
    pub(crate) fn edit_that_helped(&self, group: &GroupView) -> Option<String> {
        if group.state != State::Quiet {
            return None;
        }
        let source = self.sources.get(group.source)?;
        let (_, then) =
            before_run(self.store(), &self.root, &source.name, Some(group.last_run), group).ok()?;
        difference(&then, &self.today, group)
    }

    /// Keeps a note and shows it.
    pub(crate) fn keep_note(&mut self, note: &Note, over: Option<PathBuf>) {
        match self.noting.notes.keep(note, over.as_deref()) {
            Ok(path) => self.say(format!("the note is kept in {}", path.display())),
            Err(error) => self.say(format!("the note is not kept: {error}")),
        }
        self.read_notes();
    }

    /// Takes a note away: its file stays beside, under a name that is not read.
    pub(crate) fn drop_note(&mut self, path: PathBuf) {
        match self.noting.notes.take_away(&path) {
            Ok(aside) => {
                self.say(format!("taken away to {}; u puts it back", aside.display()));
                self.noting.gone.push((path, aside));
            }
            Err(error) => self.say(format!("the note is not taken away: {error}")),
        }
        self.read_notes();
    }

    /// Puts back the note that was taken away last.
    pub(crate) fn bring_note_back(&mut self) {
        let Some((path, aside)) = self.noting.gone.pop() else {
            self.say("no note was taken away here");
            return;
        };
        match self.noting.notes.put_back(&aside, &path) {
            Ok(()) => self.say(format!("{} is back", path.display())),
            Err(error) => {
                self.say(format!("{} can't be put back: {error}", path.display()));
                self.noting.gone.push((path, aside));
            }
        }
        self.read_notes();
    }

    /// Reads the notes again.
    pub(crate) fn read_notes(&mut self) {
        let (kept, troubles) = self.noting.notes.read();
        self.noting.kept = Arc::new(kept);
        for sentence in troubles {
            self.trouble(sentence);
        }
    }
}
