//! out-of-range: a list is asked for a place that it does not have.

use super::{Case, Explanation, Family, Sentence, sure};

/// The family.
pub static FAMILY: Family = Family {
    id: "out-of-range",
    title: "out of range",
    patterns: &[
        sure(85, r"[Ii]ndex (?<index>-?\d+) out of bounds for length (?<length>\d+)"),
        sure(
            80,
            concat!(
                r"(?:Array|String)?IndexOutOfBoundsException(?:: .*?[Ii]ndex:?",
                r" (?<index>-?\d+)(?:, (?:[Ss]ize|length):? (?<length>\d+))?)?"
            ),
        ),
        sure(85, r"(?:begin -?\d+, end|start|index) (?<index>-?\d+), length (?<length>\d+)"),
        sure(
            80,
            concat!(
                r"IndexError: |(?:list|tuple|string",
                r"|bytearray) (?:assignment )?index out of range|pop from (?:an )?empty"
            ),
        ),
        sure(
            80,
            concat!(
                r"Index was outside the bounds|IndexOutOfRangeException",
                r"|Index was out of range|ArgumentOutOfRangeException"
            ),
        ),
        sure(
            85,
            r"index out of range \[(?<index>-?\d+)\](?: with (?:length|capacity) (?<length>\d+))?",
        ),
        sure(85, r"index out of bounds: the len is (?<length>\d+) but the index is (?<index>\d+)"),
        sure(
            85,
            concat!(
                r"range_check: __n \(which is (?<index>\d+)\) >= this->size\(\) \(which is",
                r" (?<length>\d+)\)"
            ),
        ),
        sure(
            80,
            concat!(
                r"slice bounds out of range|Undefined (?:array key",
                r"|offset):? (?<index>-?\d+)|IndexError: index (?<text>-?\d+)"
            ),
        ),
        sure(82, r"index (?<index>-?\d+) beyond bounds|Index out of range$"),
        sure(
            80,
            concat!(
                r"NoSuchElementException: (?:List|Collection|Array|Sequence",
                r"|Iterator) is empty|(?:List|Sequence|Collection) contains no elements"
            ),
        ),
        sure(
            70,
            concat!(
                r"bad argument #\d+ to '(?<callee>[^']+)' \((?:position|index|value",
                r"|number) out of (?:bounds|range)\)"
            ),
        ),
    ],
    explain,
    docs: "An index lies before the first or after the last thing of a list, text or table.",
    sample: "Index 7 out of bounds for length 6",
};

/// Sentences that say that there is nothing to take.
const EMPTY: [&str; 3] = ["is empty", "contains no elements", "from empty"];

fn explain(case: &Case<'_>) -> Explanation {
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
