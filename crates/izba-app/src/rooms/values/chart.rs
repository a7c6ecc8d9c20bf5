//! The right side of room Values: the chosen value over time and others beside it, each on an axis
//! of its own, with the moments of the chosen error below and what it was just before them.

use crate::model::Model;
use crate::parts::pen::{ago, clock, put, put_right, safe, title};
use crate::theme::{Ground, Ink};
use izba_core::values::{How, Kept, LOOKS, Series, number, printed_by};
use izba_model::Millis;
use izba_model::text::{counted, fit, wrap};
use izba_watch::drawing::starts;
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::Style;
use ratatui::symbols::Marker;
use ratatui::widgets::{Axis, Chart, Dataset, GraphType, Widget};
use std::sync::Arc;

/// Cells for the numbers beside a chart, and at most for the names of states.
const GUTTER: u16 = 9;
const NAMES: u16 = 20;
/// Colours of series that are drawn below one another; the chosen one has the first.
const INKS: [Ink; 4] = [Ink::Ice, Ink::Moss, Ink::Heather, Ink::Straw];
/// Rows of the least panel; one that has fewer is left out, and said to be.
const LEAST: u16 = 4;
/// Rows of a value that never changes.
const FLAT: u16 = 3;

/// The stretch of time that is shown.
pub fn stretch(model: &Model, drawn: &[&Arc<Series>]) -> (i64, i64) {
    let spans = || drawn.iter().filter_map(|s| s.span());
    let (from, to) =
        (spans().map(|s| s.0).min().unwrap_or(0), spans().map(|s| s.1).max().unwrap_or(1));
    let length = ((to - from) >> model.values.zoom).max(1);
    let end = to - length * i64::try_from(model.values.back).unwrap_or(0);
    ((end - length).max(from), end.max(from + 1))
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
    let mut any = false;
    for found in before.told() {
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

/// Draws the chosen value and those beside it.
pub fn draw(model: &Model, all: &[Arc<Series>], chosen: usize, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let one = &all[chosen];
    title(
        buf,
        theme,
        area,
        &fit(&safe(&one.name), usize::from(area.width / 2)),
        false,
        &safe(&one.who),
    );
    let mut drawn: Vec<&Arc<Series>> = vec![one];
    let beside = |s: &&Arc<Series>| {
        !Arc::ptr_eq(s, one) && model.values.beside.contains(&(s.who.clone(), s.name.clone()))
    };
    drawn.extend(all.iter().filter(beside).take(INKS.len() - 1));
    let (from, to) = stretch(model, &drawn);
    let read = model.values.read.map(|t| t.clamp(from, to));
    draw_sum(model, one, read.map(|t| read_off(model, &drawn, t)), area, buf);
    let words = differing(model, usize::from(area.width));
    let words = &words[..words.len().min(usize::from(area.height / 3))];
    // Where there is no room for a chart none is drawn; a widget must not reach beyond the screen.
    let room = area.height.saturating_sub(8 + words.len() as u16).max(3);
    let body = Rect::new(area.x, area.y + 3, area.width, room).intersection(area);
    if body.height < 3 {
        return;
    }
    let panels = (body.height / LEAST).clamp(1, drawn.len() as u16);
    let gutter = drawn.iter().map(|s| names_of(s)).max().unwrap_or(0).max(GUTTER);
    let starts = starts(&model.live.snapshot);
    let scene = Scene { model, from, to, read, starts, gutter };
    let mut y = body.y;
    for (at, (series, ink)) in drawn.iter().zip(INKS).take(usize::from(panels)).enumerate() {
        let high = (body.bottom() - y) / (panels - at as u16);
        let room = Rect::new(body.x, y, body.width, high);
        y += scene.panel(series, ink, room, at > 0, buf).min(high);
    }
    let smoke = theme.ink(Ink::Smoke);
    let when = |time: i64| ago(Millis(time), model.live.snapshot.now);
    let axis = Rect::new(body.x + gutter, y, body.width.saturating_sub(gutter), 1);
    put(buf, axis.x, y, axis.width, &[(&when(from), smoke)]);
    let left_out = drawn.len() - usize::from(panels);
    if left_out > 0 {
        let told = format!("no room for {left_out} more beside it");
        put(buf, axis.x + axis.width / 3, y, axis.width / 3, &[(&told, smoke)]);
    }
    put_right(buf, axis.right(), y, axis.width / 2, &[(&when(to), smoke)]);
    draw_errors(model, (from, to), Rect::new(axis.x, y + 1, axis.width, 2).intersection(area), buf);
    let below = Rect::new(area.x, y + 4, area.width, words.len() as u16);
    draw_words(model, words, below.intersection(area), buf);
}

/// The two rows under the title: what the value is and was, and what prints it or was read off.
fn draw_sum(model: &Model, one: &Series, read: Option<String>, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let unit = one.unit.as_deref().map(|u| format!(" {}", safe(u))).unwrap_or_default();
    let times = counted(one.count, "time", "times");
    let sum = match one.range() {
        _ if one.is_constant() => format!("always {}{unit} so far   {times}", safe(&one.last)),
        Some((least, most)) => format!(
            "last {}{unit}   least {}   most {}   {times}",
            one.last,
            number(least),
            number(most)
        ),
        None => format!("now {}   {times}", safe(&one.last)),
    };
    put(buf, area.x, area.y + 1, area.width, &[(&sum, theme.ink(Ink::Smoke))]);
    if let Some(read) = read {
        put(buf, area.x, area.y + 2, area.width, &[(&read, theme.ink(Ink::Heather))]);
    } else if let Some(print) = printed_by(&model.live.code.prints, &one.line) {
        let place = format!("{}:{}", safe(&print.file), print.line);
        let pieces = [("printed by ", theme.ink(Ink::Smoke)), (&*place, theme.ink(Ink::Ice))];
        put(buf, area.x, area.y + 2, area.width, &pieces);
    }
}

/// What all panels share.
struct Scene<'a> {
    model: &'a Model,
    from: i64,
    to: i64,
    /// The moment that is read off.
    read: Option<i64>,
    /// When runs started, with their source.
    starts: Vec<(usize, i64)>,
    /// Cells beside the axes, the same for all, so that moments stand below one another.
    gutter: u16,
}

impl Scene<'_> {
    /// One value into `area`; tells how many rows that took.
    fn panel(
        &self,
        series: &Arc<Series>,
        ink: Ink,
        area: Rect,
        named: bool,
        buf: &mut Buffer,
    ) -> u16 {
        let mut area = area;
        if named {
            let theme = self.model.theme;
            let pieces = [
                ("▬ ", theme.ink(ink)),
                (&*safe(&series.name), theme.ink(Ink::Chalk)),
                ("  ", Style::new()),
                (&*safe(&series.who), theme.ink(Ink::Smoke)),
            ];
            put(buf, area.x, area.y, area.width, &pieces);
            (area.y, area.height) = (area.y + 1, area.height.saturating_sub(1));
        }
        let used = match &series.kept {
            Kept::States(names, changes) => {
                let rows = area.height.min(names.len() as u16 * 2);
                let lanes = Rect::new(area.x, area.y, area.width, rows);
                draw_states(
                    self.model,
                    names,
                    changes,
                    (self.from, self.to),
                    lanes,
                    self.gutter,
                    buf,
                );
                rows
            }
            Kept::Numbers(_) => {
                // What never changes needs no height to be read.
                if series.is_constant() {
                    area.height = area.height.min(FLAT);
                }
                self.number(series, ink, area, buf);
                area.height
            }
        };
        used + u16::from(named)
    }

    /// A number on its own axis, cut where a run starts.
    fn number(&self, series: &Arc<Series>, ink: Ink, area: Rect, buf: &mut Buffer) {
        let theme = self.model.theme;
        let plot = Rect::new(
            area.x + self.gutter,
            area.y,
            area.width.saturating_sub(self.gutter),
            area.height,
        );
        let starts: Vec<i64> =
            self.starts.iter().filter(|s| s.0 == series.source).map(|s| s.1).collect();
        let strokes = series.strokes((self.from, self.to), &starts);
        let seconds = |ms: i64| (ms - self.from) as f64 / 1000.0;
        let strokes: Vec<Vec<(f64, f64)>> = strokes
            .into_iter()
            .map(|s| s.into_iter().map(|(time, value)| (seconds(time), value)).collect())
            .collect();
        let values = || strokes.iter().flatten().map(|p| p.1);
        let (least, most) =
            (values().fold(f64::INFINITY, f64::min), values().fold(f64::NEG_INFINITY, f64::max));
        if least > most || plot.height == 0 {
            let words = "Nothing was printed in this stretch of time.";
            put(buf, area.x, area.y, area.width, &[(words, theme.ink(Ink::Smoke))]);
            return;
        }
        let margin = if most > least { (most - least) * 0.05 } else { most.abs().max(1.0) * 0.1 };
        let bounds = [least - margin, most + margin];
        let line = |points, ink| {
            Dataset::default()
                .marker(Marker::Braille)
                .graph_type(GraphType::Line)
                .style(theme.ink(ink))
                .data(points)
        };
        let mark: Vec<(f64, f64)> =
            self.read.iter().flat_map(|t| bounds.map(|b| (seconds(*t), b))).collect();
        let mut datasets: Vec<Dataset<'_>> = strokes.iter().map(|s| line(s, ink)).collect();
        datasets.push(line(&mark, Ink::Heather));
        // The axes are drawn here, so that the marks of errors below stand at their moments.
        let axis = || Axis::default().style(theme.ink(Ink::Ash));
        Chart::new(datasets)
            .x_axis(axis().bounds([0.0, seconds(self.to).max(0.001)]))
            .y_axis(axis().bounds(bounds))
            .legend_position(None)
            .style(theme.ground(Ground::Tar))
            .render(plot, buf);
        let row = |value: f64| {
            let share = (bounds[1] - value) / (bounds[1] - bounds[0]);
            plot.y + (share.clamp(0.0, 1.0) * f64::from(plot.height - 1)).round() as u16
        };
        for start in starts.into_iter().filter(|s| (self.from + 1..=self.to).contains(s)) {
            let share = (start - self.from) as f64 / (self.to - self.from) as f64;
            let x = plot.x + (share * f64::from(plot.width.saturating_sub(1))).round() as u16;
            (plot.top()..plot.bottom()).for_each(|y| faint(buf, (x, y), "┊", theme.ink(Ink::Ash)));
        }
        let ticks = match plot.height {
            _ if least == most => vec![least],
            0..=4 => vec![most, least],
            _ => vec![most, f64::midpoint(least, most), least],
        };
        for value in ticks {
            self.tick(value, row(value), plot, Ink::Smoke, "┈", buf);
        }
        for bound in self.thresholds(series) {
            if (least..=most).contains(&bound) {
                self.tick(bound, row(bound), plot, Ink::Ember, "╌", buf);
            }
        }
    }

    /// A number beside the axis with a line across, where nothing else is drawn.
    fn tick(&self, value: f64, y: u16, plot: Rect, ink: Ink, sign: &str, buf: &mut Buffer) {
        let style = self.model.theme.ink(ink);
        let told = number((value * 1000.0).round() / 1000.0);
        put(
            buf,
            plot.x - GUTTER,
            y,
            GUTTER - 1,
            &[(" ".repeat(usize::from(GUTTER) - 1).as_str(), style)],
        );
        put_right(buf, plot.x - 1, y, GUTTER - 1, &[(&fit(&told, usize::from(GUTTER) - 1), style)]);
        let line = if ink == Ink::Smoke { self.model.theme.ink(Ink::Ash) } else { style };
        (plot.left()..plot.right()).for_each(|x| faint(buf, (x, y), sign, line));
    }

    /// What a value was just before the chosen error, where that was found to differ.
    fn thresholds(&self, series: &Series) -> Vec<f64> {
        let view = self.model.live.values.as_ref();
        let meant = view.and_then(|v| v.differing.as_ref());
        let group = self.model.selected();
        let Some((meant, before)) = meant
            .filter(|m| group.is_some_and(|g| g.holds(m.group)))
            .and_then(|m| Some((m, m.before.as_ref()?)))
        else {
            return Vec::new();
        };
        let same = |s: &Arc<Series>| {
            (s.source, &s.who, &s.name) == (series.source, &series.who, &series.name)
        };
        let found = before.told().find(|f| meant.series.get(f.series).is_some_and(same));
        match found.map(|f| &f.how) {
            Some(How::AtLeast(bound) | How::AtMost(bound)) => vec![*bound],
            Some(How::Within(low, high)) => vec![*low, *high],
            _ => Vec::new(),
        }
    }
}

/// A sign in a cell in which nothing is drawn.
fn faint(buf: &mut Buffer, at: (u16, u16), sign: &str, style: Style) {
    if let Some(cell) = buf.cell_mut(at).filter(|c| [" ", "┈"].contains(&c.symbol())) {
        cell.set_symbol(sign).set_style(style);
    }
}

/// Cells for the names of states; none for numbers.
fn names_of(series: &Series) -> u16 {
    let Kept::States(names, _) = &series.kept else { return 0 };
    let longest = names.iter().map(|n| n.chars().count()).max().unwrap_or(4) as u16;
    (longest + 2).min(NAMES)
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
    left: u16,
    buf: &mut Buffer,
) {
    let theme = model.theme;
    let left = usize::from(left);
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
