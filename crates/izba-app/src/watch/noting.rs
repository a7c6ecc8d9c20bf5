//! Notes, while watching: read from their folders, offered to the screen, written for a group with
//! what can be offered of itself.

use super::{Answer, Worker, before_run};
use izba_core::notes::{Likely, Note, offered};
use izba_core::{GroupId, GroupView, State};
use izba_model::Project;
use izba_store::{KeptNote, Notes};
use similar::TextDiff;
use std::fmt::Write;
use std::path::PathBuf;
use std::sync::Arc;

/// Files and lines of the edit that is offered at most.
const FILES: usize = 3;
const LINES: usize = 60;

/// The notes that are known.
pub(super) struct Noting {
    notes: Notes,
    kept: Arc<Vec<KeptNote>>,
}

impl Noting {
    /// Reads the notes; what could not be read is said.
    pub(super) fn open(notes: Notes) -> (Noting, Vec<String>) {
        let (kept, troubles) = notes.read();
        (Noting { notes, kept: Arc::new(kept) }, troubles)
    }

    /// What is known by now.
    pub(super) fn kept(&self) -> Arc<Vec<KeptNote>> {
        self.kept.clone()
    }
}

impl Worker {
    /// Sends a note about a group to be written: the one that is there, or a new one with the edit
    /// that made it quiet.
    pub(super) fn note(&mut self, group: GroupId) {
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
        let start = start.map(|s| izba_core::help::redact(&s, &crate::telling::owner()).text);
        let note = Note::about(
            &view,
            &snapshot.project,
            izba_sources::now(),
            diff.as_deref(),
            start.as_deref(),
        );
        let _ = self.answers.send(Answer::Note(Box::new(note), None));
    }

    /// What was changed since the last run that saw a group which is quiet now, as a diff.
    fn edit_that_helped(&self, group: &GroupView) -> Option<String> {
        if group.state != State::Quiet {
            return None;
        }
        let store = self.session.parent()?;
        let source = self.sources.get(group.source)?;
        let (_, then) =
            before_run(store, &self.root, &source.name, Some(group.last_run), group).ok()?;
        difference(&then, &self.today, group)
    }

    /// Keeps a note and shows it.
    pub(super) fn keep_note(&mut self, note: &Note, over: Option<PathBuf>) {
        match self.noting.notes.keep(note, over.as_deref()) {
            Ok(path) => self.say(format!("the note is kept in {}", path.display())),
            Err(error) => self.say(format!("the note is not kept: {error}")),
        }
        self.read_notes();
    }

    /// Reads the notes again.
    pub(super) fn read_notes(&mut self) {
        let (kept, troubles) = self.noting.notes.read();
        self.noting.kept = Arc::new(kept);
        for sentence in troubles {
            self.trouble(sentence);
        }
    }
}

/// The difference of the own files, those on the way to the error first.
fn difference(then: &Project, now: &Project, group: &GroupView) -> Option<String> {
    let on_the_way = |path: &str| {
        let place = group.entry.place.as_ref().is_some_and(|p| &*p.file == path);
        let step = group.path().iter().any(|f| f.own.as_deref() == Some(path));
        (!place, !step)
    };
    let mut changed: Vec<(&str, &str, &str)> = Vec::new();
    for file in now.files() {
        let (Some(text), Some(was)) =
            (file.text.as_deref(), then.file(&file.path).and_then(|f| f.text.as_deref()))
        else {
            continue;
        };
        if text != was {
            changed.push((&file.path, was, text));
        }
    }
    changed.sort_by_key(|(path, ..)| on_the_way(path));
    let mut out = String::new();
    for (path, was, text) in changed.iter().take(FILES) {
        let diff = TextDiff::from_lines(*was, *text);
        let _ = write!(out, "{}", diff.unified_diff().context_radius(2).header(path, path));
    }
    let lines: Vec<&str> = out.lines().collect();
    if lines.len() > LINES {
        let more = lines.len() - LINES;
        out = lines[..LINES].join("\n") + &format!("\n… {more} more lines\n");
    }
    (!out.is_empty()).then_some(out)
}
