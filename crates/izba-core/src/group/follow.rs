//! Follow-ons: groups that only ever appear right after another.
//!
//! For each sighting of B the latest sighting of every other group A within [`WINDOW_MS`] is noted:
//! each sighting of A counts once as a case, each sighting of B without any as a miss. B is taken
//! for a follow-on of A when nearly all are cases, and when that many would be next to impossible
//! by chance: the share of the time that lies as closely behind some sighting of A is known from
//! A's own gaps, so that a flood, which is always close, proves nothing.

use super::id::GroupId;

/// How long after A something may follow, in milliseconds (in lines where no times are known).
const WINDOW_MS: f64 = 2_000.0;
/// Cases needed at least, and between mistakes that share neither a script nor an object nor a
/// handler: timers of the same length make strangers come together for a while.
const CASES: u32 = 4;
pub(super) const CASES_OF_STRANGERS: u32 = 8;
/// Share of sightings that may come without.
const MISSES: f64 = 0.03;
/// Cases beyond the first of each run without which a follow-on may be no more than a start that
/// both share.
const REPEATS: u32 = 2;
/// A group after which another comes less often than once in so many times does not bring it about:
/// in a loop that fails at every turn, whatever else fails comes close behind.
const RARELY: u64 = 20;
/// The chance that any follow-on at all is claimed where there is none.
const CHANCE: f64 = 1e-4;
/// Groups before it that a sighting is compared with, and candidates remembered for each group.
const RECENT: usize = 8;
const CANDIDATES: usize = 16;
/// Classes of length for gaps, each twice the one before; the first is up to one millisecond.
const CLASSES: usize = 32;

/// Which group another one follows, and how sure that is.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Follow {
    /// The group that comes before.
    pub of: GroupId,
    /// Sightings of that one after which this one came.
    pub cases: u32,
    /// Sightings that came without it.
    pub misses: u32,
    /// How sure: the lower end of the range in which the share of cases lies nineteen times in
    /// twenty (Wilson), 0 to 1.
    pub sure: f64,
}

#[derive(Debug, Clone)]
struct Candidate {
    of: GroupId,
    cases: u32,
    /// Sightings behind one of A that had its case already.
    shared: u32,
    /// Runs in which there was a case, and the last of them.
    runs: u32,
    run: u32,
    /// The sighting of A that was counted last.
    counted: u64,
    gaps: [u32; CLASSES],
}

#[derive(Debug, Clone, Default)]
struct Seen {
    sightings: u64,
    at: f64,
    first: f64,
    gaps: Vec<u32>,
    candidates: Vec<Candidate>,
}

/// What is known of the order of sightings.
#[derive(Debug, Clone, Default)]
pub(super) struct Follows {
    seen: Vec<Seen>,
    recent: Vec<GroupId>,
    from: Option<f64>,
    to: f64,
}

fn class(gap: f64) -> usize {
    (gap.max(0.0) + 1.0).log2().ceil().clamp(0.0, CLASSES as f64 - 1.0) as usize
}

/// The longest gap of a class.
fn length(class: usize) -> f64 {
    (class as f64).exp2() - 1.0
}

impl Follows {
    /// Notes a sighting in a run; `at` in milliseconds of running, or in lines where no times are
    /// known.
    pub(super) fn saw(&mut self, group: GroupId, run: u32, at: f64) {
        self.from = Some(self.from.map_or(at, |from| from.min(at)));
        self.to = self.to.max(at);
        let index = group.0 as usize;
        if self.seen.len() <= index {
            self.seen.resize(index + 1, Seen::default());
        }
        for before in &self.recent {
            let (a, b) = (before.0 as usize, index);
            let (gap, nth) = (at - self.seen[a].at, self.seen[a].sightings);
            if a == b || !(0.0..=WINDOW_MS).contains(&gap) {
                continue;
            }
            let candidates = &mut self.seen[b].candidates;
            let room = candidates.len() < CANDIDATES;
            match candidates.iter_mut().find(|c| c.of == *before) {
                Some(known) if known.counted == nth => {
                    known.shared += 1;
                    known.gaps[class(gap)] += 1;
                }
                Some(known) => {
                    known.cases += 1;
                    known.runs += u32::from(known.run != run);
                    known.run = run;
                    known.counted = nth;
                    known.gaps[class(gap)] += 1;
                }
                None if room => {
                    let mut gaps = [0; CLASSES];
                    gaps[class(gap)] = 1;
                    candidates.push(Candidate {
                        of: *before,
                        cases: 1,
                        shared: 0,
                        runs: 1,
                        run,
                        counted: nth,
                        gaps,
                    });
                }
                None => {}
            }
        }
        let seen = &mut self.seen[index];
        if seen.sightings == 0 {
            (seen.first, seen.gaps) = (at, vec![0; CLASSES]);
        } else {
            seen.gaps[class(at - seen.at)] += 1;
        }
        seen.at = at;
        seen.sightings += 1;
        self.recent.retain(|g| *g != group);
        self.recent.insert(0, group);
        self.recent.truncate(RECENT);
    }

    /// The share of the time that lies within `gap` behind some sighting of a group.
    fn covered(&self, group: usize, gap: f64) -> f64 {
        let seen = &self.seen[group];
        let time = (self.to - self.from.unwrap_or(self.to)).max(1.0);
        let covered: f64 = seen
            .gaps
            .iter()
            .enumerate()
            .map(|(class, n)| f64::from(*n) * length(class).min(gap))
            .sum::<f64>()
            + gap;
        // Nothing is so rare that it cannot happen by chance, and a clock in milliseconds tells no
        // less than one.
        (covered / time).clamp(1e-6, 1.0)
    }

    /// What `group` follows, if anything.
    pub(super) fn follow(&self, group: GroupId) -> Option<Follow> {
        let seen = self.seen.get(group.0 as usize)?;
        let pairs = (self.seen.len() * RECENT).max(1) as f64;
        let fits = |c: &Candidate| {
            let before = &self.seen[c.of.0 as usize];
            let total = u32::try_from(seen.sightings).unwrap_or(u32::MAX);
            let misses = total.saturating_sub(c.cases).saturating_sub(c.shared);
            let n = c.cases + misses;
            // What comes once in a run, at the same point, has company there for no reason of its
            // own.
            if c.cases < CASES.max(c.runs + REPEATS)
                || f64::from(misses) > MISSES * f64::from(n)
                || before.first > seen.first
                || u64::from(c.cases) * RARELY < before.sightings
            {
                return None;
            }
            // The length within which nineteen of twenty came; those that share a case say as much
            // of it, but are no further cases.
            let all: u32 = c.gaps.iter().sum();
            let allowed = (f64::from(all) * 0.05) as u32;
            let mut left = allowed;
            let widest = (0..CLASSES).rev().find(|class| {
                let here = c.gaps[*class];
                let within = here > left;
                left = left.saturating_sub(here);
                within
            })?;
            let by_chance = self.covered(c.of.0 as usize, length(widest).max(1.0));
            // Chernoff's bound on as many within that length by chance alone.
            let within: u32 = c.gaps[..=widest].iter().sum();
            let share = f64::from(within) / f64::from(all + misses);
            if share <= by_chance {
                return None;
            }
            let beyond = if share < 1.0 {
                (1.0 - share) * ((1.0 - share) / (1.0 - by_chance)).ln()
            } else {
                0.0
            };
            let unlikely = -f64::from(n) * (share * (share / by_chance).ln() + beyond);
            if unlikely + pairs.ln() > CHANCE.ln() {
                return None;
            }
            let (n, p, z) = (f64::from(n), f64::from(c.cases) / f64::from(n), 1.96f64);
            let sure = (p + z * z / (2.0 * n)
                - z * (p * (1.0 - p) / n + z * z / (4.0 * n * n)).sqrt())
                / (1.0 + z * z / n);
            Some((
                widest,
                std::cmp::Reverse(c.cases),
                c.of,
                Follow { of: c.of, cases: c.cases, misses, sure },
            ))
        };
        // The nearest one that fits is what it follows.
        seen.candidates
            .iter()
            .filter_map(fits)
            .min_by(|a, b| (a.0, a.1, a.2).cmp(&(b.0, b.1, b.2)))
            .map(|(_, _, _, follow)| follow)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_always_comes_after_is_found_and_a_flood_proves_nothing() {
        let (a, b, flood) = (GroupId(0), GroupId(1), GroupId(2));
        let mut follows = Follows::default();
        let mut at = 0.0;
        for tick in 0..6_000u32 {
            at = f64::from(tick) * 16.0;
            follows.saw(flood, 1, at);
            if tick % 500 == 77 {
                follows.saw(a, 1, at + 3.0);
                follows.saw(b, 1, at + 5.0);
            }
        }
        assert_eq!(follows.follow(b).map(|f| (f.of, f.cases, f.misses)), Some((a, 12, 0)));
        assert_eq!(follows.follow(a), None, "close behind the flood is where everything is");
        assert_eq!(follows.follow(flood), None);
        // Once it comes alone now and then, it follows no more.
        for i in 1..5 {
            follows.saw(b, 1, at + f64::from(i) * 10_000.0);
        }
        assert_eq!(follows.follow(b), None);
    }
}
