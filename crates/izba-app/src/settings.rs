//! What the user sets once for all projects: `settings.toml` in the folder of settings of the user
//! (XDG), read at the start, changed by the sheet of settings or by hand. One more setting is one
//! line of [`KNOWN`] and who asks for it.

use crate::theme::{Depth, Theme};
use std::collections::BTreeMap;
use std::path::{Path, PathBuf};

/// A setting that there is.
#[derive(Debug)]
pub struct Known {
    /// Its name in the file.
    pub name: &'static str,
    /// What it sets, for people.
    pub says: &'static str,
    /// What it may be, each with what that means; the first is what holds where nothing is set.
    pub choices: &'static [(&'static str, &'static str)],
    /// What else it may be, said to somebody who wrote something wrong; nothing where that is all.
    pub or: Option<Or>,
}

/// What else a setting may be: whether a text is that, and how it is said.
type Or = (fn(&str) -> bool, &'static str);

/// All settings, in the order in which they are shown.
pub static KNOWN: &[Known] = &[
    Known {
        name: "theme",
        says: "Colours",
        choices: &[
            ("auto", "as the terminal says of itself"),
            ("dusk", "light on dark"),
            ("paper", "dark on light"),
            ("contrast", "strong, light on black"),
            ("sixteen", "the terminal's own 16, on a dark ground"),
            ("sixteen-light", "the terminal's own 16, on a light ground"),
            ("none", "no colours; signs and words do"),
        ],
        or: None,
    },
    Known {
        name: "screen",
        says: "Screen",
        choices: &[
            ("full", "drawn anew as things change"),
            ("lines", "one line after the other, for screen readers; from the next start"),
        ],
        or: None,
    },
    Known {
        name: "editor",
        says: "Editor",
        choices: &[("", "as VISUAL or EDITOR says, else one that is found")],
        or: Some((|text| !text.trim().is_empty(), "the command of an editor, such as \"vim\"")),
    },
    Known {
        name: "run-again",
        says: "Run again",
        choices: &[("key", "when you press a"), ("save", "whenever you save a file")],
        or: None,
    },
    Known {
        name: "bell",
        says: "Bell",
        choices: &[("off", "silent"), ("first", "the terminal's bell at the first error of a run")],
        or: None,
    },
    Known {
        name: "keep",
        says: "Keep output",
        choices: &[
            ("2 GB", "of all projects; the oldest runs go first"),
            ("500 MB", "of all projects; the oldest runs go first"),
            ("10 GB", "of all projects; the oldest runs go first"),
        ],
        or: Some((|text| bytes(text).is_some(), "a size such as \"500 MB\" or \"2 GB\"")),
    },
    Known {
        name: "language",
        says: "Language",
        choices: &[("en", "English; the words are data, so that others can be added")],
        or: None,
    },
];

/// What is set.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Settings {
    set: BTreeMap<&'static str, String>,
    /// Keys of commands: the command's label and its key.
    keys: BTreeMap<String, String>,
}

impl Settings {
    /// What `text` sets, and what is wrong in it, in sentences: that stays as if it was not set.
    pub fn parse(text: &str) -> (Settings, Vec<String>) {
        let mut settings = Settings::default();
        let table = match text.parse::<toml::Table>() {
            Ok(table) => table,
            Err(error) => {
                let line = error.span().map_or(1, |at| 1 + text[..at.start].matches('\n').count());
                return (settings, vec![format!("line {line}: {}", error.message())]);
            }
        };
        let mut wrong = Vec::new();
        for (name, value) in &table {
            let known = KNOWN.iter().find(|k| k.name == name);
            match (known, value) {
                (Some(known), toml::Value::String(text)) => match known.fits(text) {
                    true => drop(settings.set.insert(known.name, text.clone())),
                    false => wrong.push(format!("{name} can't be \"{text}\": {}", known.may_be())),
                },
                (Some(known), _) => wrong.push(format!("{name} wants {}", known.may_be())),
                (None, toml::Value::Table(keys)) if name == "keys" => {
                    wrong.extend(settings.take_keys(keys));
                }
                (None, _) => {
                    let all: Vec<&str> = KNOWN.iter().map(|k| k.name).collect();
                    wrong.push(format!("there is no setting {name}; there are {}", all.join(", ")));
                }
            }
        }
        (settings, wrong)
    }

    fn take_keys(&mut self, keys: &toml::Table) -> Vec<String> {
        let mut wrong = Vec::new();
        for (label, key) in keys {
            let visible = |c: char| !c.is_control() && !c.is_whitespace();
            let one = |key: &&str| key.chars().count() == 1 && key.chars().all(visible);
            match key.as_str().filter(one) {
                Some(key) => drop(self.keys.insert(label.clone(), key.to_owned())),
                None => {
                    wrong.push(format!("the key of \"{label}\" has to be one sign, such as \"R\""))
                }
            }
        }
        wrong
    }

    /// What is set under a name, or what holds without it.
    pub fn get(&self, name: &str) -> &str {
        let usual = KNOWN.iter().find(|k| k.name == name).map_or("", |k| k.choices[0].0);
        self.set.get(name).map_or(usual, String::as_str)
    }

    /// The same with another value; back to what holds without it where it is that.
    pub fn with(mut self, known: &'static Known, value: &str) -> Settings {
        if value == known.choices[0].0 {
            self.set.remove(known.name);
        } else {
            self.set.insert(known.name, value.to_owned());
        }
        self
    }

    /// The colours, in a terminal that says this of itself.
    pub fn theme(&self, terminal: Theme) -> Theme {
        // A choice of grounds keeps as many colours as there are.
        let rich = match terminal.depth {
            Depth::True => Depth::True,
            _ => Depth::Indexed,
        };
        match self.get("theme") {
            "dusk" => Theme::new(rich, false),
            "paper" => Theme::new(rich, true),
            "contrast" => Theme { contrast: true, ..Theme::new(rich, false) },
            "sixteen" => Theme::new(Depth::Sixteen, false),
            "sixteen-light" => Theme::new(Depth::Sixteen, true),
            "none" => Theme::new(Depth::None, false),
            _ => terminal,
        }
    }

    /// The command of the editor, if one is set.
    pub fn editor(&self) -> Option<&str> {
        Some(self.get("editor")).filter(|e| !e.is_empty())
    }

    /// Whether a program runs again whenever a file is saved.
    pub fn runs_on_save(&self) -> bool {
        self.get("run-again") == "save"
    }

    /// Whether the bell rings at the first error of a run.
    pub fn rings(&self) -> bool {
        self.get("bell") == "first"
    }

    /// How much output is kept, in bytes.
    pub fn budget(&self) -> u64 {
        bytes(self.get("keep")).unwrap_or(izba_sources::STORE_BUDGET)
    }

    /// Commands with other keys than usual: label and key.
    pub fn keys(&self) -> impl Iterator<Item = (&str, &str)> {
        self.keys.iter().map(|(label, key)| (label.as_str(), key.as_str()))
    }
}

impl Known {
    /// Whether it may be this.
    pub fn fits(&self, text: &str) -> bool {
        self.choices.iter().any(|(c, _)| *c == text) || self.or.is_some_and(|(fits, _)| fits(text))
    }

    fn may_be(&self) -> String {
        let named: Vec<String> = self
            .choices
            .iter()
            .filter(|(c, _)| !c.is_empty())
            .map(|(c, _)| format!("\"{c}\""))
            .collect();
        let or = self.or.map(|(_, words)| words.to_owned());
        named.into_iter().chain(or).collect::<Vec<_>>().join(", ")
    }
}

/// A size such as `500 MB`, in bytes; at least 10 MB, so that the run that goes on finds room.
fn bytes(text: &str) -> Option<u64> {
    let text = text.trim();
    let end = text.find(|c: char| !c.is_ascii_digit())?;
    let number: u64 = text[..end].parse().ok()?;
    let unit = match text[end..].trim() {
        "MB" => 1_000_000,
        "GB" => 1 << 30,
        _ => return None,
    };
    number.checked_mul(unit).filter(|b| *b >= 10_000_000)
}

/// Where the settings lie.
pub fn file() -> Option<PathBuf> {
    izba_sources::config_folder().map(|folder| folder.join("settings.toml"))
}

/// A longer file is none of settings, in bytes.
const CAP: u64 = 1 << 20;

/// Reads the file of settings, if it is there; what is wrong in it is said.
pub fn read(file: Option<&Path>) -> (Settings, Vec<String>) {
    let Some(file) = file.filter(|f| f.exists()) else { return (Settings::default(), Vec::new()) };
    let text = match std::fs::metadata(file).map(|m| m.len()) {
        Ok(len) if len > CAP => return (Settings::default(), vec![said(file, "it is too long")]),
        _ => std::fs::read_to_string(file),
    };
    match text {
        Ok(text) => {
            let (settings, wrong) = Settings::parse(&text);
            (settings, wrong.iter().map(|w| said(file, w)).collect())
        }
        Err(e) => (Settings::default(), vec![said(file, &izba_sources::plain_io(&e))]),
    }
}

fn said(file: &Path, what: &str) -> String {
    format!("{}: {what}", file.display())
}

/// Keeps one setting in the file, of which all else stays as it is.
///
/// # Errors
///
/// A sentence, when the file cannot be read as settings or not be written; it is as before then.
pub fn keep(file: &Path, known: &Known, value: &str) -> Result<(), String> {
    let text = match std::fs::read_to_string(file) {
        Ok(text) => text,
        Err(e) if e.kind() == std::io::ErrorKind::NotFound => String::new(),
        Err(e) => return Err(said(file, &izba_sources::plain_io(&e))),
    };
    let mut document = text.parse::<toml_edit::DocumentMut>().map_err(|_| {
        said(file, "it can't be read as it is, so nothing is kept in it; fix it first")
    })?;
    if value == known.choices[0].0 {
        document.remove(known.name);
    } else {
        document[known.name] = toml_edit::value(value);
    }
    let beside = file.with_extension("toml.new");
    let write = || {
        if let Some(folder) = file.parent() {
            std::fs::create_dir_all(folder)?;
        }
        std::fs::write(&beside, document.to_string())?;
        std::fs::rename(&beside, file)
    };
    write().map_err(|e: std::io::Error| said(file, &izba_sources::plain_io(&e)))
}

#[cfg(test)]
mod tests {
    use super::*;

    fn known(name: &str) -> &'static Known {
        KNOWN.iter().find(|k| k.name == name).expect("it is known")
    }

    #[test]
    fn what_is_set_holds_and_what_is_wrong_is_said_and_left_out() {
        let (settings, wrong) = Settings::parse(
            "theme = \"paper\"\neditor = \"vim -p\"\nkeep = \"500 MB\"\nbell = \"loud\"\nlamp = 3\n\
             [keys]\n\"run again\" = \"Z\"\n\"sail\" = \"Quay\"\n",
        );
        assert_eq!(settings.get("theme"), "paper");
        assert_eq!((settings.editor(), settings.budget()), (Some("vim -p"), 500_000_000));
        assert!(!settings.rings() && !settings.runs_on_save());
        assert_eq!(settings.keys().collect::<Vec<_>>(), [("run again", "Z")]);
        assert_eq!(wrong.len(), 3, "{wrong:?}");
        assert!(wrong.iter().any(|w| w.contains("bell can't be \"loud\": \"off\", \"first\"")));
        let (nothing, wrong) = Settings::parse("theme = \"paper\"\neditor = \n");
        assert_eq!((nothing, wrong.len()), (Settings::default(), 1));
        assert!(wrong[0].starts_with("line 2: "), "{wrong:?}");
    }

    #[test]
    fn one_setting_is_kept_and_the_rest_of_the_file_stays() {
        let folder = tempfile::tempdir().expect("a temporary folder");
        let file = folder.path().join("izba/settings.toml");
        keep(&file, known("theme"), "contrast").expect("room");
        let text = "# mine\nbell = \"first\" # loud\ntheme = \"paper\"\n";
        std::fs::write(&file, text).expect("room");
        keep(&file, known("theme"), "dusk").expect("room");
        let kept = std::fs::read_to_string(&file).expect("it is there");
        assert_eq!(kept, text.replace("paper", "dusk"));
        keep(&file, known("theme"), "auto").expect("room");
        assert_eq!(read(Some(&file)).0.get("theme"), "auto");
        std::fs::write(&file, "bell = [\n").expect("room");
        assert!(keep(&file, known("theme"), "dusk").is_err());
        assert_eq!(std::fs::read_to_string(&file).expect("it is there"), "bell = [\n");
    }

    #[test]
    fn sizes_are_read_and_none_is_too_small() {
        assert_eq!((bytes("2 GB"), bytes("500MB")), (Some(2 << 30), Some(500_000_000)));
        for wrong in ["1 MB", "GB", "2", "-2 GB", "99999999999999999999 GB", "2 TB"] {
            assert_eq!(bytes(wrong), None, "{wrong}");
        }
    }

    proptest::proptest! {
        #[test]
        fn no_file_is_too_odd_to_be_read(text in "[a-z =\"\\[\\]\n#.0-9]{0,80}") {
            let (settings, _) = Settings::parse(&text);
            proptest::prop_assert!(settings.budget() >= 10_000_000);
        }
    }
}
