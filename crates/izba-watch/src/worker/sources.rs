//! The sources of the engine thread: opened, held, taken away, started again.

use super::state::Worker;
use crate::keeping::History;
use crate::kinds::Wanted;
use crate::kinds::is_page_to_come;
use crate::kinds::{File, Line, Opened, Origin};
use crate::sources::{AFTER_SAVE, FILES, FILES_CAP, Glob, Later, WatchedSource};
use crate::trimmed::Trimmed;
use crate::{Past, SourceState, leave};
use crate::{trust, wanted};
use izba_sources::{Command, Event, SourceError, SpoolReader, SpoolWriter};
use std::path::Path;
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Mutex};
use std::time::Instant;

impl Worker {
    /// Opens a source.
    pub(crate) fn open(
        &mut self,
        name: String,
        origin: Origin,
        wanted: Option<Wanted>,
    ) -> Result<(), SourceError> {
        if let Some(pattern) = origin.pattern() {
            self.globs.push(Glob { pattern, seen: Vec::new(), looked: Instant::now() - FILES });
            self.look_for_files();
            return Ok(());
        }
        let path = self.session.join(format!("source-{}.seg", self.sources.len() + 1));
        let mut writer = SpoolWriter::create(&path)?.heard_by(self.heard.0.clone());
        let read_to = writer.read_to();
        let writer = Arc::new(Mutex::new(writer));
        let (reader, stop) = (SpoolReader::open(&path)?, Arc::new(AtomicBool::new(false)));
        let line = Line {
            spool: writer.clone(),
            bell: self.bell.clone(),
            stop: stop.clone(),
            store: self.store().to_owned(),
        };
        let opened = origin.open(line);
        let Opened { command, running, debugged, closing, reload } = match opened {
            Ok(opened) => opened,
            // Where others are watched, it is a row that says so.
            Err(error) if self.opens_many => {
                if let Ok(mut spool) = writer.lock() {
                    let how = format!("could not be opened: {}", error.sentence());
                    let _ = spool.append(&Event::End { well: false }, how.as_bytes());
                }
                Opened::default()
            }
            Err(error) => return Err(error),
        };
        let kind = wanted.as_ref().map(|w| w.kind.word);
        let taught = crate::readers::of_source(&self.readers, &name, kind);
        let id = self.engine.add_source(name.clone());
        let History { runs, groups, were } = self.keeping.history(&name, &self.project);
        self.engine.recall(id, runs, groups);
        self.detecting.were(were);
        self.engine.set_action(id, wanted.as_ref().and_then(|w| w.action.as_deref()));
        self.engine.set_taught(id, taught);
        let (held, taken, complained, again) = (false, false, false, false);
        let own = wanted.as_ref().map(|w| w.own.clone()).unwrap_or_default();
        self.engine.set_own(id, own.clone());
        self.sources.push(WatchedSource {
            id,
            name,
            reader,
            next: None,
            writer: Some(writer),
            past: None,
            command,
            running,
            debugged,
            adapter: None,
            typed: String::new(),
            complained,
            held,
            taken,
            wanted,
            own,
            stop,
            closing,
            reload,
            again,
            read_to,
            trimmed: Trimmed::from(0),
        });
        self.start_session(self.sources.len() - 1);
        Ok(())
    }

    /// Opens a run of an earlier session, to be looked at as if it were live.
    pub(crate) fn open_past(&mut self, past: &Past) -> Result<(), SourceError> {
        let name = past.run.card.source.clone();
        let id = self.engine.add_source(name.clone());
        self.engine.set_taught(id, crate::readers::of_source(&self.readers, &name, None));
        let (runs, groups) = self.keeping.before(&past.run);
        self.engine.recall(id, runs, groups);
        self.sources.push(WatchedSource {
            id,
            name,
            reader: SpoolReader::open_one(&past.segment)?,
            next: None,
            writer: None,
            past: Some(past.project.clone()),
            command: None,
            running: None,
            debugged: None,
            adapter: None,
            typed: String::new(),
            complained: false,
            held: false,
            taken: false,
            wanted: None,
            own: Vec::new(),
            stop: Arc::new(AtomicBool::new(false)),
            closing: None,
            reload: None,
            again: false,
            read_to: Arc::default(),
            trimmed: Trimmed::from(0),
        });
        Ok(())
    }

    /// Opens a source that was named on the screen; says what hinders it.
    pub(crate) fn add(&mut self, typed: &str) {
        let opened = Wanted::parse(typed, &self.root).and_then(|wanted| {
            if is_page_to_come(&wanted) {
                self.page.auto = Some(wanted);
                return Ok(());
            }
            let (name, origin) = wanted.origin(&self.root)?;
            self.open(name, origin, Some(wanted)).map_err(|e| e.sentence())
        });
        if let Err(sentence) = opened {
            self.say(sentence);
        }
        if self.watches_page() {
            self.page.told = None;
        }
    }

    /// Whether a page is watched.
    fn watches_page(&self) -> bool {
        self.sources.iter().any(|s| s.reload.is_some() && !s.taken)
    }

    /// Listens whether a program tells the address of its page: that is watched, where the user said
    /// so, and offered else.
    pub(crate) fn hear_of_page(&mut self, bytes: &[u8]) {
        let Some(address) = self.page.hear(bytes) else { return };
        if self.watches_page() {
            return;
        }
        match self.page.auto.take() {
            Some(auto) => {
                let wanted = Wanted { what: address, ..auto };
                let opened = wanted.origin(&self.root).and_then(|(name, origin)| {
                    self.open(name, origin, Some(wanted)).map_err(|e| e.sentence())
                });
                if let Err(sentence) = opened {
                    self.trouble(sentence);
                }
            }
            None => self.page.told = Some(address),
        }
    }

    /// Watches the sources that were to come later.
    pub(crate) fn open_rest(&mut self) {
        for Later { name, origin, helper } in std::mem::take(&mut self.later) {
            let opened = self.run_along(helper).and_then(|()| self.open(name, origin, None));
            if let Err(error) = opened {
                self.trouble(error.sentence());
            }
        }
    }

    /// Starts a program that runs along without being watched.
    fn run_along(&mut self, helper: Option<Command>) -> Result<(), SourceError> {
        let Some(helper) = helper else { return Ok(()) };
        // What it prints is kept, but nobody is told.
        let file = format!("helper-later-{}.seg", self.helpers.len() + 1);
        let writer = SpoolWriter::create(&self.session.join(file))?;
        self.helpers.push(helper.start(Arc::new(Mutex::new(writer)), Arc::new(|| {}))?);
        Ok(())
    }

    /// Watches a source no longer. What it said stays.
    pub(crate) fn take_away(&mut self, at: usize) {
        let Some(source) = self.sources.get_mut(at) else { return };
        source.stop.store(true, Ordering::Release);
        (source.taken, source.again) = (true, false);
        source.end_program();
    }

    /// Writes the sources to the project's file.
    pub(crate) fn keep(&mut self) {
        let named: Vec<Wanted> =
            self.sources.iter().filter(|s| !s.taken).filter_map(|s| s.wanted.clone()).collect();
        let keep = || wanted::keep(&self.root, &named);
        let said = match trust::on_the_users_word(&self.root, self.store(), keep) {
            Ok(0) => format!("{} names them all already", wanted::FILE),
            Ok(n) => format!(
                "{} now in {}: izba alone watches them from now on",
                izba_model::text::counted(n as u64, "source is", "sources are"),
                wanted::FILE
            ),
            Err(sentence) => sentence,
        };
        self.say(said);
    }

    /// The folder of everything that is kept.
    pub(super) fn store(&self) -> &Path {
        &self.keeping.store
    }

    /// What the user decided about each source.
    pub(crate) fn states(&self) -> Vec<SourceState> {
        let state = |s: &WatchedSource| SourceState {
            phrase: s.wanted.as_ref().map(Wanted::phrase).unwrap_or_default(),
            held: s.held,
            taken: s.taken,
            backlog: s.reader.backlog(),
            layouts: self.engine.layouts(s.id).all().to_vec(),
        };
        self.sources.iter().map(state).collect()
    }

    /// Who speaks in a line is the user's from now on, or is not any more.
    pub(crate) fn mine(&mut self, at: usize, text: &str) {
        let Some(source) = self.sources.get_mut(at) else { return };
        let Some(speaker) = self.engine.layouts(source.id).speaker_of(text) else {
            return self.say("this line does not tell who speaks; l tells how it is read");
        };
        let had = source.own.len();
        source.own.retain(|own| *own != speaker);
        let mine = source.own.len() == had;
        if mine {
            source.own.push(speaker.clone());
        }
        self.engine.set_own(source.id, source.own.clone());
        let left = source.own.len();
        let named = source.wanted.as_mut().map(|wanted| {
            wanted.own.clone_from(&source.own);
            wanted.clone()
        });
        if let Some(wanted) = named {
            let keep = || wanted::keep_own(&self.root, &wanted);
            if let Err(sentence) = trust::on_the_users_word(&self.root, self.store(), keep) {
                return self.say(sentence);
            }
        }
        self.say(match (mine, left) {
            (true, _) => format!("{speaker} is yours: what others say here ranks below"),
            (false, 0) => {
                format!("{speaker} is not yours any more; all that speak here rank alike")
            }
            (false, _) => format!("{speaker} is not yours any more"),
        });
    }

    /// Begins to watch files that fit a pattern and were not there before.
    pub(crate) fn look_for_files(&mut self) -> bool {
        let mut new = Vec::new();
        for glob in &mut self.globs {
            if glob.looked.elapsed() < FILES || glob.seen.len() >= FILES_CAP {
                continue;
            }
            glob.looked = Instant::now();
            let found =
                glob::glob(&glob.pattern).into_iter().flatten().flatten().filter(|p| p.is_file());
            for path in found {
                if glob.seen.len() < FILES_CAP && !glob.seen.contains(&path) {
                    glob.seen.push(path.clone());
                    new.push(path);
                }
            }
        }
        let any = !new.is_empty();
        for path in new {
            let name = crate::kinds::file_name(&path);
            if let Err(error) = self.open(name, Box::new(File(path)), None) {
                self.trouble(error.sentence());
            }
        }
        any
    }

    /// Stops the commands that `which` names, to start them again.
    pub(crate) fn again(&mut self, which: impl Fn(&WatchedSource) -> bool) {
        for source in self.sources.iter_mut().filter(|s| s.can_start() && !s.taken) {
            if which(source) {
                source.again = true;
                source.end_program();
            }
        }
    }

    /// Starts commands anew once the old programs are gone and what they said is read.
    pub(crate) fn start_again_when_ended(&mut self) {
        if self.saved.is_some_and(|saved| saved.elapsed() >= AFTER_SAVE) {
            self.saved = None;
            let all = self.again_on_save;
            self.again(|source| source.wanted.as_ref().map_or(all, |w| w.again_on_save));
        }
        let over = |s: &WatchedSource| {
            !s.is_running() && (s.held || s.reader.backlog() == 0 && s.next.is_none())
        };
        if !self.sources.iter().any(|s| s.again)
            || !self.sources.iter().all(|s| !s.again || over(s))
        {
            return;
        }
        // The new run is read against the files as they are at its start.
        self.project = Arc::new(izba_files::scan(&self.root));
        self.today = self.project.clone();
        let mut failed = None;
        let mut sessions = Vec::new();
        for (at, source) in self.sources.iter_mut().enumerate().filter(|(_, s)| s.again) {
            source.again = false;
            source.adapter = None;
            source.typed.clear();
            sessions.push(at);
            if let Some(reload) = &source.reload {
                reload.store(true, Ordering::Release);
            }
            let Some(command) = &source.command else { continue };
            source.running = None;
            let Some(writer) = source.writer.clone() else { continue };
            match command.start(writer, self.bell.clone()) {
                Ok(running) => source.running = Some(running),
                Err(error) => failed = Some(error.sentence()),
            }
        }
        for at in sessions {
            self.start_session(at);
        }
        if let Some(sentence) = failed {
            self.trouble(sentence);
        }
    }

    /// Ends everything that was opened.
    pub(crate) fn close(&mut self) {
        // All are asked before one is waited for.
        for source in &self.sources {
            source.stop.store(true, Ordering::Release);
            if let Some(running) = source.running.as_ref().filter(|r| !r.has_ended()) {
                running.stop_within(leave::PROGRAMS);
            }
        }
        for source in &mut self.sources {
            source.adapter = None;
            // Dropping a running program ends it and all that it started.
            if let Some(running) = source.running.take()
                && running.has_ended()
            {
                self.code = running.code();
            }
        }
        if self.past.is_none() {
            self.read_spools();
            self.keeping.close(&mut self.engine);
            for sentence in self.keeping.troubles() {
                self.say(sentence);
            }
        }
        let lost = |s: &WatchedSource| Some(s.writer.as_ref()?.try_lock().ok()?.lost());
        let lost = self.sources.iter().filter_map(lost).sum();
        if lost > 0 {
            let bytes = izba_model::text::counted(lost, "byte", "bytes");
            self.say(format!(
                "the disk was full: {bytes} that a program printed could not be kept"
            ));
        }
        for closing in self.sources.iter_mut().filter_map(|s| s.closing.take()) {
            let _ = leave::join_within(closing, leave::JOBS);
        }
    }
}
