//! out-of-range: a list is asked for a place that it does not have.

use super::{Case, Explanation};
use izba_model::claim::Saying;
use izba_model::pattern::Pattern;
use izba_model::{say, sayings};

sayings! {
    "explain.out-of-range", Any, "../../words/explain/out-of-range.toml";
    OF_EMPTY = "of-empty",
    OF_EMPTY_NOTE = "of-empty-note",
    OF_EMPTY_MEANS = "of-empty-means",
    PAST = "past",
    PAST_NOTE = "past-note",
    PAST_MEANS = "past-means",
    PAST_ONE = "past-one",
    PAST_ONE_MEANS = "past-one-means",
    BEFORE = "before",
    BEFORE_NOTE = "before-note",
    BEFORE_MEANS = "before-means",
    TAKEN = "taken",
    TAKEN_MEANS = "taken-means",
    UNKNOWN = "unknown",
    UNKNOWN_OF = "unknown-of",
    UNKNOWN_NOTE = "unknown-note",
    UNKNOWN_MEANS = "unknown-means",
    UNKNOWN_OF_MEANS = "unknown-of-means",
    EQUAL_ADVICE = "equal-advice",
    ADVICE = "advice",
}

/// Sentences that say that there is nothing to take.
const EMPTY: [&str; 3] = ["is empty", "contains no elements", "from empty"];

/// A list with an index in square brackets.
static TAKEN_FROM: Pattern = Pattern::new(r"([A-Za-z_$][\w$.]*)\[([^\[\]]+)\]");

pub(super) fn explain(case: &Case<'_>) -> Explanation {
    let index = case.fact("index").and_then(|i| i.parse::<i64>().ok());
    let length = case.fact("length").and_then(|l| l.parse::<i64>().ok());
    let (short, note, means) = told(case, index, length);
    let advice = match (index, length) {
        (Some(index), Some(length)) if index == length && length > 0 => {
            say!(EQUAL_ADVICE, index, length)
        }
        _ => say!(ADVICE),
    };
    let bracket = TAKEN_FROM.captures(case.line()).and_then(|c| c.get(2));
    Explanation::new(case.at_place(&short), &short, &note)
        .means(&means)
        .advises(&advice)
        .at(bracket.map(|b| (b.start(), b.end())).or(case.entry.token))
}

/// What happened, what stands under the index, and what it means.
fn told(case: &Case<'_>, index: Option<i64>, length: Option<i64>) -> (Saying, Saying, Saying) {
    match (index, length) {
        (Some(index), Some(0)) => {
            (say!(OF_EMPTY, index), say!(OF_EMPTY_NOTE), say!(OF_EMPTY_MEANS, index))
        }
        (Some(index), Some(1)) if index >= 1 => {
            (say!(PAST_ONE, index), say!(PAST_NOTE, last = 0i64), say!(PAST_ONE_MEANS, index))
        }
        (Some(index), Some(length)) if index >= length => {
            let last = length - 1;
            let means = say!(PAST_MEANS, index, length, last);
            (say!(PAST, index, length), say!(PAST_NOTE, last), means)
        }
        (Some(index), _) if index < 0 => {
            (say!(BEFORE, index), say!(BEFORE_NOTE), say!(BEFORE_MEANS, index))
        }
        _ if EMPTY.iter().any(|words| case.entry.root_message.contains(words)) => {
            (say!(TAKEN), say!(OF_EMPTY_NOTE), say!(TAKEN_MEANS))
        }
        _ => {
            let language = case.in_language();
            let mut lists = TAKEN_FROM.captures_iter(case.line()).filter_map(|c| c.get(1));
            match (lists.next(), lists.next()) {
                (Some(one), None) => {
                    let name = one.as_str();
                    let means = say!(UNKNOWN_OF_MEANS, name, language);
                    (say!(UNKNOWN_OF, name), say!(UNKNOWN_NOTE), means)
                }
                _ => (say!(UNKNOWN), say!(UNKNOWN_NOTE), say!(UNKNOWN_MEANS, language)),
            }
        }
    }
}
