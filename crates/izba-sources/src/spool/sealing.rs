//! Packing a plain segment into a sealed one.

use super::read::SpoolReader;
use super::sealed::{MAGIC, Packer, SEALED};
use super::{Event, RECORD_CAP, Record};
use crate::SourceError;
use std::fs;
use std::io::{BufWriter, Write};
use std::os::unix::fs::OpenOptionsExt;
use std::path::{Path, PathBuf};

/// Makes a segment that nobody writes any more small; gives the sealed file, or `None` when it is
/// sealed already.
///
/// The plain file goes only when the sealed one is whole on the disk: a power cut leaves one of
/// them, or both.
///
/// # Errors
///
/// When it cannot be read or written; it stays as it was then. A damaged record and what is behind
/// it are not taken along, and the plain file stays.
pub fn seal(path: &Path) -> Result<Option<PathBuf>, SourceError> {
    if path.extension().is_some_and(|e| e == SEALED) {
        return Ok(None);
    }
    let sealed = path.with_extension(SEALED);
    let half = path.with_extension("half");
    let failed = |cause| SourceError::io("write to", &half)(cause);
    let mut reader = SpoolReader::open_one(path)?;
    let file = fs::OpenOptions::new()
        .write(true)
        .create(true)
        .truncate(true)
        .mode(0o600)
        .open(&half)
        .map_err(failed)?;
    let mut packer =
        Packer { out: BufWriter::new(file), raw: Vec::new(), first: 0, offset: 0, time: 0 };
    packer.out.write_all(MAGIC).map_err(failed)?;
    let mut open: Option<Record> = None;
    loop {
        let next = match reader.next_record() {
            Ok(next) => next,
            Err(error) => {
                let _ = fs::remove_file(&half);
                return Err(error);
            }
        };
        let joins = |a: &Record, b: &Record| {
            matches!(a.event, Event::Bytes(_))
                && a.event == b.event
                && a.time == b.time
                && a.bytes.len() + b.bytes.len() <= RECORD_CAP as usize
        };
        match (&mut open, next) {
            (Some(before), Some(next)) if joins(before, &next) => {
                before.bytes.extend_from_slice(&next.bytes)
            }
            (_, next) => {
                let end = next.is_none();
                if let Some(done) = std::mem::replace(&mut open, next) {
                    packer.record(&done.event, done.time, &done.bytes).map_err(failed)?;
                }
                if end {
                    break;
                }
            }
        }
    }
    packer.frame().map_err(failed)?;
    let file = packer.out.into_inner().map_err(|e| failed(e.into_error()))?;
    file.sync_all().map_err(failed)?;
    fs::rename(&half, &sealed).map_err(failed)?;
    fs::remove_file(path).map_err(SourceError::io("delete", path))?;
    Ok(Some(sealed))
}
