//! `izba paths FILE…`: the paths that a program printed on purpose, folded into who calls from
//! where, how often.

use super::form::Form;
use super::say::print_as;
use super::shared::{Outcome, Shared};
use crate::command_error::{CommandError, exit};
use izba_console::paths::{Caller, Folded, folded};
use izba_core::{Engine, LineRef};
use izba_model::text::counted;
use izba_model::text::decode;
use izba_model::{SafeText, StackFrame, Stream};
use izba_watch::side_by_side;
use std::fmt::Write;
use std::path::PathBuf;
use std::sync::Arc;

#[derive(clap::Args, Debug)]
#[command(
    after_help = "Examples:\n  izba paths console.log\n  izba paths --as jsonl console.log   one object for \
        each line that printed paths"
)]
pub struct Args {
    /// Log files
    #[arg(required = true)]
    files: Vec<PathBuf>,
    /// How to write the answer
    #[arg(long = "as", value_name = "FORM", default_value = "text")]
    form: Form,
}

pub fn run(shared: &Shared, args: &Args) -> Outcome {
    let project = Arc::new(izba_files::scan(&shared.root()));
    let mut out = String::new();
    for path in &args.files {
        let failed = |e: std::io::Error| {
            CommandError::input(format!(
                "{} cannot be read: {}",
                path.display(),
                izba_sources::plain_io(&e)
            ))
        };
        let bytes = std::fs::read(path).map_err(failed)?;
        // What belongs to an error or warning is no path that was printed on purpose.
        let mut engine = Engine::new(project.clone());
        let source = engine.add_source(path.to_string_lossy());
        engine.start_run(source, None, project.clone());
        side_by_side::feed_all(&mut engine, source, &mut bytes.as_slice()).map_err(failed)?;
        engine.finish();
        let lines = bytes.split(|b| *b == b'\n').map(decode).collect::<Vec<_>>();
        let numbered = lines.iter().zip(0u64..);
        let found = folded(
            numbered.map(|(text, line)| {
                (
                    line,
                    text.as_ref(),
                    engine.group_at(LineRef { source, line }, Stream::Out).is_some(),
                )
            }),
            &project,
        );
        out +=
            &if args.form.is_json() { json(&found) } else { text(&found, &path.to_string_lossy()) };
    }
    print_as(args.form.is_json(), &out);
    Ok(exit::WELL)
}

fn place(step: &StackFrame) -> String {
    format!("{}:{}", SafeText::new(step.own.as_deref().unwrap_or("")), step.line.unwrap_or(0))
}

fn text(found: &Folded, name: &str) -> String {
    if found.lines.is_empty() {
        return format!("{}: no path was printed in it.\n", SafeText::new(name));
    }
    let mut out = String::new();
    for row in found.rows() {
        let function = row
            .step
            .function
            .as_deref()
            .map(|f| format!("  {}", SafeText::new(f)))
            .unwrap_or_default();
        let count = counted(row.count, "time", "times");
        match row.printed {
            Some(printed) => {
                let said = if printed.said.is_empty() {
                    String::new()
                } else {
                    format!("  “{}”", SafeText::new(&printed.said))
                };
                let _ = writeln!(out, "{}{function}{said}  {count}", place(row.step));
            }
            None => {
                let _ = writeln!(
                    out,
                    "{}from {}{function}  {count}",
                    "  ".repeat(usize::from(row.depth)),
                    place(row.step)
                );
            }
        }
    }
    out
}

fn json(found: &Folded) -> String {
    fn callers(all: &[Caller]) -> Vec<serde_json::Value> {
        let one = |c: &Caller| serde_json::json!({"file": c.step.own, "line": c.step.line, "function": c.step.function, "count": c.count, "callers": callers(&c.callers)});
        all.iter().map(one).collect()
    }
    let one = |l: &izba_console::paths::Walked| serde_json::json!({"v": 1, "file": l.step.own, "line": l.step.line, "function": l.step.function, "said": l.said, "count": l.count, "callers": callers(&l.callers)});
    found.lines.iter().map(|l| format!("{}\n", one(l))).collect()
}
