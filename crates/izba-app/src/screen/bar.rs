//! The bar on top, the sentence under it, notices, and the keys at the bottom.

use crate::keymap::{Action, binding};
use crate::model::{Model, Room};
use crate::parts::pen::{lasting, put, put_right, safe};
use crate::rooms::{self, ROOMS};
use crate::theme::{Ground, Ink};
use izba_core::RunMark;
use izba_model::text::width_cells;
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

/// How what is watched goes, in a sentence without what moves all the time.
pub fn status(model: &Model) -> String {
    let one = |s: &izba_core::SourceView| {
        let how = match &s.mark {
            RunMark::Waiting => "is waited for".to_owned(),
            RunMark::Running => "is watched".to_owned(),
            RunMark::Ended { how, .. } => how.clone(),
        };
        let run = if s.run > 0 { format!(" (run {})", s.run) } else { String::new() };
        safe(&format!("{} {how}{run}", s.name))
    };
    let all: Vec<String> = model.shown.snapshot.sources.iter().map(one).collect();
    let held = if model.held { "; the screen is held still" } else { "" };
    match all.is_empty() {
        true => "Nothing is watched yet.".into(),
        false => format!("{}{held}.", all.join("; ")),
    }
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

/// A key at the bottom: what it does, if it does one thing; how it is written; where it stands.
struct Hint {
    action: Option<Action>,
    key: &'static str,
    words: String,
    x: u16,
    width: u16,
}

/// The keys at the bottom, as many as there is room for; help and the way out are always among
/// them.
fn hints_at(model: &Model, area: Rect) -> Vec<Hint> {
    let kind = rooms::of(model.room);
    let hint = |action: Option<Action>, key: &'static str, words: String| {
        let width = (width_cells(key) + 1 + width_cells(&words)) as u16;
        Hint { action, key, words, x: 0, width }
    };
    let bound = |action: Action, words: &str| {
        let b = binding(action);
        hint(Some(action), b.keys[0], if words.is_empty() { b.label } else { words }.to_owned())
    };
    let arrows = (kind.arrows)(model).map(|words| hint(None, "↑↓", words.to_owned()));
    let own = (kind.hints)(model);
    let own = own.iter().map(|(action, words)| bound(*action, words));
    let always = [bound(Action::Help, ""), bound(Action::Quit, "")];
    let mut room = area.width.saturating_sub(1 + always.iter().map(|h| h.width + 3).sum::<u16>());
    let mut shown: Vec<Hint> = arrows.into_iter().chain(own).collect();
    shown.retain(|hint| {
        let fits = hint.width + 3 <= room;
        room = if fits { room - hint.width - 3 } else { 0 };
        fits
    });
    shown.extend(always);
    let mut x = area.x + 1;
    for hint in &mut shown {
        hint.x = x;
        x += hint.width + 3;
    }
    shown.retain(|hint| hint.x + hint.width <= area.right());
    shown
}

/// What the key at a column of the footer does.
pub fn action_at(model: &Model, area: Rect, column: u16) -> Option<Action> {
    let hints = hints_at(model, area);
    hints.iter().find(|h| (h.x..h.x + h.width).contains(&column)).and_then(|h| h.action)
}

/// The keys that help here, as the table has them.
pub fn footer(model: &Model, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    buf.set_style(area, theme.ground(Ground::Plank));
    for hint in hints_at(model, area) {
        let words = [
            (hint.key, theme.ink(Ink::Ice).add_modifier(Modifier::BOLD)),
            (" ", Style::new()),
            (&hint.words, theme.ink(Ink::Smoke)),
        ];
        put(buf, hint.x, area.y, hint.width, &words);
    }
}
