//! A ring of files, drawn: each brings in the next one, and the arrow that is the cheapest to cut
//! leads back.

use crate::parts::pen::{put, safe};
use crate::theme::{Ink, Theme};
use izba_cause::suspect::Arrow;
use izba_model::text::width_cells;
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::Modifier;

const ARROW: &str = " ──▸ ";

/// Draws the ring from the top of `area`; gives back the row below it. What is too wide stands one
/// below the other.
pub fn draw(theme: Theme, ring: &[Arrow], area: Rect, buf: &mut Buffer) -> u16 {
    let Some(cut) = ring.last() else { return area.y };
    let names: Vec<String> =
        ring.iter().map(|a| safe(a.from.rsplit('/').next().unwrap_or(&a.from))).collect();
    let label = format!(
        " cheapest to cut: {}:{} ",
        safe(cut.from.rsplit('/').next().unwrap_or(&cut.from)),
        cut.line
    );
    let across = names.iter().map(|n| width_cells(n)).sum::<usize>()
        + (names.len() - 1) * width_cells(ARROW);
    let (name, line, odd) = (theme.ink(Ink::Ice), theme.ink(Ink::Smoke), theme.ink(Ink::Straw));
    if across <= usize::from(area.width) && area.height >= 4 {
        let mut x = area.x;
        let mut middles = Vec::new();
        for (at, words) in names.iter().enumerate() {
            if at > 0 {
                put(buf, x, area.y, area.right().saturating_sub(x), &[(ARROW, line)]);
                x += width_cells(ARROW) as u16;
            }
            middles.push(x + width_cells(words) as u16 / 2);
            put(
                buf,
                x,
                area.y,
                area.right().saturating_sub(x),
                &[(words, name.add_modifier(Modifier::BOLD))],
            );
            x += width_cells(words) as u16;
        }
        let (from, to) = (middles[0], *middles.last().unwrap_or(&middles[0]));
        put(buf, from, area.y + 1, 1, &[("▴", odd)]);
        if to > from {
            put(buf, to, area.y + 1, 1, &[("╎", odd)]);
        }
        let span = usize::from(to - from).saturating_sub(1);
        put(
            buf,
            from,
            area.y + 2,
            to - from + 1,
            &[("└", odd), (&"╌".repeat(span), odd), (if to > from { "┘" } else { "" }, odd)],
        );
        let words = width_cells(&label);
        // Where the way back is too short for its words they stand behind it.
        let at = if words + 2 <= span { from + 1 + ((span - words) / 2) as u16 } else { to + 1 };
        put(buf, at, area.y + 2, area.right().saturating_sub(at), &[(&label, odd)]);
        return area.y + 4;
    }
    let mut y = area.y;
    for (at, arrow) in ring.iter().enumerate() {
        if y >= area.bottom() {
            return y;
        }
        let last = at + 1 == ring.len();
        let to = safe(arrow.to.rsplit('/').next().unwrap_or(&arrow.to));
        let sign = if last { " ╌╌▸ " } else { ARROW };
        let mut parts = vec![
            (names[at].as_str(), name),
            (sign, if last { odd } else { line }),
            (to.as_str(), name),
        ];
        if last {
            parts.push((label.as_str(), odd));
        }
        put(buf, area.x, y, area.width, &parts);
        y += 1;
    }
    y + 1
}
