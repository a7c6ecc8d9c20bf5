//! The source in Where: the lines around a place with the very token underlined, the ladder of blocks,
//! what is said of the line, and the line as the exact edit would leave it.

use crate::model::{Model, Shown};
use crate::parts::pen::{put, safe};
use crate::theme::{Ground, Ink};
use izba_core::GroupView;
use izba_model::claim::Change;
use izba_model::code::{Clash, Language};
use izba_model::dialect::By;
use izba_model::text::width_cells;
use izba_model::{Excerpt, Family, Place, Tone};
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::Modifier;

/// What the pane shows: the chosen suspect or step, and its place.
pub(super) fn shown_place<'a>(
    model: &'a Model,
    group: &'a GroupView,
) -> Option<(Shown<'a>, Place)> {
    model.place_shown(group)
}

/// Whether the line is shown that the console names.
pub(super) fn is_reported(model: &Model, group: &GroupView) -> bool {
    shown_place(model, group).is_none_or(|(shown, _)| matches!(shown, Shown::Reported(_)))
}

pub(super) fn excerpt(model: &Model, place: &Place, rows: u16) -> Option<Excerpt> {
    let group = model.selected()?;
    let project = &model.shown.snapshot.project;
    let line = place.line?;
    let token = if !model.holds(group) {
        None
    } else if is_reported(model, group) {
        group.explanation.token
    } else {
        let text = project.line(&place.file, line)?;
        let named = match shown_place(model, group) {
            // The first name of the claim that stands in the line.
            Some((Shown::Suspect(suspect), _)) => {
                let parts = suspect.claim.says.sentence().parts;
                let mut names = parts.iter().filter(|p| p.tone == Tone::Name);
                names.find_map(|p| izba_model::excerpt::find_word(text, &p.text, None))
            }
            _ => None,
        };
        named.or_else(|| place.column.map(|c| izba_model::excerpt::token_at(text, c.to_byte(text))))
    };
    let above = u32::from(rows.saturating_sub(1)) * 3 / 5;
    let below = u32::from(rows.saturating_sub(1)) - above;
    Excerpt::around(project, &place.file, line, above, below, token)
}

/// The rungs of the ladder of blocks that an excerpt shows, with what disagrees; only where the
/// script does not parse.
fn ladder_of(model: &Model, group: &GroupView, excerpt: &Excerpt) -> Vec<(u16, (u32, u32), Clash)> {
    if group.entry.family != Family::DoesNotParse {
        return Vec::new();
    }
    let project = &model.shown.snapshot.project;
    let text = project.file(&excerpt.file).and_then(|f| f.text.clone());
    let (Some(text), Some(language)) = (text, Language::of(&excerpt.file)) else {
        return Vec::new();
    };
    let (Some(first), Some(last)) =
        (excerpt.rows.first().map(|r| r.number), excerpt.rows.last().map(|r| r.number))
    else {
        return Vec::new();
    };
    let rungs = izba_code::ladder(language, &text);
    let shown: Vec<_> = rungs
        .iter()
        .map(|r| (r.depth, (r.from, r.to.unwrap_or(excerpt.total + 1)), r.clash))
        .filter(|(_, (from, to), _)| from != to && *from <= last && *to >= first)
        .collect();
    let least = shown.iter().map(|(d, ..)| *d).min().unwrap_or(0);
    shown.into_iter().map(|(depth, span, clash)| ((depth - least) as u16, span, clash)).collect()
}

/// The whole script as its blocks indent it, where there is room for it beside the source.
fn by_blocks(model: &Model, excerpt: &Excerpt, broken: bool, area: Rect) -> Vec<String> {
    let language =
        Language::of(&excerpt.file).filter(|l| l.is_code() && l.blocks.by != By::Indentation);
    let text = model.shown.snapshot.project.file(&excerpt.file).and_then(|f| f.text.clone());
    match (text, language) {
        (Some(text), Some(language)) if broken && area.width >= BESIDE => {
            izba_code::reindented(language, &text)
        }
        _ => Vec::new(),
    }
}

/// From this width on the script as its blocks indent it stands beside the source.
const BESIDE: u16 = 100;

/// The line that opens what is never closed, when the console names one above the excerpt.
pub(super) fn opener(model: &Model, group: &GroupView, place: &Place) -> Option<(u32, String)> {
    let line: u32 = group.entry.facts.get("line")?.parse().ok()?;
    let shown = is_reported(model, group) && group.entry.family == Family::DoesNotParse;
    let text = model.shown.snapshot.project.line(&place.file, line).filter(|_| shown)?;
    Some((line, text.to_owned()))
}

pub(super) fn draw_opener(
    model: &Model,
    group: &GroupView,
    place: &Place,
    excerpt: &Excerpt,
    area: Rect,
    y: u16,
    buf: &mut Buffer,
) -> u16 {
    let theme = model.theme;
    let first = excerpt.rows.first().map_or(0, |r| r.number);
    let Some((line, text)) = opener(model, group, place).filter(|(line, _)| *line < first) else {
        return y;
    };
    if y + 2 >= area.bottom() {
        return y;
    }
    let digits = excerpt.rows.last().map_or(1, |r| r.number.to_string().len());
    let number = format!("{line:>w$}  ", w = digits + 1);
    let text = safe(&text);
    put(
        buf,
        area.x,
        y,
        area.width,
        &[
            (&number, theme.ink(Ink::Straw).add_modifier(Modifier::BOLD)),
            (&text, theme.ink(Ink::Chalk)),
            ("   opened here", theme.ink(Ink::Straw)),
        ],
    );
    put(
        buf,
        area.x,
        y + 1,
        area.width,
        &[(&format!("{:>w$}", "┊", w = digits + 1), theme.ink(Ink::Ash))],
    );
    y + 2
}

/// A text without so many signs behind its first ones, with an ellipsis in their place: what stands
/// further on keeps its distance from the left edge.
fn without_middle(text: &str, head: usize, shift: usize) -> String {
    if text.chars().count() <= head + shift {
        return text.to_owned();
    }
    let rest = text.chars().skip(head + shift + 1);
    text.chars().take(head).chain(std::iter::once('…')).chain(rest).collect()
}

pub(super) fn draw_excerpt(
    model: &Model,
    group: &GroupView,
    excerpt: &Excerpt,
    area: Rect,
    mut y: u16,
    buf: &mut Buffer,
) -> u16 {
    let theme = model.theme;
    let digits = excerpt.rows.last().map_or(1, |r| r.number.to_string().len()) as u16;
    let fault_ink = if group.level() < izba_model::Level::Error { Ink::Straw } else { Ink::Ember };
    let ladder = ladder_of(model, group, excerpt);
    let beside = by_blocks(model, excerpt, !ladder.is_empty(), area);
    let rungs = ladder.iter().map(|(depth, _, _)| depth + 1).max().unwrap_or(0).min(8);
    let ladder_at = area.x + digits + 2;
    let code_at = area.x + digits + 3 + rungs;
    let right = if beside.is_empty() { area.right() } else { area.x + area.width / 2 };
    let width = right.saturating_sub(code_at);
    if !beside.is_empty() {
        let room = area.right().saturating_sub(right + 1);
        let heading = "indented by its blocks, from where that differs";
        put(buf, right + 1, y - 1, room, &[(heading, theme.ink(Ink::Smoke))]);
    }
    let mut begun = false;
    // Shared indentation is taken off when the marked part would else lie outside the pane.
    let indent = excerpt
        .rows
        .iter()
        .filter(|r| !r.text.as_str().trim().is_empty())
        .map(|r| r.text.as_str().len() - r.text.as_str().trim_start().len())
        .min()
        .unwrap_or(0);
    // A long line is shown from where the marked part is seen.
    let marked = excerpt
        .rows
        .iter()
        .find_map(|r| r.marked)
        .map_or((0, 0), |(a, b)| (a.saturating_sub(indent), b.saturating_sub(indent)));
    let shift = if marked.1 + 2 > usize::from(width) {
        (marked.1 + 12).saturating_sub(usize::from(width)).min(marked.0.saturating_sub(2))
    } else {
        0
    };
    // Its beginning stays in sight too, as far as there is room before the marked part.
    let head = usize::from(width / 3).min(marked.0.saturating_sub(shift + 2));
    for row in &excerpt.rows {
        if y >= area.bottom() {
            break;
        }
        let text = row.text.as_str().get(indent..).unwrap_or("");
        let shifted = without_middle(text, head, shift);
        let whole = shift == 0 || row.marked.is_none() && width_cells(text) <= usize::from(width);
        let text = if whole { text } else { shifted.as_str() };
        if row.at_fault {
            buf.set_style(Rect::new(area.x, y, area.width, 1), theme.ground(Ground::Bench));
        }
        let number_ink = if row.at_fault {
            theme.ink(fault_ink).add_modifier(Modifier::BOLD)
        } else {
            theme.ink(Ink::Smoke)
        };
        put(
            buf,
            area.x,
            y,
            digits + 1,
            &[(&format!("{:>w$}", row.number, w = usize::from(digits) + 1), number_ink)],
        );
        put(
            buf,
            code_at,
            y,
            width,
            &[(text, theme.ink(if row.at_fault { Ink::Chalk } else { Ink::Slate }))],
        );
        soften(model, &excerpt.file, text, code_at, y, width, buf);
        if let Some(moved) = beside.get(row.number as usize - 1) {
            let same = moved.len() - moved.trim_start().len()
                == row.text.as_str().len() - row.text.as_str().trim_start().len();
            let differs = !same && !moved.trim().is_empty();
            let room = area.right().saturating_sub(right + 1);
            begun |= differs;
            if begun {
                let ink = if differs { Ink::Straw } else { Ink::Smoke };
                put(buf, right + 1, y, room, &[(&safe(moved), theme.ink(ink))]);
            }
        }
        for (depth, rung, clash) in
            ladder.iter().filter(|(d, r, _)| *d < 8 && (r.0..=r.1).contains(&row.number))
        {
            let sign = if row.number == rung.0 {
                "╷"
            } else if row.number == rung.1 && *clash != Clash::Open {
                "╵"
            } else {
                "│"
            };
            let ink = if *clash == Clash::None { Ink::Ash } else { fault_ink };
            put(buf, ladder_at + depth, y, 1, &[(sign, theme.ink(ink))]);
        }
        y += 1;
        let seen = row
            .marked
            .map(|(a, b)| (a.saturating_sub(indent + shift), b.saturating_sub(indent + shift)));
        if let Some((start, end)) = seen {
            let mark = Rect::new(
                code_at + (start as u16).min(width),
                y - 1,
                ((end - start) as u16).min(width.saturating_sub(start as u16)),
                1,
            );
            buf.set_style(mark, theme.ink(fault_ink).add_modifier(Modifier::UNDERLINED));
        }
        // What was said of files that are others now is said of nothing that is still there.
        let step = matches!(shown_place(model, group), Some((Shown::Step(..), _)));
        if (seen.is_some() || row.at_fault) && model.holds(group) && !step && y < area.bottom() {
            let bare = width_cells(text) - width_cells(text.trim_start());
            let at = seen.map_or(bare as u16, |(start, _)| (start as u16).min(width));
            note(model, group, code_at + at, y, area, fault_ink, buf);
            let line = (&*excerpt.file, row.number, indent);
            y = as_it_would_be(model, group, line, (area, code_at), y + 1, buf);
        }
    }
    y
}

/// The lines as the exact edit would leave a line, or the ones that it would put in beside it.
pub(super) fn after_edit(model: &Model, group: &GroupView, file: &str, number: u32) -> Vec<String> {
    let Some(shown) = model.fix_shown(group).filter(|f| *f.fix.file == *file) else {
        return Vec::new();
    };
    let here = |change: &Change| match change.before.len() {
        0 => change.line == number || change.line == number + 1,
        n => n == 1 && change.line == number,
    };
    let changes = shown.fix.changes(&shown.text);
    changes.into_iter().filter(here).flat_map(|c| c.after).take(2).collect()
}

/// Draws them below a line; tells the row below.
fn as_it_would_be(
    model: &Model,
    group: &GroupView,
    (file, number, indent): (&str, u32, usize),
    (area, x): (Rect, u16),
    mut y: u16,
    buf: &mut Buffer,
) -> u16 {
    for line in after_edit(model, group, file, number) {
        if y >= area.bottom() {
            return y;
        }
        let theme = model.theme;
        let text = safe(line.get(indent..).unwrap_or(line.trim_start()));
        put(buf, x.saturating_sub(2), y, 1, &[("+", theme.ink(Ink::Moss))]);
        put(buf, x, y, area.right().saturating_sub(x), &[(&text, theme.ink(Ink::Moss))]);
        y += 1;
    }
    y
}

fn note(model: &Model, group: &GroupView, x: u16, y: u16, area: Rect, ink: Ink, buf: &mut Buffer) {
    let text = match shown_place(model, group) {
        Some((Shown::Suspect(suspect), _)) => safe(&suspect.reason()),
        _ => safe(&model.told(group).note.to_string()),
    };
    let text = izba_model::text::fit(&text, usize::from(area.width)).into_owned();
    let width = width_cells(&text) as u16;
    // A note that would run out of the pane begins further left.
    let x = x.min(area.right().saturating_sub(width.min(area.width)));
    put(buf, x, y, area.right().saturating_sub(x), &[(&text, model.theme.ink(ink))]);
}

/// Code is coloured softly: comments step back, so that the underlined token stands out.
fn soften(model: &Model, file: &str, text: &str, x: u16, y: u16, width: u16, buf: &mut Buffer) {
    let language = Language::of(file);
    let sign = match language.and_then(|l| l.known().signs.line_comments.first()) {
        Some(sign) => sign,
        None if language.is_some() => return,
        None => "//",
    };
    let comment = text.find(sign).filter(|at| !text[..*at].contains(['"', '\'']));
    if let Some(at) = comment {
        let cells = width_cells(&text[..at]) as u16;
        let area = Rect::new(x + cells.min(width), y, width.saturating_sub(cells), 1);
        buf.set_style(area.intersection(buf.area), model.theme.ink(Ink::Smoke));
    }
}

#[cfg(test)]
mod tests {
    use super::without_middle;

    #[test]
    fn a_long_line_keeps_its_beginning_and_what_stands_further_on_its_place() {
        let line = "{ \"name\": \"Lantern#3\", \"layer\": \"front\", \"level\": 9 }";
        let cut = without_middle(line, 10, 20);
        assert_eq!(cut, "{ \"name\": … \"front\", \"level\": 9 }");
        assert_eq!(
            cut.chars().skip(11).collect::<String>(),
            line.chars().skip(31).collect::<String>()
        );
        assert_eq!(without_middle("short", 10, 20), "short");
        assert_eq!(without_middle(line, 0, 5).chars().next(), Some('…'));
    }
}
