//! The program, stopped: what is asked for then, in which order, and what is passed by without a
//! word.

use crate::requests::{self, number, text, value};
use crate::session::{Asked, Auto, OUTSIDE, Session, TURNS, Want, World};
use crate::state::{Errors, Phase, Raised, Stop, Value};
use serde_json::{Value as Json, json};
use std::sync::Arc;

/// Scopes whose variables are read at once, and the most variables that are read without being
/// asked for.
const AT_ONCE: usize = 3;
const FEW: u64 = 300;

impl Session {
    pub(crate) fn on_stopped(&mut self, body: &Json) {
        if self.state.phase == Phase::Starting {
            self.state.phase = Phase::Running;
        }
        self.state.stops += 1;
        let thread = number(body, "threadId");
        let stop = Stop {
            number: self.state.stops,
            reason: text(body, "reason").unwrap_or_default(),
            text: text(body, "text")
                .or_else(|| text(body, "description"))
                .filter(|t| !t.is_empty()),
            thread: thread.unwrap_or(0),
            ..Stop::default()
        };
        self.state.stop = None;
        self.before = std::mem::take(&mut self.seen);
        self.paths.clear();
        let (number, failed) = (stop.number, stop.reason == "exception");
        self.stop = Some(stop);
        self.waiting.clear();
        if thread.is_none() {
            self.waiting.insert("threads");
        } else {
            self.ask_stack(number);
        }
        self.ask("threads", json!({}), Asked::Threads(number));
        if failed && self.state.can.exceptions {
            self.waiting.insert("exception");
            let thread = self.stop.as_ref().map_or(0, |s| s.thread);
            self.ask("exceptionInfo", json!({"threadId": thread}), Asked::Exception(number));
        }
    }

    fn ask_stack(&mut self, stop: u64) {
        self.waiting.insert("stack");
        let thread = self.stop.as_ref().map_or(0, |s| s.thread);
        self.ask(
            "stackTrace",
            json!({"threadId": thread, "startFrame": 0, "levels": requests::STEPS}),
            Asked::Stack(stop),
        );
    }

    /// The stop that an answer belongs to, if that is still the one.
    fn current(&mut self, number: u64) -> Option<&mut Stop> {
        self.stop.as_mut().filter(|s| s.number == number)
    }

    fn is_current(&self, number: u64) -> bool {
        self.stop.as_ref().is_some_and(|s| s.number == number)
    }

    /// Puts what is known of the stop where it can be seen.
    pub(crate) fn show(&mut self) {
        if self.waiting.is_empty()
            && let Some(stop) = &self.stop
        {
            self.state.phase = Phase::Stopped;
            self.state.stop = Some(Arc::new(stop.clone()));
        }
    }

    /// The program runs again.
    pub(crate) fn leave(&mut self) {
        if self.state.phase == Phase::Stopped || self.stop.is_some() {
            self.state.phase = Phase::Running;
            (self.state.stop, self.stop) = (None, None);
            self.waiting.clear();
        }
    }

    /// Values may have changed without a step.
    pub(crate) fn look_again(&mut self, world: &dyn World) {
        if let Some(frame) = self.stop.as_ref().filter(|_| self.waiting.is_empty()).map(|s| s.frame)
        {
            self.look_at(frame, world);
        }
    }

    pub(crate) fn on_answer(&mut self, asked: Asked, body: &Json, world: &dyn World) {
        match asked {
            Asked::Threads(number) => self.on_threads(number, body),
            Asked::Stack(number) => {
                let frames = requests::frames(body, |path| world.own(path));
                if let Some(stop) = self.current(number) {
                    stop.frames = frames;
                    stop.frame = stop.frames.iter().position(|f| f.own.is_some()).unwrap_or(0);
                    self.waiting.remove("stack");
                    self.settle(world);
                }
            }
            Asked::Exception(number) => {
                let details = body.get("details").unwrap_or(&Json::Null);
                let kind = text(details, "typeName")
                    .or_else(|| text(body, "exceptionId"))
                    .unwrap_or_default();
                let message = text(body, "description")
                    .filter(|t| !t.is_empty())
                    .or_else(|| text(details, "message"))
                    .unwrap_or_default();
                let uncaught = body.get("breakMode").and_then(Json::as_str) == Some("unhandled");
                if let Some(stop) = self.current(number) {
                    stop.error = Some(Raised { kind, message, uncaught });
                    self.waiting.remove("exception");
                    self.settle(world);
                }
            }
            Asked::Scopes(number, frame) => self.on_scopes(number, frame, body),
            Asked::Children(number, reference) => self.on_children(number, reference, body),
            Asked::Line(number, frame, at) => {
                self.on_line(number, frame, at, Ok(value(body, "result")))
            }
            Asked::Watch(number, frame, at) => {
                self.on_watch(number, frame, at, Ok(value(body, "result")))
            }
            Asked::Receiver(number, was) => {
                let is = value(body, "result").shown;
                self.decide_turn(number, is == was, world);
            }
            Asked::Set(number, reference) if self.is_current(number) => {
                self.ask_children(reference);
                self.look_again_at_expressions(world);
            }
            _ => {}
        }
    }

    pub(crate) fn on_refusal(&mut self, asked: Asked, why: String, world: &dyn World) {
        match asked {
            Asked::Threads(number) if self.is_current(number) && self.waiting.remove("threads") => {
                self.ask_stack(number)
            }
            Asked::Stack(number) if self.is_current(number) => {
                self.trouble(format!("the adapter does not tell the steps that led here: {why}"));
                self.waiting.remove("stack");
                self.settle(world);
            }
            Asked::Exception(number) if self.is_current(number) => {
                self.waiting.remove("exception");
                self.settle(world);
            }
            Asked::Scopes(..) => {
                self.trouble(format!("the adapter does not tell what can be seen here: {why}"))
            }
            Asked::Children(number, reference) => {
                if let Some(stop) = self.current(number) {
                    stop.refused.insert(reference, why);
                    self.show();
                }
            }
            Asked::Line(number, frame, at) => self.on_line(number, frame, at, Err(why)),
            Asked::Watch(number, frame, at) => self.on_watch(number, frame, at, Err(why)),
            Asked::Receiver(number, _) => self.decide_turn(number, true, world),
            Asked::Set(..) => self.trouble(format!("the value was not changed: {why}")),
            _ => {}
        }
    }

    fn on_threads(&mut self, number: u64, body: &Json) {
        let threads = body.get("threads").and_then(Json::as_array).map_or(&[][..], Vec::as_slice);
        let named: Vec<(i64, String)> = threads
            .iter()
            .filter_map(|t| Some((requests::number(t, "id")?, text(t, "name").unwrap_or_default())))
            .take(400)
            .collect();
        let waits = self.waiting.remove("threads");
        let Some(stop) = self.current(number) else { return };
        if waits {
            stop.thread = named.first().map_or(0, |(id, _)| *id);
        }
        // With one thread its name tells nothing.
        stop.thread_name = named
            .iter()
            .find(|(id, _)| *id == stop.thread && named.len() > 1)
            .map(|(_, name)| name.clone());
        if waits {
            self.ask_stack(number);
        }
        self.show();
    }

    /// Everything that decides about the stop is known: pass it by, or look at it.
    fn settle(&mut self, world: &dyn World) {
        if !self.waiting.is_empty() {
            return;
        }
        let Some(stop) = &self.stop else { return };
        let here = stop.frames.iter().find_map(|f| Some((f.own.clone()?, f.line)));
        let top_is_own = stop.frames.first().is_some_and(|f| f.own.is_some());
        let (number, top) = (stop.number, stop.frames.first().map(|f| f.id));
        if let (Errors::Only(file, line), true) = (&self.plan.errors, stop.reason == "exception")
            && here.as_ref().is_none_or(|(f, l)| f != file || l != line)
        {
            return self.pass("continue");
        }
        match self.auto.clone() {
            Auto::Into(left)
                if !top_is_own && here.is_some() && left > 0 && stop.reason == "step" =>
            {
                self.auto = Auto::Into(left - 1);
                return self.pass("stepOut");
            }
            Auto::Tick { file, line, receiver, left }
                if left > 0 && here == Some((file.as_str().into(), line)) =>
            {
                if let (Some((expression, was)), Some(frame)) = (receiver, top) {
                    self.waiting.insert("receiver");
                    return self.ask(
                        "evaluate",
                        json!({"expression": expression, "frameId": frame, "context": "watch"}),
                        Asked::Receiver(number, was),
                    );
                }
            }
            _ => {}
        }
        self.arrive(world);
    }

    /// Of a stop where one object's turn is waited for: whether it is its turn.
    fn decide_turn(&mut self, number: u64, is_its: bool, world: &dyn World) {
        if self.current(number).is_none() {
            return;
        }
        self.waiting.remove("receiver");
        match &mut self.auto {
            Auto::Tick { left, .. } if !is_its && *left > 0 => {
                *left -= 1;
                self.pass("continue");
            }
            _ => self.arrive(world),
        }
    }

    fn pass(&mut self, command: &'static str) {
        self.state.passed += 1;
        // What was not shown is no stop that values could have changed since.
        self.seen = std::mem::take(&mut self.before);
        self.go(command);
    }

    fn go(&mut self, command: &'static str) {
        let Some(stop) = self.stop.take() else { return };
        let thread = stop.thread;
        self.waiting.clear();
        (self.state.phase, self.state.stop) = (Phase::Running, None);
        self.ask(command, json!({"threadId": thread}), Asked::Move(Box::new(stop)));
    }

    /// The stop is one to be looked at.
    fn arrive(&mut self, world: &dyn World) {
        self.auto = Auto::Nothing;
        if let Some((file, _)) = self.temporary.take() {
            self.send_points(&file, world);
        }
        self.show();
        if let Some(frame) = self.stop.as_ref().map(|s| s.frame) {
            self.look_at(frame, world);
        }
    }

    /// Asks for what can be seen in a step.
    fn look_at(&mut self, frame: usize, world: &dyn World) {
        let Some(stop) = &mut self.stop else { return };
        let Some(chosen) = stop.frames.get(frame) else { return };
        stop.frame = frame;
        stop.scopes.clear();
        let (number, id) = (stop.number, chosen.id);
        self.ask("scopes", json!({"frameId": id}), Asked::Scopes(number, frame));
        self.look_again_at_expressions(world);
        self.show();
    }

    fn look_again_at_expressions(&mut self, world: &dyn World) {
        let Some(stop) = &mut self.stop else { return };
        let Some(chosen) = stop.frames.get(stop.frame) else { return };
        let spoken =
            chosen.own.as_ref().map_or_else(Vec::new, |own| world.spoken(own, chosen.line));
        let (number, frame, id) = (stop.number, stop.frame, chosen.id);
        let expressions: Vec<String> = spoken.iter().map(|s| s.text.clone()).collect();
        stop.line = spoken.into_iter().map(|s| (s, None)).collect();
        for (at, expression) in expressions.into_iter().enumerate() {
            self.ask(
                "evaluate",
                json!({"expression": expression, "frameId": id, "context": "watch"}),
                Asked::Line(number, frame, at),
            );
        }
        self.ask_watches();
    }

    /// A program may stop before its files were read: then no expression of the line was known.
    pub(crate) fn on_known(&mut self, world: &dyn World) {
        if self.stop.as_ref().is_some_and(|stop| stop.line.is_empty()) {
            self.look_again_at_expressions(world);
            self.show();
        }
    }

    pub(crate) fn ask_watches(&mut self) {
        let watches = self.plan.watches.clone();
        let Some(stop) = &mut self.stop else { return };
        let Some(id) = stop.chosen().map(|f| f.id) else { return };
        stop.watches = watches.iter().map(|w| (w.clone(), None)).collect();
        let (number, frame) = (stop.number, stop.frame);
        for (at, expression) in watches.into_iter().enumerate() {
            self.ask(
                "evaluate",
                json!({"expression": expression, "frameId": id, "context": "watch"}),
                Asked::Watch(number, frame, at),
            );
        }
        self.show();
    }

    fn on_line(&mut self, number: u64, frame: usize, at: usize, told: Result<Value, String>) {
        if let Some(stop) = self.current(number).filter(|s| s.frame == frame)
            && let Some(line) = stop.line.get_mut(at)
        {
            line.1 = Some(told);
            self.show();
        }
    }

    fn on_watch(&mut self, number: u64, frame: usize, at: usize, told: Result<Value, String>) {
        if let Some(stop) = self.current(number).filter(|s| s.frame == frame)
            && let Some(watch) = stop.watches.get_mut(at)
        {
            watch.1 = Some(told);
            self.show();
        }
    }

    fn on_scopes(&mut self, number: u64, frame: usize, body: &Json) {
        let scopes = requests::scopes(body);
        let Some(stop) = self.current(number).filter(|s| s.frame == frame) else { return };
        let function = stop.frames.get(frame).map_or(String::new(), |f| f.name.clone());
        let at_once: Vec<i64> = scopes
            .iter()
            .filter(|s| !s.expensive && s.count.is_none_or(|n| n <= FEW))
            .take(AT_ONCE)
            .map(|s| s.reference)
            .collect();
        let paths: Vec<(i64, String)> =
            scopes.iter().map(|s| (s.reference, format!("{function}\u{1}{}", s.name))).collect();
        stop.scopes = scopes;
        self.paths.extend(paths);
        self.show();
        for reference in at_once {
            self.ask_children(reference);
        }
    }

    fn ask_children(&mut self, reference: i64) {
        let Some(stop) = &mut self.stop else { return };
        stop.refused.remove(&reference);
        let number = stop.number;
        self.ask(
            "variables",
            json!({"variablesReference": reference}),
            Asked::Children(number, reference),
        );
    }

    fn on_children(&mut self, number: u64, reference: i64, body: &Json) {
        let mut variables = requests::variables(body);
        if self.current(number).is_none() {
            return;
        }
        if let Some(path) = self.paths.get(&reference).cloned() {
            for variable in &mut variables {
                let key = format!("{path}\u{1}{}", variable.name);
                variable.was =
                    self.before.get(&key).filter(|was| **was != variable.value.shown).cloned();
                if variable.value.reference > 0 {
                    self.paths.insert(variable.value.reference, key.clone());
                }
                self.seen.insert(key, variable.value.shown.clone());
            }
        }
        if let Some(stop) = self.current(number) {
            stop.children.insert(reference, Arc::new(variables));
            self.show();
        }
    }

    /// Wants that have a meaning only while the program is stopped.
    pub(crate) fn want_stopped(&mut self, want: Want, world: &dyn World) {
        if self.state.phase != Phase::Stopped || self.stop.is_none() {
            return self.trouble("the program is not stopped".into());
        }
        match want {
            Want::Go => self.go("continue"),
            Want::Over => self.go("next"),
            Want::Into { outside } => {
                self.auto = if outside { Auto::Nothing } else { Auto::Into(OUTSIDE) };
                self.go("stepIn");
            }
            Want::Out => self.go("stepOut"),
            Want::RunTo(file, line) => {
                self.temporary = Some((file.clone(), line));
                self.send_points(&file, world);
                self.go("continue");
            }
            Want::Tick { file, line, receiver } => {
                // What the object was shown as at this stop tells it from its like.
                let shown = |name: &String| {
                    let stop = self.stop.as_ref()?;
                    let of_line = stop
                        .line
                        .iter()
                        .find(|(s, _)| s.text == *name)
                        .and_then(|(_, v)| v.as_ref()?.as_ref().ok())
                        .map(|v| v.shown.clone());
                    let named = || {
                        stop.children
                            .values()
                            .flat_map(|c| c.iter())
                            .find(|v| v.name == *name)
                            .map(|v| v.value.shown.clone())
                    };
                    of_line.or_else(named)
                };
                let receiver = receiver.and_then(|name| shown(&name).map(|was| (name, was)));
                self.auto = Auto::Tick { file: file.clone(), line, receiver, left: TURNS };
                self.temporary = Some((file.clone(), line));
                self.send_points(&file, world);
                self.go("continue");
            }
            Want::Frame(frame) => self.look_at(frame, world),
            Want::Children(reference) => self.ask_children(reference),
            Want::Set(reference, name, new) => {
                let number = self.stop.as_ref().map_or(0, |s| s.number);
                if !self.state.can.set {
                    return self.trouble("this adapter cannot change values".into());
                }
                self.ask(
                    "setVariable",
                    json!({"variablesReference": reference, "name": name, "value": new}),
                    Asked::Set(number, reference),
                );
            }
            Want::Plan(_) | Want::Known | Want::Pause | Want::End => {}
        }
    }
}
