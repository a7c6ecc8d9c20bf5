//! What outlives the session: the ledger of runs, the user's decisions, the files as they were. A
//! thread of its own writes, so that a slow disk holds up nobody; the engine thread only tells it
//! what is new, about once a second.

use izba_core::{Engine, Identity, Recalled, RunSpan, SourceId, Wish};
use izba_model::{Millis, Project, ProjectFile};
use izba_sources::{Event, Record, SpoolReader, Store};
use izba_store::{Files, Journal, Ledger, Progress, RunCard, RunRow, StoreError};
use std::collections::{BTreeMap, HashMap};
use std::fs::File;
use std::path::{Path, PathBuf};
use std::sync::Arc;
use std::sync::mpsc::{Receiver, Sender, channel};
use std::thread::JoinHandle;
use std::time::{Duration, Instant};

/// How often what is new is told to the ledger, and written bytes are synced.
pub(crate) const EVERY: Duration = Duration::from_secs(1);
/// How long the end of a session waits for what is tidied up.
pub(crate) const TIDY: Duration = Duration::from_millis(700);
/// How long a run stays in the ledger, in milliseconds: a year.
pub(crate) const AGE_MS: i64 = 365 * 24 * 3_600_000;

/// Of more files than this that were changed between two sessions none tells anything.
const EDITED: usize = 40;
/// A clock that stands so long before an earlier run was set, in milliseconds.
const CLOCK_MS: i64 = 60_000;

/// What earlier sessions knew of a source.
#[derive(Default)]
pub struct History {
    /// Its runs.
    pub runs: Vec<RunSpan>,
    /// What was met in them.
    pub groups: Vec<Recalled>,
    /// The files that were changed since the last one, path and text as they were in it.
    pub were: Vec<(Arc<str>, Arc<str>)>,
}

/// What the writing thread is told.
pub(crate) enum Keep {
    Begin { source: usize, segment: PathBuf, card: RunCard, project: Arc<Project> },
    Note { source: usize, progress: Progress, met: Vec<Recalled> },
    Sync(Vec<Arc<File>>),
}

/// One source, as far as it is kept.
#[derive(Default)]
pub(crate) struct Kept {
    /// Bytes read when its run began.
    pub(crate) fed: u64,
    pub(crate) progress: Progress,
    /// Whether its end is in the ledger.
    pub(crate) end_told: bool,
    /// How often each group had been met when it was told last.
    pub(crate) told: HashMap<Identity, (u64, bool)>,
    /// Own files that were changed since the last run of an earlier session; noted with the first
    /// run.
    pub(crate) edits: Vec<String>,
}

/// The engine thread's end of what is kept.
pub struct Keeping {
    pub(crate) store: PathBuf,
    pub(crate) project: String,
    pub(crate) ledger: Option<Ledger>,
    pub(crate) files: Files,
    pub(crate) journal: Journal,
    pub(crate) undo: Vec<(Vec<Wish>, String)>,
    pub(crate) kept: Vec<Kept>,
    pub(crate) told: Instant,
    pub(crate) to: Option<Sender<Keep>>,
    pub(crate) troubles: Receiver<String>,
    pub(crate) thread: Option<JoinHandle<()>>,
    /// The thread that enters and makes small what earlier sessions left.
    pub(crate) tidying: Option<JoinHandle<()>>,
    /// Whether it makes a damaged ledger anew: that is waited for.
    pub(crate) rebuild: bool,
    pub(crate) versions: Vec<(String, String)>,
}

/// A run of an earlier session, to be opened as if it were live.
#[derive(Debug, Clone)]
pub struct Past {
    /// Where its bytes are.
    pub segment: PathBuf,
    /// What is known of it.
    pub run: RunRow,
    /// The project as it was.
    pub project: Arc<Project>,
}

impl Keeping {
    /// Opens what is kept in `store` for the project at `root`, with so many bytes of output at most;
    /// gives what went wrong in sentences.
    pub fn open(store: &Path, root: &Path, budget: u64) -> (Keeping, Vec<String>) {
        let mut said = Vec::new();
        let (ledger, rebuild) = match Ledger::open(store) {
            Ok(ledger) => (Some(ledger), false),
            Err(error) if error.is_damage() => {
                let stamp = jiff::Timestamp::now().strftime("%Y%m%dT%H%M%S").to_string();
                match Ledger::put_aside(store, &stamp)
                    .and_then(|aside| Ok((aside, Ledger::open(store)?)))
                {
                    Ok((aside, ledger)) => {
                        said.push(format!(
                            "the ledger could not be read; it is put aside as {} and made \
                                anew from what the runs left",
                            crate::kinds::file_name(&aside)
                        ));
                        (Some(ledger), true)
                    }
                    Err(error) => (said.push(error.to_string()), (None, false)).1,
                }
            }
            Err(error) => (said.push(error.to_string()), (None, false)).1,
        };
        let (to, inbox) = channel();
        let (tell, troubles) = channel();
        let writing = if ledger.is_some() { Ledger::open(store).ok() } else { None };
        let files = Files::of(store);
        let writer = |tell| Writer {
            ledger: None,
            store: store.to_owned(),
            files: files.clone(),
            runs: HashMap::new(),
            tell,
            told: false,
        };
        let mut tidier = Writer {
            ledger: if ledger.is_some() { Ledger::open(store).ok() } else { None },
            ..writer(tell.clone())
        };
        let mut writer = Writer { ledger: writing, ..writer(tell) };
        // What takes long for what earlier sessions left never holds up what comes now.
        let tidying = std::thread::Builder::new().name("tidy".into()).spawn(move || {
            tidier.enter_what_was_left(rebuild);
            tidier.tidy(budget);
        });
        let thread = std::thread::Builder::new().name("ledger".into()).spawn(move || {
            while let Ok(keep) = inbox.recv() {
                writer.keep(keep);
            }
        });
        let project =
            root.canonicalize().unwrap_or_else(|_| root.to_owned()).to_string_lossy().into_owned();
        let keeping = Keeping {
            store: store.to_owned(),
            project,
            ledger,
            files,
            journal: Journal::of(store),
            undo: Vec::new(),
            kept: Vec::new(),
            told: Instant::now(),
            to: Some(to),
            troubles,
            thread: thread.ok(),
            tidying: tidying.ok(),
            rebuild,
            versions: izba_files::versions(root),
        };
        (keeping, said)
    }

    /// What earlier sessions knew of a source that is opened now.
    pub fn history(&mut self, source: &str, now: &Project) -> History {
        let mut kept = Kept::default();
        let mut history = History::default();
        if let Some(ledger) = self.ledger.as_ref()
            && let Ok(Some(last)) = ledger.last_run(&self.project, source)
        {
            if let Some(list) = last.card.files.as_deref().and_then(|f| self.files.list(f)) {
                kept.edits = changed(&list, now);
                history.were = self.were(&kept.edits, &list);
            }
            (history.runs, history.groups) =
                ledger.history(&self.project, source, None).unwrap_or_default();
        }
        self.kept.push(kept);
        history
    }

    /// Files as they were in the last run, of those that are others now; none where they are too
    /// many for an edit among them to tell anything.
    fn were(&self, edits: &[String], list: &BTreeMap<String, String>) -> Vec<(Arc<str>, Arc<str>)> {
        if edits.len() > EDITED {
            return Vec::new();
        }
        let was = |path: &String| Some((path.as_str().into(), self.files.text(list.get(path)?)?));
        edits.iter().filter_map(was).map(|(path, text)| (path, text.into())).collect()
    }

    /// The number of the next run of a source, as the ledger gives it; `None` without one: then
    /// they are counted here.
    pub fn next_number(&self, source: &str) -> Option<u32> {
        self.ledger.as_ref()?.next_number(&self.project, source).ok()
    }

    /// What is to be said of a run that begins before earlier ones did: the machine's clock jumped.
    pub fn clock_says(&self, engine: &Engine, source: SourceId, now: Millis) -> Option<String> {
        let later = engine.runs_of(source).iter().filter_map(|r| r.started).max()?;
        (later.0 > now.0 + CLOCK_MS).then(|| {
            "this machine's clock stands before the last run: ages and times across runs are wrong \
             until it is set; runs are in their order all the same"
                .to_owned()
        })
    }

    /// A run began: `segment` holds its bytes.
    pub fn begin(
        &mut self,
        engine: &mut Engine,
        source: usize,
        record: &Record,
        segment: PathBuf,
        name: &str,
        project: &Arc<Project>,
    ) {
        let Some(kept) = self.kept.get_mut(source) else { return };
        let id = SourceId(source);
        engine.note_edits(id, &std::mem::take(&mut kept.edits));
        let Some(run) = engine.runs_of(id).last() else { return };
        let card = RunCard {
            v: 1,
            project: self.project.clone(),
            source: name.to_owned(),
            command: String::from_utf8_lossy(&record.bytes).into_owned(),
            number: run.run,
            started: record.time.0,
            edits: run.edits.clone(),
            files: None,
            versions: self.versions.clone(),
        };
        kept.told.clear();
        (kept.fed, kept.progress, kept.end_told) =
            (engine.bytes_of(id), Progress::default(), false);
        // Whatever happens from now on, the run is known; what takes longer is added by the other
        // thread.
        let _ = card.write_soon(&segment);
        self.send(Keep::Begin { source, segment, card, project: project.clone() });
    }

    /// A run ended, in these words.
    pub fn end(&mut self, engine: &Engine, source: usize, how: &str, well: bool) {
        if let Some(kept) = self.kept.get_mut(source) {
            (kept.progress.ended, kept.progress.well) = (Some(how.to_owned()), Some(well));
        }
        self.note(engine, source);
    }

    /// Tells what is new of a source.
    pub(crate) fn note(&mut self, engine: &Engine, source: usize) {
        let Some(kept) = self.kept.get_mut(source) else { return };
        let id = SourceId(source);
        let Some((run, lines)) = engine.runs_of(id).last().zip(engine.run_lines(id)) else {
            return;
        };
        let progress = Progress {
            ran_ms: run.ran_ms,
            lines,
            bytes: engine.bytes_of(id) - kept.fed,
            actions: run.actions,
            ..kept.progress.clone()
        };
        let ended = progress.ended.is_some()
            && !std::mem::replace(&mut kept.end_told, progress.ended.is_some());
        let told = &mut kept.told;
        let met = engine.kept(id, |identity, tally| {
            let seen = (tally.count, tally.ended);
            told.insert(identity.clone(), seen) != Some(seen)
        });
        if met.is_empty() && progress == kept.progress && !ended {
            return;
        }
        kept.progress = progress.clone();
        self.send(Keep::Note { source, progress, met });
    }

    /// What has to be done about once a second: tell what is new, sync what was written, hear what
    /// another Izba decided.
    pub fn look(
        &mut self,
        engine: &mut Engine,
        unsynced: impl Iterator<Item = Arc<File>>,
    ) -> Vec<String> {
        let mut said: Vec<String> = self.troubles.try_iter().collect();
        if self.told.elapsed() < EVERY {
            return said;
        }
        self.told = Instant::now();
        let files: Vec<Arc<File>> = unsynced.collect();
        if !files.is_empty() {
            self.send(Keep::Sync(files));
        }
        for source in 0..self.kept.len() {
            self.note(engine, source);
        }
        for wish in engine.take_found() {
            said.extend(
                self.journal
                    .append(&self.project, izba_sources::now().0, &wish)
                    .err()
                    .map(|e| e.to_string()),
            );
        }
        said.extend(self.hear(engine));
        said
    }

    /// Follows what was decided in earlier sessions, or by another Izba.
    pub fn hear(&mut self, engine: &mut Engine) -> Option<String> {
        match self.journal.news(&self.project) {
            Ok((wishes, unread)) => {
                for wish in &wishes {
                    engine.wish(wish);
                }
                (unread > 0).then(|| {
                    format!(
                        "{} in decided.jsonl cannot be read and is passed over",
                        izba_model::text::counted(unread as u64, "line", "lines")
                    )
                })
            }
            Err(error) => Some(error.to_string()),
        }
    }

    /// Follows wishes of the user that belong together, and keeps them.
    pub(crate) fn wish(
        &mut self,
        engine: &mut Engine,
        wishes: &[Wish],
        said: &str,
    ) -> Option<String> {
        let mut back: Vec<Wish> = wishes.iter().map(|wish| engine.wish(wish)).collect();
        back.reverse();
        // What stands behind the first half of the sentence is about keys.
        let what = said.split(';').next().unwrap_or(said).trim();
        self.undo.push((back, what.to_owned()));
        self.write(wishes).map(|why| format!("{why}: it holds for this session alone"))
    }

    pub(crate) fn write(&mut self, wishes: &[Wish]) -> Option<String> {
        let now = izba_sources::now().0;
        wishes
            .iter()
            .find_map(|wish| self.journal.append(&self.project, now, wish).err())
            .map(|e| e.to_string())
    }

    /// Takes the last wish back, and says which it was.
    pub(crate) fn undo(&mut self, engine: &mut Engine) -> String {
        let Some((back, what)) = self.undo.pop() else {
            return "nothing was decided in this session; p shows what is set aside, and x there \
                    takes it back"
                .into();
        };
        for wish in &back {
            engine.wish(wish);
        }
        self.write(&back).unwrap_or_else(|| format!("taken back: {what}"))
    }

    /// Makes a run of this project ready to be opened.
    pub(crate) fn past(&self, source: &str, number: u32) -> Result<Past, String> {
        let ledger = self.ledger.as_ref().ok_or("there is no ledger")?;
        let runs = ledger.runs(&self.project, Some(source)).map_err(|e| e.to_string())?;
        let run = runs.into_iter().rev().find(|r| r.card.number == number);
        let run = run.ok_or_else(|| {
            format!("run {number} is not in the ledger yet; try again in a second")
        })?;
        past(&self.store, &self.files, run, &self.project)
    }

    /// Puts in what was known before a past run.
    pub(crate) fn before(&mut self, run: &RunRow) -> (Vec<RunSpan>, Vec<Recalled>) {
        let known = self
            .ledger
            .as_ref()
            .and_then(|l| l.history(&self.project, &run.card.source, Some(run.card.number)).ok());
        known.unwrap_or_default()
    }

    /// What went wrong since somebody looked.
    pub fn troubles(&self) -> Vec<String> {
        self.troubles.try_iter().collect()
    }

    pub(crate) fn send(&self, keep: Keep) {
        if let Some(to) = &self.to {
            // The thread ends only with this handle.
            let _ = to.send(keep);
        }
    }

    /// Writes what is left, and waits until it is written.
    pub fn close(&mut self, engine: &mut Engine) {
        engine.finish();
        for source in 0..self.kept.len() {
            let ended = &mut self.kept[source].progress.ended;
            ended.get_or_insert_with(|| "was watched until Izba was left".into());
            self.note(engine, source);
        }
        self.to = None;
        if let Some(thread) = self.thread.take() {
            let _ = crate::leave::join_within(thread, crate::leave::LEDGER);
        }
        if let Some(tidying) = self.tidying.take() {
            // However short the runs are, what was left is entered in the end.
            let begun = Instant::now();
            while !tidying.is_finished() && (self.rebuild || begun.elapsed() < TIDY) {
                std::thread::sleep(Duration::from_millis(2));
            }
        }
    }
}

/// Own files whose text is another now than when a list of them was made.
pub(crate) fn changed(then: &BTreeMap<String, String>, now: &Project) -> Vec<String> {
    let texts = || now.files().iter().filter_map(|f| Some((f.path.as_ref(), f.text.as_deref()?)));
    let other = texts().filter(|(path, text)| {
        then.get(*path).is_some_and(|hash| *hash != izba_store::hash(text.as_bytes()))
    });
    let new = texts().filter(|(path, _)| !then.contains_key(*path));
    let gone = then.keys().filter(|path| now.file(path).is_none()).map(String::as_str);
    other.chain(new).map(|(path, _)| path).chain(gone).map(str::to_owned).collect()
}

/// Makes a run ready to be opened: its bytes, and the project as it was.
pub(crate) fn past(store: &Path, files: &Files, run: RunRow, root: &str) -> Result<Past, String> {
    let plain = store.join(&run.segment);
    let sealed = plain.with_extension(izba_sources::SEALED);
    let segment = [plain, sealed].into_iter().find(|p| p.exists());
    let segment = segment.ok_or_else(|| {
        format!("the lines of run {} were pruned; what it saw is still counted", run.card.number)
    })?;
    let list = run.card.files.as_deref().and_then(|f| files.list(f)).unwrap_or_default();
    let file = |(path, hash): (String, String)| ProjectFile {
        text: files.text(&hash).map(Into::into),
        path: path.into(),
    };
    let project = Arc::new(Project::new(root, list.into_iter().map(file).collect()));
    Ok(Past { segment, run, project })
}

/// A run that is kept, with what was known before it.
#[derive(Debug)]
pub struct KeptRun {
    /// The run.
    pub past: Past,
    /// The runs before it.
    pub runs: Vec<RunSpan>,
    /// What they saw.
    pub groups: Vec<Recalled>,
}

/// The newest runs of the project at `root` whose lines are kept, at most so many, newest first; none
/// where nothing is kept, or it can't be read.
pub fn earlier_runs(store: &Path, root: &Path, most: usize) -> Vec<RunRow> {
    let project =
        root.canonicalize().unwrap_or_else(|_| root.to_owned()).to_string_lossy().into_owned();
    let all = Ledger::look(store).ok().flatten().and_then(|l| l.runs(&project, None).ok());
    let mut all: Vec<RunRow> = all.into_iter().flatten().filter(|r| !r.pruned).collect();
    all.sort_by_key(|r| std::cmp::Reverse((r.card.started, r.id)));
    all.truncate(most);
    all
}

/// A run of the project at `root`: the newest whose lines are kept, or that of a number; of one
/// source, or of any.
pub fn kept_run(
    store: &Path,
    root: &Path,
    source: Option<&str>,
    number: Option<u32>,
) -> Result<KeptRun, String> {
    let said = |e: izba_store::StoreError| e.to_string();
    let none = || {
        format!(
            "nothing was watched yet that is kept in {}; a run is kept by: izba run CMD…",
            store.display()
        )
    };
    let ledger = Ledger::look(store).map_err(said)?.ok_or_else(none)?;
    let project =
        root.canonicalize().unwrap_or_else(|_| root.to_owned()).to_string_lossy().into_owned();
    let all = ledger.runs(&project, source).map_err(said)?;
    let fits = |r: &&RunRow| number.map_or(!r.pruned, |n| r.card.number == n);
    let run = all.iter().filter(fits).max_by_key(|r| r.card.started).cloned().ok_or_else(|| {
        let whose = source.map(|s| format!(" of “{s}”")).unwrap_or_default();
        let which = number.map_or("no run".to_owned(), |n| format!("no run {n}"));
        format!("{which}{whose} is kept of this project; izba runs lists those that are")
    })?;
    let (runs, groups) =
        ledger.history(&project, &run.card.source, Some(run.card.number)).map_err(said)?;
    let past = past(store, &Files::of(store), run, &project)?;
    Ok(KeptRun { past, runs, groups })
}

/// The project as it was in an earlier run: the one of that number, else the last one in which the
/// error was not seen. Its number comes along.
pub fn before_run(
    store: &Path,
    root: &Path,
    source: &str,
    since: Option<u32>,
    group: &izba_core::GroupView,
) -> Result<(u32, Project), String> {
    let ledger = Ledger::open(store).map_err(|e| e.to_string())?;
    let project =
        root.canonicalize().unwrap_or_else(|_| root.to_owned()).to_string_lossy().into_owned();
    let grid = ledger.grid(&project, source).map_err(|e| e.to_string())?;
    if grid.runs.is_empty() {
        return Err(format!(
            "no earlier run of “{source}” is kept; izba run {source} keeps one each time"
        ));
    }
    // Edits move the line and may change the function, so what it says counts here.
    let (kind, message) = (&group.entry.root_kind, &group.entry.root_message);
    let same = |e: &izba_model::Entry| {
        e.family.id() == group.entry.family.id()
            && e.root_kind == *kind
            && e.root_message == *message
    };
    let saw = |run: u32| {
        grid.rows
            .iter()
            .filter(|r| same(&r.entry))
            .any(|r| r.cells.iter().any(|c| c.run == run && c.count > 0))
    };
    let fits =
        |r: &&RunRow| since.map_or_else(|| !saw(r.card.number), |number| r.card.number == number);
    let found = grid.runs.iter().rev().filter(|r| r.card.files.is_some()).find(fits);
    let run = found.ok_or_else(|| match since {
        Some(number) => {
            format!("run {number} of “{source}” is not kept; izba runs lists those that are")
        }
        None => "in every run that is kept the error was there; name one with --since".into(),
    })?;
    let files = Files::of(store);
    let list = run.card.files.as_deref().and_then(|f| files.list(f)).unwrap_or_default();
    let file = |(path, hash): (String, String)| ProjectFile {
        text: files.text(&hash).map(Into::into),
        path: path.into(),
    };
    Ok((run.card.number, Project::new(project, list.into_iter().map(file).collect())))
}

/// The thread that writes.
pub(crate) struct Writer {
    pub(crate) ledger: Option<Ledger>,
    pub(crate) store: PathBuf,
    pub(crate) files: Files,
    pub(crate) runs: HashMap<usize, (i64, RunCard, PathBuf)>,
    pub(crate) tell: Sender<String>,
    pub(crate) told: bool,
}

impl Writer {
    pub(crate) fn keep(&mut self, keep: Keep) {
        let done = match keep {
            Keep::Sync(files) => {
                for file in files {
                    // What the disk refuses is told where it is written.
                    let _ = file.sync_data();
                }
                Ok(())
            }
            Keep::Begin { source, segment, card, project } => {
                self.begin(source, &segment, card, &project)
            }
            Keep::Note { source, progress, met } => self.note(source, &progress, &met),
        };
        if let Err(error) = done {
            self.trouble(&error);
        }
    }

    pub(crate) fn trouble(&mut self, error: &StoreError) {
        // The next note may find room again; until then one sentence is enough.
        if !std::mem::replace(&mut self.told, true) {
            let _ = self.tell.send(format!("{error}: what arrives is kept, but not entered"));
        }
    }

    pub(crate) fn note(
        &mut self,
        source: usize,
        progress: &Progress,
        met: &[Recalled],
    ) -> Result<(), StoreError> {
        let (Some((run, card, segment)), Some(ledger)) =
            (self.runs.get_mut(&source), &mut self.ledger)
        else {
            return Ok(());
        };
        if progress.ended.is_some() {
            // What the program told of its own version, when it began.
            let told = izba_files::told_versions(&head_of(segment));
            let new: Vec<_> = told.into_iter().filter(|t| !card.versions.contains(t)).collect();
            if !new.is_empty() {
                card.versions.extend(new);
                ledger.set_versions(*run, &card.versions)?;
                card.write_soon(segment)?;
            }
        }
        ledger.note(*run, card, progress, met)
    }

    pub(crate) fn begin(
        &mut self,
        source: usize,
        segment: &Path,
        mut card: RunCard,
        project: &Project,
    ) -> Result<(), StoreError> {
        let texts =
            project.files().iter().filter_map(|f| Some((f.path.as_ref(), f.text.as_deref()?)));
        card.files = self.files.keep_all(texts).map_err(|e| self.trouble(&e)).ok();
        card.write(segment)?;
        let within =
            segment.strip_prefix(&self.store).unwrap_or(segment).to_string_lossy().into_owned();
        if let Some(ledger) = &mut self.ledger {
            let run = ledger.begin(&within, &card)?;
            self.runs.insert(source, (run, card, segment.to_owned()));
        }
        Ok(())
    }

    /// Makes small what earlier sessions left, and takes away what is beyond the budget.
    pub(crate) fn tidy(&mut self, budget: u64) {
        let Ok(store) = Store::open(Some(self.store.clone())) else { return };
        let gone = store.prune(budget);
        store.seal();
        let Some(ledger) = &mut self.ledger else { return };
        let within = |p: &PathBuf| {
            p.with_extension("seg")
                .strip_prefix(&self.store)
                .ok()
                .map(|p| p.to_string_lossy().into_owned())
        };
        let gone: Vec<String> = gone.iter().filter_map(within).collect();
        let pruned = if gone.is_empty() { Ok(()) } else { ledger.pruned(&gone) };
        let forgotten = pruned.and_then(|()| ledger.forget_before(izba_sources::now().0 - AGE_MS));
        match forgotten {
            Ok(0) if gone.is_empty() => {}
            Ok(_) => {
                // Texts that no run names any more go with the runs.
                if let Ok(runs) = ledger.all_runs() {
                    self.files
                        .prune(&runs.into_iter().filter_map(|r| r.card.files).collect::<Vec<_>>());
                }
            }
            Err(error) => self.trouble(&error),
        }
    }

    /// Enters what a killed Izba left, or, into a new ledger, everything: again from the runs' own
    /// files.
    pub(crate) fn enter_what_was_left(&mut self, anew: bool) {
        let Ok(store) = Store::open(Some(self.store.clone())) else { return };
        let Some(ledger) = &mut self.ledger else { return };
        let known: HashMap<String, bool> = ledger
            .all_runs()
            .map(|all| all.into_iter().map(|r| (r.segment, r.progress.ended.is_some())).collect())
            .unwrap_or_default();
        let mut made = 0;
        for segment in store.segments().into_iter().filter(|s| !s.alive) {
            let plain = segment.path.with_extension("seg");
            let within =
                plain.strip_prefix(&self.store).unwrap_or(&plain).to_string_lossy().into_owned();
            if known.get(&within) != Some(&true) {
                made +=
                    u64::from(remake(ledger, &self.store, &self.files, &segment.path).is_some());
            }
        }
        if anew {
            let _ = self.tell.send(format!(
                "the ledger is made anew: {}",
                izba_model::text::counted(made, "run", "runs")
            ));
        }
    }
}

/// The first lines of a run.
pub(crate) fn head_of(segment: &Path) -> String {
    let mut head = Vec::new();
    if let Ok(mut reader) = SpoolReader::open_one(segment) {
        while let Ok(Some(record)) = reader.next_record() {
            if let Event::Bytes(_) = record.event {
                head.extend(record.bytes);
            }
            if head.len() > 4_096 {
                break;
            }
        }
    }
    head.truncate(4_096);
    let lines = head.split(|b| *b == b'\n').map(izba_model::text::decode);
    lines.collect::<Vec<_>>().join("\n")
}

/// Enters one run again from its card and its bytes.
pub(crate) fn remake(
    ledger: &mut Ledger,
    store: &Path,
    files: &Files,
    segment: &Path,
) -> Option<()> {
    let card = RunCard::read(segment)?;
    let within =
        segment.with_extension("seg").strip_prefix(store).ok()?.to_string_lossy().into_owned();
    let id = ledger.begin(&within, &card).ok()?;
    let run = RunRow {
        id,
        segment: within,
        card: card.clone(),
        progress: Progress::default(),
        pruned: false,
    };
    let past = past(store, files, run, &card.project).ok()?;
    let mut engine = Engine::new(past.project.clone());
    engine.set_zone(jiff::tz::TimeZone::system());
    let source = engine.add_source(card.source.clone());
    let (runs, groups) = ledger.history(&card.project, &card.source, Some(card.number)).ok()?;
    engine.recall(source, runs, groups);
    let mut progress = Progress::default();
    read_past(&mut engine, source, &past, &mut progress);
    engine.finish();
    let run = engine.runs_of(source).last()?;
    (progress.ran_ms, progress.actions) = (run.ran_ms, run.actions);
    (progress.lines, progress.bytes) = (engine.run_lines(source)?, engine.bytes_of(source));
    if progress.ended.is_none() {
        progress.ended = Some("was cut off: Izba itself was ended".into());
    }
    let met = engine.kept(source, |_, _| true);
    ledger.note(id, &card, &progress, &met).ok()
}

/// Feeds a run of an earlier session to an engine, whole.
pub(crate) fn read_past(
    engine: &mut Engine,
    source: SourceId,
    past: &Past,
    progress: &mut Progress,
) {
    let Ok(mut reader) = SpoolReader::open_one(&past.segment) else { return };
    // A torn end is where it ends.
    while let Ok(Some(record)) = reader.next_record() {
        if let Event::End { well } = record.event {
            (progress.ended, progress.well) =
                (Some(String::from_utf8_lossy(&record.bytes).into_owned()), Some(well));
        }
        crate::feed_record(engine, source, &record, &past.project);
    }
}

/// Follows what was decided for a project, without keeping anything: for answers without a screen.
pub fn decided(store: &Path, project: &str) -> Vec<Wish> {
    Journal::of(store).news(project).map(|(wishes, _)| wishes).unwrap_or_default()
}
