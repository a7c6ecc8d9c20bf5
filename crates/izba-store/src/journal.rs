//! What the user decided, one line of JSON for each decision, in the order in which it was made;
//! never rewritten, synced at once.

use crate::StoreError;
use izba_core::Wish;
use serde::{Deserialize, Serialize};
use std::fs::{File, OpenOptions};
use std::io::{Read, Seek, SeekFrom, Write};
use std::os::unix::fs::OpenOptionsExt;
use std::path::{Path, PathBuf};

#[derive(Serialize, Deserialize)]
struct Line {
    v: u32,
    at: i64,
    project: String,
    wish: Wish,
}

/// The journal of decisions, which outlives the database beside it.
#[derive(Debug)]
pub struct Journal {
    path: PathBuf,
    /// How far it was read.
    at: u64,
}

impl Journal {
    /// The journal in the store's folder; it is made at the first decision.
    pub fn of(store: &Path) -> Journal {
        Journal { path: store.join("decided.jsonl"), at: 0 }
    }

    /// Reads what was decided for a project since the last call, by this Izba or another one; and
    /// how many lines say nothing.
    ///
    /// # Errors
    ///
    /// When it is there and cannot be read.
    pub fn news(&mut self, project: &str) -> Result<(Vec<Wish>, usize), StoreError> {
        let mut text = Vec::new();
        match File::open(&self.path) {
            Ok(mut file) => {
                if file.metadata().map_or(0, |m| m.len()) == self.at {
                    return Ok((Vec::new(), 0));
                }
                file.seek(SeekFrom::Start(self.at))
                    .and_then(|_| file.read_to_end(&mut text))
                    .map_err(StoreError::io("read", &self.path))?;
            }
            Err(e) if e.kind() == std::io::ErrorKind::NotFound => return Ok((Vec::new(), 0)),
            Err(cause) => return Err(StoreError::io("read", &self.path)(cause)),
        }
        // A last line without its end is still being written, or was torn.
        let whole = text.iter().rposition(|b| *b == b'\n').map_or(0, |at| at + 1);
        self.at += whole as u64;
        let (mut wishes, mut unread) = (Vec::new(), 0);
        for line in text[..whole].split(|b| *b == b'\n').filter(|l| !l.is_empty()) {
            match serde_json::from_slice::<Line>(line) {
                Ok(line) if line.project == project => wishes.push(line.wish),
                Ok(_) => {}
                Err(_) => unread += 1,
            }
        }
        Ok((wishes, unread))
    }

    /// Appends a decision and syncs it.
    ///
    /// # Errors
    ///
    /// When the disk refuses: the decision holds for this session and is not kept.
    pub fn append(&mut self, project: &str, at: i64, wish: &Wish) -> Result<(), StoreError> {
        let failed = |cause| StoreError::io("write", &self.path)(cause);
        let line = Line { v: 1, at, project: project.to_owned(), wish: wish.clone() };
        let mut text = serde_json::to_vec(&line).unwrap_or_default();
        text.push(b'\n');
        let mut file = OpenOptions::new()
            .read(true)
            .append(true)
            .create(true)
            .mode(0o600)
            .open(&self.path)
            .map_err(failed)?;
        let len = file.metadata().map_or(0, |m| m.len());
        let mut last = [b'\n'];
        if len > 0 {
            // After a torn line the next one begins anew.
            let read = file.seek(SeekFrom::Start(len - 1)).and_then(|_| file.read_exact(&mut last));
            read.map_err(failed)?;
        }
        if last != [b'\n'] {
            text.insert(0, b'\n');
        }
        file.write_all(&text).and_then(|()| file.sync_data()).map_err(failed)
    }
}
