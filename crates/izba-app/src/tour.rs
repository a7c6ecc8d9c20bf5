//! The guided tour of the demo: five steps that go on by what the user does, and can be left at any
//! time.

use crate::keymap::{Action, binding};
use crate::model::{Model, Question, Room, Tour, TourStep};
use crate::parts::effect::Effect;
use izba_core::{GroupView, RunMark, State};
use izba_model::Family;
use izba_model::text::counted;
use izba_watch::Order;

impl Tour {
    /// Number of the step, from 1, its name, and what to do, as a sentence.
    pub fn words(self, model: &Model) -> (usize, &'static str, String) {
        let key = |action: Action| binding(action).keys[0];
        let (mistakes, _) = model.tally();
        match self.step {
            TourStep::See if mistakes == 0 => (
                1,
                "See",
                "The game starts. What goes wrong will stand under What, one row for each \
                    mistake."
                    .into(),
            ),
            TourStep::See => (
                1,
                "See",
                format!(
                    "{} so far, one row for each, however often it strikes. {} chooses one.",
                    counted(mistakes as u64, "mistake", "mistakes"),
                    key(Action::Down)
                ),
            ),
            TourStep::Choose => (
                2,
                "Choose",
                format!(
                    "The arrows go through the list; each row says what is wrong and in \
                        which script. {} goes to the place.",
                    key(Action::Deeper)
                ),
            ),
            TourStep::Find if model.selected().is_some_and(|g| g.entry.place.is_none()) => (
                3,
                "Find",
                format!(
                    "This one names no line; Why says what is known. {} fixes it for you, \
                        {} goes back to the list.",
                    key(Action::MakeEdit),
                    key(Action::Back)
                ),
            ),
            TourStep::Find => (
                3,
                "Find",
                format!(
                    "The shaded line is where it struck; Why says what it means. {} opens \
                        your editor there, {} shows an edit that fixes it.",
                    key(Action::Edit),
                    key(Action::MakeEdit)
                ),
            ),
            TourStep::Mend => (
                4,
                "Fix",
                format!(
                    "The change is saved. {} runs everything again, to see whether it helped.",
                    key(Action::Again)
                ),
            ),
            TourStep::Prove => match self.group.and_then(|id| model.group(id)) {
                // A script that could not be read is certain at once; a fault at run time takes a
                // while to show.
                Some(group)
                    if group.state == State::Quiet
                        && group.entry.family != Family::DoesNotParse
                        && is_too_early(model, group) =>
                {
                    (
                        5,
                        "Prove",
                        "It runs again, and so far it was not met. A moment more, to be sure."
                            .into(),
                    )
                }
                Some(group) if group.state == State::Quiet => (
                    5,
                    "Prove",
                    format!(
                        "Gone: not met in this run, and told at once if it comes back. {} ends \
                            the tour{}.",
                        key(Action::Tour),
                        if model.shown.snapshot.sources.len() > 1 {
                            "; the other programs of the evening are here now too"
                        } else {
                            ""
                        }
                    ),
                ),
                Some(group) => {
                    let seen = counted(group.count, "time", "times");
                    (
                        5,
                        "Prove",
                        format!(
                            "It is still there, {seen} in this run. {} shows where; fix it and \
                        run again.",
                            key(Action::Deeper)
                        ),
                    )
                }
                None => (5, "Prove", format!("It is gone. {} ends the tour.", key(Action::Tour))),
            },
        }
    }
}

/// How long a run has to last before silence in it means anything, in milliseconds.
const SOON: u64 = 3_000;

fn is_too_early(model: &Model, group: &GroupView) -> bool {
    let snapshot = &model.shown.snapshot;
    snapshot.sources.get(group.source).is_some_and(|s| {
        s.mark == RunMark::Running
            && s.run_started.is_some_and(|start| snapshot.now.since(start) < SOON)
    })
}

/// Whether the tour has shown that a mistake is gone.
pub fn is_proved(model: &Model) -> bool {
    let Some(tour) = model.tour.filter(|t| t.step == TourStep::Prove) else { return false };
    match tour.group.and_then(|id| model.group(id)) {
        Some(group) => {
            group.state == State::Quiet
                && (group.entry.family == Family::DoesNotParse || !is_too_early(model, group))
        }
        None => true,
    }
}

/// Has the other programs of the demo begin, if they have not yet.
pub(crate) fn bring_in_rest(model: &mut Model) -> Vec<Effect> {
    if !std::mem::take(&mut model.rest) {
        return Vec::new();
    }
    vec![Effect::Order(Order::Rest)]
}

/// Goes on when the user has done what the step asks for.
pub fn after_action(model: &mut Model, action: Action) {
    let Some(mut tour) = model.tour else { return };
    tour.step = match (tour.step, action) {
        (
            TourStep::See,
            Action::Up
            | Action::Down
            | Action::First
            | Action::Last
            | Action::PageUp
            | Action::PageDown,
        ) if model.chosen.is_some() => TourStep::Choose,
        (TourStep::See | TourStep::Choose, Action::Deeper)
            if model.focus == Question::Where && model.room == Room::Now =>
        {
            TourStep::Find
        }
        (TourStep::Mend, Action::Again) => TourStep::Prove,
        (step, _) => step,
    };
    if action == Action::Again && tour.step == TourStep::Prove {
        // The mended one stays chosen, so that it can be seen going quiet.
        (model.chosen, model.focus, model.zoom) = (tour.group, Question::What, None);
    }
    if tour.step == TourStep::Find {
        tour.group = model.selected().map(|g| g.id);
    }
    model.tour = Some(tour);
}

/// Goes on when a file was saved, or what was mended is quiet already.
pub fn after_news(model: &mut Model, saved: bool) {
    let Some(mut tour) = model.tour else { return };
    let quiet = tour.group.and_then(|id| model.group(id)).is_some_and(|g| g.state == State::Quiet);
    tour.step = match tour.step {
        TourStep::Find if saved => TourStep::Mend,
        TourStep::Mend if quiet => TourStep::Prove,
        step => step,
    };
    model.tour = Some(tour);
}
