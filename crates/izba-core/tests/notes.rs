//! Notes, scored on the labelled entries: a note is written about each mistake of the first run; in
//! the second the program was edited, lies in another project at another path, and prints other
//! numbers. The right note has to be offered, and none for a mere relative.

#![expect(clippy::disallowed_methods, reason = "samples are read from disk")]
#![expect(clippy::print_stdout, reason = "what was missed is shown with --nocapture")]

mod labelled;

use izba_core::notes::{Note, offered};
use izba_core::{Engine, GroupView, LineRef};
use izba_model::{Millis, Project, ProjectFile, Stream};
use labelled::{labels, log, programs, project};
use std::collections::BTreeMap;
use std::path::Path;
use std::sync::Arc;

/// The mistakes of one run with the rows that tell them.
fn read(
    program: &Path,
    run: u32,
    project: &Arc<Project>,
    log: &[u8],
) -> BTreeMap<String, Arc<GroupView>> {
    let mut engine = Engine::new(project.clone());
    let source = engine.add_source("ferry");
    engine.start_run(source, Some(Millis(1_000_000)), project.clone());
    engine.feed(source, Stream::Out, None, 0, log);
    engine.finish();
    let groups = engine.groups();
    let of = |line: u64| {
        let (id, _) = engine.group_at(LineRef { source, line }, Stream::Out)?;
        groups.iter().find(|g| g.holds(id)).cloned()
    };
    labels(program)
        .into_iter()
        .filter(|(r, ..)| *r == run)
        .filter_map(|(_, line, label)| Some((label, of(line)?)))
        .collect()
}

/// The same files and log under another root and a folder of their own, with the printed paths
/// moved along.
fn moved(name: &str, project: &Project, log: &[u8]) -> (Arc<Project>, Vec<u8>) {
    let file = |f: &ProjectFile| ProjectFile {
        path: format!("boats/{}", f.path).into(),
        text: f.text.clone(),
    };
    let files = project.files().iter().map(file).collect();
    // Where the programs lay when their logs were made.
    let text = String::from_utf8_lossy(log)
        .replace(&format!("/work/main/samples/groups/{name}/src-2/"), "/srv/games/harbour/boats/");
    (Arc::new(Project::new("/srv/games/harbour", files)), text.into_bytes())
}

#[test]
fn the_right_note_is_offered_in_another_project_and_none_for_a_relative() {
    let programs = programs();
    let mut notes: Vec<(String, Note)> = Vec::new();
    for program in &programs {
        let name = program.file_name().expect("a name").to_string_lossy().into_owned();
        let files = project(&program.join("src-1"));
        for (label, group) in read(program, 1, &files, &log(program, 1)) {
            notes.push((
                format!("{name} {label}"),
                Note::about(&group, &files, Millis(0), None, None, None),
            ));
        }
    }
    let all: Vec<Note> = notes
        .iter()
        .map(|(_, n)| Note::parse(&n.write()).expect("a note can be read again"))
        .collect();
    let (mut met, mut right, mut wrong_too, mut only_wrong, mut relatives) = (0, 0, 0, 0, 0);
    let mut missed = Vec::new();
    for program in &programs {
        let name = program.file_name().expect("a name").to_string_lossy().into_owned();
        let (files, told) = moved(&name, &project(&program.join("src-2")), &log(program, 2));
        for (label, group) in read(program, 2, &files, &told) {
            let label = format!("{name} {label}");
            met += 1;
            let offers: Vec<&str> =
                offered(&all, &group).iter().map(|a| notes[a.note].0.as_str()).collect();
            // The two programs of a language have some mistakes in common, line by line: that is
            // the same one met in another project.
            let same = |other: &str| {
                other == label
                    || other.split_once('-').map(|o| (o.0, &o.1[1..]))
                        == label.split_once('-').map(|o| (o.0, &o.1[1..]))
            };
            relatives += notes
                .iter()
                .filter(|(l, n)| !same(l) && n.head.family == group.entry.family.id())
                .count();
            match (
                offers.first().is_some_and(|l| same(l)),
                offers.iter().filter(|l| !same(l)).count(),
            ) {
                (true, others) => (right, wrong_too) = (right + 1, wrong_too + others),
                (false, 0) => {
                    let own =
                        &notes.iter().find(|(l, _)| *l == label).expect("each was met").1.head;
                    missed.push(format!(
                        "{label}\n  {:?}\n  {:?}",
                        own,
                        Note::about(&group, &files, Millis(0), None, None, None).head
                    ));
                }
                (false, others) => {
                    (only_wrong, wrong_too) = (only_wrong + 1, wrong_too + others);
                    missed.push(format!("wrong for {label}: {offers:?}"));
                }
            }
        }
    }
    println!("{}", missed.join("\n"));
    insta::assert_snapshot!(
        format!(
            "{} notes; {met} mistakes met again: the right note first for {right}, none for {}, a wrong one first for {only_wrong}\n\
             {relatives} pairs of a mistake and a note of the same family about another one: {} offered",
            notes.len(),
            missed.len() - only_wrong,
            wrong_too
        ),
        @r"
    222 notes; 222 mistakes met again: the right note first for 216, none for 2, a wrong one first for 4
    11548 pairs of a mistake and a note of the same family about another one: 16 offered
    "
    );
}

#[test]
fn what_was_proved_stands_beside_the_edit_that_helped() {
    let files = Arc::new(Project::new("/ferry", Vec::new()));
    let mut engine = Engine::new(files.clone());
    let source = engine.add_source("ferry");
    engine.start_run(source, None, files.clone());
    engine.feed(source, Stream::Err, None, 0, b"Error: the rope is cut\n");
    engine.finish();
    let group = engine.groups().first().cloned().expect("an error");
    let fixed = |diff, proved| {
        let note = Note::about(&group, &files, Millis(0), diff, proved, None);
        note.part("What fixed it").trim().to_owned()
    };
    assert_eq!(fixed(None, None), "");
    assert_eq!(fixed(None, Some("a.lua: put `,`")), "Proved in a trial: a.lua: put `,`.");
    let both = fixed(Some("-a\n+b"), Some("a.lua: put `,`"));
    assert_eq!(both, "```diff\n-a\n+b\n```\n\nProved in a trial: a.lua: put `,`.");
}
