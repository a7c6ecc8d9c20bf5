//! The engine thread: reads the spools, feeds the engine, publishes snapshots and answers questions
//! about lines.
//!
//! It alone owns the engine. The screen gets an immutable [`Published`] through a one-slot swap, at
//! most 60 times a second, and rows by asking for a window of them; no lock is shared with the
//! interface.

use crate::collector::{Collector, Hearing, Tell};
use crate::heard::Heard;
use crate::keeping::Past;
use crate::kinds::Origin;
use crate::kinds::Wanted;
use crate::maps::Maps;
use crate::orders::{Answer, Order, Published};
use crate::sharing::Sharing;
use crate::sources::Later;
use crate::told_page::ToldPage;
use crate::worker::Worker;
use crate::{detecting, filtering, keeping, leave, noting, pausing};
use arc_swap::ArcSwap;
use izba_core::Engine;
use izba_sources::{Bell, Command, SourceError, SpoolWriter};
use std::path::PathBuf;
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::mpsc::{Receiver, SyncSender, TrySendError, channel, sync_channel};
use std::sync::{Arc, Mutex};
use std::thread::JoinHandle;
use std::time::{Duration, Instant};

/// What is to be watched.
#[derive(Debug)]
pub struct Setup {
    /// The project's folder.
    pub root: PathBuf,
    /// The folder for this session's spools.
    pub session: PathBuf,
    /// The sources with the names that people see.
    pub sources: Vec<(String, Origin)>,
    /// Sources as the project's file names them.
    pub wanted: Vec<Wanted>,
    /// Programs that run along without being watched, such as a device of the demo.
    pub helpers: Vec<Command>,
    /// Sources that are watched from [`Order::Rest`] on, each with the program that has to run
    /// along.
    pub later: Vec<Later>,
    /// Whether this is the demo.
    pub demo: bool,
    /// Whether commands that are started here start again when an own file is saved.
    pub again_on_save: bool,
    /// How much output is kept, in bytes; the oldest runs go first.
    pub budget: u64,
    /// A run of an earlier session to look at; nothing is watched then.
    pub past: Option<Past>,
    /// Whether the code is looked into before anybody asks, for one who looks on.
    pub ahead: bool,
    /// Who else hears what programs print, as it is read.
    pub heard: Heard,
    /// Who is told what becomes of mistakes.
    pub tell: Option<Tell>,
}

impl Setup {
    /// Sources of a project, with nothing beside them.
    pub fn new(root: PathBuf, session: PathBuf, sources: Vec<(String, Origin)>) -> Setup {
        Setup {
            root,
            session,
            sources,
            wanted: Vec::new(),
            helpers: Vec::new(),
            later: Vec::new(),
            demo: false,
            again_on_save: false,
            budget: izba_sources::STORE_BUDGET,
            past: None,
            ahead: true,
            heard: Heard::default(),
            tell: None,
        }
    }
}

/// The handle of the engine thread.
#[derive(Debug)]
pub struct Watch {
    orders: SyncSender<Order>,
    answers: Receiver<Answer>,
    slot: Arc<ArcSwap<Published>>,
    thread: Option<JoinHandle<i32>>,
    ended: Arc<AtomicBool>,
    announced: Arc<AtomicBool>,
    _sharing: Option<Sharing>,
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
        let maps = izba_files::find_maps(&setup.root);
        let project = Arc::new(izba_files::scan(&setup.root));
        let mut helpers = Vec::new();
        for (at, helper) in setup.helpers.into_iter().enumerate() {
            // What a helper prints is kept, but nobody is told.
            let writer =
                SpoolWriter::create(&setup.session.join(format!("helper-{}.seg", at + 1)))?;
            helpers.push(helper.start(Arc::new(Mutex::new(writer)), Arc::new(|| {}))?);
        }
        let (session, root) = (setup.session.clone(), setup.root.clone());
        let looks_back = setup.past.is_some();
        let mut engine = Engine::new(project.clone());
        engine.set_zone(jiff::tz::TimeZone::system());
        let saves = orders.clone();
        let watcher =
            izba_files::watch_saves(&project, move |saved| drop(saves.send(Order::Saved(saved))));
        let store = setup.session.parent().unwrap_or(&setup.session).to_owned();
        let trying = crate::trying::Trying::of(&setup.root, &store);
        let first = Published {
            snapshot: engine.snapshot(),
            today: project.clone(),
            running: false,
            can_run_again: false,
            backlog: 0,
            troubles: Vec::new(),
            sources: Vec::new(),
            awaited: Vec::new(),
            filters: Vec::new(),
            past: None,
            code: Arc::default(),
            known: Arc::default(),
            pause: Arc::default(),
            corner: None,
            paths: None,
            values: None,
            notes: Arc::default(),
            tries_alone: trying.alone,
            page_told: None,
            page_awaited: false,
            telling: None,
            class: Arc::default(),
        };
        let told = orders.clone();
        let detecting =
            detecting::Detecting::start(Arc::new(move || match told.try_send(Order::Detected) {
                Ok(()) | Err(TrySendError::Full(_) | TrySendError::Disconnected(_)) => {}
            }));
        let (mut keeping, said) = keeping::Keeping::open(&store, &setup.root, setup.budget);
        let heard = keeping.hear(&mut engine);
        let (noting, unread) = noting::Noting::open(izba_store::Notes::of(
            &setup.root,
            &izba_sources::Store::notes_of(&store),
        ));
        let slot = Arc::new(ArcSwap::from_pointee(first));
        let announced = Arc::new(AtomicBool::new(false));
        // Those that come later bring their page themselves.
        let page = if setup.later.is_empty() { ToldPage::default() } else { ToldPage::none() };
        let (collector, refused) =
            match setup.tell.map(|tell| Collector::open(&tell, &setup.root, &store)).transpose() {
                Ok(collector) => (collector, None),
                Err(sentence) => (None, Some(sentence)),
            };
        let mut worker = Worker {
            engine,
            root: setup.root.clone(),
            session: setup.session.clone(),
            today: project.clone(),
            project,
            sources: Vec::new(),
            later: setup.later,
            helpers: Vec::new(),
            globs: Vec::new(),
            readers: Vec::new(),
            bell,
            answers,
            slot: slot.clone(),
            troubles: watcher
                .as_ref()
                .err()
                .map(izba_sources::plain_io)
                .into_iter()
                .chain(said)
                .chain(heard)
                .chain(unread)
                .chain(refused)
                .chain(izba_sources::aside_told())
                .collect(),
            utc_offset: jiff::Zoned::now().offset().seconds(),
            finding: None,
            filtering: filtering::Filtering::default(),
            keeping,
            detecting,
            pausing: pausing::Pausing::default(),
            cornering: None,
            trying,
            walking: None,
            valuing: None,
            noting,
            past: setup.past.as_ref().map(|p| p.run.card.number),
            maps: Maps::new(maps),
            saved: None,
            again_on_save: setup.again_on_save,
            announced: announced.clone(),
            ahead: setup.ahead,
            heard: setup.heard,
            collector,
            hearing: Hearing::default(),
            aside: false,
            page,
            opens_many: setup.sources.len() + setup.wanted.len() > 1,
            code: 0,
        };
        match crate::readers::read_file(&setup.root.join(crate::readers::FILE)) {
            Ok(readers) => worker.readers = readers,
            Err(sentence) => worker.troubles.push(sentence),
        }
        if let Some(past) = setup.past {
            worker.open_past(&past)?;
        }
        for (name, origin) in setup.sources {
            worker.open(name, origin, None)?;
        }
        for wanted in setup.wanted {
            if crate::kinds::is_page_to_come(&wanted) {
                worker.page.auto = Some(wanted);
                continue;
            }
            let (name, origin) = wanted.origin(&setup.root).map_err(|why| SourceError::System {
                doing: "watch a source",
                cause: std::io::Error::other(why),
            })?;
            worker.open(name, origin, Some(wanted))?;
        }
        worker.opens_many = false;
        // What is watched stands on the screen from its first picture on.
        worker.publish();
        let ended = Arc::new(AtomicBool::new(false));
        let all_ended = ended.clone();
        let thread = std::thread::Builder::new()
            .name("engine".into())
            .spawn(move || {
                let _watching = watcher;
                worker.run(&inbox);
                worker.helpers.clear();
                drop(helpers);
                all_ended.store(true, Ordering::Release);
                worker.code
            })
            .map_err(|cause| SourceError::System { doing: "start a thread", cause })?;
        // What is looked at afterwards is watched by nobody.
        let sharing = if looks_back {
            None
        } else {
            Sharing::start(&session, &root, slot.clone(), orders.clone())
        };
        Ok(Watch {
            orders,
            answers: outbox,
            slot,
            thread: Some(thread),
            ended,
            announced,
            _sharing: sharing,
        })
    }

    /// Asks for something. Orders are few; a full queue is waited for.
    pub fn order(&self, order: Order) {
        // The thread ends only with this handle; a lost order then matters to nobody.
        let _ = self.orders.send(order);
    }

    /// The newest snapshot; what is published next announces itself again.
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

    /// Ends all programs and the thread; what goes wrong while it is put away goes to `trouble`.
    /// Returns the exit code of the command that ran last.
    pub fn end_telling(self, mut trouble: impl FnMut(String)) -> i32 {
        self.order(Order::Quit);
        // The thread drops its end when it is done.
        while let Ok(answer) = self.answers.recv() {
            if let Answer::Trouble(sentence) = answer {
                trouble(sentence);
            }
        }
        self.end()
    }

    /// Ends all programs and the thread, within a second; returns the exit code of the command that
    /// ran last, and 0 when that is not known by then. What is left dies with the process.
    pub fn end(mut self) -> i32 {
        let _ = self.orders.try_send(Order::Quit);
        self.thread.take().and_then(|t| leave::join_within(t, leave::ALL)).unwrap_or(0)
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
        let _ = self.orders.try_send(Order::Quit);
    }
}
