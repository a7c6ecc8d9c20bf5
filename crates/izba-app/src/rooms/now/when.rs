//! When: errors over lines, on one axis of time, with the starts of runs and saves; opened, a lane
//! for each source.

use super::moment;
use crate::model::{Model, Question};
use crate::parts::pen::{BARS, clock, lasting, put, safe, title};
use crate::theme::{Ground, Ink};
use izba_core::timeline::{Bucket, MarkKind};
use izba_model::Millis;
use izba_model::text::base_name;
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::Style;

/// A bar for `count` against the `most` of the strip, on a log scale, so that one error beside
/// thousands is seen.
fn bar(count: u32, most: u32) -> &'static str {
    if count == 0 {
        return BARS[0];
    }
    let share = f64::from(count + 1).ln() / f64::from(most.max(1) + 1).ln();
    BARS[(share * 8.0).ceil().clamp(1.0, 8.0) as usize]
}

fn strip(
    model: &Model,
    source: Option<usize>,
    span: (Millis, Millis),
    columns: usize,
) -> Vec<Bucket> {
    model.shown.snapshot.timeline.strip(source, span.0, span.1, columns)
}

fn draw_strip(model: &Model, buckets: &[Bucket], x: u16, y: u16, two_rows: bool, buf: &mut Buffer) {
    let theme = model.theme;
    let most_lines = buckets.iter().map(|b| b.lines).max().unwrap_or(0);
    let most_errors = buckets.iter().map(|b| b.errors.max(b.warnings)).max().unwrap_or(0);
    for (at, bucket) in buckets.iter().enumerate() {
        let column = x + at as u16;
        let grave = if bucket.errors > 0 {
            Some((bucket.errors, Ink::Ember))
        } else if bucket.warnings > 0 {
            Some((bucket.warnings, Ink::Straw))
        } else {
            None
        };
        if let Some((count, ink)) = grave {
            put(buf, column, y, 1, &[(bar(count, most_errors), theme.ink(ink))]);
        }
        if two_rows {
            put(buf, column, y + 1, 1, &[(bar(bucket.lines, most_lines), theme.ink(Ink::Ash))]);
        } else if grave.is_none() {
            put(buf, column, y, 1, &[(bar(bucket.lines, most_lines), theme.ink(Ink::Ash))]);
        }
    }
}

/// Draws the pane into `area`; what finds no room there is left out.
pub fn draw(model: &Model, area: Rect, buf: &mut Buffer) {
    if area.height == 0 || area.width < 10 {
        return;
    }
    let theme = model.theme;
    let snapshot = &model.shown.snapshot;
    let focused = model.focus == Question::When;
    let Some(span) = moment::span(model) else {
        title(buf, theme, area, "When", focused, "nothing has come yet");
        return;
    };
    let many = snapshot.sources.len() > 1;
    let zoomed = model.zoom == Some(Question::When);
    let whole = format!(
        "{}{}{}{}",
        lasting(span.1.since(span.0)),
        if model.when.span.is_some() { " of it" } else { "" },
        if many { ", all sources" } else { "" },
        if zoomed { "" } else { "   z opens the lanes" }
    );
    let words = moment::words(model).unwrap_or(whole);
    title(buf, theme, area, "When", focused, &words);
    if zoomed {
        lanes(model, area, span, buf);
        return;
    }
    let two_rows = area.height >= 4;
    let buckets = strip(model, None, span, usize::from(area.width));
    draw_strip(model, &buckets, area.x, area.y + 1, two_rows, buf);
    if two_rows {
        marks(model, None, Rect::new(area.x, area.y + 3, area.width, 1), span, buf);
    }
    hand(model, Rect::new(area.x, area.y + 1, area.width, if two_rows { 2 } else { 1 }), span, buf);
}

/// The hand at the moment that is read off.
fn hand(model: &Model, area: Rect, span: (Millis, Millis), buf: &mut Buffer) {
    if let Some((from, to)) = moment::drawn(model, span, area.width) {
        let drawn = Rect::new(area.x + from, area.y, to - from + 1, area.height);
        buf.set_style(drawn, model.theme.ground(Ground::Bench));
    }
    let Some(at) = moment::chosen(model) else { return };
    let x = area.x + moment::column(at, span, area.width);
    for y in area.y..area.bottom() {
        let ink = model.theme.ink(Ink::Chalk);
        match buf[(x, y)].symbol().trim().is_empty() {
            true => drop(put(buf, x, y, 1, &[("│", ink)])),
            false => buf.set_style(Rect::new(x, y, 1, 1), ink),
        }
    }
}

fn lanes(model: &Model, area: Rect, span: (Millis, Millis), buf: &mut Buffer) {
    let theme = model.theme;
    let mut y = area.y + 2;
    for (at, source) in model.shown.snapshot.sources.iter().enumerate() {
        if y + 4 > area.bottom() {
            put(
                buf,
                area.x,
                y,
                area.width,
                &[("more sources than fit here", theme.ink(Ink::Smoke))],
            );
            return;
        }
        let buckets = strip(model, Some(at), span, usize::from(area.width));
        let total = model.shown.snapshot.timeline.total(at);
        let (errors, warnings) = (u64::from(total.errors), u64::from(total.warnings));
        let counts = format!(
            "   {} · {} · {}",
            izba_model::text::counted(source.lines, "line", "lines"),
            izba_model::text::counted(errors, "error", "errors"),
            izba_model::text::counted(warnings, "warning", "warnings")
        );
        put(
            buf,
            area.x,
            y,
            area.width,
            &[(&safe(&source.name), theme.ink(Ink::Chalk)), (&counts, theme.ink(Ink::Smoke))],
        );
        draw_strip(model, &buckets, area.x, y + 1, true, buf);
        hand(model, Rect::new(area.x, y + 1, area.width, 2), span, buf);
        marks(model, Some(at), Rect::new(area.x, y + 3, area.width, 1), span, buf);
        y += 5;
    }
    if y < area.bottom() {
        let ends =
            format!("{} to {}", clock(span.0, model.utc_offset), clock(span.1, model.utc_offset));
        put(
            buf,
            area.x,
            y,
            area.width,
            &[
                (&ends, theme.ink(Ink::Smoke)),
                ("   errors above, lines below; both on a log scale", theme.ink(Ink::Smoke)),
            ],
        );
    }
}

/// Starts of runs, what was read anew, and saves under the strip; newer words win where there is no room for all.
fn marks(
    model: &Model,
    source: Option<usize>,
    area: Rect,
    span: (Millis, Millis),
    buf: &mut Buffer,
) {
    let theme = model.theme;
    let width = u64::from(area.width.max(1));
    let length = span.1.since(span.0).max(1);
    let several = model.shown.snapshot.sources.len() > 1;
    let mut free_until = area.right();
    // A run begins a little before its first line; only of a part of the time it may lie outside.
    let shown = |at: Millis| (model.when.span.is_none() || at >= span.0) && at <= span.1;
    let all = model.shown.snapshot.timeline.marks();
    for mark in all.iter().rev().filter(|mark| shown(mark.time)) {
        let column = (mark.time.since(span.0) * width / length).min(width - 1) as u16;
        let x = area.x + column;
        let (sign, words, ink) = match &mark.what {
            MarkKind::RunStart(which, run) => {
                if source.is_some_and(|s| s != *which)
                    || (several && source.is_none() && *run == 1 && *which > 0)
                {
                    continue;
                }
                ("╷", format!("run {run} starts"), Ink::Smoke)
            }
            MarkKind::Updated(which, _) if source.is_some_and(|s| s != *which) => continue,
            MarkKind::Updated(_, path) => {
                ("╎", format!("{} read anew", safe(base_name(path))), Ink::Smoke)
            }
            MarkKind::Saved(path) => {
                ("▴", format!("{} saved", safe(base_name(path))), Ink::Heather)
            }
        };
        let needs = izba_model::text::width_cells(&words) as u16 + 3;
        if x + needs <= free_until {
            put(
                buf,
                x,
                area.y,
                needs,
                &[(sign, theme.ink(ink)), (" ", Style::new()), (&words, theme.ink(ink))],
            );
        } else if x < free_until {
            put(buf, x, area.y, 1, &[(sign, theme.ink(ink))]);
        }
        free_until = free_until.min(x);
    }
}
