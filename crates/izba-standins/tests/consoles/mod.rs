//! Worlds laid out for tests, and what their sources say when they run.

pub mod real;

use izba_standins::free_address;
use izba_standins::world::{self, Spot, apply, faults, said_now};
use std::io::Read;
use std::net::{SocketAddr, TcpStream};
use std::path::PathBuf;
use std::process::{Child, Command, Stdio};
use std::time::{Duration, Instant};

/// The sources of the demo world.
pub const SOURCES: &[&str] = &["engine", "addon", "page", "phone", "build"];

/// How many lines may stand between two lines of what a console says.
const CLOSE: usize = 60;

/// A project in a folder of its own.
pub struct Laid {
    /// Where.
    pub folder: PathBuf,
    _temporary: tempfile::TempDir,
}

impl Laid {
    /// With all its faults.
    pub fn planted() -> Laid {
        let temporary = tempfile::tempdir().expect("a temporary folder");
        let folder = temporary.path().join("night-ferry");
        world::lay_out(&folder).expect("an empty folder");
        Laid { folder, _temporary: temporary }
    }

    /// With all faults mended.
    pub fn mended() -> Laid {
        let laid = Laid::planted();
        for fault in faults() {
            apply(&laid.folder, &fault.cure).unwrap_or_else(|e| panic!("{}: {e}", fault.id));
        }
        laid
    }

    /// What a console says of a fault as the project stands.
    pub fn said(&self, says: &str, told: Option<&Spot>) -> Result<String, String> {
        said_now(&self.folder, says, told)
            .ok_or_else(|| format!("the place of “{says}” is not there"))
    }

    /// Puts three lines above what stands in a file.
    pub fn grow(&self, file: &str) {
        let above = match file.rsplit('.').next() {
            Some("lua") => "-- one\n-- two\n-- three\n",
            Some("js" | "java" | "kt" | "cs") => "// one\n// two\n// three\n",
            _ => "\n\n\n",
        };
        let path = self.folder.join(file);
        let text = std::fs::read_to_string(&path).expect("the file is there");
        std::fs::write(&path, format!("{above}{text}")).expect("it can be written");
    }
}

/// What a console says of a fault, whatever its lines are.
pub fn anywhere(says: &str) -> String {
    let mut parts = says.split('{');
    let first = parts.next().unwrap_or_default().to_owned();
    parts.fold(first, |text, part| match part.split_once('}') {
        Some((name, rest)) if name == "line" || name.starts_with('@') => text + "…" + rest,
        _ => text + "{" + part,
    })
}

/// Whether the lines of `says` stand in the console in that order and close together; `…` stands
/// for anything in a line.
pub fn says(console: &str, says: &str) -> bool {
    let lines: Vec<&str> = console.lines().collect();
    let holds = |line: &str, wanted: &str| {
        let mut rest = line;
        wanted.split('…').all(|piece| {
            rest.find(piece).is_some_and(|at| {
                rest = &rest[at + piece.len()..];
                true
            })
        })
    };
    let mut wanted = says.lines();
    let Some(first) = wanted.next() else { return false };
    let others: Vec<&str> = wanted.collect();
    (0..lines.len()).filter(|at| holds(lines[*at], first)).any(|begin| {
        let mut at = begin;
        others.iter().all(|other| {
            let found = lines[at + 1..].iter().take(CLOSE).position(|l| holds(l, other));
            at += found.map_or(0, |f| f + 1);
            found.is_some()
        })
    })
}

/// Runs a source of the world for a while, as fast as it goes; what it says on all its streams.
pub fn console(world: &Laid, source: &str) -> String {
    match source {
        "engine" => stand_in(
            world,
            &[
                "engine",
                "--hurried",
                "--seconds",
                "85",
                "--rate",
                "10",
                "--play",
                "play/evening.json",
            ],
        ),
        "addon" => stand_in(world, &["addon", "--hurried", "--seconds", "4"]),
        "build" => stand_in(world, &["build"]),
        "page" => page_and_phone(world).0,
        "phone" => page_and_phone(world).1,
        other => panic!("there is no source {other}"),
    }
}

fn night_ferry() -> Command {
    Command::new(env!("CARGO_BIN_EXE_night-ferry"))
}

/// Runs a stand-in in the world's folder; what it says on both streams.
pub fn stand_in(world: &Laid, words: &[&str]) -> String {
    let out = night_ferry().args(words).current_dir(&world.folder).output().expect("the stand-in");
    String::from_utf8_lossy(&out.stdout).into_owned() + &String::from_utf8_lossy(&out.stderr)
}

struct Ended(Child);

impl Drop for Ended {
    fn drop(&mut self) {
        let _ = self.0.kill();
        let _ = self.0.wait();
    }
}

fn connect(address: SocketAddr) -> TcpStream {
    let begun = Instant::now();
    loop {
        match TcpStream::connect(address) {
            Ok(stream) => return stream,
            Err(e) => assert!(
                begun.elapsed() < Duration::from_secs(20),
                "nobody answers at {address}: {e}"
            ),
        }
        std::thread::yield_now();
    }
}

/// The page asks the phone, so they run together. The phone goes away once in the middle of its
/// log.
fn page_and_phone(world: &Laid) -> (String, String) {
    let (listen, service) = (free_address().expect("a port"), free_address().expect("a port"));
    let words =
        ["phone", "--hurried", "--listen", &listen.to_string(), "--service", &service.to_string()];
    let mut phone = Ended(
        night_ferry()
            .args(words)
            .current_dir(&world.folder)
            .stdin(Stdio::null())
            .spawn()
            .expect("the phone"),
    );
    drop(connect(service));
    let page = stand_in(
        world,
        &["page", "--hurried", "--seconds", "5", "--tickets", &service.to_string()],
    );
    let mut log = String::new();
    for _ in 0..2 {
        connect(listen).read_to_string(&mut log).expect("the log is text");
    }
    assert!(phone.0.wait().expect("it ends").success());
    (page, log)
}

/// Whether a line of a source tells of something that is wrong with the project.
pub fn is_wrong(source: &str, line: &str) -> bool {
    let (wrong, noise): (&[&str], &[&str]) = match source {
        "engine" => (&["| error |", "| fatal |", "| warn  |"], &["| sync |", "| sound |"]),
        "addon" => (&[" ERROR ", " WARN "], &["[pack-7]"]),
        "page" => (&[" error]", " warning]"], &[]),
        "phone" => (&["<8>", "<9>", "<10>", "<11>", "<12>"], &["marsh-birds", "weather-cock"]),
        _ => (&[": error ", ": warning "], &[]),
    };
    wrong.iter().any(|w| line.contains(w)) && !noise.iter().any(|n| line.contains(n))
}
