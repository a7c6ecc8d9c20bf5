//! Keys of room Runs: a group, a run, one of them opened, two side by side.

use crate::keymap::Action;
use crate::model::{CompareSheet, Model, Question, Room};
use crate::parts::effect::{Effect, say};
use crate::parts::list::{choose, sort_list};
use izba_core::State;
use izba_watch::Order;

/// Opens the room, on the source of the chosen group.
pub(crate) fn open(model: &mut Model) {
    let of_chosen = model.chosen.and_then(|id| model.group(id)).map(|g| g.source);
    // Where nobody chose, the source in which most has changed.
    let snapshot = &model.shown.snapshot;
    let changed = |at: &usize| {
        // In a first run everything is new.
        let first = snapshot.sources[*at].run <= 1;
        snapshot
            .groups
            .iter()
            .filter(|g| g.tellers.contains(at) && g.state != State::Still && !first)
            .count()
    };
    let liveliest = (0..snapshot.sources.len())
        .rev()
        .max_by_key(|at| (changed(at), snapshot.sources[*at].runs.len()));
    model.runs.source = of_chosen.or(liveliest).unwrap_or(0);
    model.runs.run = None;
    model.room = Room::Runs;
    sort_runs(model);
}

/// The list of the room: the groups of its source.
pub(crate) fn sort_runs(model: &mut Model) {
    sort_list(model, true);
    let source = model.runs.source;
    let groups = &model.shown.snapshot.groups;
    model.order.retain(|id| groups.iter().any(|g| g.id == *id && g.tellers.contains(&source)));
    // What the last change brought stands first: what is new or back, then what went quiet by it,
    // then what stayed.
    let changed = model
        .shown
        .snapshot
        .sources
        .get(source)
        .and_then(|s| s.runs.iter().rev().find(|r| !r.edits.is_empty()))
        .map_or(0, |r| r.run);
    let rank = |id: &izba_core::GroupId| {
        let Some(group) = groups.iter().find(|g| g.id == *id) else { return (false, 9) };
        let class = match group.state {
            State::New | State::Back => 0,
            State::Quiet if group.last_run + 1 >= changed => 1,
            State::Still => 2,
            State::Quiet => 3,
        };
        (group.muted, class)
    };
    // What follows another stays under it.
    let root = |id: &izba_core::GroupId| {
        let (mut at, mut steps) = (*id, 0);
        while let Some(up) = groups
            .iter()
            .find(|g| g.id == at && g.hangs)
            .and_then(|g| g.follows)
            .and_then(|f| groups.iter().find(|g| g.holds(f.of)))
        {
            (at, steps) = (up.id, steps + 1);
            if steps > groups.len() {
                break;
            }
        }
        at
    };
    let place = |id: &izba_core::GroupId| groups.iter().position(|g| g.id == *id);
    model.order.sort_by_key(|id| {
        let root = root(id);
        (rank(&root), place(&root), root != *id, place(id))
    });
    if model.chosen.is_some_and(|id| !model.order.contains(&id)) {
        model.chosen = None;
    }
}

/// The run before or after one, of those that are known.
pub(crate) fn beside(model: &Model, source: usize, run: u32, before: bool) -> Option<u32> {
    let runs = &model.shown.snapshot.sources.get(source)?.runs;
    let at = runs.iter().position(|r| r.run == run)?;
    let next = if before { at.checked_sub(1)? } else { at + 1 };
    runs.get(next).map(|r| r.run)
}

/// The run that is chosen.
fn chosen_run(model: &Model) -> Option<u32> {
    let newest = model.shown.snapshot.sources.get(model.runs.source)?.runs.last()?.run;
    Some(model.runs.run.unwrap_or(newest))
}

pub(crate) fn act(model: &mut Model, action: Action) -> Vec<Effect> {
    match action {
        Action::Up
        | Action::Down
        | Action::PageUp
        | Action::PageDown
        | Action::First
        | Action::Last => choose(model, action),
        Action::Earlier | Action::Later => {
            let next = chosen_run(model)
                .and_then(|run| beside(model, model.runs.source, run, action == Action::Earlier));
            if next.is_some() {
                model.runs.run = next;
            }
        }
        Action::NextSource => {
            model.runs.source = (model.runs.source + 1) % model.shown.snapshot.sources.len().max(1);
            model.runs.run = None;
            sort_runs(model);
        }
        Action::Compare => {
            let later = chosen_run(model);
            let earlier = later.and_then(|run| beside(model, model.runs.source, run, true));
            match earlier.zip(later) {
                Some((earlier, later)) => {
                    let source = model.runs.source;
                    model.overlay = Some(CompareSheet { source, earlier, later, scroll: 0 }.into());
                }
                None => say(model, "there is no run before this one to compare it with"),
            }
        }
        Action::Deeper => {
            let Some(run) = chosen_run(model) else { return Vec::new() };
            let now = model.live.snapshot.sources.get(model.runs.source).map_or(0, |s| s.run);
            if run == now {
                // The newest is what Now shows.
                (model.room, model.focus) = (Room::Now, Question::What);
                sort_list(model, true);
                return Vec::new();
            }
            if model.live.past.is_some() {
                say(model, "an earlier run is open already; Esc in room Now goes back");
                return Vec::new();
            }
            say(model, format!("opening run {run}"));
            let source = model.shown.snapshot.sources.get(model.runs.source);
            let name = source.map(|s| s.name.clone()).unwrap_or_default();
            return vec![Effect::Order(Order::OpenRun(name, run))];
        }
        Action::Across => {
            (model.room, model.focus) = (Room::Now, Question::What);
            sort_list(model, true);
        }
        Action::Back => {
            model.room = Room::Now;
            sort_list(model, true);
        }
        _ => {}
    }
    Vec::new()
}

/// A click chooses a group or a run.
pub(crate) fn click(model: &mut Model, column: u16, row: u16) {
    if let Some(run) = crate::rooms::runs::view::run_at(model, column) {
        model.runs.run = Some(run);
    }
    if let Some(id) = crate::rooms::runs::view::run_row_at(model, row) {
        crate::parts::list::select(model, id);
    }
}
