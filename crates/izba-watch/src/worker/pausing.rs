//! Programs that can be paused: the sessions with their adapters, the breakpoints as they stand in
//! the files that run, and what a stop tells as evidence.

use super::state::Worker;
use crate::Answer;
use crate::pausing::{BreakRow, Files, NO_ADAPTER, PauseOrder, PauseView, Stops};
use izba_cause::pause::{Breakpoint, Witness, before_fault, first_line_of_handler};
use izba_cause::suspect::asked;
use izba_core::{GroupId, Wish};
use izba_dap::{Errors, Phase, Plan, Point, State, Want, World};
use izba_model::Family;
use izba_model::Project;
use izba_model::code::Language;
use izba_sources::Adapter;
use std::sync::Arc;

impl Worker {
    /// Begins the session of a source that can be paused.
    pub(crate) fn start_session(&mut self, at: usize) {
        self.take_off_once();
        let Some(source) = self.sources.get(at) else { return };
        let Some(debugged) = &source.debugged else { return };
        self.pausing.reread.clear();
        self.pausing.reached.clear();
        self.pausing.witnessed.remove(&at);
        // The program's own console is read where Izba started it.
        let Some(spool) = source.writer.clone() else { return };
        let read_elsewhere = source.command.is_some();
        let (reach, begin) = (debugged.reach.clone(), debugged.begin.clone());
        let plan = self.plan();
        match Adapter::start(
            reach,
            begin,
            plan,
            self.world(),
            spool,
            read_elsewhere,
            self.bell.clone(),
        ) {
            Ok(adapter) => self.sources[at].adapter = Some(adapter),
            Err(error) => self.trouble(format!(
                "{} cannot be paused: {}",
                self.sources[at].name,
                error.sentence()
            )),
        }
    }

    pub(crate) fn world(&self) -> Arc<Files> {
        Arc::new(Files {
            root: self.root.canonicalize().unwrap_or_else(|_| self.root.clone()),
            project: self.project.clone(),
            today: self.today.clone(),
            reread: self.pausing.reread.clone(),
            index: self.detecting.code().index.clone(),
        })
    }

    /// The line of a breakpoint in the file that runs.
    pub(crate) fn running_line(&self, breakpoint: &Breakpoint) -> Option<u32> {
        let reread = self.pausing.reread.contains(breakpoint.file.as_str());
        breakpoint
            .line_in(if reread { &self.today } else { &self.project })
            .or_else(|| breakpoint.line_in(&self.today))
    }

    pub(crate) fn plan(&self) -> Plan {
        let points =
            self.engine.wishes().breakpoints().filter(|(_, b)| !b.off).filter_map(|(_, b)| {
                let line = self.running_line(b)?;
                Some(Point {
                    file: b.file.clone(),
                    line,
                    condition: b.condition.clone(),
                    hits: b.hits,
                    log: b.log.clone(),
                })
            });
        let errors = match &self.pausing.stops {
            Stops::None => Errors::None,
            Stops::Uncaught => Errors::Uncaught,
            Stops::All => Errors::All,
            Stops::Group(_, _, file, line) => Errors::Only(file.clone(), *line),
        };
        Plan { errors, points: points.collect(), watches: self.pausing.watches.clone() }
    }

    /// Looks at what the sessions know by now; whether anything is new.
    pub(crate) fn look_at_sessions(&mut self) -> bool {
        if self.sources.iter().all(|s| s.adapter.is_none()) {
            return false;
        }
        let mut changed = false;
        let today = self.today.clone();
        for at in 0..self.sources.len() {
            let Some(adapter) = &self.sources[at].adapter else { continue };
            for path in adapter.reread() {
                if let Some(own) = self.world().own(&path) {
                    changed |= self.pausing.reread.insert(own);
                    self.pausing.told = None;
                }
            }
            let Some(adapter) = &self.sources[at].adapter else { continue };
            let state = adapter.state();
            if self.pausing.seen.get(&at).is_some_and(|seen| Arc::ptr_eq(seen, &state)) {
                continue;
            }
            changed = true;
            let before = self.pausing.seen.insert(at, state.clone());
            if let Some(sentence) = state
                .troubles
                .last()
                .filter(|t| before.as_ref().and_then(|b| b.troubles.last()) != Some(*t))
            {
                self.say(sentence);
            }
            if let (Phase::Ended(how), true) =
                (&state.phase, before.as_ref().is_none_or(|b| b.phase != state.phase))
                && how.contains("adapter")
                && self.sources[at].is_running()
                && !self.sources[at].again
            {
                self.trouble(format!("{} cannot be paused any more: {how}", self.sources[at].name));
            }
            let stopped = before.as_ref().is_none_or(|b| {
                b.stop.as_ref().map(|s| s.number) != state.stop.as_ref().map(|s| s.number)
            });
            if let Some(stop) = state.stop.as_ref().filter(|_| stopped) {
                let here = stop.frames.first().and_then(|f| Some((f.own.clone()?, f.line)));
                let at_it = |b: &Breakpoint| {
                    here.as_ref().is_some_and(|(file, line)| {
                        b.file == **file && self.running_line(b) == Some(*line)
                    })
                };
                let keys: Vec<String> = self
                    .engine
                    .wishes()
                    .breakpoints()
                    .filter(|(_, b)| at_it(b))
                    .map(|(k, _)| k.to_owned())
                    .collect();
                self.pausing.reached.extend(keys);
                self.publish();
                let _ = self.answers.send(Answer::Stopped);
            }
            self.witness(at, &state, &today);
        }
        let index = self.detecting.code().index.clone();
        let known = self
            .pausing
            .told
            .as_ref()
            .is_some_and(|(p, i)| Arc::ptr_eq(p, &self.today) && Arc::ptr_eq(i, &index));
        if !known {
            self.pausing.told = Some((self.today.clone(), index));
            let world = self.world();
            for adapter in self.sources.iter().filter_map(|s| s.adapter.as_ref()) {
                adapter.set_world(world.clone());
            }
        }
        self.send_plan() || changed
    }

    /// Tells every adapter where to stop from now on, if that has changed; whether it has.
    fn send_plan(&mut self) -> bool {
        let plan = self.plan();
        if self.pausing.plan.as_ref() == Some(&plan) {
            return false;
        }
        for adapter in self.sources.iter().filter_map(|s| s.adapter.as_ref()) {
            adapter.want(Want::Plan(plan.clone()));
        }
        self.pausing.plan = Some(plan);
        true
    }

    /// Lets a stop whose values are told count as evidence.
    pub(crate) fn witness(&mut self, at: usize, state: &State, today: &Project) {
        let Some(stop) = &state.stop else { return };
        if self.pausing.witnessed.get(&at) == Some(&stop.number)
            || stop.line.is_empty()
            || stop.line.iter().any(|(_, told)| told.is_none())
        {
            return;
        }
        let first = stop.frames.iter().position(|f| f.own.is_some());
        let Some(frame) = stop.chosen().filter(|_| first == Some(stop.frame)) else { return };
        let Some(file) = &frame.own else { return };
        let text = if self.pausing.reread.contains(file) {
            today.line(file, frame.line)
        } else {
            self.project.line(file, frame.line)
        };
        let Some(text) = text else { return };
        self.pausing.witnessed.insert(at, stop.number);
        let values = stop.seen();
        let at_error = stop.reason == "exception";
        self.detecting.seen(Witness {
            file: file.clone(),
            line: frame.line,
            text: text.trim().to_owned(),
            at_error,
            values,
        });
    }

    /// The source whose session the user means: the one that is stopped, else the first.
    pub(crate) fn session(&self) -> Option<usize> {
        let with = || {
            self.sources
                .iter()
                .enumerate()
                .filter_map(|(at, s)| s.adapter.as_ref().map(|a| (at, a)))
        };
        with()
            .find(|(_, a)| a.state().stop.is_some())
            .or_else(|| with().find(|(_, a)| !a.has_ended()))
            .or_else(|| with().next())
            .map(|(at, _)| at)
    }

    /// Does what is asked of a program that can be paused.
    pub(crate) fn obey_pause(&mut self, order: PauseOrder) {
        // What was set before "go on" holds before the program goes on.
        self.send_plan();
        let session = self.session();
        match order {
            PauseOrder::Want(want) => {
                if want.goes_on() {
                    self.take_off_once();
                    self.send_plan();
                }
                match session.and_then(|at| self.sources[at].adapter.as_ref()) {
                    Some(adapter) => adapter.want(want),
                    None => self.say(NO_ADAPTER),
                }
            }
            PauseOrder::Errors(stops) => self.pausing.stops = stops,
            PauseOrder::NextErrors => {
                self.pausing.stops = match &self.pausing.stops {
                    Stops::None => Stops::Uncaught,
                    Stops::Uncaught => Stops::All,
                    Stops::All | Stops::Group(..) => Stops::None,
                };
                self.say(format!("from now on the program stops {}", self.pausing.stops.words()));
            }
            PauseOrder::Watch(expression) => {
                if !self.pausing.watches.contains(&expression) && self.pausing.watches.len() < 40 {
                    self.pausing.watches.push(expression);
                }
            }
            PauseOrder::Unwatch(at) => {
                if at < self.pausing.watches.len() {
                    self.pausing.watches.remove(at);
                }
            }
            PauseOrder::Again(group) => {
                let snapshot = self.engine.snapshot();
                let Some(view) = snapshot.groups.iter().find(|g| g.holds(group)) else { return };
                let place = view.entry.place.as_ref().and_then(|p| Some((p.file.clone(), p.line?)));
                let Some((file, line)) = place else {
                    return self.say(
                        "this error names no own line, so Izba cannot wait for it there; E in \
                        room Pause chooses to stop at all errors",
                    );
                };
                let line = self.line_where_it_runs(&file, line);
                let said = format!("the program stops when this happens again, at {file}:{line}");
                self.pausing.stops =
                    Stops::Group(group, view.explanation.headline.to_string(), file, line);
                self.say(if session.is_some() { said } else { NO_ADAPTER.into() });
            }
            PauseOrder::Before(group) => self.stop_before(group, session.is_some()),
            PauseOrder::Tick => {
                let Some(adapter) = session.and_then(|at| self.sources[at].adapter.as_ref()) else {
                    return self.say(NO_ADAPTER);
                };
                let state = adapter.state();
                let Some(stop) = &state.stop else { return self.say("the program is not stopped") };
                let outermost =
                    stop.frames.iter().rev().find_map(|f| Some((f.own.clone()?, f.line)));
                let index = self.detecting.code().index.clone();
                let first = outermost.as_ref().and_then(|(file, line)| {
                    Some((file, first_line_of_handler(index.file(file)?, *line)?))
                });
                let Some((file, (line, receiver))) = first else {
                    return self
                        .say("no own handler runs here, so there is no turn of it to wait for");
                };
                adapter.want(Want::Tick {
                    file: file.to_string(),
                    line,
                    receiver: receiver.map(str::to_owned),
                });
            }
        }
    }

    /// A line of the run's files in the file that runs now.
    pub(crate) fn line_where_it_runs(&self, file: &str, line: u32) -> u32 {
        if self.pausing.reread.contains(file) {
            self.project.line_today(&self.today, file, line)
        } else {
            line
        }
    }

    /// Takes off what was meant for one stop, of the breakpoints that were reached.
    pub(crate) fn take_off_once(&mut self) {
        let reached = &self.pausing.reached;
        let once = |(key, b): &(&str, &Breakpoint)| b.once && reached.contains(*key);
        let gone: Vec<Wish> = self
            .engine
            .wishes()
            .breakpoints()
            .filter(once)
            .map(|(key, _)| Wish::Breakpoint(key.to_owned(), None))
            .collect();
        for wish in &gone {
            self.engine.wish(wish);
        }
        if let Some(trouble) = self.keeping.write(&gone) {
            self.trouble(trouble);
        }
    }

    /// Sets a breakpoint at the line of a group, for one stop, with the condition under which it is about to
    /// fail, where one is known.
    pub(crate) fn stop_before(&mut self, group: GroupId, can: bool) {
        let snapshot = self.engine.snapshot();
        let Some(view) = snapshot.groups.iter().find(|g| g.holds(group)) else { return };
        let place = view.entry.place.as_ref().and_then(|p| Some((p.file.clone(), p.line?)));
        let Some((file, line)) =
            place.filter(|(file, _)| Language::of(file).is_some_and(|l| l.is_code()))
        else {
            return self.say("this error names no line of your code before which to stop");
        };
        if view.entry.family == Family::DoesNotParse {
            return self
                .say("this script does not parse, so it never runs and cannot be stopped in");
        }
        let code = self.detecting.code();
        let condition = code.index.file(&file).and_then(|facts| {
            let ask = asked(&view.entry, &code.index, &[]);
            let subject = ask.subjects.first().and_then(|s| facts.text.get(s.span().0..s.span().1));
            // Only what has no value can be told before it fails.
            matches!(
                view.entry.family,
                Family::ValueNotThere | Family::NameNotThere | Family::WrongKind
            )
            .then(|| before_fault(facts, line, subject))
            .flatten()
        });
        let today = self.project.line_today(&self.today, &file, line);
        let Some(mut breakpoint) = Breakpoint::at(&self.today, &file, today) else {
            return self.say(format!("{file} has no line {today} any more"));
        };
        (breakpoint.condition, breakpoint.once) = (condition, true);
        let when = breakpoint.condition.as_ref().map_or_else(
            || "when that line is reached next".to_owned(),
            |c| format!("the next time that {c}"),
        );
        let said = if can {
            format!("the program stops just before it, at {file}:{today}, {when}")
        } else {
            NO_ADAPTER.into()
        };
        let trouble = self.keeping.wish(
            &mut self.engine,
            &[Wish::Breakpoint(breakpoint.key(), Some(breakpoint))],
            &said,
        );
        self.say(trouble.unwrap_or(said));
    }

    /// What the screen shows of pausing.
    pub(crate) fn pause_view(&mut self) -> Arc<PauseView> {
        let session = self.session();
        let state = session
            .and_then(|at| self.sources[at].adapter.as_ref())
            .map(Adapter::state)
            .unwrap_or_default();
        let row = |(key, b): (&str, &Breakpoint)| {
            let bound =
                self.running_line(b).and_then(|line| state.bound.get(&(b.file.clone(), line)));
            let refused = bound.filter(|b| !b.taken).and_then(|b| b.message.clone());
            let reached = self.pausing.reached.contains(key);
            BreakRow {
                key: key.to_owned(),
                breakpoint: b.clone(),
                today: b.line_in(&self.today),
                refused,
                reached,
            }
        };
        let breakpoints = self.engine.wishes().breakpoints().map(row).collect();
        let view = PauseView {
            source: session,
            name: session.map(|at| self.sources[at].name.clone()).unwrap_or_default(),
            state,
            stops: self.pausing.stops.clone(),
            breakpoints,
            watches: self.pausing.watches.clone(),
        };
        if *self.pausing.view != view {
            self.pausing.view = Arc::new(view);
        }
        self.pausing.view.clone()
    }
}
