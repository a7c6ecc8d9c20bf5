//! The developer's own files, as they were at one moment, and the way from a printed file name to
//! one of them.

use crate::bundle::Bundle;
use crate::text::base_name;
use std::collections::{HashMap, HashSet};
use std::sync::{Arc, OnceLock};

/// One file of the project, with its text where that can be read.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct ProjectFile {
    /// Path relative to the project, with `/`.
    pub path: Arc<str>,
    /// Its text; `None` when too large or not text.
    pub text: Option<Arc<str>>,
}

/// The project as it was at one moment: a value, shared and never changed.
#[derive(Debug, Clone, Default)]
pub struct Project {
    /// Absolute path of the folder, with `/`.
    root: String,
    files: Vec<ProjectFile>,
    by_name: HashMap<Box<str>, Vec<u32>>,
    bundles: Arc<[Bundle]>,
    /// Names that the installed libraries offer.
    library: Arc<[Box<str>]>,
    /// Words of all texts, gathered when they are asked for.
    words: OnceLock<Arc<HashSet<Box<str>>>>,
}

/// Words of a project that are known by name, and bytes of a text that is looked into.
const WORDS: usize = 400_000;
const WORDY: usize = 1 << 20;

/// Folders that mark code as somebody else's wherever they stand in a printed path.
const OUTSIDE: &[&str] = &[
    "/usr/lib/",
    "/usr/share/",
    "/lib/python",
    "/site-packages/",
    "/dist-packages/",
    "/node_modules/",
    "/registry/src/",
    "/rustc/",
    "/mono/",
    "<frozen",
    "node:",
    "internal/modules/",
];

impl Project {
    /// A project at `root` (absolute) with these own files.
    pub fn new(root: impl Into<String>, mut files: Vec<ProjectFile>) -> Project {
        files.sort_by(|a, b| a.path.cmp(&b.path));
        let mut by_name: HashMap<Box<str>, Vec<u32>> = HashMap::new();
        for (index, file) in files.iter().enumerate() {
            by_name.entry(base_name(&file.path).into()).or_default().push(index as u32);
        }
        Project {
            root: root.into().trim_end_matches('/').to_owned(),
            files,
            by_name,
            bundles: Arc::default(),
            library: Arc::default(),
            words: OnceLock::new(),
        }
    }

    /// Whether a word stands anywhere in the texts of the project, code or data.
    pub fn has_word(&self, word: &str) -> bool {
        self.words.get_or_init(|| Arc::new(self.all_words())).contains(word)
    }

    fn all_words(&self) -> HashSet<Box<str>> {
        let mut words = HashSet::new();
        let texts = self.files.iter().filter_map(|f| f.text.as_deref());
        for text in texts.filter(|t| t.len() <= WORDY) {
            for word in text.split(|c: char| !c.is_alphanumeric() && c != '_') {
                if (2..=40).contains(&word.len()) && words.len() < WORDS && !words.contains(word) {
                    words.insert(word.into());
                }
            }
        }
        words
    }

    /// Absolute path of the folder.
    pub fn root(&self) -> &str {
        &self.root
    }

    /// The same project, as it lies in another folder.
    #[must_use]
    pub fn at(mut self, root: &str) -> Project {
        self.root = root.trim_end_matches('/').to_owned();
        self
    }

    /// The same project, with bundled scripts (paths below it) and the texts of their source maps.
    #[must_use]
    pub fn with_bundles(&self, maps: Vec<(Arc<str>, Arc<str>)>) -> Project {
        Project {
            bundles: maps.into_iter().map(|(path, text)| Bundle::new(path, text)).collect(),
            ..self.clone()
        }
    }

    /// The same project, with the names that its installed libraries offer.
    #[must_use]
    pub fn with_library(&self, names: impl IntoIterator<Item = Box<str>>) -> Project {
        let mut library: Vec<Box<str>> = names.into_iter().collect();
        library.sort_unstable();
        library.dedup();
        Project { library: library.into(), ..self.clone() }
    }

    /// Names that the installed libraries offer: functions, types and members, sorted, each once.
    pub fn library(&self) -> &Arc<[Box<str>]> {
        &self.library
    }

    /// The own place behind a printed one that lies in a bundle: path, line, and column in UTF-16
    /// units, both from 1.
    ///
    /// Of several bundles of that name the one that shares most of the printed path is meant; with
    /// a draw none.
    pub fn written(&self, printed: &str, line: u32, column: u32) -> Option<(Arc<str>, u32, u32)> {
        let printed = printed.replace('\\', "/");
        let printed = printed.split(['?', '#']).next()?;
        let printed = printed
            .split_once("://")
            .map_or(printed, |(_, rest)| rest.split_once('/').map_or(rest, |(_, path)| path));
        let shared = |bundle: &Bundle| {
            let shared = shared_tail(printed, bundle.path());
            let whole = shared == bundle.path().split('/').count()
                || shared == printed.trim_start_matches('/').split('/').count();
            (whole && shared > 0).then_some(shared)
        };
        let most = self.bundles.iter().filter_map(shared).max()?;
        let mut fitting = self.bundles.iter().filter(|b| shared(b) == Some(most));
        let bundle = fitting.next()?;
        if fitting.next().is_some() {
            return None;
        }
        let (path, line, column) = bundle.written(line, column)?;
        self.file(&path).map(|f| (f.path.clone(), line, column))
    }

    /// The folder's own name, shown in the bar.
    pub fn name(&self) -> &str {
        base_name(&self.root)
    }

    /// The own files, sorted by path.
    pub fn files(&self) -> &[ProjectFile] {
        &self.files
    }

    /// The own file with exactly this relative path.
    pub fn file(&self, path: &str) -> Option<&ProjectFile> {
        let at = self.files.binary_search_by(|f| f.path.as_ref().cmp(path)).ok()?;
        self.files.get(at)
    }

    /// Text of line `line` (from 1) of the own file `path`.
    pub fn line(&self, path: &str, line: u32) -> Option<&str> {
        let text = self.file(path)?.text.as_deref()?;
        text.lines().nth((line as usize).checked_sub(1)?)
    }

    /// The same project with these files as they are now; `None` as text source takes a file away.
    pub fn with_changes(&self, changed: Vec<ProjectFile>, gone: &[Arc<str>]) -> Project {
        let mut files: Vec<ProjectFile> = self
            .files
            .iter()
            .filter(|f| !gone.contains(&f.path) && !changed.iter().any(|c| c.path == f.path))
            .cloned()
            .collect();
        files.extend(changed);
        Project {
            bundles: self.bundles.clone(),
            library: self.library.clone(),
            ..Project::new(self.root.clone(), files)
        }
    }

    /// Paths of the own files whose text is another than in `before`, or that are in one of both
    /// alone.
    pub fn changed_since(&self, before: &Project) -> Vec<String> {
        if std::ptr::eq(self, before) {
            return Vec::new();
        }
        let same = |a: &ProjectFile, b: &ProjectFile| match (&a.text, &b.text) {
            (Some(a), Some(b)) => Arc::ptr_eq(a, b) || a == b,
            (None, None) => true,
            _ => false,
        };
        let changed =
            self.files.iter().filter(|f| !before.file(&f.path).is_some_and(|b| same(f, b)));
        let gone = before.files.iter().filter(|f| self.file(&f.path).is_none());
        changed.chain(gone).map(|f| f.path.to_string()).collect()
    }

    /// The own file that a console means by `printed`, whatever folders it prints before it.
    ///
    /// Either the printed path ends with the whole own path, or the own path ends with the whole
    /// printed one; a name cut on the left (`...pts/lantern.lua`) has to match by its last
    /// characters. Of several that fit, the one that shares most wins; with a draw there is no
    /// answer rather than a guess.
    pub fn find(&self, printed: &str) -> Option<Arc<str>> {
        match self.find_all(printed).as_slice() {
            [one] => Some(one.clone()),
            _ => None,
        }
    }

    /// All own files that a console may mean by `printed`: those of [`Project::find`] between which
    /// nothing decides.
    pub fn find_all(&self, printed: &str) -> Vec<Arc<str>> {
        // What a server gives for the address of a folder.
        if let Some(folder) = page_of_folder(printed) {
            let mut found = self.find_all(&folder);
            found.retain(|f| f.ends_with(folder.as_str()));
            return found;
        }
        // Nearly all that is asked for is outside: a name that no file here has.
        let name = printed.rsplit(['/', '\\']).next().unwrap_or(printed).trim_start_matches('@');
        let name = name.split(['?', '#']).next().unwrap_or(name);
        if !self.by_name.contains_key(name) && !printed.starts_with("...") {
            return Vec::new();
        }
        let unified = printed.replace('\\', "/");
        let mut path = unified.as_str();
        for scheme in ["file://", "@"] {
            path = path.strip_prefix(scheme).unwrap_or(path);
        }
        if let Some((_, rest)) = path.split_once("://") {
            path = rest.split_once('/').map_or(rest, |(_, p)| p);
        }
        let path = path.split(['?', '#']).next().unwrap_or(path);
        if let Some(relative) = path.strip_prefix(&self.root).and_then(|r| r.strip_prefix('/')) {
            return self.file(&normalise(relative)).map(|f| f.path.clone()).into_iter().collect();
        }
        if OUTSIDE.iter().any(|mark| path.contains(mark)) {
            return Vec::new();
        }
        let cut = path.strip_prefix("...").map(str::to_owned);
        let path = normalise(path.trim_start_matches('/'));
        let candidates = self.by_name.get(base_name(cut.as_deref().unwrap_or(&path)));
        if let Some(cut) = cut {
            let fitting = self.files.iter().filter(|f| {
                f.path.ends_with(cut.as_str()) || cut.ends_with(&format!("/{}", f.path))
            });
            return fitting.map(|f| f.path.clone()).collect();
        }
        let mut most = 0;
        let mut best: Vec<Arc<str>> = Vec::new();
        for file in candidates.into_iter().flatten().filter_map(|i| self.files.get(*i as usize)) {
            let shared = shared_tail(&path, &file.path);
            let own_parts = file.path.split('/').count();
            if shared != own_parts && shared != path.split('/').count() {
                continue;
            }
            if *file.path == path {
                return vec![file.path.clone()];
            }
            if shared > most {
                (most, best) = (shared, Vec::new());
            }
            if shared == most {
                best.push(file.path.clone());
            }
        }
        match best.len() {
            1 => best,
            // Of several, and of none, what the file says of its own package decides.
            _ => self.find_in_package(&path).map_or(best, |one| vec![one]),
        }
    }

    /// The own source of a class whose package is printed as folders, wherever its file lies: the
    /// file itself names the package. With several there is no answer rather than a guess.
    fn find_in_package(&self, path: &str) -> Option<Arc<str>> {
        let (folders, name) = path.rsplit_once('/')?;
        if !PACKAGED.iter().any(|ending| name.ends_with(ending)) {
            return None;
        }
        let package = folders.replace('/', ".");
        let says_so = |text: &str| {
            let named = text.lines().map(str::trim).find_map(|l| l.strip_prefix("package "));
            named.is_some_and(|n| n.trim().trim_end_matches(';').trim_end() == package)
        };
        let here = self.by_name.get(name)?.iter().filter_map(|i| self.files.get(*i as usize));
        let mut fitting = here.filter(|f| f.text.as_deref().is_some_and(says_so));
        let first = fitting.next()?;
        fitting.next().is_none().then(|| first.path.clone())
    }

    /// Where line `line` of `path` stands in `now`, which may have been edited since.
    ///
    /// Above the first change and below the last one lines are certain; between them the nearest
    /// line of the same text is taken, else the number stays.
    pub fn line_today(&self, now: &Project, path: &str, line: u32) -> u32 {
        let (Some(old), Some(new)) = (
            self.file(path).and_then(|f| f.text.as_deref()),
            now.file(path).and_then(|f| f.text.as_deref()),
        ) else {
            return line;
        };
        if old == new {
            return line;
        }
        let (old, new): (Vec<&str>, Vec<&str>) = (old.lines().collect(), new.lines().collect());
        let index = (line as usize).saturating_sub(1);
        let head = old.iter().zip(&new).take_while(|(a, b)| a == b).count();
        if index < head || index >= old.len() {
            return line;
        }
        let tail = old.iter().rev().zip(new.iter().rev()).take_while(|(a, b)| a == b).count();
        let from_end = old.len() - index;
        if from_end <= tail {
            return (new.len() - from_end + 1) as u32;
        }
        let text = old[index].trim();
        let nearest = new
            .iter()
            .enumerate()
            .filter(|(_, l)| l.trim() == text)
            .min_by_key(|(at, _)| at.abs_diff(index));
        nearest.map_or(line.min(new.len().max(1) as u32), |(at, _)| at as u32 + 1)
    }
}

/// Endings of sources that name their package.
const PACKAGED: [&str; 4] = [".java", ".kt", ".scala", ".groovy"];

fn normalise(path: &str) -> String {
    let mut parts: Vec<&str> = Vec::new();
    for part in path.split('/') {
        match part {
            "" | "." => {}
            ".." => {
                parts.pop();
            }
            _ => parts.push(part),
        }
    }
    parts.join("/")
}

/// The page that a server gives for the address of a folder: its `index.html`.
fn page_of_folder(printed: &str) -> Option<String> {
    let rest = printed.strip_prefix("http://").or(printed.strip_prefix("https://"))?;
    let rest = rest.split(['?', '#']).next()?;
    let path = match rest.split_once('/') {
        Some((_, path)) if path.is_empty() || path.ends_with('/') => path,
        None => "",
        _ => return None,
    };
    Some(format!("{path}index.html"))
}

fn shared_tail(a: &str, b: &str) -> usize {
    a.rsplit('/').zip(b.rsplit('/')).take_while(|(a, b)| a == b).count()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn project(paths: &[(&str, &str)]) -> Project {
        Project::new(
            "/home/me/ferry",
            paths
                .iter()
                .map(|(p, t)| ProjectFile { path: (*p).into(), text: Some((*t).into()) })
                .collect(),
        )
    }

    #[test]
    fn printed_names_find_their_file() {
        let p = project(&[
            ("main.lua", ""),
            ("scripts/lantern.lua", ""),
            ("src/night/Ferry.java", ""),
            ("a/util.lua", ""),
            ("b/util.lua", ""),
        ]);
        let find = |printed: &str| p.find(printed).map(|f| f.to_string());
        assert_eq!(find("./main.lua").as_deref(), Some("main.lua"));
        assert_eq!(
            find("/home/me/ferry/scripts/lantern.lua").as_deref(),
            Some("scripts/lantern.lua")
        );
        assert_eq!(
            find("/srv/elsewhere/scripts/lantern.lua").as_deref(),
            Some("scripts/lantern.lua")
        );
        assert_eq!(find(r"C:\dev\scripts\lantern.lua").as_deref(), Some("scripts/lantern.lua"));
        assert_eq!(find("...ripts/lantern.lua").as_deref(), Some("scripts/lantern.lua"));
        assert_eq!(find("night/Ferry.java").as_deref(), Some("src/night/Ferry.java"));
        assert_eq!(
            find("http://localhost:8000/scripts/lantern.lua?v=2").as_deref(),
            Some("scripts/lantern.lua")
        );
        let pages = project(&[("index.html", ""), ("help/index.html", ""), ("sail.js", "")]);
        let find = |printed: &str| pages.find(printed).map(|f| f.to_string());
        assert_eq!(find("http://localhost:8000/").as_deref(), Some("index.html"));
        assert_eq!(find("http://localhost:8000").as_deref(), Some("index.html"));
        assert_eq!(find("http://localhost:8000/?day=2#top").as_deref(), Some("index.html"));
        assert_eq!(find("http://localhost:8000/help/").as_deref(), Some("help/index.html"));
        assert_eq!(find("http://localhost:8000/far/"), None, "another folder's page");
        assert_eq!(find("help/"), None, "no address of a page");
        let find = |printed: &str| p.find(printed).map(|f| f.to_string());
        assert_eq!(find("util.lua"), None, "two fit equally");
        assert_eq!(find("/usr/lib/python3.11/main.lua"), None);
        assert_eq!(find("/home/me/ferry/node_modules/x/main.lua"), None);
    }

    #[test]
    fn a_line_is_followed_through_an_edit() {
        let old = project(&[("m.lua", "a\nb\nfault\nd\ne\n")]);
        let above = project(&[("m.lua", "new\nnew\na\nb\nfault\nd\ne\n")]);
        let around = project(&[("m.lua", "x\na\n\nb\n  fault\ny\ne\n")]);
        assert_eq!(old.line_today(&above, "m.lua", 3), 5);
        assert_eq!(old.line_today(&around, "m.lua", 3), 5);
        assert_eq!(old.line_today(&old, "m.lua", 3), 3);
    }
}
