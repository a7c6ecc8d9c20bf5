//! From an error's arrival to who did it on the screen: a project of 500 files, and in each run
//! another mistake.

use super::report::{Report, median, percentile};
use super::terminal::{Terminal, now_ms};
use crate::root;
use std::path::Path;
use std::time::Duration;

const FILES: usize = 500;
const RUNS: usize = 60;
const BOUND: Duration = Duration::from_secs(30);

/// Scripts of about 200 lines, made from the healthy seeds, each with names of its own.
fn fill(folder: &Path) -> Result<(), String> {
    let mut parts = Vec::new();
    for project in std::fs::read_dir(root().join("cases/faults"))
        .map_err(|e| e.to_string())?
        .flatten()
        .filter(|p| p.file_name().to_string_lossy().starts_with("lua-"))
    {
        for file in std::fs::read_dir(project.path())
            .map_err(|e| e.to_string())?
            .flatten()
            .filter(|f| f.path().extension().is_some_and(|e| e == "lua"))
        {
            parts.push(std::fs::read_to_string(file.path()).map_err(|e| e.to_string())?);
        }
    }
    parts.sort();
    std::fs::create_dir_all(folder.join("around")).map_err(|e| e.to_string())?;
    for number in 0..FILES - 2 * RUNS {
        let mut text = String::new();
        let mut at = number;
        while text.lines().count() < 200 {
            let part = parts[at % parts.len()]
                .replace("boat", &format!("boat{number}"))
                .replace("berth", &format!("berth{number}"));
            text += &format!("do\n{part}end\n");
            at += 1;
        }
        std::fs::write(folder.join(format!("around/part{number}.lua")), text)
            .map_err(|e| e.to_string())?;
    }
    for run in 0..RUNS {
        // The field is misspelt where it is made, and read rightly elsewhere: another line than the
        // console names is guilty.
        let stock =
            format!("local stock = {{}}\nstock.leevel{run} = {{ height = 3 }}\nreturn stock\n");
        let reader = format!(
            "local stock = require(\"stock{run}\")\nlocal function read()\n  return \
                stock.level{run}.height\nend\nlocal function again()\n  return \
                stock.level{run}.height + read()\nend\nprint(again())\n"
        );
        std::fs::write(folder.join(format!("stock{run}.lua")), stock).map_err(|e| e.to_string())?;
        std::fs::write(folder.join(format!("reader{run}.lua")), reader)
            .map_err(|e| e.to_string())?;
    }
    // The next mistake at each start; the moment is noted just before it is told.
    let script = "n=$(cat run 2>/dev/null || echo 0); echo $((n+1)) > run; echo \"run $n begins\"; \
        sleep 1.2; date +%s%3N > told\necho \"lua5.4: reader$n.lua:3: attempt to index a nil \
        value (field 'level$n')\" >&2; sleep 600\n";
    std::fs::write(folder.join("next.sh"), script).map_err(|e| e.to_string())
}

pub fn run(folder: &Path, report: &mut Report) -> Result<(), String> {
    fill(folder)?;
    let izba = root().join("target/dist/izba").to_string_lossy().into_owned();
    let mut terminal = Terminal::start(folder, &[&izba, "run", "--", "sh", "next.sh"], |_| {})?;
    let mut delays = Vec::new();
    for run in 0..RUNS {
        let wanted = format!("Look first at stock{run}.lua:2");
        terminal.wait(&wanted, BOUND, |t| t.contains(&wanted))?;
        let at = now_ms();
        let told = std::fs::read_to_string(folder.join("told")).map_err(|e| e.to_string())?;
        delays.push(at.saturating_sub(told.trim().parse().map_err(|_| "no moment was noted")?) as f64);
        terminal.keys("a");
    }
    terminal.end();
    // The first one also waits for the index.
    let first = delays.remove(0);
    report.row(
        "an error, to who did it on the screen, in a project of 500 files: median and 99th \
            percentile (aims 50 and 250 ms)",
        &format!(
            "{:.0} ms and {:.0} ms of {}; the very first {first:.0} ms",
            median(&mut delays),
            percentile(&mut delays, 99),
            delays.len()
        ),
    );
    Ok(())
}
