//! The stand-in add-on loader: compiles the Java parts of a pack, follows its data from routes to
//! landings to sounds and pictures, calls its hooks, and writes all that to a log file that
//! rotates. What it cannot load is replaced by a placeholder. A pack that changes is read again.

use crate::clock::Clock;
use crate::curly::{Frame, Language, Machine, Problem, Raised, Value};
use crate::jvm::{self, outside};
use crate::newest;
use serde::Deserialize;
use serde_json::Value as Json;
use std::fs::{self, File};
use std::io::{self, Write};
use std::path::{Path, PathBuf};
use std::rc::Rc;

/// How to run the loader.
#[derive(Debug, Clone)]
pub struct Settings {
    /// The folder of the pack.
    pub folder: PathBuf,
    /// How that folder is called in what is printed.
    pub shown: String,
    /// The log file; standard output when `None`.
    pub log: Option<PathBuf>,
    /// The log is put aside once it is longer, in bytes.
    pub rotate: u64,
    /// Ends after so many seconds; never when `None`.
    pub seconds: Option<f64>,
    /// Doesn't wait.
    pub hurried: bool,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Pack {
    name: String,
    version: String,
    parts: Vec<String>,
    routes: String,
    hooks: Vec<Hook>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Hook {
    call: String,
    with: Option<String>,
    each: Option<String>,
}

/// A log that is put aside when it has become long, and at each start.
struct Log {
    path: Option<PathBuf>,
    file: Option<File>,
    written: u64,
    limit: u64,
    clock: Clock,
}

impl Log {
    fn open(&mut self) -> io::Result<()> {
        let Some(path) = &self.path else { return Ok(()) };
        if let Some(folder) = path.parent() {
            fs::create_dir_all(folder)?;
        }
        if fs::metadata(path).is_ok_and(|m| m.len() > 0) {
            fs::rename(path, path.with_extension("log.1"))?;
        }
        self.file = Some(File::create(path)?);
        self.written = 0;
        Ok(())
    }

    fn line(&mut self, thread: &str, level: &str, text: &str) {
        let line = format!("{} [{thread}] {level:<5} {text}\n", self.clock.time());
        self.raw(&line);
    }

    fn trace(&mut self, thread: &str, text: &str, raised: &Raised) {
        let said = format!(
            "{} [{thread}] ERROR {text}\n{}\n",
            self.clock.time(),
            jvm::trace(raised).join("\n")
        );
        self.raw(&said);
    }

    fn raw(&mut self, text: &str) {
        if self.path.is_some() && self.written > self.limit {
            // A full disk is no reason to end: the log is best effort, as such logs are.
            let _ = self.open();
        }
        self.written += text.len() as u64;
        let _ = match &mut self.file {
            Some(file) => file.write_all(text.as_bytes()),
            None => {
                io::stdout().lock().write_all(text.as_bytes()).and_then(|()| io::stdout().flush())
            }
        };
    }
}

/// Runs the loader until it is ended; returns its exit code.
///
/// # Errors
///
/// A sentence when the log cannot be written.
pub fn run(settings: &Settings) -> Result<i32, String> {
    let mut log = Log {
        path: settings.log.clone(),
        file: None,
        written: 0,
        limit: settings.rotate,
        clock: Clock::new(settings.hurried),
    };
    let mut seconds = 0.0;
    let mut read_at = None;
    loop {
        let now = newest(&settings.folder, &["java", "json"]);
        if read_at != now {
            // The log begins anew with each reading of the pack.
            log.open().map_err(|e| format!("the log cannot be written: {e}"))?;
            log.line(
                "main",
                "INFO",
                if read_at.is_some() {
                    "loader: the pack has changed and is read again"
                } else {
                    "loader: marsh loader 2.1"
                },
            );
            read_at = now;
            load(settings, &mut log);
        }
        if settings.seconds.is_some_and(|s| seconds >= s) {
            log.line("main", "INFO", "loader: the game has ended");
            return Ok(0);
        }
        log.clock.wait(0.5);
        seconds += 0.5;
        let turn = (seconds * 2.0) as u64;
        if turn.is_multiple_of(7) {
            log.line(
                "turn",
                "INFO",
                &format!("turn: {turn} turns, 3 landings, 0.{} ms each", 2 + turn % 5),
            );
        }
        if turn.is_multiple_of(31) {
            log.line(
                "pack-7",
                "WARN",
                "reeds-and-rushes: texture 12 is larger than it needs to be",
            );
        }
    }
}

/// The steps below whatever the loader calls.
fn below(class: &str, method: &str, line: usize) -> Vec<Frame> {
    let mut frames = vec![
        outside(&format!("marsh.loader.{class}"), method, &format!("{class}.java"), line),
        outside("marsh.loader.Pack", "open", "Pack.java", 143),
        outside("marsh.loader.Packs", "each", "Packs.java", 58),
        outside("marsh.loader.Packs", "openAll", "Packs.java", 31),
        outside("marsh.loader.Stage", "enter", "Stage.java", 212),
        outside("marsh.bridge.Turn", "prepare", "Turn.java", 77),
        outside("marsh.bridge.Turn$Task", "run", "Turn.java", 119),
    ];
    frames.extend(jvm::pool());
    frames
}

fn load(settings: &Settings, log: &mut Log) {
    let shown = &settings.shown;
    let pack: Pack = match read_data(&settings.folder, shown, "pack.json").and_then(|json| {
        serde_json::from_value(json).map_err(|e| {
            jvm::raised(
                "marsh.loader.DataException",
                &format!("{shown}/pack.json: {e}"),
                below("Data", "pack", 44),
                None,
            )
        })
    }) {
        Ok(pack) => pack,
        Err(raised) => return log.trace("main", "loader: there is no pack", &raised),
    };
    log.line(
        "main",
        "INFO",
        &format!("loader: pack “{}” {} with {} parts", pack.name, pack.version, pack.parts.len()),
    );
    let mut machine = compile(settings, &pack, log);
    let routes = match read_data(&settings.folder, shown, &pack.routes) {
        Ok(Json::Array(routes)) => routes,
        Ok(_) => {
            log.line(
                "pack-1",
                "ERROR",
                &format!("routes: {shown}/{} is no list of routes", pack.routes),
            );
            Vec::new()
        }
        Err(raised) => {
            log.trace("pack-1", "routes: the pack has no routes", &raised);
            Vec::new()
        }
    };
    for route in routes.iter().filter(|r| r.is_object()) {
        let (name, landing) = (word(route, "name"), word(route, "landing"));
        match build_landing(settings, &landing) {
            Ok(title) => log.line("pack-1", "INFO", &format!("routes: {name} lands at {title}")),
            Err(cause) => {
                let message = format!("route “{name}” has no landing");
                let raised = jvm::raised(
                    "marsh.loader.RouteException",
                    &message,
                    below("Routes", "lay", 96),
                    Some(cause),
                );
                log.trace(
                    "pack-1",
                    &format!("routes: a placeholder stands for a landing of {name}"),
                    &raised,
                );
            }
        }
    }
    for hook in &pack.hooks {
        let Some((class, method)) = hook.call.split_once('.') else { continue };
        if !machine.has(class) {
            log.line(
                "pack-2",
                "WARN",
                &format!("hooks: {} is not called: its part was left out", hook.call),
            );
            continue;
        }
        let given: Vec<Vec<Value>> = match (&hook.with, &hook.each) {
            (Some(_), _) => vec![vec![Value::from_json(&Json::Array(routes.clone()))]],
            (None, Some(key)) => routes
                .iter()
                .filter(|r| r.is_object())
                .map(|r| vec![Value::text(&word(r, key))])
                .collect(),
            (None, None) => vec![Vec::new()],
        };
        for given in given {
            let done = machine
                .make(class, Vec::new())
                .and_then(|object| machine.call(&object, method, given));
            for said in machine.take_said() {
                log.line("pack-2", "INFO", &format!("{class}: {said}"));
            }
            match done {
                Ok(value) => log.line(
                    "pack-2",
                    "INFO",
                    &format!("hooks: {} gives {}", hook.call, value.spoken()),
                ),
                Err(raised) => {
                    let below = below("Hooks", "call", 61);
                    let cause = jvm::called_from(&raised, &below);
                    let raised = jvm::raised(
                        "marsh.loader.HookException",
                        &format!("{} could not be called", hook.call),
                        below,
                        Some(cause),
                    );
                    log.trace("pack-2", "hooks: the pack goes on without a hook", &raised);
                }
            }
        }
    }
}

fn word(of: &Json, key: &str) -> String {
    of.get(key).and_then(Json::as_str).unwrap_or_default().to_owned()
}

fn compile(settings: &Settings, pack: &Pack, log: &mut Log) -> Machine {
    let mut sources = Vec::new();
    for part in &pack.parts {
        match fs::read_to_string(settings.folder.join(part)) {
            Ok(text) => sources.push((format!("{}/{part}", settings.shown), text)),
            Err(_) => log.line(
                "pack-1",
                "ERROR",
                &format!("compile: there is no part {}/{part}", settings.shown),
            ),
        }
    }
    // Parts are compiled one by one, so that a broken one leaves the others alone.
    let all: Vec<_> = sources
        .iter()
        .filter_map(|(file, text)| crate::curly::parse(file, text, Language::Java).ok())
        .flatten()
        .collect();
    let mut whole = Vec::new();
    for (file, text) in &sources {
        let found = match crate::curly::parse(file, text, Language::Java) {
            Ok(classes) => {
                let problems = crate::curly::check(Language::Java, &classes, &all);
                if problems.is_empty() {
                    whole.extend(classes);
                }
                problems
            }
            Err(problem) => vec![problem],
        };
        for problem in &found {
            let said = format!(
                "{} [pack-1] ERROR compile: {}",
                log.clock.time(),
                diagnostic(problem, text)
            );
            log.raw(&said);
        }
        if !found.is_empty() {
            log.line("pack-1", "WARN", &format!("compile: {file} is left out"));
        }
    }
    Machine::new(Language::Java, whole)
}

/// As the Java compiler prints it: the sentence, the line, a caret, and what else there is to say.
fn diagnostic(problem: &Problem, text: &str) -> String {
    let mut message = problem.message.lines();
    let line = text.lines().nth(problem.line - 1).unwrap_or("");
    let mut said =
        format!("{}:{}: error: {}\n", problem.file, problem.line, message.next().unwrap_or(""));
    said += &format!("{line}\n{}^\n", " ".repeat(problem.column - 1));
    message.for_each(|more| said += &format!("{more}\n"));
    said
}

/// Follows a landing to its sound and picture; gives its title.
fn build_landing(settings: &Settings, landing: &str) -> Result<String, Rc<Raised>> {
    let (folder, shown) = (&settings.folder, &settings.shown);
    let found = read_data(folder, shown, &format!("landings/{landing}.json"))?;
    for (kind, folder_name) in [("sound", "sounds"), ("picture", "pictures")] {
        let name = word(&found, kind);
        read_data(folder, shown, &format!("{folder_name}/{name}.json")).map_err(|cause| {
            let message = format!("landing “{landing}” has no {kind} “{name}”");
            jvm::raised(
                "marsh.loader.LandingException",
                &message,
                below("Landings", kind, 71),
                Some(cause),
            )
        })?;
    }
    Ok(word(&found, "title"))
}

/// Reads a data file as the loader does: leniently, so that an empty place in a list is a missing
/// value.
fn read_data(folder: &Path, shown: &str, path: &str) -> Result<Json, Rc<Raised>> {
    let whole = format!("{shown}/{path}");
    let text = fs::read_to_string(folder.join(path)).map_err(|_| {
        let mut frames = vec![
            outside("sun.nio.fs.UnixException", "translateToIOException", "UnixException.java", 92),
            outside("sun.nio.fs.UnixException", "rethrowAsIOException", "UnixException.java", 106),
            outside(
                "sun.nio.fs.UnixFileSystemProvider",
                "newByteChannel",
                "UnixFileSystemProvider.java",
                218,
            ),
            outside("java.nio.file.Files", "newByteChannel", "Files.java", 380),
            outside("java.nio.file.Files", "readString", "Files.java", 3238),
        ];
        frames.extend(below("Data", "read", 38));
        jvm::raised("java.nio.file.NoSuchFileException", &whole, frames, None)
    })?;
    serde_json::from_str(&leniently(&text)).map_err(|e| {
        let message =
            format!("{whole}, line {}: the data ends or turns where it should not", e.line());
        jvm::raised("marsh.loader.DataException", &message, below("Data", "read", 52), None)
    })
}

/// The text with a `null` wherever a list has a comma and nothing behind it.
fn leniently(text: &str) -> String {
    let (mut out, mut quoted, mut escaped, mut comma) = (String::new(), false, false, None);
    for c in text.chars() {
        if !quoted && !c.is_whitespace() {
            if let (']', Some(at)) = (c, comma) {
                out.insert_str(at, " null");
            } else if let ('}', Some(at)) = (c, comma) {
                out.replace_range(at - 1..at, " ");
            }
            comma = None;
        }
        if c == '"' && !escaped {
            quoted = !quoted;
        }
        escaped = quoted && c == '\\' && !escaped;
        out.push(c);
        if !quoted && c == ',' {
            comma = Some(out.len());
        }
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn empty_places_in_lists_are_missing_values() {
        let read =
            |text: &str| serde_json::from_str::<Json>(&leniently(text)).expect("it can be read");
        assert_eq!(
            read(
                r#"[1, "a,]", {"b": 2,},
            ]"#
            ),
            serde_json::json!([1, "a,]", {"b": 2}, null])
        );
    }
}
