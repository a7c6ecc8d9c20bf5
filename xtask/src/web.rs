//! `cargo xtask web [KIND[/MISTAKE]…]`: mistakes planted into eight projects of the web, each run with
//! the real tools from the registry and a real browser, and what Izba says of it, without a screen.
//!
//! A mistake is a row of `xtask/web/KIND.toml`; the project it is planted into lies beside it. What
//! Izba answered is left in `target/web/answers`, to be read one by one.

use crate::{Outcome, root, say};
use serde::Deserialize;
use serde_json::Value;
use std::fs;
use std::path::{Path, PathBuf};
use std::process::{Command, Stdio};

/// The projects, in the order of the table.
const KINDS: &[&str] = &["plain", "built", "library", "served", "yard", "radio", "fog", "galley"];

/// Seconds that a page is watched.
const WATCHED: &str = "9";

/// From here on a suspect is called likely.
const LIKELY: f64 = 0.6;

#[derive(Deserialize)]
struct Mistakes {
    mistake: Vec<Mistake>,
}

/// A mistake, and where it is to be seen.
#[derive(Deserialize)]
struct Mistake {
    id: String,
    #[serde(flatten)]
    edit: Edit,
    /// What else is changed, of which nothing is a mistake.
    #[serde(default)]
    more: Vec<Edit>,
    /// A part of what the console says.
    #[serde(default)]
    says: String,
    /// Where the console's own error strikes, as `file: part of the line`; else where it is planted.
    at: Option<String>,
    /// The guilty lines; else the one where it is planted.
    #[serde(default)]
    guilty: Vec<String>,
    /// The tool that tells of it; else server and page are watched.
    run: Option<String>,
    /// Nothing tells of it while it runs: it is looked for without running.
    #[serde(default)]
    silent: bool,
}

/// A part of a file that becomes another; without `take`, a new file.
#[derive(Deserialize)]
struct Edit {
    file: String,
    #[serde(default)]
    take: String,
    put: String,
}

/// What came of one mistake.
#[derive(Default)]
struct Row {
    found: bool,
    once: bool,
    place: bool,
    first: bool,
    /// Suspects that are called likely and are not guilty.
    false_likely: Vec<String>,
    /// What the first mistake of the list is, to be read.
    told: String,
}

pub fn run(words: &[String]) -> Outcome {
    crate::cargo(&["build", "--release", "-p", "izba-app"])?;
    let izba = root().join("target/release/izba");
    let answers = root().join("target/web/answers");
    fs::create_dir_all(&answers).map_err(|e| format!("no room for the answers: {e}"))?;
    let mut rows: Vec<(String, bool, Row)> = Vec::new();
    for kind in KINDS {
        let wanted = |id: &str| {
            words.is_empty() || words.iter().any(|w| w == kind || *w == format!("{kind}/{id}"))
        };
        let file = root().join("xtask/web").join(format!("{kind}.toml"));
        let text = fs::read_to_string(&file).map_err(|e| format!("{}: {e}", file.display()))?;
        let all: Mistakes =
            toml::from_str(&text).map_err(|e| format!("{}: {e}", file.display()))?;
        let chosen: Vec<&Mistake> = all.mistake.iter().filter(|m| wanted(&m.id)).collect();
        if chosen.is_empty() {
            continue;
        }
        let place = Place::prepare(kind)?;
        for mistake in chosen {
            place.lay_out(mistake)?;
            let told = place.ask(&izba, mistake)?;
            let name = format!("{kind}/{}", mistake.id);
            let _ = fs::write(answers.join(format!("{kind}-{}.jsonl", mistake.id)), &told);
            let row = judge(&place, mistake, &told)?;
            say(&line(&name, &row));
            rows.push((name, mistake.silent, row));
        }
    }
    say(&sums(&rows));
    Ok(())
}

/// A project as it is run: a folder with its packages, laid out anew for each mistake.
struct Place {
    from: PathBuf,
    folder: PathBuf,
    store: PathBuf,
}

impl Place {
    fn prepare(kind: &str) -> Result<Place, String> {
        let from = root().join("xtask/web").join(kind);
        let folder = root().join("target/web").join(kind);
        fs::create_dir_all(&folder).map_err(|e| format!("{}: {e}", folder.display()))?;
        let place = Place { from, folder, store: root().join("target/web/store") };
        let packages = place.from.join("package.json");
        let needs = fs::read_to_string(&packages).is_ok_and(|t| t.contains("ependencies"));
        if needs && !place.folder.join("node_modules").exists() {
            say(&format!("{kind}: fetching its packages"));
            let _ = fs::copy(&packages, place.folder.join("package.json"));
            let status = Command::new("npm")
                .args(["install", "--no-audit", "--no-fund", "--silent"])
                .current_dir(&place.folder)
                .status()
                .map_err(|e| format!("npm could not be started: {e}"))?;
            if !status.success() {
                return Err(format!("the packages of {kind} could not be fetched"));
            }
        }
        Ok(place)
    }

    /// The project with one mistake in it.
    fn lay_out(&self, mistake: &Mistake) -> Outcome {
        let failed = |e: std::io::Error| format!("{}: {e}", self.folder.display());
        for entry in fs::read_dir(&self.folder).map_err(failed)?.flatten() {
            let name = entry.file_name();
            if name == "node_modules" || name == "package-lock.json" {
                continue;
            }
            let path = entry.path();
            let gone = if path.is_dir() { fs::remove_dir_all(path) } else { fs::remove_file(path) };
            gone.map_err(failed)?;
        }
        copy(&self.from, &self.folder).map_err(failed)?;
        // Those without a server of their own share one.
        let settings = fs::read_to_string(self.from.join("izba.toml")).map_err(failed)?;
        if settings.contains("node serve.mjs") {
            let shared = root().join("xtask/web/serve.mjs");
            fs::copy(shared, self.folder.join("serve.mjs")).map_err(failed)?;
        }
        for edit in mistake.more.iter().chain([&mistake.edit]) {
            let path = self.folder.join(&edit.file);
            let text = if edit.take.is_empty() {
                edit.put.clone()
            } else {
                let text = fs::read_to_string(&path).map_err(failed)?;
                match text.matches(&edit.take).count() {
                    1 => text.replacen(&edit.take, &edit.put, 1),
                    n => return Err(format!("{}: “{}” stands {n} times", mistake.id, edit.take)),
                }
            };
            fs::write(&path, text).map_err(failed)?;
        }
        Ok(())
    }

    /// What Izba says, as JSON lines.
    fn ask(&self, izba: &Path, mistake: &Mistake) -> Result<String, String> {
        // Nothing is known of earlier mistakes.
        let _ = fs::remove_dir_all(&self.store);
        let mut command = Command::new(izba);
        command.arg("--store").arg(&self.store);
        match &mistake.run {
            _ if mistake.silent => command.args(["check", "--as", "jsonl"]),
            Some(run) => command
                .args(["run", "--seconds", "60", "--as", "jsonl", "--"])
                .args(run.split_whitespace()),
            None => command.args(["--trust", "--seconds", WATCHED, "--as", "jsonl"]),
        };
        let out = command
            .current_dir(&self.folder)
            .stdin(Stdio::null())
            .stderr(Stdio::inherit())
            .env_remove("DISPLAY")
            .output()
            .map_err(|e| format!("izba could not be started: {e}"))?;
        Ok(String::from_utf8_lossy(&out.stdout).into_owned())
    }

    /// The line, counted from 1, of `file: part of the line`; `END` is the last one, `LAST` the one
    /// behind it.
    fn line_of(&self, named: &str) -> Result<(String, u64), String> {
        let (file, part) = named.split_once(": ").ok_or_else(|| format!("{named}: no file"))?;
        let text =
            fs::read_to_string(self.folder.join(file)).map_err(|e| format!("{file}: {e}"))?;
        let at = match part {
            "LAST" => Some(text.lines().count()),
            "END" => text.lines().count().checked_sub(1),
            part => text.lines().position(|l| l.contains(part)),
        };
        let at = at.ok_or_else(|| format!("{file} has no line with “{part}”"))?;
        Ok((file.to_owned(), at as u64 + 1))
    }

    /// Where the mistake is: the first line that is another one than it was.
    fn planted(&self, mistake: &Mistake) -> Result<(String, u64), String> {
        let file = &mistake.edit.file;
        let read = |folder: &Path| fs::read_to_string(folder.join(file));
        let now = read(&self.folder).map_err(|e| format!("{file}: {e}"))?;
        let was = read(&self.from).unwrap_or_default();
        let same = now.lines().zip(was.lines()).take_while(|(a, b)| a == b).count();
        Ok((file.clone(), same as u64 + 1))
    }
}

fn copy(from: &Path, to: &Path) -> std::io::Result<()> {
    fs::create_dir_all(to)?;
    for entry in fs::read_dir(from)? {
        let entry = entry?;
        let target = to.join(entry.file_name());
        if entry.file_type()?.is_dir() {
            copy(&entry.path(), &target)?;
        } else {
            fs::copy(entry.path(), target)?;
        }
    }
    Ok(())
}

fn judge(place: &Place, mistake: &Mistake, told: &str) -> Result<Row, String> {
    let planted = place.planted(mistake)?;
    let guilty = match mistake.guilty.as_slice() {
        [] => vec![planted.clone()],
        some => {
            let named = some.iter().map(|g| place.line_of(g));
            named.chain([Ok(planted.clone())]).collect::<Result<_, _>>()?
        }
    };
    let at = match &mistake.at {
        Some(at) => vec![place.line_of(at)?],
        None => guilty.iter().cloned().chain([planted]).collect(),
    };
    let where_of =
        |v: &Value| Some((v.get("file")?.as_str()?.to_owned(), v.get("line")?.as_u64()?));
    let all: Vec<Value> = told.lines().filter_map(|l| serde_json::from_str(l).ok()).collect();
    if mistake.silent {
        let found = all.iter().any(|v| where_of(v).is_some_and(|w| guilty.contains(&w)));
        return Ok(Row {
            found,
            once: all.len() == 1,
            place: found,
            first: found,
            ..Row::default()
        });
    }
    let bad: Vec<&Value> =
        all.iter().filter(|v| matches!(v["level"].as_str(), Some("error" | "fatal"))).collect();
    let says = mistake.says.to_lowercase();
    let fits = |v: &&Value| v["message"].as_str().is_some_and(|m| m.to_lowercase().contains(&says));
    let free: Vec<&&Value> = bad.iter().filter(|v| v["follows"].is_null()).collect();
    let hit = bad.iter().copied().find(fits).or_else(|| all.iter().find(fits));
    let suspects = hit.and_then(|v| v["suspects"].as_array()).cloned().unwrap_or_default();
    let first = suspects.first().and_then(where_of).is_some_and(|w| guilty.contains(&w));
    let false_likely = bad
        .iter()
        .flat_map(|v| v["suspects"].as_array().into_iter().flatten())
        .filter(|s| s["confidence"].as_f64().is_some_and(|c| c >= LIKELY))
        .filter(|s| where_of(s).is_some_and(|w| !guilty.contains(&w)))
        .map(|s| format!("{}:{} {}", s["file"], s["line"], s["reason"]))
        .collect();
    let told = all.first().map_or_else(String::new, |v| {
        format!("{}:{} {}", v["file"], v["line"], v["message"].as_str().unwrap_or_default())
    });
    Ok(Row {
        found: hit.is_some(),
        once: hit.is_some() && free.len() <= 1,
        place: hit.and_then(where_of).is_some_and(|w| at.contains(&w)),
        first,
        false_likely,
        told,
    })
}

fn line(name: &str, row: &Row) -> String {
    let yes = |is: bool| if is { "yes" } else { "no " };
    let mut text = format!(
        "{name:32} found {} once {} place {} first {}",
        yes(row.found),
        yes(row.once),
        yes(row.place),
        yes(row.first)
    );
    if !(row.found && row.once && row.place && row.first) {
        text += &format!("  | {}", row.told.chars().take(100).collect::<String>());
    }
    for one in &row.false_likely {
        text += &format!("\n    false likely: {one}");
    }
    text
}

fn sums(rows: &[(String, bool, Row)]) -> String {
    let mut text = String::new();
    for (what, silent) in [("told by a console", false), ("silent, looked for", true)] {
        let rows: Vec<&Row> = rows.iter().filter(|r| r.1 == silent).map(|r| &r.2).collect();
        let count = |of: fn(&Row) -> bool| {
            let n = rows.iter().filter(|r| of(r)).count();
            format!("{n} ({:.1} %)", 100.0 * n as f64 / rows.len().max(1) as f64)
        };
        text += &format!(
            "{what}: {} mistakes · found {} · once {} · place {} · guilty first {} · false likely {}\n",
            rows.len(),
            count(|r| r.found),
            count(|r| r.once),
            count(|r| r.place),
            count(|r| r.first),
            rows.iter().map(|r| r.false_likely.len()).sum::<usize>()
        );
    }
    text
}
