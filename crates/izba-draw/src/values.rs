//! Values over time: an axis for each number, states as lanes, the moments of an error below.

use crate::drawing::{
    Anchor, Dash, Drawing, Key, PLAIN, SMALL, Setting, Sign, WIDTH, moments, ticks,
};
use crate::font::Cut;
use crate::look::Ink;
use izba_core::values::{Bucket, Differs, How, Kept, Series, number};
use izba_model::Millis;
use izba_model::text::counted;
use std::sync::Arc;

/// Numbers that are drawn.
const MOST: usize = 4;
const LINES: [(Ink, Dash); MOST] = [
    (Ink::Ice, Dash::Solid),
    (Ink::Moss, Dash::Long),
    (Ink::Heather, Dash::Dots),
    (Ink::Straw, Dash::Mixed),
];
/// Room for the numbers beside an axis.
const LEFT: f64 = 78.0;
/// Height that the axes of numbers share, the least of one, and the row of its name.
const HIGH: f64 = 330.0;
const LEAST: f64 = 90.0;
const NAME: f64 = 26.0;
/// Height of one lane of states.
const LANE: f64 = 28.0;

/// What is known beside the values.
#[derive(Debug, Clone, Copy, Default)]
pub struct Beside<'a> {
    /// What an error says, with the moments at which it came.
    pub error: Option<(&'a str, &'a [i64])>,
    /// How some of the series differ just before it, by their numbers among those drawn, with how
    /// many moments were looked at.
    pub differs: &'a [(usize, &'a Differs, usize)],
    /// When runs of the sources started, in ascending order: each series is cut there.
    pub starts: &'a [(usize, i64)],
}

/// Draws the first four numbers and all states of `series`.
pub fn values(series: &[Arc<Series>], beside: Beside<'_>, setting: &Setting) -> Drawing {
    let names: Vec<String> = series.iter().map(|s| s.name.clone()).collect();
    let under = match beside.error {
        Some((said, times)) => format!(
            "with the moments of: {said} ({})",
            counted(times.len() as u64, "time", "times")
        ),
        None => String::new(),
    };
    let mut drawing = Drawing::new(
        names.join(", "),
        &under,
        setting,
        &["name", "who", "unit", "from", "to", "least", "most", "last", "count", "state"],
    );
    let spans = || series.iter().filter_map(|s| s.span());
    let (Some(from), Some(to)) = (spans().map(|s| s.0).min(), spans().map(|s| s.1).max()) else {
        drawing.size.1 = 40.0;
        let none = "No value was printed under such a name.";
        drawing.text(0.0, 24.0, WIDTH, none, Ink::Smoke, PLAIN, Anchor::Start, Cut::Regular);
        return drawing;
    };
    let mut chart = Chart { drawing, beside, from, to: to.max(from + 1), y: 0.0 };
    let numbers = || {
        series.iter().enumerate().filter(|(_, s)| matches!(s.kept, Kept::Numbers(_)) && s.count > 0)
    };
    let count = numbers().count();
    let high = (HIGH / count.clamp(1, MOST) as f64).max(LEAST);
    for ((at, one), look) in numbers().zip(LINES) {
        chart.number(at, one, look, high);
    }
    if count > MOST {
        let words =
            format!("{} more are not drawn", counted((count - MOST) as u64, "number", "numbers"));
        chart.small((LEFT, chart.y + 10.0), &words, Anchor::Start);
        chart.y += 20.0;
    }
    for one in series {
        chart.states(one);
    }
    chart.errors();
    chart.time(setting);
    chart.drawing
}

/// A drawing that grows downwards over one axis of time.
struct Chart<'a> {
    drawing: Drawing,
    beside: Beside<'a>,
    from: i64,
    to: i64,
    /// How far down it is drawn.
    y: f64,
}

/// What stands beside a number.
fn unit(series: &Series) -> String {
    series.unit.as_deref().map(|u| format!(" {u}")).unwrap_or_default()
}

impl Chart<'_> {
    fn x_of(&self, time: i64) -> f64 {
        LEFT + (time - self.from) as f64 / (self.to - self.from) as f64 * (WIDTH - LEFT)
    }

    fn small(&mut self, (x, y): (f64, f64), words: &str, anchor: Anchor) {
        self.drawing.text(x, y, WIDTH, words, Ink::Smoke, SMALL, anchor, Cut::Regular);
    }

    /// One number on an axis of its own, cut where a run starts.
    fn number(&mut self, at: usize, one: &Arc<Series>, (ink, dash): (Ink, Dash), high: f64) {
        let Some((least, most)) = one.range() else { return };
        let margin = if most > least { (most - least) * 0.06 } else { most.abs().max(1.0) * 0.1 };
        let (low, top) = (least - margin, most + margin);
        let begin = self.y + NAME;
        let y_of = |value: f64| begin + high * (top - value) / (top - low);
        let named = self.drawing.text(
            LEFT,
            begin - 8.0,
            WIDTH,
            &one.name,
            ink,
            PLAIN,
            Anchor::Start,
            Cut::Bold,
        );
        let always = if one.is_constant() {
            format!("always {}{}", one.last, unit(one))
        } else {
            String::new()
        };
        let who = [one.who.as_str(), &always].into_iter().filter(|w| !w.is_empty());
        let who = who.collect::<Vec<_>>().join(", ");
        self.small((LEFT + named + 12.0, begin - 8.0), &who, Anchor::Start);
        let marks =
            if least == most { vec![least] } else { ticks(low, top, (high / 55.0) as usize + 1) };
        for value in marks {
            let at = y_of(value);
            self.drawing.line(vec![(LEFT, at), (WIDTH, at)], Ink::Ash, 0.5, Dash::Dots);
            let label = format!("{}{}", number(value), unit(one));
            let (x, room) = (LEFT - 8.0, LEFT - 8.0);
            let (smoke, end) = (Ink::Smoke, Anchor::End);
            self.drawing.text(x, at + 4.0, room, &label, smoke, SMALL, end, Cut::Regular);
        }
        self.threshold(at, one, y_of);
        let starts: Vec<i64> =
            self.beside.starts.iter().filter(|s| s.0 == one.source).map(|s| s.1).collect();
        for stroke in one.strokes((self.from, self.to), &starts) {
            let mut points: Vec<(f64, f64)> =
                stroke.into_iter().map(|(time, value)| (self.x_of(time), y_of(value))).collect();
            // One value alone is a line of no length, which nobody sees.
            if let [(x, y)] = points[..] {
                points.push((x + 2.0, y));
            }
            self.drawing.line(points, ink, 2.0, dash);
        }
        let foot = begin + high;
        self.drawing.line(
            vec![(LEFT, begin), (LEFT, foot), (WIDTH, foot)],
            Ink::Smoke,
            0.8,
            Dash::Solid,
        );
        for start in starts.into_iter().filter(|s| (self.from..=self.to).contains(s)) {
            let x = self.x_of(start);
            self.drawing.line(vec![(x, begin), (x, foot)], Ink::Ash, 0.8, Dash::Dots);
            self.drawing.sign(x, foot, Sign::Start);
        }
        let Kept::Numbers(buckets) = &one.kept else { return };
        buckets.iter().for_each(|b| self.drawing.table.row(cells(one, b)));
        self.y = foot + 12.0;
    }

    /// What it was just before the error, drawn where it lies.
    fn threshold(&mut self, at: usize, one: &Series, y_of: impl Fn(f64) -> f64) {
        let Some((_, differs, moments)) = self.beside.differs.iter().find(|d| d.0 == at) else {
            return;
        };
        let bounds = match differs.how {
            How::AtLeast(bound) | How::AtMost(bound) => vec![bound],
            How::Within(low, high) => vec![low, high],
            How::Is(_) | How::Changed(_) => return,
        };
        for bound in &bounds {
            let y = y_of(*bound);
            self.drawing.line(vec![(LEFT, y), (WIDTH, y)], Ink::Ember, 1.4, Dash::Long);
        }
        let sure = if differs.sure { "likely" } else { "can't tell" };
        let words = format!("{} ({sure})", differs.sentence(one, *moments));
        // Beside the name: upon the line it would lie over the values.
        let y = self.y + NAME - 8.0;
        let (ink, end) = (Ink::Ember, Anchor::End);
        self.drawing.text(WIDTH, y, WIDTH - LEFT, &words, ink, SMALL, end, Cut::Regular);
    }

    fn states(&mut self, one: &Series) {
        let Kept::States(names, changes) = &one.kept else { return };
        let y = self.y;
        let (chalk, start) = (Ink::Chalk, Anchor::Start);
        self.drawing.text(0.0, y + 17.0, LEFT - 6.0, &one.name, chalk, SMALL, start, Cut::Regular);
        for (at, (time, state)) in changes.iter().enumerate() {
            let end = changes.get(at + 1).map_or(self.to, |c| c.0);
            let (x, width) = (self.x_of(*time), self.x_of(end) - self.x_of(*time));
            let name = names.get(usize::from(*state)).map_or("", String::as_str);
            // Neighbours differ by how full they are, and by their words where there is room.
            let fill = if state % 2 == 0 { 0.16 } else { 0.42 };
            self.drawing.rect((x, y + 3.0), (width, LANE - 8.0), Ink::Ice, fill, true);
            let shown = if width > 24.0 { name } else { "" };
            let (x, middle) = (x + width / 2.0, Anchor::Middle);
            self.drawing.text(x, y + 17.0, width - 6.0, shown, chalk, SMALL, middle, Cut::Regular);
            let cells = [
                one.name.clone().into(),
                one.who.clone().into(),
                serde_json::Value::Null,
                Millis(*time).to_rfc3339().into(),
                Millis(end).to_rfc3339().into(),
            ];
            let none = std::iter::repeat_n(serde_json::Value::Null, 4);
            self.drawing.table.row(cells.into_iter().chain(none).chain([name.into()]).collect());
        }
        self.y += LANE;
    }

    fn errors(&mut self) {
        let Some((said, times)) = self.beside.error else { return };
        let y = self.y + 8.0;
        self.drawing.line(vec![(LEFT, y), (WIDTH, y)], Ink::Ash, 0.5, Dash::Solid);
        for time in times.iter().filter(|t| (self.from..=self.to).contains(*t)) {
            let x = self.x_of(*time);
            self.drawing.sign(x, y, Sign::Error);
        }
        self.drawing.legend.push(Key::Sign(Sign::Error, said.to_owned()));
        self.y += 20.0;
    }

    fn time(&mut self, setting: &Setting) {
        let y = self.y;
        for time in moments(setting, Millis(self.from), Millis(self.to), 6) {
            let x = self.x_of(time.0);
            self.drawing.line(vec![(x, y), (x, y + 4.0)], Ink::Smoke, 0.8, Dash::Solid);
            // At the edge it stays within.
            let anchor = if x > WIDTH - 30.0 { Anchor::End } else { Anchor::Middle };
            self.small((x, y + 18.0), &setting.clock(time), anchor);
        }
        self.small((WIDTH, y + 36.0), setting.axis(), Anchor::End);
        self.drawing.size.1 = y + 42.0;
        if self.beside.starts.iter().any(|s| (self.from..=self.to).contains(&s.1)) {
            self.drawing.legend.push(Key::Sign(Sign::Start, "a run starts".into()));
        }
    }
}

/// A bucket as a row of the numbers behind the drawing.
fn cells(one: &Series, b: &Bucket) -> Vec<serde_json::Value> {
    vec![
        one.name.clone().into(),
        one.who.clone().into(),
        one.unit.clone().into(),
        Millis(b.from).to_rfc3339().into(),
        Millis(b.to).to_rfc3339().into(),
        b.least.into(),
        b.most.into(),
        b.last.into(),
        b.count.into(),
        serde_json::Value::Null,
    ]
}
