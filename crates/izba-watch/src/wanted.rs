//! What is to be watched, as people name it: in `izba.toml`, on the screen, and as offers of what
//! fits a folder.

use crate::collector::Tell;
use crate::kinds::{FOLLOW, KINDS, Named, PAGE, RUN, Wanted};
use serde::Deserialize;
use std::path::{Path, PathBuf};

/// The file in the project's folder that names what is watched.
pub const FILE: &str = "izba.toml";

impl Wanted {
    /// Reads what somebody typed: a kind and what to watch, or just a command, file or address of a
    /// page.
    ///
    /// # Errors
    ///
    /// A sentence, when nothing can be made of it.
    pub fn parse(text: &str, root: &Path) -> Result<Wanted, String> {
        let text = text.trim();
        let (first, rest) = text.split_once(char::is_whitespace).unwrap_or((text, ""));
        if let Some(kind) = KINDS.iter().find(|kind| kind.word == first) {
            return if rest.trim().is_empty() {
                Err(format!("behind “{}” stands {}", kind.word, kind.what))
            } else {
                Ok(Wanted::new(kind, rest.trim()))
            };
        }
        if text.is_empty() {
            return Err(
                "type what to watch: a command, a log file, or the address of a page".into()
            );
        }
        let one_word = rest.is_empty();
        if one_word && text.contains("://") {
            return Ok(Wanted::new(PAGE, text));
        }
        if one_word
            && (root.join(text).is_file() && text.ends_with("log")
                || text.contains('*')
                || root.join(text).is_dir())
        {
            return Ok(Wanted::new(FOLLOW, text));
        }
        Ok(Wanted::new(RUN, text))
    }

    /// How the source is typed when it is added.
    pub fn phrase(&self) -> String {
        format!("{} {}", self.kind.word, self.what)
    }

    fn to_toml(&self) -> String {
        let mut table = toml::Table::new();
        if let Some(name) = &self.name {
            table.insert("name".into(), name.clone().into());
        }
        table.insert(self.kind.word.into(), self.what.clone().into());
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

#[derive(Deserialize, Default)]
#[serde(deny_unknown_fields)]
struct Settings {
    #[serde(default)]
    source: Vec<Named>,
    /// Names that an engine brings: those who look for slips read them.
    #[serde(default, rename = "names")]
    _names: Vec<String>,
    /// Who is told of errors.
    tell: Option<Tell>,
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

/// The text of the project's file; none when there is no file.
///
/// # Errors
///
/// When it is there and cannot be read.
pub fn text(root: &Path) -> Result<Option<String>, Refused> {
    match izba_files::read_text(&root.join(FILE), izba_files::SETTINGS_CAP) {
        Ok(text) => Ok(Some(text)),
        Err(e) if e.kind() == std::io::ErrorKind::NotFound => Ok(None),
        Err(e) => {
            let why = izba_sources::plain_io(&e);
            Err(Refused::new(format!("{FILE} in {} cannot be read: {why}", root.display())))
        }
    }
}

/// The sources that the project's file names; none when there is no file. What they would do has
/// to be allowed first: [`crate::trust::look`].
///
/// # Errors
///
/// When the file cannot be read as one: what is wrong, and in which line.
fn read_file(root: &Path) -> Result<Vec<Wanted>, Refused> {
    text(root)?.map_or_else(|| Ok(Vec::new()), |text| parse_settings(&text, root))
}

/// The sources that a text names as settings of the project in `root`.
///
/// # Errors
///
/// What is wrong, and in which line.
pub fn parse_settings(text: &str, root: &Path) -> Result<Vec<Wanted>, Refused> {
    parse(text, root).map(|(sources, _)| sources)
}

/// The same, with who is told of errors.
pub(crate) fn parse(text: &str, root: &Path) -> Result<(Vec<Wanted>, Option<Tell>), Refused> {
    let settings: Settings = toml::from_str(text).map_err(|e| {
        let line =
            e.span().map_or(1, |span| 1 + text[..span.start.min(text.len())].matches('\n').count());
        let hint = "a source looks like this: [[source]] name = \"game\" run = \"lua5.4 main.lua\"";
        Refused::new(format!(
            "{FILE}, line {line}: {}",
            e.message().lines().next().unwrap_or_default()
        ))
        .hint(hint)
    })?;
    let one = |mut source: Named| -> Result<Wanted, String> {
        let mut named = source.kinds().into_iter();
        let kinds = KINDS.iter().map(|kind| kind.word).collect::<Vec<_>>().join(", ");
        let (kind, what) =
            named.next().ok_or_else(|| format!("it says not what to watch: one of {kinds}"))?;
        if named.next().is_some() {
            return Err(format!("it names several things to watch; each source is one of {kinds}"));
        }
        let Named {
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
        if adapter.is_some() && kind != RUN {
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
    let refused = |why: String| Refused::new(format!("{FILE}, [tell]: {why}"));
    let tell = settings.tell.map(|t| Tell::new(&t.to, t.name)).transpose().map_err(refused)?;
    let numbered = settings.source.into_iter().enumerate();
    let sources = numbered
        .map(|(at, source)| {
            one(source).map_err(|why| Refused::new(format!("{FILE}, source {}: {why}", at + 1)))
        })
        .collect::<Result<_, _>>()?;
    Ok((sources, tell))
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
    let mut text = text(root).map_err(|e| e.text)?.unwrap_or_default();
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
    let Some(text) = text(root).map_err(|e| e.text)? else { return Ok(()) };
    let mut file: toml_edit::DocumentMut =
        text.parse().map_err(|e| format!("{FILE} cannot be read: {e}"))?;
    let word = wanted.kind.word;
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

/// Entries of the folders of logs that are looked at for offers.
const LOOKED_AT: usize = 5_000;

/// What could be watched here, by what lies in the folder; the likeliest first.
pub fn offers(root: &Path) -> Vec<Wanted> {
    let mut offers: Vec<Wanted> = Vec::new();
    let scripts = izba_files::read_text(&root.join("package.json"), izba_files::SETTINGS_CAP)
        .ok()
        .and_then(|t| serde_json::from_str::<serde_json::Value>(&t).ok());
    if let Some(scripts) = scripts.as_ref().and_then(|p| p["scripts"].as_object()) {
        let likely =
            ["start", "dev", "serve", "test"].into_iter().filter(|s| scripts.contains_key(*s));
        offers.extend(likely.take(2).map(|s| Wanted::new(RUN, format!("npm run {s}"))));
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
            .map(|(_, command)| Wanted::new(RUN, *command)),
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
            .map(|(m, with)| Wanted::new(RUN, format!("{with} {m}"))),
    );
    let mut logs: Vec<(std::time::SystemTime, PathBuf)> = ["", "logs", "log"]
        .iter()
        .flat_map(|folder| std::fs::read_dir(root.join(folder)).into_iter().flatten().flatten())
        .take(LOOKED_AT)
        .filter(|e| e.path().extension().is_some_and(|x| x == "log"))
        .filter_map(|e| Some((e.metadata().ok()?.modified().ok()?, e.path())))
        .collect();
    logs.sort();
    let logs = logs.into_iter().rev().take(3);
    offers.extend(logs.map(|(_, path)| {
        Wanted::new(FOLLOW, path.strip_prefix(root).unwrap_or(&path).to_string_lossy())
    }));
    offers.extend(
        ["index.html", "public/index.html"]
            .iter()
            .map(|p| root.join(p))
            .filter(|p| p.exists())
            .filter_map(|p| {
                Some(Wanted::new(PAGE, format!("file://{}", p.canonicalize().ok()?.display())))
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
        // Names that are taught there too are no mistake.
        assert!(parse_settings("names = [\"onTick\"]\n", root).expect("it is one").is_empty());
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
