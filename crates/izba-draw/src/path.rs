//! The path of an error through objects and scripts: from where it began at the top to the fault at
//! the bottom, a column for each script.

use crate::drawing::{Anchor, Dash, Drawing, Key, PLAIN, SMALL, Setting, Sign, WIDTH};
use crate::look::Ink;
use izba_core::GroupView;
use izba_model::StackFrame;

/// Steps that are drawn at most; the middle of a longer path is left out.
const STEPS: usize = 24;
/// Columns; further scripts share the last one.
const COLUMNS: usize = 6;
const HIGH: f64 = 40.0;
const GAP: f64 = 26.0;

/// Draws the path of a group.
pub fn path(group: &GroupView, setting: &Setting) -> Drawing {
    let entry = &*group.entry;
    let objects: Vec<&str> = group.objects.iter().map(|(o, _)| o.as_str()).take(3).collect();
    let under =
        if objects.is_empty() { String::new() } else { format!("struck {}", objects.join(", ")) };
    let title = format!("How it came to: {}", group.explanation.short);
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
            true,
        );
        let down = 24.0 + steps.len() as f64 * (HIGH + GAP) - GAP;
        drawing.line(
            vec![(x + wide / 2.0, 20.0), (x + wide / 2.0, down)],
            Ink::Ash,
            0.6,
            Dash::Dots,
        );
    }
    let last = steps.len().saturating_sub(1);
    let mut before: Option<(f64, f64)> = None;
    for (at, step) in steps.iter().enumerate() {
        let column = columns
            .iter()
            .position(|c| *c == step.column())
            .unwrap_or(columns.len().saturating_sub(1));
        let (x, y) = (column as f64 * wide, 24.0 + at as f64 * (HIGH + GAP));
        let (width, middle) = ((wide - 20.0).min(240.0), x + wide / 2.0);
        let fault = at == last && matches!(step, Step::Own { .. });
        if let Some(from) = before {
            // Down, across, down: an arrow that crosses the drawing at a slant is hard to follow.
            let half = from.1 + GAP * 0.4;
            if (from.0 - middle).abs() > 1.0 {
                drawing.line(
                    vec![from, (from.0, half), (middle, half)],
                    Ink::Smoke,
                    1.6,
                    Dash::Solid,
                );
            }
            let begin = if (from.0 - middle).abs() > 1.0 { (middle, half) } else { from };
            drawing.shapes.push(crate::Shape::Arrow {
                from: begin,
                to: (middle, y),
                ink: Ink::Smoke,
                dash: Dash::Solid,
            });
        }
        let (first, second) = step.words();
        let quiet = !matches!(step, Step::Own { .. });
        let (ink, fill) = if fault {
            (Ink::Ember, 0.22)
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
            fault,
        );
        drawing.text(
            middle,
            y + 32.0,
            width - 12.0,
            &second,
            Ink::Smoke,
            SMALL,
            Anchor::Middle,
            false,
        );
        before = Some((middle, y + HIGH));
    }
    let mut y = 24.0 + steps.len() as f64 * (HIGH + GAP);
    if let Some((middle, _)) = before {
        drawing.sign(middle, y - 8.0, Sign::Error);
    }
    y += 8.0;
    let said = entry.root_message.as_str();
    drawing.text(
        WIDTH / 2.0,
        y + 12.0,
        WIDTH,
        if said.is_empty() { &entry.report.message } else { said },
        Ink::Ember,
        PLAIN,
        Anchor::Middle,
        false,
    );
    drawing.size.1 = y + 20.0;
    drawing.legend = vec![
        Key::Box(Ink::Slate, 0.1, "a step in your files; numbers count from the fault".into()),
        Key::Box(Ink::Ash, 0.0, "steps outside them".into()),
        Key::Box(Ink::Ember, 0.22, "where it failed".into()),
    ];
    drawing
}

/// The column of what lies outside the project.
const OUTSIDE: &str = "outside your files";

enum Step {
    Own { number: usize, file: String, line: Option<u32>, function: Option<String> },
    Outside(usize),
    LeftOut(usize),
}

impl Step {
    fn column(&self) -> String {
        match self {
            Step::Own { file, .. } => file.clone(),
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
            Step::Outside(1) => ("1 step".into(), String::new()),
            Step::Outside(n) => (format!("{n} steps"), String::new()),
            Step::LeftOut(n) => (format!("{n} steps left out here"), String::new()),
        }
    }
}
