//! The list of groups: its order, and the chosen one.

use crate::keymap::Action;
use crate::model::{Layout, Model, Question, Room, list_shape};
use izba_core::GroupId;
use std::collections::HashSet;

pub(crate) fn sort_list(model: &mut Model, anew: bool) {
    let listed: Vec<GroupId> =
        model.shown.snapshot.groups.iter().filter(|g| model.is_listed(g)).map(|g| g.id).collect();
    let choosing =
        model.chosen.is_some() && model.focus == Question::What && model.room == Room::Now && !anew;
    if !choosing {
        model.order = listed;
        return;
    }
    let here: HashSet<GroupId> = listed.iter().copied().collect();
    model.order.retain(|id| here.contains(id));
    let before: HashSet<GroupId> = model.order.iter().copied().collect();
    model.order.extend(listed.into_iter().filter(|id| !before.contains(id)));
}

pub(crate) fn choose(model: &mut Model, action: Action) {
    let count = model.order.len();
    if count == 0 {
        return;
    }
    let now =
        model.selected().and_then(|g| model.order.iter().position(|id| *id == g.id)).unwrap_or(0);
    let page = list_shape(model, Layout::of(model).what).fits().max(1);
    let next = match action {
        Action::Up => now.saturating_sub(1),
        Action::Down => (now + 1).min(count - 1),
        Action::PageUp => now.saturating_sub(page),
        Action::PageDown => (now + page).min(count - 1),
        Action::First => 0,
        _ => count - 1,
    };
    select(model, model.order[next]);
}

pub(crate) fn select(model: &mut Model, id: GroupId) {
    if model.selected().is_none_or(|g| g.id != id) {
        (model.step, model.scroll) = (0, (0, 0));
    }
    model.chosen = Some(id);
}
