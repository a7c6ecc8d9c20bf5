//! The sheet of two runs of a source side by side: what was changed between them, and what that
//! did.

use crate::model::{CompareSheet, Model};
use crate::parts::effect::Effect;
use crate::parts::pen::{put, safe, sheet};
use crate::parts::sheet::Sheet;
use crate::rooms::runs::update::beside;
use crate::theme::Ink;
use izba_model::text::thousands;
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::{Modifier, Style};

impl Sheet for CompareSheet {
    const CLOSED_BY: &'static [&'static str] = &["Esc", "V", "q", "Enter"];

    fn draw(&self, model: &Model, area: Rect, buf: &mut Buffer) {
        compare(model, (self.source, self.earlier, self.later), self.scroll, area, buf);
    }

    fn on_key(mut self, model: &mut Model, key: &str) -> Vec<Effect> {
        match key {
            "↑" | "k" => self.scroll = self.scroll.saturating_sub(1),
            "↓" | "j" => self.scroll += 1,
            // The earlier one goes further back, or comes nearer.
            "←" | "→" => {
                let run = beside(model, self.source, self.earlier, key == "←");
                self.earlier = run.filter(|run| *run < self.later).unwrap_or(self.earlier);
                self.scroll = 0;
            }
            _ => {}
        }
        self.stay(model)
    }
}

fn compare(
    model: &Model,
    (source, earlier, later): (usize, u32, u32),
    scroll: usize,
    area: Rect,
    buf: &mut Buffer,
) {
    let theme = model.theme;
    let inner = sheet(
        model,
        area,
        area.width.min(110),
        area.height.saturating_sub(6),
        &format!("Run {earlier} and run {later}"),
        "← → the earlier one, Esc closes",
        buf,
    );
    let snapshot = &model.shown.snapshot;
    let Some(runs) = snapshot.sources.get(source).map(|s| &s.runs) else { return };
    let edits: Vec<String> = runs
        .iter()
        .filter(|r| r.run > earlier && r.run <= later)
        .flat_map(|r| r.edits.iter().map(|e| safe(e)))
        .collect();
    let mut rows: Vec<Vec<(String, Style)>> = Vec::new();
    let smoke = theme.ink(Ink::Smoke);
    rows.push(vec![match edits.is_empty() {
        true => ("No file of yours was changed between them.".into(), smoke),
        false => (format!("Changed between them: {}", edits.join(", ")), theme.ink(Ink::Heather)),
    }]);
    let groups: Vec<_> =
        snapshot.groups.iter().filter(|g| g.tellers.contains(&source)).cloned().collect();
    for part in izba_core::answer::compare(&groups, earlier, later) {
        rows.push(Vec::new());
        let ink = match part.state {
            izba_core::State::Quiet => Ink::Moss,
            izba_core::State::Still => Ink::Smoke,
            _ => Ink::Chalk,
        };
        rows.push(vec![
            (format!("{:>9} {:>9}  ", format!("run {earlier}"), format!("run {later}")), smoke),
            (
                format!("{} {}", part.groups.len(), part.title),
                theme.ink(ink).add_modifier(Modifier::BOLD),
            ),
        ]);
        for (group, before, after) in part.groups {
            let (sign, ink) = crate::parts::said::sign(group.level());
            let place = group.entry.place.as_ref().map_or(String::new(), |p| {
                p.line.map_or_else(|| p.file.to_string(), |l| format!("{}:{l}", p.file))
            });
            let count = |n: u64| if n == 0 { "·".to_owned() } else { thousands(n) };
            rows.push(vec![
                (format!("{:>9} {:>9}  ", count(before), count(after)), smoke),
                (format!("{sign} "), theme.ink(ink)),
                (
                    format!("{}  ", safe(&model.told(&group).short.to_string())),
                    theme.ink(Ink::Chalk),
                ),
                (safe(&place), theme.ink(Ink::Ice)),
            ]);
        }
    }
    let room = usize::from(inner.height);
    let scroll = scroll.min(rows.len().saturating_sub(room));
    for (at, row) in rows.iter().skip(scroll).take(room).enumerate() {
        let pieces: Vec<(&str, Style)> = row.iter().map(|(t, s)| (t.as_str(), *s)).collect();
        put(buf, inner.x, inner.y + at as u16, inner.width, &pieces);
    }
}
