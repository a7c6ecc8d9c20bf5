//! The spool: what arrived, appended to a file before anything is made of it.
//!
//! A segment is a row of records: a head of 20 bytes (length, kind, stream, time, checksum; all
//! little-endian), then the bytes. A torn record at the end of a file that is no longer written is
//! where the segment ends. Each run has a segment of its own: a start begins the next file, whose
//! name tells the offset at which it begins within the whole spool, so that offsets go on from one
//! to the next. Segments that are no longer written are [`sealed`].

mod aside;
mod gap;
mod read;
mod sealed;
mod sealing;

pub use aside::{folder as aside_folder, put_away};
pub use gap::Gap;
pub use read::SpoolReader;
pub use sealed::SEALED;
pub use sealing::seal;

use crate::SourceError;
use izba_model::{Millis, Stream};
use std::fs::{File, OpenOptions};
use std::io::Write;
use std::os::unix::fs::OpenOptionsExt;
use std::path::{Path, PathBuf};
use std::sync::Arc;
use std::sync::atomic::{AtomicU64, Ordering};

const HEAD: usize = 20;
/// No record is longer; a length above it means the file is not a segment.
pub(crate) const RECORD_CAP: u32 = 1 << 20;

/// What a record of the spool says: bytes, or that a run begins or ends.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Event {
    /// Bytes that arrived.
    Bytes(Stream),
    /// What stood here is left out ([`Gap::of`]).
    Gap,
    /// The user typed something; what was unfinished before it is a line of its own. The bytes are
    /// left empty.
    Typed,
    /// A run began; the bytes are its command, for people.
    Start,
    /// The run goes on, and has read something anew; the bytes are its addresses, a line each.
    Update,
    /// How a page looked just now; the bytes are a picture (PNG, or JPEG where that is too large).
    Picture,
    /// The run ended; the bytes say how.
    End {
        /// Whether that is nothing to worry about.
        well: bool,
    },
}

/// One record of a segment.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Record {
    /// Byte of the segment where it begins.
    pub offset: u64,
    /// What it says.
    pub event: Event,
    /// When it was written, in milliseconds since 1970 (UTC).
    pub time: Millis,
    /// Its bytes.
    pub bytes: Vec<u8>,
}

/// The time now, in milliseconds since 1970 (UTC).
pub fn now() -> Millis {
    Millis(jiff::Timestamp::now().as_millisecond())
}

/// The segment that begins at offset `base` of the spool whose first one is `first`.
fn segment(first: &Path, base: u64) -> PathBuf {
    if base == 0 { first.to_owned() } else { first.with_extension(format!("{base:014}.seg")) }
}

/// Appends records to one spool. Only one writer has a spool.
pub struct SpoolWriter {
    file: Arc<File>,
    first: PathBuf,
    /// Where the segment begins within the spool, and how long it is.
    base: u64,
    len: u64,
    buffer: Vec<u8>,
    lost: u64,
    unsynced: bool,
    /// Whether it goes on in memory, since the disk refused.
    aside: bool,
    hear: Option<Hear>,
    read_to: Option<Arc<AtomicU64>>,
}

/// Bytes that may wait to be read before a program that prints is held up: a disk is not filled
/// faster than what is on it is looked at.
const WAITING: u64 = 128 << 20;

/// Takes the bytes of one stream as they arrive.
pub type Hear = Arc<dyn Fn(Stream, &[u8]) + Send + Sync>;

impl std::fmt::Debug for SpoolWriter {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.debug_struct("SpoolWriter").field("first", &self.first).finish_non_exhaustive()
    }
}

fn new_segment(path: &Path) -> Result<Arc<File>, SourceError> {
    let file = OpenOptions::new()
        .append(true)
        .create_new(true)
        .mode(0o600)
        .open(path)
        .map_err(SourceError::io("write to", path))?;
    Ok(Arc::new(file))
}

impl SpoolWriter {
    /// Makes the spool whose first segment is `path`, readable by the user alone.
    ///
    /// # Errors
    ///
    /// When the file is there already or cannot be made.
    pub fn create(path: &Path) -> Result<SpoolWriter, SourceError> {
        let file = new_segment(path)?;
        Ok(SpoolWriter {
            file,
            first: path.to_owned(),
            base: 0,
            len: 0,
            buffer: Vec::new(),
            lost: 0,
            unsynced: false,
            aside: false,
            hear: None,
            read_to: None,
        })
    }

    /// Where the one who reads it tells how far it was read, so that it does not grow without end
    /// before that.
    pub fn read_to(&mut self) -> Arc<AtomicU64> {
        self.read_to.get_or_insert_default().clone()
    }

    /// Whether so much waits to be read that whoever appends should wait too.
    pub fn is_behind(&self) -> bool {
        let read = self.read_to.as_ref().map(|read| read.load(Ordering::Acquire));
        read.is_some_and(|read| self.base + self.len > read + WAITING)
    }

    /// Hands all bytes on to `hear` as they arrive, before they are kept.
    #[must_use]
    pub fn heard_by(self, hear: Option<Hear>) -> SpoolWriter {
        SpoolWriter { hear, ..self }
    }

    /// Whether what arrives now is kept in memory only, since the disk refused.
    pub fn is_aside(&self) -> bool {
        self.aside
    }

    /// Appends one record; a start begins the next segment. What finds no room on the disk goes on in
    /// memory, within a bound; what finds none there either is counted.
    ///
    /// # Errors
    ///
    /// The first time a write fails; the source goes on reading, so that the program is not held
    /// up.
    pub fn append(&mut self, event: &Event, bytes: &[u8]) -> Result<(), SourceError> {
        if let (Event::Bytes(stream), Some(hear)) = (event, &self.hear) {
            hear(*stream, bytes);
        }
        if *event == Event::Start && self.len > 0 {
            // Where no file can be made the run goes on in this one: nothing is lost but its own
            // place.
            if let Ok(file) = new_segment(&segment(&self.first, self.base + self.len)) {
                self.sync();
                (self.file, self.base, self.len) = (file, self.base + self.len, 0);
                self.aside = false;
            }
        }
        for part in bytes.chunks(RECORD_CAP as usize).chain(bytes.is_empty().then_some(bytes)) {
            self.buffer.clear();
            encode(event, now(), part, &mut self.buffer);
            self.unsynced = true;
            let written = self.write().or_else(|cause| match self.go_aside() {
                true => self.write(),
                false => Err(cause),
            });
            if let Err(cause) = written {
                let first = self.lost == 0;
                self.lost += part.len() as u64;
                if first {
                    return Err(SourceError::io("write to", &segment(&self.first, self.base))(
                        cause,
                    ));
                }
            } else {
                self.len += self.buffer.len() as u64;
            }
        }
        Ok(())
    }

    fn write(&mut self) -> std::io::Result<()> {
        if self.aside && !aside::take(self.buffer.len()) {
            return Err(std::io::ErrorKind::StorageFull.into());
        }
        (&*self.file).write_all(&self.buffer).inspect_err(|_| {
            // Half a record would hide all that follows it.
            let _ = self.file.set_len(self.len);
        })
    }

    /// Goes on with a segment in memory; whether that is possible.
    fn go_aside(&mut self) -> bool {
        if self.aside {
            return false;
        }
        let path = segment(&self.first, self.base + self.len);
        let place = aside::place_for(&path).and_then(|place| {
            OpenOptions::new().append(true).create_new(true).mode(0o600).open(place)
        });
        let Ok(file) = place else { return false };
        (self.file, self.base, self.len) = (Arc::new(file), self.base + self.len, 0);
        self.aside = true;
        true
    }

    /// Bytes that arrived and could not be kept.
    pub fn lost(&self) -> u64 {
        self.lost
    }

    /// What has to be synced to the disk, if anything was written since the last call: a power cut
    /// loses what is not.
    pub fn unsynced(&mut self) -> Option<Arc<File>> {
        std::mem::take(&mut self.unsynced).then(|| self.file.clone())
    }

    fn sync(&mut self) {
        if let Some(file) = self.unsynced() {
            // A disk that cannot sync has told so at the write.
            let _ = file.sync_data();
        }
    }
}

/// One record as it stands in a segment.
fn encode(event: &Event, time: Millis, bytes: &[u8], out: &mut Vec<u8>) {
    let [kind, stream] = event.code();
    out.extend_from_slice(&(bytes.len() as u32).to_le_bytes());
    out.extend_from_slice(&[kind, stream, 0, 0]);
    out.extend_from_slice(&time.0.to_le_bytes());
    out.extend_from_slice(&crc32fast::hash(bytes).to_le_bytes());
    out.extend_from_slice(bytes);
}

impl Event {
    fn code(&self) -> [u8; 2] {
        match self {
            Event::Bytes(Stream::Out) => [0, 0],
            Event::Bytes(Stream::Err) => [0, 1],
            Event::Start => [1, 0],
            Event::Typed => [3, 0],
            Event::Gap => [4, 0],
            Event::Update => [5, 0],
            Event::Picture => [6, 0],
            Event::End { well } => [2, u8::from(!*well)],
        }
    }

    fn from_code(kind: u8, stream: u8) -> Option<Event> {
        Some(match (kind, stream) {
            (0, 0) => Event::Bytes(Stream::Out),
            (0, 1) => Event::Bytes(Stream::Err),
            (1, _) => Event::Start,
            (3, _) => Event::Typed,
            (4, _) => Event::Gap,
            (5, _) => Event::Update,
            (6, _) => Event::Picture,
            (2, bad) => Event::End { well: bad == 0 },
            _ => return None,
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;
    use std::fs;

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
    fn a_damaged_record_is_told_with_its_place() {
        let folder = tempfile::tempdir().expect("a temporary folder");
        let path = folder.path().join("a.seg");
        SpoolWriter::create(&path)
            .and_then(|mut w| w.append(&Event::Start, b"ferry"))
            .expect("room");
        let mut bytes = fs::read(&path).expect("it is there");
        bytes[22] ^= 1;
        fs::write(&path, bytes).expect("it can be written");
        let error = SpoolReader::open(&path)
            .expect("it is there")
            .next_record()
            .expect_err("the checksum differs");
        assert!(
            error.sentence().ends_with("the record at byte 0 is damaged"),
            "{}",
            error.sentence()
        );
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(32))]
        #[test]
        fn runs_have_segments_of_their_own_and_a_sealed_one_says_the_same(runs in proptest::collection::vec(proptest::collection::vec((any::<bool>(), proptest::collection::vec(any::<u8>(), 0..400)), 0..30), 1..5)) {
            let folder = tempfile::tempdir().expect("a temporary folder");
            let path = folder.path().join("a.seg");
            let mut writer = SpoolWriter::create(&path).expect("a new file");
            let mut reader = SpoolReader::open(&path).expect("it is there");
            let mut read = Vec::new();
            for run in &runs {
                writer.append(&Event::Start, b"ferry").expect("room");
                for (out, bytes) in run {
                    writer.append(&Event::Bytes(if *out { Stream::Out } else { Stream::Err }), bytes).expect("room");
                }
                writer.append(&Event::End { well: false }, b"ended").expect("room");
                while let Some(record) = reader.next_record().expect("whole") {
                    read.push(record);
                }
                prop_assert_eq!(reader.backlog(), 0);
            }
            prop_assert_eq!(read.iter().filter(|r| r.event == Event::Start).count(), runs.len());
            // Any record is found again by its offset, in whichever segment it lies.
            for record in read.iter().step_by(3) {
                let again = reader.reopen_at(record.offset).expect("a handle").next_record().expect("whole");
                prop_assert_eq!(again.as_ref(), Some(record));
            }
            let mut files: Vec<_> = fs::read_dir(folder.path()).expect("it is there").flatten().map(|e| e.path()).collect();
            files.sort_by_key(|p| SpoolReader::base_of(p));
            prop_assert_eq!(files.len(), runs.len());
            // Bytes of one stream that arrived in the same millisecond may be one record
            // afterwards; nothing else changes.
            let mut said = Vec::new();
            for file in &files {
                let sealed = seal(file).expect("room").expect("it was not sealed");
                let mut reader = SpoolReader::open(&sealed).expect("it is there");
                while let Some(record) = reader.next_record().expect("whole") {
                    let again = reader.reopen_at(record.offset).expect("a handle").next_record().expect("whole");
                    prop_assert_eq!(again.as_ref(), Some(&record));
                    said.push(record);
                }
            }
            prop_assert_eq!(joined(&read), joined(&said));
        }
    }

    /// Records of the same stream and millisecond as one.
    fn joined(all: &[Record]) -> Vec<(Event, Millis, Vec<u8>)> {
        let mut out: Vec<(Event, Millis, Vec<u8>)> = Vec::new();
        for record in all {
            match out.last_mut() {
                Some((event, time, bytes))
                    if *event == record.event
                        && *time == record.time
                        && matches!(event, Event::Bytes(_)) =>
                {
                    bytes.extend_from_slice(&record.bytes);
                }
                _ => out.push((record.event.clone(), record.time, record.bytes.clone())),
            }
        }
        out
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(24))]
        /// A power cut leaves some beginning of what was written, and perhaps a last block of
        /// anything.
        #[test]
        fn after_a_power_cut_every_whole_record_is_read_and_nothing_else(parts in proptest::collection::vec(proptest::collection::vec(any::<u8>(), 0..60), 1..6), torn in proptest::collection::vec(any::<u8>(), 0..64)) {
            let folder = tempfile::tempdir().expect("a temporary folder");
            let path = folder.path().join("a.seg");
            let mut writer = SpoolWriter::create(&path).expect("a new file");
            let mut ends = Vec::new();
            for part in &parts {
                writer.append(&Event::Bytes(Stream::Out), part).expect("room");
                ends.push(fs::metadata(&path).expect("it is there").len() as usize);
            }
            let all = fs::read(&path).expect("it is there");
            for cut in 0..=all.len() {
                for block in [&torn[..], &[0; 40]] {
                    let mut left = all[..cut].to_vec();
                    left.extend_from_slice(block);
                    fs::write(&path, left).expect("room");
                    let mut reader = SpoolReader::open_one(&path).expect("it opens");
                    let mut read = Vec::new();
                    while let Ok(Some(record)) = reader.next_record() {
                        read.push(record.bytes);
                    }
                    let whole = ends.iter().filter(|end| **end <= cut).count();
                    prop_assert!(read.len() >= whole, "cut at {}", cut);
                    prop_assert_eq!(&read[..whole], &parts[..whole]);
                    // A block of zeros reads as empty records, whose checksum is zero: they hold
                    // nothing.
                    prop_assert!(read[whole..].iter().all(Vec::is_empty) || whole < parts.len() && read[whole] == parts[whole]);
                }
            }
        }
    }
}
