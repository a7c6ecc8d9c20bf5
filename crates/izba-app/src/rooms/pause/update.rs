//! Keys of room Pause: look into the stopped program, go on line by line, say where it shall stop.

use crate::keymap::{Action, binding};
use crate::model::TableState;
use crate::model::{BreakSheet, Model, Overlay, PausePane, Room, SetValueSheet, WatchSheet};
use crate::parts::effect::{Effect, say};
use crate::parts::input::edit_input;
use crate::rooms::pause::rows::{self, Row, ValueRow};
use izba_core::Wish;
use izba_dap::Want;
use izba_watch::{Order, PauseOrder};
use tui_input::Input;

fn order(order: PauseOrder) -> Vec<Effect> {
    vec![Effect::Order(Order::Pause(order))]
}

fn want(want: Want) -> Vec<Effect> {
    order(PauseOrder::Want(want))
}

/// Opens the room.
pub(crate) fn open(model: &mut Model) -> Vec<Effect> {
    if model.room != Room::Pause {
        model.pause.from = Some(model.room);
        model.room = Room::Pause;
    }
    after_news(model)
}

/// The program stopped: whoever asked for that wants to see it.
pub(crate) fn stopped(model: &mut Model) {
    if model.room == Room::Pause {
        return;
    }
    let busy = model.overlay.is_some()
        || model.filter.typing
        || model.lines.find.as_ref().is_some_and(|f| f.typing);
    if busy {
        return say(
            model,
            format!("the program stopped; {} shows where", binding(Action::RoomPause).keys[0]),
        );
    }
    model.pause.from = Some(model.room);
    model.room = Room::Pause;
}

/// Something is new: what is open and not known is asked for.
pub(crate) fn after_news(model: &mut Model) -> Vec<Effect> {
    let number = model.live.pause.state.stop.as_ref().map_or(0, |s| s.number);
    if number != model.pause.stop {
        model.pause.stop = number;
        if number > 0 && model.pause.row == 0 {
            // The first row is a heading.
            model.pause.row = 1;
        }
        model.pause.line = None;
        model.pause.asked.clear();
    }
    if let Some(path) = &model.pause.chosen
        && let Some(at) =
            rows::rows(model).iter().position(|r| matches!(r, Row::Value(v) if v.path == *path))
    {
        model.pause.row = at;
    }
    let wanted = rows::wanted(model);
    model.pause.asked.extend(wanted.iter().map(|r| (number, *r)));
    wanted.into_iter().flat_map(|r| want(Want::Children(r))).collect()
}

/// The chosen value.
fn chosen(model: &Model) -> Option<ValueRow> {
    match rows::rows(model).into_iter().nth(model.pause.row)? {
        Row::Value(value) => Some(value),
        Row::Heading(_) => None,
    }
}

/// The chosen value as a line of text.
pub(super) fn copied(model: &Model) -> Option<String> {
    let value = chosen(model)?;
    let shown = value.value?.ok()?.shown;
    Some(format!("{} = {shown}", value.name))
}

pub(crate) fn act(model: &mut Model, action: Action) -> Vec<Effect> {
    let stopped = model.live.pause.state.stop.is_some();
    match action {
        Action::PauseNow if stopped => {
            say(model, "the program is stopped already");
            return open(model);
        }
        Action::PauseNow => {
            if model.live.pause.source.is_some() {
                say(model, "stopping the program at its next line");
            }
            return want(Want::Pause);
        }
        Action::GoOn if stopped => {
            say(model, "the program goes on");
            return want(Want::Go);
        }
        Action::GoOn => say(model, "the program is not stopped"),
        Action::StopBefore | Action::StopAgain => {
            let Some(group) = model.selected().map(|g| g.id) else {
                say(model, "there is no error to wait for yet");
                return Vec::new();
            };
            return order(if action == Action::StopBefore {
                PauseOrder::Before(group)
            } else {
                PauseOrder::Again(group)
            });
        }
        Action::StopsAt if model.live.pause.source.is_none() => {
            say(model, "nothing here runs under a debug adapter, so nothing can stop at errors");
        }
        Action::StopsAt => return order(PauseOrder::NextErrors),
        Action::WatchValue => {
            // What is chosen is what one wants to watch, more often than not.
            let name = chosen(model)
                .filter(|v| stopped && v.path.starts_with("line/"))
                .map(|v| v.name)
                .unwrap_or_default();
            model.overlay = Some(WatchSheet(Input::new(name)).into());
        }
        Action::Mute if stopped && model.pause.pane == PausePane::Values => {
            match chosen(model).and_then(|v| v.watch) {
                Some(at) => return order(PauseOrder::Unwatch(at)),
                None => say(model, "choose a watched expression, to watch it no longer"),
            }
        }
        Action::Mute => return take_off(model),
        Action::Back => return back(model),
        Action::NextPane if stopped => model.pause.pane = model.pause.pane.next(),
        _ if !stopped => return among_breakpoints(model, action),
        Action::Over => return want(Want::Over),
        Action::Into => return want(Want::Into { outside: false }),
        Action::Out => return want(Want::Out),
        Action::OneTick => return order(PauseOrder::Tick),
        Action::RunHere => match rows::place(model) {
            Some((file, line)) => {
                say(model, format!("going on to {file}:{line}"));
                return want(Want::RunTo(file.to_string(), line));
            }
            None => say(model, "this step is outside your own files; choose one of yours"),
        },
        Action::SetValue => return set_value(model),
        _ if model.pause.table.is_some() => return in_table(model, action),
        Action::AsTable => return as_table(model),
        _ => return in_pane(model, action),
    }
    Vec::new()
}

fn back(model: &mut Model) -> Vec<Effect> {
    if model.pause.table.take().is_some() {
        model.pause.filter = Input::default();
    } else if model.pause.pane != PausePane::Values {
        model.pause.pane = PausePane::Values;
    } else {
        model.room = model.pause.from.take().unwrap_or(Room::Now);
        if model.room == Room::Lines {
            return crate::rooms::lines::update::ask_rows(model);
        }
        crate::parts::list::sort_list(model, false);
    }
    Vec::new()
}

fn moved(at: usize, count: usize, action: Action) -> usize {
    let last = count.saturating_sub(1);
    match action {
        Action::Up => at.saturating_sub(1),
        Action::Down => (at + 1).min(last),
        Action::PageUp => at.saturating_sub(10),
        Action::PageDown => (at + 10).min(last),
        Action::First => 0,
        Action::Last => last,
        _ => at.min(last),
    }
}

fn in_pane(model: &mut Model, action: Action) -> Vec<Effect> {
    match model.pause.pane {
        PausePane::Values => {
            let rows = rows::rows(model);
            if action == Action::Deeper {
                return match chosen(model) {
                    Some(value) if value.open.is_some() => turn(model, &value),
                    _ => Vec::new(),
                };
            }
            model.pause.row = moved(model.pause.row, rows.len(), action);
            // A heading is no value, and a remark neither; they are stepped over.
            let idle = |at: usize| match rows.get(at) {
                Some(Row::Value(v)) => {
                    v.path.ends_with('…') && v.value.is_none() && v.open.is_none()
                }
                Some(Row::Heading(_)) => true,
                None => false,
            };
            for _ in 0..3 {
                if !idle(model.pause.row) {
                    break;
                }
                let down = !matches!(action, Action::Up | Action::PageUp) || model.pause.row == 0;
                model.pause.row = if down {
                    (model.pause.row + 1).min(rows.len() - 1)
                } else {
                    model.pause.row - 1
                };
            }
            model.pause.chosen = chosen(model).map(|v| v.path);
        }
        PausePane::Source => {
            let Some((file, line)) = rows::place(model) else { return Vec::new() };
            let total = model
                .live
                .today
                .file(&file)
                .and_then(|f| f.text.as_deref())
                .map_or(1, |t| t.lines().count().max(1));
            if action == Action::Deeper {
                open_break(model);
                return Vec::new();
            }
            model.pause.line = Some(moved(line as usize - 1, total, action) as u32 + 1);
        }
        PausePane::Steps => {
            let Some(stop) = &model.live.pause.state.stop else { return Vec::new() };
            // Own steps are what is gone through; those outside only where there is no other.
            let own: Vec<usize> =
                (0..stop.frames.len()).filter(|at| stop.frames[*at].own.is_some()).collect();
            let all: Vec<usize> =
                if own.is_empty() { (0..stop.frames.len()).collect() } else { own };
            let now = all.iter().position(|at| *at == stop.frame).unwrap_or(0);
            let next = moved(now, all.len(), action);
            if let Some(frame) = all.get(next).filter(|f| **f != stop.frame) {
                model.pause.line = None;
                return want(Want::Frame(*frame));
            }
        }
    }
    Vec::new()
}

/// Opens a value, or closes it.
fn turn(model: &mut Model, value: &ValueRow) -> Vec<Effect> {
    let open = value.open == Some(true);
    let state = &mut model.pause;
    if open {
        state.open.remove(&value.path);
        state.closed.insert(value.path.clone());
    } else {
        state.closed.remove(&value.path);
        state.open.insert(value.path.clone());
    }
    after_news(model)
}

fn as_table(model: &mut Model) -> Vec<Effect> {
    let Some(value) = chosen(model).filter(|v| v.reference() > 0) else {
        say(model, "choose a list of objects or of lists, such as Objects, to see it as a table");
        return Vec::new();
    };
    model.pause.table =
        Some(TableState { path: value.path, title: value.name, ..TableState::default() });
    after_news(model)
}

fn in_table(model: &mut Model, action: Action) -> Vec<Effect> {
    let Some(table) = rows::table(model) else { return Vec::new() };
    let Some(state) = &mut model.pause.table else { return Vec::new() };
    match action {
        Action::AsTable => state.sort = (state.sort + 1) % table.columns.len().max(1),
        Action::NextPane => state.column = (state.column + 1) % table.columns.len().max(1),
        action => state.row = moved(state.row, table.rows.len(), action),
    }
    Vec::new()
}

/// Types the words that a row of the table has to hold.
pub(crate) fn filter(model: &mut Model) {
    if model.pause.table.is_some() {
        model.pause.typing = true;
    } else {
        say(model, "a table can be filtered: choose a list, then o");
    }
}

pub(crate) fn on_filter_key(model: &mut Model, key: &str) -> Vec<Effect> {
    match key {
        "Enter" => model.pause.typing = false,
        "Esc" | "Ctrl+C" => (model.pause.typing, model.pause.filter) = (false, Input::default()),
        _ => edit_input(&mut model.pause.filter, key),
    }
    if let Some(table) = &mut model.pause.table {
        table.row = 0;
    }
    Vec::new()
}

fn set_value(model: &mut Model) -> Vec<Effect> {
    let Some(value) = chosen(model) else { return Vec::new() };
    let Some(stop) = &model.live.pause.state.stop else { return Vec::new() };
    // A name of the line is changed where it lives: among the locals, or in the object that it is a
    // field of.
    let found = if value.owner > 0 {
        Some((value.owner, value.name.clone()))
    } else {
        let named = |name: &str| {
            stop.scopes.iter().find_map(|s| {
                stop.children
                    .get(&s.reference)?
                    .iter()
                    .find(|v| v.name == name)
                    .map(|_| s.reference)
            })
        };
        let field = value.name.rsplit_once('.').and_then(|(owner, name)| {
            let of = stop.scopes.iter().find_map(|s| {
                stop.children
                    .get(&s.reference)?
                    .iter()
                    .find(|v| v.name == owner)
                    .map(|v| v.value.reference)
            });
            let scope = named(name).filter(|_| matches!(owner, "self" | "this"));
            of.filter(|r| *r > 0).or(scope).map(|owner| (owner, name.to_owned()))
        });
        field.or_else(|| named(&value.name).map(|owner| (owner, value.name.clone())))
    };
    match found {
        Some((owner, name)) => {
            let shown = value.value.and_then(Result::ok).map(|v| v.shown).unwrap_or_default();
            model.overlay = Some(SetValueSheet { owner, name, input: Input::new(shown) }.into());
        }
        None => {
            say(model, "choose a name among the locals or in an object, to give it another value")
        }
    }
    Vec::new()
}

fn among_breakpoints(model: &mut Model, action: Action) -> Vec<Effect> {
    let rows = &model.live.pause.breakpoints;
    match (action, rows.get(model.pause.row)) {
        (Action::Deeper, Some(row)) => {
            model.overlay = Some(Overlay::Break(BreakSheet::of(
                &row.key,
                &row.breakpoint,
                row.today.unwrap_or(row.breakpoint.line),
            )));
        }
        (
            Action::Over
            | Action::Into
            | Action::Out
            | Action::OneTick
            | Action::RunHere
            | Action::SetValue
            | Action::AsTable,
            _,
        ) => {
            say(model, "the program is not stopped");
        }
        _ => model.pause.row = moved(model.pause.row, rows.len(), action),
    }
    Vec::new()
}

fn take_off(model: &mut Model) -> Vec<Effect> {
    let at = match rows::place(model) {
        Some((file, line)) => model
            .live
            .pause
            .breakpoints
            .iter()
            .find(|b| b.breakpoint.file == *file && b.today == Some(line)),
        None => model.live.pause.breakpoints.get(model.pause.row),
    };
    match at {
        Some(row) => {
            let said = format!(
                "the breakpoint at {}:{} is off; u sets it again",
                row.breakpoint.file, row.breakpoint.line
            );
            let gone = Wish::Breakpoint(row.key.clone(), None);
            return vec![Effect::Order(Order::Wish(vec![gone], said))];
        }
        None => say(model, "no breakpoint stands there"),
    }
    Vec::new()
}

/// Opens the editor at the line that is shown.
pub(crate) fn edit(model: &mut Model) -> Vec<Effect> {
    let place = rows::place(model).map(|(f, l)| (f.to_string(), l)).or_else(|| {
        let row = model.live.pause.breakpoints.get(model.pause.row)?;
        Some((row.breakpoint.file.clone(), row.today?))
    });
    match place {
        Some((file, line)) => vec![Effect::Edit { file, line, column: 1 }],
        None => {
            say(model, "no line of your own is shown here");
            Vec::new()
        }
    }
}

/// Opens the sheet for a breakpoint at the line that is shown.
pub(crate) fn open_break(model: &mut Model) {
    let place = match model.room {
        Room::Pause => rows::place(model).map(|(f, l)| (f.to_string(), l)),
        Room::Checks => model.chosen_remark().map(|(_, r)| (r.file.to_string(), r.line.max(1))),
        _ => model.selected().cloned().and_then(|group| {
            let place =
                model.place_shown(&group).map(|(_, p)| p).or_else(|| group.entry.place.clone())?;
            let line =
                model.live.snapshot.project.line_today(&model.live.today, &place.file, place.line?);
            Some((place.file.to_string(), line))
        }),
    };
    let Some((file, line)) = place else {
        return say(model, "no line of your own is shown here at which a program could stop");
    };
    let known = model
        .live
        .pause
        .breakpoints
        .iter()
        .find(|b| b.breakpoint.file == file && b.today == Some(line));
    let sheet = known
        .map(|row| BreakSheet::of(&row.key, &row.breakpoint, line))
        .unwrap_or(BreakSheet { file, line, ..BreakSheet::default() });
    model.overlay = Some(sheet.into());
}
