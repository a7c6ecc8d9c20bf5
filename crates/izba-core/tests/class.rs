//! What is told of mistakes to a collector, and what is not.

use izba_core::class::{Change, Newsroom, Teller, record, resource};
use izba_core::help::Owner;
use izba_core::{Engine, GroupBy, SourceId, Wish};
use izba_model::{Millis, Project, ProjectFile, Stream};
use serde_json::Value;
use std::sync::Arc;

const SCRIPT: &str = "local function moor(boat)\n  print(boat.mast.height)\nend\nmoor({})\n";
/// A trace with a step of somebody else's code, which is not told.
const MAST: &str = "lua5.4: boat.lua:2: attempt to index a nil value (field 'mast')\nstack \
    traceback:\n\tboat.lua:2: in local 'moor'\n\t/usr/share/lua/rope.lua:9: in function \
    'rope.call'\n\tboat.lua:4: in main chunk\n\t[C]: in ?\n";
const START: i64 = 1_790_000_000_000;

struct Watched {
    engine: Engine,
    source: SourceId,
    offset: u64,
    news: Newsroom,
}

impl Watched {
    fn new() -> Watched {
        let file = ProjectFile { path: "boat.lua".into(), text: Some(SCRIPT.into()) };
        let project = Arc::new(Project::new("/home/wren/harbour", vec![file]));
        let mut engine = Engine::new(project);
        let source = engine.add_source("boat");
        Watched { engine, source, offset: 0, news: Newsroom::default() }
    }

    /// Runs once, `after` milliseconds later: what it prints, and whether it ends well.
    fn run(&mut self, after: i64, printed: &str, well: bool) {
        let time = Some(Millis(START + after));
        let project = self.engine.snapshot().project;
        self.engine.start_run(self.source, time, project);
        self.engine.feed(self.source, Stream::Err, time, self.offset, printed.as_bytes());
        self.offset += printed.len() as u64;
        let how = if well { "ended well" } else { "ended with exit code 1" };
        self.engine.end_run(self.source, time, how.into(), well);
    }

    fn told(&mut self, after: i64) -> Vec<Change> {
        let snapshot = self.engine.snapshot();
        self.news.news(&snapshot, Millis(START + after)).iter().map(|n| n.change).collect()
    }
}

#[test]
fn a_mistake_is_told_when_it_is_met_gone_and_back_and_not_in_between() {
    let mut watched = Watched::new();
    watched.run(0, MAST, false);
    assert_eq!(watched.told(0), [Change::Met]);
    assert_eq!(watched.told(10), []);
    // It goes on: told again after a while, however often it comes.
    watched.run(1_000, MAST, false);
    assert_eq!(watched.told(1_000), []);
    watched.run(40_000, MAST, false);
    assert_eq!(watched.told(40_000), [Change::Again]);
    watched.run(50_000, "moored\n", true);
    assert_eq!(watched.told(50_000), [Change::Gone]);
    assert_eq!(watched.told(50_010), []);
    watched.run(60_000, MAST, false);
    assert_eq!(watched.told(60_000), [Change::Back]);
}

#[test]
fn what_is_not_the_users_own_and_what_is_set_aside_is_told_to_nobody() {
    let mut watched = Watched::new();
    watched.run(
        0,
        "error: the lighthouse at /opt/light/lamp.lua:3 is out\nwarning: low tide\n",
        true,
    );
    assert_eq!(watched.told(0), []);
    watched.run(10, MAST, false);
    let identity = watched.engine.groups().iter().find(|g| g.is_own()).map(|g| g.identity.clone());
    watched.engine.wish(&Wish::Mute(identity.expect("it was met"), true));
    assert_eq!(watched.told(20), []);
}

#[test]
fn what_an_earlier_session_met_is_told_when_it_is_gone_and_not_before_it_runs_again() {
    let mut watched = Watched::new();
    watched.run(0, MAST, false);
    assert_eq!(watched.told(0), [Change::Met]);
    watched.news = Newsroom::default();
    watched.run(10, "moored\n", true);
    assert_eq!(watched.told(10), [Change::Gone]);
    assert_eq!(watched.told(20), []);
}

#[test]
fn rows_by_object_are_no_mistakes() {
    let mut watched = Watched::new();
    watched.run(0, MAST, false);
    watched.engine.group_by(GroupBy::Object);
    assert_eq!(watched.told(0), []);
}

fn attribute<'a>(told: &'a Value, name: &str) -> Option<&'a str> {
    let all = told["attributes"].as_array()?;
    let value = &all.iter().find(|a| a["key"] == name)?["value"];
    value["stringValue"].as_str().or(value["intValue"].as_str())
}

#[test]
fn a_record_has_the_standards_names_own_steps_only_and_nothing_private() {
    let mut watched = Watched::new();
    let secret = MAST.replace("(field 'mast')", "(field 'mast') in /home/wren/harbour/boat.lua");
    watched.run(0, &secret, false);
    let snapshot = watched.engine.snapshot();
    let news = watched.news.news(&snapshot, Millis(START));
    let owner = Owner { home: Some("/home/wren".into()), user: Some("wren".into()), machine: None };
    let told = record(&news[0], &owner, Millis(START));
    assert_eq!(attribute(&told, "code.file.path"), Some("boat.lua"));
    assert_eq!(attribute(&told, "code.line.number"), Some("2"));
    assert_eq!(attribute(&told, "izba.change"), Some("met"));
    let steps = attribute(&told, "exception.stacktrace").expect("own steps");
    assert!(steps.contains("boat.lua:4") && !steps.contains("rope.lua"), "{steps}");
    assert_eq!((&told["severityNumber"], &told["severityText"]), (&17.into(), &"ERROR".into()));
    let all = format!(
        "{told}{}",
        resource(&Teller { project: "wren's".into(), ..Teller::default() }, &owner)
    );
    assert!(!all.contains("wren"), "{all}");
    // Who wants to be known is told by the name they typed.
    let named = Teller { name: Some("Wren".into()), ..Teller::default() };
    assert_eq!(attribute(&resource(&named, &owner), "user.name"), Some("Wren"));
}
