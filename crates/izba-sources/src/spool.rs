//! The spool: what arrived, appended to a file before anything is made of it.
//!
//! A segment is a row of records: a head of 20 bytes (length, kind, stream, time, checksum; all little-endian), then the
//! bytes. A torn record at the end of a file that is no longer written is where the segment ends.

use crate::SourceError;
use izba_core::{Millis, Stream};
use std::fs::{self, File, OpenOptions};
use std::io::{self, Write};
use std::os::unix::fs::{DirBuilderExt, FileExt, OpenOptionsExt};
use std::path::{Path, PathBuf};

const HEAD: usize = 20;
/// No record is longer; a length above it means the file is not a segment.
const RECORD_CAP: u32 = 1 << 20;

/// What a record says.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Event {
    /// Bytes that arrived.
    Bytes(Stream),
    /// The user typed something; what was unfinished before it is a line of its own. The bytes are left empty.
    Typed,
    /// A run began; the bytes are its command, for people.
    Start,
    /// The run ended; the bytes say how.
    End {
        /// Whether that is nothing to worry about.
        well: bool,
    },
}

/// One record of a segment.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Record {
    /// Where it begins.
    pub offset: u64,
    /// What it says.
    pub event: Event,
    /// When it was written.
    pub time: Millis,
    /// Its bytes.
    pub bytes: Vec<u8>,
}

/// The time now.
pub fn now() -> Millis {
    Millis(jiff::Timestamp::now().as_millisecond())
}

/// Appends records to one segment. Only one writer has a segment.
#[derive(Debug)]
pub struct SpoolWriter {
    file: File,
    path: PathBuf,
    buffer: Vec<u8>,
    lost: u64,
}

impl SpoolWriter {
    /// Makes the segment `path`, readable by the user alone.
    ///
    /// # Errors
    ///
    /// When the file is there already or cannot be made.
    pub fn create(path: &Path) -> Result<SpoolWriter, SourceError> {
        let file = OpenOptions::new().append(true).create_new(true).mode(0o600).open(path).map_err(SourceError::io("write to", path))?;
        Ok(SpoolWriter { file, path: path.to_owned(), buffer: Vec::new(), lost: 0 })
    }

    /// Appends one record. Bytes that find no room on the disk are counted, and told with the next record that does.
    ///
    /// # Errors
    ///
    /// The first time a write fails; the source goes on reading, so that the program is not held up.
    pub fn append(&mut self, event: &Event, bytes: &[u8]) -> Result<(), SourceError> {
        for part in bytes.chunks(RECORD_CAP as usize).chain(bytes.is_empty().then_some(bytes)) {
            self.buffer.clear();
            let (kind, stream) = match event {
                Event::Bytes(Stream::Out) => (0u8, 0u8),
                Event::Bytes(Stream::Err) => (0, 1),
                Event::Start => (1, 0),
                Event::Typed => (3, 0),
                Event::End { well } => (2, u8::from(!*well)),
            };
            self.buffer.extend_from_slice(&(part.len() as u32).to_le_bytes());
            self.buffer.extend_from_slice(&[kind, stream, 0, 0]);
            self.buffer.extend_from_slice(&now().0.to_le_bytes());
            self.buffer.extend_from_slice(&crc32fast::hash(part).to_le_bytes());
            self.buffer.extend_from_slice(part);
            let whole = self.file.metadata().map_or(0, |m| m.len());
            if let Err(cause) = self.file.write_all(&self.buffer) {
                // Half a record would hide all that follows it.
                let _ = self.file.set_len(whole);
                let first = self.lost == 0;
                self.lost += part.len() as u64;
                if first {
                    return Err(SourceError::io("write to", &self.path)(cause));
                }
            }
        }
        Ok(())
    }

    /// Bytes that arrived and could not be kept.
    pub fn lost(&self) -> u64 {
        self.lost
    }
}

/// Reads a segment while it is written, and any part of it again.
#[derive(Debug)]
pub struct SpoolReader {
    file: File,
    path: PathBuf,
    at: u64,
}

impl SpoolReader {
    /// Opens the segment `path` at its beginning.
    ///
    /// # Errors
    ///
    /// When it cannot be opened.
    pub fn open(path: &Path) -> Result<SpoolReader, SourceError> {
        let file = File::open(path).map_err(SourceError::io("open", path))?;
        Ok(SpoolReader { file, path: path.to_owned(), at: 0 })
    }

    /// The next whole record; `None` while there is none yet.
    ///
    /// # Errors
    ///
    /// When the disk fails, or what is there is no record (the checksum tells).
    pub fn next_record(&mut self) -> Result<Option<Record>, SourceError> {
        let record = self.record_at(self.at)?;
        if let Some(record) = &record {
            self.at = record.offset + HEAD as u64 + record.bytes.len() as u64;
        }
        Ok(record)
    }

    /// A reader of the same segment that begins at `offset`, which has to be that of a record.
    ///
    /// # Errors
    ///
    /// When the system has no more file handles.
    pub fn reopen_at(&self, offset: u64) -> Result<SpoolReader, SourceError> {
        let file = self.file.try_clone().map_err(SourceError::io("open", &self.path))?;
        Ok(SpoolReader { file, path: self.path.clone(), at: offset })
    }

    /// How many bytes are still to be read.
    pub fn backlog(&self) -> u64 {
        self.file.metadata().map_or(0, |m| m.len().saturating_sub(self.at))
    }

    fn record_at(&self, offset: u64) -> Result<Option<Record>, SourceError> {
        let failed = |cause| SourceError::io("read", &self.path)(cause);
        let mut head = [0u8; HEAD];
        if !read_whole(&self.file, &mut head, offset).map_err(failed)? {
            return Ok(None);
        }
        let (len, rest) = head.split_first_chunk::<4>().expect("the head has 20 bytes");
        let (kinds, rest) = rest.split_first_chunk::<4>().expect("the head has 20 bytes");
        let (time, sum) = rest.split_first_chunk::<8>().expect("the head has 20 bytes");
        let len = u32::from_le_bytes(*len);
        let sum = sum.first_chunk::<4>().map_or(0, |s| u32::from_le_bytes(*s));
        let damaged = || failed(io::Error::new(io::ErrorKind::InvalidData, format!("the record at byte {offset} is damaged")));
        if len > RECORD_CAP {
            return Err(damaged());
        }
        let mut bytes = vec![0u8; len as usize];
        if !read_whole(&self.file, &mut bytes, offset + HEAD as u64).map_err(failed)? {
            return Ok(None);
        }
        let event = match (kinds[0], kinds[1]) {
            (0, 0) => Event::Bytes(Stream::Out),
            (0, 1) => Event::Bytes(Stream::Err),
            (1, _) => Event::Start,
            (3, _) => Event::Typed,
            (2, bad) => Event::End { well: bad == 0 },
            _ => return Err(damaged()),
        };
        if crc32fast::hash(&bytes) != sum {
            return Err(damaged());
        }
        Ok(Some(Record { offset, event, time: Millis(i64::from_le_bytes(*time)), bytes }))
    }
}

/// Fills `buffer` from `offset`; `false` when the file ends before.
fn read_whole(file: &File, buffer: &mut [u8], offset: u64) -> io::Result<bool> {
    match file.read_exact_at(buffer, offset) {
        Ok(()) => Ok(true),
        Err(e) if e.kind() == io::ErrorKind::UnexpectedEof => Ok(false),
        Err(e) => Err(e),
    }
}

/// The folder in which spools lie, and its budget.
#[derive(Debug, Clone)]
pub struct Store {
    folder: PathBuf,
}

/// What the store may take up; the oldest sessions go first.
pub const STORE_BUDGET: u64 = 2 << 30;

impl Store {
    /// The store at `folder`, or in the user's XDG state folder.
    ///
    /// # Errors
    ///
    /// When there is no home, or the folder cannot be made.
    pub fn open(folder: Option<PathBuf>) -> Result<Store, SourceError> {
        let folder = match folder {
            Some(folder) => folder,
            None => {
                use etcetera::BaseStrategy;
                let base = etcetera::choose_base_strategy()
                    .map_err(|e| SourceError::System { doing: "find the user's folders", cause: io::Error::other(e) })?;
                base.state_dir().unwrap_or_else(|| base.data_dir()).join("izba")
            }
        };
        fs::DirBuilder::new().recursive(true).mode(0o700).create(&folder).map_err(SourceError::io("make", &folder))?;
        Ok(Store { folder })
    }

    /// Where it is.
    pub fn folder(&self) -> &Path {
        &self.folder
    }

    /// Makes the folder of one session and prunes the oldest ones beyond the budget.
    ///
    /// # Errors
    ///
    /// When the folder cannot be made.
    pub fn session(&self) -> Result<PathBuf, SourceError> {
        self.prune(STORE_BUDGET);
        let stamp = jiff::Timestamp::now().strftime("%Y%m%dT%H%M%S%3f");
        let folder = self.folder.join(format!("{stamp}-{}", std::process::id()));
        fs::DirBuilder::new().recursive(true).mode(0o700).create(&folder).map_err(SourceError::io("make", &folder))?;
        Ok(folder)
    }

    /// The sessions, oldest first, with their size in bytes.
    pub fn sessions(&self) -> Vec<(PathBuf, u64)> {
        let Ok(entries) = fs::read_dir(&self.folder) else { return Vec::new() };
        let mut found: Vec<_> = entries.flatten().map(|e| e.path()).filter(|p| p.is_dir()).map(|p| (p.clone(), folder_size(&p))).collect();
        found.sort();
        found
    }

    fn prune(&self, budget: u64) {
        let sessions = self.sessions();
        let mut total: u64 = sessions.iter().map(|(_, size)| size).sum();
        for (path, size) in sessions {
            if total <= budget {
                break;
            }
            // The last part of the name is the process that writes there.
            let name = path.file_name().map(|n| n.to_string_lossy().into_owned()).unwrap_or_default();
            let alive = name.rsplit('-').next().is_some_and(|pid| Path::new("/proc").join(pid).exists());
            if !alive && fs::remove_dir_all(&path).is_ok() {
                total -= size;
            }
        }
    }
}

fn folder_size(folder: &Path) -> u64 {
    fs::read_dir(folder).map_or(0, |entries| entries.flatten().filter_map(|e| e.metadata().ok()).map(|m| m.len()).sum())
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(32))]
        #[test]
        fn what_was_appended_is_read_and_a_torn_end_is_waited_for(parts in proptest::collection::vec(proptest::collection::vec(any::<u8>(), 0..300), 1..12), torn in 1u64..20) {
            let folder = tempfile::tempdir().expect("a temporary folder");
            let path = folder.path().join("a.seg");
            let mut writer = SpoolWriter::create(&path).expect("a new file");
            for (at, part) in parts.iter().enumerate() {
                writer.append(&Event::Bytes(if at % 2 == 0 { Stream::Out } else { Stream::Err }), part).expect("room");
            }
            let mut reader = SpoolReader::open(&path).expect("it is there");
            let mut read = Vec::new();
            while let Some(record) = reader.next_record().expect("whole") {
                read.push(record);
            }
            prop_assert_eq!(read.iter().map(|r| r.bytes.clone()).collect::<Vec<_>>(), parts.clone());
            let again = reader.reopen_at(read[read.len() - 1].offset).expect("a handle").next_record().expect("whole");
            prop_assert_eq!(again.as_ref(), read.last());
            let len = fs::metadata(&path).expect("it is there").len();
            OpenOptions::new().write(true).open(&path).expect("it is there").set_len(len - torn.min(len)).expect("it can be cut");
            let mut reader = SpoolReader::open(&path).expect("it is there");
            let mut whole = 0;
            while let Ok(Some(_)) = reader.next_record() {
                whole += 1;
            }
            prop_assert_eq!(whole, parts.len() - 1);
        }
    }

    #[test]
    fn the_oldest_sessions_go_first_and_never_one_that_lives() {
        let folder = tempfile::tempdir().expect("a temporary folder");
        let store = Store::open(Some(folder.path().to_owned())).expect("room");
        let session = |name: String| {
            let path = folder.path().join(name);
            fs::create_dir(&path).expect("room");
            fs::write(path.join("source-1.seg"), vec![0u8; 1000]).expect("room");
            path
        };
        let living = session(format!("20260101T000000000-{}", std::process::id()));
        // No process has a number that large.
        let old = session("20260201T000000000-999999999".into());
        let new = session("20260301T000000000-999999998".into());
        store.prune(2_500);
        assert!(living.exists() && !old.exists() && new.exists());
        store.prune(0);
        assert!(living.exists() && !new.exists());
    }

    #[test]
    fn what_finds_no_room_is_counted_and_told_once() {
        let folder = tempfile::tempdir().expect("a temporary folder");
        let path = folder.path().join("full");
        // A device that is always full stands for a disk that is.
        std::os::unix::fs::symlink("/dev/full", &path).expect("a link");
        let file = OpenOptions::new().append(true).open(&path).expect("the device");
        let mut writer = SpoolWriter { file, path, buffer: Vec::new(), lost: 0 };
        let first = writer.append(&Event::Bytes(Stream::Out), b"tide").expect_err("there is no room");
        assert!(first.sentence().ends_with("no space left on device"), "{}", first.sentence());
        writer.append(&Event::Bytes(Stream::Out), b"fog").expect("it was told already");
        assert_eq!(writer.lost(), 7);
    }

    #[test]
    fn a_damaged_record_is_told_with_its_place() {
        let folder = tempfile::tempdir().expect("a temporary folder");
        let path = folder.path().join("a.seg");
        SpoolWriter::create(&path).and_then(|mut w| w.append(&Event::Start, b"ferry")).expect("room");
        let mut bytes = fs::read(&path).expect("it is there");
        bytes[22] ^= 1;
        fs::write(&path, bytes).expect("it can be written");
        let error = SpoolReader::open(&path).expect("it is there").next_record().expect_err("the checksum differs");
        assert!(error.sentence().ends_with("the record at byte 0 is damaged"), "{}", error.sentence());
    }
}
