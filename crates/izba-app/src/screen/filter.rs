//! The filter line, what fits there, and two runs side by side.

use crate::model::{Model, Room};
use crate::parts::pen::{clear, put, put_right, safe};
use crate::theme::{Ground, Ink};
use izba_model::text::width_cells;
use izba_model::text::{counted, thousands};
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::{Modifier, Style};

/// Draws the line at the bottom while a filter is typed or holds; whether it did.
pub fn line(model: &Model, area: Rect, buf: &mut Buffer) -> bool {
    let filter = &model.filter;
    if !filter.typing && filter.phrase.is_none() || area.height == 0 {
        return false;
    }
    let theme = model.theme;
    clear(buf, area, theme.ground(Ground::Plank));
    let smoke = theme.ink(Ink::Smoke);
    let name = "Filter  ";
    let mut x = area.x
        + put(
            buf,
            area.x,
            area.y,
            area.width,
            &[(name, theme.ink(Ink::Ice).add_modifier(Modifier::BOLD))],
        );
    if !filter.typing {
        let text = safe(filter.phrase.as_ref().map_or("", |p| p.text()));
        x += put(buf, x, area.y, area.right() - x, &[(&text, theme.ink(Ink::Chalk))]);
        let words = format!("   {}", outcome(model));
        let ends = if crate::rooms::back_ends_filter(model) { "   Esc ends it" } else { "" };
        put(buf, x, area.y, area.right().saturating_sub(x), &[(&words, smoke), (ends, smoke)]);
        return true;
    }
    let text = filter.input.value();
    let wrong = filter.problem.as_ref().map(|p| p.at.clone());
    let from = x;
    for (at, c) in text.char_indices() {
        let bad = wrong.as_ref().is_some_and(|w| w.contains(&at));
        let style = if bad {
            theme.ink(Ink::Straw).add_modifier(Modifier::UNDERLINED)
        } else {
            theme.ink(Ink::Chalk)
        };
        x += put(buf, x, area.y, area.right().saturating_sub(x), &[(&safe(&c.to_string()), style)]);
    }
    // The cursor stands where the next character goes.
    let before: String = text.chars().take(filter.input.cursor()).collect();
    let cursor = from + width_cells(&safe(&before)) as u16;
    if cursor < area.right() {
        if cursor == x {
            x += put(buf, x, area.y, 1, &[("▏", theme.ink(Ink::Ice))]);
        } else {
            buf.set_style(
                Rect::new(cursor, area.y, 1, 1),
                Style::new().add_modifier(Modifier::REVERSED),
            );
        }
    }
    let words = match &filter.problem {
        Some(problem) => (format!("   {}", safe(&problem.expected)), Ink::Straw),
        None if text.trim().is_empty() => (
            "   such as: error+ in lantern.lua   or   new or back   or   \"has no value\""
                .to_owned(),
            Ink::Smoke,
        ),
        None => (format!("   {}", outcome(model)), Ink::Smoke),
    };
    x += put(buf, x, area.y, area.right().saturating_sub(x), &[(&words.0, theme.ink(words.1))]);
    let hint = "Tab takes the first, ↓ chooses";
    if !filter.offers.is_empty() && usize::from(area.right().saturating_sub(x)) > hint.len() + 2 {
        put_right(buf, area.right(), area.y, hint.len() as u16, &[(hint, smoke)]);
    }
    offers(model, area, buf);
    true
}

/// What the filter leaves, in words.
fn outcome(model: &Model) -> String {
    if model.peek {
        return "all is shown for a moment; p hides it again".into();
    }
    if model.room == Room::Lines {
        let all = model.shown.snapshot.rows;
        return match model.filter.counted {
            Some((matched, looked)) if looked >= all => {
                format!(
                    "{} fit, {} hidden",
                    counted(matched, "line", "lines"),
                    thousands(all.saturating_sub(matched))
                )
            }
            Some((matched, looked)) => {
                format!(
                    "{} fit so far; {} of {} looked through",
                    counted(matched, "line", "lines"),
                    thousands(looked),
                    thousands(all)
                )
            }
            None => "looking".into(),
        };
    }
    let groups = &model.shown.snapshot.groups;
    let fit = groups.iter().filter(|g| model.passes(g));
    let (groups_left, entries) = fit.fold((0u64, 0u64), |(n, sum), g| (n + 1, sum + g.count));
    format!(
        "{} of {}, seen {}",
        groups_left,
        counted(groups.len() as u64, "mistake", "mistakes"),
        counted(entries, "time", "times")
    )
}

/// What fits here, above the line; the best one next to it.
fn offers(model: &Model, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let filter = &model.filter;
    let rows = (filter.offers.len() as u16).min(area.y.saturating_sub(4));
    if rows == 0 {
        return;
    }
    let width = area.width.min(72);
    let top = area.y - rows;
    for (at, offer) in filter.offers.iter().take(usize::from(rows)).enumerate() {
        let y = top + at as u16;
        let row = Rect::new(area.x, y, width, 1);
        let chosen = filter.chosen == Some(at);
        clear(buf, row, theme.ground(if chosen { Ground::Bench } else { Ground::Plank }));
        let mark = if chosen { "› " } else { "  " };
        let leaves = offer.leaves.map(|n| counted(n, "time", "times")).unwrap_or_default();
        let end = put_right(buf, row.right() - 1, y, 16, &[(&leaves, theme.ink(Ink::Smoke))]);
        let text = format!("{:<16} ", safe(&offer.text));
        put(
            buf,
            row.x,
            y,
            end.saturating_sub(row.x + 1),
            &[
                (mark, theme.ink(Ink::Ice)),
                (&text, theme.ink(Ink::Chalk)),
                (offer.means, theme.ink(Ink::Smoke)),
            ],
        );
    }
}
