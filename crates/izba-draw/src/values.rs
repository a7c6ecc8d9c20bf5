//! Values over time: numbers on one axis, states as lanes, the moments of an error below.

use crate::drawing::{
    Anchor, Dash, Drawing, Key, PLAIN, SMALL, Setting, Sign, WIDTH, moments, ticks,
};
use crate::look::Ink;
use izba_core::values::{Kept, Series, number};
use izba_model::Millis;
use izba_model::text::counted;
use std::sync::Arc;

/// Series that are told apart on one axis.
const MOST: usize = 4;
const LINES: [(Ink, Dash); MOST] = [
    (Ink::Ice, Dash::Solid),
    (Ink::Moss, Dash::Long),
    (Ink::Heather, Dash::Dots),
    (Ink::Straw, Dash::Mixed),
];
/// Room for the numbers beside the axis.
const LEFT: f64 = 64.0;
/// Height of the axis of numbers, and of one lane of states.
const HIGH: f64 = 300.0;
const LANE: f64 = 26.0;

/// Draws the first four numbers and all states of `series`; `error` is what an error says, with the
/// moments at which it came.
pub fn values(series: &[Arc<Series>], error: Option<(&str, &[i64])>, setting: &Setting) -> Drawing {
    let names: Vec<String> = series.iter().map(|s| s.name.clone()).collect();
    let under = match error {
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
        drawing.text(
            0.0,
            24.0,
            WIDTH,
            "No value was printed under such a name.",
            Ink::Smoke,
            PLAIN,
            Anchor::Start,
            false,
        );
        return drawing;
    };
    let to = to.max(from + 1);
    let x_of = |time: i64| LEFT + (time - from) as f64 / (to - from) as f64 * (WIDTH - LEFT);
    let numbers: Vec<&Arc<Series>> =
        series.iter().filter(|s| matches!(s.kept, Kept::Numbers(_))).collect();
    let mut y = 0.0;
    let drawn = &numbers[..numbers.len().min(MOST)];
    let ranges = || drawn.iter().filter_map(|s| s.range());
    if let (Some(low), Some(high)) =
        (ranges().map(|r| r.0).reduce(f64::min), ranges().map(|r| r.1).reduce(f64::max))
    {
        let margin = if high > low { (high - low) * 0.04 } else { high.abs().max(1.0) * 0.1 };
        let (low, high) = (low - margin, high + margin);
        let y_of = |value: f64| HIGH * (high - value) / (high - low);
        let units: Vec<&str> = drawn.iter().filter_map(|s| s.unit.as_deref()).collect();
        // One unit is told at the axis; several differ and are told in the legend.
        let unit = units
            .first()
            .filter(|u| drawn.len() == units.len() && units.iter().all(|v| v == *u))
            .copied()
            .unwrap_or("");
        for value in ticks(low, high, 6) {
            let at = y_of(value);
            drawing.line(vec![(LEFT, at), (WIDTH, at)], Ink::Ash, 0.5, Dash::Dots);
            let label =
                format!("{}{}{unit}", number(value), if unit.is_empty() { "" } else { " " });
            drawing.text(
                LEFT - 8.0,
                at + 4.0,
                LEFT - 8.0,
                &label,
                Ink::Smoke,
                SMALL,
                Anchor::End,
                false,
            );
        }
        for (one, (ink, dash)) in drawn.iter().zip(LINES) {
            let Kept::Numbers(buckets) = &one.kept else { continue };
            let ends = |b: &izba_core::values::Bucket| {
                let end = (x_of(b.to), y_of(b.last));
                if b.least == b.most {
                    vec![end]
                } else {
                    vec![(x_of(b.from), y_of(b.least)), (x_of(b.to), y_of(b.most)), end]
                }
            };
            drawing.line(buckets.iter().flat_map(ends).collect(), ink, 1.8, dash);
            let unit = one
                .unit
                .as_deref()
                .filter(|_| unit.is_empty())
                .map(|u| format!(" in {u}"))
                .unwrap_or_default();
            let who = if one.who.is_empty() { String::new() } else { format!(", {}", one.who) };
            drawing.legend.push(Key::Line(ink, dash, format!("{}{unit}{who}", one.name)));
            for b in buckets {
                drawing.table.row(vec![
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
                ]);
            }
        }
        drawing.line(vec![(LEFT, 0.0), (LEFT, HIGH), (WIDTH, HIGH)], Ink::Smoke, 0.8, Dash::Solid);
        y = HIGH + 14.0;
        if numbers.len() > MOST {
            drawing.text(
                LEFT,
                y,
                WIDTH - LEFT,
                &format!("{} more numbers are not drawn", numbers.len() - MOST),
                Ink::Smoke,
                SMALL,
                Anchor::Start,
                false,
            );
            y += 14.0;
        }
    }
    for one in series {
        let Kept::States(names, changes) = &one.kept else { continue };
        drawing.text(0.0, y + 16.0, LEFT - 6.0, &one.name, Ink::Chalk, SMALL, Anchor::Start, false);
        for (at, (time, state)) in changes.iter().enumerate() {
            let end = changes.get(at + 1).map_or(to, |c| c.0);
            let (x, width) = (x_of(*time), x_of(end) - x_of(*time));
            let name = names.get(usize::from(*state)).map_or("", String::as_str);
            // Neighbours differ by how full they are, and by their words where there is room.
            drawing.rect(
                (x, y + 3.0),
                (width, LANE - 8.0),
                Ink::Ice,
                if state % 2 == 0 { 0.16 } else { 0.42 },
                true,
            );
            drawing.text(
                x + width / 2.0,
                y + 16.0,
                width - 6.0,
                if width > 24.0 { name } else { "" },
                Ink::Chalk,
                SMALL,
                Anchor::Middle,
                false,
            );
            let cells = [
                one.name.clone().into(),
                one.who.clone().into(),
                serde_json::Value::Null,
                Millis(*time).to_rfc3339().into(),
                Millis(end).to_rfc3339().into(),
            ];
            let none = std::iter::repeat_n(serde_json::Value::Null, 4);
            drawing.table.row(cells.into_iter().chain(none).chain([name.into()]).collect());
        }
        y += LANE;
    }
    if let Some((said, times)) = error {
        drawing.line(vec![(LEFT, y + 8.0), (WIDTH, y + 8.0)], Ink::Ash, 0.5, Dash::Solid);
        for time in times.iter().filter(|t| (from..=to).contains(*t)) {
            drawing.sign(x_of(*time), y + 8.0, Sign::Error);
        }
        drawing.legend.push(Key::Sign(Sign::Error, said.to_owned()));
        y += 20.0;
    }
    for time in moments(setting, Millis(from), Millis(to), 6) {
        let x = x_of(time.0);
        drawing.line(vec![(x, y), (x, y + 4.0)], Ink::Smoke, 0.8, Dash::Solid);
        drawing.text(
            x,
            y + 17.0,
            80.0,
            &setting.clock(time),
            Ink::Smoke,
            SMALL,
            Anchor::Middle,
            false,
        );
    }
    drawing.text(WIDTH, y + 33.0, WIDTH, setting.axis(), Ink::Smoke, SMALL, Anchor::End, false);
    drawing.size.1 = y + 38.0;
    drawing
}
