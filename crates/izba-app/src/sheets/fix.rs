//! The sheet of the exact edit: the lines as they are and as they would be, before anything is done.

use crate::model::{FixSheet, Model};
use crate::parts::effect::Effect;
use crate::parts::pen::{capital, put, safe, sheet};
use crate::parts::sheet::Sheet;
use crate::theme::{Ground, Ink};
use izba_model::claim::Change;
use izba_model::text::wrap;
use izba_watch::cornering::Edits;
use izba_watch::{Corner, CornerFor, Order};
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::Modifier;

/// The width of the sheet.
const WIDTH: u16 = 110;
/// Lines shown round each change, and rows of one change at most.
const AROUND: u32 = 2;
const ROWS: usize = 12;

impl Sheet for FixSheet {
    const CLOSED_BY: &'static [&'static str] = &["Esc", "q"];

    fn draw(&self, model: &Model, area: Rect, buf: &mut Buffer) {
        draw(model, self, area, buf);
    }

    fn on_key(self, model: &mut Model, key: &str) -> Vec<Effect> {
        match key {
            "Enter" | "m" => vec![Effect::MakeEdit(Box::new(self.fix), self.text)],
            "t" => {
                let group = model.selected().cloned();
                let order = group.map(|group| {
                    // This one first; where it does not hold, the others in their order.
                    let found = model.findings(&group);
                    let edits = found.map(|f| Edits::of(f, 0.0)).unwrap_or_default();
                    let edits = edits.beginning_with(&self.own);
                    Effect::Order(Order::Corner(group.id, CornerFor::Fixes(edits)))
                });
                self.stay(model);
                order.into_iter().collect()
            }
            "a" => {
                let everywhere = model.fix_everywhere(&self.own);
                let fix = match everywhere {
                    Some(fix) if fix != self.fix => fix,
                    _ => self.own.clone(),
                };
                FixSheet { fix, ..self }.stay(model)
            }
            "T" => {
                let order = Order::TryAlone(!model.shown.tries_alone);
                self.stay(model);
                vec![Effect::Order(order)]
            }
            "s" => {
                self.stay(model);
                vec![Effect::Order(Order::StopCorner)]
            }
            _ => self.stay(model),
        }
    }
}

/// A row of the sheet: a number or nothing, a sign, a text.
type Line = (String, &'static str, String, Ink);

fn lines(state: &FixSheet, change: &Change) -> Vec<Line> {
    let all: Vec<&str> = state.text.lines().collect();
    let numbered = |n: u32| {
        let text = all.get(n as usize - 1).copied().unwrap_or("");
        (n.to_string(), " ", safe(text), Ink::Smoke)
    };
    let end = change.line + change.before.len() as u32;
    let mut rows: Vec<Line> =
        (change.line.saturating_sub(AROUND).max(1)..change.line).map(numbered).collect();
    let before = (change.line..).zip(&change.before);
    rows.extend(before.map(|(n, text)| (n.to_string(), "-", safe(text), Ink::Ember)));
    rows.extend(change.after.iter().map(|text| (String::new(), "+", safe(text), Ink::Moss)));
    rows.extend((end..end + AROUND).filter(|n| *n as usize <= all.len()).map(numbered));
    rows.truncate(ROWS);
    rows
}

fn draw(model: &Model, state: &FixSheet, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let changes = state.fix.changes(&state.text);
    let rows: Vec<Vec<Line>> = changes.iter().map(|c| lines(state, c)).collect();
    let width = usize::from(WIDTH.min(area.width)).saturating_sub(8);
    let said = wrap(&safe(&capital(&state.fix.says(&state.text))), width);
    let tried = tried(model, state);
    let doubt = match state.likely || tried.1 == Ink::Moss {
        true => "Nothing is changed before you say so; u takes it back.",
        false => "This is possible, not likely: look at it before you make it. u takes it back.",
    };
    let trial = wrap(&safe(&tried.0), width);
    let high = trial.len() + said.len() + rows.iter().map(|r| r.len() + 1).sum::<usize>() + 7;
    let name = safe(&state.fix.file);
    let inner = sheet(model, area, WIDTH, high as u16, "The edit", &name, buf);
    let (smoke, chalk) = (theme.ink(Ink::Smoke), theme.ink(Ink::Chalk));
    let mut y = inner.y;
    let mut line = |pieces: &[(&str, ratatui::style::Style)], bench: bool, buf: &mut Buffer| {
        if y < inner.bottom().saturating_sub(1) {
            if bench {
                buf.set_style(Rect::new(inner.x, y, inner.width, 1), theme.ground(Ground::Bench));
            }
            put(buf, inner.x, y, inner.width, pieces);
        }
        y += 1;
    };
    for words in &said {
        line(&[(words, chalk.add_modifier(Modifier::BOLD))], false, buf);
    }
    for change in &rows {
        line(&[], false, buf);
        for (number, sign, text, ink) in change {
            let ink = theme.ink(*ink);
            let text_ink = if *sign == " " { smoke } else { chalk };
            let pieces = [
                (&*format!("{number:>5} "), smoke),
                (*sign, ink),
                (" ", smoke),
                (text.as_str(), text_ink),
            ];
            line(&pieces, *sign != " ", buf);
        }
    }
    line(&[], false, buf);
    for words in &trial {
        line(&[(words, theme.ink(tried.1))], false, buf);
    }
    line(&[(doubt, smoke)], false, buf);
    let key = theme.ink(Ink::Ice).add_modifier(Modifier::BOLD);
    let always = match model.shown.tries_alone {
        true => " not by itself   ",
        false => " always here   ",
    };
    let everywhere = match model.fix_everywhere(&state.own) {
        Some(_) if state.fix != state.own => ("a", " only here   "),
        Some(_) => ("a", " in all places   "),
        None => ("", ""),
    };
    let keys = [
        ("Enter", key),
        (" makes it   ", smoke),
        (everywhere.0, key),
        (everywhere.1, smoke),
        ("t", key),
        (" tries it in a copy   ", smoke),
        ("T", key),
        (always, smoke),
        ("Esc", key),
        (" leaves it", smoke),
    ];
    put(buf, inner.x, inner.bottom().saturating_sub(1), inner.width, &keys);
}

/// What is known of a trial of this edit, and in which ink.
fn tried(model: &Model, state: &FixSheet) -> (String, Ink) {
    let offer = "A trial runs a copy of the project with it. What the program does outside its folder, \
        it does then too.";
    let here =
        model.live.corner.as_ref().filter(|c| model.selected().is_some_and(|g| g.holds(c.group)));
    match here.map(|c| &c.how) {
        Some(Corner::Trying(trials)) if trials.trying.is_empty() => (
            "trying it: first the error has to come in a copy as it is …   s stops".into(),
            Ink::Ice,
        ),
        Some(Corner::Trying(trials)) if trials.done > 0 => {
            let words =
                "with it the error is not gone; the copy runs with another edit …   s stops";
            (words.into(), Ink::Ice)
        }
        Some(Corner::Trying(_)) => {
            ("trying it: the copy runs with the edit …   s stops".into(), Ink::Ice)
        }
        Some(Corner::Failed(why)) => (format!("it could not be tried: {why}"), Ink::Straw),
        Some(Corner::Tried(all)) => match all.iter().find(|t| t.fix == state.own) {
            Some(tried) if tried.holds() => (tried.sentence(), Ink::Moss),
            Some(tried) => {
                let other = all.iter().find(|t| t.holds());
                let other = other.map_or(String::new(), |t| {
                    format!(". But with another edit it is gone: Esc, then m shows it ({})", t.says)
                });
                (tried.sentence() + &other, Ink::Straw)
            }
            None => (offer.into(), Ink::Smoke),
        },
        _ => (offer.into(), Ink::Smoke),
    }
}
