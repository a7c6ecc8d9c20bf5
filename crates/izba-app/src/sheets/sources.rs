//! The sheet of sources: what is watched and how it goes; while there is none, what could be.

use crate::model::{Model, Sources};
use crate::parts::effect::{Effect, say};
use crate::parts::input::edit_input;
use crate::parts::pen::{ago, lasting, put, put_right, safe, sheet};
use crate::parts::sheet::Sheet;
use crate::theme::{Ground, Ink};
use izba_core::{LineRef, RunMark, SourceView};
use izba_model::text::{counted, thousands};
use izba_watch::kinds::KINDS;
use izba_watch::{Order, SourceState};
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::{Modifier, Style};
use tui_input::Input;

/// Opens the sheet.
pub(crate) fn open(model: &mut Model) {
    // What can be watched besides is what one comes for.
    let sources = model.live.snapshot.sources.len();
    let chosen = if model.live.page_told.is_some() { sources } else { 0 };
    model.overlay = Some(Sources { chosen, ..Sources::default() }.into());
}

impl Sheet for Sources {
    const CLOSED_BY: &'static [&'static str] = &[];
    const INTERRUPTS: bool = false;

    fn draw(&self, model: &Model, area: Rect, buf: &mut Buffer) {
        sources(model, self, area, buf);
    }

    fn on_key(mut self, model: &mut Model, key: &str) -> Vec<Effect> {
        if let Some(input) = &mut self.adding {
            match key {
                "Esc" | "Ctrl+C" => self.adding = None,
                "Enter" if !input.value().trim().is_empty() => {
                    let typed = input.value().trim().to_owned();
                    self.adding = None;
                    self.stay(model);
                    return vec![Effect::Order(Order::Add(typed))];
                }
                _ => edit_input(input, key),
            }
            self.stay(model);
            return Vec::new();
        }
        let sources = model.live.snapshot.sources.len();
        let told = model.live.page_told.clone().filter(|_| sources > 0);
        let rows = match sources {
            0 => model.offers.len() + model.earlier.len() + 1,
            _ => sources + usize::from(told.is_some()),
        };
        self.chosen = self.chosen.min(rows.saturating_sub(1));
        let chosen = self.chosen;
        let mut effects = Vec::new();
        match key {
            "Esc" | "c" => return Vec::new(),
            "q" | "Ctrl+C" => return vec![Effect::Act(crate::keymap::Action::Quit)],
            "↑" | "k" => self.chosen = chosen.saturating_sub(1),
            "↓" | "j" => self.chosen = (chosen + 1).min(rows.saturating_sub(1)),
            "+" => self.adding = Some(Input::default()),
            "Enter" if sources == 0 => match model.offers.get(chosen) {
                // What was chosen is watched, and the sheet has done its work.
                Some(offer) => return vec![Effect::Order(Order::Add(offer.clone()))],
                None => match model.earlier.get(chosen - model.offers.len()) {
                    // Whoever comes back from it finds the sheet again.
                    Some(run) => {
                        effects.push(Effect::Order(Order::OpenRun(run.source.clone(), run.run)))
                    }
                    None => self.adding = Some(Input::default()),
                },
            },
            "Enter" if chosen == sources => {
                effects.extend(told.map(|url| Effect::Order(Order::Add(format!("page {url}")))));
            }
            "Enter" => {
                let last = model.live.snapshot.sources[chosen].lines;
                if last > 0 {
                    return vec![Effect::Order(Order::RowOf(LineRef {
                        source: izba_core::SourceId(chosen),
                        line: last - 1,
                    }))];
                }
                say(model, "it has said nothing yet");
            }
            "Space" | "Delete" | "x" if chosen == sources && sources > 0 => {}
            "Space" if sources > 0 => effects.push(Effect::Order(Order::HoldSource(chosen))),
            "Delete" | "x" if sources > 0 => effects.push(Effect::Order(Order::TakeAway(chosen))),
            "w" if sources > 0 => effects.push(Effect::Order(Order::Keep)),
            _ => {}
        }
        self.stay(model);
        effects
    }

    fn input(&mut self) -> Option<&mut Input> {
        self.adding.as_mut()
    }
}

fn sources(model: &Model, state: &Sources, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let all = &model.live.snapshot.sources;
    let offered = all.is_empty();
    let titled = if model.earlier.is_empty() { 0 } else { 2 };
    let offers = model.offers.len() + model.earlier.len() + titled + 1;
    let told = model.live.page_told.as_ref().filter(|_| !offered);
    let telling = model.live.telling.as_ref();
    let more = [told.is_some(), model.live.page_awaited, telling.is_some()];
    let more = more.into_iter().filter(|is| *is).count();
    let rows = if offered { offers } else { all.len() } + model.live.awaited.len() + more;
    let adding = if state.adding.is_some() { KINDS.len() + 3 } else { 0 };
    let name = if offered { "What shall Izba watch?" } else { "Sources" };
    let height = (rows + adding + 7) as u16;
    let inner = sheet(model, area, 118, height, name, if offered { "" } else { "Esc closes" }, buf);
    let smoke = theme.ink(Ink::Smoke);
    let mut y = inner.y;
    let mut line = |pieces: &[(&str, Style)], buf: &mut Buffer| {
        if y < inner.bottom() {
            put(buf, inner.x, y, inner.width, pieces);
        }
        y += 1;
    };
    let mark = |at: usize| if at == state.chosen { "› " } else { "  " };
    let bench = |at: usize, y: u16, buf: &mut Buffer| {
        if at == state.chosen && y < inner.bottom() {
            buf.set_style(Rect::new(inner.x, y, inner.width, 1), theme.ground(Ground::Bench));
        }
    };
    if offered {
        let words = if model.offers.is_empty() {
            "Nothing here tells by itself what could be watched."
        } else {
            "This fits what lies in the folder:"
        };
        line(&[(words, smoke)], buf);
        for (at, offer) in model.offers.iter().enumerate() {
            bench(at, inner.y + 1 + at as u16, buf);
            let (kind, what) = offer.split_once(' ').unwrap_or((offer, ""));
            line(
                &[
                    (mark(at), theme.ink(Ink::Ice)),
                    (&format!("{kind:<8}"), smoke),
                    (&safe(what), theme.ink(Ink::Chalk)),
                ],
                buf,
            );
        }
        if !model.earlier.is_empty() {
            line(&[], buf);
            line(&[("Or look at what was kept of an earlier run:", smoke)], buf);
        }
        for (nth, run) in model.earlier.iter().enumerate() {
            let at = model.offers.len() + nth;
            bench(at, inner.y + 3 + at as u16, buf);
            let ago = ago(run.started, model.live.snapshot.now);
            let told =
                format!("  {ago}, {}, {}", counted(run.lines, "line", "lines"), safe(&run.ended));
            let run = format!("run {:<4}", run.run);
            let name = safe(&model.earlier[nth].source);
            let chalk = theme.ink(Ink::Chalk);
            line(
                &[(mark(at), theme.ink(Ink::Ice)), (&run, smoke), (&name, chalk), (&told, smoke)],
                buf,
            );
        }
        let at = model.offers.len() + model.earlier.len();
        bench(at, inner.y + (1 + titled + at) as u16, buf);
        line(&[(mark(at), theme.ink(Ink::Ice)), ("something else …", theme.ink(Ink::Chalk))], buf);
    }
    let widest =
        all.iter().map(|s| izba_model::text::width_cells(&s.name)).max().unwrap_or(0).clamp(8, 28);
    for (at, source) in all.iter().enumerate() {
        bench(at, inner.y + at as u16, buf);
        let decided = model.live.sources.get(at).cloned().unwrap_or_default();
        let (how, ink) = goes(model, source, &decided);
        let name = izba_model::text::fit(&safe(&source.name), widest).into_owned();
        let pad = " ".repeat(widest.saturating_sub(izba_model::text::width_cells(&name)) + 2);
        line(
            &[
                (mark(at), theme.ink(Ink::Ice)),
                (&name, theme.ink(Ink::Chalk)),
                (&pad, smoke),
                (&how, theme.ink(ink)),
            ],
            buf,
        );
        if inner.y + (at as u16) < inner.bottom() {
            put_right(
                buf,
                inner.right(),
                inner.y + at as u16,
                16,
                &[(&format!(" {}", counted(source.lines, "line", "lines")), smoke)],
            );
        }
    }
    if let Some(url) = told {
        bench(all.len(), inner.y + all.len() as u16, buf);
        line(
            &[
                (mark(all.len()), theme.ink(Ink::Ice)),
                (&safe(url), theme.ink(Ink::Chalk)),
                ("  a page that is served here; Enter watches it", smoke),
            ],
            buf,
        );
    }
    if model.live.page_awaited {
        line(&[("  a page is watched once a program tells its address", smoke)], buf);
    }
    if let Some(telling) = telling {
        let ink = if telling.told.trouble.is_some() { Ink::Straw } else { Ink::Smoke };
        line(&[("  ", smoke), (&safe(&telling.sentence()), theme.ink(ink))], buf);
    }
    for pattern in &model.live.awaited {
        line(
            &[
                ("  ", smoke),
                (&safe(pattern), theme.ink(Ink::Chalk)),
                ("  no file fits yet; looked for every second", smoke),
            ],
            buf,
        );
    }
    line(&[], buf);
    if let Some(input) = &state.adding {
        line(
            &[
                ("Watch  ", theme.ink(Ink::Ice)),
                (&safe(input.value()), theme.ink(Ink::Chalk)),
                ("▏", theme.ink(Ink::Ice)),
            ],
            buf,
        );
        line(&[], buf);
        for kind in KINDS {
            let (word, what) = (kind.word, kind.what);
            line(&[(&format!("  {word:<8} "), theme.ink(Ink::Ice)), (what, smoke)], buf);
        }
    }
    let key = theme.ink(Ink::Ice).add_modifier(Modifier::BOLD);
    let kept = model.offers.len()..model.offers.len() + model.earlier.len();
    let on_earlier = offered && kept.contains(&state.chosen);
    let keys: &[(&str, &str)] = match (&state.adding, offered) {
        (Some(_), _) => &[("Enter", "watches it"), ("Esc", "leaves it")],
        (None, true) if on_earlier => {
            &[("Enter", "opens it"), ("+", "something else"), ("q", "leave")]
        }
        (None, true) => &[("Enter", "watches it"), ("+", "something else"), ("q", "leave")],
        (None, false) => &[
            ("+", "add"),
            ("Space", "hold or let go"),
            ("x", "take away"),
            ("Enter", "its newest line"),
            ("w", "keep in izba.toml"),
        ],
    };
    let pieces: Vec<(&str, Style)> = keys
        .iter()
        .flat_map(|(k, w)| [(*k, key), (" ", smoke), (*w, smoke), ("   ", smoke)])
        .collect();
    put(buf, inner.x, inner.bottom().saturating_sub(1), inner.width, &pieces);
}

/// How a source goes, in words.
fn goes(model: &Model, source: &SourceView, decided: &SourceState) -> (String, Ink) {
    let held = if decided.backlog > 1 << 20 {
        format!("held still, {} MB wait", decided.backlog >> 20)
    } else {
        "held still; what it says is kept".into()
    };
    let since = source
        .run_started
        .map(|start| format!(" for {}", lasting(model.live.snapshot.now.since(start))))
        .unwrap_or_default();
    let run = if source.run > 1 {
        format!(", run {}", thousands(u64::from(source.run)))
    } else {
        String::new()
    };
    match &source.mark {
        _ if decided.taken => ("taken away; what it said stays".into(), Ink::Smoke),
        _ if decided.held => (held, Ink::Heather),
        RunMark::Waiting => ("waiting: it is not there yet".into(), Ink::Smoke),
        RunMark::Running => (format!("watching{since}{run}"), Ink::Chalk),
        RunMark::Ended { how, well } => {
            (format!("{}{run}", safe(how)), if *well { Ink::Smoke } else { Ink::Ember })
        }
    }
}
