//! Notes, while watching: read from their folders, offered to the screen, written for a group with
//! what can be offered of itself.

use izba_core::GroupView;
use izba_model::Project;
use izba_store::{KeptNote, Notes};
use similar::TextDiff;
use std::fmt::Write;
use std::path::PathBuf;
use std::sync::Arc;

/// Files and lines of the edit that is offered at most.
pub(crate) const FILES: usize = 3;
pub(crate) const LINES: usize = 60;

/// The notes that are known.
pub(crate) struct Noting {
    pub(crate) notes: Notes,
    pub(crate) kept: Arc<Vec<KeptNote>>,
    /// Files of notes that were taken away, with where they lie now, the last one last.
    pub(crate) gone: Vec<(PathBuf, PathBuf)>,
}

impl Noting {
    /// Reads the notes; what could not be read is said.
    pub(crate) fn open(notes: Notes) -> (Noting, Vec<String>) {
        let (kept, troubles) = notes.read();
        (Noting { notes, kept: Arc::new(kept), gone: Vec::new() }, troubles)
    }

    /// What is known by now.
    pub(crate) fn kept(&self) -> Arc<Vec<KeptNote>> {
        self.kept.clone()
    }
}

/// The difference of the own files, those on the way to the error first.
pub(crate) fn difference(then: &Project, now: &Project, group: &GroupView) -> Option<String> {
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
