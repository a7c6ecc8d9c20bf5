//! A drawing as SVG 1.1, with real text.

use crate::drawing::{Anchor, Dash, Drawing, Key, PLAIN, SMALL, Shape, Sign};
use crate::font;
use crate::look::{Ink, Look};
use svg::Document;
use svg::node::element::{Group, Path, Polygon, Polyline, Rectangle, Text, Title, path::Data};

/// Around everything.
const MARGIN: f64 = 28.0;
/// Rows of the head: title, what it is of, and space.
const HEAD: f64 = 58.0;
/// A row of the legend.
const ROW: f64 = 22.0;

pub(crate) fn svg(drawing: &Drawing, look: Look) -> String {
    let (width, height) = drawing.size;
    let legend = legend(drawing, width);
    let legend_height = legend.last().map_or(0.0, |(_, _, y)| y + ROW) + 8.0;
    let whole = (width + 2.0 * MARGIN, height + 2.0 * MARGIN + HEAD + legend_height + ROW);
    let rgb = |ink: Ink| look.mixed(ink, 1.0);
    let mut document = Document::new()
        .set("width", round(whole.0))
        .set("height", round(whole.1))
        .set("viewBox", format!("0 0 {} {}", round(whole.0), round(whole.1)))
        .set("font-family", font::FAMILY)
        .add(Title::new(drawing.title.clone()))
        .add(Rectangle::new().set("width", "100%").set("height", "100%").set("fill", look.mixed(Ink::Chalk, 0.0)));
    document = document
        .add(text(MARGIN, MARGIN + 16.0, &font::fit(&drawing.title, 19.0, true, width), &rgb(Ink::Chalk), 19.0, Anchor::Start, true))
        .add(text(MARGIN, MARGIN + 36.0, &font::fit(&drawing.under, PLAIN, false, width), &rgb(Ink::Smoke), PLAIN, Anchor::Start, false));
    let mut body = Group::new().set("transform", format!("translate({MARGIN} {})", MARGIN + HEAD));
    for shape in &drawing.shapes {
        body = add(body, shape, look);
    }
    document = document.add(body);
    let mut keys = Group::new().set("transform", format!("translate({MARGIN} {})", round(MARGIN + HEAD + height + 16.0)));
    for (key, x, y) in &legend {
        let middle = y - 4.0;
        keys = match key {
            Key::Sign(sign, _) => add(keys, &Shape::Sign { x: x + 8.0, y: middle, sign: *sign }, look),
            Key::Line(ink, dash, _) => {
                add(keys, &Shape::Line { points: vec![(*x, middle), (x + 30.0, middle)], ink: *ink, width: 2.0, dash: *dash }, look)
            }
            Key::Box(ink, fill, _) => {
                add(keys, &Shape::Rect { x: *x, y: middle - 5.0, w: 14.0, h: 10.0, ink: *ink, fill: *fill, outline: true }, look)
            }
        };
        keys = keys.add(text(x + indent(key), *y, key.words(), &rgb(Ink::Slate), SMALL, Anchor::Start, false));
    }
    document = document.add(keys);
    let date = format!("Izba, {}", drawing.date);
    document = document.add(text(whole.0 - MARGIN, whole.1 - MARGIN + 6.0, &date, &rgb(Ink::Smoke), 10.0, Anchor::End, false));
    format!("<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n{document}\n")
}

/// Where the words of a key begin.
fn indent(key: &Key) -> f64 {
    match key {
        Key::Sign(..) | Key::Box(..) => 20.0,
        Key::Line(..) => 36.0,
    }
}

/// The keys with the places at which they stand, in as many rows as they need.
fn legend(drawing: &Drawing, width: f64) -> Vec<(&Key, f64, f64)> {
    let (mut x, mut y) = (0.0, 4.0);
    let mut placed = Vec::new();
    for key in &drawing.legend {
        let needs = indent(key) + font::width(key.words(), SMALL, false) + 24.0;
        if x > 0.0 && x + needs > width {
            (x, y) = (0.0, y + ROW);
        }
        placed.push((key, x, y));
        x += needs;
    }
    placed
}

/// To a hundredth: more only makes files longer.
fn round(value: f64) -> f64 {
    (value * 100.0).round() / 100.0
}

fn text(x: f64, y: f64, words: &str, fill: &str, size: f64, anchor: Anchor, bold: bool) -> Text {
    let text = Text::new(words).set("x", round(x)).set("y", round(y)).set("font-size", size).set("fill", fill);
    let text = match anchor {
        Anchor::Start => text,
        Anchor::Middle => text.set("text-anchor", "middle"),
        Anchor::End => text.set("text-anchor", "end"),
    };
    if bold { text.set("font-weight", "bold") } else { text }
}

fn dashes(dash: Dash) -> Option<&'static str> {
    match dash {
        Dash::Solid => None,
        Dash::Long => Some("7 4"),
        Dash::Dots => Some("1.5 3.5"),
        Dash::Mixed => Some("9 3 1.5 3"),
    }
}

fn points(all: &[(f64, f64)]) -> String {
    all.iter().map(|(x, y)| format!("{},{}", round(*x), round(*y))).collect::<Vec<_>>().join(" ")
}

fn add(group: Group, shape: &Shape, look: Look) -> Group {
    let rgb = |ink: Ink| look.mixed(ink, 1.0);
    match shape {
        Shape::Rect { x, y, w, h, ink, fill, outline } => {
            let rect = Rectangle::new().set("x", round(*x)).set("y", round(*y)).set("width", round(*w)).set("height", round(*h));
            let rect = rect.set("fill", look.mixed(*ink, *fill));
            group.add(if *outline { rect.set("stroke", rgb(*ink)).set("stroke-width", 1) } else { rect })
        }
        Shape::Line { points: all, ink, width, dash } => {
            let line = Polyline::new().set("points", points(all)).set("fill", "none").set("stroke", rgb(*ink)).set("stroke-width", *width);
            let line = line.set("stroke-linejoin", "round");
            group.add(match dashes(*dash) {
                Some(dashes) => line.set("stroke-dasharray", dashes),
                None => line,
            })
        }
        Shape::Arrow { from, to, ink, dash } => {
            let length = (to.0 - from.0).hypot(to.1 - from.1).max(1e-6);
            let (dx, dy) = ((to.0 - from.0) / length, (to.1 - from.1) / length);
            let neck = (to.0 - dx * 9.0, to.1 - dy * 9.0);
            let head = [*to, (neck.0 - dy * 4.5, neck.1 + dx * 4.5), (neck.0 + dy * 4.5, neck.1 - dx * 4.5)];
            let line = Shape::Line { points: vec![*from, neck], ink: *ink, width: 1.6, dash: *dash };
            add(group, &line, look).add(Polygon::new().set("points", points(&head)).set("fill", rgb(*ink)))
        }
        Shape::Text { x, y, text: words, ink, size, anchor, bold } => group.add(text(*x, *y, words, &rgb(*ink), *size, *anchor, *bold)),
        Shape::Sign { x, y, sign } => {
            let diamond = |r: f64| points(&[(*x, y - r), (x + r, *y), (*x, y + r), (x - r, *y)]);
            match sign {
                Sign::Error => group.add(Polygon::new().set("points", diamond(5.0)).set("fill", rgb(Ink::Ember))),
                Sign::Warning => {
                    group.add(Polygon::new().set("points", diamond(4.5)).set("fill", "none").set("stroke", rgb(Ink::Straw)).set("stroke-width", 1.4))
                }
                Sign::Save => group.add(
                    Polygon::new().set("points", points(&[(*x, y - 5.0), (x + 5.0, y + 4.0), (x - 5.0, y + 4.0)])).set("fill", rgb(Ink::Heather)),
                ),
                Sign::Start => {
                    let data = Data::new().move_to((round(*x), round(y - 6.0))).line_to((round(*x), round(y + 6.0)));
                    group.add(Path::new().set("d", data).set("stroke", rgb(Ink::Smoke)).set("stroke-width", 1.6))
                }
            }
        }
    }
}
