//! Whatever stands in a log, a drawing of it is well-formed SVG, becomes a PDF, and its numbers can
//! be read again.

use izba_draw::{Anchor, Cut, Dash, Drawing, Form, Ink, Key, Look, Shape, Sign, Table, write};
use proptest::prelude::*;

fn drawing(words: &str, far: f64) -> Drawing {
    let text = |anchor| Shape::Text {
        x: far,
        y: 10.0,
        text: words.to_owned(),
        ink: Ink::Chalk,
        size: 11.0,
        anchor,
        cut: if far > 0.0 { Cut::Bold } else { Cut::Mono },
    };
    let shapes = vec![
        text(Anchor::Start),
        text(Anchor::Middle),
        text(Anchor::End),
        Shape::Line {
            points: vec![(0.0, 0.0), (far, far)],
            ink: Ink::Ice,
            width: 1.0,
            dash: Dash::Mixed,
        },
        Shape::Arrow { from: (far, 0.0), to: (far, 0.0), ink: Ink::Smoke, dash: Dash::Solid },
        Shape::Rect {
            x: 0.0,
            y: 0.0,
            w: 0.0,
            h: far.abs(),
            ink: Ink::Ember,
            fill: far,
            outline: true,
        },
        Shape::Sign { x: far, y: far, sign: Sign::Warning },
    ];
    let legend = vec![
        Key::Sign(Sign::Save, words.to_owned()),
        Key::Line(Ink::Moss, Dash::Dots, words.to_owned()),
        Key::Box(Ink::Ash, 0.5, words.to_owned()),
    ];
    Drawing {
        title: words.to_owned(),
        under: words.to_owned(),
        date: "2026-11-27 20:00".into(),
        size: (900.0, 100.0),
        shapes,
        legend,
        table: Table::default(),
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(60))]
    #[test]
    fn a_drawing_of_any_text_is_well_formed(words in "[\\PC<>&\"'\u{202e}\u{1f600}]{0,60}", far in prop_oneof![Just(0.0), -1e6f64..1e6]) {
        let drawing = drawing(&words, far);
        for look in [Look::Dusk, Look::Paper] {
            let svg = String::from_utf8(write(&drawing, Form::Svg, look).expect("SVG is text")).expect("it is UTF-8");
            let tree = roxmltree::Document::parse(&svg).map_err(|e| TestCaseError::fail(format!("{e}\n{svg}")))?;
            prop_assert!(tree.descendants().filter(|n| n.has_tag_name("text")).count() >= 6);
            let pdf = write(&drawing, Form::Pdf, look).expect("it becomes a PDF");
            prop_assert!(pdf.starts_with(b"%PDF-"));
        }
    }
}
