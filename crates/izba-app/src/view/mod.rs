//! Drawing: the state goes in, cells come out. Same state, same cells; nothing is computed here but looks.

mod bar;
mod lines;
mod overlay;
mod pen;
mod tour;
mod what;
mod when;
mod where_;
mod why;

pub use bar::room_at;
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
        pen::put(buf, area.x, area.y, area.width, &[("izba: too small", model.theme.ink(crate::theme::Ink::Chalk))]);
        return;
    }
    let layout = Layout::of(model);
    bar::draw(model, area, buf);
    match model.room {
        Room::Now => {
            bar::headline(model, layout.headline, buf);
            when::draw(model, layout.when, buf);
            what::draw(model, layout.what, buf);
            where_::draw(model, layout.where_, buf);
            why::draw(model, layout.why, buf);
        }
        Room::Lines => lines::draw(model, area, buf),
    }
    tour::draw(model, layout.tour, buf);
    bar::notice(model, layout.notice, buf);
    bar::footer(model, layout.footer, buf);
    overlay::draw(model, area, buf);
}
