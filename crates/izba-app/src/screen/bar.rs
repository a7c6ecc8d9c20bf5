//! The bar on top, the sentence under it, notices, and the keys at the bottom.

use crate::keymap::{Action, binding};
use crate::model::{Model, Room};
use crate::parts::pen::{lasting, put, put_right, safe};
use crate::rooms::{self, ROOMS};
use crate::theme::{Ground, Ink};
use izba_core::RunMark;
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::{Modifier, Style};

/// Whether there is room for all: else the name of the program is left out, and rooms stand closer.
fn is_tight(model: &Model) -> bool {
    model.size.0 < 100
}

fn rooms_at(model: &Model) -> u16 {
    let name = izba_model::text::width_cells(model.shown.snapshot.project.name()).min(24) as u16;
    let (before, behind) = if is_tight(model) { (3, 1) } else { (8, 4) };
    (before + name + behind).min(model.size.0 / if is_tight(model) { 5 } else { 3 })
}

/// Cells between the names of two rooms, beside the one on each side that belongs to a name.
fn between(model: &Model) -> u16 {
    u16::from(!is_tight(model))
}

/// The room whose name stands at a column of the bar.
pub fn room_at(model: &Model, column: u16) -> Option<Room> {
    let mut x = rooms_at(model);
    for kind in ROOMS {
        let (name, room) = (kind.name, kind.room);
        let width = name.len() as u16 + 2;
        if (x..x + width).contains(&column) {
            return Some(room);
        }
        x += width + between(model);
    }
    None
}

/// The bar: project, rooms, sources.
pub fn draw(model: &Model, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let row = Rect::new(area.x, area.y, area.width, 1);
    buf.set_style(row, theme.ground(Ground::Plank));
    let snapshot = &model.shown.snapshot;
    let name = safe(snapshot.project.name());
    let rooms = rooms_at(model);
    put(
        buf,
        area.x + 1,
        area.y,
        rooms - 2,
        &[
            ("◎ ", theme.ink(Ink::Ember)),
            (
                if is_tight(model) { "" } else { "izba" },
                theme.ink(Ink::Chalk).add_modifier(Modifier::BOLD),
            ),
            (if is_tight(model) { "" } else { "  " }, Style::new()),
            (&name, theme.ink(Ink::Smoke)),
        ],
    );
    let mut x = area.x + rooms;
    for kind in ROOMS {
        let (name, room) = (kind.name, kind.room);
        let style = if room == model.room { theme.chosen_room() } else { theme.ink(Ink::Smoke) };
        x += put(buf, x, area.y, area.right().saturating_sub(x), &[(&format!(" {name} "), style)])
            + between(model);
    }
    let mut words: Vec<(String, Style)> = Vec::new();
    if let Some(run) = model.live.past {
        words.push((format!("run {run}, as it was"), theme.ink(Ink::Heather)));
        words.push(("Esc goes back".into(), theme.ink(Ink::Smoke)));
    }
    if model.held {
        words.push(("held still".into(), theme.ink(Ink::Heather)));
    }
    if model.live.pause.state.stop.is_some() && model.room != Room::Pause {
        words.push((
            format!("the program waits; {} shows where", binding(Action::RoomPause).keys[0]),
            theme.ink(Ink::Straw),
        ));
    }
    if model.live.backlog > 1 << 20 {
        words.push((
            format!("{} MB still to read", model.live.backlog >> 20),
            theme.ink(Ink::Straw),
        ));
    }
    match snapshot.sources.as_slice() {
        [one] => {
            // A long command is shortened, never how it goes.
            let room = usize::from(area.width / 2).saturating_sub(18);
            let name_for = |beside: usize| {
                izba_model::text::fit(&safe(&one.name), room.saturating_sub(beside).max(8))
                    .into_owned()
            };
            let how = match &one.mark {
                RunMark::Waiting => ("waiting".to_owned(), Ink::Smoke),
                RunMark::Running => (format!("watching {}", name_for(9)), Ink::Chalk),
                RunMark::Ended { how, well } => (
                    format!("{} {}", name_for(how.len()), safe(how)),
                    if *well { Ink::Moss } else { Ink::Chalk },
                ),
            };
            words.push((how.0, theme.ink(how.1)));
            if one.run > 0 {
                words.push((format!("run {}", one.run), theme.ink(Ink::Smoke)));
            }
            if let (Some(start), RunMark::Running) = (one.run_started, &one.mark) {
                words.push((lasting(snapshot.now.since(start)), theme.ink(Ink::Smoke)));
            }
        }
        [] => words.push(("nothing is watched yet".into(), theme.ink(Ink::Smoke))),
        many => {
            let watching = many.iter().filter(|s| s.mark == RunMark::Running).count();
            words.push((
                format!("watching {watching} of {} sources", many.len()),
                theme.ink(Ink::Chalk),
            ));
        }
    }
    let mut pieces: Vec<(&str, Style)> = Vec::new();
    for (text, style) in &words {
        pieces.push((text, *style));
        pieces.push(("   ", Style::new()));
    }
    pieces.pop();
    let room = (area.right() - 1).saturating_sub(x + 1);
    put_right(buf, area.right() - 1, area.y, room, &pieces);
}

/// One sentence for the user; or what the program asks.
pub fn notice(model: &Model, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    if let Some((sentence, _)) = &model.notice {
        put(
            buf,
            area.x,
            area.y,
            area.width,
            &[("◎ ", theme.ink(Ink::Heather)), (&safe(sentence), theme.ink(Ink::Chalk))],
        );
        return;
    }
    if let Some(trouble) = model.live.troubles.last() {
        put(
            buf,
            area.x,
            area.y,
            area.width,
            &[("◇ ", theme.ink(Ink::Straw)), (&safe(trouble), theme.ink(Ink::Straw))],
        );
        return;
    }
    let asks = model
        .live
        .snapshot
        .sources
        .iter()
        .filter(|s| s.mark == RunMark::Running)
        .find_map(|s| s.unfinished.as_ref());
    if let Some(asks) = asks.filter(|_| model.live.running) {
        put(
            buf,
            area.x,
            area.y,
            area.width,
            &[
                ("The program waits at ", theme.ink(Ink::Smoke)),
                (asks.as_str().trim(), theme.ink(Ink::Chalk)),
                ("   r", theme.ink(Ink::Ice)),
                (" answers it", theme.ink(Ink::Smoke)),
            ],
        );
    }
}

/// The keys that help here, as the table has them.
pub fn footer(model: &Model, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    buf.set_style(area, theme.ground(Ground::Plank));
    let kind = rooms::of(model.room);
    let mut keys: Vec<(String, String)> = Vec::new();
    keys.extend((kind.arrows)(model).map(|words| ("↑↓".to_owned(), words.to_owned())));
    let mut add = |action: Action, words: &str| {
        let b = binding(action);
        let words = if words.is_empty() { b.label } else { words };
        keys.push((b.keys[0].to_owned(), words.to_owned()));
    };
    for (action, words) in (kind.hints)(model) {
        add(action, &words);
    }
    add(Action::Help, "");
    add(Action::Quit, "");
    // The last two, help and the way out, are always there.
    let always = keys.split_off(keys.len().saturating_sub(2));
    let width_of = |keys: &[(String, String)]| -> u16 {
        keys.iter()
            .map(|(k, w)| {
                (izba_model::text::width_cells(k) + izba_model::text::width_cells(w) + 4) as u16
            })
            .sum()
    };
    let mut room = area.width.saturating_sub(1 + width_of(&always));
    keys.retain(|key| {
        let width = width_of(std::slice::from_ref(key));
        let fits = width <= room;
        room = if fits { room - width } else { 0 };
        fits
    });
    keys.extend(always);
    let mut x = area.x + 1;
    for (key, words) in &keys {
        let width =
            (izba_model::text::width_cells(key) + 1 + izba_model::text::width_cells(words)) as u16;
        if x + width > area.right() {
            break;
        }
        x += put(
            buf,
            x,
            area.y,
            width,
            &[
                (key, theme.ink(Ink::Ice).add_modifier(Modifier::BOLD)),
                (" ", Style::new()),
                (words, theme.ink(Ink::Smoke)),
            ],
        ) + 3;
    }
}
