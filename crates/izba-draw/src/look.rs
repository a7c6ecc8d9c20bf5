//! Colours by meaning, for the screen and for paper.

/// What a piece of text or a shape means.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Ink {
    /// Text.
    Chalk,
    /// Code around the line at fault.
    Slate,
    /// Secondary text.
    Smoke,
    /// Rules and quiet bars.
    Ash,
    /// An error.
    Ember,
    /// A warning.
    Straw,
    /// Focus, links, places.
    Ice,
    /// Quiet and well.
    Moss,
    /// What the user did.
    Heather,
}

/// A colour as red, green and blue, 0 to 255 each.
pub type Rgb = (u8, u8, u8);

/// How a drawing looks: on dark ground, on light ground, or without colour.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum Look {
    /// As the screen at dusk: light on dark.
    #[default]
    Dusk,
    /// Dark on white, to be printed.
    Paper,
}

impl Ink {
    /// The colour on a dark ground, or on a light one.
    pub fn rgb(self, light: bool) -> Rgb {
        match (self, light) {
            (Ink::Chalk, false) => (0xda, 0xdd, 0xe4),
            (Ink::Slate, false) => (0xb2, 0xb8, 0xc4),
            (Ink::Smoke, false) => (0x8d, 0x94, 0xa3),
            (Ink::Ash, false) => (0x4a, 0x51, 0x60),
            (Ink::Ember, false) => (0xee, 0x6c, 0x4d),
            (Ink::Straw, false) => (0xe3, 0xc1, 0x6f),
            (Ink::Ice, false) => (0x7d, 0xbf, 0xe0),
            (Ink::Moss, false) => (0x86, 0xbf, 0x92),
            (Ink::Heather, false) => (0xb5, 0x9b, 0xe3),
            (Ink::Chalk, true) => (0x1f, 0x23, 0x2b),
            (Ink::Slate, true) => (0x3c, 0x42, 0x4e),
            (Ink::Smoke, true) => (0x5a, 0x61, 0x70),
            (Ink::Ash, true) => (0xb9, 0xbe, 0xc8),
            (Ink::Ember, true) => (0xa8, 0x34, 0x18),
            (Ink::Straw, true) => (0x7d, 0x5a, 0x00),
            (Ink::Ice, true) => (0x14, 0x62, 0x8c),
            (Ink::Moss, true) => (0x2c, 0x6b, 0x3a),
            (Ink::Heather, true) => (0x6a, 0x45, 0xb0),
        }
    }
}

impl Look {
    /// The ground of the whole drawing.
    pub(crate) fn ground(self) -> Rgb {
        match self {
            Look::Dusk => (0x15, 0x17, 0x1c),
            Look::Paper => (0xff, 0xff, 0xff),
        }
    }

    /// An ink, mixed with the ground: all of it at 1.
    pub(crate) fn mixed(self, ink: Ink, part: f64) -> Rgb {
        let (from, to) = (self.ground(), ink.rgb(self == Look::Paper));
        let mix = |a: u8, b: u8| {
            (f64::from(a) + (f64::from(b) - f64::from(a)) * part.clamp(0.0, 1.0)).round() as u8
        };
        (mix(from.0, to.0), mix(from.1, to.1), mix(from.2, to.2))
    }
}
