//! What the values of a line say: an index past the end of its list, a name that has no value where
//! something is asked of it, a text where a number is wanted.

use super::{Part, Seen, Spoken, is_nothing};
use izba_model::claim::Saying;
use izba_model::code::Language;
use izba_model::{say, sayings};

sayings! {
    "pause", Range, "../../words/pause.toml";
    INDEX_IS = "index-is",
    INDEX_ITSELF = "index-itself",
    BELOW_FIRST = "below-first",
    PAST_EMPTY = "past-empty",
    PAST_ONE = "past-one",
    PAST_MANY = "past-many",
    NO_VALUE = "no-value",
    pub(super) FAILED = "failed",
    pub(super) STOPPED = "stopped",
    pub(super) VALUE = "value",
    pub(super) VALUE_WITH_FIELDS = "value-with-fields",
}

/// One thing that the values say.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Remark {
    /// Which expression it is about.
    pub at: usize,
    /// A half sentence.
    pub says: Saying,
    /// What it shows.
    pub shows: Shows,
}

/// What the values at a stop show of a claim.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Shows {
    /// An index outside its list.
    OutOfRange,
    /// No value where one is needed.
    Nothing,
}

/// What the values of a line say, the most telling first.
pub fn remarks(language: Language, values: &[(Spoken, Option<Seen>)]) -> Vec<Remark> {
    let number = |at: usize| {
        values.get(at).and_then(|(_, seen)| seen.as_ref()).and_then(|s| whole(&s.shown))
    };
    let mut found = Vec::new();
    for (at, (spoken, _)) in values.iter().enumerate() {
        let Part::Entry { list, index } = spoken.part else { continue };
        let counted =
            values.iter().position(|(s, _)| s.part == Part::Length { of: list }).and_then(number);
        let told = values.get(list).and_then(|(_, seen)| seen.as_ref()?.entries);
        let (Some(index_value), Some(length)) =
            (number(index), counted.or(told.and_then(|n| i64::try_from(n).ok())))
        else {
            continue;
        };
        let first = language.first_index;
        let (name, list) = (&values[index].0.text, &values[list].0.text);
        let is = if whole(name).is_some() {
            say!(INDEX_ITSELF, name)
        } else {
            say!(INDEX_IS, name, index = index_value)
        };
        let says = if index_value < first {
            say!(BELOW_FIRST, is, language = language.said(), first)
        } else if index_value >= first + length {
            match length {
                0 => say!(PAST_EMPTY, is, list),
                1 => say!(PAST_ONE, is, list),
                _ => say!(PAST_MANY, is, list, length),
            }
        } else {
            continue;
        };
        found.push(Remark { at, says, shows: Shows::OutOfRange });
    }
    for (at, (spoken, seen)) in values.iter().enumerate() {
        let gone = seen.as_ref().is_some_and(|s| is_nothing(language, &s.shown));
        if gone && spoken.asked && !found.iter().any(|r| r.at == at) {
            found.push(Remark {
                at,
                says: say!(NO_VALUE, name = spoken.text),
                shows: Shows::Nothing,
            });
        }
    }
    found
}

/// The whole number that is shown, if it is one.
fn whole(shown: &str) -> Option<i64> {
    let shown = shown.trim();
    shown.parse().ok().or_else(|| shown.strip_suffix(".0")?.parse().ok())
}
