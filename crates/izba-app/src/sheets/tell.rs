//! The sheet of a request for help: what was taken out of it first, then the text as it would
//! leave.

use crate::model::{Model, TellSheet};
use crate::parts::effect::Effect;
use crate::parts::pen::{put, put_right, safe, sheet};
use crate::parts::sheet::{Sheet, scrolled};
use crate::theme::{Ground, Ink};
use izba_model::text::counted;
use izba_model::text::wrap;
use izba_watch::request::Telling;
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::{Modifier, Style};

/// The width of the sheet.
const WIDTH: u16 = 122;

fn lines(model: &Model, telling: &Telling, plain: bool, width: usize) -> Vec<(String, Style)> {
    let theme = model.theme;
    let told = if plain { &telling.plain } else { &telling.markdown };
    let mut rows: Vec<(String, Style)> = Vec::new();
    if told.taken.is_empty() {
        rows.push((
            "Nothing had to be taken out of it. Read it before it leaves all the same.".into(),
            theme.ink(Ink::Smoke),
        ));
    } else {
        rows.push(("Taken out of it, so that it does not leave:".into(), theme.ink(Ink::Heather)));
        for taken in &told.taken {
            let row = format!(
                "  {:<22} {}   {}",
                taken.what,
                safe(&taken.was),
                counted(taken.count.into(), "time", "times")
            );
            rows.push((row, theme.ink(Ink::Heather)));
        }
    }
    rows.push((String::new(), Style::new()));
    for line in told.text.lines() {
        let ink = if line.starts_with('#') {
            theme.ink(Ink::Chalk).add_modifier(Modifier::BOLD)
        } else {
            theme.ink(Ink::Slate)
        };
        let wrapped = wrap(&safe(line), width);
        if wrapped.is_empty() || line.starts_with(' ') {
            rows.push((safe(line), ink));
        } else {
            rows.extend(wrapped.into_iter().map(|l| (l, ink)));
        }
    }
    rows
}

/// How many rows it takes.
fn rows(model: &Model, telling: &Telling, plain: bool) -> usize {
    lines(model, telling, plain, usize::from(WIDTH - 4)).len()
}

impl Sheet for TellSheet {
    const CLOSED_BY: &'static [&'static str] = &["Esc", "q", "t"];

    fn draw(&self, model: &Model, area: Rect, buf: &mut Buffer) {
        draw(model, &self.telling, self.plain, self.scroll, area, buf);
    }

    fn on_key(mut self, model: &mut Model, key: &str) -> Vec<Effect> {
        let shown = if self.plain { &self.telling.plain } else { &self.telling.markdown };
        let effect = match key {
            "c" | "Enter" => Some(Effect::Copy(shown.text.clone())),
            "s" => Some(Effect::Copy(self.telling.sentence.clone())),
            "w" => {
                let ending = if self.plain { "txt" } else { "md" };
                Some(Effect::KeepText(shown.text.clone(), ending))
            }
            "z" => {
                crate::sheets::pack::open(model, self.telling);
                return Vec::new();
            }
            _ => None,
        };
        if key == "p" {
            (self.plain, self.scroll) = (!self.plain, 0);
        }
        let key = if key == "Space" { "PgDn" } else { key };
        self.scroll = scrolled(key, self.scroll, rows(model, &self.telling, self.plain), 20);
        self.stay(model);
        effect.into_iter().collect()
    }
}

fn draw(
    model: &Model,
    telling: &Telling,
    plain: bool,
    scroll: usize,
    area: Rect,
    buf: &mut Buffer,
) {
    let theme = model.theme;
    let all = lines(
        model,
        telling,
        plain,
        usize::from(WIDTH.min(area.width.saturating_sub(2)).saturating_sub(4)),
    );
    let form = if plain { "plain text" } else { "Markdown" };
    let inner = sheet(
        model,
        area,
        WIDTH,
        area.height.saturating_sub(4),
        "Tell others",
        &format!("as {form}; Esc closes"),
        buf,
    );
    let room = usize::from(inner.height.saturating_sub(2));
    let scroll = scroll.min(all.len().saturating_sub(room));
    for (at, (text, style)) in all.iter().skip(scroll).take(room).enumerate() {
        put(buf, inner.x, inner.y + at as u16, inner.width, &[(text, *style)]);
    }
    let (key, smoke) = (theme.ink(Ink::Ice).add_modifier(Modifier::BOLD), theme.ink(Ink::Smoke));
    let y = inner.bottom().saturating_sub(1);
    buf.set_style(Rect::new(inner.x, y, inner.width, 1), theme.ground(Ground::Plank));
    let other = if plain { " as Markdown   " } else { " as plain text   " };
    let keys: &[(&str, Style)] = &[
        ("c", key),
        (" copy   ", smoke),
        ("s", key),
        (" copy the sentence alone   ", smoke),
        ("w", key),
        (" keep in a file   ", smoke),
        ("z", key),
        (" with log and scripts   ", smoke),
        ("p", key),
        (other, smoke),
    ];
    put(buf, inner.x, y, inner.width, keys);
    let left = all.len().saturating_sub(scroll + room);
    if left > 0 {
        put_right(buf, inner.right(), y, 14, &[(&format!(" {left} more ↓"), smoke)]);
    }
}
