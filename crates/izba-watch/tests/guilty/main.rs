//! Who did it, by each thing that can be seen: a small program with one mistake, what its console
//! said, the place that has to be told, and the edit after which the same is no longer seen.

mod advice;
mod checks;
mod dress;
mod edited;
mod fetched;
mod healthy;
mod idioms;
mod inputs;
mod keeps;
mod limits;
mod made;
mod never;
mod pages;
mod rows;
mod search;
mod seeded;
mod sentences;
mod shape;
mod siblings;
mod silence;
mod slips;
mod told;
mod uncalled;
mod verdicts;
mod web;

use izba_cause::suspect::Findings;
use izba_core::Engine;
use izba_model::claim::Suspect;
use izba_model::{Project, ProjectFile, Stream};
use izba_watch::guilty;
use std::sync::Arc;

/// One mistake.
pub struct Case {
    /// What is seen: `check.kind`.
    pub kind: &'static str,
    /// The files, each behind a line `@@ path`.
    pub files: &'static str,
    /// What the console said.
    pub console: &'static str,
    /// Where it has to be told: `path:line`.
    pub at: &'static str,
    /// What is written for what, so that it is no mistake any more.
    pub edit: (&'static str, &'static str),
}

/// The files of a program.
pub fn files(text: &str) -> Vec<(String, String)> {
    let parts = text.split("@@ ").skip(1);
    parts
        .filter_map(|part| part.split_once('\n'))
        .map(|(path, text)| (path.to_owned(), text.to_owned()))
        .collect()
}

/// What is found for the first error of a console.
pub fn found(files: &[(String, String)], console: &str) -> Option<Findings> {
    let own = files
        .iter()
        .map(|(path, text)| ProjectFile {
            path: path.as_str().into(),
            text: Some(text.clone().into()),
        })
        .collect();
    let project = Arc::new(Project::new("/srv/marsh", own));
    let index = izba_code::all_repaired(
        &izba_code::index(project.files().iter().map(|f| (&f.path, f.text.as_ref()))),
        &izba_code::mend::by_grammar,
    );
    let mut engine = Engine::new(project.clone());
    let source = engine.add_source("console");
    engine.start_run(source, None, project);
    engine.feed(source, Stream::Out, None, 0, console.as_bytes());
    engine.finish();
    let groups = engine.groups();
    Some(guilty::find(&groups.first()?.entry, &index, &guilty::Repairs::default()))
}

fn of_kind<'a>(found: &'a Findings, kind: &str) -> Option<&'a Suspect> {
    // What two checks say of one line is said by the one that was right more often.
    let said = |s: &&Suspect| kind.split('|').any(|k| format!("{:?}", s.claim.says.kind) == k);
    found.suspects.iter().find(said)
}

/// Holds every case against what it says.
pub fn hold(cases: &[Case]) {
    let mut wrong = Vec::new();
    for case in cases {
        let before = files(case.files);
        let Some(seen) = found(&before, case.console) else {
            wrong.push(format!("{}: no error was read", case.kind));
            continue;
        };
        let told = of_kind(&seen, case.kind);
        let covers = |s: &Suspect| {
            let (path, line) = case.at.rsplit_once(':').expect("a place");
            let line: u32 = line.parse().expect("a line");
            s.file.as_ref() == path && (s.line..=s.to_line.max(s.line)).contains(&line)
        };
        if !told.is_some_and(covers) {
            let all: Vec<String> = seen
                .suspects
                .iter()
                .take(4)
                .map(|s| {
                    format!("{}:{} {:?} {:.2}", s.file, s.line, s.claim.says.kind, s.confidence)
                })
                .collect();
            wrong.push(format!("{} not at {}: {all:#?}", case.kind, case.at));
        }
        // In another dress it is the same place.
        let first = |f: &Findings| {
            f.suspects.first().map(|s| (s.file.clone(), s.line, format!("{:?}", s.claim.says.kind)))
        };
        for (what, dress) in dress::ALL {
            let Some((files, console)) = dress(&(before.clone(), case.console.to_owned())) else {
                continue;
            };
            let told = found(&files, &console).as_ref().and_then(first);
            if told != first(&seen) {
                wrong.push(format!("{} with {what}: {told:?}, was {:?}", case.kind, first(&seen)));
            }
        }
        // Where the edit is known to the sign, it is one after which the same is no longer seen.
        if let Some(fix) = told.and_then(|s| s.fix.as_ref()) {
            let text = before.iter().find(|(path, _)| *path == *fix.file).map(|(_, text)| text);
            let text = text.expect("the edit is one of a file that is there");
            let made = fix.apply(text).expect("it fits the text that was looked at");
            let mut after = before.clone();
            after
                .iter_mut()
                .filter(|(path, _)| *path == *fix.file)
                .for_each(|f| f.1 = made.clone());
            let still = found(&after, case.console);
            if still.as_ref().is_some_and(|f| of_kind(f, case.kind).is_some()) {
                wrong.push(format!("{} is seen though: {}", case.kind, fix.says(text)));
            }
        }
        let mut after = before.clone();
        let mut edited = 0;
        for (_, text) in &mut after {
            edited += text.matches(case.edit.0).count();
            *text = text.replace(case.edit.0, case.edit.1);
        }
        let still = found(&after, case.console);
        if edited != 1 || still.as_ref().is_some_and(|f| of_kind(f, case.kind).is_some()) {
            wrong.push(format!("{} is seen though {:?} ({edited})", case.kind, case.edit));
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}
