//! What is known of a value, and where it was written.

use izba_model::code::{At, FileFacts};
use std::rc::Rc;

/// A part of a file of data.
#[derive(Debug, Clone)]
pub(crate) struct Doc<'a> {
    pub(crate) file: &'a FileFacts,
    /// The way to it, as [`Datum::path`] writes it.
    pub(super) path: String,
    /// The record, where it is one of several of the same nature.
    pub(super) record: Option<u32>,
}

/// A value as far as it is known.
#[derive(Debug, Clone)]
pub(crate) enum What<'a> {
    /// The language's word for nothing, or what a search gives that found nothing.
    Nothing,
    /// Yes or no.
    Bool(bool),
    /// A number; none at all where a text was no number.
    Num(f64),
    /// A text.
    Text(Rc<str>),
    /// A text of which no more is known.
    AnyText,
    /// A list or table that was written out or made empty.
    Table(At<'a>),
    /// An object of a type, with the table that it began as where there is one.
    Object(At<'a>, Option<At<'a>>),
    /// A type.
    Class(At<'a>),
    /// A function.
    Func(At<'a>),
    /// What a script hands out.
    Module(&'a FileFacts),
    /// A part of a file of data.
    Doc(Doc<'a>),
    /// A file of text that was opened: its lines.
    Lines(&'a FileFacts),
    /// Several values in order, worked out.
    Items(Rc<[Val<'a>]>),
    /// An element of a page, by the call that asks for it or makes it; it may not be there.
    Element(At<'a>),
}

/// A value with the place where it was written.
#[derive(Debug, Clone)]
pub(crate) struct Val<'a> {
    pub(crate) what: What<'a>,
    /// Where it was written, or where it began to be nothing.
    pub(crate) file: &'a FileFacts,
    /// Its line, from 1.
    pub(crate) line: u32,
    /// What was looked for, where this is nothing because a search found nothing.
    pub(crate) missed: Option<Rc<Missed<'a>>>,
    /// Whether it is only what stood there first, before others came.
    pub(crate) first: bool,
    /// As it was written, before anything was made of it.
    pub(crate) written: Option<Rc<str>>,
    /// The call that made it of what was written.
    pub(crate) by: Option<(&'a FileFacts, At<'a>)>,
    /// Where it was handed over first, to a function or a new object.
    pub(crate) handed: Option<(&'a FileFacts, u32)>,
    /// Where it was kept last, in a field.
    pub(crate) kept: Option<(&'a FileFacts, u32)>,
}

/// A search that found nothing.
#[derive(Debug)]
pub(crate) struct Missed<'a> {
    /// What was searched.
    pub(crate) owner: Val<'a>,
    /// What was looked for.
    pub(crate) key: Val<'a>,
    /// What is there, each with where it was put in.
    pub(crate) offered: Vec<Val<'a>>,
    /// Where it was looked up.
    pub(crate) site: (&'a FileFacts, At<'a>),
}

/// All values that an expression may have.
#[derive(Debug, Clone, Default)]
pub(crate) struct Vals<'a> {
    pub(crate) list: Vec<Val<'a>>,
    /// Whether there may be others.
    pub(crate) lost: bool,
}

/// More values than this are no longer told apart.
const MOST: usize = 120;

impl<'a> Val<'a> {
    pub(crate) fn new(what: What<'a>, file: &'a FileFacts, line: u32) -> Val<'a> {
        let written = match &what {
            What::Text(text) => Some(text.clone()),
            _ => None,
        };
        Val {
            what,
            file,
            line,
            missed: None,
            first: false,
            written,
            by: None,
            handed: None,
            kept: None,
        }
    }

    pub(crate) fn text(text: &str, file: &'a FileFacts, line: u32) -> Val<'a> {
        Val::new(What::Text(text.into()), file, line)
    }

    /// Another value that was made of this one.
    pub(crate) fn made(&self, what: What<'a>) -> Val<'a> {
        Val { what, ..self.clone() }
    }

    pub(crate) fn is_nothing(&self) -> bool {
        matches!(self.what, What::Nothing)
    }

    /// As a key or a word: a text, or a number as it is written.
    pub(crate) fn word(&self) -> Option<String> {
        match &self.what {
            What::Text(text) => Some(text.to_string()),
            What::Num(number) => Some(number.to_string()),
            What::Bool(yes) => Some(yes.to_string()),
            _ => None,
        }
    }

    /// As a number, also where it is written as a text.
    pub(crate) fn number(&self) -> Option<f64> {
        match &self.what {
            What::Num(number) => Some(*number),
            _ => None,
        }
    }

    /// Whether two values are the same one, as far as is known, written at the same place.
    pub(crate) fn is(&self, other: &Val<'a>) -> bool {
        self.line == other.line
            && self.file.path == other.file.path
            && self.missed.is_some() == other.missed.is_some()
            && self.handed.map(|(_, line)| line) == other.handed.map(|(_, line)| line)
            && match (&self.what, &other.what) {
                (What::Table(a), What::Table(b))
                | (What::Class(a), What::Class(b))
                | (What::Func(a), What::Func(b))
                | (What::Element(a), What::Element(b))
                | (What::Object(a, _), What::Object(b, _)) => a == b,
                (What::Nothing, What::Nothing) | (What::AnyText, What::AnyText) => true,
                (What::Doc(a), What::Doc(b)) => a == b,
                (What::Items(a), What::Items(b)) => {
                    a.len() == b.len() && a.iter().zip(b.iter()).all(|(a, b)| a.is(b))
                }
                _ => self.word().is_some() && self.word() == other.word(),
            }
    }
}

impl<'a> Vals<'a> {
    pub(crate) fn one(val: Val<'a>) -> Vals<'a> {
        Vals { list: vec![val], lost: false }
    }

    /// Nothing is known.
    pub(crate) fn lost() -> Vals<'a> {
        Vals { list: Vec::new(), lost: true }
    }

    pub(crate) fn push(&mut self, val: Val<'a>) {
        if self.list.iter().any(|known| known.is(&val)) {
            return;
        }
        if self.list.len() >= MOST {
            self.lost = true;
        } else {
            self.list.push(val);
        }
    }

    pub(crate) fn join(&mut self, other: Vals<'a>) {
        self.lost |= other.lost;
        other.list.into_iter().for_each(|val| self.push(val));
    }

    /// What each of them becomes.
    pub(crate) fn each(self, mut of: impl FnMut(Val<'a>) -> Vals<'a>) -> Vals<'a> {
        let mut out = Vals { list: Vec::new(), lost: self.lost };
        self.list.into_iter().for_each(|val| out.join(of(val)));
        out
    }

    /// The same, made of what was written by a call.
    pub(crate) fn by(mut self, file: &'a FileFacts, call: At<'a>) -> Vals<'a> {
        self.list.iter_mut().for_each(|v| v.by = Some((file, call)));
        self
    }

    /// The same, handed over where another one was.
    pub(crate) fn handed_as(mut self, other: &Val<'a>) -> Vals<'a> {
        self.list.iter_mut().for_each(|v| v.handed = v.handed.or(other.handed));
        self
    }

    /// As [`Vals::each`], where each becomes one other or none is known.
    pub(crate) fn map(self, mut of: impl FnMut(&Val<'a>) -> Option<What<'a>>) -> Vals<'a> {
        self.each(|val| match of(&val) {
            Some(what) => Vals::one(val.made(what)),
            None => Vals::lost(),
        })
    }
}
