//! Finds the lines of a chunk that a pattern fits, four parts of the chunk at a time: a single walk
//! through an automaton waits for memory at each byte, and four that take turns wait together. The
//! automaton is that of the regular expression crate; its states are copied, as they are met, into
//! one flat table.

use regex_automata::hybrid::LazyStateID;
use regex_automata::hybrid::dfa::{Cache, Config, DFA};
use regex_automata::util::{start, syntax};
use regex_automata::{Anchored, MatchKind};
use std::cell::RefCell;
use std::collections::HashMap;
use std::sync::Arc;

/// Parts of a chunk that are walked at a time.
const PARTS: usize = 4;
/// More states than this are given up; the pattern or the text is a strange one.
const STATES: usize = 16_384;
/// Patterns that one thread keeps its tables for.
const KEPT: usize = 4;
/// A step that the table does not tell.
const STOP: u32 = 1 << 31;
const UNKNOWN: u32 = STOP | 1;
const FITS: u32 = STOP | 2;

/// A pattern for many lines at once.
#[derive(Debug, Clone)]
pub(crate) struct Signs(Arc<DFA>);

thread_local! {
    /// The tables of the patterns that were used last.
    static WALKERS: RefCell<Vec<(Signs, Walker)>> = const { RefCell::new(Vec::new()) };
}

impl Signs {
    /// A pattern in which `^` and `$` are ends of lines; `None` when it is none.
    pub(crate) fn new(pattern: &str) -> Option<Signs> {
        let syntax = syntax::Config::new().unicode(false).utf8(false).multi_line(true);
        let config = Config::new().match_kind(MatchKind::All).cache_capacity(64 << 20);
        DFA::builder()
            .configure(config)
            .syntax(syntax)
            .build(pattern)
            .ok()
            .map(|dfa| Signs(Arc::new(dfa)))
    }

    /// The beginnings of the lines in `text`, which are whole, that the pattern fits, in order;
    /// `None` when the table would grow too large.
    pub(crate) fn lines(&self, text: &[u8]) -> Option<Vec<usize>> {
        WALKERS.with_borrow_mut(|walkers| {
            let at = walkers.iter().position(|(signs, walker)| {
                Arc::ptr_eq(&signs.0, &self.0) && walker.states.len() < STATES / 2
            });
            let (signs, mut walker) = match at {
                Some(at) => walkers.remove(at),
                None => (self.clone(), Walker::new(self.0.clone())?),
            };
            walkers.retain(|(signs, _)| !Arc::ptr_eq(&signs.0, &self.0));
            let found = walker.lines(text);
            if walkers.len() >= KEPT {
                walkers.remove(0);
            }
            walkers.push((signs, walker));
            found
        })
    }
}

struct Walker {
    dfa: Arc<DFA>,
    cache: Cache,
    /// The class of each byte, and how far apart the rows of two states lie, as a power of two.
    classes: [u8; 256],
    shift: u32,
    /// For each state and class the row of the next state, or [`UNKNOWN`] or [`FITS`].
    table: Vec<u32>,
    states: Vec<LazyStateID>,
    rows: HashMap<LazyStateID, u32>,
    start: u32,
}

impl Walker {
    fn new(dfa: Arc<DFA>) -> Option<Walker> {
        let mut cache = dfa.create_cache();
        let line = start::Config::new().anchored(Anchored::No).look_behind(Some(b'\n'));
        let begin = dfa.start_state(&mut cache, &line).ok()?;
        let mut classes = [0u8; 256];
        for (byte, class) in (0..=255u8).zip(&mut classes) {
            *class = dfa.byte_classes().get(byte);
        }
        let most = classes.iter().max().map_or(1, |most| u32::from(*most) + 1);
        let shift = most.next_power_of_two().trailing_zeros();
        let mut walker = Walker {
            dfa,
            cache,
            classes,
            shift,
            table: Vec::new(),
            states: Vec::new(),
            rows: HashMap::new(),
            start: 0,
        };
        walker.start = walker.row(begin);
        Some(walker)
    }

    fn row(&mut self, state: LazyStateID) -> u32 {
        if let Some(row) = self.rows.get(&state) {
            return *row;
        }
        let row = (self.states.len() as u32) << self.shift;
        self.states.push(state);
        self.rows.insert(state, row);
        self.table.resize(self.table.len() + (1 << self.shift), UNKNOWN);
        row
    }

    fn lines(&mut self, text: &[u8]) -> Option<Vec<usize>> {
        let mut ends = [text.len(); PARTS];
        let mut at = [0usize; PARTS];
        for part in 1..PARTS {
            let from = (text.len() / PARTS * part).max(at[part - 1]);
            at[part] = memchr::memchr(b'\n', &text[from..]).map_or(text.len(), |n| from + n + 1);
            ends[part - 1] = at[part];
        }
        let begins = at;
        let mut rows = [self.start; PARTS];
        let mut found: [Vec<usize>; PARTS] = Default::default();
        loop {
            let together = (0..PARTS).map(|part| ends[part] - at[part]).min().unwrap_or(0);
            if together == 0 {
                break;
            }
            let parts = [0, 1, 2, 3].map(|part: usize| &text[at[part]..at[part] + together]);
            let walked = walk(&self.table, &self.classes, &mut rows, parts);
            at.iter_mut().for_each(|at| *at += walked);
            if walked < together {
                for part in 0..PARTS {
                    self.step(
                        text,
                        part,
                        &mut at,
                        ends[part],
                        begins[part],
                        &mut rows,
                        &mut found[part],
                    )?;
                }
            }
        }
        for part in 0..PARTS {
            while at[part] < ends[part] {
                self.step(
                    text,
                    part,
                    &mut at,
                    ends[part],
                    begins[part],
                    &mut rows,
                    &mut found[part],
                )?;
            }
        }
        Some(found.concat())
    }

    /// One byte of one part, which the table may not tell yet.
    #[expect(clippy::too_many_arguments, reason = "what a walk of four parts holds")]
    fn step(
        &mut self,
        text: &[u8],
        part: usize,
        at: &mut [usize; PARTS],
        end: usize,
        begin: usize,
        rows: &mut [u32; PARTS],
        found: &mut Vec<usize>,
    ) -> Option<()> {
        let (here, byte) = (at[part], text[at[part]]);
        let cell = (rows[part] + u32::from(self.classes[usize::from(byte)])) as usize;
        if self.table[cell] == UNKNOWN {
            let state = self.states[(rows[part] >> self.shift) as usize];
            let next = self.dfa.next_state(&mut self.cache, state, byte).ok()?;
            // A cache that was cleared has other states under the same names.
            if self.cache.clear_count() > 0
                || self.states.len() >= STATES
                || next.is_dead()
                || next.is_quit()
            {
                self.states.resize(STATES, state);
                return None;
            }
            self.table[cell] = if next.is_match() { FITS } else { self.row(next) };
        }
        match self.table[cell] {
            FITS => {
                // The automaton tells a match one byte late, at the end of the line at the latest.
                found.push(
                    memchr::memrchr(b'\n', &text[begin..here]).map_or(begin, |n| begin + n + 1),
                );
                at[part] = memchr::memchr(b'\n', &text[here..end]).map_or(end, |n| here + n + 1);
                rows[part] = self.start;
            }
            next => {
                rows[part] = next;
                at[part] += 1;
            }
        }
        Some(())
    }
}

/// Walks four parts of equal length as far as the table tells; how far.
#[inline(never)]
fn walk(
    table: &[u32],
    classes: &[u8; 256],
    rows: &mut [u32; PARTS],
    [a, b, c, d]: [&[u8]; PARTS],
) -> usize {
    let [mut row_a, mut row_b, mut row_c, mut row_d] = *rows;
    let mut walked = 0;
    let next = |row: u32, byte: u8| table[(row + u32::from(classes[usize::from(byte)])) as usize];
    for (((a, b), c), d) in a.iter().zip(b).zip(c).zip(d) {
        let (next_a, next_b, next_c, next_d) =
            (next(row_a, *a), next(row_b, *b), next(row_c, *c), next(row_d, *d));
        if (next_a | next_b | next_c | next_d) & STOP != 0 {
            break;
        }
        (row_a, row_b, row_c, row_d) = (next_a, next_b, next_c, next_d);
        walked += 1;
    }
    *rows = [row_a, row_b, row_c, row_d];
    walked
}

#[cfg(test)]
mod tests {
    use super::Signs;
    use proptest::prelude::*;
    use regex::bytes::RegexBuilder;

    proptest! {
        #[test]
        fn the_lines_found_are_those_that_the_pattern_fits(text in "([a-e =:\r]{0,9}\n){0,40}", which in 0usize..4) {
            let pattern = ["^ab|c d\r?$|e:", "[=]{2}|^$|d", r"(?i)B\w*A|^[a-c]+\r?$", "a"][which];
            let plain = RegexBuilder::new(pattern).multi_line(true).unicode(false).build().expect("a pattern");
            let mut at = 0;
            let mut wanted = Vec::new();
            for line in text.as_bytes().split_inclusive(|b| *b == b'\n') {
                // The line stands in its text, so that what looks behind sees the same.
                if plain.is_match(line) && plain.find(line).is_some_and(|m| m.start() < line.len()) {
                    wanted.push(at);
                }
                at += line.len();
            }
            let signs = Signs::new(pattern).expect("a pattern");
            prop_assert_eq!(signs.lines(text.as_bytes()), Some(wanted.clone()));
            prop_assert_eq!(signs.lines(text.as_bytes()), Some(wanted));
        }
    }
}
