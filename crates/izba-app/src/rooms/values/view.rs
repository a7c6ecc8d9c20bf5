//! Room Values: a list of what is printed under a name, and the chosen one large, with the moments
//! at which the chosen error came.

use crate::model::Model;
use crate::parts::pen::{BARS, ago, clock, put, put_right, safe, title};
use crate::theme::{Ground, Ink};
use izba_core::values::{Kept, LOOKS, Series, number, pin_key, printed_by};
use izba_model::Millis;
use izba_model::text::{counted, thousands};
use izba_model::text::{fit, width_cells, wrap};
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::{Modifier, Style};
use ratatui::symbols::Marker;
use ratatui::widgets::{Axis, Chart, Dataset, GraphType, Widget};
use std::sync::Arc;

/// Cells of a small chart in the list.
const SMALL: usize = 16;
/// Cells for the numbers beside a chart.
const GUTTER: u16 = 9;
/// Colours of series that are drawn beside one another; the chosen one has the first.
const INKS: [Ink; 4] = [Ink::Ice, Ink::Moss, Ink::Heather, Ink::Straw];

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
    draw_chart(model, &view.series, chosen, chart, buf);
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
        let last = with_unit(series);
        put(
            buf,
            area.x,
            y,
            area.width,
            &[(mark, theme.ink(Ink::Ice)), (&name, theme.ink(Ink::Chalk))],
        );
        put_right(
            buf,
            area.right(),
            y,
            11,
            &[(&format!(" {}", ago(Millis(series.changed), now)), theme.ink(Ink::Smoke))],
        );
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

/// The stretch of time that is shown.
pub fn stretch(model: &Model, drawn: &[&Arc<Series>]) -> (i64, i64) {
    let spans = || drawn.iter().filter_map(|s| s.span());
    let (from, to) =
        (spans().map(|s| s.0).min().unwrap_or(0), spans().map(|s| s.1).max().unwrap_or(1));
    let length = ((to - from) >> model.values.zoom).max(1);
    let end = to - length * i64::try_from(model.values.back).unwrap_or(0);
    ((end - length).max(from), end.max(from + 1))
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

/// What differs before the chosen error: rows, each with its ink.
fn differing(model: &Model, width: usize) -> Vec<(Ink, String)> {
    let (Some(group), Some(view)) = (model.selected(), &model.live.values) else {
        return Vec::new();
    };
    let mut rows =
        vec![(Ink::Chalk, format!("Just before: {}", safe(&group.explanation.short.to_string())))];
    let Some(differing) = view.differing.as_ref().filter(|d| group.holds(d.group)) else {
        return Vec::new();
    };
    let Some(before) = &differing.before else {
        rows.push((
            Ink::Smoke,
            format!("looking at {} …", counted(differing.series.len() as u64, "value", "values")),
        ));
        return rows;
    };
    let next = LOOKS.iter().find(|l| **l > before.known);
    if before.moments == 0 {
        let words = format!(
            "It has to happen {} times before Izba can compare; {} so far.",
            LOOKS[0], before.known
        );
        rows.push((Ink::Smoke, words));
        return rows;
    }
    let told = before.found.iter().filter(|f| f.sure || f.chance < 0.5).take(3);
    let mut any = false;
    for found in told {
        let Some(series) = differing.series.get(found.series) else { continue };
        any = true;
        let (sign, word) = if found.sure { ("●", "likely") } else { ("◐", "can't tell") };
        let sentence = format!("{sign} {word}: {}", safe(&found.sentence(series, before.moments)));
        rows.extend(wrap(&sentence, width).into_iter().map(|l| (Ink::Chalk, l)));
        rows.extend(
            wrap(&found.trust(before.looked), width)
                .into_iter()
                .map(|l| (Ink::Smoke, format!("  {l}"))),
        );
    }
    if !any {
        rows.push((
            Ink::Smoke,
            format!(
                "nothing stands out in {}",
                counted(before.looked as u64, "value that changes", "values that change")
            ),
        ));
    }
    if let Some(next) = next.filter(|_| !before.found.first().is_some_and(|f| f.sure)) {
        rows.push((
            Ink::Smoke,
            format!("looked at {} times of {}; again after {next}", before.moments, before.known),
        ));
    }
    rows
}

/// The values at the moment that is read off.
fn read_off(model: &Model, drawn: &[&Arc<Series>], time: i64) -> String {
    let value = |series: &Series| match &series.kept {
        Kept::Numbers(buckets) => buckets
            .partition_point(|b| b.from <= time)
            .checked_sub(1)
            .map(|at| number(buckets[at].last)),
        Kept::States(names, changes) => changes
            .partition_point(|c| c.0 <= time)
            .checked_sub(1)
            .map(|at| names[usize::from(changes[at].1)].clone()),
    };
    let told = drawn.iter().map(|s| {
        format!("{} {}", safe(&s.name), value(s).map_or_else(|| "not yet".into(), |v| safe(&v)))
    });
    let told = told.collect::<Vec<_>>().join("   ");
    format!(
        "{} ({})   {told}",
        clock(Millis(time), model.utc_offset),
        ago(Millis(time), model.live.snapshot.now)
    )
}

fn draw_chart(model: &Model, all: &[Arc<Series>], chosen: usize, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let one = &all[chosen];
    let who = if one.who.is_empty() { String::new() } else { safe(&one.who) };
    title(buf, theme, area, &fit(&safe(&one.name), usize::from(area.width / 2)), false, &who);
    let mut drawn: Vec<&Arc<Series>> = vec![one];
    let beside = |s: &&Arc<Series>| {
        !Arc::ptr_eq(s, one) && model.values.beside.contains(&(s.who.clone(), s.name.clone()))
    };
    drawn.extend(all.iter().filter(beside).take(INKS.len() - 1));
    let (from, to) = stretch(model, &drawn);
    let seconds = |ms: i64| (ms - from) as f64 / 1000.0;
    let unit = one.unit.as_deref().map(|u| format!(" {}", safe(u))).unwrap_or_default();
    let times = counted(one.count, "time", "times");
    let sum = match one.range() {
        Some((least, most)) => format!(
            "last {}{unit}   least {}   most {}   {times}",
            one.last,
            number(least),
            number(most)
        ),
        None => format!("now {}   {times}", safe(&one.last)),
    };
    put(buf, area.x, area.y + 1, area.width, &[(&sum, theme.ink(Ink::Smoke))]);
    let read = model.values.read.map(|t| t.clamp(from, to));
    match (read, printed_by(&model.live.code.prints, &one.line)) {
        (Some(time), _) => drop(put(
            buf,
            area.x,
            area.y + 2,
            area.width,
            &[(&read_off(model, &drawn, time), theme.ink(Ink::Heather))],
        )),
        (None, Some(print)) => {
            let place = format!("{}:{}", safe(&print.file), print.line);
            put(
                buf,
                area.x,
                area.y + 2,
                area.width,
                &[("printed by ", theme.ink(Ink::Smoke)), (&place, theme.ink(Ink::Ice))],
            );
        }
        _ => {}
    }
    let words = differing(model, usize::from(area.width));
    let words = &words[..words.len().min(usize::from(area.height / 3))];
    // Where there is no room for a chart none is drawn; a widget must not reach beyond the screen.
    let body = Rect::new(
        area.x,
        area.y + 3,
        area.width,
        area.height.saturating_sub(8 + words.len() as u16).max(3),
    )
    .intersection(area);
    if body.height < 3 {
        return;
    }
    if let Kept::States(names, changes) = &one.kept {
        let lanes = Rect::new(body.x, body.y, body.width, body.height.min(names.len() as u16 * 2));
        draw_states(model, names, changes, (from, to), lanes, buf);
        let left = lane_names(names);
        draw_errors(
            model,
            (from, to),
            Rect::new(area.x + left, lanes.bottom(), area.width.saturating_sub(left), 2),
            buf,
        );
        return draw_words(
            model,
            words,
            Rect::new(area.x, lanes.bottom() + 4, area.width, words.len() as u16)
                .intersection(area),
            buf,
        );
    }
    let shown = |series: &Series| -> Vec<(f64, f64)> {
        let Kept::Numbers(buckets) = &series.kept else { return Vec::new() };
        let inside = buckets.iter().filter(|b| b.to >= from && b.from <= to);
        let ends = |b: &izba_core::values::Bucket| {
            if b.least == b.most {
                vec![(seconds(b.to), b.last)]
            } else {
                vec![(seconds(b.from), b.least), (seconds(b.to), b.most)]
            }
        };
        inside.flat_map(ends).collect()
    };
    let points: Vec<Vec<(f64, f64)>> = drawn.iter().map(|s| shown(s)).collect();
    let values = || points.iter().flatten().map(|p| p.1);
    let (least, most) =
        (values().fold(f64::INFINITY, f64::min), values().fold(f64::NEG_INFINITY, f64::max));
    if least > most {
        put(
            buf,
            body.x,
            body.y,
            body.width,
            &[("Nothing was printed in this stretch of time.", theme.ink(Ink::Smoke))],
        );
        return;
    }
    let margin = if most > least { (most - least) * 0.05 } else { most.abs().max(1.0) * 0.1 };
    let line = |(points, ink)| {
        Dataset::default()
            .marker(Marker::Braille)
            .graph_type(GraphType::Line)
            .style(theme.ink(ink))
            .data(points)
    };
    let mark: Vec<(f64, f64)> = read
        .iter()
        .flat_map(|t| [(seconds(*t), least - margin), (seconds(*t), most + margin)])
        .collect();
    let mut datasets: Vec<Dataset<'_>> =
        points.iter().map(Vec::as_slice).zip(INKS).map(line).collect();
    datasets.push(line((mark.as_slice(), Ink::Heather)));
    let smoke = theme.ink(Ink::Smoke);
    // The axes are drawn here, so that the marks of errors below stand at their moments.
    let plot =
        Rect::new(body.x + GUTTER, body.y, body.width.saturating_sub(GUTTER), body.height - 1);
    let length = seconds(to).max(0.001);
    let axis = || Axis::default().style(theme.ink(Ink::Ash));
    Chart::new(datasets)
        .x_axis(axis().bounds([0.0, length]))
        .y_axis(axis().bounds([least - margin, most + margin]))
        .legend_position(None)
        .style(theme.ground(Ground::Tar))
        .render(plot, buf);
    let high = f64::from(plot.height.saturating_sub(1));
    for value in [most, f64::midpoint(least, most), least] {
        let y = plot.y
            + ((most + margin - value) / (most - least + 2.0 * margin) * high).round() as u16;
        put_right(
            buf,
            plot.x - 1,
            y,
            GUTTER - 1,
            &[(&fit(&number((value * 1000.0).round() / 1000.0), usize::from(GUTTER) - 1), smoke)],
        );
        // A faint line across, where nothing else is drawn.
        for x in plot.left()..plot.right() {
            if let Some(cell) = buf.cell_mut((x, y)).filter(|c| c.symbol() == " ") {
                cell.set_symbol("┈").set_style(theme.ink(Ink::Ash));
            }
        }
    }
    let when = |time: i64| ago(Millis(time), model.live.snapshot.now);
    put(buf, plot.x, plot.bottom(), plot.width, &[(&when(from), smoke)]);
    put_right(buf, plot.right(), plot.bottom(), plot.width / 2, &[(&when(to), smoke)]);
    draw_errors(model, (from, to), Rect::new(plot.x, plot.bottom() + 1, plot.width, 2), buf);
    draw_words(
        model,
        words,
        Rect::new(area.x, body.bottom() + 3, area.width, words.len() as u16).intersection(area),
        buf,
    );
    for (at, (series, ink)) in drawn.iter().zip(INKS).enumerate().filter(|_| drawn.len() > 1) {
        let y = area.bottom().saturating_sub(drawn.len() as u16) + at as u16;
        let parts = [
            ("▬ ", theme.ink(ink)),
            (&*safe(&series.name), theme.ink(Ink::Chalk)),
            ("  ", Style::new()),
            (&*safe(&series.who), smoke),
        ];
        put(buf, area.x, y, area.width, &parts);
    }
}

/// Cells for the names of states.
fn lane_names(names: &[String]) -> u16 {
    names.iter().map(|n| n.chars().count()).max().unwrap_or(4).min(18) as u16 + 2
}

fn draw_words(model: &Model, words: &[(Ink, String)], area: Rect, buf: &mut Buffer) {
    for (at, (ink, text)) in words.iter().take(usize::from(area.height)).enumerate() {
        put(buf, area.x, area.y + at as u16, area.width, &[(text, model.theme.ink(*ink))]);
    }
}

/// Which state held when.
fn draw_states(
    model: &Model,
    names: &[String],
    changes: &[(i64, u16)],
    (from, to): (i64, i64),
    area: Rect,
    buf: &mut Buffer,
) {
    let theme = model.theme;
    let left = usize::from(lane_names(names));
    let width = usize::from(area.width).saturating_sub(left).max(1);
    for (lane, name) in names.iter().enumerate() {
        let y = area.y + lane as u16 * 2;
        if y >= area.bottom() {
            return;
        }
        put(buf, area.x, y, area.width, &[(&fit(&safe(name), left - 1), theme.ink(Ink::Chalk))]);
        let holds = |cell: usize| {
            let time = from + (to - from) * cell as i64 / width as i64;
            let at = changes.partition_point(|(t, _)| *t <= time);
            if at > 0 && usize::from(changes[at - 1].1) == lane { '█' } else { '·' }
        };
        let line: String = (0..width).map(holds).collect();
        put(
            buf,
            area.x + left as u16,
            y,
            area.width.saturating_sub(left as u16),
            &[(&line, theme.ink(Ink::Ice))],
        );
    }
}

/// When the chosen error came, under the axis of time.
fn draw_errors(model: &Model, (from, to): (i64, i64), area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let (Some(group), Some(view)) = (model.selected(), &model.live.values) else { return };
    let seen: Vec<i64> = view
        .errors
        .of_all(&group.members)
        .into_iter()
        .filter(|t| (from..=to).contains(t))
        .collect();
    let words = format!(
        "◆ {}  {} in this stretch",
        safe(&group.explanation.short.to_string()),
        counted(seen.len() as u64, "time", "times")
    );
    let width = usize::from(area.width);
    let mut cells = vec![' '; width];
    for time in seen {
        let at = usize::try_from((time - from) * width as i64 / (to - from + 1))
            .unwrap_or(0)
            .min(width.saturating_sub(1));
        cells[at] = '◆';
    }
    let line: String = cells.into_iter().collect();
    put(buf, area.x, area.y, area.width, &[(&line, theme.ink(Ink::Ember))]);
    put(buf, area.x, area.y + 1, area.width, &[(&words, theme.ink(Ink::Ember))]);
}
