//! Fixed patterns that mostly do not fit: one is compiled only when a text first holds what every
//! match of it holds, since compiling costs a thousand times as much as looking.

use crate::literal::Needs;
use regex::{Captures, Match, Regex, Replacer};
use std::borrow::Cow;
use std::sync::OnceLock;
use std::sync::atomic::{AtomicU32, Ordering};

/// A pattern that is part of the program.
#[derive(Debug)]
pub struct Pattern {
    text: &'static str,
    compiled: OnceLock<Regex>,
    /// What stands in every match; nothing when it is compiled at once.
    needs: OnceLock<Needs>,
    /// Texts that were turned away without compiling.
    refused: AtomicU32,
}

/// After so many texts it is compiled in any case: it decides faster than the literals do.
const ENOUGH: u32 = 200;

impl Pattern {
    /// The pattern as `regex` writes it; it has to compile, which its first use tells.
    pub const fn new(text: &'static str) -> Pattern {
        Pattern {
            text,
            compiled: OnceLock::new(),
            needs: OnceLock::new(),
            refused: AtomicU32::new(0),
        }
    }

    /// The compiled pattern; compiled when it is first asked for.
    pub fn regex(&self) -> &Regex {
        self.compiled.get_or_init(|| Regex::new(self.text).expect("the pattern is fixed"))
    }

    /// The compiled pattern, unless the text holds none of the literals of its matches.
    fn may_fit(&self, text: &str) -> Option<&Regex> {
        if let Some(regex) = self.compiled.get() {
            return Some(regex);
        }
        let needs = self.needs.get_or_init(|| Needs::of(self.text));
        if needs.met_by(text) || self.refused.fetch_add(1, Ordering::Relaxed) >= ENOUGH {
            return Some(self.regex());
        }
        None
    }

    /// Whether it fits somewhere in the text.
    pub fn is_match(&self, text: &str) -> bool {
        self.may_fit(text).is_some_and(|regex| regex.is_match(text))
    }

    /// The parts of the first match. Whether there is one is asked first, which allocates nothing.
    pub fn found<'t>(&self, text: &'t str) -> Option<Captures<'t>> {
        self.may_fit(text).filter(|regex| regex.is_match(text))?.captures(text)
    }

    /// The parts of the first match.
    pub fn captures<'t>(&self, text: &'t str) -> Option<Captures<'t>> {
        self.may_fit(text)?.captures(text)
    }

    /// The text with all matches replaced.
    pub fn replace_all<'t, R: Replacer>(&self, text: &'t str, with: R) -> Cow<'t, str> {
        self.may_fit(text).map_or(Cow::Borrowed(text), |regex| regex.replace_all(text, with))
    }

    /// The first match in the text, where there is one.
    pub fn find<'t>(&self, text: &'t str) -> Option<Match<'t>> {
        self.may_fit(text)?.find(text)
    }

    /// All matches in the text, from the left, none over another.
    pub fn find_iter<'r, 't>(
        &'r self,
        text: &'t str,
    ) -> impl Iterator<Item = Match<'t>> + use<'r, 't> {
        self.may_fit(text).into_iter().flat_map(move |regex| regex.find_iter(text))
    }

    /// The parts of all matches.
    pub fn captures_iter<'r, 't>(
        &'r self,
        text: &'t str,
    ) -> impl Iterator<Item = Captures<'t>> + use<'r, 't> {
        self.may_fit(text).into_iter().flat_map(move |regex| regex.captures_iter(text))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn it_is_compiled_when_a_text_may_fit_and_fits_what_the_regex_fits() {
        static SEAT: Pattern = Pattern::new(r"(?i)no seat (?<number>\d+)");
        assert!(!SEAT.is_match("the marsh is dry"));
        assert!(SEAT.compiled.get().is_none(), "nothing was compiled for it");
        assert!(SEAT.found("No Seat at all").is_none());
        assert!(SEAT.compiled.get().is_some());
        assert_eq!(&SEAT.found("there is NO SEAT 7").expect("it fits")["number"], "7");
    }

    #[test]
    fn one_without_literals_is_compiled_at_once_and_a_flood_compiles_it_too() {
        static ANY: Pattern = Pattern::new(r"^\d+$");
        assert!(ANY.is_match("42") && !ANY.is_match("x"));
        static RARE: Pattern = Pattern::new("never there");
        (0..=ENOUGH).for_each(|_| assert!(!RARE.is_match("something else")));
        assert!(RARE.compiled.get().is_some());
    }
}
