//! The card of a run: what is known of it at its start, beside its bytes on the disk, so that the
//! database can be made again.

use crate::StoreError;
use serde::{Deserialize, Serialize};
use std::fs;
use std::io::Write;
use std::os::unix::fs::OpenOptionsExt;
use std::path::{Path, PathBuf};

/// What is known of a run at its start.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct RunCard {
    /// Version of the form of this card.
    pub v: u32,
    /// The project's folder.
    pub project: String,
    /// Name of the source.
    pub source: String,
    /// How it was started, for people.
    pub command: String,
    /// Number within its source, from 1.
    pub number: u32,
    /// When, in milliseconds since the Unix epoch.
    pub started: i64,
    /// Own files that were changed since the run before.
    pub edits: Vec<String>,
    /// The project's files as they were: the hash of the list of them.
    pub files: Option<String>,
    /// Versions of what the project uses, by name.
    pub versions: Vec<(String, String)>,
}

impl RunCard {
    /// The card's file beside a segment.
    pub fn path_beside(segment: &Path) -> PathBuf {
        segment.with_extension("run.json")
    }

    /// Writes it beside its segment; whole, or not at all.
    ///
    /// # Errors
    ///
    /// When the disk refuses.
    pub fn write(&self, segment: &Path) -> Result<(), StoreError> {
        self.put(segment, true)
    }

    /// As [`RunCard::write`], without waiting for the disk: after a power cut it may be missing,
    /// but never half.
    ///
    /// # Errors
    ///
    /// When the disk refuses.
    pub fn write_soon(&self, segment: &Path) -> Result<(), StoreError> {
        self.put(segment, false)
    }

    fn put(&self, segment: &Path, sync: bool) -> Result<(), StoreError> {
        let path = RunCard::path_beside(segment);
        let half = path.with_extension("half");
        let failed = StoreError::io("write", &path);
        // A value of strings and numbers always has a JSON form.
        let text = serde_json::to_vec(self).unwrap_or_default();
        let written = fs::OpenOptions::new()
            .write(true)
            .create(true)
            .truncate(true)
            .mode(0o600)
            .open(&half)
            .and_then(|mut file| {
                file.write_all(&text)?;
                if sync {
                    file.sync_data()?;
                }
                fs::rename(&half, &path)
            });
        written.map_err(failed)
    }

    /// Reads the card beside a segment; `None` when there is none, or it says nothing.
    pub fn read(segment: &Path) -> Option<RunCard> {
        serde_json::from_slice(&fs::read(RunCard::path_beside(segment)).ok()?).ok()
    }
}
