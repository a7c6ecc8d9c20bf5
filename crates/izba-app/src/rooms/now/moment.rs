//! A moment of When that is read off, and the stretch of time around it that is shown: from a spike
//! to its lines.

use crate::keymap::Action;
use crate::model::{Layout, Model, Question};
use crate::parts::effect::{Effect, say};
use crate::parts::pen::clock;
use crate::rooms::phrase;
use izba_core::Phrase;
use izba_core::timeline::Bucket;
use izba_model::Millis;
use izba_model::text::counted;
use izba_watch::{Order, is_over};
use std::sync::Arc;

/// A shorter stretch shows nothing more, in milliseconds.
const SHORTEST: u64 = 200;

/// All the time there is.
fn whole(model: &Model) -> Option<(Millis, Millis)> {
    let snapshot = &model.shown.snapshot;
    let start = snapshot.timeline.start()?;
    let end = if is_over(&model.shown) { snapshot.timeline.end() } else { Some(snapshot.now) };
    Some((start, Millis(end.unwrap_or(snapshot.now).0.max(start.0 + 1000))))
}

/// The stretch of time that is shown, if anything has come yet.
pub(super) fn span(model: &Model) -> Option<(Millis, Millis)> {
    let (start, end) = whole(model)?;
    // A new run may have begun at a later time than what was looked at.
    let shown = model.when.span.filter(|(from, to)| *from >= start && *to <= end);
    Some(shown.unwrap_or((start, end)))
}

/// The parts of the stretch, as many as there are columns.
fn parts(model: &Model) -> Option<((Millis, Millis), Vec<Bucket>)> {
    let span = span(model)?;
    let columns = usize::from(Layout::of(model).when.width).max(1);
    Some((span, model.shown.snapshot.timeline.strip(None, span.0, span.1, columns)))
}

/// The column of a moment among so many.
pub(super) fn column(moment: Millis, span: (Millis, Millis), columns: u16) -> u16 {
    let length = span.1.since(span.0).max(1);
    let at = moment.since(span.0) * u64::from(columns) / length;
    at.min(u64::from(columns.saturating_sub(1))) as u16
}

/// The beginning of a column's part of the stretch.
fn moment_of(column: usize, span: (Millis, Millis), columns: usize) -> Millis {
    let length = span.1.since(span.0);
    Millis(span.0.0 + (length * column as u64 / columns.max(1) as u64) as i64)
}

/// The moment that is read off, where When is looked at.
pub(super) fn chosen(model: &Model) -> Option<Millis> {
    let (from, to) = span(model)?;
    let at = model.when.at.filter(|_| model.focus == Question::When)?;
    Some(at.clamp(from, to))
}

/// What there was at the moment, in words.
pub(super) fn words(model: &Model) -> Option<String> {
    let at = chosen(model)?;
    let (span, parts) = parts(model)?;
    let part = parts.get(usize::from(column(at, span, parts.len() as u16)))?;
    let mut said = vec![clock(at, model.utc_offset)];
    if part.errors > 0 {
        said.push(counted(part.errors.into(), "error", "errors"));
    }
    if part.warnings > 0 {
        said.push(counted(part.warnings.into(), "warning", "warnings"));
    }
    said.push(counted(part.lines.into(), "line", "lines"));
    Some(said.join("  "))
}

/// A click into the strip: that moment.
pub(super) fn choose(model: &mut Model, column: u16) {
    let area = Layout::of(model).when;
    if let Some(span) = span(model) {
        let at = usize::from(column.saturating_sub(area.x));
        model.when.at = Some(moment_of(at, span, usize::from(area.width.max(1))));
        model.when.from = model.when.at;
    }
}

/// The mouse goes on over the strip with its button down, or lets it go: what lies between is the
/// stretch that is looked at.
pub(super) fn drag(model: &mut Model, column: u16, done: bool) -> Vec<Effect> {
    let area = Layout::of(model).when;
    let (Some(from), Some(span)) = (model.when.from, span(model)) else { return Vec::new() };
    let column = usize::from(column.clamp(area.x, area.right().saturating_sub(1)) - area.x);
    let at = moment_of(column, span, usize::from(area.width.max(1)));
    model.when.at = Some(at);
    if !done {
        return Vec::new();
    }
    model.when.from = None;
    if from == at {
        return Vec::new();
    }
    let part = moment_of(1, span, usize::from(area.width.max(1))).since(span.0) as i64;
    narrow(model, Some(from.min(at)), Some(Millis(from.max(at).0 + part)))
}

/// The columns from where the mouse was pressed to where it is, of so many.
pub(super) fn drawn(model: &Model, span: (Millis, Millis), columns: u16) -> Option<(u16, u16)> {
    let (from, at) = (model.when.from?, model.when.at?);
    let (from, at) = (column(from, span, columns), column(at, span, columns));
    (from != at).then_some((from.min(at), from.max(at)))
}

/// Lets only what came from one moment on, or up to one, be shown everywhere: the filter says so,
/// and what else it says stays.
fn narrow(model: &mut Model, from: Option<Millis>, to: Option<Millis>) -> Vec<Effect> {
    let text = model.filter.phrase.as_ref().map_or_else(String::new, |p| p.text().to_owned());
    let new = [("since", from), ("until", to)];
    let mut words: Vec<String> = Vec::new();
    let mut old = text.split_whitespace();
    while let Some(word) = old.next() {
        match new.iter().any(|(name, at)| *name == word && at.is_some()) {
            true => drop(old.next()),
            false => words.push(word.to_owned()),
        }
    }
    let rest = words.join(" ");
    if words.iter().any(|word| word == "or") && !(rest.starts_with('(') && rest.ends_with(')')) {
        // Both of two that are one or the other lie within the stretch.
        words = vec![format!("({rest})")];
    }
    let offset = model.utc_offset;
    words.extend(
        new.iter().filter_map(|(name, at)| Some(format!("{name} {}", clock((*at)?, offset)))),
    );
    let Ok(phrase) = Phrase::parse(&words.join(" ")) else {
        say(model, "the filter that holds can't be narrowed to a time; / changes it");
        return Vec::new();
    };
    phrase::set(model, Some(Arc::new(phrase)))
}

/// What a key does while When is looked at; `None` where it does nothing of its own there.
pub(super) fn act(model: &mut Model, action: Action) -> Option<Vec<Effect>> {
    let (span, parts) = parts(model)?;
    let columns = parts.len();
    let now = chosen(model).map_or(columns - 1, |at| column(at, span, columns as u16).into());
    let errors = |at: usize| parts[at].errors + parts[at].warnings;
    let next = match action {
        Action::MomentEarlier => now.saturating_sub(1),
        Action::MomentLater => (now + 1).min(columns - 1),
        Action::PageUp => now.saturating_sub(columns / 10),
        Action::PageDown => (now + columns / 10).min(columns - 1),
        Action::First => 0,
        Action::Last => columns - 1,
        // From one spike to the next, over a flood that goes on.
        Action::Up => edge(now, (0..now).rev(), &errors)?,
        Action::Down => edge(now, now + 1..columns, &errors)?,
        Action::Nearer | Action::Farther => {
            zoom(model, span, moment_of(now, span, columns), action == Action::Nearer);
            return Some(Vec::new());
        }
        Action::StretchFrom | Action::StretchTo if model.when.at.is_some() => {
            let (from, to) = (moment_of(now, span, columns), moment_of(now + 1, span, columns));
            return Some(match action {
                Action::StretchFrom => narrow(model, Some(from), None),
                _ => narrow(model, None, Some(to)),
            });
        }
        Action::Across | Action::Deeper if model.when.at.is_some() => {
            return Some(vec![Effect::Order(Order::RowAt(moment_of(now, span, columns)))]);
        }
        _ => return None,
    };
    model.when.at = Some(moment_of(next, span, columns));
    Some(Vec::new())
}

/// The first column on the way with far more errors than the one passed before, or else the last
/// one; none where the way is empty.
fn edge(
    now: usize,
    way: impl Iterator<Item = usize> + Clone,
    errors: &impl Fn(usize) -> u32,
) -> Option<usize> {
    let mut before = errors(now);
    for at in way.clone() {
        if errors(at) > before.saturating_mul(2) {
            return Some(at);
        }
        before = errors(at);
    }
    way.last()
}

fn zoom(model: &mut Model, span: (Millis, Millis), around: Millis, nearer: bool) {
    let Some((start, end)) = whole(model) else { return };
    let length = span.1.since(span.0);
    let wanted = if nearer { length / 2 } else { length * 2 };
    if nearer && wanted < SHORTEST {
        say(model, "nothing more can be told apart in a shorter time");
        return;
    }
    model.when.at = Some(around);
    if wanted >= end.since(start) {
        model.when.span = None;
        return;
    }
    let from = (around.0 - wanted as i64 / 2).clamp(start.0, end.0 - wanted as i64);
    model.when.span = Some((Millis(from), Millis(from + wanted as i64)));
}
