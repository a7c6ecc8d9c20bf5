//! A file that grows: not there yet, growing, truncated, replaced; or the newest file of a folder,
//! whichever that is at the time. It is copied to the spool as it grows.

use crate::sink::Sink;
use crate::spool::{Event, SpoolWriter};
use crate::starts::Starts;
use crate::utf8::ToUtf8;
use crate::{Bell, SourceError};
use izba_model::Stream;
use std::fs::{File, Metadata};
use std::io::{Read, Seek, SeekFrom};
use std::os::unix::fs::{FileExt, MetadataExt};
use std::path::{Path, PathBuf};
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Mutex};
use std::time::{Duration, Instant, SystemTime};

/// How often the file is looked at, and how often when nothing has come for a while.
const LOOK: Duration = Duration::from_millis(40);
const QUIET_LOOK: Duration = Duration::from_millis(100);

/// How long a line that may be the first of a new run waits for the second.
const WAITS: Duration = Duration::from_millis(500);
/// How often a folder is looked through for a newer file.
const LOOK_FOLDER: Duration = Duration::from_millis(500);

/// Follows `path` until `stop` is set. A file that is truncated or replaced begins a new run; so
/// does a newer file when `path` is a folder.
///
/// # Errors
///
/// When no thread can be started. A file that is not there yet is waited for.
pub fn follow(
    path: &Path,
    spool: Arc<Mutex<SpoolWriter>>,
    bell: Bell,
    stop: Arc<AtomicBool>,
) -> Result<std::thread::JoinHandle<()>, SourceError> {
    let folder = path.is_dir().then(|| path.to_owned());
    let path = folder.as_deref().and_then(newest).unwrap_or_else(|| path.to_owned());
    std::thread::Builder::new()
        .name("follow".into())
        .spawn(move || {
            let mut follower = Follower {
                sink: Sink::new(spool, bell),
                path,
                open: None,
                text: ToUtf8::default(),
                starts: Starts::default(),
                waits: None,
                at: 0,
                was_there: false,
                stop: stop.clone(),
                tail: Vec::new(),
                written: None,
            };
            let (mut looked, mut grew) = (Instant::now(), Instant::now());
            while !stop.load(Ordering::Acquire) {
                if follower.look() {
                    grew = Instant::now();
                } else {
                    std::thread::sleep(if grew.elapsed() < 20 * QUIET_LOOK {
                        LOOK
                    } else {
                        QUIET_LOOK
                    });
                    if let Some(folder) =
                        folder.as_deref().filter(|_| looked.elapsed() >= LOOK_FOLDER)
                    {
                        looked = Instant::now();
                        follower.go_over_to(newest(folder));
                    }
                }
            }
        })
        .map_err(SourceError::system("start a thread"))
}

struct Follower {
    sink: Sink,
    path: PathBuf,
    open: Option<(File, u64)>,
    text: ToUtf8,
    starts: Starts,
    /// Since when a line waits for the one behind it.
    waits: Option<Instant>,
    at: u64,
    was_there: bool,
    stop: Arc<AtomicBool>,
    /// The last bytes that were copied, and when the file was written to then: one that was written
    /// anew holds others there, however long it is.
    tail: Vec<u8>,
    written: Option<SystemTime>,
}

/// Bytes by which it is seen that a file was written anew.
const TAIL: usize = 256;

/// The file of a folder that was written to last.
fn newest(folder: &Path) -> Option<PathBuf> {
    let files = std::fs::read_dir(folder)
        .ok()?
        .flatten()
        .filter(|e| !e.file_name().to_string_lossy().starts_with('.'));
    files
        .filter_map(|e| {
            Some((e.metadata().ok().filter(|m| m.is_file())?.modified().ok()?, e.path()))
        })
        .max()
        .map(|(_, path)| path)
}

impl Follower {
    /// Follows another file from now on, if it is one.
    fn go_over_to(&mut self, newer: Option<PathBuf>) {
        if let Some(newer) = newer.filter(|n| *n != self.path) {
            // What still waits in the old one had arrived.
            while self.copy(true) {}
            (self.path, self.open, self.at) = (newer, None, 0);
        }
    }

    /// Whether other bytes stand where the last ones were copied from, in the same file.
    fn was_written_anew(&mut self, now: Option<&Metadata>) -> bool {
        let (Some((file, _)), Some(meta)) = (&self.open, now) else { return false };
        let written = meta.modified().ok();
        if written == self.written || self.tail.is_empty() {
            self.written = written;
            return false;
        }
        self.written = written;
        let mut there = vec![0; self.tail.len()];
        let from = self.at.saturating_sub(there.len() as u64);
        file.read_exact_at(&mut there, from).is_ok() && there != self.tail
    }

    /// Copies what is new; `true` when there may be more at once.
    fn look(&mut self) -> bool {
        let now = std::fs::metadata(&self.path).ok().filter(|m| m.is_file());
        let replaced = match (&self.open, &now) {
            (Some((_, inode)), Some(meta)) => *inode != meta.ino() || meta.len() < self.at,
            _ => false,
        };
        if !replaced && self.was_written_anew(now.as_ref()) {
            (self.open, self.at) = (None, 0);
            self.tail.clear();
        }
        if replaced {
            // What was written to the old file before it was put aside is still read.
            while self.copy(true) {}
            self.open = None;
        }
        if self.open.is_none() {
            let Some(meta) = now else { return false };
            let Ok(file) = File::open(&self.path) else { return false };
            if self.was_there {
                self.sink.append(&Event::End { well: true }, b"was replaced by a new file");
            }
            self.sink.append(&Event::Start, self.path.to_string_lossy().as_bytes());
            self.open = Some((file, meta.ino()));
            (self.at, self.text, self.starts) = (0, ToUtf8::default(), Starts::default());
            self.was_there = true;
            self.tail.clear();
        }
        self.copy(false)
    }

    /// Copies what is new, of a file that nobody writes to any more to its `last` byte; `true` when
    /// there may be more at once.
    fn copy(&mut self, last: bool) -> bool {
        let Some((file, _)) = &mut self.open else { return false };
        if file.metadata().is_ok_and(|m| m.len() == self.at) {
            return false;
        }
        let mut buffer = vec![0u8; 64 * 1024];
        if file.seek(SeekFrom::Start(self.at)).is_err() {
            return false;
        }
        match file.read(&mut buffer) {
            Ok(0) | Err(_) => false,
            Ok(count) => {
                let (starts, mut taken) = self.starts.look(&buffer[..count]);
                if last {
                    taken = count;
                } else if taken == 0 {
                    if self.waits.get_or_insert_with(Instant::now).elapsed() < WAITS {
                        return false;
                    }
                    self.starts.give_up();
                    taken = memchr::memchr(b'\n', &buffer[..count]).map_or(count, |n| n + 1);
                }
                self.waits = None;
                let mut from = 0;
                for start in starts.into_iter().chain([taken]) {
                    let text = self.text.feed(&buffer[from..start]);
                    if !text.is_empty() {
                        self.sink.append_in_turn(&Event::Bytes(Stream::Out), &text, &self.stop);
                    }
                    if start < taken {
                        self.sink.append(&Event::End { well: true }, b"was started anew");
                        self.sink.append(&Event::Start, self.path.to_string_lossy().as_bytes());
                    }
                    from = start;
                }
                self.at += taken as u64;
                self.tail.extend_from_slice(&buffer[..taken]);
                self.tail.drain(..self.tail.len().saturating_sub(TAIL));
                // Half a line at the end of a full buffer has its other half behind it.
                taken > 0 && (taken == count || count == buffer.len())
            }
        }
    }
}
