//! Reading a large log: `izba read` beside `grep` and beside a pipe of `sed`, `sort` and `uniq`, in
//! turn.

use super::report::{Report, median};
use super::{log, terminal};
use crate::{root, say};
use std::fs::File;
use std::path::Path;
use std::process::{Command, Stdio};
use std::time::{Duration, Instant};

/// Bytes of the log.
const SIZE: u64 = 1 << 30;
/// Runs of each; the median counts.
const RUNS: usize = 5;

/// One command's wall time, processor time and largest memory in MB.
fn timed(words: &[&str], out: &Path) -> Result<(f64, f64), String> {
    let out = File::create(out).map_err(|e| e.to_string())?;
    let begun = Instant::now();
    let mut child = Command::new(words[0])
        .args(&words[1..])
        .env("LC_ALL", "C")
        .stdout(out)
        .stderr(Stdio::null())
        .spawn()
        .map_err(|e| format!("{}: {e}", words[0]))?;
    let mut memory = 0.0f64;
    loop {
        if child.try_wait().map_err(|e| e.to_string())?.is_some() {
            return Ok((begun.elapsed().as_secs_f64(), memory));
        }
        memory = memory.max(terminal::memory(child.id(), "VmHWM"));
        std::thread::sleep(Duration::from_millis(2));
    }
}

/// Makes the log, unless it is there.
pub fn large_log(folder: &Path) -> Result<std::path::PathBuf, String> {
    let path = folder.join("night.log");
    let free = Command::new("df")
        .args(["-k", "--output=avail"])
        .arg(folder)
        .output()
        .map_err(|e| format!("df: {e}"))?;
    let free = String::from_utf8_lossy(&free.stdout)
        .lines()
        .nth(1)
        .and_then(|n| n.trim().parse::<u64>().ok())
        .unwrap_or(0)
        * 1024;
    if free < 4 * SIZE {
        return Err(format!(
            "this needs {} GB of free disk at {}; there are {:.1}",
            4 * SIZE / 1_000_000_000,
            folder.display(),
            free as f64 / 1e9
        ));
    }
    let mut file = File::create(&path).map_err(|e| e.to_string())?;
    let written = log::write(&mut file, SIZE).map_err(|e| e.to_string())?;
    say(&format!(
        "a log of {} lines, {} errors with traces of {} kinds, {} bytes",
        written.lines,
        written.errors,
        log::MISTAKES,
        written.bytes
    ));
    Ok(path)
}

pub fn run(folder: &Path, report: &mut Report) -> Result<(), String> {
    let path = large_log(folder)?;
    let file = path.to_string_lossy().into_owned();
    let izba = root().join("target/dist/izba").to_string_lossy().into_owned();
    let answer = folder.join("answer");
    let grep = ["grep", "-c", "-a", "-i", "-E", "error|exception|warn", &file];
    let (mut ours, mut theirs, mut memory) = (Vec::new(), Vec::new(), 0.0f64);
    for _ in 0..RUNS {
        theirs.push(timed(&grep, &answer)?.0);
        let (seconds, most) = timed(
            &[&izba, "read", "--as", "jsonl", "--project", &folder.to_string_lossy(), &file],
            &answer,
        )?;
        ours.push(seconds);
        memory = memory.max(most);
    }
    let groups = std::fs::read_to_string(&answer).map_or(0, |t| t.lines().count());
    let tenth = folder.join("tenth.log");
    let mut head = File::open(&path).map_err(|e| e.to_string())?;
    std::io::copy(
        &mut std::io::Read::take(&mut head, SIZE / 10),
        &mut File::create(&tenth).map_err(|e| e.to_string())?,
    )
    .map_err(|e| e.to_string())?;
    let pipe = format!("sed -E 's/[0-9]+/N/g' '{}' | sort | uniq -c | sort -rn", tenth.display());
    let by_pipe = timed(&["sh", "-c", &pipe], &answer)?.0;
    let (ours, theirs) = (median(&mut ours), median(&mut theirs));
    let ratio = ours / theirs;
    report.row(
        "read, group and rank 1 GiB (9.5 million lines, five layouts, 300 groups)",
        &format!("{ours:.2} s"),
    );
    report.row("groups found", &groups.to_string());
    report.row("`grep -c -a -i -E 'error|exception|warn'` over it", &format!("{theirs:.2} s"));
    report.row("ratio to grep (aim 2)", &format!("{ratio:.2}"));
    report.row(
        "`sed | sort | uniq -c | sort -rn` over a tenth of it",
        &format!(
            "{by_pipe:.1} s, {:.0} times as long as izba takes for as much",
            by_pipe * 10.0 / ours
        ),
    );
    report.row("largest memory (aim 200 MB)", &format!("{memory:.0} MB"));
    Ok(())
}
