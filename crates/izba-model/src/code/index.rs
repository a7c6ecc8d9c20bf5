//! All files that are known, as one value that is never changed: a new one shares what did not
//! change.

use super::{At, FileFacts, Parts};
use std::sync::{Arc, OnceLock};

/// All files, sorted by path.
#[derive(Debug, Clone, Default)]
pub struct Index {
    files: Vec<Arc<FileFacts>>,
    /// Counts up with each change.
    pub version: u64,
    /// Paths of all own files, also of those that are no code and no data (pictures, sounds),
    /// sorted.
    pub on_disk: Arc<[Arc<str>]>,
    /// Names that the installed libraries offer, sorted.
    pub library: Arc<[Box<str>]>,
    parts: Arc<OnceLock<Parts>>,
}

impl Index {
    /// An index of these files.
    pub fn new(mut files: Vec<Arc<FileFacts>>, on_disk: Arc<[Arc<str>]>) -> Index {
        files.sort_by(|a, b| a.path.cmp(&b.path));
        Index { files, version: 1, on_disk, library: Arc::default(), parts: Arc::default() }
    }

    /// The same with some files anew and others gone.
    pub fn with(
        &self,
        changed: Vec<Arc<FileFacts>>,
        gone: &[Arc<str>],
        on_disk: Arc<[Arc<str>]>,
    ) -> Index {
        let mut files = self.files.clone();
        files.retain(|f| !gone.contains(&f.path));
        for file in changed {
            match files.binary_search_by(|f| f.path.cmp(&file.path)) {
                Ok(at) => files[at] = file,
                Err(at) => files.insert(at, file),
            }
        }
        Index {
            files,
            version: self.version + 1,
            on_disk,
            library: self.library.clone(),
            parts: Arc::default(),
        }
    }

    /// The same, with the names that installed libraries offer.
    #[must_use]
    pub fn with_library(self, library: &Arc<[Box<str>]>) -> Index {
        Index { library: library.clone(), ..self }
    }

    /// All files, sorted by their paths.
    pub fn files(&self) -> &[Arc<FileFacts>] {
        &self.files
    }

    /// What is known of the file with this path.
    pub fn file(&self, path: &str) -> Option<&FileFacts> {
        let at = self.files.binary_search_by(|f| f.path.as_ref().cmp(path)).ok()?;
        Some(&self.files[at])
    }

    /// Which files are one program; found out when it is first asked for.
    pub fn parts(&self) -> &Parts {
        self.parts.get_or_init(|| super::steps::aside(|| Parts::of(&self.files)))
    }

    /// The files that hold code, sorted by their paths.
    pub fn code(&self) -> impl Iterator<Item = &FileFacts> {
        self.files.iter().map(AsRef::as_ref).filter(|f| f.language.is_code())
    }

    /// The files that hold data, sorted by their paths.
    pub fn data(&self) -> impl Iterator<Item = &FileFacts> {
        self.files.iter().map(AsRef::as_ref).filter(|f| f.language.is_data())
    }

    /// All nodes of this name or text, with their files.
    pub fn named<'a>(&'a self, word: &'a str) -> impl Iterator<Item = (&'a FileFacts, At<'a>)> {
        self.code().flat_map(move |f| f.tree.named(word).map(move |n| (f, n)))
    }

    /// How often a word stands in code (as a name or text) and in data.
    pub fn count(&self, word: &str) -> usize {
        self.named(word).count()
            + self
                .data()
                .map(|f| f.data.iter().filter(|d| d.text.as_ref() == word).count())
                .sum::<usize>()
    }

    /// About how many bytes of memory it takes.
    pub fn memory_usage(&self) -> usize {
        self.files
            .iter()
            .map(|f| {
                f.tree.memory_usage()
                    + f.text.len()
                    + f.data.iter().map(|d| d.text.len() + d.path.len() + 56).sum::<usize>()
            })
            .sum()
    }
}
