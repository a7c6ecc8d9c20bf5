//! What a data file holds: keys and values with their lines, whatever its format.

/// What a datum is to its file.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Role {
    /// A name under which something stands: a key, the name of an element or attribute, a section.
    Key,
    /// Something that stands there.
    Value,
}

/// One key or value of a data file.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Datum {
    /// Key or value.
    pub role: Role,
    /// What is written, without quotes.
    pub text: Box<str>,
    /// Line, from 1.
    pub line: u32,
    /// The way to it without numbers: `hives/queen`; of a table of columns, the column's name or
    /// number. Values that stand at the same path are of the same nature.
    pub path: Box<str>,
    /// Which record or element of its list it belongs to: the innermost, numbered through the file in
    /// the order in which they begin.
    pub record: u32,
}
