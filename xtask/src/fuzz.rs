//! `cargo xtask fuzz SECONDS [NAME…]`: hands each target of `fuzz/` to a fuzzer for so many seconds,
//! from the seeds and whatever was found before. It needs cargo-fuzz and a nightly toolchain, and
//! says so. What fails lies in `fuzz/artifacts`; once mended it becomes a seed.

use crate::{Outcome, root, say};
use std::process::Command;

/// Memory that an input may take, in MB.
const MEMORY: u32 = 2_048;
/// Seconds that one input may take.
const ONE: u32 = 20;

pub fn run(words: &[String]) -> Outcome {
    let (seconds, names) =
        words.split_first().ok_or("say for how many seconds, then which targets")?;
    let seconds: u32 =
        seconds.parse().map_err(|_| format!("“{seconds}” is no number of seconds"))?;
    let fuzz = root().join("fuzz");
    let mut all: Vec<String> = std::fs::read_dir(fuzz.join("fuzz_targets"))
        .map_err(|e| format!("fuzz/fuzz_targets cannot be read: {e}"))?
        .flatten()
        .filter_map(|e| Some(e.path().file_stem()?.to_string_lossy().into_owned()))
        .filter(|name| names.is_empty() || names.contains(name))
        .collect();
    all.sort();
    let mut failed = Vec::new();
    for name in &all {
        let corpus = fuzz.join("corpus").join(name);
        std::fs::create_dir_all(&corpus).map_err(|e| format!("no room for the corpus: {e}"))?;
        say(&format!("{name}, for {seconds} s"));
        let status = Command::new("cargo")
            .args(["+nightly", "fuzz", "run", "--fuzz-dir", ".", name])
            .arg(&corpus)
            .arg(fuzz.join("seeds").join(name))
            .args(["--", "-seed=1", "-print_final_stats=1", "-max_len=20000"])
            .arg(format!("-max_total_time={seconds}"))
            .arg(format!("-rss_limit_mb={MEMORY}"))
            .arg(format!("-timeout={ONE}"))
            .current_dir(&fuzz)
            .status()
            .map_err(|e| format!("cargo could not be started: {e}"))?;
        if !status.success() {
            failed.push(name.as_str());
        }
    }
    match failed.as_slice() {
        [] => Ok(()),
        some => Err(format!(
            "these failed, or cargo-fuzz is missing (cargo install cargo-fuzz): {}",
            some.join(", ")
        )),
    }
}
