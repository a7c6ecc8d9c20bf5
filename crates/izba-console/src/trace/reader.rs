//! What a reader is: it looks at a line and may begin a draft, which takes the lines that follow.

use crate::read::{Layouts, Prefix};
use izba_model::Report;
use izba_model::project::Project;

/// In which order the steps of a path are printed.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Order {
    /// The newest first.
    InnermostFirst,
    /// As Python does.
    OutermostFirst,
}

/// One form of trace that Izba understands.
#[derive(Debug)]
pub struct Reader {
    /// The file's name, with `-`.
    pub id: &'static str,
    /// What people call it.
    pub name: &'static str,
    /// Begins an entry at this line, if it is one.
    pub begins: fn(&Start<'_>) -> Option<Begin>,
    /// A line that this reader is surest of, with what a guard test needs around it.
    pub sample: &'static str,
}

/// Reads a text of several lines as a console of its own: the first trace in it.
pub type Inside = fn(&str, &Project) -> Option<Report>;

/// Begins an entry at a text inside a line, which has these columns, with the surest reader.
pub type Within = fn(&str, &Prefix, &Start<'_>) -> Option<Begin>;

/// A line at which an entry may begin.
#[derive(Debug, Clone, Copy)]
pub struct Start<'a> {
    /// The whole line, decoded.
    pub text: &'a str,
    /// What stands before its sentence.
    pub prefix: &'a Prefix,
    /// The line before it in the same stream, when that belongs to no entry.
    pub before: Option<&'a str>,
    /// The own file whose name stood on a line of its own, over what is listed below.
    pub heading: Option<&'a str>,
    /// The project, to tell own places.
    pub project: &'a Project,
    /// The layouts of the source's lines.
    pub layouts: &'a Layouts,
    /// Reads a text that stands inside the line as a console of its own.
    pub inside: Inside,
    /// Begins an entry at a text inside the line.
    pub within: Within,
}

impl<'a> Start<'a> {
    /// The line without its prefix.
    pub fn rest(&self) -> &'a str {
        &self.text[self.prefix.rest_at..]
    }

    /// What a text inside the line is read with.
    pub(crate) fn inner(&self) -> Inner<'a> {
        Inner { project: self.project, inside: self.inside }
    }
}

/// What a text inside a line is read with.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Inner<'a> {
    pub(crate) project: &'a Project,
    pub(crate) inside: Inside,
}

impl Inner<'_> {
    /// The first trace in the text.
    pub(crate) fn read(self, text: &str) -> Option<Report> {
        (self.inside)(text, self.project)
    }
}

/// An entry that has begun.
#[derive(Debug)]
pub struct Begin {
    /// How sure the reader is, 0 to 100.
    pub confidence: u8,
    /// What it has so far.
    pub draft: Box<dyn Draft>,
    /// Whether the line before belongs to the entry as well.
    pub takes_before: bool,
    /// Whether this is an exception that may stand under a log record and then be one entry with
    /// it.
    pub joins_record: bool,
    /// Whether the line says nothing by itself, as a ruler does: a reader that knows one of the
    /// next has the entry.
    pub yields: bool,
}

impl Begin {
    pub(crate) fn new(confidence: u8, draft: impl Draft + 'static) -> Option<Begin> {
        Some(Begin {
            confidence,
            draft: Box::new(draft),
            takes_before: false,
            joins_record: false,
            yields: false,
        })
    }
}

/// What a draft does with a line.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Take {
    /// The line belongs to the entry.
    Took,
    /// The line belongs to it if one of the next does; else it is looked at anew.
    Held,
    /// The line is not of this entry, which ends before it.
    Refused,
}

/// An entry under way, which takes the lines that belong to it.
pub trait Draft: std::fmt::Debug + Send {
    /// Looks at the next line of the stream.
    fn take(&mut self, text: &str, project: &Project) -> Take;
    /// What is understood so far; `None` when it turns out to be no error at all.
    fn report(&self) -> Option<Report>;
}

/// More steps than this are counted by nobody; a deep recursion says the same thing again and
/// again.
pub(crate) const FRAME_CAP: usize = 2_000;
