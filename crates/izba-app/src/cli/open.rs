//! `izba` without a command: watches what is piped in, or the sources that the project's `izba.toml` names; where there are
//! none, says what could be watched here.

use super::{Outcome, Shared, has_screen, print, read};
use crate::command_error::CommandError;
use crate::watch::{Origin, Setup, file_name};
use izba_core::{Engine, answer};
use izba_sources::{Command, CommandSpec, Store};
use serde::Deserialize;
use std::io::IsTerminal;
use std::net::SocketAddr;
use std::os::fd::AsFd;
use std::path::{Path, PathBuf};
use std::sync::Arc;

/// The project's own file.
const FILE: &str = "izba.toml";

pub fn run(shared: &Shared) -> Outcome {
    let stdin = std::io::stdin();
    if stdin.is_terminal() {
        return project(shared);
    }
    if has_screen() {
        // Keys come from the controlling terminal; the pipe is the program's alone.
        let input = stdin.as_fd().try_clone_to_owned().map_err(|e| CommandError::input(format!("standard input cannot be read: {e}")))?;
        let session = Store::open(shared.store.clone())?.session()?;
        return crate::shell::open(Setup::new(shared.root(), session, vec![("standard input".into(), Origin::Input(input.into()))]));
    }
    let project = Arc::new(izba_sources::scan(&shared.root()));
    let mut engine = Engine::new(project.clone());
    let source = engine.add_source("standard input");
    engine.start_run(source, None, project);
    let failed = |e: std::io::Error| CommandError::input(format!("standard input cannot be read: {}", izba_sources::plain_io(&e)));
    read::feed_all(&mut engine, source, &mut stdin.lock()).map_err(failed)?;
    engine.finish();
    print(&answer::text(&engine));
    Ok(read::verdict(&engine))
}

#[derive(Deserialize, Default)]
#[serde(deny_unknown_fields)]
struct Settings {
    #[serde(default)]
    source: Vec<Source>,
}

/// One source as the file names it: exactly one of the kinds.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Source {
    name: Option<String>,
    /// A command, as one would type it.
    run: Option<String>,
    /// A file that grows.
    follow: Option<PathBuf>,
    /// A web page.
    page: Option<String>,
    /// An address at which a device serves its log.
    connect: Option<SocketAddr>,
    /// Addresses of ours.
    syslog: Option<SocketAddr>,
    lines: Option<SocketAddr>,
    otlp: Option<SocketAddr>,
}

fn project(shared: &Shared) -> Outcome {
    let root = shared.root();
    let settings = settings(&root)?;
    if settings.source.is_empty() {
        return Err(CommandError::wrong_use("nothing to watch yet", offers(&root)));
    }
    if !has_screen() {
        return Err(CommandError::wrong_use("izba needs a terminal to draw on", "without one, use: izba run CMD… or izba read FILE…"));
    }
    let mut sources = Vec::new();
    for (at, source) in settings.source.into_iter().enumerate() {
        let (name, origin) = origin(source, &root).map_err(|why| CommandError::input(format!("{FILE}, source {}: {why}", at + 1)))?;
        sources.push((name, origin));
    }
    let session = Store::open(shared.store.clone())?.session()?;
    crate::shell::open(Setup::new(root, session, sources))
}

fn settings(root: &Path) -> Result<Settings, CommandError> {
    let path = root.join(FILE);
    let Ok(text) = std::fs::read_to_string(&path) else { return Ok(Settings::default()) };
    toml::from_str(&text).map_err(|e| {
        let line = e.span().map_or(1, |span| 1 + text[..span.start.min(text.len())].matches('\n').count());
        let hint = "a source looks like this: [[source]] name = \"game\" run = \"lua5.4 main.lua\"";
        CommandError::input(format!("{FILE}, line {line}: {}", e.message().lines().next().unwrap_or_default())).hint(hint)
    })
}

fn origin(source: Source, root: &Path) -> Result<(String, Origin), String> {
    let mut found = Vec::new();
    if let Some(run) = source.run {
        let spec =
            CommandSpec { words: vec!["sh".into(), "-c".into(), run.clone().into()], folder: root.to_owned(), pipes: false, inherit_input: false };
        found.push((run, Origin::Command(Command::new(spec).map_err(|e| e.sentence())?)));
    }
    if let Some(file) = source.follow {
        found.push((file_name(&file), Origin::File(root.join(file))));
    }
    if let Some(url) = source.page {
        found.push((url.clone(), Origin::Page(url)));
    }
    found.extend(source.connect.map(|a| (a.to_string(), Origin::Address(a))));
    found.extend(source.syslog.map(|a| (format!("syslog {a}"), Origin::Senders(a))));
    found.extend(source.lines.map(|a| (format!("lines {a}"), Origin::Senders(a))));
    found.extend(source.otlp.map(|a| (format!("OpenTelemetry {a}"), Origin::Otlp(a))));
    let kinds = "run, follow, page, connect, syslog, lines or otlp";
    match found.len() {
        0 => Err(format!("it says not what to watch: {kinds}")),
        1 => found.pop().map(|(name, origin)| (source.name.unwrap_or(name), origin)).ok_or_else(String::new),
        _ => Err(format!("it names several things to watch; each source is one of {kinds}")),
    }
}

/// What could be watched here, by what lies in the folder.
fn offers(root: &Path) -> String {
    let mut offers: Vec<String> = Vec::new();
    let scripts = std::fs::read_to_string(root.join("package.json")).ok().and_then(|t| serde_json::from_str::<serde_json::Value>(&t).ok());
    if let Some(scripts) = scripts.as_ref().and_then(|p| p["scripts"].as_object()) {
        let likely = ["start", "dev", "serve", "test"].into_iter().find(|s| scripts.contains_key(*s));
        offers.extend(likely.map(|s| format!("izba run -- npm run {s}")));
    }
    let marks = [("Cargo.toml", "cargo run"), ("go.mod", "go run ."), ("Makefile", "make"), ("pom.xml", "mvn test"), ("build.gradle", "gradle run")];
    offers.extend(marks.iter().filter(|(mark, _)| root.join(mark).exists()).map(|(_, command)| format!("izba run -- {command}")));
    let main = ["main.py", "main.lua", "main.js", "index.js", "app.py", "main.rb", "Main.java"];
    offers.extend(main.iter().filter(|m| root.join(m).exists()).map(|m| format!("izba run {m}")));
    let mut logs: Vec<_> = ["", "logs", "log"]
        .iter()
        .flat_map(|folder| std::fs::read_dir(root.join(folder)).into_iter().flatten().flatten())
        .filter(|e| e.path().extension().is_some_and(|x| x == "log"))
        .filter_map(|e| Some((e.metadata().ok()?.modified().ok()?, e.path())))
        .collect();
    logs.sort();
    offers.extend(logs.pop().map(|(_, path)| format!("izba follow {}", path.strip_prefix(root).unwrap_or(&path).display())));
    if offers.is_empty() {
        return "start a program with it: izba run main.py · or pipe one in: make 2>&1 | izba · or try: izba demo".into();
    }
    offers.truncate(4);
    format!("here you could: {} · or try: izba demo", offers.join(" · "))
}
