//! The sheet of a class: many whose Izbas tell this one. Which mistakes they met, how many got rid
//! of each, and a lane for each of them, who has been at a mistake longest on top.

use crate::model::{ClassSheet, Model};
use crate::parts::effect::Effect;
use crate::parts::pen::{capital, lasting, more_below, put, safe, sheet};
use crate::parts::said::sign;
use crate::parts::sheet::{Sheet, scrolled};
use crate::theme::Ink;
use izba_core::class::{Change, Class, Met, Sender};
use izba_model::text::{fit, width_cells};
use izba_model::{Level, Millis};
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::Style;

impl Sheet for ClassSheet {
    const CLOSED_BY: &'static [&'static str] = &["Esc", "@", "q", "Enter"];
    const WHEEL: bool = true;

    fn draw(&self, model: &Model, area: Rect, buf: &mut Buffer) {
        draw(model, self.0, area, buf);
    }

    fn on_key(self, model: &mut Model, key: &str) -> Vec<Effect> {
        let rows = rows(model, LANE).len();
        ClassSheet(scrolled(key, self.0, rows, 10)).stay(model)
    }
}

/// Mistakes that are listed above the lanes.
const MISTAKES: usize = 8;
/// Cells of a lane.
const LANE: usize = 32;
/// Cells of a name.
const NAME: usize = 14;

/// A row as pieces of text, each in its colour.
type Row = Vec<(String, Style)>;

fn draw(model: &Model, scroll: usize, area: Rect, buf: &mut Buffer) {
    let width = area.width.min(124);
    let rows = rows(model, if width < 100 { LANE / 2 } else { LANE });
    let height = (rows.len() as u16 + 4).clamp(7, area.height.saturating_sub(4).max(7));
    let inner = sheet(model, area, width, height, "The class", "Esc closes", buf);
    let room = usize::from(inner.height);
    let scroll = scroll.min(rows.len().saturating_sub(room));
    for (at, row) in rows.iter().skip(scroll).take(room).enumerate() {
        let pieces: Vec<(&str, Style)> = row.iter().map(|(t, s)| (t.as_str(), *s)).collect();
        put(buf, inner.x, inner.y + at as u16, inner.width, &pieces);
    }
    if rows.len() > scroll + room {
        more_below(model, inner, buf);
    }
}

fn rows(model: &Model, lane: usize) -> Vec<Row> {
    let class = &model.shown.class;
    let smoke = model.theme.ink(Ink::Smoke);
    if class.is_empty() {
        return [
            "Nobody's Izba tells this one yet. It hears them with",
            "  izba listen --otlp 0.0.0.0:4318",
            "and each of the others is started with",
            "  izba --tell 'THIS-MACHINE:4318?access_token=…' run main.py",
            "The token stands in the lines of the listener; on this machine, 127.0.0.1:4318 needs none.",
            "Only their errors are told, without names, unless they add --tell-as NAME.",
        ]
        .map(|line| vec![(line.to_owned(), smoke)])
        .to_vec();
    }
    let mut rows = vec![vec![(format!("{}.", capital(&class.sentence())), smoke)], Vec::new()];
    let weights = class.by_weight();
    rows.extend(weights.iter().take(MISTAKES).map(|met| mistake(model, class, met)));
    if let Some(more) = weights.len().checked_sub(MISTAKES + 1) {
        rows.push(vec![(format!("  and {} more", more + 1), smoke)]);
    }
    rows.push(Vec::new());
    let stuck = class.stuck();
    rows.extend(stuck.iter().map(|(who, met, since)| {
        let mut row = named(model, class, who, lane);
        let long = lasting(model.shown.snapshot.now.since(*since).max(1_000));
        row.push((format!("{long:>8}  "), model.theme.ink(Ink::Chalk)));
        row.push((safe(&fit(&met.words, 48)), smoke));
        row
    }));
    let well = class.senders.iter().filter(|s| s.open.is_empty());
    rows.extend(well.map(|who| {
        let mut row = named(model, class, who, lane);
        let rid = match who.rid {
            0 => "without an error".to_owned(),
            some => format!("without an error, got rid of {some}"),
        };
        row.push((format!("{:>8}  {rid}", ""), model.theme.ink(Ink::Moss)));
        row
    }));
    rows
}

/// A mistake: who met it, what it is and where.
fn mistake(model: &Model, class: &Class, met: &Met) -> Row {
    let theme = model.theme;
    let open = met.by.values().any(|rid| !rid);
    let (sign, ink) = if open { sign(Level::Error) } else { ("◇", Ink::Moss) };
    let place = met.place().unwrap_or_default();
    let words = if open { Ink::Chalk } else { Ink::Smoke };
    vec![
        (format!("{sign} "), theme.ink(ink)),
        (format!("{:<40}", class.share(met)), theme.ink(words)),
        (format!("{}  ", safe(&fit(&met.words, 56))), theme.ink(words)),
        (safe(&place), theme.ink(Ink::Ice)),
    ]
}

/// A name and its lane.
fn named(model: &Model, class: &Class, who: &Sender, cells: usize) -> Row {
    let name = safe(&fit(&who.name, NAME));
    let gap = " ".repeat((NAME + 1).saturating_sub(width_cells(&name)));
    let mut row = vec![(format!("{name}{gap}"), model.theme.ink(Ink::Chalk))];
    row.extend(lane(model, class, who, cells));
    row
}

/// What became of somebody's mistakes, from when the first of all was heard until now.
fn lane(model: &Model, class: &Class, who: &Sender, cells: usize) -> Row {
    let heard = class.senders.iter().flat_map(|s| s.history.front()).map(|(at, _)| *at).min();
    let from = heard.unwrap_or(model.shown.snapshot.now);
    let span = model.shown.snapshot.now.since(from).max(1);
    let cell = |at: Millis| {
        usize::try_from(at.since(from) * cells as u64 / span).unwrap_or(0).min(cells - 1)
    };
    let mut marks = vec![("─", Ink::Smoke); cells];
    for (at, change) in &who.history {
        let mark = &mut marks[cell(*at)];
        let met = *change != Change::Gone;
        // Of what falls together what was met is what matters.
        if met || mark.0 == "─" {
            *mark = if met { sign(Level::Error) } else { ("◇", Ink::Moss) };
        }
    }
    let theme = model.theme;
    marks.into_iter().map(|(sign, ink)| (sign.to_owned(), theme.ink(ink))).collect()
}
