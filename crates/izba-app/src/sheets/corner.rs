//! The sheet on which an error is cornered: how far it is, and what is left.

use crate::model::{CornerSheet, Model};
use crate::parts::effect::Effect;
use crate::parts::pen::{put, put_right, safe, sheet};
use crate::parts::sheet::{Sheet, scrolled};
use crate::theme::{Ground, Ink};
use izba_model::text::wrap;
use izba_watch::{Corner, CornerFor, Order};
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::{Modifier, Style};

/// The width of the sheet.
const WIDTH: u16 = 116;

impl Sheet for CornerSheet {
    fn draw(&self, model: &Model, area: Rect, buf: &mut Buffer) {
        draw(model, self.0, area, buf);
    }

    fn on_key(self, model: &mut Model, key: &str) -> Vec<Effect> {
        let group = model.live.corner.as_ref().map(|c| c.group);
        let order = match (key, group) {
            ("s", _) => Some(Order::StopCorner),
            ("w", _) => Some(Order::KeepCorner),
            ("o", Some(group)) => Some(Order::Corner(group, CornerFor::Edits)),
            ("a", Some(group)) => Some(Order::Corner(group, CornerFor::Lines)),
            _ => None,
        };
        CornerSheet(scrolled(key, self.0, rows(model), 15)).stay(model);
        order.map(Effect::Order).into_iter().collect()
    }
}

type Line = Vec<(String, Style)>;

fn lines(model: &Model, width: usize) -> Vec<Line> {
    let theme = model.theme;
    let Some(view) = &model.live.corner else { return Vec::new() };
    let (chalk, smoke, ice) = (theme.ink(Ink::Chalk), theme.ink(Ink::Smoke), theme.ink(Ink::Ice));
    let mut rows: Vec<Line> = wrap(&safe(&view.headline), width)
        .into_iter()
        .map(|l| vec![(l, theme.ink(Ink::Ember).add_modifier(Modifier::BOLD))])
        .collect();
    rows.push(Vec::new());
    let mut words = |text: &str, style: Style| {
        rows.extend(wrap(text, width).into_iter().map(|l| vec![(l, style)]))
    };
    match &view.how {
        Corner::Running(p) => {
            words(
                "A copy of your project is run again and again with parts left out. Your \
                    files are not touched.",
                smoke,
            );
            let what = if p.edits { "edits" } else { "lines" };
            let left = match p.left.1 {
                0 => "Copying the project …".to_owned(),
                _ => format!(
                    "{} of {} {what} left   {} runs   {} s",
                    p.left.0,
                    p.left.1,
                    p.runs,
                    p.took_ms / 1000
                ),
            };
            words(&left, chalk);
            words(&safe(&p.trying), smoke);
            if p.left.1 > 0 {
                let cells = width.min(80);
                let full = (cells * p.left.0 / p.left.1.max(1)).min(cells);
                rows.push(vec![
                    ("▇".repeat(full), theme.ink(Ink::Ember)),
                    ("▇".repeat(cells - full), theme.ink(Ink::Ash)),
                ]);
            }
        }
        Corner::Trying(trials) => {
            words("An edit is tried in a copy; your files are not touched.", smoke);
            words(&safe(&trials.trying), chalk);
        }
        Corner::Tried(all) => {
            for tried in all.iter() {
                words(&format!("{}: {}", safe(&tried.fix.file), safe(&tried.says)), chalk);
                words(&format!("{}.", safe(&tried.sentence())), smoke);
            }
        }
        Corner::Failed(why) => {
            words(&format!("It could not be cornered: {}.", safe(why)), theme.ink(Ink::Straw))
        }
        Corner::Left(cornered) => {
            words(&izba_watch::cornering::how(&cornered.progress, cornered.complete), chalk);
            words("Without any one of these the error is gone:", smoke);
            for izba_watch::cornering::Left { file, lines: left } in &cornered.left {
                rows.push(Vec::new());
                rows.push(vec![(safe(file), ice)]);
                rows.extend(left.iter().map(|(n, line)| {
                    vec![(format!("{n:>5}  "), smoke), (safe(line), theme.ink(Ink::Slate))]
                }));
            }
        }
        Corner::Edits(made, p, complete, run) => {
            words(&izba_watch::cornering::how(p, *complete), chalk);
            words(&format!("Of your edits since run {run}, this brought it:"), smoke);
            for edit in made.iter() {
                rows.push(Vec::new());
                rows.push(vec![(format!("{}:{}", safe(&edit.file), edit.line), ice)]);
                for (sign, lines, ink) in
                    [("was ", &edit.before, Ink::Smoke), ("is  ", &edit.after, Ink::Heather)]
                {
                    rows.extend(
                        lines.iter().take(40).map(|l| {
                            vec![(format!("  {sign} "), smoke), (safe(l), theme.ink(ink))]
                        }),
                    );
                }
            }
        }
    }
    rows
}

/// How many rows what is left takes.
fn rows(model: &Model) -> usize {
    lines(model, usize::from(WIDTH - 4)).len()
}

fn draw(model: &Model, scroll: usize, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let all = lines(model, usize::from(WIDTH.min(area.width.saturating_sub(2)).saturating_sub(4)));
    let height = (all.len() as u16 + 6).max(12).min(area.height.saturating_sub(4));
    let inner =
        sheet(model, area, WIDTH, height, "Corner it", "Esc closes; it goes on meanwhile", buf);
    let room = usize::from(inner.height.saturating_sub(2));
    let scroll = scroll.min(all.len().saturating_sub(room));
    for (at, row) in all.iter().skip(scroll).take(room).enumerate() {
        let pieces: Vec<(&str, Style)> = row.iter().map(|(t, s)| (t.as_str(), *s)).collect();
        put(buf, inner.x, inner.y + at as u16, inner.width, &pieces);
    }
    let (key, smoke) = (theme.ink(Ink::Ice).add_modifier(Modifier::BOLD), theme.ink(Ink::Smoke));
    let y = inner.bottom().saturating_sub(1);
    buf.set_style(Rect::new(inner.x, y, inner.width, 1), theme.ground(Ground::Plank));
    let keys: &[(&str, &str)] = match model.live.corner.as_ref().map(|c| &c.how) {
        Some(Corner::Running(_)) => &[("s", "stop, and keep what is known")],
        Some(Corner::Left(_)) => &[
            ("↑↓", "scroll"),
            ("w", "keep the little program"),
            ("o", "which of my edits brought it"),
            ("a", "again"),
        ],
        _ => &[("a", "by leaving parts out"), ("o", "which of my edits brought it")],
    };
    let pieces: Vec<(String, Style)> = keys
        .iter()
        .flat_map(|(k, w)| [((*k).to_owned(), key), (format!(" {w}   "), smoke)])
        .collect();
    let pieces: Vec<(&str, Style)> = pieces.iter().map(|(t, s)| (t.as_str(), *s)).collect();
    put(buf, inner.x, y, inner.width, &pieces);
    let left = all.len().saturating_sub(scroll + room);
    if left > 0 {
        put_right(buf, inner.right(), y, 14, &[(&format!(" {left} more ↓"), smoke)]);
    }
}
