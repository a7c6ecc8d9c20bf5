//! The order of suspects: what the checks saw of one error, weighed as it was learned.

mod features;
mod model;
mod surprise;

pub use features::{Features, NAMES, RECORD};
pub use model::{Learned, became, chances, record, strongest};

use super::check::Sighting;
use super::inputs;
use super::query::Query;
use izba_model::claim::{LIKELY, Suspect};
use model::ORDER;
use std::collections::HashMap;
use std::sync::Arc;

/// Of suspects that are called likely at least this share was guilty in programs that were learned
/// from. The checks were made with most of these too: of programs that nobody had looked into, nine
/// in ten were right from here on, and eight in ten of those next below.
const RIGHT: f32 = 0.95;

/// A sighting as the learner sees it.
#[derive(Debug, Clone)]
pub struct Candidate {
    /// Path relative to the project.
    pub file: Arc<str>,
    /// Line, from 1; 0 for the file as a whole.
    pub line: u32,
    /// Its kind and strength, as they are counted.
    pub kind: String,
    /// How strongly it was seen.
    pub strength: &'static str,
    /// Its features.
    pub features: Features,
}

/// Of what one check saw at one place the strongest: the same seen twice says no more.
fn once(all: Vec<Sighting>) -> Vec<Sighting> {
    let mut kept: Vec<Sighting> = Vec::new();
    let mut known: HashMap<(&'static str, Arc<str>, u32), usize> = HashMap::new();
    for one in all {
        let place = (one.suspect.claim.check(), one.suspect.file.clone(), one.suspect.line);
        match known.get(&place).map(|at| &mut kept[*at]) {
            Some(before) if one.strength > before.strength => *before = one,
            Some(_) => {}
            None => {
                known.insert(place, kept.len());
                kept.push(one);
            }
        }
    }
    kept
}

/// The sightings as the learner sees them.
pub(super) fn candidates(query: &Query<'_>, all: Vec<Sighting>) -> Vec<Candidate> {
    let all = once(all);
    let features = features::of(query, &all);
    let place = |(one, features): (Sighting, Features)| Candidate {
        kind: model::kind_of(&one),
        strength: one.strength.word(),
        file: one.suspect.file,
        line: one.suspect.line,
        features,
    };
    all.into_iter().zip(features).map(place).collect()
}

/// The places that were seen, likeliest first, each with what is said of it most strongly. Several
/// checks that point at one place add up.
pub(super) fn order(query: &Query<'_>, all: Vec<Sighting>) -> Vec<Suspect> {
    let all = once(all);
    let features = features::of(query, &all);
    let mut places: Vec<Vec<(f64, Suspect)>> = Vec::new();
    let mut known: HashMap<(Arc<str>, u32), usize> = HashMap::new();
    for (one, features) in all.into_iter().zip(&features) {
        let (score, suspect) = (ORDER.score(&one, features), one.suspect);
        let at = *known.entry((suspect.file.clone(), suspect.line)).or_insert(places.len());
        if at == places.len() {
            places.push(Vec::new());
        }
        places[at].push((score, suspect));
    }
    let scores: Vec<Vec<f64>> =
        places.iter().map(|seen| seen.iter().map(|(score, _)| *score).collect()).collect();
    let chances = ORDER.chances(&scores);
    let mut ranked: Vec<(f64, Vec<(f64, Suspect)>)> = chances.into_iter().zip(places).collect();
    ranked.sort_by(|a, b| b.0.total_cmp(&a.0));
    let told = |(chance, mut seen): (f64, Vec<(f64, Suspect)>)| {
        seen.sort_by(|a, b| b.0.total_cmp(&a.0));
        let mut seen = seen.into_iter().map(|(_, suspect)| suspect);
        let mut suspect = seen.next()?;
        seen.for_each(|other| adds(&mut suspect, other));
        suspect.confidence = told(ORDER.became(chance));
        Some(suspect)
    };
    ranked.into_iter().filter_map(told).collect()
}

/// What another check saw of the same place.
fn adds(known: &mut Suspect, other: Suspect) {
    // What was seen in particular says more than that a value came from there.
    let evidence = other.claim.evidence.clone();
    if inputs::is_general(known.claim.says.kind) && other.claim.check() != "reported" {
        known.claim.says = other.claim.says;
    }
    known.claim.evidence.extend(evidence);
}

/// How sure a suspect is told to be of which this share was guilty: the share itself where it may be
/// called likely, and what lies below is told below [`LIKELY`].
fn told(share: f32) -> f32 {
    let told = if share >= RIGHT { share.min(0.97) } else { share * (LIKELY - 0.01) / RIGHT };
    // Another machine's last digit makes no difference.
    (told * 1000.0).round() / 1000.0
}

#[cfg(test)]
mod tests {
    use super::model::COUNTED;
    use super::*;
    use izba_model::claim::LIKELY;
    use std::collections::BTreeSet;

    #[test]
    fn every_weight_is_one_of_a_feature() {
        let names: BTreeSet<&str> = NAMES.iter().map(String::as_str).collect();
        assert_eq!(names.len(), NAMES.len(), "each feature has a name of its own");
        let learned: Learned =
            toml::from_str(include_str!("../../../words/order.toml")).expect("it is read");
        for name in learned.weights.keys() {
            assert!(names.contains(name.as_str()), "{name} is no feature any more: learn again");
        }
        assert!((25..=60).contains(&learned.weights.len()), "{} weights", learned.weights.len());
        // Stronger is never taken for weaker.
        let strengths = ["faint", "weak", "fair", "strong", "plain"];
        let weights = strengths.map(|s| learned.weights[&format!("strength.{s}")]);
        assert!(weights.is_sorted(), "{weights:?}");
    }

    #[test]
    fn likely_is_what_was_right_often_enough() {
        let shares: Vec<f32> = (0..=100).map(|n| n as f32 / 100.0).collect();
        let said: Vec<f32> = shares.iter().map(|s| told(*s)).collect();
        assert!(said.is_sorted());
        for (share, said) in shares.iter().zip(&said) {
            assert_eq!(*said >= LIKELY, *share >= RIGHT, "{share} is told as {said}");
        }
    }

    proptest::proptest! {
        /// Chances are shares of one whole, in the order of the scores.
        #[test]
        fn chances_are_shares_of_one(scores in proptest::collection::vec(-50.0f64..50.0, 0..40)) {
            let places: Vec<Vec<f64>> = scores.iter().map(|s| vec![*s]).collect();
            let chances = ORDER.chances(&places);
            let mut strongest = chances.clone();
            strongest.sort_by(|a, b| b.total_cmp(a));
            proptest::prop_assert!(strongest.iter().take(COUNTED).sum::<f64>() <= 1.0 + 1e-9);
            for (a, b) in scores.iter().zip(&chances) {
                for (c, d) in scores.iter().zip(&chances) {
                    proptest::prop_assert!((0.0..=1.0).contains(b) && (a <= c || b >= d));
                }
            }
        }

        /// However much else is odd, the strongest place stays as likely as it is.
        #[test]
        fn a_crowd_of_weak_places_takes_nothing(
            first in 0.0f64..5.0, weak in proptest::collection::vec(-9.0f64..-5.0, 6..60), more in 0usize..60,
        ) {
            let places = |more: usize| -> Vec<Vec<f64>> {
                let weak = weak.iter().chain(std::iter::repeat_n(&-9.0, more));
                [first].iter().chain(weak).map(|s| vec![*s]).collect()
            };
            proptest::prop_assert_eq!(ORDER.chances(&places(0))[0], ORDER.chances(&places(more))[0]);
        }

        /// What became of a chance grows with it.
        #[test]
        fn what_became_grows_with_the_chance(a in 0.0f64..1.0, b in 0.0f64..1.0) {
            let (low, high) = (a.min(b), a.max(b));
            proptest::prop_assert!(ORDER.became(low) <= ORDER.became(high) + 1e-6);
        }
    }
}
