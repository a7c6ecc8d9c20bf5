//! A program that floods its console. `cargo xtask bench flood [SECONDS]`.
//!
//! A flood: 60 errors and 5,000 ordinary lines a second under `izba run` in a terminal, beside the
//! same writer into `cat >file`. Told: the writer's own time in both, Izba's memory at the start
//! and the end, and the time from a key to its effect on the screen.

use crate::{Outcome, cargo, root, say};
use std::path::{Path, PathBuf};
use std::process::Command;
use std::time::{Duration, Instant};

/// Keys measured.
const KEYS: usize = 40;

pub fn run(words: &[String]) -> Outcome {
    let seconds: u64 = words
        .first()
        .map_or(Ok(60), |w| w.parse().map_err(|_| format!("{w} is no number of seconds")))?;
    cargo(&["build", "--release", "--package", "izba-app"])?;
    let folder = tempfile::tempdir().map_err(|e| e.to_string())?;
    let at = folder.path();
    let izba = root().join("target/release/izba");
    let izba = izba.display();
    let writer = format!("{izba} stand-in rude --seconds {seconds}");
    say(&format!("the writer into cat >file, {seconds} s"));
    let plain = Command::new("sh")
        .args(["-c", &format!("{writer} | cat > plain.log")])
        .current_dir(at)
        .status();
    plain.map_err(|e| e.to_string())?;
    let plain = busy_of(&std::fs::read_to_string(at.join("plain.log")).unwrap_or_default())
        .ok_or("the writer said nothing")?;

    say(&format!("the writer under izba run, {seconds} s"));
    let socket = at.join("socket");
    let _ends = EndsServer(socket.clone());
    let tmux = |words: &[&str]| {
        let out = Command::new("tmux")
            .arg("-S")
            .arg(&socket)
            .args(["-f", "/dev/null"])
            .args(words)
            .output();
        out.map(|o| String::from_utf8_lossy(&o.stdout).into_owned()).unwrap_or_default()
    };
    let command = format!("cd '{}' && HOME='{0}' exec {izba} run -- {writer}", at.display());
    tmux(&["new-session", "-d", "-x", "142", "-y", "42", &command]);
    let wait = |text: &str| -> Result<Duration, String> {
        let begun = Instant::now();
        while !tmux(&["capture-pane", "-p"]).contains(text) {
            if begun.elapsed() > Duration::from_secs(seconds + 30) {
                return Err(format!(
                    "waited in vain for {text}\n{}",
                    tmux(&["capture-pane", "-p"])
                ));
            }
        }
        Ok(begun.elapsed())
    };
    wait("watching")?;
    let pid = tmux(&["display-message", "-p", "#{pane_pid}"]);
    std::thread::sleep(Duration::from_secs(2));
    let first = rss(pid.trim());
    let mut delays = Vec::new();
    for key in 0..KEYS {
        std::thread::sleep(Duration::from_millis(seconds * 800 / KEYS as u64 / 2));
        tmux(&["send-keys", "?"]);
        delays.push(wait("Esc closes")?);
        tmux(&["send-keys", "Escape"]);
        let begun = Instant::now();
        while tmux(&["capture-pane", "-p"]).contains("Esc closes")
            && begun.elapsed() < Duration::from_secs(5)
        {}
        let _ = key;
    }
    wait("ended well")?;
    let last = rss(pid.trim());
    tmux(&["send-keys", "2"]);
    wait("wrote for")?;
    let watched = busy_of(&tmux(&["capture-pane", "-p"]))
        .ok_or("the writer's last words are not on the screen")?;
    let look = {
        let begun = Instant::now();
        tmux(&["capture-pane", "-p"]);
        begun.elapsed()
    };
    delays.sort();
    let ms = |d: Duration| d.as_secs_f64() * 1000.0;
    say(&format!(
        "writing itself: {plain:.3} s into cat, {watched:.3} s under izba, ratio {:.2}",
        watched / plain
    ));
    say(&format!(
        "memory of izba: {:.1} MB after 2 s, {:.1} MB at the end",
        first / 1e6,
        last / 1e6
    ));
    say(&format!(
        "a key to its effect: median {:.0} ms, longest of {KEYS} {:.0} ms; one look at the \
            screen by tmux takes {:.0} ms of it",
        ms(delays[KEYS / 2]),
        ms(delays[KEYS - 1]),
        ms(look)
    ));
    Ok(())
}

/// Ends the terminal server however the benchmark goes.
struct EndsServer(PathBuf);

impl Drop for EndsServer {
    fn drop(&mut self) {
        let _ = Command::new("tmux").arg("-S").arg(&self.0).arg("kill-server").output();
    }
}

/// The seconds that the writer says it wrote for.
fn busy_of(text: &str) -> Option<f64> {
    text.rsplit("wrote for ")
        .next()
        .filter(|_| text.contains("wrote for "))?
        .split(' ')
        .next()?
        .parse()
        .ok()
}

/// Resident memory of a process in bytes.
fn rss(pid: &str) -> f64 {
    let status =
        std::fs::read_to_string(Path::new("/proc").join(pid).join("status")).unwrap_or_default();
    let kilobytes = status
        .lines()
        .find_map(|l| l.strip_prefix("VmRSS:"))
        .and_then(|v| v.split_whitespace().next())
        .and_then(|v| v.parse::<f64>().ok());
    kilobytes.unwrap_or(0.0) * 1024.0
}
