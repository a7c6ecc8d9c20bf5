//! What first: the order of the rows, and for each row the one sentence that says why it stands
//! where it does.

use super::one_event;
use super::row::GroupView;
use crate::state::State;
use izba_model::Family;
use izba_model::Level;
use std::cmp::Reverse;
use std::collections::HashMap;
use std::sync::Arc;

type Key = (bool, bool, bool, Reverse<u8>, bool, bool, bool, bool, Reverse<u64>, u32);

fn key(view: &GroupView) -> Key {
    let grave = match view.level() {
        Level::Fatal | Level::Error => 2,
        Level::Warning => 1,
        _ => 0,
    };
    let ends = view.stops || view.level() == Level::Fatal;
    (
        view.muted,
        view.state == State::Quiet,
        view.foreign,
        Reverse(grave),
        !view.is_own(),
        !ends,
        view.entry.family != Family::DoesNotParse,
        !view.since_edit,
        Reverse(view.count),
        view.id.0,
    )
}

/// For each message that a script cannot be read, the first one about that script, where it is
/// another: behind the first a parser is out of step.
fn first_messages(views: &[GroupView]) -> HashMap<usize, usize> {
    let about = |view: &GroupView| {
        let place = view.entry.place.as_ref()?;
        let unread = view.entry.family == Family::DoesNotParse && view.state != State::Quiet;
        unread.then_some(((view.source, place.file.clone()), place.line?))
    };
    let mut first: HashMap<_, (u32, usize)> = HashMap::new();
    for (at, view) in views.iter().enumerate() {
        let Some((script, line)) = about(view) else { continue };
        let known = first.entry(script).or_insert((line, at));
        *known = (*known).min((line, at));
    }
    let all = views.iter().enumerate().filter_map(|(at, view)| Some((at, about(view)?.0)));
    all.filter_map(|(at, script)| Some((at, first.get(&script)?.1)))
        .filter(|(at, first)| at != first)
        .collect()
}

/// Puts the rows in order: a row before those that follow it, each with its reason.
pub(super) fn order(mut views: Vec<GroupView>) -> Vec<Arc<GroupView>> {
    views.sort_by_key(key);
    let above: Vec<Key> = views.iter().map(key).collect();
    for at in 0..views.len() {
        let below = above.get(at + 1);
        views[at].reason = reason(&views[at], &above[at], below);
    }
    let scripts = first_messages(&views);
    let mut first_messages = one_event::told_before(&views);
    first_messages.extend(&scripts);
    // What follows another stands under the first of its cascade, in order.
    let root = |views: &[GroupView], at: usize| {
        let (mut root, mut steps) = (at, 0);
        while let Some(up) = views[root]
            .follows
            .as_ref()
            .and_then(|f| views.iter().position(|v| v.members.contains(&f.of)))
            .or_else(|| first_messages.get(&root).copied())
        {
            steps += 1;
            // A ring leads nowhere.
            if up == root
                || steps > views.len()
                || views[up].state == State::Quiet && views[at].state != State::Quiet
                || views[up].muted
            {
                return (at, 0);
            }
            root = up;
        }
        (root, steps.min(1))
    };
    let places: Vec<(usize, usize)> = (0..views.len()).map(|at| root(&views, at)).collect();
    let mut order: Vec<usize> = (0..views.len()).collect();
    order.sort_by_key(|at| (places[*at].0, places[*at].1, *at));
    for (at, place) in places.iter().enumerate() {
        views[at].hangs = place.1 > 0;
        if views[at].hangs {
            let first = first_messages.get(&at).filter(|_| views[at].follows.is_none());
            views[at].later_than = first.map(|_| views[place.0].id);
            views[at].reason = match first {
                Some(_) if scripts.contains_key(&at) => {
                    "It is listed under the first message about this file: it may only come of that."
                }
                Some(_) => "It is listed under its reason: it tells what came of that.",
                None => "It is listed under what it comes after: fix that first.",
            }
            .into();
        }
    }
    let mut slots: Vec<Option<GroupView>> = views.into_iter().map(Some).collect();
    order.into_iter().filter_map(|at| slots[at].take()).map(Arc::new).collect()
}

fn reason(view: &GroupView, here: &Key, below: Option<&Key>) -> String {
    let times = izba_model::text::counted(view.count, "time", "times");
    let what = match below {
        _ if view.muted => return "It is last because you set it aside.".into(),
        _ if view.state == State::Quiet => {
            return "It is further down because it has gone quiet.".into();
        }
        _ if view.foreign => {
            return "It is further down because it comes from somebody else's program.".into();
        }
        Some(next) if here.3 != next.3 => "it is an error; below come only warnings".to_owned(),
        Some(next) if here.4 != next.4 => "it is in your own code".to_owned(),
        Some(next) if here.5 != next.5 => "it stops the program".to_owned(),
        Some(next) if here.6 != next.6 => {
            "nothing in a script runs while it can't be read".to_owned()
        }
        Some(next) if here.7 != next.7 => "it is new since your last change".to_owned(),
        Some(next) if here.8 != next.8 && next.0 == here.0 && next.1 == here.1 => {
            format!("it happened {times}, more often than what comes below")
        }
        // Nothing tells it from its neighbour but what they share.
        _ if !here.5 => "it stops the program".to_owned(),
        _ if view.since_edit => "it is new since your last change".to_owned(),
        _ if view.is_own() => format!("it is in your own code; it happened {times}"),
        _ => {
            return format!(
                "It is this far down because it names none of your files; it happened {times}."
            );
        }
    };
    format!("It is listed here because {what}.")
}
