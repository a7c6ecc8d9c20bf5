//! The sheet of prints that stand in the source: where, what they say, and which values they told;
//! those that look forgotten first.

use crate::model::{Model, PrintsSheet};
use crate::parts::effect::{Effect, say};
use crate::parts::pen::{put, put_right, safe, sheet};
use crate::parts::sheet::{Sheet, scrolled};
use crate::theme::{Ground, Ink};
use izba_core::values::{Print, printed_by};
use izba_model::claim::About;
use izba_model::text::counted;
use izba_model::text::{fit, wrap};
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::{Modifier, Style};

/// One print.
struct PrintRow<'a> {
    /// Where it stands.
    pub print: &'a Print,
    /// The rows of the values it told last.
    pub told: Vec<usize>,
    /// Whether it looks as if it was put in to see something, and forgotten.
    pub forgotten: bool,
}

/// All prints, those that look forgotten first.
fn rows(model: &Model) -> Vec<PrintRow<'_>> {
    let code = &model.live.code;
    let series = model.live.values.as_ref().map_or(&[][..], |v| v.series.as_slice());
    let told: Vec<Option<&Print>> =
        series.iter().map(|s| printed_by(&code.prints, &s.line)).collect();
    let remarks = code.remarks.as_ref().map_or(&[][..], |r| r.as_slice());
    let mut rows: Vec<PrintRow<'_>> = code
        .prints
        .iter()
        .map(|print| PrintRow {
            print,
            told: (0..series.len())
                .filter(|n| told[*n].is_some_and(|p| std::ptr::eq(p, print)))
                .collect(),
            forgotten: remarks.iter().any(|r| {
                r.claim.about() == About::Print && r.file == print.file && r.line == print.line
            }),
        })
        .collect();
    rows.sort_by_key(|r| !r.forgotten);
    rows
}

impl Sheet for PrintsSheet {
    const CLOSED_BY: &'static [&'static str] = &["Esc", "q", "L"];

    fn draw(&self, model: &Model, area: Rect, buf: &mut Buffer) {
        draw(model, self.0, area, buf);
    }

    fn on_key(self, model: &mut Model, key: &str) -> Vec<Effect> {
        let rows = rows(model);
        let last = rows.len().saturating_sub(1);
        let chosen = self.0.min(last);
        match key {
            "e" if !rows.is_empty() => {
                let print = rows[chosen].print;
                let edit =
                    Effect::Edit { file: print.file.to_string(), line: print.line, column: 1 };
                PrintsSheet(chosen).stay(model);
                vec![edit]
            }
            "Enter" => match rows.get(chosen).and_then(|r| r.told.first()) {
                Some(at) => {
                    model.values.row = *at;
                    Vec::new()
                }
                None => {
                    say(model, "this print told no value so far");
                    PrintsSheet(chosen).stay(model)
                }
            },
            _ => PrintsSheet(scrolled(key, chosen, last, 15)).stay(model),
        }
    }
}

fn draw(model: &Model, chosen: usize, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let (chalk, smoke, ice) = (theme.ink(Ink::Chalk), theme.ink(Ink::Smoke), theme.ink(Ink::Ice));
    let rows = rows(model);
    let series = model.live.values.as_ref().map_or(&[][..], |v| v.series.as_slice());
    let height = (rows.len() as u16 + 6).clamp(10, area.height.saturating_sub(4).max(10));
    let count = counted(rows.len() as u64, "print", "prints");
    let inner = sheet(
        model,
        area,
        122,
        height,
        "Prints in your source",
        &format!("{count}; Esc closes"),
        buf,
    );
    if rows.is_empty() {
        let words = "No call that prints was found in the project's own files.";
        for (at, line) in wrap(words, usize::from(inner.width)).into_iter().enumerate() {
            put(buf, inner.x, inner.y + 1 + at as u16, inner.width, &[(&line, smoke)]);
        }
        return;
    }
    let chosen = chosen.min(rows.len() - 1);
    let room = usize::from(inner.height.saturating_sub(3)).max(1);
    let first = (chosen + 1).saturating_sub(room).min(rows.len().saturating_sub(room));
    for (at, row) in rows.iter().enumerate().skip(first).take(room) {
        let y = inner.y + 1 + (at - first) as u16;
        if y >= inner.bottom() {
            break;
        }
        if at == chosen {
            buf.set_style(Rect::new(inner.x, y, inner.width, 1), theme.ground(Ground::Bench));
        }
        let place = format!("{}:{}", row.print.file, row.print.line);
        let place = fit(&safe(&place), 34).into_owned();
        let says = row
            .print
            .texts
            .iter()
            .map(|t| t.trim())
            .filter(|t| !t.is_empty())
            .collect::<Vec<_>>()
            .join(" … ");
        let says = fit(&safe(&says), usize::from(inner.width).saturating_sub(72)).into_owned();
        put(buf, inner.x, y, inner.width, &[(&format!("{place:<36}"), ice), (&says, chalk)]);
        let names: Vec<String> = row
            .told
            .iter()
            .map(|n| format!("{} {}", safe(&series[*n].name), safe(&series[*n].last)))
            .collect();
        let right = match (row.forgotten, names.is_empty()) {
            (true, _) => (" looks forgotten".to_owned(), theme.ink(Ink::Straw)),
            (_, false) => (format!(" {}", fit(&names.join(", "), 32)), ice),
            _ => (" no value so far".to_owned(), smoke),
        };
        put_right(buf, inner.right(), y, 34, &[(&right.0, right.1)]);
    }
    let key = ice.add_modifier(Modifier::BOLD);
    let keys: &[(&str, Style)] = &[
        ("↑↓", key),
        (" choose   ", smoke),
        ("e", key),
        (" edit the line   ", smoke),
        ("Enter", key),
        (" the value it told", smoke),
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
