//! The faults of the demo as cases: one project with all of them at once, as large as a newcomer's,
//! and what its sources say. So an error is learned among much that is odd and has nothing to do
//! with it.

use crate::cases::{Case, Culprit, case};
use izba_core::{Engine, GroupView};
use izba_model::Stream;
use izba_standins::world::{Fault, faults};
use rayon::prelude::*;
use std::path::Path;
use std::process::{Command, Output, Stdio};
use std::sync::Arc;

/// A source with what starts it by hand.
const SOURCES: [(&str, &[&str]); 4] = [
    (
        "engine",
        &["engine", "--hurried", "--seconds", "85", "--rate", "10", "--play", "play/evening.json"],
    ),
    ("addon", &["addon", "--hurried", "--seconds", "4"]),
    ("build", &["build"]),
    ("page", &["page", "--hurried", "--seconds", "5"]),
];

/// The faults that these sources tell, as the program `izba` lays them out below `home`.
///
/// # Errors
/// A sentence where `izba` can't be started, or a source says nothing.
pub fn read(izba: &Path, home: &Path) -> Result<Vec<Case>, String> {
    started(izba, &["demo", "--reset", "--dir", "ferry"], home)?;
    let folder = home.join("ferry");
    let project = Arc::new(izba_files::scan(&folder));
    let mut all = Vec::new();
    for (name, words) in SOURCES {
        let out = started(izba, &[&["stand-in"], words].concat(), &folder)?;
        let mut engine = Engine::new(project.clone());
        let source = engine.add_source(name);
        engine.start_run(source, None, project.clone());
        engine.feed(source, Stream::Out, None, 0, &out.stdout);
        engine.feed(source, Stream::Err, None, 0, &out.stderr);
        engine.finish();
        let groups = engine.groups();
        if groups.is_empty() {
            return Err(format!("{name} says nothing"));
        }
        let told: Vec<&Fault> = faults().iter().filter(|f| f.source == name && !f.silent).collect();
        let of = |fault: &&Fault| {
            let group = groups.iter().find(|g| tells(g, fault, &folder))?;
            let line = u32::try_from(fault.guilty.line(&folder)?).ok()?;
            let culprit = Culprit { file: fault.guilty.file.clone(), from: line, to: line };
            Some(case("night-ferry", &fault.id, &project, &group.entry, &[culprit]))
        };
        all.extend(told.par_iter().filter_map(of).collect::<Vec<Case>>());
    }
    Ok(all)
}

/// Whether a group is what the console says of a fault: by its place.
fn tells(group: &GroupView, fault: &Fault, folder: &Path) -> bool {
    let Some((told, place)) = fault.told.as_ref().zip(group.entry.place.as_ref()) else {
        return false;
    };
    let line = told.line(folder).and_then(|l| u32::try_from(l).ok());
    *place.file == *told.file && line.is_some() && place.line == line
}

fn started(izba: &Path, words: &[&str], folder: &Path) -> Result<Output, String> {
    let out = Command::new(izba)
        .args(words)
        .current_dir(folder)
        .stdin(Stdio::null())
        .output()
        .map_err(|e| format!("{}: {e}", izba.display()))?;
    Ok(out)
}
