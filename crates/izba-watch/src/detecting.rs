//! Who did it, while watching: a thread of its own keeps the index of the code and looks into each
//! group once; what it finds is published through a one-slot swap, so that the engine never waits
//! for it.

use crate::cornering::{Cornered, Tried};
use crate::guilty::{self, Repairs};
use crate::leave;
use arc_swap::ArcSwap;
use izba_cause::checks;
use izba_cause::checks::Remark;
use izba_cause::pause::{Witness, weigh};
use izba_cause::suspect::{Edits, Findings, weigh_edits};
use izba_core::GroupId;
use izba_core::values::{Print, prints};
use izba_model::code::Index;
use izba_model::{Entry, Place, Project};
use izba_sources::Bell;
use std::collections::HashMap;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::mpsc::{Receiver, Sender, channel};
use std::thread::JoinHandle;

/// What is known of the code, at one moment.
#[derive(Debug, Clone, Default)]
pub struct Code {
    /// The facts of the files as they were when the newest run began.
    pub index: Arc<Index>,
    /// What was found out about groups.
    pub findings: HashMap<GroupId, Arc<Findings>>,
    /// What can be found wrong without running, in the files as they are now; `None` before it was
    /// looked at.
    pub remarks: Option<Arc<Vec<Remark>>>,
    /// The prints in them.
    pub prints: Arc<Vec<Print>>,
    /// What of the files of today is code and is not looked into, in a sentence; told with the
    /// remarks.
    pub left_out: Option<Arc<str>>,
}

/// Whether an error came for the first time in the newest run, and not in the one before.
pub(crate) type Fresh = bool;

pub(crate) enum Job {
    /// The files of the newest run.
    Run(Arc<Project>),
    /// A run began, with the files that were told last.
    Begins,
    /// Files as they were in the last run of an earlier session, and are no longer.
    Were(Vec<(Arc<str>, Arc<str>)>),
    /// The files as they are now.
    Today(Arc<Project>),
    /// Look into a group.
    Group(GroupId, Arc<Entry>, Fresh),
    /// The program stopped, and this was seen.
    Seen(Arc<Witness>),
    /// A group was cornered.
    Cornered(GroupId, Arc<Cornered>),
    /// Edits of a group were tried.
    Tried(GroupId, Arc<Vec<Tried>>),
}

/// The handle of the thread.
pub(crate) struct Detecting {
    pub(crate) jobs: Option<Sender<Job>>,
    pub(crate) slot: Arc<ArcSwap<Code>>,
    pub(crate) thread: Option<JoinHandle<()>>,
    /// Set when nobody waits for what it finds any more.
    stop: Arc<AtomicBool>,
    /// For which state of the files, place and family each group was looked into: a row may come to
    /// stand for another entry.
    pub(crate) asked: HashMap<GroupId, Asked>,
    pub(crate) run: Option<Arc<Project>>,
    pub(crate) today: Option<Arc<Project>>,
    pub(crate) runs: usize,
    /// Runs of all sources that had begun when the last one was told of.
    pub(crate) begun: u64,
}

pub(crate) type Asked = (usize, Option<Place>, &'static str);

/// Groups that are looked into; a console with more mistakes than that is looked into from the top.
pub(crate) const MOST: usize = 400;

impl Detecting {
    /// Starts the thread; `bell` is rung when something was found.
    pub(crate) fn start(bell: Bell) -> Detecting {
        let (jobs, inbox) = channel();
        let slot = Arc::new(ArcSwap::from_pointee(Code::default()));
        let out = slot.clone();
        let stop = Arc::new(AtomicBool::new(false));
        let stopped = stop.clone();
        let thread = std::thread::Builder::new()
            .name("code".into())
            .spawn(move || work(&inbox, &out, &bell, &stopped))
            .ok();
        Detecting {
            jobs: Some(jobs),
            slot,
            thread,
            stop,
            asked: HashMap::new(),
            run: None,
            today: None,
            runs: 0,
            begun: 0,
        }
    }

    /// What is known by now.
    pub(crate) fn code(&self) -> Arc<Code> {
        self.slot.load_full()
    }

    /// The files of the newest run, and those of today, whenever they are others.
    pub(crate) fn files(&mut self, run: &Arc<Project>, today: &Arc<Project>) {
        if !self.run.as_ref().is_some_and(|r| Arc::ptr_eq(r, run)) {
            self.run = Some(run.clone());
            self.runs += 1;
            self.send(Job::Run(run.clone()));
        }
        if !self.today.as_ref().is_some_and(|t| Arc::ptr_eq(t, today)) {
            self.today = Some(today.clone());
            self.send(Job::Today(today.clone()));
        }
    }

    /// How many runs of all sources have begun, told behind the files of the newest: what differs
    /// between two beginnings is what was edited, and between a run and its repetition nothing is.
    pub(crate) fn begins(&mut self, runs: u64) {
        if self.begun != runs {
            self.begun = runs;
            self.send(Job::Begins);
        }
    }

    /// What was edited since the last run of an earlier session: those files as they were then.
    pub(crate) fn were(&self, files: Vec<(Arc<str>, Arc<str>)>) {
        if !files.is_empty() {
            self.send(Job::Were(files));
        }
    }

    /// Has a group looked into, once for each state of the files.
    pub(crate) fn look(&mut self, group: GroupId, entry: &Arc<Entry>, fresh: Fresh) {
        let known = self.asked.get(&group);
        if known.is_some_and(|(runs, place, family)| {
            *runs == self.runs && *place == entry.place && *family == entry.family.id()
        }) {
            return;
        }
        if known.is_none() && self.asked.len() >= MOST {
            return;
        }
        self.asked.insert(group, (self.runs, entry.place.clone(), entry.family.id()));
        self.send(Job::Group(group, entry.clone(), fresh));
    }

    /// Lets what was seen at a stop count as evidence.
    pub(crate) fn seen(&self, witness: Witness) {
        self.send(Job::Seen(Arc::new(witness)));
    }

    /// Lets what came of trying edits of a group count as evidence.
    pub(crate) fn tried(&self, group: GroupId, tried: Arc<Vec<Tried>>) {
        self.send(Job::Tried(group, tried));
    }

    /// Lets what is left of a cornered group count as evidence.
    pub(crate) fn cornered(&self, group: GroupId, cornered: Arc<Cornered>) {
        self.send(Job::Cornered(group, cornered));
    }

    pub(crate) fn send(&self, job: Job) {
        if let Some(jobs) = &self.jobs {
            // The thread ends only with this handle.
            let _ = jobs.send(job);
        }
    }
}

impl Drop for Detecting {
    fn drop(&mut self) {
        self.jobs = None;
        self.stop.store(true, Ordering::Release);
        if let Some(thread) = self.thread.take() {
            let _ = leave::join_within(thread, leave::JOBS);
        }
    }
}

pub(crate) fn files_of(project: &Project) -> impl Iterator<Item = (&Arc<str>, Option<&Arc<str>>)> {
    project.files().iter().map(|f| (&f.path, f.text.as_ref()))
}

fn work(inbox: &Receiver<Job>, slot: &ArcSwap<Code>, bell: &Bell, stop: &AtomicBool) {
    let mut code = Code::default();
    let mut today = Arc::new(Index::default());
    let mut look_again = false;
    let mut found: HashMap<GroupId, (Arc<Entry>, Findings)> = HashMap::new();
    let mut seen = Evidence::default();
    let repairs = Repairs::default();
    // The files with which the last run began, and what led from those of the run before to them.
    let (mut begun, mut edits) = (Arc::new(Index::default()), Edits::default());
    loop {
        // What comes first for the user: the code, then groups, and checks when nothing else waits.
        let job = if look_again {
            match inbox.try_recv() {
                Ok(job) => Some(job),
                Err(std::sync::mpsc::TryRecvError::Empty) => None,
                Err(std::sync::mpsc::TryRecvError::Disconnected) => return,
            }
        } else {
            match inbox.recv() {
                Ok(job) => Some(job),
                Err(_) => return,
            }
        };
        if stop.load(Ordering::Acquire) {
            return;
        }
        match job {
            Some(Job::Run(project)) => {
                // What was tried was tried with the files as they were.
                seen.tried.clear();
                let before = if code.index.files().is_empty() { &today } else { &code.index };
                code.index = Arc::new(
                    izba_code::updated(before, files_of(&project)).with_library(project.library()),
                );
            }
            Some(Job::Begins) => {
                edits = Edits::between(&begun, &code.index);
                begun = code.index.clone();
                continue;
            }
            Some(Job::Were(files)) => {
                // A run of this session tells more than one of an earlier.
                if begun.files().is_empty() {
                    let files = files.iter().map(|(path, text)| (path, Some(text)));
                    begun = Arc::new(izba_code::updated(&begun, files));
                }
                continue;
            }
            Some(Job::Today(project)) => {
                let before = if today.files().is_empty() { &code.index } else { &today };
                today = Arc::new(
                    izba_code::updated(before, files_of(&project)).with_library(project.library()),
                );
                look_again = true;
                continue;
            }
            Some(Job::Group(group, entry, fresh)) => {
                let mut first = guilty::find(&entry, &code.index, &repairs);
                if fresh {
                    weigh_edits(&mut first, &edits, &entry);
                }
                code.findings
                    .insert(group, Arc::new(seen.weigh(group, &entry, &first, &code.index)));
                found.insert(group, (entry, first));
            }
            Some(Job::Seen(witness)) => {
                seen.witnesses.retain(|w| (&w.file, &w.text) != (&witness.file, &witness.text));
                seen.witnesses.push(witness);
                let many = seen.witnesses.len().saturating_sub(WITNESSES);
                seen.witnesses.drain(..many);
                for (group, (entry, first)) in &found {
                    code.findings
                        .insert(*group, Arc::new(seen.weigh(*group, entry, first, &code.index)));
                }
            }
            Some(job @ (Job::Tried(group, _) | Job::Cornered(group, _))) => {
                match job {
                    Job::Tried(_, tried) => drop(seen.tried.insert(group, tried)),
                    Job::Cornered(_, cornered) => drop(seen.cornered.insert(group, cornered)),
                    _ => {}
                }
                if let Some((entry, first)) = found.get(&group) {
                    code.findings
                        .insert(group, Arc::new(seen.weigh(group, entry, first, &code.index)));
                }
            }
            None => {
                // One repair at a time, so that nothing else waits for all of them.
                if let Some(file) = today
                    .files()
                    .iter()
                    .find_map(|f| izba_code::repaired(f, &izba_sources::accepts))
                {
                    let on_disk = today.on_disk.clone();
                    today = Arc::new(today.with(vec![Arc::new(file)], &[], on_disk));
                    continue;
                }
                let checked = checks::all(&today);
                code.left_out = guilty::left_out(&today, &checked).map(Arc::from);
                code.remarks = Some(Arc::new(checked.remarks));
                code.prints = Arc::new(prints(&today));
                look_again = false;
            }
        }
        slot.store(Arc::new(code.clone()));
        bell();
    }
}

/// Stops that are remembered as evidence.
pub(crate) const WITNESSES: usize = 60;

/// What the program itself showed: stops, and what was left of cornered errors.
#[derive(Default)]
pub(crate) struct Evidence {
    pub(crate) witnesses: Vec<Arc<Witness>>,
    pub(crate) cornered: HashMap<GroupId, Arc<Cornered>>,
    pub(crate) tried: HashMap<GroupId, Arc<Vec<Tried>>>,
}

impl Evidence {
    /// What was found about an error, weighed by all of it.
    pub(crate) fn weigh(
        &self,
        group: GroupId,
        entry: &Entry,
        found: &Findings,
        index: &Index,
    ) -> Findings {
        let mut findings = found.clone();
        let place = entry.place.as_ref();
        if let Some((place, file)) = place.and_then(|p| Some((p, index.file(&p.file)?))) {
            let text = place.line.and_then(|l| file.line(l)).map(str::trim);
            for witness in self
                .witnesses
                .iter()
                .filter(|w| w.file == place.file && Some(w.text.as_str()) == text)
            {
                weigh(&mut findings, witness, file.language);
            }
        }
        if let Some(cornered) = self.cornered.get(&group) {
            cornered.weigh(&mut findings, place.and_then(|p| Some((&*p.file, p.line?))));
        }
        for tried in self.tried.get(&group).into_iter().flat_map(|all| all.iter()) {
            tried.weigh(&mut findings);
        }
        findings
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use izba_core::Engine;
    use izba_model::{ProjectFile, Stream};
    use std::sync::atomic::AtomicUsize;

    #[test]
    fn a_flood_is_looked_into_once() {
        let file = ProjectFile {
            path: "lamp.lua".into(),
            text: Some("local wick\nprint(wick.length)\n".into()),
        };
        let project = Arc::new(Project::new("/ferry", vec![file]));
        let mut engine = Engine::new(project.clone());
        let source = engine.add_source("console");
        engine.start_run(source, None, project.clone());
        let (rung, bell) = std::sync::mpsc::channel();
        let told = Arc::new(AtomicUsize::new(0));
        let counted = told.clone();
        let mut detecting = Detecting::start(Arc::new(move || {
            counted.fetch_add(1, Ordering::AcqRel);
            let _ = rung.send(());
        }));
        detecting.files(&project, &project);
        for _ in 0..500 {
            engine.feed(
                source,
                Stream::Err,
                None,
                0,
                b"lua5.4: lamp.lua:2: attempt to index a nil value (local 'wick')\n",
            );
            for group in engine.groups() {
                detecting.look(group.id, &group.entry, group.since_edit);
            }
        }
        // The run's files, the group once, and the remarks.
        while detecting.code().findings.is_empty() || detecting.code().remarks.is_none() {
            bell.recv_timeout(std::time::Duration::from_secs(60))
                .expect("what is asked is looked into");
        }
        drop(detecting);
        assert_eq!(told.load(Ordering::Acquire), 3);
    }

    #[test]
    fn an_edit_speaks_only_of_the_run_that_began_with_it() {
        let project = |text: &str| {
            let file = ProjectFile { path: "lamp.lua".into(), text: Some(text.into()) };
            Arc::new(Project::new("/ferry", vec![file]))
        };
        let (well, ill) = (
            project("local wick = {}\nlocal oil = 4\nprint(wick.length)\n"),
            project("local wick = {}\nlocal oil = 5\nprint(wick.length)\n"),
        );
        let mut engine = Engine::new(ill.clone());
        let source = engine.add_source("console");
        engine.start_run(source, None, ill.clone());
        let told = b"lua5.4: lamp.lua:3: attempt to index a nil value (local 'wick')\n";
        engine.feed(source, Stream::Err, None, 0, told);
        engine.finish();
        let group = engine.groups()[0].clone();
        for (repeated, speaks) in [(false, true), (true, false)] {
            let (rung, bell) = std::sync::mpsc::channel();
            let mut detecting = Detecting::start(Arc::new(move || {
                let _ = rung.send(());
            }));
            detecting.files(&well, &well);
            detecting.begins(1);
            detecting.files(&ill, &ill);
            detecting.begins(2);
            if repeated {
                detecting.begins(3);
            }
            detecting.look(group.id, &group.entry, true);
            while detecting.code().findings.is_empty() {
                bell.recv_timeout(std::time::Duration::from_secs(60)).expect("it is looked into");
            }
            let code = detecting.code();
            let suspects = &code.findings[&group.id].suspects;
            let edited = suspects.iter().any(|s| s.claim.check() == "edited" && s.line == 2);
            assert_eq!(edited, speaks, "{suspects:?}");
        }
    }

    #[test]
    fn a_row_that_comes_to_stand_for_another_entry_is_looked_into_again() {
        let text = "local wick\nprint(wick.length)\nlocal rope\nprint(rope.length)\n";
        let project = Arc::new(Project::new(
            "/ferry",
            vec![ProjectFile { path: "lamp.lua".into(), text: Some(text.into()) }],
        ));
        let mut engine = Engine::new(project.clone());
        let source = engine.add_source("console");
        engine.start_run(source, None, project.clone());
        for (line, name) in [(2, "wick"), (4, "rope")] {
            let told =
                format!("lua5.4: lamp.lua:{line}: attempt to index a nil value (local '{name}')\n");
            engine.feed(source, Stream::Err, None, 0, told.as_bytes());
        }
        engine.finish();
        let entries: Vec<Arc<Entry>> = engine.groups().iter().map(|g| g.entry.clone()).collect();
        let (rung, bell) = std::sync::mpsc::channel();
        let mut detecting = Detecting::start(Arc::new(move || {
            let _ = rung.send(());
        }));
        detecting.files(&project, &project);
        let row = engine.groups()[0].id;
        for entry in &entries {
            let line = entry.place.as_ref().and_then(|p| p.line);
            detecting.look(row, entry, false);
            let there = |found: &Findings| found.suspects.iter().any(|s| Some(s.line) == line);
            while !detecting.code().findings.get(&row).is_some_and(|f| there(f)) {
                bell.recv_timeout(std::time::Duration::from_secs(60))
                    .expect("the row is looked into for this entry too");
            }
        }
        assert_eq!(entries.len(), 2);
    }
}
