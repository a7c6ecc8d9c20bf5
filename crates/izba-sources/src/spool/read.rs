//! Reading a spool while it is written, and any part of it again.

use super::aside::whereabouts;
use super::gap::{Gap, is_hole};
use super::sealed::Sealed;
use super::{Event, HEAD, RECORD_CAP, Record, segment};
use crate::SourceError;
use izba_model::Millis;
use std::fs::File;
use std::io;
use std::os::unix::fs::FileExt;
use std::path::{Path, PathBuf};
use std::sync::Arc;

/// One segment, and where it begins within the spool.
#[derive(Debug, Clone)]
struct Part {
    base: u64,
    file: Arc<File>,
}

/// Reads a spool while it is written, and any part of it again.
#[derive(Debug)]
pub struct SpoolReader {
    first: PathBuf,
    parts: Vec<Part>,
    sealed: Option<Sealed>,
    at: u64,
}

impl SpoolReader {
    /// Opens the spool whose first segment is `path` at its beginning; or one sealed segment.
    ///
    /// # Errors
    ///
    /// When it cannot be opened, or is damaged.
    pub fn open(path: &Path) -> Result<SpoolReader, SourceError> {
        let file = File::open(whereabouts(path)).map_err(SourceError::io("open", path))?;
        let file = Arc::new(file);
        let failed = |cause| SourceError::io("read", path)(cause);
        let sealed = Sealed::open(&file).map_err(failed)?;
        Ok(SpoolReader {
            first: path.to_owned(),
            parts: vec![Part { base: 0, file }],
            sealed,
            at: 0,
        })
    }

    /// Opens one segment of a spool by itself: a run of an earlier session.
    ///
    /// # Errors
    ///
    /// As [`SpoolReader::open`].
    pub fn open_one(path: &Path) -> Result<SpoolReader, SourceError> {
        // Its name is not that of a first segment, so no further one is found behind it.
        SpoolReader::open(path).map(|reader| SpoolReader { first: PathBuf::new(), ..reader })
    }

    /// Where a segment begins within its spool, as its name tells.
    pub fn base_of(path: &Path) -> u64 {
        let stem = path.file_stem().map(|s| s.to_string_lossy().into_owned()).unwrap_or_default();
        stem.rsplit_once('.').and_then(|(_, base)| base.parse().ok()).unwrap_or(0)
    }

    /// The segment that holds an offset.
    pub fn segment_of(&self, offset: u64) -> PathBuf {
        let at = self.parts.partition_point(|p| p.base <= offset).saturating_sub(1);
        segment(&self.first, self.parts[at].base)
    }

    /// The next whole record; `None` while there is none yet.
    ///
    /// # Errors
    ///
    /// When the disk fails, or what is there is no record (the checksum tells).
    pub fn next_record(&mut self) -> Result<Option<Record>, SourceError> {
        if let Some(sealed) = &mut self.sealed {
            let next = sealed
                .record_at(self.at)
                .map_err(|cause| SourceError::io("read", &self.first)(cause))?;
            let Some((record, behind)) = next else { return Ok(None) };
            self.at = behind;
            return Ok(Some(record));
        }
        let mut record = self.record_at(self.at)?;
        if record.is_none() && self.next_part() {
            record = self.record_at(self.at)?;
        }
        if let Some(record) = &record {
            let behind = record.offset + HEAD as u64 + record.bytes.len() as u64;
            // What is left out lies behind the record that says so; never back.
            self.at = Gap::of(record).map_or(behind, |gap| gap.to.max(behind));
        }
        Ok(record)
    }

    /// Takes up the segment that begins where the last one ends, if there is one by now.
    fn next_part(&mut self) -> bool {
        let last = self.parts.last().map_or(0, |p| p.base);
        if self.first.as_os_str().is_empty() {
            return false;
        }
        if self.at == last {
            return self.last_moved();
        }
        match File::open(whereabouts(&segment(&self.first, self.at))) {
            Ok(file) => {
                self.parts.push(Part { base: self.at, file: Arc::new(file) });
                true
            }
            Err(_) => false,
        }
    }

    /// Whether the last segment, in which nothing stands, goes on in memory.
    fn last_moved(&mut self) -> bool {
        let Some(last) = self.parts.last_mut() else { return false };
        let named = segment(&self.first, last.base);
        let place = whereabouts(&named);
        let empty = last.file.metadata().is_ok_and(|m| m.len() == 0);
        let moved = File::open(&place).ok().filter(|_| empty && place != named);
        moved.map(|file| last.file = Arc::new(file)).is_some()
    }

    /// A reader of the same spool that begins at `offset`, which has to be that of a record.
    ///
    /// # Errors
    ///
    /// None that is known; a reader for the future.
    pub fn reopen_at(&self, offset: u64) -> Result<SpoolReader, SourceError> {
        Ok(SpoolReader {
            first: self.first.clone(),
            parts: self.parts.clone(),
            sealed: self.sealed.clone(),
            at: offset,
        })
    }

    /// The offset of what is read next.
    pub fn at(&self) -> u64 {
        self.at
    }

    /// How many bytes are still to be read.
    pub fn backlog(&self) -> u64 {
        if let Some(sealed) = &self.sealed {
            return sealed.end().saturating_sub(self.at);
        }
        let Some(last) = self.parts.last() else { return 0 };
        let here =
            last.file.metadata().map_or(0, |m| (last.base + m.len()).saturating_sub(self.at));
        // What was begun behind it is not known by length yet.
        let behind = here == 0
            && self.at > last.base
            && !self.first.as_os_str().is_empty()
            && whereabouts(&segment(&self.first, self.at)).exists();
        here + u64::from(behind)
    }

    fn record_at(&self, offset: u64) -> Result<Option<Record>, SourceError> {
        let at = self.parts.partition_point(|p| p.base <= offset).saturating_sub(1);
        let Some(part) = self.parts.get(at) else { return Ok(None) };
        // A start may begin exactly where the segment before ends.
        let failed = |cause| SourceError::io("read", &segment(&self.first, part.base))(cause);
        let within = offset - part.base;
        let mut head = [0u8; HEAD];
        if !read_whole(&part.file, &mut head, within).map_err(failed)? {
            return Ok(None);
        }
        if is_hole(&head) {
            return Ok(None);
        }
        let (len, rest) = head.split_first_chunk::<4>().expect("the head has 20 bytes");
        let (kinds, rest) = rest.split_first_chunk::<4>().expect("the head has 20 bytes");
        let (time, sum) = rest.split_first_chunk::<8>().expect("the head has 20 bytes");
        let len = u32::from_le_bytes(*len);
        let sum = sum.first_chunk::<4>().map_or(0, |s| u32::from_le_bytes(*s));
        let damaged = || {
            failed(io::Error::new(
                io::ErrorKind::InvalidData,
                format!("the record at byte {within} is damaged"),
            ))
        };
        if len > RECORD_CAP {
            return Err(damaged());
        }
        let mut bytes = vec![0u8; len as usize];
        if !read_whole(&part.file, &mut bytes, within + HEAD as u64).map_err(failed)? {
            return Ok(None);
        }
        let event = Event::from_code(kinds[0], kinds[1]).ok_or_else(damaged)?;
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
