//! `cargo xtask hostile IZBA [NAME...]` (or `hostile lay FOLDER NAME...`): folders and logs under
//! 1 MB that are meant to take all time and memory, each read, checked and packed for somebody else
//! by a built Izba, with how long it took and how much memory.
//!
//! The aims: at most two seconds and 300 MB for each. What is over is told at the end, and makes the
//! chore fail.

mod inputs;

use crate::{Outcome, say};
use inputs::{Input, all};
use std::fs;
use std::path::Path;
use std::process::{Command, Stdio};
use std::time::{Duration, Instant};

const AIM: Duration = Duration::from_secs(2);
const AIM_MB: u64 = 300;
/// After so long, or with so much memory, it is killed: more says nothing more.
const GIVEN_UP: Duration = Duration::from_secs(8);
const GIVEN_UP_MB: u64 = 2000;

/// What is asked of each.
const ASKED: &[(&str, &[&str])] = &[
    ("read", &["read", "log.txt"]),
    ("check", &["check"]),
    ("pack", &["read", "--as", "markdown", "--pack", "help.zip", "log.txt"]),
];

/// How one command went.
struct Took {
    time: Duration,
    mb: u64,
    /// How it ended, where that was not by itself with 0, 1 or 2.
    badly: Option<String>,
}

impl Took {
    fn within(&self) -> bool {
        self.badly.is_none() && self.time <= AIM && self.mb <= AIM_MB
    }

    fn told(&self) -> String {
        let mark = if self.within() { ' ' } else { '!' };
        let badly = self.badly.as_deref().unwrap_or("");
        format!("{mark}{:6.2} s {:5} MB {badly}", self.time.as_secs_f64(), self.mb)
    }
}

pub fn run(words: &[String]) -> Outcome {
    let Some((izba, names)) = words.split_first() else {
        return Err("say which Izba: hostile IZBA [NAME...]".into());
    };
    if let ("lay", [into, names @ ..]) = (izba.as_str(), names) {
        return lay(Path::new(into), names);
    }
    let izba = fs::canonicalize(izba).map_err(|e| format!("{izba}: {e}"))?;
    let wanted = |input: &Input| names.is_empty() || names.iter().any(|n| input.name.contains(n));
    let (mut over, mut count) = (Vec::new(), 0);
    for input in all().iter().filter(|i| wanted(i)) {
        let folder = tempfile::tempdir().map_err(|e| e.to_string())?;
        lay_out(folder.path(), input).map_err(|e| e.to_string())?;
        let bytes: usize =
            input.files.iter().map(|(_, text)| text.len()).sum::<usize>() + input.log.len();
        assert!(bytes <= 1_000_000, "{}: {bytes} bytes are too many", input.name);
        let mut row = format!("{:28} {bytes:7} bytes", input.name);
        let mut within = true;
        for (what, words) in ASKED {
            let took = time(&izba, words, folder.path());
            within &= took.within();
            row += &format!("  {what} {}", took.told());
        }
        say(&row);
        count += 1;
        if !within {
            over.push(input.name.clone());
        }
    }
    if over.is_empty() {
        say(&format!("{count} inputs, none takes over {} s or {AIM_MB} MB", AIM.as_secs()));
        return Ok(());
    }
    Err(format!("{} of {count} are over the aims: {}", over.len(), over.join(", ")))
}

/// Lays inputs out below a folder, each in one of its name, to be looked at.
fn lay(into: &Path, names: &[String]) -> Outcome {
    for input in all().iter().filter(|i| names.iter().any(|n| i.name.contains(n))) {
        let folder = into.join(input.name.replace([' ', ':'], "-"));
        fs::create_dir_all(&folder).map_err(|e| e.to_string())?;
        lay_out(&folder, input).map_err(|e| e.to_string())?;
    }
    Ok(())
}

/// Writes an input into a folder, in which Izba finds its project and its log.
fn lay_out(folder: &Path, input: &Input) -> std::io::Result<()> {
    fs::write(folder.join("izba.toml"), "")?;
    for (name, text) in &input.files {
        let path = folder.join(name);
        if let Some(home) = path.parent() {
            fs::create_dir_all(home)?;
        }
        fs::write(path, text)?;
    }
    fs::write(folder.join("log.txt"), &input.log)
}

/// Runs a command to its end, or until it is given up.
fn time(izba: &Path, words: &[&str], folder: &Path) -> Took {
    let began = Instant::now();
    let started = Command::new(izba)
        .args(words)
        .args(["--store", "../no-store-is-made"])
        .current_dir(folder)
        .stdin(Stdio::null())
        .stdout(Stdio::null())
        .stderr(Stdio::null())
        .spawn();
    let mut took = Took { time: Duration::ZERO, mb: 0, badly: None };
    let mut child = match started {
        Ok(child) => child,
        Err(e) => {
            took.badly = Some(e.to_string());
            return took;
        }
    };
    loop {
        took.mb = took.mb.max(peak_mb(child.id()));
        let ended = child.try_wait().ok().flatten();
        took.time = began.elapsed();
        if let Some(status) = ended {
            if !matches!(status.code(), Some(0..=2)) {
                took.badly = Some(status.to_string());
            }
            return took;
        }
        if took.time > GIVEN_UP || took.mb > GIVEN_UP_MB {
            took.badly = Some("given up".into());
            // It may have ended meanwhile.
            let _ = child.kill();
            let _ = child.wait();
            return took;
        }
        std::thread::sleep(Duration::from_millis(2));
    }
}

/// The most memory that a process has held so far, as the kernel tells it.
fn peak_mb(pid: u32) -> u64 {
    let status = fs::read_to_string(format!("/proc/{pid}/status")).unwrap_or_default();
    let line = status.lines().find_map(|l| l.strip_prefix("VmHWM:"));
    let kb = line.and_then(|l| l.split_whitespace().next()?.parse::<u64>().ok());
    kb.unwrap_or(0) / 1024
}
