//! Readers: which lines belong together as one entry, and what they say. One file for each form of
//! trace.
//!
//! A reader looks at a line and may begin a [`Draft`]; the draft takes the lines that follow until
//! one is not its own. A new language is one file here and one line in [`READERS`].

mod assembler;
mod at_frames;
mod boxed;
mod diagnostic;
mod dotnet;
mod general;
mod go;
mod javascript;
mod jvm;
mod lanes;
mod lua;
mod native;
mod perl;
mod php;
mod python;
mod python_group;
mod records;
mod ruby;
mod rust;
mod taught;

pub use assembler::{Assembled, Assembler};
pub use lanes::Lanes;

use crate::read::{Layouts, Prefix};
use izba_model::project::Project;
use izba_model::{Report, StackFrame};

/// All readers, by id. The most confident one reads a line, so their order means nothing.
pub static READERS: &[&Reader] = &[
    &at_frames::READER,
    &boxed::READER,
    &diagnostic::READER,
    &general::READER,
    &go::READER,
    &javascript::READER,
    &lua::READER,
    &native::READER,
    &perl::READER,
    &php::READER,
    &python::READER,
    &python_group::READER,
    &records::READER,
    &ruby::READER,
    &rust::READER,
    &taught::READER,
];

/// Forms of steps that begin with `at`, strictest first: the first that reads a step has it.
static AT_FORMS: &[&at_frames::AtForm] = &[&jvm::FORM, &dotnet::FORM, &javascript::FORM];

/// In which order the steps of a path are printed.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Order {
    /// The newest first.
    InnermostFirst,
    /// As Python does.
    OutermostFirst,
}

/// Reads one line as a step of a path, in any of the forms that are known; no step is made out of a
/// sentence.
pub fn printed_step(text: &str) -> Option<(StackFrame, Order)> {
    if let Some(frame) = python::step(text) {
        return Some((frame, Order::OutermostFirst));
    }
    // What was made safe to be shown has blanks for its tab.
    let tabbed = || text.contains(": in ").then(|| format!("\t{}", text.trim_start()));
    let plain = at_frames::step(text)
        .or_else(|| lua::step(&tabbed()?))
        .or_else(|| general::indented_step(text))?;
    Some((plain, Order::InnermostFirst))
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

/// A line at which an entry may begin.
#[derive(Debug, Clone, Copy)]
pub struct Start<'a> {
    /// The whole line, decoded.
    pub text: &'a str,
    /// What stands before its sentence.
    pub prefix: &'a Prefix,
    /// The line before it in the same stream, when that belongs to no entry.
    pub before: Option<&'a str>,
    /// The project, to tell own places.
    pub project: &'a Project,
    /// The layouts of the source's lines.
    pub layouts: &'a Layouts,
}

impl<'a> Start<'a> {
    /// The line without its prefix.
    pub fn rest(&self) -> &'a str {
        &self.text[self.prefix.rest_at..]
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
}

impl Begin {
    fn new(confidence: u8, draft: impl Draft + 'static) -> Option<Begin> {
        Some(Begin { confidence, draft: Box::new(draft), takes_before: false, joins_record: false })
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

/// An entry under way.
pub trait Draft: std::fmt::Debug + Send {
    /// Looks at the next line of the stream.
    fn take(&mut self, text: &str, project: &Project) -> Take;
    /// What is understood so far; `None` when it turns out to be no error at all.
    fn report(&self) -> Option<Report>;
}

/// More steps than this are counted by nobody; a deep recursion says the same thing again and
/// again.
const FRAME_CAP: usize = 2_000;

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_table_is_sorted_and_each_reader_is_surest_of_its_sample() {
        assert!(READERS.is_sorted_by_key(|r| r.id));
        let project = Project::default();
        for reader in READERS.iter().filter(|r| !r.sample.is_empty()) {
            let prefix = crate::read::split_prefix(reader.sample);
            let start = Start {
                text: reader.sample,
                prefix: &prefix,
                before: None,
                project: &project,
                layouts: &Layouts::default(),
            };
            let surest = READERS
                .iter()
                .filter_map(|r| Some((r.id, (r.begins)(&start)?.confidence)))
                .max_by_key(|(_, sure)| *sure);
            assert_eq!(surest.map(|(id, _)| id), Some(reader.id), "{}", reader.sample);
        }
    }
}
