//! A file that grows: not there yet, growing, truncated, replaced. It is copied to the spool as it grows.

use crate::spool::{Event, SpoolWriter};
use crate::{Bell, SourceError};
use izba_core::Stream;
use std::fs::File;
use std::io::{Read, Seek, SeekFrom};
use std::os::unix::fs::MetadataExt;
use std::path::{Path, PathBuf};
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Mutex};
use std::time::Duration;

/// How often the file is looked at.
const LOOK: Duration = Duration::from_millis(40);

/// Follows `path` until `stop` is set. A file that is truncated or replaced begins a new run.
///
/// # Errors
///
/// [`SourceError::IsFolder`] when `path` is a folder. A file that is not there yet is waited for.
pub fn follow(path: &Path, spool: Arc<Mutex<SpoolWriter>>, bell: Bell, stop: Arc<AtomicBool>) -> Result<std::thread::JoinHandle<()>, SourceError> {
    if path.is_dir() {
        return Err(SourceError::IsFolder { path: path.to_owned() });
    }
    let path = path.to_owned();
    std::thread::Builder::new()
        .name("follow".into())
        .spawn(move || {
            let mut follower = Follower { path, open: None, at: 0, was_there: false };
            while !stop.load(Ordering::Acquire) {
                if !follower.look(&spool, &bell) {
                    std::thread::sleep(LOOK);
                }
            }
        })
        .map_err(SourceError::system("start a thread"))
}

struct Follower {
    path: PathBuf,
    open: Option<(File, u64)>,
    at: u64,
    was_there: bool,
}

impl Follower {
    /// Copies what is new; `true` when there may be more at once.
    fn look(&mut self, spool: &Mutex<SpoolWriter>, bell: &Bell) -> bool {
        let now = std::fs::metadata(&self.path).ok().filter(|m| m.is_file());
        let append = |event: &Event, bytes: &[u8]| {
            if let Ok(mut spool) = spool.lock() {
                let _ = spool.append(event, bytes);
            }
            bell();
        };
        let replaced = match (&self.open, &now) {
            (Some((_, inode)), Some(meta)) => *inode != meta.ino() || meta.len() < self.at,
            _ => false,
        };
        if replaced {
            // What was written to the old file before it was put aside is still read.
            self.copy(&append);
            self.open = None;
        }
        if self.open.is_none() {
            let Some(meta) = now else { return false };
            let Ok(file) = File::open(&self.path) else { return false };
            if self.was_there {
                append(&Event::End { well: true }, b"was replaced by a new file");
            }
            append(&Event::Start, self.path.to_string_lossy().as_bytes());
            self.open = Some((file, meta.ino()));
            self.at = 0;
            self.was_there = true;
        }
        self.copy(&append)
    }

    fn copy(&mut self, append: &impl Fn(&Event, &[u8])) -> bool {
        let Some((file, _)) = &mut self.open else { return false };
        let mut buffer = vec![0u8; 64 * 1024];
        if file.seek(SeekFrom::Start(self.at)).is_err() {
            return false;
        }
        match file.read(&mut buffer) {
            Ok(0) | Err(_) => false,
            Ok(count) => {
                append(&Event::Bytes(Stream::Out), &buffer[..count]);
                self.at += count as u64;
                true
            }
        }
    }
}
