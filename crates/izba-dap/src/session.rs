//! One session with one adapter: what comes in, what goes out, what is known.

use crate::requests::{self, failure, number, text};
use crate::state::{Bound, Errors, Phase, State, Stop};
use crate::wire::Piece;
use izba_model::Stream;
use izba_model::spoken::Spoken;
use serde_json::{Value as Json, json};
use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;

/// How the program comes under the adapter's hands; the arguments are the adapter's own.
#[derive(Debug, Clone, PartialEq)]
pub enum Begin {
    /// The adapter starts it.
    Launch(Json),
    /// It runs already.
    Attach(Json),
}

/// A line at which to stop.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Point {
    /// Path relative to the project.
    pub file: String,
    /// Line, from 1.
    pub line: u32,
    /// Stops only where this holds.
    pub condition: Option<String>,
    /// Stops only after so many times.
    pub hits: Option<u32>,
    /// Writes this instead of stopping.
    pub log: Option<String>,
}

/// What is wanted of the session from its beginning.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Plan {
    /// At which errors to stop.
    pub errors: Errors,
    /// The breakpoints that are on.
    pub points: Vec<Point>,
    /// Expressions that are watched.
    pub watches: Vec<String>,
}

/// What the user wants of a session.
#[derive(Debug, Clone, PartialEq)]
pub enum Want {
    /// Other breakpoints or errors.
    Plan(Plan),
    /// Stop now.
    Pause,
    /// Go on.
    Go,
    /// To the next line.
    Over,
    /// Into the call; into code outside the project only where that is asked for.
    Into {
        /// Stop in outside code too.
        outside: bool,
    },
    /// Back to the caller.
    Out,
    /// Go on to a line.
    RunTo(String, u32),
    /// Go on until this line is reached again, for the same object where one is named.
    Tick {
        /// The handler's file.
        file: String,
        /// Its first line.
        line: u32,
        /// What names its object there.
        receiver: Option<String>,
    },
    /// Look at another step.
    Frame(usize),
    /// More is known of the project now: what its lines say is asked for, where it was not.
    Known,
    /// Read the parts of a value.
    Children(i64),
    /// Change a part of a value: its owner's reference, its name, the new value as the language
    /// writes it.
    Set(i64, String, String),
    /// End the program.
    End,
}

impl Want {
    /// Whether it lets a stopped program run again, as far as it gets.
    pub fn goes_on(&self) -> bool {
        matches!(
            self,
            Want::Go
                | Want::Over
                | Want::Into { .. }
                | Want::Out
                | Want::RunTo(..)
                | Want::Tick { .. }
        )
    }
}

/// What a session has to know of the project.
pub trait World {
    /// The own file, relative to the project, that an adapter's path means.
    fn own(&self, path: &str) -> Option<Arc<str>>;
    /// The absolute path of an own file.
    fn absolute(&self, file: &str) -> String;
    /// The expressions of a line that are worth their value.
    fn spoken(&self, file: &str, line: u32) -> Vec<Spoken>;
}

/// What shall happen outside, since a session itself does nothing.
#[derive(Debug, Clone, PartialEq)]
pub enum Out {
    /// Send this to the adapter.
    Send(Json),
    /// The program said this.
    Print(Stream, String),
    /// The adapter said this, or a breakpoint wrote it.
    Note(String),
    /// The program read this source again; its path as the adapter tells it.
    Reread(String),
    /// The program is over: its exit code, where one is told.
    Ended(Option<i64>),
}

/// How long an answer is waited for before that is told, in milliseconds; and how long the first
/// one.
const LATE: i64 = 5_000;
const GIVE_UP: i64 = 20_000;
/// So many broken messages end a session.
const PATIENCE: u32 = 20;
/// Stops passed in a row while one object's turn is waited for.
pub(crate) const TURNS: u32 = 20_000;
/// Steps in outside code that are taken back in a row.
pub(crate) const OUTSIDE: u32 = 60;

/// What a request was for.
#[derive(Debug, Clone, PartialEq)]
pub(crate) enum Asked {
    Initialize,
    Begin,
    Points(String, Vec<u32>),
    Filters,
    Configured,
    Threads(u64),
    Stack(u64),
    Exception(u64),
    Scopes(u64, usize),
    Children(u64, i64),
    Line(u64, usize, usize),
    Watch(u64, usize, usize),
    Receiver(u64, String),
    Set(u64, i64),
    Move(Box<Stop>),
    Pause,
    End,
}

pub(crate) struct Pending {
    pub(crate) asked: Asked,
    pub(crate) command: &'static str,
    since: i64,
}

/// What is done by itself at the next stop.
#[derive(Debug, Clone, PartialEq)]
pub(crate) enum Auto {
    Nothing,
    Into(u32),
    Tick { file: String, line: u32, receiver: Option<(String, String)>, left: u32 },
}

/// A debugging session as a value: messages go in, wishes and messages come out.
pub struct Session {
    seq: i64,
    begin: Begin,
    pub(crate) plan: Plan,
    offered: Vec<(String, String, bool)>,
    begun: bool,
    configured: bool,
    exit: Option<i64>,
    /// The thread that was told of first: the one to be paused.
    main_thread: Option<i64>,
    violations: u32,
    now: i64,
    pub(crate) pending: BTreeMap<i64, Pending>,
    pub(crate) state: State,
    pub(crate) stop: Option<Stop>,
    pub(crate) waiting: BTreeSet<&'static str>,
    pub(crate) auto: Auto,
    pub(crate) temporary: Option<(String, u32)>,
    /// Values of the last stop and of this one, by where they are found.
    pub(crate) before: BTreeMap<String, String>,
    pub(crate) seen: BTreeMap<String, String>,
    /// Where the values behind a reference are found.
    pub(crate) paths: BTreeMap<i64, String>,
    ids: BTreeMap<i64, (String, u32)>,
    pub(crate) out: Vec<Out>,
}

impl Session {
    /// A session at its beginning; `now` in milliseconds. The first request is in what
    /// [`Session::take`] gives.
    pub fn new(begin: Begin, plan: Plan, now: i64) -> Session {
        let mut session = Session {
            seq: 0,
            begin,
            plan,
            offered: Vec::new(),
            begun: false,
            configured: false,
            exit: None,
            main_thread: None,
            violations: 0,
            now,
            pending: BTreeMap::new(),
            state: State::default(),
            stop: None,
            waiting: BTreeSet::new(),
            auto: Auto::Nothing,
            temporary: None,
            before: BTreeMap::new(),
            seen: BTreeMap::new(),
            paths: BTreeMap::new(),
            ids: BTreeMap::new(),
            out: Vec::new(),
        };
        session.ask("initialize", requests::initialize(), Asked::Initialize);
        session
    }

    /// What is known of the program at this moment.
    pub fn state(&self) -> &State {
        &self.state
    }

    /// What shall happen since it was asked for last.
    pub fn take(&mut self) -> Vec<Out> {
        std::mem::take(&mut self.out)
    }

    /// Whether the session is over, however it ended.
    pub fn is_over(&self) -> bool {
        matches!(self.state.phase, Phase::Ended(_))
    }

    pub(crate) fn ask(&mut self, command: &'static str, arguments: Json, asked: Asked) {
        self.seq += 1;
        self.pending.insert(self.seq, Pending { asked, command, since: self.now });
        self.out.push(Out::Send(
            json!({"seq": self.seq, "type": "request", "command": command, "arguments": arguments}),
        ));
    }

    pub(crate) fn trouble(&mut self, sentence: String) {
        if self.state.troubles.last() != Some(&sentence) {
            self.state.troubles.push(sentence);
        }
        let many = self.state.troubles.len().saturating_sub(8);
        self.state.troubles.drain(..many);
    }

    /// The session is over, for this reason.
    pub fn end(&mut self, sentence: String) {
        if self.is_over() {
            return;
        }
        self.state.phase = Phase::Ended(sentence);
        (self.state.stop, self.stop, self.state.late) = (None, None, None);
        self.pending.clear();
        self.out.push(Out::Ended(self.exit));
    }

    /// Takes one piece of what the adapter sent.
    pub fn receive(&mut self, piece: Piece, world: &dyn World, now: i64) {
        self.now = now;
        if self.is_over() {
            return;
        }
        match piece {
            Piece::Text(text) => self.out.push(Out::Print(Stream::Out, format!("{text}\n"))),
            Piece::Broken(why) => self.violation(why),
            Piece::Lost(why) => self.end(format!("the adapter does not speak the protocol: {why}")),
            Piece::Message(message) => match message.get("type").and_then(Json::as_str) {
                Some("response") => self.on_response(&message, world),
                Some("event") => self.on_event(&message, world),
                Some("request") => self.on_request(&message),
                other => self.violation(format!(
                    "a message of it is of the kind “{}”",
                    crate::wire::cut(other.unwrap_or("none"), 40)
                )),
            },
        }
    }

    fn violation(&mut self, why: String) {
        self.violations += 1;
        if self.violations >= PATIENCE {
            return self.end(format!("the adapter does not speak the protocol: {why}"));
        }
        self.trouble(format!("the adapter did something odd: {why}"));
    }

    /// Looks at the clock: answers that are overdue are given up.
    pub fn tick(&mut self, now: i64) {
        self.now = now;
        let Some(oldest) = self
            .pending
            .values()
            .filter(|p| !matches!(p.asked, Asked::Begin) || !self.begun)
            .min_by_key(|p| p.since)
        else {
            self.state.late = None;
            return;
        };
        let waited = now - oldest.since;
        if matches!(oldest.asked, Asked::Initialize | Asked::End) && waited > GIVE_UP {
            let why = if oldest.asked == Asked::End {
                "was told to end and did not answer"
            } else {
                "never answered"
            };
            return self.end(format!("the adapter {why} in {} s", waited / 1000));
        }
        self.state.late = (waited > LATE).then(|| {
            format!(
                "the adapter has not answered “{}” for {} s; what the program prints is read \
                all the same",
                oldest.command,
                waited / 1000
            )
        });
    }

    fn on_request(&mut self, message: &Json) {
        let command = text(message, "command").unwrap_or_default();
        let seq = number(message, "seq").unwrap_or(0);
        self.seq += 1;
        self.out.push(Out::Send(json!({
            "seq": self.seq, "type": "response", "request_seq": seq, "success": false, "command": command, "message": "notSupported"
        })));
        self.trouble(format!(
            "the adapter asked for “{}”, which Izba does not do",
            crate::wire::cut(&command, 40)
        ));
    }

    fn on_response(&mut self, message: &Json, world: &dyn World) {
        let Some(Pending { asked, command, .. }) =
            number(message, "request_seq").and_then(|seq| self.pending.remove(&seq))
        else {
            return self.violation("it answered what it was not asked".into());
        };
        let well = message.get("success").and_then(Json::as_bool).unwrap_or(false);
        let nothing = Json::Null;
        let body = message.get("body").unwrap_or(&nothing);
        if !well {
            return self.on_failure(asked, command, failure(message), world);
        }
        match asked {
            Asked::Initialize => {
                self.state.can = requests::can(body, self.state.can);
                let filters = body
                    .get("exceptionBreakpointFilters")
                    .and_then(Json::as_array)
                    .map_or(&[][..], Vec::as_slice);
                let one = |f: &Json| {
                    Some((
                        text(f, "filter")?,
                        text(f, "label").unwrap_or_default(),
                        f.get("default").and_then(Json::as_bool).unwrap_or(false),
                    ))
                };
                self.offered = filters.iter().filter_map(one).take(40).collect();
                match self.begin.clone() {
                    Begin::Launch(arguments) => self.ask("launch", arguments, Asked::Begin),
                    Begin::Attach(arguments) => self.ask("attach", arguments, Asked::Begin),
                }
            }
            Asked::Begin => {
                self.begun = true;
                self.runs();
            }
            Asked::Configured => self.runs(),
            Asked::Points(file, lines) => self.on_points(&file, &lines, body),
            Asked::Filters | Asked::Pause | Asked::Move(_) => {}
            Asked::End => self.end("the program was ended".into()),
            asked => self.on_answer(asked, body, world),
        }
    }

    fn on_failure(&mut self, asked: Asked, command: &'static str, why: String, world: &dyn World) {
        match asked {
            Asked::Initialize => self.end(format!("the adapter cannot begin: {why}")),
            Asked::Begin => self.end(format!("the adapter could not start the program: {why}")),
            Asked::End => self.end("the program was ended".into()),
            Asked::Points(file, lines) => {
                for line in lines {
                    self.state.bound.insert(
                        (file.clone(), line),
                        Bound { taken: false, line: None, message: Some(why.clone()) },
                    );
                }
            }
            Asked::Move(stop) => {
                self.trouble(format!("the adapter would not do “{command}”: {why}"));
                if self.stop.is_none() {
                    (self.state.phase, self.stop) = (Phase::Stopped, Some(*stop));
                    self.show();
                }
            }
            Asked::Pause | Asked::Filters | Asked::Configured => {
                self.trouble(format!("the adapter would not do “{command}”: {why}"))
            }
            asked => self.on_refusal(asked, why, world),
        }
    }

    fn runs(&mut self) {
        if self.state.phase == Phase::Starting
            && (self.begun && (self.configured || !self.state.can.configuration))
        {
            self.state.phase = Phase::Running;
        }
    }

    fn on_points(&mut self, file: &str, lines: &[u32], body: &Json) {
        let told = body.get("breakpoints").and_then(Json::as_array).map_or(&[][..], Vec::as_slice);
        for (at, line) in lines.iter().enumerate() {
            let Some(one) = told.get(at) else { continue };
            self.bind((file.to_owned(), *line), one);
        }
    }

    fn bind(&mut self, key: (String, u32), told: &Json) {
        if let Some(id) = number(told, "id") {
            self.ids.insert(id, key.clone());
        }
        let taken = told.get("verified").and_then(Json::as_bool).unwrap_or(false);
        let line = number(told, "line").and_then(|l| u32::try_from(l).ok());
        self.state.bound.insert(key, Bound { taken, line, message: text(told, "message") });
    }

    fn on_event(&mut self, message: &Json, world: &dyn World) {
        let nothing = Json::Null;
        let body = message.get("body").unwrap_or(&nothing);
        match message.get("event").and_then(Json::as_str).unwrap_or("") {
            "initialized" => self.configure(world),
            "capabilities" => {
                self.state.can =
                    requests::can(body.get("capabilities").unwrap_or(&nothing), self.state.can)
            }
            "output" => {
                let Some(said) = body.get("output").and_then(Json::as_str).map(str::to_owned)
                else {
                    return;
                };
                self.out.push(
                    match body.get("category").and_then(Json::as_str).unwrap_or("console") {
                        "telemetry" => return,
                        "stdout" => Out::Print(Stream::Out, said),
                        "stderr" => Out::Print(Stream::Err, said),
                        _ => Out::Note(said),
                    },
                );
            }
            "stopped" => self.on_stopped(body),
            "thread" if body.get("reason").and_then(Json::as_str) == Some("started") => {
                self.main_thread = self.main_thread.or(number(body, "threadId"))
            }
            "continued" => self.leave(),
            "invalidated" => self.look_again(world),
            "breakpoint" => {
                let told = body.get("breakpoint").unwrap_or(&nothing);
                if let Some(key) = number(told, "id").and_then(|id| self.ids.get(&id).cloned()) {
                    self.bind(key, told);
                }
            }
            "loadedSource" if body.get("reason").and_then(Json::as_str) == Some("changed") => {
                self.out.extend(
                    body.pointer("/source/path")
                        .and_then(Json::as_str)
                        .map(|p| Out::Reread(p.to_owned())),
                );
            }
            "exited" => self.exit = number(body, "exitCode"),
            "terminated" => {
                let how = match self.exit {
                    Some(code) => format!("the program ended with exit code {code}"),
                    None => "the program ended".to_owned(),
                };
                self.ask("disconnect", json!({}), Asked::End);
                self.end(how);
            }
            // Threads, modules, progress and whatever else an adapter tells are none of our
            // business.
            _ => {}
        }
    }

    /// Tells the adapter what is wanted, once it can hear it.
    fn configure(&mut self, world: &dyn World) {
        if self.configured {
            return;
        }
        let plan = std::mem::take(&mut self.plan);
        self.send_plan(plan, world, true);
        self.configured = true;
        if self.state.can.configuration {
            self.ask("configurationDone", json!({}), Asked::Configured);
        }
        self.runs();
    }

    /// Breakpoints and errors that are wanted from now on; what did not change is not sent again.
    fn send_plan(&mut self, plan: Plan, world: &dyn World, all: bool) {
        let files =
            |plan: &Plan| plan.points.iter().map(|p| p.file.clone()).collect::<BTreeSet<_>>();
        let of = |plan: &Plan, file: &str| {
            plan.points.iter().filter(|p| p.file == file).cloned().collect::<Vec<_>>()
        };
        let (old, errors) = (std::mem::replace(&mut self.plan, plan), all);
        for file in files(&old).union(&files(&self.plan)) {
            if all || of(&old, file) != of(&self.plan, file) {
                self.send_points(file, world);
            }
        }
        if (errors || old.errors != self.plan.errors) && !self.offered.is_empty() {
            let filters = requests::filters(&self.offered, &self.plan.errors);
            self.ask("setExceptionBreakpoints", json!({"filters": filters}), Asked::Filters);
        }
    }

    pub(crate) fn send_points(&mut self, file: &str, world: &dyn World) {
        let can = self.state.can;
        let mut lines = Vec::new();
        let mut told = Vec::new();
        self.state.bound.retain(|(f, _), _| f != file);
        let points: Vec<Point> =
            self.plan.points.iter().filter(|p| p.file == file).cloned().collect();
        for point in points {
            let mut one = json!({"line": point.line});
            let mut unable = Vec::new();
            match &point.condition {
                Some(condition) if can.conditions => one["condition"] = json!(condition),
                Some(_) => unable.push("no conditions"),
                None => {}
            }
            match point.hits {
                // “After so many” is written as a comparison where an adapter reads one.
                Some(hits) if can.hits => one["hitCondition"] = json!(format!(">{hits}")),
                Some(_) => unable.push("no counting"),
                None => {}
            }
            match &point.log {
                Some(log) if can.logs => one["logMessage"] = json!(log),
                Some(_) => unable.push("no writing to the log"),
                None => {}
            }
            if !unable.is_empty() {
                let message =
                    format!("this adapter knows {}: it stops each time", unable.join(" and "));
                self.trouble(format!("{file}:{}: {message}", point.line));
            }
            lines.push(point.line);
            told.push(one);
        }
        if let Some((_, line)) =
            self.temporary.as_ref().filter(|(f, line)| f == file && !lines.contains(line))
        {
            lines.push(*line);
            told.push(json!({"line": line}));
        }
        let path = world.absolute(file);
        let name = file.rsplit('/').next().unwrap_or(file);
        self.ask(
            "setBreakpoints",
            json!({"source": {"name": name, "path": path}, "breakpoints": told, "lines": lines, "sourceModified": false}),
            Asked::Points(file.to_owned(), lines),
        );
    }

    /// Does what the user wants.
    pub fn want(&mut self, want: Want, world: &dyn World, now: i64) {
        self.now = now;
        match want {
            _ if self.is_over() => {}
            Want::Plan(plan) => {
                let watched = plan.watches != self.plan.watches;
                if self.configured {
                    self.send_plan(plan, world, false);
                } else {
                    self.plan = plan;
                }
                if watched {
                    self.ask_watches();
                }
            }
            Want::Known => self.on_known(world),
            Want::Pause if self.stop.is_some() => {}
            Want::Pause => {
                let thread = self.main_thread.unwrap_or(1);
                self.ask("pause", json!({"threadId": thread}), Asked::Pause);
            }
            Want::End => {
                if self.state.can.terminate && matches!(self.begin, Begin::Launch(_)) {
                    self.ask("terminate", json!({}), Asked::End);
                } else {
                    self.ask("disconnect", json!({"terminateDebuggee": true}), Asked::End);
                }
            }
            want => self.want_stopped(want, world),
        }
    }
}
