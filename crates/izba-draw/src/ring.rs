//! A ring of files that bring one another in, with the arrow that is the cheapest to cut.

use crate::drawing::{Anchor, Dash, Drawing, Key, PLAIN, SMALL, Setting, WIDTH};
use crate::font;
use crate::font::Cut;
use crate::look::Ink;
use izba_cause::suspect::Arrow;
use izba_model::text::counted;
use std::f64::consts::TAU;

/// Draws a ring; its arrows stand in order, and the last one closes it.
pub fn ring(arrows: &[Arrow], setting: &Setting) -> Drawing {
    let under = format!("{} import one another", counted(arrows.len() as u64, "file", "files"));
    let mut drawing =
        Drawing::new("A ring of files", &under, setting, &["from", "line", "to", "cut"]);
    let many = arrows.len().max(1) as f64;
    // Room for each name on the circle.
    let radius = (many * 70.0 / TAU * 1.6).clamp(120.0, 360.0);
    let middle = (WIDTH / 2.0, radius + 40.0);
    let at = |n: usize| {
        let angle = TAU * n as f64 / many - TAU / 4.0;
        (middle.0 + radius * angle.cos(), middle.1 + radius * angle.sin())
    };
    let half =
        |n: usize| font::width(name(&arrows[n % arrows.len()].from), PLAIN, Cut::Bold) / 2.0 + 14.0;
    for (n, arrow) in arrows.iter().enumerate() {
        let cut = n + 1 == arrows.len();
        let (from, to) = (at(n), at(n + 1));
        // From the edge of one box to the edge of the next.
        let edge = |(x, y): (f64, f64), (tx, ty): (f64, f64), half: f64| {
            let (dx, dy) = (tx - x, ty - y);
            let by = (half / dx.abs().max(1e-6)).min(16.0 / dy.abs().max(1e-6)).min(0.5);
            (x + dx * by, y + dy * by)
        };
        let (begin, end) = (edge(from, to, half(n)), edge(to, from, half(n + 1)));
        let (ink, dash) = if cut { (Ink::Straw, Dash::Long) } else { (Ink::Smoke, Dash::Solid) };
        if arrows.len() > 1 {
            drawing.shapes.push(crate::Shape::Arrow { from: begin, to: end, ink, dash });
        }
        let (x, y) = (f64::midpoint(begin.0, end.0), f64::midpoint(begin.1, end.1));
        // Words stand outside the ring, where nothing else is.
        let outwards =
            if (x - middle.0).abs() < 20.0 { 0.0 } else { (x - middle.0).signum() * 12.0 };
        let anchor = match outwards {
            o if o > 0.0 => Anchor::Start,
            o if o < 0.0 => Anchor::End,
            _ => Anchor::Middle,
        };
        let words = if cut {
            format!("line {}, cheapest to cut", arrow.line)
        } else {
            format!("line {}", arrow.line)
        };
        let lower = match outwards {
            0.0 if y < middle.1 => -8.0,
            0.0 => 18.0,
            _ => 0.0,
        };
        drawing.text(
            x + outwards,
            y + lower,
            WIDTH / 2.0 - radius / 2.0,
            &words,
            if cut { Ink::Straw } else { Ink::Smoke },
            SMALL,
            anchor,
            Cut::Regular,
        );
        drawing.table.row(vec![
            arrow.from.to_string().into(),
            arrow.line.into(),
            arrow.to.to_string().into(),
            cut.into(),
        ]);
    }
    for (n, arrow) in arrows.iter().enumerate() {
        let (x, y) = at(n);
        drawing.rect((x - half(n), y - 16.0), (half(n) * 2.0, 32.0), Ink::Ice, 0.14, true);
        drawing.text(
            x,
            y + 4.5,
            half(n) * 2.0 - 8.0,
            name(&arrow.from),
            Ink::Chalk,
            PLAIN,
            Anchor::Middle,
            Cut::Bold,
        );
    }
    drawing.size.1 = 2.0 * radius + 80.0;
    drawing.legend = vec![
        Key::Line(Ink::Smoke, Dash::Solid, "brings in, at this line".into()),
        Key::Line(Ink::Straw, Dash::Long, "comes back round; the cheapest to cut".into()),
    ];
    drawing
}

fn name(path: &str) -> &str {
    path.rsplit('/').next().unwrap_or(path)
}
