//! All words of the files in question: how often each stands there, whether anything makes it, and which other is near it.

use crate::code::{At, FileFacts, How, Index, Kind, Role, Slip, slip};
use std::collections::HashMap;

/// One occurrence of a word.
#[derive(Debug, Clone, Copy)]
pub struct Stand<'a> {
    /// Its file.
    pub file: &'a FileFacts,
    /// Its line, from 1.
    pub line: u32,
    /// As what.
    pub as_what: As,
    /// The node, in code.
    pub node: Option<At<'a>>,
}

/// As what a word stands somewhere.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum As {
    /// It is made there.
    Made(How),
    /// It is read or called.
    Used,
    /// A text of code.
    Text,
    /// A key of data.
    DataKey,
    /// A value of data.
    DataValue,
    /// A file of this name lies there.
    File,
}

/// All words with where they stand.
#[derive(Default)]
pub struct Words<'a> {
    all: HashMap<&'a str, Vec<Stand<'a>>>,
}

/// Names that the runtime itself calls, so that they stand once in a healthy program.
pub const BEGINNINGS: &[&str] = &["main", "Main", "toString", "ToString", "self", "this", "__init__", "__main__", "__name__", "constructor"];

/// Whether one name is the plural of the other: both are names of their own.
pub fn plural(a: &str, b: &str) -> bool {
    let (short, long) = if a.len() < b.len() { (a, b) } else { (b, a) };
    long.strip_suffix('s').is_some_and(|l| l == short)
}

/// Whether a text is written like a name: no spaces, some letter.
pub fn is_name(text: &str) -> bool {
    (2..=40).contains(&text.len())
        && text.chars().all(|c| c.is_alphanumeric() || matches!(c, '_' | '$' | '-' | '#'))
        && text.chars().any(char::is_alphabetic)
}

impl<'a> Words<'a> {
    /// The words of these files, and the names of all files.
    pub fn of(files: &[&'a FileFacts], index: &'a Index) -> Words<'a> {
        let mut all: HashMap<&'a str, Vec<Stand<'a>>> = HashMap::new();
        for file in files {
            for node in file.tree.all() {
                let Some(text) = node.text() else { continue };
                let as_what = match node.kind() {
                    Kind::Str => As::Text,
                    Kind::Bin | Kind::Un | Kind::Num | Kind::Bool | Kind::Nil | Kind::Other | Kind::Import => continue,
                    _ => node.makes().map_or(As::Used, As::Made),
                };
                if as_what == As::Text && !is_name(text) {
                    continue;
                }
                all.entry(text).or_default().push(Stand { file, line: node.line(), as_what, node: Some(node) });
            }
            for datum in &file.data {
                let as_what = if datum.role == Role::Key { As::DataKey } else { As::DataValue };
                if is_name(&datum.text) {
                    all.entry(&datum.text).or_default().push(Stand { file, line: datum.line, as_what, node: None });
                }
            }
        }
        for path in index.on_disk.iter() {
            let name = path.rsplit('/').next().unwrap_or(path);
            let stem = name.split_once('.').map_or(name, |(s, _)| s);
            if let Some(file) = index.file(path) {
                all.entry(stem).or_default().push(Stand { file, line: 0, as_what: As::File, node: None });
            }
        }
        Words { all }
    }

    /// Where a word stands.
    pub fn stands(&self, word: &str) -> &[Stand<'a>] {
        self.all.get(word).map_or(&[], Vec::as_slice)
    }

    /// How often a word stands in code and data; the names of files do not count.
    pub fn count(&self, word: &str) -> usize {
        self.stands(word).iter().filter(|s| s.as_what != As::File).count()
    }

    /// Whether anything in code makes a word: a function, type, variable, field, key.
    pub fn is_made(&self, word: &str) -> bool {
        self.stands(word).iter().any(|s| matches!(s.as_what, As::Made(_)))
    }

    /// All words.
    pub fn iter(&self) -> impl Iterator<Item = (&'a str, &[Stand<'a>])> {
        self.all.iter().map(|(w, s)| (*w, s.as_slice()))
    }

    /// The words nearest to this one that fit, best first.
    pub fn near(&self, word: &str, fits: impl Fn(&str, &[Stand<'a>]) -> bool) -> Vec<(&'a str, Slip)> {
        let mut found: Vec<(&'a str, Slip)> = self
            .all
            .iter()
            .filter(|(w, _)| w.len().abs_diff(word.len()) <= 6 && !BEGINNINGS.contains(w))
            .filter_map(|(w, stands)| Some((*w, slip(word, w)?)).filter(|_| fits(w, stands)))
            .collect();
        found.sort_by(|a, b| b.1.weight().total_cmp(&a.1.weight()).then_with(|| self.count(b.0).cmp(&self.count(a.0))).then(a.0.cmp(b.0)));
        found
    }
}
