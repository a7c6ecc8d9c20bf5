//! Commands without a screen: what they print, how they end, and what they say of bad input.

use crate::tmux::izba;
use std::io::Write;
use std::path::Path;
use std::process::{Command, Output, Stdio};

pub fn izba_in(folder: &Path, words: &[&str], input: &[u8]) -> Output {
    let mut child = Command::new(izba())
        .args(words)
        .current_dir(folder)
        .env("HOME", folder)
        .env("XDG_STATE_HOME", folder.join("state"))
        .env_remove("PYTHONUNBUFFERED")
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .spawn()
        .expect("the program under test");
    // A program that does not read its input is no failure of ours.
    let _ = child.stdin.take().expect("it is piped").write_all(input);
    child.wait_with_output().expect("it ends")
}

/// Exit code, and the first lines of what was said.
pub fn said(out: &Output) -> String {
    let text = [&out.stdout[..], &out.stderr[..]].concat();
    let text = String::from_utf8_lossy(&text);
    let first: Vec<&str> = text.lines().take(3).collect();
    format!("{}: {}", out.status.code().unwrap_or(-1), first.join(" / "))
}

#[test]
fn bad_input_gets_a_clear_sentence() {
    let folder = tempfile::tempdir().expect("a temporary folder");
    let at = folder.path();
    std::fs::write(at.join("empty.log"), "").expect("room");
    std::fs::write(at.join("no-end.log"), "ERROR: no newline behind this").expect("room");
    std::fs::write(at.join("bytes.log"), b"ok\nERROR: caf\xe9 is \xff\xfe closed\n\x00\x01\n")
        .expect("room");
    std::fs::write(
        at.join("long.log"),
        [vec![b'x'; 50_000_000], b"\nERROR: after the long line\n".to_vec()].concat(),
    )
    .expect("room");
    std::fs::create_dir(at.join("logs")).expect("room");
    let wide: Vec<u8> = "\u{feff}ERROR: the tide ≈ 3 m is too high\r\n"
        .encode_utf16()
        .flat_map(u16::to_le_bytes)
        .collect();
    std::fs::write(at.join("wide.log"), wide).expect("room");
    std::fs::write(
        at.join("bad.toml"),
        "[[reader]]\nname = \"gauge\"\nline = \"{time} {who} {message}\"\n",
    )
    .expect("room");
    let mut all = String::new();
    for words in [
        vec!["read", "empty.log"],
        vec!["page", "http://127.0.0.1:9/"],
        vec!["read", "no-end.log"],
        vec!["read", "bytes.log"],
        vec!["read", "long.log"],
        vec!["read", "wide.log"],
        vec!["read", "--readers", "gone.toml", "empty.log"],
        vec!["read", "--readers", "bad.toml", "empty.log"],
        vec!["readers", "bad.toml"],
        vec!["readers"],
        vec!["readers", "--try", "nowhere.log"],
        vec!["page", "localhost:8000"],
        vec!["listen", "--otlp", "here"],
        vec!["read", "logs"],
        vec!["read", "nowhere.log"],
        vec!["run", "--", "no-such-program"],
        vec!["run", "logs"],
        vec!["follow", "logs"],
        vec!["follow", "empty.log"],
        vec!["read", "--as", "pictures", "empty.log"],
    ] {
        all.push_str(&format!("izba {}\n  {}\n", words.join(" "), said(&izba_in(at, &words, b""))));
    }
    insta::assert_snapshot!(all);
}

#[test]
fn the_answer_for_scripts_keeps_its_contract() {
    let folder = tempfile::tempdir().expect("a temporary folder");
    std::fs::write(
        folder.path().join("main.py"),
        "def seat(row):\n    return row.name\n\nseat(None)\n",
    )
    .expect("room");
    let log = b"Traceback (most recent call last):\n  File \"/srv/x/main.py\", line 4, in <module>\n    seat(None)\n  File \"/srv/x/main.py\", line 2, in seat\n    return row.name\n           ^^^^^^^^\nAttributeError: 'NoneType' object has no attribute 'name'\n";
    let out = izba_in(folder.path(), &["read", "--as", "jsonl", "-"], &log.repeat(3));
    assert_eq!(out.status.code(), Some(1));
    insta::assert_snapshot!(String::from_utf8_lossy(&out.stdout));
}

#[test]
fn the_exit_code_of_the_program_is_passed_on() {
    let folder = tempfile::tempdir().expect("a temporary folder");
    let code = |script: &str| {
        izba_in(folder.path(), &["run", "--", "sh", "-c", script], b"").status.code()
    };
    assert_eq!(code("exit 0"), Some(0));
    assert_eq!(code("exit 7"), Some(7));
    assert_eq!(code("kill -SEGV $$"), Some(128 + 11));
}

#[test]
fn output_and_errors_keep_their_order_and_children_end_with_the_program() {
    let folder = tempfile::tempdir().expect("a temporary folder");
    let script = "echo one; echo two >&2; (setsid sh -c 'echo $$ > grandchild; exec sleep 300' &); \
        while [ ! -s grandchild ]; do :; done; echo three";
    let out = izba_in(folder.path(), &["run", "--", "sh", "-c", script], b"");
    let printed = String::from_utf8_lossy(&out.stdout);
    assert!(printed.starts_with("one\nthree\n"), "{printed}");
    assert!(String::from_utf8_lossy(&out.stderr).starts_with("two\n"));
    assert!(printed.contains("ended well"), "{printed}");
    let pid =
        std::fs::read_to_string(folder.path().join("grandchild")).expect("it wrote its number");
    let state = std::fs::read_to_string(format!("/proc/{}/stat", pid.trim())).unwrap_or_default();
    // Nobody may have buried it yet, but it lives no more.
    assert!(state.is_empty() || state.contains(") Z"), "a grandchild was left behind: {state}");
}

#[test]
fn a_program_that_failed_is_never_told_to_have_no_errors() {
    let folder = tempfile::tempdir().expect("a folder");
    std::fs::write(folder.path().join("quay.x"), "one\ntwo\nthree\n").expect("room");
    let told = |script: &str| {
        let out = izba_in(folder.path(), &["run", "--", "sh", "-c", script], b"");
        let text = String::from_utf8_lossy(&out.stdout).into_owned();
        // What Izba says of it, behind what the program itself put out.
        text.split_once('◎').map(|(_, said)| said.to_owned()).unwrap_or(text)
    };
    // No reader knows these words; they are the last ones all the same, with their place.
    let said = told("echo all is well; printf 'the quay is flooded\n  in quay.x:2\n' >&2; exit 3");
    assert!(said.contains("Fix first: quay.x says at line 2: the quay is flooded."), "{said}");
    // One that says nothing at all.
    let silent = told("exit 4");
    assert!(silent.contains("its console does not say why"), "{silent}");
    assert!(silent.contains("Nothing in 0 lines was understood as an error."), "{silent}");
    // And one that did well, though it talked on its error stream.
    let well = told("echo warming up >&2");
    assert!(well.contains("No errors and no warnings in 1 line."), "{well}");
    for failed in [said, silent] {
        assert!(!failed.contains("No errors"), "{failed}");
    }
}

#[test]
fn a_run_without_a_screen_says_who_did_it_as_reading_its_log_does() {
    let folder = tempfile::tempdir().expect("a folder");
    let script = "console.log('under way')\nconst lamp = { wick: { length: 4 } }\n\
        console.log(lamp.wikc.length)\n";
    std::fs::write(folder.path().join("boat.js"), script).expect("room");
    let run = izba_in(folder.path(), &["run", "--pipes", "--", "node", "boat.js"], b"");
    let (out, err) = (String::from_utf8_lossy(&run.stdout), String::from_utf8_lossy(&run.stderr));
    // Everything is passed on as it came, then what Izba found.
    assert!(out.starts_with("under way\n\n◎ node boat.js ended with exit code 1.\n"), "{out}");
    assert!(err.contains("TypeError: "), "{err}");
    let read = izba_in(folder.path(), &["read", "-"], err.as_bytes());
    let read = String::from_utf8_lossy(&read.stdout);
    let likely = |text: &str| -> Vec<String> {
        text.lines().filter(|l| l.contains("wick")).map(|l| l.trim().to_owned()).collect()
    };
    assert!(!likely(&read).is_empty(), "{read}");
    assert_eq!(likely(&out), likely(&read));
}

#[test]
fn every_command_has_help_with_an_example() {
    let folder = tempfile::tempdir().expect("a temporary folder");
    for command in ["run", "follow", "read", "demo", "store"] {
        let out = izba_in(folder.path(), &[command, "--help"], b"");
        assert!(String::from_utf8_lossy(&out.stdout).contains("Example"), "{command}");
    }
    let out = izba_in(folder.path(), &["store"], b"");
    insta::assert_snapshot!(String::from_utf8_lossy(&out.stdout).replace(&*folder.path().to_string_lossy(), "HOME"), @r"
    HOME/state/izba
    0 runs, 0 bytes of output and 0 bytes of ledger; the oldest runs go once their output is more than 2.1 GB, and after a year. Delete all with: izba store --delete
    ");
}

#[test]
fn a_large_log_says_the_same_on_one_core_and_on_several() {
    let folder = tempfile::tempdir().expect("a temporary folder");
    let samples = concat!(env!("CARGO_MANIFEST_DIR"), "/../../cases/consoles");
    let mut all = Vec::new();
    for language in
        std::fs::read_dir(samples).expect("samples").flatten().filter(|l| l.path().is_dir())
    {
        for sample in std::fs::read_dir(language.path()).expect("samples").flatten() {
            all.extend(std::fs::read(sample.path().join("console.txt")).unwrap_or_default());
        }
    }
    let path = folder.path().join("large.log");
    std::fs::write(&path, all.repeat(400)).expect("room");
    let read = |threads: &str| {
        let mut command = std::process::Command::new(env!("CARGO_BIN_EXE_izba"));
        command
            .args(["read", "--as", "jsonl", "--project"])
            .arg(folder.path())
            .arg(&path)
            .env("RAYON_NUM_THREADS", threads);
        String::from_utf8_lossy(&command.output().expect("it runs").stdout).into_owned()
    };
    let one = read("1");
    assert!(one.lines().count() > 30);
    assert_eq!(one, read("4"));
}

#[test]
fn run_without_a_screen_says_what_read_says_of_the_same_console() {
    let folder = tempfile::tempdir().expect("a temporary folder");
    let at = folder.path();
    let script = "spool = {'line': None}\n\n\ndef wind():\n    spool['line'] = 'cord'\n\n\nwind\n\
        print(spool['line'].strip())\n";
    std::fs::write(at.join("kite.py"), script).expect("room");
    let answer = |out: &Output| {
        let text = String::from_utf8_lossy(&out.stdout).replace("\r\n", "\n");
        let begin = text.find("Fix first").map(|at| text[at..].trim_end().to_owned());
        begin.unwrap_or(text)
    };
    let run = answer(&izba_in(at, &["run", "--pipes", "--", "python3", "kite.py"], b""));
    let told = Command::new("python3").arg("kite.py").current_dir(at).output().expect("python3");
    std::fs::write(at.join("kite.log"), told.stderr).expect("room");
    let read = answer(&izba_in(at, &["read", "kite.log"], b""));
    assert_eq!(run, read);
    assert!(run.contains("kite.py:8  `wind` is named here but not called"), "{run}");
}

#[test]
fn what_is_kept_is_deleted_only_when_somebody_says_so() {
    let folder = tempfile::tempdir().expect("a temporary folder");
    let at = folder.path();
    std::fs::write(at.join("oar.lua"), "print('the oar is wet')\n").expect("room");
    for _ in 0..2 {
        let _ = izba_in(at, &["run", "--", "sh", "-c", "echo ebb"], b"");
    }
    let said = |out: &std::process::Output| {
        let all = [out.stdout.as_slice(), out.stderr.as_slice()].concat();
        (out.status.code(), String::from_utf8_lossy(&all).into_owned())
    };
    // A run that is not there is named, with those that are.
    let (code, told) = said(&izba_in(at, &["compare", "1", "9"], b""));
    assert_eq!(code, Some(3), "{told}");
    assert!(told.contains("has no run 9: they go from 1 to 2"), "{told}");
    let (code, told) = said(&izba_in(at, &["compare", "1", "9", "--source", "oar"], b""));
    assert!(code == Some(3) && told.contains("has no runs of “oar”"), "{told}");
    // Where nobody can be asked, nothing is deleted.
    let (code, told) = said(&izba_in(at, &["store", "--delete"], b""));
    assert!(code == Some(2) && told.contains("--yes"), "{told}");
    assert!(said(&izba_in(at, &["store"], b"")).1.contains("2 runs"));
    let (code, told) = said(&izba_in(at, &["store", "--delete", "--yes"], b""));
    assert!(code == Some(0) && told.contains("Deleted 2 runs"), "{told}");
    // A program whose adapter does not start was not seen at all.
    let (code, told) = said(&izba_in(at, &["run", "--adapter", "nosuchadapter", "oar.lua"], b""));
    assert!(code.is_some_and(|c| c != 0), "{told}");
    assert!(told.contains("cannot be watched any more: the adapter went away"), "{told}");
}

#[test]
fn several_programs_are_watched_without_a_screen_for_as_long_as_is_said() {
    let folder = tempfile::tempdir().expect("a temporary folder");
    let at = folder.path();
    std::fs::write(at.join("boat.py"), "print('boards', flush=True)\nboats = None\nboats.row()\n")
        .expect("room");
    std::fs::write(
        at.join("izba.toml"),
        "[[source]]\nname = \"boat\"\nrun = \"python3 boat.py\"\n\n[[source]]\nname = \"tide\"\nrun = \
         \"sleep 60\"\n",
    )
    .expect("room");
    let began = std::time::Instant::now();
    let out = izba_in(at, &["--trust", "--seconds", "3", "--as", "jsonl"], b"");
    assert!(began.elapsed() < std::time::Duration::from_secs(30), "it ends what would go on");
    let told = String::from_utf8(out.stdout).expect("it is UTF-8");
    let one: serde_json::Value = serde_json::from_str(&told).expect("one object, and nothing else");
    assert_eq!((&one["file"], &one["line"]), (&"boat.py".into(), &3.into()), "{told}");
    assert_eq!(one["source"], "boat");
    assert_eq!(out.status.code(), Some(1), "an error was found");
    // What was met before and did not come again is not told.
    std::fs::write(at.join("boat.py"), "print('boards')\n").expect("room");
    let out = izba_in(at, &["--trust", "--seconds", "3", "--as", "jsonl"], b"");
    assert_eq!((out.stdout.as_slice(), out.status.code()), (&b""[..], Some(0)));
    let out = izba_in(at, &["--trust", "--seconds", "2"], b"");
    let text = String::from_utf8_lossy(&out.stdout);
    assert!(text.contains("boards\n"), "what programs print is passed on: {text}");
    assert!(text.contains("◎ tide was watched for "), "{text}");
    // Without an end it would go on for good.
    let out = izba_in(at, &["--trust"], b"");
    assert_eq!(out.status.code(), Some(0), "what is piped in is read");
    let out = izba_in(at, &["--as", "text"], b"");
    assert_eq!(out.status.code(), Some(2));
    assert!(String::from_utf8_lossy(&out.stderr).contains("--seconds"));
}

#[test]
fn who_shall_be_told_is_asked_of_commands_that_watch_and_of_no_others() {
    let folder = tempfile::tempdir().expect("a folder");
    std::fs::write(folder.path().join("a.log"), "all well\n").expect("room");
    let told = |words: &[&str]| said(&izba_in(folder.path(), words, b""));
    assert_eq!(
        told(&["--tell", "127.0.0.1:4318", "read", "a.log"]),
        "2: izba: this command watches nothing, so there is nothing to tell /       name --tell where \
         something is watched: izba --tell 127.0.0.1:4318 run main.py"
    );
    let refused = told(&["--tell", "the teacher", "run", "true"]);
    assert!(
        refused.starts_with("2: izba: “the teacher” is no address of a collector"),
        "{refused}"
    );
    // Nobody there hinders nothing: the program runs, and what was not told is said.
    let away = told(&["--tell", "127.0.0.1:9", "run", "--", "sh", "-c", "exit 3"]);
    assert!(away.starts_with("3: "), "{away}");
    // A name alone tells nobody.
    assert!(told(&["--tell-as", "Wren", "run", "true"]).contains("--tell <ADDR>"));
}
