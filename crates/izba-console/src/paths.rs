//! Paths that a program printed on purpose, to see how a line was reached: nothing is wrong, and
//! they look like an error. They are found among the lines that belong to no entry, tied to the
//! line that printed them, and folded into who calls it from where.

use crate::read::split_prefix;
use crate::trace::{Order, printed_step};
use izba_model::mask::mask;
use izba_model::project::Project;
use izba_model::{StackFrame, mark_own};
use std::sync::Arc;

/// One path as it was printed.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Walk {
    /// Number of its first line, the sentence above the steps if there is one.
    pub first: u64,
    /// Number of its last line.
    pub last: u64,
    /// What was said with it.
    pub said: String,
    /// The steps, from the line that printed it outwards; that line is the first own one.
    pub steps: Vec<StackFrame>,
}

/// Functions that print or give a path, where they are a step of it themselves.
const PRINTERS: &[&str] = &["get_StackTrace", "dumpStack", "printStackTrace"];

/// Steps of one path that are kept.
const STEPS: usize = 200;

/// Finds paths in lines that come one by one.
#[derive(Debug, Default)]
pub struct Collector {
    said: Option<(u64, String)>,
    open: Option<(Walk, Order)>,
    headed: bool,
    found: Vec<Walk>,
}

impl Collector {
    /// Looks at the next line of a stream. Lines that belong to an error or warning are `in_entry`
    /// and begin nothing.
    pub fn line(&mut self, number: u64, text: &str, in_entry: bool, project: &Project) {
        if in_entry {
            self.close(project);
            (self.said, self.headed) = (None, false);
            return;
        }
        let step = if text.starts_with([' ', '\t']) || text.starts_with("at ") {
            printed_step(text)
        } else {
            None
        };
        // Where the call that prints a path stands in it, each path begins with that.
        let begins = step.as_ref().is_some_and(|(f, _)| {
            f.function.as_deref().is_some_and(|n| PRINTERS.iter().any(|p| n.contains(p)))
        });
        match (step, &mut self.open) {
            (Some((frame, order)), Some(_)) if begins => {
                self.close(project);
                self.begin(number, frame, order);
            }
            (Some((frame, order)), Some((walk, open))) if *open == order => {
                if walk.steps.len() < STEPS {
                    // Printed once more from the outermost step on: it is the next path.
                    let again = order == Order::OutermostFirst
                        && walk
                            .steps
                            .first()
                            .is_some_and(|f| f.file == frame.file && f.function == frame.function);
                    if again && walk.steps.len() > 1 {
                        self.close(project);
                        self.begin(number, frame, order);
                        return;
                    }
                    walk.steps.push(frame);
                }
                walk.last = number;
            }
            (Some((frame, order)), _) => {
                self.close(project);
                self.begin(number, frame, order);
            }
            (None, Some((walk, Order::OutermostFirst))) if text.starts_with("    ") => {
                walk.last = number
            }
            (None, _) => {
                self.close(project);
                self.headed = text.trim_end() == "stack traceback:"
                    || text.starts_with("Stack (most recent call last)");
                if !self.headed || self.said.is_none() {
                    self.said = Some((number, text.to_owned()));
                }
            }
        }
    }

    fn begin(&mut self, number: u64, frame: StackFrame, order: Order) {
        let (first, said) = match self.said.take() {
            Some((at, text)) => {
                let rest = split_prefix(&text).rest_at;
                let said = text.get(rest..).unwrap_or("").trim();
                let said = if said == "stack traceback:" || said.starts_with("Stack (most recent") {
                    ""
                } else {
                    said
                };
                // An error without words that was made for its path says nothing itself.
                let said =
                    if said == "Error" { "" } else { said.strip_suffix(" Error").unwrap_or(said) };
                (at, said.strip_prefix("Trace: ").unwrap_or(said).to_owned())
            }
            None => (number, String::new()),
        };
        self.headed = false;
        self.open = Some((Walk { first, last: number, said, steps: vec![frame] }, order));
    }

    fn close(&mut self, project: &Project) {
        let Some((mut walk, order)) = self.open.take() else { return };
        if order == Order::OutermostFirst {
            walk.steps.reverse();
        }
        mark_own(&mut walk.steps, project);
        if walk.steps.iter().any(|s| s.own.is_some()) {
            self.found.push(walk);
        }
    }

    /// The paths that are whole by now; each is given once.
    pub fn take(&mut self) -> Vec<Walk> {
        std::mem::take(&mut self.found)
    }

    /// Ends the stream: what is open is complete.
    pub fn finish(&mut self, project: &Project) -> Vec<Walk> {
        self.close(project);
        self.take()
    }
}

/// Who called, how often, and who called those.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Caller {
    /// The own step from which the call came.
    pub step: StackFrame,
    /// How many of the paths came this way.
    pub count: u64,
    /// Who called it there, most often first.
    pub callers: Vec<Caller>,
}

/// All paths that one line printed.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Walked {
    /// The line that printed them.
    pub step: StackFrame,
    /// What it says with them, its changing parts taken out.
    pub said: String,
    /// How many paths it printed so far.
    pub count: u64,
    /// The first line of the newest one.
    pub newest: u64,
    /// Who calls from where.
    pub callers: Vec<Caller>,
}

/// Folds paths into the lines that printed them, the most printed first.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Folded {
    /// One for each line that printed paths.
    pub lines: Vec<Walked>,
}

/// Whether two steps are the same: one line may hold several functions.
fn is_same(a: &StackFrame, b: &StackFrame) -> bool {
    (&a.own, a.line, &a.function) == (&b.own, b.line, &b.function)
}

/// Callers kept at one level.
const CALLERS: usize = 200;

impl Folded {
    /// Adds one path to those that begin alike.
    pub fn add(&mut self, walk: &Walk) {
        let mut own = walk.steps.iter().filter(|s| s.own.is_some());
        let Some(step) = own.next() else { return };
        let shape = mask(&walk.said, "").shape;
        let known = self.lines.iter().position(|l| is_same(&l.step, step) && l.said == shape);
        let at = match known {
            Some(at) => at,
            None if self.lines.len() >= CALLERS => return,
            None => {
                self.lines.push(Walked {
                    step: step.clone(),
                    said: shape,
                    count: 0,
                    newest: 0,
                    callers: Vec::new(),
                });
                self.lines.len() - 1
            }
        };
        let line = &mut self.lines[at];
        line.count += 1;
        line.newest = walk.first;
        let mut callers = &mut line.callers;
        for step in own {
            let at = callers.iter().position(|c| is_same(&c.step, step));
            let at = match at {
                Some(at) => at,
                None if callers.len() >= CALLERS => break,
                None => {
                    callers.push(Caller { step: step.clone(), count: 0, callers: Vec::new() });
                    callers.len() - 1
                }
            };
            callers[at].count += 1;
            callers = &mut callers[at].callers;
        }
    }

    /// In order: what was printed most, and called most, first.
    #[must_use]
    pub fn sorted(mut self) -> Folded {
        fn sort(callers: &mut [Caller]) {
            callers.sort_by_key(|c| std::cmp::Reverse(c.count));
            callers.iter_mut().for_each(|c| sort(&mut c.callers));
        }
        self.lines.sort_by_key(|l| std::cmp::Reverse(l.count));
        self.lines.iter_mut().for_each(|l| sort(&mut l.callers));
        self
    }

    /// Rows to be listed: how deep, the step, how often; of lines that printed also what they say.
    pub fn rows(&self) -> Vec<PathRow<'_>> {
        fn add<'a>(callers: &'a [Caller], depth: u16, rows: &mut Vec<PathRow<'a>>) {
            for caller in callers {
                rows.push(PathRow {
                    depth,
                    step: &caller.step,
                    count: caller.count,
                    printed: None,
                });
                add(&caller.callers, depth + 1, rows);
            }
        }
        let mut rows = Vec::new();
        for line in &self.lines {
            rows.push(PathRow {
                depth: 0,
                step: &line.step,
                count: line.count,
                printed: Some(line),
            });
            add(&line.callers, 1, &mut rows);
        }
        rows
    }
}

/// One row of folded paths.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct PathRow<'a> {
    /// 0 for the line that printed; 1 for who called it; and so on outwards.
    pub depth: u16,
    /// The step.
    pub step: &'a StackFrame,
    /// How many of the paths came this way.
    pub count: u64,
    /// The line that printed, where this is one.
    pub printed: Option<&'a Walked>,
}

/// The paths in a whole text, folded; lines count from 0. For scripts and tests.
pub fn folded<'a>(
    lines: impl Iterator<Item = (u64, &'a str, bool)>,
    project: &Arc<Project>,
) -> Folded {
    let mut collector = Collector::default();
    for (number, text, in_entry) in lines {
        collector.line(number, text, in_entry, project);
    }
    let mut all = Folded::default();
    collector.finish(project).iter().for_each(|walk| all.add(walk));
    all.sorted()
}
