//! The path of an error through objects and scripts: from where it began at the top to the fault at
//! the bottom, a column for each script.

use crate::drawing::{Anchor, Dash, Drawing, Key, PLAIN, SMALL, Setting, Sign, WIDTH};
use crate::font::Cut;
use crate::look::Ink;
use izba_cause::suspect::Findings;
use izba_core::GroupView;
use izba_model::StackFrame;
use izba_model::claim::{LIKELY, Suspect};
use izba_model::text::wrap;

/// Steps that are drawn at most; the middle of a longer path is left out.
const STEPS: usize = 24;
/// Columns; further scripts share the last one.
const COLUMNS: usize = 6;
const HIGH: f64 = 40.0;
const GAP: f64 = 26.0;
/// Characters of a line of the reason.
const REASON: usize = 110;

/// Draws the path of a group, and on to the place that is suspected, where that is another one.
pub fn path(group: &GroupView, found: Option<&Findings>, setting: &Setting) -> Drawing {
    let entry = &*group.entry;
    let objects: Vec<&str> = group.objects.iter().map(|(o, _)| o.as_str()).take(3).collect();
    let under =
        if objects.is_empty() { String::new() } else { format!("struck {}", objects.join(", ")) };
    let title = format!("How it came to: {}", group.told(found).short);
    let mut drawing =
        Drawing::new(title, &under, setting, &["step", "file", "line", "function", "own"]);
    // Fault first in the core; a drawing reads from the beginning.
    let frames: Vec<&StackFrame> = group.path().iter().collect();
    let mut steps: Vec<Step> = Vec::new();
    for (at, frame) in frames.iter().enumerate().rev() {
        match &frame.own {
            Some(own) => steps.push(Step::Own {
                number: at + 1,
                file: own.to_string(),
                line: frame.line,
                function: frame.function.clone(),
            }),
            None => match steps.last_mut() {
                // Runs of outside steps are one: stepping through them helps nobody.
                Some(Step::Outside(count)) => *count += 1,
                _ => steps.push(Step::Outside(1)),
            },
        }
        let named = frame.own.as_deref().map(str::to_owned).or_else(|| frame.file.clone());
        drawing.table.row(vec![
            (at + 1).into(),
            named.into(),
            frame.line.into(),
            frame.function.clone().into(),
            frame.own.is_some().into(),
        ]);
    }
    if !steps.iter().any(|s| matches!(s, Step::Own { .. }))
        && let Some(place) = &entry.place
    {
        steps.push(Step::Own {
            number: 1,
            file: place.file.to_string(),
            line: place.line,
            function: None,
        });
        drawing.table.row(vec![
            1.into(),
            place.file.to_string().into(),
            place.line.into(),
            serde_json::Value::Null,
            true.into(),
        ]);
    }
    if steps.len() > STEPS {
        let out = steps.len() - STEPS;
        steps.splice(STEPS / 2..STEPS / 2 + out, [Step::LeftOut(out)]);
    }
    let failed = steps.len().saturating_sub(1);
    let elsewhere = |s: &&Suspect| {
        entry.place.as_ref().is_none_or(|p| *p.file != *s.file || p.line != Some(s.line))
    };
    let suspect = found.and_then(|f| f.suspects.first());
    let suspect = suspect.filter(|s| !s.is_reported()).filter(elsewhere);
    if let Some(suspect) = suspect {
        steps.push(Step::Guilty { file: suspect.file.to_string(), line: suspect.line });
        drawing.table.row(vec![
            0.into(),
            suspect.file.to_string().into(),
            suspect.line.into(),
            serde_json::Value::Null,
            true.into(),
        ]);
    }
    let mut columns: Vec<String> = Vec::new();
    for step in &steps {
        let name = step.column();
        if !columns.contains(&name) && columns.len() < COLUMNS {
            columns.push(name);
        }
    }
    let wide = WIDTH / columns.len().max(1) as f64;
    for (at, name) in columns.iter().enumerate() {
        let x = at as f64 * wide;
        let short = name.rsplit('/').next().unwrap_or(name);
        drawing.text(
            x + wide / 2.0,
            12.0,
            wide - 12.0,
            short,
            if name == OUTSIDE { Ink::Smoke } else { Ink::Ice },
            PLAIN,
            Anchor::Middle,
            Cut::Bold,
        );
        let down = 24.0 + steps.len() as f64 * (HIGH + GAP) - GAP;
        drawing.line(
            vec![(x + wide / 2.0, 20.0), (x + wide / 2.0, down)],
            Ink::Ash,
            0.6,
            Dash::Dots,
        );
    }
    let mut before: Option<(f64, f64)> = None;
    for (at, step) in steps.iter().enumerate() {
        let column = columns
            .iter()
            .position(|c| *c == step.column())
            .unwrap_or(columns.len().saturating_sub(1));
        let (x, y) = (column as f64 * wide, 24.0 + at as f64 * (HIGH + GAP));
        let (width, middle) = ((wide - 20.0).min(240.0), x + wide / 2.0);
        let fault = at == failed && matches!(step, Step::Own { .. });
        let guilty = matches!(step, Step::Guilty { .. });
        let dash = if guilty { Dash::Long } else { Dash::Solid };
        if let Some(from) = before {
            // Down, across, down: an arrow that crosses the drawing at a slant is hard to follow.
            let half = from.1 + GAP * 0.4;
            if (from.0 - middle).abs() > 1.0 {
                drawing.line(vec![from, (from.0, half), (middle, half)], Ink::Smoke, 1.6, dash);
            }
            let begin = if (from.0 - middle).abs() > 1.0 { (middle, half) } else { from };
            drawing.shapes.push(crate::Shape::Arrow {
                from: begin,
                to: (middle, y),
                ink: Ink::Smoke,
                dash,
            });
        }
        let (first, second) = step.words();
        let quiet = matches!(step, Step::Outside(_) | Step::LeftOut(_));
        let (ink, fill) = if fault {
            (Ink::Ember, 0.22)
        } else if guilty {
            (Ink::Straw, 0.22)
        } else if quiet {
            (Ink::Ash, 0.0)
        } else {
            (Ink::Slate, 0.1)
        };
        drawing.rect((middle - width / 2.0, y), (width, HIGH), ink, fill, true);
        let lower = if second.is_empty() { 24.0 } else { 17.0 };
        drawing.text(
            middle,
            y + lower,
            width - 12.0,
            &first,
            if quiet { Ink::Smoke } else { Ink::Chalk },
            12.0,
            Anchor::Middle,
            if fault || guilty { Cut::Bold } else { Cut::Regular },
        );
        drawing.text(
            middle,
            y + 32.0,
            width - 12.0,
            &second,
            Ink::Smoke,
            SMALL,
            Anchor::Middle,
            Cut::Regular,
        );
        before = Some((middle, y + HIGH));
        if fault {
            drawing.sign(middle - width / 2.0, y, Sign::Error);
        }
    }
    let mut y = 24.0 + steps.len() as f64 * (HIGH + GAP);
    let said = entry.root_message.as_str();
    drawing.text(
        WIDTH / 2.0,
        y + 12.0,
        WIDTH,
        if said.is_empty() { &entry.report.message } else { said },
        Ink::Ember,
        PLAIN,
        Anchor::Middle,
        Cut::Regular,
    );
    y += 20.0;
    if let Some(suspect) = suspect {
        let sure = if suspect.confidence >= LIKELY { "likely" } else { "possible" };
        let said = format!("Where to look first ({sure}): {}", suspect.reason());
        for line in wrap(&said, REASON) {
            let (ink, middle) = (Ink::Straw, Anchor::Middle);
            drawing.text(WIDTH / 2.0, y + 12.0, WIDTH, &line, ink, SMALL, middle, Cut::Regular);
            y += 18.0;
        }
    }
    drawing.size.1 = y;
    drawing.legend = vec![
        Key::Box(Ink::Slate, 0.1, "a step in your files; numbers count from the fault".into()),
        Key::Box(Ink::Ash, 0.0, "steps outside them".into()),
        Key::Box(Ink::Ember, 0.22, "where it failed".into()),
    ];
    if suspect.is_some() {
        drawing.legend.push(Key::Box(Ink::Straw, 0.22, "where to look first".into()));
        let words = "from where it failed back to there";
        drawing.legend.push(Key::Line(Ink::Smoke, Dash::Long, words.into()));
    }
    drawing
}

/// The column of what lies outside the project.
const OUTSIDE: &str = "outside your files";

enum Step {
    Own { number: usize, file: String, line: Option<u32>, function: Option<String> },
    Outside(usize),
    LeftOut(usize),
    Guilty { file: String, line: u32 },
}

impl Step {
    fn column(&self) -> String {
        match self {
            Step::Own { file, .. } | Step::Guilty { file, .. } => file.clone(),
            Step::Outside(_) | Step::LeftOut(_) => OUTSIDE.into(),
        }
    }

    fn words(&self) -> (String, String) {
        match self {
            Step::Own { number, line, function, .. } => {
                let place = line.map_or_else(
                    || format!("step {number}"),
                    |l| format!("step {number}, line {l}"),
                );
                (function.clone().unwrap_or_else(|| "the script itself".into()), place)
            }
            Step::Guilty { file, line } => {
                let short = file.rsplit('/').next().unwrap_or(file).to_owned();
                let place =
                    if *line == 0 { "the whole file".into() } else { format!("line {line}") };
                (short, place)
            }
            Step::Outside(1) => ("1 step".into(), String::new()),
            Step::Outside(n) => (format!("{n} steps"), String::new()),
            Step::LeftOut(n) => (format!("{n} steps left out here"), String::new()),
        }
    }
}
