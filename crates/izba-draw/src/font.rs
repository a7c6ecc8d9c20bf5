//! The font that ships with drawings (DejaVu Sans), and how wide a text is in it.

use std::sync::LazyLock;
use ttf_parser::Face;

/// Its name, and what a viewer without it may take.
pub(crate) const FAMILY: &str = "DejaVu Sans, Verdana, sans-serif";
/// The family as a PDF has it embedded.
pub(crate) const NAME: &str = "DejaVu Sans";

static REGULAR: LazyLock<Option<Face<'static>>> = LazyLock::new(|| Face::parse(dejavu::sans::regular(), 0).ok());

/// The width of a text, in the unit of its size. Bold text is told a tenth wider.
pub(crate) fn width(text: &str, size: f64, bold: bool) -> f64 {
    let Some(face) = &*REGULAR else { return text.chars().count() as f64 * size * 0.6 };
    let advance = |c: char| face.glyph_index(c).and_then(|g| face.glyph_hor_advance(g)).unwrap_or(1229);
    let units: u32 = text.chars().map(|c| u32::from(advance(c))).sum();
    f64::from(units) / f64::from(face.units_per_em()) * size * if bold { 1.1 } else { 1.0 }
}

/// The text, cut with an ellipsis to what fits.
pub(crate) fn fit(text: &str, size: f64, bold: bool, room: f64) -> String {
    if width(text, size, bold) <= room {
        return text.to_owned();
    }
    let mut kept = String::new();
    for c in text.chars() {
        kept.push(c);
        if width(&kept, size, bold) + width("…", size, bold) > room {
            kept.pop();
            break;
        }
    }
    kept.truncate(kept.trim_end().len());
    kept + "…"
}
