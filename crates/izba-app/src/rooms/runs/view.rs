//! Room Runs: a grid of groups by runs, so that what is new, quiet and back is seen in one look.

use crate::model::Model;
use crate::parts::pen::{put, put_right, safe, title};
use crate::parts::said::{sentence, sign};
use crate::theme::{Ground, Ink, Theme};
use izba_core::{GroupId, GroupView, RunSpan, State};
use izba_model::Millis;
use izba_model::text::counted;
use izba_model::text::{fit, width_cells};
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::{Modifier, Style};

/// Cells of one run.
const CELL: u16 = 6;
/// Rows of one group.
const ROWS: u16 = 2;

/// Where the parts of the room lie; one function serves drawing and the mouse.
struct Parts {
    inner: Rect,
    /// Where the words end and the state stands.
    state: u16,
    /// Where the first run stands.
    runs: u16,
    /// The first of the runs that are shown, and how many are.
    first: usize,
    shown: usize,
    /// The row of the first group.
    body: u16,
    gap: u16,
}

fn runs(model: &Model) -> &[RunSpan] {
    model.shown.snapshot.sources.get(model.runs.source).map_or(&[], |s| &s.runs)
}

fn parts(model: &Model) -> Parts {
    let (w, h) = model.size;
    let side = if w >= 100 { 2 } else { 1 };
    let inner = Rect::new(
        side,
        2,
        w.saturating_sub(2 * side),
        h.saturating_sub(4 + crate::model::tour_rows(model)),
    );
    let words = (inner.width * 36 / 100).clamp(20.min(inner.width), 52);
    let state = inner.x + words + 1;
    let grid = state + 9;
    let all = runs(model);
    let room = usize::from(inner.right().saturating_sub(grid) / CELL).max(1);
    let chosen = model
        .runs
        .run
        .and_then(|run| all.iter().position(|r| r.run == run))
        .unwrap_or(all.len().saturating_sub(1));
    let shown = room.min(all.len());
    // The newest are shown, unless an earlier one is chosen.
    let first = (all.len() - shown).min(chosen);
    let roomy = h >= 30;
    Parts {
        inner,
        state,
        runs: grid,
        first,
        shown,
        body: inner.y + if roomy { 8 } else { 6 },
        gap: u16::from(roomy),
    }
}

/// The run whose column is at a cell of the screen.
pub fn run_at(model: &Model, column: u16) -> Option<u32> {
    let parts = parts(model);
    let at = usize::from(column.checked_sub(parts.runs)? / CELL);
    runs(model).get(parts.first + at).filter(|_| at < parts.shown).map(|r| r.run)
}

/// The group at a row of the screen.
pub fn run_row_at(model: &Model, row: u16) -> Option<GroupId> {
    let parts = parts(model);
    let into = usize::from(row.checked_sub(parts.body)? / (ROWS + parts.gap));
    let (first, fits) = window(model, &parts);
    model.order.get(first + into).filter(|_| into < fits).copied()
}

/// First group shown, and how many fit.
fn window(model: &Model, parts: &Parts) -> (usize, usize) {
    let fits =
        usize::from(parts.inner.bottom().saturating_sub(parts.body) / (ROWS + parts.gap)).max(1);
    let chosen =
        model.selected().and_then(|g| model.order.iter().position(|id| *id == g.id)).unwrap_or(0);
    ((chosen + 1).saturating_sub(fits), fits)
}

/// Draws the room into `area`; what finds no room there is left out.
pub fn draw(model: &Model, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let parts = parts(model);
    let inner = parts.inner;
    let Some(source) = model.shown.snapshot.sources.get(model.runs.source) else {
        put(
            buf,
            inner.x,
            inner.y,
            inner.width,
            &[(
                "Each run of what is watched will be a column here, each error and warning a row.",
                theme.ink(Ink::Smoke),
            )],
        );
        return;
    };
    headline(model, Rect::new(inner.x, inner.y, inner.width, 1), buf);
    let all = runs(model);
    let many = model.shown.snapshot.sources.len();
    let span = all
        .first()
        .and_then(|r| r.started)
        .map(|first| in_days(first, model.shown.snapshot.now))
        .unwrap_or_default();
    let which = if many > 1 {
        format!(" ({} of {many} sources, Tab)", model.runs.source + 1)
    } else {
        String::new()
    };
    let words = format!(
        "{}{which}   {}{span}",
        safe(&source.name),
        counted(all.len() as u64, "run", "runs")
    );
    title(buf, theme, Rect::new(inner.x, inner.y + 2, inner.width, 1), "Runs", true, &words);
    head(model, &parts, buf);
    if model.order.is_empty() {
        let words = if model.filter.phrase.is_some() {
            "No mistake of this source passes the filter."
        } else {
            "No error and no warning in any run of this source."
        };
        put(buf, inner.x, parts.body, inner.width, &[(words, theme.ink(Ink::Smoke))]);
    }
    let (first, fits) = window(model, &parts);
    let selected = model.selected().map(|g| g.id);
    let listed: Vec<_> = model.listed().collect();
    for (at, group) in listed.iter().skip(first).take(fits).enumerate() {
        let y = parts.body + at as u16 * (ROWS + parts.gap);
        row(model, &parts, group, y, Some(group.id) == selected, buf);
    }
    let hidden = listed.len().saturating_sub(first + fits);
    if hidden > 0 {
        put_right(
            buf,
            inner.right(),
            inner.bottom().min(area.bottom()) - 1,
            inner.width,
            &[(&format!(" {hidden} more below"), theme.ink(Ink::Smoke))],
        );
    }
}

fn in_days(first: Millis, now: Millis) -> String {
    match now.since(first) / 86_400_000 {
        0 => " today".into(),
        days => format!(" in {} days", days + 1),
    }
}

/// What the last change brought.
fn headline(model: &Model, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let groups: Vec<_> = model
        .shown
        .snapshot
        .groups
        .iter()
        .filter(|g| g.tellers.contains(&model.runs.source) && !g.muted && model.passes(g))
        .collect();
    let count = |state: State| groups.iter().filter(|g| g.state == state).count() as u64;
    let (quiet, new, back, still) =
        (count(State::Quiet), count(State::New), count(State::Back), count(State::Still));
    let smoke = theme.ink(Ink::Smoke);
    let all = runs(model);
    let changed = all.iter().rev().find(|r| !r.edits.is_empty());
    if all.is_empty() {
        let name = model.shown.snapshot.sources.get(model.runs.source).map(|s| safe(&s.name));
        let waits = name.map(|n| format!("  {n} is waited for.")).unwrap_or_default();
        let pieces = [("No run yet.", theme.ink(Ink::Chalk)), (waits.as_str(), smoke)];
        put(buf, area.x, area.y, area.width, &pieces);
        return;
    }
    let lead = if changed.is_some() { "Since your last change" } else { "In this run" };
    let of = if model.filter.phrase.is_some() { ", of what the filter lets through" } else { "" };
    let mut pieces: Vec<(String, Style)> = vec![(format!("{lead}{of}  "), smoke)];
    let loud = |ink: Ink| theme.ink(ink).add_modifier(Modifier::BOLD);
    // What went quiet before the last change is no news of it.
    let since = changed.map_or(0, |r| r.run);
    let gone =
        groups.iter().filter(|g| g.state == State::Quiet && g.last_run + 1 >= since.max(1)).count()
            as u64;
    let told = [
        (new, "new", Ink::Ember),
        (back, "back", Ink::Ember),
        (if changed.is_some() { gone } else { quiet }, "gone quiet", Ink::Moss),
        (still, "still here", Ink::Chalk),
    ];
    let told: Vec<_> = told.into_iter().filter(|(n, ..)| *n > 0).collect();
    if told.is_empty() {
        pieces.push(("nothing is wrong".into(), loud(Ink::Moss)));
    }
    for (at, (n, word, ink)) in told.iter().enumerate() {
        pieces.push((format!("{}{n} {word}", if at > 0 { ", " } else { "" }), loud(*ink)));
    }
    pieces.push((".".into(), theme.ink(Ink::Chalk)));
    if let Some(run) = changed {
        let names: Vec<String> =
            run.edits.iter().take(3).map(|e| safe(e.rsplit('/').next().unwrap_or(e))).collect();
        let more = run.edits.len().saturating_sub(3);
        pieces.push(("  You changed ".into(), smoke));
        pieces.push((names.join(", "), theme.ink(Ink::Ice)));
        let tail = if more > 0 {
            format!(" and {more} more before run {}.", run.run)
        } else {
            format!(" before run {}.", run.run)
        };
        pieces.push((tail, smoke));
    }
    let pieces: Vec<(&str, Style)> = pieces.iter().map(|(t, s)| (t.as_str(), *s)).collect();
    put(buf, area.x, area.y, area.width, &pieces);
}

fn length(ms: u64) -> String {
    match ms / 1000 {
        s @ 0..60 => format!("{s}s"),
        s @ 60..3600 => format!("{}m", s / 60),
        s @ 3600..86_400 => format!("{}h", s / 3600),
        s => format!("{}d", s / 86_400),
    }
}

/// A count in at most five cells.
fn short(count: u64) -> String {
    match count {
        0..=9_999 => count.to_string(),
        10_000..=999_999 => format!("{}k", count / 1_000),
        1_000_000..=999_999_999 => format!("{}M", count / 1_000_000),
        _ => "999M".into(),
    }
}

/// Numbers of the runs, how long they ran, and how many files were changed before them.
fn head(model: &Model, parts: &Parts, buf: &mut Buffer) {
    let theme = model.theme;
    let y = parts.inner.y + if parts.gap > 0 { 4 } else { 3 };
    let smoke = theme.ink(Ink::Smoke);
    for (at, word) in ["run", "ran for", "changed"].iter().enumerate() {
        put(buf, parts.state, y + at as u16, 8, &[(word, smoke)]);
    }
    let newest = runs(model).last().map(|r| r.run);
    let chosen = model.runs.run.or(newest);
    for (at, run) in runs(model).iter().skip(parts.first).take(parts.shown).enumerate() {
        let right = parts.runs + (at as u16 + 1) * CELL - 1;
        let style =
            if Some(run.run) == chosen { theme.chosen_room() } else { theme.ink(Ink::Chalk) };
        let number = if Some(run.run) == chosen {
            format!(" {} ", run.run)
        } else {
            format!("{} ", run.run)
        };
        put_right(buf, right + 1, y, CELL, &[(&number, style)]);
        put_right(buf, right, y + 1, CELL, &[(&length(run.ran_ms), smoke)]);
        let edits = if run.edits.is_empty() {
            ("·".to_owned(), theme.ink(Ink::Ash))
        } else {
            (format!("▴{}", run.edits.len()), theme.ink(Ink::Heather))
        };
        put_right(buf, right, y + 2, CELL, &[(&edits.0, edits.1)]);
    }
    if parts.first > 0 {
        put(buf, parts.runs.saturating_sub(2), y, 2, &[("… ", smoke)]);
    }
}

fn row(model: &Model, parts: &Parts, group: &GroupView, y: u16, selected: bool, buf: &mut Buffer) {
    let theme = model.theme;
    let inner = parts.inner;
    if y + 1 > inner.bottom() {
        return;
    }
    if selected {
        buf.set_style(Rect::new(inner.x, y, inner.width, ROWS), theme.ground(Ground::Bench));
        if theme.signs_chosen_rows() {
            put(buf, inner.x.saturating_sub(1), y, 1, &[("›", Style::new())]);
        }
    }
    let quiet = group.state == State::Quiet;
    let (mark, ink) = sign(group.level());
    let indent = if group.hangs { 2 } else { 0 };
    let words = (parts.state - inner.x).saturating_sub(1 + indent);
    let loud = if selected { Modifier::BOLD } else { Modifier::empty() };
    let text =
        theme.ink(if quiet || group.muted { Ink::Smoke } else { Ink::Chalk }).add_modifier(loud);
    let head = if group.hangs { "╰ " } else { "" };
    let told = model.told(group);
    let words_of = told.short.to_string();
    let said = group.heading.as_deref().unwrap_or(&words_of);
    put(
        buf,
        inner.x + indent,
        y,
        words,
        &[(head, theme.ink(Ink::Smoke)), (mark, theme.ink(ink)), (" ", text), (&safe(said), text)],
    );
    let named = group.entry.place.as_ref().map(|p| (&p.file, p.line));
    let slip = told.slip.as_ref().map(|(file, line)| (file, Some(*line)));
    let place = slip.or(named).map_or(group.entry.no_place().to_owned(), |(file, line)| {
        let room = usize::from(words.saturating_sub(8));
        let file = izba_model::text::fit_path(file, room).into_owned();
        line.map_or(file.clone(), |line| format!("{file}:{line}"))
    });
    let place_ink = if group.is_own() { Ink::Ice } else { Ink::Smoke };
    put(
        buf,
        inner.x + indent + 2,
        y + 1,
        words.saturating_sub(2),
        &[(&safe(&place), theme.ink(place_ink))],
    );
    let state = if group.muted { "aside" } else { group.state.word() };
    let state_ink = if quiet {
        Ink::Moss
    } else if group.state == State::Still {
        Ink::Smoke
    } else {
        Ink::Chalk
    };
    put_right(buf, parts.runs - 1, y, 8, &[(state, theme.ink(state_ink))]);
    // One scale for all rows: a flood is warmer than what came once.
    let most =
        model.listed().flat_map(|g| g.runs.iter().map(|t| t.count)).max().unwrap_or(1).max(20)
            as f64;
    for (at, run) in runs(model).iter().skip(parts.first).take(parts.shown).enumerate() {
        let right = parts.runs + (at as u16 + 1) * CELL - 1;
        let count = group.runs.iter().find(|t| t.run == run.run).map_or(0, |t| t.count);
        if count == 0 {
            put_right(buf, right, y, CELL, &[("·", theme.ink(Ink::Ash))]);
            continue;
        }
        let share = ((count + 1) as f64).ln() / (most + 1.0).ln();
        let words = format!("{:>4} ", fit(&short(count), 4));
        put_right(buf, right + 1, y, CELL, &[(&words, heat(theme, ink, share))]);
    }
    let said = sentence(model, group);
    let room = inner.right().saturating_sub(parts.runs);
    let ink = if quiet { Ink::Moss } else { Ink::Smoke };
    // Where the columns are few the sentence begins further left.
    let x = if width_cells(&said) > usize::from(room) {
        inner
            .right()
            .saturating_sub(width_cells(&said) as u16)
            .max(inner.x + indent + 4 + width_cells(&place) as u16)
    } else {
        parts.runs
    };
    put(buf, x, y + 1, inner.right().saturating_sub(x), &[(&safe(&said), theme.ink(ink))]);
}

/// The ground of a count: the warmer the more.
fn heat(theme: Theme, ink: Ink, share: f64) -> Style {
    theme.warmth(ink, share)
}
