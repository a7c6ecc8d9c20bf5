//! The filter phrase: words side by side all have to hold and bind tighter than `or`; `not` and
//! round brackets do what they say.
//!
//! A word that is not reserved, or a quoted text, is looked for in the text, whatever its case;
//! `/…/` is a regular expression. The same phrase chooses groups, lines and runs, on the screen and
//! on the command line. What is reserved stands in [`WORDS`].

mod parse;
mod term;

pub use parse::Problem;
pub(crate) use parse::{What, is_reserved, tokens};
pub(crate) use term::Term;
pub use term::WORDS;

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

impl Phrase {
    /// Understands a phrase.
    ///
    /// # Errors
    ///
    /// The first mistake in it: where it stands, and what was expected there.
    pub fn parse(text: &str) -> Result<Phrase, Problem> {
        Ok(Phrase { text: text.to_owned(), term: parse::parse(text)? })
    }

    /// What has to hold.
    pub(crate) fn term(&self) -> &Term {
        &self.term
    }

    /// The phrase as the user typed it.
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
