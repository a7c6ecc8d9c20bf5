//! What is kept beyond a session: older and newer databases, the journal after a power cut, texts
//! kept once.

use izba_core::group::{Gaps, Recalled, RunTally};
use izba_core::{Identity, Wish};
use izba_model::{Entry, Level, Millis, Project, Report};
use izba_store::{Files, Journal, Ledger, Progress, RunCard};
use proptest::prelude::*;

fn card(number: u32) -> RunCard {
    RunCard {
        v: 1,
        project: "/home/me/ferry".into(),
        source: "engine".into(),
        command: "lua main.lua".into(),
        number,
        started: i64::from(number) * 60_000,
        ..RunCard::default()
    }
}

fn met(number: u32, count: u64) -> Recalled {
    let report = Report::new("lua", Level::Error, "attempt to index a nil value (local 'wick')");
    Recalled {
        identity: Identity::from_text("wick"),
        across: Identity::from_text("across wick"),
        edited: None,
        entry: Entry::resolve(report, &Project::default(), Some(Millis(5))),
        runs: vec![RunTally {
            run: number,
            count,
            first: Some(Millis(1)),
            last: Some(Millis(9)),
            line: 3,
            ended: true,
        }],
        gaps: Gaps::default(),
    }
}

#[test]
fn what_a_run_saw_is_there_for_the_next_one() {
    let folder = tempfile::tempdir().expect("a temporary folder");
    let mut ledger = Ledger::open(folder.path()).expect("room");
    for number in 1..=3 {
        let run = ledger.begin(&format!("s/{number}.seg"), &card(number)).expect("room");
        let seen: Vec<Recalled> =
            (number != 2).then(|| met(number, 10 + u64::from(number))).into_iter().collect();
        ledger
            .note(
                run,
                &card(number),
                &Progress {
                    ran_ms: 1000,
                    ended: Some("ended well".into()),
                    well: Some(true),
                    lines: 7,
                    ..Progress::default()
                },
                &seen,
            )
            .expect("room");
    }
    drop(ledger);
    let ledger = Ledger::open(folder.path()).expect("it is there");
    let (runs, groups) = ledger.history("/home/me/ferry", "engine", None).expect("it can be read");
    assert_eq!(runs.iter().map(|r| r.run).collect::<Vec<_>>(), [1, 2, 3]);
    assert_eq!(
        groups[0].runs.iter().map(|t| (t.run, t.count)).collect::<Vec<_>>(),
        [(1, 11), (3, 13)]
    );
    assert_eq!(groups[0].entry, met(3, 13).entry, "the entry is the same after being written down");
    let (before, _) = ledger.history("/home/me/ferry", "engine", Some(3)).expect("it can be read");
    assert_eq!(before.len(), 2, "what a past run knew is what was before it");
    assert!(ledger.history("/home/me/other", "engine", None).expect("it can be read").1.is_empty());
}

#[test]
fn an_older_ledger_is_brought_up_and_a_newer_one_left_alone() {
    let folder = tempfile::tempdir().expect("a temporary folder");
    let old = rusqlite::Connection::open(Ledger::path(folder.path())).expect("room");
    old.execute_batch(include_str!("ledger-1.sql")).expect("it was a ledger once");
    drop(old);
    let ledger = Ledger::open(folder.path()).expect("it is brought up");
    let runs = ledger.all_runs().expect("it can be read");
    assert_eq!((runs[0].card.number, runs[0].progress.lines, runs[0].pruned), (4, 812, false));
    assert_eq!(
        ledger.history("/home/me/ferry", "engine", None).expect("it can be read").1[0].runs[0]
            .count,
        119
    );
    drop(ledger);
    let newer = rusqlite::Connection::open(Ledger::path(folder.path())).expect("it is there");
    newer.pragma_update(None, "user_version", 99).expect("room");
    drop(newer);
    let error = Ledger::open(folder.path()).expect_err("it is newer");
    insta::assert_snapshot!(error.to_string().replace(&*folder.path().to_string_lossy(), "STORE"), @"the ledger in STORE/ledger.db was written by a newer Izba (version 99, this one knows 4); it is left as it is, and the runs of this session are kept beside it");
    assert!(!error.is_damage());
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]
    /// A power cut leaves some beginning of the journal, and perhaps a last block of anything; what
    /// is decided then is kept too.
    #[test]
    fn the_journal_outlives_a_power_cut(names in proptest::collection::vec("[a-z ]{1,12}", 1..5), torn in proptest::collection::vec(any::<u8>(), 0..40)) {
        let folder = tempfile::tempdir().expect("a temporary folder");
        let path = folder.path().join("decided.jsonl");
        let mut ends = vec![0];
        for name in &names {
            Journal::of(folder.path()).append("/p", 1, &Wish::Mute(Identity::from_text(name.as_str()), true)).expect("room");
            ends.push(std::fs::metadata(&path).expect("it is there").len() as usize);
        }
        let all = std::fs::read(&path).expect("it is there");
        for cut in 0..=all.len() {
            let mut left = all[..cut].to_vec();
            left.extend(torn.iter().filter(|b| **b != b'\n'));
            std::fs::write(&path, left).expect("room");
            Journal::of(folder.path()).append("/p", 2, &Wish::MutePhrase("later".into(), true)).expect("room");
            let (wishes, _) = Journal::of(folder.path()).news("/p").expect("it can be read");
            let whole = ends.iter().filter(|end| **end <= cut).count() - 1;
            prop_assert!(wishes.len() > whole, "cut at {}", cut);
            for (wish, name) in wishes.iter().zip(&names[..whole]) {
                prop_assert_eq!(wish, &Wish::Mute(Identity::from_text(name.as_str()), true));
            }
            prop_assert_eq!(wishes.last(), Some(&Wish::MutePhrase("later".into(), true)));
        }
    }
}

#[test]
fn texts_are_kept_once_and_go_with_the_last_run_that_names_them() {
    let folder = tempfile::tempdir().expect("a temporary folder");
    let files = Files::of(folder.path());
    let first = files.keep_all([("a.lua", "x = 1"), ("b.lua", "y = 2")].into_iter()).expect("room");
    let second =
        files.keep_all([("a.lua", "x = 3"), ("b.lua", "y = 2")].into_iter()).expect("room");
    assert_ne!(first, second);
    assert_eq!(
        files.list(&second).expect("it is there")["b.lua"],
        files.list(&first).expect("it is there")["b.lua"]
    );
    assert!(files.prune(std::slice::from_ref(&second)) > 0);
    assert!(files.list(&first).is_none());
    let list = files.list(&second).expect("it is there");
    assert_eq!(files.text(&list["a.lua"]).as_deref(), Some("x = 3"));
}

#[test]
fn each_number_is_given_once_and_a_clock_that_jumps_changes_no_order() {
    let folder = tempfile::tempdir().expect("a temporary folder");
    let mut ledger = Ledger::open(folder.path()).expect("a new one");
    let other = Ledger::open(folder.path()).expect("a second hand on it");
    let next = |ledger: &Ledger| ledger.next_number("/ferry", "game").expect("a number");
    assert_eq!([next(&ledger), next(&other), next(&ledger), next(&other)], [1, 2, 3, 4]);
    assert_eq!(other.next_number("/ferry", "phone").expect("a number"), 1);
    // Runs that an older Izba entered count too.
    let card = |number, started| RunCard {
        v: 1,
        project: "/ferry".into(),
        source: "game".into(),
        command: "lua5.4 main.lua".into(),
        number,
        started,
        edits: Vec::new(),
        files: None,
        versions: Vec::new(),
    };
    ledger.begin("a.seg", &card(9, 5_000)).expect("it is entered");
    ledger.begin("b.seg", &card(10, 1_000)).expect("the clock stands earlier");
    assert_eq!(next(&other), 11);
    let runs = ledger.runs("/ferry", Some("game")).expect("they are read");
    assert_eq!(runs.iter().map(|r| r.card.number).collect::<Vec<_>>(), [9, 10]);
    let (spans, _) = ledger.history("/ferry", "game", None).expect("it is read");
    assert_eq!(spans.last().map(|s| s.run), Some(10));
}

#[test]
fn many_that_make_it_at_once_get_numbers_of_their_own() {
    let folder = tempfile::tempdir().expect("a temporary folder");
    let mut numbers: Vec<u32> = std::thread::scope(|scope| {
        let take = || {
            let ledger = Ledger::open(folder.path()).expect("it is waited for");
            let next = || ledger.next_number("/ferry", "game").expect("a number");
            (0..10).map(|_| next()).collect::<Vec<u32>>()
        };
        let hands: Vec<_> = (0..6).map(|_| scope.spawn(take)).collect();
        hands.into_iter().flat_map(|hand| hand.join().expect("it ends")).collect()
    });
    numbers.sort_unstable();
    assert_eq!(numbers, (1..=60).collect::<Vec<_>>());
}
