//! The sheet of teaching: how a line is divided into its parts, and what that would read.

use crate::model::{Model, Overlay, Teach};
use crate::parts::effect::{Effect, say};
use crate::parts::pen::{put, safe, sheet};
use crate::parts::said::sign;
use crate::parts::sheet::Sheet;
use crate::teach::{Line, part_word};
use crate::theme::Ink;
use izba_console::read::layout::Part;
use izba_model::text::{counted, thousands};
use izba_watch::Order;
use izba_watch::teaching::Tried;
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::{Modifier, Style};
use std::sync::Arc;

/// Opens the sheet that tells how the chosen line is read.
pub(crate) fn open(model: &mut Model) -> Vec<Effect> {
    let cursor = model.lines.cursor;
    let Some(row) = model.lines.rows.iter().find(|r| r.row == cursor) else {
        say(model, "that line is still being fetched; try once more");
        return Vec::new();
    };
    let at = row.line.source.0;
    let Some(source) = model.shown.snapshot.sources.get(at) else { return Vec::new() };
    let text = row.text.as_str();
    let layouts = model.shown.sources.get(at).map(|s| s.layouts.as_slice()).unwrap_or_default();
    let known = layouts.iter().find(|l| l.parts(text).is_some());
    let below = |r: &&izba_watch::LineRow| {
        r.row > cursor && r.line.source == row.line.source && r.stream == row.stream
    };
    let next = model.lines.rows.iter().filter(below).take(8).map(|r| r.text.as_str().to_owned());
    let next = next.collect();
    if text.trim().is_empty() {
        say(model, "this line is empty");
        return Vec::new();
    }
    let teach = Teach::new((at, source.name.clone()), text, known.map(Arc::as_ref), next);
    ask(model, teach)
}

/// Asks what keeping it would change, and goes on lying there.
fn ask(model: &mut Model, mut teach: Teach) -> Vec<Effect> {
    model.finds += 1;
    (teach.asked, teach.tried) = (model.finds, None);
    let order = teach.layout().ok().map(|layout| Order::TryLesson {
        id: teach.asked,
        source: teach.source.0,
        layout: Arc::new(layout),
    });
    teach.stay(model);
    order.map(Effect::Order).into_iter().collect()
}

/// What keeping it would change came.
pub(crate) fn on_tried(model: &mut Model, id: u64, tried: Tried) {
    if let Some(Overlay::Teach(teach)) = model.overlay.as_mut()
        && teach.asked == id
    {
        teach.tried = Some(tried);
    }
}

impl Sheet for Teach {
    const CLOSED_BY: &'static [&'static str] = &["Esc", "Ctrl+C", "q"];

    fn draw(&self, model: &Model, area: Rect, buf: &mut Buffer) {
        teach(model, self, area, buf);
    }

    fn on_key(mut self, model: &mut Model, key: &str) -> Vec<Effect> {
        let before = (self.lines.clone(), self.level);
        match key {
            "→" => self.line().step(false),
            "←" => self.line().step(true),
            "↓" | "↑" => {
                let part = self.line().turned(key == "↑");
                self.set(part);
            }
            "Tab" => self.turn_row(false),
            "Shift+Tab" => self.turn_row(true),
            "+" => {
                if !self.more() {
                    say(model, "no further line can be taken in");
                }
            }
            "-" => self.less(),
            "x" => self.set(None),
            "g" => self.next_level(),
            "Enter" => match self.layout() {
                Ok(layout) => {
                    return vec![Effect::Order(Order::Teach(self.source.0, Arc::new(layout)))];
                }
                Err(sentence) => say(model, sentence),
            },
            other => {
                if let Some((_, part, _)) = NAMED.iter().find(|(key, ..)| *key == other) {
                    self.set(Some(*part));
                }
            }
        }
        if before != (self.lines.clone(), self.level) {
            return ask(model, self);
        }
        self.stay(model)
    }
}

/// Keys that name the chosen piece.
const NAMED: [(&str, Part, &str); 10] = [
    ("m", Part::Message, "message"),
    ("s", Part::Script, "script"),
    ("n", Part::Line, "line"),
    ("c", Part::Column, "column"),
    ("f", Part::Function, "function"),
    ("o", Part::Object, "object"),
    ("h", Part::Handler, "handler"),
    ("k", Part::Kind, "kind"),
    ("l", Part::Level, "level"),
    ("t", Part::Time, "time"),
];

fn teach(model: &Model, state: &Teach, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let height = 23 + 3 * (state.lines.len() as u16 - 1);
    let inner = sheet(model, area, 130, height, "How this line is read", &state.from, buf);
    let smoke = theme.ink(Ink::Smoke);
    let mut y = inner.y + 1;
    for (row, line) in state.lines.iter().enumerate() {
        let chosen = row == state.row;
        draw_pieces(model, line, chosen, Rect::new(inner.x, y, inner.width, 3), buf);
        y += 3;
    }
    y += 1;
    let bottom = inner.bottom().saturating_sub(key_rows(inner.width).len() as u16);
    let mut line = |pieces: &[(&str, Style)], buf: &mut Buffer| {
        if y < bottom {
            put(buf, inner.x, y, inner.width, pieces);
        }
        y += 1;
    };
    let level = (state.level.word(), theme.ink(Ink::Chalk));
    line(&[("Lines like it are   ", smoke), level, ("     g changes that", smoke)], buf);
    for (at, form) in state.lines.iter().enumerate() {
        let lead = if at == 0 { "Kept as             " } else { "  and below it      " };
        let form = safe(&form.template().to_string());
        line(&[(lead, smoke), (&form, theme.ink(Ink::Chalk))], buf);
    }
    match (state.layout(), &state.tried) {
        (Err(sentence), _) => {
            let straw = theme.ink(Ink::Straw);
            line(&[("Not yet: ", straw), (&safe(&sentence), straw)], buf);
            let hint = "m on the first word of it, or + where it stands in the line below";
            line(&[(hint, smoke)], buf);
        }
        (Ok(_), None) => line(&[("What that changes is looked up.", smoke)], buf),
        (Ok(_), Some(tried)) => {
            for words in effects(tried) {
                line(&[(&words, smoke)], buf);
            }
            for (level, said, place) in &tried.new {
                let (sign, ink) = sign(*level);
                let place = place.as_deref().map(safe).unwrap_or_default();
                let said = (said.as_str(), theme.ink(Ink::Chalk));
                let place = (&*place, theme.ink(Ink::Ice));
                line(
                    &[
                        ("  ", smoke),
                        (sign, theme.ink(ink)),
                        (" ", smoke),
                        said,
                        ("   ", smoke),
                        place,
                    ],
                    buf,
                );
            }
        }
    }
    draw_keys(model, inner, buf);
}

/// What keeping it would change, in words.
fn effects(tried: &Tried) -> Vec<String> {
    let fit = counted(tried.fit, "has this form", "have this form");
    let mut words =
        vec![format!("Of {} that arrived {fit}.", counted(tried.lines, "line", "lines"))];
    let (now, then) = tried.groups;
    let kinds = counted(then as u64, "mistake", "mistakes");
    words.push(match now == then {
        true => format!("Errors and warnings make {kinds}, as before."),
        false => format!("Errors and warnings make {kinds} then; now it is {now}."),
    });
    let (now, then) = tried.overlooked;
    if now > 0 {
        words.push(format!(
            "{} not understood now, {} then.",
            counted(now, "line is", "lines are"),
            thousands(then)
        ));
    }
    if !tried.new.is_empty() {
        words.push("New would be:".into());
    }
    words
}

/// One line with each part in its own row of words below; it scrolls with the chosen piece.
fn draw_pieces(model: &Model, state: &Line, chosen: bool, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let smoke = theme.ink(Ink::Smoke);
    let cells: Vec<usize> =
        state.pieces.iter().map(|(text, _)| izba_model::text::width_cells(text)).collect();
    let before: usize = cells[..state.at].iter().sum();
    let shift = (before + cells.get(state.at).copied().unwrap_or(0) + 12)
        .saturating_sub(usize::from(area.width));
    let mut column = 0usize;
    let (mut named_to, mut last) = (0usize, None);
    for (at, (text, part)) in state.pieces.iter().enumerate() {
        let (from, to) = (column, column + cells[at]);
        column = to;
        if from < shift || from - shift >= usize::from(area.width) {
            last = *part;
            continue;
        }
        let x = area.x + (from - shift) as u16;
        let mut style = match part {
            Some(Part::Message) => theme.ink(Ink::Chalk).add_modifier(Modifier::BOLD),
            Some(Part::Level) => theme.ink(Ink::Ember),
            Some(Part::Other) | None => smoke,
            Some(_) => theme.ink(Ink::Ice),
        };
        let here = chosen && at == state.at;
        if here {
            style = style.add_modifier(Modifier::REVERSED);
        }
        let room = area.right().saturating_sub(x);
        put(buf, x, area.y, room, &[(text, style)]);
        let first_of_it = part.is_some() && *part != last;
        if (here || first_of_it) && !text.trim().is_empty() {
            let word = part_word(*part);
            if here {
                let ink = theme.ink(Ink::Ice).add_modifier(Modifier::BOLD);
                put(buf, x, area.y + 2, room, &[(word, ink)]);
            } else if from >= named_to {
                put(buf, x, area.y + 1, room, &[(word, smoke)]);
                named_to = from + word.len() + 1;
            }
        }
        last = *part;
    }
}

/// The keys, in as many rows as they need.
fn key_rows(width: u16) -> Vec<Vec<(&'static str, &'static str)>> {
    let moves = [
        ("← →", "a word"),
        ("↑ ↓", "what it is"),
        ("+ -", "the next line too"),
        ("Tab", "from line to line"),
        ("Enter", "keep it"),
        ("Esc", "leave it"),
    ];
    let names = NAMED.iter().map(|(key, _, word)| (*key, *word)).chain([("x", "stays")]);
    let mut rows: Vec<Vec<(&str, &str)>> = Vec::new();
    let mut room = 0;
    for (at, (key, word)) in moves.into_iter().chain(names).enumerate() {
        let cells = izba_model::text::width_cells(key) + 1 + word.len() + 2;
        if at == 0 || at == moves.len() || cells > room + 2 {
            rows.push(Vec::new());
            room = usize::from(width);
        }
        room = room.saturating_sub(cells);
        if let Some(row) = rows.last_mut() {
            row.push((key, word));
        }
    }
    rows
}

fn draw_keys(model: &Model, inner: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let smoke = theme.ink(Ink::Smoke);
    let key = theme.ink(Ink::Ice).add_modifier(Modifier::BOLD);
    for (up, keys) in key_rows(inner.width).iter().rev().enumerate() {
        let pieces: Vec<(&str, Style)> = keys
            .iter()
            .flat_map(|(k, w)| [(*k, key), (" ", smoke), (*w, smoke), ("  ", smoke)])
            .collect();
        put(buf, inner.x, inner.bottom().saturating_sub(1 + up as u16), inner.width, &pieces);
    }
}
