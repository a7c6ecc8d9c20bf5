//! The ledger of many runs: how soon it is open, how large it is, and what a kill costs.

use super::log;
use super::report::Report;
use super::terminal::{Terminal, now_ms};
use std::fs::{self, File};
use std::io::BufWriter;
use std::path::{Path, PathBuf};
use std::process::{Command, Stdio};
use std::time::{Duration, Instant};

/// Runs of the ledger, and bytes of each: a hundred thousand lines.
const RUNS: u64 = 200;
const RUN_BYTES: u64 = 11_900_000;
/// Times that Izba is killed.
const KILLS: u64 = 100;
const BOUND: Duration = Duration::from_secs(120);

fn izba() -> PathBuf {
    crate::root().join("target/dist/izba")
}

fn failed(doing: &'static str) -> impl Fn(std::io::Error) -> String {
    move |e| format!("{doing}: {e}")
}

pub fn run(folder: &Path, report: &mut Report) -> Result<(), String> {
    let (project, store, izba) = (folder.join("ferry"), folder.join("store"), izba());
    fs::create_dir_all(project.join("scripts")).map_err(failed("make a folder"))?;
    fs::write(project.join("izba.toml"), "").map_err(failed("write"))?;
    let (mut lines, mut raw, mut packed) = (0, 0, 0);
    let begun = Instant::now();
    for night in 0..RUNS {
        let file = project.join("night.log");
        let mut out = BufWriter::new(File::create(&file).map_err(failed("write a log"))?);
        let written =
            log::write_night(&mut out, RUN_BYTES, night).map_err(failed("write a log"))?;
        drop(out);
        lines += written.lines;
        raw += written.bytes;
        let bytes = fs::read(&file).map_err(failed("read"))?;
        packed += zstd::bulk::compress(&bytes, 3).map_err(failed("compress"))?.len() as u64;
        if night % 5 == 0 {
            fs::write(project.join("scripts/lantern.lua"), format!("-- as of night {night}\n"))
                .map_err(failed("write"))?;
        }
        let done = Command::new(&izba)
            .args([
                "--store".as_ref(),
                store.as_os_str(),
                "run".as_ref(),
                "--pipes".as_ref(),
                "--".as_ref(),
                "cat".as_ref(),
                "night.log".as_ref(),
            ])
            .current_dir(&project)
            .env("HOME", folder)
            .stdin(Stdio::null())
            .stdout(Stdio::null())
            .stderr(Stdio::null())
            .status();
        done.map_err(failed("start izba"))?;
    }
    let made = begun.elapsed();
    fs::write(project.join("night.log"), "a quiet night\n").map_err(failed("write"))?;
    // The newest runs are made small by the next start; it is waited for.
    let sealed = Instant::now();
    let plain = || {
        fs::read_dir(&store)
            .into_iter()
            .flatten()
            .flatten()
            .flat_map(|d| fs::read_dir(d.path()).into_iter().flatten().flatten())
            .filter(|f| f.path().extension().is_some_and(|e| e == "seg"))
            .count()
    };
    while plain() > 1 && sealed.elapsed() < BOUND {
        let _ = Command::new(&izba)
            .arg("--store")
            .arg(&store)
            .args(["run", "--pipes", "--", "sleep", "1"])
            .current_dir(&project)
            .env("HOME", folder)
            .stdout(Stdio::null())
            .stderr(Stdio::null())
            .stdin(Stdio::null())
            .status();
    }
    let mut open = Vec::new();
    let mut room = Vec::new();
    let mut listed = Vec::new();
    for _ in 0..5 {
        let begun = Instant::now();
        let list = Command::new("ls").arg("-lR").arg(&store).stdout(Stdio::null()).status();
        list.map_err(failed("start ls"))?;
        listed.push(begun.elapsed().as_secs_f64() * 1000.0);
        let (program, place) =
            (izba.to_string_lossy().into_owned(), store.to_string_lossy().into_owned());
        let begun = Instant::now();
        let mut terminal = Terminal::start(
            &project,
            &[&program, "--store", &place, "run", "--pipes", "--", "cat", "night.log"],
            |_| {},
        )?;
        terminal.wait("the project", BOUND, |t| t.contains("What") && t.contains("quiet"))?;
        open.push(begun.elapsed().as_secs_f64() * 1000.0);
        terminal.keys("3");
        let shown = terminal.wait("room Runs", BOUND, |t| {
            t.contains("ran for") && t.contains(" runs ") && t.contains("quiet")
        })?;
        room.push(shown.as_secs_f64() * 1000.0);
        terminal.end();
    }
    let median = |list: &mut Vec<f64>| {
        list.sort_by(f64::total_cmp);
        list[list.len() / 2]
    };
    let size = |path: &Path| -> u64 {
        fn walk(path: &Path) -> u64 {
            fs::read_dir(path).map_or(0, |d| {
                d.flatten()
                    .map(|e| {
                        if e.path().is_dir() {
                            walk(&e.path())
                        } else {
                            e.metadata().map_or(0, |m| m.len())
                        }
                    })
                    .sum()
            })
        }
        walk(path)
    };
    let whole = size(&store);
    report.row(
        &format!("a ledger of {RUNS} runs with {} lines, made in", super::report::thousands(lines)),
        &format!("{:.0} s", made.as_secs_f64()),
    );
    report.row(
        "opening the project with it; then room Runs (aim 500 ms); `ls -lR` of the store",
        &format!(
            "{:.0} ms; {:.0} ms; {:.0} ms",
            median(&mut open),
            median(&mut room),
            median(&mut listed)
        ),
    );
    report.row(
        "its size on disk, all told, against the same text by zstd -3",
        &format!(
            "{:.0} MB, {:.0} MB: {:.2} (the text itself: {:.0} MB)",
            whole as f64 / 1e6,
            packed as f64 / 1e6,
            whole as f64 / packed as f64,
            raw as f64 / 1e6
        ),
    );
    Ok(())
}

/// Izba is killed while 20,000 lines a second arrive, again and again.
pub fn kill(folder: &Path, report: &mut Report) -> Result<(), String> {
    let izba = izba();
    let (mut worst, mut lines, mut wrong) = (0u64, 0u64, 0u64);
    for round in 0..KILLS {
        let store = folder.join(format!("store-{round}"));
        let mut child = Command::new(&izba)
            .arg("--store")
            .arg(&store)
            .args(["run", "--pipes", "--"])
            .arg(&izba)
            .args([
                "stand-in",
                "rude",
                "--lines",
                "20000",
                "--errors",
                "60",
                "--seconds",
                "60",
                "--stamps",
            ])
            .current_dir(folder)
            .env("HOME", folder)
            .stdin(Stdio::null())
            .stdout(Stdio::null())
            .stderr(Stdio::null())
            .spawn()
            .map_err(failed("start izba"))?;
        let segment = || {
            let sessions = fs::read_dir(&store).into_iter().flatten().flatten();
            sessions
                .flat_map(|s| fs::read_dir(s.path()).into_iter().flatten().flatten())
                .map(|e| e.path())
                .find(|p| p.extension().is_some_and(|e| e == "seg"))
        };
        let begun = Instant::now();
        let enough = 50_000 + round * 21_337 % 1_500_000;
        while segment().and_then(|s| s.metadata().ok()).is_none_or(|m| m.len() < enough) {
            if begun.elapsed() > BOUND {
                return Err("nothing was written".into());
            }
            std::thread::sleep(Duration::from_millis(1));
        }
        child.kill().map_err(failed("kill izba"))?;
        let killed = now_ms();
        let _ = child.wait();
        let bytes = fs::read(segment().ok_or("it is gone")?).map_err(failed("read"))?;
        // Heads of records stand between the lines: only whole lines with their numbers count.
        let text = String::from_utf8_lossy(&bytes);
        let (mut next, mut newest) = (1u64, 0u64);
        for found in text.split("nothing to tell, line ").skip(1) {
            let (number, rest) = found.split_once(" at ").unwrap_or((found, ""));
            let stamp: String = rest.chars().take_while(char::is_ascii_digit).collect();
            let (Ok(number), Ok(stamp), 13) =
                (number.parse::<u64>(), stamp.parse::<u64>(), stamp.len())
            else {
                continue;
            };
            // A line that two records share may hide one number behind a head; never two.
            wrong += u64::from(number < next || number > next + 1);
            next = number + 1;
            newest = stamp;
        }
        lines += next;
        worst = worst.max(killed.saturating_sub(newest));
    }
    report.row(
        &format!(
            "killed outright {KILLS} times while 20,000 lines a second arrive: lines out \
                of order or missing; the most that was lost (aim 200 ms)"
        ),
        &format!("{wrong} of {}; {worst} ms", super::report::thousands(lines)),
    );
    Ok(())
}
