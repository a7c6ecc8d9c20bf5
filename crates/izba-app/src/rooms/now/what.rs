//! What: the groups. The count leads, then what it says, its place and object, and its state as
//! half a sentence.

use crate::model::{Model, Question, list_head, list_shape};
use crate::parts::pen::{ago, clock, put, put_right, rate, safe, title};
use crate::parts::said::{sentence, sign};
use crate::theme::{Ground, Ink};
use izba_cause::explain::Explanation;
use izba_core::class::Met;
use izba_core::group::Verdict;
use izba_core::{GroupBy, GroupId, GroupView, State};
use izba_model::text::fit_path;
use izba_model::text::{counted, thousands};
use izba_model::{Family, Level};
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::{Modifier, Style};
use std::sync::Arc;

/// The group at a row of the screen.
pub fn group_at(model: &Model, area: Rect, row: u16) -> Option<GroupId> {
    let into = row.checked_sub(area.y + list_head(area))?;
    model.order.get(list_shape(model, area).at(into)?).copied()
}

/// Draws the pane into `area`; what finds no room there is left out.
pub fn draw(model: &Model, area: Rect, buf: &mut Buffer) {
    if area.height == 0 {
        return;
    }
    let theme = model.theme;
    let focused = model.focus == Question::What;
    let (here, quiet) = model.tally();
    // The groups are those of this run, and so are the lines.
    let rows = model.shown.snapshot.sources.iter().map(|s| s.run_lines).sum();
    let mut words = format!(
        "{} in {}",
        counted(here as u64, "mistake", "mistakes"),
        counted(rows, "line", "lines")
    );
    let by = model.shown.snapshot.by;
    if by != GroupBy::Mistake {
        words = format!("a row for each {}, o changes that", by.word());
    }
    let (muted, follow, hidden) = model.left_out();
    let left_out = [
        (follow, "more caused by them"),
        (if model.peek { 0 } else { muted }, "set aside"),
        (if model.peek { 0 } else { hidden }, "filtered out"),
    ];
    for (count, word) in left_out.into_iter().filter(|(n, _)| *n > 0) {
        words.push_str(&format!(", {count} {word}"));
    }
    let overlooked = model.shown.snapshot.count_overlooked();
    if overlooked > 0 {
        words.push_str(&format!(", ? {overlooked} not understood"));
    }
    let urgent = model.more_urgent();
    if urgent > 0 {
        words = format!(
            "{} above, Esc goes there",
            counted(urgent as u64, "more important one", "more important ones")
        );
    }
    title(buf, theme, area, "What", focused, &words);
    if model.order.is_empty() && here + quiet + muted > 0 {
        let y = area.y + list_head(area);
        put(
            buf,
            area.x,
            y,
            area.width,
            &[("All is filtered out or set aside; p shows it.", theme.ink(Ink::Smoke))],
        );
        return;
    }
    if here + quiet + muted == 0 {
        let y = area.y + list_head(area);
        put(
            buf,
            area.x,
            y,
            area.width,
            &[("Errors and warnings will stand here, those alike as one.", theme.ink(Ink::Smoke))],
        );
        return;
    }
    let shape = list_shape(model, area);
    let selected = model.selected().map(|g| g.id);
    let top = area.y + list_head(area);
    let listed: Vec<_> = model.listed().collect();
    for (group, (y, high)) in listed.iter().skip(shape.first).zip(&shape.rows) {
        let y = top + y;
        let rows = Rect::new(area.x, y, area.width, (*high).min(area.bottom().saturating_sub(y)));
        item(model, group, rows, Some(group.id) == selected, buf);
    }
    let left = listed.get(shape.first + shape.fits()..).unwrap_or(&[]);
    if let Some(y) = shape.tail.map(|y| top + y).filter(|y| *y < area.bottom()) {
        let words = format!("↓ {}", fold_words(left));
        let x = area.x + count_column(area) + 3;
        put(buf, x, y, area.right().saturating_sub(x), &[(&words, theme.ink(Ink::Smoke))]);
    }
}

/// Cells in which the count stands.
fn count_column(area: Rect) -> u16 {
    8.min(area.width / 4)
}

/// What is not shown: how many, and of what kinds.
fn fold_words(left: &[&Arc<GroupView>]) -> String {
    let of = |fits: &dyn Fn(&GroupView) -> bool| left.iter().filter(|g| fits(g)).count() as u64;
    let now = |g: &GroupView| g.state != State::Quiet && !g.muted;
    let errors = of(&|g| now(g) && g.level() >= Level::Error);
    let warnings = of(&|g| now(g) && g.level() == Level::Warning);
    let quiet = of(&|g| g.state == State::Quiet && !g.muted);
    let aside = of(&|g| g.muted);
    let kinds = [
        (errors, counted(errors, "error", "errors")),
        (warnings, counted(warnings, "warning", "warnings")),
        (quiet, format!("{quiet} gone quiet")),
        (aside, format!("{aside} set aside")),
    ];
    let kinds: Vec<String> =
        kinds.into_iter().filter(|(count, _)| *count > 0).map(|(_, words)| words).collect();
    match kinds.as_slice() {
        [] => format!("{} more", left.len()),
        _ => format!("{} more: {}", left.len(), kinds.join(", ")),
    }
}

fn item(model: &Model, group: &GroupView, area: Rect, selected: bool, buf: &mut Buffer) {
    let theme = model.theme;
    if area.height == 0 {
        return;
    }
    let quiet = group.state == State::Quiet;
    if selected {
        buf.set_style(area, theme.ground(Ground::Bench));
        if theme.signs_chosen_rows() {
            put(buf, area.x, area.y, 1, &[("›", Style::new())]);
        }
    }
    let column = count_column(area);
    let loud = if selected { Modifier::BOLD } else { Modifier::empty() };
    if !quiet {
        put_right(
            buf,
            area.x + column,
            area.y,
            column,
            &[(&thousands(group.count), theme.ink(Ink::Chalk).add_modifier(loud))],
        );
        if let Some(rate) = rate(group.rate).filter(|_| group.count >= 5 && area.height > 1) {
            put_right(buf, area.x + column, area.y + 1, column, &[(&rate, theme.ink(Ink::Smoke))]);
        }
    }
    let (sign, ink) = if quiet { ("·", Ink::Moss) } else { sign(group.level()) };
    let indent = if group.hangs { 2 } else { 0 };
    let x = area.x + column + 1 + indent;
    if group.hangs {
        put(buf, x - 2, area.y, 2, &[("╰ ", theme.ink(Ink::Smoke))]);
    }
    let room = area.right().saturating_sub(x + 1);
    let quiet = quiet || group.muted;
    let words =
        if quiet { theme.ink(Ink::Smoke) } else { theme.ink(Ink::Chalk).add_modifier(loud) };
    let told = model.told(group);
    let said = match &group.heading {
        Some(heading) if model.shown.snapshot.by != GroupBy::Mistake => heading.clone(),
        Some(heading) => format!("{}: {heading}", told.short),
        None => told.short.to_string(),
    };
    let later =
        if model.peek || group.later_than.is_some() { 0 } else { model.later(group).count() };
    let said = match later {
        0 => said,
        n => format!("{said}, and {}", counted(n as u64, "more message", "more messages")),
    };
    let named = place(model, group, &told, usize::from(room / 2));
    let place_ink = if group.is_own() || told.slip.is_some() { Ink::Ice } else { Ink::Smoke };
    if area.height < 2 {
        // One line for all: what stands at its end is where to look.
        let at = put_right(buf, area.right() - 1, area.y, room, &[(&named, theme.ink(place_ink))]);
        let room = at.saturating_sub(x + 1);
        put(buf, x, area.y, room, &[(sign, theme.ink(ink)), (" ", words), (&safe(&said), words)]);
        return;
    }
    put(buf, x, area.y, room, &[(sign, theme.ink(ink)), (" ", words), (&safe(&said), words)]);
    let below = Rect::new(x + 2, area.y + 1, area.right().saturating_sub(x + 3), 1);
    second_line(model, group, (&named, place_ink), below, buf);
}

/// Where to look: the place that was found out, else the one that the console names.
fn place(model: &Model, group: &GroupView, told: &Explanation, room: usize) -> String {
    // What others met has its place in their folders.
    let theirs = model.shown.class.about(&group.entry.report.message).and_then(Met::place);
    if let Some(theirs) = theirs.filter(|_| !group.is_own()) {
        return safe(&fit_path(&theirs, room)).to_owned();
    }
    let speaker = group.entry.report.speaker.as_deref().filter(|_| group.foreign);
    let slip = told.slip.as_ref().map(|(file, line)| (file, Some(*line)));
    slip.or(group.entry.place.as_ref().map(|p| (&p.file, p.line))).map_or_else(
        || match speaker {
            Some(speaker) => format!("from {}, not yours", safe(speaker)),
            None => group.entry.no_place().to_owned(),
        },
        |(file, line)| {
            let name = file.rsplit('/').next().unwrap_or(file);
            let name = safe(&fit_path(name, room));
            line.map_or(name.clone(), |line| format!("{name}:{line}"))
        },
    )
}

/// The second line of a row: its place and object, and how it stands.
fn second_line(
    model: &Model,
    group: &GroupView,
    (place, place_ink): (&str, Ink),
    area: Rect,
    buf: &mut Buffer,
) {
    let theme = model.theme;
    let quiet = group.state == State::Quiet || group.muted;
    let object = match group.objects.as_slice() {
        [] => String::new(),
        [(one, _)] => format!("  {}", safe(one)),
        [(one, _), rest @ ..] => format!("  {} and {} more", safe(one), rest.len()),
    };
    let zoomed = model.zoom == Some(Question::What);
    let mut room = area.width;
    if let (true, Some(first), Some(last)) = (zoomed, group.first, group.last) {
        let times = format!(
            "first {}   last {}",
            clock(first, model.utc_offset),
            clock(last, model.utc_offset)
        );
        let at = put_right(buf, area.right(), area.y, room, &[(&times, theme.ink(Ink::Smoke))]);
        room = at.saturating_sub(area.x + 1);
    }
    // A steady stream is told by its rate; what is rarer by its last time.
    let last = group
        .last
        .filter(|_| !quiet && !zoomed && rate(group.rate).is_none_or(|_| group.count < 5));
    let last = last.map(|t| ago(t, model.shown.snapshot.now));
    let state = match (&last, group.state) {
        _ if group.muted => "set aside by you".into(),
        _ if !quiet && model.saved_since(group).is_some() => "saved since; a shows more".into(),
        _ if group.hangs && group.state != State::Quiet => sentence(model, group),
        (Some(ago), State::New) if group.after_save.is_some() => {
            format!("{}, {ago}", state(model, group))
        }
        (Some(ago), State::New) if group.count == 1 => format!("first met {ago}"),
        (Some(ago), _) => format!("{}, {ago}", state(model, group)),
        (None, _) => state(model, group),
    };
    // Of a class it matters most how many met it.
    let class = &model.shown.class;
    let state = class.about(&group.entry.report.message).map_or(state, |met| class.share(met));
    // Where not all fits, how it stands matters more than the object, which Where tells as well.
    let needed =
        [place, &object, &state].iter().map(|t| izba_model::text::width_cells(t)).sum::<usize>()
            + 2;
    let object = if needed > usize::from(room) { String::new() } else { object };
    put(
        buf,
        area.x,
        area.y,
        room,
        &[
            (place, theme.ink(place_ink)),
            (&object, theme.ink(Ink::Smoke)),
            ("  ", Style::new()),
            (&state, theme.ink(if quiet { Ink::Moss } else { Ink::Smoke })),
        ],
    );
}

/// The state as half a sentence.
fn state(model: &Model, group: &GroupView) -> String {
    let only_run = model.shown.snapshot.sources.get(group.source).is_none_or(|s| s.run <= 1);
    match group.state {
        State::New if group.after_save.is_some() => {
            let path = group.after_save.as_deref().unwrap_or_default();
            format!("right after {} was saved", safe(path.rsplit('/').next().unwrap_or(path)))
        }
        State::New if only_run => "first met in this run".into(),
        State::New => "new in this run".into(),
        State::Still => format!("met since run {}", group.first_run),
        State::Back if group.fixed.is_some() => "back: you had called it fixed".into(),
        State::Back => "back: it had been silent".into(),
        State::Quiet if group.entry.family == Family::DoesNotParse => {
            "quiet: read again without it".into()
        }
        State::Quiet if group.silence.is_some() => match group.silence.map(|s| s.verdict) {
            Some(Verdict::VeryLikely) => "quiet: very likely gone".into(),
            Some(Verdict::Likely) => "quiet: likely gone".into(),
            Some(Verdict::NothingChanged) => "quiet, but nothing was changed".into(),
            _ => "quiet: too early to say".into(),
        },
        State::Quiet if model.shown.snapshot.got_past(group) => {
            "quiet: this run went to its end".into()
        }
        State::Quiet if group.count == 1 => format!("quiet; once in run {}", group.last_run),
        State::Quiet => {
            format!("quiet; {} times in run {}", thousands(group.count), group.last_run)
        }
    }
}
