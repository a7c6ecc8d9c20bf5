//! The engine thread by itself: a program started, read, searched, answered, stopped and started
//! again.

use izba_core::{LineRef, RunMark, SourceId, State};
use izba_sources::{Command, CommandSpec};
use izba_watch::{Answer, LineRow, Order, Published, Setup, Sieve, Sought, Watch, is_over};
use std::path::Path;
use std::sync::Arc;
use std::time::{Duration, Instant};

const BOUND: Duration = Duration::from_secs(30);

struct Watched {
    watch: Watch,
    folder: tempfile::TempDir,
}

fn watch(script: &str) -> Watched {
    let folder = tempfile::tempdir().expect("a temporary folder");
    std::fs::create_dir(folder.path().join("spool")).expect("room");
    let project = folder.path().join("project");
    std::fs::create_dir(&project).expect("room");
    std::fs::write(project.join("boat.lua"), "local boat = {}\nprint(boat.mast.height)\n")
        .expect("room");
    let words = ["sh", "-c", script].map(Into::into).to_vec();
    let command = Command::new(CommandSpec {
        words,
        folder: project.clone(),
        environment: Vec::new(),
        pipes: false,
        inherit_input: false,
    })
    .expect("sh is there");
    let setup =
        Setup::new(project, folder.path().join("spool"), vec![("boat".into(), Box::new(command))]);
    Watched { watch: Watch::start(setup).expect("it starts"), folder }
}

impl Watched {
    /// Waits for a snapshot that is as `holds` wants it.
    #[track_caller]
    fn until(&self, what: &str, holds: impl Fn(&Published) -> bool) -> Arc<Published> {
        let begun = Instant::now();
        loop {
            let published = self.watch.published();
            if holds(&published) {
                return published;
            }
            assert!(
                begun.elapsed() < BOUND,
                "waited in vain for {what}: {:?}",
                published.snapshot.sources
            );
            let _ = self.watch.answer(Duration::from_millis(50));
        }
    }

    /// Orders something and waits for the answer that `pick` takes.
    #[track_caller]
    fn ask<T>(&self, order: Order, pick: impl Fn(Answer) -> Option<T>) -> T {
        self.watch.order(order);
        let begun = Instant::now();
        loop {
            if let Some(found) = self.watch.answer(Duration::from_millis(50)).and_then(&pick) {
                return found;
            }
            assert!(begun.elapsed() < BOUND, "no answer came");
        }
    }

    fn rows(&self, from: u64, count: u64) -> Vec<LineRow> {
        self.ask(Order::Window { from, count }, |a| {
            if let Answer::Window { rows, .. } = a { Some(rows) } else { None }
        })
    }

    fn find(&self, id: u64, word: &str, from: u64, up: bool) -> Option<u64> {
        self.seek(id, Sought::Words(vec![word.into()]), from, up)
    }

    fn seek(&self, id: u64, sought: Sought, from: u64, up: bool) -> Option<u64> {
        self.ask(Order::Find { id, sought, from, up }, |a| match a {
            Answer::Found { id: of, row, done: true, .. } if of == id => Some(row),
            _ => None,
        })
    }
}

const FAULT: &str = "echo \"lua: boat.lua:2: attempt to index a nil value (field 'mast')\" >&2";

#[test]
fn lines_are_read_again_found_and_tied_to_their_group() {
    let watched = watch(&format!(
        "i=0; while [ $i -lt 12000 ]; do echo tide $i; i=$((i+1)); done; {FAULT}; echo fog"
    ));
    let over = watched.until("the end", is_over);
    let group = over.snapshot.groups.first().expect("the fault").clone();
    assert_eq!((over.snapshot.rows, group.count, group.state), (12_002, 1, State::New));
    let texts =
        |rows: &[LineRow]| rows.iter().map(|r| r.text.as_str().to_owned()).collect::<Vec<_>>();
    assert_eq!(texts(&watched.rows(0, 2)), ["tide 0", "tide 1"]);
    assert_eq!(texts(&watched.rows(8_999, 3)), ["tide 8999", "tide 9000", "tide 9001"]);
    assert!(watched.rows(50_000, 10).is_empty());

    let fault = watched.find(1, "mast", 0, false).expect("it stands there");
    let row = watched.rows(fault, 1).pop().expect("the line");
    assert_eq!(
        (row.row, row.group, row.level),
        (fault, Some((group.id, true)), Some(group.level()))
    );
    assert_eq!(
        watched.ask(Order::RowOf(row.line), |a| if let Answer::Row(row) = a {
            Some(row)
        } else {
            None
        }),
        fault
    );
    assert_eq!(
        watched.find(2, "tide 11", fault, true),
        Some(11_999),
        "upwards the nearest comes first"
    );
    assert_eq!(
        watched.find(3, "TIDE", 0, false),
        None,
        "words are looked for in small letters, as they are ordered"
    );
    assert_eq!(watched.find(4, "nowhere", 0, false), None);
    // A moment leads to the first line that came then.
    let at = |time| {
        watched.ask(Order::RowAt(time), |a| if let Answer::Row(row) = a { Some(row) } else { None })
    };
    let time = |row| watched.rows(row, 1)[0].time.expect("a program's lines have a time");
    let there = at(time(6_000));
    assert!(there <= 6_000 && time(there) == time(6_000));
    assert!(there == 0 || time(there - 1) < time(there));
    assert_eq!((at(izba_model::Millis(0)), at(izba_model::Millis(i64::MAX))), (0, 12_001));
    // From error to error, past all other lines.
    assert_eq!(watched.seek(5, Sought::Error(None), 0, false), Some(fault));
    assert_eq!(watched.seek(6, Sought::Error(None), fault, true), None);
    assert_eq!(watched.seek(7, Sought::Error(None), fault + 1, false), None);
    assert_eq!(watched.seek(8, Sought::Error(Some(group.id)), 0, false), None, "only more of it");
    assert_eq!(watched.rows(0, 1)[0].line, LineRef { source: SourceId(0), line: 0 });
}

#[test]
fn of_an_error_its_first_line_alone_is_shown_and_a_run_is_told_where_it_begins() {
    let watched = watch(
        "echo ebb; printf 'Traceback (most recent call last):\n  File \"boat.py\", line 2, in \
         <module>\n    mast.up()\nNameError: name '\''mast'\'' is not defined\n' >&2; echo flood",
    );
    watched.until("the end", is_over);
    let firsts = Sieve { firsts: true, phrase: None };
    let order = Order::Matching { id: 1, sieve: firsts, from: 0, up: 0, down: 10 };
    let rows = watched.ask(order, |a| match a {
        Answer::Matching { id: 1, rows, done: true } => Some(rows),
        _ => None,
    });
    let mut texts: Vec<&str> = rows.iter().map(|r| r.text.as_str()).collect();
    // Two streams may come in either order.
    texts.sort_unstable();
    assert_eq!(texts, ["Traceback (most recent call last):", "ebb", "flood"]);
    assert_eq!(rows.iter().filter(|r| r.starts == Some(1)).count(), 1);
    assert_eq!(rows[0].starts, Some(1));
}

#[test]
fn a_program_is_answered_stopped_and_run_again_against_the_files_of_then() {
    let watched =
        watch(&format!("printf 'who? '; read who; echo \"welcome $who\"; {FAULT}; exec sleep 300"));
    let asks = watched.until("the question", |p| p.snapshot.sources[0].unfinished.is_some());
    assert!(asks.running && asks.can_run_again);
    watched.watch.order(Order::Type("Ada\n".into()));
    watched.until("the fault", |p| !p.snapshot.groups.is_empty());
    let texts: Vec<_> = watched.rows(0, 10).iter().map(|r| r.text.as_str().to_owned()).collect();
    assert_eq!(texts[..3], ["who? ", "Ada", "welcome Ada"]);

    // The file is edited while the program runs: the run is still read against what it started
    // with.
    let script = watched.folder.path().join("project/boat.lua");
    std::fs::write(
        &script,
        "-- mended\nlocal boat = { mast = { height = 3 } }\nprint(boat.mast.height)\n",
    )
    .expect("room");
    let saved = watched.until("the save", |p| p.today.line("boat.lua", 1) == Some("-- mended"));
    assert_eq!(saved.snapshot.project.line("boat.lua", 1), Some("local boat = {}"));

    watched.watch.order(Order::Stop);
    let stopped = watched.until("the stop", |p| !p.running && p.backlog == 0);
    assert_eq!(
        stopped.snapshot.sources[0].mark,
        RunMark::Ended { how: "was stopped".into(), well: true }
    );
    watched.watch.order(Order::Again);
    let again = watched.until("the second run", |p| p.running && p.snapshot.sources[0].run == 2);
    assert_eq!(again.snapshot.groups[0].state, State::Quiet);
    assert_eq!(again.snapshot.project.line("boat.lua", 1), Some("-- mended"));
    let child_ended = Instant::now();
    assert_eq!(watched.watch.end(), 0);
    assert!(child_ended.elapsed() < BOUND);
}

#[test]
fn typing_to_nobody_is_told() {
    let watched = watch("true");
    watched.until("the end", is_over);
    let told = watched.ask(Order::Type("Ada\n".into()), |a| {
        if let Answer::Trouble(t) = a { Some(t) } else { None }
    });
    assert_eq!(told, "no program runs that could read what you typed");
    let spool = watched.folder.path().join("spool/source-1.seg");
    assert!(Path::new(&spool).metadata().is_ok_and(|m| m.len() > 0), "what arrived is on disk");
}

#[test]
fn a_command_that_cannot_start_leaves_nothing_behind() {
    let folder = tempfile::tempdir().expect("a temporary folder");
    let spec = CommandSpec {
        words: vec!["no-such-ferry".into()],
        folder: folder.path().to_owned(),
        environment: Vec::new(),
        pipes: false,
        inherit_input: false,
    };
    let command = Command::new(spec).expect("a name is enough");
    let setup = Setup::new(
        folder.path().to_owned(),
        folder.path().to_owned(),
        vec![("boat".into(), Box::new(command))],
    );
    let error = Watch::start(setup).expect_err("it is not there");
    assert!(error.sentence().starts_with("cannot start \"no-such-ferry\""), "{}", error.sentence());
}
