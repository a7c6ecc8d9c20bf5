//! Which note is about an error like this one. The same mistake is met again in other projects, at
//! other paths, with other numbers; an error that merely is of the same family, or says the same
//! standard sentence about something else, is not it.

use super::Note;
use crate::GroupView;
use izba_model::mask::function_name;

/// An edited line counts as the same when this much of it is left, from 0 to 1.
const MUCH: f64 = 0.75;

/// How near a note is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Likely {
    /// The line was edited since.
    Edited,
    /// The same words, where neither has a line of its own.
    Words,
    /// The same words about the same line of code.
    Same,
}

/// A note that fits, and why.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Alike {
    /// Its number among those that were looked at.
    pub note: usize,
    /// How near it is.
    pub likely: Likely,
}

impl Likely {
    /// Why it is offered, as half a sentence.
    pub fn why(self) -> &'static str {
        match self {
            Likely::Same => "it says the same about the same line of code",
            Likely::Words => "it says the same, but for numbers and paths",
            Likely::Edited => "it says the same in the same function, whose line was edited",
        }
    }
}

/// Whether a note is about an error like this one.
pub fn alike(note: &Note, group: &GroupView) -> Option<Likely> {
    let (head, entry) = (&note.head, &*group.entry);
    if head.family != entry.family.id()
        || head.shape != group.shape
        || head.kind != entry.root_kind
        || head.code != entry.report.code
    {
        return None;
    }
    let text =
        entry.line_text.as_deref().map(|t| t.split_whitespace().collect::<Vec<_>>().join(" "));
    let name = |function: Option<&str>| function.map(|f| function_name(f).into_owned());
    let same_function = name(head.function.as_deref()) == name(entry.function.as_deref());
    match (&head.text, &text) {
        (Some(then), Some(now)) if then == now => same_function.then_some(Likely::Same),
        (Some(then), Some(now)) => {
            let much = strsim::normalized_levenshtein(then, now) >= MUCH;
            (much && same_function && head.function.is_some() && names(then) == names(now))
                .then_some(Likely::Edited)
        }
        // Only whole sentences: a word or two are said about anything.
        (None, None) => (head.shape.split_whitespace().count() >= 3
            && head.file.is_none() == entry.place.is_none())
        .then_some(Likely::Words),
        _ => None,
    }
}

/// The names in a line; what was put around them by an edit does not matter.
fn names(line: &str) -> std::collections::BTreeSet<&str> {
    line.split(|c: char| !c.is_alphanumeric() && c != '_')
        .filter(|w| w.chars().any(char::is_alphabetic))
        .collect()
}

/// The notes that fit an error, the nearest first.
pub fn offered<'a>(notes: impl IntoIterator<Item = &'a Note>, group: &GroupView) -> Vec<Alike> {
    let mut found: Vec<(Alike, &str)> = notes
        .into_iter()
        .enumerate()
        .filter_map(|(note, n)| {
            Some((Alike { note, likely: alike(n, group)? }, n.head.met.as_str()))
        })
        .collect();
    found.sort_by_key(|(a, met)| (std::cmp::Reverse(a.likely), std::cmp::Reverse(*met)));
    found.into_iter().map(|(a, _)| a).collect()
}
