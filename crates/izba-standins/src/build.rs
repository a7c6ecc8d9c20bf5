//! The stand-in build of the ticket tool: compiles its targets one after another and prints what
//! the compiler says.

use crate::curly::{self, Class, Language, Problem};
use serde::Deserialize;
use std::io::{self, Write};
use std::path::Path;

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Plan {
    name: String,
    targets: Vec<Target>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Target {
    name: String,
    files: Vec<String>,
}

/// Compiles the sources of a target; problems name files as they were given.
pub fn compile(language: Language, sources: &[(String, String)]) -> (Vec<Class>, Vec<Problem>) {
    let (mut classes, mut problems) = (Vec::new(), Vec::new());
    for (file, text) in sources {
        match curly::parse(file, text, language) {
            Ok(found) => classes.extend(found),
            Err(problem) => problems.push(problem),
        }
    }
    // A source that cannot be read hides what is wrong with the meaning of the others.
    if problems.is_empty() {
        problems = curly::check(language, &classes, &classes);
    }
    (classes, problems)
}

/// Builds what `build.json` in `folder` names; `shown` is how that folder is called in what is
/// printed. Returns the exit code.
///
/// # Errors
///
/// A sentence when the plan or one of its files cannot be read.
pub fn run(folder: &Path, shown: &str) -> Result<i32, String> {
    let text = std::fs::read_to_string(folder.join("build.json"))
        .map_err(|e| format!("cannot read {shown}/build.json: {e}"))?;
    let plan: Plan = serde_json::from_str(&text)
        .map_err(|e| format!("{shown}/build.json:{}: this is no build plan: {e}", e.line()))?;
    let mut out = io::stdout().lock();
    let mut failed = 0;
    let mut say = |line: String| drop(writeln!(out, "{line}").and_then(|()| out.flush()));
    say(format!("build: {}, {} targets", plan.name, plan.targets.len()));
    for target in &plan.targets {
        let mut sources = Vec::new();
        for file in &target.files {
            let text = std::fs::read_to_string(folder.join(file))
                .map_err(|e| format!("cannot read {shown}/{file}: {e}"))?;
            sources.push((format!("{shown}/{file}"), text));
        }
        let (_, problems) = compile(Language::CSharp, &sources);
        let warnings = problems.iter().filter(|p| p.warning).count();
        let errors = problems.len() - warnings;
        say(format!("build: target {} of {} files", target.name, sources.len()));
        for p in &problems {
            let grade = if p.warning { "warning" } else { "error" };
            say(format!("{}({},{}): {grade} {}: {}", p.file, p.line, p.column, p.code, p.message));
        }
        failed += usize::from(errors > 0);
        let how = if errors > 0 { "is not built" } else { "is built" };
        say(format!("build: target {} {how}, errors: {errors}, warnings: {warnings}", target.name));
    }
    say(format!("build: {} of {} targets built", plan.targets.len() - failed, plan.targets.len()));
    Ok(i32::from(failed > 0))
}
