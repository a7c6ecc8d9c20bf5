//! How the engine talks: three forms of the same words, all its own.

use super::adapter::Adapter;
use std::io::{self, Write};
use std::rc::Rc;
use std::time::Instant;

/// A form in which the engine writes its lines.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum Form {
    /// `time | level | who | text`, and the steps of an error below it, the fault first.
    #[default]
    Lines,
    /// Errors as reports over several lines: the message, the steps with the outermost first, then
    /// who.
    Report,
    /// One JSON object a line.
    Json,
}

impl Form {
    /// The form of that name.
    pub fn named(name: &str) -> Option<Form> {
        [("lines", Form::Lines), ("report", Form::Report), ("json", Form::Json)]
            .into_iter()
            .find(|(n, _)| *n == name)
            .map(|(_, f)| f)
    }
}

/// One step that led to an error.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Step {
    /// The script as its name was given.
    pub file: String,
    /// Line, from 1.
    pub line: usize,
    /// The function.
    pub name: String,
}

/// The engine's voice: what it says, in the form that was chosen.
#[derive(Debug)]
pub struct Console {
    form: Form,
    start: Instant,
    /// The game's own time in seconds, when it does not follow the clock.
    pub game_time: Option<f64>,
    /// Whether nobody listens any more.
    pub closed: bool,
    /// Speaks for the game where standard output belongs to the debug adapter.
    pub adapter: Option<Rc<Adapter>>,
}

impl Console {
    /// A voice that speaks in a form; time counts from now.
    pub fn new(form: Form) -> Console {
        Console { form, start: Instant::now(), game_time: None, closed: false, adapter: None }
    }

    /// Says one line with its level and who speaks.
    pub fn say(&mut self, level: &str, who: &str, text: &str) {
        self.tell(level, who, text, &[]);
    }

    /// Says a line with the steps that led to it, from the fault outwards.
    pub fn tell(&mut self, level: &str, who: &str, text: &str, steps: &[Step]) {
        let time = self.game_time.unwrap_or_else(|| self.start.elapsed().as_secs_f64());
        let failed = matches!(level, "error" | "fatal");
        let said = match self.form {
            Form::Report if failed => report(time, level, who, text, steps),
            Form::Lines | Form::Report => {
                let mut said = format!("{time:8.3} | {level:<5} | {who} | {text}\n");
                for step in steps {
                    said +=
                        &format!("         from {}:{} in {}\n", step.file, step.line, step.name);
                }
                said
            }
            Form::Json => {
                let steps: Vec<_> = steps
                    .iter()
                    .map(|s| serde_json::json!({"script": s.file, "line": s.line, "in": s.name}))
                    .collect();
                let mut object = serde_json::json!({"at": (time * 1000.0).round() / 1000.0, "grade": level, "who": who, "says": text});
                if !steps.is_empty() {
                    object["steps"] = steps.into();
                }
                format!("{object}\n")
            }
        };
        if let Some(adapter) = &self.adapter {
            return adapter
                .print(if failed || level == "warn" { "stderr" } else { "stdout" }, &said);
        }
        let written = if failed || level == "warn" {
            io::stderr().lock().write_all(said.as_bytes())
        } else {
            io::stdout().lock().write_all(said.as_bytes()).and_then(|()| io::stdout().flush())
        };
        self.closed |= written.is_err();
    }
}

fn report(time: f64, level: &str, who: &str, text: &str, steps: &[Step]) -> String {
    let ends = if level == "fatal" { "the game has to stop" } else { "a handler was left" };
    let mut said = format!("~~~~~~~~ {ends} at {time:.3} s\n{text}\n");
    for (at, step) in steps.iter().rev().enumerate() {
        let verb = if at + 1 == steps.len() { "to " } else { "via" };
        said += &format!("  {verb} {} ({}:{})\n", step.name, step.file, step.line);
    }
    let (object, handler) = who.split_once('.').unwrap_or((who, "no handler"));
    said + &format!("  it was {object}, in {handler}\n~~~~~~~~\n")
}
