//! Worlds laid out for tests, and what their sources say when they run.

use izba_standins::world::{self, Fault, apply, faults, said_now};
use std::path::PathBuf;
use std::process::Command;

/// The sources of the demo world.
pub const SOURCES: &[&str] = &["engine"];

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

    /// What the console says of a fault as the project stands.
    pub fn said(&self, fault: &Fault) -> Result<String, String> {
        said_now(&self.folder, &fault.says, fault.told.as_ref()).ok_or_else(|| format!("{}: its place is not there", fault.id))
    }

    /// Whether lines can be put above what stands in a file.
    pub fn can_grow(&self, file: &str) -> bool {
        !file.ends_with(".xml")
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

/// Runs a source of the world for a while, as fast as it goes; what it says on all its streams.
pub fn console(world: &Laid, source: &str) -> String {
    match source {
        "engine" => stand_in(world, &["engine", "--hurried", "--seconds", "85", "--rate", "10", "--play", "play/evening.json"]),
        other => panic!("there is no source {other}"),
    }
}

fn stand_in(world: &Laid, words: &[&str]) -> String {
    let out = Command::new(env!("CARGO_BIN_EXE_night-ferry")).args(words).current_dir(&world.folder).output().expect("the stand-in");
    String::from_utf8_lossy(&out.stdout).into_owned() + &String::from_utf8_lossy(&out.stderr)
}

/// Whether a line of a source tells of something that is wrong with the project.
pub fn is_wrong(source: &str, line: &str) -> bool {
    let noise = ["| sync |", "| sound |"];
    match source {
        "engine" => ["| error |", "| fatal |", "| warn  |"].iter().any(|l| line.contains(l)) && !noise.iter().any(|n| line.contains(n)),
        _ => line.contains("rror"),
    }
}
