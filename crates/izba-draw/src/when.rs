//! The lanes of When: for each source how many lines and errors came over time, with starts of runs
//! and saves.

use crate::drawing::{Anchor, Dash, Drawing, Key, PLAIN, SMALL, Setting, Sign, WIDTH, moments};
use crate::font::Cut;
use crate::look::Ink;
use izba_core::timeline::{Mark, MarkKind};
use izba_core::{RunMark, Snapshot, SourceView};
use izba_model::Millis;
use izba_model::text::{base_name, counted};

/// Parts into which the time is cut.
const PARTS: usize = 180;
/// Height of the errors of a lane above its rule, and of the lines below it.
const UP: f64 = 34.0;
const DOWN: f64 = 22.0;
/// From one lane to the next.
const LANE: f64 = UP + DOWN + 62.0;

/// Draws the lanes. Counts are on a log scale, so that one error beside thousands is seen.
pub fn when(snapshot: &Snapshot, setting: &Setting) -> Drawing {
    let all: u64 = snapshot.sources.iter().map(|s| s.lines).sum();
    let under = format!(
        "{} from {}",
        counted(all, "line", "lines"),
        counted(snapshot.sources.len() as u64, "source", "sources")
    );
    let mut drawing = Drawing::new(
        "When: lines and errors over time",
        &under,
        setting,
        &["source", "from", "to", "lines", "warnings", "errors"],
    );
    let (Some(from), Some(end)) = (snapshot.timeline.start(), snapshot.timeline.end()) else {
        drawing.size.1 = 40.0;
        drawing.text(
            0.0,
            24.0,
            WIDTH,
            "Nothing came at a known time.",
            Ink::Smoke,
            PLAIN,
            Anchor::Start,
            Cut::Regular,
        );
        return drawing;
    };
    let to = Millis(end.0.max(from.0 + 1000));
    let length = (to.0 - from.0) as f64;
    let x_of = |time: Millis| (time.0 - from.0) as f64 / length * WIDTH;
    let part = WIDTH / PARTS as f64;
    for (at, source) in snapshot.sources.iter().enumerate() {
        let strip = snapshot.timeline.strip(Some(at), from, to, PARTS);
        let top = at as f64 * LANE;
        let total = snapshot.timeline.total(at);
        let counts = format!(
            "{}, {}, {}",
            counted(source.lines, "line", "lines"),
            counted(total.errors.into(), "error", "errors"),
            counted(total.warnings.into(), "warning", "warnings")
        );
        let named = drawing.text(
            0.0,
            top + 12.0,
            WIDTH / 2.0,
            &source.name,
            Ink::Chalk,
            PLAIN,
            Anchor::Start,
            Cut::Bold,
        );
        drawing.text(
            named + 14.0,
            top + 12.0,
            WIDTH / 2.0 - 20.0,
            &counts,
            Ink::Smoke,
            SMALL,
            Anchor::Start,
            Cut::Regular,
        );
        let rule = top + 24.0 + UP;
        let most_lines = strip.iter().map(|b| b.lines).max().unwrap_or(0);
        let most = strip.iter().map(|b| b.errors.max(b.warnings)).max().unwrap_or(0);
        let high = |count: u32, most: u32, room: f64| {
            if count == 0 {
                0.0
            } else {
                (f64::from(count + 1).ln() / f64::from(most + 1).ln() * room).max(2.0)
            }
        };
        for (n, bucket) in strip.iter().enumerate() {
            let x = n as f64 * part;
            let lines = high(bucket.lines, most_lines, DOWN);
            if lines > 0.0 {
                drawing.rect((x, rule + 1.0), (part - 0.6, lines), Ink::Ash, 1.0, false);
            }
            let (errors, warnings) =
                (high(bucket.errors, most, UP), high(bucket.warnings, most, UP));
            if errors > 0.0 {
                drawing.rect((x, rule - errors), (part - 0.6, errors), Ink::Ember, 1.0, false);
            } else if warnings > 0.0 {
                drawing.rect(
                    (x + 0.5, rule - warnings),
                    (part - 1.6, warnings),
                    Ink::Straw,
                    0.0,
                    true,
                );
            }
        }
        // What is drawn is rounded up so that one error is seen; the numbers behind it are exact.
        for (begins, ends, bucket) in snapshot.timeline.counted(at) {
            let counts = [bucket.lines, bucket.warnings, bucket.errors].map(Into::into);
            let times = [begins.to_rfc3339().into(), ends.to_rfc3339().into()];
            let cells = std::iter::once(source.name.clone().into()).chain(times).chain(counts);
            drawing.table.row(cells.collect());
        }
        drawing.line(vec![(0.0, rule), (WIDTH, rule)], Ink::Smoke, 0.8, Dash::Solid);
        let below = rule + DOWN + 10.0;
        for end in ends(source).filter(|end| (from..=to).contains(end)) {
            drawing.sign(x_of(end), below, Sign::End);
        }
        let mut free = 0.0;
        for mark in snapshot.timeline.marks() {
            let (sign, words) = match &mark.what {
                MarkKind::RunStart(which, run) if *which == at => {
                    (Sign::Start, format!("run {run}"))
                }
                MarkKind::Updated(which, path) if *which == at => {
                    (Sign::Anew, base_name(path).to_owned())
                }
                MarkKind::RunStart(..) | MarkKind::Updated(..) => continue,
                MarkKind::Saved(path) => (Sign::Save, base_name(path).to_owned()),
            };
            let x = x_of(mark.time).clamp(0.0, WIDTH);
            drawing.sign(x, below, sign);
            // Words are left out where those before them still stand.
            if x >= free && x < WIDTH - 40.0 {
                free = x
                    + 12.0
                    + drawing.text(
                        x + 8.0,
                        below + 4.0,
                        WIDTH - x - 8.0,
                        &words,
                        Ink::Smoke,
                        SMALL,
                        Anchor::Start,
                        Cut::Regular,
                    );
            }
        }
    }
    let bottom = snapshot.sources.len() as f64 * LANE;
    drawing.line(vec![(0.0, bottom), (WIDTH, bottom)], Ink::Ash, 0.8, Dash::Solid);
    for time in moments(setting, from, to, 6) {
        let x = x_of(time);
        drawing.line(vec![(x, bottom), (x, bottom + 4.0)], Ink::Smoke, 0.8, Dash::Solid);
        drawing.text(
            x,
            bottom + 17.0,
            80.0,
            &setting.clock(time),
            Ink::Smoke,
            SMALL,
            if x < 30.0 { Anchor::Start } else { Anchor::Middle },
            Cut::Regular,
        );
    }
    drawing.text(
        WIDTH,
        bottom + 33.0,
        WIDTH,
        setting.axis(),
        Ink::Smoke,
        SMALL,
        Anchor::End,
        Cut::Regular,
    );
    drawing.size.1 = bottom + 38.0;
    drawing.legend = vec![
        Key::Box(Ink::Ember, 1.0, "errors, above the rule".into()),
        Key::Box(Ink::Straw, 0.0, "warnings".into()),
        Key::Box(Ink::Ash, 1.0, "lines, below it; all on a log scale".into()),
        Key::Sign(Sign::Start, "a run starts".into()),
        Key::Sign(Sign::End, "it ends".into()),
        Key::Sign(Sign::Save, "a file is saved".into()),
    ];
    let is_update = |m: &Mark| matches!(m.what, MarkKind::Updated(..));
    if snapshot.timeline.marks().iter().any(is_update) {
        let words = "a file is read anew, and the run goes on";
        drawing.legend.push(Key::Sign(Sign::Anew, words.into()));
    }
    drawing
}

/// When the runs of a source ended, as far as they did.
fn ends(source: &SourceView) -> impl Iterator<Item = Millis> {
    let goes_on = matches!(source.mark, RunMark::Running);
    let (last, runs) = (source.run, source.runs.iter());
    runs.filter(move |r| !(goes_on && r.run == last))
        .filter_map(|r| Some(Millis(r.started?.0 + i64::try_from(r.ran_ms).ok()?)))
}
