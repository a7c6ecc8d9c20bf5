//! `izba corner -- CMD…`: what an error needs, found by running a copy of the project with parts
//! left out; or which of the edits since an earlier run brought it.

use super::copies::Copies;
use super::form::Form;
use super::say::{is_watched, print, print_as, say_progress};
use super::shared::{Outcome, Shared, Started};
use crate::command_error::{CommandError, exit};
use izba_model::SafeText;
use izba_watch::before_run;
use izba_watch::cornering::{self, Cornered, Edit, Left, Mistake, Needs, Progress};
use std::fmt::Write as _;
use std::path::PathBuf;
use std::time::Duration;

#[derive(clap::Args, Debug)]
#[command(
    after_help = "Examples:\n  izba corner main.lua                         what the first error needs, \
        of the whole project\n  izba corner --of \"in tide.lua\" -- lua5.4 main.lua\n  izba \
        corner --save small main.py             keep the little program that still shows it\n  \
        izba corner --edits main.py                  which of my edits since the last good run \
        brought it\n\nIt works on a copy; your files are not touched. What the program does \
        outside its folder it does each time."
)]
pub struct Args {
    /// Which error, where there are several: a filter phrase
    #[arg(long, value_name = "PHRASE")]
    of: Option<String>,
    /// Which of the edits since an earlier run brought it
    #[arg(long)]
    edits: bool,
    /// Since this run of the ledger; else the last one without the error
    #[arg(long, value_name = "RUN", requires = "edits")]
    since: Option<u32>,
    /// Runs at most
    #[arg(long, value_name = "N", default_value_t = 2_000)]
    runs: u32,
    /// Seconds at most
    #[arg(long, value_name = "N", default_value_t = 600)]
    seconds: u64,
    /// Keep the little program that still shows the error in this folder
    #[arg(long, value_name = "DIR", conflicts_with = "edits")]
    save: Option<PathBuf>,
    /// How to write the answer
    #[arg(long = "as", value_name = "FORM", default_value = "text")]
    form: Form,
    /// What the program reads from its standard input each time
    #[arg(long, value_name = "FILE")]
    input: Option<PathBuf>,
    /// Leave as little as possible, even where the error may then have another origin that looks
    /// the same
    #[arg(long)]
    least: bool,
    /// Switch off halves of the reported file, as people do by hand, for comparison
    #[arg(long, hide = true)]
    halves: bool,
    #[command(flatten)]
    program: Started,
}

pub fn run(shared: &Shared, args: Args) -> Outcome {
    let needs = if args.least { Needs::Loose } else { Needs::Kept };
    let budget = (args.runs, Duration::from_secs(args.seconds));
    let copies = Copies::of(shared, &args.program.words, args.input.as_deref(), budget, needs)?;
    let (start, stop) = (&copies.start, &copies.stop);
    let Some(group) = copies.error(args.of.as_deref())? else {
        print("No such error came when the program ran, so there is nothing to corner.\n");
        return Ok(exit::WELL);
    };
    let mistake = Mistake::of(&group);
    if !args.form.is_json() {
        print(&format!("Cornering  {}\n", SafeText::new(&mistake.headline)));
    }
    let shows = is_watched();
    let mut tell = |p: &Progress| {
        if shows {
            let what = if p.edits { "edits" } else { "lines" };
            let ((left, all), s) = (p.left, p.took_ms / 1000);
            say_progress(&format!("  {left} left of {all} {what}, {} runs, {s} s", p.runs));
        }
    };
    if args.edits {
        let (number, before) =
            before_run(copies.store(), &start.root, &copies.name, args.since, &group)
                .map_err(CommandError::input)?;
        let found = cornering::corner_edits(start, &before, &mistake, stop, &mut tell)
            .map_err(CommandError::input)?;
        clear(shows);
        print_as(
            args.form.is_json(),
            &edits(&found.0, &found.1, found.2, number, args.form.is_json()),
        );
        return Ok(exit::FOUND);
    }
    let cornered = if args.halves {
        cornering::corner_by_halves(start, &mistake, stop)
    } else {
        cornering::corner(start, &mistake, stop, &mut tell)
    };
    let cornered = cornered.map_err(CommandError::input)?;
    clear(shows);
    print_as(
        args.form.is_json(),
        &if args.form.is_json() { json(&cornered) } else { text(&cornered) },
    );
    if let Some(folder) = &args.save {
        cornering::save(&cornered, folder).map_err(CommandError::input)?;
        if !args.form.is_json() {
            print(&format!("\nThe little program is kept in {}.\n", folder.display()));
        }
    }
    Ok(exit::FOUND)
}

fn clear(shows: bool) {
    if shows {
        say_progress("");
    }
}

fn json(cornered: &Cornered) -> String {
    let left: Vec<_> = cornered
        .left
        .iter()
        .map(|left| serde_json::json!({"file": &*left.file, "lines": left.lines.iter().map(|(number, _)| number).collect::<Vec<_>>()}))
        .collect();
    let p = &cornered.progress;
    format!(
        "{}\n",
        serde_json::json!({"v": 1, "left": left, "of": p.left.1, "runs": p.runs, "ms": p.took_ms, "seen": [p.seen.0, p.seen.1], "complete": cornered.complete})
    )
}

fn text(cornered: &Cornered) -> String {
    let mut out = format!(
        "{}\nWithout any one of these the error is gone:\n",
        cornering::how(&cornered.progress, cornered.complete)
    );
    for Left { file, lines } in &cornered.left {
        let _ = writeln!(out, "\n{}", SafeText::new(file));
        for (number, line) in lines {
            let _ = writeln!(out, "{number:>5}  {}", SafeText::new(line));
        }
    }
    out
}

fn edits(found: &[Edit], progress: &Progress, complete: bool, run: u32, as_json: bool) -> String {
    if as_json {
        let made: Vec<_> =
            found.iter().map(|e| serde_json::json!({"file": &*e.file, "line": e.line, "before": e.before, "after": e.after})).collect();
        return format!(
            "{}\n",
            serde_json::json!({"v": 1, "edits": made, "of": progress.left.1, "runs": progress.runs, "complete": complete, "since": run})
        );
    }
    let mut out =
        format!("{}\nSince run {run}, this brought it:\n", cornering::how(progress, complete));
    for edit in found {
        let _ = writeln!(out, "\n{}:{}", SafeText::new(&edit.file), edit.line);
        for (sign, lines) in [("was ", &edit.before), ("is  ", &edit.after)] {
            for line in lines.iter().take(40) {
                let _ = writeln!(out, "  {sign} {}", SafeText::new(line));
            }
        }
    }
    out
}
