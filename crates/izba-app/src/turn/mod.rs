//! The one place where state changes: a message comes in, effects go out. No clock, no files, no
//! terminal.

mod pointer;

use crate::parts::effect::say;
pub use crate::parts::effect::{Effect, Msg};
use crate::parts::list::sort_list;
use crate::rooms::lines::update::{ask_rows, show_row};
use crate::rooms::now::update::mend;
use crate::sheets;
use crate::turn::pointer::{on_click, on_wheel};

use crate::keymap::{Action, action_of, binding};
use crate::model::{
    ClassSheet, FindOutcome, GoToSheet, HelpSheet, Model, NameSheet, PaletteSheet, PathsSheet,
    QuitSheet, ReplySheet, Room, SettingsSheet, TellSheet, Tour, WordsSheet,
};
use crate::rooms::{self, News, ROOMS};
use crate::tour;
use izba_core::State;
use izba_watch::{Answer, Order, Published};
use std::collections::VecDeque;
use std::sync::Arc;
use tui_input::InputRequest;

/// Changes the state by one message.
#[must_use]
pub fn update(model: &mut Model, msg: Msg) -> Vec<Effect> {
    let mut waiting: VecDeque<Effect> = take(model, msg).into();
    let mut effects = Vec::new();
    while let Some(effect) = waiting.pop_front() {
        match effect {
            Effect::Act(action) => waiting.extend(act(model, action)),
            // What was decided since is what would be taken back first.
            Effect::Order(Order::Wish(..)) => {
                model.made_last = false;
                effects.push(effect);
            }
            other => effects.push(other),
        }
    }
    effects
}

fn take(model: &mut Model, msg: Msg) -> Vec<Effect> {
    match msg {
        Msg::Key(key) => on_key(model, &key),
        Msg::Paste(text) => {
            for c in text.chars().filter(|c| !c.is_control()) {
                type_char(model, c);
            }
            Vec::new()
        }
        Msg::Click(column, row) => on_click(model, column, row),
        Msg::Drag(column, row, done) if model.overlay.is_none() => {
            (rooms::of(model.room).on_drag)(model, column, row, done)
        }
        Msg::Drag(..) => Vec::new(),
        Msg::Wheel(column, row, by) => on_wheel(model, column, row, by),
        Msg::Resized(w, h) => {
            model.size = (w, h);
            ask_rows(model)
        }
        Msg::Published(published) => on_published(model, published),
        Msg::Answer(answer) => on_answer(model, answer),
        Msg::Say(sentence) => {
            say(model, sentence);
            Vec::new()
        }
        Msg::Made(made) => {
            let file = made.file.rsplit('/').next().unwrap_or(&made.file).to_owned();
            say(model, format!("{file}: {}; a runs it again, u takes it back", made.says));
            model.made.push(*made);
            model.made_last = true;
            Vec::new()
        }
        Msg::TakenBack => {
            let file = model.made.pop().map(|m| m.file.to_string()).unwrap_or_default();
            say(model, format!("the edit of {file} is taken back; it is what it was"));
            model.made_last = !model.made.is_empty();
            Vec::new()
        }
    }
}

fn on_published(model: &mut Model, published: Arc<Published>) -> Vec<Effect> {
    let kind = rooms::of(model.room);
    let new_run = runs(&published) != runs(&model.live);
    let saved = !Arc::ptr_eq(&published.today, &model.live.today) && !new_run;
    let told = published.page_told.clone().filter(|_| model.live.page_told.is_none());
    model.live = published;
    if let Some(address) = told {
        say(model, format!("a page is served at {address}: c, then Enter, watches it too"));
    }
    if model.notice.as_ref().is_some_and(|(_, until)| model.live.snapshot.now.0 > *until) {
        model.notice = None;
    }
    if model.held && !new_run && !kind.is_lively {
        tour::after_news(model, saved);
        return Vec::new();
    }
    model.held = false;
    // Most news are lines that are no group's: then the groups are the very same, and so is their
    // order.
    let same = Arc::ptr_eq(&model.shown.snapshot.groups, &model.live.snapshot.groups);
    let grew = model.shown.snapshot.rows != model.live.snapshot.rows;
    let sighted =
        |published: &Published| published.snapshot.groups.iter().map(|g| g.total).sum::<u64>();
    // Lines that were read before their entry was whole know their group now.
    let regrouped = !same && sighted(&model.shown) != sighted(&model.live);
    model.shown = model.live.clone();
    if !same || new_run || saved {
        (kind.sort)(model, new_run);
    }
    tour::after_news(model, saved);
    let mut effects = if tour::is_proved(model) { tour::bring_in_rest(model) } else { Vec::new() };
    effects.extend((kind.on_news)(model, News { grew, regrouped }));
    effects
}

fn runs(published: &Published) -> Vec<u32> {
    published.snapshot.sources.iter().map(|s| s.run).collect()
}

fn on_answer(model: &mut Model, answer: Answer) -> Vec<Effect> {
    match answer {
        // What is only asked for without a screen has nothing to show.
        Answer::Published | Answer::Sum(_) => {}
        Answer::Window { from, rows } => {
            if model.lines.follow {
                let all = model.shown.snapshot.rows;
                model.lines.rows = rows;
                model.lines.rows.retain(|r| r.row < all);
                crate::rooms::lines::update::follow_rows(model, all);
                return Vec::new();
            }
            let first = rows.first().map_or(from, |r| r.row);
            // What was asked for before the latest scrolling may still be of use, but never hides
            // what is.
            let wanted = model.lines.top;
            if first <= wanted || model.lines.rows.is_empty() {
                model.lines.rows = rows;
            }
        }
        Answer::Matching { id, rows, done } => {
            return crate::rooms::lines::update::on_matching(model, id, rows, done);
        }
        Answer::Counted { id, matched, looked } => {
            return crate::rooms::lines::update::on_counted(model, id, matched, looked);
        }
        Answer::Tried { id, tried } => sheets::teach::on_tried(model, id, tried),
        Answer::Past(past) => return vec![Effect::OpenPast(past)],
        Answer::Found { id, row, done, .. } if model.lines.seeking.is_some_and(|s| s.0 == id) => {
            let up = model.lines.seeking.is_some_and(|s| s.1);
            if done {
                return crate::rooms::lines::update::on_error_found(model, row, up);
            }
        }
        Answer::Found { id, row, done, searched } => {
            let Some(find) = model.lines.find.as_mut().filter(|f| f.id == id) else {
                return Vec::new();
            };
            find.outcome = match (row, done) {
                (Some(row), _) => FindOutcome::Found(row),
                (None, true) => FindOutcome::Nowhere,
                (None, false) => FindOutcome::Searching(searched),
            };
            if let Some(row) = row {
                return show_row(model, row);
            }
        }
        Answer::Row(row) => {
            model.room = Room::Lines;
            return show_row(model, row);
        }
        Answer::Trouble(sentence) => say(model, sentence),
        Answer::Note(note, path) => crate::rooms::notes::update::write(model, *note, path),
        Answer::Picture(path, time) => {
            let when = crate::parts::pen::clock(time, model.utc_offset);
            return vec![Effect::Show(path, when.get(..8).unwrap_or(&when).to_owned())];
        }
        Answer::Packed(packed) => crate::sheets::pack::done(model, *packed),
        Answer::Telling(telling) => model.overlay = Some(TellSheet::of(telling).into()),
        Answer::Stopped => crate::rooms::pause::update::stopped(model),
    }
    Vec::new()
}

/// Types a sign into whatever takes text.
fn type_char(model: &mut Model, c: char) {
    let input = match &mut model.overlay {
        Some(overlay) => return sheets::typed(overlay, c),
        None if model.filter.typing => Some(&mut model.filter.input),
        None => (rooms::of(model.room).input)(model),
    };
    if let Some(input) = input {
        input.handle(InputRequest::InsertChar(c));
    }
}

fn on_key(model: &mut Model, key: &str) -> Vec<Effect> {
    if model.overlay.is_some() {
        return sheets::on_key(model, key);
    }
    if model.filter.typing {
        return crate::rooms::phrase::on_filter_key(model, key);
    }
    if let Some(effects) = (rooms::of(model.room).on_typing)(model, key) {
        return effects;
    }
    match action_of(key, model.room, model.demo) {
        Some(action) => act(model, action),
        None => {
            if key.chars().count() == 1 {
                say(model, format!("{key} does nothing here; ? shows the keys"));
            }
            Vec::new()
        }
    }
}

/// Does what the user wants, and lets the tour go on by it.
fn act(model: &mut Model, action: Action) -> Vec<Effect> {
    let effects = act_alone(model, action);
    tour::after_action(model, action);
    effects
}

fn act_alone(model: &mut Model, action: Action) -> Vec<Effect> {
    let kind = rooms::of(model.room);
    if let Some(other) = ROOMS.iter().find(|other| other.action == action) {
        return (other.open)(model);
    }
    if kind.own.contains(&action) {
        return (kind.act)(model, action);
    }
    match action {
        Action::Filter => crate::rooms::phrase::open(model),
        Action::Peek => return crate::rooms::phrase::peek(model),
        Action::KeepFilter => match &model.filter.phrase {
            Some(_) => model.overlay = Some(NameSheet::default().into()),
            None => say(model, "there is no filter to keep; / types one"),
        },
        Action::MuteFiltered => return crate::rooms::phrase::mute_filtered(model),
        Action::Mute => return crate::rooms::phrase::mute(model),
        Action::Fixed => return crate::rooms::phrase::fixed(model),
        Action::Undo => {
            let made = model.made.last().filter(|_| model.made_last).cloned();
            let taken = made.map(|made| Effect::TakeBack(Box::new(made)));
            return vec![taken.unwrap_or(Effect::Order(Order::Undo))];
        }
        Action::FromHere => {
            if model.live.past.is_some() {
                say(model, "this run is over; Esc goes back to what is watched");
                return Vec::new();
            }
            say(model, "a new run begins here");
            return vec![Effect::Order(Order::FromHere(None))];
        }
        Action::Copy => match (kind.copies)(model) {
            Some(text) => return vec![Effect::Copy(text)],
            None => say(model, "nothing is chosen here that could be copied"),
        },
        Action::Sources => sheets::sources::open(model),
        Action::Class => model.overlay = Some(ClassSheet(0).into()),
        Action::GoTo => model.overlay = Some(GoToSheet::default().into()),
        Action::Teach => return sheets::teach::open(model),
        Action::Settings => model.overlay = Some(SettingsSheet(0).into()),
        Action::Help => model.overlay = Some(HelpSheet(0).into()),
        Action::Palette => model.overlay = Some(PaletteSheet::default().into()),
        Action::Hold => {
            model.held = !model.held;
            if model.held {
                model.lines.follow = false;
                say(model, "held still; what arrives is kept. Space lets it go on");
            } else {
                model.shown = model.live.clone();
                sort_list(model, false);
                say(model, "going on");
                return ask_rows(model);
            }
        }
        Action::Again => {
            if !model.live.can_run_again {
                say(
                    model,
                    "Izba did not start this program, so it cannot start it again; start \
                        it where you did before",
                );
                return Vec::new();
            }
            say(
                model,
                if model.live.running {
                    "stopping the program, then running it again"
                } else {
                    "running it again"
                },
            );
            // The screen goes back to what is first.
            (model.chosen, model.step, model.scroll) = (None, 0, (0, 0));
            return vec![Effect::Order(Order::Again)];
        }
        Action::Stop => {
            if !model.live.running {
                say(model, "no program that Izba started is running");
                return Vec::new();
            }
            say(model, "stopping the program");
            return vec![Effect::Order(Order::Stop)];
        }
        Action::Interrupt => {
            if !model.live.running {
                return vec![Effect::Quit];
            }
            say(model, "stopping the program; Ctrl+C once more leaves Izba");
            return vec![Effect::Order(Order::Stop)];
        }
        Action::Quit => {
            if !model.live.running {
                return vec![Effect::Quit];
            }
            model.overlay = Some(QuitSheet.into());
        }
        Action::Reply => {
            if model.live.running {
                model.overlay = Some(ReplySheet::default().into());
            } else {
                say(model, "no program runs that could read an answer");
            }
        }
        Action::SelectText => {
            model.mouse = !model.mouse;
            say(
                model,
                if model.mouse {
                    "the mouse chooses and scrolls again"
                } else {
                    "the mouse selects text now; v gives it back"
                },
            );
            return vec![Effect::Mouse(model.mouse)];
        }
        Action::MakeEdit => return mend(model),
        Action::Tour => {
            model.tour = if model.tour.is_some() { None } else { Some(Tour::BEGIN) };
            if model.tour.is_none() {
                let rest = tour::bring_in_rest(model);
                if !rest.is_empty() {
                    say(model, "the tour is over; all programs of the evening run now");
                    return rest;
                }
                say(
                    model,
                    format!("the tour is over; {} begins it again", binding(Action::Tour).keys[0]),
                );
            }
        }
        Action::Tell => match model.selected().map(|g| g.id) {
            Some(group) => return vec![Effect::Order(Order::Tell(group))],
            None => say(model, "there is no error to tell others about"),
        },
        Action::Picture => match model.selected().map(|g| g.id) {
            Some(group) => return vec![Effect::Order(Order::Picture(group))],
            None => say(model, "there is no error that a picture was taken of"),
        },
        Action::Paths => {
            model.overlay = Some(PathsSheet(0).into());
            return vec![Effect::Order(Order::Paths)];
        }
        Action::Draw => crate::sheets::draw::open(model),
        Action::Note => return crate::rooms::notes::update::note(model),
        Action::Corner => return crate::rooms::now::update::corner(model),
        Action::Breakpoint => crate::rooms::pause::update::open_break(model),
        Action::StopBefore | Action::StopAgain | Action::PauseNow | Action::GoOn => {
            return crate::rooms::pause::update::act(model, action);
        }

        Action::Edit => return crate::parts::edit::edit_chosen(model),
        Action::Words => model.overlay = Some(WordsSheet(0).into()),
        Action::RuleOut => return crate::rooms::now::update::rule_out(model),
        // A filter is taken away before anything else is left.
        Action::Back if model.filter.phrase.is_some() && rooms::back_ends_filter(model) => {
            return crate::rooms::phrase::set(model, None);
        }
        _ if !kind.silent.contains(&action) => return (kind.act)(model, action),
        // Nothing is pressed in vain without a word.
        _ => say(model, format!("{} does nothing here; ? shows the keys", binding(action).keys[0])),
    }
    Vec::new()
}

/// The title of the terminal: what can be seen while the game's window is in front.
pub fn title(model: &Model) -> String {
    let groups = &model.live.snapshot.groups;
    let errors = groups
        .iter()
        .filter(|g| {
            g.state == State::New && !g.muted && !g.hangs && g.level() >= izba_model::Level::Error
        })
        .count();
    let name = model.live.snapshot.project.name();
    match errors {
        0 => format!("izba: {name}, nothing new"),
        n => format!(
            "izba: {name}, {}",
            izba_model::text::counted(n as u64, "new error", "new errors")
        ),
    }
}
