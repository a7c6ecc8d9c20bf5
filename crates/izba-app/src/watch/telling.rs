//! A request for help for a group: what the console said and said before, what was looked into, how it was started.

use super::{Answer, Corner, Worker};
use crate::telling::Telling;
use izba_core::{GroupId, LineRef, SourceId, help};
use std::sync::Arc;

/// Lines of the console before the error, and of the error itself at most.
const BEFORE: u64 = 15;
const TOLD: u64 = 200;

impl Worker {
    /// Writes the request and sends it.
    pub(super) fn tell(&mut self, group: GroupId) {
        let snapshot = self.engine.snapshot();
        let Some(view) = snapshot.groups.iter().find(|g| g.holds(group)).cloned() else { return };
        // The console's own lines: the newest sighting, and what came before it in the same stream.
        let at = self.engine.row_of(LineRef { source: SourceId(view.source), line: view.last_line });
        let mut told = Vec::new();
        let mut before = Vec::new();
        if let Some(row) = at {
            let from = row.saturating_sub(BEFORE * 4);
            for line in self.rows(from, row - from + TOLD).into_iter().filter(|r| r.line.source.0 == view.source) {
                let of_it = line.group.is_some_and(|(id, _)| view.holds(id));
                if line.row < row {
                    before.push(line.text.as_str().to_owned());
                } else if of_it && (told.is_empty() || !line.group.is_some_and(|(_, first)| first)) {
                    told.push(line.text.as_str().to_owned());
                } else {
                    break;
                }
            }
            let many = before.len().saturating_sub(BEFORE as usize);
            before.drain(..many);
        }
        let code = self.detecting.code();
        let known = self.engine.wishes().known();
        let mut tried: Vec<String> = Vec::new();
        for key in known
            .iter()
            .filter_map(|k| k.strip_prefix(&format!("suspect {} ", view.identity)).or_else(|| k.strip_prefix(&format!("step {} ", view.identity))))
        {
            tried.push(format!("ruled out by hand: {key}"));
        }
        let spans = self.engine.runs_of(SourceId(view.source));
        let (saw, all) = (spans.iter().filter(|r| r.run >= view.first_run && r.run <= view.last_run).count(), spans.len());
        if all > 1 {
            tried.push(format!(
                "run {all} times: seen first in run {}, last in run {} ({saw} runs from the one to the other)",
                view.first_run, view.last_run
            ));
        }
        let cornering = self.cornering.as_ref().map(super::cornered::Cornering::view).filter(|c| c.group == view.id);
        let little = cornering.as_ref().and_then(|c| if let Corner::Left(left) = &c.how { Some(left.clone()) } else { None });
        let text = |l: &crate::cornering::Left| (l.file.clone(), l.lines.iter().map(|(_, t)| format!("{t}\n")).collect::<String>());
        let files: Vec<_> = little.iter().flat_map(|left| left.left.iter().map(text)).collect();
        let how = little.as_ref().map(|left| crate::cornering::how(&left.progress, left.complete));
        let command = self.sources.get(view.source).and_then(|s| s.command.as_ref()).map(izba_sources::Command::line);
        let versions = izba_sources::versions(&self.root);
        let request = help::Request {
            group: &view,
            findings: code.findings.get(&view.id).map(Arc::as_ref),
            project: &snapshot.project,
            command: command.as_deref(),
            told: &told,
            before: &before,
            versions: &versions,
            tried: &tried,
            little: how.as_deref().map(|how| help::Little { files: &files, how }),
        };
        let _ = self.answers.send(Answer::Telling(Arc::new(Telling::of(&request))));
    }
}
