//! Learns the order of suspects from the project's own seeded faults and from any other folders of
//! programs whose guilty line is known, and writes it to `crates/izba-cause/words/order.toml`.
//!
//! With `--judge FOLDER` these cases are only judged by what was learned from the others; with
//! `--dry` nothing is written.

use crate::{Outcome, cargo, root, run};
use std::process::Command;

pub fn run_on(words: &[String]) -> Outcome {
    // The demo is laid out and run by Izba itself.
    cargo(&["build", "-q", "--release", "-p", "izba-app"])?;
    let cargo = std::env::var("CARGO").unwrap_or_else(|_| "cargo".into());
    let mut learn = Command::new(cargo);
    learn.args(["run", "-q", "--release", "-p", "izba-learn", "--"]);
    if !words.iter().any(|w| w == "--dry") {
        learn.arg("--out").arg(root().join("crates/izba-cause/words/order.toml"));
    }
    learn.arg("--ferry").arg(root().join("target/release/izba"));
    learn.arg(root().join("cases/faults")).args(words.iter().filter(|w| *w != "--dry"));
    run(&mut learn, "learn")
}
