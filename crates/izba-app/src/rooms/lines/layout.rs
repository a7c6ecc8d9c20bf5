//! Where the lines of room Lines stand on the screen.

use super::opened;
use crate::model::{LINES_TOP as TOP, Model, lines_page};
use crate::parts::pen::clock;
use crate::theme::Ink;
use izba_model::text::{thousands, width_cells};
use izba_watch::LineRow;

/// Whether only some of the lines are shown.
pub(crate) fn is_sieved(model: &Model) -> bool {
    model.line_filter().is_some() || model.lines.folded
}

/// A line on the screen.
pub(super) struct Placed<'m> {
    /// Its number over all sources, from 0.
    pub(super) number: u64,
    /// The line, if it is at hand.
    pub(super) row: Option<&'m LineRow>,
    /// Its first row below the room's first, and how many it takes.
    pub(super) y: u16,
    pub(super) height: u16,
}

/// The lines that the screen shows, and where: the chosen one is among them.
pub(super) fn placed(model: &Model) -> Vec<Placed<'_>> {
    let lines = &model.lines;
    let page = lines_page(model) as usize;
    let mut all: Vec<(u64, Option<&LineRow>)> = if is_sieved(model) {
        let top = lines.rows.partition_point(|r| r.row < lines.top);
        lines.rows.iter().skip(top).take(page).map(|r| (r.row, Some(r))).collect()
    } else {
        let at_hand = |row: u64| {
            let found = lines.rows.binary_search_by_key(&row, |r| r.row).ok();
            (row, found.and_then(|at| lines.rows.get(at)))
        };
        let end = (lines.top + page as u64).min(model.shown.snapshot.rows);
        (lines.top..end).map(at_hand).collect()
    };
    let height = |row: Option<&LineRow>| {
        let Some(row) = row else { return 1 };
        let below = below(model, row).len();
        own_height(model, row).min(page.saturating_sub(below).max(1)) + below
    };
    // Where lines take several rows, those above make room for the chosen one.
    if let Some(chosen) = all.iter().position(|(n, _)| *n == lines.cursor) {
        let mut taken = 0;
        let fits = |(_, row): &&(u64, Option<&LineRow>)| {
            taken += height(*row);
            taken <= page
        };
        let shown = all[..=chosen].iter().rev().take_while(fits).count().max(1);
        all.drain(..chosen + 1 - shown);
    }
    let mut placed = Vec::new();
    let mut y = 0;
    for (number, row) in all {
        let height = height(row).min(page.saturating_sub(y));
        if height == 0 {
            break;
        }
        placed.push(Placed { number, row, y: y as u16, height: height as u16 });
        y += height;
    }
    placed
}

/// The rows of the screen that a line itself takes.
pub(super) fn own_height(model: &Model, row: &LineRow) -> usize {
    if !model.lines.wrapped {
        return 1;
    }
    let room = inner_width(model).saturating_sub(indent(model, row));
    pieces(row.text.as_str(), usize::from(room)).take(lines_page(model) as usize).count().max(1)
}

/// What is told below a line that is opened.
pub(super) fn below(model: &Model, row: &LineRow) -> Vec<(Ink, String)> {
    let room = inner_width(model).saturating_sub(indent(model, row) + BESIDE);
    opened::words(model, row, usize::from(room))
}

/// The line that a row of the screen shows.
pub(super) fn row_at(model: &Model, y: u16) -> Option<u64> {
    let y = y.checked_sub(TOP)?;
    let placed = placed(model);
    placed.iter().find(|one| (one.y..one.y + one.height).contains(&y)).map(|one| one.number)
}

/// The cells at each side of the room.
pub(super) fn side(width: u16) -> u16 {
    if width >= ROOMY { 2 } else { 1 }
}

fn inner_width(model: &Model) -> u16 {
    model.size.0.saturating_sub(2 * side(model.size.0))
}

/// Cells of the stroke beside what is told below a line.
const BESIDE: u16 = 2;

/// From this width on there is room for a margin and for thousandths of a second.
pub(super) const ROOMY: u16 = 100;

/// From this width on there is room for the numbers of lines.
const WIDE: u16 = 120;

/// The number of a line, as wide as that of the last one; nothing where there is no room for it.
pub(super) fn number_of(model: &Model, row: &LineRow) -> String {
    if model.size.0 < WIDE {
        return String::new();
    }
    let width = width_cells(&thousands(model.shown.snapshot.rows));
    format!("{:>width$} ", thousands(row.row + 1))
}

/// When a line arrived, as it is shown.
pub(super) fn time_of(model: &Model, row: &LineRow) -> String {
    let time = row.time.map(|t| clock(t, model.utc_offset)).unwrap_or_default();
    if model.size.0 >= ROOMY { time } else { time.get(..8).unwrap_or("").to_owned() }
}

/// Cells before the text of a line: its time, its source where there are several, its sign.
pub(super) fn indent(model: &Model, row: &LineRow) -> u16 {
    let source = if model.shown.snapshot.sources.len() > 1 { 13 } else { 0 };
    let before = width_cells(&number_of(model, row)) + width_cells(&time_of(model, row));
    before as u16 + 1 + source + 2
}

/// A text in pieces of so many cells each, between words where that leaves no wide gap; a sign is
/// never cut, and nothing is left out.
pub(super) fn pieces(text: &str, cells: usize) -> impl Iterator<Item = &str> {
    let mut rest = Some(text);
    std::iter::from_fn(move || {
        let now = rest.take()?;
        let mut end = byte_within(now, cells.max(2));
        if end == 0 {
            end = now.len();
        } else if end < now.len() && !now[end..].starts_with(' ') {
            let blank = now[..end].rfind(' ').map(|at| at + 1);
            end = blank.filter(|at| width_cells(&now[*at..end]) < cells / 4).unwrap_or(end);
        }
        if end < now.len() {
            rest = Some(&now[end..]);
        }
        Some(&now[..end])
    })
}

/// The byte up to which a text fits into so many cells.
fn byte_within(text: &str, cells: usize) -> usize {
    let mut passed = 0;
    for (at, c) in text.char_indices() {
        passed += width_cells(c.encode_utf8(&mut [0; 4]));
        if passed > cells {
            return at;
        }
    }
    text.len()
}

/// The byte of a text at which so many cells are passed.
pub(super) fn byte_at(text: &str, cells: usize) -> usize {
    let mut passed = 0;
    for (at, c) in text.char_indices() {
        if passed >= cells {
            return at;
        }
        passed += width_cells(c.encode_utf8(&mut [0; 4]));
    }
    text.len()
}

#[cfg(test)]
mod tests {
    use super::{byte_at, pieces};

    #[test]
    fn a_line_is_shifted_by_cells_and_never_within_a_sign() {
        assert_eq!(byte_at("ebb and flood", 4), 4);
        assert_eq!(byte_at("tide", 9), 4);
        // Two cells wide, three bytes long.
        assert_eq!(byte_at("潮の", 2), 3);
        assert_eq!(byte_at("潮の", 1), 3);
        assert_eq!(byte_at("", 3), 0);
    }

    #[test]
    fn a_long_line_is_cut_into_rows_that_hold_all_of_it() {
        let of = |text, cells| pieces(text, cells).collect::<Vec<_>>();
        assert_eq!(of("ebb and flood", 5), ["ebb a", "nd fl", "ood"]);
        assert_eq!(of("the ebb and the flood", 12), ["the ebb and ", "the flood"]);
        assert_eq!(of("潮の流れ", 5), ["潮の", "流れ"]);
        assert_eq!(of("", 5), [""]);
        // Where there is no room at all it ends nevertheless.
        assert_eq!(of("潮の", 0).concat(), "潮の");
    }
}
