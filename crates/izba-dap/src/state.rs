//! What a session knows, for the screen: plain values, cheap to copy.

use izba_model::spoken::{Seen, Spoken};
use std::collections::BTreeMap;
use std::sync::Arc;

/// Where a session is, from its first message to its end.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub enum Phase {
    /// The adapter was asked to begin.
    #[default]
    Starting,
    /// The program runs.
    Running,
    /// The program is stopped; see [`State::stop`].
    Stopped,
    /// It is over: a sentence that says how.
    Ended(String),
}

/// At which errors to stop.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub enum Errors {
    /// At none.
    #[default]
    None,
    /// At those that nobody catches.
    Uncaught,
    /// At all.
    All,
    /// At those of one line only: path relative to the project, line from 1.
    Only(Arc<str>, u32),
}

/// What the adapter can do, of what Izba asks for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Can {
    /// Breakpoints with a condition.
    pub conditions: bool,
    /// Breakpoints that count.
    pub hits: bool,
    /// Breakpoints that write to the log.
    pub logs: bool,
    /// Change a variable.
    pub set: bool,
    /// Change whatever an expression names.
    pub set_expression: bool,
    /// End the program in an orderly way.
    pub terminate: bool,
    /// Tell more of an error.
    pub exceptions: bool,
    /// Be told that the set-up is over.
    pub configuration: bool,
}

/// What became of a breakpoint.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Bound {
    /// Whether the adapter took it.
    pub taken: bool,
    /// The line on which it really stands, from 1.
    pub line: Option<u32>,
    /// What the adapter said of it.
    pub message: Option<String>,
}

/// A value, as the adapter shows it.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Value {
    /// What is shown.
    pub shown: String,
    /// The type's name.
    pub kind: Option<String>,
    /// By which its parts are asked for; 0 when it has none.
    pub reference: i64,
    /// How many numbered entries are in it, where the adapter says so.
    pub entries: Option<u64>,
    /// How many named parts are in it, where the adapter says so.
    pub fields: Option<u64>,
}

/// A named value of the stopped program, and what it holds.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Variable {
    /// Its name, or its index.
    pub name: String,
    /// Its value.
    pub value: Value,
    /// How the program's language names it.
    pub expression: Option<String>,
    /// What it was at the stop before, when it was another.
    pub was: Option<String>,
}

/// Variables that belong together, such as those of one function.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Scope {
    /// What the adapter calls it.
    pub name: String,
    /// By which its variables are asked for.
    pub reference: i64,
    /// Whether asking takes long, or there are very many.
    pub expensive: bool,
    /// How many variables there are, where that is told.
    pub count: Option<u64>,
}

/// One step that led to the stop.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Frame {
    /// The adapter's number for it.
    pub id: i64,
    /// The function.
    pub name: String,
    /// The file as the adapter tells it.
    pub path: Option<String>,
    /// The own file, relative to the project.
    pub own: Option<Arc<str>>,
    /// Line, from 1; 0 when unknown.
    pub line: u32,
}

/// The error at which it stopped.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Raised {
    /// The language's name for it.
    pub kind: String,
    /// What it says.
    pub message: String,
    /// Whether nobody in the program catches it: `unhandled` in the protocol's words.
    pub uncaught: bool,
}

/// The program as it stopped: why, its steps and its values.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Stop {
    /// Counts the stops of this session, from 1.
    pub number: u64,
    /// Why, in the protocol's words: `exception`, `breakpoint`, `step`, `pause` …
    pub reason: String,
    /// What the adapter says of it.
    pub text: Option<String>,
    /// The thread that stopped, by the adapter's number.
    pub thread: i64,
    /// Its name.
    pub thread_name: Option<String>,
    /// The error.
    pub error: Option<Raised>,
    /// The steps that led here, the newest first.
    pub frames: Vec<Frame>,
    /// The step that is looked at, from 0 in `frames`.
    pub frame: usize,
    /// What can be seen in the chosen step.
    pub scopes: Vec<Scope>,
    /// Values by the reference that they were asked for with.
    pub children: BTreeMap<i64, Arc<Vec<Variable>>>,
    /// References whose values could not be told, and why.
    pub refused: BTreeMap<i64, String>,
    /// The expressions of the line; `None` until they are told.
    pub line: Vec<(Spoken, Option<Result<Value, String>>)>,
    /// The watched expressions in the chosen step.
    pub watches: Vec<(String, Option<Result<Value, String>>)>,
}

impl Stop {
    /// The expressions of the line with what was seen of them; `None` where it is not told, or
    /// could not be.
    pub fn seen(&self) -> Vec<(Spoken, Option<Seen>)> {
        let seen = |v: &Value| Seen {
            shown: v.shown.clone(),
            kind: v.kind.clone(),
            entries: v.entries,
            fields: v.fields,
        };
        self.line
            .iter()
            .map(|(spoken, told)| {
                (spoken.clone(), told.as_ref().and_then(|t| t.as_ref().ok()).map(seen))
            })
            .collect()
    }

    /// The step that is looked at; the innermost own one to begin with.
    pub fn chosen(&self) -> Option<&Frame> {
        self.frames.get(self.frame)
    }
}

/// All that is known of a session, to be shown.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct State {
    /// Where the session is.
    pub phase: Phase,
    /// What the adapter can do.
    pub can: Can,
    /// What became of breakpoints, by file and the line that was asked for.
    pub bound: BTreeMap<(String, u32), Bound>,
    /// The stop, while the program is stopped.
    pub stop: Option<Arc<Stop>>,
    /// What went wrong, in sentences; the newest last.
    pub troubles: Vec<String>,
    /// What is not answered for long.
    pub late: Option<String>,
    /// How often it stopped so far.
    pub stops: u64,
    /// Stops that were passed by, since they were not what was waited for.
    pub passed: u64,
}
