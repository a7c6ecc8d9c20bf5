//! The order of suspects as it was learned: a weight for each feature, and how often a suspect of a
//! given chance was the guilty one.
//!
//! A conditional logit: of the strongest places of one error, and of *none of these*, each has the
//! chance of its mass over the sum of all. The mass of a place is the sum of `exp(score)` over what
//! was seen there, and a score is the sum of its weighted features. What is said of a chance is what became of others like it (isotonic regression). `cargo xtask learn`
//! makes the file.

use super::features::{Features, NAMES, RECORD};
use crate::suspect::check::Sighting;
use std::collections::BTreeMap;
use std::sync::LazyLock;

/// So many places count against one another: in a large project much is odd, and however much of it
/// there is, it does not make the strongest less likely.
pub(super) const COUNTED: usize = 6;

/// What was learned, as it lies in the file.
#[derive(Debug, Clone, PartialEq, serde::Serialize, serde::Deserialize)]
pub struct Learned {
    /// The score of *none of these*.
    pub none: f32,
    /// Chances in order, each with the share of suspects of that chance which were guilty.
    pub became: Vec<[f32; 2]>,
    /// The weight of each feature by its name; those that are not there weigh nothing.
    pub weights: BTreeMap<String, f32>,
    /// Of claims of each strength, how many there were and how many were right.
    pub usual: BTreeMap<String, [u32; 2]>,
    /// The same for the claims of each kind and strength: `check.kind strength`.
    pub kinds: BTreeMap<String, [u32; 2]>,
}

/// What became of claims of a kind and strength, -1 to 1: the logarithm of their odds. Of few claims
/// little is known: it is then nearer to what became of all that were as strong.
pub fn record([seen, right]: [u32; 2], [all, all_right]: [u32; 2]) -> f32 {
    const FEW: f32 = 3.0;
    let usual = (all_right as f32 + 0.5) / (all as f32 + 1.0);
    let share = (right as f32 + FEW * usual) / (seen as f32 + FEW);
    ((share / (1.0 - share)).ln() / 6.0).clamp(-1.0, 1.0)
}

/// What was learned, made ready.
#[derive(Debug)]
pub(super) struct Order {
    none: f64,
    became: Vec<[f32; 2]>,
    weights: Vec<f64>,
    usual: BTreeMap<String, [u32; 2]>,
    kinds: BTreeMap<String, [u32; 2]>,
}

/// The order that ships with Izba.
pub(super) static ORDER: LazyLock<Order> = LazyLock::new(|| {
    let text = include_str!("../../../words/order.toml");
    Order::of(&toml::from_str(text).expect("what was learned is a table of numbers"))
});

impl Order {
    fn of(learned: &Learned) -> Order {
        let weight = |name: &String| learned.weights.get(name).map_or(0.0, |w| f64::from(*w));
        Order {
            none: learned.none.into(),
            became: learned.became.clone(),
            weights: NAMES.iter().map(weight).collect(),
            usual: learned.usual.clone(),
            kinds: learned.kinds.clone(),
        }
    }

    /// The score of a sighting: the higher, the more likely than the others of its error.
    pub(super) fn score(&self, one: &Sighting, features: &Features) -> f64 {
        let count =
            |of: &BTreeMap<String, [u32; 2]>, name: &str| of.get(name).copied().unwrap_or_default();
        let kind = count(&self.kinds, &kind_of(one));
        let record = record(kind, count(&self.usual, one.strength.word()));
        let all = features.iter().copied().chain([(RECORD, record)]);
        all.map(|(at, value)| self.weights[usize::from(at)] * f64::from(value)).sum()
    }

    /// The chance of each place, from the scores of what was seen there.
    pub(super) fn chances(&self, places: &[Vec<f64>]) -> Vec<f64> {
        chances(self.none, places)
    }

    /// Of suspects with this chance, the share that was guilty.
    pub(super) fn became(&self, chance: f64) -> f32 {
        became(&self.became, chance)
    }
}

/// The kind and strength of a sighting, as they are counted.
pub(super) fn kind_of(one: &Sighting) -> String {
    format!("{:?} {}", one.suspect.claim.says.kind, one.strength.word())
}

/// The chance of each place among the strongest of them and *none of these*, whose score is `none`,
/// from the scores of what was seen there.
pub fn chances(none: f64, places: &[Vec<f64>]) -> Vec<f64> {
    let most = places.iter().flatten().copied().fold(none, f64::max);
    let mass = |scores: &Vec<f64>| scores.iter().map(|s| (s - most).exp()).sum();
    let masses: Vec<f64> = places.iter().map(mass).collect();
    let all = strongest(&masses).iter().sum::<f64>() + (none - most).exp();
    masses.iter().map(|mass| (mass / all).min(1.0)).collect()
}

/// The masses of the places that count against one another, the greatest first.
pub fn strongest(masses: &[f64]) -> Vec<f64> {
    let mut all = masses.to_vec();
    all.sort_by(|a, b| b.total_cmp(a));
    all.truncate(COUNTED);
    all
}

/// The share that became of a chance, between the two points beside it.
pub fn became(points: &[[f32; 2]], chance: f64) -> f32 {
    let chance = chance as f32;
    let at = points.partition_point(|[c, _]| *c <= chance);
    let point = |at: usize| points.get(at).copied();
    match (at.checked_sub(1).and_then(point), point(at)) {
        (Some([from, low]), Some([to, high])) => {
            low + (high - low) * (chance - from) / (to - from).max(f32::EPSILON)
        }
        (Some([_, share]), None) | (None, Some([_, share])) => share,
        (None, None) => chance,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    proptest::proptest! {
        /// More right ones never make a kind look worse, and of none it is what all of that strength
        /// were.
        #[test]
        fn a_record_grows_with_what_was_right(
            seen in 1u32..500, right in 0u32..500, all in 1u32..5_000, all_right in 0u32..5_000,
        ) {
            let usual = [all, all_right.min(all)];
            let of = |right: u32| record([seen, right.min(seen)], usual);
            proptest::prop_assert!((-1.0..=1.0).contains(&of(right)));
            proptest::prop_assert!(of(right) <= of(right + 1) + 1e-6);
            let (none, whole) = (record([0, 0], usual), record([seen, seen], usual));
            proptest::prop_assert!(of(0) <= none + 1e-6 && none <= whole + 1e-6);
        }
    }

    #[test]
    fn one_right_claim_of_a_new_kind_proves_little() {
        let usual = [300, 100];
        assert!(record([1, 1], usual) < record([20, 20], usual));
        assert!(record([1, 1], usual) < 0.2, "{}", record([1, 1], usual));
    }
}
