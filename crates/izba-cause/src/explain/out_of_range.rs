//! out-of-range: a list is asked for a place that it does not have.

use super::{Case, Explanation};
use izba_model::sentence::Sentence;

/// Sentences that say that there is nothing to take.
const EMPTY: [&str; 3] = ["is empty", "contains no elements", "from empty"];

pub(super) fn explain(case: &Case<'_>) -> Explanation {
    let index = case.fact("index").and_then(|i| i.parse::<i64>().ok());
    let length = case.fact("length").and_then(|l| l.parse::<i64>().ok());
    let (short, note, meaning) = match (index, length) {
        (Some(index), Some(0)) => (
            format!("index {index} of an empty list"),
            "the list is empty".to_owned(),
            format!("Place {index} was asked for, and the list holds nothing at all."),
        ),
        (Some(index), Some(length)) if index >= length => {
            let past = index - length + 1;
            (
                format!("index {index} of a list of {length}"),
                format!("{past} past the last one, which is {}", length - 1),
                format!(
                    "Place {index} was asked for, and the list holds {length}. Counting \
                        starts at 0, so the last place is {}: this is {past} past the end.",
                    length - 1
                ),
            )
        }
        (Some(index), _) if index < 0 => (
            format!("index {index} lies before the first one"),
            "before the first one".to_owned(),
            format!("Place {index} was asked for, and places begin at 0."),
        ),
        _ if EMPTY.iter().any(|words| case.entry.root_message.contains(words)) => (
            "something is asked of an empty list".to_owned(),
            "the list is empty".to_owned(),
            "The first, last or only one of a list was asked for, and the list holds \
                nothing at all."
                .to_owned(),
        ),
        _ => (
            "an index past the end of its list".to_owned(),
            "the index is not in the list".to_owned(),
            format!(
                "A place was asked for that the list does not have. {} does not say which \
                    index it was, nor how long the list is.",
                case.language_name()
            ),
        ),
    };
    let mut plain = vec![meaning];
    if index.is_some() && index == length {
        plain.push(
            "An index equal to the length is the usual slip: a loop that runs to <= length, or \
            a count taken for a place."
                .into(),
        );
    } else {
        plain.push(
            "Compare the index with the length just before this line: a loop that runs one \
                too far, a list shorter than thought, or an empty one."
                .into(),
        );
    }
    let bracket = case
        .line()
        .find('[')
        .map(|at| (at + 1, case.line()[at..].find(']').map_or(at + 1, |e| at + e)))
        .filter(|(a, b)| a < b);
    Explanation {
        headline: case.at_place(Sentence::from_name(&short)),
        short,
        note,
        plain,
        token: bracket.or(case.entry.token),
    }
}
