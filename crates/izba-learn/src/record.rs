//! What became of claims of a kind: counted over all programs, and for a program over the others.

use crate::cases::Case;
use izba_cause::suspect::{RECORD, record};
use std::collections::BTreeMap;

/// How many claims there were, and how many were right.
type Count = [u32; 2];

/// Counts by kind and by strength.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Counts {
    /// Of each kind and strength.
    pub kinds: BTreeMap<String, Count>,
    /// Of each strength.
    pub usual: BTreeMap<String, Count>,
}

impl Counts {
    /// Of these cases.
    pub fn of<'a>(cases: impl IntoIterator<Item = &'a Case>) -> Counts {
        let mut counts = Counts::default();
        for place in cases.into_iter().flat_map(|c| &c.places) {
            for one in &place.sightings {
                let slots = [
                    counts.kinds.entry(one.kind.clone()).or_default(),
                    counts.usual.entry(one.strength.to_owned()).or_default(),
                ];
                for slot in slots {
                    slot[0] += 1;
                    slot[1] += u32::from(place.guilty);
                }
            }
        }
        counts
    }

    /// What became of others of this kind and strength, those of `own` left out.
    fn record(&self, own: &Counts, kind: &str, strength: &str) -> f32 {
        let without = |all: &BTreeMap<String, Count>, own: &BTreeMap<String, Count>, name: &str| {
            let [seen, right] = all.get(name).copied().unwrap_or_default();
            let [own_seen, own_right] = own.get(name).copied().unwrap_or_default();
            [seen.saturating_sub(own_seen), right.saturating_sub(own_right)]
        };
        record(without(&self.kinds, &own.kinds, kind), without(&self.usual, &own.usual, strength))
    }

    /// Puts into each case what became of others like it, those of its own program left out where
    /// they were counted.
    pub fn put_into(&self, cases: &mut [Case], own: bool) {
        let mut programs: BTreeMap<String, Counts> = BTreeMap::new();
        if own {
            for case in cases.iter() {
                let of = |c: &&Case| c.program == case.program;
                programs
                    .entry(case.program.clone())
                    .or_insert_with(|| Counts::of(cases.iter().filter(of)));
            }
        }
        let none = Counts::default();
        for case in cases {
            let own = programs.get(&case.program).unwrap_or(&none);
            for one in case.places.iter_mut().flat_map(|p| &mut p.sightings) {
                let record = self.record(own, &one.kind, one.strength);
                one.features.retain(|(at, _)| *at != RECORD);
                one.features.push((RECORD, record));
            }
        }
    }
}
