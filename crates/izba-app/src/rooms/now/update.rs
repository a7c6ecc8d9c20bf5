//! Keys of room Now: the list that does not move under the cursor, steps, the way to the editor.

use super::moment;
use crate::keymap::Action;
use crate::model::{CornerSheet, Model, Question, Shown};
use crate::parts::effect::{Effect, say};
use crate::parts::list::{choose, sort_list};
use izba_core::{GroupBy, LineRef, SourceId};
use izba_watch::{CornerFor, Order};

/// Puts the list into the order of the snapshot, unless the user is choosing in it; then only adds
/// what is new below.
pub(crate) fn act_in_now(model: &mut Model, action: Action) -> Vec<Effect> {
    if model.focus == Question::When
        && let Some(effects) = moment::act(model, action)
    {
        return effects;
    }
    match action {
        Action::MomentEarlier
        | Action::MomentLater
        | Action::Nearer
        | Action::Farther
        | Action::StretchFrom
        | Action::StretchTo => {
            say(model, "that goes along the time of When: click it, or Shift+Tab goes there");
        }
        Action::Up
        | Action::Down
        | Action::PageUp
        | Action::PageDown
        | Action::First
        | Action::Last => match model.focus {
            Question::What => choose(model, action),
            Question::Where => step(model, action),
            Question::Why => {
                let by = match action {
                    Action::Up => -1,
                    Action::Down => 1,
                    Action::PageUp => -10,
                    Action::PageDown => 10,
                    Action::First => -10_000,
                    _ => 10_000,
                };
                model.scroll.1 = model
                    .scroll
                    .1
                    .saturating_add_signed(by)
                    .min(crate::rooms::now::why::rows(model));
            }
            Question::When => {}
        },
        Action::NextQuestion | Action::PreviousQuestion => {
            model.focus = model.focus.step(if action == Action::NextQuestion { 1 } else { 3 });
            if model.zoom.is_some() {
                model.zoom = Some(model.focus);
            }
            // Whoever leaves the list holds still elsewhere: now it may be sorted.
            sort_list(model, false);
        }
        Action::Why => {
            model.focus = match model.focus {
                Question::Why => Question::What,
                _ => Question::Why,
            };
            model.zoom = model.zoom.map(|_| model.focus);
            sort_list(model, false);
        }
        Action::Deeper => match (model.focus, model.zoom) {
            (Question::What, _) => {
                model.focus = Question::Where;
                if model.zoom.is_some() {
                    model.zoom = Some(Question::Where);
                }
            }
            (focus, None) => model.zoom = Some(focus),
            (_, Some(_)) => {}
        },
        Action::Back => {
            if model.zoom.is_some() {
                model.zoom = None;
            } else if model.focus != Question::What {
                model.focus = Question::What;
            } else if model.chosen.is_some() {
                model.chosen = None;
                sort_list(model, true);
            } else if model.live.past.is_some() {
                return vec![Effect::LeavePast];
            }
        }
        Action::GroupBy => {
            let by = model.shown.snapshot.by;
            let at = GroupBy::ALL.iter().position(|b| *b == by).unwrap_or(0);
            let next = GroupBy::ALL[(at + 1) % GroupBy::ALL.len()];
            (model.chosen, model.step, model.scroll) = (None, 0, (0, 0));
            say(model, format!("a row stands for each {}", next.word()));
            return vec![Effect::Order(Order::GroupBy(next))];
        }
        Action::Split => return crate::rooms::phrase::split(model),
        Action::Join => return crate::rooms::phrase::join(model),
        Action::Zoom => model.zoom = if model.zoom.is_some() { None } else { Some(model.focus) },
        Action::Across => {
            let Some(group) = model.selected() else {
                say(model, "there is no mistake yet whose lines could be shown");
                return Vec::new();
            };
            let line = LineRef { source: SourceId(group.source), line: group.last_line };
            return vec![Effect::Order(Order::RowOf(line))];
        }
        _ => {}
    }
    Vec::new()
}

pub(crate) fn step(model: &mut Model, action: Action) {
    let steps = model.selected().map_or(0, |g| model.places(g).len());
    let last = steps.saturating_sub(1);
    model.step = match action {
        Action::Up => model.step.saturating_sub(1),
        Action::Down => (model.step + 1).min(last),
        Action::PageUp | Action::First => 0,
        _ => last,
    };
}

/// Takes a suspect off the list, because the user has seen that it is innocent.
pub(crate) fn rule_out(model: &mut Model) -> Vec<Effect> {
    if matches!(model.zoom, Some(z) if z != Question::Where) {
        say(model, "no suspect is in sight here; Where shows them (z, then Tab)");
        return Vec::new();
    }
    let Some(group) = model.selected().cloned() else { return Vec::new() };
    let (key, place) = match model.place_shown(&group) {
        Some((Shown::Suspect(s) | Shown::Reported(Some(s)), _)) => {
            (Model::suspect_key(&group, s), format!("{}:{}", s.file, s.line))
        }
        Some((Shown::Step(..) | Shown::Reported(None), place)) => (
            Model::step_key(&group, &place),
            format!("the step {}:{}", place.file, place.line.unwrap_or(0)),
        ),
        _ => {
            say(model, "choose a suspect or a step in Where first (Tab, then ↓)");
            return Vec::new();
        }
    };
    // A suspect leaves the list, and the next one is shown; a step stays on the way, marked.
    if key.starts_with("suspect") {
        model.step = 0;
    }
    let said = format!("{place} is ruled out; u takes that back");
    vec![Effect::Order(Order::Wish(vec![izba_core::Wish::Known(key, true)], said))]
}

/// Opens the sheet on which the chosen error is cornered; a new one begins at once.
pub(crate) fn corner(model: &mut Model) -> Vec<Effect> {
    let Some(group) = model.selected().map(|g| g.id) else {
        say(model, "there is no error to corner yet");
        return Vec::new();
    };
    model.overlay = Some(CornerSheet(0).into());
    if model.live.corner.as_ref().is_some_and(|c| c.group == group) {
        return Vec::new();
    }
    vec![Effect::Order(Order::Corner(group, CornerFor::Lines))]
}

/// Shows the edit of the suspect in sight; says why not, where there is none.
fn show_fix(model: &mut Model) -> Vec<Effect> {
    let Some(group) = model.selected().cloned() else {
        say(model, "there is nothing to fix yet");
        return Vec::new();
    };
    if model.live.past.is_some() {
        say(model, "this run is over; Esc goes back to what is watched, where it can be fixed");
        return Vec::new();
    }
    let found = model.fix_shown(&group);
    match found {
        Some(sheet) => model.overlay = Some(sheet.into()),
        None => say(model, "no edit is known to the sign here; e opens the line in your editor"),
    }
    Vec::new()
}

/// Shows the exact edit that would mend the chosen group; the demo has a cure for what has none.
pub(crate) fn mend(model: &mut Model) -> Vec<Effect> {
    let group = model.selected().cloned().filter(|g| model.demo && model.fix_shown(g).is_none());
    match group.and_then(|group| crate::planted::fault_of(model, &group)) {
        Some(fault) => vec![Effect::Mend(fault)],
        None => show_fix(model),
    }
}
