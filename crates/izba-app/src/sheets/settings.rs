//! The sheet of settings: what is set, changed with its effect in sight at once.

use crate::editor;
use crate::model::{Model, SettingsSheet};
use crate::parts::effect::Effect;
use crate::parts::pen::{put, safe, sheet};
use crate::parts::sheet::Sheet;
use crate::settings::{self, KNOWN, Known};
use crate::theme::{Ground, Ink};
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::Modifier;

const WIDTH: u16 = 96;

/// What a setting may be, here and now: of editors those that are found.
fn choices(known: &Known, model: &Model) -> Vec<String> {
    let mut all: Vec<String> = known.choices.iter().map(|(c, _)| (*c).to_owned()).collect();
    if known.name == "editor" {
        all.extend(editor::found(editor::is_on_path).into_iter().map(str::to_owned));
    }
    let now = model.settings.get(known.name);
    if !all.iter().any(|c| c == now) {
        all.push(now.to_owned());
    }
    all
}

impl Sheet for SettingsSheet {
    const CLOSED_BY: &'static [&'static str] = &["Esc", "q", "I"];

    fn draw(&self, model: &Model, area: Rect, buf: &mut Buffer) {
        draw(model, self.0, area, buf);
    }

    fn on_key(mut self, model: &mut Model, key: &str) -> Vec<Effect> {
        let mut effects = Vec::new();
        match key {
            "↑" | "k" => self.0 = self.0.saturating_sub(1),
            "↓" | "j" => self.0 = (self.0 + 1).min(KNOWN.len() - 1),
            "→" | "←" | "Enter" => {
                let known = &KNOWN[self.0];
                let all = choices(known, model);
                let now = model.settings.get(known.name);
                let at = all.iter().position(|c| c == now).unwrap_or(0);
                let next = if key == "←" { at + all.len() - 1 } else { at + 1 } % all.len();
                if next != at {
                    effects = change(model, known, &all[next]);
                }
            }
            "e" => {
                if let Some(file) = settings::file().filter(|f| f.exists()) {
                    let file = file.to_string_lossy().into_owned();
                    return vec![Effect::Edit { file, line: 1, column: 1 }];
                }
                crate::parts::effect::say(model, "nothing is set yet, so there is no file");
            }
            _ => {}
        }
        self.stay(model);
        effects
    }
}

/// Sets something, here and for all sessions to come.
fn change(model: &mut Model, known: &'static Known, value: &str) -> Vec<Effect> {
    model.settings = std::mem::take(&mut model.settings).with(known, value);
    model.theme = model.settings.theme(model.terminal);
    vec![Effect::Keep(known, value.to_owned())]
}

fn draw(model: &Model, chosen: usize, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let (chalk, smoke, ice) = (theme.ink(Ink::Chalk), theme.ink(Ink::Smoke), theme.ink(Ink::Ice));
    let keys: Vec<(&str, &str)> = model.settings.keys().collect();
    let height = KNOWN.len() as u16 + 8;
    let inner = sheet(model, area, WIDTH, height, "Settings", "Esc closes", buf);
    for (at, known) in KNOWN.iter().enumerate() {
        let y = inner.y + 1 + at as u16;
        if y >= inner.bottom() {
            return;
        }
        let sign = if at == chosen { "▸ " } else { "  " };
        if at == chosen {
            buf.set_style(Rect::new(inner.x, y, inner.width, 1), theme.ground(Ground::Bench));
        }
        let now = model.settings.get(known.name);
        let means = known.choices.iter().find(|(c, _)| *c == now).map_or("", |(_, m)| *m);
        let now = if now.is_empty() { "found".to_owned() } else { safe(now) };
        let parts = [
            (sign, ice),
            (&*format!("{:<13}", known.says), chalk),
            (&*format!("{now:<15}"), ice),
            (means, smoke),
        ];
        put(buf, inner.x, y, inner.width, &parts);
    }
    // What the colours mean, so that they are chosen with open eyes.
    let y = inner.y + KNOWN.len() as u16 + 2;
    let signs = [
        ("◆ error  ", Ink::Ember),
        ("◇ warning  ", Ink::Straw),
        ("● likely  ", Ink::Ice),
        ("✓ gone  ", Ink::Moss),
        ("▴ saved  ", Ink::Heather),
        ("plain  ", Ink::Chalk),
        ("beside it", Ink::Smoke),
    ];
    let shown = signs.map(|(text, ink)| (text, theme.ink(ink)));
    put(buf, inner.x + 2, y, inner.width.saturating_sub(2), &shown);
    let of_keys = match keys.len() {
        0 => "all keys are as usual; [keys] in the file changes them".to_owned(),
        n => format!("{n} of your own in [keys] of the file"),
    };
    put(
        buf,
        inner.x + 2,
        y + 1,
        inner.width.saturating_sub(2),
        &[("Keys         ", chalk), (&of_keys, smoke)],
    );
    let bold = ice.add_modifier(Modifier::BOLD);
    let place = settings::file().map(|f| f.display().to_string()).unwrap_or_default();
    let bar = [
        ("← →", bold),
        (" change   ", smoke),
        ("e", bold),
        (" edit ", smoke),
        (&*safe(&place), smoke),
    ];
    put(buf, inner.x, inner.bottom().saturating_sub(1), inner.width, &bar);
}
