//! What `izba check` says of code that works and that nobody here wrote: packages from the
//! registries of three languages are fetched once into a folder, and each remark on them is counted
//! as false until somebody has looked at it.
//!
//! Nothing of them is kept in the repository. Remarks are left in `remarks.jsonl` of the folder, to
//! be read one by one.

use crate::{Outcome, say};
use serde_json::{Value, json};
use std::collections::BTreeMap;
use std::fs;
use std::path::{Path, PathBuf};
use std::process::{Command, Stdio};

const USAGE: &str = "healthy FOLDER IZBA";

/// A language, how a package of it is fetched and unpacked, and the packages.
struct Shelf {
    language: &'static str,
    fetch: fn(name: &str, into: &Path) -> Outcome,
    packages: &'static [&'static str],
}

const SHELVES: &[Shelf] = &[
    Shelf {
        language: "python",
        fetch: wheel,
        packages: &[
            "requests==2.32.3",
            "click==8.1.7",
            "flask==3.0.3",
            "jinja2==3.1.4",
            "werkzeug==3.0.4",
            "packaging==24.1",
            "attrs==24.2.0",
            "tomli==2.0.1",
            "idna==3.8",
            "urllib3==2.2.2",
            "more-itertools==10.4.0",
            "networkx==3.3",
            "sympy==1.13.2",
            "docutils==0.21.2",
            "pygments==2.18.0",
            "markdown==3.7",
            "python-dateutil==2.9.0.post0",
            "beautifulsoup4==4.12.3",
            "tabulate==0.9.0",
            "arcade==2.6.17",
        ],
    },
    Shelf {
        language: "javascript",
        fetch: tarball,
        packages: &[
            "lodash@4.17.21",
            "express@4.19.2",
            "commander@12.1.0",
            "yargs@17.7.2",
            "semver@7.6.3",
            "moment@2.30.1",
            "underscore@1.13.7",
            "async@3.2.6",
            "uuid@10.0.0",
            "chalk@5.3.0",
            "minimist@1.2.8",
            "three@0.168.0",
            "ramda@0.30.1",
            "matter-js@0.20.0",
            "d3-shape@3.2.0",
            "marked@14.1.0",
            "handlebars@4.7.8",
            "ws@8.18.0",
            "body-parser@1.20.2",
            "qs@6.13.0",
        ],
    },
    Shelf {
        language: "java",
        fetch: debian_source,
        packages: &[
            "commons-csv",
            "commons-io",
            "libcommons-lang3-java",
            "libcommons-codec-java",
            "libcommons-collections4-java",
            "commons-math3",
            "libcommons-compress-java",
            "jsoup",
            "args4j",
            "opencsv",
            "jcommander",
            "picocli",
            "libjoda-time-java",
            "jackson-core",
            "jackson-databind",
            "libhamcrest-java",
            "libcommons-lang-java",
            "libcommons-collections3-java",
            "libjdom2-java",
            "guava-libraries",
        ],
    },
];

pub fn run(words: &[String]) -> Outcome {
    let [folder, izba] = words else {
        return Err(USAGE.into());
    };
    let folder = Path::new(folder);
    let izba = fs::canonicalize(izba).map_err(|e| format!("{izba}: {e}"))?;
    let mut kept = String::new();
    for shelf in SHELVES {
        let (mut there, mut files, mut remarks) = (0, 0, 0);
        let mut kinds: BTreeMap<String, u64> = BTreeMap::new();
        for name in shelf.packages {
            let into = folder.join(shelf.language).join(name);
            if !into.is_dir()
                && let Err(why) = fetch(shelf, name, &into)
            {
                say(&format!("{name} cannot be fetched: {why}"));
                continue;
            }
            there += 1;
            files += files_of(&into);
            for remark in check(&izba, &into)? {
                remarks += 1;
                let kind = remark["check"].as_str().unwrap_or("?").to_owned();
                *kinds.entry(kind).or_default() += 1;
                kept.push_str(&json!({ "package": name, "remark": remark }).to_string());
                kept.push('\n');
            }
        }
        let per_thousand = 1000.0 * f64::from(remarks) / f64::from(files.max(1));
        say(&format!(
            "{:<11} {there} packages, {files} files, {remarks} remarks: {per_thousand:.1} in 1,000 \
             files  {kinds:?}",
            shelf.language
        ));
    }
    let page = folder.join("remarks.jsonl");
    fs::write(&page, kept).map_err(|e| format!("{}: {e}", page.display()))
}

/// Fetches into a folder beside, and moves it in place when it is whole.
fn fetch(shelf: &Shelf, name: &str, into: &Path) -> Outcome {
    let half = into.with_extension("half");
    fs::remove_dir_all(&half).ok();
    fs::create_dir_all(&half).map_err(|e| e.to_string())?;
    (shelf.fetch)(name, &half)?;
    fs::rename(&half, into).map_err(|e| e.to_string())
}

fn wheel(name: &str, into: &Path) -> Outcome {
    quiet("pip", &["download", "-q", "--no-deps", "--only-binary", ":all:", name], into)?;
    let file = first_with(into, "whl")?;
    quiet("python3", &["-m", "zipfile", "-e", &file.to_string_lossy(), "."], into)?;
    fs::remove_file(file).map_err(|e| e.to_string())
}

fn tarball(name: &str, into: &Path) -> Outcome {
    quiet("npm", &["pack", "--silent", name], into)?;
    unpack(&first_with(into, "tgz")?, into)
}

/// The upstream source of a Debian package: signatures and Debian's own changes do not matter.
fn debian_source(name: &str, into: &Path) -> Outcome {
    let here = into.canonicalize().map_err(|e| e.to_string())?;
    let lists = std::env::temp_dir().join("izba-healthy-lists");
    fs::create_dir_all(lists.join("partial")).map_err(|e| e.to_string())?;
    let list = lists.join("sources.list");
    fs::write(&list, "deb-src http://deb.debian.org/debian bookworm main\n")
        .map_err(|e| e.to_string())?;
    let options = [
        format!("-oDir::Etc::sourcelist={}", list.display()),
        "-oDir::Etc::sourceparts=/dev/null".to_owned(),
        format!("-oDir::State::lists={}", lists.display()),
    ];
    let apt = |words: &[&str]| {
        let all: Vec<&str> =
            options.iter().map(String::as_str).chain(words.iter().copied()).collect();
        quiet("apt-get", &all, &here)
    };
    if !lists.join("fetched").is_file() {
        apt(&["update"])?;
        fs::write(lists.join("fetched"), "").map_err(|e| e.to_string())?;
    }
    // It fails when one of its files is gone from the mirror; the source may be there all the same.
    let fetched = apt(&["source", "--download-only", name]);
    let source = files_in(&here).into_iter().find(|p| p.to_string_lossy().contains(".orig.tar"));
    match source {
        Some(source) => unpack(&source, into),
        None => fetched.and(Err("it has no source".into())),
    }
}

fn unpack(archive: &Path, into: &Path) -> Outcome {
    quiet("tar", &["xf", &archive.to_string_lossy()], into)?;
    fs::remove_file(archive).map_err(|e| e.to_string())
}

fn quiet(program: &str, words: &[&str], within: &Path) -> Outcome {
    let done = Command::new(program)
        .args(words)
        .current_dir(within)
        .stdin(Stdio::null())
        .output()
        .map_err(|e| format!("{program} could not be started: {e}"))?;
    if done.status.success() {
        return Ok(());
    }
    let told = String::from_utf8_lossy(&done.stderr).into_owned();
    Err(format!("{program}: {}", told.lines().last().unwrap_or("it failed")))
}

fn files_in(folder: &Path) -> Vec<PathBuf> {
    let entries = fs::read_dir(folder).into_iter().flatten();
    entries.filter_map(|e| Some(e.ok()?.path())).collect()
}

fn first_with(folder: &Path, ending: &str) -> Result<PathBuf, String> {
    let found = files_in(folder).into_iter().find(|p| p.extension().is_some_and(|e| e == ending));
    let name = found.ok_or_else(|| format!("no .{ending} was fetched"))?;
    name.canonicalize().map_err(|e| e.to_string())
}

/// Files of code and data under a folder, told by their endings.
fn files_of(folder: &Path) -> u32 {
    const READ: [&str; 12] = [
        "py",
        "js",
        "mjs",
        "cjs",
        "ts",
        "java",
        "html",
        "css",
        "json",
        "xml",
        "toml",
        "properties",
    ];
    files_in(folder)
        .into_iter()
        .map(|path| {
            let is_read = || path.extension().is_some_and(|e| READ.iter().any(|known| e == *known));
            if path.is_dir() { files_of(&path) } else { u32::from(is_read()) }
        })
        .sum()
}

fn check(izba: &Path, project: &Path) -> Result<Vec<Value>, String> {
    let answer = Command::new(izba)
        .args(["check", "--as", "jsonl", "--project"])
        .arg(project)
        .stdin(Stdio::null())
        .output()
        .map_err(|e| format!("{}: {e}", izba.display()))?;
    if answer.status.code().is_none_or(|code| code > 1) {
        let why = String::from_utf8_lossy(&answer.stderr).into_owned();
        return Err(format!("{}: {why}", project.display()));
    }
    let text = String::from_utf8_lossy(&answer.stdout).into_owned();
    text.lines()
        .map(|line| serde_json::from_str(line).map_err(|e| format!("{line}: {e}")))
        .collect()
}
