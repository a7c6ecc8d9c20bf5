//! What can be told of a chunk on its own, before what stood above it is known: so that chunks are
//! read side by side.
//!
//! A digest reads its chunk as if nothing were open above. Where an entry was, the engine reads on
//! in order until nothing is open at a line at which nothing was open here either; from there on
//! both would do the same, and the digest's work is taken.

use crate::group::Likeness;
use crate::overlooked::Overlooked;
use izba_console::Setting;
use izba_console::read::{LineSink, RawLine, Scan, Splitter};
use izba_console::trace::{Assembled, Lanes};
use izba_model::Stream;
use izba_model::text::decode;
use izba_model::{Entry, Millis};

/// An entry with its lines, placed, and with what makes it the same mistake as others.
#[derive(Debug, Clone)]
pub(crate) struct Placed {
    pub(crate) entry: Entry,
    pub(crate) like: Likeness,
    pub(crate) first_line: u64,
    pub(crate) last_line: u64,
}

impl Placed {
    pub(crate) fn new(assembled: Assembled, setting: &Setting) -> Placed {
        let Assembled { report, first_line, last_line, time } = assembled;
        let time = time.or_else(|| report.printed.and_then(|p| p.at(&setting.zone)));
        let entry = Entry::resolve(report, &setting.project, time);
        let like = Likeness::of(&entry, &setting.project);
        Placed { entry, like, first_line, last_line }
    }
}

/// One chunk of a stream, read on its own. See the head of this file.
#[derive(Debug)]
pub struct Digest {
    pub(crate) scan: Scan,
    setting: Setting,
    placed: Vec<Placed>,
    /// Lines of the chunk before which nothing was open, each with how many entries were complete.
    idle: Vec<(u32, u32)>,
    overlooked: Overlooked,
    end: Lanes,
}

/// What is left of a digest from some line on.
#[derive(Debug)]
pub(crate) struct Rest {
    pub(crate) placed: Vec<Placed>,
    /// With numbers in the chunk, those before the line too.
    pub(crate) overlooked: Overlooked,
    pub(crate) end: Lanes,
}

impl Digest {
    /// Reads `chunk`, which arrived at `time`, as the source's lines are read now.
    pub fn of(chunk: &[u8], stream: Stream, time: Option<Millis>, setting: &Setting) -> Digest {
        let scan = Scan::of(chunk, &setting.layouts);
        let mut digest = Digest {
            scan: Scan::default(),
            setting: setting.clone(),
            placed: Vec::new(),
            idle: Vec::new(),
            overlooked: Overlooked::default(),
            end: Lanes::default(),
        };
        Splitter::default().feed_scanned(stream, time, None, chunk, &scan, &mut digest);
        digest.scan = scan;
        digest
    }

    /// Whether lines are still read as it was.
    pub(crate) fn is_for(&self, setting: &Setting) -> bool {
        self.setting.is(setting)
    }

    /// Takes what was found from line `line` of the chunk on, if nothing was open before it; `base`
    /// is the number of the chunk's first line.
    pub(crate) fn rest_from(&mut self, line: u32, base: u64) -> Option<Rest> {
        let at = self.idle.binary_search_by_key(&line, |(line, _)| *line).ok()?;
        let mut placed = self.placed.split_off(self.idle[at].1 as usize);
        for entry in &mut placed {
            entry.first_line += base;
            entry.last_line += base;
        }
        let mut end = std::mem::take(&mut self.end);
        end.shift(base);
        self.idle.clear();
        Some(Rest { placed, overlooked: std::mem::take(&mut self.overlooked), end })
    }
}

impl LineSink for Digest {
    fn line(&mut self, number: u64, line: RawLine<'_>) {
        // What stands above the first line end may be the rest of a line.
        if number == 0 {
            return;
        }
        if self.end.is_idle() {
            self.idle.push((number as u32, self.placed.len() as u32));
        }
        let (placed, setting) = (&mut self.placed, &self.setting);
        let text = decode(&line.bytes);
        self.end.line(number, line.time, &text, setting.reading(), &mut |done| {
            placed.push(Placed::new(done, setting))
        });
        if !self.end.took(number) {
            self.overlooked.see(number, line.stream, &text, setting.reading());
        }
    }

    fn is_idle(&self, _: Stream) -> bool {
        self.end.is_idle()
    }

    fn pass(&mut self, number: u64, line: RawLine<'_>) {
        self.end.pass(number, line.time, &decode(&line.bytes));
    }

    fn jump(&mut self, _: u32, _: u64) -> bool {
        false
    }
}
