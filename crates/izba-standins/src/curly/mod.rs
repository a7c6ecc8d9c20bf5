//! A small compiler and machine for the languages of the demo that cannot be embedded: the parts of
//! Java, C# and Kotlin that a beginner's classes use. It reads real sources, says what the
//! languages' own compilers and machines say, and knows no fault: what is wrong in a source shows
//! because it is wrong.
//!
//! Written by hand rather than on top of a grammar: what is wanted is not a tree but what a
//! compiler says, at its place.

mod absent;
mod check;
mod library;

mod parse;
mod run;
mod token;
mod tree;
mod value;

pub use check::check;
pub use parse::parse;
pub use run::Machine;
pub use tree::{Class, Type};
pub use value::{Frame, Raised, Value};

/// The languages with curly brackets that the stand-ins run.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Language {
    /// Java.
    Java,
    /// C#.
    CSharp,
    /// Kotlin.
    Kotlin,
}

/// What a compiler says of a source.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Problem {
    /// The file as its name was given.
    pub file: String,
    /// Line, from 1.
    pub line: usize,
    /// Column, from 1, in characters.
    pub column: usize,
    /// Whether it is only a warning.
    pub warning: bool,
    /// The code, where the language has codes.
    pub code: &'static str,
    /// The sentence.
    pub message: String,
}

/// A place in a source: line and column, from 1.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Spot {
    /// Line.
    pub line: usize,
    /// Column in characters.
    pub column: usize,
}

impl Spot {
    fn problem(self, file: &str, code: &'static str, message: String) -> Problem {
        Problem {
            file: file.into(),
            line: self.line,
            column: self.column,
            warning: false,
            code,
            message,
        }
    }
}

#[cfg(test)]
mod tests;
