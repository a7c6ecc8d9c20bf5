//! Layouts: which columns the lines of a source have. Found from the lines themselves ([`infer`])
//! or taught by the user.

mod infer;
mod template;
mod words;

pub use infer::infer;
pub use template::{PARTS, Part, Piece, Template, TemplateError};
pub use words::guess_parts;

use super::Prefix;
use crate::read::Signs;
use izba_model::Level;
use regex::Regex;
use regex::bytes::RegexBuilder;
use std::collections::BTreeMap;
use std::sync::Arc;

/// Bytes at the head of a line within which a moment has its first digit: names of a day and a
/// month may stand before it.
const MOMENT: usize = 24;

/// Where a layout comes from.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Origin {
    /// From so many lines.
    Inferred {
        /// Lines that it was found in.
        lines: usize,
    },
    /// From the user, under this name.
    Taught {
        /// What the user calls it.
        name: String,
    },
}

/// How the lines of a source are divided.
#[derive(Debug, Clone)]
pub struct Layout {
    /// The form of its lines.
    pub template: Template,
    /// What its words for a level mean.
    pub levels: BTreeMap<String, Level>,
    /// The level of a line that names none.
    pub level: Option<Level>,
    /// Who found it.
    pub origin: Origin,
    /// Source that it is for; `None` for all.
    pub source: Option<String>,
    /// The word of the kind of source that it is for; `None` for all.
    pub kind: Option<String>,
    /// Forms of the lines that may stand below, and belong to it.
    below: Vec<Below>,
    regex: Regex,
}

/// The form of a line that belongs to the one above.
#[derive(Debug, Clone)]
pub struct Below {
    /// Its form.
    pub template: Template,
    regex: Regex,
}

impl Below {
    /// The parts of a line, if it has this form.
    pub fn parts<'a>(&self, text: &'a str) -> Option<Parts<'a>> {
        if self.template.is_set_in() && !text.starts_with([' ', '\t']) {
            return None;
        }
        parts_of(&self.template, &self.regex, text)
    }
}

/// The named parts of a line.
fn parts_of<'a>(template: &Template, regex: &Regex, text: &'a str) -> Option<Parts<'a>> {
    let found = regex.captures(text)?;
    let part = |piece: &Piece| match piece {
        Piece::Part(part) if *part != Part::Other => {
            found.name(part.word()).map(|m| (*part, m.as_str(), m.start()))
        }
        _ => None,
    };
    Some(template.pieces.iter().filter_map(part).collect())
}

impl PartialEq for Layout {
    fn eq(&self, other: &Self) -> bool {
        let below = |l: &Layout| l.below.iter().map(|b| b.template.clone()).collect::<Vec<_>>();
        (&self.template, &self.levels, self.level, &self.source, &self.kind)
            == (&other.template, &other.levels, other.level, &other.source, &other.kind)
            && below(self) == below(other)
    }
}

impl Eq for Layout {}

/// The parts of one line, as texts with their bytes.
pub type Parts<'a> = Vec<(Part, &'a str, usize)>;

impl Layout {
    /// A layout of these columns.
    ///
    /// # Errors
    ///
    /// When its pattern would be larger than is sensible.
    pub fn new(
        template: Template,
        levels: BTreeMap<String, Level>,
        level: Option<Level>,
        origin: Origin,
    ) -> Result<Layout, TemplateError> {
        // Of two words the longer is tried first.
        let mut words: Vec<&str> = levels.keys().map(String::as_str).collect();
        words.sort_by_key(|w| std::cmp::Reverse(w.len()));
        let regex = Regex::new(&template.pattern(&words, !matches!(origin, Origin::Taught { .. })))
            .map_err(|_| TemplateError {
                at: 0,
                sentence: "the line is too long; leave out what does not matter".into(),
            })?;
        let (source, kind, below) = (None, None, Vec::new());
        Ok(Layout { template, levels, level, origin, source, kind, below, regex })
    }

    /// With lines of these forms below, each as often as it comes.
    ///
    /// # Errors
    ///
    /// When a pattern would be larger than is sensible, or no line of it names the sentence.
    pub fn with_below(mut self, forms: Vec<Template>) -> Result<Layout, TemplateError> {
        if !self.template.has(Part::Message) && !forms.iter().any(|f| f.has(Part::Message)) {
            return Err(TemplateError { at: 0, sentence: template::NO_MESSAGE.into() });
        }
        for template in forms {
            let regex = Regex::new(&template.pattern(&[], false)).map_err(|_| TemplateError {
                at: 0,
                sentence: "the line is too long; leave out what does not matter".into(),
            })?;
            self.below.push(Below { template, regex });
        }
        Ok(self)
    }

    /// Forms of the lines that may stand below.
    pub fn below(&self) -> &[Below] {
        &self.below
    }

    /// Whether the user taught it.
    pub fn is_taught(&self) -> bool {
        matches!(self.origin, Origin::Taught { .. })
    }

    /// The parts of a line, if it has this layout.
    pub fn parts<'a>(&self, text: &'a str) -> Option<Parts<'a>> {
        parts_of(&self.template, &self.regex, text)
    }

    /// The level that a line of these parts has.
    pub fn level_of(&self, parts: &Parts<'_>) -> Option<Level> {
        let word = parts.iter().find(|(part, ..)| *part == Part::Level).map(|(_, word, _)| *word);
        word.and_then(|w| self.levels.get(w).copied().or_else(|| words::abbreviated(w)))
            .or(self.level)
    }

    /// What stands before the sentence of a line, if the line has this layout and the sentence ends
    /// it.
    pub fn prefix(&self, text: &str) -> Option<Prefix> {
        if !self.template.ends_with_message() {
            return None;
        }
        // A line that begins with a moment begins with a digit or nearly so; most lines that are
        // asked about begin with words.
        let moment_first = self.template.pieces.iter().find(|p| matches!(p, Piece::Part(_)))
            == Some(&Piece::Part(Part::Time));
        if moment_first && !text.bytes().take(MOMENT).any(|b| b.is_ascii_digit()) {
            return None;
        }
        let parts = self.parts(text)?;
        let of = |part: Part| parts.iter().find(|(p, ..)| *p == part);
        let word = |part: Part| of(part).map(|(_, text, _)| (*text).to_owned());
        let line = of(Part::Line).and_then(|(_, n, _)| n.parse().ok());
        Some(Prefix {
            level: self.level_of(&parts),
            object: word(Part::Object),
            handler: word(Part::Handler),
            timed: of(Part::Time).is_some(),
            time: of(Part::Time).map(|(_, text, at)| (*at, at + text.len())),
            thread: word(Part::Thread),
            process: word(Part::Process),
            name: word(Part::Name),
            place: word(Part::Script).zip(line),
            function: word(Part::Function),
            rest_at: of(Part::Message).map_or(text.len(), |(.., at)| *at),
        })
    }

    /// Pattern of lines of this layout at which an entry may begin.
    fn signs(&self) -> Option<String> {
        let grave: Vec<&str> = self
            .levels
            .iter()
            .filter(|(_, level)| **level >= Level::Warning)
            .map(|(w, _)| w.as_str())
            .collect();
        // What is a sign wherever it stands needs no second one.
        let words: Vec<&str> = grave
            .iter()
            .copied()
            .filter(|word| self.is_taught() || !crate::read::is_sign(word))
            .collect();
        if !grave.is_empty() && words.is_empty() {
            return None;
        }
        if !words.is_empty() {
            return self.template.up_to_level(&words);
        }
        let all_grave = self.level.is_some_and(|l| l >= Level::Warning);
        (all_grave && self.is_taught()).then(|| self.template.whole())
    }
}

/// The layouts of one source, the user's first.
#[derive(Debug, Clone, Default)]
pub struct Layouts {
    all: Vec<Arc<Layout>>,
    /// Whether it matters who speaks: the user said who is theirs.
    named: bool,
    /// Lines at which an entry may begin because of them, one at a time and in a chunk.
    signs: Option<(regex::bytes::Regex, Signs)>,
}

impl Layouts {
    /// Layouts in the order in which they are tried; `named` when it matters who speaks.
    pub fn new(all: Vec<Arc<Layout>>, named: bool) -> Layouts {
        let signs = all.iter().filter_map(|l| l.signs()).collect::<Vec<_>>().join("|");
        let one = (!signs.is_empty())
            .then(|| RegexBuilder::new(&signs).unicode(false).build().ok())
            .flatten();
        Layouts { all, named, signs: one.map(|one| (one, crate::read::many(&signs))) }
    }

    /// All layouts of the source, in the order in which they are tried.
    pub fn all(&self) -> &[Arc<Layout>] {
        &self.all
    }

    /// Whether an entry may begin at this line because of them.
    pub fn may_matter(&self, text: &str) -> bool {
        self.signs.as_ref().is_some_and(|(one, _)| one.is_match(text.as_bytes()))
    }

    /// The pattern of all lines of a chunk at which an entry may begin, when they add to the common
    /// one.
    pub(crate) fn many(&self) -> Option<&Signs> {
        self.signs.as_ref().map(|(_, many)| many)
    }

    /// Who speaks in a line, by its layout; only looked for when it matters.
    pub fn speaker(&self, text: &str) -> Option<String> {
        if self.named { self.speaker_of(text) } else { None }
    }

    /// Who speaks in a line: the app, logger or tag, else the process, else the thread.
    pub fn speaker_of(&self, text: &str) -> Option<String> {
        let shape = super::split_prefix(text);
        let found = self.all.iter().find_map(|l| l.prefix(text)).unwrap_or_default();
        shape.name.or(found.name).or(found.process).or(found.thread)
    }

    /// What the user taught for a line of this form.
    pub fn taught<'a>(&self, text: &'a str) -> Option<(&Arc<Layout>, Parts<'a>)> {
        self.all.iter().filter(|l| l.is_taught()).find_map(|l| Some((l, l.parts(text)?)))
    }

    /// What stands before the sentence of a line: by what the user taught, by its shape, or by the
    /// layout that was found.
    pub fn prefix(&self, text: &str) -> Prefix {
        let of = |taught: bool| {
            self.all.iter().filter(|l| l.is_taught() == taught).find_map(|l| l.prefix(text))
        };
        if let Some(taught) = of(true) {
            return taught;
        }
        let shape = super::split_prefix(text);
        // A level that stands there as a word is surer than any guess; so is where its sentence
        // begins.
        if shape.level.is_some() {
            return shape;
        }
        of(false).unwrap_or(shape)
    }
}
