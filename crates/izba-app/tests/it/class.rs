//! One Izba tells another: over a real listener, with the programs of two who met the same mistake.

use crate::tmux::free_address;
use izba_sources::{Command, CommandSpec};
use izba_watch::collector::Tell;
use izba_watch::kinds::{Origin, Otlp};
use izba_watch::{Order, Published, Setup, Watch};
use std::net::SocketAddr;
use std::path::Path;
use std::time::{Duration, Instant};

const BOUND: Duration = Duration::from_secs(30);

const BROKEN: &str = "local boat = {}\nprint(boat.mast.height)\n";
const FIXED: &str = "local boat = { mast = { height = 4 } }\nprint(boat.mast.height)\n";

fn start(folder: &Path, source: Origin, tell: Option<Tell>) -> Watch {
    let (project, session) = (folder.join("ferry"), folder.join("store/session"));
    std::fs::create_dir_all(&project).expect("room");
    std::fs::create_dir_all(&session).expect("room");
    std::fs::write(project.join("boat.lua"), BROKEN).expect("room");
    let setup = Setup::new(project, session, vec![("boat".into(), source)]);
    Watch::start(Setup { tell, ..setup }).expect("it starts")
}

fn teller(folder: &Path, to: SocketAddr, name: Option<&str>) -> Watch {
    std::fs::create_dir_all(folder.join("ferry")).expect("room");
    let command = Command::new(CommandSpec {
        words: ["lua5.4", "boat.lua"].map(Into::into).to_vec(),
        folder: folder.join("ferry"),
        environment: Vec::new(),
        pipes: false,
        inherit_input: false,
    });
    let tell = Tell::new(&to.to_string(), name.map(str::to_owned)).expect("an address");
    start(folder, Box::new(command.expect("lua5.4 is there")), Some(tell))
}

#[track_caller]
fn until(watch: &Watch, what: &str, holds: impl Fn(&Published) -> bool) {
    let begun = Instant::now();
    while !holds(&watch.published()) {
        assert!(
            begun.elapsed() < BOUND,
            "waited in vain for {what}: {:?}",
            watch.published().class
        );
        let _ = watch.answer(Duration::from_millis(50));
    }
}

#[test]
fn a_class_hears_who_met_a_mistake_and_who_got_rid_of_it() {
    let [class, one, other] = [(); 3].map(|()| tempfile::tempdir().expect("a folder"));
    let at = free_address();
    let class = start(class.path(), Box::new(Otlp(at)), None);
    let first = teller(one.path(), at, Some("Wren"));
    let second = teller(other.path(), at, None);
    until(&class, "both", |p| p.class.stuck().len() == 2);
    let shown = class.published();
    let [met] = shown.class.mistakes.as_slice() else { panic!("{:?}", shown.class) };
    assert_eq!(shown.class.share(met), "met by 2 of 2");
    assert_eq!(met.place().as_deref(), Some("boat.lua:2"));
    // Both are one row, and it leads to the class.
    let rows = &shown.snapshot.groups;
    assert_eq!((rows.len(), rows[0].count), (1, 2));
    assert_eq!(shown.class.about(&rows[0].entry.report.message), Some(met));
    let mut names: Vec<&str> = shown.class.senders.iter().map(|s| s.name.as_str()).collect();
    names.sort_by_key(|name| *name != "Wren");
    assert_eq!(names[0], "Wren");
    assert!(names[1].starts_with("number "), "{names:?}");

    let saved =
        |p: &Published| p.today.file("boat.lua").is_some_and(|f| f.text.as_deref() == Some(FIXED));
    std::fs::write(one.path().join("ferry/boat.lua"), FIXED).expect("room");
    until(&first, "the edit", saved);
    first.order(Order::Again);
    until(&class, "one without it", |p| p.class.stuck().len() == 1);
    let class_now = class.published().class.clone();
    assert_eq!(class_now.share(&class_now.mistakes[0]), "met by 2 of 2, 1 got rid of it");
    let wren = class_now.senders.iter().find(|s| s.name == "Wren").expect("she tells");
    assert_eq!((wren.rid, wren.open.len()), (1, 0));
    for watch in [first, second, class] {
        watch.end();
    }
}

#[test]
fn a_collector_that_is_away_hinders_nothing_and_is_told_once_it_is_there() {
    let [class, one] = [(); 2].map(|()| tempfile::tempdir().expect("a folder"));
    let at = free_address();
    let teller = teller(one.path(), at, None);
    until(&teller, "the trouble", |p| p.telling.as_ref().is_some_and(|t| t.told.trouble.is_some()));
    assert_eq!(teller.published().snapshot.groups.len(), 1, "what is watched goes on");
    assert_eq!(teller.published().telling.as_ref().map(|t| t.told.waiting), Some(1));
    let class = start(class.path(), Box::new(Otlp(at)), None);
    until(&class, "what waited", |p| p.class.stuck().len() == 1);
    teller.end();
    class.end();
}
