//! How sure a suspect is told to be, by what became of others of its kind.

use izba_model::claim::{Kind, LIKELY};
use std::collections::BTreeMap;
use std::sync::LazyLock;

/// Where nothing is counted of a kind, or others of it were wrong too often, it has to be this sure:
/// on programs when nobody had looked into them yet, of first suspects between [`LIKELY`] and this
/// hardly more than every second one was right; from here on nine in ten were on one set of them, three
/// in four on another.
const SURE: f32 = 0.85;

/// Of so many first suspects of a kind at least this share has to have been right.
const COUNTED: u32 = 5;
const RIGHT: f32 = 0.9;

/// How often a first suspect of a kind was the guilty one, by `check.kind`: how many, how many right.
static FIRST: LazyLock<BTreeMap<String, [u32; 2]>> = LazyLock::new(|| {
    toml::from_str(include_str!("../../words/first.toml")).expect("the counts are numbers")
});

/// How sure a suspect is told to be: what is not proven stays below [`LIKELY`], in its order.
pub(super) fn told(confidence: f32, kind: &Kind) -> f32 {
    if confidence >= SURE || confidence >= LIKELY && is_proven(kind) {
        return confidence;
    }
    let between = |from: f32, to: f32, low: f32, high: f32| {
        low + (high - low) * (confidence - from) / (to - from)
    };
    if confidence >= LIKELY {
        between(LIKELY, SURE, LIKELY - 0.1, LIKELY - 0.01)
    } else if confidence >= LIKELY - 0.1 {
        between(LIKELY - 0.1, LIKELY, LIKELY - 0.15, LIKELY - 0.1)
    } else {
        between(0.0, LIKELY - 0.1, 0.0, LIKELY - 0.15)
    }
}

fn is_proven(kind: &Kind) -> bool {
    let counts = FIRST.get(format!("{kind:?}").as_str());
    counts.is_some_and(|[first, right]| *first >= COUNTED && *right as f32 >= RIGHT * *first as f32)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::suspect::CHECKS;
    use proptest::prelude::*;

    fn all_kinds() -> Vec<&'static Kind> {
        CHECKS.iter().flat_map(|c| c.kinds).copied().collect()
    }

    #[test]
    fn what_was_counted_is_there_and_no_more_were_right_than_told() {
        let known: Vec<String> = all_kinds().iter().map(|k| format!("{k:?}")).collect();
        for (kind, [first, right]) in FIRST.iter() {
            assert!(known.contains(kind) && right <= first, "{kind}");
        }
        let proven: Vec<_> = all_kinds().into_iter().filter(|k| is_proven(k)).collect();
        assert!(proven.len() >= 5 && proven.len() < known.len() / 4);
    }

    proptest! {
        #[test]
        fn surer_stays_surer_and_only_what_is_proven_is_likely(
            a in 0.0f32..1.0, b in 0.0f32..1.0, at in 0usize..500,
        ) {
            let kinds = all_kinds();
            let kind = kinds[at % kinds.len()];
            let (low, high) = (a.min(b), a.max(b));
            prop_assert!(told(low, kind) <= told(high, kind) + 1e-6);
            prop_assert!(told(low, kind) < LIKELY || low >= SURE || is_proven(kind));
            prop_assert!(told(low, kind) <= low + 1e-6);
        }
    }
}
