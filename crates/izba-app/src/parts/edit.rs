//! The editor, opened at the place of an error as it stands today.

use super::effect::{Effect, say};
use crate::model::{Model, Shown};
use izba_core::GroupView;
use std::sync::Arc;

/// Opens the chosen error at the place that is shown.
pub(crate) fn edit_chosen(model: &mut Model) -> Vec<Effect> {
    let Some(group) = model.selected().cloned() else {
        say(model, "there is nothing to fix yet");
        return Vec::new();
    };
    let shown = model.place_shown(&group);
    let reported = shown.as_ref().is_none_or(|(s, _)| matches!(s, Shown::Reported(_)));
    let place = shown.map(|(_, place)| place).or_else(|| group.entry.place.clone());
    edit_at(model, &group, place, reported)
}

/// Opens an error at the place that its console names.
pub(crate) fn edit_reported(model: &mut Model, group: &Arc<GroupView>) -> Vec<Effect> {
    edit_at(model, group, group.entry.place.clone(), true)
}

fn edit_at(
    model: &mut Model,
    group: &GroupView,
    place: Option<izba_model::Place>,
    reported: bool,
) -> Vec<Effect> {
    let Some(place) = place else {
        say(model, "this error names no line in your own files");
        return Vec::new();
    };
    let published = &model.live;
    let project = &published.snapshot.project;
    let old = place.line.unwrap_or(1);
    let line = project.line_today(&published.today, &place.file, old);
    let text = project.line(&place.file, old).unwrap_or("");
    let byte = if reported { group.explanation.token.map(|(start, _)| start) } else { None };
    let byte = byte.or_else(|| place.column.map(|c| c.to_byte(text))).unwrap_or(0);
    let column = text.get(..byte).map_or(1, |head| head.chars().count() as u32 + 1);
    vec![Effect::Edit { file: place.file.to_string(), line, column }]
}
