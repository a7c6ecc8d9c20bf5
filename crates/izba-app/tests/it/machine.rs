//! What goes wrong with the machine while Izba watches: no room, no right to write, two of us at
//! once, a program that floods or will not end. Where a test needs a file system of its own it needs
//! root; elsewhere it says so and is passed over.

use crate::commands::izba_in;
use crate::tmux::{Tmux, izba, wait_for_file};
use std::process::{Command, Output};

/// Runs a shell script where file systems may be mounted that nobody else sees; `None` where that
/// is not allowed.
fn apart(script: &str) -> Option<(Output, tempfile::TempDir)> {
    let folder = tempfile::tempdir().expect("a temporary folder");
    let run = |script: &str| {
        Command::new("unshare")
            .args(["--mount", "sh", "-c", script])
            .current_dir(folder.path())
            .env("HOME", folder.path())
            .env("IZBA", izba())
            .env_remove("XDG_RUNTIME_DIR")
            .output()
            .ok()
    };
    let may = run("mkdir probe && mount -t tmpfs -o size=64k tmpfs probe");
    if !may.is_some_and(|out| out.status.success()) {
        #[expect(clippy::print_stderr, reason = "whoever runs the tests has to know")]
        {
            eprintln!("no file system can be mounted here, so this is not tested: root is needed");
        }
        return None;
    }
    let out = run(script).expect("a shell");
    Some((out, folder))
}

fn text(bytes: &[u8]) -> String {
    String::from_utf8_lossy(bytes).into_owned()
}

const COUNTS: &str = "i=0; while [ $i -lt 60000 ]; do echo line $i of the tide; i=$((i+1)); done; \
     echo ERROR: the last word >&2";

#[test]
fn a_full_disk_costs_the_user_no_line_of_the_program() {
    for (size, when) in [("4k", "from the start"), ("300k", "on the way")] {
        let script = format!(
            "mkdir store && mount -t tmpfs -o size={size} tmpfs store && \
             \"$IZBA\" --store store run -- sh -c '{COUNTS}'"
        );
        let Some((out, _folder)) = apart(&script) else { return };
        let (said, told) = (text(&out.stdout), text(&out.stderr));
        let lines = said.lines().filter(|l| l.ends_with("of the tide")).count();
        assert_eq!(lines, 60_000, "{when}: {told}");
        assert!(told.contains("kept in memory, and gone when you leave"), "{when}: {told}");
        assert!(said.contains("1 mistake in 60 001 lines"), "{when}: {said:.600} … {told}");
        assert!(said.contains("the last word"), "{when}");
        assert_eq!(out.status.code(), Some(0), "{when}: the code is the program's");
    }
}

#[test]
fn where_nothing_may_be_written_logs_are_read_and_programs_watched() {
    let script = "mkdir store && mount -t tmpfs -o ro tmpfs store && echo 'ERROR: no oil' > a.log
        \"$IZBA\" --store store read a.log; echo read $?
        \"$IZBA\" --store store check; echo check $?
        \"$IZBA\" --store store notes; echo notes $?
        \"$IZBA\" --store store/new run -- sh -c 'echo well'; echo run $?";
    let Some((out, _folder)) = apart(script) else { return };
    let (said, told) = (text(&out.stdout), text(&out.stderr));
    for words in ["read 1", "check 0", "notes 0", "well\n", "run 0"] {
        assert!(said.contains(words), "{words}: {said} {told}");
    }
    assert!(told.contains("read-only file system"), "{told}");
}

#[test]
fn two_at_once_number_their_runs_apart() {
    let folder = tempfile::tempdir().expect("a temporary folder");
    let run = |n: usize| {
        let out = izba_in(folder.path(), &["run", "--", "sh", "-c", "sleep 0.2; echo well"], b"");
        assert!(text(&out.stdout).contains("well"), "{n}");
    };
    std::thread::scope(|scope| {
        for n in 0..4 {
            scope.spawn(move || run(n));
        }
    });
    let listed = izba_in(folder.path(), &["runs", "--as", "jsonl"], b"");
    let mut numbers: Vec<u64> = text(&listed.stdout)
        .lines()
        .map(|l| serde_json::from_str::<serde_json::Value>(l).expect("JSON"))
        .filter_map(|v| v["run"].as_u64())
        .collect();
    numbers.sort_unstable();
    assert_eq!(numbers, [1, 2, 3, 4]);
}

#[test]
fn leaving_waits_for_nobody() {
    let tmux = Tmux::start(100, 30);
    // It hears no signal but the last one, and its child does not either.
    tmux.write(
        "main.sh",
        "trap '' TERM HUP INT; echo $$ > pid; (trap '' TERM HUP; sleep 1000) & echo ERROR: no end\n\
         while :; do sleep 1; done\n",
    );
    tmux.command(&format!("{} run -- sh main.sh; echo left", izba()));
    tmux.wait_for("no end");
    let pid = wait_for_file(&tmux.path("pid"), |text| text.ends_with('\n'));
    tmux.keys(&["q", "q"]);
    tmux.wait_for("left");
    let gone = || !std::path::Path::new("/proc").join(pid.trim()).exists();
    let begun = std::time::Instant::now();
    while !gone() && begun.elapsed() < std::time::Duration::from_secs(20) {
        std::thread::yield_now();
    }
    assert!(gone(), "what Izba started dies with it");
}

#[test]
fn a_damaged_ledger_is_told_with_what_helps() {
    let folder = tempfile::tempdir().expect("a temporary folder");
    let at = folder.path();
    izba_in(at, &["run", "--", "true"], b"");
    let ledger = at.join("state/izba/ledger.db");
    std::fs::write(&ledger, vec![7; 8_192]).expect("room");
    for rest in ["ledger.db-wal", "ledger.db-shm"] {
        let _ = std::fs::remove_file(ledger.with_file_name(rest));
    }
    let told = text(&izba_in(at, &["runs"], b"").stderr);
    assert!(told.contains("made anew from them"), "{told}");
    izba_in(at, &["run", "--", "true"], b"");
    let listed = text(&izba_in(at, &["runs"], b"").stdout);
    assert_eq!(listed.matches("ended well").count(), 2, "{listed}");
}
