//! `izba try -- CMD…`: whether an error is gone with one of the exact edits that Izba knows, found by
//! running copies of the project; the first that holds can be made.

use super::copies::Copies;
use super::form::Form;
use super::say::{is_watched, print, print_as, say_progress};
use super::shared::{Outcome as Done, Shared, Started};
use crate::command_error::{CommandError, exit};
use izba_model::SafeText;
use izba_model::claim::Fix;
use izba_watch::cornering::{self, Edits, Mistake, Needs, Outcome, Start, Trials, Tried};
use izba_watch::fixing;
use izba_watch::guilty::Guilty;
use std::path::PathBuf;
use std::time::Duration;

#[derive(clap::Args, Debug)]
#[command(
    after_help = "Examples:\n  izba try main.py                             with which edit is the first error \
        gone?\n  izba try --of \"in tide.lua\" -- lua5.4 main.lua\n  izba try --apply main.py               \
        and make the first edit that holds\n\nIt works on a copy; your files are not touched but by \
        --apply. What the program does outside its folder it does each time. Exit code 0: an edit holds, or \
        there is no error; 1: none does."
)]
pub struct Args {
    /// Which error, where there are several: a filter phrase
    #[arg(long, value_name = "PHRASE")]
    of: Option<String>,
    /// Seconds at most
    #[arg(long, value_name = "N", default_value_t = 60)]
    seconds: u64,
    /// Make the first edit that holds in your own file
    #[arg(long)]
    apply: bool,
    /// With --apply: and the same wherever the same is done, where nothing new came with it
    #[arg(long, requires = "apply")]
    alike: bool,
    /// How to write the answer
    #[arg(long = "as", value_name = "FORM", default_value = "text")]
    form: Form,
    /// What the program reads from its standard input each time
    #[arg(long, value_name = "FILE")]
    input: Option<PathBuf>,
    #[command(flatten)]
    program: Started,
}

pub fn run(shared: &Shared, args: &Args) -> Done {
    let budget = (u32::MAX, Duration::from_secs(args.seconds));
    let copies =
        Copies::of(shared, &args.program.words, args.input.as_deref(), budget, Needs::Kept)?;
    let (start, json) = (&copies.start, args.form.is_json());
    let Some(group) = copies.error(args.of.as_deref())? else {
        print("No such error came when the program ran, so there is nothing to try.\n");
        return Ok(exit::WELL);
    };
    let mistake = Mistake::of(&group);
    // The copy's lines are those of the project.
    let guilty = Guilty::of(&start.project);
    guilty.prepare(std::iter::once(&*group.entry));
    let found = guilty.find(&group.entry);
    let edits = Edits::of(&found, 0.0);
    if !json {
        print(&format!("Trying  {}\n", SafeText::new(&mistake.headline)));
    }
    let shows = is_watched();
    let mut tell = |t: &Trials| {
        if shows {
            let line = format!("  {} of {}, {} s", t.done, t.of, t.took_ms / 1000);
            say_progress(&line);
        }
    };
    let tried = match edits.fixes.is_empty() {
        true => Vec::new(),
        false => cornering::try_fixes(start, &mistake, &edits, &copies.stop, &mut tell)
            .map_err(CommandError::input)?,
    };
    if shows {
        say_progress("");
    }
    let holds = tried.iter().find(|t| t.holds());
    print_as(json, &if json { as_json(&tried) } else { cornering::told_trials(&tried) });
    let Some(held) = holds else { return Ok(exit::FOUND) };
    if args.apply {
        let alike = tried.iter().filter(|t| t.goes_with_it() && args.alike).map(|t| &t.fix);
        // What held only together is made together.
        let with = if held.with > 0 { edits.like(&held.fix) } else { &[] };
        let fixes: Vec<&Fix> = std::iter::once(&held.fix).chain(alike).chain(with).collect();
        make(start, &fixes, json)?;
    }
    Ok(exit::WELL)
}

/// Makes edits in the user's own files.
fn make(start: &Start, fixes: &[&Fix], json: bool) -> Result<(), CommandError> {
    for fix in Fix::together(fixes).unwrap_or_default() {
        let seen = start.project.file(&fix.file).and_then(|f| f.text.clone());
        let made = fixing::make(&start.root, &fix, &seen.unwrap_or_default());
        made.map_err(CommandError::input)?;
        if !json {
            print(&format!("Made in {}.\n", SafeText::new(&fix.file)));
        }
    }
    Ok(())
}

fn as_json(tried: &[Tried]) -> String {
    let one = |t: &Tried| {
        let outcome = match &t.outcome {
            Outcome::Gone => "gone",
            Outcome::Comes => "comes",
            Outcome::Other(_) => "other",
            Outcome::Later(_) => "later",
            Outcome::NotTried => "not-tried",
        };
        let value = serde_json::json!({"v": 1, "file": &*t.fix.file, "says": t.says, "pieces": t.fix.pieces(), "outcome": outcome, "quick": t.quick, "beside": t.beside, "with": t.with, "told": t.sentence(), "ms": t.ran_ms, "runs": t.runs});
        format!("{value}\n")
    };
    tried.iter().map(one).collect()
}
