//! What is kept: nothing lost when Izba is killed, the disk is full, the ledger damaged, or two
//! Izbas write at once.

use crate::tmux::{Tmux, izba, wait_for};
use izba_sources::{Event, SpoolReader};
use std::path::{Path, PathBuf};
use std::process::{Child, Command, Output, Stdio};

/// A folder with a store of its own and a project in it.
struct Place {
    folder: tempfile::TempDir,
}

impl Place {
    fn new() -> Place {
        let folder = tempfile::tempdir().expect("a temporary folder");
        std::fs::create_dir(folder.path().join("ferry")).expect("room");
        let place = Place { folder };
        place.write("izba.toml", "");
        place.write("main.lua", "local boats = {}\nprint('under way')\nprint(boats[1].name)\n");
        place
    }

    fn path(&self, name: &str) -> PathBuf {
        self.folder.path().join("ferry").join(name)
    }

    fn store(&self) -> PathBuf {
        self.folder.path().join("store")
    }

    fn write(&self, name: &str, text: &str) {
        std::fs::write(self.path(name), text).expect("room");
    }

    fn command(&self, words: &[&str]) -> Command {
        let mut command = Command::new(izba());
        command
            .arg("--store")
            .arg(self.store())
            .args(words)
            .current_dir(self.folder.path().join("ferry"));
        command.env("HOME", self.folder.path()).env("TZ", "UTC").stdin(Stdio::null());
        command
    }

    fn izba(&self, words: &[&str]) -> Output {
        self.command(words).output().expect("it runs")
    }

    fn out(&self, words: &[&str]) -> String {
        String::from_utf8_lossy(&self.izba(words).stdout).into_owned()
    }

    /// The segments of all sessions, oldest first.
    fn segments(&self) -> Vec<PathBuf> {
        let mut found: Vec<PathBuf> = glob(&self.store());
        found.sort();
        found
    }
}

fn glob(store: &Path) -> Vec<PathBuf> {
    let sessions = std::fs::read_dir(store)
        .into_iter()
        .flatten()
        .flatten()
        .map(|e| e.path())
        .filter(|p| p.is_dir());
    sessions
        .flat_map(|s| std::fs::read_dir(s).into_iter().flatten().flatten().map(|e| e.path()))
        .filter(|p| p.extension().is_some_and(|e| e == "seg" || e == "segz"))
        .collect()
}

/// The bytes that a segment holds; a torn end is where it ends.
fn text_of(segment: &Path) -> Vec<u8> {
    let mut reader = SpoolReader::open_one(segment).expect("it opens");
    let mut all = Vec::new();
    while let Ok(Some(record)) = reader.next_record() {
        if let Event::Bytes(_) = record.event {
            all.extend(record.bytes);
        }
    }
    all
}

/// A rude writer under an Izba that is killed once so many bytes lie on the disk; gives when that
/// was, and the segment.
fn killed_after(place: &Place, bytes: u64) -> (u128, PathBuf) {
    let before = place.segments();
    let writer = [
        izba(),
        "stand-in",
        "rude",
        "--lines",
        "20000",
        "--errors",
        "60",
        "--seconds",
        "60",
        "--stamps",
    ];
    let mut words = vec!["run", "--pipes", "--"];
    words.extend(writer);
    let mut child: Child = place
        .command(&words)
        .stdout(Stdio::null())
        .stderr(Stdio::null())
        .spawn()
        .expect("it starts");
    // Those of earlier sessions are made small meanwhile, under another name.
    let new =
        || place.segments().into_iter().find(|s| before.iter().all(|b| b.parent() != s.parent()));
    wait_for("enough on the disk", || {
        new().and_then(|s| s.metadata().ok()).is_some_and(|m| m.len() > bytes)
    });
    let segment = new().expect("it is there");
    child.kill().expect("it lives");
    let at = std::time::SystemTime::now()
        .duration_since(std::time::UNIX_EPOCH)
        .expect("after 1970")
        .as_millis();
    child.wait().expect("it ends");
    (at, segment)
}

#[test]
fn killed_at_any_moment_it_has_lost_no_more_than_the_last_moment_and_nothing_twice() {
    let place = Place::new();
    for round in 0..10u64 {
        let (killed, segment) = killed_after(&place, 60_000 + round * 137_000);
        let text = text_of(&segment);
        // The last line may be torn in two by the kill.
        let whole = text.iter().rposition(|b| *b == b'\n').map_or(0, |at| at + 1);
        let text = String::from_utf8_lossy(&text[..whole]).into_owned();
        let (mut next, mut newest) = (1u64, 0u128);
        for line in text.lines().filter_map(|l| l.split_once("nothing to tell, line ")) {
            let (number, stamp) = line.1.split_once(" at ").expect("a stamp");
            assert_eq!(
                number.parse::<u64>().expect("a number"),
                next,
                "round {round}: nothing missing between, nothing twice"
            );
            next += 1;
            newest = stamp.parse().expect("a moment");
        }
        assert!(
            next > 300 && newest + 200 >= killed,
            "round {round}: {next} lines, the newest {} ms before the kill",
            killed - newest
        );
    }
    // The next Izba enters what the killed ones left: their runs, with what they saw.
    wait_for("all ten runs to be entered, by one that runs long enough or by several", || {
        let _ = place.izba(&["run", "--pipes", "--", "true"]);
        place.out(&["runs"]).matches("was cut off: Izba itself was ended").count() == 10
    });
    let compared = place.out(&[
        "compare",
        "1",
        "10",
        "--source",
        &format!("{} stand-in rude --lines 20000 --errors 60 --seconds 60 --stamps", izba()),
    ]);
    assert!(compared.contains("1 in both"), "{compared}");
}

#[test]
fn a_damaged_ledger_is_put_aside_and_made_anew_from_what_the_runs_left() {
    let place = Place::new();
    for _ in 0..2 {
        let _ = place.izba(&["run", "main.lua"]);
    }
    place.write("main.lua", "local boats = {}\nprint('under way')\n");
    let _ = place.izba(&["run", "main.lua"]);
    let compared = place.out(&["compare", "2", "3"]);
    assert!(
        compared.contains("1 gone quiet") && compared.contains("`boats[1]` has no value here"),
        "{compared}"
    );
    for damage in [
        "this is no database, and never was; it is only long enough to look like one. ".repeat(100),
        String::new(),
    ] {
        let ledger = place.store().join("ledger.db");
        let mut bytes = std::fs::read(&ledger).expect("it is there");
        if damage.is_empty() {
            // A page in the middle is overwritten: the head still looks like a database.
            let at = bytes.len() / 2;
            bytes[at..at + 4096].fill(0x5a);
            bytes[4096..8192].fill(0x5a);
        } else {
            bytes = damage.into_bytes();
        }
        for rest in ["ledger.db-wal", "ledger.db-shm"] {
            let _ = std::fs::remove_file(place.store().join(rest));
        }
        std::fs::write(&ledger, bytes).expect("room");
        let out = place.izba(&["run", "main.lua"]);
        let said = String::from_utf8_lossy(&out.stderr);
        assert!(
            said.contains("the ledger could not be read; it is put aside as ledger.damaged-"),
            "{said}"
        );
        assert_eq!(
            place.out(&["compare", "2", "3"]),
            compared,
            "what was known before is known again"
        );
    }
}

#[test]
fn two_izbas_on_one_project_keep_all_runs_and_hear_of_each_others_decisions() {
    let place = Place::new();
    let both: Vec<Child> = (0..2)
        .map(|_| {
            place
                .command(&["run", "main.lua"])
                .stdout(Stdio::null())
                .stderr(Stdio::piped())
                .spawn()
                .expect("it starts")
        })
        .collect();
    for child in both {
        let out = child.wait_with_output().expect("it ends");
        let said = String::from_utf8_lossy(&out.stderr);
        assert!(!said.contains("izba:"), "{said}");
    }
    let runs = place.out(&["runs"]);
    assert_eq!(runs.matches("ended with exit code 1").count(), 2, "{runs}");
    // What one decides on its screen the other hears.
    let (first, second) = (Tmux::start(110, 34), Tmux::start(110, 34));
    let line = format!(
        "cd {} && HOME={} {} --store {} run main.lua",
        place.path("").display(),
        place.folder.path().display(),
        izba(),
        place.store().display()
    );
    first.command(&line);
    second.command(&line);
    first.wait_for("`boats[1]` has no value here");
    second.wait_for("`boats[1]` has no value here");
    first.keys(&["x"]);
    first.wait_for("set aside; p shows it");
    second.wait_until("the other's decision", |s| s.contains("1 set aside"));
    first.keys(&["u"]);
    second.wait_until("it taken back", |s| {
        !s.contains("1 set aside") && s.contains("◆ `boats[1]` has no value here")
    });
}

#[test]
#[expect(clippy::print_stderr, reason = "what is skipped is said aloud")]
fn a_full_disk_costs_the_ledger_what_finds_no_room_and_says_so() {
    let place = Place::new();
    std::fs::create_dir(place.store()).expect("room");
    let writer = format!("{} stand-in rude --lines 20000 --errors 60 --seconds 2", izba());
    let inner = format!(
        "mount -t tmpfs -o size=1m tmpfs {store} && {izba} --store {store} run --pipes -- \
            {writer} >/dev/null; echo code $?; {izba} --store {store} runs",
        store = place.store().display(),
        izba = izba()
    );
    let out = Command::new("unshare")
        .args(["-m", "sh", "-c", &inner])
        .current_dir(place.path(""))
        .output()
        .expect("unshare is part of the base system");
    let (said, told) = (String::from_utf8_lossy(&out.stderr), String::from_utf8_lossy(&out.stdout));
    if said.contains("Operation not permitted") || said.contains("permission denied") {
        eprintln!("skipped: this user may not mount a small disk of its own ({said})");
        return;
    }
    assert!(said.contains("the disk is full: ") && said.contains("kept in memory"), "{said}{told}");
    assert!(told.contains("code 0"), "the program itself was not held up\n{said}{told}");
    assert!(!said.contains("panicked"), "{said}");
}
