//! `izba check`: what is found wrong in the code and data without running them.

use super::form::Form;
use super::say::{print, print_as};
use super::shared::{Outcome, Shared};
use crate::command_error::{CommandError, exit};
use izba_cause::checks;
use izba_cause::checks::{Remark, title_of};
use izba_cause::suspect::alike;
use izba_model::SafeText;
use izba_model::text::counted;
use izba_watch::guilty::Guilty;
use std::fmt::Write;
use std::sync::Arc;

#[derive(clap::Args, Debug)]
#[command(
    after_help = "Examples:\n  izba check\n  izba check --project ~/ferry --as jsonl\n  izba check \
        --all            also what you said that you know of\n  izba check --like \
        scripts/jetty.lua:14   where else it is done in the same way\n  izba check --silent \
        onPull  nothing happens when it should: what Izba can see of onPull"
)]
pub struct Args {
    /// How to write the answer
    #[arg(long = "as", value_name = "FORM", default_value = "text")]
    form: Form,
    /// Also what you said that you know of
    #[arg(long)]
    all: bool,
    /// Where else is it done in the same way as at this line?
    #[arg(long, value_name = "FILE:LINE")]
    like: Option<String>,
    /// Nothing happens, and nothing is told: look into this object, handler or script, step by step
    #[arg(long, value_name = "NAME")]
    silent: Option<String>,
}

pub fn run(shared: &Shared, args: &Args) -> Outcome {
    let project = Arc::new(izba_files::scan(&shared.root()));
    let guilty = Guilty::of(&project);
    if let Some(name) = &args.silent {
        let steps = izba_cause::silence::look(name, guilty.repaired());
        let mut out = format!("Nothing happens with {}:\n\n", SafeText::new(name));
        for step in &steps {
            let _ = writeln!(out, "{:<11} {}", step.verdict.word(), SafeText::new(&step.text()));
            for seen in &step.claim.evidence {
                let line = if seen.line == 0 { String::new() } else { format!(":{}", seen.line) };
                let _ = writeln!(
                    out,
                    "{:<11}   {}{line}  {}",
                    "",
                    SafeText::new(&seen.file),
                    SafeText::new(&seen.saw.to_string())
                );
            }
        }
        print(&out);
        return Ok(if steps.iter().any(|s| s.verdict == izba_model::claim::Verdict::Likely) {
            exit::FOUND
        } else {
            exit::WELL
        });
    }
    if let Some(place) = &args.like {
        return like(&guilty, place);
    }
    let mut engine = izba_core::Engine::new(project.clone());
    super::logs::follow_wishes(shared, &mut engine)?;
    let known = engine.wishes().known();
    let checked = checks::all(guilty.repaired());
    let (told, left_out): (Vec<&Remark>, Vec<&Remark>) =
        checked.remarks.iter().partition(|r| args.all || !known.contains(&r.key()));
    let mut out = String::new();
    match args.form {
        Form::Jsonl => {
            for remark in &told {
                // A struct of strings and numbers always has a JSON form.
                out.push_str(&serde_json::to_string(remark).unwrap_or_default());
                out.push('\n');
            }
        }
        Form::Text => {
            let read = counted(izba_code::looked_into(guilty.index()) as u64, "file", "files");
            let mut under = "";
            for remark in &told {
                if remark.check() != under {
                    let count = told.iter().filter(|r| r.check() == remark.check()).count();
                    let _ = writeln!(
                        out,
                        "{}{}  {count}",
                        if under.is_empty() { "" } else { "\n" },
                        title_of(remark.check())
                    );
                    under = remark.check();
                }
                let line =
                    if remark.line == 0 { String::new() } else { format!(":{}", remark.line) };
                let _ = writeln!(
                    out,
                    "  {}{line}  {}",
                    SafeText::new(&remark.file),
                    SafeText::new(&remark.text())
                );
                for seen in remark.claim.evidence.iter().take(4) {
                    let line =
                        if seen.line == 0 { String::new() } else { format!(":{}", seen.line) };
                    let _ = writeln!(
                        out,
                        "      {}{line}  {}",
                        SafeText::new(&seen.file),
                        SafeText::new(&seen.saw.to_string())
                    );
                }
            }
            if told.is_empty() {
                let _ = writeln!(out, "Nothing wrong found in {read} of code and data.");
            } else {
                let _ = writeln!(
                    out,
                    "\n{} in {read}.",
                    counted(told.len() as u64, "remark", "remarks")
                );
            }
            if let Some(sentence) = izba_watch::guilty::left_out(guilty.index(), &checked) {
                let _ = writeln!(out, "{sentence}");
            }
            if !left_out.is_empty() {
                let _ = writeln!(
                    out,
                    "{} that you know of; --all tells them.",
                    counted(left_out.len() as u64, "remark", "remarks")
                );
            }
        }
    }
    print_as(args.form == Form::Jsonl, &out);
    Ok(if told.iter().any(|r| r.stops || r.confidence >= izba_model::claim::LIKELY) {
        exit::FOUND
    } else {
        exit::WELL
    })
}

/// Tells where the same is done in the same way.
fn like(guilty: &Guilty, place: &str) -> Outcome {
    let parted = place
        .rsplit_once(':')
        .and_then(|(file, line)| Some((file.trim_start_matches("./"), line.parse::<u32>().ok()?)));
    let Some((file, line)) = parted.filter(|(_, line)| *line > 0) else {
        return Err(CommandError::wrong_use(
            format!("“{place}” names no line."),
            "Write it as FILE:LINE, such as scripts/jetty.lua:14.",
        ));
    };
    if guilty.index().file(file).is_none_or(|f| !f.language.is_code()) {
        return Err(CommandError::wrong_use(
            format!("{file} is no script of this project."),
            "Its path is written from the project's folder.",
        ));
    }
    let found = alike(guilty.index(), file, line);
    let mut out = match found.len() {
        0 => format!(
            "Nothing else in the project is done in the same way as {}.\n",
            SafeText::new(place)
        ),
        n => format!(
            "Done in the same way as {}, in {}:\n",
            SafeText::new(place),
            counted(n as u64, "place", "places")
        ),
    };
    for other in &found {
        let _ = writeln!(
            out,
            "  {}:{}  {}",
            SafeText::new(&other.file),
            other.line,
            SafeText::new(&other.text)
        );
    }
    print(&out);
    Ok(exit::WELL)
}
