//! What is said of a group wherever it is shown: the sign of its level, and how it stands.

use crate::model::Model;
use crate::parts::pen::clock;
use crate::theme::Ink;
use izba_core::{GroupView, State};
use izba_model::text::counted;
use izba_model::{Family, Level};

/// Sign and ink of a level.
pub fn sign(level: Level) -> (&'static str, Ink) {
    match level {
        Level::Fatal => ("✦", Ink::Ember),
        Level::Error => ("◆", Ink::Ember),
        Level::Warning => ("◇", Ink::Straw),
        _ => ("·", Ink::Smoke),
    }
}

/// What the runs say of a group.
pub fn sentence(model: &Model, group: &GroupView) -> String {
    let source = model.shown.snapshot.sources.get(group.source);
    let started =
        source.and_then(|s| s.run_started).map(|t| clock(t, model.utc_offset)[..5].to_owned());
    if group.muted {
        return "set aside by you".into();
    }
    if group.hangs
        && let Some(follow) = &group.follows
    {
        return format!(
            "follows the one above: {} of {} times",
            follow.cases,
            follow.cases + follow.misses
        );
    }
    match group.state {
        State::Quiet if group.entry.family == Family::DoesNotParse => match started {
            Some(at) if group.last_run < source.map_or(0, |s| s.run) => {
                format!("read again at {at}: gone")
            }
            _ => "read again: gone".into(),
        },
        State::Quiet => match &group.silence {
            Some(silence) => silence.sentence(),
            None if model.shown.snapshot.got_past(group) => {
                format!("it ended run {}; this one went to its end without it", group.last_run)
            }
            None if group.count == 1 => format!("once in run {}; too early to say", group.last_run),
            None => format!(
                "{} in run {}; too early to say",
                counted(group.count, "time", "times"),
                group.last_run
            ),
        },
        State::Back => {
            let before = group.runs.iter().rev().map(|t| t.run).find(|r| *r < group.last_run);
            match (group.fixed.is_some(), before) {
                (true, _) => "you called it fixed, and it is here again".into(),
                (_, Some(run)) => format!("silent since run {run}, here again"),
                _ => "here again".into(),
            }
        }
        State::New => match &group.after_save {
            Some(path) => format!(
                "came right after {} was saved; perhaps only that",
                path.rsplit('/').next().unwrap_or(path)
            ),
            None => "first met in this run".into(),
        },
        State::Still => format!("met since run {}", group.first_run),
    }
}
