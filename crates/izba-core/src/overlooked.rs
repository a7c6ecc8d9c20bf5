//! What is noticed of a run's lines beside its entries: those that look as if they mattered and
//! belong to none, and where a tool begins to tell again what it told.

use izba_console::read::Reading;
use izba_console::trace::{Grave, is_recap, looks_grave};
use izba_model::Stream;
use izba_model::text::thousands;

/// So many of them are remembered; more are counted only.
const CAP: usize = 10_000;
/// Of so many the words are kept, and of each so many characters.
pub(crate) const QUOTED: usize = 16;
const WORDS: usize = 200;

/// Lines above an exception that announce it.
const ABOVE: u64 = 2;

#[derive(Debug, Clone)]
pub(crate) struct Line {
    pub(crate) number: u64,
    pub(crate) stream: Stream,
    pub(crate) grave: Grave,
    pub(crate) words: Box<str>,
}

/// The lines of one run that look grave and are in no complete entry.
#[derive(Debug, Clone, Default)]
pub(crate) struct Overlooked {
    pub(crate) lines: Vec<Line>,
    pub(crate) more: u64,
    /// The line from which on failures are told again.
    recap: Option<u64>,
}

impl Overlooked {
    /// Looks at a line.
    pub(crate) fn see(&mut self, number: u64, stream: Stream, text: &str, reading: Reading<'_>) {
        if self.recap.is_none() && is_recap(text) {
            self.recap = Some(number);
        }
        if let Some(grave) = looks_grave(text, reading) {
            let quoted = self.lines.len() < QUOTED;
            let words = text.trim().chars().take(if quoted { WORDS } else { 0 });
            self.note(Line { number, stream, grave, words: words.collect() });
        }
    }

    fn note(&mut self, line: Line) {
        if self.lines.len() < CAP {
            self.lines.push(line);
        } else {
            self.more += 1;
        }
    }

    /// Takes those of a chunk that was read on its own, from its line `from` on; its first line has
    /// the number `base`.
    pub(crate) fn take(&mut self, other: Overlooked, from: u64, base: u64) {
        for line in other.lines.into_iter().filter(|line| line.number >= from) {
            self.note(Line { number: line.number + base, ..line });
        }
        self.more += other.more;
        let recap = other.recap.filter(|number| *number >= from).map(|number| number + base);
        self.recap = self.recap.or(recap);
    }

    /// Whether an entry that begins at a line may be told for the second time, where it was met at
    /// `before`.
    pub(crate) fn is_again(&self, first: u64, before: u64) -> bool {
        self.recap.is_some_and(|recap| before < recap && recap < first)
    }

    /// Forgets those that an entry holds: they were understood after all. So are those that stand
    /// right above it and only announce it.
    pub(crate) fn understood(&mut self, first: u64, last: u64, stream: Stream, thrown: bool) {
        let mut above = first;
        while let Ok(at) = self.lines.binary_search_by_key(&above.wrapping_sub(1), |l| l.number)
            && self.lines[at].stream == stream
            && (thrown || self.lines[at].words.ends_with(':'))
            && above + ABOVE > first
        {
            self.lines.remove(at);
            above -= 1;
        }
        let from = self.lines.partition_point(|line| line.number < first);
        let until = self.lines.partition_point(|line| line.number <= last);
        self.lines.extract_if(from..until, |line| line.stream == stream).for_each(drop);
    }

    /// Keeps of the lines that are looked at again only those that still look grave.
    pub(crate) fn judge(&mut self, number: u64, grave: bool) {
        if !grave && let Ok(at) = self.lines.binary_search_by_key(&number, |line| line.number) {
            self.lines.remove(at);
        }
    }

    /// Forgets all: another run begins.
    pub(crate) fn clear(&mut self) {
        *self = Overlooked::default();
    }
}

/// What is said of so many of them, none when there is none.
pub fn overlooked_words(count: u64) -> Option<String> {
    match count {
        0 => None,
        1 => Some("1 line looks as if it mattered and was not understood".into()),
        n => {
            Some(format!("{} lines look as if they mattered and were not understood", thousands(n)))
        }
    }
}
