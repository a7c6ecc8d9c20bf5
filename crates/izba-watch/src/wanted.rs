//! What is to be watched, as people name it: in `izba.toml`, on the screen, and as offers of what
//! fits a folder.

use izba_dap::Begin;
use izba_sources::{Command, CommandSpec, Reach};
use serde::Deserialize;
use std::collections::BTreeMap;
use std::net::SocketAddr;
use std::path::{Path, PathBuf};

/// The file in the project's folder that names what is watched.
pub const FILE: &str = "izba.toml";

/// A kind of source.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Kind {
    /// A command.
    Run,
    /// A file that grows, the newest of a folder, or all that fit a pattern.
    Follow,
    /// A web page.
    Page,
    /// A device that serves its log at an address.
    Connect,
    /// Senders of syslog to an address of ours.
    Syslog,
    /// Senders of lines to an address of ours.
    Lines,
    /// Senders of OpenTelemetry logs to an address of ours.
    Otlp,
    /// Browsers that send reports to an address of ours.
    Reports,
}

/// The kinds with the words that name them, and what stands behind the word.
pub const KINDS: &[(Kind, &str, &str)] = &[
    (Kind::Run, "run", "a command, as you type it"),
    (Kind::Follow, "follow", "a log file, a folder (its newest), a pattern: logs/*.log"),
    (Kind::Page, "page", "a web page, in a browser (or: URL join 127.0.0.1:9222)"),
    (Kind::Connect, "connect", "an address at which a device serves its log"),
    (Kind::Syslog, "syslog", "an address of this machine that takes syslog: 127.0.0.1:5514"),
    (Kind::Lines, "lines", "an address of this machine that takes lines or JSON lines"),
    (Kind::Otlp, "otlp", "an address of this machine that takes OpenTelemetry logs"),
    (Kind::Reports, "reports", "an address of this machine that takes a browser's reports"),
];

/// Where the bytes of a source come from.
#[derive(Debug)]
pub enum Origin {
    /// A command, which can be started again.
    Command(Command),
    /// A program that can be paused.
    Debugged(Box<Debugged>),
    /// A file that grows.
    File(PathBuf),
    /// Standard input.
    Input(std::fs::File),
    /// A device that serves its console at an address.
    Address(SocketAddr),
    /// A web page, by its address; in a browser of its own, or in the one that waits for debuggers
    /// at an address.
    Page(String, Option<SocketAddr>),
    /// Senders of lines or syslog messages to an address of ours.
    Senders(SocketAddr),
    /// Senders of OpenTelemetry logs to an address of ours.
    Otlp(SocketAddr),
    /// Browsers that send reports to an address of ours.
    Reports(SocketAddr),
}

/// A program under a debug adapter.
#[derive(Debug)]
pub struct Debugged {
    /// The program, where Izba starts it itself; else the adapter does.
    pub command: Option<Command>,
    /// Where the adapter is.
    pub reach: Reach,
    /// How it begins.
    pub begin: Begin,
    /// The program by itself, without any adapter, where the adapter starts it.
    pub alone: Option<Command>,
}

impl Debugged {
    /// A program whose adapter listens at an address, once it runs.
    pub fn at(command: Command, address: SocketAddr) -> Debugged {
        Debugged {
            command: Some(command),
            reach: Reach::Address(address),
            begin: Begin::Attach(serde_json::json!({})),
            alone: None,
        }
    }

    /// An adapter, as a command line, that starts a program: the words of what to run, and what the
    /// adapter asks for beyond that in words of its own.
    pub fn by(
        adapter: &str,
        words: &[String],
        folder: &Path,
        environment: &BTreeMap<String, String>,
        launch: &toml::Table,
    ) -> Debugged {
        let program = words.first().map_or("", String::as_str);
        let path = folder.join(program);
        let program =
            if path.is_file() { path.to_string_lossy().into_owned() } else { program.to_owned() };
        let mut arguments = serde_json::json!({
            "name": "izba", "type": "izba", "request": "launch", "program": program, "args": words.get(1..).unwrap_or_default(),
            "cwd": folder.to_string_lossy(), "env": environment, "console": "internalConsole", "stopOnEntry": false
        });
        // What the user says of it comes first.
        for (name, value) in launch {
            arguments[name] = serde_json::to_value(value).unwrap_or_default();
        }
        let reach = match adapter.parse::<SocketAddr>() {
            Ok(address) => Reach::Address(address),
            Err(_) => Reach::Command {
                words: ["sh", "-c", &format!("exec {adapter}")].map(Into::into).to_vec(),
                folder: folder.to_owned(),
                environment: environment.iter().map(|(n, v)| (n.into(), v.into())).collect(),
            },
        };
        let spec = CommandSpec {
            words: words.iter().map(Into::into).collect(),
            folder: folder.to_owned(),
            environment: environment.iter().map(|(n, v)| (n.into(), v.into())).collect(),
            pipes: true,
            inherit_input: false,
        };
        Debugged {
            command: None,
            reach,
            begin: Begin::Launch(arguments),
            alone: Command::new(spec).ok(),
        }
    }
}

/// One source as somebody named it.
#[derive(Debug, Clone, PartialEq)]
pub struct Wanted {
    /// What people call it; else what it is.
    pub name: Option<String>,
    /// Its kind.
    pub kind: Kind,
    /// The command, file or address.
    pub what: String,
    /// Start the command again when an own file is saved.
    pub again_on_save: bool,
    /// Names of the apps, loggers or processes in it that are the user's; empty when all are.
    pub own: Vec<String>,
    /// The folder in which a command runs, within the project; else the project's own.
    pub folder: Option<PathBuf>,
    /// Variables that a command gets.
    pub environment: BTreeMap<String, String>,
    /// Plain pipes instead of a terminal of its own for a command.
    pub pipes: bool,
    /// A text in lines that tell of an action of the user, so that a silence is measured by what
    /// was tried.
    pub action: Option<String>,
    /// A debug adapter, so that the command can be paused: a command line, or the address at which
    /// the program itself listens.
    pub adapter: Option<String>,
    /// What the adapter is told when it starts the program, beyond what it is told anyway.
    pub launch: toml::Table,
}

impl Wanted {
    /// A source without a name.
    pub fn new(kind: Kind, what: impl Into<String>) -> Wanted {
        Wanted {
            name: None,
            kind,
            what: what.into(),
            again_on_save: false,
            own: Vec::new(),
            folder: None,
            environment: BTreeMap::new(),
            pipes: false,
            action: None,
            adapter: None,
            launch: toml::Table::new(),
        }
    }

    /// Reads what somebody typed: a kind and what to watch, or just a command, file or address of a
    /// page.
    ///
    /// # Errors
    ///
    /// A sentence, when nothing can be made of it.
    pub fn parse(text: &str, root: &Path) -> Result<Wanted, String> {
        let text = text.trim();
        let (first, rest) = text.split_once(char::is_whitespace).unwrap_or((text, ""));
        if let Some((kind, word, what)) = KINDS.iter().find(|(_, word, _)| *word == first) {
            return if rest.trim().is_empty() {
                Err(format!("behind “{word}” stands {what}"))
            } else {
                Ok(Wanted::new(*kind, rest.trim()))
            };
        }
        if text.is_empty() {
            return Err(
                "type what to watch: a command, a log file, or the address of a page".into()
            );
        }
        let one_word = rest.is_empty();
        if one_word && text.contains("://") {
            return Ok(Wanted::new(Kind::Page, text));
        }
        if one_word
            && (root.join(text).is_file() && text.ends_with("log")
                || text.contains('*')
                || root.join(text).is_dir())
        {
            return Ok(Wanted::new(Kind::Follow, text));
        }
        Ok(Wanted::new(Kind::Run, text))
    }

    /// How it is typed.
    pub fn phrase(&self) -> String {
        let word =
            KINDS.iter().find(|(kind, ..)| *kind == self.kind).map_or("run", |(_, word, _)| word);
        format!("{word} {}", self.what)
    }

    /// Where its bytes come from, and its name.
    ///
    /// # Errors
    ///
    /// A sentence, when it cannot be opened as it is named.
    pub fn origin(&self, root: &Path) -> Result<(String, Origin), String> {
        let what = self.what.as_str();
        let address = || {
            what.parse::<SocketAddr>()
                .map_err(|_| format!("“{what}” is no address; one looks like 127.0.0.1:5514"))
        };
        let (name, origin) = match self.kind {
            Kind::Run => {
                let words = vec!["sh".into(), "-c".into(), what.into()];
                let folder = self.folder.as_ref().map_or_else(|| root.to_owned(), |f| root.join(f));
                if !folder.is_dir() {
                    return Err(format!("the folder {} is not there", folder.display()));
                }
                let address = self.adapter.as_ref().and_then(|a| a.parse::<SocketAddr>().ok());
                if let (Some(adapter), None) = (&self.adapter, address) {
                    let words: Vec<String> = what.split_whitespace().map(str::to_owned).collect();
                    let debugged =
                        Debugged::by(adapter, &words, &folder, &self.environment, &self.launch);
                    return Ok((
                        self.name.clone().unwrap_or(what.to_owned()),
                        Origin::Debugged(Box::new(debugged)),
                    ));
                }
                let environment = self
                    .environment
                    .iter()
                    .map(|(name, value)| (name.into(), value.into()))
                    .collect();
                let spec = CommandSpec {
                    words,
                    folder,
                    environment,
                    pipes: self.pipes,
                    inherit_input: false,
                };
                let command = Command::new(spec).map_err(|e| e.sentence())?;
                let origin = match address {
                    Some(address) => Origin::Debugged(Box::new(Debugged::at(command, address))),
                    None => Origin::Command(command),
                };
                (what.to_owned(), origin)
            }
            Kind::Follow => {
                let path = root.join(what);
                (
                    if what.contains('*') || path.is_dir() {
                        what.to_owned()
                    } else {
                        file_name(&path)
                    },
                    Origin::File(path),
                )
            }
            Kind::Page if what.contains(" join ") => {
                let (url, address) = what.split_once(" join ").unwrap_or((what, ""));
                let address = address.trim().parse().map_err(|_| {
                    format!(
                        "“{}” is no address of a browser; one looks like 127.0.0.1:9222",
                        address.trim()
                    )
                })?;
                let name = url
                    .split_once("://")
                    .map_or(url, |(_, rest)| rest)
                    .trim_end_matches('/')
                    .to_owned();
                (name, Origin::Page(url.trim().to_owned(), Some(address)))
            }
            Kind::Page if !what.contains("://") => {
                return Err(format!(
                    "“{what}” is no address of a page; begin it with http://, https:// or file://"
                ));
            }
            Kind::Page => (
                what.split_once("://")
                    .map_or(what, |(_, rest)| rest)
                    .trim_end_matches('/')
                    .to_owned(),
                Origin::Page(what.to_owned(), None),
            ),
            Kind::Connect => (what.to_owned(), Origin::Address(address()?)),
            Kind::Syslog => (format!("syslog {what}"), Origin::Senders(address()?)),
            Kind::Lines => (format!("lines {what}"), Origin::Senders(address()?)),
            Kind::Otlp => (format!("OpenTelemetry {what}"), Origin::Otlp(address()?)),
            Kind::Reports => (format!("reports {what}"), Origin::Reports(address()?)),
        };
        Ok((self.name.clone().unwrap_or(name), origin))
    }

    fn to_toml(&self) -> String {
        let mut table = toml::Table::new();
        if let Some(name) = &self.name {
            table.insert("name".into(), name.clone().into());
        }
        let word =
            KINDS.iter().find(|(kind, ..)| *kind == self.kind).map_or("run", |(_, word, _)| word);
        table.insert(word.into(), self.what.clone().into());
        for (word, is) in [("again_on_save", self.again_on_save), ("pipes", self.pipes)] {
            if is {
                table.insert(word.into(), true.into());
            }
        }
        for (word, said) in [("action", &self.action), ("adapter", &self.adapter)] {
            if let Some(said) = said {
                table.insert(word.into(), said.clone().into());
            }
        }
        if let Some(folder) = &self.folder {
            table.insert("folder".into(), folder.to_string_lossy().into_owned().into());
        }
        if !self.own.is_empty() {
            table.insert("own".into(), self.own.clone().into());
        }
        let environment: toml::Table = self
            .environment
            .iter()
            .map(|(name, value)| (name.clone(), value.clone().into()))
            .collect();
        let environment = if environment.is_empty() {
            String::new()
        } else {
            format!("\n[source.environment]\n{environment}")
        };
        let launch = if self.launch.is_empty() {
            String::new()
        } else {
            format!("\n[source.launch]\n{}", self.launch)
        };
        format!("[[source]]\n{table}{environment}{launch}")
    }
}

/// A name for a file as a source.
pub fn file_name(path: &Path) -> String {
    path.file_name()
        .map_or_else(|| path.to_string_lossy().into_owned(), |n| n.to_string_lossy().into_owned())
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
    run: Option<String>,
    follow: Option<String>,
    page: Option<String>,
    connect: Option<String>,
    syslog: Option<String>,
    lines: Option<String>,
    otlp: Option<String>,
    reports: Option<String>,
    #[serde(default)]
    again_on_save: bool,
    #[serde(default)]
    own: Vec<String>,
    folder: Option<PathBuf>,
    #[serde(default)]
    environment: BTreeMap<String, String>,
    #[serde(default)]
    pipes: bool,
    action: Option<String>,
    adapter: Option<String>,
    #[serde(default)]
    launch: toml::Table,
}

/// Why the project's file cannot be followed, with what helps.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("{text}")]
pub struct Refused {
    /// One sentence.
    pub text: String,
    /// What helps.
    pub hint: Option<String>,
}

impl Refused {
    fn new(text: String) -> Refused {
        Refused { text, hint: None }
    }

    fn hint(self, hint: &str) -> Refused {
        Refused { hint: Some(hint.to_owned()), ..self }
    }
}

/// The sources that the project's file names; none when there is no file.
///
/// # Errors
///
/// When the file cannot be read as one: what is wrong, and in which line.
pub fn read_file(root: &Path) -> Result<Vec<Wanted>, Refused> {
    let Ok(text) = std::fs::read_to_string(root.join(FILE)) else { return Ok(Vec::new()) };
    let settings: Settings = toml::from_str(&text).map_err(|e| {
        let line =
            e.span().map_or(1, |span| 1 + text[..span.start.min(text.len())].matches('\n').count());
        let hint = "a source looks like this: [[source]] name = \"game\" run = \"lua5.4 main.lua\"";
        Refused::new(format!(
            "{FILE}, line {line}: {}",
            e.message().lines().next().unwrap_or_default()
        ))
        .hint(hint)
    })?;
    let one = |source: Source| -> Result<Wanted, String> {
        let named = [
            (Kind::Run, source.run),
            (Kind::Follow, source.follow),
            (Kind::Page, source.page),
            (Kind::Connect, source.connect),
            (Kind::Syslog, source.syslog),
            (Kind::Lines, source.lines),
            (Kind::Otlp, source.otlp),
            (Kind::Reports, source.reports),
        ];
        let mut named = named.into_iter().filter_map(|(kind, what)| Some((kind, what?)));
        let kinds = KINDS.iter().map(|(_, word, _)| *word).collect::<Vec<_>>().join(", ");
        let (kind, what) =
            named.next().ok_or_else(|| format!("it says not what to watch: one of {kinds}"))?;
        if named.next().is_some() {
            return Err(format!("it names several things to watch; each source is one of {kinds}"));
        }
        let Source {
            name,
            again_on_save,
            own,
            folder,
            environment,
            pipes,
            action,
            adapter,
            launch,
            ..
        } = source;
        if adapter.is_some() && kind != Kind::Run {
            return Err("only what is run can have an adapter".into());
        }
        let wanted = Wanted {
            name,
            kind,
            what,
            again_on_save,
            own,
            folder,
            environment,
            pipes,
            action,
            adapter,
            launch,
        };
        wanted.origin(root).map(|_| wanted)
    };
    let numbered = settings.source.into_iter().enumerate();
    numbered
        .map(|(at, source)| {
            one(source).map_err(|why| Refused::new(format!("{FILE}, source {}: {why}", at + 1)))
        })
        .collect()
}

/// Adds sources to the project's file, unless they stand there; how many were added.
///
/// # Errors
///
/// A sentence, when the file cannot be written or read.
pub fn keep(root: &Path, sources: &[Wanted]) -> Result<usize, String> {
    let known = read_file(root).map_err(|e| e.text)?;
    let new: Vec<&Wanted> = sources
        .iter()
        .filter(|s| !known.iter().any(|k| k.kind == s.kind && k.what == s.what))
        .collect();
    let path = root.join(FILE);
    let mut text = std::fs::read_to_string(&path).unwrap_or_default();
    for source in &new {
        if !text.is_empty() && !text.ends_with("\n\n") {
            text.push_str(if text.ends_with('\n') { "\n" } else { "\n\n" });
        }
        text += &source.to_toml();
    }
    std::fs::write(&path, text)
        .map_err(|e| format!("{FILE} cannot be written: {}", izba_sources::plain_io(&e)))?;
    Ok(new.len())
}

/// Writes who is the user's in a source to the project's file, when the file names the source; its
/// words and order stay.
///
/// # Errors
///
/// A sentence, when the file cannot be read or written.
pub fn keep_own(root: &Path, wanted: &Wanted) -> Result<(), String> {
    let path = root.join(FILE);
    let Ok(text) = std::fs::read_to_string(&path) else { return Ok(()) };
    let mut file: toml_edit::DocumentMut =
        text.parse().map_err(|e| format!("{FILE} cannot be read: {e}"))?;
    let word =
        KINDS.iter().find(|(kind, ..)| *kind == wanted.kind).map_or("run", |(_, word, _)| word);
    let tables = file.get_mut("source").and_then(|s| s.as_array_of_tables_mut());
    let Some(table) = tables.and_then(|all| {
        all.iter_mut().find(|t| t.get(word).and_then(|v| v.as_str()) == Some(wanted.what.as_str()))
    }) else {
        return Ok(());
    };
    if wanted.own.is_empty() {
        table.remove("own");
    } else {
        table["own"] = toml_edit::value(wanted.own.iter().collect::<toml_edit::Array>());
    }
    std::fs::write(&path, file.to_string())
        .map_err(|e| format!("{FILE} cannot be written: {}", izba_sources::plain_io(&e)))
}

/// What could be watched here, by what lies in the folder; the likeliest first.
pub fn offers(root: &Path) -> Vec<Wanted> {
    let mut offers: Vec<Wanted> = Vec::new();
    let scripts = std::fs::read_to_string(root.join("package.json"))
        .ok()
        .and_then(|t| serde_json::from_str::<serde_json::Value>(&t).ok());
    if let Some(scripts) = scripts.as_ref().and_then(|p| p["scripts"].as_object()) {
        let likely =
            ["start", "dev", "serve", "test"].into_iter().filter(|s| scripts.contains_key(*s));
        offers.extend(likely.take(2).map(|s| Wanted::new(Kind::Run, format!("npm run {s}"))));
    }
    let marks = [
        ("Cargo.toml", "cargo run"),
        ("go.mod", "go run ."),
        ("Makefile", "make"),
        ("pom.xml", "mvn test"),
        ("build.gradle", "gradle run"),
    ];
    offers.extend(
        marks
            .iter()
            .filter(|(mark, _)| root.join(mark).exists())
            .map(|(_, command)| Wanted::new(Kind::Run, *command)),
    );
    let main = [
        ("main.py", "python3"),
        ("app.py", "python3"),
        ("main.lua", "lua5.4"),
        ("main.js", "node"),
        ("index.js", "node"),
        ("server.js", "node"),
        ("main.rb", "ruby"),
        ("index.php", "php"),
        ("Main.java", "java"),
    ];
    offers.extend(
        main.iter()
            .filter(|(m, _)| root.join(m).exists())
            .map(|(m, with)| Wanted::new(Kind::Run, format!("{with} {m}"))),
    );
    let mut logs: Vec<(std::time::SystemTime, PathBuf)> = ["", "logs", "log"]
        .iter()
        .flat_map(|folder| std::fs::read_dir(root.join(folder)).into_iter().flatten().flatten())
        .filter(|e| e.path().extension().is_some_and(|x| x == "log"))
        .filter_map(|e| Some((e.metadata().ok()?.modified().ok()?, e.path())))
        .collect();
    logs.sort();
    let logs = logs.into_iter().rev().take(3);
    offers.extend(logs.map(|(_, path)| {
        Wanted::new(Kind::Follow, path.strip_prefix(root).unwrap_or(&path).to_string_lossy())
    }));
    offers.extend(
        ["index.html", "public/index.html"]
            .iter()
            .map(|p| root.join(p))
            .filter(|p| p.exists())
            .filter_map(|p| {
                Some(Wanted::new(
                    Kind::Page,
                    format!("file://{}", p.canonicalize().ok()?.display()),
                ))
            }),
    );
    offers.truncate(8);
    offers
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn what_is_typed_is_understood_and_kept_and_read_again() {
        let folder = tempfile::tempdir().expect("a folder");
        let root = folder.path();
        std::fs::write(root.join("tide.log"), "").expect("room");
        std::fs::write(
            root.join(FILE),
            "# mine\n[[source]]\nname = \"game\"\nrun = \"lua5.4 main.lua\"",
        )
        .expect("room");
        let read = |text: &str| Wanted::parse(text, root).map_or_else(|why| why, |w| w.phrase());
        insta::assert_snapshot!(["npm start", "tide.log", "logs/*.log", "http://localhost:8000/", "follow gone.log", "syslog", ""].map(read).join("\n"), @"
            run npm start
            follow tide.log
            follow logs/*.log
            page http://localhost:8000/
            follow gone.log
            behind “syslog” stands an address of this machine that takes syslog: 127.0.0.1:5514
            type what to watch: a command, a log file, or the address of a page
            ");
        let wanted = ["npm start", "tide.log", "run lua5.4 main.lua"]
            .map(|t| Wanted::parse(t, root).expect("sense"));
        assert_eq!(keep(root, &wanted), Ok(2));
        assert_eq!(keep(root, &wanted), Ok(0));
        insta::assert_snapshot!(std::fs::read_to_string(root.join(FILE)).expect("it was written"), @r#"
            # mine
            [[source]]
            name = "game"
            run = "lua5.4 main.lua"

            [[source]]
            run = "npm start"

            [[source]]
            follow = "tide.log"
            "#);
        assert_eq!(read_file(root).expect("it is one").len(), 3);
    }

    proptest! {
        #[test]
        fn whatever_is_typed_is_answered(text in "\\PC{0,40}") {
            if let Ok(wanted) = Wanted::parse(&text, Path::new("/nowhere")) {
                prop_assert!(toml::from_str::<Settings>(&wanted.to_toml()).is_ok());
            }
        }
    }
}
