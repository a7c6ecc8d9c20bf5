//! The package in a root that has never seen it: debootstrap makes one, apt installs the package
//! with what it depends on, the demo comes up in a terminal, and after removing it no file is left
//! that was not there before. It needs root, since a root of one's own does.

use super::staged::each_file;
use super::tools::output;
use crate::bench::Terminal;
use crate::{Outcome, say};
use std::collections::BTreeSet;
use std::path::Path;
use std::process::{Command, Stdio};
use std::time::Duration;

/// Where dpkg and apt write down what they did, for any package.
const THEIR_BOOKS: [&str; 4] = ["var/lib/dpkg", "var/log", "var/cache", "var/lib/apt"];

/// Installs, tries and removes the package in a fresh root.
pub fn run(deb: &Path) -> Outcome {
    if output(Command::new("id").arg("-u"))?.trim() != "0" {
        return Err("a fresh root is made by root alone: sudo cargo xtask package --fresh".into());
    }
    crate::apt::for_fresh_root()?;
    let folder = tempfile::tempdir().map_err(|e| format!("no room: {e}"))?;
    let fresh = folder.path().join("root");
    say("making a fresh root (a few minutes)");
    crate::run(
        Command::new("debootstrap")
            .args(["--variant=minbase", "bookworm"])
            .arg(&fresh)
            .stdout(Stdio::null()),
        "debootstrap",
    )?;
    let name = deb.file_name().unwrap_or_default().to_string_lossy().into_owned();
    // Not in the root's /tmp: apt reads what it installs as a user of its own.
    std::fs::copy(deb, fresh.join("root").join(&name)).map_err(|e| e.to_string())?;
    let before = files(&fresh)?;
    let place = fresh.to_string_lossy().into_owned();
    let inside = |words: &[&str]| {
        let enter = entering(&place, words);
        let mut command = Command::new(enter[0]);
        command.args(&enter[1..]);
        command.env("DEBIAN_FRONTEND", "noninteractive").env("HOME", "/root");
        command.env("PATH", "/usr/sbin:/usr/bin:/sbin:/bin").stdin(Stdio::null());
        command
    };
    let apt = |words: &[&str]| {
        let mut words_of_apt = vec!["apt-get", "-qq", "-o", "Apt::Sandbox::User=root"];
        words_of_apt.extend(words);
        run_quietly(&mut inside(&words_of_apt))
    };
    apt(&["install", "-y", "--no-install-recommends", &format!("/root/{name}")])?;
    say(&format!("installed: {}", output(&mut inside(&["izba", "--version"]))?.trim()));
    demo(&fresh)?;
    apt(&["purge", "-y", "izba"])?;
    let left: Vec<String> = files(&fresh)?.difference(&before).cloned().collect();
    if left.is_empty() {
        say("removed: nothing is left of it");
        return Ok(());
    }
    Err(format!("after removing it these are left:\n  {}", left.join("\n  ")))
}

/// Enters a root as one enters a machine: with its processes and devices in their places, in a view
/// of the disk that ends with the command.
const ENTER: &str = "mount -t proc proc \"$0/proc\" && mount --rbind /dev \"$0/dev\" && exec chroot \
    \"$0\" \"$@\"";

/// What runs these words inside a root.
fn entering<'a>(fresh: &'a str, words: &[&'a str]) -> Vec<&'a str> {
    let mut enter = vec!["unshare", "--mount", "--", "sh", "-c", ENTER, fresh];
    enter.extend(words);
    enter
}

/// The demo in a terminal of the fresh root, until its first error stands on the screen.
fn demo(fresh: &Path) -> Outcome {
    let place = fresh.to_string_lossy().into_owned();
    let home = "mkdir -p /tmp/somebody && cd /tmp/somebody && HOME=/tmp/somebody exec izba demo";
    let terminal = Terminal::start(Path::new("/"), &entering(&place, &["sh", "-c", home]), |_| ())?;
    let up = terminal.wait("the demo", Duration::from_secs(60), |screen| {
        screen.contains("night-ferry") && screen.contains(".lua:")
    })?;
    say(&format!("izba demo is up after {:.1} s", up.as_secs_f64()));
    terminal.end();
    // What somebody watched is theirs, and stays when a package goes.
    std::fs::remove_dir_all(fresh.join("tmp/somebody")).map_err(|e| e.to_string())
}

/// Every file below a root, but for the books that dpkg and apt keep.
fn files(fresh: &Path) -> Result<BTreeSet<String>, String> {
    let mut all = BTreeSet::new();
    each_file(fresh, &mut |path| {
        let within = path.strip_prefix(fresh).unwrap_or(path);
        if !THEIR_BOOKS.iter().any(|book| within.starts_with(book)) {
            all.insert(within.to_string_lossy().into_owned());
        }
        Ok(())
    })?;
    Ok(all)
}

fn run_quietly(command: &mut Command) -> Outcome {
    output(command).map(|_| ())
}
