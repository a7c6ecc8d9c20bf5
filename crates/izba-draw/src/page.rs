//! A drawing as marks on one page: title, shapes, legend and date laid out, signs and arrows taken
//! apart, colours mixed. What writes a form ([`crate::svg`], [`crate::pdf`]) knows marks only.

use crate::drawing::{Anchor, Dash, Drawing, Key, PLAIN, SMALL, Shape, Sign};
use crate::font::{self, Cut};
use crate::look::{Ink, Look, Rgb};

/// Around everything, in points.
const MARGIN: f64 = 28.0;
/// Rows of the head: title, what it is of, and space.
const HEAD: f64 = 58.0;
/// A row of the legend.
const ROW: f64 = 22.0;

/// One page; lengths are in points, y grows downwards.
pub(crate) struct Page {
    pub(crate) title: String,
    /// Width and height.
    pub(crate) size: (f64, f64),
    pub(crate) ground: Rgb,
    /// In the order in which they are drawn.
    pub(crate) marks: Vec<Mark>,
}

/// One piece of ink.
pub(crate) enum Mark {
    /// A box from its upper left corner.
    Rect { x: f64, y: f64, w: f64, h: f64, fill: Rgb, stroke: Option<Stroke> },
    /// A line through points.
    Line { points: Vec<(f64, f64)>, stroke: Stroke, dash: Dash },
    /// A closed shape.
    Polygon { points: Vec<(f64, f64)>, fill: Option<Rgb>, stroke: Option<Stroke> },
    /// A text on its base line.
    Text { x: f64, y: f64, words: String, fill: Rgb, size: f64, anchor: Anchor, cut: Cut },
}

/// How an outline is drawn.
#[derive(Clone, Copy)]
pub(crate) struct Stroke {
    pub(crate) ink: Rgb,
    pub(crate) width: f64,
}

/// Lengths of pieces and gaps of a dashed line; none for a whole one.
pub(crate) fn dashes(dash: Dash) -> &'static [f64] {
    match dash {
        Dash::Solid => &[],
        Dash::Long => &[7.0, 4.0],
        Dash::Dots => &[1.5, 3.5],
        Dash::Mixed => &[9.0, 3.0, 1.5, 3.0],
    }
}

/// To a hundredth: more only makes files longer.
pub(crate) fn round(value: f64) -> f64 {
    (value * 100.0).round() / 100.0
}

/// Lays a drawing out.
pub(crate) fn page(drawing: &Drawing, look: Look) -> Page {
    let (width, height) = drawing.size;
    let legend = legend(drawing, width);
    let legend_height = legend.last().map_or(0.0, |(_, _, y)| y + ROW) + 8.0;
    let size = (width + 2.0 * MARGIN, height + 2.0 * MARGIN + HEAD + legend_height + ROW);
    let mut pen = Pen { look, at: (MARGIN, MARGIN), marks: Vec::new() };
    let title = font::fit(&drawing.title, 19.0, Cut::Bold, width);
    pen.text((0.0, 16.0), &title, Ink::Chalk, 19.0, Anchor::Start, Cut::Bold);
    let under = font::fit(&drawing.under, PLAIN, Cut::Regular, width);
    pen.text((0.0, 36.0), &under, Ink::Smoke, PLAIN, Anchor::Start, Cut::Regular);
    pen.at = (MARGIN, MARGIN + HEAD);
    drawing.shapes.iter().for_each(|shape| pen.shape(shape));
    pen.at = (MARGIN, MARGIN + HEAD + height + 16.0);
    for (key, x, y) in &legend {
        pen.key(key, *x, y - 4.0);
        pen.text(
            (x + indent(key), *y),
            key.words(),
            Ink::Slate,
            SMALL,
            Anchor::Start,
            Cut::Regular,
        );
    }
    pen.at = (0.0, 0.0);
    let corner = (size.0 - MARGIN, size.1 - MARGIN + 6.0);
    let date = format!("Izba, {}", drawing.date);
    pen.text(corner, &date, Ink::Smoke, 10.0, Anchor::End, Cut::Regular);
    Page { title: drawing.title.clone(), size, ground: look.ground(), marks: pen.marks }
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
        let needs = indent(key) + font::width(key.words(), SMALL, Cut::Regular) + 24.0;
        if x > 0.0 && x + needs > width {
            (x, y) = (0.0, y + ROW);
        }
        placed.push((key, x, y));
        x += needs;
    }
    placed
}

/// Puts marks down, with `at` as the corner of the space that is drawn in.
struct Pen {
    look: Look,
    at: (f64, f64),
    marks: Vec<Mark>,
}

impl Pen {
    fn whole(&self, ink: Ink) -> Rgb {
        self.look.mixed(ink, 1.0)
    }

    fn stroke(&self, ink: Ink, width: f64) -> Stroke {
        Stroke { ink: self.whole(ink), width }
    }

    fn point(&self, (x, y): (f64, f64)) -> (f64, f64) {
        (round(x + self.at.0), round(y + self.at.1))
    }

    fn text(&mut self, at: (f64, f64), words: &str, ink: Ink, size: f64, anchor: Anchor, cut: Cut) {
        let ((x, y), fill) = (self.point(at), self.whole(ink));
        self.marks.push(Mark::Text { x, y, words: words.to_owned(), fill, size, anchor, cut });
    }

    fn polygon(&mut self, points: &[(f64, f64)], fill: Option<Ink>, stroke: Option<Stroke>) {
        let points = points.iter().map(|p| self.point(*p)).collect();
        self.marks.push(Mark::Polygon { points, fill: fill.map(|i| self.whole(i)), stroke });
    }

    fn line(&mut self, points: &[(f64, f64)], ink: Ink, width: f64, dash: Dash) {
        let points = points.iter().map(|p| self.point(*p)).collect();
        self.marks.push(Mark::Line { points, stroke: self.stroke(ink, width), dash });
    }

    fn key(&mut self, key: &Key, x: f64, middle: f64) {
        match key {
            Key::Sign(sign, _) => self.sign(x + 8.0, middle, *sign),
            Key::Line(ink, dash, _) => {
                self.line(&[(x, middle), (x + 30.0, middle)], *ink, 2.0, *dash);
            }
            Key::Box(ink, fill, _) => self.shape(&Shape::Rect {
                x,
                y: middle - 5.0,
                w: 14.0,
                h: 10.0,
                ink: *ink,
                fill: *fill,
                outline: true,
            }),
        }
    }

    fn shape(&mut self, shape: &Shape) {
        match shape {
            Shape::Rect { x, y, w, h, ink, fill, outline } => {
                let (x, y) = self.point((*x, *y));
                let stroke = outline.then(|| self.stroke(*ink, 1.0));
                let fill = self.look.mixed(*ink, *fill);
                self.marks.push(Mark::Rect { x, y, w: round(*w), h: round(*h), fill, stroke });
            }
            Shape::Line { points, ink, width, dash } => self.line(points, *ink, *width, *dash),
            Shape::Arrow { from, to, ink, dash } => self.arrow(*from, *to, *ink, *dash),
            Shape::Text { x, y, text, ink, size, anchor, cut } => {
                self.text((*x, *y), text, *ink, *size, *anchor, *cut);
            }
            Shape::Sign { x, y, sign } => self.sign(*x, *y, *sign),
        }
    }

    fn arrow(&mut self, from: (f64, f64), to: (f64, f64), ink: Ink, dash: Dash) {
        let length = (to.0 - from.0).hypot(to.1 - from.1).max(1e-6);
        let (dx, dy) = ((to.0 - from.0) / length, (to.1 - from.1) / length);
        let neck = (to.0 - dx * 9.0, to.1 - dy * 9.0);
        let head =
            [to, (neck.0 - dy * 4.5, neck.1 + dx * 4.5), (neck.0 + dy * 4.5, neck.1 - dx * 4.5)];
        self.line(&[from, neck], ink, 1.6, dash);
        self.polygon(&head, Some(ink), None);
    }

    fn sign(&mut self, x: f64, y: f64, sign: Sign) {
        let diamond = |r: f64| [(x, y - r), (x + r, y), (x, y + r), (x - r, y)];
        match sign {
            Sign::Error => self.polygon(&diamond(5.0), Some(Ink::Ember), None),
            Sign::Warning => {
                let stroke = self.stroke(Ink::Straw, 1.4);
                self.polygon(&diamond(4.5), None, Some(stroke));
            }
            Sign::Save => {
                let roof = [(x, y - 5.0), (x + 5.0, y + 4.0), (x - 5.0, y + 4.0)];
                self.polygon(&roof, Some(Ink::Heather), None);
            }
            Sign::End => {
                let square = [
                    (x - 4.0, y - 4.0),
                    (x + 4.0, y - 4.0),
                    (x + 4.0, y + 4.0),
                    (x - 4.0, y + 4.0),
                ];
                let stroke = self.stroke(Ink::Smoke, 1.4);
                self.polygon(&square, None, Some(stroke));
            }
            Sign::Anew => {
                self.line(&[(x, y - 6.0), (x, y - 1.5)], Ink::Smoke, 1.6, Dash::Solid);
                self.line(&[(x, y + 1.5), (x, y + 6.0)], Ink::Smoke, 1.6, Dash::Solid);
            }
            Sign::Start => {
                self.line(&[(x, y - 6.0), (x, y + 6.0)], Ink::Smoke, 1.6, Dash::Solid);
            }
        }
    }
}
