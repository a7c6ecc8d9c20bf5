//! A request for help for a group: what the console said and said before, what was looked into, how
//! it was started.

use super::state::Worker;
use crate::request::{PICTURE, Packing, Telling, pack, to_file};
use crate::telling::{BACK, BEFORE, EDITS, LOG_BYTES, LOG_LINES, STEP, TOLD, newest};
use crate::{Answer, Corner};
use izba_core::{GroupId, GroupView, LineRef, Picture, SourceId, help};
use izba_sources::Event;
use std::sync::Arc;

impl Worker {
    /// Packs a request with the log of the run that saw the group, and own files.
    pub(crate) fn pack(&mut self, group: GroupId, telling: &Telling, scripts: &[String]) {
        let snapshot = self.engine.snapshot();
        let Some(view) = snapshot.groups.iter().find(|g| g.holds(group)).cloned() else { return };
        let source = SourceId(view.source);
        let first = self
            .engine
            .runs_of(source)
            .iter()
            .find(|r| r.run == view.last_run)
            .map_or(0, |r| r.first_line);
        let first = self.engine.row_of(LineRef { source, line: first }).unwrap_or(0);
        let end = self.engine.rows();
        let mut row = first.max(end.saturating_sub(LOG_LINES));
        let mut log = String::new();
        while row < end {
            for line in self.rows(row, STEP).into_iter().filter(|r| r.line.source == source) {
                log.push_str(line.text.as_str());
                log.push('\n');
            }
            row += STEP;
            if log.len() > 2 * LOG_BYTES {
                log = newest(&log).to_owned();
            }
        }
        let log = newest(&log);
        let texts = scripts.iter().filter_map(|name| {
            Some((name.clone(), self.today.file(name)?.text.as_deref()?.to_owned()))
        });
        let texts: Vec<(String, String)> = texts.collect();
        let wanted = scripts.iter().any(|name| name == PICTURE);
        let picture = wanted.then(|| self.picture_of(&view)).flatten();
        let picture = picture.and_then(|(at, picture)| self.pixels(at, picture));
        let packed = Packing { log, scripts: &texts, picture: picture.as_deref() };
        match pack(telling, &packed, |bytes| to_file(bytes, &self.session, "help", "zip")) {
            Ok(packed) => drop(self.answers.send(Answer::Packed(Box::new(packed)))),
            Err(sentence) => self.say(sentence),
        }
    }

    /// Writes the picture of the page that was taken nearest to when a group's error struck last into
    /// a file, and tells where.
    pub(crate) fn picture(&mut self, group: GroupId) {
        let snapshot = self.engine.snapshot();
        let Some(view) = snapshot.groups.iter().find(|g| g.holds(group)).cloned() else { return };
        let Some((at, picture)) = self.picture_of(&view) else {
            let none =
                "no picture is kept: one is taken when an error strikes in a page that is watched";
            return self.say(none);
        };
        let Some(pixels) = self.pixels(at, picture) else {
            return self.say("the picture can't be read any more: it was left out of a long run");
        };
        let ending = if pixels.starts_with(b"\x89PNG") { "png" } else { "jpg" };
        let path = self.session.join(format!("page-{at}-{}.{ending}", picture.offset));
        let written = path.exists() || std::fs::write(&path, &pixels).is_ok();
        match written {
            true => drop(self.answers.send(Answer::Picture(path, picture.time))),
            false => self.say("the picture can't be written: the disk is full or read-only"),
        }
    }

    /// The picture of a page, of whichever source, that was taken nearest to when a group was met
    /// last, and the source.
    fn picture_of(&self, view: &GroupView) -> Option<(usize, Picture)> {
        let when = view.last?;
        let taken = (0..self.sources.len()).flat_map(|at| {
            let runs = self.engine.runs_of(SourceId(at)).iter();
            runs.flat_map(|run| &run.pictures).map(move |picture| (at, *picture))
        });
        taken.min_by_key(|(_, picture)| (picture.time.0 - when.0).abs())
    }

    /// The bytes of a picture, as long as its record is kept.
    fn pixels(&self, source: usize, picture: Picture) -> Option<Vec<u8>> {
        let mut reader = self.sources.get(source)?.reader.reopen_at(picture.offset).ok()?;
        let record = reader.next_record().ok()??;
        (record.event == Event::Picture).then_some(record.bytes)
    }

    /// Writes the request and sends it.
    pub(crate) fn tell(&mut self, group: GroupId) {
        let snapshot = self.engine.snapshot();
        let Some(view) = snapshot.groups.iter().find(|g| g.holds(group)).cloned() else { return };
        // The console's own lines: the newest sighting, and what came before it in the same stream.
        let at =
            self.engine.row_of(LineRef { source: SourceId(view.source), line: view.last_line });
        let mut told = Vec::new();
        let mut before = Vec::new();
        if let Some(row) = at {
            let from = row.saturating_sub(BACK);
            let mut flood = None;
            for line in self
                .rows(from, row - from + TOLD)
                .into_iter()
                .filter(|r| r.line.source.0 == view.source)
            {
                let of_it = line.group.is_some_and(|(id, _)| view.holds(id));
                if line.row < row {
                    // Of other errors only what they say, and of a flood one: the steps would push
                    // out what tells something.
                    if line.group.is_none_or(|(id, first)| first && flood != Some(id)) {
                        before.push(line.text.as_str().to_owned());
                    }
                    flood = line.group.map(|(id, _)| id);
                } else if of_it && (told.is_empty() || !line.group.is_some_and(|(_, first)| first))
                {
                    told.push(line.text.as_str().to_owned());
                } else {
                    break;
                }
            }
            let many = before.len().saturating_sub(BEFORE as usize);
            before.drain(..many);
        }
        let spans = self.engine.runs_of(SourceId(view.source));
        let first = spans.iter().find(|r| r.run == view.last_run).map_or(0, |r| r.first_line);
        let first = self.engine.row_of(LineRef { source: SourceId(view.source), line: first });
        let begins =
            first.and_then(|row| self.rows(row, 1).pop()).map(|l| l.text.as_str().to_owned());
        let code = self.detecting.code();
        let known = self.engine.wishes().known();
        let mut tried: Vec<String> = Vec::new();
        for key in known.iter().filter_map(|k| {
            k.strip_prefix(&format!("suspect {} ", view.identity))
                .or_else(|| k.strip_prefix(&format!("step {} ", view.identity)))
        }) {
            tried.push(format!("ruled out by hand: {key}"));
        }
        let spans = self.engine.runs_of(SourceId(view.source));
        let (saw, all) = (
            spans.iter().filter(|r| r.run >= view.first_run && r.run <= view.last_run).count(),
            spans.len(),
        );
        if all > 1 {
            tried.push(format!(
                "run {all} times: seen first in run {}, last in run {} ({saw} runs from \
                    the one to the other)",
                view.first_run, view.last_run
            ));
        }
        for span in spans
            .iter()
            .filter(|r| r.run > view.first_run && r.run <= view.last_run && !r.edits.is_empty())
            .rev()
            .take(EDITS)
        {
            let files: Vec<&str> =
                span.edits.iter().take(4).map(|e| e.rsplit('/').next().unwrap_or(e)).collect();
            let more = if span.edits.len() > files.len() { " and others" } else { "" };
            tried.push(format!(
                "changed {}{more} before run {}, and it was still there",
                files.join(", "),
                span.run
            ));
        }
        if view.fixed.is_some() {
            tried.push("called fixed once".into());
        }
        for found in izba_core::notes::offered(self.noting.kept().iter().map(|k| &k.note), &view)
            .into_iter()
            .take(1)
        {
            let note = &self.noting.kept()[found.note].note;
            if !note.meant().is_empty() {
                tried.push(format!("met before, on {}: {}", note.head.met, note.meant()));
            }
        }
        let cornering = self
            .cornering
            .as_ref()
            .map(crate::cornered::Cornering::view)
            .filter(|c| c.group == view.id);
        for one in self.tried(view.id).iter().flat_map(|all| all.iter()) {
            tried.push(format!("{}: {}; {}", one.fix.file, one.says, one.sentence()));
        }
        let little = cornering
            .as_ref()
            .and_then(|c| if let Corner::Left(left) = &c.how { Some(left.clone()) } else { None });
        let text = |l: &crate::cornering::Left| {
            (l.file.clone(), l.lines.iter().map(|(_, t)| format!("{t}\n")).collect::<String>())
        };
        let files: Vec<_> = little.iter().flat_map(|left| left.left.iter().map(text)).collect();
        let how = little.as_ref().map(|left| crate::cornering::how(&left.progress, left.complete));
        let command = self
            .sources
            .get(view.source)
            .and_then(|s| s.command.as_ref())
            .map(izba_sources::Command::line);
        let versions = izba_files::versions(&self.root);
        let request = help::Request {
            group: &view,
            findings: code.findings.get(&view.id).map(Arc::as_ref),
            project: &snapshot.project,
            command: command.as_deref(),
            told: &told,
            before: &before,
            begins: begins.as_deref(),
            versions: &versions,
            tried: &tried,
            little: how.as_deref().map(|how| help::Little { files: &files, how }),
        };
        let _ = self.answers.send(Answer::Telling(Arc::new(Telling::of(&request))));
    }
}
