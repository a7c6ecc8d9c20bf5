//! Drawings of what Izba knows. Each is described once ([`Drawing`]) and written as SVG or PDF
//! ([`write`]) from that description, with real text, in the colours of the screen or light ones
//! for paper; the numbers behind it go out as CSV or JSON lines.
//!
//! Nothing is told by colour alone: errors are filled diamonds, warnings hollow ones, series differ
//! by their dashes, so that a copy in black and white reads the same. One drawing is one file here,
//! and one line in the registry of `izba draw`.

mod drawing;
mod font;
mod form;
mod ladder;
mod look;
mod page;
mod path;
#[cfg(feature = "pdf")]
mod pdf;
mod ring;
mod runs;
mod svg;
mod table;
mod values;
mod when;

pub use drawing::{Anchor, Dash, Drawing, Key, Setting, Shape, Sign};
pub use font::Cut;
pub use form::{DrawError, Form};
pub use ladder::ladder;
pub use look::{Ink, Look, Rgb};
pub use path::path;
pub use ring::ring;
pub use runs::runs;
pub use table::Table;
pub use values::{Beside, values};
pub use when::when;

/// Writes a drawing.
///
/// # Errors
///
/// When the PDF or the CSV could not be made of it; the libraries' own words are in the sentence.
pub fn write(drawing: &Drawing, form: Form, look: Look) -> Result<Vec<u8>, DrawError> {
    match form {
        Form::Svg => Ok(svg::svg(&page::page(drawing, look)).into_bytes()),
        #[cfg(feature = "pdf")]
        Form::Pdf => pdf::pdf(&page::page(drawing, look)),
        #[cfg(not(feature = "pdf"))]
        Form::Pdf => Err(DrawError::Pdf("this Izba was built without PDF; take SVG".into())),
        Form::Csv => drawing.table.csv(),
        Form::Jsonl => Ok(drawing.table.jsonl().into_bytes()),
    }
}
