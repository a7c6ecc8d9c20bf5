//! Which values differ just before an error from all other times, and how sure that is.
//!
//! For each value it is asked how unlikely it were that so many of the moments of the error fall
//! into so small a share of all the time: the time in which the value is at least so much, at most
//! so much, within so much, in one state, or has just changed. The measure is the likelihood ratio
//! of a scan (after Kulldorff, *A spatial scan statistic*, 1997).
//!
//! Values drift and errors come in clusters, so the measure alone proves little. The clusters are
//! therefore moved to other places of the whole time by chance, many times over, each kept as it is
//! within: what was really seen must stand out from the best that *any* value shows at any of those
//! places (a permutation test with the greatest statistic of all series, after Westfall and Young,
//! *Resampling-Based Multiple Testing*, 1993). As it is looked at again and again while a program
//! runs, each look has only a part of the doubt that is allowed for all, and between two looks the
//! answer stays.

use super::asked::{Asked, Scratch, Shown, Which};
use super::time::Time;
use super::{Series, number};
use std::sync::Arc;

/// How often the clusters are moved.
const SHIFTS: usize = 999;
/// A gap this many times the median of all gaps parts two clusters.
const GAP: i64 = 2;
/// Sightings closer than this to the one before are the same moment, in milliseconds.
const BURST: i64 = 1_000;
/// Moments at which it is looked anew; between them the answer stays. So few as the first are never
/// enough to be sure.
pub const LOOKS: [usize; 6] = [4, 8, 16, 32, 64, 128];
/// How often something may be called sure in all those looks together although nothing is behind
/// it.
const DOUBT: f64 = 0.05;
/// The part of it that each look has, but for the first.
const DOUBT_OF_A_LOOK: f64 = DOUBT / (LOOKS.len() - 1) as f64;

/// Values that are told at most.
const FOUND: usize = 5;

/// In which way a value was another just before.
#[derive(Debug, Clone, PartialEq)]
pub enum How {
    /// It was this or more.
    AtLeast(f64),
    /// It was this or less.
    AtMost(f64),
    /// It lay between these.
    Within(f64, f64),
    /// It was in this state.
    Is(String),
    /// It had changed no longer ago than this, in milliseconds.
    Changed(i64),
}

/// One value that was another just before an error.
#[derive(Debug, Clone, PartialEq)]
pub struct Differs {
    /// Number of the series among those that were looked at.
    pub series: usize,
    /// How it was just before.
    pub how: How,
    /// At how many of the moments it was so.
    pub times: usize,
    /// In which share of all the time it is so, from 0 to 1.
    pub elsewhere: f64,
    /// How often chance alone would make any value stand out so far, from 0 to 1.
    pub chance: f64,
    /// Whether that is seldom enough for what is still allowed.
    pub sure: bool,
}

impl Differs {
    /// What can be said of it, in one sentence; `moments` is how often it was looked at.
    pub fn sentence(&self, series: &Series, moments: usize) -> String {
        let name = &series.name;
        let unit = series
            .unit
            .as_deref()
            .map(|u| if u == "%" { u.to_owned() } else { format!(" {u}") })
            .unwrap_or_default();
        let short = |v: f64| format!("{}{unit}", number(three_figures(v)));
        let was = match &self.how {
            How::AtLeast(low) => format!("{name} was {} or more", short(*low)),
            How::AtMost(high) => format!("{name} was {} or less", short(*high)),
            How::Within(low, high) => {
                format!("{name} lay from {} to {}", short(*low), short(*high))
            }
            How::Is(state) => format!("{name} was {state}"),
            How::Changed(within) => format!(
                "{name} had changed within the last {} s",
                number((*within as f64 / 100.0).ceil() / 10.0)
            ),
        };
        format!(
            "{was} just before, {} of {moments} times; it is so {:.0} % of all the time",
            self.times,
            self.elsewhere * 100.0
        )
    }

    /// How far that can be trusted, in one sentence.
    pub fn trust(&self, looked: usize) -> String {
        if self.sure {
            let cases = number(DOUBT_OF_A_LOOK * 100.0);
            return format!(
                "with {looked} values, chance alone would do this in fewer than {cases} of 100 cases"
            );
        }
        format!(
            "with {looked} values, chance alone would do this in about {:.0} of 100 cases",
            (self.chance * 100.0).max(1.0)
        )
    }
}

/// Three figures are what a reader compares; a bound that was found lies somewhere near.
fn three_figures(value: f64) -> f64 {
    let by = 10f64.powi(2 - value.abs().max(f64::MIN_POSITIVE).log10().floor() as i32);
    // Beyond what can be multiplied there is nothing to round.
    if value == 0.0 || !by.is_finite() || by == 0.0 { value } else { (value * by).round() / by }
}

impl Before {
    /// What is worth telling: what is sure, and what chance alone would not do every other time.
    pub fn told(&self) -> impl Iterator<Item = &Differs> {
        self.found.iter().filter(|f| f.sure || f.chance < 0.5).take(3)
    }
}

/// What a look for differing values found before an error.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Before {
    /// Moments of the error that were looked at; bursts are one moment.
    pub moments: usize,
    /// Moments that are known, and would be looked at when there are enough for the next look.
    pub known: usize,
    /// Series that change and so could tell something.
    pub looked: usize,
    /// What stood out, most first; none where there are too few moments.
    pub found: Vec<Differs>,
}

/// The moments of an error without the bursts they begin.
fn moments_of(errors: &[i64]) -> Vec<i64> {
    let mut last = i64::MIN / 2;
    let begins = |time: &&i64| {
        let begins = **time - last > BURST;
        last = **time;
        begins
    };
    errors.iter().filter(begins).copied().collect()
}

/// The number of the cluster of each moment.
fn clusters(moments: &[i64]) -> Vec<usize> {
    let mut gaps: Vec<i64> = moments.windows(2).map(|w| w[1] - w[0]).collect();
    gaps.sort_unstable();
    let apart = gaps.get(gaps.len() / 2).map_or(0, |g| g * GAP);
    let mut number = 0;
    let mut told = vec![0; moments.len()];
    for at in 1..moments.len() {
        number += usize::from(moments[at] - moments[at - 1] > apart);
        told[at] = number;
    }
    told
}

/// Numbers by chance, always the same ones, so that the same question has the same answer (xorshift
/// after Marsaglia, 2003).
struct Dice(u64);

impl Dice {
    /// The next number, from 0 to below 1.
    fn next(&mut self) -> f64 {
        self.0 ^= self.0 << 13;
        self.0 ^= self.0 >> 7;
        self.0 ^= self.0 << 17;
        (self.0 >> 11) as f64 / (1u64 << 53) as f64
    }
}

/// The moments where they are, and behind them where they come to lie when each cluster is moved by
/// chance, [`SHIFTS`] times. The same places for every value, so that what values have in common
/// stays.
fn moved(moments: &[i64], length: i64) -> Vec<i64> {
    let clusters = clusters(moments);
    let mut dice = Dice(0x9E37_79B9_7F4A_7C15);
    let mut all = moments.to_vec();
    for _ in 0..SHIFTS {
        let mut by = 0;
        for (at, from) in moments.iter().enumerate() {
            if at == 0 || clusters[at] != clusters[at - 1] {
                by = (dice.next() * length as f64) as i64;
            }
            all.push((from + by) % length);
        }
    }
    all
}

/// The mean of the highest twentieth.
fn high(ratios: &[f32]) -> f32 {
    let mut sorted = ratios.to_vec();
    let part = (sorted.len() / 20).max(1);
    sorted.select_nth_unstable_by(part - 1, |a, b| b.total_cmp(a));
    sorted[..part].iter().sum::<f32>() / part as f32
}

/// The values that differ most just before an error from all other times. `errors` are the moments
/// of its sightings in Unix milliseconds, in order; without series only how many moments are known
/// is told.
pub fn before(series: &[Arc<Series>], errors: &[i64]) -> Before {
    let mut moments = moments_of(errors);
    let known = moments.len();
    let Some(look) = LOOKS.iter().rposition(|l| *l <= known) else {
        return Before { known, ..Before::default() };
    };
    // What comes after the moments that are looked at is not looked at: it would be no other time,
    // but a later look.
    let until = moments.get(LOOKS[look]).copied().unwrap_or(i64::MAX);
    let Some(time) = Time::of(series, until) else { return Before { known, ..Before::default() } };
    moments.truncate(LOOKS[look]);
    let moments: Vec<i64> = moments.iter().map(|m| time.at(*m)).collect();
    let asked: Vec<Asked> =
        series.iter().enumerate().filter_map(|(at, s)| Asked::of(at, s, &time, until)).collect();
    let moved = moved(&moments, time.length);
    // What each way of each value shows at each place, the first being where the error really was.
    let mut ways: Vec<(usize, Shown, Vec<f32>)> = Vec::new();
    let mut scratch = Scratch::default();
    for (number, one) in asked.iter().enumerate() {
        let begins = ways.len();
        for (place, moments) in moved.chunks(moments.len()).enumerate() {
            for (which, shown) in one.shows(moments, &mut scratch).enumerate() {
                if place == 0 {
                    ways.push((number, shown, Vec::with_capacity(SHIFTS + 1)));
                }
                ways[begins + which].2.push(shown.ratio as f32);
            }
        }
    }
    // Each is held against what it shows by chance in the highest twentieth of the places: what
    // changes slowly shows much there. No measure is less than that of the middle one of all, else
    // what is seldom anything would stand out as soon as it is something.
    let scales: Vec<f32> = ways.iter().map(|(_, _, ratios)| high(ratios)).collect();
    let mut sorted = scales.clone();
    sorted.sort_by(f32::total_cmp);
    let floor = sorted.get(sorted.len() / 2).copied().unwrap_or(1.0).max(1e-3);
    let mut most = vec![0.0f32; SHIFTS + 1];
    for ((_, _, ratios), scale) in ways.iter().zip(&scales) {
        for (ratio, most) in ratios.iter().zip(&mut most) {
            *most = most.max(ratio / scale.max(floor));
        }
    }
    let mut seen: Vec<(usize, Shown, f32)> = ways
        .iter()
        .zip(&scales)
        .map(|((number, shown, ratios), scale)| (*number, *shown, ratios[0] / scale.max(floor)))
        .collect();
    seen.sort_by(|a, b| b.2.total_cmp(&a.2));
    let allowed = if look == 0 { 0.0 } else { DOUBT_OF_A_LOOK };
    let mut found: Vec<Differs> = Vec::new();
    for (number, shown, stands) in seen {
        let one = &asked[number];
        if found.len() >= FOUND || shown.times == 0 || found.iter().any(|f| f.series == one.series)
        {
            continue;
        }
        let chance = most.iter().filter(|m| **m >= stands).count() as f64 / most.len() as f64;
        let how = match shown.how {
            Which::Changed => How::Changed(shown.low as i64),
            Which::AtLeast => How::AtLeast(shown.low),
            Which::AtMost => How::AtMost(shown.high),
            Which::Within => How::Within(shown.low, shown.high),
            Which::Is(state) => {
                How::Is(one.states.get(state).map(|s| s.0.clone()).unwrap_or_default())
            }
        };
        found.push(Differs {
            series: one.series,
            how,
            times: shown.times,
            elsewhere: shown.share,
            chance,
            sure: chance <= allowed,
        });
    }
    Before { moments: moments.len(), known, looked: asked.len(), found }
}
