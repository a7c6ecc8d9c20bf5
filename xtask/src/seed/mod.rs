//! `cargo xtask seed-faults`: breaks the healthy projects of `cases/faults`, runs them for real, and
//! keeps what failed with the line that is guilty: `cases/faults/cases.jsonl`.
//!
//! They are broken in three ways: by a list of slips, which the checks know as well; at random along
//! the grammar of the language, which knows nothing of checks; and by hand (`by-hand.toml`). Each
//! case is one change of one file. A change after which the program still runs is no fault and
//! is dropped. Needs lua5.4, node, python3, a JDK and mono.

mod by_hand;
mod change;
mod listed;
mod random;

use crate::Outcome;
use change::{Change, Files, apply, folder};
use serde_json::{Value, json};
use std::collections::{BTreeMap, HashMap};
use std::fs;
use std::path::{Path, PathBuf};
use std::process::{Command, Stdio};
use std::time::{Duration, Instant};

/// One way to break programs.
struct Way {
    name: &'static str,
    /// Cases kept of one kind of slip in one project.
    kept: usize,
    changes: fn(&str, &Files) -> Result<Vec<Change>, String>,
}

const WAYS: &[Way] = &[
    Way { name: "listed", kept: 2, changes: |_, files| Ok(listed::changes(files)) },
    Way { name: "random", kept: 3, changes: |_, files| Ok(random::changes(files)) },
    Way { name: "by-hand", kept: usize::MAX, changes: by_hand::changes },
];

/// A program that runs longer is broken in a way that no console tells.
const BOUND: Duration = Duration::from_secs(12);

/// Runs the chore; errors are sentences.
pub fn run() -> Outcome {
    let seeds = folder();
    let mut projects: Vec<PathBuf> = fs::read_dir(&seeds)
        .map_err(|e| e.to_string())?
        .flatten()
        .map(|e| e.path())
        .filter(|p| p.is_dir())
        .collect();
    projects.sort();
    let mut out = String::new();
    let mut counts: BTreeMap<String, usize> = BTreeMap::new();
    for project in &projects {
        let name = project.file_name().unwrap_or_default().to_string_lossy().into_owned();
        let files = read(project)?;
        let healthy = attempt(&name, &files)?;
        if healthy.0 {
            return Err(format!("{name} fails as it stands:\n{}", healthy.1));
        }
        for way in WAYS {
            for case in cases(way, &name, &files)? {
                *counts.entry(format!("{} {}", way.name, case["slip"])).or_default() += 1;
                out.push_str(&serde_json::to_string(&case).map_err(|e| e.to_string())?);
                out.push('\n');
            }
        }
        crate::say(&format!("{name}: {} cases so far", counts.values().sum::<usize>()));
    }
    fs::write(seeds.join("cases.jsonl"), out).map_err(|e| e.to_string())?;
    let total: usize = counts.values().sum();
    crate::say(&format!(
        "{total} cases of {} projects: {}",
        projects.len(),
        counts.iter().map(|(s, n)| format!("{s} {n}")).collect::<Vec<_>>().join(", ")
    ));
    Ok(())
}

/// The changes of one way after which the project fails, with what its console said.
fn cases(way: &Way, name: &str, files: &Files) -> Result<Vec<Value>, String> {
    let mut kept: HashMap<&str, usize> = HashMap::new();
    let mut out = Vec::new();
    for change in (way.changes)(name, files)? {
        if kept.get(change.slip).is_some_and(|n| *n >= way.kept) {
            continue;
        }
        let mut broken = files.clone();
        let Some(text) = broken.get_mut(&change.file) else { continue };
        *text = apply(text, &change);
        let (failed, console) = attempt(name, &broken)?;
        if !failed || console.trim().is_empty() {
            continue;
        }
        *kept.entry(change.slip).or_default() += 1;
        out.push(json!({
            "project": name, "way": way.name, "slip": change.slip, "file": change.file,
            "at": change.at, "take": change.take, "put": change.put,
            "guilty": [change.guilty.0, change.guilty.1], "cause": change.cause,
            "console": console,
        }));
    }
    Ok(out)
}

fn read(project: &Path) -> Result<Files, String> {
    let mut files = BTreeMap::new();
    for entry in fs::read_dir(project).map_err(|e| e.to_string())?.flatten() {
        let text = fs::read_to_string(entry.path()).map_err(|e| e.to_string())?;
        files.insert(entry.file_name().to_string_lossy().into_owned(), text);
    }
    Ok(files)
}

/// Whether the program fails, and what it says, with its folder called `/seeds/NAME`.
fn attempt(name: &str, files: &Files) -> Result<(bool, String), String> {
    let folder = std::env::temp_dir().join(format!("izba-seed-{}", std::process::id())).join(name);
    let _ = fs::remove_dir_all(&folder);
    fs::create_dir_all(&folder).map_err(|e| e.to_string())?;
    for (file, text) in files {
        fs::write(folder.join(file), text).map_err(|e| e.to_string())?;
    }
    let steps: &[&str] = match name.split('-').next() {
        Some("lua") => &["lua5.4 main.lua"],
        Some("js") => &["node main.js"],
        Some("py") => &["python3 -B main.py"],
        Some("java") => &["javac *.java", "java Main"],
        Some("cs") => &["mcs -debug -out:program.exe *.cs", "mono --debug program.exe"],
        _ => return Err(format!("{name}: which language is that?")),
    };
    for step in steps {
        let output = folder.join("console.out");
        let to = fs::File::create(&output).map_err(|e| e.to_string())?;
        let also = to.try_clone().map_err(|e| e.to_string())?;
        let mut child = Command::new("sh")
            .args(["-c", &format!("exec {step}")])
            .current_dir(&folder)
            .stdin(Stdio::null())
            .stdout(to)
            .stderr(also)
            .env("LC_ALL", "C.UTF-8")
            .spawn()
            .map_err(|e| e.to_string())?;
        let begun = Instant::now();
        let status = loop {
            match child.try_wait().map_err(|e| e.to_string())? {
                Some(status) => break Some(status),
                None if begun.elapsed() > BOUND => {
                    let _ = child.kill();
                    let _ = child.wait();
                    break None;
                }
                None => std::thread::sleep(Duration::from_millis(10)),
            }
        };
        let said = String::from_utf8_lossy(&fs::read(&output).map_err(|e| e.to_string())?)
            .replace(&*folder.to_string_lossy(), &format!("/seeds/{name}"));
        let said: String = said.chars().take(6_000).collect();
        match status {
            Some(status) if status.success() => {}
            Some(_) => return Ok((true, said)),
            // Nobody is told of what never ends.
            None => return Ok((true, String::new())),
        }
    }
    Ok((false, String::new()))
}
