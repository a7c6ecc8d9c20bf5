//! The state of the screen: plain values that only `update` changes.

mod overlay;
mod pause;
mod room;
mod shape;
mod told;

use crate::settings::Settings;
pub use crate::teach::Teach;
use crate::theme::Theme;
use izba_cause::checks::Remark;
use izba_cause::suspect::{Alike, Findings};
use izba_core::filter::{Around, Offer, Problem};
use izba_core::notes::Likely;
use izba_core::values::{Series, pin_key};
use izba_core::{GroupId, GroupView, Phrase, State};
use izba_model::claim::{Fix, LIKELY, Suspect, WORTH, WORTH_BESIDE};
use izba_model::{Millis, Place, Related, StackFrame};
use izba_store::KeptNote;
use izba_watch::cornering::Edits;
use izba_watch::fixing::Made;
use izba_watch::{LineRow, Published};
pub use overlay::*;
pub use pause::{BreakSheet, PausePane, PauseState, TableState};
use ratatui::layout::Rect;
pub use room::{Question, Room};
pub use shape::{AT_FIRST, Shape};
use std::sync::Arc;
use tui_input::Input;

/// The filter phrase, one for all rooms.
#[derive(Debug, Clone, Default)]
pub struct Filter {
    /// What is typed.
    pub input: Input,
    /// Whether it is being typed.
    pub typing: bool,
    /// What holds now; `None` while nothing is filtered.
    pub phrase: Option<Arc<Phrase>>,
    /// What held before typing began.
    pub before: Option<Arc<Phrase>>,
    /// What is wrong with what is typed.
    pub problem: Option<Problem>,
    /// What fits here.
    pub offers: Vec<Offer>,
    /// The offer that is chosen.
    pub chosen: Option<usize>,
    /// Phrases that were used, oldest first, and how many steps back from the newest one is shown.
    pub used: Vec<String>,
    /// Steps back in the used ones.
    pub back: usize,
    /// Number of the latest request for lines that fit, and of the latest count.
    pub ids: (u64, u64),
    /// Lines that fit, of so many looked at.
    pub counted: Option<(u64, u64)>,
    /// Whether all lines that were asked for are there.
    pub settled: bool,
}

/// What room Runs remembers while it is not on the screen.
#[derive(Debug, Clone, Copy, Default)]
pub struct RunsState {
    /// The source whose runs are shown.
    pub source: usize,
    /// The chosen run; `None` while that is the newest.
    pub run: Option<u32>,
}

/// What room Values remembers while it is not on the screen.
#[derive(Debug, Clone, Default)]
pub struct ValuesState {
    /// The chosen series, counted from 0 in the list as it is published.
    pub row: usize,
    /// Series that are drawn beside it, by who and name.
    pub beside: std::collections::BTreeSet<(String, String)>,
    /// How often the time that is shown was halved.
    pub zoom: u32,
    /// Which of the stretches of that length is shown, counted back from the newest.
    pub back: u64,
    /// The moment that is read off, in Unix milliseconds.
    pub read: Option<i64>,
    /// The group about which the engine thread was asked.
    pub asked: Option<GroupId>,
    /// Which of the values that differ was gone to last.
    pub differing: usize,
}

/// A run of an earlier session that can be opened where nothing is watched.
#[derive(Debug, Clone)]
pub struct Earlier {
    /// The name of its source.
    pub source: String,
    /// Its number within that source.
    pub run: u32,
    /// When it started, in milliseconds since 1970 (UTC).
    pub started: Millis,
    /// How it ended, in words.
    pub ended: String,
    /// Lines that it put out.
    pub lines: u64,
}

/// What When remembers.
#[derive(Debug, Clone, Copy, Default)]
pub struct WhenState {
    /// The stretch of time that is shown; else all of it.
    pub span: Option<(Millis, Millis)>,
    /// The moment that is read off.
    pub at: Option<Millis>,
    /// Where the mouse was pressed, while a stretch is drawn with it.
    pub from: Option<Millis>,
}

/// What room Notes remembers while it is not on the screen.
#[derive(Debug, Clone, Default)]
pub struct NotesState {
    /// The chosen row of those that fit.
    pub row: usize,
    /// What is looked for.
    pub search: Input,
    /// Whether it is being typed.
    pub typing: bool,
    /// Rows scrolled away in the note.
    pub scroll: usize,
}

/// What room Lines remembers while it is not on the screen.
#[derive(Debug, Clone, Default)]
pub struct LinesState {
    /// First row shown, from 0 over all sources.
    pub top: u64,
    /// Chosen row, from 0 over all sources.
    pub cursor: u64,
    /// Stay with what arrives.
    pub follow: bool,
    /// Rows at hand, in order.
    pub rows: Vec<LineRow>,
    /// Cells of each line that lie to the left of what is shown.
    pub left: usize,
    /// Long lines are shown to their end, over several rows of the screen.
    pub wrapped: bool,
    /// Of each error its first line only.
    pub folded: bool,
    /// The row below which its mistake is told.
    pub opened: Option<u64>,
    /// What is being looked for.
    pub find: Option<Find>,
    /// The search for an error that goes on: its number, and whether it goes up.
    pub seeking: Option<(u64, bool)>,
}

/// A search in room Lines.
#[derive(Debug, Clone)]
pub struct Find {
    /// Number of the search; late answers to earlier ones are dropped.
    pub id: u64,
    /// What was typed.
    pub input: Input,
    /// Whether it is still being typed.
    pub typing: bool,
    /// What came of it.
    pub outcome: FindOutcome,
}

/// What a search came to.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum FindOutcome {
    /// Not begun.
    Idle,
    /// Rows looked through so far.
    Searching(u64),
    /// It stands in this row.
    Found(u64),
    /// In no row in that direction.
    Nowhere,
}

/// The steps of the tour, in the order in which they are shown.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum TourStep {
    /// Mistakes gather in a list.
    See,
    /// One of them is chosen.
    Choose,
    /// Its line and its reason.
    Find,
    /// It is mended.
    Mend,
    /// It is gone.
    Prove,
}

/// A tour under way: its step, and since when it waits there.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Tour {
    /// Where it is.
    pub step: TourStep,
    /// The group that is being mended.
    pub group: Option<GroupId>,
}

impl Tour {
    /// A tour at its beginning.
    pub const BEGIN: Tour = Tour { step: TourStep::See, group: None };
}

/// Everything that the screen is drawn from; only messages change it.
#[derive(Debug, Clone)]
pub struct Model {
    /// The newest from the engine.
    pub live: Arc<Published>,
    /// What is shown; the same, unless the screen is held.
    pub shown: Arc<Published>,
    /// Whether the screen is held still.
    pub held: bool,
    /// The room that is open.
    pub room: Room,
    /// The question that has the keys.
    pub focus: Question,
    /// The question that has the whole screen.
    pub zoom: Option<Question>,
    /// The order of the list, which never moves under the cursor.
    pub order: Vec<GroupId>,
    /// The group the user chose; `None` while the first one is shown.
    pub chosen: Option<GroupId>,
    /// The place that is shown in Where, from 0, as [`Model::places`] lists them.
    pub step: usize,
    /// Rows scrolled away in Where and Why.
    pub scroll: (usize, usize),
    /// Room Lines.
    pub lines: LinesState,
    /// What lies over the room.
    pub overlay: Option<Overlay>,
    /// One sentence for the user, and until which second of the clock (Unix, milliseconds) it
    /// stands.
    pub notice: Option<(String, i64)>,
    /// Columns and rows of the terminal.
    pub size: (u16, u16),
    /// The colours.
    pub theme: Theme,
    /// The colours that the terminal says it has.
    pub terminal: Theme,
    /// What the user set.
    pub settings: Settings,
    /// Whether the mouse is ours.
    pub mouse: bool,
    /// Whether this is the demo, which can mend its own faults.
    pub demo: bool,
    /// The guided tour, while it is on.
    pub tour: Option<Tour>,
    /// Whether there are programs of the demo that have not begun yet.
    pub rest: bool,
    /// What could be watched here, as it would be typed.
    pub offers: Vec<String>,
    /// Exact edits that were made and can be taken back, oldest first.
    pub made: Vec<Made>,
    /// Whether the last of them is what would be taken back next.
    pub made_last: bool,
    /// Runs of earlier sessions that could be looked at instead.
    pub earlier: Vec<Earlier>,
    /// The filter phrase.
    pub filter: Filter,
    /// Whether what is filtered out or set aside is shown for a moment.
    pub peek: bool,
    /// The group that is to be counted with another one.
    pub joining: Option<GroupId>,
    /// Room Runs.
    pub runs: RunsState,
    /// Room Checks: the chosen remark, by its key, and rows scrolled.
    pub remark: Option<String>,
    /// Room Pause.
    pub pause: PauseState,
    /// Room Values.
    pub values: ValuesState,
    /// When.
    pub when: WhenState,
    /// Room Notes.
    pub notes: NotesState,
    /// Number of the last search.
    pub finds: u64,
    /// Offset of local time from UTC in seconds.
    pub utc_offset: i32,
}

impl Model {
    /// The state at the start.
    pub fn new(
        published: Arc<Published>,
        size: (u16, u16),
        terminal: Theme,
        utc_offset: i32,
    ) -> Model {
        Model {
            live: published.clone(),
            shown: published,
            held: false,
            room: Room::Now,
            focus: Question::What,
            zoom: None,
            order: Vec::new(),
            chosen: None,
            step: 0,
            scroll: (0, 0),
            lines: LinesState { follow: true, ..LinesState::default() },
            overlay: None,
            notice: None,
            size,
            theme: terminal,
            terminal,
            settings: Settings::default(),
            mouse: true,
            demo: false,
            tour: None,
            rest: false,
            offers: Vec::new(),
            earlier: Vec::new(),
            made: Vec::new(),
            made_last: false,
            filter: Filter::default(),
            peek: false,
            joining: None,
            runs: RunsState::default(),
            remark: None,
            pause: PauseState::default(),
            values: ValuesState::default(),
            when: WhenState::default(),
            notes: NotesState::default(),
            finds: 0,
            utc_offset,
        }
    }

    /// The group that a decision is about: in room Lines that of the chosen line.
    pub fn subject(&self) -> Option<Arc<GroupView>> {
        if self.room != Room::Lines {
            return self.selected().cloned();
        }
        let row = self.lines.rows.iter().find(|r| r.row == self.lines.cursor)?;
        row.group.and_then(|(id, _)| self.group(id)).cloned()
    }

    /// The chosen remark of room Checks with its place in the list, or the first.
    pub fn chosen_remark(&self) -> Option<(usize, Remark)> {
        let remarks = self.remarks();
        let key = self.remark.as_ref();
        let at = key.and_then(|key| remarks.iter().position(|r| r.key() == *key)).unwrap_or(0);
        remarks.get(at).map(|r| (at, (*r).clone()))
    }

    /// A group by its number, or the row that it is counted in.
    pub fn group(&self, id: GroupId) -> Option<&Arc<GroupView>> {
        self.shown.snapshot.groups.row(id)
    }

    /// The groups in the order of the list: those of this run, then those that went quiet.
    pub fn listed(&self) -> impl Iterator<Item = &Arc<GroupView>> {
        self.order.iter().filter_map(|id| self.group(*id))
    }

    /// The group that Where and Why speak of.
    pub fn selected(&self) -> Option<&Arc<GroupView>> {
        self.chosen.and_then(|id| self.group(id)).or_else(|| self.listed().next())
    }

    /// Groups seen in this run, and quiet ones; those that are set aside and those that only follow
    /// another are left out.
    pub fn tally(&self) -> (usize, usize) {
        let counted = || self.shown.snapshot.groups.iter().filter(|g| !g.muted);
        let quiet = counted().filter(|g| g.state == State::Quiet).count();
        (counted().filter(|g| g.state != State::Quiet && !g.hangs).count(), quiet)
    }

    /// Groups that are set aside, that only follow another, and that the filter hides.
    pub fn left_out(&self) -> (usize, usize, usize) {
        let groups = &self.shown.snapshot.groups;
        let muted = groups.iter().filter(|g| g.muted).count();
        let follow =
            groups.iter().filter(|g| !g.muted && g.hangs && g.state != State::Quiet).count();
        let hidden = groups.iter().filter(|g| !g.muted && !self.passes(g)).count();
        (muted, follow, hidden)
    }

    /// Whether the filter lets a group through.
    pub fn passes(&self, group: &GroupView) -> bool {
        let Some(phrase) = &self.filter.phrase else { return true };
        let names = self.source_names();
        phrase.fits_group(group, &self.around(&names))
    }

    /// Whether a group stands in lists: not set aside, and let through; or everything is shown for
    /// a moment.
    pub fn is_listed(&self, group: &GroupView) -> bool {
        let sought = self.filter.phrase.is_some();
        let folded = group.later_than.is_some() && !sought;
        self.peek || (!group.muted || sought) && !folded && self.passes(group)
    }

    /// The later messages about the script that a group says cannot be read; they are told in its
    /// row.
    pub fn later<'a>(&'a self, first: &GroupView) -> impl Iterator<Item = &'a Arc<GroupView>> {
        let id = first.id;
        self.shown.snapshot.groups.iter().filter(move |g| g.later_than == Some(id) && !g.muted)
    }

    /// Names of the sources, in the order of the snapshot.
    pub fn source_names(&self) -> Vec<String> {
        self.shown.snapshot.sources.iter().map(|s| s.name.clone()).collect()
    }

    /// What a phrase is judged against.
    pub fn around<'a>(&self, names: &'a [String]) -> Around<'a> {
        Around { sources: names, now: Some(self.shown.snapshot.now), utc_offset: self.utc_offset }
    }

    /// The phrase that chooses lines now, if any.
    pub fn line_filter(&self) -> Option<&Arc<Phrase>> {
        self.filter.phrase.as_ref().filter(|_| !self.peek)
    }

    /// The first group of the order that is worth a headline.
    pub fn first(&self) -> Option<&Arc<GroupView>> {
        self.shown.snapshot.groups.iter().find(|g| !g.muted)
    }

    /// How many groups rank before the chosen one but stand below it in the list.
    pub fn more_urgent(&self) -> usize {
        let Some(chosen) = self.chosen else { return 0 };
        let better: Vec<GroupId> = self
            .shown
            .snapshot
            .groups
            .iter()
            .filter(|g| self.is_listed(g))
            .map(|g| g.id)
            .take_while(|id| *id != chosen)
            .collect();
        let below = self.order.iter().skip_while(|id| **id != chosen);
        below.filter(|id| better.contains(id)).count()
    }

    /// What was found out about who did it; `None` while nobody looked.
    pub fn findings(&self, group: &GroupView) -> Option<&Arc<Findings>> {
        self.shown.code.findings.get(&group.id)
    }

    /// The key by which a suspect of a group is ruled out by the user.
    pub fn suspect_key(group: &GroupView, suspect: &Suspect) -> String {
        izba_core::suspect_key(group, suspect)
    }

    /// The key by which a step that led there is ruled out by the user.
    pub fn step_key(group: &GroupView, place: &Place) -> String {
        format!("step {} {}:{}", group.identity, place.file, place.line.unwrap_or(0))
    }

    /// The suspects of a group that are worth a row, most likely first; none while the reported
    /// line is all there is.
    pub fn suspects<'a>(&'a self, group: &GroupView) -> Vec<&'a Suspect> {
        let Some(findings) = self.findings(group).filter(|_| self.holds(group)) else {
            return Vec::new();
        };
        let open = findings
            .suspects
            .iter()
            .filter(|s| !self.live.known.contains(&Model::suspect_key(group, s)));
        // The line that the console names is always one to go to.
        let place = group.entry.place.as_ref();
        let named = |s: &Suspect| {
            s.is_reported() && place.is_some_and(|p| p.file == s.file && p.line == Some(s.line))
        };
        let mut listed: Vec<&Suspect> =
            open.filter(|s| s.confidence >= WORTH || named(s)).take(SUSPECTS_SHOWN).collect();
        // Beside a likely one, what is only thinkable would take the room of the steps.
        if listed.first().is_some_and(|s| s.confidence >= LIKELY) {
            listed.retain(|s| s.confidence >= WORTH_BESIDE || named(s));
        }
        if listed.iter().all(|s| s.is_reported()) {
            listed.clear();
        }
        listed
    }

    /// The places that Where can show, in the order of its rows: suspects, then the steps that led
    /// here.
    pub fn places<'a>(&'a self, group: &'a GroupView) -> Vec<Shown<'a>> {
        let reported = |place: &Place| {
            group.entry.place.as_ref().is_some_and(|p| p.file == place.file && p.line == place.line)
        };
        let mut shown: Vec<Shown<'a>> = Vec::new();
        for suspect in self.suspects(group) {
            let place =
                Place { file: suspect.file.clone(), line: Some(suspect.line.max(1)), column: None };
            shown.push(if reported(&place) {
                Shown::Reported(Some(suspect))
            } else {
                Shown::Suspect(suspect)
            });
        }
        let alike = self.findings(group).map_or(&[][..], |f| f.alike.as_slice());
        if shown.iter().any(|s| matches!(s, Shown::Suspect(_) | Shown::Reported(Some(_)))) {
            shown.extend(alike.iter().map(Shown::Alike));
        }
        let related = group.entry.report.related.iter().filter(|r| r.frame.own.is_some());
        let named = related.map(Shown::Related);
        let told = shown.iter().any(|s| matches!(s, Shown::Reported(_)));
        let steps = Model::own_steps(group);
        if steps.is_empty() && !told {
            shown.push(Shown::Reported(None));
        }
        for (at, frame) in steps.into_iter().enumerate() {
            if at == 0 && !told && frame.place().is_none_or(|p| reported(&p)) {
                shown.push(Shown::Reported(None));
            } else if !(at == 0 && told) {
                shown.push(Shown::Step(at, frame));
            }
        }
        if !shown.iter().any(|s| matches!(s, Shown::Reported(_))) {
            shown.insert(0, Shown::Reported(None));
        }
        shown.extend(named);
        shown
    }

    /// What Where shows of a group now, with its place; `None` while it has none.
    pub fn place_shown<'a>(&'a self, group: &'a GroupView) -> Option<(Shown<'a>, Place)> {
        let places = self.places(group);
        let shown = *places.get(self.step.min(places.len().saturating_sub(1)))?;
        Some((shown, shown.place(group)?))
    }

    /// The exact edit of what Where shows; at a step or another place, that of the first suspect.
    pub fn fix_shown(&self, group: &GroupView) -> Option<FixSheet> {
        let of = |s: &Suspect| Some((s.fix.clone()?, s.confidence));
        let (fix, confidence) = match self.place_shown(group).map(|(shown, _)| shown) {
            Some(Shown::Suspect(s) | Shown::Reported(Some(s))) => of(s)?,
            // What is done in the same way is no mistake yet.
            Some(Shown::Alike(other)) => (other.fix.clone()?, 0.0),
            _ => self.suspects(group).first().and_then(|s| of(s))?,
        };
        let text = self.shown.snapshot.project.file(&fix.file)?.text.clone()?;
        let likely = confidence >= LIKELY;
        (!fix.changes(&text).is_empty()).then_some(FixSheet { own: fix.clone(), fix, text, likely })
    }

    /// The same edit made in other places of its file too; `None` where no other bears it.
    pub fn fix_everywhere(&self, own: &Fix) -> Option<Fix> {
        let found = self.findings(self.selected()?)?;
        let edits = Edits::of(found, 0.0);
        let others = edits.like(own).iter().filter(|fix| fix.file == own.file);
        let all: Vec<&Fix> = std::iter::once(own).chain(others).collect();
        (all.len() > 1).then(|| Fix::together(&all))??.pop()
    }

    /// Remarks about the code, those that the user knows last.
    pub fn remarks(&self) -> Vec<&Remark> {
        let all = self.shown.code.remarks.as_ref().map_or(&[][..], |r| r.as_slice());
        let mut listed: Vec<&Remark> = all.iter().collect();
        listed.sort_by_key(|r| self.live.known.contains(&r.key()));
        listed
    }

    /// The notes that fit what is looked for in room Notes.
    pub fn notes(&self) -> Vec<&KeptNote> {
        let words: Vec<String> =
            self.notes.search.value().split_whitespace().map(str::to_lowercase).collect();
        self.live.notes.iter().filter(|k| k.note.holds(&words)).collect()
    }

    /// The notes that are about an error like this one, the nearest first, each with why.
    pub fn offered(&self, group: &GroupView) -> Vec<(&KeptNote, Likely)> {
        let found = izba_core::notes::offered(self.live.notes.iter().map(|k| &k.note), group);
        found.into_iter().filter_map(|a| Some((self.live.notes.get(a.note)?, a.likely))).collect()
    }

    /// The series that are pinned to room Now.
    pub fn pinned(&self) -> Vec<&Arc<Series>> {
        let all = self.live.values.as_ref().map_or(&[][..], |v| v.series.as_slice());
        all.iter().filter(|s| self.live.known.contains(&pin_key(&s.who, &s.name))).collect()
    }

    /// The steps of a group's path that are own, the fault first.
    pub fn own_steps(group: &GroupView) -> Vec<&StackFrame> {
        group.path().iter().filter(|f| f.own.is_some()).collect()
    }

    /// Whether the screen is too narrow for two columns.
    pub fn is_narrow(&self) -> bool {
        self.size.0 < 110 || self.size.1 < 30
    }
}

/// At most so many suspects are shown.
const SUSPECTS_SHOWN: usize = 4;

/// One place that Where can show.
#[derive(Debug, Clone, Copy)]
pub enum Shown<'a> {
    /// The line that the console names; with what makes it a suspect itself.
    Reported(Option<&'a Suspect>),
    /// A place that may be guilty.
    Suspect(&'a Suspect),
    /// A step that led there, by its number from 0.
    Step(usize, &'a StackFrame),
    /// Where the same is done in the same way.
    Alike(&'a Alike),
    /// Another place that the console names.
    Related(&'a Related),
}

impl Shown<'_> {
    /// The folder or place in which it lies.
    pub fn place(self, group: &GroupView) -> Option<Place> {
        match self {
            Shown::Reported(_) => group.entry.place.clone(),
            Shown::Suspect(s) => {
                Some(Place { file: s.file.clone(), line: Some(s.line.max(1)), column: None })
            }
            Shown::Step(_, frame) => frame.place(),
            Shown::Related(related) => related.frame.place(),
            Shown::Alike(other) => {
                Some(Place { file: other.file.clone(), line: Some(other.line), column: None })
            }
        }
    }
}

/// Where the panes of room Now lie; one function serves drawing and the mouse.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct Layout {
    /// The sentence on top.
    pub headline: Rect,
    /// Values that are pinned; empty when there are none.
    pub pins: Rect,
    /// The four panes; empty when not shown.
    pub when: Rect,
    /// The list.
    pub what: Rect,
    /// The source.
    pub where_: Rect,
    /// The words.
    pub why: Rect,
    /// The guided tour; empty when it is off.
    pub tour: Rect,
    /// The line for notices.
    pub notice: Rect,
    /// The keys.
    pub footer: Rect,
}

impl Layout {
    /// Divides the screen into its panes, as wide as they are set and as the screen has room.
    pub fn of(model: &Model) -> Layout {
        let (w, h) = model.size;
        let side = if w >= 100 { 2 } else { 1 };
        let full = |y: u16, height: u16| {
            Rect::new(
                side.min(w),
                y.min(h),
                w.saturating_sub(2 * side),
                height.min(h.saturating_sub(y)),
            )
        };
        let mut layout =
            Layout { footer: Rect::new(0, h.saturating_sub(1), w, h.min(1)), ..Layout::default() };
        let roomy = h >= 30;
        let headline_at = if roomy { 2 } else { 1 };
        let headline_rows = if model.is_narrow() { 2 } else { 1 };
        layout.headline = full(headline_at, headline_rows);
        let pins = u16::from(!model.pinned().is_empty());
        layout.pins = full(headline_at + headline_rows, pins);
        let body_at = headline_at + headline_rows + u16::from(roomy) + pins;
        // The last row is the footer, the one above it belongs to notices.
        layout.notice = full(h.saturating_sub(2), 1);
        let body_end = h.saturating_sub(2 + tour_rows(model));
        layout.tour = full(body_end, tour_rows(model));
        let body = body_end.saturating_sub(body_at);
        if let Some(zoom) = model.zoom {
            let area = full(body_at, body);
            match zoom {
                Question::When => layout.when = area,
                Question::What => layout.what = area,
                Question::Where => layout.where_ = area,
                Question::Why => layout.why = area,
            }
            return layout;
        }
        let when_rows = if roomy { 4 } else { 2 };
        layout.when = full(body_at, when_rows.min(body));
        let panes_at = body_at + when_rows + u16::from(roomy);
        let panes = body_end.saturating_sub(panes_at);
        if model.is_narrow() {
            let lower =
                if model.focus == Question::Why { &mut layout.why } else { &mut layout.where_ };
            let upper = panes * 2 / 5;
            *lower = full(panes_at + upper, panes - upper);
            layout.what = full(panes_at, upper);
            return layout;
        }
        let inner = w - 2 * side;
        let left = (inner * 46 / 100).clamp(48, 76);
        let gap = 3;
        layout.what = Rect::new(side, panes_at, left, panes);
        let (x, width) = (side + left + gap, inner - left - gap);
        let upper = panes * 11 / 20;
        layout.where_ = Rect::new(x, panes_at, width, upper);
        layout.why = Rect::new(x, panes_at + upper, width, panes - upper);
        layout
    }

    /// The question at a cell.
    pub fn question_at(&self, column: u16, row: u16) -> Option<Question> {
        let at = ratatui::layout::Position::new(column, row);
        [
            (self.when, Question::When),
            (self.what, Question::What),
            (self.where_, Question::Where),
            (self.why, Question::Why),
        ]
        .into_iter()
        .find(|(area, _)| area.contains(at))
        .map(|(_, question)| question)
    }
}

/// Rows that the guided tour takes up.
pub fn tour_rows(model: &Model) -> u16 {
    match model.tour {
        // On a low screen the list needs the rows more.
        Some(_) if model.size.1 < 30 => 1,
        Some(_) if model.size.0 >= 100 => 2,
        Some(_) => 3,
        None => 0,
    }
}

/// Rows above the first group in the list.
pub fn list_head(area: Rect) -> u16 {
    1 + u16::from(area.height >= 20)
}

/// How the list of groups is set in a pane.
pub fn list_shape(model: &Model, area: Rect) -> Shape {
    let room = area.height.saturating_sub(list_head(area)).max(1);
    let chosen =
        model.selected().and_then(|g| model.order.iter().position(|id| *id == g.id)).unwrap_or(0);
    Shape::new(model.order.len(), chosen, room, model.zoom == Some(Question::What))
}

/// The row of the screen where room Lines begins.
pub const LINES_TOP: u16 = 3;

/// Rows of lines that fit on the screen.
pub fn lines_page(model: &Model) -> u64 {
    u64::from(model.size.1.saturating_sub(5 + tour_rows(model))).max(1)
}
