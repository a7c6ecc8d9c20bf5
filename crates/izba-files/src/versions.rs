//! What a project uses besides its own code, with versions: as its lock files name them.

use std::path::Path;

/// Libraries that are noted at most.
const CAP: usize = 400;
/// A longer lock file is not read, in bytes.
const FILE_CAP: u64 = 8 << 20;

type Named = Vec<(String, String)>;

/// The name of a file, and the way to read it.
type Lock = (&'static str, fn(&str) -> Named);

/// Files that name versions, each with its way to be read.
const FILES: &[Lock] = &[
    ("Cargo.lock", in_tables),
    ("poetry.lock", in_tables),
    ("uv.lock", in_tables),
    ("package-lock.json", in_json),
    ("composer.lock", in_json),
    ("requirements.txt", in_lines),
    ("go.mod", in_lines),
    ("Gemfile.lock", in_lines),
];

/// The versions that the lock files in `root` name, by name; sorted.
pub fn versions(root: &Path) -> Vec<(String, String)> {
    let mut all = Vec::new();
    for (name, read) in FILES {
        if let Ok(text) = crate::read_text(&root.join(name), FILE_CAP) {
            all.extend(read(&text));
        }
    }
    all.sort();
    all.dedup();
    all.truncate(CAP);
    all
}

/// `name = "…"` and `version = "…"` one after the other.
fn in_tables(text: &str) -> Named {
    let (mut out, mut name) = (Vec::new(), None);
    for line in text.lines() {
        let value = |key: &str| {
            line.strip_prefix(key)?
                .trim_start()
                .strip_prefix('=')?
                .trim()
                .strip_prefix('"')?
                .strip_suffix('"')
                .map(str::to_owned)
        };
        name = value("name").or(name);
        if let Some(version) = value("version")
            && let Some(name) = name.take()
        {
            out.push((name, version));
        }
    }
    out
}

fn in_json(text: &str) -> Named {
    let Ok(all) = serde_json::from_str::<serde_json::Value>(text) else { return Vec::new() };
    let by_path = all["packages"]
        .as_object()
        .into_iter()
        .flatten()
        .filter(|(path, _)| !path.is_empty())
        .filter_map(|(path, package)| {
            let name = path.rsplit("node_modules/").next()?;
            Some((name.to_owned(), package["version"].as_str()?.to_owned()))
        });
    let listed = all["packages"].as_array().into_iter().flatten();
    let listed = listed
        .filter_map(|p| Some((p["name"].as_str()?.to_owned(), p["version"].as_str()?.to_owned())));
    by_path.chain(listed).collect()
}

/// A name and its version on one line: `name==1.2`, `name v1.2`, `name (1.2)`.
fn in_lines(text: &str) -> Named {
    let one = |line: &str| {
        let line = line.trim().trim_start_matches("require ");
        let (name, version) = line.split_once("==").or_else(|| line.split_once(' '))?;
        let version = version.trim().trim_matches(['(', ')']).split([' ', ';', '#']).next()?;
        let numbered = version.trim_start_matches('v').starts_with(|c: char| c.is_ascii_digit())
            && version.contains('.');
        (numbered && !name.is_empty() && !name.contains(' '))
            .then(|| (name.to_owned(), version.to_owned()))
    };
    text.lines().filter_map(one).collect()
}

/// Lines at the beginning of a console in which a program may tell its version.
const HEAD: usize = 5;

/// What a program tells of its own version in the first lines that it prints: a name of two words
/// or more and a number, or a number that is surely a version (`v1.4`, `1.4.2`, `name/1.4`).
pub fn told_versions(text: &str) -> Vec<(String, String)> {
    let mut all: Vec<(String, String)> = Vec::new();
    for line in text.lines().take(HEAD) {
        let words: Vec<&str> = line.split([' ', ',', ';', '(', ')', '|', '[', ']', '/']).collect();
        for (at, word) in words.iter().enumerate().skip(1) {
            let number = word.trim_start_matches('v').trim_end_matches('.');
            let parts = number.split('.').count();
            let is_number = parts >= 2
                && number.split('.').all(|p| {
                    !p.is_empty() && p.len() <= 4 && p.bytes().all(|b| b.is_ascii_digit())
                });
            if !is_number {
                continue;
            }
            let is_name = |w: &&&str| {
                w.len() > 1
                    && w.chars().all(|c| c.is_alphabetic() || matches!(c, '-' | '+' | '#' | '.'))
                    && w.chars().any(char::is_alphabetic)
            };
            let mut name: Vec<&str> =
                words[..at].iter().rev().take_while(is_name).take(3).copied().collect();
            name.reverse();
            name.retain(|w| !w.eq_ignore_ascii_case("version"));
            let sure = word.starts_with('v')
                || parts >= 3
                || name.len() >= 2
                || line.contains(&format!("/{word}"));
            if sure && !name.is_empty() && !all.iter().any(|(n, _)| *n == name.join(" ")) {
                all.push((name.join(" "), number.to_owned()));
            }
        }
    }
    all
}

#[cfg(test)]
mod tests {
    use super::{told_versions, versions};

    #[test]
    fn programs_tell_their_versions_when_they_begin() {
        let told = |text: &str| {
            told_versions(text)
                .into_iter()
                .map(|(n, v)| format!("{n} {v}"))
                .collect::<Vec<_>>()
                .join(", ")
        };
        assert_eq!(
            told("   0.000 | note  | engine | marsh engine 0.4, 30 ticks a second, seed 7"),
            "marsh engine 0.4"
        );
        assert_eq!(
            told("20:00:01 reed-loader v2.1.0 (java 17.0.9)\ntide 1.82\n"),
            "reed-loader 2.1.0, java 17.0.9"
        );
        assert_eq!(told("tide 1.82\ntook 3.25 s\nat 127.0.0.1:8000\n"), "");
    }

    #[test]
    fn lock_files_tell_versions() {
        let folder = tempfile::tempdir().expect("a temporary folder");
        let write =
            |name: &str, text: &str| std::fs::write(folder.path().join(name), text).expect("room");
        write("Cargo.lock", "[[package]]\nname = \"tide\"\nversion = \"0.3.1\"\n");
        write(
            "package-lock.json",
            r#"{"packages": {"": {"version": "1.0.0"}, "node_modules/fog": {"version": "2.4.0"}}}"#,
        );
        write("requirements.txt", "# none\nbell==1.9.2 ; python_version > '3'\n");
        write("go.mod", "module ferry\n\nrequire (\n\tmarsh.example/jetty v1.4.0\n)\n");
        let found = versions(folder.path())
            .into_iter()
            .map(|(n, v)| format!("{n} {v}"))
            .collect::<Vec<_>>();
        assert_eq!(found, ["bell 1.9.2", "fog 2.4.0", "marsh.example/jetty v1.4.0", "tide 0.3.1"]);
    }
}
