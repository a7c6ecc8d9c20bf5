//! What a paused program tells: which expressions of a line are worth their value, what the values
//! say, what that changes about the reasons, and where a breakpoint stands after edits. How a
//! program is paused is none of this crate's business.

mod breakpoint;
mod remark;
mod spoken;
mod weigh;

pub use breakpoint::Breakpoint;
pub use izba_model::spoken::{Part, Seen, Spoken};
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
    let words: &[&str] = match language {
        Language::Lua => &["nil"],
        Language::Python => &["None"],
        Language::JavaScript | Language::TypeScript => &["undefined", "null"],
        _ => &["null"],
    };
    words.contains(&shown.trim())
}

/// How a language asks whether an expression is nothing; `None` where we don't know.
pub fn nothing_test(language: Language, expression: &str) -> Option<String> {
    Some(match language {
        Language::Lua => format!("{expression} == nil"),
        Language::Python => format!("{expression} is None"),
        Language::JavaScript
        | Language::TypeScript
        | Language::Java
        | Language::Kotlin
        | Language::CSharp => format!("{expression} == null"),
        _ => return None,
    })
}

/// How a language asks for the length of a list; `None` where we don't know.
pub fn length_of(language: Language, list: &str) -> Option<String> {
    Some(match language {
        Language::Lua => format!("#{list}"),
        Language::Python => format!("len({list})"),
        Language::JavaScript | Language::TypeScript => format!("{list}.length"),
        _ => return None,
    })
}

/// The first index of the lists of a language.
pub fn first_index(language: Language) -> i64 {
    i64::from(language == Language::Lua)
}
