//! Benchmarks, each against something on the same machine in the same run: `cargo xtask bench`. The
//! results are written to docs/BENCHMARKS.md. One part alone: `cargo xtask bench
//! read|live|idle|session|suspects|pause|quiet|values|ledger|kill|class|flood`.

mod class;
mod flood;
mod ledger;
mod live;
mod log;
mod pause;
mod quiet;
mod read;
mod report;
mod suspects;
mod terminal;
mod values;

use crate::{Outcome, cargo, root, say};
use report::Report;
use std::fs::File;
pub use terminal::Terminal;

type Part = (&'static str, fn(&std::path::Path, &mut Report) -> Result<(), String>);

const PARTS: [Part; 11] = [
    ("read", read::run),
    ("live", live::flood),
    ("idle", live::idle),
    ("session", live::session),
    ("suspects", suspects::run),
    ("pause", pause::run),
    ("quiet", quiet::run),
    ("values", values::run),
    ("ledger", ledger::run),
    ("kill", ledger::kill),
    ("class", class::run),
];

pub fn run(words: &[String]) -> Outcome {
    match words.first().map(String::as_str) {
        Some("flood") => return flood::run(&words[1..]),
        Some("log") => {
            let [_, path, size] = words else {
                return Err("say where to, and how many MiB".into());
            };
            let size: u64 = size.parse().map_err(|_| format!("{size} is no number of MiB"))?;
            let mut file = File::create(path).map_err(|e| format!("{path}: {e}"))?;
            let written = log::write(&mut file, size << 20).map_err(|e| format!("{path}: {e}"))?;
            say(&format!(
                "{} lines, {} errors of {} kinds, {} bytes",
                written.lines,
                written.errors,
                log::MISTAKES,
                written.bytes
            ));
            return Ok(());
        }
        _ => {}
    }
    let parts: Vec<&Part> = PARTS
        .iter()
        .filter(|(name, _)| words.is_empty() || words.iter().any(|w| w == name))
        .collect();
    if parts.is_empty() {
        return Err(
            "say which benchmark: read, live, idle, session, suspects, pause, values, ledger, \
            kill, class, flood, or none for all of them"
                .into(),
        );
    }
    cargo(&["build", "--profile", "dist", "--package", "izba-app"])?;
    let mut report = Report::default();
    for (name, part) in parts {
        say(&format!("-- {name}"));
        let folder = tempfile::tempdir().map_err(|e| e.to_string())?;
        part(folder.path(), &mut report)?;
    }
    if words.is_empty() {
        write_page(&report)?;
    }
    Ok(())
}

/// Writes docs/BENCHMARKS.md; what stands there below its second heading is left as it is.
fn write_page(report: &Report) -> Outcome {
    let path = root().join("docs/BENCHMARKS.md");
    let old = std::fs::read_to_string(&path).unwrap_or_default();
    let notes = old.find("\n## ").map_or(String::new(), |at| old[at..].to_owned());
    let of = |file: &str, name: &str| {
        let text = std::fs::read_to_string(file).unwrap_or_default();
        text.lines()
            .find(|l| l.starts_with(name))
            .and_then(|l| l.split(':').nth(1))
            .unwrap_or("unknown")
            .trim()
            .to_owned()
    };
    let cores = std::thread::available_parallelism().map_or(1, usize::from);
    let system = of("/etc/os-release", "PRETTY_NAME");
    let system = if system == "unknown" {
        std::fs::read_to_string("/etc/os-release")
            .unwrap_or_default()
            .lines()
            .find_map(|l| l.strip_prefix("PRETTY_NAME="))
            .unwrap_or("Linux")
            .trim_matches('"')
            .to_owned()
    } else {
        system
    };
    let mut page = format!(
        "# Benchmarks\n\nMade by `cargo xtask bench` with the `dist` profile. Each is \
            measured beside something else on the same machine in the same\nrun; of repeated \
            runs the median is told.\n\nMachine: {} ({cores} cores), {} of memory, \
            {system}.\n\n| what | result |\n| --- | --- |\n",
        of("/proc/cpuinfo", "model name"),
        of("/proc/meminfo", "MemTotal"),
    );
    for (what, value) in &report.rows {
        page += &format!("| {} | {} |\n", what.replace('|', "\\|"), value.replace('|', "\\|"));
    }
    std::fs::write(&path, page + &notes)
        .map_err(|e| format!("docs/BENCHMARKS.md cannot be written: {e}"))
}
