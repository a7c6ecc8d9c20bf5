//! The demo as a user meets it: every fault that a console tells is understood, each can be mended
//! by its name, and a mended world is quiet.

use crate::tmux::{Tmux, connect, free_address, izba};
use izba_standins::world::{Fault, faults};
use std::collections::BTreeMap;
use std::fmt::Write;
use std::io::Read;
use std::path::{Path, PathBuf};
use std::process::{Command, Stdio};

struct World {
    folder: tempfile::TempDir,
}

impl World {
    fn new() -> World {
        World { folder: tempfile::tempdir().expect("a temporary folder") }
    }

    fn project(&self) -> PathBuf {
        self.folder.path().join("ferry")
    }

    /// Runs izba in the folder above the project; exit code, and what it says on both streams.
    fn izba(&self, words: &[&str]) -> (i32, String) {
        let mut command = Command::new(izba());
        command
            .current_dir(self.folder.path())
            .args(words)
            .env("XDG_STATE_HOME", self.folder.path().join("state"));
        let out = command.stdin(Stdio::null()).output().expect("it runs");
        let said = String::from_utf8_lossy(&out.stdout).into_owned()
            + &String::from_utf8_lossy(&out.stderr);
        (out.status.code().unwrap_or(-1), said)
    }

    fn demo(&self, words: &[&str]) -> (i32, String) {
        self.izba(&[&["demo", "--dir", "ferry"], words].concat())
    }

    fn stand_in(&self, words: &[&str]) -> String {
        let out = Command::new(izba())
            .arg("stand-in")
            .args(words)
            .current_dir(self.project())
            .output()
            .expect("the stand-in");
        String::from_utf8_lossy(&out.stdout).into_owned() + &String::from_utf8_lossy(&out.stderr)
    }

    /// What all sources say, by their names.
    fn consoles(&self) -> BTreeMap<&'static str, String> {
        let (listen, service) = (free_address(), free_address());
        let words = [
            "stand-in",
            "phone",
            "--hurried",
            "--listen",
            &listen.to_string(),
            "--service",
            &service.to_string(),
        ];
        let mut phone = Command::new(izba())
            .args(words)
            .current_dir(self.project())
            .spawn()
            .expect("the phone");
        drop(connect(service));
        let page = self.stand_in(&[
            "page",
            "--hurried",
            "--seconds",
            "5",
            "--tickets",
            &service.to_string(),
        ]);
        let mut log = String::new();
        for _ in 0..2 {
            connect(listen).read_to_string(&mut log).expect("text");
        }
        phone.wait().expect("it ends");
        BTreeMap::from([
            (
                "engine",
                self.stand_in(&[
                    "engine",
                    "--hurried",
                    "--seconds",
                    "85",
                    "--rate",
                    "10",
                    "--play",
                    "play/evening.json",
                ]),
            ),
            ("addon", self.stand_in(&["addon", "--hurried", "--seconds", "4"])),
            ("page", page),
            ("phone", log),
            ("build", self.stand_in(&["build"])),
        ])
    }

    /// The groups that `izba read` finds in a console.
    fn read(&self, console: &str) -> Vec<serde_json::Value> {
        let path = self.folder.path().join("console.log");
        std::fs::write(&path, console).expect("room");
        let (_, said) = self.izba(&["read", "console.log", "--project", "ferry", "--as", "jsonl"]);
        said.lines()
            .map(|l| serde_json::from_str(l).unwrap_or_else(|e| panic!("{e}: {l}")))
            .collect()
    }
}

/// Whether a group is the fault: of its family, at the place that the console tells, or with its
/// words.
fn is_fault(fault: &Fault, group: &serde_json::Value, project: &Path) -> bool {
    let text = |name: &str| group[name].as_str().unwrap_or_default().to_owned();
    if text("family") != *fault.seems.as_ref().unwrap_or(&fault.family) {
        return false;
    }
    match &fault.told {
        Some(told) => {
            // A file that ends without what was wanted is reported one line further than it has
            // lines.
            let line = told.line(project).expect("its place is there") as u64;
            text("file") == told.file
                && (group["line"].as_u64() == Some(line) || told.find.is_empty())
        }
        None => fault.says.lines().any(|says| {
            let words =
                says.rsplit(": ").next().unwrap_or(says).rsplit("] ").next().unwrap_or(says);
            let words =
                words.rsplit(" | ").next().unwrap_or(words).rsplit('…').next().unwrap_or(words);
            group.to_string().contains(words)
        }),
    }
}

#[test]
fn every_fault_that_a_console_tells_is_understood() {
    let world = World::new();
    world.demo(&["--reset"]);
    let consoles = world.consoles();
    let mut missing = Vec::new();
    for (source, console) in &consoles {
        let groups = world.read(console);
        for fault in faults().iter().filter(|f| f.source == *source && !f.silent) {
            if !groups.iter().any(|g| is_fault(fault, g, &world.project())) {
                missing.push(fault.id.as_str());
            }
        }
    }
    assert!(missing.is_empty(), "not understood: {missing:?}");
}

/// What Izba says of each fault, to be read aloud: the guilty place and as which suspect it stands,
/// the explanation, reasons, ways.
#[test]
fn the_guilty_line_of_every_fault_is_named_and_explained() {
    let world = World::new();
    world.demo(&["--reset"]);
    let (_, checked) = world.izba(&["check", "--project", "ferry", "--as", "jsonl"]);
    let remarks: Vec<serde_json::Value> =
        checked.lines().filter_map(|l| serde_json::from_str(l).ok()).collect();
    let consoles = world.consoles();
    let mut out = String::new();
    let mut first = 0;
    for (source, console) in &consoles {
        let groups = world.read(console);
        for fault in faults().iter().filter(|f| f.source == *source) {
            let guilty = (
                fault.guilty.file.as_str(),
                fault.guilty.line(&world.project()).expect("it stands there") as u64,
            );
            let _ = writeln!(
                out,
                "{} ({source}, {}): guilty is {}:{}",
                fault.id, fault.family, guilty.0, guilty.1
            );
            let places: Vec<&serde_json::Value> = match groups
                .iter()
                .find(|g| is_fault(fault, g, &world.project()))
                .filter(|_| !fault.silent)
            {
                Some(group) => {
                    let _ = writeln!(
                        out,
                        "  {}",
                        group["explanation"].as_str().unwrap_or("no explanation")
                    );
                    let list = |key: &str| group[key].as_array().cloned().unwrap_or_default();
                    for reason in list("reasons") {
                        let seen = reason["evidence"].as_array().map_or(0, Vec::len);
                        let _ = writeln!(
                            out,
                            "  {:<10} {} ({seen} seen)",
                            text_of(&reason["verdict"]),
                            text_of(&reason["text"])
                        );
                    }
                    for way in ["quick", "right"] {
                        if let Some(way) = group["ways"][way].as_str() {
                            let _ = writeln!(out, "  {way}: {way}");
                        }
                    }
                    group["suspects"].as_array().into_iter().flatten().collect()
                }
                None => remarks.iter().filter(|r| text_of(&r["file"]) == guilty.0).collect(),
            };
            let range = |s: &serde_json::Value| {
                s["line"].as_u64().unwrap_or(0)..=s["to_line"].as_u64().unwrap_or(0)
            };
            let rank = places.iter().position(|s| {
                text_of(&s["file"]) == guilty.0 && (range(s).contains(&guilty.1) || s["line"] == 0)
            });
            first += usize::from(rank == Some(0) || fault.silent && rank.is_some());
            let told = if fault.silent { "found without running" } else { "suspect" };
            let rank = rank.map_or("NOT FOUND".to_owned(), |r| format!("{told} {}", r + 1));
            let _ = writeln!(out, "  {rank} of {}", places.len());
            for place in places.iter().take(2) {
                let why = if fault.silent { &place["text"] } else { &place["reason"] };
                let _ = writeln!(
                    out,
                    "    {}:{} {}",
                    text_of(&place["file"]),
                    place["line"],
                    text_of(why)
                );
            }
        }
    }
    insta::assert_snapshot!(format!("{first} of {} come first\n\n{out}", faults().len()));
}

fn text_of(value: &serde_json::Value) -> String {
    value.as_str().unwrap_or_default().to_owned()
}

#[test]
fn faults_are_listed_mended_by_name_and_put_back() {
    let world = World::new();
    let (code, listed) = world.demo(&["--list"]);
    assert_eq!(code, 0, "{listed}");
    assert!(faults().iter().all(|f| listed.contains(&f.id) && listed.contains(&f.teaches)));
    let (code, said) = world.demo(&["--fix", "lantren-level"]);
    assert_eq!(
        (code, said.contains("there is no fault “lantren-level” in the demo")),
        (2, true),
        "{said}"
    );
    let (code, said) = world.izba(&["demo", "--dir", "elsewhere", "--fix", "lantren-level"]);
    let laid_out = world.folder.path().join("elsewhere").exists();
    assert_eq!((code, laid_out), (2, false), "{said}");
    for fault in faults() {
        let (code, said) = world.demo(&["--fix", &fault.id]);
        assert_eq!(code, 0, "{}: {said}", fault.id);
    }
    let (code, said) = world.demo(&["--fix", "tide-name"]);
    assert_eq!((code, said.contains("it may be fixed already")), (3, true), "{said}");
    let wrong = |world: &World| {
        let consoles = world.consoles();
        let groups = consoles.values().flat_map(|c| world.read(c));
        groups
            .filter(|g| g["level"] != "warning" && !g["file"].is_null())
            .map(|g| g.to_string())
            .collect::<Vec<_>>()
    };
    let still = wrong(&world);
    assert!(still.is_empty(), "{still:#?}");
    assert_eq!(world.demo(&["--reset"]).0, 0);
    assert!(wrong(&world).len() >= 30);
}

#[test]
fn the_tour_leads_from_the_first_screen_to_a_mended_mistake() {
    let tmux = Tmux::start(142, 42);
    tmux.command(&format!("{} demo engine --dir ferry", izba()));
    tmux.wait_for("1 of 5  See");
    tmux.wait_for("`wick` has no value");
    let mut keys = 0;
    let mut press = |key: &str| {
        keys += 1;
        tmux.keys(&[key]);
    };
    press("Down");
    tmux.wait_for("2 of 5  Choose");
    press("Enter");
    tmux.wait_for("3 of 5  Find");
    tmux.wait_for("m make the edit");
    press("m");
    tmux.wait_for("Enter makes it");
    press("Enter");
    tmux.wait_for("4 of 5  Fix");
    press("a");
    tmux.wait_for("5 of 5  Prove");
    let proved = tmux.wait_for("Gone: not met in this run");
    assert!(proved.contains("  quiet"), "the mended one is shown\n{proved}");
    press("T");
    tmux.wait_until("the tour to be gone", |screen| !screen.contains("of 5"));
    press("q");
    press("q");
    assert!(keys <= 12, "{keys} keys");
}

#[test]
fn each_source_can_be_started_alone() {
    for (source, name, words) in [
        ("addon", "add-on loader", "`pier` has no value"),
        ("page", "timetable page", "`departures` has no function `foreach`"),
        ("phone", "ticket phone", "`seats` is used before it has a value"),
        ("build", "ticket build", "Tiket` is not known"),
    ] {
        let tmux = Tmux::start(142, 42);
        tmux.command(&format!("{} demo {source} --dir ferry", izba()));
        let screen = tmux.wait_for(words);
        assert!(screen.contains(name), "{screen}");
        tmux.keys(&["T", "q", "q"]);
        tmux.wait_for("shell>");
    }
}
