//! One error to explain, and what Izba says of it.

use izba_model::claim::{Saying, Slot};
use izba_model::excerpt::{find_word, receiver_of};
use izba_model::sentence::Sentence;
use izba_model::{Entry, Language, say, sayings};
use std::sync::Arc;

sayings! {
    "explain.place", Any, "../../words/explain/place.toml";
    AT_LINE = "at-line",
    IN_FILE = "in-file",
    OUTSIDE = "outside",
    NO_LINE = "no-line",
    ONE_OF = "one-of",
    READ_AT = "read-at",
    pub(super) MEANT = "meant",
}

/// What Izba says of one group.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Explanation {
    /// The sentence on top of the screen: what to fix, and where.
    pub headline: Sentence,
    /// The same for a row of the list, without its place.
    pub short: Sentence,
    /// What stands under the token.
    pub note: Sentence,
    /// What it means here; a paragraph each.
    pub plain: Vec<Sentence>,
    /// What is only usual in such cases, to be said while nothing likely was found; a paragraph
    /// each.
    pub advice: Vec<Sentence>,
    /// Bytes of the line at fault that the note is about, half open.
    pub token: Option<(usize, usize)>,
    /// Where to look, where that is known to be another place than the one that the console names:
    /// path relative to the project, and line from 1.
    pub slip: Option<(Arc<str>, u32)>,
}

impl Explanation {
    /// An explanation with its first three sentences; what it means and what helps come after.
    pub(super) fn new(headline: Sentence, short: &Saying, note: &Saying) -> Explanation {
        Explanation {
            headline: headline.capital(),
            short: short.sentence(),
            note: note.sentence(),
            plain: Vec::new(),
            advice: Vec::new(),
            token: None,
            slip: None,
        }
    }

    /// Adds a paragraph about what it means.
    pub(super) fn means(mut self, says: &Saying) -> Explanation {
        self.plain.push(says.sentence().capital());
        self
    }

    /// Adds a paragraph about what helps as a rule.
    pub(super) fn advises(mut self, says: &Saying) -> Explanation {
        self.advice.push(says.sentence().capital());
        self
    }

    /// Marks the part of the line that the note is about.
    pub(super) fn at(mut self, token: Option<(usize, usize)>) -> Explanation {
        self.token = token;
        self
    }

    /// All its paragraphs.
    pub fn paragraphs(&self) -> impl Iterator<Item = &Sentence> {
        self.plain.iter().chain(&self.advice)
    }
}

/// One error to explain, with all that may be said of it.
#[derive(Debug, Clone, Copy)]
pub struct Case<'a> {
    /// The placed entry.
    pub entry: &'a Entry,
}

impl<'a> Case<'a> {
    /// A name or number of the sentence.
    pub fn fact(&self, name: &str) -> Option<&'a str> {
        self.entry.facts.get(name).map(String::as_str).filter(|f| !f.is_empty())
    }

    /// The text of the line at fault, without its indentation; empty where it is not known.
    pub fn line(&self) -> &'a str {
        self.entry.line_text.as_deref().unwrap_or("")
    }

    /// File name (without folders) of the place.
    pub fn file_name(&self) -> Option<&'a str> {
        let file = self.entry.place.as_ref().map(|p| p.file.as_ref())?;
        Some(file.rsplit('/').next().unwrap_or(file))
    }

    /// The language's word for a value that is not there.
    pub fn nothing(&self) -> &'static str {
        let said = &self.entry.root_message;
        self.language().map_or("null", |l| l.known().nothing_in(said))
    }

    /// The language, as far as the file's ending and the reader tell it.
    pub fn language(&self) -> Option<Language> {
        let of_file = self.entry.place.as_ref().and_then(|p| Language::of(&p.file));
        of_file.filter(|l| l.is_code()).or_else(|| Language::of_reader(&self.entry.report.reader))
    }

    /// People's name for the language.
    pub fn language_name(&self) -> &'static str {
        self.language().map_or("the program", |l| &l.known().name)
    }

    /// Where `name` stands in the line, near the printed column if there is one.
    pub fn word(&self, name: &str) -> Option<(usize, usize)> {
        let near = self.entry.token.map(|(start, _)| start);
        let last = name.rsplit(['.', ':']).next().unwrap_or(name);
        find_word(self.line(), name, near).or_else(|| find_word(self.line(), last, near))
    }

    /// The name that stands at the printed column.
    pub fn called_at_column(&self) -> Option<&'a str> {
        let (start, _) = self.entry.token?;
        let line = self.line();
        let word = |c: char| c.is_alphanumeric() || c == '_' || c == '$';
        let begin = start + line.get(start..)?.find(word)?;
        let end = begin + line[begin..].find(|c| !word(c)).unwrap_or(line.len() - begin);
        (end > begin).then(|| &line[begin..end])
    }

    /// The `number`th argument (from 1) that the line hands to `callee`.
    pub fn argument(&self, callee: &str, number: usize) -> Option<(usize, usize)> {
        let line = self.line();
        let open = line.find(&format!("{callee}("))? + callee.len() + 1;
        let (mut depth, mut from, mut count) = (0usize, open, 1);
        for (at, c) in line[open..].char_indices().map(|(at, c)| (open + at, c)) {
            let ends = depth == 0 && matches!(c, ',' | ')' | ']' | '}');
            if ends && count == number {
                let text = &line[from..at];
                let start = from + (text.len() - text.trim_start().len());
                return (!text.trim().is_empty()).then(|| (start, start + text.trim().len()));
            }
            match c {
                '(' | '[' | '{' => depth += 1,
                ')' | ']' | '}' if depth > 0 => depth -= 1,
                ')' | ']' | '}' => return None,
                ',' if depth == 0 => (count, from) = (count + 1, at + 1),
                _ => {}
            }
        }
        None
    }

    /// The expression that `member` is asked of.
    pub fn receiver(&self, member: &str) -> Option<(usize, usize)> {
        receiver_of(self.line(), member, self.entry.token.map(|(start, _)| start))
    }

    /// Line of the place, from 1.
    pub fn line_number(&self) -> Option<u32> {
        self.entry.place.as_ref().and_then(|p| p.line)
    }

    /// The language, as a filling of a sentence: it is no name of the project.
    pub fn in_language(&self) -> Slot {
        Slot::words(self.language_name())
    }

    /// What happened, as a headline with its place, or with what is known instead.
    pub fn at_place(&self, what: &Saying) -> Sentence {
        let file = self.file_name().map(Slot::place);
        let says = match (file, self.line_number()) {
            (Some(file), Some(line)) => say!(AT_LINE, what, line, file),
            (Some(file), None) => say!(IN_FILE, what, file),
            _ => match self.entry.may_be.as_slice() {
                // Named, and no file of the project; or nothing is named at all.
                [] if self.entry.report.head.is_some() || !self.entry.report.frames.is_empty() => {
                    say!(OUTSIDE, what)
                }
                [] => say!(NO_LINE, what),
                [first, ..] => {
                    let name = first.file.rsplit('/').next().unwrap_or(&first.file);
                    let count = self.entry.may_be.len();
                    say!(ONE_OF, what, count, file = Slot::place(name))
                }
            },
        };
        says.sentence()
    }

    /// What happened, as a headline about something that is read at its place.
    pub fn read_at(&self, what: &Saying) -> Sentence {
        match (self.file_name().map(Slot::place), self.line_number()) {
            (Some(file), Some(line)) => say!(READ_AT, what, file, line).sentence(),
            _ => self.at_place(what),
        }
    }
}
