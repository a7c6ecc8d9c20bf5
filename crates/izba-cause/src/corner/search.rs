//! What to leave out next.

use std::collections::HashSet;

/// Something that can be left out.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Unit {
    /// What it is a part of; gone when that is.
    pub parent: Option<usize>,
    /// How deep it lies: units of one depth are tried together, the outermost first.
    pub depth: u16,
    /// What it cannot mean the same without: it is left out with any of them.
    pub needs: Vec<usize>,
}

impl Unit {
    /// A unit that needs nothing.
    pub fn new(parent: Option<usize>, depth: u16) -> Unit {
        Unit { parent, depth, needs: Vec::new() }
    }
}

/// One level under way: candidates from `at` downwards, so many at a time.
#[derive(Debug)]
struct Level {
    depth: u16,
    candidates: Vec<usize>,
    chunk: usize,
    at: usize,
    progressed: bool,
}

/// A search for the smallest set of units with which the error still appears.
///
/// Of `n` units of which `k` are needed it asks about `k log n` times where they lie apart, at
/// worst `n²` times. What is left in the end is minimal in this sense: no single unit can be left
/// out of it.
#[derive(Debug)]
pub struct Search {
    units: Vec<Unit>,
    gone: Vec<bool>,
    level: Option<Level>,
    depth: u16,
    deepest: u16,
    changed: bool,
    rounds: u32,
    asked: Vec<usize>,
    tried: HashSet<Vec<u64>>,
    /// Units that are never left out.
    kept: Vec<usize>,
    /// Who needs each unit.
    needed_by: Vec<Vec<usize>>,
    over: bool,
}

/// Times that all levels are gone through at most.
const ROUNDS: u32 = 4;

impl Search {
    /// A search among these units.
    pub fn new(units: Vec<Unit>) -> Search {
        let deepest = units.iter().map(|u| u.depth).max().unwrap_or(0);
        let gone = vec![false; units.len()];
        let over = units.is_empty();
        let mut needed_by = vec![Vec::new(); units.len()];
        for (at, unit) in units.iter().enumerate() {
            if let Some(parent) = unit.parent.filter(|p| *p < units.len()) {
                needed_by[parent].push(at);
            }
            for need in unit.needs.iter().filter(|n| **n < units.len()) {
                needed_by[*need].push(at);
            }
        }
        Search {
            units,
            gone,
            level: None,
            depth: 0,
            deepest,
            changed: false,
            rounds: 1,
            asked: Vec::new(),
            tried: HashSet::new(),
            kept: Vec::new(),
            needed_by,
            over,
        }
    }

    /// A search that never leaves these out, since the error would not be told then.
    #[must_use]
    pub fn keeping(mut self, units: Vec<usize>) -> Search {
        self.kept = units;
        self
    }

    /// Which units to leave out in the next try; `None` when nothing more can be.
    pub fn next_try(&mut self) -> Option<Vec<bool>> {
        while !self.over {
            let Some(level) = &mut self.level else {
                self.begin_level();
                continue;
            };
            if level.at == 0 {
                if level.chunk == 1 && !level.progressed || level.candidates.is_empty() {
                    self.level = None;
                    self.next_level();
                    continue;
                }
                // Something went: with what is left the same size may do again.
                level.chunk = if level.progressed {
                    level.chunk.min(level.candidates.len())
                } else {
                    level.chunk / 2
                }
                .max(1);
                if level.progressed && level.chunk > 1 {
                    level.chunk = level.chunk.div_ceil(2);
                }
                level.progressed = false;
                level.at = level.candidates.len();
                continue;
            }
            let from = level.at.saturating_sub(level.chunk);
            self.asked = level.candidates[from..level.at].to_vec();
            let mut without = self.gone.clone();
            for unit in &self.asked {
                without[*unit] = true;
            }
            self.spread(&mut without);
            let mut key = vec![0u64; without.len().div_ceil(64)];
            for (at, gone) in without.iter().enumerate().filter(|(_, gone)| **gone) {
                key[at / 64] |= u64::from(*gone) << (at % 64);
            }
            let pointless = self.kept.iter().any(|k| without[*k]);
            if pointless || !self.tried.insert(key) {
                self.answer(false);
                continue;
            }
            return Some(without);
        }
        None
    }

    /// Whether the same error came with what was left out last.
    pub fn answer(&mut self, same: bool) {
        let Some(level) = &mut self.level else { return };
        let from = level.at.saturating_sub(level.chunk);
        if same {
            level.progressed = true;
            self.changed = true;
            let mut gone = std::mem::take(&mut self.gone);
            for unit in std::mem::take(&mut self.asked) {
                gone[unit] = true;
            }
            self.spread(&mut gone);
            self.gone = gone;
        }
        let Some(level) = &mut self.level else { return };
        // Others of the level may have gone with it.
        level.at = level.candidates[..from].iter().filter(|c| !self.gone[**c]).count();
        level.candidates.retain(|c| !self.gone[*c]);
    }

    /// What is left out now for the first time: what the next answer is about.
    pub fn asked(&self) -> &[usize] {
        &self.asked
    }

    /// Which units are left out by now, those within others too.
    pub fn gone(&self) -> &[bool] {
        &self.gone
    }

    /// How many units are still there.
    pub fn left(&self) -> usize {
        self.gone.iter().filter(|g| !**g).count()
    }

    /// Whether nothing more can be left out.
    pub fn is_over(&self) -> bool {
        self.over
    }

    /// What lies in something that is gone, or needs it, is gone too.
    fn spread(&self, gone: &mut [bool]) {
        let mut open: Vec<usize> = (0..gone.len()).filter(|at| gone[*at]).collect();
        while let Some(at) = open.pop() {
            for other in &self.needed_by[at] {
                if !std::mem::replace(&mut gone[*other], true) {
                    open.push(*other);
                }
            }
        }
    }

    fn begin_level(&mut self) {
        let depth = self.depth;
        let candidates: Vec<usize> = (0..self.units.len())
            .filter(|u| self.units[*u].depth == depth && !self.gone[*u])
            .collect();
        if candidates.is_empty() {
            return self.next_level();
        }
        let chunk = candidates.len().div_ceil(2);
        self.level =
            Some(Level { depth, at: candidates.len(), chunk, candidates, progressed: false });
    }

    fn next_level(&mut self) {
        let _ = self.level.as_ref().map(|l| l.depth);
        if self.depth < self.deepest {
            self.depth += 1;
        } else if self.changed && self.rounds < ROUNDS {
            // What went further in may let more go further out.
            (self.depth, self.changed) = (0, false);
            self.rounds += 1;
        } else {
            self.over = true;
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn run(units: Vec<Unit>, same: impl Fn(&[bool]) -> bool) -> (Vec<usize>, usize) {
        let count = units.len();
        let mut search = Search::new(units);
        let mut tries = 0;
        while let Some(without) = search.next_try() {
            tries += 1;
            assert!(tries < 10_000, "it comes to an end");
            search.answer(same(&without));
        }
        let left: Vec<usize> = (0..count).filter(|u| !search.gone()[*u]).collect();
        assert_eq!(search.left(), left.len());
        (left, tries)
    }

    fn flat(count: usize) -> Vec<Unit> {
        vec![Unit::new(None, 0); count]
    }

    #[test]
    fn few_that_matter_among_many_are_found_in_few_tries() {
        let (left, tries) = run(flat(256), |without| !without[17] && !without[200]);
        assert_eq!(left, vec![17, 200]);
        assert!(tries < 60, "{tries}");
    }

    proptest! {
        #[test]
        fn what_is_left_is_needed(needed in prop::collection::btree_set(0usize..60, 0..6), pairs in prop::collection::vec((0usize..60, 0usize..60), 0..5)) {
            // A unit may need another one: without that, nothing is told at all.
            let same = |without: &[bool]| needed.iter().all(|n| !without[*n]) && pairs.iter().all(|(a, b)| without[*a] || !without[*b]);
            let (left, _) = run(flat(60), same);
            let gone = |also: Option<usize>| (0..60).map(|u| !left.contains(&u) || also == Some(u)).collect::<Vec<bool>>();
            prop_assert!(same(&gone(None)), "the error is still there");
            for unit in &left {
                prop_assert!(!same(&gone(Some(*unit))), "{} could go too", unit);
            }
        }

        #[test]
        fn what_needs_something_goes_with_it(needs in prop::collection::vec((0usize..40, 0usize..40), 0..30), kept in 0usize..40) {
            let mut units = flat(40);
            for (a, b) in &needs {
                units[*a].needs.push(*b);
            }
            let mut search = Search::new(units).keeping(vec![kept]);
            while let Some(without) = search.next_try() {
                prop_assert!(!without[kept]);
                prop_assert!(needs.iter().all(|(a, b)| without[*a] || !without[*b]), "nothing is kept without what it needs");
                search.answer(true);
            }
            let mut closed = std::collections::BTreeSet::from([kept]);
            while let Some((_, b)) = needs.iter().find(|(a, b)| closed.contains(a) && !closed.contains(b)) {
                closed.insert(*b);
            }
            let left: std::collections::BTreeSet<usize> = (0..40).filter(|u| !search.gone()[*u]).collect();
            prop_assert_eq!(left, closed);
        }

        #[test]
        fn parts_go_with_what_holds_them(needed in 0usize..40) {
            // Each tenth unit holds the nine that follow.
            let units: Vec<Unit> = (0..40).map(|u| if u % 10 == 0 { Unit::new(None, 0) } else { Unit::new(Some(u / 10 * 10), 1) }).collect();
            let (left, _) = run(units, |without| !without[needed]);
            let mut expected = vec![needed / 10 * 10, needed];
            expected.dedup();
            prop_assert_eq!(left, expected);
        }
    }
}
