//! dependency-ring: parts that need one another in a ring, so that none can come first.

use super::{Case, Explanation};
use izba_model::sentence::Sentence;

pub(super) fn explain(case: &Case<'_>) -> Explanation {
    let ring: Vec<&str> = case.fact("path").map_or(Vec::new(), |p| {
        p.split(['>', '→']).map(|s| s.trim().trim_end_matches('-').trim()).collect()
    });
    let names: Vec<&str> = ring.iter().map(|s| s.rsplit('/').next().unwrap_or(s)).collect();
    let short = match names.split_last() {
        Some((_, parts)) if !parts.is_empty() => {
            format!("{} need one another in a ring", listed(parts))
        }
        _ => "parts that need one another in a ring".to_owned(),
    };
    let mut plain = vec![
        "None of them can be ready before the others: whichever is begun first finds one of \
        the others still empty."
            .to_owned(),
    ];
    if names.len() > 2 {
        plain.push(format!("The way round is {}.", names.join(" → ")));
    }
    plain.push(
        "Decide which of these arrows to cut: give one of them a value of its own, or move \
            what two of them share into a part of its own."
            .into(),
    );
    Explanation {
        headline: case.at_place(Sentence::from_name(&short)),
        note: "part of the ring".into(),
        short,
        plain,
        token: case.entry.token,
    }
}

fn listed(names: &[&str]) -> String {
    match names {
        [] => String::new(),
        [one] => (*one).to_owned(),
        [first @ .., last] => format!("{} and {last}", first.join(", ")),
    }
}
