//! What the user allowed the settings of a folder to do: once for each folder and each content, so
//! that a file that changed is asked about again.

use crate::StoreError;
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;
use std::fs;
use std::io::Write;
use std::os::unix::fs::{DirBuilderExt, OpenOptionsExt};
use std::path::{Path, PathBuf};

/// The file in the store.
const FILE: &str = "trusted.json";
/// The same for projects in which edits are tried without being asked for.
const TRIALS: &str = "tries.json";
/// A longer one is not ours, in bytes.
const FILE_CAP: u64 = 8 << 20;

/// A folder whose settings may do what they name.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Trusted {
    /// The folder, with all links resolved.
    pub folder: PathBuf,
    /// The hash of the settings that were shown ([`crate::hash`]).
    pub content: String,
    /// What was allowed by its name, since it reaches beyond the folder or this machine.
    #[serde(default, skip_serializing_if = "BTreeSet::is_empty")]
    pub named: BTreeSet<String>,
}

/// The answers that are kept.
#[derive(Debug, Clone)]
pub struct Trust {
    file: PathBuf,
}

impl Trust {
    /// Those of the store in `folder`.
    pub fn of(folder: &Path) -> Trust {
        Trust { file: folder.join(FILE) }
    }

    /// The projects of the store in `folder` in which edits may be tried by themselves.
    pub fn of_trials(folder: &Path) -> Trust {
        Trust { file: folder.join(TRIALS) }
    }

    /// All of them, by folder. A file that cannot be read holds none: it is asked again.
    pub fn all(&self) -> Vec<Trusted> {
        let bytes = izba_files::read(&self.file, FILE_CAP).unwrap_or_default();
        serde_json::from_slice(&bytes).unwrap_or_default()
    }

    /// What was allowed by name, when these settings of this folder were allowed.
    pub fn given(&self, folder: &Path, content: &str) -> Option<BTreeSet<String>> {
        let fits = |t: &Trusted| t.folder == folder && t.content == content;
        self.all().into_iter().find(fits).map(|t| t.named)
    }

    /// Allows the settings of a folder, in place of what was allowed there before.
    ///
    /// # Errors
    ///
    /// When the answer cannot be kept.
    pub fn give(&self, trusted: Trusted) -> Result<(), StoreError> {
        let mut all = self.all();
        all.retain(|t| t.folder != trusted.folder);
        all.push(trusted);
        all.sort_by(|a, b| a.folder.cmp(&b.folder));
        self.write(&all)
    }

    /// Takes back what was allowed in a folder; whether anything was.
    ///
    /// # Errors
    ///
    /// When that cannot be kept.
    pub fn take_back(&self, folder: &Path) -> Result<bool, StoreError> {
        let mut all = self.all();
        let before = all.len();
        all.retain(|t| t.folder != folder);
        let had = all.len() < before;
        if had { self.write(&all).map(|()| true) } else { Ok(false) }
    }

    /// Beside and then moved, so that a crash leaves the old answers.
    fn write(&self, all: &[Trusted]) -> Result<(), StoreError> {
        let beside = self.file.with_extension(format!("new-{}", std::process::id()));
        let write = || {
            if let Some(folder) = self.file.parent() {
                fs::DirBuilder::new().recursive(true).mode(0o700).create(folder)?;
            }
            let mut file = fs::OpenOptions::new()
                .write(true)
                .create(true)
                .truncate(true)
                .mode(0o600)
                .open(&beside)?;
            file.write_all(&serde_json::to_vec_pretty(all)?)?;
            file.sync_all()?;
            fs::rename(&beside, &self.file)
        };
        write().map_err(StoreError::io("write", &self.file))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn an_answer_holds_for_a_folder_and_its_content_until_it_is_taken_back() {
        let store = tempfile::tempdir().expect("a folder");
        // The first answer may be the first that is kept at all.
        let store = store.path().join("state");
        let trust = Trust::of(&store);
        let answer = |folder: &str, content: &str, named: &[&str]| Trusted {
            folder: folder.into(),
            content: content.into(),
            named: named.iter().map(|n| (*n).to_owned()).collect(),
        };
        let (quay, marsh) = (Path::new("/quay"), Path::new("/marsh"));
        assert_eq!(trust.given(quay, "a"), None);
        trust.give(answer("/quay", "a", &[])).expect("room");
        trust.give(answer("/marsh", "a", &["LD_PRELOAD"])).expect("room");
        assert_eq!(trust.given(quay, "a"), Some(BTreeSet::new()));
        assert_eq!(trust.given(quay, "b"), None, "the settings are others now");
        assert_eq!(trust.given(Path::new("/reeds"), "a"), None, "another folder");
        assert!(trust.given(marsh, "a").expect("it was").contains("LD_PRELOAD"));
        trust.give(answer("/quay", "b", &[])).expect("room");
        assert_eq!(trust.given(quay, "a"), None, "only what was shown last");
        assert!(trust.take_back(quay).expect("room"));
        assert!(!trust.take_back(quay).expect("room"));
        assert_eq!(trust.given(quay, "b"), None);
        // Damaged, it allows nothing, and can be given again.
        fs::write(store.join(FILE), "[{").expect("room");
        assert_eq!(trust.given(marsh, "a"), None);
        trust.give(answer("/quay", "a", &[])).expect("room");
        assert_eq!(trust.all().len(), 1);
    }
}
