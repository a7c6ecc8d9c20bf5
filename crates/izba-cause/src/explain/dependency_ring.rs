//! dependency-ring: parts that need one another in a ring, so that none can come first.

use super::{Case, Explanation};
use izba_model::claim::Slot;
use izba_model::{say, sayings};

sayings! {
    "explain.dependency-ring", Any, "../../words/explain/dependency-ring.toml";
    RING = "ring",
    RING_ANY = "ring-any",
    NOTE = "note",
    MEANS = "means",
    WAY = "way",
    ADVICE = "advice",
}

pub(super) fn explain(case: &Case<'_>) -> Explanation {
    let ring: Vec<&str> = case.fact("path").map_or(Vec::new(), |p| {
        p.split(['>', '→']).map(|s| s.trim().trim_end_matches('-').trim()).collect()
    });
    let names: Vec<&str> = ring.iter().map(|s| s.rsplit('/').next().unwrap_or(s)).collect();
    let short = match names.split_last() {
        Some((_, parts)) if !parts.is_empty() => say!(RING, names = parts),
        _ => say!(RING_ANY),
    };
    let mut said = Explanation::new(case.at_place(&short), &short, &say!(NOTE)).means(&say!(MEANS));
    if names.len() > 2 {
        said = said.means(&say!(WAY, way = Slot::words(names.join(" → "))));
    }
    said.advises(&say!(ADVICE)).at(case.entry.token)
}
