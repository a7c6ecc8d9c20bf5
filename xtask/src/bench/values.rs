//! Values: ten million of them under five hundred names, printed by a program that is watched; how
//! long until the first chart stands after the room is opened, until all are read, and the memory.
//! Beside it, what it takes to find the same numbers in the same text.

use super::report::Report;
use super::terminal::{Terminal, memory};
use crate::root;
use std::fmt::Write as _;
use std::io::Write;
use std::path::Path;
use std::time::{Duration, Instant};

/// Values of one line, kinds of lines, and lines.
const BESIDE: usize = 20;
const KINDS: usize = 25;
const LINES: usize = 500_000;
const BOUND: Duration = Duration::from_secs(600);

pub fn run(folder: &Path, report: &mut Report) -> Result<(), String> {
    let failed = |e: std::io::Error| e.to_string();
    let path = folder.join("values.log");
    let mut out = std::io::BufWriter::new(std::fs::File::create(&path).map_err(failed)?);
    let mut line = String::new();
    for n in 0..LINES {
        line.clear();
        for value in 0..BESIDE {
            let _ = write!(
                line,
                "v{}={:.3} ",
                n % KINDS * BESIDE + value,
                ((n * 7 + value * 31) % 10_000) as f64 / 1000.0
            );
        }
        writeln!(out, "{}", line.trim_end()).map_err(failed)?;
    }
    out.flush().map_err(failed)?;
    let text = std::fs::read_to_string(&path).map_err(failed)?;
    let begun = Instant::now();
    let (mut sum, mut count) = (0.0, 0u64);
    for word in text.split_whitespace() {
        if let Some(value) = word.split_once('=').and_then(|(_, v)| v.parse::<f64>().ok()) {
            (sum, count) = (sum + value, count + 1);
        }
    }
    let plain = begun.elapsed().as_secs_f64();
    drop(text);
    let izba = root().join("target/dist/izba").to_string_lossy().into_owned();
    let mut terminal = Terminal::start(folder, &[&izba, "run", "--", "cat", "values.log"], |_| {})?;
    terminal.wait("the end of the program", BOUND, |t| t.contains("ended well"))?;
    let lines = format!("{} {:03} lines", LINES / 1000, LINES % 1000);
    terminal.keys("2");
    terminal.wait("all lines", BOUND, |t| t.contains(&lines) || t.contains("v499="))?;
    let before = memory(terminal.pid(), "VmRSS");
    terminal.keys("4");
    let first =
        terminal.wait("the first chart", BOUND, |t| t.contains("least ") && t.contains("┈"))?;
    let all = terminal
        .wait("all values", BOUND, |t| t.contains("500 values") && !t.contains("still to read"))?;
    let after = memory(terminal.pid(), "VmRSS");
    terminal.end();
    report.row(
        &format!(
            "{count} values of {} names: from the key to the first chart, and until all are read",
            KINDS * BESIDE
        ),
        &format!(
            "{:.2} s, {:.1} s; splitting the same text and reading its numbers (sum \
                {sum:.0}) takes {plain:.2} s: {:.1} times that",
            first.as_secs_f64(),
            (first + all).as_secs_f64(),
            (first + all).as_secs_f64() / plain
        ),
    );
    report.row("memory before and after", &format!("{before:.0} MB, {after:.0} MB"));
    Ok(())
}
