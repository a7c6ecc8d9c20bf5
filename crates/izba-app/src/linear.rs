//! The screen as lines, one after the other, nothing drawn anew: for screen readers, slow terminals
//! and logs. The state is the same, the keys are the same; what changed since the last line is told.

use crate::model::{Model, Question, Room, Shown};
use crate::parts::pen::safe;
use crate::rooms::now::{headline, why};
use crate::screen;
use crate::sheets;
use izba_core::{GroupId, GroupView, State};
use izba_model::text::{counted, thousands};
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use std::collections::HashMap;

/// Cells of a line, and rows of what other rooms and sheets show.
const SIZE: (u16, u16) = (100, 40);

/// So many new mistakes are told of at once; of a flood the rest is counted.
const AT_ONCE: usize = 3;

/// Lines of source before and behind the one that is shown.
const AROUND: u32 = 2;

/// What was told already.
#[derive(Debug, Default)]
pub struct Told {
    room: Option<Room>,
    status: String,
    headline: String,
    notice: Option<String>,
    chosen: Option<GroupId>,
    focus: Option<(Question, usize)>,
    sheet: Vec<String>,
    room_lines: Vec<String>,
    line: Option<(u64, bool)>,
    /// The mistakes that were told of, and whether they are told to be gone.
    known: HashMap<GroupId, bool>,
}

impl Told {
    /// What to say now. `asked` says that the user did something: what only moves by itself in a
    /// room is not told then.
    pub fn tell(&mut self, model: &Model, asked: bool) -> Vec<String> {
        let mut out = Vec::new();
        self.tell_status(model, &mut out);
        self.tell_sheet(model, &mut out);
        let entered = self.room != Some(model.room);
        if entered {
            self.room = Some(model.room);
            let kind = crate::rooms::of(model.room);
            out.push(format!("Room {}. {}", kind.name, kind.about));
            (self.room_lines, self.focus, self.line) = (Vec::new(), None, None);
        }
        match model.room {
            Room::Now => self.tell_now(model, &mut out),
            Room::Lines if asked || entered => self.tell_lines(model, &mut out),
            Room::Lines => {}
            _ if (asked || entered) && model.overlay.is_none() => {
                let lines = room(model);
                let fresh = lines.iter().filter(|l| !self.room_lines.contains(l)).cloned();
                out.extend(fresh);
                self.room_lines = lines;
            }
            _ => {}
        }
        let notice = model.notice.as_ref().map(|(sentence, _)| safe(sentence));
        if notice != self.notice {
            out.extend(notice.clone());
            self.notice = notice;
        }
        out.retain(|line| !line.trim().is_empty());
        out
    }

    /// What runs, and how many mistakes there are.
    fn tell_status(&mut self, model: &Model, out: &mut Vec<String>) {
        let status = screen::status(model);
        if status != self.status {
            out.push(status.clone());
            self.status = status;
        }
        let headline = headline::text(model);
        // A count that grows is no news.
        let stem = |text: &str| text.chars().filter(|c| !c.is_ascii_digit()).collect::<String>();
        if stem(&headline) != stem(&self.headline) {
            out.push(headline.clone());
            self.headline = headline;
        }
        let groups = &model.shown.snapshot.groups;
        let mut fresh: Vec<&GroupView> = Vec::new();
        for group in groups.iter().filter(|g| model.is_listed(g)) {
            let quiet = group.state == State::Quiet;
            match self.known.insert(group.id, quiet) {
                None if !quiet => fresh.push(group),
                Some(false) if quiet && !is_settled(model, group) => {
                    // It may still come: what it was stays known.
                    self.known.insert(group.id, false);
                }
                Some(false) if quiet => out.push(format!("Gone quiet: {}", row(model, group))),
                _ => {}
            }
        }
        out.extend(fresh.iter().take(AT_ONCE).map(|g| format!("New: {}", row(model, g))));
        if fresh.len() > AT_ONCE {
            let more = counted((fresh.len() - AT_ONCE) as u64, "more is new", "more are new");
            out.push(format!("{more}; ↓ in room Now goes through them."));
        }
    }

    fn tell_sheet(&mut self, model: &Model, out: &mut Vec<String>) {
        let lines = match &model.overlay {
            Some(_) => drawn(|buf| sheets::draw(model, buf.area, buf)),
            None => Vec::new(),
        };
        let was = std::mem::replace(&mut self.sheet, lines);
        out.extend(self.sheet.iter().filter(|l| !was.contains(l)).cloned());
        if self.sheet.is_empty() && !was.is_empty() {
            out.push("The sheet is closed.".into());
        }
    }

    /// The chosen line; where the newest is, once when the room is entered.
    fn tell_lines(&mut self, model: &Model, out: &mut Vec<String>) {
        let at = model.lines.cursor;
        let row = model.lines.rows.iter().find(|r| r.row == at);
        // Who stays with what arrives is told of it once.
        let now = (if model.lines.follow { u64::MAX } else { at }, model.lines.follow);
        let Some(row) = row.filter(|_| self.line != Some(now)) else { return };
        self.line = Some(now);
        let of = match row.group {
            Some((_, true)) => row.level.map_or("", |l| l.word()),
            Some((_, false)) => "goes on",
            None => "",
        };
        let all = thousands(model.shown.snapshot.rows);
        let head = format!("Line {} of {all}", thousands(at + 1));
        let text = [head.as_str(), of, row.text.as_str()];
        let said: Vec<&str> = text.into_iter().filter(|part| !part.is_empty()).collect();
        out.push(said.join(": "));
    }

    fn tell_now(&mut self, model: &Model, out: &mut Vec<String>) {
        let Some(group) = model.selected() else { return };
        if self.chosen != Some(group.id) {
            let at = model.order.iter().position(|id| *id == group.id).map_or(0, |at| at + 1);
            let of = model.order.len();
            out.push(format!("Mistake {at} of {of}: {}", row(model, group)));
            (self.chosen, self.focus) = (Some(group.id), None);
        }
        if self.focus == Some((model.focus, model.step)) {
            return;
        }
        self.focus = Some((model.focus, model.step));
        match model.focus {
            Question::Where => out.extend(place(model, group)),
            Question::Why => {
                out.push("Why".into());
                out.extend(why::lines(model, group, usize::from(SIZE.0)));
            }
            Question::What | Question::When => {}
        }
    }
}

/// Whether the run has gone on long enough for a silence to say something.
fn is_settled(model: &Model, group: &GroupView) -> bool {
    let snapshot = &model.shown.snapshot;
    let source = snapshot.sources.get(group.source);
    let started = source.and_then(|s| s.run_started);
    started.is_none_or(|at| snapshot.now.since(at) >= headline::TOO_YOUNG)
}

/// A mistake in one line.
fn row(model: &Model, group: &GroupView) -> String {
    let told = model.told(group);
    let place = group.entry.place.as_ref().map_or_else(
        || group.entry.no_place().to_owned(),
        |p| p.line.map_or_else(|| p.file.to_string(), |l| format!("{}, line {l}", p.file)),
    );
    let often = counted(group.count, "time", "times");
    let how = crate::parts::said::sentence(model, group);
    safe(&format!("{}, {}, {place}, {often}, {how}.", group.level().word(), told.short))
}

/// The place that Where shows, with its lines.
fn place(model: &Model, group: &GroupView) -> Vec<String> {
    let Some((shown, place)) = model.place_shown(group) else {
        return vec!["Where: no place in your own files is known.".into()];
    };
    let all = model.places(group).len();
    let what = match shown {
        Shown::Reported(_) => "the line that the console names",
        Shown::Suspect(_) => "who may have done it",
        Shown::Step(..) => "a step that led there",
        Shown::Alike(_) => "the same is done here",
        Shown::Related(_) => "the console names this place too",
    };
    let reason = match shown {
        Shown::Suspect(s) | Shown::Reported(Some(s)) => format!(": {}", s.reason()),
        _ => String::new(),
    };
    let line = place.line.unwrap_or(1);
    let head = format!(
        "Where, {} of {all}: {}, line {line}, {what}{reason}.",
        model.step.min(all.saturating_sub(1)) + 1,
        place.file
    );
    let mut out = vec![safe(&head)];
    let project = &model.shown.snapshot.project;
    for at in line.saturating_sub(AROUND).max(1)..=line + AROUND {
        if let Some(text) = project.line(&place.file, at) {
            let sign = if at == line { "here" } else { "    " };
            out.push(safe(&format!("{sign} {at:>4}  {text}")));
        }
    }
    out
}

/// What a room shows, as lines of text.
fn room(model: &Model) -> Vec<String> {
    let mut of = model.clone();
    of.size = SIZE;
    let mut lines = drawn(|buf| screen::draw(&of, buf.area, buf));
    // The bar on top and the keys at the bottom are told by help.
    lines.drain(..lines.len().min(1));
    lines.pop();
    lines
}

/// The rows that something draws, without what only looks.
fn drawn(draw: impl FnOnce(&mut Buffer)) -> Vec<String> {
    let area = Rect::new(0, 0, SIZE.0, SIZE.1);
    let mut buf = Buffer::empty(area);
    draw(&mut buf);
    let row = |y| -> String {
        let cells = (0..area.width).map(|x| buf[(x, y)].symbol());
        let text: String = cells.collect();
        let line = text.replace(|c: char| ('─'..='▟').contains(&c), " ");
        line.split_whitespace().collect::<Vec<_>>().join(" ")
    };
    (0..area.height).map(row).filter(|line| !line.is_empty()).collect()
}
