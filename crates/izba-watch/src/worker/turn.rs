//! The engine thread at work: one turn after another, it reads what arrived, obeys, and publishes.

use super::state::{Finding, Worker};
use crate::collector::Telling;
use crate::guilty::Guilty;
use crate::orders::{Answer, Found, Order, Published};
use crate::pace::{Cause, Pace};
use crate::records::feed_record;
use crate::sources::WatchedSource;
use crate::trimmed::Trimmed;
use crate::{cornered, filtering, valuing, walking};
use izba_core::{RunMark, SourceId, answer};
use izba_sources::{Event, Record};
use std::sync::Arc;
use std::sync::atomic::Ordering;
use std::sync::mpsc::{Receiver, RecvTimeoutError};
use std::time::{Duration, Instant};

/// Shortest time between two snapshots.
const FRAME: Duration = Duration::from_millis(16);
/// Longest time without looking at the clock while something happens, and when nothing has for a
/// while.
const TICK: Duration = Duration::from_millis(200);
const QUIET_TICK: Duration = Duration::from_secs(1);
/// How long spools are read before orders are looked at again.
const SLICE: Duration = Duration::from_millis(8);

/// The next order within that time. Where something is to be published anyway, the bell of more
/// news is no reason to begin: they are read together.
fn next_order(
    inbox: &Receiver<Order>,
    wait: Duration,
    gather: bool,
) -> Result<Order, RecvTimeoutError> {
    let until = Instant::now() + wait;
    loop {
        match inbox.recv_timeout(until.saturating_duration_since(Instant::now())) {
            Ok(Order::Wake) if gather => {}
            other => return other,
        }
    }
}

impl Worker {
    pub(crate) fn run(&mut self, inbox: &Receiver<Order>) {
        let mut pace = Pace::new(FRAME);
        // Whether anything is new, whether it was asked for, and the rows that were shown last.
        let (mut changed, mut asked, mut rows) = (true, true, 0);
        let mut busy_at = Instant::now();
        loop {
            let busy = self.backlog() > 0 && !self.maps.is_looking()
                || self.finding.is_some()
                || self.filtering.is_busy(self.engine.rows())
                || self.walking.as_ref().is_some_and(|w| w.is_busy(self.engine.rows()))
                || self.valuing.as_ref().is_some_and(|v| v.is_busy(self.engine.rows()));
            let wait = if busy {
                Duration::ZERO
            } else if changed || asked {
                pace.wait(self.cause(asked, rows))
            } else if busy_at.elapsed() < 2 * QUIET_TICK
                || self.saved.is_some()
                || self.sources.iter().any(|s| s.again)
            {
                TICK
            } else {
                QUIET_TICK
            };
            let settles = self.engine.settles_at();
            let until = |at: izba_model::Millis| {
                Duration::from_millis(at.since(izba_sources::now()).max(1))
            };
            let wait = settles.map_or(wait, |at| wait.min(until(at)));
            // A session tells by the same bell of what cannot wait, such as a script read again.
            let gather = changed && !busy && self.sources.iter().all(|s| s.adapter.is_none());
            match next_order(inbox, wait, gather) {
                Ok(Order::Quit) | Err(RecvTimeoutError::Disconnected) => break,
                Ok(order) => asked |= self.obey(order),
                Err(RecvTimeoutError::Timeout) => {}
            }
            let mut quit = false;
            while let Ok(order) = inbox.try_recv() {
                quit |= matches!(order, Order::Quit);
                asked |= self.obey(order);
            }
            if quit {
                break;
            }
            changed |= self.read_spools();
            self.look_for();
            self.filter();
            changed |= self.keep_looking();
            self.start_again_when_ended();
            changed |= self.look_at_sessions();
            changed |= self.look_at_corner();
            self.try_next();
            changed |= self.walk();
            changed |= self.value();
            changed |= self.look_for_files();
            if changed || asked || busy {
                busy_at = Instant::now();
            }
            let settled = settles.is_some_and(|at| izba_sources::now() >= at);
            let old = changed || asked || settled || pace.idle() >= TICK;
            if old && pace.wait(self.cause(asked, rows)).is_zero() {
                pace.work(|| self.publish());
                (changed, asked, rows) = (false, false, self.engine.rows_version());
            }
        }
        self.close();
    }

    /// Why it would be published now: since `rows` were shown, or because somebody asked.
    fn cause(&self, asked: bool, rows: u64) -> Cause {
        match asked {
            true => Cause::Asked,
            false if self.engine.rows_version() != rows => Cause::Rows,
            false => Cause::Counts,
        }
    }

    pub(crate) fn backlog(&self) -> u64 {
        let waiting = |s: &WatchedSource| {
            s.reader.backlog() + s.next.as_ref().map_or(0, |r| r.bytes.len().max(1) as u64)
        };
        self.sources.iter().filter(|s| !s.held).map(waiting).sum()
    }

    pub(crate) fn obey(&mut self, order: Order) -> bool {
        match order {
            Order::Wake | Order::Quit => {}
            Order::Detected => return true,
            Order::LookInto => {
                self.ahead = true;
                return true;
            }
            Order::Again => self.again(|_| true),
            Order::RunOnSave(on) => self.again_on_save = on,
            Order::Add(typed) => {
                self.add(&typed);
                return true;
            }
            Order::Rest => {
                self.open_rest();
                return true;
            }
            Order::HoldSource(at) => {
                if let Some(source) = self.sources.get_mut(at) {
                    source.held = !source.held;
                }
                return true;
            }
            Order::TakeAway(at) => {
                self.take_away(at);
                return true;
            }
            Order::Keep => self.keep(),
            Order::Corner(group, sought) => {
                self.corner(group, sought);
                return true;
            }
            Order::Paths => {
                self.walking.get_or_insert_with(walking::Walking::default);
                return true;
            }
            Order::Tell(group) => self.tell(group),
            Order::Picture(group) => self.picture(group),
            Order::Pack(group, telling, scripts) => self.pack(group, &telling, &scripts),
            Order::Note(group) => self.note(group),
            Order::KeepNote(note, over) => {
                self.keep_note(&note, over);
                return true;
            }
            Order::DropNote(path) => {
                self.drop_note(path);
                return true;
            }
            Order::BringNoteBack => {
                self.bring_note_back();
                return true;
            }
            Order::ReadNotes => {
                self.read_notes();
                return true;
            }
            Order::Values(group) => {
                self.valuing.get_or_insert_with(valuing::Valuing::default).ask(group);
                return true;
            }
            Order::StopCorner => {
                if let Some(cornering) = &self.cornering {
                    cornering.stop();
                }
            }
            Order::KeepCorner => self.keep_corner(),
            Order::TryAlone(alone) => {
                self.try_alone(alone);
                return true;
            }
            Order::Pause(order) => {
                self.obey_pause(order);
                return true;
            }
            Order::Mine(source, text) => {
                self.mine(source, &text);
                return true;
            }
            Order::TryLesson { id, source, layout } => self.try_lesson(id, source, &layout),
            Order::Teach(source, layout) => {
                self.teach(source, layout);
                return true;
            }
            Order::Sum { json } => {
                let found = self.sum(json);
                let _ = self.answers.send(Answer::Sum(found));
            }
            Order::Stop => {
                for source in &self.sources {
                    source.end_program();
                }
            }
            Order::Type(text) => {
                let asked = self
                    .sources
                    .iter_mut()
                    .find(|s| s.running.as_ref().is_some_and(|r| !r.has_ended()));
                let typed = asked.and_then(|source| {
                    if let Some(mut writer) = source.writer.as_ref().and_then(|w| w.lock().ok()) {
                        // What the program answers comes after this mark.
                        let _ = writer.append(&Event::Typed, b"");
                    }
                    source.typed += &text;
                    source.running.as_ref().map(|r| r.type_in(&text))
                });
                match typed {
                    Some(Ok(())) => {}
                    Some(Err(error)) => self.trouble(error.sentence()),
                    None => self.trouble("no program runs that could read what you typed".into()),
                }
            }
            Order::Window { from, count } => {
                let rows = self.rows(from, count);
                let _ = self.answers.send(Answer::Window { from, rows });
            }
            Order::Find { id, sought, from, up } => {
                self.finding = Some(Finding { id, sought, at: from, up, searched: 0 })
            }
            Order::FindNothing => self.finding = None,
            Order::Matching { id, sieve, from, up, down } => {
                self.filtering.look(id, sieve, from, up, down, self.engine.rows())
            }
            Order::Count { id, phrase } => self.filtering.count(id, phrase),
            Order::FilterNothing => self.filtering = filtering::Filtering::default(),
            Order::Wish(wishes, said) => {
                let trouble = self.keeping.wish(&mut self.engine, &wishes, &said);
                self.say(trouble.unwrap_or(said));
                return true;
            }
            Order::Undo => {
                let said = self.keeping.undo(&mut self.engine);
                self.say(said);
                return true;
            }
            Order::GroupBy(by) => {
                self.engine.group_by(by);
                return true;
            }
            Order::FromHere(which) => {
                for (at, source) in
                    self.sources.iter().enumerate().filter(|(at, _)| which.is_none_or(|w| w == *at))
                {
                    if let Some(mut writer) = source.writer.as_ref().and_then(|w| w.lock().ok()) {
                        let _ = writer.append(
                            &Event::Start,
                            format!(
                                "from here on ({})",
                                self.engine.runs_of(SourceId(at)).len() + 1
                            )
                            .as_bytes(),
                        );
                    }
                }
                return true;
            }
            Order::OpenRun(source, number) => {
                let answer = match self.keeping.past(&source, number) {
                    Ok(past) => Answer::Past(Box::new(past)),
                    Err(sentence) => Answer::Trouble(sentence),
                };
                let _ = self.answers.send(answer);
            }
            Order::RowAt(time) => match self.row_at(time) {
                Some(row) => drop(self.answers.send(Answer::Row(row))),
                None => self.trouble("these lines do not tell when they arrived".into()),
            },
            Order::RowOf(line) => {
                if let Some(row) = self.engine.row_of(line) {
                    let _ = self.answers.send(Answer::Row(row));
                }
            }
            Order::Saved(saved) => {
                let (changed, gone) = match saved.file {
                    Some(file) => (vec![file], Vec::new()),
                    None => (Vec::new(), vec![saved.path.clone()]),
                };
                self.today = Arc::new(self.today.with_changes(changed, &gone));
                self.engine.saved(izba_sources::now(), saved.path.to_string());
                self.saved = Some(Instant::now());
                return true;
            }
        }
        false
    }

    /// What went wrong, with who did it.
    fn sum(&mut self, json: bool) -> Found {
        self.engine.finish();
        let guilty = Guilty::of(&self.project);
        let groups = self.engine.groups();
        guilty.prepare(groups.iter().map(|g| g.entry.as_ref()));
        let find = |entry: &izba_model::Entry| guilty.find(entry);
        let finder = Some(answer::Finder(&find));
        let choice = answer::Choice { finder, ..answer::Choice::default() };
        let text = match json {
            true => answer::jsonl(&self.engine, &choice),
            false => answer::text(&self.engine, &choice),
        };
        let text = text + &self.told_to_others(json);
        Found { text, failed: answer::has_error(&self.engine, &choice) }
    }

    /// Tells the screen a sentence once; nothing keeps it.
    pub(crate) fn say(&self, sentence: impl Into<String>) {
        // A screen that is gone hears nothing.
        let _ = self.answers.send(Answer::Trouble(sentence.into()));
    }

    pub(crate) fn trouble(&mut self, sentence: String) {
        self.say(sentence.clone());
        if !self.troubles.contains(&sentence) && self.troubles.len() < 20 {
            self.troubles.push(sentence);
        }
    }

    pub(crate) fn read_spools(&mut self) -> bool {
        let begun = Instant::now();
        let mut changed = false;
        for at in 0..self.sources.len() {
            self.look_at(at);
        }
        // What arrived first is read first, whichever source it came from; nothing while maps are
        // looked for that the next line may need.
        self.take_maps();
        while begun.elapsed() < SLICE && !self.maps.is_looking() {
            let next = |s: &WatchedSource| s.next.as_ref().filter(|_| !s.held).map(|r| r.time);
            let earliest = (0..self.sources.len())
                .filter(|at| next(&self.sources[*at]).is_some())
                .min_by_key(|at| next(&self.sources[*at]));
            let Some(at) = earliest else { break };
            if self.needs_maps(at) {
                break;
            }
            self.read_record(at);
            self.look_at(at);
            changed = true;
        }
        changed
    }

    /// Takes the next record of a source out of its spool, unless one waits already.
    pub(crate) fn look_at(&mut self, at: usize) {
        let source = &mut self.sources[at];
        if source.next.is_some() || source.held {
            return;
        }
        let next = source.reader.next_record();
        source.read_to.store(source.reader.at(), Ordering::Release);
        match next {
            Ok(next @ Some(_)) => source.next = next,
            Ok(None) => {
                // Only looked at while there is nothing to read.
                if !source.complained
                    && source
                        .writer
                        .as_ref()
                        .and_then(|w| w.try_lock().ok())
                        .is_some_and(|w| w.lost() > 0)
                {
                    source.complained = true;
                    self.trouble(
                        "the disk is full: what the program prints now is not kept".into(),
                    );
                }
                self.end_unkept(at);
            }
            Err(error) => {
                if !source.complained {
                    source.complained = true;
                    self.trouble(error.sentence());
                }
            }
        }
    }

    /// Ends the run of a program that is gone and whose end found no room on the disk.
    fn end_unkept(&mut self, at: usize) {
        let source = &self.sources[at];
        let Some(code) = source.running.as_ref().filter(|r| r.has_ended()).map(|r| r.code()) else {
            return;
        };
        if !source.complained || matches!(self.engine.mark_of(source.id), RunMark::Ended { .. }) {
            return;
        }
        let how = match code {
            0 => "ended well".to_owned(),
            code => format!("ended with exit code {code}"),
        };
        self.engine.end_run(source.id, Some(izba_sources::now()), how, code == 0);
    }

    pub(crate) fn read_record(&mut self, at: usize) {
        let Some(record) = self.sources[at].next.take() else { return };
        if matches!(record.event, Event::Start | Event::Update) && self.past.is_none() {
            // What was saved meanwhile is what is read now.
            self.project = self.today.clone();
        }
        if record.event == Event::Start && self.past.is_none() {
            self.sources[at].trimmed = Trimmed::from(record.offset);
            let source = &self.sources[at];
            if let Some(number) = self.keeping.next_number(&source.name) {
                self.engine.number_next(source.id, number);
            }
            if let Some(sentence) = self.keeping.clock_says(&self.engine, source.id, record.time) {
                self.trouble(sentence);
            }
        }
        let source = &self.sources[at];
        let project = source.past.as_ref().unwrap_or(&self.project).clone();
        feed_record(&mut self.engine, source.id, &record, &project);
        let of_program = source.command.is_some();
        if of_program && matches!(record.event, Event::Bytes(_)) {
            self.hear_of_page(&record.bytes);
        }
        if !of_program && matches!(record.event, Event::Bytes(_)) {
            self.hearing.hear(&record.bytes, record.time);
        }
        let source = &self.sources[at];
        match record.event {
            Event::Start if self.past.is_none() => {
                let (segment, name) =
                    (source.reader.segment_of(record.offset), source.name.clone());
                self.keeping.begin(&mut self.engine, at, &record, segment, &name, &project);
            }
            Event::End { well } => {
                self.keeping.end(&self.engine, at, &String::from_utf8_lossy(&record.bytes), well)
            }
            _ => {}
        }
    }

    /// Keeps what is new, about once a second.
    pub(crate) fn keep_looking(&mut self) -> bool {
        let unsynced =
            self.sources.iter().filter_map(|s| s.writer.as_ref()?.try_lock().ok()?.unsynced());
        let said = self.keeping.look(&mut self.engine, unsynced);
        self.trim();
        let aside = |s: &WatchedSource| s.writer.as_ref()?.try_lock().ok().map(|w| w.is_aside());
        if !self.aside && self.sources.iter().filter_map(aside).any(|aside| aside) {
            self.aside = true;
            self.trouble(
                "the disk is full: what is printed now is kept in memory, and gone when you leave"
                    .into(),
            );
        }
        let any = !said.is_empty();
        for sentence in said {
            self.trouble(sentence);
        }
        any
    }

    /// Bundles may be built while a program runs: their maps are looked for when a place in a
    /// script is told. Whether the next record of a source has to wait for that.
    fn needs_maps(&mut self, at: usize) -> bool {
        let tells = |r: &Record| {
            matches!(r.event, Event::Bytes(_)) && memchr::memmem::find(&r.bytes, b"js:").is_some()
        };
        if self.sources[at].next.as_ref().is_some_and(tells) {
            self.maps.look(&self.root, &self.bell);
        }
        self.maps.is_looking()
    }

    /// Reads against the maps that a look found.
    fn take_maps(&mut self) {
        let Some(maps) = self.maps.take() else { return };
        self.today = Arc::new(self.today.with_bundles(maps.clone()));
        self.project = Arc::new(self.project.with_bundles(maps));
        for source in &self.sources {
            self.engine.set_project(source.id, self.project.clone());
        }
    }

    /// What the Izbas of others told, and how it went with telling.
    fn told_to_others(&mut self, json: bool) -> String {
        let class = self.hearing.class();
        let mut text = match (class.is_empty(), json) {
            (true, _) => String::new(),
            (false, true) => class.json(),
            (false, false) => class.text(izba_sources::now()),
        };
        let snapshot = self.engine.snapshot();
        self.tell_collector(&snapshot);
        if let Some(collector) = self.collector.as_ref().filter(|_| !json) {
            collector.settle();
            text += &format!("\n◎ {}.\n", collector.how().sentence());
        }
        text
    }

    /// Tells the collector what is new, where there is one; how that goes.
    fn tell_collector(&mut self, snapshot: &izba_core::Snapshot) -> Option<Telling> {
        // What is looked at afterwards was told when it happened.
        let collector = self.collector.as_mut().filter(|_| self.past.is_none())?;
        let hindered = collector.tell(snapshot);
        let how = collector.how();
        if let Some(sentence) = hindered {
            self.say(sentence);
        }
        Some(how)
    }

    pub(crate) fn publish(&mut self) {
        self.engine.tick(izba_sources::now());
        let snapshot = self.engine.snapshot();
        if self.ahead {
            self.detecting.files(&self.project, &self.today);
            // The runs of earlier sessions count from the moment at which one of this begins.
            let begun = snapshot.sources.iter().filter(|s| s.mark != RunMark::Waiting);
            self.detecting.begins(begun.map(|s| u64::from(s.run)).sum());
            for group in snapshot.groups.iter().filter(|g| g.state != izba_core::State::Quiet) {
                self.detecting.look(group.id, &group.entry, group.since_edit);
            }
        }
        let telling = self.tell_collector(&snapshot);
        // A program whose end was read is over, even if its last thread still tidies up.
        let over = |at: usize| {
            matches!(snapshot.sources.get(at).map(|s| &s.mark), Some(RunMark::Ended { .. }))
                && self.sources[at].next.is_none()
        };
        let running = self.sources.iter().enumerate().any(|(at, s)| s.is_running() && !over(at));
        let published = Published {
            snapshot,
            today: self.today.clone(),
            running,
            can_run_again: self.sources.iter().any(WatchedSource::can_start),
            backlog: self.backlog(),
            troubles: self.troubles.clone(),
            sources: self.states(),
            page_told: self.page.told.clone(),
            page_awaited: self.page.auto.is_some(),
            awaited: self
                .globs
                .iter()
                .filter(|g| g.seen.is_empty())
                .map(|g| g.pattern.clone())
                .collect(),
            filters: self
                .engine
                .wishes()
                .filters()
                .map(|(n, p)| (n.to_owned(), p.to_owned()))
                .collect(),
            past: self.past,
            code: self.detecting.code(),
            known: self.engine.wishes().known(),
            pause: self.pause_view(),
            corner: self.cornering.as_ref().map(cornered::Cornering::view),
            tries_alone: self.trying.alone,
            paths: self.walking.as_ref().map(walking::Walking::folded),
            values: self.valuing.as_ref().map(valuing::Valuing::view),
            notes: self.noting.kept(),
            telling,
            class: self.hearing.class(),
        };
        self.slot.store(Arc::new(published));
        // Told once until somebody looks: while the editor is open nobody does.
        if !self.announced.swap(true, Ordering::AcqRel) {
            let _ = self.answers.send(Answer::Published);
        }
    }
}
