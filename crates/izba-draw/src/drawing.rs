//! The description of a drawing: shapes in a space of its own, with title, legend, date and the
//! numbers behind it.

use crate::font::{self, Cut};
use crate::look::Ink;
use crate::table::Table;
use izba_model::{Millis, SafeText};

/// Where a text stands relative to its point.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Anchor {
    /// It begins there.
    Start,
    /// Its middle is there.
    Middle,
    /// It ends there.
    End,
}

/// How a line is drawn, so that lines differ without colour.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Dash {
    /// One piece.
    Solid,
    /// Long pieces.
    Long,
    /// Points.
    Dots,
    /// Long pieces with points between.
    Mixed,
}

/// What happened at a point.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Sign {
    /// An error: a filled diamond.
    Error,
    /// A warning: a hollow diamond.
    Warning,
    /// A file was saved: a triangle.
    Save,
    /// A run starts: an upright stroke.
    Start,
    /// A file is read anew while a run goes on: an upright stroke with a gap.
    Anew,
    /// A run ends: a hollow square.
    End,
}

/// One shape. Lengths are in points, y grows downwards.
#[derive(Debug, Clone, PartialEq)]
#[expect(missing_docs, reason = "the sentence above each says what its parts are")]
pub enum Shape {
    /// A box: corner, size, how much of the ink it is filled with, whether it is outlined.
    Rect { x: f64, y: f64, w: f64, h: f64, ink: Ink, fill: f64, outline: bool },
    /// A line through points.
    Line { points: Vec<(f64, f64)>, ink: Ink, width: f64, dash: Dash },
    /// A straight line with a head at its end.
    Arrow { from: (f64, f64), to: (f64, f64), ink: Ink, dash: Dash },
    /// A text on its base line.
    Text { x: f64, y: f64, text: String, ink: Ink, size: f64, anchor: Anchor, cut: Cut },
    /// A sign around its middle.
    Sign { x: f64, y: f64, sign: Sign },
}

/// One entry of the legend.
#[derive(Debug, Clone, PartialEq)]
pub enum Key {
    /// A sign and what it means.
    Sign(Sign, String),
    /// A line and what it stands for.
    Line(Ink, Dash, String),
    /// A box and what it stands for.
    Box(Ink, f64, String),
}

impl Key {
    pub(crate) fn words(&self) -> &str {
        let (Key::Sign(_, words) | Key::Line(_, _, words) | Key::Box(_, _, words)) = self;
        words
    }
}

/// What all drawings of one moment share.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Setting {
    /// The project's name.
    pub project: String,
    /// When it is drawn, in milliseconds since 1970 (UTC).
    pub now: Millis,
    /// Offset of local time from UTC in seconds.
    pub utc_offset: i32,
    /// Whether moments are numbers of lines, where no line told a time.
    pub by_lines: bool,
}

impl Setting {
    /// The time of day, or the number of a line.
    pub fn clock(&self, time: Millis) -> String {
        if self.by_lines {
            return format!("line {}", time.0 + 1);
        }
        let seconds = (time.0.div_euclid(1000) + i64::from(self.utc_offset)).rem_euclid(86_400);
        format!("{:02}:{:02}:{:02}", seconds / 3600, seconds / 60 % 60, seconds % 60)
    }

    /// What an axis of moments counts.
    pub(crate) fn axis(&self) -> &'static str {
        if self.by_lines { "line of the log" } else { "time of day" }
    }

    /// Day and time of day.
    pub fn date(&self) -> String {
        let local =
            Millis(self.now.0 + i64::from(self.utc_offset) * 1000).to_rfc3339().unwrap_or_default();
        local.get(..16).unwrap_or(&local).replace('T', " ")
    }
}

/// A drawing: marks on a page, and the numbers they stand for.
#[derive(Debug, Clone, PartialEq)]
pub struct Drawing {
    /// What it shows, as a title.
    pub title: String,
    /// Of what: project, source, run, how much.
    pub under: String,
    /// When it was drawn.
    pub date: String,
    /// Size of the space of the shapes.
    pub size: (f64, f64),
    /// The shapes; later ones lie over earlier ones.
    pub shapes: Vec<Shape>,
    /// What signs and lines mean.
    pub legend: Vec<Key>,
    /// The numbers behind it.
    pub table: Table,
}

/// Width of the space of most drawings.
pub(crate) const WIDTH: f64 = 900.0;
/// Size of ordinary text.
pub(crate) const SMALL: f64 = 13.0;
/// Size of text that is read first.
pub(crate) const PLAIN: f64 = 15.0;

impl Drawing {
    pub(crate) fn new(
        title: impl Into<String>,
        under: &str,
        setting: &Setting,
        columns: &'static [&'static str],
    ) -> Drawing {
        let under = if under.is_empty() {
            setting.project.clone()
        } else {
            format!("{}, {under}", setting.project)
        };
        Drawing {
            title: plain(&title.into()),
            under: plain(&under),
            date: setting.date(),
            size: (WIDTH, 0.0),
            shapes: Vec::new(),
            legend: Vec::new(),
            table: Table::new(columns),
        }
    }

    /// Adds a text, cut to the room that it has.
    #[expect(clippy::too_many_arguments, reason = "a text has a place, a look and room")]
    pub(crate) fn text(
        &mut self,
        x: f64,
        y: f64,
        room: f64,
        text: &str,
        ink: Ink,
        size: f64,
        anchor: Anchor,
        cut: Cut,
    ) -> f64 {
        let text = font::fit(&plain(text), size, cut, room);
        let width = font::width(&text, size, cut);
        self.shapes.push(Shape::Text { x, y, text, ink, size, anchor, cut });
        width
    }

    pub(crate) fn line(&mut self, points: Vec<(f64, f64)>, ink: Ink, width: f64, dash: Dash) {
        self.shapes.push(Shape::Line { points, ink, width, dash });
    }

    pub(crate) fn rect(
        &mut self,
        (x, y): (f64, f64),
        (w, h): (f64, f64),
        ink: Ink,
        fill: f64,
        outline: bool,
    ) {
        self.shapes.push(Shape::Rect { x, y, w: w.max(0.0), h: h.max(0.0), ink, fill, outline });
    }

    pub(crate) fn sign(&mut self, x: f64, y: f64, sign: Sign) {
        self.shapes.push(Shape::Sign { x, y, sign });
    }
}

/// Foreign text without control bytes.
pub(crate) fn plain(text: &str) -> String {
    SafeText::new(text).as_str().to_owned()
}

/// Round numbers from `low` to `high` for an axis, about `count` of them.
pub(crate) fn ticks(low: f64, high: f64, count: usize) -> Vec<f64> {
    let length = high - low;
    if !length.is_finite() || length <= 0.0 || count == 0 {
        return vec![low];
    }
    let rough = length / count as f64;
    let power = 10f64.powf(rough.log10().floor());
    let step = [1.0, 2.0, 5.0, 10.0]
        .into_iter()
        .map(|s| s * power)
        .find(|s| *s >= rough)
        .unwrap_or(10.0 * power);
    let first = (low / step).ceil() as i64;
    (first..)
        .map(|n| n as f64 * step)
        .take_while(|v| *v <= high + step * 1e-9)
        .take(4 * count + 2)
        .collect()
}

/// Moments for an axis of time, with round steps.
pub(crate) fn moments(setting: &Setting, from: Millis, to: Millis, count: usize) -> Vec<Millis> {
    if setting.by_lines {
        return ticks(from.0 as f64, to.0 as f64, count)
            .into_iter()
            .map(|t| Millis(t as i64))
            .collect();
    }
    const STEPS: [i64; 15] =
        [1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 900, 1800, 3600, 7200, 21_600];
    let length = (to.0 - from.0).max(1);
    let rough = length / count.max(1) as i64;
    let step = STEPS
        .iter()
        .map(|s| s * 1000)
        .find(|s| *s >= rough)
        .unwrap_or_else(|| (rough / 86_400_000 + 1) * 86_400_000);
    let first = from.0.div_euclid(step) + i64::from(from.0.rem_euclid(step) > 0);
    (first..).map(|n| Millis(n * step)).take_while(|t| t.0 <= to.0).take(4 * count + 2).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn an_axis_has_round_numbers_within_it(low in -1e6f64..1e6, length in 1e-6f64..1e6, count in 1usize..12) {
            let all = ticks(low, low + length, count);
            prop_assert!(all.len() <= 2 * count + 1, "{all:?}");
            prop_assert!(all.iter().all(|t| *t >= low - length * 1e-6 && *t <= low + length * (1.0 + 1e-6)));
            let times = moments(&Setting { project: String::new(), now: Millis(0), utc_offset: 0, by_lines: false }, Millis(low as i64), Millis((low + length) as i64), count);
            prop_assert!(times.iter().all(|t| t.0 >= low as i64 && t.0 as f64 <= low + length));
        }
    }
}
