//! The bar on top, the sentence under it, notices, and the keys at the bottom.

use super::pen::{lasting, put, put_right, safe};
use crate::keymap::{Action, binding};
use crate::model::{Model, Question, Room, Shown};
use crate::theme::{Ground, Ink};
use izba_cause::Tone;
use izba_core::{GroupView, RunMark, State};
use izba_model::Level;
use izba_model::text::counted;
use izba_watch::is_over;
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::{Modifier, Style};

const ROOMS: [(&str, Room); 7] = [
    ("Now", Room::Now),
    ("Lines", Room::Lines),
    ("Runs", Room::Runs),
    ("Values", Room::Values),
    ("Checks", Room::Checks),
    ("Pause", Room::Pause),
    ("Notes", Room::Notes),
];

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
    for (name, room) in ROOMS {
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
    for (name, room) in ROOMS {
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

/// When and where it strikes, beyond its place.
fn tail(group: &GroupView) -> String {
    let object = match group.objects.as_slice() {
        [] => None,
        [(one, _)] => Some(one.clone()),
        [(one, _), rest @ ..] => Some(format!("{one} and {} more", rest.len())),
    };
    let handler = group.entry.report.handler.as_deref();
    let often = match group.rate {
        r if r >= 1.5 && group.count >= 5 => Some(format!("{} times a second", r.round() as u64)),
        r if r >= 0.95 && group.count >= 5 => Some("once a second".to_owned()),
        _ if group.count > 1 => Some(counted(group.count, "time so far", "times so far")),
        _ => None,
    };
    let who = match (object, handler) {
        (Some(object), Some(handler)) => Some(format!("{object} in its {handler}")),
        (Some(object), None) => Some(object),
        _ => None,
    };
    match (who, often) {
        (Some(who), Some(often)) => format!("{who}, {often}."),
        (Some(who), None) => format!("{who}."),
        (None, Some(often)) => format!("{}{}.", often[..1].to_uppercase(), &often[1..]),
        (None, None) => String::new(),
    }
}

/// The sentence about the one thing to fix first.
pub fn headline(model: &Model, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let snapshot = &model.shown.snapshot;
    // A program that ended badly without a word is worse than what warns.
    let first = model.first().filter(|g| {
        g.state != State::Quiet
            && (g.level() >= Level::Error || snapshot.unexplained_end().is_none())
    });
    let mut pieces: Vec<(String, Style)> = Vec::new();
    let plain = theme.ink(Ink::Chalk);
    match first {
        Some(group) => {
            let warns = group.level() < Level::Error;
            let lead = if warns { "No errors. Worth a look  " } else { "Fix first  " };
            pieces.push((lead.into(), theme.ink(Ink::Smoke)));
            for part in &group.explanation.headline.parts {
                let style = match part.tone {
                    Tone::Text => plain,
                    Tone::Name => theme
                        .ink(if warns { Ink::Straw } else { Ink::Ember })
                        .add_modifier(Modifier::BOLD),
                    Tone::Place => theme.ink(Ink::Ice),
                };
                pieces.push((safe(&part.text), style));
            }
            if let Some((Shown::Suspect(suspect), _)) =
                model.places(group).first().and_then(|s| Some((*s, s.place(group)?)))
                && suspect.confidence >= izba_model::claim::LIKELY
            {
                let name = safe(suspect.file.rsplit('/').next().unwrap_or(""));
                let place =
                    if suspect.line == 0 { name } else { format!("{name}:{}", suspect.line) };
                pieces.push(("  Look first at ".into(), theme.ink(Ink::Smoke)));
                pieces.push((place, theme.ink(Ink::Ice).add_modifier(Modifier::BOLD)));
            }
            pieces.push((format!("  {}", safe(&tail(group))), theme.ink(Ink::Smoke)));
        }
        None => {
            let (_, quiet) = model.tally();
            let over = is_over(&model.shown);
            let well = theme.ink(Ink::Moss);
            if let Some(sentence) = snapshot.unexplained_end() {
                pieces.push((safe(&sentence), theme.ink(Ink::Ember)));
                pieces.push(("  Its last lines are in room Lines.".into(), theme.ink(Ink::Smoke)));
            } else if snapshot.sources.is_empty() {
                pieces.push(("Nothing is watched yet.".into(), plain));
                pieces.push((
                    "  New here? izba demo shows how it goes.".into(),
                    theme.ink(Ink::Smoke),
                ));
            } else if snapshot.rows == 0 && !over {
                pieces.push(("Nothing has been printed yet.".into(), plain));
                pieces.push((
                    "  What the program says will appear here.".into(),
                    theme.ink(Ink::Smoke),
                ));
            } else if quiet > 0 {
                pieces.push(("No errors in this run".into(), well.add_modifier(Modifier::BOLD)));
                pieces.push((
                    format!(
                        ", {} since the last.",
                        counted(quiet as u64, "is gone quiet", "are gone quiet")
                    ),
                    well,
                ));
                if !over {
                    pieces.push((
                        "  Do the same thing again, harder, to be sure.".into(),
                        theme.ink(Ink::Smoke),
                    ));
                }
            } else {
                pieces.push((
                    if over { "No errors. " } else { "No errors so far." }.into(),
                    well.add_modifier(Modifier::BOLD),
                ));
                pieces.push((
                    format!("  {} read.", counted(snapshot.rows, "line", "lines")),
                    theme.ink(Ink::Smoke),
                ));
            }
        }
    }
    put_wrapped(buf, area, &pieces);
}

/// Puts pieces into an area, broken at spaces.
pub fn put_wrapped(buf: &mut Buffer, area: Rect, pieces: &[(String, Style)]) {
    let words: Vec<(&str, Style)> = pieces
        .iter()
        .flat_map(|(text, style)| text.split_inclusive(' ').map(move |w| (w, *style)))
        .collect();
    let (mut x, mut y) = (area.x, area.y);
    for (at, (word, style)) in words.iter().enumerate() {
        // What follows without a space between, such as a comma, stays with its word.
        let glued = words[at..]
            .iter()
            .position(|(w, _)| w.ends_with(' '))
            .map_or(words.len(), |spaced| at + spaced + 1);
        let width: usize =
            words[at..glued].iter().map(|(w, _)| izba_model::text::width_cells(w.trim_end())).sum();
        let width = width as u16;
        let width = width.min(area.width);
        if x + width > area.right() && x > area.x {
            if y + 1 >= area.bottom() {
                let rest: String = words[at..].iter().map(|(w, _)| *w).collect();
                let room = area.right().saturating_sub(x);
                if room > 0 {
                    put(buf, x, y, room, &[(&rest, *style)]);
                } else {
                    put(buf, area.right() - 1, y, 1, &[("…", *style)]);
                }
                return;
            }
            (x, y) = (area.x, y + 1);
        }
        if x == area.x && y > area.y && word.trim().is_empty() {
            continue;
        }
        let room = area.right().saturating_sub(x);
        // At the very edge there is no room for the blank behind a word, and no need of it.
        let word = if izba_model::text::width_cells(word) > usize::from(room) {
            word.trim_end()
        } else {
            word
        };
        x += put(buf, x, y, room, &[(word, *style)]);
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

/// The keys that help here, as the table has them.
pub fn footer(model: &Model, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    buf.set_style(area, theme.ground(Ground::Plank));
    // What would be edited: the place that Where shows, which need not be the one that the console
    // names.
    let edits = model.selected().and_then(|g| {
        let place =
            model.place_shown(g).map(|(_, place)| place).or_else(|| g.entry.place.clone())?;
        let here = g.entry.place.as_ref().is_some_and(|p| p.file == place.file);
        let name = safe(place.file.rsplit('/').next().unwrap_or(&place.file));
        place.line.map(|line| {
            if here { format!("edit line {line}") } else { format!("edit {name}:{line}") }
        })
    });
    let mut keys: Vec<(String, String)> = Vec::new();
    let mut arrows = |words: &str| keys.push(("↑↓".to_owned(), words.to_owned()));
    match (model.room, model.focus) {
        (Room::Lines | Room::Runs | Room::Checks | Room::Pause | Room::Values | Room::Notes, _)
        | (_, Question::What) => arrows("choose"),
        (_, Question::Where) => arrows("step"),
        (_, Question::Why) => arrows("scroll"),
        (_, Question::When) => {}
    }
    let mut add = |action: Action, words: &str| {
        let b = binding(action);
        keys.push((
            b.keys[0].to_owned(),
            if words.is_empty() { b.label.to_owned() } else { words.to_owned() },
        ));
    };
    match model.room {
        Room::Now => {
            if model.zoom.is_some() {
                add(Action::Back, "all four");
            } else {
                add(
                    Action::Deeper,
                    if model.focus == Question::What { "where it is" } else { "full screen" },
                );
            }
            if let Some(edits) = &edits {
                add(Action::Edit, edits);
            }
            if model.live.can_run_again {
                add(Action::Again, "");
            }
            add(Action::NextQuestion, "");
            if model.live.running {
                add(Action::Stop, "");
            }
            if model.live.pause.source.is_some() {
                add(Action::StopBefore, "");
            }
            add(Action::Across, "its lines");
            add(Action::Filter, "");
            add(Action::Mute, "");
        }
        Room::Runs => {
            add(Action::Earlier, "earlier");
            add(Action::Later, "later");
            add(Action::Deeper, "open the run");
            add(Action::Compare, "");
            if model.live.can_run_again {
                add(Action::Again, "");
            }
            add(Action::Filter, "");
            add(Action::RoomNow, "");
        }
        Room::Pause if model.live.pause.state.stop.is_some() => {
            add(Action::GoOn, "");
            add(Action::Over, "");
            add(Action::Into, "");
            add(Action::Out, "");
            add(Action::OneTick, "");
            add(Action::Deeper, "open");
            add(Action::Breakpoint, "");
            add(Action::AsTable, "");
            add(Action::NextPane, "");
            add(Action::RoomNow, "");
        }
        Room::Pause => {
            add(Action::PauseNow, "");
            add(Action::StopsAt, "");
            add(Action::Deeper, "change it");
            add(Action::TakeOff, "take it off");
            add(Action::RoomNow, "");
        }
        Room::Values => {
            add(Action::Differing, "");
            add(Action::Pin, "");
            add(Action::Beside, "");
            add(Action::ReadEarlier, "");
            add(Action::Closer, "");
            add(Action::EarlierStretch, "");
            add(Action::Prints, "");
            add(Action::Deeper, "its line");
            add(Action::RoomNow, "");
        }
        Room::Notes => {
            add(Action::Deeper, "write in it");
            add(Action::Edit, "edit the file");
            add(Action::Filter, "look for words");
            add(Action::RoomNow, "");
        }
        Room::Checks => {
            add(Action::Deeper, "edit the line");
            add(Action::Mute, "I know");
            add(Action::Undo, "");
            add(Action::RoomNow, "");
        }
        Room::Lines => {
            add(Action::Deeper, "its group");
            add(Action::Filter, "");
            if model.filter.phrase.is_some() {
                add(Action::Peek, if model.peek { "hide again" } else { "" });
            }
            add(Action::Find, "");
            add(Action::Teach, "");
            add(Action::Paths, "");
            add(Action::Last, "newest");
            add(Action::Hold, if model.held { "go on" } else { "hold" });
            add(Action::RoomNow, "");
        }
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
