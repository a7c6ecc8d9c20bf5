//! Drawings of what Izba knows. Each is described once ([`Drawing`]) and written as SVG or PDF
//! ([`write`]) from that description, with real text, in the colours of the screen or light ones
//! for paper; the numbers behind it go out as CSV or JSON lines.
//!
//! Nothing is told by colour alone: errors are filled diamonds, warnings hollow ones, series differ
//! by their dashes, so that a copy in black and white reads the same. One drawing is one file here,
//! and one line in the registry of `izba draw`.

mod drawing;
mod font;
mod ladder;
mod look;
mod page;
mod path;
mod pdf;
mod ring;
mod runs;
mod svg;
mod table;
mod values;
mod when;

pub use drawing::{Anchor, Dash, Drawing, Key, Setting, Shape, Sign};
pub use ladder::ladder;
pub use look::{Ink, Look, Rgb};
pub use path::path;
pub use ring::ring;
pub use runs::runs;
pub use table::Table;
pub use values::values;
pub use when::when;

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

/// Writes a drawing.
///
/// # Errors
///
/// When the PDF or the CSV could not be made of it; the libraries' own words are in the sentence.
pub fn write(drawing: &Drawing, form: Form, look: Look) -> Result<Vec<u8>, DrawError> {
    match form {
        Form::Svg => Ok(svg::svg(&page::page(drawing, look)).into_bytes()),
        Form::Pdf => pdf::pdf(&page::page(drawing, look)),
        Form::Csv => drawing.table.csv(),
        Form::Jsonl => Ok(drawing.table.jsonl().into_bytes()),
    }
}
