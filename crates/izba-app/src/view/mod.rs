//! Drawing: the state goes in, cells come out. Same state, same cells; nothing is computed here but
//! looks.

mod bar;
mod checks;
mod corner;
mod filter;
mod lines;
mod notes;
mod overlay;
mod paths;
mod pause;
mod pen;
mod prints;
mod ring;
mod runs;
mod said;
mod sheets;
mod tell;
mod tour;
mod values;
mod what;
mod when;
mod where_;
mod why;

pub use bar::room_at;
pub use corner::rows as corner_rows;
pub use overlay::words_rows;
pub use pause::{source_rows, table_page};
pub use prints::rows as prints_rows;
pub use runs::{run_at, run_row_at};
pub use tell::rows as tell_rows;
pub use values::stretch;
pub use what::group_at;
pub use where_::step_at;
pub use why::rows as why_rows;

use crate::model::{Layout, Model, Room};
use crate::theme::Ground;
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;

/// Text for the terminal's title: without anything that it would obey.
pub fn plain(text: &str) -> String {
    pen::safe(text)
}

/// Draws the whole screen.
pub fn draw(model: &Model, area: Rect, buf: &mut Buffer) {
    buf.set_style(area, model.theme.ground(Ground::Tar));
    if area.width < 20 || area.height < 6 {
        pen::put(
            buf,
            area.x,
            area.y,
            area.width,
            &[("izba: too small", model.theme.ink(crate::theme::Ink::Chalk))],
        );
        return;
    }
    let layout = Layout::of(model);
    bar::draw(model, area, buf);
    match model.room {
        Room::Now => bar::headline(model, layout.headline, buf),
        Room::Lines => lines::draw(model, area, buf),
        Room::Runs => runs::draw(model, area, buf),
        Room::Checks => checks::draw(model, area, buf),
        Room::Pause => pause::draw(model, area, buf),
        Room::Values => values::draw(model, area, buf),
        Room::Notes => notes::draw(model, area, buf),
    }
    match model.room {
        // Before anything is watched there is nothing to ask about.
        Room::Now if !model.shown.snapshot.sources.is_empty() => {
            values::pins(model, layout.pins, buf);
            when::draw(model, layout.when, buf);
            what::draw(model, layout.what, buf);
            where_::draw(model, layout.where_, buf);
            why::draw(model, layout.why, buf);
        }
        _ => {}
    }
    tour::draw(model, layout.tour, buf);
    // Values of a stop are not what the phrase speaks of.
    let filtered = !matches!(model.room, Room::Pause | Room::Values | Room::Notes)
        && filter::line(model, layout.notice, buf);
    if model.notice.is_some() && !model.filter.typing {
        pen::clear(buf, layout.notice, model.theme.ground(Ground::Tar));
        bar::notice(model, layout.notice, buf);
    } else if !filtered && model.lines.find.is_none() {
        bar::notice(model, layout.notice, buf);
    }
    bar::footer(model, layout.footer, buf);
    overlay::draw(model, area, buf);
    filter::sheets(model, area, buf);
}
