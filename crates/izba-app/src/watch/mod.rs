//! The engine thread: reads the spools, feeds the engine, publishes snapshots and answers questions about lines.
//!
//! It alone owns the engine. The screen gets an immutable [`Published`] through a one-slot swap, at most 60 times a
//! second, and rows by asking for a window of them; no lock is shared with the interface.

mod rows;

use arc_swap::ArcSwap;
use izba_core::{Engine, GroupId, Level, LineRef, Millis, Project, RunMark, SafeText, Snapshot, SourceId, Stream};
use izba_sources::{Bell, Command, Event, FoundMap, Record, Running, Saved, SourceError, SpoolReader, SpoolWriter};
use std::net::SocketAddr;
use std::path::{Path, PathBuf};
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::mpsc::{Receiver, RecvTimeoutError, Sender, SyncSender, TrySendError, channel, sync_channel};
use std::sync::{Arc, Mutex};
use std::thread::JoinHandle;
use std::time::{Duration, Instant};

/// Shortest time between two snapshots.
const FRAME: Duration = Duration::from_millis(16);
/// Longest time without looking at the clock.
const TICK: Duration = Duration::from_millis(200);
/// How long spools are read before orders are looked at again.
const SLICE: Duration = Duration::from_millis(8);
/// How often source maps are looked for at most.
const MAPS: Duration = Duration::from_millis(300);
/// Rows that a search reads in one go.
const FIND_ROWS: u64 = 4_000;

/// What the screen shows, at one moment.
#[derive(Debug, Clone)]
pub struct Published {
    /// The engine's snapshot.
    pub snapshot: Snapshot,
    /// The project's files as they are now.
    pub today: Arc<Project>,
    /// Whether a program that Izba started runs.
    pub running: bool,
    /// Whether there is a command to run again.
    pub can_run_again: bool,
    /// Bytes that have arrived and are not read yet.
    pub backlog: u64,
    /// What went wrong with a source or the disk, in sentences.
    pub troubles: Vec<String>,
}

/// One line as the screen shows it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct LineRow {
    /// Its row over all sources.
    pub row: u64,
    /// Where it belongs.
    pub line: LineRef,
    /// By which stream it came.
    pub stream: Stream,
    /// When.
    pub time: Option<Millis>,
    /// Its text, cut to what can be shown.
    pub text: SafeText,
    /// Its whole length in bytes, when it was cut.
    pub cut_from: Option<u64>,
    /// Its group, and whether it is the first line of its entry.
    pub group: Option<(GroupId, bool)>,
    /// The level of that group.
    pub level: Option<Level>,
}

/// What the engine thread is asked for.
#[derive(Debug)]
pub enum Order {
    /// Something was appended to a spool.
    Wake,
    /// Start the command again.
    Again,
    /// End the program.
    Stop,
    /// Send this to the program, as if typed.
    Type(String),
    /// Read these rows.
    Window {
        /// First row.
        from: u64,
        /// How many.
        count: u64,
    },
    /// Look for a text from a row on, downwards or upwards. A newer search replaces it.
    Find {
        /// Number of the search.
        id: u64,
        /// Words in lower case that all have to stand in a line.
        words: Vec<String>,
        /// Where to begin: downwards that row itself, upwards the one above it.
        from: u64,
        /// Upwards.
        up: bool,
    },
    /// Stop looking.
    FindNothing,
    /// Tell the row of a line.
    RowOf(LineRef),
    /// An own file was saved.
    Saved(Saved),
    /// End.
    Quit,
}

/// What the engine thread answers.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Answer {
    /// A new snapshot lies in the slot.
    Published,
    /// The rows asked for.
    Window {
        /// The row asked for.
        from: u64,
        /// The rows, in order.
        rows: Vec<LineRow>,
    },
    /// A row that holds the text, or none down to the end; rows looked through so far.
    Found {
        /// Number of the search.
        id: u64,
        /// The row that holds all words.
        row: Option<u64>,
        /// Whether the search is over.
        done: bool,
        /// Rows looked through.
        searched: u64,
    },
    /// The row of the line asked about.
    Row(u64),
    /// Something went wrong; one sentence.
    Trouble(String),
}

/// Where the bytes of a source come from.
#[derive(Debug)]
pub enum Origin {
    /// A command, which can be started again.
    Command(Command),
    /// A file that grows.
    File(PathBuf),
    /// Standard input.
    Input(std::fs::File),
    /// A device that serves its console at an address.
    Address(SocketAddr),
    /// A web page, by its address.
    Page(String),
    /// Senders of lines or syslog messages to an address of ours.
    Senders(SocketAddr),
    /// Senders of OpenTelemetry logs to an address of ours.
    Otlp(SocketAddr),
}

/// What is to be watched.
#[derive(Debug)]
pub struct Setup {
    /// The project's folder.
    pub root: PathBuf,
    /// The folder for this session's spools.
    pub session: PathBuf,
    /// The sources with the names that people see.
    pub sources: Vec<(String, Origin)>,
    /// Programs that run along without being watched, such as a device of the demo.
    pub helpers: Vec<Command>,
    /// Whether this is the demo.
    pub demo: bool,
}

impl Setup {
    /// Sources of a project, with nothing beside them.
    pub fn new(root: PathBuf, session: PathBuf, sources: Vec<(String, Origin)>) -> Setup {
        Setup { root, session, sources, helpers: Vec::new(), demo: false }
    }
}

/// The handle of the engine thread.
#[derive(Debug)]
pub struct Watch {
    orders: SyncSender<Order>,
    answers: Receiver<Answer>,
    slot: Arc<ArcSwap<Published>>,
    thread: Option<JoinHandle<i32>>,
    /// Sources that have something to put away at the end, such as a browser.
    closing: Vec<JoinHandle<()>>,
    stop_files: Arc<AtomicBool>,
    ended: Arc<AtomicBool>,
    announced: Arc<AtomicBool>,
}

struct WatchedSource {
    id: SourceId,
    reader: SpoolReader,
    writer: Arc<Mutex<SpoolWriter>>,
    command: Option<Command>,
    running: Option<Running>,
    complained: bool,
}

struct Finding {
    id: u64,
    words: Vec<String>,
    at: u64,
    up: bool,
    searched: u64,
}

struct Worker {
    engine: Engine,
    root: PathBuf,
    project: Arc<Project>,
    today: Arc<Project>,
    sources: Vec<WatchedSource>,
    bell: Bell,
    answers: Sender<Answer>,
    slot: Arc<ArcSwap<Published>>,
    troubles: Vec<String>,
    finding: Option<Finding>,
    /// Source maps as they were found last, and when that was.
    maps: (Vec<FoundMap>, Option<Instant>),
    again: bool,
    announced: Arc<AtomicBool>,
    code: i32,
}

impl Watch {
    /// Opens the sources and starts the engine thread.
    ///
    /// # Errors
    ///
    /// When a source cannot be opened; nothing is left running then.
    pub fn start(setup: Setup) -> Result<Watch, SourceError> {
        // Room for every pending wake; further ones say nothing new.
        let (orders, inbox) = sync_channel::<Order>(256);
        let (answers, outbox) = channel();
        let ring = orders.clone();
        let bell: Bell = Arc::new(move || match ring.try_send(Order::Wake) {
            Ok(()) | Err(TrySendError::Full(_) | TrySendError::Disconnected(_)) => {}
        });
        // Before the files are read, so that what is built meanwhile is noticed as new.
        let maps = izba_sources::find_maps(&setup.root);
        let project = Arc::new(izba_sources::scan(&setup.root));
        let stop_files = Arc::new(AtomicBool::new(false));
        let mut helpers = Vec::new();
        for (at, helper) in setup.helpers.into_iter().enumerate() {
            // What a helper prints is kept, but nobody is told.
            let writer = SpoolWriter::create(&setup.session.join(format!("helper-{}.seg", at + 1)))?;
            helpers.push(helper.start(Arc::new(Mutex::new(writer)), Arc::new(|| {}))?);
        }
        let mut engine = Engine::new(project.clone());
        let (mut sources, mut closing) = (Vec::new(), Vec::new());
        for (at, (name, origin)) in setup.sources.into_iter().enumerate() {
            let path = setup.session.join(format!("source-{}.seg", at + 1));
            let writer = Arc::new(Mutex::new(SpoolWriter::create(&path)?));
            let reader = SpoolReader::open(&path)?;
            let id = engine.add_source(name);
            let mut source = WatchedSource { id, reader, writer: writer.clone(), command: None, running: None, complained: false };
            match origin {
                Origin::Command(command) => {
                    source.running = Some(command.start(writer, bell.clone())?);
                    source.command = Some(command);
                }
                Origin::File(path) => drop(izba_sources::follow(&path, writer, bell.clone(), stop_files.clone())?),
                Origin::Input(input) => izba_sources::read_input(input, writer, bell.clone())?,
                Origin::Page(url) => closing.push(izba_sources::open_page(&url, writer, bell.clone(), stop_files.clone())?),
                Origin::Otlp(address) => drop(izba_sources::take_logs(address, writer, bell.clone(), stop_files.clone())?),
                Origin::Senders(address) => drop(izba_sources::listen(address, writer, bell.clone(), stop_files.clone())?),
                Origin::Address(address) => drop(izba_sources::connect(address, writer, bell.clone(), stop_files.clone())?),
            }
            sources.push(source);
        }
        let saves = orders.clone();
        let watcher = izba_sources::watch_saves(&project, move |saved| drop(saves.send(Order::Saved(saved))));
        let first =
            Published { snapshot: engine.snapshot(), today: project.clone(), running: false, can_run_again: false, backlog: 0, troubles: Vec::new() };
        let slot = Arc::new(ArcSwap::from_pointee(first));
        let announced = Arc::new(AtomicBool::new(false));
        let mut worker = Worker {
            engine,
            root: setup.root.clone(),
            today: project.clone(),
            project,
            sources,
            bell,
            answers,
            slot: slot.clone(),
            troubles: watcher.as_ref().err().map(SourceError::sentence).into_iter().collect(),
            finding: None,
            maps: (maps, None),
            again: false,
            announced: announced.clone(),
            code: 0,
        };
        let ended = Arc::new(AtomicBool::new(false));
        let all_ended = ended.clone();
        let thread = std::thread::Builder::new()
            .name("engine".into())
            .spawn(move || {
                let _watching = watcher;
                worker.run(&inbox);
                drop(helpers);
                all_ended.store(true, Ordering::Release);
                worker.code
            })
            .map_err(|cause| SourceError::System { doing: "start a thread", cause })?;
        Ok(Watch { orders, answers: outbox, slot, thread: Some(thread), closing, stop_files, ended, announced })
    }

    /// Asks for something. Orders are few; a full queue is waited for.
    pub fn order(&self, order: Order) {
        // The thread ends only with this handle; a lost order then matters to nobody.
        let _ = self.orders.send(order);
    }

    /// The newest snapshot.
    pub fn published(&self) -> Arc<Published> {
        self.announced.store(false, Ordering::Release);
        self.slot.load_full()
    }

    /// The next answer, if there is one within `wait`.
    pub fn answer(&self, wait: Duration) -> Option<Answer> {
        self.answers.recv_timeout(wait).ok()
    }

    /// A handle for ending from another thread.
    pub fn ender(&self) -> Ender {
        Ender { orders: self.orders.clone(), ended: self.ended.clone() }
    }

    /// Ends all programs and the thread; returns the exit code of the command that ran last.
    pub fn end(mut self) -> i32 {
        self.stop_files.store(true, Ordering::Release);
        self.order(Order::Quit);
        let code = self.thread.take().and_then(|t| t.join().ok()).unwrap_or(0);
        for thread in self.closing.drain(..) {
            let _ = thread.join();
        }
        code
    }
}

/// Ends the programs from any thread.
#[derive(Debug, Clone)]
pub struct Ender {
    orders: SyncSender<Order>,
    ended: Arc<AtomicBool>,
}

impl Ender {
    /// Asks the engine thread to end, and waits at most `bound` for the programs to be gone.
    pub fn end(&self, bound: Duration) {
        let _ = self.orders.try_send(Order::Quit);
        let begun = Instant::now();
        while !self.ended.load(Ordering::Acquire) && begun.elapsed() < bound {
            std::thread::sleep(Duration::from_millis(20));
        }
    }
}

impl Drop for Watch {
    fn drop(&mut self) {
        self.stop_files.store(true, Ordering::Release);
        let _ = self.orders.try_send(Order::Quit);
    }
}

impl Worker {
    fn run(&mut self, inbox: &Receiver<Order>) {
        let mut shown = Instant::now();
        let mut changed = true;
        self.publish();
        loop {
            let busy = self.backlog() > 0 || self.finding.is_some();
            let wait = if busy {
                Duration::ZERO
            } else if changed {
                FRAME.saturating_sub(shown.elapsed())
            } else {
                TICK
            };
            match inbox.recv_timeout(wait) {
                Ok(Order::Quit) | Err(RecvTimeoutError::Disconnected) => break,
                Ok(order) => changed |= self.obey(order),
                Err(RecvTimeoutError::Timeout) => {}
            }
            let mut quit = false;
            while let Ok(order) = inbox.try_recv() {
                quit |= matches!(order, Order::Quit);
                changed |= self.obey(order);
            }
            if quit {
                break;
            }
            changed |= self.read_spools();
            self.look_for();
            self.start_again_when_ended();
            if (changed && shown.elapsed() >= FRAME) || shown.elapsed() >= TICK {
                self.publish();
                shown = Instant::now();
                changed = false;
            }
        }
        for source in &mut self.sources {
            // Dropping a running program ends it and all that it started.
            if let Some(running) = source.running.take()
                && running.has_ended()
            {
                self.code = running.code();
            }
        }
    }

    fn backlog(&self) -> u64 {
        self.sources.iter().map(|s| s.reader.backlog()).sum()
    }

    fn obey(&mut self, order: Order) -> bool {
        match order {
            Order::Wake | Order::Quit => {}
            Order::Again => {
                self.again = true;
                for source in &self.sources {
                    if let Some(running) = source.running.as_ref().filter(|r| !r.has_ended()) {
                        running.stop();
                    }
                }
            }
            Order::Stop => {
                for running in self.sources.iter().filter_map(|s| s.running.as_ref()) {
                    running.stop();
                }
            }
            Order::Type(text) => {
                let asked = self.sources.iter().find(|s| s.running.as_ref().is_some_and(|r| !r.has_ended()));
                let typed = asked.and_then(|source| {
                    if let Ok(mut writer) = source.writer.lock() {
                        // What the program answers comes after this mark.
                        let _ = writer.append(&Event::Typed, b"");
                    }
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
            Order::Find { id, words, from, up } => self.finding = Some(Finding { id, words, at: from, up, searched: 0 }),
            Order::FindNothing => self.finding = None,
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
                return true;
            }
        }
        false
    }

    fn trouble(&mut self, sentence: String) {
        let _ = self.answers.send(Answer::Trouble(sentence.clone()));
        if !self.troubles.contains(&sentence) && self.troubles.len() < 20 {
            self.troubles.push(sentence);
        }
    }

    fn read_spools(&mut self) -> bool {
        let begun = Instant::now();
        let mut changed = false;
        while begun.elapsed() < SLICE {
            let mut any = false;
            for at in 0..self.sources.len() {
                any |= self.read_record(at);
            }
            if !any {
                break;
            }
            changed = true;
        }
        changed
    }

    fn read_record(&mut self, at: usize) -> bool {
        let source = &mut self.sources[at];
        let record = match source.reader.next_record() {
            Ok(Some(record)) => record,
            Ok(None) => {
                // Only looked at while there is nothing to read.
                if !source.complained && source.writer.try_lock().is_ok_and(|w| w.lost() > 0) {
                    source.complained = true;
                    self.trouble("the disk is full: what the program prints now is not kept".into());
                }
                return false;
            }
            Err(error) => {
                if !source.complained {
                    source.complained = true;
                    self.trouble(error.sentence());
                }
                return false;
            }
        };
        if matches!(record.event, Event::Bytes(_)) && memchr::memmem::find(&record.bytes, b"js:").is_some() {
            self.look_for_maps();
        }
        let source = &self.sources[at];
        feed_record(&mut self.engine, source.id, &record, &self.project);
        true
    }

    /// Bundles may be built while a program runs: their maps are looked for when a place in a script is told.
    fn look_for_maps(&mut self) {
        if self.maps.1.is_some_and(|looked| looked.elapsed() < MAPS) {
            return;
        }
        let found = izba_sources::find_maps(&self.root);
        let changed = found != self.maps.0;
        self.maps = (found, Some(Instant::now()));
        if changed {
            let maps = izba_sources::read_maps(&self.maps.0);
            self.project = Arc::new(self.project.with_bundles(maps));
            for source in &self.sources {
                self.engine.set_project(source.id, self.project.clone());
            }
        }
    }

    /// Starts the commands anew once the old programs are gone and what they said is read.
    fn start_again_when_ended(&mut self) {
        if !self.again || self.backlog() > 0 || self.sources.iter().filter_map(|s| s.running.as_ref()).any(|r| !r.has_ended()) {
            return;
        }
        self.again = false;
        // The new run is read against the files as they are at its start.
        self.project = Arc::new(izba_sources::scan(&self.root));
        self.today = self.project.clone();
        let mut failed = None;
        for source in &mut self.sources {
            let Some(command) = &source.command else { continue };
            source.running = None;
            match command.start(source.writer.clone(), self.bell.clone()) {
                Ok(running) => source.running = Some(running),
                Err(error) => failed = Some(error.sentence()),
            }
        }
        if let Some(sentence) = failed {
            self.trouble(sentence);
        }
    }

    fn publish(&mut self) {
        self.engine.tick(izba_sources::now());
        let running = self.sources.iter().any(|s| s.running.as_ref().is_some_and(|r| !r.has_ended()));
        let published = Published {
            snapshot: self.engine.snapshot(),
            today: self.today.clone(),
            running,
            can_run_again: self.sources.iter().any(|s| s.command.is_some()),
            backlog: self.backlog(),
            troubles: self.troubles.clone(),
        };
        self.slot.store(Arc::new(published));
        // Told once until somebody looks: while the editor is open nobody does.
        if !self.announced.swap(true, Ordering::AcqRel) {
            let _ = self.answers.send(Answer::Published);
        }
    }
}

/// Gives one record of a spool to the engine; a run that starts is read against `project`.
pub fn feed_record(engine: &mut Engine, source: SourceId, record: &Record, project: &Arc<Project>) {
    let time = Some(record.time);
    match record.event {
        Event::Bytes(stream) => engine.feed(source, stream, time, record.offset, &record.bytes),
        Event::Typed => engine.end_unfinished(source, time),
        Event::Start => engine.start_run(source, time, project.clone()),
        Event::End { well } => engine.end_run(source, time, String::from_utf8_lossy(&record.bytes).into_owned(), well),
    }
}

/// Whether all sources have ended and all they said is read.
pub fn is_over(published: &Published) -> bool {
    published.backlog == 0 && !published.running && published.snapshot.sources.iter().all(|s| matches!(s.mark, RunMark::Ended { .. }))
}

/// A name for a file as a source.
pub fn file_name(path: &Path) -> String {
    path.file_name().map_or_else(|| path.to_string_lossy().into_owned(), |n| n.to_string_lossy().into_owned())
}
