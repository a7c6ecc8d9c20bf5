//! A sentence whose names and places are told apart from its plain words, so that a screen can
//! colour them.

use crate::text::width_cells;
use std::fmt;

/// What a part of a sentence is.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Tone {
    /// Plain words.
    Text,
    /// A name at fault.
    Name,
    /// A script.
    Place,
}

/// One part of a sentence.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Part {
    /// Its words, not yet made safe.
    pub text: String,
    /// What it is.
    pub tone: Tone,
}

/// A sentence in parts, so that names can be told apart from words.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Sentence {
    /// The parts in order.
    pub parts: Vec<Part>,
}

impl Sentence {
    /// A sentence that begins with a name.
    pub fn from_name(name: &str) -> Sentence {
        Sentence::default().add(name, Tone::Name)
    }

    /// A sentence that begins with plain words.
    pub fn from_text(text: &str) -> Sentence {
        Sentence::default().add(text, Tone::Text)
    }

    /// Adds words that are no name.
    pub fn text(self, text: &str) -> Sentence {
        self.add(text, Tone::Text)
    }

    /// Adds a name at fault.
    pub fn name(self, text: &str) -> Sentence {
        self.add(text, Tone::Name)
    }

    /// Adds the name of a script or folder.
    pub fn place(self, text: &str) -> Sentence {
        self.add(text, Tone::Place)
    }

    fn add(mut self, text: &str, tone: Tone) -> Sentence {
        self.parts.push(Part { text: text.to_owned(), tone });
        self
    }

    /// Adds a part at the end; plain words join those before them.
    pub(crate) fn push(&mut self, text: &str, tone: Tone) {
        match self.parts.last_mut() {
            _ if text.is_empty() => {}
            Some(last) if last.tone == Tone::Text && tone == Tone::Text => last.text.push_str(text),
            _ => self.parts.push(Part { text: text.to_owned(), tone }),
        }
    }
}

impl Sentence {
    /// The sentence with a capital letter, where it begins with plain words.
    pub fn capital(mut self) -> Sentence {
        if let Some(part) = self.parts.first_mut().filter(|p| p.tone == Tone::Text) {
            let mut chars = part.text.chars();
            if let Some(first) = chars.next() {
                part.text = first.to_uppercase().chain(chars).collect();
            }
        }
        self
    }

    /// The sentence in so many cells at most, cut behind a word, with an ellipsis where something was
    /// left out.
    pub fn fitting(self, cells: usize) -> Sentence {
        if width_cells(&self.bare()) <= cells {
            return self;
        }
        let mut room = cells.saturating_sub(1);
        let mut fit = Sentence::default();
        for part in self.parts {
            let width = width_cells(&part.text);
            if width <= room {
                room -= width;
                fit.parts.push(part);
                continue;
            }
            let head = crate::text::fit(&part.text, room.max(1));
            let head = head.trim_end_matches('…');
            let end = match part.tone {
                Tone::Text => head.rfind(' ').unwrap_or(0),
                // Half a name is none.
                Tone::Name | Tone::Place => 0,
            };
            fit.push(head[..end].trim_end_matches([',', ';', ' ']), part.tone);
            break;
        }
        // A blank before a name that is left out goes with it.
        if let Some(last) = fit.parts.last_mut().filter(|p| p.tone == Tone::Text) {
            last.text.truncate(last.text.trim_end().len());
        }
        fit.push("…", Tone::Text);
        fit
    }

    /// Its words without a mark round any name, for searching.
    pub fn bare(&self) -> String {
        self.parts.iter().map(|part| part.text.as_str()).collect()
    }
}

impl fmt::Display for Sentence {
    /// The sentence as text: names stand in backticks, or nobody could tell them from words.
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        self.parts.iter().try_for_each(|part| match part.tone {
            Tone::Name if !part.text.contains('`') => write!(f, "`{}`", part.text),
            _ => f.write_str(&part.text),
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_long_sentence_ends_behind_a_word_and_never_within_a_name() {
        let said = Sentence::from_text("there is no key ").name("weight of the boat").text(" here");
        assert_eq!(said.clone().fitting(60), said);
        assert_eq!(said.clone().fitting(34).to_string(), "there is no key…");
        let said = said.text(", and nobody knows why it is not there");
        assert_eq!(
            said.clone().fitting(60).bare(),
            "there is no key weight of the boat here, and nobody knows…"
        );
        for cells in 0..90 {
            assert!(width_cells(&said.clone().fitting(cells).bare()) <= cells.max(1), "{cells}");
        }
    }

    #[test]
    fn names_can_be_told_from_words() {
        let said =
            Sentence::from_text("there is no key ").name("weight").text(" in ").place("a.py");
        assert_eq!(said.to_string(), "there is no key `weight` in a.py");
        assert_eq!(said.bare(), "there is no key weight in a.py");
        assert_eq!(said.capital().bare(), "There is no key weight in a.py");
        // A name keeps its own letters, and its own backticks.
        assert_eq!(Sentence::from_name("weight").capital().bare(), "weight");
        assert_eq!(Sentence::from_name("`oar`").to_string(), "`oar`");
        assert_eq!(Sentence::default().capital().to_string(), "");
    }
}
