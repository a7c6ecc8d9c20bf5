//! The sheets of sources and of teaching: what is watched and how it goes; how a line is divided
//! into its parts.

use crate::model::{DrawSheet, Model, Sources, Teach};
use crate::parts::pen::{lasting, put, put_right, safe, sheet};
use crate::teach::part_word;
use crate::theme::{Ground, Ink};
use izba_console::read::layout::Part;
use izba_core::{RunMark, SourceView};
use izba_model::text::{counted, thousands};
use izba_watch::SourceState;
use izba_watch::drawing::DRAWINGS;
use izba_watch::wanted::KINDS;
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::{Modifier, Style};

/// Draws the sheet of sources, or, while there is none, of what could be watched.
pub fn sources(model: &Model, state: &Sources, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let all = &model.live.snapshot.sources;
    let offered = all.is_empty();
    let rows = if offered { model.offers.len() + 1 } else { all.len() } + model.live.awaited.len();
    let adding = if state.adding.is_some() { KINDS.len() + 3 } else { 0 };
    let name = if offered { "What shall Izba watch?" } else { "Sources" };
    let height = (rows + adding + 7) as u16;
    let inner = sheet(model, area, 118, height, name, if offered { "" } else { "Esc closes" }, buf);
    let smoke = theme.ink(Ink::Smoke);
    let mut y = inner.y;
    let mut line = |pieces: &[(&str, Style)], buf: &mut Buffer| {
        if y < inner.bottom() {
            put(buf, inner.x, y, inner.width, pieces);
        }
        y += 1;
    };
    let mark = |at: usize| if at == state.chosen { "› " } else { "  " };
    let bench = |at: usize, y: u16, buf: &mut Buffer| {
        if at == state.chosen && y < inner.bottom() {
            buf.set_style(Rect::new(inner.x, y, inner.width, 1), theme.ground(Ground::Bench));
        }
    };
    if offered {
        let words = if model.offers.is_empty() {
            "Nothing here tells by itself what could be watched."
        } else {
            "This fits what lies in the folder:"
        };
        line(&[(words, smoke)], buf);
        for (at, offer) in model.offers.iter().enumerate() {
            bench(at, inner.y + 1 + at as u16, buf);
            let (kind, what) = offer.split_once(' ').unwrap_or((offer, ""));
            line(
                &[
                    (mark(at), theme.ink(Ink::Ice)),
                    (&format!("{kind:<8}"), smoke),
                    (&safe(what), theme.ink(Ink::Chalk)),
                ],
                buf,
            );
        }
        let at = model.offers.len();
        bench(at, inner.y + 1 + at as u16, buf);
        line(&[(mark(at), theme.ink(Ink::Ice)), ("something else …", theme.ink(Ink::Chalk))], buf);
    }
    let widest =
        all.iter().map(|s| izba_model::text::width_cells(&s.name)).max().unwrap_or(0).clamp(8, 28);
    for (at, source) in all.iter().enumerate() {
        bench(at, inner.y + at as u16, buf);
        let decided = model.live.sources.get(at).cloned().unwrap_or_default();
        let (how, ink) = goes(model, source, &decided);
        let name = izba_model::text::fit(&safe(&source.name), widest).into_owned();
        let pad = " ".repeat(widest.saturating_sub(izba_model::text::width_cells(&name)) + 2);
        line(
            &[
                (mark(at), theme.ink(Ink::Ice)),
                (&name, theme.ink(Ink::Chalk)),
                (&pad, smoke),
                (&how, theme.ink(ink)),
            ],
            buf,
        );
        if inner.y + (at as u16) < inner.bottom() {
            put_right(
                buf,
                inner.right(),
                inner.y + at as u16,
                16,
                &[(&format!(" {}", counted(source.lines, "line", "lines")), smoke)],
            );
        }
    }
    for pattern in &model.live.awaited {
        line(
            &[
                ("  ", smoke),
                (&safe(pattern), theme.ink(Ink::Chalk)),
                ("  no file fits yet; looked for every second", smoke),
            ],
            buf,
        );
    }
    line(&[], buf);
    if let Some(input) = &state.adding {
        line(
            &[
                ("Watch  ", theme.ink(Ink::Ice)),
                (&safe(input.value()), theme.ink(Ink::Chalk)),
                ("▏", theme.ink(Ink::Ice)),
            ],
            buf,
        );
        line(&[], buf);
        for (_, word, what) in KINDS {
            line(&[(&format!("  {word:<8} "), theme.ink(Ink::Ice)), (what, smoke)], buf);
        }
    }
    let key = theme.ink(Ink::Ice).add_modifier(Modifier::BOLD);
    let keys: &[(&str, &str)] = match (&state.adding, offered) {
        (Some(_), _) => &[("Enter", "watches it"), ("Esc", "leaves it")],
        (None, true) => &[("Enter", "watches it"), ("+", "something else"), ("q", "leave")],
        (None, false) => &[
            ("+", "add"),
            ("Space", "hold or let go"),
            ("d", "take away"),
            ("Enter", "its newest line"),
            ("w", "keep in izba.toml"),
        ],
    };
    let pieces: Vec<(&str, Style)> = keys
        .iter()
        .flat_map(|(k, w)| [(*k, key), (" ", smoke), (*w, smoke), ("   ", smoke)])
        .collect();
    put(buf, inner.x, inner.bottom().saturating_sub(1), inner.width, &pieces);
}

/// How a source goes, in words.
fn goes(model: &Model, source: &SourceView, decided: &SourceState) -> (String, Ink) {
    let held = if decided.backlog > 1 << 20 {
        format!("held still, {} MB wait", decided.backlog >> 20)
    } else {
        "held still; what it says is kept".into()
    };
    let since = source
        .run_started
        .map(|start| format!(" for {}", lasting(model.live.snapshot.now.since(start))))
        .unwrap_or_default();
    let run = if source.run > 1 {
        format!(", run {}", thousands(u64::from(source.run)))
    } else {
        String::new()
    };
    match &source.mark {
        _ if decided.taken => ("taken away; what it said stays".into(), Ink::Smoke),
        _ if decided.held => (held, Ink::Heather),
        RunMark::Waiting => ("waiting: it is not there yet".into(), Ink::Smoke),
        RunMark::Running => (format!("watching{since}{run}"), Ink::Chalk),
        RunMark::Ended { how, well } => {
            (format!("{}{run}", safe(how)), if *well { Ink::Smoke } else { Ink::Ember })
        }
    }
}

/// Draws the sheet of drawings.
pub fn draw(model: &Model, state: DrawSheet, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let (chalk, smoke, ice) = (theme.ink(Ink::Chalk), theme.ink(Ink::Smoke), theme.ink(Ink::Ice));
    let inner = sheet(model, area, 92, DRAWINGS.len() as u16 + 8, "Draw", "Esc closes", buf);
    for (at, known) in DRAWINGS.iter().enumerate() {
        let y = inner.y + 1 + at as u16;
        if y >= inner.bottom() {
            return;
        }
        if at == state.chosen {
            buf.set_style(Rect::new(inner.x, y, inner.width, 1), theme.ground(Ground::Bench));
        }
        put(
            buf,
            inner.x,
            y,
            inner.width,
            &[(&format!("{:<9}", known.id), ice), (known.says, chalk)],
        );
    }
    let ground =
        if state.paper { "on white, to be printed" } else { "in the colours of the screen" };
    put(buf, inner.x, inner.bottom().saturating_sub(2), inner.width, &[(ground, smoke)]);
    let key = ice.add_modifier(Modifier::BOLD);
    let keys: &[(&str, Style)] = &[
        ("s", key),
        (" SVG   ", smoke),
        ("p", key),
        (" PDF   ", smoke),
        ("c", key),
        (" its numbers as CSV   ", smoke),
        ("j", key),
        (" as JSON lines   ", smoke),
        ("l", key),
        (if state.paper { " dark" } else { " light" }, smoke),
    ];
    put(buf, inner.x, inner.bottom().saturating_sub(1), inner.width, keys);
}

/// Draws how a line is read.
pub fn teach(model: &Model, state: &Teach, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let inner = sheet(model, area, 130, 22, "How this line is read", &state.from, buf);
    let smoke = theme.ink(Ink::Smoke);
    // The line with each part in its own row of words below; it scrolls with the chosen piece.
    let cells: Vec<usize> =
        state.pieces.iter().map(|(text, _)| izba_model::text::width_cells(text)).collect();
    let before: usize = cells[..state.at].iter().sum();
    let shift = (before + cells.get(state.at).copied().unwrap_or(0) + 12)
        .saturating_sub(usize::from(inner.width));
    let mut column = 0usize;
    let (mut named_to, mut last) = (0usize, None);
    for (at, (text, part)) in state.pieces.iter().enumerate() {
        let (from, to) = (column, column + cells[at]);
        column = to;
        if from < shift || from - shift >= usize::from(inner.width) {
            last = *part;
            continue;
        }
        let x = inner.x + (from - shift) as u16;
        let mut style = match part {
            Some(Part::Message) => theme.ink(Ink::Chalk).add_modifier(Modifier::BOLD),
            Some(Part::Level) => theme.ink(Ink::Ember),
            Some(Part::Other) | None => smoke,
            Some(_) => theme.ink(Ink::Ice),
        };
        if at == state.at {
            style = style.add_modifier(Modifier::REVERSED);
        }
        put(buf, x, inner.y + 1, inner.right().saturating_sub(x), &[(text, style)]);
        let first_of_it = part.is_some() && *part != last;
        if (at == state.at || first_of_it) && !text.trim().is_empty() {
            let word = part_word(*part);
            let ink = if at == state.at {
                theme.ink(Ink::Ice).add_modifier(Modifier::BOLD)
            } else {
                smoke
            };
            let row = if at == state.at { 3 } else { 2 };
            if at == state.at || from >= named_to {
                put(buf, x, inner.y + row, inner.right().saturating_sub(x), &[(word, ink)]);
                if at != state.at {
                    named_to = from + word.len() + 1;
                }
            }
        }
        last = *part;
    }
    let mut y = inner.y + 5;
    let mut line = |pieces: &[(&str, Style)], buf: &mut Buffer| {
        if y + 2 < inner.bottom() {
            put(buf, inner.x, y, inner.width, pieces);
        }
        y += 1;
    };
    line(
        &[
            ("Lines like it are   ", smoke),
            (state.level.word(), theme.ink(Ink::Chalk)),
            ("     g changes that", smoke),
        ],
        buf,
    );
    line(
        &[
            ("Kept as             ", smoke),
            (&safe(&state.template().to_string()), theme.ink(Ink::Chalk)),
        ],
        buf,
    );
    match state.layout() {
        Ok(layout) => {
            let read = state.read_by(&layout);
            let words = format!(
                "Of the {} around it this would read {}:",
                counted(state.others.len() as u64, "line", "lines"),
                thousands(read.len() as u64)
            );
            line(&[(&words, smoke)], buf);
            for text in read.iter().take(5) {
                line(&[("  ", smoke), (&safe(text), theme.ink(Ink::Chalk))], buf);
            }
        }
        Err(sentence) => line(
            &[("Not yet: ", theme.ink(Ink::Straw)), (&safe(&sentence), theme.ink(Ink::Straw))],
            buf,
        ),
    }
    let key = theme.ink(Ink::Ice).add_modifier(Modifier::BOLD);
    let rows: [&[(&str, &str)]; 2] = [
        &[
            ("← →", "choose a word"),
            ("↑ ↓", "change what it is"),
            ("Enter", "keep it"),
            ("Esc", "leave it"),
        ],
        &[
            ("m", "message"),
            ("s", "script"),
            ("n", "line"),
            ("o", "object"),
            ("l", "level"),
            ("t", "time"),
            ("x", "stays"),
        ],
    ];
    for (up, keys) in rows.iter().rev().enumerate() {
        let pieces: Vec<(&str, Style)> = keys
            .iter()
            .flat_map(|(k, w)| [(*k, key), (" ", smoke), (*w, smoke), ("   ", smoke)])
            .collect();
        put(buf, inner.x, inner.bottom().saturating_sub(1 + up as u16), inner.width, &pieces);
    }
}
