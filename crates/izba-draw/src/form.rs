//! In which forms a drawing is written, and why it may not be.

/// In which form a drawing is written; by the ending of a file's name.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Form {
    /// A picture of vectors.
    Svg,
    /// A page with text that can be selected.
    Pdf,
    /// The numbers behind it, with a head.
    Csv,
    /// The numbers behind it, one JSON object a line.
    Jsonl,
}

impl Form {
    /// All of them, by ending.
    pub const ALL: [(&'static str, Form); 4] =
        [("svg", Form::Svg), ("pdf", Form::Pdf), ("csv", Form::Csv), ("jsonl", Form::Jsonl)];

    /// The form that an ending means.
    pub fn of_ending(ending: &str) -> Option<Form> {
        Form::ALL.iter().find(|(e, _)| ending.eq_ignore_ascii_case(e)).map(|(_, form)| *form)
    }
}

/// Why a drawing could not be written.
#[derive(Debug, thiserror::Error)]
pub enum DrawError {
    /// The font could not be cut down to what the page says.
    #[error("the drawing could not be written as PDF: {0}")]
    Pdf(String),
    /// The numbers could not be written.
    #[error("the numbers could not be written: {0}")]
    Numbers(String),
}
