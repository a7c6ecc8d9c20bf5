//! Segments that are no longer written, made small: frames of records, each compressed (RFC 8878)
//! and checked by itself, so that any part can be read again.
//!
//! The file begins with [`MAGIC`]. A frame is a head of 24 bytes (bytes on disk, bytes of records,
//! offset of its first record within the segment, offset behind its last one: 4, 4, 8, 8;
//! little-endian), then the compressed records and their checksum. Within a frame a record is its
//! kind and stream, its length and the time since the one before (as numbers of seven bits a byte),
//! and its bytes. Bytes of one stream that arrived in the same millisecond are one record.

use super::{Event, HEAD, RECORD_CAP, Record};
use izba_model::Millis;
use std::fs::File;
use std::io::{self, Write};
use std::os::unix::fs::FileExt;
use std::sync::Arc;

/// Ending of a sealed segment.
pub const SEALED: &str = "segz";
pub(super) const MAGIC: &[u8; 8] = b"izba-sz1";
/// Bytes of records that begin a new frame.
const FRAME: usize = 1 << 20;
const FRAME_HEAD: usize = 24;
/// As small as the common default.
const EFFORT: i32 = 3;

#[derive(Debug, Clone, Copy)]
struct Frame {
    at: u64,
    packed: u32,
    raw: u32,
    first: u64,
    behind: u64,
}

/// Records of a frame, each with the offset behind it.
type Records = Arc<[(Record, u64)]>;

/// A sealed segment, open for reading.
#[derive(Debug, Clone)]
pub(super) struct Sealed {
    file: Arc<File>,
    frames: Arc<[Frame]>,
    /// The frame that was read last, with its records and the offset behind each.
    latest: Option<(u64, Records)>,
}

fn damaged(at: u64) -> io::Error {
    io::Error::new(io::ErrorKind::InvalidData, format!("the part at byte {at} is damaged"))
}

impl Sealed {
    /// Opens `file`, if it is sealed at all.
    pub(super) fn open(file: &Arc<File>) -> io::Result<Option<Sealed>> {
        let mut magic = [0u8; MAGIC.len()];
        if file.read_exact_at(&mut magic, 0).is_err() || magic != *MAGIC {
            return Ok(None);
        }
        let (len, mut at, mut frames) = (file.metadata()?.len(), MAGIC.len() as u64, Vec::new());
        let mut head = [0u8; FRAME_HEAD];
        while at + FRAME_HEAD as u64 <= len {
            file.read_exact_at(&mut head, at)?;
            let four = |from: usize| {
                u32::from_le_bytes([head[from], head[from + 1], head[from + 2], head[from + 3]])
            };
            let eight = |from: usize| u64::from(four(from)) | u64::from(four(from + 4)) << 32;
            let frame = Frame {
                at: at + FRAME_HEAD as u64,
                packed: four(0),
                raw: four(4),
                first: eight(8),
                behind: eight(16),
            };
            if frame.raw as usize > FRAME + 2 * RECORD_CAP as usize || frame.behind < frame.first {
                return Err(damaged(at));
            }
            at = frame.at + u64::from(frame.packed) + 4;
            // One that says more than there is gets no memory for it; reading it tells.
            let there = u32::try_from(len - frame.at).unwrap_or(u32::MAX);
            frames.push(Frame { packed: frame.packed.min(there), ..frame });
        }
        Ok(Some(Sealed { file: file.clone(), frames: frames.into(), latest: None }))
    }

    /// The offset behind the last record.
    pub(super) fn end(&self) -> u64 {
        self.frames.last().map_or(0, |f| f.behind)
    }

    /// The record at an offset, and the offset behind it.
    pub(super) fn record_at(&mut self, offset: u64) -> io::Result<Option<(Record, u64)>> {
        let Some(frame) = self.frames[..self.frames.partition_point(|f| f.first <= offset)]
            .last()
            .filter(|f| offset < f.behind)
        else {
            return Ok(None);
        };
        if self.latest.as_ref().is_none_or(|(first, _)| *first != frame.first) {
            self.latest = Some((frame.first, self.read(frame)?.into()));
        }
        let records = self.latest.as_ref().map_or(&[][..], |(_, r)| r);
        Ok(records
            .binary_search_by_key(&offset, |(r, _)| r.offset)
            .ok()
            .map(|at| records[at].clone()))
    }

    fn read(&self, frame: &Frame) -> io::Result<Vec<(Record, u64)>> {
        let mut packed = vec![0u8; frame.packed as usize + 4];
        self.file.read_exact_at(&mut packed, frame.at)?;
        let sum = packed.split_off(frame.packed as usize);
        if sum != crc32fast::hash(&packed).to_le_bytes() {
            return Err(damaged(frame.at));
        }
        let raw = zstd::bulk::decompress(&packed, frame.raw as usize)?;
        let (mut at, mut offset, mut time, mut records) = (0, frame.first, 0i64, Vec::new());
        while at < raw.len() {
            let code = raw[at];
            at += 1;
            let (Some(len), Some(delta)) = (number(&raw, &mut at), number(&raw, &mut at)) else {
                return Err(damaged(frame.at));
            };
            time += (delta >> 1) as i64 ^ -((delta & 1) as i64);
            let end = at + len as usize;
            let (Some(bytes), Some(event)) =
                (raw.get(at..end), Event::from_code(code >> 1, code & 1))
            else {
                return Err(damaged(frame.at));
            };
            let behind = offset + HEAD as u64 + len;
            records.push((
                Record { offset, event, time: Millis(time), bytes: bytes.to_vec() },
                behind,
            ));
            (at, offset) = (end, behind);
        }
        Ok(records)
    }
}

fn number(bytes: &[u8], at: &mut usize) -> Option<u64> {
    let (mut value, mut shift) = (0u64, 0);
    loop {
        let byte = *bytes.get(*at)?;
        *at += 1;
        value |= u64::from(byte & 0x7f) << shift;
        if byte < 0x80 {
            return Some(value);
        }
        shift += 7;
        if shift > 63 {
            return None;
        }
    }
}

fn put_number(out: &mut Vec<u8>, mut value: u64) {
    while value >= 0x80 {
        out.push(value as u8 | 0x80);
        value >>= 7;
    }
    out.push(value as u8);
}

pub(super) struct Packer<W: Write> {
    pub(super) out: W,
    pub(super) raw: Vec<u8>,
    pub(super) first: u64,
    pub(super) offset: u64,
    pub(super) time: i64,
}

impl<W: Write> Packer<W> {
    pub(super) fn record(&mut self, event: &Event, time: Millis, bytes: &[u8]) -> io::Result<()> {
        let [kind, stream] = event.code();
        let delta = time.0.wrapping_sub(self.time);
        self.raw.push(kind << 1 | stream);
        put_number(&mut self.raw, bytes.len() as u64);
        put_number(&mut self.raw, ((delta << 1) ^ (delta >> 63)) as u64);
        self.raw.extend_from_slice(bytes);
        self.time = time.0;
        self.offset += HEAD as u64 + bytes.len() as u64;
        if self.raw.len() >= FRAME { self.frame() } else { Ok(()) }
    }

    pub(super) fn frame(&mut self) -> io::Result<()> {
        if self.raw.is_empty() {
            return Ok(());
        }
        let packed = zstd::bulk::compress(&self.raw, EFFORT)?;
        self.out.write_all(&(packed.len() as u32).to_le_bytes())?;
        self.out.write_all(&(self.raw.len() as u32).to_le_bytes())?;
        self.out.write_all(&self.first.to_le_bytes())?;
        self.out.write_all(&self.offset.to_le_bytes())?;
        self.out.write_all(&packed)?;
        self.out.write_all(&crc32fast::hash(&packed).to_le_bytes())?;
        (self.first, self.time) = (self.offset, 0);
        self.raw.clear();
        Ok(())
    }
}
