//! The sheet on which it is chosen what is packed with a request for help.

use crate::model::{Model, Overlay, PackSheet, TellSheet};
use crate::parts::effect::Effect;
use crate::parts::pen::{put, put_right, safe, sheet};
use crate::parts::sheet::{Sheet, scrolled};
use crate::theme::{Ground, Ink};
use izba_model::text::counted;
use izba_watch::Order;
use izba_watch::request::{PICTURE, Packed, Telling};
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::{Modifier, Style};
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
    // Nothing can be taken out of a picture, so it goes along only where that is wanted.
    let mut runs = model.shown.snapshot.sources.iter().flat_map(|s| s.runs.iter());
    if runs.any(|run| !run.pictures.is_empty()) {
        files.push(PICTURE.into());
    }
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

impl Sheet for PackSheet {
    const CLOSED_BY: &'static [&'static str] = &[];

    fn draw(&self, model: &Model, area: Rect, buf: &mut Buffer) {
        pack(model, self, area, buf);
    }

    fn on_key(mut self, model: &mut Model, key: &str) -> Vec<Effect> {
        let last = self.files.len().saturating_sub(1);
        let mut effects = Vec::new();
        match key {
            "Esc" | "q" => {
                model.overlay = if self.packed.is_some() {
                    None
                } else {
                    Some(TellSheet::of(self.telling).into())
                };
                return effects;
            }
            // What was taken along is left, what was left is taken along.
            "Space" if self.packed.is_none() && !self.files.is_empty() => {
                let (row, all) = (self.row, std::mem::take(&mut self.chosen));
                self.chosen = all.symmetric_difference(&BTreeSet::from([row])).copied().collect();
            }
            "Enter" if self.packed.is_none() => {
                let files = self
                    .chosen
                    .iter()
                    .filter_map(|n| self.files.get(*n))
                    .map(|f| f.to_string())
                    .collect();
                effects.push(Effect::Order(Order::Pack(self.group, self.telling.clone(), files)));
            }
            _ => self.row = scrolled(key, self.row, last, 15),
        }
        self.stay(model);
        effects
    }
}

fn pack(model: &Model, state: &PackSheet, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let (chalk, smoke, ice) = (theme.ink(Ink::Chalk), theme.ink(Ink::Smoke), theme.ink(Ink::Ice));
    let inner = sheet(
        model,
        area,
        100,
        area.height.saturating_sub(6),
        "Pack for somebody else",
        "Esc closes",
        buf,
    );
    let room = usize::from(inner.height.saturating_sub(4)).max(1);
    let key = ice.add_modifier(Modifier::BOLD);
    if let Some(packed) = &state.packed {
        let mut rows = vec![
            (safe(&packed.path), ice),
            (counted(packed.files.len() as u64, "file is in it", "files are in it"), smoke),
            (String::new(), smoke),
        ];
        if packed.taken.is_empty() {
            rows.push((
                "Nothing had to be taken out. Look into it before it leaves all the same.".into(),
                smoke,
            ));
        } else {
            rows.push(("Taken out, so that it does not leave:".into(), theme.ink(Ink::Heather)));
            rows.extend(packed.taken.iter().map(|t| {
                (
                    format!(
                        "  {:<22} {}   {}",
                        t.what,
                        safe(&t.was),
                        counted(t.count.into(), "time", "times")
                    ),
                    theme.ink(Ink::Heather),
                )
            }));
        }
        let left = rows.len().saturating_sub(room);
        for (at, (text, style)) in rows.iter().take(room).enumerate() {
            put(buf, inner.x, inner.y + 1 + at as u16, inner.width, &[(text, *style)]);
        }
        if left > 0 {
            put_right(
                buf,
                inner.right(),
                inner.bottom().saturating_sub(1),
                14,
                &[(&format!(" {left} more"), smoke)],
            );
        }
        return;
    }
    put(
        buf,
        inner.x,
        inner.y,
        inner.width,
        &[("The request, the log of the run, and these of your files:", smoke)],
    );
    let first = (state.row + 1).saturating_sub(room);
    for (at, file) in state.files.iter().enumerate().skip(first).take(room) {
        let y = inner.y + 1 + (at - first) as u16;
        if at == state.row {
            buf.set_style(
                Rect::new(inner.x, y, inner.width, 1).intersection(buf.area),
                theme.ground(Ground::Bench),
            );
        }
        let (mark, ink) = if state.chosen.contains(&at) {
            ("goes along  ", ice)
        } else {
            ("            ", smoke)
        };
        put(
            buf,
            inner.x,
            y,
            inner.width,
            &[(mark, ink), (&safe(file), if state.chosen.contains(&at) { chalk } else { smoke })],
        );
    }
    let y = inner.bottom().saturating_sub(1);
    let keys: &[(&str, Style)] = &[
        ("Space", key),
        (" take along or leave   ", smoke),
        ("Enter", key),
        (" pack   ", smoke),
        ("Esc", key),
        (" back to the request", smoke),
    ];
    put(buf, inner.x, y, inner.width, keys);
    let left = state.files.len().saturating_sub(first + room);
    if left > 0 {
        put_right(buf, inner.right(), y, 12, &[(&format!(" {left} more ↓"), smoke)]);
    }
}

/// Shows what was packed and what was taken out of it.
pub(crate) fn done(model: &mut Model, packed: Packed) {
    if let Some(Overlay::Pack(sheet)) = &mut model.overlay {
        sheet.packed = Some(Arc::new(packed));
    }
}
