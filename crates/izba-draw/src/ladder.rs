//! The ladder of blocks of a script: what opens where and closes where, with what disagrees, beside
//! its lines.

use crate::drawing::{Anchor, Dash, Drawing, Key, SMALL, Setting, WIDTH};
use crate::font::{self, Cut};
use crate::look::Ink;
use izba_model::code::{Clash, Rung};
use izba_model::text::counted;

/// Lines that are drawn at most, around what disagrees.
const LINES: u32 = 90;
const ROW: f64 = 18.0;
/// Code, of which a line of a hundred characters fits.
const CODE: f64 = 12.0;
/// From one rail to the next.
const STEP: f64 = 14.0;
/// Rails that are told apart; deeper ones lie on the last.
const DEEP: u32 = 10;

/// Draws the ladder of the script `name`.
pub fn ladder(name: &str, text: &str, rungs: &[Rung], setting: &Setting) -> Drawing {
    let odd = |r: &&Rung| r.clash != Clash::None;
    let count = rungs.iter().filter(odd).count() as u64;
    let under = match count {
        0 => format!(
            "{}, all of them closed where they stand",
            counted(rungs.len() as u64, "block", "blocks")
        ),
        n => format!("{} of {} disagree", n, counted(rungs.len() as u64, "block", "blocks")),
    };
    let mut drawing = Drawing::new(
        format!("Blocks of {name}"),
        &under,
        setting,
        &["opener", "from", "to", "depth", "clash"],
    );
    for rung in rungs {
        let clash = word(rung.clash);
        drawing.table.row(vec![
            rung.opener.to_string().into(),
            rung.from.into(),
            rung.to.into(),
            rung.depth.into(),
            clash.into(),
        ]);
    }
    let lines: Vec<&str> = text.lines().collect();
    let all = lines.len() as u32;
    let (mut first, mut last) = (1, all);
    if all > LINES {
        let from = rungs.iter().filter(odd).map(|r| r.from).min().unwrap_or(1);
        first = from.saturating_sub(8).max(1);
        last = (first + LINES - 1).min(all);
    }
    let deepest = rungs.iter().map(|r| r.depth.min(DEEP)).max().unwrap_or(0);
    let code = 44.0 + f64::from(deepest + 1) * STEP + 10.0;
    let y_of = |line: u32| f64::from(line.clamp(first, last) - first) * ROW + 12.0;
    for number in first..=last {
        let y = y_of(number);
        let at_fault = rungs.iter().filter(odd).any(|r| r.from == number || r.to == Some(number));
        if at_fault {
            drawing.rect((40.0, y - 11.5), (WIDTH - 40.0, ROW), Ink::Straw, 0.14, false);
        }
        drawing.text(
            32.0,
            y,
            32.0,
            &number.to_string(),
            Ink::Smoke,
            SMALL,
            Anchor::End,
            Cut::Regular,
        );
        let line = lines.get(number as usize - 1).copied().unwrap_or("").replace('\t', "    ");
        let said = odd_at(rungs, &lines, number);
        let taken = font::width(&said, SMALL, Cut::Bold);
        let ink = if at_fault { Ink::Chalk } else { Ink::Slate };
        let room = WIDTH - code - taken;
        drawing.text(code, y, room, line.trim_end(), ink, CODE, Anchor::Start, Cut::Mono);
        if !said.is_empty() {
            drawing.text(WIDTH, y, taken, &said, Ink::Ember, SMALL, Anchor::End, Cut::Bold);
        }
    }
    for rung in rungs.iter().filter(|r| r.from <= last && r.to.unwrap_or(last) >= first) {
        let x = 44.0 + f64::from(rung.depth.min(DEEP)) * STEP;
        let (from, to) = (y_of(rung.from) - 4.0, y_of(rung.to.unwrap_or(last)) - 4.0);
        let (ink, width, dash) = match rung.clash {
            Clash::None => (Ink::Smoke, 1.0, Dash::Solid),
            Clash::Open => (Ink::Ember, 2.2, Dash::Long),
            Clash::Slanted | Clash::Stray => (Ink::Straw, 2.2, Dash::Mixed),
        };
        let foot = STEP * 0.6;
        let mut points = vec![(x + foot, from), (x, from), (x, to)];
        if rung.to.is_some() {
            points.push((x + foot, to));
        }
        drawing.line(points, ink, width, dash);
        if rung.clash == Clash::Open {
            // The rung that is not there: the outline of one.
            let (lacks, line) = missing(rung, rungs, &lines);
            let (x, y) = (44.0 + f64::from(lacks.depth.min(DEEP)) * STEP, y_of(line) + 5.0);
            drawing.rect((x - 3.0, y - 3.0), (STEP, 7.0), Ink::Ember, 0.0, true);
        }
    }
    let mut bottom = y_of(last) + 10.0;
    if last - first + 1 < all {
        let words = format!("lines {first} to {last} of {all}");
        drawing.text(
            code,
            bottom + 10.0,
            WIDTH - code,
            &words,
            Ink::Smoke,
            SMALL,
            Anchor::Start,
            Cut::Regular,
        );
        bottom += 18.0;
    }
    drawing.size.1 = bottom;
    drawing.legend = vec![
        Key::Line(Ink::Smoke, Dash::Solid, "opened and closed at one depth".into()),
        Key::Line(Ink::Ember, Dash::Long, "nothing closes it".into()),
        Key::Box(Ink::Ember, 0.0, "the rung that is missing, by the indentation".into()),
        Key::Line(
            Ink::Straw,
            Dash::Mixed,
            "its end stands at another depth, or closes what nothing opened".into(),
        ),
    ];
    drawing
}

/// How far a line is indented, in characters; none for a line that is not there.
fn indent(lines: &[&str], number: u32) -> Option<usize> {
    let line = lines.get((number as usize).checked_sub(1)?)?;
    Some(line.len() - line.trim_start().len())
}

/// The block whose closer is missing, by the indentation, and the line after which it belongs: an
/// opener that nothing closes, or rather the one within it that took its closer.
fn missing<'r>(open: &'r Rung, rungs: &'r [Rung], lines: &[&str]) -> (&'r Rung, u32) {
    let depth = indent(lines, open.from);
    let took = |r: &&Rung| {
        r.clash == Clash::Slanted
            && r.from > open.from
            && r.to.and_then(|to| indent(lines, to)) == depth
    };
    let lacks = rungs.iter().find(took).unwrap_or(open);
    let opener = indent(lines, lacks.from).unwrap_or(0);
    let deeper = |number: &u32| {
        let line = lines[*number as usize - 1];
        line.trim().is_empty() || indent(lines, *number).is_some_and(|i| i > opener)
    };
    let inside = (lacks.from + 1..=lines.len() as u32).take_while(deeper);
    let last = inside.filter(|n| !lines[*n as usize - 1].trim().is_empty()).last();
    (lacks, last.unwrap_or(lacks.from))
}

/// What disagrees at a line, in words for its margin; nothing where all agrees.
fn odd_at(rungs: &[Rung], lines: &[&str], number: u32) -> String {
    let open = rungs.iter().filter(|r| r.clash == Clash::Open).map(|r| missing(r, rungs, lines));
    let mut lacks = open.filter(|m| m.1 == number).map(|(r, _)| r);
    if let Some(rung) = lacks.next() {
        return format!("after this the end of line {} is missing", rung.from);
    }
    let stray = rungs.iter().any(|r| r.clash == Clash::Stray && r.from == number);
    if stray { "closes nothing: one too many".to_owned() } else { String::new() }
}

fn word(clash: Clash) -> &'static str {
    match clash {
        Clash::None => "none",
        Clash::Open => "open",
        Clash::Slanted => "slanted",
        Clash::Stray => "stray",
    }
}
