//! What an Izba that was killed outright left running: a program of a program, which no hang-up
//! reached. It carries the mark of the Izba that started it; once that is gone, the next one ends it.

use nix::sys::signal::{Signal, kill};
use nix::unistd::Pid;
use std::io::ErrorKind;
use std::path::Path;
use std::sync::Once;
use std::time::Duration;

/// The variable by which whatever a started program leaves behind is found.
pub(crate) const MARK: &str = "IZBA_RUN";

/// How long it has to end by itself.
const GRACE: Duration = Duration::from_millis(1500);

/// Ends what other Izbas that are gone have left, once in a process, aside.
pub(crate) fn end_once() {
    static BEGUN: Once = Once::new();
    BEGUN.call_once(|| {
        // Without a thread it stays as it is, which harms nobody today.
        let _ = std::thread::Builder::new().name("left behind".into()).spawn(end_all);
    });
}

/// Asks all of them to end, and ends those that do not.
fn end_all() {
    let left = || {
        // An Izba that was started within another carries the mark of that one itself.
        let mut found = marked(|mark| !is_there(mark));
        found.retain(|pid| *pid != Pid::this());
        found
    };
    let found = left();
    if found.is_empty() {
        return;
    }
    for pid in found {
        let _ = kill(pid, Signal::SIGTERM);
    }
    std::thread::sleep(GRACE);
    // Looked for anew: a number may belong to another by now.
    for pid in left() {
        let _ = kill(pid, Signal::SIGKILL);
    }
}

/// Processes with a mark that fits, as far as one may look into them.
pub(crate) fn marked(fits: impl Fn(&str) -> bool) -> Vec<Pid> {
    let Ok(entries) = std::fs::read_dir("/proc") else { return Vec::new() };
    let pids = entries.flatten().filter_map(|e| e.file_name().to_str()?.parse::<i32>().ok());
    pids.filter(|pid| environment(*pid).is_some_and(|all| mark_in(&all).is_some_and(&fits)))
        .map(Pid::from_raw)
        .collect()
}

/// What stands in a process's environment, if one may look.
///
/// Between taking a new program and filling its memory a process has none for a moment: whoever
/// started it goes on before that, and would miss it.
fn environment(pid: i32) -> Option<Vec<u8>> {
    const LOOKS: usize = 20;
    let folder = Path::new("/proc").join(pid.to_string());
    for _ in 0..LOOKS {
        let all = std::fs::read(folder.join("environ")).ok()?;
        // What has no program has no environment either: the system's own threads, and the dead.
        if !all.is_empty() || std::fs::read_link(folder.join("exe")).is_err() {
            return Some(all);
        }
        std::thread::sleep(Duration::from_millis(1));
    }
    None
}

/// The mark in an environment as the system tells it: variables with a zero after each.
fn mark_in(environment: &[u8]) -> Option<&str> {
    let mut all = environment.split(|b| *b == 0).filter_map(|v| std::str::from_utf8(v).ok());
    all.find_map(|v| v.strip_prefix(MARK)?.strip_prefix('='))
}

/// Whether the Izba of a mark is still there: its number is the mark's beginning. Where the number
/// belongs to another process by now, what it left is left alone.
fn is_there(mark: &str) -> bool {
    let number = mark.split('-').next().and_then(|n| n.parse::<u32>().ok());
    // Of one that ended and that nobody has asked about there is still an entry, without a program.
    let program = |n: u32| std::fs::read_link(Path::new("/proc").join(n.to_string()).join("exe"));
    number.is_none_or(|n| !program(n).is_err_and(|e| e.kind() == ErrorKind::NotFound))
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::process::{Child, Command};
    use std::time::Instant;

    fn sleeper(mark: &str) -> Child {
        let mut command = Command::new("sleep");
        command.arg("600").env(MARK, mark).spawn().expect("sleep is there")
    }

    #[test]
    fn what_a_killed_izba_left_is_ended_and_what_a_living_one_runs_is_not() {
        // It ended, and nobody asks about it before the end of this.
        let mut short = Command::new("true").spawn().expect("true is there");
        let gone = short.id();
        let begun = Instant::now();
        while is_there(&gone.to_string()) && begun.elapsed() < Duration::from_secs(20) {
            std::thread::sleep(Duration::from_millis(10));
        }
        let mut left = sleeper(&format!("{gone}-1700000000000-0"));
        let mut ours = sleeper(&format!("{}-1700000000000-0", std::process::id()));
        let mut strange = sleeper("no number");
        end_all();
        let begun = Instant::now();
        while matches!(left.try_wait(), Ok(None)) && begun.elapsed() < Duration::from_secs(20) {
            std::thread::sleep(Duration::from_millis(10));
        }
        assert!(left.try_wait().expect("it can be asked").is_some());
        short.wait().expect("it ended");
        for running in [&mut ours, &mut strange] {
            assert!(running.try_wait().expect("it can be asked").is_none());
            running.kill().expect("it can be ended");
            running.wait().expect("it ends");
        }
    }

    #[test]
    fn what_was_started_a_moment_ago_is_seen() {
        let missed = (0..200).filter(|n| {
            let mark = format!("{n}-seen-at-once");
            let mut sleeper = sleeper(&mark);
            let seen = environment(sleeper.id() as i32);
            sleeper.kill().expect("it can be ended");
            sleeper.wait().expect("it ends");
            seen.is_none_or(|all| mark_in(&all) != Some(&mark))
        });
        assert_eq!(missed.count(), 0);
    }

    #[test]
    fn a_mark_is_read_by_its_whole_name() {
        assert_eq!(mark_in(b"HOME=/x\0IZBA_RUN=7-8-9\0"), Some("7-8-9"));
        assert_eq!(mark_in(b"IZBA_RUNNER=7-8-9\0XIZBA_RUN=1\0\xff=2"), None);
        assert!(is_there(&format!("{}-1-2", std::process::id())) && is_there("x"));
    }
}
