//! The filter phrase while it is typed and when it holds; and what the user decides about groups.

use crate::keymap::{Action, binding};
use crate::model::{Model, Room};
use crate::parts::effect::{Effect, say};
use crate::parts::input::edit_input;
use crate::parts::list::sort_list;
use crate::parts::pen::safe;
use crate::rooms::lines::update::{ask_matching, ask_rows, go_to_row, is_sieved, order_rows};
use izba_core::filter::{Offer, offers};
use izba_core::group::{GroupView, Split};
use izba_core::{Phrase, Wish};
use izba_model::text::fit;
use izba_watch::Order;
use std::sync::Arc;
use tui_input::Input;

/// Phrases that are remembered.
const USED: usize = 50;

/// Begins to type.
pub(crate) fn open(model: &mut Model) {
    let filter = &mut model.filter;
    filter.before = filter.phrase.clone();
    filter.input =
        Input::new(filter.phrase.as_ref().map(|p| p.text().to_owned()).unwrap_or_default());
    (filter.typing, filter.back, filter.chosen) = (true, 0, None);
    model.peek = false;
    look(model);
}

/// Looks at what is typed: what is wrong, and what fits here.
fn look(model: &mut Model) {
    let text = model.filter.input.value().to_owned();
    model.filter.problem = Phrase::parse(&text).err();
    let names = model.source_names();
    let mut found = offers(&text, &model.shown.snapshot.groups, &model.around(&names));
    // Filters that are kept are offered by their names.
    let kept = model
        .live
        .filters
        .iter()
        .filter(|(name, _)| !text.is_empty() && name.starts_with(text.as_str()));
    let kept: Vec<Offer> = kept
        .map(|(_, phrase)| Offer {
            text: phrase.clone(),
            at: 0..text.len(),
            leaves: None,
            means: "a filter that you kept",
        })
        .collect();
    found.splice(0..0, kept);
    model.filter.chosen = model.filter.chosen.filter(|at| *at < found.len());
    model.filter.offers = found;
}

/// Takes an offer over.
fn accept(model: &mut Model, at: usize) {
    let Some(offer) = model.filter.offers.get(at).cloned() else { return };
    let text = model.filter.input.value();
    let more =
        if offer.leaves.is_none() && !offer.means.starts_with("a filter") { " " } else { "" };
    let (head, tail) =
        (text.get(..offer.at.start).unwrap_or(""), text.get(offer.at.end..).unwrap_or(""));
    model.filter.input = Input::new(format!("{head}{}{more}{tail}", offer.text));
    model.filter.chosen = None;
    look(model);
}

pub(crate) fn on_filter_key(model: &mut Model, key: &str) -> Vec<Effect> {
    match key {
        "Esc" | "Ctrl+C" => {
            model.filter.typing = false;
            let before = model.filter.before.take();
            return set(model, before);
        }
        "Enter" => {
            if let Some(at) = model.filter.chosen {
                accept(model, at);
                return hold(model);
            }
            if model.filter.problem.is_some() {
                // The mistake stands underlined; typing goes on.
                return Vec::new();
            }
            model.filter.typing = false;
            let text = model.filter.input.value().trim().to_owned();
            if text.is_empty() {
                return set(model, None);
            }
            model.filter.used.retain(|u| *u != text);
            model.filter.used.push(text);
            if model.filter.used.len() > USED {
                model.filter.used.remove(0);
            }
            return hold(model);
        }
        "Tab" => {
            accept(model, model.filter.chosen.unwrap_or(0));
            return hold(model);
        }
        "↓" if !model.filter.offers.is_empty() => {
            let last = model.filter.offers.len() - 1;
            model.filter.chosen = Some(model.filter.chosen.map_or(0, |at| (at + 1).min(last)));
            return Vec::new();
        }
        "↑" if model.filter.chosen.is_some() => {
            model.filter.chosen = model.filter.chosen.and_then(|at| at.checked_sub(1));
            return Vec::new();
        }
        "↑" => {
            // What was used before.
            let used = &model.filter.used;
            model.filter.back = (model.filter.back + 1).min(used.len());
            if let Some(text) =
                used.len().checked_sub(model.filter.back).and_then(|at| used.get(at))
            {
                model.filter.input = Input::new(text.clone());
            }
        }
        _ => {
            edit_input(&mut model.filter.input, key);
            model.filter.chosen = None;
        }
    }
    look(model);
    hold(model)
}

/// Lets what is typed hold, if it can be understood.
pub(crate) fn hold(model: &mut Model) -> Vec<Effect> {
    let text = model.filter.input.value().trim();
    match Phrase::parse(text) {
        Ok(phrase) => {
            let phrase = (!text.is_empty()).then(|| Arc::new(phrase));
            if phrase == model.filter.phrase { Vec::new() } else { set(model, phrase) }
        }
        Err(_) => Vec::new(),
    }
}

/// Lets a phrase hold from now on, or none.
pub(crate) fn set(model: &mut Model, phrase: Option<Arc<Phrase>>) -> Vec<Effect> {
    let cursor = model.lines.cursor;
    model.filter.phrase = phrase;
    (model.filter.counted, model.peek) = (None, false);
    sort_list(model, true);
    if model.chosen.is_some_and(|id| !model.order.contains(&id)) {
        model.chosen = None;
    }
    let Some(phrase) = model.filter.phrase.clone() else {
        model.lines.rows.clear();
        let mut effects = vec![Effect::Order(Order::FilterNothing)];
        if model.room == Room::Lines {
            if !model.lines.follow {
                go_to_row(model, cursor);
            }
            let rows = if is_sieved(model) { ask_matching(model) } else { ask_rows(model) };
            effects.extend(rows);
        }
        return effects;
    };
    if model.room != Room::Lines {
        return Vec::new();
    }
    model.finds += 1;
    model.filter.ids.1 = model.finds;
    model.lines.rows.clear();
    let mut effects = ask_matching(model);
    effects.push(Effect::Order(Order::Count { id: model.filter.ids.1, phrase }));
    effects
}

/// Shows everything for a moment, or no longer.
pub(crate) fn peek(model: &mut Model) -> Vec<Effect> {
    let (muted, _, _) = model.left_out();
    if model.filter.phrase.is_none() && muted == 0 {
        say(model, "nothing is filtered out or set aside");
        return Vec::new();
    }
    model.peek = !model.peek;
    sort_list(model, true);
    if model.room != Room::Lines {
        return Vec::new();
    }
    model.lines.rows.clear();
    if model.peek {
        let cursor = model.lines.cursor;
        if !model.lines.follow {
            // The spot stays in the middle of the screen.
            let page = crate::model::lines_page(model);
            model.lines.top = cursor.saturating_sub(page / 2);
        }
        if !is_sieved(model) {
            return if model.lines.follow { order_rows(model) } else { ask_rows(model) };
        }
    }
    if is_sieved(model) { ask_matching(model) } else { ask_rows(model) }
}

/// The group that a decision is about, if it is in sight; else says why there is none.
fn chosen(model: &mut Model) -> Option<Arc<GroupView>> {
    if !matches!(model.room, Room::Now | Room::Lines | Room::Runs) {
        let key = binding(Action::RoomNow).keys[0];
        say(model, format!("no mistake is in sight here; {key} goes to room Now"));
        return None;
    }
    let group = model.subject();
    if group.is_none() {
        let what = if model.room == Room::Lines {
            "this line belongs to no mistake; choose one that does"
        } else {
            "there is no mistake to choose yet"
        };
        say(model, what);
    }
    group
}

/// What a group says, short enough for a message about it.
fn short(model: &Model, group: &GroupView) -> String {
    let said = model.told(group).short.to_string();
    fit(&safe(&said), 48).into_owned()
}

fn wish(wishes: Vec<Wish>, said: String) -> Vec<Effect> {
    vec![Effect::Order(Order::Wish(wishes, said))]
}

/// Sets the chosen group aside, or takes it back.
pub(crate) fn mute(model: &mut Model) -> Vec<Effect> {
    let Some(group) = chosen(model) else { return Vec::new() };
    let short = short(model, &group);
    let said = if group.muted {
        format!("{short}: listed again")
    } else {
        format!("{short}: set aside; p shows it, u takes that back")
    };
    // The cursor stays where it was: on what comes next.
    if !group.muted && !model.peek && model.room != Room::Lines {
        let at = model.order.iter().position(|id| *id == group.id);
        model.chosen = at
            .and_then(|at| {
                model.order.get(at + 1).or(at.checked_sub(1).and_then(|b| model.order.get(b)))
            })
            .copied();
    }
    wish(group.identities.iter().map(|i| Wish::Mute(i.clone(), !group.muted)).collect(), said)
}

/// Sets aside whatever the filter lets through.
pub(crate) fn mute_filtered(model: &mut Model) -> Vec<Effect> {
    let Some(phrase) = model.filter.phrase.clone() else {
        say(model, "there is no filter; / types one, then X sets aside what it lets through");
        return Vec::new();
    };
    let text = phrase.text().to_owned();
    let mut effects = set(model, None);
    effects.extend(wish(
        vec![Wish::MutePhrase(text.clone(), true)],
        format!("set aside from now on: {text}; u takes that back"),
    ));
    effects
}

/// Keeps the filter under a name; an empty one is no name.
pub(crate) fn keep(model: &mut Model, name: &str) -> Vec<Effect> {
    let Some(phrase) = model.filter.phrase.clone().filter(|_| !name.is_empty()) else {
        return Vec::new();
    };
    wish(
        vec![Wish::Filter(name.to_owned(), Some(phrase.text().to_owned()))],
        format!("kept as {name}: typing the name in the filter offers it"),
    )
}

/// Calls the chosen group fixed, or no longer.
pub(crate) fn fixed(model: &mut Model) -> Vec<Effect> {
    let Some(group) = chosen(model) else { return Vec::new() };
    let at = if group.fixed.is_some() { None } else { Some(model.live.snapshot.now.0) };
    let short = short(model, &group);
    let said = if at.is_some() {
        format!("{short}: called fixed; if it comes again it is told as back")
    } else {
        format!("{short}: no longer called fixed")
    };
    wish(group.identities.iter().map(|i| Wish::Fixed(i.clone(), at)).collect(), said)
}

/// Tells the parts of the chosen group apart, or no longer.
pub(crate) fn split(model: &mut Model) -> Vec<Effect> {
    let Some(group) = chosen(model) else { return Vec::new() };
    if group.split.is_some() {
        model.chosen = None;
        return wish(
            group.identities.iter().map(|i| Wish::Split(i.clone(), None)).collect(),
            "one mistake again".into(),
        );
    }
    let Some(by) = group.differs.first().copied() else {
        say(model, "all its sightings are alike: the same object, caller and words");
        return Vec::new();
    };
    let what = match by {
        Split::Object => "object",
        Split::Caller => "caller",
        Split::Words => "words",
    };
    model.chosen = None;
    wish(
        group.identities.iter().map(|i| Wish::Split(i.clone(), Some(by))).collect(),
        format!("told apart by {what}; S makes it one again"),
    )
}

/// Counts one group with another.
pub(crate) fn join(model: &mut Model) -> Vec<Effect> {
    let Some(group) = chosen(model) else { return Vec::new() };
    let Some(first) = model.joining.take().and_then(|id| model.group(id).cloned()) else {
        model.joining = Some(group.id);
        say(model, "choose the mistake that it is the same as, and press J there");
        return Vec::new();
    };
    if first.id == group.id {
        if first.identities.len() > 1 {
            // Twice on the same row takes a join apart.
            return wish(
                first.identities.iter().map(|i| Wish::Join(i.clone(), None)).collect(),
                "no longer counted as one".into(),
            );
        }
        say(model, "that is the same mistake; nothing was joined");
        return Vec::new();
    }
    let with = group.identity.clone();
    model.chosen = None;
    wish(
        first.identities.iter().map(|i| Wish::Join(i.clone(), Some(with.clone()))).collect(),
        "counted as one; u takes that back".into(),
    )
}
