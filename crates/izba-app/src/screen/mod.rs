//! Drawing: the state goes in, cells come out. Same state, same cells; nothing is computed here but
//! looks.

mod bar;
mod filter;
mod tour;

pub use bar::{action_at, room_at, status};

use crate::model::{Layout, Model};
use crate::rooms;
use crate::theme::Ground;
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;

/// Text for the terminal's title: without anything that it would obey.
pub fn plain(text: &str) -> String {
    crate::parts::pen::safe(text)
}

/// Draws the whole screen: bar, panes or room, what lies over them, last line.
pub fn draw(model: &Model, area: Rect, buf: &mut Buffer) {
    buf.set_style(area, model.theme.ground(Ground::Tar));
    if area.width < 20 || area.height < 6 {
        crate::parts::pen::put(
            buf,
            area.x,
            area.y,
            area.width,
            &[("izba: too small", model.theme.ink(crate::theme::Ink::Chalk))],
        );
        return;
    }
    let layout = Layout::of(model);
    crate::screen::bar::draw(model, area, buf);
    let kind = rooms::of(model.room);
    (kind.draw)(model, area, buf);
    crate::screen::tour::draw(model, layout.tour, buf);
    // Values of a stop are not what the phrase speaks of.
    let filtered = kind.tells_phrase && crate::screen::filter::line(model, layout.notice, buf);
    if let Some((sentence, _)) =
        model.notice.as_ref().filter(|_| !model.filter.typing && model.lines.find.is_none())
    {
        // A filter that holds stays in sight beside it.
        let wide = izba_model::text::width_cells(sentence) as u16 + 3;
        let mut area = layout.notice;
        if filtered && wide < area.width {
            area.x = area.right() - wide;
            area.width = wide;
        }
        crate::parts::pen::clear(buf, area, model.theme.ground(Ground::Tar));
        crate::screen::bar::notice(model, area, buf);
    } else if !filtered && model.lines.find.is_none() {
        crate::screen::bar::notice(model, layout.notice, buf);
    }
    crate::screen::bar::footer(model, layout.footer, buf);
    crate::sheets::draw(model, area, buf);
}
