//! What a page of HTML holds that scripts ask for, and the scripts that it runs.

/// An element that has a name for scripts, that is one, or that is the first of its kind.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Element {
    /// Line of its tag, from 1.
    pub line: u32,
    /// The name of its tag, in small letters.
    pub tag: Box<str>,
    /// Its `id`, which no other element of the page has.
    pub id: Option<Box<str>>,
    /// Its `name`, which fields of forms bear.
    pub name: Option<Box<str>>,
    /// Its classes.
    pub classes: Vec<Box<str>>,
    /// The script that it is.
    pub script: Option<Script>,
}

/// A class that a style is for.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Style {
    /// Its name.
    pub class: Box<str>,
    /// Line of the rule, from 1.
    pub line: u32,
}

/// A script of a page.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Script {
    /// The address that it is loaded from; without one it stands in the page itself.
    pub from: Option<Box<str>>,
    /// Whether what it makes is its own, and it brings in what it needs (`type="module"`).
    pub module: bool,
    /// Whether it runs only once the whole page is read.
    pub deferred: bool,
}
