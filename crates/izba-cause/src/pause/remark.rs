//! What the values of a line say: an index past the end of its list, a name that has no value where
//! something is asked of it, a text where a number is wanted.

use super::{Part, Seen, Spoken, is_nothing};
use izba_model::code::Language;

/// One thing that the values say.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Remark {
    /// Which expression it is about.
    pub at: usize,
    /// A half sentence.
    pub text: String,
    /// What it shows.
    pub shows: Shows,
}

/// What values show.
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
        let names = (&values[index].0.text, &values[list].0.text);
        let is = if whole(names.0).is_some() {
            names.0.clone()
        } else {
            format!("{} is {index_value}", names.0)
        };
        let text = if index_value < first {
            format!("{is}, and the lists of {} begin at {first}", language.name)
        } else if index_value >= first + length {
            let holds = match length {
                0 => "is empty".to_owned(),
                1 => "holds 1 entry".to_owned(),
                n => format!("holds {n} entries"),
            };
            format!("{is}, but {} {holds}", names.1)
        } else {
            continue;
        };
        found.push(Remark { at, text, shows: Shows::OutOfRange });
    }
    for (at, (spoken, seen)) in values.iter().enumerate() {
        let gone = seen.as_ref().is_some_and(|s| is_nothing(language, &s.shown));
        if gone && spoken.asked && !found.iter().any(|r| r.at == at) {
            found.push(Remark {
                at,
                text: format!("{} has no value", spoken.text),
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
