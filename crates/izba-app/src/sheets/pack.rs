//! The sheet on which it is chosen what is packed with a request for help.

use crate::keymap::Action;
use crate::model::{Model, Overlay, PackSheet};
use crate::parts::effect::Effect;
use izba_watch::Order;
use izba_watch::request::{Packed, Telling};
use std::collections::BTreeSet;
use std::sync::Arc;

/// Opens the sheet; what lies on the way to the error, and who may have done it, goes along unless
/// it is left out.
pub(crate) fn open(model: &mut Model, telling: Arc<Telling>) {
    let Some(group) = model.selected().cloned() else { return };
    let place = group.entry.place.iter().map(|p| p.file.clone());
    let steps = group.path().iter().filter_map(|f| f.own.clone());
    let suspects = model.suspects(&group).into_iter().map(|s| s.file.clone());
    let mut files: Vec<Arc<str>> = Vec::new();
    for file in place.chain(steps).chain(suspects) {
        if !files.contains(&file) {
            files.push(file);
        }
    }
    let chosen: BTreeSet<usize> = (0..files.len()).collect();
    let others =
        model.live.today.files().iter().filter(|f| f.text.is_some()).map(|f| f.path.clone());
    let others: Vec<Arc<str>> = others.filter(|f| !files.contains(f)).collect();
    files.extend(others);
    model.overlay = Some(Overlay::Pack(PackSheet {
        group: group.id,
        telling,
        files,
        chosen,
        row: 0,
        packed: None,
    }));
}

/// A key on the sheet.
pub(crate) fn on_key(model: &mut Model, mut sheet: PackSheet, key: &str) -> Vec<Effect> {
    let last = sheet.files.len().saturating_sub(1);
    let mut effects = Vec::new();
    match key {
        "Esc" | "q" => {
            model.overlay = if sheet.packed.is_some() {
                None
            } else {
                Some(Overlay::Tell(sheet.telling, false, 0))
            };
            return effects;
        }
        "Ctrl+C" => return vec![Effect::Act(Action::Interrupt)],
        "↑" | "k" => sheet.row = sheet.row.saturating_sub(1),
        "↓" | "j" => sheet.row = (sheet.row + 1).min(last),
        "PgUp" => sheet.row = sheet.row.saturating_sub(15),
        "PgDn" => sheet.row = (sheet.row + 15).min(last),
        // What was taken along is left, what was left is taken along.
        "Space" if sheet.packed.is_none() && !sheet.files.is_empty() => {
            let (row, all) = (sheet.row, std::mem::take(&mut sheet.chosen));
            sheet.chosen = all.symmetric_difference(&BTreeSet::from([row])).copied().collect();
        }
        "Enter" if sheet.packed.is_none() => {
            let files = sheet
                .chosen
                .iter()
                .filter_map(|n| sheet.files.get(*n))
                .map(|f| f.to_string())
                .collect();
            effects.push(Effect::Order(Order::Pack(sheet.group, sheet.telling.clone(), files)));
        }
        _ => {}
    }
    model.overlay = Some(Overlay::Pack(sheet));
    effects
}

/// Shows what was packed and what was taken out of it.
pub(crate) fn done(model: &mut Model, packed: Packed) {
    if let Some(Overlay::Pack(sheet)) = &mut model.overlay {
        sheet.packed = Some(Arc::new(packed));
    }
}
