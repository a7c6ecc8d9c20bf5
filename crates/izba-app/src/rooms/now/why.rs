//! Why: the console's own words whole, what they mean here, and the exceptions behind it.

use crate::model::{Model, Question};
use crate::parts::pen::{capital, put, safe, title};
use crate::theme::Ink;
use izba_core::{GroupView, State};
use izba_model::claim::Verdict;
use izba_model::text::{width_cells, wrap};
use izba_watch::cornering::is_proved;
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;

/// Later messages about a script that are told in the row of the first.
const LATER: usize = 6;

/// Rows that the pane could be scrolled by.
pub fn rows(model: &Model) -> usize {
    model.selected().map_or(0, |g| text(model, g, 60).len())
}

/// All words of the pane in one text.
pub fn whole(model: &Model, group: &GroupView) -> String {
    let words = |row: Row| row.into_iter().map(|(_, part)| part).collect::<String>();
    text(model, group, usize::MAX)
        .into_iter()
        .fold(String::new(), |all, row| all + &words(row) + " ")
}

/// The words of the pane, line by line.
pub fn lines(model: &Model, group: &GroupView, width: usize) -> Vec<String> {
    let words = |row: Row| row.into_iter().map(|(_, part)| part).collect::<String>();
    text(model, group, width).into_iter().map(words).filter(|l| !l.trim().is_empty()).collect()
}

/// One row: parts, each with its ink.
type Row = Vec<(Ink, String)>;

fn paragraph(lines: &mut Vec<Row>, ink: Ink, words: &str, width: usize) {
    lines.push(Row::new());
    lines.extend(wrap(words, width).into_iter().map(|line| vec![(ink, line)]));
}

/// Rows of the pane.
fn text(model: &Model, group: &GroupView, width: usize) -> Vec<Row> {
    let entry = &*group.entry;
    let report = &entry.report;
    let mut lines: Vec<Row> = Vec::new();
    let mut labelled = |label: &str, words: &str| {
        let indent = 9;
        for (at, line) in words
            .lines()
            .flat_map(|l| wrap(&safe(l), width.saturating_sub(indent).max(10)))
            .enumerate()
        {
            let head = if at == 0 { label } else { "" };
            lines.push(vec![(Ink::Smoke, format!("{head:<indent$}")), (Ink::Chalk, line)]);
        }
    };
    let said = |kind: Option<&str>, message: &str| match (kind, message.is_empty()) {
        (Some(kind), false) => format!("{kind}: {message}"),
        (Some(kind), true) => kind.to_owned(),
        (None, _) => message.to_owned(),
    };
    labelled("It says", &said(report.kind.as_deref(), &report.message));
    for detail in &report.details {
        labelled("", detail);
    }
    if let Some(code) = &report.code {
        labelled("code", code);
    }
    for cause in &report.causes {
        labelled("because", &said(cause.kind.as_deref(), &cause.message));
    }
    // What the user knows of it comes before all that can be guessed.
    if let Some((met, meant)) = crate::rooms::notes::view::offer(model, group) {
        paragraph(&mut lines, Ink::Heather, &met, width);
        lines.extend(
            meant
                .into_iter()
                .flat_map(|m| wrap(&format!("“{m}”"), width))
                .map(|l| vec![(Ink::Chalk, l)]),
        );
    }
    // What it means comes first, then what was found out, then how to mend it; what is only usual
    // stands below, where nothing likely was found.
    let found = model.findings(group);
    let said = model.told(group);
    // What was said of lines that are changed is said of nothing that is still there.
    let holds = model.holds(group);
    if holds {
        for words in &said.plain {
            paragraph(&mut lines, Ink::Chalk, &safe(&words.to_string()), width);
        }
        reasons(model, group, width, &mut lines);
        ways(model, group, width, &mut lines);
    }
    later(model, group, width, &mut lines);
    let likely = found.is_some_and(|f| f.reasons.iter().any(|r| r.verdict == Verdict::Likely));
    for words in said.advice.iter().filter(|_| holds && !likely) {
        paragraph(&mut lines, Ink::Smoke, &safe(&words.to_string()), width);
    }
    let mut told: Vec<String> = Vec::new();
    if group.state == State::Quiet
        || group.state == State::Back
        || group.after_save.is_some()
        || group.hangs
    {
        told.push(capital(&format!("{}.", crate::parts::said::sentence(model, group))));
    }
    for (what, names) in [("Called by", &group.callers), ("Objects", &group.objects)] {
        if names.len() > 1 {
            let listed: Vec<String> = names
                .iter()
                .take(6)
                .map(|(name, count)| {
                    format!("{} {}×", safe(name), izba_model::text::thousands(*count))
                })
                .collect();
            let more = names.len().saturating_sub(6);
            told.push(format!(
                "{what}: {}{}.",
                listed.join(", "),
                if more > 0 { format!(" and {more} more") } else { String::new() }
            ));
        }
    }
    if group.tellers.len() > 1 {
        let names: Vec<String> = group
            .tellers
            .iter()
            .filter_map(|at| model.shown.snapshot.sources.get(*at))
            .map(|s| safe(&s.name))
            .collect();
        told.push(format!(
            "Told by {}; what they tell together is counted once.",
            names.join(" and ")
        ));
    }
    told.push(group.reason.clone());
    for sentence in told.iter().filter(|s| !s.is_empty()) {
        paragraph(&mut lines, Ink::Smoke, sentence, width);
    }
    lines
}

/// The reasons that were looked into, each with its verdict and what was seen.
fn reasons(model: &Model, group: &GroupView, width: usize, lines: &mut Vec<Row>) {
    let Some(findings) = model.findings(group) else { return };
    let known = &model.live.known;
    let mut first = true;
    for reason in &findings.reasons {
        // What the user has ruled out is told as that.
        let by_user = findings.suspects.iter().any(|s| {
            s.claim.says == reason.claim.says && known.contains(&Model::suspect_key(group, s))
        });
        let (sign, word) = match reason.verdict {
            _ if by_user => ("○", "ruled out by you"),
            Verdict::Likely if is_proved(&reason.claim) => ("●", "proved in a trial"),
            Verdict::Likely => ("●", "likely"),
            Verdict::CantTell => ("◐", "can't tell"),
            Verdict::RuledOut => ("○", "ruled out"),
        };
        if first {
            lines.push(Row::new());
            first = false;
        }
        let ink =
            if reason.verdict == Verdict::Likely && !by_user { Ink::Chalk } else { Ink::Smoke };
        let text = format!("{word}: {}", safe(&reason.text()));
        for (at, line) in wrap(&text, width.saturating_sub(2)).into_iter().enumerate() {
            lines.push(vec![(ink, format!("{} {line}", if at == 0 { sign } else { " " }))]);
        }
        for seen in reason.claim.evidence.iter().take(3) {
            let place = match seen.line {
                0 => safe(&seen.file),
                line => format!("{}:{line}", safe(&seen.file)),
            };
            let told = izba_model::text::fit(
                &safe(&seen.saw.to_string()),
                width.saturating_sub(6 + width_cells(&place)),
            )
            .into_owned();
            lines.push(vec![(Ink::Ice, format!("    {place}")), (Ink::Smoke, format!("  {told}"))]);
        }
    }
}

/// The quick way to fix it and the right one, told apart; or the one way there is.
fn ways(model: &Model, group: &GroupView, width: usize, lines: &mut Vec<Row>) {
    // What only follows another goes with it.
    let found = model.findings(group).filter(|_| !group.hangs);
    let Some(ways) = found.and_then(|f| f.ways.as_ref()) else { return };
    lines.push(Row::new());
    let edit = model
        .fix_shown(group)
        .map(|f| format!("{}  (m shows it, and makes it)", f.fix.says(&f.text)));
    let sketch = ways.sketch.as_ref().filter(|_| edit.is_none());
    let sketch = sketch.map(|s| format!("for example  {s}"));
    let right = if ways.quick.is_some() { "right way" } else { "to fix it" };
    let (under_quick, under_right) = match ways.quick {
        Some(_) => (sketch.as_ref(), None),
        None => (None, sketch.as_ref()),
    };
    let rows = [
        ("quick way", ways.quick.as_ref()),
        ("", under_quick),
        ("the edit", edit.as_ref()),
        (right, Some(&ways.right)),
        ("", under_right),
    ];
    for (label, words) in rows {
        let Some(words) = words else { continue };
        for (at, line) in
            wrap(&safe(words), width.saturating_sub(11).max(10)).into_iter().enumerate()
        {
            lines.push(vec![
                (Ink::Smoke, format!("{:<11}", if at == 0 { label } else { "" })),
                (Ink::Chalk, line),
            ]);
        }
    }
}

/// The later messages about a script that cannot be read, or what came of an error elsewhere: they
/// are one row with the first.
fn later(model: &Model, group: &GroupView, width: usize, lines: &mut Vec<Row>) {
    let all: Vec<_> = model.later(group).collect();
    if all.is_empty() {
        return;
    }
    let file = group.entry.family == izba_model::Family::DoesNotParse;
    let told = match all.len() {
        _ if !file => "What came of it, as other lines tell:".to_owned(),
        1 => "One more message about this file, which may only come of the first:".to_owned(),
        n => format!("{n} more messages about this file, which may only come of the first:"),
    };
    paragraph(lines, Ink::Smoke, &told, width);
    for one in all.iter().take(LATER) {
        let place = one.entry.place.as_ref();
        let line = match place.and_then(|p| Some((p, p.line?))) {
            Some((_, line)) if file => format!("line {line}"),
            Some((place, line)) => {
                format!("{}:{line}", place.file.rsplit('/').next().unwrap_or_default())
            }
            None => String::new(),
        };
        let room = width.saturating_sub(13);
        let said = izba_model::text::fit(&safe(&one.entry.report.message), room).into_owned();
        lines.push(vec![(Ink::Ice, format!("  {line:<10} ")), (Ink::Smoke, said)]);
    }
    if all.len() > LATER {
        lines.push(vec![(
            Ink::Smoke,
            format!("  and {} more; p lists them all", all.len() - LATER),
        )]);
    }
}

/// Draws the pane into `area`; what finds no room there is left out.
pub fn draw(model: &Model, area: Rect, buf: &mut Buffer) {
    if area.height < 2 || area.width < 12 {
        return;
    }
    let theme = model.theme;
    let focused = model.focus == Question::Why;
    let Some(group) = model.selected() else {
        title(buf, theme, area, "Why", focused, "");
        return;
    };
    title(buf, theme, area, "Why", focused, group.entry.family.title());
    let y = area.y + 1 + u16::from(area.height >= 10);
    let lines = text(model, group, usize::from(area.width.min(100)));
    let room = usize::from(area.bottom().saturating_sub(y));
    let scroll = model.scroll.1.min(lines.len().saturating_sub(room));
    for (at, row) in lines.iter().skip(scroll).take(room).enumerate() {
        let parts: Vec<(&str, ratatui::style::Style)> =
            row.iter().map(|(ink, words)| (words.as_str(), theme.ink(*ink))).collect();
        put(buf, area.x, y + at as u16, area.width, &parts);
    }
    let below = lines.len().saturating_sub(scroll + room);
    if below > 0 {
        let words = format!(" {below} more ↓ ");
        crate::parts::pen::put_right(
            buf,
            area.right(),
            area.bottom() - 1,
            area.width,
            &[(&words, theme.ink(Ink::Smoke))],
        );
    }
}
