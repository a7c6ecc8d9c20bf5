//! The engine as a watcher uses it: runs and states, rows over several sources, entries that are
//! still open.

use izba_console::Splitter;
use izba_core::{Engine, LineRef, SourceId, State, Verdict};
use izba_model::{Millis, Project, ProjectFile, Stream};
use proptest::prelude::*;
use std::sync::Arc;

fn project(text: &str) -> Arc<Project> {
    Arc::new(Project::new(
        "/p",
        vec![ProjectFile { path: "boat.lua".into(), text: Some(text.into()) }],
    ))
}

const SCRIPT: &str = "local boat = {}\nprint(boat.mast.height)\nprint(boat.oar.length)\n";
const MAST: &str = "lua: boat.lua:2: attempt to index a nil value (field 'mast')\n";
const OAR: &str = "lua: boat.lua:3: attempt to index a nil value (field 'oar')\n";

/// Runs of one source, each with what it printed; the states of the groups in the last one, by
/// place.
fn states(runs: &[&str]) -> Vec<(u32, State, u64, u64)> {
    let mut engine = Engine::new(project(SCRIPT));
    let source = engine.add_source("boat");
    let mut offset = 0;
    for (at, printed) in runs.iter().enumerate() {
        let time = Some(Millis(1_000_000 * at as i64));
        engine.start_run(source, time, project(SCRIPT));
        engine.feed(source, Stream::Out, time, offset, printed.as_bytes());
        engine.end_run(source, time, "ended well".into(), true);
        offset += printed.len() as u64;
    }
    let mut states: Vec<_> = engine
        .groups()
        .iter()
        .map(|g| {
            (g.entry.place.as_ref().and_then(|p| p.line).unwrap_or(0), g.state, g.count, g.total)
        })
        .collect();
    states.sort_by_key(|s| s.0);
    states
}

#[test]
fn a_group_is_new_still_quiet_and_back() {
    let both = format!("{MAST}{OAR}{MAST}");
    assert_eq!(states(&[&both]), [(2, State::New, 2, 2), (3, State::New, 1, 1)]);
    assert_eq!(states(&[MAST, &both]), [(2, State::Still, 2, 3), (3, State::New, 1, 1)]);
    assert_eq!(states(&[&both, OAR]), [(2, State::Quiet, 2, 2), (3, State::Still, 1, 2)]);
    assert_eq!(states(&[MAST, "all is well\n", MAST]), [(2, State::Back, 1, 2)]);
}

#[test]
fn a_group_is_known_again_after_an_edit_above_it() {
    let mut engine = Engine::new(project(SCRIPT));
    let source = engine.add_source("boat");
    engine.start_run(source, None, project(SCRIPT));
    engine.feed(source, Stream::Out, None, 0, MAST.as_bytes());
    engine.start_run(source, None, project(&format!("-- a word\n-- and another\n{SCRIPT}")));
    engine.feed(source, Stream::Out, None, 100, MAST.replace(":2:", ":4:").as_bytes());
    engine.finish();
    let groups = engine.groups();
    assert_eq!(groups.len(), 1);
    assert_eq!(
        (groups[0].state, groups[0].entry.place.as_ref().and_then(|p| p.line)),
        (State::Still, Some(4))
    );
}

/// What becomes of an error that struck every second for ten seconds, once files were read anew while
/// the program went on, and it was seen (`again`) or not in the ten seconds behind.
fn after_an_update(printed: &str, again: bool) -> (State, Option<bool>, Vec<String>) {
    let mut engine = Engine::new(project(SCRIPT));
    let source = engine.add_source("boat");
    let mended = format!("{SCRIPT}-- the mast is stepped now\n");
    let mut offset = 0;
    let mut strike = |engine: &mut Engine, at: i64| {
        // The line behind it completes it.
        let printed = format!("{MAST}the tide turns\n");
        engine.feed(source, Stream::Out, Some(Millis(at)), offset, printed.as_bytes());
        offset += printed.len() as u64;
    };
    engine.start_run(source, Some(Millis(0)), project(SCRIPT));
    (1..=10).for_each(|second| strike(&mut engine, second * 1_000));
    engine.update_run(source, Millis(10_500), printed, project(&mended));
    if again {
        strike(&mut engine, 11_000);
    }
    engine.tick(Millis(20_500));
    let groups = engine.groups();
    let [group] = groups.as_slice() else { panic!("one group: {groups:?}") };
    let gone = group.silence.as_ref().map(|s| s.verdict == Verdict::VeryLikely);
    let state = group.state;
    engine.start_run(source, Some(Millis(30_000)), project(&mended));
    (state, gone, engine.runs_of(source).last().map(|r| r.edits.clone()).unwrap_or_default())
}

#[test]
fn what_is_read_anew_counts_as_started_and_the_rest_goes_on() {
    let edited = vec!["boat.lua".to_owned()];
    let own = "http://localhost:5173/boat.lua?t=1763900000123";
    let quiet = (State::Quiet, Some(true), edited.clone());
    assert_eq!(after_an_update(own, false), quiet);
    assert_eq!(after_an_update(own, true), (State::Still, None, edited));
    // Of another file nothing is said: this one was not read again.
    let (state, gone, _) = after_an_update("http://localhost:5173/oar.lua?t=1", false);
    assert_eq!((state, gone), (State::New, None));
}

#[test]
fn ten_thousand_equal_errors_are_one_group_with_its_rate() {
    let mut engine = Engine::new(project(SCRIPT));
    let source = engine.add_source("boat");
    engine.start_run(source, Some(Millis(0)), project(SCRIPT));
    for at in 0..10_000u64 {
        engine.feed(source, Stream::Err, Some(Millis(at as i64 * 10)), at * 100, MAST.as_bytes());
    }
    engine.end_run(source, Some(Millis(100_000)), "ended with exit code 1".into(), false);
    engine.tick(Millis(100_000));
    let groups = engine.groups();
    assert_eq!((groups.len(), groups[0].count), (1, 10_000));
    assert_eq!((groups[0].first, groups[0].last), (Some(Millis(0)), Some(Millis(99_990))));
    assert!((groups[0].rate - 100.0).abs() < 1.0, "{}", groups[0].rate);
    assert!(engine.memory_usage() < 2_000_000, "{} bytes", engine.memory_usage());
}

#[test]
fn ever_new_errors_do_not_fill_the_memory() {
    let mut engine = Engine::new(project(SCRIPT));
    let source = engine.add_source("boat");
    engine.start_run(source, None, project(SCRIPT));
    let word = |n: u32| {
        n.to_string().bytes().map(|digit| char::from(b'a' + digit - b'0')).collect::<String>()
    };
    let text: String =
        (0..5_000).map(|n| format!("ERROR: no boat is called {}\n", word(n))).collect();
    engine.feed(source, Stream::Out, None, 0, text.as_bytes());
    engine.finish();
    let groups = engine.groups();
    assert_eq!(groups.len(), 2_001);
    assert_eq!(groups.iter().map(|g| g.total).sum::<u64>(), 5_000, "all are counted");
    assert_eq!(groups[0].explanation.short.bare(), "more different errors than are kept apart");
}

#[test]
fn an_entry_that_nothing_follows_is_shown_as_it_stands_and_counts_once() {
    let mut engine = Engine::new(project(SCRIPT));
    let source = engine.add_source("boat");
    engine.start_run(source, Some(Millis(0)), project(SCRIPT));
    engine.feed(source, Stream::Out, Some(Millis(0)), 0, MAST.as_bytes());
    engine.tick(Millis(10));
    assert_eq!(engine.snapshot().groups.len(), 0, "more of it may be on its way");
    engine.tick(Millis(1_000));
    let shown = engine.snapshot();
    assert_eq!(shown.groups.len(), 1);
    let line = LineRef { source, line: 0 };
    assert_eq!(engine.group_at(line, Stream::Out), Some((shown.groups[0].id, true)));
    engine.feed(source, Stream::Out, Some(Millis(2_000)), 100, b"going on\n");
    assert_eq!(engine.groups()[0].count, 1);
    assert_eq!(engine.group_at(line, Stream::Out), Some((engine.groups()[0].id, true)));
    assert_eq!(engine.group_at(LineRef { source, line: 1 }, Stream::Out), None);
}

#[test]
fn an_error_is_shown_while_output_flows_on() {
    let mut engine = Engine::new(project(SCRIPT));
    let source = engine.add_source("boat");
    engine.start_run(source, Some(Millis(0)), project(SCRIPT));
    engine.feed(source, Stream::Err, Some(Millis(0)), 0, MAST.as_bytes());
    for at in 1..100u64 {
        engine.feed(source, Stream::Out, Some(Millis(at as i64 * 10)), at * 100, b"all is well\n");
    }
    engine.tick(Millis(1_000));
    assert_eq!(engine.snapshot().groups.len(), 1);
}

#[test]
fn a_bad_end_without_a_word_is_told() {
    let end = |printed: &str, well: bool| {
        let mut engine = Engine::new(project(SCRIPT));
        let source = engine.add_source("boat");
        engine.start_run(source, None, project(SCRIPT));
        engine.feed(source, Stream::Out, None, 0, printed.as_bytes());
        engine.end_run(source, None, "was ended by signal 11, SIGSEGV".into(), well);
        engine.unexplained_end()
    };
    assert_eq!(
        end("hello\n", false).as_deref(),
        Some("boat was ended by signal 11, SIGSEGV, and its console does not say why.")
    );
    assert!(end("WARNING: the fog is thick\n", false).is_some(), "a warning explains no end");
    assert_eq!(end(MAST, false), None);
    assert_eq!(end("hello\n", true), None);
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]
    /// Rows are the lines of all sources in the order of their arrival, and each can be read again.
    #[test]
    fn every_row_can_be_read_again(parts in proptest::collection::vec((0usize..3, any::<bool>(), 0usize..2000, 1usize..300), 1..40), from in 0u64..300, count in 1u64..200) {
        let mut engine = Engine::new(project(SCRIPT));
        let sources: Vec<SourceId> = (0..3).map(|n| engine.add_source(format!("source {n}"))).collect();
        let mut stored: Vec<Vec<(u64, Stream, Vec<u8>)>> = vec![Vec::new(); 3];
        let mut offsets = [0u64; 3];
        let mut arrived: Vec<String> = Vec::new();
        let mut open = vec![String::new(); 6];
        for (number, (source, err, len, line)) in parts.into_iter().enumerate() {
            let stream = if err { Stream::Err } else { Stream::Out };
            let chunk: Vec<u8> = (0..len).map(|at| if at % line == line - 1 { b'\n' } else { b'a' + (number % 26) as u8 }).collect();
            for byte in &chunk {
                let slot = &mut open[source * 2 + usize::from(err)];
                if *byte == b'\n' { arrived.push(std::mem::take(slot)) } else { slot.push(*byte as char) }
            }
            engine.feed(sources[source], stream, None, offsets[source], &chunk);
            stored[source].push((offsets[source], stream, chunk.clone()));
            offsets[source] += chunk.len() as u64;
        }
        prop_assert_eq!(engine.rows(), arrived.len() as u64);
        let mut read: Vec<(u64, String)> = Vec::new();
        for window in engine.windows(from, count) {
            let mut splitter = Splitter::resume(&window.checkpoint);
            for (offset, stream, chunk) in stored[window.source.0].iter().filter(|(at, ..)| *at >= window.checkpoint.offset) {
                splitter.feed(*stream, None, *offset, chunk, |line, raw| {
                    if (window.first..window.first + window.count).contains(&line) {
                        read.push((window.row + line - window.first, String::from_utf8_lossy(&raw.bytes).into_owned()));
                    }
                });
            }
        }
        let wanted: Vec<(u64, String)> = arrived.iter().enumerate().skip(from as usize).take(count as usize).map(|(at, l)| (at as u64, l.clone())).collect();
        prop_assert_eq!(read, wanted);
    }
}

#[test]
fn rows_are_made_again_only_when_something_changed_and_are_always_those_of_now() {
    let project = Arc::new(Project::default());
    let mut engine = Engine::new(project.clone());
    let source = engine.add_source("game");
    engine.start_run(source, Some(Millis(0)), project);
    let mut offset = 0;
    let mut say = |engine: &mut Engine, time: i64, text: &str| {
        engine.feed(source, Stream::Out, Some(Millis(time)), offset, text.as_bytes());
        offset += text.len() as u64;
        engine.tick(Millis(time));
        engine.snapshot().groups
    };
    let told = |rows: &[Arc<izba_core::GroupView>]| -> Vec<(String, u64)> {
        rows.iter().map(|r| (r.shape.clone(), r.count)).collect()
    };
    let first = say(&mut engine, 10_000, "ERROR the marsh is dry\nall is well\n");
    assert_eq!(told(&first), told(&engine.groups()));
    // Once no count a second falls any more, ordinary lines cost no row.
    let quiet = say(&mut engine, 60_000, "all is well\n");
    let still = say(&mut engine, 60_500, "all is well\n");
    assert!(Arc::ptr_eq(&quiet, &still), "nothing changed");
    let later = say(&mut engine, 66_000, "all is well\n");
    assert!(!Arc::ptr_eq(&still, &later), "a silence has grown meanwhile");
    // A new sighting is there at once, and so is what is not complete yet.
    let again = say(&mut engine, 66_001, "ERROR the marsh is dry\nall is well\n");
    assert_eq!(told(&again), [("the marsh is dry".to_owned(), 2)]);
    assert_eq!(told(&again), told(&engine.groups()));
    let id = again[0].id;
    assert_eq!(again.row(id).map(|r| r.count), Some(2));
    assert!(again.row(izba_core::GroupId(77)).is_none());
    // So is what the user decides.
    engine.wish(&izba_core::Wish::Mute(again[0].identity.clone(), true));
    assert!(engine.snapshot().groups[0].muted);
}

#[test]
fn a_bad_end_that_no_error_explains_is_told_by_the_last_words() {
    let run = |err: &str, well: bool| {
        let files = vec![ProjectFile { path: "quay.x".into(), text: Some("a\nb\nc\n".into()) }];
        let project = Arc::new(Project::new("/srv/marsh", files));
        let mut engine = Engine::new(project.clone());
        let source = engine.add_source("game");
        engine.start_run(source, Some(Millis(0)), project);
        engine.feed(source, Stream::Out, Some(Millis(1)), 0, b"all is well\n");
        engine.feed(source, Stream::Err, Some(Millis(2)), 12, err.as_bytes());
        engine.end_run(source, Some(Millis(3)), "ended with exit code 3".into(), well);
        let snapshot = engine.snapshot();
        let told: Vec<String> = snapshot
            .groups
            .iter()
            .map(|g| {
                let place = g.entry.place.as_ref().map(|p| format!("{}:{:?}", p.file, p.line));
                format!("{} {}", g.entry.report.message, place.unwrap_or_default())
            })
            .collect();
        (told, snapshot.unexplained_end().is_some())
    };
    let words = "warming up\n\nthe quay is flooded\n";
    assert_eq!(run(words, false), (vec!["the quay is flooded ".to_owned()], false));
    // It is placed where it names an own file.
    let placed = "the quay is flooded\n  in quay.x:2\n";
    assert_eq!(run(placed, false), (vec!["the quay is flooded quay.x:Some(2)".to_owned()], false));
    // After a good end they are no error; neither where an error was read.
    assert_eq!(run(words, true), (Vec::new(), false));
    let read = run("ERROR the rope is gone\nbye\n", false);
    assert_eq!(read, (vec!["the rope is gone ".to_owned()], false));
    // Who said nothing explained nothing.
    assert_eq!(run("", false), (Vec::new(), true));
}

#[test]
fn what_a_tool_tells_again_in_the_end_is_counted_once() {
    let counts = |printed: &str| {
        let mut engine = Engine::new(project(SCRIPT));
        let source = engine.add_source("boat");
        engine.start_run(source, None, project(SCRIPT));
        engine.feed(source, Stream::Out, None, 0, printed.as_bytes());
        engine.finish();
        let mut counts: Vec<u64> = engine.groups().iter().map(|g| g.count).collect();
        counts.sort_unstable();
        counts
    };
    assert_eq!(counts(&format!("{MAST}\n✖ failing tests:\n\n{MAST}{OAR}")), [1, 1]);
    // What is told for the first time there may be met twice, and without the words it was.
    assert_eq!(counts(&format!("{OAR}\n✖ failing tests:\n\n{MAST}{MAST}")), [1, 2]);
    assert_eq!(counts(&format!("{MAST}two tests are failing\n{MAST}")), [2]);
}

/// What is overlooked of a console, by number of line, as it arrives in pieces.
fn overlooked(printed: &str, cuts: &[usize]) -> (u64, Vec<u64>) {
    let mut engine = Engine::new(project(SCRIPT));
    let source = engine.add_source("boat");
    engine.start_run(source, None, project(SCRIPT));
    let mut from = 0;
    for cut in cuts.iter().map(|c| c % (printed.len() + 1)).chain([printed.len()]) {
        if cut > from {
            let bytes = &printed.as_bytes()[from..cut];
            let digest =
                izba_core::Digest::of(bytes, Stream::Out, None, &engine.setting_of(source));
            engine.feed_digested(source, Stream::Out, None, from as u64, bytes, digest);
            from = cut;
        }
    }
    engine.finish();
    let lines = engine.overlooked().into_iter().map(|(at, _)| at.line).collect();
    (engine.count_overlooked(), lines)
}

#[test]
fn what_looks_as_if_it_mattered_and_was_not_understood_is_counted() {
    let said = format!("the tide turns\ncould not hoist the sail\n{MAST}0 errors\nsail: failed\n");
    assert_eq!(overlooked(&said, &[]), (2, vec![1, 4]));
    // What only counts says nothing more than the error that was told.
    assert_eq!(overlooked(&format!("{MAST}2 checks failed\n"), &[]).0, 0);
    assert_eq!(overlooked("2 checks failed\n", &[]).0, 1);
    assert_eq!(overlooked("INFO the last try failed\nall is well\n", &[]).0, 0);
    // What only announces an exception is understood with it.
    let thrown = "Exception in thread bell:\nTraceback (most recent call last):\n  File \"a.py\", \
                  line 2, in ring\n    pull()\nValueError: no rope\n";
    assert_eq!(overlooked(thrown, &[]).0, 0);
}

#[test]
fn what_was_overlooked_is_forgotten_with_its_run() {
    let mut engine = Engine::new(project(SCRIPT));
    let source = engine.add_source("boat");
    engine.start_run(source, None, project(SCRIPT));
    engine.feed(source, Stream::Out, None, 0, b"could not hoist the sail\n");
    assert_eq!(engine.snapshot().count_overlooked(), 1);
    assert_eq!(engine.snapshot().overlooked, Some(0));
    assert!(engine.is_overlooked(LineRef { source, line: 0 }));
    engine.start_run(source, None, project(SCRIPT));
    assert_eq!(engine.snapshot().count_overlooked(), 0);
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 48, ..ProptestConfig::default() })]
    #[test]
    fn what_is_overlooked_does_not_depend_on_how_it_arrives(
        which in prop::collection::vec(0usize..6, 0..60), mut cuts in prop::collection::vec(0usize..4_000, 0..6),
    ) {
        let lines = ["the tide turns\n", "could not hoist\n", MAST, "\tboat.lua:3: in main chunk\n",
            "3 checks failed\n", "ERROR no oar\n"];
        let printed: String = which.iter().map(|at| lines[*at]).collect();
        cuts.sort_unstable();
        prop_assert_eq!(overlooked(&printed, &cuts), overlooked(&printed, &[]));
    }
}
