//! Why: the console's own words whole, what they mean here, and the exceptions behind it.

use super::pen::{put, safe, title};
use crate::model::{Model, Question};
use crate::theme::Ink;
use izba_core::suspect::Verdict;
use izba_core::text::wrap;
use izba_core::{GroupView, State};
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;

/// Rows that the pane could be scrolled by.
pub fn rows(model: &Model) -> usize {
    model.selected().map_or(0, |g| text(model, g, 60).len())
}

/// All words of the pane in one text.
pub fn whole(model: &Model, group: &GroupView) -> String {
    text(model, group, usize::MAX).into_iter().fold(String::new(), |all, (_, line)| all + &line + " ")
}

/// Lines of the pane: what they are, and their words.
fn text(model: &Model, group: &GroupView, width: usize) -> Vec<(Ink, String)> {
    let entry = &*group.entry;
    let report = &entry.report;
    let mut lines: Vec<(Ink, String)> = Vec::new();
    let mut labelled = |label: &str, words: &str, ink: Ink| {
        let indent = 9;
        for (at, line) in words.lines().flat_map(|l| wrap(&safe(l), width.saturating_sub(indent).max(10))).enumerate() {
            let head = if at == 0 { label } else { "" };
            lines.push((ink, format!("{head:<indent$}{line}")));
        }
    };
    let said = |kind: Option<&str>, message: &str| match (kind, message.is_empty()) {
        (Some(kind), false) => format!("{kind}: {message}"),
        (Some(kind), true) => kind.to_owned(),
        (None, _) => message.to_owned(),
    };
    labelled("It says", &said(report.kind.as_deref(), &report.message), Ink::Chalk);
    for detail in &report.details {
        labelled("", detail, Ink::Chalk);
    }
    if let Some(code) = &report.code {
        labelled("code", code, Ink::Chalk);
    }
    for cause in &report.causes {
        labelled("because", &said(cause.kind.as_deref(), &cause.message), Ink::Chalk);
    }
    // What it means comes first, then what was found out, then how to mend it; what is only usual stands below.
    let looked = model.findings(group).is_some();
    let paragraphs = &group.explanation.plain;
    for paragraph in paragraphs.iter().take(if looked { 1 } else { usize::MAX }) {
        lines.push((Ink::Smoke, String::new()));
        lines.extend(wrap(&safe(paragraph), width).into_iter().map(|l| (Ink::Smoke, l)));
    }
    reasons(model, group, width, &mut lines);
    ways(model, group, width, &mut lines);
    for paragraph in paragraphs.iter().skip(if looked { 1 } else { usize::MAX }) {
        lines.push((Ink::Smoke, String::new()));
        lines.extend(wrap(&safe(paragraph), width).into_iter().map(|l| (Ink::Smoke, l)));
    }
    let mut told: Vec<String> = Vec::new();
    if group.state == State::Quiet || group.state == State::Back || group.after_save.is_some() || group.hangs {
        told.push(capital(&format!("{}.", super::runs::sentence(model, group))));
    }
    for (what, names) in [("Called by", &group.callers), ("Objects", &group.objects)] {
        if names.len() > 1 {
            let listed: Vec<String> =
                names.iter().take(6).map(|(name, count)| format!("{} {}×", safe(name), izba_core::answer::thousands(*count))).collect();
            let more = names.len().saturating_sub(6);
            told.push(format!("{what}: {}{}.", listed.join(", "), if more > 0 { format!(" and {more} more") } else { String::new() }));
        }
    }
    if group.tellers.len() > 1 {
        let names: Vec<String> = group.tellers.iter().filter_map(|at| model.shown.snapshot.sources.get(*at)).map(|s| safe(&s.name)).collect();
        told.push(format!("Told by {}; what they tell together is counted once.", names.join(" and ")));
    }
    told.push(group.reason.clone());
    for sentence in told.iter().filter(|s| !s.is_empty()) {
        lines.push((Ink::Smoke, String::new()));
        lines.extend(wrap(sentence, width).into_iter().map(|l| (Ink::Smoke, l)));
    }
    lines
}

/// The reasons that were looked into, each with its verdict and what was seen.
fn reasons(model: &Model, group: &GroupView, width: usize, lines: &mut Vec<(Ink, String)>) {
    let Some(findings) = model.findings(group) else { return };
    let known = &model.live.known;
    let mut first = true;
    for reason in &findings.reasons {
        // What the user has ruled out is told as that.
        let by_user = findings.suspects.iter().any(|s| s.reason == reason.text && known.contains(&Model::suspect_key(group, s)));
        let (sign, word) = match reason.verdict {
            _ if by_user => ("○", "ruled out by you"),
            Verdict::Likely => ("●", "likely"),
            Verdict::CantTell => ("◐", "can't tell"),
            Verdict::RuledOut => ("○", "ruled out"),
        };
        if first {
            lines.push((Ink::Smoke, String::new()));
            first = false;
        }
        let ink = if reason.verdict == Verdict::Likely && !by_user { Ink::Slate } else { Ink::Smoke };
        let text = format!("{word}: {}", safe(&reason.text));
        for (at, line) in wrap(&text, width.saturating_sub(2)).into_iter().enumerate() {
            lines.push((ink, format!("{} {line}", if at == 0 { sign } else { " " })));
        }
        for seen in reason.evidence.iter().take(3) {
            let place = match seen.line {
                0 => safe(&seen.file),
                line => format!("{}:{line}", safe(&seen.file)),
            };
            let told = izba_core::text::fit(&format!("{place}  {}", safe(&seen.saw)), width.saturating_sub(4)).into_owned();
            lines.push((Ink::Ash, format!("    {told}")));
        }
    }
}

/// The quick way to mend it and the right one, told apart.
fn ways(model: &Model, group: &GroupView, width: usize, lines: &mut Vec<(Ink, String)>) {
    let Some(ways) = model.findings(group).and_then(|f| f.ways.as_ref()) else { return };
    lines.push((Ink::Smoke, String::new()));
    let sketch = ways.sketch.as_ref().map(|s| format!("for example  {s}"));
    for (label, words) in [("quick way", Some(&ways.quick)), ("", sketch.as_ref()), ("right way", Some(&ways.right))] {
        let Some(words) = words else { continue };
        for (at, line) in wrap(&safe(words), width.saturating_sub(11).max(10)).into_iter().enumerate() {
            lines.push((Ink::Slate, format!("{:<11}{line}", if at == 0 { label } else { "" })));
        }
    }
}

fn capital(sentence: &str) -> String {
    let mut chars = sentence.chars();
    chars.next().map_or_else(String::new, |c| c.to_uppercase().collect::<String>() + chars.as_str())
}

/// Draws the pane.
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
    title(buf, theme, area, "Why", focused, group.entry.family.title);
    let y = area.y + 1 + u16::from(area.height >= 10);
    let lines = text(model, group, usize::from(area.width.min(100)));
    let room = usize::from(area.bottom().saturating_sub(y));
    let scroll = model.scroll.1.min(lines.len().saturating_sub(room));
    for (at, (ink, line)) in lines.iter().skip(scroll).take(room).enumerate() {
        let row = y + at as u16;
        // The label steps back behind what the console said.
        let (label, words) = if *ink == Ink::Chalk && line.len() >= 9 && line.is_char_boundary(9) { line.split_at(9) } else { ("", line.as_str()) };
        put(buf, area.x, row, area.width, &[(label, theme.ink(Ink::Smoke)), (words, theme.ink(if label.is_empty() { Ink::Chalk } else { *ink }))]);
    }
    let below = lines.len().saturating_sub(scroll + room);
    if below > 0 {
        let words = format!(" {below} more ↓ ");
        super::pen::put_right(buf, area.right(), area.bottom() - 1, area.width, &[(&words, theme.ink(Ink::Smoke))]);
    }
}
