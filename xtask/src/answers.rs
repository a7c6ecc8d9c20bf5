//! What one build of Izba answers about every case at hand, kept in a file, and two such files
//! compared: so that a change of the house can show that it changed no answer.
//!
//! A case is a folder with a `console.log`, `console.txt` or `run-1.log`; its project is the
//! folder `project`, `src` or `src-1` in it, else the folder itself. Seeded faults
//! (`cases.jsonl` beside the healthy projects) are laid out first.

use crate::{Outcome, root, say};
use serde_json::{Map, Value, json};
use std::fs;
use std::path::{Path, PathBuf};
use std::process::Command;
use std::sync::Mutex;
use std::sync::atomic::{AtomicUsize, Ordering};

const USAGE: &str = "answers keep IZBA FILE [FOLDER...], or answers compare BEFORE AFTER";
/// Names under which a case's console lies, and where its project is beside it.
const CONSOLES: [&str; 3] = ["console.log", "console.txt", "run-1.log"];
const PROJECTS: [&str; 3] = ["project", "src", "src-1"];

pub fn run(words: &[String]) -> Outcome {
    match words {
        [what, izba, file, folders @ ..] if what == "keep" => keep(izba, file, folders),
        [what, before, after] if what == "compare" => compare(before, after),
        _ => Err(USAGE.into()),
    }
}

/// One console and the project that it belongs to.
struct Case {
    name: String,
    console: PathBuf,
    project: PathBuf,
}

fn keep(izba: &str, file: &str, folders: &[String]) -> Outcome {
    let izba = fs::canonicalize(izba).map_err(|e| format!("{izba}: {e}"))?;
    let laid = tempfile::tempdir().map_err(|e| e.to_string())?;
    let mut cases = Vec::new();
    for folder in at_hand().into_iter().chain(folders.iter().map(PathBuf::from)) {
        if folder.join("cases.jsonl").is_file() {
            lay_seeds(&folder, laid.path())?;
            gather(laid.path(), laid.path(), "faults", &mut cases);
        } else {
            let name = folder.file_name().unwrap_or_default().to_string_lossy().into_owned();
            gather(&folder, &folder, &name, &mut cases);
        }
    }
    let next = AtomicUsize::new(0);
    let answers = Mutex::new(Vec::new());
    std::thread::scope(|scope| {
        for _ in 0..std::thread::available_parallelism().map_or(2, usize::from) {
            scope.spawn(|| {
                while let Some(case) = cases.get(next.fetch_add(1, Ordering::Relaxed)) {
                    let kept = json!({ "case": case.name, "answer": ask(&izba, case) });
                    answers.lock().expect("no thread failed").push(kept);
                }
            });
        }
    });
    let mut answers = answers.into_inner().map_err(|e| e.to_string())?;
    answers.sort_by_key(|a| a["case"].as_str().map(str::to_owned));
    let text: String = answers.iter().map(|a| format!("{a}\n")).collect();
    fs::write(file, text).map_err(|e| format!("{file}: {e}"))?;
    say(&format!("{} answers kept in {file}", answers.len()));
    Ok(())
}

/// The repository's own cases.
fn at_hand() -> Vec<PathBuf> {
    ["consoles", "groups", "faults"].iter().map(|f| root().join("cases").join(f)).collect()
}

/// All cases under `folder`, in order of their names.
fn gather(folder: &Path, top: &Path, set: &str, cases: &mut Vec<Case>) {
    let console = CONSOLES.iter().flat_map(|n| [folder.join(n), folder.join(format!("{n}.zst"))]);
    if let Some(console) = console.into_iter().find(|p| p.is_file()) {
        let project = PROJECTS.iter().map(|n| folder.join(n)).find(|p| p.is_dir());
        let inner = folder.strip_prefix(top).unwrap_or(folder).display();
        let project = project.unwrap_or_else(|| folder.to_owned());
        cases.push(Case { name: format!("{set}/{inner}"), console, project });
        return;
    }
    let Ok(inside) = fs::read_dir(folder) else { return };
    let mut inside: Vec<_> = inside.flatten().map(|e| e.path()).filter(|p| p.is_dir()).collect();
    inside.sort();
    for folder in inside {
        gather(&folder, top, set, cases);
    }
}

/// Lays every seeded fault out as a folder of its own.
fn lay_seeds(seeds: &Path, into: &Path) -> Outcome {
    let failed = |e: std::io::Error| e.to_string();
    let cases = fs::read_to_string(seeds.join("cases.jsonl")).map_err(failed)?;
    for (number, line) in cases.lines().enumerate() {
        let case: Value = serde_json::from_str(line).map_err(|e| format!("case {number}: {e}"))?;
        let text = |key: &str| case[key].as_str().unwrap_or_default();
        let count = |key: &str| case[key].as_u64().unwrap_or(1) as usize;
        let folder = into.join(format!("{number:04}"));
        let project = folder.join("project");
        fs::create_dir_all(&project).map_err(failed)?;
        for file in fs::read_dir(seeds.join(text("project"))).map_err(failed)?.flatten() {
            let mut written = fs::read_to_string(file.path()).map_err(failed)?;
            if file.file_name().to_string_lossy() == text("file") {
                let put = case["put"].as_array().into_iter().flatten().filter_map(Value::as_str);
                let mut lines: Vec<&str> = written.lines().collect();
                let from = count("at").saturating_sub(1);
                lines.splice(from..from + count("take"), put);
                written = lines.join("\n") + "\n";
            }
            fs::write(project.join(file.file_name()), written).map_err(failed)?;
        }
        fs::write(folder.join("console.log"), text("console")).map_err(failed)?;
    }
    Ok(())
}

/// What `izba read` says of a case: its exit code and its lines, with this machine's paths taken
/// out.
fn ask(izba: &Path, case: &Case) -> Value {
    let bytes = fs::read(&case.console).unwrap_or_default();
    let packed = case.console.extension().is_some_and(|e| e == "zst");
    let bytes = if packed { zstd::decode_all(&*bytes).unwrap_or_default() } else { bytes };
    let Ok(folder) = tempfile::tempdir() else { return Value::Null };
    let console = folder.path().join("console.log");
    let home = folder.path().join("home");
    if fs::write(&console, bytes).is_err() {
        return Value::Null;
    }
    let asked = Command::new(izba)
        .args(["read", "--as", "jsonl", "--project"])
        .arg(&case.project)
        .arg(&console)
        .env("XDG_STATE_HOME", &home)
        .env("XDG_DATA_HOME", &home)
        .env("XDG_CONFIG_HOME", &home)
        .output();
    let Ok(asked) = asked else { return Value::Null };
    let told = String::from_utf8_lossy(&asked.stdout);
    let told = told.replace(&*folder.path().to_string_lossy(), "CONSOLE");
    let told = told.replace(&*case.project.to_string_lossy(), "PROJECT");
    let groups = told.lines().map(|l| serde_json::from_str(l).unwrap_or_else(|_| json!(l)));
    json!({ "exit": asked.status.code(), "groups": groups.collect::<Vec<Value>>() })
}

fn compare(before: &str, after: &str) -> Outcome {
    let load = |file: &str| -> Result<Map<String, Value>, String> {
        let text = fs::read_to_string(file).map_err(|e| format!("{file}: {e}"))?;
        let lines = text.lines().filter_map(|l| serde_json::from_str::<Value>(l).ok());
        Ok(lines
            .filter_map(|v| Some((v["case"].as_str()?.to_owned(), v["answer"].clone())))
            .collect())
    };
    let (before, after) = (load(before)?, load(after)?);
    let mut differ = 0;
    for case in before.keys().chain(after.keys().filter(|k| !before.contains_key(*k))) {
        let (was, is) = (before.get(case), after.get(case));
        if was == is {
            continue;
        }
        differ += 1;
        say(case);
        let nothing = Value::Null;
        differences("", was.unwrap_or(&nothing), is.unwrap_or(&nothing), &mut 6);
    }
    say(&format!("{} cases, {differ} with another answer", before.len()));
    if differ == 0 { Ok(()) } else { Err(format!("{differ} answers differ")) }
}

/// Says where two answers differ, the first few places of it.
fn differences(at: &str, was: &Value, is: &Value, left: &mut usize) {
    if was == is || *left == 0 {
        return;
    }
    match (was, is) {
        (Value::Object(a), Value::Object(b)) => {
            for key in a.keys().chain(b.keys().filter(|k| !a.contains_key(*k))) {
                let inner = |of: &Map<String, Value>| of.get(key).cloned().unwrap_or(Value::Null);
                differences(&format!("{at}.{key}"), &inner(a), &inner(b), left);
            }
        }
        (Value::Array(a), Value::Array(b)) => {
            for number in 0..a.len().max(b.len()) {
                let inner = |of: &[Value]| of.get(number).cloned().unwrap_or(Value::Null);
                differences(&format!("{at}[{number}]"), &inner(a), &inner(b), left);
            }
        }
        _ => {
            *left -= 1;
            let short = |v: &Value| v.to_string().chars().take(160).collect::<String>();
            say(&format!("    {at}\n      before {}\n      after  {}", short(was), short(is)));
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn seeds_and_folders_become_cases_with_their_project() {
        let made = tempfile::tempdir().expect("a folder");
        let seeds = made.path().join("seeds");
        fs::create_dir_all(seeds.join("mill")).expect("made");
        fs::write(seeds.join("mill/main.lua"), "a\nb\nc\n").expect("written");
        let case = json!({"project": "mill", "file": "main.lua", "at": 2, "take": 1,
            "put": ["B", "and more"], "console": "main.lua:2: boom\n"});
        fs::write(seeds.join("cases.jsonl"), case.to_string()).expect("written");
        let laid = made.path().join("laid");
        lay_seeds(&seeds, &laid).expect("laid out");
        let broken = fs::read_to_string(laid.join("0000/project/main.lua")).expect("there");
        assert_eq!(broken, "a\nB\nand more\nc\n");
        let mut cases = Vec::new();
        gather(&laid, &laid, "faults", &mut cases);
        assert_eq!(cases.len(), 1);
        assert_eq!(cases[0].name, "faults/0000");
        assert!(cases[0].project.ends_with("0000/project"));
    }

    #[test]
    fn what_differs_is_told_and_what_is_equal_is_not() {
        let made = tempfile::tempdir().expect("a folder");
        let kept = |name: &str, line: u32| {
            let file = made.path().join(name);
            let answer = json!({"case": "a/1", "answer": {"exit": 1, "groups": [{"line": line}]}});
            fs::write(&file, format!("{answer}\n")).expect("written");
            file.to_string_lossy().into_owned()
        };
        assert!(compare(&kept("x", 3), &kept("y", 3)).is_ok());
        assert!(compare(&kept("x", 3), &kept("z", 4)).is_err());
    }
}
