//! `izba runs` and `izba compare A B`: what the ledger knows of a project's runs, without a screen.

use super::form::Form;
use super::kept::{history, ledger};
use super::say::{print, print_json};
use super::shared::{Outcome, Shared};
use crate::command_error::exit;
use izba_core::answer::compare;
use izba_core::{Engine, GroupView, State};
use izba_model::SafeText;
use izba_model::text::{counted, thousands};
use izba_store::RunRow;
use std::fmt::Write;
use std::sync::Arc;

#[derive(clap::Args, Debug)]
#[command(
    after_help = "Examples:\n  izba runs\n  izba runs --source \"marsh engine\"\n  izba runs --as jsonl"
)]
pub struct Args {
    /// The runs of one source alone
    #[arg(long, value_name = "NAME")]
    source: Option<String>,
    /// How to write the answer
    #[arg(long = "as", value_name = "FORM", default_value = "text")]
    form: Form,
}

#[derive(clap::Args, Debug)]
#[command(after_help = "Examples:\n  izba compare 11 12\n  izba compare 3 12 --source \"marsh \
        engine\"\n  izba compare 11 12 --as jsonl\n\nEnds with 1 when something is new or back in the later run.")]
pub struct CompareArgs {
    /// The earlier run, by its number
    earlier: u32,
    /// The later run
    later: u32,
    /// Whose runs; needed where several sources have runs of these numbers
    #[arg(long, value_name = "NAME")]
    source: Option<String>,
    /// Only mistakes that this phrase fits
    #[arg(long, value_name = "PHRASE")]
    filter: Option<String>,
    /// How to write the answer
    #[arg(long = "as", value_name = "FORM", default_value = "text")]
    form: Form,
}

pub fn run(shared: &Shared, args: &Args) -> Outcome {
    let (ledger, project) = ledger(shared)?;
    let runs = ledger.runs(&project, args.source.as_deref()).map_err(super::kept::failed)?;
    if args.form.is_json() {
        let line = |r: &RunRow| {
            serde_json::json!({"v": 1, "source": r.card.source, "run": r.card.number, "command": r.card.command, "started": izba_model::Millis(r.card.started).to_rfc3339(),
                "ran_ms": r.progress.ran_ms, "ended": r.progress.ended, "well": r.progress.well, "lines": r.progress.lines, "bytes": r.progress.bytes,
                "changed": r.card.edits, "versions": r.card.versions, "kept": !r.pruned})
            .to_string()
                + "\n"
        };
        print_json(&runs.iter().map(line).collect::<String>());
        return Ok(exit::WELL);
    }
    let mut out = String::new();
    if runs.is_empty() {
        let _ = writeln!(out, "No run of {} is kept yet.", SafeText::new(&project));
    }
    let zone = jiff::tz::TimeZone::system();
    let mut source = String::new();
    let mut sorted: Vec<&RunRow> = runs.iter().collect();
    sorted.sort_by_key(|r| (r.card.source.clone(), r.card.number));
    let mut before: Option<&RunRow> = None;
    for run in sorted {
        if run.card.source != source {
            source.clone_from(&run.card.source);
            before = None;
            let _ = writeln!(out, "{}", SafeText::new(&source));
        }
        let when = jiff::Timestamp::from_millisecond(run.card.started)
            .map(|t| t.to_zoned(zone.clone()).strftime("%Y-%m-%d %H:%M:%S").to_string());
        let ended = run.progress.ended.clone().unwrap_or_else(|| "its end was not seen".into());
        let _ = writeln!(
            out,
            "{:>5}  {}  {:>8}  {:>12}  {}{}",
            run.card.number,
            when.unwrap_or_default(),
            format!("{:.1} s", run.progress.ran_ms as f64 / 1000.0),
            counted(run.progress.lines, "line", "lines"),
            SafeText::new(&ended),
            if run.pruned { "; its lines were pruned" } else { "" }
        );
        if !run.card.edits.is_empty() {
            let shown: Vec<&str> = run.card.edits.iter().take(5).map(String::as_str).collect();
            let more = run.card.edits.len().saturating_sub(5);
            let _ = writeln!(
                out,
                "{:7}changed before it: {}{}",
                "",
                SafeText::new(&shown.join(", ")),
                if more > 0 { format!(" and {more} more") } else { String::new() }
            );
        }
        if let Some(before) = before {
            let old = &before.card.versions;
            let changed: Vec<String> = run
                .card
                .versions
                .iter()
                .filter_map(|(name, version)| {
                    let was = old.iter().find(|(n, _)| n == name).map(|(_, v)| v.as_str());
                    (was != Some(version))
                        .then(|| format!("{name} {} to {version}", was.unwrap_or("none")))
                })
                .take(5)
                .collect();
            if !changed.is_empty() {
                let _ =
                    writeln!(out, "{:7}other versions: {}", "", SafeText::new(&changed.join(", ")));
            }
        }
        before = Some(run);
    }
    print(&out);
    Ok(exit::WELL)
}

pub fn run_compare(shared: &Shared, args: &CompareArgs) -> Outcome {
    let phrase = super::logs::phrase_of(args.filter.as_deref())?;
    let (name, spans, groups) =
        history(shared, &[args.earlier, args.later], args.source.as_deref(), None)?;
    let mut engine = Engine::new(Arc::new(izba_model::Project::default()));
    let source = engine.add_source(name.clone());
    let edits: Vec<String> = spans
        .iter()
        .filter(|r| r.run > args.earlier && r.run <= args.later)
        .flat_map(|r| r.edits.clone())
        .collect();
    engine.recall(source, spans, groups);
    super::logs::follow_wishes(shared, &mut engine)?;
    let names = [name.clone()];
    let around = izba_core::filter::Around {
        sources: &names,
        now: Some(izba_sources::now()),
        utc_offset: jiff::Zoned::now().offset().seconds(),
    };
    let wanted =
        |g: &Arc<GroupView>| !g.muted && phrase.as_ref().is_none_or(|p| p.fits_group(g, &around));
    let groups: Vec<Arc<GroupView>> = engine.groups().into_iter().filter(wanted).collect();
    let parts = compare(&groups, args.earlier, args.later);
    let worse = parts.iter().any(|p| matches!(p.state, State::New | State::Back));
    let code = if worse { exit::FOUND } else { exit::WELL };
    if args.form.is_json() {
        let told = parts.iter().flat_map(|p| p.groups.iter().map(move |g| (p.state, g)));
        let line = |(state, (group, earlier, later)): (State, &(Arc<GroupView>, u64, u64))| {
            let place = group.entry.place.as_ref();
            serde_json::json!({"v": 1, "source": name, "state": state.word(), "earlier": earlier, "later": later,
                "level": group.level().word(), "short": group.explanation.short.bare(),
                "file": place.map(|p| &*p.file), "line": place.and_then(|p| p.line), "changed": edits})
            .to_string()
                + "\n"
        };
        print_json(&told.map(line).collect::<String>());
        return Ok(code);
    }
    let mut out = String::new();
    let _ =
        writeln!(out, "Run {} and run {} of {}", args.earlier, args.later, SafeText::new(&name));
    match edits.is_empty() {
        true => writeln!(out, "No file of yours was changed between them."),
        false => writeln!(out, "Changed between them: {}", SafeText::new(&edits.join(", "))),
    }
    .ok();
    if parts.is_empty() {
        let _ = writeln!(out, "\nNeither saw an error or a warning.");
    }
    for part in &parts {
        let _ = writeln!(out, "\n{} {}", part.groups.len(), part.title);
        for (group, a, b) in &part.groups {
            let place = group.entry.place.as_ref().map_or(String::new(), |p| {
                p.line.map_or_else(|| p.file.to_string(), |l| format!("{}:{l}", p.file))
            });
            let count = |n: u64| if n == 0 { "·".to_owned() } else { thousands(n) };
            let _ = writeln!(
                out,
                "{:>9} {:>9}  {:<8} {}  {}",
                count(*a),
                count(*b),
                group.level().word(),
                SafeText::new(&group.explanation.short.to_string()),
                SafeText::new(&place)
            );
        }
    }
    print(&out);
    Ok(code)
}
