//! Where: the source around the line, who may have done it, and the steps that led there.

use super::source::{after_edit, draw_excerpt, draw_opener, excerpt, opener, shown_place};
use crate::model::{Model, Question, Shown};
use crate::parts::pen::{put, safe, title};
use crate::theme::{Ground, Ink};
use izba_cause::suspect::Alike;
use izba_core::GroupView;
use izba_model::claim::Suspect;
use izba_model::text::{fit_path, width_cells, wrap};
use izba_model::{Place, Related, StackFrame};
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::{Modifier, Style};

/// One row below the source: a heading, a suspect, an own step with its number, or steps outside.
enum Step<'a> {
    Heading(&'static str),
    Suspect(usize, Shown<'a>, &'a Suspect),
    Alike(usize, &'a Alike),
    Related(usize, &'a Related),
    Own(usize, usize, &'a StackFrame),
    Outside(Vec<&'a StackFrame>),
}

/// The rows; suspects and own steps carry their index among [`Model::places`].
fn steps<'a>(model: &'a Model, group: &'a GroupView) -> Vec<Step<'a>> {
    let mut rows: Vec<Step<'_>> = Vec::new();
    let places = model.places(group);
    for (at, shown) in places.iter().enumerate() {
        if let Shown::Suspect(suspect) | Shown::Reported(Some(suspect)) = shown {
            if rows.is_empty() {
                rows.push(Step::Heading("Who may have done it"));
            }
            rows.push(Step::Suspect(at, *shown, suspect));
        }
        if let Shown::Alike(other) = shown {
            if !matches!(rows.last(), Some(Step::Alike(..))) {
                rows.push(Step::Heading("Done in the same way here too"));
            }
            rows.push(Step::Alike(at, other));
        }
    }
    let path = group.path();
    if !path.is_empty() {
        rows.push(Step::Heading("Steps that led here"));
    }
    let mut own = 0;
    for frame in path {
        match (frame.own.is_some(), rows.last_mut()) {
            (true, _) => {
                let index = places.iter().position(|p| match p {
                    Shown::Step(at, _) => *at == own,
                    Shown::Reported(_) => own == 0,
                    Shown::Suspect(_) | Shown::Alike(_) | Shown::Related(_) => false,
                });
                rows.push(Step::Own(index.unwrap_or(0), own, frame));
                own += 1;
            }
            (false, Some(Step::Outside(run))) => run.push(frame),
            (false, _) => rows.push(Step::Outside(vec![frame])),
        }
    }
    for (at, shown) in places.iter().enumerate() {
        if let Shown::Related(related) = shown {
            if !matches!(rows.last(), Some(Step::Related(..))) {
                rows.push(Step::Heading("It names these places too"));
            }
            rows.push(Step::Related(at, related));
        }
    }
    rows
}

fn excerpt_rows(model: &Model, area: Rect) -> u16 {
    let zoomed = model.zoom == Some(Question::Where);
    let steps = model.selected().map_or(0, |g| steps(model, g).len()) as u16;
    let for_steps = if steps == 0 { 0 } else { (steps + 2).min(area.height / 2) };
    let edit = model.selected().map_or(0, |g| edit_rows(model, g));
    // Title, file name, the note under the token and the edit stand besides.
    let room = area.height.saturating_sub(3 + for_steps + edit + u16::from(area.height >= 14));
    if zoomed { room } else { room.min(11) }
}

/// Whether the line that the console named stands in the file as it is now.
fn still_stands(model: &Model, group: &GroupView, place: &Place) -> bool {
    let named = group.entry.place.as_ref().filter(|p| p.file == place.file);
    let line = named.and_then(|p| model.shown.snapshot.project.line(&p.file, p.line?));
    let was = group.entry.line_text.as_deref();
    line.zip(was).is_some_and(|(now, was)| now.trim() == was.trim())
}

/// The rows that the exact edit takes below the line that is shown.
fn edit_rows(model: &Model, group: &GroupView) -> u16 {
    let place =
        shown_place(model, group).and_then(|(_, place)| Some((place.file.clone(), place.line?)));
    place.map_or(0, |(file, line)| after_edit(model, group, &file, line).len() as u16)
}

/// The own step at a row of the screen.
pub fn step_at(model: &Model, area: Rect, row: u16) -> Option<usize> {
    let group = model.selected()?;
    let first = steps_at(model, group, area)?;
    let into = row.checked_sub(first)?;
    match steps(model, group).get(usize::from(into))? {
        Step::Own(at, ..) | Step::Suspect(at, ..) | Step::Alike(at, _) | Step::Related(at, _) => {
            Some(*at)
        }
        Step::Outside(_) | Step::Heading(_) => None,
    }
}

/// The row where “Steps that led here” stands.
fn steps_at(model: &Model, group: &GroupView, area: Rect) -> Option<u16> {
    if steps(model, group).is_empty() {
        return None;
    }
    let excerpt = shown_place(model, group).map_or(0, |(_, place)| {
        let rows = excerpt_rows(model, area);
        excerpt(model, &place, rows).map_or(1, |e| {
            let above = opener(model, group, &place)
                .is_some_and(|(line, _)| e.rows.first().is_some_and(|r| line < r.number));
            e.rows.len() as u16 + 1 + edit_rows(model, group) + if above { 2 } else { 0 }
        })
    });
    let gap = u16::from(area.height >= 14);
    let y = area.y + 1 + u16::from(area.height >= 14) + 1 + excerpt + gap;
    (y < area.bottom()).then_some(y)
}

/// Draws the pane into `area`; what finds no room there is left out.
pub fn draw(model: &Model, area: Rect, buf: &mut Buffer) {
    if area.height < 2 || area.width < 12 {
        return;
    }
    let theme = model.theme;
    let focused = model.focus == Question::Where;
    let Some(group) = model.selected() else {
        title(buf, theme, area, "Where", focused, "");
        put(
            buf,
            area.x,
            area.y + 1 + u16::from(area.height >= 14),
            area.width,
            &[("The line of the first error will stand here.", theme.ink(Ink::Smoke))],
        );
        return;
    };
    let who: Vec<String> = [
        group.objects.first().map(|(o, _)| o.clone()),
        group.entry.report.handler.clone(),
        group.entry.function.clone(),
    ]
    .into_iter()
    .flatten()
    .map(|s| safe(&s))
    .collect();
    let mut who = who;
    who.dedup();
    title(buf, theme, area, "Where", focused, &who.join("   "));
    let mut y = area.y + 1 + u16::from(area.height >= 14);
    let Some((_, place)) = shown_place(model, group) else {
        let told = group
            .entry
            .report
            .head
            .as_ref()
            .or(group.entry.report.frames.first())
            .and_then(|f| f.file.as_deref());
        let project = &model.shown.snapshot.project;
        let words = match told {
            _ if project.files().is_empty() => {
                format!(
                    "No source was found in {}. Start Izba in your project's folder, or \
                        name it with --project.",
                    safe(project.root())
                )
            }
            Some(file) => format!("It names {}, which is outside your own files.", safe(file)),
            None => "The console names no place.".to_owned(),
        };
        for line in wrap(&words, usize::from(area.width)) {
            put(buf, area.x, y, area.width, &[(&line, theme.ink(Ink::Smoke))]);
            y += 1;
        }
        draw_steps(
            model,
            group,
            Rect::new(area.x, y + 1, area.width, area.bottom().saturating_sub(y + 1)),
            buf,
        );
        return;
    };
    let rows = excerpt_rows(model, area);
    let edited = model.live.today.file(&place.file).map(|f| &f.text)
        != model.shown.snapshot.project.file(&place.file).map(|f| &f.text);
    let aside = if edited {
        "   as it was when this run started; you have saved it since"
    } else if model.holds(group) {
        ""
    } else if still_stands(model, group, &place) {
        "   as it is now; this went quiet since"
    } else {
        "   as it is now, changed since it was met"
    };
    put(
        buf,
        area.x,
        y,
        area.width,
        &[
            (&safe(&fit_path(&place.file, usize::from(area.width))), theme.ink(Ink::Ice)),
            (aside, theme.ink(Ink::Heather)),
        ],
    );
    y += 1;
    match excerpt(model, &place, rows).filter(|e| !e.rows.is_empty()) {
        Some(excerpt) => {
            y = draw_opener(model, group, &place, &excerpt, area, y, buf);
            y = draw_excerpt(model, group, &excerpt, area, y, buf);
        }
        None => {
            put(
                buf,
                area.x,
                y,
                area.width,
                &[("  its text is not at hand", theme.ink(Ink::Smoke))],
            );
            y += 1;
        }
    }
    let line = place.line.unwrap_or(0);
    let total = model
        .shown
        .snapshot
        .project
        .file(&place.file)
        .and_then(|f| f.text.as_deref())
        .map_or(0, |t| t.lines().count() as u32);
    if line > total + 1 && total > 0 && y < area.bottom() {
        let words =
            format!("line {line} is past the end of the file as it is here ({total} lines)");
        put(buf, area.x, y, area.width, &[(&words, theme.ink(Ink::Straw))]);
    }
    if let Some(at) = steps_at(model, group, area) {
        // A row stays free before what stands below.
        let free = u16::from(area.height >= 14 && model.zoom.is_none());
        draw_steps(
            model,
            group,
            Rect::new(area.x, at, area.width, (area.bottom() - at).saturating_sub(free)),
            buf,
        );
    }
}

fn draw_steps(model: &Model, group: &GroupView, area: Rect, buf: &mut Buffer) {
    let rows = steps(model, group);
    if area.height < 2 || rows.is_empty() {
        return;
    }
    let theme = model.theme;
    let zoomed = model.zoom == Some(Question::Where);
    let mut y = area.y;
    let name_width = rows
        .iter()
        .filter_map(|r| match r {
            Step::Own(_, _, f) => {
                f.own.as_ref().map(|p| width_cells(p.rsplit('/').next().unwrap_or("")) + 6)
            }
            Step::Suspect(_, _, s) => {
                Some(width_cells(s.file.rsplit('/').next().unwrap_or("")) + 6)
            }
            Step::Related(_, r) => {
                r.frame.own.as_ref().map(|p| width_cells(p.rsplit('/').next().unwrap_or("")) + 6)
            }
            Step::Alike(_, a) => Some(width_cells(a.file.rsplit('/').next().unwrap_or("")) + 6),
            _ => None,
        })
        .max()
        .unwrap_or(10)
        .clamp(10, 36);
    for (at, row) in rows.iter().enumerate() {
        if y >= area.bottom() {
            return;
        }
        let left = rows.len() - at;
        if y + 1 == area.bottom() && left > 1 {
            put(
                buf,
                area.x,
                y,
                area.width,
                &[(&format!("   {left} more; z opens all"), theme.ink(Ink::Smoke))],
            );
            return;
        }
        match row {
            Step::Heading(words) => {
                put(buf, area.x, y, area.width, &[(words, theme.ink(Ink::Smoke))]);
                y += 1;
            }
            Step::Suspect(index, shown, suspect) => {
                let here = *index == model.step;
                if here && model.focus == Question::Where {
                    buf.set_style(Rect::new(area.x, y, area.width, 1), theme.ground(Ground::Bench));
                }
                let likely = suspect.confidence >= izba_model::claim::LIKELY;
                let name = match suspect.line {
                    0 => safe(suspect.file.rsplit('/').next().unwrap_or("")),
                    line => {
                        format!("{}:{line}", safe(suspect.file.rsplit('/').next().unwrap_or("")))
                    }
                };
                let reason = match shown {
                    Shown::Reported(_) if suspect.is_reported() => {
                        "the line that the console names".to_owned()
                    }
                    _ => safe(&suspect.reason()),
                };
                let room = usize::from(area.width).saturating_sub(name_width + 6);
                put(
                    buf,
                    area.x,
                    y,
                    area.width,
                    &[
                        (
                            if likely { " ● " } else { " ◐ " },
                            theme.ink(if here { Ink::Ember } else { Ink::Smoke }),
                        ),
                        (&format!("{name:<name_width$}"), theme.ink(Ink::Ice)),
                        ("  ", Style::new()),
                        (
                            &izba_model::text::fit(&reason, room),
                            theme.ink(if here { Ink::Chalk } else { Ink::Smoke }),
                        ),
                    ],
                );
                y += 1;
            }
            Step::Alike(..) | Step::Related(..) => {
                let (index, file, line, words) = match row {
                    Step::Alike(index, a) => (index, &*a.file, a.line, &*a.text),
                    Step::Related(index, r) => {
                        let file = r.frame.own.as_deref().unwrap_or("");
                        (index, file, r.frame.line.unwrap_or(0), &*r.words)
                    }
                    _ => continue,
                };
                let here = *index == model.step;
                if here && model.focus == Question::Where {
                    buf.set_style(Rect::new(area.x, y, area.width, 1), theme.ground(Ground::Bench));
                }
                let name = format!("{}:{line}", safe(file.rsplit('/').next().unwrap_or("")));
                let text = izba_model::text::fit(
                    &safe(words),
                    usize::from(area.width).saturating_sub(name_width + 6),
                )
                .into_owned();
                let parts = [
                    (" · ", theme.ink(if here { Ink::Ember } else { Ink::Smoke })),
                    (&format!("{name:<name_width$}"), theme.ink(Ink::Ice)),
                    ("  ", Style::new()),
                    (&text, theme.ink(if here { Ink::Chalk } else { Ink::Smoke })),
                ];
                put(buf, area.x, y, area.width, &parts);
                y += 1;
            }
            Step::Own(index, number, frame) => {
                let here = *index == model.step;
                if here && model.focus == Question::Where {
                    buf.set_style(Rect::new(area.x, y, area.width, 1), theme.ground(Ground::Bench));
                }
                let bold = if here { Modifier::BOLD } else { Modifier::empty() };
                let file = frame.own.as_deref().unwrap_or("");
                let name = format!(
                    "{}:{}",
                    safe(file.rsplit('/').next().unwrap_or(file)),
                    frame.line.unwrap_or(0)
                );
                let function = frame.function.as_deref().map(safe).unwrap_or_default();
                let out = frame
                    .place()
                    .is_some_and(|p| model.live.known.contains(&Model::step_key(group, &p)));
                let head = if out { " ○ ".to_owned() } else { format!("{:>2} ", number + 1) };
                let function = if out {
                    format!("{function}  ruled out by you").trim_start().to_owned()
                } else {
                    function
                };
                put(
                    buf,
                    area.x,
                    y,
                    area.width,
                    &[
                        (
                            &head,
                            theme
                                .ink(if here { Ink::Ember } else { Ink::Smoke })
                                .add_modifier(bold),
                        ),
                        (&format!("{name:<name_width$}"), theme.ink(Ink::Ice)),
                        ("  ", Style::new()),
                        (&function, theme.ink(if here { Ink::Chalk } else { Ink::Smoke })),
                    ],
                );
                y += 1;
            }
            Step::Outside(frames) if zoomed => {
                for frame in frames {
                    if y >= area.bottom() {
                        return;
                    }
                    let place = frame.file.as_deref().map_or("native code".to_owned(), |f| {
                        format!("{}:{}", safe(f), frame.line.unwrap_or(0))
                    });
                    let function = frame.function.as_deref().map(safe).unwrap_or_default();
                    put(
                        buf,
                        area.x,
                        y,
                        area.width,
                        &[
                            (" ┊ ", theme.ink(Ink::Ash)),
                            (&format!("{place}  {function}"), theme.ink(Ink::Smoke)),
                        ],
                    );
                    y += 1;
                }
            }
            Step::Outside(frames) => {
                let words = if frames.len() == 1 {
                    "one step outside your files".to_owned()
                } else {
                    format!("{} steps outside your files", frames.len())
                };
                put(
                    buf,
                    area.x,
                    y,
                    area.width,
                    &[(" ┊ ", theme.ink(Ink::Ash)), (&words, theme.ink(Ink::Smoke))],
                );
                y += 1;
            }
        }
    }
}
