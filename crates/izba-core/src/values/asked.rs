//! One series, made ready to be asked how much it stands out at some moments.

use super::time::Time;
use super::{Kept, Series};

/// Ages are never told apart more finely than by so many milliseconds.
const GRAIN: i64 = 500;
/// States of one series that are looked at.
const STATES: usize = 8;
/// Stretches of time in the table by which a value is looked up.
const STRETCHES: i64 = 4_096;
/// A share of the time less than this counts as this.
const LEAST_SHARE: f64 = 1e-3;

/// In which way a value stands out.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Which {
    Changed,
    AtLeast,
    AtMost,
    Within,
    Is(usize),
}

/// How far a value stands out in one way.
#[derive(Debug, Clone, Copy)]
pub(super) struct Shown {
    pub(super) how: Which,
    /// The logarithm of the likelihood ratio: how much better the moments are told by a share of
    /// the time of their own.
    pub(super) ratio: f64,
    /// At how many of the moments it is so.
    pub(super) times: usize,
    /// In which share of all the time it is so.
    pub(super) share: f64,
    /// The bounds, in the unit of the value; of an age the low one, in milliseconds.
    pub(super) low: f64,
    pub(super) high: f64,
}

/// Room that is used again for each question.
#[derive(Debug, Default)]
pub(super) struct Scratch {
    held: Vec<u32>,
    ages: Vec<i64>,
    shown: Vec<Shown>,
}

/// A series, made ready.
#[derive(Debug)]
pub(super) struct Asked {
    /// Its number among all.
    pub(super) series: usize,
    /// The first states by name, each with its share of the time; none where it is a number.
    pub(super) states: Vec<(String, f64)>,
    /// Moments at which a value came.
    at: Vec<i64>,
    /// The value from then on, or the number of its state.
    value: Vec<f64>,
    /// The share of the time in which it is less than this, and in which it is no more.
    below: Vec<(f64, f64)>,
    /// Since when it is so.
    since: Vec<i64>,
    /// How long it stays so each time, shortest first, with the sum up to there.
    lasts: Vec<(i64, i64)>,
    /// For each stretch of time, the number of the first value that may come after its beginning.
    table: Vec<u32>,
    /// Length of such a stretch, in milliseconds.
    stretch: i64,
    /// Ages are told apart by so many milliseconds: values and errors come in the same turns of the
    /// program, while the places by chance lie between two turns, which must not look like a
    /// difference.
    grain: i64,
    /// From the first value to the end.
    length: i64,
}

impl Asked {
    /// `None` for a series that never changes: it can tell nothing.
    pub(super) fn of(number: usize, series: &Series, time: &Time, until: i64) -> Option<Asked> {
        let told: Vec<(i64, f64)> = match &series.kept {
            Kept::Numbers(buckets) => {
                buckets.iter().filter(|b| b.to <= until).map(|b| (time.at(b.to), b.last)).collect()
            }
            Kept::States(_, changes) => changes
                .iter()
                .filter(|c| c.0 <= until)
                .map(|c| (time.at(c.0), f64::from(c.1)))
                .collect(),
        };
        let first = told.first()?.1;
        if told.iter().all(|t| t.1 == first) {
            return None;
        }
        let (at, value): (Vec<i64>, Vec<f64>) = told.into_iter().unzip();
        let end = time.length;
        let length = (end - at[0]).max(1);
        let lasting = |n: usize| (at.get(n + 1).copied().unwrap_or(end) - at[n]).max(0);
        let mut order: Vec<usize> = (0..at.len()).collect();
        order.sort_by(|a, b| value[*a].total_cmp(&value[*b]));
        let mut below = vec![(0.0, 0.0); at.len()];
        let mut sum = 0;
        for equal in order.chunk_by(|a, b| value[*a] == value[*b]) {
            let before = sum;
            sum += equal.iter().map(|n| lasting(*n)).sum::<i64>();
            for n in equal {
                below[*n] = (before as f64 / length as f64, sum as f64 / length as f64);
            }
        }
        let mut since: Vec<i64> = Vec::with_capacity(at.len());
        for n in 0..at.len() {
            since.push(if n > 0 && value[n - 1] == value[n] { since[n - 1] } else { at[n] });
        }
        let mut begins = since.clone();
        begins.dedup();
        let mut lasts: Vec<(i64, i64)> = (0..begins.len())
            .map(|n| (begins.get(n + 1).copied().unwrap_or(end) - begins[n], 0))
            .collect();
        lasts.sort_unstable();
        lasts.iter_mut().fold(0, |sum, last| {
            last.1 = sum + last.0;
            last.1
        });
        let states = match &series.kept {
            Kept::Numbers(_) => Vec::new(),
            Kept::States(names, _) => {
                let share = |state: usize| {
                    (0..at.len()).filter(|n| value[*n] as usize == state).map(lasting).sum::<i64>()
                        as f64
                        / length as f64
                };
                names
                    .iter()
                    .take(STATES)
                    .enumerate()
                    .map(|(state, name)| (name.clone(), share(state)))
                    .collect()
            }
        };
        let mut gaps: Vec<i64> = at.windows(2).map(|w| w[1] - w[0]).collect();
        gaps.sort_unstable();
        let grain = gaps.get(gaps.len() / 2).map_or(GRAIN, |g| (g * 3 / 2).max(GRAIN));
        let stretch = end / STRETCHES + 1;
        let table =
            (0..=STRETCHES).map(|s| at.partition_point(|t| *t <= s * stretch) as u32).collect();
        Some(Asked {
            series: number,
            states,
            at,
            value,
            below,
            since,
            lasts,
            table,
            stretch,
            grain,
            length,
        })
    }

    /// The number of the value that held at a moment.
    fn held(&self, time: i64) -> Option<usize> {
        // The table says where to begin looking, as this is asked a million times.
        let stretch = usize::try_from(time / self.stretch).unwrap_or(0).min(self.table.len() - 1);
        let mut held = self.table[stretch] as usize;
        while held < self.at.len() && self.at[held] <= time {
            held += 1;
        }
        held.checked_sub(1)
    }

    /// The share of the time in which it has changed no longer ago than this.
    fn share_of_age(&self, age: i64) -> f64 {
        let shorter = self.lasts.partition_point(|l| l.0 <= age);
        let sum = if shorter == 0 { 0 } else { self.lasts[shorter - 1].1 };
        (sum + age * (self.lasts.len() - shorter) as i64) as f64 / self.length as f64
    }

    /// How far it stands out at some moments, in each way in which it can.
    pub(super) fn shows<'a>(
        &self,
        moments: &[i64],
        scratch: &'a mut Scratch,
    ) -> std::iter::Copied<std::slice::Iter<'a, Shown>> {
        let Scratch { held, ages, shown } = scratch;
        held.clear();
        ages.clear();
        shown.clear();
        for moment in moments {
            if let Some(n) = self.held(*moment) {
                held.push(n as u32);
                ages.push((moment - self.since[n]) / self.grain);
            }
        }
        let all = moments.len();
        let none = |how| Shown { how, ratio: 0.0, times: 0, share: 1.0, low: 0.0, high: 0.0 };
        // At half of the moments at least it must be so; else the error has too many other reasons
        // to be told by it.
        let least = all.div_ceil(2);
        ages.sort_unstable();
        let mut changed = none(Which::Changed);
        for times in least..=ages.len() {
            if ages.get(times) != Some(&ages[times - 1]) {
                let within = (ages[times - 1] + 1) * self.grain;
                better(&mut changed, all, times, self.share_of_age(within), (within as f64, 0.0));
            }
        }
        shown.push(changed);
        if !self.states.is_empty() {
            for (state, (_, share)) in self.states.iter().enumerate() {
                let times =
                    held.iter().filter(|n| self.value[**n as usize] as usize == state).count();
                let mut is = none(Which::Is(state));
                if times >= least {
                    better(&mut is, all, times, *share, (0.0, 0.0));
                }
                shown.push(is);
            }
            return shown.iter().copied();
        }
        held.sort_unstable_by(|a, b| {
            self.below[*a as usize].0.total_cmp(&self.below[*b as usize].0)
        });
        let below = |n: usize| self.below[held[n] as usize];
        let value = |n: usize| self.value[held[n] as usize];
        let (mut at_least, mut at_most, mut within) =
            (none(Which::AtLeast), none(Which::AtMost), none(Which::Within));
        for times in least..=held.len() {
            let (first, last) = (held.len() - times, times - 1);
            better(&mut at_least, all, times, 1.0 - below(first).0, (value(first), 0.0));
            better(&mut at_most, all, times, below(last).1, (0.0, value(last)));
        }
        // The narrowest stretch with all of them, and with nine of ten.
        for times in [held.len(), held.len() - held.len() / 10] {
            if times >= least.max(1) {
                let width = |from: &usize| below(from + times - 1).1 - below(*from).0;
                let narrowest = (0..=held.len() - times)
                    .min_by(|a, b| width(a).total_cmp(&width(b)))
                    .unwrap_or(0);
                better(
                    &mut within,
                    all,
                    times,
                    width(&narrowest),
                    (value(narrowest), value(narrowest + times - 1)),
                );
            }
        }
        shown.extend([at_least, at_most, within]);
        shown.iter().copied()
    }
}

/// Takes what stands out more: so many of all moments in such a share of the time.
fn better(best: &mut Shown, all: usize, times: usize, share: f64, (low, high): (f64, f64)) {
    let (part, expected) = (times as f64 / all as f64, share.max(LEAST_SHARE));
    if part <= expected {
        return;
    }
    let rest =
        if times < all { (1.0 - part) * ((1.0 - part) / (1.0 - expected)).ln() } else { 0.0 };
    let ratio = all as f64 * (part * (part / expected).ln() + rest);
    if ratio > best.ratio {
        *best = Shown { how: best.how, ratio, times, share, low, high };
    }
}
