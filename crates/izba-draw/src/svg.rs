//! A page as SVG 1.1, with real text.

use crate::drawing::Anchor;
use crate::font::{self, Cut};
use crate::look::Rgb;
use crate::page::{Mark, Page, Stroke, dashes, round};
use svg::Document;
use svg::node::element::{Polygon, Polyline, Rectangle, Text, Title};

pub(crate) fn svg(page: &Page) -> String {
    let (width, height) = (round(page.size.0), round(page.size.1));
    let ground =
        Rectangle::new().set("width", "100%").set("height", "100%").set("fill", hex(page.ground));
    let mut document = Document::new()
        .set("width", width)
        .set("height", height)
        .set("viewBox", format!("0 0 {width} {height}"))
        .set("font-family", font::FAMILY)
        .add(Title::new(page.title.clone()))
        .add(ground);
    for mark in &page.marks {
        document = add(document, mark);
    }
    format!("<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n{document}\n")
}

fn hex((r, g, b): Rgb) -> String {
    format!("#{r:02x}{g:02x}{b:02x}")
}

fn points(all: &[(f64, f64)]) -> String {
    all.iter().map(|(x, y)| format!("{x},{y}")).collect::<Vec<_>>().join(" ")
}

fn add(document: Document, mark: &Mark) -> Document {
    match mark {
        Mark::Rect { x, y, w, h, fill, stroke } => {
            let rect =
                Rectangle::new().set("x", *x).set("y", *y).set("width", *w).set("height", *h);
            let rect = rect.set("fill", hex(*fill));
            document.add(match stroke {
                Some(Stroke { ink, width }) => {
                    rect.set("stroke", hex(*ink)).set("stroke-width", *width)
                }
                None => rect,
            })
        }
        Mark::Line { points: all, stroke, dash } => {
            let line = Polyline::new().set("points", points(all)).set("fill", "none");
            let line = line.set("stroke", hex(stroke.ink)).set("stroke-width", stroke.width);
            let line = line.set("stroke-linejoin", "round");
            document.add(match dashes(*dash) {
                [] => line,
                lengths => {
                    let lengths = lengths.iter().map(f64::to_string).collect::<Vec<_>>();
                    line.set("stroke-dasharray", lengths.join(" "))
                }
            })
        }
        Mark::Polygon { points: all, fill, stroke } => {
            let shape = Polygon::new().set("points", points(all));
            let shape = shape.set("fill", fill.map_or_else(|| "none".to_owned(), hex));
            document.add(match stroke {
                Some(Stroke { ink, width }) => {
                    shape.set("stroke", hex(*ink)).set("stroke-width", *width)
                }
                None => shape,
            })
        }
        Mark::Text { x, y, words, fill, size, anchor, cut } => {
            let text = Text::new(words.as_str()).set("x", *x).set("y", *y);
            let text = text.set("font-size", *size).set("fill", hex(*fill));
            let text = match anchor {
                Anchor::Start => text,
                Anchor::Middle => text.set("text-anchor", "middle"),
                Anchor::End => text.set("text-anchor", "end"),
            };
            document.add(match cut {
                Cut::Regular => text,
                Cut::Bold => text.set("font-weight", "bold"),
                // Spaces before code are part of it.
                Cut::Mono => {
                    text.set("font-family", font::MONO_FAMILY).set("xml:space", "preserve")
                }
            })
        }
    }
}
