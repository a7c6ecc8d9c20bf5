//! The sheet of paths that were printed on purpose: who calls from where, how often, with the
//! source of the chosen step.

use crate::model::{Model, PathsSheet};
use crate::parts::effect::Effect;
use crate::parts::pen::{put, put_right, safe, sheet};
use crate::parts::sheet::{Sheet, scrolled};
use crate::rooms::lines::update::show_row;
use crate::theme::{Ground, Ink};
use izba_model::Excerpt;
use izba_model::text::counted;
use izba_model::text::{fit, wrap};
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::{Modifier, Style};

/// Rows of source below the list.
const SOURCE: u16 = 9;

impl Sheet for PathsSheet {
    const CLOSED_BY: &'static [&'static str] = &["Esc", "q", "W"];

    fn draw(&self, model: &Model, area: Rect, buf: &mut Buffer) {
        draw(model, self.0, area, buf);
    }

    fn on_key(self, model: &mut Model, key: &str) -> Vec<Effect> {
        let paths = model.live.paths.clone().unwrap_or_default();
        let rows = paths.rows();
        let last = rows.len().saturating_sub(1);
        let chosen = self.0.min(last);
        match key {
            "e" => {
                let place = rows.get(chosen).and_then(|r| r.step.place());
                let edit = place.map(|place| {
                    let line = model.live.snapshot.project.line_today(
                        &model.live.today,
                        &place.file,
                        place.line.unwrap_or(1),
                    );
                    Effect::Edit { file: place.file.to_string(), line, column: 1 }
                });
                PathsSheet(chosen).stay(model);
                edit.into_iter().collect()
            }
            // To the lines themselves: the newest path of the line that printed it.
            "Enter" => {
                let above = &rows[..(chosen + 1).min(rows.len())];
                match above.iter().rev().find_map(|r| r.printed).map(|p| p.newest) {
                    Some(row) => show_row(model, row),
                    None => PathsSheet(chosen).stay(model),
                }
            }
            _ => PathsSheet(scrolled(key, chosen, last, 15)).stay(model),
        }
    }
}

fn draw(model: &Model, chosen: usize, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let (chalk, smoke, ice) = (theme.ink(Ink::Chalk), theme.ink(Ink::Smoke), theme.ink(Ink::Ice));
    let paths = model.live.paths.clone().unwrap_or_default();
    let rows = paths.rows();
    let height = (rows.len() as u16 + SOURCE + 7).max(18).min(area.height.saturating_sub(4));
    let inner = sheet(model, area, 118, height, "Printed paths", "Esc closes", buf);
    if rows.is_empty() {
        let words = "No path was printed yet. Let your program print how it came to a line \
            (debug.traceback in Lua, console.trace in JavaScript, traceback.print_stack in \
            Python, Thread.dumpStack in Java, Environment.StackTrace in C#): each such line is \
            listed here with who calls it from where, and how often.";
        for (at, line) in wrap(words, usize::from(inner.width)).into_iter().enumerate() {
            put(buf, inner.x, inner.y + 1 + at as u16, inner.width, &[(&line, smoke)]);
        }
        return;
    }
    let chosen = chosen.min(rows.len() - 1);
    let below = if inner.height >= SOURCE + 5 { SOURCE } else { 0 };
    let room = usize::from(inner.height.saturating_sub(below + 3));
    let first = (chosen + 2).saturating_sub(room).min(rows.len().saturating_sub(room));
    for (at, row) in rows.iter().enumerate().skip(first).take(room) {
        let y = inner.y + 1 + (at - first) as u16;
        if at == chosen {
            buf.set_style(Rect::new(inner.x, y, inner.width, 1), theme.ground(Ground::Bench));
        }
        let own = row.step.own.as_deref().unwrap_or("");
        let place = format!(
            "{}:{}",
            safe(own.rsplit('/').next().unwrap_or(own)),
            row.step.line.unwrap_or(0)
        );
        let function = row.step.function.as_deref().map(safe).unwrap_or_default();
        let indent = "   ".repeat(usize::from(row.depth));
        match row.printed {
            Some(printed) => {
                let said = if printed.said.is_empty() {
                    String::new()
                } else {
                    format!("   {}", safe(&printed.said))
                };
                let said = fit(&said, usize::from(inner.width).saturating_sub(44)).into_owned();
                put(
                    buf,
                    inner.x,
                    y,
                    inner.width,
                    &[
                        (&place, ice.add_modifier(Modifier::BOLD)),
                        ("  ", smoke),
                        (&function, chalk),
                        (&said, smoke),
                    ],
                );
            }
            None => {
                put(
                    buf,
                    inner.x,
                    y,
                    inner.width,
                    &[
                        (&indent, smoke),
                        ("from ", smoke),
                        (&place, ice),
                        ("  ", smoke),
                        (&function, chalk),
                    ],
                );
            }
        }
        put_right(
            buf,
            inner.right(),
            y,
            14,
            &[(&format!(" {}", counted(row.count, "time", "times")), smoke)],
        );
    }
    if below > 0
        && let Some(place) = rows[chosen].step.place()
        && let Some(line) = place.line
    {
        let top = inner.bottom().saturating_sub(below + 1);
        put(buf, inner.x, top, inner.width, &[(&safe(&place.file), ice)]);
        let around = u32::from(below - 2) / 2;
        if let Some(excerpt) =
            Excerpt::around(&model.live.snapshot.project, &place.file, line, around, around, None)
        {
            for (at, row) in excerpt.rows.iter().take(usize::from(below - 1)).enumerate() {
                let y = top + 1 + at as u16;
                if row.at_fault {
                    buf.set_style(
                        Rect::new(inner.x, y, inner.width, 1),
                        theme.ground(Ground::Bench),
                    );
                }
                let code = theme.ink(if row.at_fault { Ink::Chalk } else { Ink::Slate });
                put(
                    buf,
                    inner.x,
                    y,
                    inner.width,
                    &[(&format!("{:>5}  ", row.number), smoke), (row.text.as_str(), code)],
                );
            }
        }
    }
    let key = ice.add_modifier(Modifier::BOLD);
    let keys: &[(&str, Style)] = &[
        ("↑↓", key),
        (" choose   ", smoke),
        ("e", key),
        (" edit the line   ", smoke),
        ("Enter", key),
        (" the newest of them among the lines", smoke),
    ];
    put(buf, inner.x, inner.bottom().saturating_sub(1), inner.width, keys);
    let left = rows.len().saturating_sub(first + room);
    if left > 0 {
        put_right(
            buf,
            inner.right(),
            inner.bottom().saturating_sub(1),
            14,
            &[(&format!(" {left} more ↓"), smoke)],
        );
    }
}
