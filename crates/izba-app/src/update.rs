//! The one place where state changes: a message comes in, effects go out. No clock, no files, no terminal.

use crate::keymap::{Action, BINDINGS, action_of};
use crate::model::{Find, FindOutcome, Layout, LinesState, Model, Overlay, Question, Room, item_rows, list_window};
use crate::watch::{Answer, Order, Published};
use izba_core::{GroupId, LineRef, SourceId, State};
use std::sync::Arc;
use tui_input::{Input, InputRequest};

/// What happened.
#[derive(Debug)]
pub enum Msg {
    /// A key, by its name in the table.
    Key(String),
    /// Text pasted in one go.
    Paste(String),
    /// A click at column and row.
    Click(u16, u16),
    /// The wheel over column and row; down is positive.
    Wheel(u16, u16, i32),
    /// The terminal has a new size.
    Resized(u16, u16),
    /// A new snapshot.
    Published(Arc<Published>),
    /// An answer of the engine thread.
    Answer(Answer),
    /// Something to tell the user.
    Say(String),
}

/// What the shell shall do.
#[derive(Debug)]
pub enum Effect {
    /// Ask the engine thread.
    Order(Order),
    /// Open the editor at a place of the project as it is now.
    Edit {
        /// Path relative to the project.
        file: String,
        /// Line, from 1.
        line: u32,
        /// Column in characters, from 1.
        column: u32,
    },
    /// Take or release the mouse.
    Mouse(bool),
    /// Leave.
    Quit,
}

/// How long a notice stands, in milliseconds.
const NOTICE_MS: i64 = 5_000;

/// Changes the state by one message.
#[must_use]
pub fn update(model: &mut Model, msg: Msg) -> Vec<Effect> {
    match msg {
        Msg::Key(key) => on_key(model, &key),
        Msg::Paste(text) => {
            for c in text.chars().filter(|c| !c.is_control()) {
                type_char(model, c);
            }
            Vec::new()
        }
        Msg::Click(column, row) => on_click(model, column, row),
        Msg::Wheel(column, row, by) => on_wheel(model, column, row, by),
        Msg::Resized(w, h) => {
            model.size = (w, h);
            ask_rows(model)
        }
        Msg::Published(published) => on_published(model, published),
        Msg::Answer(answer) => on_answer(model, answer),
        Msg::Say(sentence) => {
            say(model, sentence);
            Vec::new()
        }
    }
}

fn say(model: &mut Model, sentence: impl Into<String>) {
    model.notice = Some((sentence.into(), model.live.snapshot.now.0 + NOTICE_MS));
}

fn on_published(model: &mut Model, published: Arc<Published>) -> Vec<Effect> {
    let new_run = runs(&published) != runs(&model.live);
    model.live = published;
    if model.notice.as_ref().is_some_and(|(_, until)| model.live.snapshot.now.0 > *until) {
        model.notice = None;
    }
    if model.held && !new_run {
        return Vec::new();
    }
    model.held = false;
    let grew = model.shown.snapshot.rows != model.live.snapshot.rows;
    let sighted = |published: &Published| published.snapshot.groups.iter().map(|g| g.total).sum::<u64>();
    // Lines that were read before their entry was whole know their group now.
    let regrouped = sighted(&model.shown) != sighted(&model.live);
    model.shown = model.live.clone();
    sort_list(model, new_run);
    if model.room != Room::Lines || !(regrouped || grew && model.lines.follow) {
        return Vec::new();
    }
    let mut effects = ask_rows(model);
    if regrouped && effects.is_empty() {
        effects = order_rows(model);
    }
    effects
}

fn runs(published: &Published) -> Vec<u32> {
    published.snapshot.sources.iter().map(|s| s.run).collect()
}

/// Puts the list into the order of the snapshot, unless the user is choosing in it; then only adds what is new below.
fn sort_list(model: &mut Model, anew: bool) {
    let groups = &model.shown.snapshot.groups;
    let choosing = model.chosen.is_some() && model.focus == Question::What && model.room == Room::Now && !anew;
    if !choosing {
        model.order = groups.iter().map(|g| g.id).collect();
        return;
    }
    model.order.retain(|id| groups.iter().any(|g| g.id == *id));
    for group in groups {
        if !model.order.contains(&group.id) {
            model.order.push(group.id);
        }
    }
}

fn on_answer(model: &mut Model, answer: Answer) -> Vec<Effect> {
    match answer {
        Answer::Published => {}
        Answer::Window { from, rows } => {
            let first = rows.first().map_or(from, |r| r.row);
            // What was asked for before the latest scrolling may still be of use, but never hides what is.
            let wanted = model.lines.top;
            if first <= wanted || model.lines.rows.is_empty() {
                model.lines.rows = rows;
            }
        }
        Answer::Found { id, row, done, searched } => {
            let Some(find) = model.lines.find.as_mut().filter(|f| f.id == id) else { return Vec::new() };
            find.outcome = match (row, done) {
                (Some(row), _) => FindOutcome::Found(row),
                (None, true) => FindOutcome::Nowhere,
                (None, false) => FindOutcome::Searching(searched),
            };
            if let Some(row) = row {
                go_to_row(model, row);
                return ask_rows(model);
            }
        }
        Answer::Row(row) => {
            model.room = Room::Lines;
            go_to_row(model, row);
            return ask_rows(model);
        }
        Answer::Trouble(sentence) => say(model, sentence),
    }
    Vec::new()
}

fn on_key(model: &mut Model, key: &str) -> Vec<Effect> {
    if model.overlay.is_some() {
        return on_overlay_key(model, key);
    }
    if model.lines.find.as_ref().is_some_and(|f| f.typing) && model.room == Room::Lines {
        return on_find_key(model, key);
    }
    match action_of(key, model.room == Room::Lines) {
        Some(action) => act(model, action),
        None => {
            if key.chars().count() == 1 {
                say(model, format!("{key} does nothing here; ? shows the keys"));
            }
            Vec::new()
        }
    }
}

/// Does what the user wants.
fn act(model: &mut Model, action: Action) -> Vec<Effect> {
    match action {
        Action::RoomNow => {
            model.room = Room::Now;
            sort_list(model, true);
        }
        Action::RoomLines => {
            model.room = Room::Lines;
            return ask_rows(model);
        }
        Action::Help => model.overlay = Some(Overlay::Help(0)),
        Action::Palette => model.overlay = Some(Overlay::Palette(Input::default(), 0)),
        Action::Hold => {
            model.held = !model.held;
            if model.held {
                model.lines.follow = false;
                say(model, "held still; what arrives is kept. Space lets it go on");
            } else {
                model.shown = model.live.clone();
                sort_list(model, false);
                say(model, "going on");
                return ask_rows(model);
            }
        }
        Action::Again => {
            if !model.live.can_run_again {
                say(model, "Izba did not start this program, so it cannot start it again; start it where you did before");
                return Vec::new();
            }
            say(model, if model.live.running { "stopping the program, then running it again" } else { "running it again" });
            // The screen goes back to what is first.
            (model.chosen, model.step, model.scroll) = (None, 0, (0, 0));
            return vec![Effect::Order(Order::Again)];
        }
        Action::Stop => {
            if !model.live.running {
                say(model, "no program that Izba started is running");
                return Vec::new();
            }
            say(model, "stopping the program");
            return vec![Effect::Order(Order::Stop)];
        }
        Action::Interrupt => {
            if !model.live.running {
                return vec![Effect::Quit];
            }
            say(model, "stopping the program; Ctrl+C once more leaves Izba");
            return vec![Effect::Order(Order::Stop)];
        }
        Action::Quit => {
            if !model.live.running {
                return vec![Effect::Quit];
            }
            model.overlay = Some(Overlay::AskQuit);
        }
        Action::Reply => {
            if model.live.running {
                model.overlay = Some(Overlay::Reply(Input::default()));
            } else {
                say(model, "no program runs that could read an answer");
            }
        }
        Action::SelectText => {
            model.mouse = !model.mouse;
            say(model, if model.mouse { "the mouse chooses and scrolls again" } else { "the mouse selects text now; v gives it back" });
            return vec![Effect::Mouse(model.mouse)];
        }
        Action::Edit => return edit(model),
        _ if model.room == Room::Lines => return act_in_lines(model, action),
        _ => return act_in_now(model, action),
    }
    Vec::new()
}

fn act_in_now(model: &mut Model, action: Action) -> Vec<Effect> {
    match action {
        Action::Up | Action::Down | Action::PageUp | Action::PageDown | Action::First | Action::Last => match model.focus {
            Question::What => choose(model, action),
            Question::Where => step(model, action),
            Question::Why => {
                let by = match action {
                    Action::Up => -1,
                    Action::Down => 1,
                    Action::PageUp => -10,
                    Action::PageDown => 10,
                    Action::First => -10_000,
                    _ => 10_000,
                };
                model.scroll.1 = model.scroll.1.saturating_add_signed(by).min(crate::view::why_rows(model));
            }
            Question::When => {}
        },
        Action::NextQuestion | Action::PreviousQuestion => {
            model.focus = model.focus.step(if action == Action::NextQuestion { 1 } else { 3 });
            if model.zoom.is_some() {
                model.zoom = Some(model.focus);
            }
            // Whoever leaves the list holds still elsewhere: now it may be sorted.
            sort_list(model, false);
        }
        Action::Deeper => match (model.focus, model.zoom) {
            (Question::What, _) => {
                model.focus = Question::Where;
                if model.zoom.is_some() {
                    model.zoom = Some(Question::Where);
                }
            }
            (focus, None) => model.zoom = Some(focus),
            (_, Some(_)) => {}
        },
        Action::Back => {
            if model.zoom.is_some() {
                model.zoom = None;
            } else if model.focus != Question::What {
                model.focus = Question::What;
            } else if model.chosen.is_some() {
                model.chosen = None;
                sort_list(model, true);
            }
        }
        Action::Zoom => model.zoom = if model.zoom.is_some() { None } else { Some(model.focus) },
        Action::Across => {
            let Some(group) = model.selected() else {
                say(model, "there is no group yet whose lines could be shown");
                return Vec::new();
            };
            let line = LineRef { source: SourceId(group.source), line: group.last_line };
            return vec![Effect::Order(Order::RowOf(line))];
        }
        _ => {}
    }
    Vec::new()
}

fn choose(model: &mut Model, action: Action) {
    let count = model.order.len();
    if count == 0 {
        return;
    }
    let now = model.selected().and_then(|g| model.order.iter().position(|id| *id == g.id)).unwrap_or(0);
    let page = list_window(model, Layout::of(model).what).1.max(1);
    let next = match action {
        Action::Up => now.saturating_sub(1),
        Action::Down => (now + 1).min(count - 1),
        Action::PageUp => now.saturating_sub(page),
        Action::PageDown => (now + page).min(count - 1),
        Action::First => 0,
        _ => count - 1,
    };
    select(model, model.order[next]);
}

fn select(model: &mut Model, id: GroupId) {
    if model.selected().is_none_or(|g| g.id != id) {
        (model.step, model.scroll) = (0, (0, 0));
    }
    model.chosen = Some(id);
}

fn step(model: &mut Model, action: Action) {
    let steps = model.selected().map_or(0, |g| Model::own_steps(g).len());
    let last = steps.saturating_sub(1);
    model.step = match action {
        Action::Up => model.step.saturating_sub(1),
        Action::Down => (model.step + 1).min(last),
        Action::PageUp | Action::First => 0,
        _ => last,
    };
}

fn edit(model: &mut Model) -> Vec<Effect> {
    let (group, step) = match model.room {
        Room::Now => (model.selected().cloned(), model.step),
        Room::Lines => {
            let row = model.lines.rows.iter().find(|r| r.row == model.lines.cursor);
            (row.and_then(|r| r.group).and_then(|(id, _)| model.group(id)).cloned(), 0)
        }
    };
    let Some(group) = group else {
        say(model, if model.room == Room::Now { "there is nothing to mend yet" } else { "this line belongs to no error; choose one that does" });
        return Vec::new();
    };
    let place = if step == 0 { group.entry.place.clone() } else { Model::own_steps(&group).get(step).and_then(|f| f.place()) };
    let Some(place) = place else {
        say(model, "this error names no line in your own files");
        return Vec::new();
    };
    let published = &model.live;
    let project = &published.snapshot.project;
    let old = place.line.unwrap_or(1);
    let line = project.line_today(&published.today, &place.file, old);
    let text = project.line(&place.file, old).unwrap_or("");
    let byte = if step == 0 { group.explanation.token.map(|(start, _)| start) } else { None };
    let byte = byte.or_else(|| place.column.map(|c| c.to_byte(text))).unwrap_or(0);
    let column = text.get(..byte).map_or(1, |head| head.chars().count() as u32 + 1);
    vec![Effect::Edit { file: place.file.to_string(), line, column }]
}

/// Rows of lines that fit on the screen.
pub fn lines_page(model: &Model) -> u64 {
    u64::from(model.size.1.saturating_sub(5)).max(1)
}

fn act_in_lines(model: &mut Model, action: Action) -> Vec<Effect> {
    let page = lines_page(model);
    let last = model.shown.snapshot.rows.saturating_sub(1);
    let cursor = model.lines.cursor;
    match action {
        Action::Up => go_to_row(model, cursor.saturating_sub(1)),
        Action::Down => go_to_row(model, (cursor + 1).min(last)),
        Action::PageUp => go_to_row(model, cursor.saturating_sub(page)),
        Action::PageDown => go_to_row(model, (cursor + page).min(last)),
        Action::First => go_to_row(model, 0),
        Action::Last => model.lines.follow = true,
        Action::Find => {
            model.finds += 1;
            let typed = model.lines.find.take().map(|f| f.input).unwrap_or_default();
            model.lines.find = Some(Find { id: model.finds, input: typed, typing: true, outcome: FindOutcome::Idle });
        }
        Action::Deeper | Action::Across => {
            let row = model.lines.rows.iter().find(|r| r.row == cursor);
            let Some((id, _)) = row.and_then(|r| r.group).filter(|(id, _)| model.group(*id).is_some()) else {
                say(model, "this line belongs to no error or warning");
                return Vec::new();
            };
            select(model, id);
            (model.room, model.focus) = (Room::Now, Question::Where);
            sort_list(model, false);
        }
        Action::Back => {
            if model.lines.find.take().is_some() {
                return vec![Effect::Order(Order::FindNothing)];
            }
            if model.lines.follow {
                model.room = Room::Now;
            } else {
                model.lines.follow = true;
            }
        }
        _ => return Vec::new(),
    }
    ask_rows(model)
}

fn go_to_row(model: &mut Model, row: u64) {
    let page = lines_page(model);
    let LinesState { top, cursor, follow, .. } = &mut model.lines;
    *cursor = row;
    *follow = false;
    if *cursor < *top {
        *top = *cursor;
    } else if *cursor >= *top + page {
        *top = *cursor + 1 - page;
    }
}

/// Asks for the rows that the screen shows, with a screenful around them.
fn ask_rows(model: &mut Model) -> Vec<Effect> {
    if model.room != Room::Lines {
        return Vec::new();
    }
    let page = lines_page(model);
    if model.lines.follow {
        let rows = model.shown.snapshot.rows;
        model.lines.top = rows.saturating_sub(page);
        model.lines.cursor = rows.saturating_sub(1);
    }
    let have = |row: u64| model.lines.rows.binary_search_by_key(&row, |r| r.row).is_ok();
    let last = (model.lines.top + page).min(model.shown.snapshot.rows);
    if last == 0 || (have(model.lines.top) && have(last - 1)) {
        return Vec::new();
    }
    order_rows(model)
}

fn order_rows(model: &Model) -> Vec<Effect> {
    let page = lines_page(model);
    vec![Effect::Order(Order::Window { from: model.lines.top.saturating_sub(page), count: 3 * page })]
}

fn on_find_key(model: &mut Model, key: &str) -> Vec<Effect> {
    let cursor = model.lines.cursor;
    let Some(find) = model.lines.find.as_mut() else { return Vec::new() };
    match key {
        "Esc" => {
            model.lines.find = None;
            vec![Effect::Order(Order::FindNothing)]
        }
        "Enter" | "↓" | "↑" => {
            let words: Vec<String> = find.input.value().split_whitespace().map(str::to_lowercase).collect();
            if words.is_empty() {
                return Vec::new();
            }
            let up = key == "↑";
            model.finds += 1;
            find.id = model.finds;
            find.outcome = FindOutcome::Searching(0);
            let from = if up { cursor } else { cursor + u64::from(key == "↓" || matches!(find.outcome, FindOutcome::Found(_))) };
            let from = if model.lines.follow && !up { 0 } else { from };
            vec![Effect::Order(Order::Find { id: find.id, words, from, up })]
        }
        _ => {
            edit_input(&mut find.input, key);
            Vec::new()
        }
    }
}

fn edit_input(input: &mut Input, key: &str) {
    let request = match key {
        "Backspace" => InputRequest::DeletePrevChar,
        "Delete" => InputRequest::DeleteNextChar,
        "←" => InputRequest::GoToPrevChar,
        "→" => InputRequest::GoToNextChar,
        "Home" => InputRequest::GoToStart,
        "End" => InputRequest::GoToEnd,
        "Space" => InputRequest::InsertChar(' '),
        _ => match key.chars().next() {
            Some(c) if key.chars().count() == 1 => InputRequest::InsertChar(c),
            _ => return,
        },
    };
    input.handle(request);
}

fn type_char(model: &mut Model, c: char) {
    let typing_find = model.room == Room::Lines && model.overlay.is_none();
    let input = match &mut model.overlay {
        Some(Overlay::Palette(input, _) | Overlay::Reply(input)) => Some(input),
        _ => model.lines.find.as_mut().filter(|f| f.typing && typing_find).map(|f| &mut f.input),
    };
    if let Some(input) = input {
        input.handle(InputRequest::InsertChar(c));
    }
}

/// The commands that fit what was typed in the palette, best first.
pub fn palette_matches(typed: &str) -> Vec<&'static crate::keymap::Binding> {
    use nucleo_matcher::pattern::{CaseMatching, Normalization, Pattern};
    use nucleo_matcher::{Config, Matcher, Utf32Str};
    if typed.is_empty() {
        return BINDINGS.iter().collect();
    }
    let pattern = Pattern::parse(typed, CaseMatching::Ignore, Normalization::Smart);
    let mut matcher = Matcher::new(Config::DEFAULT);
    let mut buffer = Vec::new();
    let mut fitting: Vec<_> = BINDINGS
        .iter()
        .filter_map(|b| {
            // A short label that holds the word is meant more likely than a long sentence that does.
            let label = pattern.score(Utf32Str::new(b.label, &mut buffer), &mut matcher);
            let help = || pattern.score(Utf32Str::new(b.help, &mut buffer), &mut matcher);
            let score = label.map(|s| 1_000_000 + s * 100 / b.label.len() as u32).or_else(help)?;
            Some((score, b))
        })
        .collect();
    fitting.sort_by_key(|(score, _)| std::cmp::Reverse(*score));
    fitting.into_iter().map(|(_, b)| b).collect()
}

fn on_overlay_key(model: &mut Model, key: &str) -> Vec<Effect> {
    let Some(overlay) = model.overlay.take() else { return Vec::new() };
    match overlay {
        Overlay::Help(scroll) => match key {
            "Esc" | "?" | "q" | "Enter" => {}
            "Ctrl+C" => return act(model, Action::Interrupt),
            "↑" | "k" => model.overlay = Some(Overlay::Help(scroll.saturating_sub(1))),
            "↓" | "j" => model.overlay = Some(Overlay::Help((scroll + 1).min(BINDINGS.len()))),
            _ => model.overlay = Some(Overlay::Help(scroll)),
        },
        Overlay::AskQuit => match key {
            "q" | "y" | "Enter" | "Ctrl+C" => return vec![Effect::Quit],
            "Esc" | "n" => {}
            _ => model.overlay = Some(Overlay::AskQuit),
        },
        Overlay::Reply(mut input) => match key {
            "Esc" | "Ctrl+C" => {}
            "Enter" => {
                let text = format!("{}\n", input.value());
                say(model, "sent to the program");
                return vec![Effect::Order(Order::Type(text))];
            }
            _ => {
                edit_input(&mut input, key);
                model.overlay = Some(Overlay::Reply(input));
            }
        },
        Overlay::Palette(mut input, chosen) => match key {
            "Esc" | "Ctrl+C" => {}
            "Enter" => {
                if let Some(binding) = palette_matches(input.value()).get(chosen) {
                    return act(model, binding.action);
                }
            }
            "↑" => model.overlay = Some(Overlay::Palette(input, chosen.saturating_sub(1))),
            "↓" => {
                let last = palette_matches(input.value()).len().saturating_sub(1);
                model.overlay = Some(Overlay::Palette(input, (chosen + 1).min(last)));
            }
            _ => {
                edit_input(&mut input, key);
                model.overlay = Some(Overlay::Palette(input, 0));
            }
        },
    }
    Vec::new()
}

fn on_click(model: &mut Model, column: u16, row: u16) -> Vec<Effect> {
    if model.overlay.take().is_some() {
        return Vec::new();
    }
    if row == 0 {
        return match crate::view::room_at(model, column) {
            Some(Room::Now) => act(model, Action::RoomNow),
            Some(Room::Lines) => act(model, Action::RoomLines),
            None => Vec::new(),
        };
    }
    if model.room == Room::Lines {
        let top = crate::view::LINES_TOP;
        if row >= top && u64::from(row - top) < lines_page(model) {
            let chosen = (model.lines.top + u64::from(row - top)).min(model.shown.snapshot.rows.saturating_sub(1));
            go_to_row(model, chosen);
            return ask_rows(model);
        }
        return Vec::new();
    }
    let layout = Layout::of(model);
    let Some(question) = layout.question_at(column, row) else { return Vec::new() };
    model.focus = question;
    match question {
        Question::What => {
            if let Some(id) = crate::view::group_at(model, layout.what, row) {
                select(model, id);
            }
        }
        Question::Where => {
            if let Some(step) = crate::view::step_at(model, layout.where_, row) {
                model.step = step;
            }
        }
        _ => {}
    }
    Vec::new()
}

fn on_wheel(model: &mut Model, column: u16, row: u16, by: i32) -> Vec<Effect> {
    let action = if by > 0 { Action::Down } else { Action::Up };
    if let Some(Overlay::Help(_)) = model.overlay {
        return on_overlay_key(model, if by > 0 { "↓" } else { "↑" });
    }
    if model.overlay.is_some() {
        return Vec::new();
    }
    let mut effects = Vec::new();
    if model.room == Room::Lines {
        for _ in 0..3 {
            effects = act_in_lines(model, action);
        }
        return effects;
    }
    if let Some(question) = Layout::of(model).question_at(column, row) {
        let before = std::mem::replace(&mut model.focus, question);
        effects = act_in_now(model, action);
        if question != Question::What {
            model.focus = before;
        }
    }
    effects
}

/// The title of the terminal: what can be seen while the game's window is in front.
pub fn title(model: &Model) -> String {
    let groups = &model.live.snapshot.groups;
    let errors = groups.iter().filter(|g| g.state == State::New && g.level() >= izba_core::Level::Error).count();
    let name = model.live.snapshot.project.name();
    match errors {
        0 => format!("izba: {name}, nothing new"),
        n => format!("izba: {name}, {}", izba_core::answer::counted(n as u64, "new error", "new errors")),
    }
}

/// Rows of one item, for tests of the mouse.
pub fn row_of_item(model: &Model, index: usize) -> u16 {
    let area = Layout::of(model).what;
    let (first, _) = list_window(model, area);
    area.y + crate::model::LIST_HEAD + u16::from(area.height >= 20) + (index.saturating_sub(first)) as u16 * item_rows(area)
}
