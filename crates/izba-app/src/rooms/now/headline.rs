//! The sentence on top: the one thing to fix first.

use crate::keymap::{Action, binding};
use crate::model::{Model, Shown};
use crate::parts::pen::{lasting, put_wrapped, safe};
use crate::theme::Ink;
use izba_core::overlooked_words;
use izba_core::{GroupView, RunMark, Snapshot, State};
use izba_model::text::{base_name, counted};
use izba_model::{Level, Millis, Tone};
use izba_watch::is_over;
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::{Modifier, Style};
use std::sync::Arc;

/// The sentence about the one thing to fix first.
pub fn headline(model: &Model, area: Rect, buf: &mut Buffer) {
    put_wrapped(buf, area, &pieces(model, ""));
}

/// The same as text.
pub fn text(model: &Model) -> String {
    let words: String = pieces(model, "`").into_iter().map(|(text, _)| text).collect();
    // What is set apart by blanks on the screen is set apart by a colon in text.
    let words = [FIX, LOOK].iter().fold(words, |words, lead| match words.strip_prefix(lead) {
        Some(rest) => format!("{}: {rest}", lead.trim_end()),
        None => words,
    });
    words.split_whitespace().collect::<Vec<_>>().join(" ")
}

const FIX: &str = "Fix first  ";
const LOOK: &str = "No errors. Worth a look  ";

/// The sentence in parts, with a mark round each name where no colour tells it apart.
fn pieces(model: &Model, mark: &str) -> Vec<(String, Style)> {
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
            let lead = if warns { LOOK } else { FIX };
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
                let mark = if part.tone == Tone::Name { mark } else { "" };
                pieces.push((format!("{mark}{}{mark}", safe(&part.text)), style));
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
            match model.saved_since(group) {
                // What was said was said of the file as it was.
                Some(file) => {
                    let key = binding(Action::Again).keys[0];
                    let since = format!("  You have saved {} since; ", safe(&file));
                    pieces.push((since, theme.ink(Ink::Straw)));
                    let pressed = theme.ink(Ink::Ice).add_modifier(Modifier::BOLD);
                    pieces.push((key.to_string(), pressed));
                    pieces.push((" shows whether it is gone.".into(), theme.ink(Ink::Straw)));
                }
                None => pieces.push((format!("  {}", safe(&tail(group))), theme.ink(Ink::Smoke))),
            }
        }
        None => pieces = nothing(model),
    }
    pieces
}

/// So long a run has to last before its silence says anything, in milliseconds.
pub const TOO_YOUNG: u64 = 3_000;

/// The sentence where there is nothing to fix: what is known, and no more than that.
fn nothing(model: &Model) -> Vec<(String, Style)> {
    let theme = model.theme;
    let snapshot = &model.shown.snapshot;
    let (plain, smoke) = (theme.ink(Ink::Chalk), theme.ink(Ink::Smoke));
    let well = theme.ink(Ink::Moss);
    let (_, quiet) = model.tally();
    let (aside, ..) = model.left_out();
    let over = is_over(&model.shown);
    if let Some(sentence) = snapshot.unexplained_end() {
        return vec![
            (safe(&sentence), theme.ink(Ink::Ember)),
            ("  Its last lines are in room Lines.".into(), smoke),
        ];
    }
    if snapshot.sources.is_empty() {
        return vec![
            ("Nothing is watched yet.".into(), plain),
            ("  New here? izba demo shows how it goes.".into(), smoke),
        ];
    }
    if snapshot.rows == 0 && !over {
        return vec![
            ("Nothing has been printed yet.".into(), plain),
            ("  What the program says will appear here.".into(), smoke),
        ];
    }
    if let Some(words) = overlooked_words(snapshot.count_overlooked()) {
        let key = binding(Action::RoomLines).keys[0];
        let them = if snapshot.count_overlooked() == 1 { "it" } else { "them" };
        let pressed = theme.ink(Ink::Ice).add_modifier(Modifier::BOLD);
        return vec![
            ("No error was understood.".into(), plain.add_modifier(Modifier::BOLD)),
            (format!("  {words}."), theme.ink(Ink::Straw)),
            (format!("  {key}"), pressed),
            (format!(" shows {them}."), smoke),
        ];
    }
    if aside > 0 {
        let words = counted(aside as u64, "mistake is set aside", "mistakes are set aside");
        let shows = if aside == 1 { "shows it" } else { "shows them" };
        let key = binding(Action::Peek).keys[0];
        return vec![
            (
                if quiet > 0 { "Nothing left to fix in this run" } else { "Nothing left to fix" }
                    .into(),
                plain.add_modifier(Modifier::BOLD),
            ),
            (format!("; {words} (by you; {key} {shows})."), smoke),
        ];
    }
    let anew = read_anew(snapshot);
    let running = snapshot.sources.iter().filter(|s| s.mark == RunMark::Running);
    let starts = running.filter_map(|s| s.run_started).chain(anew.map(|(at, _)| at));
    let age = starts.map(|at| snapshot.now.since(at)).min();
    if let Some(age) = age.filter(|age| *age < TOO_YOUNG && !over) {
        let mut pieces = vec![("No errors yet".into(), plain.add_modifier(Modifier::BOLD))];
        match anew {
            Some((_, file)) => pieces.extend([
                (format!(", {} after ", lasting(age)), plain),
                (safe(file), theme.ink(Ink::Ice)),
                (" was read anew.".into(), plain),
            ]),
            None => pieces.push((format!(", {} into the run.", lasting(age)), plain)),
        }
        if quiet > 0 && anew.is_none() {
            let not = counted(quiet as u64, "of the last run has", "of the last run have");
            pieces.push((format!("  {not} not come back so far."), smoke));
        }
        return pieces;
    }
    if quiet > 0 {
        let gone = counted(quiet as u64, "has gone quiet", "have gone quiet");
        let bold = well.add_modifier(Modifier::BOLD);
        let mut pieces = match anew {
            Some((_, file)) => vec![
                ("No errors since ".into(), bold),
                (safe(file), theme.ink(Ink::Ice)),
                (" was read anew".into(), bold),
                (format!("; {gone}."), well),
            ],
            None => vec![
                ("No errors in this run".into(), bold),
                (format!(", {gone} since the last."), well),
            ],
        };
        if !over {
            pieces.push(("  Do what brought it about once more, to be sure.".into(), smoke));
        }
        return pieces;
    }
    vec![
        (
            if over { "No errors. " } else { "No errors so far." }.into(),
            well.add_modifier(Modifier::BOLD),
        ),
        (format!("  {} read.", counted(snapshot.rows, "line", "lines")), smoke),
    ]
}

/// The file that was read anew last, and when, where a mistake that struck in its run is silent since.
fn read_anew(snapshot: &Snapshot) -> Option<(Millis, &str)> {
    let silent = |at: usize, run: u32| {
        let quiet = |g: &&Arc<GroupView>| g.state == State::Quiet && g.source == at;
        snapshot.groups.iter().filter(quiet).any(|g| g.last_run == run)
    };
    let sources = snapshot.sources.iter().enumerate();
    let updates = sources.filter(|(at, s)| silent(*at, s.run)).filter_map(|(_, s)| {
        let update = s.runs.last()?.updates.iter().rev().find(|u| !u.files.is_empty())?;
        Some((update.time, base_name(update.files.first()?)))
    });
    updates.max_by_key(|(at, _)| *at)
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
