//! Keys of room Checks: a remark, the way to its line, “I know”.

use crate::keymap::Action;
use crate::model::Model;
use crate::parts::effect::{Effect, say};
use izba_core::Wish;
use izba_watch::Order;

pub(crate) fn act(model: &mut Model, action: Action) -> Vec<Effect> {
    let count = model.remarks().len();
    let Some((at, remark)) = model.chosen_remark() else {
        if matches!(action, Action::Mute | Action::Deeper | Action::Edit) {
            say(model, "there is no remark here to act on");
        }
        return Vec::new();
    };
    let next = match action {
        Action::Up => at.saturating_sub(1),
        Action::Down => (at + 1).min(count - 1),
        Action::PageUp => at.saturating_sub(10),
        Action::PageDown => (at + 10).min(count - 1),
        Action::First => 0,
        Action::Last => count - 1,
        Action::Deeper | Action::Edit => return edit(model),
        Action::Mute => {
            let key = remark.key();
            let on = !model.live.known.contains(&key);
            let said = if on { "set aside as known; u takes it back" } else { "told again" };
            // The cursor stays where it is, on what comes next.
            model.remark = model.remarks().get(at + 1).map(|r| r.key());
            return vec![Effect::Order(Order::Wish(vec![Wish::Known(key, on)], said.into()))];
        }
        _ => return Vec::new(),
    };
    model.remark = model.remarks().get(next).map(|r| r.key());
    Vec::new()
}

/// Opens the editor at the remark.
fn edit(model: &mut Model) -> Vec<Effect> {
    let Some((_, remark)) = model.chosen_remark() else {
        say(model, "nothing was found wrong, so there is nothing to fix");
        return Vec::new();
    };
    vec![Effect::Edit { file: remark.file.to_string(), line: remark.line.max(1), column: 1 }]
}
