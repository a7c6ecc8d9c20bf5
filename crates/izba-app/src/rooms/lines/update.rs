//! Keys of room Lines: moving, finding, asking for rows.

pub(crate) use super::layout::is_sieved;
use crate::keymap::Action;
use crate::model::{Find, FindOutcome, LinesState, Model, Question, Room};
use crate::parts::effect::{Effect, say};
use crate::parts::input::edit_input;
use crate::parts::list::{select, sort_list};
use izba_model::text::width_cells;
use izba_watch::{Order, Sieve, Sought};

/// Cells by which long lines are shifted at once.
const SHIFT: usize = 24;

pub(crate) fn act_in_lines(model: &mut Model, action: Action) -> Vec<Effect> {
    let effects = move_or_do(model, action);
    // What stands above the chosen line, when that takes several rows, is out of sight now.
    if (model.lines.wrapped || model.lines.opened.is_some())
        && let Some(first) = super::layout::placed(model).first().map(|p| p.number)
    {
        model.lines.top = first;
    }
    effects
}

fn move_or_do(model: &mut Model, action: Action) -> Vec<Effect> {
    if is_sieved(model)
        && matches!(
            action,
            Action::Up
                | Action::Down
                | Action::PageUp
                | Action::PageDown
                | Action::First
                | Action::Last
        )
    {
        return act_filtered(model, action);
    }
    // Where lines take several rows, a screenful is what is in sight.
    let page = super::layout::placed(model).len().max(1) as u64;
    let last = model.shown.snapshot.rows.saturating_sub(1);
    let cursor = model.lines.cursor;
    match action {
        Action::Up => go_to_row(model, cursor.saturating_sub(1)),
        Action::Down => go_to_row(model, (cursor + 1).min(last)),
        Action::PageUp => go_to_row(model, cursor.saturating_sub(page)),
        Action::PageDown => go_to_row(model, (cursor + page).min(last)),
        Action::First => go_to_row(model, 0),
        Action::Last => model.lines.follow = true,
        Action::LeftPart => {
            model.lines.left = model.lines.left.saturating_sub(SHIFT);
            return Vec::new();
        }
        Action::RightPart => {
            let widths = model.lines.rows.iter().map(|r| width_cells(r.text.as_str()));
            // The end of the longest line at hand stays in sight.
            let most = widths.max().unwrap_or(0).saturating_sub(SHIFT);
            let further = model.lines.left + SHIFT;
            if further > most {
                say(model, "no line here goes on further to the right");
            } else {
                model.lines.left = further;
            }
            return Vec::new();
        }
        Action::Wrap => {
            (model.lines.wrapped, model.lines.left) = (!model.lines.wrapped, 0);
            return Vec::new();
        }
        Action::FoldErrors => return fold_errors(model),
        Action::OpenHere => {
            let row = model.lines.rows.iter().find(|r| r.row == cursor);
            let known = |(id, _): (izba_core::GroupId, bool)| model.group(id).is_some();
            if !row.and_then(|r| r.group).is_some_and(known) {
                say(model, "this line belongs to no error or warning; n goes to one that does");
                return Vec::new();
            }
            let open = model.lines.opened != Some(cursor);
            // What moves on would take it out of sight.
            model.lines.follow = false;
            model.lines.opened = open.then_some(cursor);
            return Vec::new();
        }
        Action::NextError | Action::PreviousError => {
            return seek_error(model, action == Action::PreviousError);
        }
        Action::Edit => return edit_row(model),
        Action::Find => {
            model.finds += 1;
            let typed = model.lines.find.take().map(|f| f.input).unwrap_or_default();
            model.lines.find = Some(Find {
                id: model.finds,
                input: typed,
                typing: true,
                outcome: FindOutcome::Idle,
            });
        }
        Action::Mine => {
            let Some(row) = model.lines.rows.iter().find(|r| r.row == cursor) else {
                say(model, NOT_AT_HAND);
                return Vec::new();
            };
            return vec![Effect::Order(Order::Mine(
                row.line.source.0,
                row.text.as_str().to_owned(),
            ))];
        }
        Action::Deeper | Action::Across => {
            let row = model.lines.rows.iter().find(|r| r.row == cursor);
            let Some((id, _)) =
                row.and_then(|r| r.group).filter(|(id, _)| model.group(*id).is_some())
            else {
                say(
                    model,
                    match row.is_some_and(|r| r.overlooked) {
                        true => "this line was not understood; l shows how it is read",
                        false => "this line belongs to no error or warning",
                    },
                );
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
                sort_list(model, false);
            } else {
                model.lines.follow = true;
            }
        }
        _ => return Vec::new(),
    }
    ask_rows(model)
}

/// What is said where a line is wanted that has not been read again yet.
const NOT_AT_HAND: &str = "that line is still being fetched; try once more";

/// Shows the first line of each error only, or all lines again; what is chosen stays chosen.
fn fold_errors(model: &mut Model) -> Vec<Effect> {
    model.lines.folded = !model.lines.folded;
    // Within an error its first line stands for the chosen one.
    if model.lines.folded && !model.lines.follow {
        let rows = &model.lines.rows;
        let at = rows.partition_point(|r| r.row <= model.lines.cursor);
        let shown = |r: &&izba_watch::LineRow| r.group.is_none_or(|(_, first)| first);
        if let Some(row) = rows[..at].iter().rev().find(shown).map(|r| r.row) {
            model.lines.cursor = row;
        }
    }
    if is_sieved(model) {
        return ask_matching(model);
    }
    model.lines.top = model.lines.cursor.saturating_sub(crate::model::lines_page(model) / 2);
    order_rows(model)
}

/// Looks for the next error, or the one before.
fn seek_error(model: &mut Model, up: bool) -> Vec<Effect> {
    model.finds += 1;
    model.lines.seeking = Some((model.finds, up));
    let cursor = model.lines.cursor;
    // From where all that is there was seen, down means from its beginning.
    let from = match (up, model.lines.follow) {
        (true, _) => cursor,
        (false, true) => 0,
        (false, false) => cursor + 1,
    };
    // More of the same, often a flood of it, is passed over.
    let row = model.lines.rows.iter().find(|r| r.row == cursor && !model.lines.follow);
    let sought = Sought::Error(row.and_then(|r| r.group).map(|(id, _)| id));
    vec![Effect::Order(Order::Find { id: model.finds, sought, from, up })]
}

/// The next error was found, or there is none that way.
pub(crate) fn on_error_found(model: &mut Model, row: Option<u64>, up: bool) -> Vec<Effect> {
    model.lines.seeking = None;
    let Some(row) = row else {
        say(
            model,
            if up {
                "no other error or warning further up"
            } else {
                "no other error or warning further down"
            },
        );
        return Vec::new();
    };
    show_row(model, row)
}

/// Goes to a row, or to the nearest that is let through, and asks for what is to be seen there.
pub(crate) fn show_row(model: &mut Model, row: u64) -> Vec<Effect> {
    go_to_row(model, row);
    if is_sieved(model) { ask_matching(model) } else { ask_rows(model) }
}

/// Opens the editor where the chosen line's error stands.
fn edit_row(model: &mut Model) -> Vec<Effect> {
    let row = model.lines.rows.iter().find(|r| r.row == model.lines.cursor);
    let group = row.and_then(|r| r.group).and_then(|(id, _)| model.group(id)).cloned();
    match group {
        Some(group) => crate::parts::edit::edit_reported(model, &group),
        None => {
            say(model, "this line belongs to no error; choose one that does");
            Vec::new()
        }
    }
}

pub(crate) fn go_to_row(model: &mut Model, row: u64) {
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
pub(crate) fn ask_rows(model: &mut Model) -> Vec<Effect> {
    if model.room != Room::Lines {
        return Vec::new();
    }
    if is_sieved(model) {
        return Vec::new();
    }
    let page = crate::model::lines_page(model);
    if model.lines.follow {
        // The screen moves on when the newest rows are at hand: however fast they come, it is never
        // empty.
        let rows = model.shown.snapshot.rows;
        if !follow_rows(model, rows) && rows > 0 {
            return order_rows(model);
        }
        return Vec::new();
    }
    let have = |row: u64| model.lines.rows.binary_search_by_key(&row, |r| r.row).is_ok();
    let last = (model.lines.top + page).min(model.shown.snapshot.rows);
    if last == 0 || (have(model.lines.top) && have(last - 1)) {
        return Vec::new();
    }
    order_rows(model)
}

/// Moves to the newest of the rows at hand; whether those are all of them.
pub(crate) fn follow_rows(model: &mut Model, all: u64) -> bool {
    let page = crate::model::lines_page(model);
    let Some(newest) = model.lines.rows.last().map(|r| r.row).filter(|newest| *newest < all) else {
        return false;
    };
    model.lines.top = (newest + 1).saturating_sub(page);
    model.lines.cursor = newest;
    newest + 1 == all
}

/// Asks for the lines that the filter lets through, around the chosen one.
pub(crate) fn ask_matching(model: &mut Model) -> Vec<Effect> {
    if !is_sieved(model) {
        return Vec::new();
    }
    let sieve = Sieve { phrase: model.line_filter().cloned(), firsts: model.lines.folded };
    let page = crate::model::lines_page(model) as usize;
    model.finds += 1;
    (model.filter.ids.0, model.filter.settled) = (model.finds, false);
    let (from, up, down) = if model.lines.follow {
        (u64::MAX, 2 * page, 0)
    } else {
        (model.lines.cursor, 2 * page, 2 * page)
    };
    vec![Effect::Order(Order::Matching { id: model.finds, sieve, from, up, down })]
}

/// Lines that fit came.
pub(crate) fn on_matching(
    model: &mut Model,
    id: u64,
    rows: Vec<izba_watch::LineRow>,
    done: bool,
) -> Vec<Effect> {
    if id != model.filter.ids.0 || !is_sieved(model) {
        return Vec::new();
    }
    model.filter.settled = done;
    model.lines.rows = rows;
    let page = crate::model::lines_page(model) as usize;
    let rows = &model.lines.rows;
    if model.lines.follow {
        model.lines.cursor = rows.last().map_or(0, |r| r.row);
        model.lines.top = rows.get(rows.len().saturating_sub(page)).map_or(0, |r| r.row);
        return Vec::new();
    }
    let at = rows.partition_point(|r| r.row < model.lines.cursor).min(rows.len().saturating_sub(1));
    if let Some(row) = rows.get(at) {
        model.lines.cursor = row.row;
    }
    show_filtered(model, at);
    Vec::new()
}

/// More lines fit than before: whoever stays with what arrives sees them.
pub(crate) fn on_counted(model: &mut Model, id: u64, matched: u64, looked: u64) -> Vec<Effect> {
    if id != model.filter.ids.1 {
        return Vec::new();
    }
    let more = model.filter.counted.is_some_and(|(before, _)| matched > before);
    model.filter.counted = Some((matched, looked));
    // While the count still goes through what was there before, the newest lines are at hand
    // already.
    if more
        && model.room == Room::Lines
        && model.lines.follow
        && model.filter.settled
        && looked >= model.shown.snapshot.rows
    {
        return ask_matching(model);
    }
    Vec::new()
}

/// Moves the screen so that the line at this place of those at hand is on it.
fn show_filtered(model: &mut Model, at: usize) {
    let page = crate::model::lines_page(model) as usize;
    let rows = &model.lines.rows;
    let top = rows.partition_point(|r| r.row < model.lines.top);
    let top = if at < top { at } else { top.max((at + 1).saturating_sub(page)) };
    // A screen that could be full is full.
    let top = top.min(rows.len().saturating_sub(page));
    model.lines.top = rows.get(top).map_or(0, |r| r.row);
}

fn act_filtered(model: &mut Model, action: Action) -> Vec<Effect> {
    let page = super::layout::placed(model).len().max(1);
    let count = model.lines.rows.len();
    let now = model.lines.rows.partition_point(|r| r.row < model.lines.cursor);
    let last = count.saturating_sub(1);
    let next = match action {
        Action::Up => now.saturating_sub(1),
        Action::Down => (now + 1).min(last),
        Action::PageUp => now.saturating_sub(page),
        Action::PageDown => (now + page).min(last),
        Action::First => {
            (model.lines.cursor, model.lines.top, model.lines.follow) = (0, 0, false);
            return ask_matching(model);
        }
        _ => {
            model.lines.follow = true;
            return ask_matching(model);
        }
    };
    model.lines.follow = false;
    let Some(row) = model.lines.rows.get(next).map(|r| r.row) else { return Vec::new() };
    model.lines.cursor = row;
    show_filtered(model, next);
    // Near the end of those at hand more are asked for.
    if model.filter.settled
        && (next < page / 2 && model.lines.rows[0].row > 0 || next + page / 2 >= count)
    {
        ask_matching(model)
    } else {
        Vec::new()
    }
}

pub(crate) fn order_rows(model: &Model) -> Vec<Effect> {
    if is_sieved(model) {
        return Vec::new();
    }
    let page = crate::model::lines_page(model);
    if model.lines.follow {
        let from = model.shown.snapshot.rows.saturating_sub(2 * page);
        return vec![Effect::Order(Order::Window { from, count: 2 * page })];
    }
    vec![Effect::Order(Order::Window {
        from: model.lines.top.saturating_sub(page),
        count: 3 * page,
    })]
}

pub(crate) fn on_find_key(model: &mut Model, key: &str) -> Vec<Effect> {
    let cursor = model.lines.cursor;
    let Some(find) = model.lines.find.as_mut() else { return Vec::new() };
    match key {
        "Esc" => {
            model.lines.find = None;
            vec![Effect::Order(Order::FindNothing)]
        }
        "Enter" | "↓" | "↑" => {
            let words: Vec<String> =
                find.input.value().split_whitespace().map(str::to_lowercase).collect();
            if words.is_empty() {
                return Vec::new();
            }
            let up = key == "↑";
            model.finds += 1;
            find.id = model.finds;
            find.outcome = FindOutcome::Searching(0);
            let from = if up {
                cursor
            } else {
                cursor + u64::from(key == "↓" || matches!(find.outcome, FindOutcome::Found(_)))
            };
            let from = if model.lines.follow && !up { 0 } else { from };
            let sought = Sought::Words(words);
            vec![Effect::Order(Order::Find { id: find.id, sought, from, up })]
        }
        _ => {
            edit_input(&mut find.input, key);
            Vec::new()
        }
    }
}
