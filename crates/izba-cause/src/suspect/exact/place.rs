//! The line that a claim points at, and what the claim says of it.

use izba_model::claim::{Fix, Piece, Saying, Slot, Suspect};
use izba_model::code::{FileFacts, Index};
use std::ops::Range;

/// A line with what is claimed of it.
pub(super) struct Place<'a> {
    pub(super) file: &'a FileFacts,
    pub(super) suspect: &'a Suspect,
    /// All files.
    pub(super) index: &'a Index,
    /// The bytes of the line in its file.
    pub(super) span: Range<usize>,
    /// The line.
    pub(super) line: &'a str,
}

impl<'a> Place<'a> {
    /// Where a suspect stands; `None` for a file as a whole.
    pub(super) fn of(index: &'a Index, suspect: &'a Suspect) -> Option<Place<'a>> {
        let file = index.file(&suspect.file)?;
        let span = file.line_span(suspect.line)?;
        let line = &file.text[span.clone()];
        Some(Place { file, suspect, index, span, line })
    }

    fn says(&self) -> &'a Saying {
        &self.suspect.claim.says
    }

    /// A name that the claim holds.
    pub(super) fn name(&self, slot: &str) -> Option<&'a str> {
        match self.says().slot(slot)? {
            Slot::Name(name) | Slot::Place(name) => Some(name),
            _ => None,
        }
    }

    /// A number that the claim holds.
    pub(super) fn number(&self, slot: &str) -> Option<u32> {
        match self.says().slot(slot)? {
            Slot::Number(number) => u32::try_from(*number).ok(),
            _ => None,
        }
    }

    /// A claim within the claim.
    pub(super) fn within(&self, slot: &str) -> Option<&'a Saying> {
        match self.says().slot(slot)? {
            Slot::Saying(saying) => Some(saying),
            _ => None,
        }
    }

    /// Where the line's text begins, in bytes of the line.
    pub(super) fn indent(&self) -> usize {
        self.line.len() - self.line.trim_start().len()
    }

    /// An edit of the line: bytes of it taken out, a text put in.
    pub(super) fn replace(&self, range: Range<usize>, with: &str) -> Option<Fix> {
        let (from, to) = (self.span.start + range.start, self.span.start + range.end);
        Fix::one(&self.file.path, from..to, with)
    }

    /// An edit that puts something into the line.
    pub(super) fn insert(&self, at: usize, what: &str) -> Option<Fix> {
        self.replace(at..at, what)
    }

    /// An edit of several places of the line.
    pub(super) fn pieces(&self, all: Vec<(Range<usize>, String)>) -> Option<Fix> {
        let piece = |(range, insert): (Range<usize>, String)| Piece {
            at: self.span.start + range.start,
            remove: range.len(),
            insert,
        };
        Fix::new(&self.file.path, all.into_iter().map(piece).collect())
    }
}

/// Where a word stands in a line by itself, as byte offsets.
pub(super) fn whole_words<'l>(line: &'l str, word: &'l str) -> impl Iterator<Item = usize> + 'l {
    let part = |c: char| c.is_alphanumeric() || matches!(c, '_' | '$');
    let (begins, ends) = (word.starts_with(part), word.ends_with(part));
    line.match_indices(word).map(|(at, _)| at).filter(move |at| {
        let before = line[..*at].chars().next_back();
        let behind = line[at + word.len()..].chars().next();
        let goes_on = ends && behind.is_some_and(part) || begins && before.is_some_and(part);
        !(word.is_empty() || goes_on)
    })
}

/// The one place at which a word stands in a line; `None` where there is none, or more than one.
pub(super) fn only_word(line: &str, word: &str) -> Option<Range<usize>> {
    let mut all = whole_words(line, word);
    let (at, more) = (all.next()?, all.next());
    more.is_none().then(|| at..at + word.len())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_word_is_found_only_by_itself() {
        let at = |line: &str, word: &str| whole_words(line, word).collect::<Vec<_>>();
        assert_eq!(at("rope = ropes[rope]", "rope"), [0, 13]);
        assert_eq!(at("self.rope_end", "rope"), Vec::<usize>::new());
        assert_eq!(at("text.upper() .. text.uppercase", ".upper"), [4]);
        assert_eq!(at("größe = größer", "größe"), [0]);
        assert_eq!(at("if i <= n then", "<="), [5]);
        assert_eq!(only_word("rope = ropes[rope]", "rope"), None);
        assert_eq!(only_word("rope = ropes[1]", "rope"), Some(0..4));
    }
}
