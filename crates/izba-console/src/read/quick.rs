//! The quick reject: most lines of a console can be seen at once to begin no entry, many at a time.

use super::layout::Layouts;
use super::setting::Reading;
use super::signs::{is_sign, many};
use super::walk::Signs;
use std::sync::LazyLock;

/// Whether an entry may begin at this line, which is decoded and has no line end.
pub(crate) fn may_matter(text: &str, reading: Reading<'_>) -> bool {
    is_sign(text) || reading.layouts.may_matter(text)
}

/// A line of a chunk at which an entry may begin.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Hit {
    /// Line ends in the chunk before it.
    pub line: u32,
    /// Byte of the chunk at which it begins.
    pub at: u32,
}

/// What a first look at a chunk found: the only part of reading that needs no order, so that chunks
/// can be looked at side by side.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Scan {
    /// Line ends in the chunk.
    pub lines: u32,
    /// The lines that stand whole behind a line end and may begin an entry, in order. No other such
    /// line does.
    pub hits: Vec<Hit>,
}

impl Scan {
    /// Looks at a chunk of at most 4 GiB.
    pub fn of(chunk: &[u8], layouts: &Layouts) -> Scan {
        static MANY: LazyLock<Signs> = LazyLock::new(|| many(""));
        let many = layouts.many().unwrap_or(&MANY);
        let mut scan = Scan::default();
        let Some(first) = memchr::memchr(b'\n', chunk) else { return scan };
        let last = memchr::memrchr(b'\n', chunk).unwrap_or(first);
        let text = &chunk[first + 1..=last];
        // Where no table holds the pattern, each line is looked at by itself.
        let found = many.lines(text).unwrap_or_else(|| {
            std::iter::once(0)
                .chain(memchr::memchr_iter(b'\n', text).map(|n| n + 1))
                .filter(|begin| *begin < text.len())
                .collect()
        });
        let mut counted = 0;
        for begin in found {
            let at = first + 1 + begin;
            scan.lines += memchr::memchr_iter(b'\n', &chunk[counted..at]).count() as u32;
            counted = at;
            scan.hits.push(Hit { line: scan.lines, at: at as u32 });
        }
        scan.lines += memchr::memchr_iter(b'\n', &chunk[counted..]).count() as u32;
        scan
    }
}
