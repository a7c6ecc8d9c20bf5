//! Cuts what arrived into lines, each stream on its own, with checkpoints from which any line can
//! be read again.

use super::Scan;
use izba_model::{Millis, Stream};
use std::borrow::Cow;

/// A line longer than this is kept whole in the spool; this many bytes of it are read and shown.
pub const LINE_CAP: usize = 64 * 1024;

/// How much of an unfinished line a checkpoint carries; longer ones wait for the next chance.
const CARRY_CAP: usize = 4 * 1024;

/// A checkpoint is due after this many bytes.
const BLOCK_BYTES: u64 = 64 * 1024;

/// One line as it arrived, without its line end.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct RawLine<'a> {
    /// Which stream it came by.
    pub stream: Stream,
    /// When its end arrived, in milliseconds since 1970 (UTC).
    pub time: Option<Millis>,
    /// Its first [`LINE_CAP`] bytes.
    pub bytes: Cow<'a, [u8]>,
    /// Its whole length in bytes.
    pub len: u64,
}

/// A spot in a segment from which lines can be read again.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Checkpoint {
    /// Offset in the segment at which a record (or, in a plain file, a chunk) begins.
    pub offset: u64,
    /// Number of the line that ends next, from 0.
    pub line: u64,
    /// What has begun in each stream before it.
    pub carry: [Box<[u8]>; 2],
}

#[derive(Debug, Clone, Default)]
struct Partial {
    bytes: Vec<u8>,
    len: u64,
}

/// Where the lines of a stream go, one by one or, where nothing is open, many at once.
pub trait LineSink {
    /// Takes the line with this number.
    fn line(&mut self, number: u64, line: RawLine<'_>);
    /// Whether lines of `stream` that may begin no entry would change nothing.
    fn is_idle(&self, stream: Stream) -> bool;
    /// Takes the last of some lines that were passed over.
    fn pass(&mut self, number: u64, line: RawLine<'_>);
    /// Takes all lines of the chunk from `line` of it on at once, if it can; `base` is the number
    /// of the chunk's first line.
    fn jump(&mut self, line: u32, base: u64) -> bool;
}

/// Cuts chunks into lines and remembers where lines can be found again.
///
/// How the bytes are cut into chunks makes no difference to the lines.
#[derive(Debug, Clone, Default)]
pub struct Splitter {
    partial: [Partial; 2],
    lines: u64,
    next_due: u64,
    checkpoints: Vec<Checkpoint>,
    resumed: bool,
}

impl Splitter {
    /// A splitter that reads lines again, starting at `checkpoint`.
    pub fn resume(checkpoint: &Checkpoint) -> Splitter {
        let partial = checkpoint
            .carry
            .each_ref()
            .map(|bytes| Partial { bytes: bytes.to_vec(), len: bytes.len() as u64 });
        Splitter {
            partial,
            lines: checkpoint.line,
            next_due: u64::MAX,
            checkpoints: Vec::new(),
            resumed: true,
        }
    }

    /// How many lines have ended so far.
    pub fn lines(&self) -> u64 {
        self.lines
    }

    /// Goes on behind lines that are left out: `lines` of them end there, and what had begun in each
    /// stream goes on.
    pub fn skip(&mut self, lines: u64, carry: &[Vec<u8>; 2]) {
        self.lines += lines;
        self.partial =
            carry.each_ref().map(|bytes| Partial { bytes: bytes.clone(), len: bytes.len() as u64 });
    }

    /// The checkpoints so far, in their order.
    pub fn checkpoints(&self) -> &[Checkpoint] {
        &self.checkpoints
    }

    /// Forgets the checkpoints between two offsets, since what they lead to is left out.
    pub fn forget(&mut self, from: u64, to: u64) {
        self.checkpoints.retain(|c| c.offset <= from || c.offset >= to);
    }

    /// The last checkpoint at or before line `line`.
    pub fn checkpoint_for(&self, line: u64) -> Option<&Checkpoint> {
        let after = self.checkpoints.partition_point(|c| c.line <= line);
        self.checkpoints.get(after.checked_sub(1)?)
    }

    /// Takes the chunk that begins at `offset` of the segment and hands each line that ends in it
    /// to `each`.
    pub fn feed(
        &mut self,
        stream: Stream,
        time: Option<Millis>,
        offset: u64,
        chunk: &[u8],
        mut each: impl FnMut(u64, RawLine<'_>),
    ) {
        self.checkpoint(offset);
        let mut rest = chunk;
        while let Some(at) = memchr::memchr(b'\n', rest) {
            self.end_line(stream, time, &rest[..at], &mut each);
            rest = &rest[at + 1..];
        }
        self.partial[stream.index()].push(rest);
    }

    /// As [`Splitter::feed`], with what a first look at the chunk found: lines that may begin no
    /// entry are passed over in one go while `sink` is idle. Without an offset the chunk is the
    /// rest of one.
    pub fn feed_scanned(
        &mut self,
        stream: Stream,
        time: Option<Millis>,
        offset: Option<u64>,
        chunk: &[u8],
        scan: &Scan,
        sink: &mut impl LineSink,
    ) {
        if let Some(offset) = offset {
            self.checkpoint(offset);
        }
        let (Some(first), Some(last)) =
            (memchr::memchr(b'\n', chunk), memchr::memrchr(b'\n', chunk))
        else {
            return self.partial[stream.index()].push(chunk);
        };
        let base = self.lines;
        self.end_line(stream, time, &chunk[..first], |number, line| sink.line(number, line));
        let (mut at, mut hits) = (first + 1, scan.hits.iter().peekable());
        while at <= last {
            if sink.is_idle(stream) {
                while hits.next_if(|hit| (hit.at as usize) < at).is_some() {}
                let (next, line) =
                    hits.peek().map_or((last + 1, scan.lines), |hit| (hit.at as usize, hit.line));
                if next > at {
                    let end = next - 1;
                    let begin = memchr::memrchr(b'\n', &chunk[at..end]).map_or(at, |n| at + n + 1);
                    let bytes = &chunk[begin..end.min(begin + LINE_CAP)];
                    self.lines = base + u64::from(line);
                    sink.pass(
                        self.lines - 1,
                        RawLine {
                            stream,
                            time,
                            bytes: Cow::Borrowed(bytes),
                            len: (end - begin) as u64,
                        },
                    );
                    at = next;
                    continue;
                }
                if hits.peek().is_some_and(|hit| hit.at as usize == at) && sink.jump(line, base) {
                    self.lines = base + u64::from(scan.lines);
                    at = last + 1;
                    continue;
                }
            }
            let end = memchr::memchr(b'\n', &chunk[at..]).map_or(last, |n| at + n);
            self.end_line(stream, time, &chunk[at..end], |number, line| sink.line(number, line));
            at = end + 1;
        }
        self.partial[stream.index()].push(&chunk[at..]);
    }

    fn checkpoint(&mut self, offset: u64) {
        if offset >= self.next_due
            && !self.resumed
            && self.partial.iter().all(|p| p.bytes.len() <= CARRY_CAP)
        {
            let carry = self.partial.each_ref().map(|p| p.bytes.clone().into_boxed_slice());
            self.checkpoints.push(Checkpoint { offset, line: self.lines, carry });
            self.next_due = offset + BLOCK_BYTES;
        }
    }

    /// Ends the line whose last bytes are `bytes`.
    fn end_line(
        &mut self,
        stream: Stream,
        time: Option<Millis>,
        bytes: &[u8],
        each: impl FnOnce(u64, RawLine<'_>),
    ) {
        let partial = &mut self.partial[stream.index()];
        let number = self.lines;
        self.lines += 1;
        if partial.len == 0 {
            // A line that stands whole in the chunk is not copied.
            let shown = &bytes[..bytes.len().min(LINE_CAP)];
            return each(
                number,
                RawLine { stream, time, bytes: Cow::Borrowed(shown), len: bytes.len() as u64 },
            );
        }
        partial.push(bytes);
        let Partial { bytes, len } = std::mem::take(partial);
        each(number, RawLine { stream, time, bytes: Cow::Owned(bytes), len });
    }

    /// Ends the unfinished lines: what stands without a newline at the end of the input is a line
    /// too.
    pub fn finish(&mut self, time: Option<Millis>, mut each: impl FnMut(u64, RawLine<'_>)) {
        for stream in [Stream::Out, Stream::Err] {
            let Partial { bytes, len } = std::mem::take(&mut self.partial[stream.index()]);
            if len > 0 {
                each(self.lines, RawLine { stream, time, bytes: Cow::Owned(bytes), len });
                self.lines += 1;
            }
        }
    }

    /// What stands unfinished in each stream: a question that waits for an answer, perhaps.
    pub fn unfinished(&self) -> impl Iterator<Item = (Stream, &[u8])> {
        [(Stream::Out, &self.partial[0]), (Stream::Err, &self.partial[1])]
            .into_iter()
            .filter(|(_, p)| p.len > 0)
            .map(|(s, p)| (s, p.bytes.as_slice()))
    }

    /// Bytes of memory that checkpoints and unfinished lines hold, about.
    pub fn memory_usage(&self) -> usize {
        self.checkpoints
            .iter()
            .map(|c| size_of::<Checkpoint>() + c.carry.iter().map(|b| b.len()).sum::<usize>())
            .sum::<usize>()
            + self.partial.iter().map(|p| p.bytes.capacity()).sum::<usize>()
    }
}

impl Partial {
    fn push(&mut self, bytes: &[u8]) {
        let room = LINE_CAP.saturating_sub(self.bytes.len());
        self.bytes.extend_from_slice(&bytes[..bytes.len().min(room)]);
        self.len += bytes.len() as u64;
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    impl RawLine<'_> {
        fn kept(self) -> RawLine<'static> {
            RawLine {
                bytes: Cow::Owned(self.bytes.into_owned()),
                stream: self.stream,
                time: self.time,
                len: self.len,
            }
        }
    }
    use proptest::prelude::*;

    fn lines_of(chunks: &[(Stream, Vec<u8>)]) -> (Vec<RawLine<'static>>, Splitter, Vec<u64>) {
        let mut splitter = Splitter::default();
        let (mut lines, mut offset, mut offsets) = (Vec::new(), 0, Vec::new());
        for (stream, chunk) in chunks {
            offsets.push(offset);
            splitter.feed(*stream, None, offset, chunk, |_, line| lines.push(line.kept()));
            offset += chunk.len() as u64;
        }
        splitter.finish(None, |_, line| lines.push(line.kept()));
        (lines, splitter, offsets)
    }

    proptest! {
        #[test]
        fn lines_can_be_read_again_from_every_checkpoint(
            chunks in proptest::collection::vec((any::<bool>(), any::<u8>(), 0usize..9000, 1usize..6000), 0..60),
            wanted in 0u64..400,
        ) {
            let chunk = |(err, letter, len, line): (bool, u8, usize, usize)| {
                let bytes = (0..len).map(|at| if at % line == line - 1 { b'\n' } else { letter }).collect();
                (if err { Stream::Err } else { Stream::Out }, bytes)
            };
            let chunks: Vec<(Stream, Vec<u8>)> = chunks.into_iter().map(chunk).collect();
            let (lines, splitter, offsets) = lines_of(&chunks);
            let Some(checkpoint) = splitter.checkpoint_for(wanted) else { return Ok(()) };
            let mut again = Splitter::resume(checkpoint);
            let mut found = Vec::new();
            for ((stream, chunk), offset) in chunks.iter().zip(offsets).filter(|(_, at)| *at >= checkpoint.offset) {
                again.feed(*stream, None, offset, chunk, |number, line| found.push((number, line.kept())));
            }
            again.finish(None, |number, line| found.push((number, line.kept())));
            for (number, line) in found {
                prop_assert_eq!(&line, &lines[number as usize]);
            }
        }
    }

    #[test]
    fn a_long_line_is_counted_whole_and_held_short() {
        let (lines, splitter, _) =
            lines_of(&[(Stream::Out, vec![b'x'; 50_000_000]), (Stream::Out, b"\nnext".to_vec())]);
        assert_eq!((lines[0].len, lines[0].bytes.len()), (50_000_000, LINE_CAP));
        assert_eq!(&*lines[1].bytes, b"next");
        assert!(splitter.memory_usage() < 1_000_000);
    }
}
