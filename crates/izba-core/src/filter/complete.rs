//! What fits here while a phrase is typed, each offer with how many entries it would leave.

use super::fits::Around;
use crate::group::GroupView;
use crate::phrase::{Phrase, WORDS, What, is_reserved, tokens};
use std::collections::BTreeSet;
use std::ops::Range;
use std::sync::Arc;

/// One way to go on.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Offer {
    /// What would stand in the phrase.
    pub text: String,
    /// The bytes of the phrase that it would take the place of.
    pub at: Range<usize>,
    /// Entries that the phrase would leave then; `None` for a word that needs another behind it.
    pub leaves: Option<u64>,
    /// What it means.
    pub means: &'static str,
}

/// Offers at most.
const OFFERS: usize = 8;

/// What fits at the end of `text`, best first.
pub fn offers(text: &str, groups: &[Arc<GroupView>], around: &Around<'_>) -> Vec<Offer> {
    let Ok(words) = tokens(text) else { return Vec::new() };
    let fresh = text.is_empty() || text.ends_with([' ', '(']);
    let last = words.last().filter(|_| !fresh);
    let (typed, at) = match last.map(|t| (&t.what, t.at.clone())) {
        Some((What::Word(word), at)) => (word.to_lowercase(), at),
        Some(_) => return Vec::new(),
        None => (String::new(), text.len()..text.len()),
    };
    let before =
        words.len().checked_sub(if fresh { 1 } else { 2 }).and_then(|i| words.get(i)).and_then(
            |t| match &t.what {
                What::Word(word) => Some(word.as_str()),
                _ => None,
            },
        );
    let values = before.and_then(|word| values_of(word, groups, around));
    let head = &text[..at.start];
    let leaves = |candidate: &str| {
        let phrase = Phrase::parse(&format!("{head}{candidate}")).ok()?;
        Some(groups.iter().filter(|g| phrase.fits_group(g, around)).map(|g| g.count).sum::<u64>())
    };
    let mut found: Vec<Offer> = match values {
        Some(values) => {
            let fits = |v: &&String| v.to_lowercase().contains(&typed);
            let offer = |v: &String| {
                let text =
                    if v.contains(|c: char| c.is_whitespace() || matches!(c, '(' | ')' | '"')) {
                        format!("\"{v}\"")
                    } else {
                        v.clone()
                    };
                Offer { leaves: leaves(&text), text, at: at.clone(), means: "" }
            };
            values.iter().filter(fits).map(offer).collect()
        }
        None => {
            let mut all: Vec<Offer> = Vec::new();
            for (word, means) in WORDS.iter().filter(|(w, _)| w.starts_with(&typed) && *w != "and")
            {
                let needs_more = matches!(
                    *word,
                    "by" | "family"
                        | "from"
                        | "in"
                        | "kind"
                        | "last"
                        | "not"
                        | "on"
                        | "or"
                        | "run"
                        | "seen"
                        | "since"
                        | "until"
                );
                // `or` and the like stand between two others.
                if *word == "or" && (words.len() < 1 + usize::from(!fresh) || typed.is_empty()) {
                    continue;
                }
                all.push(Offer {
                    text: (*word).into(),
                    at: at.clone(),
                    leaves: if needs_more { None } else { leaves(word) },
                    means,
                });
            }
            // Names themselves, with the word that belongs before them.
            if typed.len() >= 2 && !is_reserved(&typed) {
                for word in ["in", "on", "kind", "family", "from", "by"] {
                    for value in values_of(word, groups, around)
                        .unwrap_or_default()
                        .into_iter()
                        .filter(|v| v.to_lowercase().contains(&typed))
                    {
                        let quoted =
                            if value.contains(' ') { format!("\"{value}\"") } else { value };
                        let text = format!("{word} {quoted}");
                        all.push(Offer { leaves: leaves(&text), text, at: at.clone(), means: "" });
                    }
                }
            }
            all
        }
    };
    // What would leave nothing is of no use.
    found.retain(|o| o.leaves != Some(0));
    found.sort_by_key(|o| (o.leaves.is_none(), std::cmp::Reverse(o.leaves)));
    found.truncate(OFFERS);
    found
}

/// What may stand behind a word, from what is there.
fn values_of(word: &str, groups: &[Arc<GroupView>], around: &Around<'_>) -> Option<Vec<String>> {
    let reports = || groups.iter().map(|g| &g.entry.report);
    let set: BTreeSet<String> = match word {
        "in" => groups
            .iter()
            .filter_map(|g| g.entry.place.as_ref())
            .map(|p| p.file.to_string())
            .collect(),
        "on" => groups.iter().flat_map(|g| g.objects.iter().map(|(n, _)| n.clone())).collect(),
        "by" => reports().filter_map(|r| r.speaker.clone()).collect(),
        "from" => around.sources.iter().cloned().collect(),
        "kind" => reports().filter_map(|r| r.kind.clone()).collect(),
        "family" => groups.iter().map(|g| g.entry.family.id().to_owned()).collect(),
        "run" => groups.iter().flat_map(|g| g.runs.iter().map(|t| t.run.to_string())).collect(),
        "seen" => ["2+", "10+", "100+", "1000+"].map(str::to_owned).into(),
        "last" => ["10s", "1m", "10m", "1h"].map(str::to_owned).into(),
        _ => return None,
    };
    Some(set.into_iter().collect())
}
