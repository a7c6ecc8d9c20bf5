//! Room Pause: the program stopped, with the line, the steps that led there and the values, those
//! of the line first; or, while it runs, where it shall stop.

use crate::keymap::{Action, binding};
use crate::model::{Model, PausePane};
use crate::parts::pen::put_wrapped;
use crate::parts::pen::{put, put_right, safe, title};
use crate::rooms::pause::rows::{self, Row, Table, ValueRow};
use crate::theme::{Ground, Ink};
use izba_core::GroupView;
use izba_dap::{Phase, Stop};
use izba_model::Excerpt;
use izba_model::code::Kind;
use izba_model::text::counted;
use izba_model::text::{fit, fit_path, width_cells, wrap};
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::{Modifier, Style};
use std::sync::Arc;

/// Where the panes lie.
struct Areas {
    sentence: Rect,
    source: Rect,
    steps: Rect,
    values: Rect,
}

fn areas(model: &Model, area: Rect) -> Areas {
    let side = if area.width >= 100 { 2 } else { 1 };
    let roomy = area.height >= 30;
    let top = if roomy { 2 } else { 1 };
    let sentence = Rect::new(side, top, area.width.saturating_sub(2 * side), 2);
    let at = top + 2 + u16::from(roomy);
    let height = area.height.saturating_sub(at + 2 + crate::model::tour_rows(model));
    let width = area.width.saturating_sub(2 * side);
    if model.is_narrow() {
        let source = (height * 2 / 5).clamp(4, 9).min(height);
        let own = model
            .live
            .pause
            .state
            .stop
            .as_ref()
            .map_or(0, |s| s.frames.iter().filter(|f| f.own.is_some()).count())
            as u16;
        let steps = if model.pause.pane == PausePane::Steps {
            (own + 2).clamp(3, 8).min(height - source)
        } else {
            0
        };
        return Areas {
            sentence,
            source: Rect::new(side, at, width, source),
            steps: Rect::new(side, at + source, width, steps),
            values: Rect::new(side, at + source + steps, width, height - source - steps),
        };
    }
    let left = (width * 47 / 100).clamp(48, 84);
    let upper = height * 13 / 20;
    Areas {
        sentence,
        source: Rect::new(side, at, left, upper),
        steps: Rect::new(side, at + upper, left, height - upper),
        values: Rect::new(side + left + 3, at, width - left - 3, height),
    }
}

/// Rows of source that are shown.
pub fn source_rows(model: &Model, area: Rect) -> u16 {
    areas(model, area).source.height.saturating_sub(2)
}

/// Rows of a table that fit.
pub fn table_page(area: Rect) -> usize {
    usize::from(area.height.saturating_sub(9)).max(1)
}

/// Draws the room into `area`; what finds no room there is left out.
pub fn draw(model: &Model, area: Rect, buf: &mut Buffer) {
    let areas = areas(model, area);
    match model.live.pause.state.stop.clone() {
        Some(stop) => {
            put_wrapped(buf, areas.sentence, &sentence(model, &stop));
            if model.pause.table.is_some() {
                let y = areas.sentence.bottom() + u16::from(area.height >= 30);
                let body = Rect::new(
                    areas.sentence.x,
                    y,
                    areas.sentence.width,
                    areas.values.bottom().max(areas.steps.bottom()).saturating_sub(y),
                );
                return draw_table(model, body, buf);
            }
            draw_source(model, &stop, areas.source, buf);
            draw_steps(model, &stop, areas.steps, buf);
            draw_values(model, areas.values, buf);
        }
        None => running(model, area, &areas, buf),
    }
}

/// The group that fails in the line where it stopped.
fn group_here<'a>(model: &'a Model, stop: &Stop) -> Option<&'a Arc<GroupView>> {
    let frame = stop.frames.iter().find(|f| f.own.is_some())?;
    let file = frame.own.as_ref()?;
    let groups = &model.shown.snapshot.groups;
    groups.iter().find(|g| {
        g.entry.place.as_ref().is_some_and(|p| p.file == *file && p.line == Some(frame.line))
    })
}

/// Whether the line raises an error by itself.
fn is_raised(model: &Model, stop: &Stop) -> bool {
    let Some(frame) = stop.frames.iter().find(|f| f.own.is_some()) else { return false };
    let facts = frame.own.as_ref().and_then(|f| model.live.code.index.file(f));
    facts.is_some_and(|f| {
        f.tree
            .on_line(frame.line)
            .any(|n| n.is(Kind::Throw) || n.is(Kind::Call) && n.last_name() == Some("fatal"))
    })
}

fn sentence(model: &Model, stop: &Stop) -> Vec<(String, Style)> {
    let theme = model.theme;
    let (chalk, smoke) = (theme.ink(Ink::Chalk), theme.ink(Ink::Smoke));
    let frame = stop.frames.iter().find(|f| f.own.is_some()).or_else(|| stop.frames.first());
    let place = frame
        .map(|f| format!("{}:{}", f.own.as_deref().or(f.path.as_deref()).unwrap_or("?"), f.line))
        .unwrap_or_default();
    let place = (safe(&place), theme.ink(Ink::Ice));
    let error = stop
        .error
        .as_ref()
        .map(|e| e.message.clone())
        .or_else(|| stop.text.clone())
        .unwrap_or_default();
    let error = error.lines().next().unwrap_or("").to_owned();
    let mut said: Vec<(String, Style)> = Vec::new();
    let ember = theme.ink(Ink::Ember).add_modifier(Modifier::BOLD);
    match stop.reason.as_str() {
        "exception" if is_raised(model, stop) => {
            said.push(("Stopped at an error raised on purpose  ".into(), smoke));
            said.push((safe(&error), ember));
            said.push(("  at ".into(), chalk));
            said.push(place);
        }
        "exception" => {
            said.push(("Stopped at the error  ".into(), smoke));
            match group_here(model, stop) {
                Some(group) => said.push((safe(&group.explanation.headline.to_string()), ember)),
                None => {
                    said.push((safe(&error), ember));
                    said.push(("  at ".into(), chalk));
                    said.push(place);
                }
            }
        }
        "breakpoint" | "function breakpoint" | "data breakpoint" => {
            let set = frame.and_then(|f| {
                let own = f.own.as_deref()?;
                model.live.pause.breakpoints.iter().find(|b| {
                    b.breakpoint.file == own
                        && (b.today == Some(f.line) || b.breakpoint.line == f.line)
                })
            });
            let condition = set.and_then(|b| b.breakpoint.condition.clone());
            match (group_here(model, stop).filter(|_| condition.is_some()), condition) {
                (Some(group), Some(condition)) => {
                    said.push(("Stopped just before it, since ".into(), chalk));
                    said.push((safe(&condition), theme.ink(Ink::Heather)));
                    said.push((":  ".into(), chalk));
                    said.push((safe(&group.explanation.headline.to_string()), ember));
                }
                (_, condition) => {
                    said.push((
                        if set.is_some() {
                            "Stopped at your breakpoint ".into()
                        } else {
                            "Stopped at ".into()
                        },
                        chalk,
                    ));
                    said.push(place);
                    if let Some(condition) = condition {
                        said.push((", since ".into(), chalk));
                        said.push((safe(&condition), theme.ink(Ink::Heather)));
                    }
                    said.push((", before it runs.".into(), chalk));
                }
            }
        }
        other => {
            said.push((
                if other == "pause" {
                    "Stopped as you asked, at ".into()
                } else {
                    "Stopped at ".into()
                },
                chalk,
            ));
            said.push(place);
            said.push((
                frame.map_or(String::new(), |f| {
                    format!(" in {}, before that line runs.", safe(&f.name))
                }),
                chalk,
            ));
        }
    }
    if let Some(thread) = &stop.thread_name {
        said.push((format!("  Thread {}.", safe(thread)), smoke));
    }
    let waits = if model.live.pause.name.is_empty() {
        "The program".to_owned()
    } else {
        safe(&model.live.pause.name)
    };
    let go = binding(Action::GoOn).keys[0];
    let way = match (&stop.error, stop.reason.as_str()) {
        (Some(e), _) if e.uncaught => {
            format!("nobody catches this error, so going on ({go}) ends the program")
        }
        (_, "exception") if is_raised(model, stop) => format!(
            "{go} passes the error over, {} ends the program",
            binding(Action::Stop).keys[0]
        ),
        _ => format!("{go} lets it go on"),
    };
    said.push((format!("  {waits} waits and looks frozen meanwhile; {way}."), smoke));
    said
}

fn draw_source(model: &Model, stop: &Stop, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let Some(frame) = stop.chosen() else { return };
    let focused = model.pause.pane == PausePane::Source;
    title(buf, theme, area, "Where", focused, &safe(&frame.name));
    let path = frame.own.as_deref().or(frame.path.as_deref()).unwrap_or("nowhere that is known");
    put(
        buf,
        area.x,
        area.y + 1,
        area.width,
        &[(&safe(&fit_path(path, usize::from(area.width))), theme.ink(Ink::Ice))],
    );
    let rows = area.height.saturating_sub(2 + u16::from(area.height > 8));
    let Some(own) = &frame.own else {
        let words =
            "This step is outside your own files. The steps below show the way back to yours.";
        for (at, line) in
            wrap(words, usize::from(area.width)).into_iter().enumerate().take(usize::from(rows))
        {
            put(buf, area.x, area.y + 2 + at as u16, area.width, &[(&line, theme.ink(Ink::Smoke))]);
        }
        return;
    };
    let cursor = model.pause.line.unwrap_or(frame.line);
    let above = u32::from(rows.saturating_sub(1)) / 2;
    let Some(excerpt) = Excerpt::around(
        &model.live.today,
        own,
        cursor,
        above,
        u32::from(rows.saturating_sub(1)) - above,
        None,
    ) else {
        return;
    };
    let digits = excerpt.rows.last().map_or(1, |r| r.number.to_string().len());
    for (at, row) in excerpt.rows.iter().enumerate() {
        let y = area.y + 2 + at as u16;
        if y >= area.bottom() {
            return;
        }
        let here = row.number == frame.line;
        if here || focused && row.number == cursor {
            buf.set_style(Rect::new(area.x, y, area.width, 1), theme.ground(Ground::Bench));
        }
        let set = model
            .live
            .pause
            .breakpoints
            .iter()
            .find(|b| b.breakpoint.file == **own && b.today == Some(row.number));
        let mark = match set {
            Some(b) if b.breakpoint.off => ("⊦", Ink::Smoke),
            Some(_) => ("⊦", Ink::Heather),
            None => (" ", Ink::Smoke),
        };
        let number = if here {
            theme.ink(Ink::Straw).add_modifier(Modifier::BOLD)
        } else {
            theme.ink(Ink::Smoke)
        };
        let code = theme.ink(if here { Ink::Chalk } else { Ink::Slate });
        let used = put(
            buf,
            area.x,
            y,
            area.width,
            &[
                (mark.0, theme.ink(mark.1)),
                (&format!(" {:>digits$}  ", row.number), number),
                (row.text.as_str(), code),
            ],
        );
        let aside = match (here, set.map(|b| b.breakpoint.terms()).filter(|t| !t.is_empty())) {
            (_, Some(terms)) => (format!("   {terms}"), theme.ink(Ink::Heather)),
            (true, None) => ("   waits here".to_owned(), theme.ink(Ink::Straw)),
            _ => continue,
        };
        let room = area.width.saturating_sub(used);
        let fits = width_cells(&aside.0) <= usize::from(room);
        if fits || !here || set.is_some() {
            put(buf, area.x + used, y, room, &[(&safe(&aside.0), aside.1)]);
        }
    }
}

fn draw_steps(model: &Model, stop: &Stop, area: Rect, buf: &mut Buffer) {
    if area.height < 2 {
        return;
    }
    let theme = model.theme;
    title(buf, theme, area, "Steps that led here", model.pause.pane == PausePane::Steps, "");
    let mut y = area.y + 1;
    let mut outside = 0;
    let mut own = 0;
    let told = |count: usize| {
        if count == 1 {
            "one step outside your files".to_owned()
        } else {
            format!("{count} steps outside your files")
        }
    };
    for (at, frame) in stop.frames.iter().enumerate() {
        let Some(file) = &frame.own else {
            outside += 1;
            continue;
        };
        if outside > 0 && y < area.bottom() {
            put(
                buf,
                area.x,
                y,
                area.width,
                &[(" ┊ ", theme.ink(Ink::Ash)), (&told(outside), theme.ink(Ink::Smoke))],
            );
            (y, outside) = (y + 1, 0);
        }
        if y >= area.bottom() {
            return;
        }
        own += 1;
        let here = at == stop.frame;
        if here {
            buf.set_style(Rect::new(area.x, y, area.width, 1), theme.ground(Ground::Bench));
        }
        let name = format!("{}:{}", safe(file.rsplit('/').next().unwrap_or(file)), frame.line);
        let bold = if here { Modifier::BOLD } else { Modifier::empty() };
        put(
            buf,
            area.x,
            y,
            area.width,
            &[
                (
                    &format!("{own:>2} "),
                    theme.ink(if here { Ink::Straw } else { Ink::Smoke }).add_modifier(bold),
                ),
                (&format!("{name:<22}"), theme.ink(Ink::Ice)),
                ("  ", Style::new()),
                (&safe(&frame.name), theme.ink(if here { Ink::Chalk } else { Ink::Smoke })),
            ],
        );
        y += 1;
    }
    if outside > 0 && y < area.bottom() {
        put(
            buf,
            area.x,
            y,
            area.width,
            &[(" ┊ ", theme.ink(Ink::Ash)), (&told(outside), theme.ink(Ink::Smoke))],
        );
    }
}

fn draw_values(model: &Model, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let rows = rows::rows(model);
    let focused = model.pause.pane == PausePane::Values;
    title(buf, theme, area, "Values", focused, "");
    let room = usize::from(area.height.saturating_sub(1));
    let chosen = model.pause.row.min(rows.len().saturating_sub(1));
    let first = (chosen + 2).saturating_sub(room).min(rows.len().saturating_sub(room)).min(chosen);
    let name_width = rows
        .iter()
        .filter_map(|r| match r {
            Row::Value(v) if v.value.is_some() => {
                Some(width_cells(&v.name) + 2 * usize::from(v.depth) + 3)
            }
            Row::Value(_) | Row::Heading(_) => None,
        })
        .filter(|w| *w <= 34)
        .max()
        .unwrap_or(12)
        .clamp(12, (usize::from(area.width) / 2).max(12));
    for (at, row) in rows.iter().enumerate().skip(first).take(room) {
        let y = area.y + 1 + (at - first) as u16;
        match row {
            Row::Heading(words) => {
                put(
                    buf,
                    area.x,
                    y,
                    area.width,
                    &[(words, theme.ink(Ink::Smoke).add_modifier(Modifier::BOLD))],
                );
            }
            Row::Value(value) => {
                if at == chosen && focused {
                    buf.set_style(Rect::new(area.x, y, area.width, 1), theme.ground(Ground::Bench));
                }
                draw_value(model, value, Rect::new(area.x, y, area.width, 1), name_width, buf);
            }
        }
    }
    let left = rows.len().saturating_sub(first + room);
    if left > 0 {
        put_right(
            buf,
            area.right(),
            area.bottom().saturating_sub(1),
            area.width,
            &[(&format!(" {left} more ↓ "), theme.ink(Ink::Smoke))],
        );
    }
}

fn draw_value(model: &Model, value: &ValueRow, area: Rect, name_width: usize, buf: &mut Buffer) {
    let theme = model.theme;
    let indent = "  ".repeat(usize::from(value.depth));
    let sign = match value.open {
        Some(true) => "– ",
        Some(false) => "+ ",
        None => "  ",
    };
    let scope = value.path.starts_with("scope/") && value.depth == 0;
    let missing = value.remark.as_ref().is_some_and(|r| !r.is_empty());
    let says = value.path == "says/…";
    let name_ink = if says {
        theme.ink(Ink::Ember)
    } else if value.path.ends_with('…') {
        theme.ink(Ink::Smoke)
    } else if scope {
        theme.ink(Ink::Smoke).add_modifier(Modifier::BOLD)
    } else {
        theme.ink(if missing { Ink::Ember } else { Ink::Ice })
    };
    let sign = if missing { "◆ " } else { sign };
    let head = format!("{indent}{sign}");
    let name = safe(&value.name);
    let room = name_width.saturating_sub(width_cells(&head));
    let padded = format!("{name:<room$} ");
    let padded = if width_cells(&name) > room && value.value.is_some() {
        format!("{} ", fit(&name, room.max(6)))
    } else {
        padded
    };
    let used = put(
        buf,
        area.x,
        area.y,
        area.width,
        &[(&head, theme.ink(if missing { Ink::Ember } else { Ink::Smoke })), (&padded, name_ink)],
    );
    let (x, width) = (area.x + used, area.width.saturating_sub(used));
    if scope {
        return;
    }
    match &value.value {
        Some(Ok(told)) => {
            let shown = safe(told.shown.lines().next().unwrap_or(""));
            let mut pieces =
                vec![(shown, theme.ink(if missing { Ink::Ember } else { Ink::Chalk }))];
            let kind = told.kind.as_deref().filter(|k| {
                !told.shown.contains(*k)
                    && !matches!(*k, "table" | "number" | "string" | "boolean" | "nil")
            });
            if let Some(kind) = kind {
                pieces.push((format!("  {}", safe(kind)), theme.ink(Ink::Smoke)));
            }
            if let Some(was) = &value.was {
                pieces.push((
                    format!("  was {}", safe(was.lines().next().unwrap_or(""))),
                    theme.ink(Ink::Heather),
                ));
            }
            let pieces: Vec<(&str, Style)> = pieces.iter().map(|(t, s)| (t.as_str(), *s)).collect();
            put(buf, x, area.y, width, &pieces);
        }
        Some(Err(why)) => {
            put(
                buf,
                x,
                area.y,
                width,
                &[(&format!("not told: {}", safe(why)), theme.ink(Ink::Smoke))],
            );
        }
        None if value.path.ends_with('…') => {}
        None => {
            put(buf, x, area.y, width, &[("asking …", theme.ink(Ink::Smoke))]);
        }
    }
}

fn draw_table(model: &Model, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let Some(state) = &model.pause.table else { return };
    let table = rows::table(model);
    let Some(Table { columns, rows, hidden, waiting }) = table else {
        title(buf, theme, area, &safe(&state.title), true, "");
        put(
            buf,
            area.x,
            area.y + 2,
            area.width,
            &[(
                "It is not there at this stop. Esc goes back to the values.",
                theme.ink(Ink::Smoke),
            )],
        );
        return;
    };
    let mut told = vec![counted(rows.len() as u64, "row", "rows")];
    if hidden > 0 {
        told.push(format!("{hidden} hidden"));
    }
    if waiting > 0 {
        told.push(format!("{waiting} still asked for"));
    }
    title(buf, theme, area, &safe(&state.title), true, &told.join(", "));
    let words = safe(model.pause.filter.value());
    let mut head = vec![
        ("o", theme.ink(Ink::Ice)),
        (" orders by the next column   ", theme.ink(Ink::Smoke)),
        ("Tab", theme.ink(Ink::Ice)),
    ];
    head.extend([
        (" moves the columns   ", theme.ink(Ink::Smoke)),
        ("/", theme.ink(Ink::Ice)),
        (" only rows with  ", theme.ink(Ink::Smoke)),
    ]);
    head.push((&words, theme.ink(Ink::Chalk)));
    if model.pause.typing {
        head.push(("▏", theme.ink(Ink::Ice)));
    }
    put(buf, area.x, area.y + 1, area.width, &head);
    let shown: Vec<usize> = std::iter::once(0).chain(1 + state.column..columns.len()).collect();
    let widths: Vec<usize> = shown
        .iter()
        .map(|c| {
            rows.iter()
                .chain([&columns])
                .filter_map(|r| r.get(*c))
                .map(|cell| width_cells(cell))
                .max()
                .unwrap_or(4)
                .clamp(3, 18)
        })
        .collect();
    let numeric: Vec<bool> = shown
        .iter()
        .map(|c| {
            let mut cells = rows.iter().filter_map(|r| r.get(*c));
            cells.all(|cell| cell.is_empty() || cell.parse::<f64>().is_ok())
        })
        .collect();
    let mut draw_row = |y: u16, cells: &dyn Fn(usize) -> String, ink: &dyn Fn(usize) -> Style| {
        let mut x = area.x;
        for (at, column) in shown.iter().enumerate() {
            if x >= area.right() {
                break;
            }
            let text = fit(&safe(&cells(*column)), widths[at]).into_owned();
            let pad = widths[at].saturating_sub(width_cells(&text));
            let text = if numeric[at] {
                format!("{}{text}", " ".repeat(pad))
            } else {
                format!("{text}{}", " ".repeat(pad))
            };
            put(buf, x, y, area.right() - x, &[(&text, ink(*column))]);
            x += widths[at] as u16 + 2;
        }
    };
    let heading = |c: usize| {
        let ink = theme.ink(if c == state.sort && c > 0 { Ink::Ice } else { Ink::Smoke });
        ink.add_modifier(Modifier::BOLD)
    };
    draw_row(area.y + 3, &|c| columns.get(c).cloned().unwrap_or_default(), &heading);
    let room = usize::from(area.height.saturating_sub(4));
    let chosen = state.row.min(rows.len().saturating_sub(1));
    let first = (chosen + 2).saturating_sub(room).min(rows.len().saturating_sub(room)).min(chosen);
    for (at, row) in rows.iter().enumerate().skip(first).take(room) {
        let y = area.y + 4 + (at - first) as u16;
        draw_row(y, &|c| row[c].clone(), &|c| {
            theme.ink(if c == 0 { Ink::Ice } else { Ink::Chalk })
        });
    }
    if !rows.is_empty() && room > 0 {
        let y = area.y + 4 + (chosen - first) as u16;
        buf.set_style(Rect::new(area.x, y, area.width, 1), theme.ground(Ground::Bench));
    }
}

/// While nothing is stopped: what would stop it, and how to get here.
fn running(model: &Model, area: Rect, areas: &Areas, buf: &mut Buffer) {
    let theme = model.theme;
    let view = &model.live.pause;
    let (chalk, smoke) = (theme.ink(Ink::Chalk), theme.ink(Ink::Smoke));
    let name = safe(&view.name);
    let said: Vec<(String, Style)> = match (&view.source, &view.state.phase) {
        (None, _) => vec![
            ("Nothing here can be paused. ".into(), chalk),
            ("To pause a Python program: pip install debugpy, then ".into(), smoke),
            ("izba run --adapter 'python3 -m debugpy.adapter' main.py".into(), chalk),
            (".  Any debug adapter will do, also as adapter = \"…\" in izba.toml.".into(), smoke),
        ],
        (Some(_), Phase::Starting) => {
            vec![(format!("{name} is being started under its debug adapter."), chalk)]
        }
        (Some(_), Phase::Running | Phase::Stopped) => vec![
            (format!("{name} runs. "), theme.ink(Ink::Moss).add_modifier(Modifier::BOLD)),
            ("When it stops, its line, its values and the way there stand here.".into(), smoke),
        ],
        (Some(_), Phase::Ended(how)) => vec![
            (format!("{name} cannot be paused now: {}. ", safe(how)), chalk),
            ("a runs it again.".into(), smoke),
        ],
    };
    put_wrapped(buf, areas.sentence, &said);
    let y = areas.sentence.bottom() + u16::from(area.height >= 30);
    let body = Rect::new(
        areas.sentence.x,
        y,
        areas.sentence.width,
        area.height.saturating_sub(y + 2 + crate::model::tour_rows(model)),
    );
    title(buf, theme, body, "It stops", true, "");
    let mut y = body.y + 1;
    let mut line = |pieces: &[(&str, Style)], buf: &mut Buffer| {
        if y < body.bottom() {
            put(buf, body.x, y, body.width, pieces);
        }
        y += 1;
        y - 1
    };
    let stops = view.stops.words();
    let key = |action: Action| binding(action).keys[0];
    line(
        &[
            (" ", smoke),
            (key(Action::StopsAt), theme.ink(Ink::Ice)),
            ("  ", smoke),
            (&safe(&stops), chalk),
        ],
        buf,
    );
    line(&[], buf);
    if view.breakpoints.is_empty() {
        let here = format!(
            "  {}  in Now sets a breakpoint at the line that Where shows",
            key(Action::Breakpoint)
        );
        let before = format!(
            "  {}  in Now stops it just before the chosen error happens again",
            key(Action::StopBefore)
        );
        let again = format!(
            "  {}  in Now stops it when the chosen error happens again",
            key(Action::StopAgain)
        );
        let now = format!("  {}  stops it now, wherever it is", key(Action::PauseNow));
        for words in ["No breakpoints yet.", &before, &again, &here, &now] {
            line(&[(words, smoke)], buf);
        }
    }
    for (at, row) in view.breakpoints.iter().enumerate() {
        let b = &row.breakpoint;
        let place = format!(
            "{}:{}",
            b.file.rsplit('/').next().unwrap_or(&b.file),
            row.today.unwrap_or(b.line)
        );
        let off = b.off || row.today.is_none();
        let tail = match (&row.today, &row.refused) {
            (None, _) => "its line is gone".to_owned(),
            (_, Some(why)) => format!("not taken: {why}"),
            // A line that is never reached is an answer, too.
            _ if b.terms().is_empty() && !row.reached && view.state.phase == Phase::Running => {
                "not reached in this run so far".to_owned()
            }
            _ => b.terms(),
        };
        let drawn = line(
            &[
                (" ⊦ ", theme.ink(if off { Ink::Smoke } else { Ink::Heather })),
                (
                    &format!("{:<24}", safe(&place)),
                    theme.ink(if off { Ink::Smoke } else { Ink::Ice }),
                ),
                (&fit(&safe(&b.text), 48), theme.ink(if off { Ink::Smoke } else { Ink::Slate })),
                ("   ", smoke),
                (
                    &safe(&tail),
                    theme.ink(if row.today.is_none() || row.refused.is_some() {
                        Ink::Straw
                    } else {
                        Ink::Heather
                    }),
                ),
            ],
            buf,
        );
        if at == model.pause.row.min(view.breakpoints.len() - 1) && drawn < body.bottom() {
            buf.set_style(Rect::new(body.x, drawn, body.width, 1), theme.ground(Ground::Bench));
        }
    }
    if let Some(late) = &view.state.late {
        line(&[], buf);
        line(&[("◇ ", theme.ink(Ink::Straw)), (&safe(late), theme.ink(Ink::Straw))], buf);
    }
    for trouble in view.state.troubles.iter().rev().take(3) {
        line(&[("◇ ", theme.ink(Ink::Straw)), (&safe(trouble), smoke)], buf);
    }
}
