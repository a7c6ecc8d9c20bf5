//! Live: a program that writes 200,000 lines a second for a minute; five quiet sources; ten million
//! lines in one session.

use super::report::{Report, median, percentile};
use super::terminal::{Terminal, cpu, memory, now_ms};
use crate::{root, say};
use std::path::Path;
use std::process::Command;
use std::sync::Arc;
use std::sync::atomic::{AtomicU64, Ordering};
use std::time::{Duration, Instant};

const SECONDS: u64 = 60;
const BOUND: Duration = Duration::from_secs(120);
/// Keys measured.
const KEYS: usize = 40;

pub fn izba() -> String {
    root().join("target/dist/izba").to_string_lossy().into_owned()
}

/// The newest stamp on a screen.
fn stamp(text: &str) -> Option<u64> {
    text.match_indices(" at 1").filter_map(|(at, _)| text[at + 4..].get(..13)?.parse().ok()).max()
}

/// Both streams of numbers in words: median and 99th percentile against their aims.
fn row(report: &mut Report, what: &str, delays: &mut [f64], aims: (u32, u32)) {
    let words = format!(
        "{:.0} ms and {:.0} ms of {}",
        median(delays),
        percentile(delays, 99),
        delays.len()
    );
    report.row(
        &format!("{what}: median and 99th percentile (aims {} and {} ms)", aims.0, aims.1),
        &words,
    );
}

pub fn flood(folder: &Path, report: &mut Report) -> Result<(), String> {
    let izba = izba();
    let writer = |told: &str| {
        format!(
            "{izba} stand-in rude --lines 200000 --errors 5 --stamps --seconds {SECONDS} \
                --told {told}"
        )
    };
    say("the writer into cat >file");
    let begun = Instant::now();
    let status = Command::new("sh")
        .args(["-c", &format!("{} | cat > plain.log", writer("/dev/null"))])
        .current_dir(folder)
        .status();
    status.map_err(|e| e.to_string())?;
    let plain = begun.elapsed().as_secs_f64();
    say("the writer under izba");
    std::fs::create_dir_all(folder.join("scripts")).map_err(|e| e.to_string())?;
    std::fs::write(folder.join("scripts/lantern.lua"), "-- a lantern\n".repeat(40))
        .map_err(|e| e.to_string())?;
    let newest = Arc::new(AtomicU64::new(0));
    let shown = newest.clone();
    let seen = move |screen: &vt100::Screen| {
        if let Some(stamp) = stamp(&screen.contents()) {
            shown.fetch_max(stamp, Ordering::AcqRel);
        }
    };
    let told = folder.join("told");
    let line = writer(&told.to_string_lossy());
    let words: Vec<&str> =
        [izba.as_str(), "run", "--"].into_iter().chain(line.split(' ')).collect();
    let begun = Instant::now();
    let mut terminal = Terminal::start(folder, &words, seen)?;
    terminal.wait("the first error", BOUND, |t| t.contains("wick has no value"))?;
    // Room Lines for a third of the time: what is written is seen there.
    terminal.keys("2");
    terminal.wait("room Lines", BOUND, |t| t.contains("with what arrives"))?;
    let mut lags = Vec::new();
    let lines = Instant::now();
    std::thread::sleep(Duration::from_secs(1));
    while lines.elapsed() < Duration::from_secs(SECONDS / 3) {
        std::thread::sleep(Duration::from_millis(5));
        lags.push(now_ms().saturating_sub(newest.load(Ordering::Acquire)) as f64);
    }
    let mut keys = Vec::new();
    for _ in 0..KEYS {
        terminal.keys("?");
        keys.push(
            terminal.wait("help", BOUND, |t| t.contains("Esc closes"))?.as_secs_f64() * 1000.0,
        );
        terminal.keys("\x1b");
        terminal.wait("help to close", BOUND, |t| !t.contains("Esc closes"))?;
        std::thread::sleep(Duration::from_millis(100));
    }
    terminal.keys("1");
    let count = |text: &str| {
        text.lines()
            .find(|l| l.contains("wick has no value") && l.contains('◆'))
            .and_then(|l| l.split_whitespace().next()?.replace(',', "").parse::<u64>().ok())
    };
    terminal.wait("the list", BOUND, |t| count(t).is_some())?;
    let mut counts = Vec::new();
    let mut last = count(&terminal.text()).unwrap_or(0);
    while counts.len() < 60 && begun.elapsed() < Duration::from_secs(SECONDS - 3) {
        terminal.wait("the next count", BOUND, |t| count(t).is_some_and(|n| n > last))?;
        let at = now_ms();
        last = count(&terminal.text()).unwrap_or(last);
        let moments = std::fs::read_to_string(&told).unwrap_or_default();
        let moment = moments.lines().find_map(|l| {
            l.strip_prefix(&format!("{last} at ")).and_then(|m| m.parse::<u64>().ok())
        });
        counts.extend(moment.map(|m| at.saturating_sub(m) as f64));
    }
    terminal.wait("its end", BOUND, |t| t.contains("ended"))?;
    let most = memory(terminal.pid(), "VmHWM");
    terminal.keys("2");
    terminal.wait("its last words", BOUND, |t| t.contains("wrote for"))?;
    let watched = terminal
        .text()
        .rsplit(" s of ")
        .next()
        .and_then(|t| t.split(' ').next()?.parse::<f64>().ok())
        .ok_or("the writer's last words cannot be read")?;
    terminal.end();
    report.row(
        &format!(
            "a program that writes 200,000 lines a second for {SECONDS} s: its wall time into \
            `cat >file`, and under izba"
        ),
        &format!("{plain:.2} s, {watched:.2} s"),
    );
    report.row("ratio (aim 1.1)", &format!("{:.3}", watched / plain));
    row(report, "a line written, to the terminal", &mut lags, (50, 150));
    row(report, "a key, to its effect, under that load", &mut keys, (50, 100));
    row(report, "an error, to its group's count", &mut counts, (50, 100));
    report.row("largest memory under that load", &format!("{most:.0} MB"));
    Ok(())
}

pub fn idle(folder: &Path, report: &mut Report) -> Result<(), String> {
    let mut named = String::new();
    for number in 1..=5 {
        std::fs::write(folder.join(format!("quiet-{number}.log")), "all is well\n")
            .map_err(|e| e.to_string())?;
        named += &format!("[[source]]\nfollow = \"quiet-{number}.log\"\n");
    }
    std::fs::write(folder.join("izba.toml"), named).map_err(|e| e.to_string())?;
    let izba = izba();
    let terminal = Terminal::start(folder, &[&izba], |_| {})?;
    terminal.wait("five sources", BOUND, |t| t.contains("watching 5 of 5 sources"))?;
    std::thread::sleep(Duration::from_secs(3));
    let (before, begun) = (cpu(terminal.pid()), Instant::now());
    std::thread::sleep(Duration::from_secs(20));
    let used = (cpu(terminal.pid()) - before) / begun.elapsed().as_secs_f64();
    terminal.end();
    let _ = std::fs::remove_file(folder.join("izba.toml"));
    report.row("five quiet sources, share of a core (aim 1 %)", &format!("{:.1} %", used * 100.0));
    Ok(())
}

pub fn session(folder: &Path, report: &mut Report) -> Result<(), String> {
    let path = super::read::large_log(folder)?;
    let izba = izba();
    let mut terminal =
        Terminal::start(folder, &[&izba, "follow", &path.to_string_lossy()], |_| {})?;
    terminal.keys("2");
    let begun = Instant::now();
    // Numbers are divided by spaces of some width.
    let close = |text: &str| text.chars().filter(|c| !c.is_whitespace()).collect::<String>();
    let lines = |text: &str| {
        let row = text.lines().map(close).find(|l| l.contains("lines,withwhatarrives"))?;
        row.split("lines,with").next()?.rsplit('─').next()?.parse::<u64>().ok()
    };
    let mut had = 0;
    let mut still = Instant::now();
    loop {
        std::thread::sleep(Duration::from_millis(50));
        let now = lines(&terminal.text()).unwrap_or(0);
        if now != had {
            (had, still) = (now, Instant::now());
        } else if had > 1_000_000 && still.elapsed() > Duration::from_secs(2) {
            break;
        } else if begun.elapsed() > BOUND {
            return Err(format!("the log was not read:\n{}", terminal.text()));
        }
    }
    let read = begun.elapsed() - still.elapsed();
    let go = |terminal: &mut Terminal, row: u64| -> Result<f64, String> {
        terminal.keys("#");
        terminal.wait("the sheet", BOUND, |t| t.contains("Go to line"))?;
        terminal.keys(&row.to_string());
        let shown = row.to_string();
        terminal.wait("the number", BOUND, |t| t.contains(&shown))?;
        terminal.keys("\r");
        let there = format!("line{shown}of");
        // The line stands there once its row of text is not empty.
        let taken = terminal.wait("the line", BOUND, |t| {
            close(t).contains(&there) && t.lines().filter(|l| l.trim().len() > 40).count() > 30
        })?;
        Ok(taken.as_secs_f64() * 1000.0)
    };
    let far = go(&mut terminal, 9_000_000.min(had - 100))?;
    let middle = go(&mut terminal, 4_321_000.min(had / 2))?;
    terminal.keys("\x1b[F");
    let back = terminal.wait("the tail", BOUND, |t| t.contains("with what arrives"))?.as_secs_f64()
        * 1000.0;
    // The filter: a screenful of lines that fit, then all of them counted.
    terminal.keys("/fog thins\r");
    let first = terminal
        .wait("the first that fit", BOUND, |t| {
            t.lines().filter(|l| l.contains("fog thins")).count() > 20
        })?
        .as_secs_f64()
        * 1000.0;
    let all = terminal.wait("all counted", BOUND, |t| t.contains(" hidden"))?.as_secs_f64();
    let fit =
        terminal.text().lines().find(|l| l.contains(" hidden")).map(close).unwrap_or_default();
    report.row(
        "lines of that session filtered by a text: a screenful; all counted",
        &format!(
            "{first:.0} ms; {:.1} s ({})",
            all + first / 1000.0,
            fit.split("Esc").next().unwrap_or("").trim_start_matches("Filterfogthins")
        ),
    );
    terminal.keys("\x1b");
    let (now, most) = (memory(terminal.pid(), "VmRSS"), memory(terminal.pid(), "VmHWM"));
    terminal.end();
    report.row(
        &format!(
            "one session with {} lines of 1 GiB: copied, read and grouped in",
            super::report::thousands(had)
        ),
        &format!("{:.1} s", read.as_secs_f64()),
    );
    report.row(
        "to line 9,000,000; to one in the middle; back to the newest",
        &format!("{far:.0} ms; {middle:.0} ms; {back:.0} ms"),
    );
    report.row("memory then, and the most", &format!("{now:.0} MB, {most:.0} MB"));
    Ok(())
}
