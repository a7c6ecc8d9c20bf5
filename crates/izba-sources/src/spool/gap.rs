//! What is left out of the middle of a run that prints without end: a record in its place says how
//! many lines it held, and where what follows begins. The room on the disk is given back.

use super::aside::whereabouts;
use super::{Event, HEAD, Record, SpoolWriter, encode, now, segment};
use nix::fcntl::{FallocateFlags, fallocate};
use std::fs::OpenOptions;
use std::io;
use std::os::unix::fs::FileExt;

/// A stretch of a spool that is left out.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Gap {
    /// Lines that end in it.
    pub lines: u64,
    /// Offset of the record behind it.
    pub to: u64,
    /// What had begun in each stream and goes on behind it.
    pub carry: [Vec<u8>; 2],
}

impl Gap {
    fn bytes(&self) -> Vec<u8> {
        let mut bytes = self.lines.to_le_bytes().to_vec();
        bytes.extend(self.to.to_le_bytes());
        bytes.extend((self.carry[0].len() as u32).to_le_bytes());
        self.carry.iter().for_each(|carry| bytes.extend(carry));
        bytes
    }

    /// The gap that a record stands for; `None` for other records.
    pub fn of(record: &Record) -> Option<Gap> {
        if record.event != Event::Gap {
            return None;
        }
        let (lines, rest) = record.bytes.split_first_chunk::<8>()?;
        let (to, rest) = rest.split_first_chunk::<8>()?;
        let (first, rest) = rest.split_first_chunk::<4>()?;
        let (out, err) = rest.split_at_checked(u32::from_le_bytes(*first) as usize)?;
        Some(Gap {
            lines: u64::from_le_bytes(*lines),
            to: u64::from_le_bytes(*to),
            carry: [out.to_vec(), err.to_vec()],
        })
    }
}

impl SpoolWriter {
    /// Leaves out what stands from the record at `from` to [`Gap::to`]; how many bytes that frees.
    /// Both have to be offsets of records of the segment that is written now, and what lies between
    /// has to have been read.
    ///
    /// # Errors
    ///
    /// When the segment cannot be written, or its file system knows no holes.
    pub fn leave_out(&self, from: u64, gap: &Gap) -> io::Result<u64> {
        let mut record = Vec::new();
        encode(&Event::Gap, now(), &gap.bytes(), &mut record);
        let ends = from + record.len() as u64;
        if from < self.base || gap.to > self.base + self.len || ends >= gap.to {
            return Ok(0);
        }
        // Through the writer's own handle everything would be appended.
        let path = whereabouts(&segment(&self.first, self.base));
        let file = OpenOptions::new().write(true).open(path)?;
        file.write_all_at(&record, from - self.base)?;
        let hole = FallocateFlags::FALLOC_FL_PUNCH_HOLE | FallocateFlags::FALLOC_FL_KEEP_SIZE;
        let (at, bytes) = (ends - self.base, gap.to - ends);
        let within = |n: u64| i64::try_from(n).unwrap_or(i64::MAX);
        fallocate(&file, hole, within(at), within(bytes))?;
        Ok(bytes)
    }
}

/// Whether a head stands for nothing: a part of the file that was left out.
pub(super) fn is_hole(head: &[u8; HEAD]) -> bool {
    head.iter().all(|byte| *byte == 0)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::{SpoolReader, seal};
    use izba_model::Stream;
    use std::os::unix::fs::MetadataExt;

    #[test]
    fn what_is_left_out_gives_its_room_back_and_the_rest_is_read() {
        let folder = tempfile::tempdir().expect("a temporary folder");
        let path = folder.path().join("a.seg");
        let mut writer = SpoolWriter::create(&path).expect("a new file");
        let bytes = Event::Bytes(Stream::Out);
        let mut offsets = Vec::new();
        for number in 0..200u8 {
            offsets.push(writer.base + writer.len);
            writer.append(&bytes, &[number; 10_000]).expect("room");
        }
        let gap = Gap { lines: 7, to: offsets[150], carry: [b"half".to_vec(), Vec::new()] };
        let blocks = || std::fs::metadata(&path).expect("it is there").blocks();
        let before = blocks();
        let freed = writer.leave_out(offsets[50], &gap).expect("the file system knows holes");
        assert!(freed > 900_000 && blocks() < before, "{freed} {} {before}", blocks());
        writer.append(&bytes, b"the end").expect("room");
        let read = |path: &std::path::Path| {
            let mut reader = SpoolReader::open(path).expect("it is there");
            let mut all = Vec::new();
            while let Some(record) = reader.next_record().expect("whole") {
                all.push(record);
            }
            all
        };
        let all = read(&path);
        assert_eq!(all.len(), 50 + 1 + 50 + 1);
        assert_eq!(Gap::of(&all[50]), Some(gap.clone()));
        assert_eq!((all[51].offset, &all[51].bytes[..2]), (offsets[150], &[150, 150][..]));
        // Nothing is read from within, and nobody reads for ever.
        let reader = SpoolReader::open(&path).expect("it is there");
        let mut within = reader.reopen_at(offsets[100]).expect("a reader");
        assert_eq!(within.next_record().expect("nothing is damaged"), None);
        // What is not there any more or not there yet is not left out.
        let beyond = Gap { to: offsets[199] + 100_000, ..gap.clone() };
        assert_eq!(writer.leave_out(offsets[180], &beyond).expect("it is not tried"), 0);
        // Packed, it says the same.
        let sealed = seal(&path).expect("room").expect("it was plain");
        let packed = read(&sealed);
        assert_eq!(packed.iter().filter_map(Gap::of).collect::<Vec<_>>(), [gap]);
        let said = |all: &[Record]| -> Vec<u8> {
            all.iter().filter(|r| r.event == bytes).flat_map(|r| r.bytes.clone()).collect()
        };
        assert!(said(&packed) == said(&all));
    }
}
