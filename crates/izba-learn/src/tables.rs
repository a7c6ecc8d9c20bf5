//! What the learner prints: how often the first place is the guilty one on programs, and on kinds of
//! slips, that the weights were not learned from; and how often what was called so sure was right.

use crate::cases::Case;
use crate::fit::{self, Weights};
use rayon::prelude::*;
use std::collections::{BTreeMap, BTreeSet};
use std::fmt::Write;

/// What came of each case with weights that were learned without its fold.
#[derive(Debug)]
pub struct Held {
    /// Name of each case's fold.
    pub folds: Vec<String>,
    /// Of each case the places' chances with whether they were guilty, best first.
    pub places: Vec<Vec<(f64, bool)>>,
}

impl Held {
    /// Learns once for each fold, without its cases, and ranks these.
    pub fn out(cases: &[Case], features: usize, fold: fn(&Case) -> &str) -> Held {
        let names: BTreeSet<&str> = cases.iter().map(fold).collect();
        let names: Vec<&str> = names.into_iter().collect();
        let learned: BTreeMap<&str, Weights> = names
            .into_par_iter()
            .map(|name| (name, fit::learn(cases.iter().filter(move |c| fold(c) != name), features)))
            .collect();
        let folds = cases.iter().map(|c| fold(c).to_owned()).collect();
        let places = cases.iter().map(|c| ranked(&learned[fold(c)], c)).collect();
        Held { folds, places }
    }

    /// Whether the first place of each case is guilty.
    fn first(&self, at: usize) -> bool {
        self.places[at].first().is_some_and(|(_, guilty)| *guilty)
    }

    /// All places with their chances.
    pub fn all(&self) -> Vec<(f64, bool)> {
        self.places.iter().flatten().copied().collect()
    }

    /// By fold: cases, first right; and over all.
    pub fn table(&self, what: &str) -> String {
        let mut folds: BTreeMap<&str, [usize; 3]> = BTreeMap::new();
        for (at, fold) in self.folds.iter().enumerate() {
            let slot = folds.entry(fold).or_default();
            let three = self.places[at].iter().take(3).any(|(_, guilty)| *guilty);
            let right = [1, usize::from(self.first(at)), usize::from(three)];
            slot.iter_mut().zip(right).for_each(|(slot, more)| *slot += more);
        }
        let mut text = String::new();
        let sum = folds.values().fold([0; 3], |s, f| [s[0] + f[0], s[1] + f[1], s[2] + f[2]]);
        let share = |part: usize, all: usize| part as f64 / all.max(1) as f64;
        let alone: Vec<f64> = folds.values().map(|[n, first, _]| share(*first, *n)).collect();
        let mean = alone.iter().sum::<f64>() / alone.len().max(1) as f64;
        let spread =
            alone.iter().map(|a| (a - mean).powi(2)).sum::<f64>() / alone.len().max(2) as f64;
        let _ = writeln!(
            text,
            "without one {what} at a time: {} cases, first {:.3}, within three {:.3}; by {what}: \
                mean {mean:.3}, standard deviation {:.3}",
            sum[0],
            share(sum[1], sum[0]),
            share(sum[2], sum[0]),
            spread.sqrt()
        );
        for (fold, [n, first, three]) in folds {
            let _ = writeln!(
                text,
                "  {fold:<20} {n:>4}  first {:.2}  within three {:.2}",
                share(first, n),
                share(three, n)
            );
        }
        text
    }
}

/// The places of a case by their chances, best first, with whether they are guilty.
pub fn ranked(weights: &Weights, case: &Case) -> Vec<(f64, bool)> {
    let guilty = case.places.iter().map(|p| p.guilty);
    let mut all: Vec<(f64, bool)> = weights.chances(case).into_iter().zip(guilty).collect();
    all.sort_by(|a, b| b.0.total_cmp(&a.0));
    all
}

/// How sure first places were said to be, against how many of them were guilty.
pub fn said_and_true(first: &[(f32, bool)]) -> String {
    let mut text = String::from("first places: said to be right, and were\n");
    let steps = [0.0, 0.2, 0.4, 0.6, 0.7, 0.8, 0.9, 0.95, 1.01];
    for pair in steps.windows(2) {
        let of: Vec<_> = first.iter().filter(|(s, _)| (pair[0]..pair[1]).contains(s)).collect();
        let right = of.iter().filter(|(_, right)| *right).count();
        let said = of.iter().map(|(s, _)| s).sum::<f32>() / of.len().max(1) as f32;
        if !of.is_empty() {
            let true_share = right as f32 / of.len() as f32;
            let _ = writeln!(
                text,
                "  {:.2} to {:.2}  {:>4} said {said:.2} were {true_share:.2}",
                pair[0],
                pair[1].min(1.0),
                of.len()
            );
        }
    }
    text
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::cases::{Place, Sighting};

    /// A program in which one feature marks the guilty place, and another one the other place.
    fn program(name: &str, mark: u16, other: u16) -> Case {
        let place = |guilty, features: &[(u16, f32)]| {
            let features = features.to_vec();
            Place {
                guilty,
                sightings: vec![Sighting { kind: String::new(), strength: "plain", features }],
            }
        };
        let places = vec![place(false, &[(other, 1.0)]), place(true, &[(mark, 1.0)])];
        Case { program: name.into(), slip: "typo".into(), places }
    }

    #[test]
    fn a_program_is_judged_by_what_others_taught() {
        let mut cases: Vec<Case> = (0..20).map(|_| program("ferry", 0, 1)).collect();
        let others = |name| (0..10).map(move |_| program(name, 0, 1)).collect::<Vec<Case>>();
        cases.extend(others("buoy"));
        // In the lighthouse it is the other way round, which no other program teaches.
        cases.extend((0..9).map(|_| program("lighthouse", 1, 0)));
        let held = Held::out(&cases, 3, |c| &c.program);
        assert!(!held.first(cases.len() - 1), "{:?}", held.places.last());
        assert!(held.first(0) && held.places[0][0].0 > 0.5, "{:?}", held.places[0]);
        let told = held.table("program");
        assert!(told.starts_with("without one program at a time: 39 cases, first "), "{told}");
        assert!(told.contains("  buoy                   10  first 1.00"), "{told}");
    }

    #[test]
    fn what_was_said_is_held_against_what_was_true() {
        let told = said_and_true(&[(0.95, true), (0.96, true), (0.97, false), (0.3, false)]);
        assert!(told.contains("0.95 to 1.00     3 said 0.96 were 0.67"), "{told}");
        assert!(told.contains("0.20 to 0.40     1 said 0.30 were 0.00"), "{told}");
        assert!(!told.contains("0.60"), "{told}");
    }
}
