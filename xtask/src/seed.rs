//! `cargo xtask seed-faults`: breaks the healthy projects of `cases/faults` in the ways in which
//! beginners break theirs, runs them for real, and keeps what failed with the line that is guilty:
//! `cases/faults/cases.jsonl`.
//!
//! Each case is one change of one file. A change after which the program still runs is no fault and
//! is dropped. Needs lua5.4, node, python3, a JDK and mono.

use crate::{Outcome, root};
use serde_json::json;
use std::collections::{BTreeMap, HashMap};
use std::fs;
use std::path::{Path, PathBuf};
use std::process::{Command, Stdio};
use std::time::{Duration, Instant};

/// Cases kept of one kind of slip in one project.
const KEPT: usize = 2;
/// Changes tried of one kind of slip in one project.
const TRIED: usize = 7;
/// A program that runs longer is broken in a way that no console tells.
const BOUND: Duration = Duration::from_secs(12);

struct Change {
    slip: &'static str,
    file: String,
    /// Line from 1, how many lines go, and what comes instead.
    at: usize,
    take: usize,
    put: Vec<String>,
    /// Lines of the changed file that are guilty.
    guilty: (usize, usize),
    cause: String,
}

/// Runs the chore; errors are sentences.
pub fn run() -> Outcome {
    let seeds = root().join("cases/faults");
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
        let mut kept: HashMap<&str, usize> = HashMap::new();
        for change in changes(&files) {
            if kept.get(change.slip).is_some_and(|n| *n >= KEPT) {
                continue;
            }
            let mut broken = files.clone();
            let Some(text) = broken.get_mut(&change.file) else { continue };
            *text = apply(text, &change);
            let (failed, console) = attempt(&name, &broken)?;
            if !failed || console.trim().is_empty() {
                continue;
            }
            *kept.entry(change.slip).or_default() += 1;
            *counts.entry(change.slip.to_owned()).or_default() += 1;
            let case = json!({
                "project": name, "slip": change.slip, "file": change.file, "at": change.at, "take": change.take, "put": change.put,
                "guilty": [change.guilty.0, change.guilty.1], "cause": change.cause, "console": console,
            });
            out.push_str(&serde_json::to_string(&case).map_err(|e| e.to_string())?);
            out.push('\n');
        }
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

fn read(project: &Path) -> Result<BTreeMap<String, String>, String> {
    let mut files = BTreeMap::new();
    for entry in fs::read_dir(project).map_err(|e| e.to_string())?.flatten() {
        let text = fs::read_to_string(entry.path()).map_err(|e| e.to_string())?;
        files.insert(entry.file_name().to_string_lossy().into_owned(), text);
    }
    Ok(files)
}

fn apply(text: &str, change: &Change) -> String {
    let mut lines: Vec<&str> = text.lines().collect();
    let put: Vec<&str> = change.put.iter().map(String::as_str).collect();
    lines.splice(change.at - 1..change.at - 1 + change.take, put);
    lines.join("\n") + "\n"
}

/// Whether the program fails, and what it says, with its folder called `/seeds/NAME`.
fn attempt(name: &str, files: &BTreeMap<String, String>) -> Result<(bool, String), String> {
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

/// A number that depends on a text only, to choose among many without chance.
fn mix(text: &str) -> u64 {
    text.bytes()
        .fold(0xcbf2_9ce4_8422_2325, |h, b| (h ^ u64::from(b)).wrapping_mul(0x0100_0000_01b3))
}

/// One letter wrong, by the place: swapped, left out, doubled, or another capital.
fn typo(word: &str) -> String {
    let chars: Vec<char> = word.chars().collect();
    let at = 1 + (mix(word) as usize) % (chars.len() - 2).max(1);
    let mut out = chars.clone();
    match mix(&format!("{word}.")) % 4 {
        0 if chars[at] != chars[at - 1] => out.swap(at, at - 1),
        1 => {
            out.remove(at);
        }
        2 => out.insert(at, chars[at]),
        _ => {
            let first = chars[0];
            out[0] = if first.is_uppercase() {
                first.to_ascii_lowercase()
            } else {
                first.to_ascii_uppercase()
            };
        }
    }
    out.into_iter().collect()
}

const WORDS_OF_LANGUAGES: &[&str] = &[
    "local",
    "function",
    "return",
    "then",
    "else",
    "elseif",
    "while",
    "repeat",
    "until",
    "true",
    "false",
    "null",
    "none",
    "None",
    "self",
    "this",
    "class",
    "const",
    "static",
    "public",
    "private",
    "final",
    "void",
    "import",
    "from",
    "using",
    "for",
    "foreach",
    "string",
    "String",
    "double",
    "require",
    "module",
    "exports",
    "pairs",
    "ipairs",
    "print",
    "table",
    "insert",
    "concat",
    "sort",
    "setmetatable",
    "tonumber",
    "console",
    "JSON",
    "parse",
    "Math",
    "java",
    "util",
    "System",
    "Main",
    "main",
    "args",
    "with",
    "open",
    "super",
    "enum",
    "length",
    "push",
    "find",
    "join",
    "sorted",
    "lambda",
    "range",
    "enumerate",
    "Console",
    "WriteLine",
    "Exception",
    "throw",
    "new",
    "yield",
    "def",
    "except",
    "lines",
];

fn words(line: &str) -> Vec<(usize, &str)> {
    let mut out = Vec::new();
    let mut start = None;
    for (at, c) in line.char_indices().chain([(line.len(), ' ')]) {
        let inside = c.is_alphanumeric() || c == '_';
        match (inside, start) {
            (true, None) => start = Some(at),
            (false, Some(from)) => {
                out.push((from, &line[from..at]));
                start = None;
            }
            _ => {}
        }
    }
    out.retain(|(_, w)| {
        w.len() >= 4
            && w.starts_with(|c: char| c.is_alphabetic())
            && !WORDS_OF_LANGUAGES.contains(w)
    });
    out
}

/// Every change worth trying, the same each time.
fn changes(files: &BTreeMap<String, String>) -> Vec<Change> {
    let mut all: Vec<Change> = Vec::new();
    let count = |word: &str| {
        files.values().flat_map(|t| t.lines()).flat_map(words).filter(|(_, w)| *w == word).count()
    };
    for (file, text) in files {
        let lines: Vec<&str> = text.lines().collect();
        let code = !file.ends_with("json")
            && !file.ends_with("txt")
            && !file.ends_with("csv")
            && !file.ends_with("ini")
            && !file.ends_with("properties");
        for (index, line) in lines.iter().enumerate() {
            let at = index + 1;
            let mut one = |slip: &'static str, put: String, cause: String| {
                all.push(Change {
                    slip,
                    file: file.clone(),
                    at,
                    take: 1,
                    put: vec![put],
                    guilty: (at, at),
                    cause,
                });
            };
            for (from, word) in words(line) {
                let wrong = typo(word);
                let changed = format!("{}{wrong}{}", &line[..from], &line[from + word.len()..]);
                if !code {
                    one("data-typo", changed, format!("{word} is written {wrong}"));
                } else if count(word) >= 2 {
                    let named = [".csv", ".json", ".txt", ".ini", ".properties"]
                        .iter()
                        .any(|e| line[from + word.len()..].starts_with(e));
                    one(
                        if named { "file-typo" } else { "name-typo" },
                        changed,
                        format!("{word} is written {wrong}"),
                    );
                }
            }
            if !code {
                continue;
            }
            for closer in [")", "]", "}"] {
                if let Some(found) = line.rfind(closer) {
                    let rest = format!("{}{}", &line[..found], &line[found + 1..]);
                    if rest.trim().is_empty() {
                        all.push(Change {
                            slip: "closer-gone",
                            file: file.clone(),
                            at,
                            take: 1,
                            put: vec![],
                            guilty: (at - 1, at),
                            cause: format!("the {closer} is gone"),
                        });
                    } else {
                        all.push(Change {
                            slip: "closer-gone",
                            file: file.clone(),
                            at,
                            take: 1,
                            put: vec![rest],
                            guilty: (at, at),
                            cause: format!("the {closer} is gone"),
                        });
                    }
                }
            }
            if line.trim() == "end" {
                all.push(Change {
                    slip: "closer-gone",
                    file: file.clone(),
                    at,
                    take: 1,
                    put: vec![],
                    guilty: (at - 1, at),
                    cause: "the end is gone".into(),
                });
            }
            let mut one = |slip: &'static str, put: String, cause: String| {
                all.push(Change {
                    slip,
                    file: file.clone(),
                    at,
                    take: 1,
                    put: vec![put],
                    guilty: (at, at),
                    cause,
                });
            };
            if matches!(line.trim(), "end" | "}" | ")" | "};" | "});") {
                let closer = if line.trim() == "end" { " end" } else { "}" };
                one("closer-extra", format!("{line}{closer}"), "one closer too many".into());
            }
            if let Some(found) = line.rfind(['"', '\'']) {
                one(
                    "quote-gone",
                    format!("{}{}", &line[..found], &line[found + 1..]),
                    "a quotation mark is gone".into(),
                );
            }
            if let Some(found) = line.find(", ") {
                one(
                    "comma-gone",
                    format!("{}{}", &line[..found], &line[found + 1..]),
                    "a comma is gone".into(),
                );
            }
            for (from, to) in [
                ("[i]", "[i + 1]"),
                (" < ", " <= "),
                ("- 1]", "]"),
                ("[1]", "[2]"),
                ("[0]", "[1]"),
                (" - 1)", ")"),
            ] {
                if line.contains(from) {
                    one("off-by-one", line.replacen(from, to, 1), format!("{from} became {to}"));
                }
            }
            let open = line.find('(').filter(|_| line.matches('(').count() == 1);
            if let Some((open, close)) = open.zip(line.rfind(')')) {
                let parts: Vec<&str> =
                    line.get(open + 1..close).unwrap_or("").split(", ").collect();
                if parts.len() >= 2
                    && parts.iter().all(|p| !p.is_empty() && !p.contains(['(', '{', '[']))
                    && !line.contains("for ")
                {
                    let mut swapped = parts.clone();
                    swapped.swap(0, 1);
                    one(
                        "order-swapped",
                        format!("{}{}{}", &line[..=open], swapped.join(", "), &line[close..]),
                        "two stand in the wrong order".into(),
                    );
                }
            }
            let number = line.char_indices().find(|(k, c)| {
                c.is_ascii_digit()
                    && line[..*k].ends_with([' ', '('])
                    && !line[..*k].contains(['"', '\'', '['])
            });
            if let Some((from, _)) = number {
                let digits = line[from..].bytes().take_while(u8::is_ascii_digit).count();
                if line[from + digits..].starts_with([',', ' ', ')', ';'])
                    || line.len() == from + digits
                {
                    one(
                        "wrong-kind",
                        format!("{}\"many\"{}", &line[..from], &line[from + digits..]),
                        "a word stands where a number belongs".into(),
                    );
                    let nothing = if file.ends_with("lua") {
                        "nil"
                    } else if file.ends_with("py") {
                        "None"
                    } else {
                        "null"
                    };
                    one(
                        "emptied",
                        format!("{}{nothing}{}", &line[..from], &line[from + digits..]),
                        "nothing stands where a number belongs".into(),
                    );
                }
            }
            let trimmed = line.trim();
            let sets = trimmed.contains(" = ")
                && !trimmed.starts_with("for ")
                && (trimmed.ends_with(';') || !trimmed.ends_with(['{', ',', '(']))
                && !trimmed.starts_with("if ");
            let registers = trimmed.starts_with("board.bind")
                || trimmed.starts_with("deeds[")
                || trimmed.starts_with("table.add")
                || trimmed.starts_with("exports.");
            let brings = trimmed.starts_with("import ")
                || trimmed.starts_with("from ")
                || trimmed.starts_with("using ")
                || trimmed.contains("require(");
            if (sets || registers || brings) && index > 0 {
                let slip = if brings { "import-gone" } else { "line-gone" };
                all.push(Change {
                    slip,
                    file: file.clone(),
                    at,
                    take: 1,
                    put: vec![],
                    guilty: (at - 1, at),
                    cause: format!("gone: {trimmed}"),
                });
            } else if brings {
                all.push(Change {
                    slip: "import-gone",
                    file: file.clone(),
                    at,
                    take: 1,
                    put: vec![],
                    guilty: (1, 1),
                    cause: format!("gone: {trimmed}"),
                });
            }
            // What gives a value, moved below its neighbour.
            let indent = |l: &str| l.len() - l.trim_start().len();
            if sets
                && let Some(next) = lines.get(index + 1)
                && indent(next) == indent(line)
                && !next.trim().is_empty()
                && !next.trim().ends_with(['{', '}'])
            {
                all.push(Change {
                    slip: "too-late",
                    file: file.clone(),
                    at,
                    take: 2,
                    put: vec![(*next).to_owned(), (*line).to_owned()],
                    guilty: (at + 1, at + 1),
                    cause: format!("too late: {trimmed}"),
                });
            }
        }
    }
    // Of many the same ones each time, spread over the files.
    let mut by_slip: BTreeMap<&'static str, Vec<Change>> = BTreeMap::new();
    for change in all {
        by_slip.entry(change.slip).or_default().push(change);
    }
    by_slip
        .into_values()
        .flat_map(|mut list| {
            list.sort_by_key(|c| mix(&format!("{}{}{:?}", c.file, c.at, c.put)));
            list.truncate(TRIED);
            list
        })
        .collect()
}
