//! `cargo xtask editor IZBA`: a real editor, which nobody here wrote, talks to `izba lsp` without a
//! screen. A program strikes, its error is told at the guilty line, the edit is made by the editor,
//! the program runs again, and the error is gone: once while the server starts the program itself,
//! and once while Izba watches it elsewhere.
//!
//! It needs neovim (0.7 or later) and lua5.4, and says so.

use crate::{Outcome, root, say};
use std::fs;
use std::path::Path;
use std::process::{Child, Command, Stdio};

const USAGE: &str = "editor IZBA";

/// A loop that begins one too early; the console names line 4.
const QUAY: &str = "local boats = { \"Wren\", \"Smew\" }\nfor berth = 0, #boats do\n  local boat = \
    boats[berth]\n  print(boat:upper())\nend\n";

/// What the editor has to have seen, each in its line.
const WANTED: [&str; 5] = [
    "line 2, severity 1:",
    "offered: Line 2 becomes `for berth = 1, #boats do`",
    "line is now: for berth = 1, #boats do",
    "gone behind the next run",
    "stopped",
];

pub fn run(words: &[String]) -> Outcome {
    let [izba] = words else { return Err(format!("write it so: {USAGE}")) };
    let izba = fs::canonicalize(izba).map_err(|e| format!("{izba} can't be found: {e}"))?;
    for need in ["nvim", "lua5.4"] {
        if Command::new(need).arg("-v").stdout(Stdio::null()).status().is_err() {
            return Err(format!("{need} is missing (Debian: neovim, lua5.4)"));
        }
    }
    let folder = tempfile::tempdir().map_err(|e| format!("no room: {e}"))?;
    for elsewhere in [false, true] {
        let place = folder.path().join(if elsewhere { "elsewhere" } else { "itself" });
        fs::create_dir_all(place.join("ferry")).map_err(|e| format!("no room: {e}"))?;
        fs::write(place.join("ferry/quay.lua"), QUAY).map_err(|e| format!("no room: {e}"))?;
        say(if elsewhere { "watched elsewhere" } else { "started by the server" });
        let watching = if elsewhere { Some(watch(&izba, &place)?) } else { None };
        let seen = edit(&izba, &place, elsewhere);
        if let Some(mut watching) = watching {
            let _ = watching.kill();
            let _ = watching.wait();
        }
        let seen = seen?;
        seen.lines().for_each(|line| say(&format!("  {line}")));
        let missing: Vec<&str> = WANTED.into_iter().filter(|w| !seen.contains(w)).collect();
        if !missing.is_empty() {
            return Err(format!("the editor did not see: {}", missing.join("; ")));
        }
    }
    Ok(())
}

/// Watches the program as a screen does, in a terminal that nobody looks at.
fn watch(izba: &Path, place: &Path) -> Result<Child, String> {
    let line = format!(
        "cd '{0}/ferry' && exec '{1}' --store '{0}/store' run --on-save lua5.4 quay.lua",
        place.display(),
        izba.display()
    );
    // `script` gives it a terminal of its own.
    Command::new("script")
        .args(["-qefc", &line, "/dev/null"])
        .env("TERM", "xterm-256color")
        .stdin(Stdio::piped())
        .stdout(Stdio::null())
        .spawn()
        .map_err(|e| format!("no terminal could be made: {e}"))
}

/// Has the editor do its part; what it saw.
fn edit(izba: &Path, place: &Path, elsewhere: bool) -> Result<String, String> {
    let out = place.join("seen");
    let status = Command::new("nvim")
        .args(["--headless", "-u", "NONE", "-S"])
        .arg(root().join("xtask/editor/client.lua"))
        .env("ROOT", place.join("ferry"))
        .env("STORE", place.join("store"))
        .env("OUT", &out)
        .env("IZBA", izba)
        .env("ELSEWHERE", if elsewhere { "yes" } else { "no" })
        .stdout(Stdio::null())
        .stderr(Stdio::null())
        .status()
        .map_err(|e| format!("nvim could not be started: {e}"))?;
    let seen = fs::read_to_string(&out).unwrap_or_default();
    if status.success() { Ok(seen) } else { Err(format!("the editor gave up:\n{seen}")) }
}
