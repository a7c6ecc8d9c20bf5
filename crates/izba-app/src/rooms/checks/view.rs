//! Room Checks: what is found wrong in code and data without running them, each with its place.

use crate::model::Model;
use crate::parts::pen::{put, put_right, safe};
use crate::theme::{Ground, Ink};
use izba_cause::checks::{Remark, title_of};
use izba_model::Excerpt;
use izba_model::text::counted;
use izba_model::text::{fit, fit_path, wrap};
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::{Modifier, Style};

/// One row of the list.
enum Row<'a> {
    Heading(String),
    Remark(usize, &'a Remark, bool),
}

fn rows(model: &Model) -> Vec<Row<'_>> {
    let mut rows = Vec::new();
    let mut under = "";
    let known = |r: &Remark| model.live.known.contains(&r.key());
    for (at, remark) in model.remarks().into_iter().enumerate() {
        let heading = if known(remark) { "known" } else { remark.check() };
        if heading != under {
            let of = |r: &&&Remark| {
                if heading == "known" { known(r) } else { r.check() == heading && !known(r) }
            };
            let all = model.remarks();
            let count = all.iter().filter(of).count();
            if !rows.is_empty() {
                rows.push(Row::Heading(String::new()));
            }
            let title = if heading == "known" { "What you know of" } else { title_of(heading) };
            rows.push(Row::Heading(format!("{title}  {count}")));
            under = heading;
        }
        rows.push(Row::Remark(at, remark, heading == "known"));
    }
    rows
}

/// Draws the room into `area`; what finds no room there is left out.
pub fn draw(model: &Model, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let side = if area.width >= 100 { 2 } else { 1 };
    let inner = Rect::new(
        side,
        2,
        area.width.saturating_sub(2 * side),
        area.height.saturating_sub(4 + crate::model::tour_rows(model)),
    );
    let Some(remarks) = &model.shown.code.remarks else {
        let files = model.live.today.files().len() as u64;
        put(
            buf,
            inner.x,
            inner.y,
            inner.width,
            &[(&format!("Reading {} …", counted(files, "file", "files")), theme.ink(Ink::Smoke))],
        );
        return;
    };
    let fresh = remarks.iter().filter(|r| !model.live.known.contains(&r.key())).count();
    let stops = remarks
        .iter()
        .filter(|r| r.stops && !model.live.known.contains(&r.key()))
        .map(|r| &r.file)
        .collect::<std::collections::BTreeSet<_>>()
        .len();
    let files = izba_code::looked_into(&model.shown.code.index) as u64;
    let read = counted(files, "file", "files");
    let sentence = match (fresh, stops) {
        _ if files == 0 => "There is no code in this folder yet.".into(),
        (0, _) => format!("Nothing wrong found in {read} of code and data."),
        (_, 0) => format!(
            "{} in {read}; every script can be read.",
            counted(fresh as u64, "remark", "remarks")
        ),
        (_, 1) => format!(
            "{} in {read}. One file can't be read at all, so nothing in it runs.",
            counted(fresh as u64, "remark", "remarks")
        ),
        (_, n) => format!(
            "{} in {read}. {n} files can't be read at all, so nothing in them runs.",
            counted(fresh as u64, "remark", "remarks")
        ),
    };
    // Where not all was looked at, not all is well.
    let left_out = model.shown.code.left_out.as_deref();
    let ink = if fresh == 0 && left_out.is_none() { Ink::Moss } else { Ink::Chalk };
    put(
        buf,
        inner.x,
        inner.y,
        inner.width,
        &[(&sentence, theme.ink(ink).add_modifier(Modifier::BOLD))],
    );
    if let Some(left_out) = left_out {
        put(buf, inner.x, inner.y + 1, inner.width, &[(left_out, theme.ink(Ink::Straw))]);
    }
    if remarks.is_empty() {
        let words = "Izba looks again after every save: parse errors, rings of files, names that lead \
            nowhere, missing files, handlers that nothing calls.";
        for (at, line) in wrap(words, usize::from(inner.width.min(100))).into_iter().enumerate() {
            put(
                buf,
                inner.x,
                inner.y + 2 + at as u16,
                inner.width,
                &[(&line, theme.ink(Ink::Smoke))],
            );
        }
        return;
    }
    let Some((now, remark)) = model.chosen_remark() else { return };
    let body = Rect::new(inner.x, inner.y + 2, inner.width, inner.height.saturating_sub(2));
    let below = (body.height * 2 / 5).clamp(6.min(body.height / 2), 16);
    let list = Rect::new(body.x, body.y, body.width, body.height.saturating_sub(below + 1));
    draw_list(model, list, now, buf);
    draw_remark(model, &remark, Rect::new(body.x, list.bottom() + 1, body.width, below), buf);
}

fn draw_list(model: &Model, area: Rect, now: usize, buf: &mut Buffer) {
    let theme = model.theme;
    let rows = rows(model);
    let at =
        rows.iter().position(|r| matches!(r, Row::Remark(index, ..) if *index == now)).unwrap_or(0);
    let room = usize::from(area.height);
    let first = (at + 2).saturating_sub(room).min(rows.len().saturating_sub(room));
    let place_width = (usize::from(area.width) * 3 / 10).clamp(16, 40);
    for (y, row) in rows.iter().skip(first).take(room).enumerate() {
        let y = area.y + y as u16;
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
            Row::Remark(index, remark, known) => {
                let here = *index == now;
                if here {
                    buf.set_style(Rect::new(area.x, y, area.width, 1), theme.ground(Ground::Bench));
                }
                let (sign, ink) = match (remark.stops, known) {
                    (_, true) => ("·", Ink::Smoke),
                    (true, _) => ("◆", Ink::Ember),
                    (false, _) => ("◇", Ink::Straw),
                };
                let line =
                    if remark.line == 0 { String::new() } else { format!(":{}", remark.line) };
                let path = fit_path(&safe(&remark.file), place_width.saturating_sub(line.len()))
                    .into_owned();
                let place = format!("{:<place_width$}", format!("{path}{line}"));
                let text = safe(&remark.text());
                let words = fit(&text, usize::from(area.width).saturating_sub(place_width + 5));
                let bold = if here { Modifier::BOLD } else { Modifier::empty() };
                put(
                    buf,
                    area.x,
                    y,
                    area.width,
                    &[
                        (&format!(" {sign} "), theme.ink(ink)),
                        (&place, theme.ink(if *known { Ink::Smoke } else { Ink::Ice })),
                        ("  ", Style::new()),
                        (
                            &words,
                            theme
                                .ink(if *known { Ink::Smoke } else { Ink::Chalk })
                                .add_modifier(bold),
                        ),
                    ],
                );
            }
        }
    }
    let left = rows.len().saturating_sub(first + room);
    if left > 0 {
        put_right(
            buf,
            area.right(),
            area.bottom(),
            area.width,
            &[(&format!(" {left} more ↓ "), theme.ink(Ink::Smoke))],
        );
    }
}

/// The chosen remark: its sentence whole, the source around it, what was seen.
fn draw_remark(model: &Model, remark: &Remark, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let mut y = area.y;
    let sure = if remark.confidence >= izba_model::claim::LIKELY { "●" } else { "◐" };
    for line in wrap(&format!("{sure} {}.", safe(&remark.text())), usize::from(area.width.min(110)))
    {
        put(buf, area.x, y, area.width, &[(&line, theme.ink(Ink::Chalk))]);
        y += 1;
    }
    if !remark.ring.is_empty() {
        y = crate::rooms::checks::ring::draw(
            theme,
            &remark.ring,
            Rect::new(
                area.x + 2,
                y + 1,
                area.width.saturating_sub(2),
                area.bottom().saturating_sub(y + 1),
            ),
            buf,
        );
    }
    for seen in remark.claim.evidence.iter().take(4) {
        if y >= area.bottom() || y + 4 >= area.bottom() && area.height >= 8 {
            break;
        }
        let place = if seen.line == 0 {
            safe(&seen.file)
        } else {
            format!("{}:{}", safe(&seen.file), seen.line)
        };
        put(
            buf,
            area.x,
            y,
            area.width,
            &[
                ("  ", Style::new()),
                (&place, theme.ink(Ink::Ice)),
                ("  ", Style::new()),
                (&safe(&seen.saw.to_string()), theme.ink(Ink::Smoke)),
            ],
        );
        y += 1;
    }
    let room = area.bottom().saturating_sub(y + 1);
    if room == 0 || remark.line == 0 {
        return;
    }
    let above = u32::from(room.saturating_sub(1)) / 2;
    let Some(excerpt) = Excerpt::around(
        &model.live.today,
        &remark.file,
        remark.line,
        above,
        u32::from(room) - 1 - above,
        None,
    ) else {
        return;
    };
    y += 1;
    let digits = excerpt.rows.last().map_or(1, |r| r.number.to_string().len());
    for row in &excerpt.rows {
        let within = (remark.line..=remark.to_line).contains(&row.number);
        if row.at_fault {
            buf.set_style(Rect::new(area.x, y, area.width, 1), theme.ground(Ground::Bench));
        }
        let number = theme.ink(if within { Ink::Straw } else { Ink::Smoke });
        put(
            buf,
            area.x,
            y,
            area.width,
            &[
                (&format!("{:>w$}  ", row.number, w = digits + 1), number),
                (row.text.as_str(), theme.ink(if within { Ink::Chalk } else { Ink::Slate })),
            ],
        );
        y += 1;
    }
}
