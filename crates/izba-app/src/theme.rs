//! Colours by meaning. A log house at dusk; each meaning also has a sign or a word, so that it
//! works without colour.

pub use izba_draw::Ink;
use izba_draw::Rgb;
use ratatui::style::{Color, Modifier, Style};

/// What a piece of screen is.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Ground {
    /// The screen.
    Tar,
    /// Bars and panes set apart.
    Plank,
    /// The chosen row.
    Bench,
}

/// How many colours the terminal has.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Depth {
    /// 24-bit.
    True,
    /// The 256 of xterm.
    Indexed,
    /// The 16 of old.
    Sixteen,
    /// None; signs and words do.
    None,
}

/// The colours in use, by what they mean.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Theme {
    /// How many colours there are.
    pub depth: Depth,
    /// Dark on light.
    pub light: bool,
    /// All text as far from the ground as can be.
    pub contrast: bool,
}

impl Theme {
    /// So many colours, on a dark ground or a light one.
    pub const fn new(depth: Depth, light: bool) -> Theme {
        Theme { depth, light, contrast: false }
    }

    /// Chooses by what the terminal says of itself: `NO_COLOR`, `COLORTERM`, `TERM`, `COLORFGBG`.
    pub fn from_environment(get: impl Fn(&str) -> Option<String>) -> Theme {
        let term = get("TERM").unwrap_or_default();
        let depth = if get("NO_COLOR").is_some_and(|v| !v.is_empty()) || term == "dumb" {
            Depth::None
        } else if get("COLORTERM").is_some_and(|c| c.contains("truecolor") || c.contains("24bit"))
            || term.ends_with("-direct")
        {
            Depth::True
        } else if term.contains("256") {
            Depth::Indexed
        } else {
            Depth::Sixteen
        };
        // The last number of COLORFGBG is the background: 7 and 15 are light.
        let light = get("COLORFGBG")
            .and_then(|v| v.rsplit(';').next().map(str::to_owned))
            .is_some_and(|b| b == "7" || b == "15");
        Theme::new(depth, light)
    }

    fn rgb(self, ink: Ink) -> Rgb {
        let rgb = ink.rgb(self.light);
        if !self.contrast {
            return rgb;
        }
        // Nothing is quiet: what is grey is nearly white, and colours are half way there.
        let (bright, part) = match ink {
            Ink::Chalk => ((0xff, 0xff, 0xff), 1.0),
            Ink::Slate | Ink::Smoke | Ink::Ash => ((0xe6, 0xe6, 0xe6), 1.0),
            _ => ((0xff, 0xff, 0xff), 0.35),
        };
        let mix = |a: u8, b: u8| (f64::from(a) + (f64::from(b) - f64::from(a)) * part) as u8;
        (mix(rgb.0, bright.0), mix(rgb.1, bright.1), mix(rgb.2, bright.2))
    }

    fn ground_rgb(self, ground: Ground) -> Rgb {
        match (ground, self.light) {
            (Ground::Tar, false) if self.contrast => (0, 0, 0),
            (Ground::Plank, false) if self.contrast => (0x12, 0x12, 0x12),
            (Ground::Bench, false) if self.contrast => (0x2e, 0x33, 0x44),
            (Ground::Tar, false) => (0x15, 0x17, 0x1c),
            (Ground::Plank, false) => (0x1c, 0x1f, 0x27),
            (Ground::Bench, false) => (0x27, 0x2c, 0x38),
            (Ground::Tar, true) => (0xf7, 0xf6, 0xf2),
            (Ground::Plank, true) => (0xec, 0xea, 0xe4),
            (Ground::Bench, true) => (0xdc, 0xe0, 0xe8),
        }
    }

    fn color(self, rgb: Rgb, sixteen: Color) -> Option<Color> {
        match self.depth {
            Depth::True => Some(Color::Rgb(rgb.0, rgb.1, rgb.2)),
            Depth::Indexed => Some(Color::Indexed(nearest(rgb))),
            Depth::Sixteen => Some(sixteen),
            Depth::None => None,
        }
    }

    /// The style of text with this meaning.
    pub fn ink(self, ink: Ink) -> Style {
        let sixteen = match (ink, self.light) {
            (Ink::Chalk, _) => Color::Reset,
            (Ink::Slate | Ink::Smoke, false) => Color::Gray,
            (Ink::Ash, false) => Color::DarkGray,
            (Ink::Ember, false) => Color::LightRed,
            (Ink::Straw, false) => Color::Yellow,
            (Ink::Ice, false) => Color::LightCyan,
            (Ink::Moss, false) => Color::Green,
            (Ink::Heather, false) => Color::LightMagenta,
            // Of the sixteen, yellow, green, cyan and all bright ones fade on a light ground. Signs
            // and words tell apart what shares a colour there.
            (Ink::Slate | Ink::Smoke, true) => Color::DarkGray,
            (Ink::Ash, true) => Color::Gray,
            (Ink::Ember, true) => Color::Red,
            (Ink::Ice, true) => Color::Blue,
            (Ink::Moss, true) => Color::Reset,
            (Ink::Straw | Ink::Heather, true) => Color::Magenta,
        };
        self.color(self.rgb(ink), sixteen).map_or_else(Style::new, |c| Style::new().fg(c))
    }

    /// The style of a piece of screen. Few colours give no quiet ground, so a chosen row is bold
    /// there and has a sign.
    pub fn ground(self, ground: Ground) -> Style {
        if self.signs_chosen_rows() {
            return if ground == Ground::Bench {
                Style::new().add_modifier(Modifier::BOLD)
            } else {
                Style::new()
            };
        }
        self.color(self.ground_rgb(ground), Color::Reset)
            .map_or_else(Style::new, |c| Style::new().bg(c))
    }

    /// A number on a ground that is the warmer the more of `share` (0 to 1) there is; without quiet
    /// grounds it is bold.
    pub fn warmth(self, ink: Ink, share: f64) -> Style {
        if self.signs_chosen_rows() {
            return self.ink(ink).add_modifier(Modifier::BOLD);
        }
        let (from, to) = (self.ground_rgb(Ground::Tar), self.rgb(ink));
        // Never so warm that the number on it is hard to read.
        let most = if ink == Ink::Straw { 0.25 } else { 0.4 };
        let part = 0.12 + most * share.clamp(0.0, 1.0);
        let mix = |a: u8, b: u8| (f64::from(a) + (f64::from(b) - f64::from(a)) * part) as u8;
        let ground = (mix(from.0, to.0), mix(from.1, to.1), mix(from.2, to.2));
        let text = if self.light { (0x10, 0x12, 0x18) } else { (0xf4, 0xf5, 0xf8) };
        match (self.color(ground, Color::Reset), self.color(text, Color::Reset)) {
            (Some(ground), Some(text)) => Style::new().bg(ground).fg(text),
            _ => Style::new(),
        }
    }

    /// Whether a chosen row is told by a sign before it instead of by its ground.
    pub fn signs_chosen_rows(self) -> bool {
        matches!(self.depth, Depth::None | Depth::Sixteen)
    }

    /// The name of the room that is open.
    pub fn chosen_room(self) -> Style {
        if self.depth == Depth::Sixteen && self.light {
            return Style::new().add_modifier(Modifier::REVERSED | Modifier::BOLD);
        }
        match self.color(self.rgb(Ink::Ice), Color::LightCyan) {
            Some(ice) => {
                let (r, g, b) = self.ground_rgb(Ground::Tar);
                let ground = self.color((r, g, b), Color::Black).unwrap_or(Color::Black);
                Style::new().bg(ice).fg(ground).add_modifier(Modifier::BOLD)
            }
            None => Style::new().add_modifier(Modifier::REVERSED),
        }
    }
}

/// The colour of xterm's cube or grey ramp that is nearest.
fn nearest((r, g, b): Rgb) -> u8 {
    const STEPS: [u8; 6] = [0, 95, 135, 175, 215, 255];
    let step = |v: u8| (0..6).min_by_key(|i| STEPS[*i].abs_diff(v)).unwrap_or(0);
    let distance = |x: Rgb| {
        u32::from(x.0.abs_diff(r)).pow(2)
            + u32::from(x.1.abs_diff(g)).pow(2)
            + u32::from(x.2.abs_diff(b)).pow(2)
    };
    let (i, j, k) = (step(r), step(g), step(b));
    let cube = distance((STEPS[i], STEPS[j], STEPS[k]));
    let average = (u16::from(r) + u16::from(g) + u16::from(b)) / 3;
    let level = (average.saturating_sub(3) / 10).min(23) as u8;
    let value = 8 + level * 10;
    if distance((value, value, value)) < cube {
        232 + level
    } else {
        (16 + 36 * i + 6 * j + k) as u8
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn luminance((r, g, b): Rgb) -> f64 {
        let part = |v: u8| {
            let v = f64::from(v) / 255.0;
            if v <= 0.040_45 { v / 12.92 } else { ((v + 0.055) / 1.055).powf(2.4) }
        };
        0.2126 * part(r) + 0.7152 * part(g) + 0.0722 * part(b)
    }

    #[test]
    fn text_stands_out_from_every_ground() {
        for light in [false, true] {
            let theme = Theme::new(Depth::True, light);
            for ink in [
                Ink::Chalk,
                Ink::Slate,
                Ink::Smoke,
                Ink::Ember,
                Ink::Straw,
                Ink::Ice,
                Ink::Moss,
                Ink::Heather,
            ] {
                for ground in [Ground::Tar, Ground::Plank, Ground::Bench] {
                    let (a, b) = (luminance(theme.rgb(ink)), luminance(theme.ground_rgb(ground)));
                    let contrast = (a.max(b) + 0.05) / (a.min(b) + 0.05);
                    assert!(contrast >= 4.5, "{ink:?} on {ground:?}, light {light}: {contrast:.2}");
                }
            }
        }
    }

    #[test]
    fn of_sixteen_colours_only_those_are_used_that_can_be_read_on_the_ground() {
        // As the usual terminals show them, on black and on white.
        let shown = |color: Color| match color {
            Color::Red => Some((205, 0, 0)),
            Color::Blue => Some((0, 0, 238)),
            Color::Magenta => Some((205, 0, 205)),
            Color::DarkGray => Some((110, 110, 110)),
            Color::Green => Some((0, 205, 0)),
            Color::Yellow => Some((205, 205, 0)),
            Color::Gray => Some((229, 229, 229)),
            Color::LightRed => Some((255, 85, 85)),
            Color::LightCyan => Some((0, 255, 255)),
            Color::LightMagenta => Some((255, 0, 255)),
            _ => None,
        };
        let all =
            [Ink::Slate, Ink::Smoke, Ink::Ember, Ink::Straw, Ink::Ice, Ink::Moss, Ink::Heather];
        for (light, ground) in [(false, 0.0), (true, 1.0)] {
            for ink in all {
                let color = Theme::new(Depth::Sixteen, light).ink(ink).fg;
                let Some(rgb) = color.and_then(shown) else { continue };
                let text = luminance(rgb);
                let contrast = (text.max(ground) + 0.05) / (text.min(ground) + 0.05);
                assert!(contrast >= 4.0, "{ink:?} {color:?}, light {light}: {contrast:.2}");
            }
        }
    }

    #[test]
    fn a_number_on_a_warm_ground_can_be_read() {
        for (light, ink, share) in [
            (false, Ink::Ember, 1.0),
            (false, Ink::Straw, 1.0),
            (true, Ink::Ember, 1.0),
            (true, Ink::Straw, 0.5),
            (false, Ink::Ember, 0.0),
        ] {
            let style = Theme::new(Depth::True, light).warmth(ink, share);
            let (Some(Color::Rgb(r, g, b)), Some(Color::Rgb(x, y, z))) = (style.fg, style.bg)
            else {
                panic!("true colours")
            };
            let (a, b) = (luminance((r, g, b)), luminance((x, y, z)));
            assert!((a.max(b) + 0.05) / (a.min(b) + 0.05) >= 4.5, "{ink:?} {share} light {light}");
        }
    }

    #[test]
    fn the_terminal_says_what_it_can() {
        let theme = |pairs: &'static [(&str, &str)]| {
            Theme::from_environment(|k| {
                pairs.iter().find(|(n, _)| *n == k).map(|(_, v)| (*v).to_owned())
            })
        };
        assert_eq!(
            theme(&[("TERM", "xterm-256color"), ("COLORTERM", "truecolor")]).depth,
            Depth::True
        );
        assert_eq!(theme(&[("TERM", "xterm-256color"), ("NO_COLOR", "1")]).depth, Depth::None);
        assert_eq!(
            theme(&[("TERM", "xterm-256color"), ("COLORFGBG", "0;15")]),
            Theme::new(Depth::Indexed, true)
        );
        assert_eq!(theme(&[("TERM", "linux")]).depth, Depth::Sixteen);
    }
}
