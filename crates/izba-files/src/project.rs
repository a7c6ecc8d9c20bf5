//! The project on disk: where it begins, and its own files as they are now.

use crate::ordinary;
use crate::walk::Walk;
use izba_model::{Project, ProjectFile};
use std::ffi::OsStr;
use std::ops::ControlFlow;
use std::path::{Path, PathBuf};

/// A larger file is listed without its text.
const FILE_CAP: u64 = 1 << 20;
/// More files than this are somebody else's, whatever they are called.
const FILES_CAP: usize = 20_000;
/// Text kept in all.
const TEXT_CAP: u64 = 64 << 20;

/// Entries of a folder among which a mark is looked for.
const LOOKED_AT: usize = 5_000;

/// Names that begin a project, besides version control.
const MARKS: &[&str] = &[
    "izba.toml",
    ".git",
    ".hg",
    ".svn",
    "package.json",
    "Cargo.toml",
    "pom.xml",
    "build.gradle",
    "build.gradle.kts",
    "pyproject.toml",
    "setup.py",
    "CMakeLists.txt",
    "Makefile",
    "go.mod",
    "composer.json",
    "Gemfile",
];

/// Folders that hold what was fetched or built.
const NOT_OWN: &[&str] = &[
    "node_modules",
    "target",
    "build",
    "dist",
    "bin",
    "obj",
    "out",
    "vendor",
    "third_party",
    "venv",
    "__pycache__",
    "site-packages",
];

/// Endings of files that are no source.
const NO_SOURCE: &[&str] =
    &["log", "zip", "gz", "class", "exe", "dll", "so", "o", "pyc", "mdb", "pdb", "db"];

/// Endings of pictures and sounds: they are listed, since code and data name them, but never read.
const RESOURCES: &[&str] =
    &["png", "jpg", "jpeg", "gif", "bmp", "webp", "ogg", "wav", "mp3", "flac", "ttf", "otf", "mp4"];

/// The folder of the project that `start` belongs to: the nearest one upwards with a mark, else
/// `start` itself. Marks in folders in which others may write lead nowhere, unless one works there.
pub fn find_root(start: &Path) -> PathBuf {
    let start = start.canonicalize().unwrap_or_else(|_| start.to_owned());
    let home = std::env::var_os("HOME").map(PathBuf::from);
    let marked = |folder: &&Path| {
        MARKS.iter().any(|mark| folder.join(mark).exists())
            || std::fs::read_dir(folder).is_ok_and(|d| {
                d.flatten()
                    .take(LOOKED_AT)
                    .any(|e| e.path().extension().is_some_and(|x| x == "csproj" || x == "sln"))
            })
    };
    let found = start
        .ancestors()
        .take_while(|f| Some(*f) != home.as_deref() && f.parent().is_some())
        .take_while(|f| **f == start || crate::owner::leads(f))
        .find(marked);
    found.unwrap_or(&start).to_owned()
}

/// Reads the own files below `root` as they are now.
///
/// What `.gitignore` leaves out, what was fetched or built, hidden files, and what cannot be read,
/// is not own.
pub fn scan(root: &Path) -> Project {
    let root = root.canonicalize().unwrap_or_else(|_| root.to_owned());
    let mut files = Vec::new();
    let mut kept = 0u64;
    let enters = |name: &OsStr| !NOT_OWN.iter().any(|n| name == *n);
    Walk { enters: &enters, lists: true, depth: usize::MAX }.files(&root, &mut |path| {
        if files.len() == FILES_CAP {
            return ControlFlow::Break(());
        }
        let cap = FILE_CAP.min(TEXT_CAP - kept);
        if let Some(file) = scan_within(&root, path, cap) {
            kept += file.text.as_ref().map_or(0, |t| t.len() as u64);
            files.push(file);
        }
        ControlFlow::Continue(())
    });
    let maps = read_maps(&find_maps(&root));
    Project::new(root.to_string_lossy(), files)
        .with_bundles(maps)
        .with_library(crate::libraries::library_names(&root))
}

/// More maps than this are not read.
const MAPS_CAP: usize = 200;
/// A larger map is not read, in bytes.
const MAP_CAP: u64 = 16 << 20;
/// More than this is not read of all maps together, in bytes.
const MAPS_BYTES: u64 = 48 << 20;

/// A source map on disk: the script it belongs to (below the project), its file, and when it was
/// written.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct FoundMap {
    script: String,
    path: PathBuf,
    written: Option<std::time::SystemTime>,
    bytes: u64,
}

/// The source maps below `root`, also in folders that hold what was built, but not in those of
/// fetched libraries.
///
/// Told apart by path, size and time of writing, so that two lists are equal as long as nothing was
/// built anew.
pub fn find_maps(root: &Path) -> Vec<FoundMap> {
    let root = &root.canonicalize().unwrap_or_else(|_| root.to_owned());
    let fetched = [
        "node_modules",
        "vendor",
        "third_party",
        "venv",
        "site-packages",
        "target",
        "obj",
        "__pycache__",
    ];
    let enters = |name: &OsStr| {
        let name = name.to_string_lossy();
        !name.starts_with('.') && !fetched.contains(&&*name)
    };
    let (mut found, mut seen, mut bytes) = (Vec::new(), 0, 0);
    Walk { enters: &enters, lists: false, depth: 8 }.files(root, &mut |path| {
        seen += 1;
        if let Some(map) = map_at(root, path)
            && bytes + map.bytes <= MAPS_BYTES
        {
            bytes += map.bytes;
            found.push(map);
        }
        match seen < FILES_CAP && found.len() < MAPS_CAP {
            true => ControlFlow::Continue(()),
            false => ControlFlow::Break(()),
        }
    });
    found
}

fn map_at(root: &Path, path: &Path) -> Option<FoundMap> {
    let script = path.to_str()?.strip_suffix(".map").filter(|p| p.ends_with("js"))?;
    let meta = path.metadata().ok()?;
    let script = Path::new(script).strip_prefix(root).ok()?;
    (meta.len() <= MAP_CAP).then(|| FoundMap {
        script: script.to_string_lossy().replace('\\', "/"),
        path: path.to_owned(),
        written: meta.modified().ok(),
        bytes: meta.len(),
    })
}

/// The texts of maps, each with the script that it belongs to.
pub fn read_maps(found: &[FoundMap]) -> Vec<(std::sync::Arc<str>, std::sync::Arc<str>)> {
    found
        .iter()
        .filter_map(|map| {
            let text = ordinary::read_text(&map.path, MAP_CAP).ok()?;
            Some((map.script.as_str().into(), text.into()))
        })
        .collect()
}

/// Reads one own file; `None` when it is not below `root`, or no source.
pub fn scan_file(root: &Path, path: &Path) -> Option<ProjectFile> {
    scan_within(root, path, FILE_CAP)
}

/// [`scan_file`], which leaves out the text when it is longer than `cap` bytes.
fn scan_within(root: &Path, path: &Path, cap: u64) -> Option<ProjectFile> {
    let relative = path.strip_prefix(root).ok()?;
    let ending = path.extension().and_then(|e| e.to_str()).unwrap_or("").to_ascii_lowercase();
    if NO_SOURCE.contains(&ending.as_str()) {
        return None;
    }
    if !std::fs::symlink_metadata(path).ok()?.is_file() {
        return None;
    }
    let is_read = !RESOURCES.contains(&ending.as_str());
    let bytes = is_read.then(|| ordinary::read(path, cap).ok()).flatten();
    let text =
        bytes.filter(|b| !b.contains(&0)).map(|b| String::from_utf8_lossy(&b).as_ref().into());
    let path = relative
        .components()
        .map(|c| c.as_os_str().to_string_lossy())
        .collect::<Vec<_>>()
        .join("/");
    Some(ProjectFile { path: path.into(), text })
}
