//! What the user can do and by which keys: one table, from which help, footer and palette are made.

use crate::model::Room;
use crossterm::event::{KeyCode, KeyEvent, KeyModifiers};
use std::sync::OnceLock;

/// What the user can ask for, whichever key or command asks it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Action {
    /// One up.
    Up,
    /// One down.
    Down,
    /// A screenful up.
    PageUp,
    /// A screenful down.
    PageDown,
    /// To the beginning.
    First,
    /// To the end.
    Last,
    /// Into what is chosen.
    Deeper,
    /// Back out.
    Back,
    /// The next of the four questions.
    NextQuestion,
    /// The question before.
    PreviousQuestion,
    /// Room Now.
    RoomNow,
    /// Room Lines.
    RoomLines,
    /// A pane to the full screen and back.
    Zoom,
    /// From a group to its lines, from a line to its group.
    Across,
    /// Look for a text.
    Find,
    /// Room Lines: the beginnings of long lines again.
    LeftPart,
    /// Room Lines: what stands further on in long lines.
    RightPart,
    /// Room Lines: long lines over several rows, to their ends, or one row each again.
    Wrap,
    /// Room Lines: of each error its first line only, or all its lines again.
    FoldErrors,
    /// Room Lines: the next error or warning.
    NextError,
    /// Room Lines: the error or warning before.
    PreviousError,
    /// Room Now: to Why and back.
    Why,
    /// Room Now: the moment before, in When.
    MomentEarlier,
    /// Room Now: the moment after, in When.
    MomentLater,
    /// Room Now: a shorter stretch of time in When.
    Nearer,
    /// Room Now: a longer stretch of time in When.
    Farther,
    /// Copies what is chosen: a line, a sentence, a place.
    Copy,
    /// Type a filter phrase.
    Filter,
    /// Show for a moment what is filtered out or set aside.
    Peek,
    /// Set a group aside, or take it back.
    Mute,
    /// Set aside whatever the filter lets through.
    MuteFiltered,
    /// Keep the filter under a name.
    KeepFilter,
    /// Call a group fixed, or no longer.
    Fixed,
    /// Tell the parts of a group apart, or no longer.
    Split,
    /// Count a group with another one.
    Join,
    /// What the rows stand for.
    GroupBy,
    /// Take back what was decided last.
    Undo,
    /// A run begins here.
    FromHere,
    /// Room Runs.
    RoomRuns,
    /// Room Checks.
    RoomChecks,
    /// Room Pause.
    RoomPause,
    /// Stop the program now.
    PauseNow,
    /// Let it go on.
    GoOn,
    /// To the next line.
    Over,
    /// Into the call.
    Into,
    /// Back to the caller.
    Out,
    /// Until the handler begins again.
    OneTick,
    /// To the chosen line.
    RunHere,
    /// A breakpoint at the line that is shown.
    Breakpoint,
    /// Stop just before the chosen error next time.
    StopBefore,
    /// Narrow the program down to what the chosen error needs.
    Corner,
    /// Room Values.
    RoomValues,
    /// Draw the chosen series beside others.
    Beside,
    /// Pin the chosen series to room Now, or no longer.
    Pin,
    /// Read the values off at an earlier moment.
    ReadEarlier,
    /// At a later one.
    ReadLater,
    /// To the value that differs before the chosen error.
    Differing,
    /// The prints in the source.
    Prints,
    /// Room Notes.
    RoomNotes,
    /// Write a note about the chosen error.
    Note,
    /// Draw what is shown.
    Draw,
    /// A shorter stretch of time.
    Closer,
    /// A longer one.
    Wider,
    /// The stretch before.
    EarlierStretch,
    /// The stretch after.
    LaterStretch,
    /// Tell others: a request for help.
    Tell,
    /// The paths that were printed on purpose.
    Paths,
    /// Stop when the chosen error happens again.
    StopAgain,
    /// At which errors to stop.
    StopsAt,
    /// Watch an expression.
    WatchValue,
    /// Change the chosen value.
    SetValue,
    /// The chosen value as a table, or the table by another column.
    AsTable,
    /// The next pane of room Pause.
    NextPane,
    /// A suspect is innocent.
    RuleOut,
    /// What the words mean.
    Words,
    /// The run before.
    Earlier,
    /// The run after.
    Later,
    /// The runs of the next source.
    NextSource,
    /// Two runs side by side.
    Compare,
    /// To a line by its number.
    GoTo,
    /// All commands by name.
    Palette,
    /// Open the editor at the place.
    Edit,
    /// Run the program again.
    Again,
    /// Stop the program.
    Stop,
    /// Answer the program's question.
    Reply,
    /// Hold the screen still, or let it go on.
    Hold,
    /// Let the terminal's own mouse select text.
    SelectText,
    /// In the demo: mend what is chosen.
    MendForMe,
    /// In the demo: begin or leave the guided tour.
    Tour,
    /// What is watched; add, hold, take away.
    Sources,
    /// Say that who speaks in the chosen line is mine.
    Mine,
    /// How the chosen line is read, and teach it.
    Teach,
    /// What the user sets once for all projects.
    Settings,
    /// Help for this room.
    Help,
    /// Leave.
    Quit,
    /// What a newcomer presses to stop something.
    Interrupt,
}

/// Where an action has a meaning.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Scope {
    /// In every room.
    Everywhere,
    /// In one room.
    In(Room),
    /// In the demo.
    Demo,
}

/// One action with its keys and words.
#[derive(Debug, Clone, Copy)]
pub struct Binding {
    /// The action.
    pub action: Action,
    /// Its keys; the first is the one shown.
    pub keys: &'static [&'static str],
    /// A word or two for the footer and the palette.
    pub label: &'static str,
    /// A sentence for help.
    pub help: &'static str,
    /// Where it has a meaning.
    pub scope: Scope,
}

const fn bind(
    action: Action,
    keys: &'static [&'static str],
    label: &'static str,
    help: &'static str,
    scope: Scope,
) -> Binding {
    Binding { action, keys, label, help, scope }
}

/// Every action with its keys, its words in the palette and its help line, in the order of the
/// help.
///
/// As they are without settings; [`bindings`] are those that hold.
pub static BINDINGS: &[Binding] = &[
    bind(
        Action::Up,
        &["↑", "k"],
        "up",
        "Choose the one above; in Where, the step before",
        Scope::Everywhere,
    ),
    bind(
        Action::Down,
        &["↓", "j"],
        "down",
        "Choose the one below; in Where, the next step that led here",
        Scope::Everywhere,
    ),
    bind(Action::PageUp, &["PgUp"], "page up", "A screenful up", Scope::Everywhere),
    bind(Action::PageDown, &["PgDn"], "page down", "A screenful down", Scope::Everywhere),
    bind(Action::First, &["Home"], "first", "To the beginning", Scope::Everywhere),
    bind(
        Action::Last,
        &["End"],
        "last",
        "To the end; in Lines, stay with what arrives",
        Scope::Everywhere,
    ),
    bind(
        Action::Deeper,
        &["Enter"],
        "deeper",
        "Open it; press again for the full screen",
        Scope::Everywhere,
    ),
    bind(Action::Back, &["Esc"], "back", "Go back a step", Scope::Everywhere),
    bind(
        Action::NextQuestion,
        &["Tab"],
        "next question",
        "Go to the next of the four questions",
        Scope::In(Room::Now),
    ),
    bind(
        Action::PreviousQuestion,
        &["Shift+Tab"],
        "previous question",
        "Go to the question before",
        Scope::In(Room::Now),
    ),
    bind(Action::Edit, &["e"], "edit", "Open your editor at the line", Scope::Everywhere),
    bind(Action::Again, &["a"], "run again", "Run the program again", Scope::Everywhere),
    bind(Action::Stop, &["s"], "stop", "Stop the program", Scope::Everywhere),
    bind(
        Action::Hold,
        &["Space"],
        "hold",
        "Hold the screen still, or let it go on; nothing is lost meanwhile",
        Scope::Everywhere,
    ),
    bind(
        Action::Zoom,
        &["z"],
        "full screen",
        "Open the question you are in to the full screen, and back",
        Scope::In(Room::Now),
    ),
    bind(
        Action::Across,
        &["g"],
        "mistake or lines",
        "From a mistake to its lines, from a line to its mistake",
        Scope::Everywhere,
    ),
    bind(
        Action::Filter,
        &["/"],
        "filter",
        "Filter by a phrase, such as: error+ in lantern.lua not muted",
        Scope::Everywhere,
    ),
    bind(
        Action::Peek,
        &["p"],
        "peek",
        "Show what is filtered out or set aside; again to hide it",
        Scope::Everywhere,
    ),
    bind(
        Action::Mute,
        &["x"],
        "set aside",
        "Set a mistake aside on purpose, or take it back",
        Scope::Everywhere,
    ),
    bind(
        Action::MuteFiltered,
        &["X"],
        "set all aside",
        "Set aside whatever the filter lets through, now and later",
        Scope::Everywhere,
    ),
    bind(
        Action::KeepFilter,
        &["K"],
        "keep filter",
        "Keep the filter under a name; typing the name offers it again",
        Scope::Everywhere,
    ),
    bind(
        Action::Fixed,
        &["F"],
        "fixed",
        "Call a mistake fixed, or no longer; if it comes again it is told as back",
        Scope::Everywhere,
    ),
    bind(
        Action::Split,
        &["S"],
        "split",
        "Tell the parts of a mistake apart, by object, caller or words; or no longer",
        Scope::In(Room::Now),
    ),
    bind(
        Action::Join,
        &["J"],
        "join",
        "Count a mistake with another one: press it on the first, then on the second",
        Scope::In(Room::Now),
    ),
    bind(
        Action::GroupBy,
        &["o"],
        "rows by",
        "What a row stands for: the mistake, message, place, object, kind, family or source",
        Scope::In(Room::Now),
    ),
    bind(Action::Undo, &["u"], "undo", "Take back what you decided last", Scope::Everywhere),
    bind(
        Action::FromHere,
        &["f"],
        "from here on",
        "Begin a new run here; what came before counts as the run before",
        Scope::Everywhere,
    ),
    bind(
        Action::Why,
        &["Q"],
        "why",
        "Why: what it means and how to fix it; again goes back",
        Scope::In(Room::Now),
    ),
    bind(
        Action::MomentEarlier,
        &["←"],
        "moment before",
        "In When: the moment before; Enter goes to its lines, ↑ ↓ to errors",
        Scope::In(Room::Now),
    ),
    bind(
        Action::MomentLater,
        &["→"],
        "moment after",
        "In When: the moment after",
        Scope::In(Room::Now),
    ),
    bind(
        Action::Nearer,
        &["+"],
        "nearer",
        "In When: a shorter stretch of time around the moment",
        Scope::In(Room::Now),
    ),
    bind(
        Action::Farther,
        &["-"],
        "farther",
        "In When: a longer stretch of time",
        Scope::In(Room::Now),
    ),
    bind(Action::Earlier, &["←"], "earlier", "The run before", Scope::In(Room::Runs)),
    bind(Action::Later, &["→"], "later", "The run after", Scope::In(Room::Runs)),
    bind(
        Action::NextSource,
        &["Tab"],
        "next source",
        "The runs of the next source",
        Scope::In(Room::Runs),
    ),
    bind(
        Action::Compare,
        &["V"],
        "compare",
        "The chosen run beside the one before it",
        Scope::In(Room::Runs),
    ),
    bind(
        Action::RightPart,
        &["→"],
        "further right",
        "Show what stands further on in long lines",
        Scope::In(Room::Lines),
    ),
    bind(
        Action::LeftPart,
        &["←"],
        "further left",
        "Back towards the beginning of long lines",
        Scope::In(Room::Lines),
    ),
    bind(
        Action::Wrap,
        &["z"],
        "whole lines",
        "Show long lines to their end, over several rows; or one row each again",
        Scope::In(Room::Lines),
    ),
    bind(
        Action::FoldErrors,
        &["o"],
        "fold errors",
        "Show the first line of each error only; or all its lines again",
        Scope::In(Room::Lines),
    ),
    bind(
        Action::NextError,
        &["n"],
        "next error",
        "To the next other error or warning, past more of the same",
        Scope::In(Room::Lines),
    ),
    bind(
        Action::PreviousError,
        &["N"],
        "error before",
        "To the other error or warning before, past more of the same",
        Scope::In(Room::Lines),
    ),
    bind(
        Action::Find,
        &["i"],
        "find",
        "Find words in the lines, without hiding any",
        Scope::In(Room::Lines),
    ),
    bind(
        Action::Mine,
        &["M"],
        "this is mine",
        "Who speaks in this line is mine, or is not; all else of its source ranks below",
        Scope::In(Room::Lines),
    ),
    bind(
        Action::GoTo,
        &["#"],
        "go to a line",
        "Go to a line by its number",
        Scope::In(Room::Lines),
    ),
    bind(
        Action::Reply,
        &["r"],
        "reply",
        "Answer the program when it asks for input",
        Scope::Everywhere,
    ),
    bind(
        Action::RoomNow,
        &["1"],
        "room Now",
        "Now: what to fix first, and the four questions about it",
        Scope::Everywhere,
    ),
    bind(
        Action::RoomLines,
        &["2"],
        "room Lines",
        "Lines: everything as it arrived",
        Scope::Everywhere,
    ),
    bind(
        Action::RoomRuns,
        &["3"],
        "room Runs",
        "Runs: each mistake over the runs, what is new, quiet and back",
        Scope::Everywhere,
    ),
    bind(
        Action::RoomValues,
        &["4"],
        "room Values",
        "Values: what the program prints under a name, over time",
        Scope::Everywhere,
    ),
    bind(
        Action::Beside,
        &["Y"],
        "draw beside",
        "Draw this series beside the chosen one on the same axis, or no longer",
        Scope::In(Room::Values),
    ),
    bind(Action::Closer, &["+"], "closer", "A shorter stretch of time", Scope::In(Room::Values)),
    bind(Action::Wider, &["-"], "wider", "A longer stretch of time", Scope::In(Room::Values)),
    bind(
        Action::EarlierStretch,
        &["←"],
        "earlier",
        "The stretch of time before",
        Scope::In(Room::Values),
    ),
    bind(
        Action::LaterStretch,
        &["→"],
        "later",
        "The stretch of time after",
        Scope::In(Room::Values),
    ),
    bind(
        Action::ReadEarlier,
        &[","],
        "read off",
        "Read the values off at a moment, further back each time; Esc ends it",
        Scope::In(Room::Values),
    ),
    bind(
        Action::ReadLater,
        &["."],
        "read off later",
        "Read the values off at a later moment",
        Scope::In(Room::Values),
    ),
    bind(
        Action::Differing,
        &["n"],
        "what differs",
        "To the value that differs most just before the chosen error; again to the next",
        Scope::In(Room::Values),
    ),
    bind(
        Action::Pin,
        &["h"],
        "pin to Now",
        "Keep this value in sight in room Now, or no longer",
        Scope::In(Room::Values),
    ),
    bind(
        Action::Prints,
        &["L"],
        "prints",
        "The prints that stand in your source, and the values they told",
        Scope::In(Room::Values),
    ),
    bind(
        Action::RoomChecks,
        &["5"],
        "room Checks",
        "Checks: what is found wrong in the code and data without running them",
        Scope::Everywhere,
    ),
    bind(
        Action::RoomPause,
        &["6"],
        "room Pause",
        "Pause: the program stopped, with its values; where it shall stop",
        Scope::Everywhere,
    ),
    bind(
        Action::RoomNotes,
        &["7"],
        "room Notes",
        "Notes: what you wrote about errors; they are offered when one like them appears",
        Scope::Everywhere,
    ),
    bind(
        Action::Note,
        &["w"],
        "write a note",
        "Write down what the chosen error meant and what fixed it",
        Scope::Everywhere,
    ),
    bind(
        Action::StopBefore,
        &["B"],
        "stop before it",
        "Stop the program just before the chosen error happens next time",
        Scope::In(Room::Now),
    ),
    bind(
        Action::Corner,
        &["C"],
        "corner it",
        "Run a copy with parts left out, until only what the chosen error needs is left",
        Scope::In(Room::Now),
    ),
    bind(
        Action::StopAgain,
        &["A"],
        "stop at it",
        "Stop the program when the chosen error happens again, and only then",
        Scope::In(Room::Now),
    ),
    bind(
        Action::Breakpoint,
        &["b"],
        "breakpoint",
        "Stop at the line that is shown; with a condition, a count, or a text to write",
        Scope::Everywhere,
    ),
    bind(
        Action::PauseNow,
        &["P"],
        "pause now",
        "Stop the program now, wherever it is",
        Scope::Everywhere,
    ),
    bind(
        Action::GoOn,
        &["G"],
        "go on",
        "Let the stopped program go on; an error raised on purpose is passed over",
        Scope::Everywhere,
    ),
    bind(
        Action::Over,
        &["→"],
        "one line",
        "To the next line of this function",
        Scope::In(Room::Pause),
    ),
    bind(
        Action::Into,
        &[">"],
        "into the call",
        "Into what this line calls; code outside your project is stepped past",
        Scope::In(Room::Pause),
    ),
    bind(
        Action::Out,
        &["<"],
        "out",
        "Back to the line that called this function",
        Scope::In(Room::Pause),
    ),
    bind(
        Action::OneTick,
        &["O"],
        "one tick",
        "Until this handler begins again for the same object",
        Scope::In(Room::Pause),
    ),
    bind(
        Action::RunHere,
        &["H"],
        "run to here",
        "Go on to the line chosen in the source",
        Scope::In(Room::Pause),
    ),
    bind(
        Action::WatchValue,
        &["h"],
        "watch",
        "Watch an expression at each stop",
        Scope::In(Room::Pause),
    ),
    bind(
        Action::SetValue,
        &["="],
        "set value",
        "Give the chosen name another value",
        Scope::In(Room::Pause),
    ),
    bind(
        Action::AsTable,
        &["o"],
        "as a table",
        "A list of objects or of lists as a table; again to order it by the next column",
        Scope::In(Room::Pause),
    ),
    bind(
        Action::StopsAt,
        &["E"],
        "stop at errors",
        "At which errors the program stops: at none, those that nobody catches, all",
        Scope::In(Room::Pause),
    ),
    bind(
        Action::NextPane,
        &["Tab"],
        "next pane",
        "Go to the next pane: values, source, steps",
        Scope::In(Room::Pause),
    ),
    bind(
        Action::Tell,
        &["t"],
        "tell others",
        "Write what a stranger needs to help with the chosen error; see it first",
        Scope::Everywhere,
    ),
    bind(
        Action::Copy,
        &["y"],
        "copy",
        "Copy what is chosen: the line, the sentence of the error, the place in Where",
        Scope::Everywhere,
    ),
    bind(
        Action::Draw,
        &["D"],
        "draw",
        "Draw what is shown as SVG or PDF, or keep the numbers behind it",
        Scope::Everywhere,
    ),
    bind(
        Action::RuleOut,
        &["R"],
        "rule out",
        "In Where: the chosen suspect or step is innocent",
        Scope::In(Room::Now),
    ),
    bind(
        Action::Words,
        &["d"],
        "what words mean",
        "What the words mean that stand in the chosen error",
        Scope::In(Room::Now),
    ),
    bind(
        Action::Sources,
        &["c"],
        "sources",
        "Sources: what is watched and how it goes; add one, hold it, take it away",
        Scope::Everywhere,
    ),
    bind(
        Action::Paths,
        &["W"],
        "printed paths",
        "Paths that the program printed on purpose: who calls from where, how often",
        Scope::In(Room::Lines),
    ),
    bind(
        Action::Teach,
        &["l"],
        "how it is read",
        "How the chosen line is divided into its parts; correct it, or teach it",
        Scope::In(Room::Lines),
    ),
    bind(
        Action::Settings,
        &["I"],
        "settings",
        "Settings: colours, editor, when to run again, bell, how much is kept",
        Scope::Everywhere,
    ),
    bind(Action::Palette, &[":"], "commands", "All commands by name", Scope::Everywhere),
    bind(
        Action::SelectText,
        &["v"],
        "select text",
        "Let the mouse select text as the terminal does; again to get it back",
        Scope::Everywhere,
    ),
    bind(
        Action::MendForMe,
        &["m"],
        "fix for me",
        "In the demo: apply the cure of the chosen mistake, to see it go quiet",
        Scope::Demo,
    ),
    bind(
        Action::Tour,
        &["T"],
        "tour",
        "In the demo: leave the guided tour, or begin it again",
        Scope::Demo,
    ),
    bind(Action::Help, &["?"], "keys", "What can be done in this room", Scope::Everywhere),
    bind(
        Action::Quit,
        &["q"],
        "leave",
        "Leave; asks first while a program that Izba started runs",
        Scope::Everywhere,
    ),
    bind(
        Action::Interrupt,
        &["Ctrl+C"],
        "stop or leave",
        "Stop the program; when none runs, leave",
        Scope::Everywhere,
    ),
];

static CHANGED: OnceLock<Vec<Binding>> = OnceLock::new();

/// Every action with the keys that it has for this user.
pub fn bindings() -> &'static [Binding] {
    CHANGED.get().map_or(BINDINGS, Vec::as_slice)
}

/// Gives commands, by their labels, other keys; once, before anything is shown.
///
/// # Errors
///
/// A sentence, where there is no such command, or where two would share a key in one room; all keys
/// stay as they are then.
pub fn change(keys: &[(&str, &str)]) -> Result<(), String> {
    may_change(keys)?;
    if !keys.is_empty() {
        let _ = CHANGED.set(changed(keys));
    }
    Ok(())
}

fn changed(keys: &[(&str, &str)]) -> Vec<Binding> {
    let other = |binding: &Binding| {
        let key = keys.iter().find(|(label, _)| *label == binding.label).map(|(_, key)| *key);
        let keys = key.map(|key| -> &'static [&'static str] {
            // As long as the program runs, as the table itself.
            Box::leak(vec![&*Box::leak(key.to_owned().into_boxed_str())].into_boxed_slice())
        });
        Binding { keys: keys.unwrap_or(binding.keys), ..*binding }
    };
    BINDINGS.iter().map(other).collect()
}

fn may_change(keys: &[(&str, &str)]) -> Result<(), String> {
    if let Some((label, _)) = keys.iter().find(|(l, _)| BINDINGS.iter().all(|b| b.label != *l)) {
        return Err(format!(
            "the keys stay as they are: there is no command “{label}”; : lists them by these names"
        ));
    }
    let all = changed(keys);
    let meet = |a: Scope, b: Scope| !matches!((a, b), (Scope::In(a), Scope::In(b)) if a != b);
    for (label, key) in keys {
        let of = all.iter().filter(|b| b.label == *label);
        for binding in of {
            let other = all.iter().find(|b| {
                b.action != binding.action && b.keys.contains(key) && meet(b.scope, binding.scope)
            });
            if let Some(other) = other {
                return Err(format!(
                    "the keys stay as they are: {key} already means “{}”, so “{label}” can't have it",
                    other.label
                ));
            }
        }
    }
    Ok(())
}

/// The binding of an action.
pub fn binding(action: Action) -> &'static Binding {
    bindings().iter().find(|b| b.action == action).unwrap_or(&bindings()[0])
}

/// The action of a key in a room.
pub fn action_of(key: &str, room: Room, demo: bool) -> Option<Action> {
    let fits = |scope: Scope| match scope {
        Scope::Everywhere => true,
        Scope::In(one) => room == one,
        Scope::Demo => demo,
    };
    bindings().iter().find(|b| fits(b.scope) && b.keys.contains(&key)).map(|b| b.action)
}

/// The name of a key as the table writes it; `None` for keys that nothing uses.
pub fn key_name(key: &KeyEvent) -> Option<String> {
    let control = key.modifiers.contains(KeyModifiers::CONTROL);
    Some(match key.code {
        KeyCode::Up => "↑".into(),
        KeyCode::Down => "↓".into(),
        KeyCode::Left => "←".into(),
        KeyCode::Right => "→".into(),
        KeyCode::PageUp => "PgUp".into(),
        KeyCode::PageDown => "PgDn".into(),
        KeyCode::Home => "Home".into(),
        KeyCode::End => "End".into(),
        KeyCode::Enter => "Enter".into(),
        KeyCode::Esc => "Esc".into(),
        KeyCode::Tab => "Tab".into(),
        KeyCode::BackTab => "Shift+Tab".into(),
        KeyCode::Backspace => "Backspace".into(),
        KeyCode::Delete => "Delete".into(),
        KeyCode::Char(' ') if !control => "Space".into(),
        KeyCode::Char(c) if control => format!("Ctrl+{}", c.to_ascii_uppercase()),
        KeyCode::Char(c) => c.to_string(),
        _ => return None,
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Keys that stand for several actions, each with the one thing that it means in all rooms.
    const ONE_MEANING: &[(&str, &str)] = &[
        ("←", "one back along what is shown"),
        ("→", "one on along what is shown"),
        ("Tab", "the next part of the room"),
        ("n", "the next that matters"),
        ("o", "the same shown otherwise"),
        ("h", "keep it in sight"),
        ("z", "the whole of it"),
        ("+", "a shorter stretch of time"),
        ("-", "a longer stretch of time"),
    ];

    #[test]
    fn a_key_means_one_thing_in_all_rooms() {
        for key in BINDINGS.iter().flat_map(|b| b.keys) {
            let actions = BINDINGS.iter().filter(|b| b.keys.contains(key)).count();
            let shared = ONE_MEANING.iter().any(|(shared, _)| shared == key);
            assert_eq!(actions > 1, shared, "{key} stands for {actions} actions");
        }
    }

    #[test]
    fn a_key_that_something_else_has_is_refused_and_a_free_one_is_taken() {
        assert_eq!(may_change(&[("draw", "Z"), ("fixed", "%")]), Ok(()));
        let taken = may_change(&[("draw", "a")]).expect_err("a runs again, everywhere");
        assert!(taken.contains("a already means “run again”"), "{taken}");
        // Two rooms never meet.
        assert_eq!(may_change(&[("one tick", "i")]), Ok(()));
        assert!(may_change(&[("sail", "Z")]).is_err_and(|e| e.contains("no command “sail”")));
    }

    #[test]
    fn no_key_means_two_things_in_one_room_and_every_action_is_reached() {
        for scope in crate::rooms::ROOMS.map(|kind| Scope::In(kind.room)) {
            let mut seen = std::collections::HashSet::new();
            let here = BINDINGS
                .iter()
                .filter(|b| b.scope == scope || matches!(b.scope, Scope::Everywhere | Scope::Demo));
            for key in here.flat_map(|b| b.keys) {
                assert!(seen.insert(key), "{key} means two things");
            }
        }
        assert!(BINDINGS.iter().all(|b| !b.keys.is_empty() && b.help.chars().count() <= 90));
    }
}
