//! Chores of the repository, in Rust: `cargo xtask test | shots | drawings | dialects | samples |
//! faults | seed-faults | learn | answers | healthy | hostile | editor | web | package |
//! bench | layers | sizes | ci`.

mod answers;
mod apt;
mod bench;
mod dialects;
mod drawings;
mod editor;
mod fuzz;
mod healthy;
mod hostile;
mod layers;
mod learn;
mod package;
mod samples;
mod seed;
mod shots;
mod web;

use std::path::{Path, PathBuf};
use std::process::{Command, ExitCode};

/// Why a chore failed, in a sentence.
type Outcome = Result<(), String>;

fn main() -> ExitCode {
    let mut words = std::env::args().skip(1);
    let chore = words.next().unwrap_or_default();
    let rest: Vec<String> = words.collect();
    let outcome = match chore.as_str() {
        "test" => {
            apt::for_tests().and_then(|()| cargo(&["build", "--workspace"])).and_then(|()| {
                let mut all = vec!["test", "--workspace"];
                all.extend(rest.iter().map(String::as_str));
                cargo(&all)
            })
        }
        "shots" => apt::for_shots().and_then(|()| shots::run(&rest)),
        "dialects" => apt::for_tests().and_then(|()| dialects::run()),
        "drawings" => drawings::drawings(),
        "bench" => bench::run(&rest),
        "samples" => apt::for_tests().and_then(|()| samples::run()),
        "faults" => faults(),
        "seed-faults" => apt::for_tests().and_then(|()| seed::run()),
        "answers" => answers::run(&rest),
        "healthy" => healthy::run(&rest),
        "hostile" => hostile::run(&rest),
        "editor" => editor::run(&rest),
        "fuzz" => fuzz::run(&rest),
        "layers" => layers::run(),
        "web" => apt::for_tests().and_then(|()| web::run(&rest)),
        "learn" => learn::run_on(&rest),
        "package" => package::run_on(&rest),
        "sizes" => sizes(),
        "ci" => cargo(&["fmt", "--check"])
            .and_then(|()| {
                cargo(&["clippy", "--workspace", "--all-targets", "--", "-D", "warnings"])
            })
            .and_then(|()| layers::run()),
        _ => Err("say which chore: test, shots, drawings, dialects, samples, faults, seed-faults, learn, \
            answers, healthy, hostile, editor, fuzz, web, package, bench, layers, sizes or ci"
            .into()),
    };
    match outcome {
        Ok(()) => ExitCode::SUCCESS,
        Err(sentence) => {
            say(&format!("xtask: {sentence}"));
            ExitCode::FAILURE
        }
    }
}

#[expect(clippy::print_stderr, reason = "a chore talks to the person who started it")]
fn say(words: &str) {
    eprintln!("{words}");
}

/// The repository's folder.
fn root() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).parent().map(Path::to_owned).unwrap_or_default()
}

/// Makes the page of the demo's faults from their list.
fn faults() -> Outcome {
    let cargo = std::env::var("CARGO").unwrap_or_else(|_| "cargo".into());
    let made = Command::new(cargo)
        .args(["run", "-q", "-p", "izba-standins", "--bin", "night-ferry", "faults"])
        .current_dir(root())
        .output();
    let page = made.map_err(|e| format!("cargo could not be started: {e}"))?;
    if !page.status.success() {
        return Err(format!(
            "the list of faults cannot be read: {}",
            String::from_utf8_lossy(&page.stderr)
        ));
    }
    std::fs::write(root().join("crates/izba-standins/demo/night-ferry/FAULTS.md"), page.stdout)
        .map_err(|e| format!("FAULTS.md cannot be written: {e}"))
}

fn cargo(words: &[&str]) -> Outcome {
    let cargo = std::env::var("CARGO").unwrap_or_else(|_| "cargo".into());
    run(Command::new(cargo).args(words).current_dir(root()), words.first().unwrap_or(&"cargo"))
}

fn run(command: &mut Command, what: &str) -> Outcome {
    let status = command.status().map_err(|e| format!("{what} could not be started: {e}"))?;
    if status.success() { Ok(()) } else { Err(format!("{what} failed")) }
}

/// The ten largest source files, as news.
fn sizes() -> Outcome {
    let listed = Command::new("git")
        .args(["ls-files", "*.rs"])
        .current_dir(root())
        .output()
        .map_err(|e| e.to_string())?;
    let mut sizes: Vec<(usize, String)> = String::from_utf8_lossy(&listed.stdout)
        .lines()
        .map(|path| {
            (
                std::fs::read_to_string(root().join(path)).map_or(0, |t| t.lines().count()),
                path.to_owned(),
            )
        })
        .collect();
    sizes.sort();
    for (lines, path) in sizes.iter().rev().take(10) {
        say(&format!("{lines:>6}  {path}"));
    }
    Ok(())
}
