//! `izba-learn [--out FILE] [--ferry IZBA] [--judge FOLDER]… FOLDER…`: learns from the cases in these
//! folders, and from the demo that the program IZBA lays out; prints how it does on what it was not
//! learned from, and writes what was learned.

use izba_cause::suspect::{FEATURES, Learned};
use izba_learn::cases::{self, Case, Cases};
use izba_learn::ferry;
use izba_learn::fit::{self, Weights};
use izba_learn::record::Counts;
use izba_learn::tables::{Held, ranked, said_and_true};
use std::path::PathBuf;
use std::process::ExitCode;

fn main() -> ExitCode {
    match run() {
        Ok(()) => ExitCode::SUCCESS,
        Err(sentence) => {
            say(&format!("izba-learn: {sentence}"));
            ExitCode::FAILURE
        }
    }
}

#[expect(clippy::print_stderr, reason = "a chore talks to the person who started it")]
fn say(words: &str) {
    eprintln!("{words}");
}

fn run() -> Result<(), String> {
    let (mut out, mut ferry, mut judge, mut folders) = (None, None, Vec::new(), Vec::new());
    let mut words = std::env::args().skip(1);
    while let Some(word) = words.next() {
        let mut value = || words.next().ok_or(format!("{word} needs a value behind it"));
        match word.as_str() {
            "--out" => out = Some(PathBuf::from(value()?)),
            "--ferry" => ferry = Some(PathBuf::from(value()?)),
            "--judge" => judge.push(PathBuf::from(value()?)),
            _ => folders.push(PathBuf::from(word)),
        }
    }
    if folders.is_empty() {
        return Err("say in which folders the cases lie".into());
    }
    let Cases { learn: mut all, aside } = cases::read(&folders)?;
    if let Some(izba) = ferry {
        let home = tempfile::tempdir().map_err(|e| e.to_string())?;
        all.extend(ferry::read(&izba, home.path())?);
    }
    let judging = cases::read(&judge)?;
    let counts = Counts::of(&all);
    counts.put_into(&mut all, true);
    let features = FEATURES.len();
    let program = Held::out(&all, features, |c| &c.program);
    say(&program.table("program"));
    say(&Held::out(&all, features, |c| &c.slip).table("kind of slip"));
    let became = fit::became(program.all());
    let weights = fit::learn(all.iter(), features);
    let learned = learned(&weights, became, counts.clone());
    let firsts = |all: &[Vec<(f64, bool)>]| -> Vec<(f32, bool)> {
        let first = all.iter().filter_map(|p| p.first());
        first.map(|(chance, guilty)| (share(&learned.became, *chance), *guilty)).collect()
    };
    say(&said_and_true(&firsts(&program.places)));
    let judging: Vec<Case> = judging.learn.into_iter().chain(judging.aside).collect();
    for (what, mut judged) in [("set aside", aside), ("others", judging)] {
        if !judged.is_empty() {
            counts.put_into(&mut judged, false);
            let ranked: Vec<_> = judged.iter().map(|c| ranked(&weights, c)).collect();
            say(&on_others(what, &judged, &ranked));
            say(&said_and_true(&firsts(&ranked)));
        }
    }
    let Some(out) = out else { return Ok(()) };
    let table = toml::to_string(&learned).map_err(|e| e.to_string())?;
    std::fs::write(&out, HEAD.to_owned() + &table).map_err(|e| format!("{}: {e}", out.display()))
}

const HEAD: &str = "\
# The order of suspects, as `cargo xtask learn` made it: no line of it is written by hand.
";

/// How the weights do on programs that they were not learned from.
fn on_others(what: &str, cases: &[Case], ranked: &[Vec<(f64, bool)>]) -> String {
    let share = |n: usize| n as f64 / cases.len().max(1) as f64;
    let within =
        |most: usize| ranked.iter().filter(|p| p.iter().take(most).any(|(_, g)| *g)).count();
    let seen = cases.iter().filter(|c| c.places.iter().any(|p| p.guilty)).count();
    format!(
        "on {} {what}: first {:.3}, within three {:.3}, seen at all {:.3}\n",
        cases.len(),
        share(within(1)),
        share(within(3)),
        share(seen)
    )
}

/// The share that became of a chance: as Izba works it out.
fn share(became: &[[f32; 2]], chance: f64) -> f32 {
    izba_cause::suspect::became(became, chance)
}

/// What is written: rounded, so that another machine's last digit makes no difference.
fn learned(weights: &Weights, became: Vec<[f32; 2]>, counts: Counts) -> Learned {
    let round = |of: f64| (of * 1000.0).round() as f32 / 1000.0;
    let each = FEATURES.iter().zip(&weights.of);
    Learned {
        none: round(weights.none),
        became: became.into_iter().map(|p| p.map(|v| round(f64::from(v)))).collect(),
        weights: each.map(|(n, w)| (n.clone(), round(*w))).filter(|(_, w)| *w != 0.0).collect(),
        usual: counts.usual,
        kinds: counts.kinds,
    }
}
