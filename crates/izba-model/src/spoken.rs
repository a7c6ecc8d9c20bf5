//! Expressions of a line whose values a paused program is asked for, and what it shows.

/// What an expression is to the others.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Part {
    /// A name or field.
    Value,
    /// An entry of a list: which of the expressions are the list and the index.
    Entry {
        /// Where the list stands among the expressions.
        list: usize,
        /// Where the index stands.
        index: usize,
    },
    /// The length of a list that stands among the expressions; not written in the line.
    Length {
        /// Where the list stands.
        of: usize,
    },
}

/// One expression to be asked for.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Spoken {
    /// As the program's language writes it.
    pub text: String,
    /// The line in which it stands, from 1; above the one asked for where a variable was given its
    /// value.
    pub line: u32,
    /// What it is.
    pub part: Part,
    /// Whether something is asked of it there: a field, an entry, a call, a calculation.
    pub asked: bool,
}

/// A value as a paused program shows it.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Seen {
    /// What is shown of it.
    pub shown: String,
    /// The name of its type, where one is told.
    pub kind: Option<String>,
    /// How many entries it holds, where that is told.
    pub entries: Option<u64>,
    /// How many named fields it holds, where that is told.
    pub fields: Option<u64>,
}
