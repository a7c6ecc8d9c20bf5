//! Room Now: what to fix first, and four questions about it.

pub mod headline;
mod moment;
mod source;
pub mod update;
pub mod what;
pub mod when;
pub mod where_;
pub mod why;

use super::RoomKind;
use super::kind::PLAIN;
use crate::keymap::Action;
use crate::model::{Layout, Model, Question, Room};
use crate::parts::effect::Effect;
use crate::parts::list::{select, sort_list};
use izba_model::Family;
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;

/// The room for this: what to fix first, and four questions about it.
pub static ROOM: RoomKind = RoomKind {
    room: Room::Now,
    name: "Now",
    action: Action::RoomNow,
    about: "What to fix first, and four questions about it: when, what, where, why.",
    open: |model| {
        model.room = Room::Now;
        sort_list(model, true);
        Vec::new()
    },
    act: update::act_in_now,
    back_clears_phrase: |model| matches!(model.focus, Question::What | Question::When),
    on_click: click,
    on_drag: |model, column, _, done| moment::drag(model, column, done),
    on_wheel: wheel,
    drawing: |model| match model.focus {
        Question::When => "when",
        _ => path_or_ladder(model),
    },
    draw,
    arrows: |model| match model.focus {
        Question::What => Some("choose"),
        Question::Where => Some("step"),
        Question::Why => Some("scroll"),
        Question::When => Some("errors"),
    },
    copies: |model| match model.focus {
        Question::Where => {
            let (_, place) = model.place_shown(model.selected()?)?;
            let line = place.line.map(|line| format!(":{line}")).unwrap_or_default();
            Some(format!("{}{line}", place.file))
        }
        _ => sentence_of_chosen(model),
    },
    hints,
    ..PLAIN
};

/// The first sentence of the chosen error.
pub(super) fn sentence_of_chosen(model: &Model) -> Option<String> {
    Some(model.told(model.selected()?).headline.to_string())
}

/// The drawing of one error: how it came to it, or the blocks of a script that does not parse.
pub(crate) fn path_or_ladder(model: &Model) -> &'static str {
    let broken = model.selected().is_some_and(|g| g.entry.family == Family::DoesNotParse);
    if broken { "ladder" } else { "path" }
}

fn draw(model: &Model, _: Rect, buf: &mut Buffer) {
    let layout = Layout::of(model);
    headline::headline(model, layout.headline, buf);
    // Before anything is watched there is nothing to ask about.
    if model.shown.snapshot.sources.is_empty() {
        return;
    }
    super::values::view::pins(model, layout.pins, buf);
    when::draw(model, layout.when, buf);
    what::draw(model, layout.what, buf);
    where_::draw(model, layout.where_, buf);
    why::draw(model, layout.why, buf);
}

fn click(model: &mut Model, column: u16, row: u16) -> Vec<Effect> {
    let layout = Layout::of(model);
    let Some(question) = layout.question_at(column, row) else { return Vec::new() };
    model.focus = question;
    model.when.from = None;
    match question {
        Question::What => {
            if let Some(id) = what::group_at(model, layout.what, row) {
                select(model, id);
            }
        }
        Question::Where => {
            if let Some(step) = where_::step_at(model, layout.where_, row) {
                model.step = step;
            }
        }
        Question::When => moment::choose(model, column),
        Question::Why => {}
    }
    Vec::new()
}

fn wheel(model: &mut Model, action: Action, column: u16, row: u16) -> Vec<Effect> {
    let Some(question) = Layout::of(model).question_at(column, row) else { return Vec::new() };
    let before = std::mem::replace(&mut model.focus, question);
    let effects = update::act_in_now(model, action);
    if question != Question::What {
        model.focus = before;
    }
    effects
}

/// What would be edited: the place that Where shows, which need not be the one that the console
/// names.
fn edits(model: &Model) -> Option<String> {
    let group = model.selected()?;
    let shown = model.place_shown(group).map(|(_, place)| place);
    let place = shown.or_else(|| group.entry.place.clone())?;
    let here = group.entry.place.as_ref().is_some_and(|p| p.file == place.file);
    let name = crate::parts::pen::safe(place.file.rsplit('/').next().unwrap_or(&place.file));
    let line = place.line?;
    Some(if here { format!("edit line {line}") } else { format!("edit {name}:{line}") })
}

fn hints(model: &Model) -> Vec<(Action, String)> {
    let mut keys: Vec<(Action, String)> = Vec::new();
    // Where nothing is watched there is nothing to be done to.
    if model.shown.snapshot.sources.is_empty() {
        return vec![(Action::Sources, String::new())];
    }
    if model.focus == Question::When {
        keys.push((Action::MomentEarlier, "→ moment".into()));
        let lines = (Action::Deeper, "its lines".to_owned());
        if model.when.at.is_some() {
            keys.push(lines);
            keys.extend([Action::StretchFrom, Action::StretchTo].map(|a| (a, String::new())));
        }
        keys.extend([(Action::Nearer, String::new()), (Action::Farther, String::new())]);
    }
    let mut add = |action: Action, words: &str| keys.push((action, words.to_owned()));
    match (model.zoom.is_some(), model.focus) {
        (zoomed, Question::When) if model.when.at.is_some() => {
            add(Action::Zoom, if zoomed { "all four" } else { "" });
        }
        (true, _) => add(Action::Back, "all four"),
        (false, Question::What) => add(Action::Deeper, "where"),
        (false, _) => add(Action::Deeper, "full screen"),
    }
    // Where there is no room for all four, the way to each is named.
    if model.focus == Question::Why {
        add(Action::Why, "what");
    } else if Layout::of(model).why.height == 0 {
        add(Action::Why, "");
    }
    let fix = model.selected().and_then(|g| model.fix_shown(g));
    if fix.is_some() {
        add(Action::MakeEdit, "");
    }
    if let Some(edits) = edits(model) {
        add(Action::Edit, &edits);
    }
    if model.live.can_run_again {
        add(Action::Again, "");
    }
    add(Action::NextQuestion, "");
    if model.live.running {
        add(Action::Stop, "");
    }
    if model.live.pause.source.is_some() {
        add(Action::StopBefore, "");
    }
    add(Action::Across, "its lines");
    add(Action::Filter, "");
    add(Action::Mute, "");
    keys
}
