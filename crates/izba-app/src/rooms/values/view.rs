//! Room Values: a list of what is printed under a name, and the chosen one large, with the moments
//! at which the chosen error came.

use super::chart;
use crate::model::Model;
use crate::parts::pen::{BARS, ago, put, put_right, safe, title};
use crate::theme::{Ground, Ink};
use izba_core::values::{Kept, Series, pin_key};
use izba_model::Millis;
use izba_model::text::{counted, thousands};
use izba_model::text::{fit, width_cells, wrap};
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::{Modifier, Style};
use std::sync::Arc;

/// Cells of a small chart in the list.
const SMALL: usize = 16;

/// Draws the room into `area`; what finds no room there is left out.
pub fn draw(model: &Model, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let side = if area.width >= 100 { 2 } else { 1 };
    let inner = Rect::new(
        side,
        2,
        area.width.saturating_sub(2 * side),
        area.height.saturating_sub(4 + crate::model::tour_rows(model)),
    );
    let view = model.live.values.clone().unwrap_or_default();
    let told = match view.waiting {
        0 => counted(view.series.len() as u64, "value", "values"),
        n => format!(
            "{}, {} still to read",
            counted(view.series.len() as u64, "value", "values"),
            counted(n, "line", "lines")
        ),
    };
    let mut told = told;
    if view.left_out > 0 {
        told = format!("{told}; {} before them not read", counted(view.left_out, "line", "lines"));
    }
    if view.beyond > 0 {
        told = format!("{told}; {} found no room", thousands(view.beyond));
    }
    if view.series.is_empty() {
        title(buf, theme, inner, "Values", true, &told);
        let words = "No value was printed yet. Whatever your program prints under a name is followed \
            here by itself: fuel=0.4, tide: 1.82, passengers 12 of 30, the fields of a JSON \
            line, a number in an otherwise fixed message, a state such as gate=open.";
        for (at, line) in wrap(words, usize::from(inner.width.min(100))).into_iter().enumerate() {
            put(
                buf,
                inner.x,
                inner.y + 2 + at as u16,
                inner.width,
                &[(&line, theme.ink(Ink::Smoke))],
            );
        }
        return;
    }
    let chosen = model.values.row.min(view.series.len() - 1);
    let (list, chart) = if model.is_narrow() {
        let upper = (inner.height / 2).min(view.series.len() as u16 + 2);
        (
            Rect::new(inner.x, inner.y, inner.width, upper),
            Rect::new(inner.x, inner.y + upper, inner.width, inner.height - upper),
        )
    } else {
        let left = (inner.width * 48 / 100).clamp(48, 84);
        (
            Rect::new(inner.x, inner.y, left, inner.height),
            Rect::new(inner.x + left + 3, inner.y, inner.width - left - 3, inner.height),
        )
    };
    draw_list(model, &view.series, chosen, list, &told, buf);
    chart::draw(model, &view.series, chosen, chart, buf);
}

fn draw_list(
    model: &Model,
    all: &[Arc<Series>],
    chosen: usize,
    area: Rect,
    told: &str,
    buf: &mut Buffer,
) {
    let theme = model.theme;
    title(buf, theme, area, "Values", true, told);
    let room = usize::from(area.height.saturating_sub(1));
    let first = (chosen + 2).saturating_sub(room).min(all.len().saturating_sub(room)).min(chosen);
    let now = model.live.snapshot.now;
    let bold = theme.ink(Ink::Chalk).add_modifier(Modifier::BOLD);
    let shown = || all.iter().enumerate().skip(first).take(room);
    let widest = shown().map(|(_, s)| width_cells(&s.name)).max().unwrap_or(0).clamp(6, 20);
    for (at, series) in shown() {
        let y = area.y + 1 + (at - first) as u16;
        if at == chosen {
            buf.set_style(Rect::new(area.x, y, area.width, 1), theme.ground(Ground::Bench));
        }
        let beside = model.values.beside.contains(&(series.who.clone(), series.name.clone()));
        let pinned = model.live.known.contains(&pin_key(&series.who, &series.name));
        let mark = if beside {
            "+ "
        } else if pinned {
            "▪ "
        } else {
            "  "
        };
        let name = fit(&safe(&series.name), widest).into_owned();
        let changed = match series.is_constant() {
            true => "always".to_owned(),
            false => ago(Millis(series.changed), now),
        };
        let last = with_unit(series);
        put(
            buf,
            area.x,
            y,
            area.width,
            &[(mark, theme.ink(Ink::Ice)), (&name, theme.ink(Ink::Chalk))],
        );
        put_right(buf, area.right(), y, 11, &[(&format!(" {changed}"), theme.ink(Ink::Smoke))]);
        let mut right = area.right().saturating_sub(12);
        if area.width >= 64 {
            put_right(buf, right, y, SMALL as u16, &[(&small(series), theme.ink(Ink::Ice))]);
            right = right.saturating_sub(SMALL as u16 + 1);
        }
        let number = put_right(buf, right, y, 12, &[(&last, bold)]);
        let who = area.x + 4 + widest as u16;
        put(
            buf,
            who,
            y,
            number.saturating_sub(who + 1),
            &[(&safe(&series.who), theme.ink(Ink::Smoke))],
        );
    }
    let left = all.len().saturating_sub(first + room);
    if left > 0 {
        put_right(
            buf,
            area.right(),
            area.bottom().saturating_sub(1),
            14,
            &[(&format!(" {left} more ↓ "), theme.ink(Ink::Smoke))],
        );
    }
}

/// A series in a few cells: of each stretch the peak.
fn small(series: &Series) -> String {
    let (Kept::Numbers(buckets), Some((least, most)), Some((from, to))) =
        (&series.kept, series.range(), series.span())
    else {
        return String::new();
    };
    let (height, length) = ((most - least).max(f64::MIN_POSITIVE), (to - from).max(1));
    let mut cells: Vec<Option<f64>> = vec![None; SMALL];
    for bucket in buckets {
        let at = usize::try_from((bucket.from - from) * SMALL as i64 / (length + 1))
            .unwrap_or(0)
            .min(SMALL - 1);
        cells[at] = Some(cells[at].map_or(bucket.most, |m: f64| m.max(bucket.most)));
    }
    let mut before = least;
    let cell = |value: Option<f64>| {
        before = value.unwrap_or(before);
        // Never full, so that one row is told from the next.
        BARS[1 + (((before - least) / height) * 5.0).round().clamp(0.0, 5.0) as usize]
    };
    cells.into_iter().map(cell).collect()
}

/// The values that are pinned, in one row of room Now.
pub fn pins(model: &Model, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let mut x = area.x;
    for series in model.pinned() {
        if area.height == 0 || x + 12 > area.right() {
            return;
        }
        let (name, last, chart) =
            (fit(&safe(&series.name), 20).into_owned(), with_unit(series), small(series));
        let pieces = [
            (&*name, theme.ink(Ink::Smoke)),
            (" ", Style::new()),
            (&*last, theme.ink(Ink::Chalk)),
            (" ", Style::new()),
            (&*chart, theme.ink(Ink::Ice)),
        ];
        x += put(buf, x, area.y, area.right() - x, &pieces) + 3;
    }
}

/// The last value with its unit, cut to a column.
fn with_unit(series: &Series) -> String {
    let unit = series.unit.as_deref().map(|u| format!(" {}", safe(u))).unwrap_or_default();
    fit(&format!("{}{unit}", safe(&series.last)), 12).into_owned()
}
