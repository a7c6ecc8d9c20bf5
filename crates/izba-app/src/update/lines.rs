//! Keys of room Lines: moving, finding, asking for rows.

use super::{Effect, edit_input, say, select, sort_list};
use crate::keymap::Action;
use crate::model::{Find, FindOutcome, LinesState, Model, Question, Room};
use crate::watch::Order;

pub(super) fn act_in_lines(model: &mut Model, action: Action) -> Vec<Effect> {
    let page = crate::model::lines_page(model);
    let last = model.shown.snapshot.rows.saturating_sub(1);
    let cursor = model.lines.cursor;
    match action {
        Action::Up => go_to_row(model, cursor.saturating_sub(1)),
        Action::Down => go_to_row(model, (cursor + 1).min(last)),
        Action::PageUp => go_to_row(model, cursor.saturating_sub(page)),
        Action::PageDown => go_to_row(model, (cursor + page).min(last)),
        Action::First => go_to_row(model, 0),
        Action::Last => model.lines.follow = true,
        Action::Find => {
            model.finds += 1;
            let typed = model.lines.find.take().map(|f| f.input).unwrap_or_default();
            model.lines.find = Some(Find { id: model.finds, input: typed, typing: true, outcome: FindOutcome::Idle });
        }
        Action::Deeper | Action::Across => {
            let row = model.lines.rows.iter().find(|r| r.row == cursor);
            let Some((id, _)) = row.and_then(|r| r.group).filter(|(id, _)| model.group(*id).is_some()) else {
                say(model, "this line belongs to no error or warning");
                return Vec::new();
            };
            select(model, id);
            (model.room, model.focus) = (Room::Now, Question::Where);
            sort_list(model, false);
        }
        Action::Back => {
            if model.lines.find.take().is_some() {
                return vec![Effect::Order(Order::FindNothing)];
            }
            if model.lines.follow {
                model.room = Room::Now;
            } else {
                model.lines.follow = true;
            }
        }
        _ => return Vec::new(),
    }
    ask_rows(model)
}

pub(super) fn go_to_row(model: &mut Model, row: u64) {
    let page = crate::model::lines_page(model);
    let LinesState { top, cursor, follow, .. } = &mut model.lines;
    *cursor = row;
    *follow = false;
    if *cursor < *top {
        *top = *cursor;
    } else if *cursor >= *top + page {
        *top = *cursor + 1 - page;
    }
}

/// Asks for the rows that the screen shows, with a screenful around them.
pub(super) fn ask_rows(model: &mut Model) -> Vec<Effect> {
    if model.room != Room::Lines {
        return Vec::new();
    }
    let page = crate::model::lines_page(model);
    if model.lines.follow {
        let rows = model.shown.snapshot.rows;
        model.lines.top = rows.saturating_sub(page);
        model.lines.cursor = rows.saturating_sub(1);
    }
    let have = |row: u64| model.lines.rows.binary_search_by_key(&row, |r| r.row).is_ok();
    let last = (model.lines.top + page).min(model.shown.snapshot.rows);
    if last == 0 || (have(model.lines.top) && have(last - 1)) {
        return Vec::new();
    }
    order_rows(model)
}

pub(super) fn order_rows(model: &Model) -> Vec<Effect> {
    let page = crate::model::lines_page(model);
    vec![Effect::Order(Order::Window { from: model.lines.top.saturating_sub(page), count: 3 * page })]
}

pub(super) fn on_find_key(model: &mut Model, key: &str) -> Vec<Effect> {
    let cursor = model.lines.cursor;
    let Some(find) = model.lines.find.as_mut() else { return Vec::new() };
    match key {
        "Esc" => {
            model.lines.find = None;
            vec![Effect::Order(Order::FindNothing)]
        }
        "Enter" | "↓" | "↑" => {
            let words: Vec<String> = find.input.value().split_whitespace().map(str::to_lowercase).collect();
            if words.is_empty() {
                return Vec::new();
            }
            let up = key == "↑";
            model.finds += 1;
            find.id = model.finds;
            find.outcome = FindOutcome::Searching(0);
            let from = if up { cursor } else { cursor + u64::from(key == "↓" || matches!(find.outcome, FindOutcome::Found(_))) };
            let from = if model.lines.follow && !up { 0 } else { from };
            vec![Effect::Order(Order::Find { id: find.id, words, from, up })]
        }
        _ => {
            edit_input(&mut find.input, key);
            Vec::new()
        }
    }
}
