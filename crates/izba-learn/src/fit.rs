//! Learning: weights of a conditional logit over places with *none of these* beside them, and from
//! its chances the share that was right.
//!
//! The chance of a place is the sum over its sightings of `exp(w·x)`, over the same sum for the
//! strongest places and `exp(none)`. The weights maximise the logarithm of the chance of the guilty places
//! (of *none of these* where no check points at one), less half the ridge times their squares.
//! Everything is summed in the order of the cases, so the same cases give the same weights.

use crate::cases::{Case, Place};
use izba_cause::suspect::{chances, strongest};

/// What was learned: a weight for each feature, and the score of *none of these*.
#[derive(Debug, Clone, PartialEq)]
pub struct Weights {
    /// By number of the feature.
    pub of: Vec<f64>,
    /// The score of *none of these*.
    pub none: f64,
}

/// How strongly weights are held near 0, in cases.
pub const RIDGE: f64 = 3.0;
/// Steps towards the best weights.
const STEPS: usize = 400;

impl Weights {
    fn score(&self, sighting: &[(u16, f32)]) -> f64 {
        sighting.iter().map(|(at, value)| self.of[usize::from(*at)] * f64::from(*value)).sum()
    }

    /// The chance of each place of a case.
    pub fn chances(&self, case: &Case) -> Vec<f64> {
        let scores = |p: &Place| p.sightings.iter().map(|s| self.score(&s.features)).collect();
        chances(self.none, &case.places.iter().map(scores).collect::<Vec<_>>())
    }
}

/// Learns weights for `features` many features from these cases.
pub fn learn<'a>(cases: impl Iterator<Item = &'a Case> + Clone, features: usize) -> Weights {
    let mut weights = Weights { of: vec![0.0; features], none: 0.0 };
    // Adam, without chance: all cases in each step.
    let (mut mean, mut square) = (vec![0.0; features + 1], vec![0.0; features + 1]);
    let count = cases.clone().count().max(1) as f64;
    for step in 1..=STEPS {
        let gradient = gradient(cases.clone(), &weights);
        let rate = 0.08 * (1.0 - step as f64 / (STEPS + 1) as f64);
        for (at, slope) in gradient.into_iter().enumerate() {
            let slope = slope / count;
            mean[at] = 0.9 * mean[at] + 0.1 * slope;
            square[at] = 0.99 * square[at] + 0.01 * slope * slope;
            let (m, s) = (
                mean[at] / (1.0 - 0.9f64.powi(step as i32)),
                square[at] / (1.0 - 0.99f64.powi(step as i32)),
            );
            let move_by = rate * m / (s.sqrt() + 1e-8);
            match weights.of.get_mut(at) {
                Some(weight) => *weight += move_by,
                None => weights.none += move_by,
            }
        }
    }
    weights
}

/// How the logarithm of the chances grows with each weight, and last with that of *none of these*.
fn gradient<'a>(cases: impl Iterator<Item = &'a Case>, weights: &Weights) -> Vec<f64> {
    let features = weights.of.len();
    let mut slopes = vec![0.0; features + 1];
    for case in cases {
        let scores = |p: &Place| -> Vec<f64> {
            p.sightings.iter().map(|s| weights.score(&s.features)).collect()
        };
        let all: Vec<Vec<f64>> = case.places.iter().map(scores).collect();
        let most = all.iter().flatten().copied().fold(weights.none, f64::max);
        let masses: Vec<f64> =
            all.iter().map(|s| s.iter().map(|s| (s - most).exp()).sum()).collect();
        let least = strongest(&masses).last().copied().unwrap_or_default();
        let counts = |at: usize| masses[at] >= least || case.places[at].guilty;
        let mass = |guilty_only: bool| -> f64 {
            let each = case.places.iter().enumerate().filter(|(at, _)| counts(*at));
            each.filter(|(_, p)| p.guilty || !guilty_only).map(|(at, _)| masses[at]).sum()
        };
        let none = (weights.none - most).exp();
        let (guilty, sum) = (mass(true), mass(false) + none);
        let seen = case.places.iter().any(|p| p.guilty);
        let each = case.places.iter().zip(&all).enumerate();
        for (_, (place, scores)) in each.filter(|(at, _)| counts(*at)) {
            for (sighting, score) in place.sightings.iter().zip(scores) {
                let of = (score - most).exp();
                let right = if place.guilty && seen { of / guilty } else { 0.0 };
                for (at, value) in &sighting.features {
                    slopes[usize::from(*at)] += (right - of / sum) * f64::from(*value);
                }
            }
        }
        slopes[features] += f64::from(u8::from(!seen)) - none / sum;
    }
    for (slope, weight) in slopes.iter_mut().zip(&weights.of) {
        *slope -= RIDGE * weight;
    }
    slopes
}

/// Of chances with what became of them, the share that was right as it grows with the chance: pool
/// adjacent violators (Ayer et al. 1955). Points of chance and share, both growing.
pub fn became(mut seen: Vec<(f64, bool)>) -> Vec<[f32; 2]> {
    seen.sort_by(|a, b| a.0.total_cmp(&b.0));
    // Sum of chances, right ones, all.
    let mut pools: Vec<(f64, f64, f64)> = Vec::new();
    for (chance, right) in seen {
        pools.push((chance, f64::from(u8::from(right)), 1.0));
        while let [.., before, last] = pools.as_slice() {
            if before.1 * last.2 < last.1 * before.2 {
                break;
            }
            let (before, last) = (*before, *last);
            pools.truncate(pools.len() - 2);
            pools.push((before.0 + last.0, before.1 + last.1, before.2 + last.2));
        }
    }
    // One right one more and one wrong one more: a small pool is no proof.
    let point = |(chances, right, all): (f64, f64, f64)| {
        [(chances / all) as f32, ((right + 0.5) / (all + 1.0)) as f32]
    };
    let mut points: Vec<[f32; 2]> = pools.into_iter().map(point).collect();
    for at in 1..points.len() {
        points[at][1] = points[at][1].max(points[at - 1][1]);
    }
    points
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::cases::Sighting;
    use proptest::prelude::*;

    /// A case of places with their features, and which is guilty.
    pub(crate) fn case(guilty: Option<usize>, places: &[&[(u16, f32)]]) -> Case {
        let place = |(at, features): (usize, &&[(u16, f32)])| Place {
            guilty: guilty == Some(at),
            sightings: vec![Sighting {
                kind: String::new(),
                strength: "plain",
                features: features.to_vec(),
            }],
        };
        let places = places.iter().enumerate().map(place).collect();
        Case { program: "boat".into(), slip: "typo".into(), places }
    }

    #[test]
    fn what_marks_the_guilty_weighs_and_what_marks_all_does_not() {
        let told = case(Some(1), &[&[(1, 1.0)], &[(0, 1.0), (1, 1.0)], &[(1, 1.0)]]);
        let unseen = case(None, &[&[(1, 1.0)]]);
        let cases: Vec<Case> = (0..20).flat_map(|_| [told.clone(), unseen.clone()]).collect();
        let weights = learn(cases.iter(), 2);
        assert!(weights.of[0] > 2.0 && weights.of[1].abs() < 0.01, "{weights:?}");
        let chances = weights.chances(&told);
        assert!(chances[1] > 0.6 && chances[0] < 0.1, "{chances:?}");
        // Where no check points at the guilty place, none is likely.
        assert!(weights.chances(&unseen)[0] < 0.3);
        assert_eq!(learn(cases.iter(), 2), weights, "the same cases give the same weights");
    }

    #[test]
    fn what_became_of_few_is_no_proof() {
        let points = became(vec![(0.2, false), (0.3, false), (0.8, true), (0.9, true)]);
        assert_eq!(points.len(), 2);
        assert!(points.iter().all(|p| p[1] < 0.9), "{points:?}");
        let many: Vec<(f64, bool)> = (0..60).map(|n| (0.9 + 0.001 * f64::from(n), true)).collect();
        assert!(became(many).last().is_some_and(|p| p[1] > 0.7));
    }

    proptest! {
        /// The slope is how the logarithm of the chances grows.
        #[test]
        fn the_slope_is_the_one_that_is_measured(
            places in prop::collection::vec(
                prop::collection::vec((0u16..3, 0.0f32..1.0), 1..4), 1..5),
            guilty in prop::option::of(0usize..5),
            of in prop::array::uniform3(-2.0f64..2.0),
            none in -2.0f64..2.0,
            at in 0usize..3,
        ) {
            let rows: Vec<&[(u16, f32)]> = places.iter().map(Vec::as_slice).collect();
            let one = case(guilty.filter(|g| *g < rows.len()), &rows);
            let value = |w: &Weights| {
                let chances = w.chances(&one);
                let right: f64 = one.places.iter().zip(&chances).filter(|(p, _)| p.guilty).map(|(_, c)| c).sum();
                let seen = one.places.iter().any(|p| p.guilty);
                let right = if seen { right } else { 1.0 - chances.iter().sum::<f64>() };
                right.ln() - RIDGE / 2.0 * w.of.iter().map(|w| w * w).sum::<f64>()
            };
            let weights = Weights { of: of.to_vec(), none };
            let moved = |by: f64| {
                let mut w = weights.clone();
                w.of[at] += by;
                value(&w)
            };
            let measured = (moved(1e-5) - moved(-1e-5)) / 2e-5;
            let slope = gradient(std::iter::once(&one), &weights)[at];
            prop_assert!((measured - slope).abs() < 1e-3, "{measured} {slope}");
        }

        /// The share grows with the chance, and is none that nobody could be sure of.
        #[test]
        fn the_share_grows_with_the_chance(
            seen in prop::collection::vec((0.0f64..1.0, any::<bool>()), 1..200),
        ) {
            let points = became(seen);
            for pair in points.windows(2) {
                prop_assert!(pair[0][0] <= pair[1][0] && pair[0][1] <= pair[1][1], "{points:?}");
            }
            prop_assert!(points.iter().all(|p| p[1] > 0.0 && p[1] < 1.0));
        }
    }
}
