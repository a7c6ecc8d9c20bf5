//! Layouts in the engine: found while reading, taught by the user, the same however the bytes come;
//! and chunks that were read side by side.

#![expect(clippy::disallowed_methods, reason = "tests read the samples from disk")]

use izba_console::read::layout::{Layout, Origin, Template};
use izba_core::{Digest, Engine, SourceId, answer};
use izba_model::{Level, Millis, Project, ProjectFile, Stream};
use proptest::prelude::*;
use std::collections::BTreeMap;
use std::path::Path;
use std::sync::Arc;

fn project() -> Arc<Project> {
    let text: String = (1..=60).map(|n| format!("line {n}\n")).collect();
    let files = ["gate.lua", "deck.py", "Main.java"]
        .map(|f| ProjectFile { path: f.into(), text: Some(text.as_str().into()) });
    Arc::new(Project::new("/srv/x", files.into()))
}

fn begun() -> (Engine, SourceId) {
    let mut engine = Engine::new(project());
    let source = engine.add_source("gauge.log");
    engine.start_run(source, None, project());
    (engine, source)
}

/// A log in a layout that no code lists: its levels are words of two letters, its times have
/// letters between.
fn odd_log(lines: u64) -> String {
    (0..lines)
        .map(|n| {
            let when = format!("20h{:02}m{:02}s", n / 60 % 60, n % 60);
            match n % 23 {
                3 => format!("{when} ~ er ~ gate ~ gate.lua:{}: the rope is torn\n", 10 + n % 2),
                11 => format!("{when} ~ wa ~ deck ~ low oil in lamp {n}\n"),
                17 => format!(
                    "{when} ~ in ~ deck ~ boards\nTraceback (most recent call last):\n  \
                    File \"/srv/x/deck.py\", line 4, in seat\n    return x\nKeyError: {n}\n"
                ),
                _ => format!("{when} ~ in ~ deck ~ tide {n} is told\n"),
            }
        })
        .collect()
}

#[test]
fn levels_of_a_new_layout_are_found_also_in_the_lines_before_it_was() {
    for lines in [20, 60, 400, 3_000] {
        let (mut engine, source) = begun();
        engine.feed(source, Stream::Out, None, 0, odd_log(lines).as_bytes());
        engine.finish();
        let told = |level: Level, words: &str| -> u64 {
            engine
                .groups()
                .iter()
                .filter(|g| g.level() == level && g.entry.report.message.contains(words))
                .map(|g| g.count)
                .sum()
        };
        let met = |at: u64| (0..lines).filter(|n| n % 23 == at).count() as u64;
        let layout = engine.layouts(source).all().first().map(|l| l.template.to_string());
        assert_eq!(layout.as_deref(), Some("{time} ~ {level} ~ {name} ~ {message}"), "{lines}");
        assert_eq!(
            (told(Level::Error, "the rope is torn"), told(Level::Warning, "low oil")),
            (met(3), met(11)),
            "{lines}"
        );
        assert!(engine.groups().iter().any(|g| {
            g.entry
                .place
                .as_ref()
                .is_some_and(|p| *p.file == *"gate.lua" && matches!(p.line, Some(10 | 11)))
        }));
        assert_eq!(
            engine
                .groups()
                .iter()
                .filter(|g| g.entry.report.kind.as_deref() == Some("KeyError"))
                .map(|g| g.count)
                .sum::<u64>(),
            met(17),
            "{lines}"
        );
    }
}

#[test]
fn what_the_user_taught_comes_first_and_reads_what_had_arrived() {
    let (mut engine, source) = begun();
    let log = "7 >> gate.lua (12) [Gate#2] too heavy\n7 >> all is well\n".repeat(20);
    engine.feed(source, Stream::Out, Some(Millis(1_000)), 0, log.as_bytes());
    assert!(engine.groups().is_empty());
    let template =
        Template::parse("{*} >> {script} ({line}) [{object}] {message}").expect("a template");
    let layout = Layout::new(
        template,
        BTreeMap::new(),
        Some(Level::Error),
        Origin::Taught { name: "gate".into() },
    )
    .expect("a layout");
    engine.set_taught(source, vec![Arc::new(layout)]);
    let kept: Vec<izba_console::KeptLine> = (0..40)
        .map(|number| izba_console::KeptLine {
            number,
            time: Some(Millis(1_000)),
            stream: Stream::Out,
            text: log.lines().nth(number as usize).unwrap_or("").into(),
        })
        .collect();
    engine.read_anew(source, &kept);
    engine.read_anew(source, &kept);
    engine.feed(source, Stream::Out, Some(Millis(2_000)), log.len() as u64, log.as_bytes());
    engine.finish();
    let groups = engine.groups();
    let group = groups.first().expect("one");
    assert_eq!(
        (groups.len(), group.count, group.entry.report.message.as_str(), group.objects.as_slice()),
        (1, 40, "too heavy", &[("Gate#2".to_owned(), 40)][..])
    );
    assert_eq!(group.entry.place.as_ref().and_then(|p| p.line), Some(12));
}

#[test]
fn the_moments_that_a_log_prints_are_first_and_last() {
    let told = |log: &str| {
        let (mut engine, source) = begun();
        engine.feed(source, Stream::Out, None, 0, log.as_bytes());
        engine.finish();
        let lines = answer::jsonl(&engine, &answer::Choice::default());
        let group: serde_json::Value =
            serde_json::from_str(lines.lines().next().expect("a group")).expect("JSON");
        format!("{} {}", group["first"], group["last"])
    };
    insta::assert_snapshot!(
        [
            "2026-11-23 20:00:01 ERROR gate: torn\n2026-11-23 21:30:00,250 ERROR gate: torn\n",
            "<11>1 2026-11-23T20:00:01+01:00 marsh gate 4 - - torn\n",
            "{\"ts\":1795467324.5,\"level\":\"error\",\"msg\":\"torn\"}\n",
            "20:00:01 ERROR gate: torn\n",
        ]
        .map(told)
        .join("\n"),
        @r#"
        "2026-11-23T20:00:01.000Z" "2026-11-23T21:30:00.250Z"
        "2026-11-23T19:00:01.000Z" "2026-11-23T19:00:01.000Z"
        "2026-11-23T20:55:24.500Z" "2026-11-23T20:55:24.500Z"
        null null
        "#
    );
}

#[test]
fn what_others_say_ranks_below_what_is_mine() {
    let (mut engine, source) = begun();
    let line = |severity: u8, app: &str, said: &str| {
        format!("<{severity}>1 2026-11-23T20:00:00Z phone {app} 12 - - {said}\n")
    };
    let log = line(10, "radio", "no tide table")
        + &line(11, "tickets", "no fare")
        + &line(12, "tickets", "low ink");
    engine.feed(source, Stream::Out, None, 0, log.as_bytes());
    engine.finish();
    let order = |engine: &Engine| {
        engine
            .groups()
            .iter()
            .map(|g| format!("{} {}", g.entry.report.message, g.foreign))
            .collect::<Vec<_>>()
            .join(", ")
    };
    assert_eq!(order(&engine), "no tide table false, no fare false, low ink false");
    engine.set_own(source, vec!["tickets".into()]);
    assert_eq!(order(&engine), "no fare false, low ink false, no tide table true");
}

#[test]
fn that_a_program_ended_is_no_error_beside_its_error() {
    let count = |log: &str| {
        let (mut engine, source) = begun();
        engine.feed(source, Stream::Out, None, 0, log.as_bytes());
        engine.finish();
        engine.groups().len()
    };
    let end = "error: process didn't exit successfully: `ferry` (exit status: 101)\n";
    assert_eq!(count(end), 1, "alone it is all that is known");
    assert_eq!(count(&format!("thread 'main' panicked at gate.rs:4:9:\nno tide\n{end}")), 1);
}

fn samples() -> Vec<u8> {
    let root = Path::new(concat!(env!("CARGO_MANIFEST_DIR"), "/../../cases/consoles"));
    let folders = |of: &Path| {
        std::fs::read_dir(of)
            .into_iter()
            .flatten()
            .flatten()
            .map(|e| e.path())
            .filter(|p| p.is_dir())
            .collect::<Vec<_>>()
    };
    let mut files: Vec<_> = folders(root)
        .iter()
        .flat_map(|language| folders(language))
        .map(|f| f.join("console.txt"))
        .collect();
    files.sort();
    files.iter().flat_map(|f| std::fs::read(f).expect("a sample")).collect()
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]
    /// However the bytes are cut, whether chunks were read on their own before or not, and with
    /// whatever they were read: the answer is the same.
    #[test]
    fn chunks_read_side_by_side_say_the_same(cuts in proptest::collection::vec(0usize..100_000, 0..10), ahead in 0usize..4, odd in any::<bool>()) {
        let mut bytes = samples();
        if odd {
            bytes = [odd_log(500).into_bytes(), bytes, odd_log(700).into_bytes()].concat();
        }
        let mut cuts: Vec<usize> = cuts.into_iter().map(|c| c % (bytes.len() + 1)).chain([0, bytes.len()]).collect();
        cuts.sort_unstable();
        let chunks: Vec<&[u8]> = cuts.windows(2).map(|w| &bytes[w[0]..w[1]]).collect();
        let (mut plain, source) = begun();
        plain.feed(source, Stream::Out, None, 0, &bytes);
        plain.finish();
        let (mut digested, source) = begun();
        let mut digests: std::collections::VecDeque<Digest> = std::collections::VecDeque::new();
        let mut offset = 0;
        for (at, chunk) in chunks.iter().enumerate() {
            // So many chunks are read before those above them went through the engine.
            while digests.len() <= ahead && at + digests.len() < chunks.len() {
                digests.push_back(Digest::of(chunks[at + digests.len()], Stream::Out, None, &digested.setting_of(source)));
            }
            match digests.pop_front() {
                Some(digest) => digested.feed_digested(source, Stream::Out, None, offset, chunk, digest),
                None => digested.feed(source, Stream::Out, None, offset, chunk),
            }
            offset += chunk.len() as u64;
        }
        digested.finish();
        prop_assert_eq!(answer::jsonl(&plain, &answer::Choice::default()), answer::jsonl(&digested, &answer::Choice::default()));
    }
}

/// Lines as they are kept, one after another.
fn kept(log: &str) -> Vec<izba_console::KeptLine> {
    let line = |(number, text): (usize, &str)| izba_console::KeptLine {
        number: number as u64,
        time: Some(Millis(1_000)),
        stream: Stream::Out,
        text: text.into(),
    };
    log.lines().enumerate().map(line).collect()
}

fn groups_of(engine: &Engine) -> Vec<(String, u64, u64, Option<u32>)> {
    let line = |g: &izba_core::GroupView| g.entry.place.as_ref().and_then(|p| p.line);
    let mut told: Vec<_> = engine
        .groups()
        .iter()
        .map(|g| (g.entry.report.message.clone(), g.count, g.total, line(g)))
        .collect();
    told.sort();
    told
}

#[test]
fn a_run_is_read_anew_with_what_was_taught_as_if_it_had_been_known() {
    let lesson = |source: &str| {
        let head =
            Template::parse_part("ERROR: {object} in {script}, line {line}").expect("a form");
        let below = ["   {message}", "   via {function} in {script}, line {line}"];
        let below = below.map(|form| Template::parse_part(form).expect("a form")).to_vec();
        let origin = Origin::Taught { name: source.into() };
        let layout = Layout::new(head, BTreeMap::new(), Some(Level::Error), origin);
        Arc::new(layout.expect("a layout").with_below(below).expect("it names a sentence"))
    };
    let log = "ERROR: Gate#2 in gate.lua, line 12\n   too heavy\n   via lift in gate.lua, line 10\n\
               all is well\nlua: gate.lua:11: attempt to call a nil value (global 'rope')\n";
    for ended in [false, true] {
        let (mut engine, source) = begun();
        engine.feed(source, Stream::Out, Some(Millis(1_000)), 0, log.as_bytes());
        if ended {
            engine.end_run(source, Some(Millis(1_100)), "ended with exit code 1".into(), false);
        }
        let lua = || ("attempt to call a nil value (global 'rope')".to_owned(), 1, 1, Some(11));
        engine.set_taught(source, vec![lesson("gate")]);
        engine.read_again(source, kept(log).into_iter());
        engine.feed(source, Stream::Out, Some(Millis(2_000)), log.len() as u64, b"all is well\n");
        engine.tick(Millis(5_000));
        let snapshot = engine.snapshot();
        let heavy = snapshot.groups.iter().find(|g| g.entry.report.message == "too heavy");
        let heavy = heavy.expect("what was taught is read");
        assert_eq!(heavy.entry.report.frames.len(), 1, "{:?}", heavy.entry.report);
        assert_eq!(heavy.objects, [("Gate#2".to_owned(), 1)]);
        engine.finish();
        // What was told otherwise is gone, and what was told well is counted once.
        assert_eq!(groups_of(&engine), [lua(), ("too heavy".into(), 1, 1, Some(12))], "{ended}");
        assert_eq!(engine.snapshot().timeline.total(0).errors, 2, "{ended}");
        assert_eq!(engine.count_overlooked(), 0);
    }
}

#[test]
fn the_sentence_of_a_taught_line_goes_through_the_other_readers() {
    let (mut engine, source) = begun();
    let template = Template::parse("~{*}~ {message}").expect("a template");
    let origin = Origin::Taught { name: "gate".into() };
    let layout = Layout::new(template, BTreeMap::new(), Some(Level::Error), origin);
    engine.set_taught(source, vec![Arc::new(layout.expect("a layout"))]);
    let log = "~7~ gate.lua:11: attempt to call a nil value (global 'rope')\nstack traceback:\n\
               \tgate.lua:11: in function 'lift'\n\tgate.lua:2: in main chunk\n~8~ all is lost\n";
    engine.feed(source, Stream::Out, None, 0, log.as_bytes());
    engine.finish();
    let groups = engine.groups();
    let of = |said: &str| groups.iter().find(|g| g.entry.report.message == said).expect("told");
    let rope = of("attempt to call a nil value (global 'rope')");
    assert_eq!(rope.entry.place.as_ref().and_then(|p| p.line), Some(11));
    assert_eq!(rope.entry.report.frames.len(), 2);
    assert_eq!(of("all is lost").level(), Level::Error);
    assert_eq!(groups.len(), 2);
}

proptest::proptest! {
    #![proptest_config(proptest::test_runner::Config { cases: 48, ..Default::default() })]
    /// Read anew as it was read, a run tells the same.
    #[test]
    fn reading_a_run_again_changes_nothing_by_itself(which in proptest::collection::vec(0usize..6, 0..40)) {
        let lines = ["all is well\n", "lua: gate.lua:11: attempt to call a nil value (global 'rope')\n",
            "stack traceback:\n\tgate.lua:11: in main chunk\n", "ERROR no oil\n", "could not row\n",
            "WARNING low oil\n"];
        let log: String = which.iter().map(|at| lines[*at]).collect();
        let (mut engine, source) = begun();
        engine.feed(source, Stream::Out, Some(Millis(1_000)), 0, log.as_bytes());
        engine.finish();
        let before = (groups_of(&engine), engine.count_overlooked(), engine.snapshot().timeline.total(0));
        engine.read_again(source, kept(&log).into_iter());
        engine.finish();
        let after = (groups_of(&engine), engine.count_overlooked(), engine.snapshot().timeline.total(0));
        proptest::prop_assert_eq!(before, after);
    }
}
