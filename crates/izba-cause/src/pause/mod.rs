//! What a paused program tells: which expressions of a line are worth their value, what the values
//! say, what that changes about the reasons, and where a breakpoint stands after edits. How a
//! program is paused is none of this crate's business.

mod breakpoint;
mod remark;
mod spoken;
mod weigh;

pub use breakpoint::Breakpoint;
pub use izba_model::spoken::{Part, Seen, Spoken};
#[cfg(test)]
pub(crate) use remark::KINDS;
pub use remark::{Remark, Shows, remarks};
pub use spoken::{before_fault, first_line_of_handler, spoken};
pub use weigh::weigh;

use izba_model::code::Language;
use std::sync::Arc;

/// What was seen in one line when the program stopped there.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Witness {
    /// Path relative to the project.
    pub file: Arc<str>,
    /// Line, from 1.
    pub line: u32,
    /// The line's text, so that it is known after edits.
    pub text: String,
    /// Whether it stopped because of an error there.
    pub at_error: bool,
    /// The expressions, and what each was; `None` where it could not be told.
    pub values: Vec<(Spoken, Option<Seen>)>,
}

/// Whether a shown value is the language's nothing.
pub fn is_nothing(language: Language, shown: &str) -> bool {
    language.nothing.iter().any(|word| word == shown.trim())
}

/// How a language asks whether an expression is nothing; `None` where we don't know.
pub fn nothing_test(language: Language, expression: &str) -> Option<String> {
    language.nothing_test.as_ref().map(|test| test.replace("{}", expression))
}

/// How a language asks for the length of a list; `None` where we don't know.
pub fn length_of(language: Language, list: &str) -> Option<String> {
    language.length.as_ref().map(|asked| asked.replace("{}", list))
}
