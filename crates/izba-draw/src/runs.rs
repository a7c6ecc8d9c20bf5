//! Groups by runs: in each row a mistake, in each column a run, so that what is new, quiet and back
//! is seen in one look.

use crate::drawing::{Anchor, Dash, Drawing, Key, PLAIN, SMALL, Setting, Sign, WIDTH};
use crate::font::Cut;
use crate::look::Ink;
use izba_core::{GroupView, RunSpan, State};
use izba_model::text::counted;
use izba_model::{Level, Millis};
use std::sync::Arc;

/// Runs and groups that are drawn at most: the newest, and the first.
const RUNS: usize = 16;
const GROUPS: usize = 40;
/// Width of the words, of the state and of a run.
const WORDS: f64 = 330.0;
const STATE: f64 = 60.0;
/// Height of a row.
const ROW: f64 = 34.0;

/// Draws the grid of one source.
pub fn runs(
    source: &str,
    runs: &[RunSpan],
    groups: &[Arc<GroupView>],
    setting: &Setting,
) -> Drawing {
    let shown = &runs[runs.len().saturating_sub(RUNS)..];
    let left_out = runs.len() - shown.len();
    let mut under = format!("{source}, {}", counted(runs.len() as u64, "run", "runs"));
    if left_out > 0 {
        under += &format!(", the newest {}", shown.len());
    }
    let mut drawing = Drawing::new(
        "Mistakes by runs",
        &under,
        setting,
        &["level", "message", "file", "line", "state", "run", "started", "count"],
    );
    if shown.is_empty() || groups.is_empty() {
        drawing.size.1 = 40.0;
        drawing.text(
            0.0,
            24.0,
            WIDTH,
            "No error and no warning in any run of this source.",
            Ink::Smoke,
            PLAIN,
            Anchor::Start,
            Cut::Regular,
        );
        return drawing;
    }
    let left = WORDS + STATE;
    let cell = ((WIDTH - left) / shown.len() as f64).min(64.0);
    for (row, label) in ["run", "ran for", "changed files"].iter().enumerate() {
        drawing.text(
            left - 10.0,
            12.0 + row as f64 * 16.0,
            STATE + 40.0,
            label,
            Ink::Smoke,
            SMALL,
            Anchor::End,
            Cut::Regular,
        );
    }
    for (at, run) in shown.iter().enumerate() {
        let middle = left + (at as f64 + 0.5) * cell;
        drawing.text(
            middle,
            12.0,
            cell,
            &run.run.to_string(),
            Ink::Chalk,
            PLAIN,
            Anchor::Middle,
            Cut::Bold,
        );
        let seconds = run.ran_ms / 1000;
        let ran =
            if seconds < 60 { format!("{seconds} s") } else { format!("{} min", seconds / 60) };
        drawing.text(middle, 28.0, cell, &ran, Ink::Smoke, SMALL, Anchor::Middle, Cut::Regular);
        let edits =
            if run.edits.is_empty() { "·".to_owned() } else { format!("▴ {}", run.edits.len()) };
        drawing.text(
            middle,
            44.0,
            cell,
            &edits,
            if run.edits.is_empty() { Ink::Ash } else { Ink::Heather },
            SMALL,
            Anchor::Middle,
            Cut::Regular,
        );
    }
    let most = groups.iter().flat_map(|g| g.runs.iter().map(|t| t.count)).max().unwrap_or(1).max(20)
        as f64;
    let top = 56.0;
    for (at, group) in groups.iter().take(GROUPS).enumerate() {
        let y = top + at as f64 * ROW;
        drawing.line(vec![(0.0, y), (WIDTH, y)], Ink::Ash, 0.5, Dash::Solid);
        let is_error = group.level() >= Level::Error;
        drawing.sign(7.0, y + 13.0, if is_error { Sign::Error } else { Sign::Warning });
        let ink = if group.state == State::Quiet { Ink::Smoke } else { Ink::Chalk };
        drawing.text(
            20.0,
            y + 17.0 - 1.0,
            WORDS - 24.0,
            &group.explanation.short.to_string(),
            ink,
            12.0,
            Anchor::Start,
            Cut::Regular,
        );
        let place = group.entry.place.as_ref();
        let told = place.map_or("outside your files".to_owned(), |p| {
            p.line.map_or(p.file.to_string(), |l| format!("{}:{l}", p.file))
        });
        drawing.text(
            20.0,
            y + 29.0,
            WORDS - 24.0,
            &told,
            if place.is_some() { Ink::Ice } else { Ink::Smoke },
            10.0,
            Anchor::Start,
            Cut::Regular,
        );
        let state = if group.muted { "aside" } else { group.state.word() };
        let state_ink = if group.state == State::Quiet { Ink::Moss } else { Ink::Slate };
        drawing.text(
            left - 10.0,
            y + 16.0,
            STATE,
            state,
            state_ink,
            SMALL,
            Anchor::End,
            Cut::Regular,
        );
        for (column, run) in shown.iter().enumerate() {
            let x = left + column as f64 * cell;
            let count = group.runs.iter().find(|t| t.run == run.run).map_or(0, |t| t.count);
            if count == 0 {
                drawing.text(
                    x + cell / 2.0,
                    y + 21.0,
                    cell,
                    "·",
                    Ink::Ash,
                    PLAIN,
                    Anchor::Middle,
                    Cut::Regular,
                );
                continue;
            }
            let share = ((count + 1) as f64).ln() / (most + 1.0).ln();
            drawing.rect(
                (x + 2.0, y + 5.0),
                (cell - 4.0, ROW - 10.0),
                if is_error { Ink::Ember } else { Ink::Straw },
                0.12 + 0.4 * share,
                true,
            );
            drawing.text(
                x + cell / 2.0,
                y + 21.0,
                cell - 6.0,
                &short(count),
                Ink::Chalk,
                SMALL,
                Anchor::Middle,
                Cut::Bold,
            );
            drawing.table.row(vec![
                group.level().word().into(),
                group.explanation.short.to_string().into(),
                place.map(|p| p.file.to_string()).into(),
                place.and_then(|p| p.line).into(),
                state.into(),
                run.run.into(),
                run.started.and_then(Millis::to_rfc3339).into(),
                count.into(),
            ]);
        }
    }
    let drawn = groups.len().min(GROUPS);
    let mut bottom = top + drawn as f64 * ROW;
    if groups.len() > drawn {
        drawing.text(
            20.0,
            bottom + 16.0,
            WORDS,
            &format!("and {} more", groups.len() - drawn),
            Ink::Smoke,
            SMALL,
            Anchor::Start,
            Cut::Regular,
        );
        bottom += 22.0;
    }
    drawing.size.1 = bottom;
    drawing.legend = vec![
        Key::Sign(Sign::Error, "an error".into()),
        Key::Sign(Sign::Warning, "a warning".into()),
        Key::Box(Ink::Ember, 0.4, "how often in this run; the fuller the more".into()),
        Key::Sign(Sign::Save, "files that were changed before the run".into()),
    ];
    drawing
}

/// A count in at most four signs.
fn short(count: u64) -> String {
    match count {
        0..=9_999 => count.to_string(),
        10_000..=999_999 => format!("{}k", count / 1_000),
        _ => format!("{}M", (count / 1_000_000).min(999)),
    }
}
