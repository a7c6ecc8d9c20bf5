//! The sentence on top: the one thing to fix first.

use crate::keymap::{Action, binding};
use crate::model::{Model, Shown};
use crate::parts::pen::{put_wrapped, safe};
use crate::theme::Ink;
use izba_core::overlooked_words;
use izba_core::{GroupView, State};
use izba_model::Level;
use izba_model::Tone;
use izba_model::text::counted;
use izba_watch::is_over;
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::{Modifier, Style};

/// The sentence about the one thing to fix first.
pub fn headline(model: &Model, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let snapshot = &model.shown.snapshot;
    // A program that ended badly without a word is worse than what warns.
    let first = model.first().filter(|g| {
        g.state != State::Quiet
            && (g.level() >= Level::Error || snapshot.unexplained_end().is_none())
    });
    let mut pieces: Vec<(String, Style)> = Vec::new();
    let plain = theme.ink(Ink::Chalk);
    match first {
        Some(group) => {
            let warns = group.level() < Level::Error;
            let lead = if warns { "No errors. Worth a look  " } else { "Fix first  " };
            pieces.push((lead.into(), theme.ink(Ink::Smoke)));
            let told = model.told(group);
            for part in &told.headline.parts {
                let style = match part.tone {
                    Tone::Text => plain,
                    Tone::Name => theme
                        .ink(if warns { Ink::Straw } else { Ink::Ember })
                        .add_modifier(Modifier::BOLD),
                    Tone::Place => theme.ink(Ink::Ice),
                };
                pieces.push((safe(&part.text), style));
            }
            if let Some((Shown::Suspect(suspect), _)) =
                model.places(group).first().and_then(|s| Some((*s, s.place(group)?)))
                && suspect.confidence >= izba_model::claim::LIKELY
                && told.slip.is_none()
            {
                let name = safe(suspect.file.rsplit('/').next().unwrap_or(""));
                let place =
                    if suspect.line == 0 { name } else { format!("{name}:{}", suspect.line) };
                pieces.push(("  Look first at ".into(), theme.ink(Ink::Smoke)));
                pieces.push((place, theme.ink(Ink::Ice).add_modifier(Modifier::BOLD)));
            }
            pieces.push((format!("  {}", safe(&tail(group))), theme.ink(Ink::Smoke)));
        }
        None => {
            let (_, quiet) = model.tally();
            let over = is_over(&model.shown);
            let well = theme.ink(Ink::Moss);
            if let Some(sentence) = snapshot.unexplained_end() {
                pieces.push((safe(&sentence), theme.ink(Ink::Ember)));
                pieces.push(("  Its last lines are in room Lines.".into(), theme.ink(Ink::Smoke)));
            } else if snapshot.sources.is_empty() {
                pieces.push(("Nothing is watched yet.".into(), plain));
                pieces.push((
                    "  New here? izba demo shows how it goes.".into(),
                    theme.ink(Ink::Smoke),
                ));
            } else if snapshot.rows == 0 && !over {
                pieces.push(("Nothing has been printed yet.".into(), plain));
                pieces.push((
                    "  What the program says will appear here.".into(),
                    theme.ink(Ink::Smoke),
                ));
            } else if let Some(words) = overlooked_words(snapshot.count_overlooked()) {
                pieces
                    .push(("No error was understood.".into(), plain.add_modifier(Modifier::BOLD)));
                pieces.push((format!("  {words}."), theme.ink(Ink::Straw)));
                let key = binding(Action::RoomLines).keys[0];
                let them = if snapshot.count_overlooked() == 1 { "it" } else { "them" };
                let pressed = theme.ink(Ink::Ice).add_modifier(Modifier::BOLD);
                pieces.push((format!("  {key}"), pressed));
                pieces.push((format!(" shows {them}."), theme.ink(Ink::Smoke)));
            } else if quiet > 0 {
                pieces.push(("No errors in this run".into(), well.add_modifier(Modifier::BOLD)));
                pieces.push((
                    format!(
                        ", {} since the last.",
                        counted(quiet as u64, "is gone quiet", "are gone quiet")
                    ),
                    well,
                ));
                if !over {
                    pieces.push((
                        "  Do the same thing again, harder, to be sure.".into(),
                        theme.ink(Ink::Smoke),
                    ));
                }
            } else {
                pieces.push((
                    if over { "No errors. " } else { "No errors so far." }.into(),
                    well.add_modifier(Modifier::BOLD),
                ));
                pieces.push((
                    format!("  {} read.", counted(snapshot.rows, "line", "lines")),
                    theme.ink(Ink::Smoke),
                ));
            }
        }
    }
    put_wrapped(buf, area, &pieces);
}

/// When and where it strikes, beyond its place.
fn tail(group: &GroupView) -> String {
    let object = match group.objects.as_slice() {
        [] => None,
        [(one, _)] => Some(one.clone()),
        [(one, _), rest @ ..] => Some(format!("{one} and {} more", rest.len())),
    };
    let handler = group.entry.report.handler.as_deref();
    let often = match group.rate {
        r if r >= 1.5 && group.count >= 5 => Some(format!("{} times a second", r.round() as u64)),
        r if r >= 0.95 && group.count >= 5 => Some("once a second".to_owned()),
        _ if group.count > 1 => Some(counted(group.count, "time so far", "times so far")),
        _ => None,
    };
    let who = match (object, handler) {
        (Some(object), Some(handler)) => Some(format!("{object} in its {handler}")),
        (Some(object), None) => Some(object),
        _ => None,
    };
    match (who, often) {
        (Some(who), Some(often)) => format!("{who}, {often}."),
        (Some(who), None) => format!("{who}."),
        (None, Some(often)) => format!("{}{}.", often[..1].to_uppercase(), &often[1..]),
        (None, None) => String::new(),
    }
}
