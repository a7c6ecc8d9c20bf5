//! The font that ships with drawings (DejaVu Sans), and how wide a text is in it.

use std::sync::LazyLock;
use ttf_parser::Face;

/// Its name, and what a viewer without it may take.
pub(crate) const FAMILY: &str = "DejaVu Sans, Verdana, sans-serif";

/// One cut of the font.
#[cfg_attr(not(feature = "pdf"), expect(dead_code, reason = "only a PDF says a cut but the first"))]
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Cut {
    Regular,
    Bold,
}

#[cfg_attr(not(feature = "pdf"), expect(dead_code, reason = "only a PDF carries its fonts"))]
impl Cut {
    /// The font file.
    pub(crate) fn data(self) -> &'static [u8] {
        match self {
            Cut::Regular => dejavu::sans::regular(),
            Cut::Bold => dejavu::sans::bold(),
        }
    }

    /// Its name in a PDF's resources.
    pub(crate) fn id(self) -> &'static str {
        match self {
            Cut::Regular => "R",
            Cut::Bold => "B",
        }
    }

    /// Its PostScript name.
    pub(crate) fn postscript(self) -> &'static str {
        match self {
            Cut::Regular => "DejaVuSans",
            Cut::Bold => "DejaVuSans-Bold",
        }
    }
}

static REGULAR: LazyLock<Option<Face<'static>>> =
    LazyLock::new(|| Face::parse(Cut::Regular.data(), 0).ok());

/// How far the pen goes on after a character, in the units of the face.
pub(crate) fn advance(face: &Face<'_>, c: char) -> u16 {
    face.glyph_index(c).and_then(|g| face.glyph_hor_advance(g)).unwrap_or(1229)
}

/// Units of an em.
pub(crate) fn units(face: &Face<'_>) -> f64 {
    f64::from(face.units_per_em())
}

/// The width of a text, in the unit of its size. Bold text is told a tenth wider.
pub(crate) fn width(text: &str, size: f64, bold: bool) -> f64 {
    let Some(face) = &*REGULAR else { return text.chars().count() as f64 * size * 0.6 };
    let sum: u32 = text.chars().map(|c| u32::from(advance(face, c))).sum();
    f64::from(sum) / units(face) * size * if bold { 1.1 } else { 1.0 }
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
