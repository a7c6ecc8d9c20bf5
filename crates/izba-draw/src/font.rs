//! The font that ships with drawings (DejaVu Sans, and its monospaced sister for code), and how wide
//! a text is in it.

use std::sync::LazyLock;
use ttf_parser::Face;

/// Its name, and what a viewer without it may take.
pub(crate) const FAMILY: &str = "DejaVu Sans, Verdana, sans-serif";
/// The same of the one for code.
pub(crate) const MONO_FAMILY: &str = "DejaVu Sans Mono, monospace";

/// One cut of the font.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Cut {
    /// For words.
    Regular,
    /// For what is read first.
    Bold,
    /// For code: each character is as wide as any other.
    Mono,
}

impl Cut {
    /// All there are.
    #[cfg(feature = "pdf")]
    pub(crate) const ALL: [Cut; 3] = [Cut::Regular, Cut::Bold, Cut::Mono];

    /// The font file.
    pub(crate) fn data(self) -> &'static [u8] {
        match self {
            Cut::Regular => dejavu::sans::regular(),
            Cut::Bold => dejavu::sans::bold(),
            Cut::Mono => dejavu::sans_mono::regular(),
        }
    }

    /// Its name in a PDF's resources.
    #[cfg(feature = "pdf")]
    pub(crate) fn id(self) -> &'static str {
        match self {
            Cut::Regular => "R",
            Cut::Bold => "B",
            Cut::Mono => "M",
        }
    }

    /// Its PostScript name.
    #[cfg(feature = "pdf")]
    pub(crate) fn postscript(self) -> &'static str {
        match self {
            Cut::Regular => "DejaVuSans",
            Cut::Bold => "DejaVuSans-Bold",
            Cut::Mono => "DejaVuSansMono",
        }
    }
}

static REGULAR: LazyLock<Option<Face<'static>>> =
    LazyLock::new(|| Face::parse(Cut::Regular.data(), 0).ok());
static MONO: LazyLock<Option<Face<'static>>> =
    LazyLock::new(|| Face::parse(Cut::Mono.data(), 0).ok());

/// How far the pen goes on after a character, in the units of the face.
pub(crate) fn advance(face: &Face<'_>, c: char) -> u16 {
    face.glyph_index(c).and_then(|g| face.glyph_hor_advance(g)).unwrap_or(1229)
}

/// Units of an em.
pub(crate) fn units(face: &Face<'_>) -> f64 {
    f64::from(face.units_per_em())
}

/// The width of a text, in the unit of its size. Bold text is told a tenth wider.
pub(crate) fn width(text: &str, size: f64, cut: Cut) -> f64 {
    let face = if cut == Cut::Mono { &*MONO } else { &*REGULAR };
    let Some(face) = face else { return text.chars().count() as f64 * size * 0.6 };
    let sum: u32 = text.chars().map(|c| u32::from(advance(face, c))).sum();
    f64::from(sum) / units(face) * size * if cut == Cut::Bold { 1.1 } else { 1.0 }
}

/// The text, cut with an ellipsis to what fits.
pub(crate) fn fit(text: &str, size: f64, cut: Cut, room: f64) -> String {
    if width(text, size, cut) <= room {
        return text.to_owned();
    }
    let mut kept = String::new();
    for c in text.chars() {
        kept.push(c);
        if width(&kept, size, cut) + width("…", size, cut) > room {
            kept.pop();
            break;
        }
    }
    kept.truncate(kept.trim_end().len());
    kept + "…"
}
