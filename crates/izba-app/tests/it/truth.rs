//! Whatever is edited, saved, run and pressed, in whatever order: no sentence on the screen
//! contradicts what is so.

use crate::views::{picture, published_of};
use izba_app::model::{Model, Room};
use izba_app::theme::{Depth, Theme};
use izba_app::turn::{Effect, Msg, update};
use izba_cause::suspect::Findings;
use izba_core::{Engine, GroupId, SourceId, State};
use izba_model::{Level, Millis, Project, ProjectFile, Stream};
use izba_watch::Order;
use proptest::prelude::*;
use std::collections::BTreeMap;
use std::sync::Arc;

const START: i64 = 1_764_000_000_000;
/// Lines of the script that may be wrong.
const LINES: usize = 3;

#[derive(Debug, Clone)]
enum Deed {
    /// Breaks a line or mends it, and saves.
    Edit(usize),
    /// Runs it; what is wrong is told at once, or later.
    Run(bool),
    /// What is wrong in the run is told once more.
    Strike,
    /// Time goes by, in milliseconds.
    Wait(i64),
    /// A key.
    Press(&'static str),
}

fn deeds() -> impl Strategy<Value = Vec<Deed>> {
    const KEYS: &[&str] = &[
        "↓",
        "↑",
        "Tab",
        "x",
        "p",
        "F",
        "1",
        "2",
        "z",
        "Esc",
        "Enter",
        "End",
        "Shift+Tab",
        "[",
        "]",
        "Z",
        "m",
        "u",
    ];
    let one = prop_oneof![
        2 => (0..LINES).prop_map(Deed::Edit),
        2 => any::<bool>().prop_map(Deed::Run),
        1 => Just(Deed::Strike),
        2 => prop::sample::select(&[200i64, 1_500, 4_000, 40_000][..]).prop_map(Deed::Wait),
        4 => prop::sample::select(KEYS).prop_map(Deed::Press),
    ];
    prop::collection::vec(one, 1..16)
}

/// A game of one script, watched.
struct World {
    engine: Engine,
    model: Model,
    now: i64,
    run_began: i64,
    wrong: [bool; LINES],
    /// What was wrong in the files with which the run began.
    of_run: [bool; LINES],
    today: Arc<Project>,
    findings: BTreeMap<GroupId, Arc<Findings>>,
}

fn project(wrong: [bool; LINES]) -> Arc<Project> {
    let line = |(at, wrong): (usize, &bool)| {
        let value = if *wrong { "" } else { " = {}" };
        format!("local v{at}{value}\nprint(v{at}.height)\n")
    };
    let text: String = wrong.iter().enumerate().map(line).collect();
    let file = ProjectFile { path: "pier.lua".into(), text: Some(text.into()) };
    Arc::new(Project::new("/srv/pier", vec![file]))
}

impl World {
    fn new() -> World {
        let wrong = [true; LINES];
        let today = project(wrong);
        let mut engine = Engine::new(today.clone());
        engine.add_source("marsh engine");
        let theme = Theme::new(Depth::True, false);
        let model = Model::new(published_of(&engine), (142, 42), theme, 0);
        let mut world = World {
            engine,
            model,
            now: START,
            run_began: START,
            wrong,
            of_run: wrong,
            today,
            findings: BTreeMap::new(),
        };
        world.run();
        world
    }

    fn run(&mut self) {
        self.of_run = self.wrong;
        self.run_began = self.now;
        self.engine.start_run(SourceId(0), Some(Millis(self.now)), self.today.clone());
        let began = b"the pier opens\n";
        self.engine.feed(SourceId(0), Stream::Out, Some(Millis(self.now)), 0, began);
    }

    fn strike(&mut self) {
        for at in (0..LINES).filter(|at| self.of_run[*at]) {
            let line = format!(
                "error | Pier#1.tick | pier.lua:{}: attempt to index a nil value (local 'v{at}')\n\n",
                2 * at + 2
            );
            let bytes = line.as_bytes();
            self.engine.feed(SourceId(0), Stream::Err, Some(Millis(self.now)), 0, bytes);
        }
    }

    fn publish(&mut self) {
        self.engine.tick(Millis(self.now));
        let mut published = (*published_of(&self.engine)).clone();
        published.today = self.today.clone();
        let files = published.snapshot.project.clone();
        let index = izba_code::index(files.files().iter().map(|f| (&f.path, f.text.as_ref())));
        // What was found out while it was there stays known.
        for group in published.snapshot.groups.iter().filter(|g| g.state != State::Quiet) {
            let found = izba_cause::suspect::find(&group.entry, &index, &[]);
            self.findings.insert(group.id, Arc::new(found));
        }
        published.code = Arc::new(izba_watch::Code {
            index: Arc::new(index),
            findings: self.findings.clone().into_iter().collect(),
            remarks: None,
            prints: Arc::default(),
            left_out: None,
        });
        let effects = update(&mut self.model, Msg::Published(Arc::new(published)));
        self.obey(effects);
    }

    fn obey(&mut self, effects: Vec<Effect>) {
        for effect in effects {
            if let Effect::Order(Order::Wish(wishes, _)) = effect {
                for wish in &wishes {
                    self.engine.wish(wish);
                }
            }
        }
    }

    fn does(&mut self, deed: &Deed) {
        match deed {
            Deed::Edit(at) => {
                self.wrong[*at] = !self.wrong[*at];
                self.today = project(self.wrong);
            }
            Deed::Run(tells) => {
                self.now += 50;
                self.run();
                if *tells {
                    self.strike();
                }
            }
            Deed::Strike => self.strike(),
            Deed::Wait(ms) => self.now += ms,
            Deed::Press(key) => {
                let effects = update(&mut self.model, Msg::Key((*key).to_owned()));
                self.obey(effects);
            }
        }
        self.publish();
    }

    /// What on the screen is not so.
    fn untrue(&self) -> Option<String> {
        let seen = picture(&self.model);
        let snapshot = self.engine.snapshot();
        let groups = &snapshot.groups;
        let here = |set_aside: bool| {
            groups.iter().any(|g| {
                g.state != State::Quiet && g.level() >= Level::Error && g.muted == set_aside
            })
        };
        let run_age = self.now - self.run_began;
        let (open, aside) = (here(false), groups.iter().any(|g| g.muted));
        let says = |words: &str| seen.contains(words);
        let mut wrong = Vec::new();
        let told = says("Fix first");
        if told != open && (told || self.model.room == Room::Now) {
            wrong.push("“Fix first” stands there if and only if there is something to fix");
        }
        if (says("No errors in this run") || says("No errors so far") || says("No errors yet"))
            && (open || aside)
        {
            wrong.push("there are errors, or some are set aside");
        }
        if says("No errors in this run") && run_age < 3_000 {
            wrong.push("a run that has just begun has shown nothing yet");
        }
        if says("Nothing left to fix") && (open || !aside) {
            wrong.push("something is left to fix, or nothing is set aside");
        }
        if says("You have saved pier.lua since") && self.wrong == self.of_run {
            wrong.push("nothing was saved that the run does not have");
        }
        let chosen = self.model.selected().filter(|_| self.model.room == Room::Now);
        if let Some(group) = chosen {
            let accused = says("likely: ") || says("Who may have done it");
            let at = group.entry.place.as_ref().and_then(|p| p.line).unwrap_or(2) as usize / 2 - 1;
            // Its line is declared with a value in the files that are shown.
            if group.state == State::Quiet && !self.of_run[at] && accused {
                wrong.push("somebody is accused of what is mended");
            }
        }
        let are: Vec<String> = groups
            .iter()
            .map(|g| format!("{} {:?} {:?} {}", g.explanation.short, g.state, g.level(), g.muted))
            .collect();
        (!wrong.is_empty()).then(|| format!("{}\n{are:#?}\n{seen}", wrong.join("; ")))
    }
}

/// Sixty sequences in each run of the tests; `PROPTEST_CASES` asks for another number.
fn sequences() -> ProptestConfig {
    let asked = std::env::var_os("PROPTEST_CASES").is_some();
    let config = ProptestConfig::default();
    if asked { config } else { ProptestConfig { cases: 60, ..config } }
}

proptest! {
    #![proptest_config(sequences())]

    #[test]
    fn nothing_on_the_screen_contradicts_what_is_so(deeds in deeds()) {
        let mut world = World::new();
        for deed in &deeds {
            world.does(deed);
            if let Some(untrue) = world.untrue() {
                return Err(TestCaseError::fail(format!("after {deed:?}: {untrue}")));
            }
        }
    }
}
