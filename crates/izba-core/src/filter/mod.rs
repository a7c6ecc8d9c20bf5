//! The filter phrase: words side by side all have to hold and bind tighter than `or`; `not` and
//! round brackets do what they say.
//!
//! A word that is not reserved, or a quoted text, is looked for in the text, whatever its case;
//! `/…/` is a regular expression. The same phrase chooses groups, lines and runs, on the screen and
//! on the command line. What is reserved stands in [`WORDS`].

mod complete;
mod fits;
mod parse;

pub use complete::{Offer, offers};
pub use fits::{Around, LineFacts};
pub use parse::Problem;

use crate::group::State;
use izba_model::Level;
use regex::Regex;

/// The reserved words, each with what it means.
pub const WORDS: &[(&str, &str)] = &[
    ("and", "both; the same as words side by side"),
    ("by", "said by an app, process, thread or logger"),
    ("debug", "of this level; debug+ or worse"),
    ("error", "of this level; error+ or worse"),
    ("family", "of a family of errors, such as value-not-there"),
    ("fatal", "of this level"),
    ("fixed", "called fixed by you"),
    ("from", "from a source"),
    (
        "in",
        "in a script, a folder, or a pattern such as scripts/*.lua; a line or lines may \
            follow, such as 40-60",
    ),
    ("info", "of this level; info+ or worse"),
    ("kind", "of the kind that the language names"),
    ("last", "within the last time, such as 30s, 5m or 1h"),
    ("muted", "set aside by you"),
    ("new", "first met in this run"),
    ("back", "called fixed, or silent through a run, and here again"),
    ("not", "what comes next does not hold"),
    ("on", "on an object"),
    ("or", "one of both"),
    ("outside", "not in your own code"),
    ("own", "in your own code"),
    ("quiet", "met before, not in this run so far"),
    ("run", "met in the run of this number"),
    ("seen", "seen so many times, such as 10+"),
    ("since", "since a time of day, such as 14:02"),
    ("still", "met before, and in this run"),
    ("warning", "of this level; warning+ or worse"),
];

/// A filter phrase that was understood.
#[derive(Debug, Clone)]
pub struct Phrase {
    text: String,
    term: Term,
}

impl PartialEq for Phrase {
    fn eq(&self, other: &Self) -> bool {
        self.text == other.text
    }
}

/// What has to hold.
#[derive(Debug, Clone)]
pub(crate) enum Term {
    All(Vec<Term>),
    Any(Vec<Term>),
    Not(Box<Term>),
    /// In the text, whatever its case.
    Text(String, Regex),
    /// The regular expression as it was typed.
    Pattern(Regex),
    Level(Level, bool),
    In(Names, Option<(u32, u32)>),
    On(Names),
    By(Names),
    From(Names),
    Kind(Names),
    Family(Names),
    /// At least, and at most where no `+` stands.
    Seen(u64, Option<u64>),
    Last(u64),
    /// Seconds since midnight.
    Since(u32),
    Run(u32),
    Own,
    Outside,
    State(State),
    Fixed,
    Muted,
}

/// A name as it was typed, perhaps with `*` for anything.
#[derive(Debug, Clone)]
pub(crate) struct Names {
    text: String,
    pattern: Regex,
}

impl Phrase {
    /// Understands a phrase.
    ///
    /// # Errors
    ///
    /// The first mistake in it: where it stands, and what was expected there.
    pub fn parse(text: &str) -> Result<Phrase, Problem> {
        Ok(Phrase { text: text.to_owned(), term: parse::parse(text)? })
    }

    /// As it was typed.
    pub fn text(&self) -> &str {
        &self.text
    }

    /// Texts that whatever fits has to hold, in lower case: for a quick look before a thorough one.
    pub fn needs(&self) -> Vec<&str> {
        fn collect<'a>(term: &'a Term, out: &mut Vec<&'a str>) {
            match term {
                Term::All(all) => all.iter().for_each(|t| collect(t, out)),
                Term::Text(text, _) => out.push(text),
                _ => {}
            }
        }
        let mut out = Vec::new();
        collect(&self.term, &mut out);
        out
    }

    /// The texts and patterns that are looked for, to be marked where they stand.
    pub fn marks<'a>(&'a self, text: &'a str) -> Vec<(usize, usize)> {
        fn collect(term: &Term, text: &str, out: &mut Vec<(usize, usize)>) {
            match term {
                Term::All(all) | Term::Any(all) => all.iter().for_each(|t| collect(t, text, out)),
                Term::Text(_, regex) | Term::Pattern(regex) => out.extend(
                    regex
                        .find_iter(text)
                        .take(20)
                        .filter(|m| !m.is_empty())
                        .map(|m| (m.start(), m.end())),
                ),
                _ => {}
            }
        }
        let mut out = Vec::new();
        collect(&self.term, text, &mut out);
        out.sort_unstable();
        out
    }

    /// Whether only the text of a line matters, nothing that is known of it.
    pub fn is_text(&self) -> bool {
        fn only(term: &Term) -> bool {
            match term {
                Term::All(all) | Term::Any(all) => all.iter().all(only),
                Term::Not(inner) => only(inner),
                Term::Text(..) | Term::Pattern(_) => true,
                _ => false,
            }
        }
        only(&self.term)
    }
}
