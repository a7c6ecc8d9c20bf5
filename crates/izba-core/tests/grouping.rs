//! Grouping, scored on the labelled entries of `labelled`: 14 programs in seven languages, each
//! run, edited so that its lines move, and run again. The labels are the ids of the mistakes that
//! were planted.

#![expect(clippy::disallowed_methods, reason = "samples are read from disk")]
#![expect(clippy::print_stdout, reason = "the figures are shown with --nocapture")]

mod labelled;

use izba_core::{Engine, LineRef, SourceId};
use izba_model::{Millis, Stream};
use labelled::{labels, log, programs, project};
use std::collections::{BTreeMap, BTreeSet};
use std::path::Path;

/// Programs that were not looked at before everything was built; the others were used to build
/// with.
const SET_ASIDE: &[&str] =
    &["lua-2", "python-1", "node-2", "java-1", "csharp-2", "ruby-1", "php-2"];

/// For each entry its label and the group it was put into.
fn read(program: &Path) -> Vec<(String, Option<u32>)> {
    let mut engine = Engine::new(project(&program.join("src-1")));
    let source = engine.add_source("ferry");
    let mut begins = BTreeMap::new();
    let mut offset = 0;
    for run in [1, 2] {
        engine.start_run(
            source,
            Some(Millis(i64::from(run) * 1_000_000)),
            project(&program.join(format!("src-{run}"))),
        );
        begins.insert(run, engine.rows());
        let bytes = log(program, run);
        engine.feed(source, Stream::Out, None, offset, &bytes);
        offset += bytes.len() as u64;
        engine.end_run(
            source,
            Some(Millis(i64::from(run) * 1_000_000 + 900_000)),
            "ended".into(),
            true,
        );
    }
    engine.finish();
    let rows = engine.groups();
    let found = |line: u64| {
        let (id, _) = engine.group_at(LineRef { source: SourceId(0), line }, Stream::Out)?;
        rows.iter().find(|r| r.holds(id)).map(|r| r.id.0)
    };
    labels(program).into_iter().map(|(run, line, id)| (id, found(begins[&run] + line))).collect()
}

/// Share of entries whose group is exactly the true set, and the F1 of pairs that are rightly in
/// one group.
fn score(entries: &[(String, Option<u32>)]) -> (f64, f64) {
    let mut truth: BTreeMap<&str, BTreeSet<usize>> = BTreeMap::new();
    let mut told: BTreeMap<(bool, u32), BTreeSet<usize>> = BTreeMap::new();
    for (at, (label, group)) in entries.iter().enumerate() {
        truth.entry(label).or_default().insert(at);
        // What was not found is in no group with anything.
        told.entry(group.map_or((false, at as u32), |g| (true, g))).or_default().insert(at);
    }
    let exact: usize =
        told.values().filter(|set| truth.values().any(|t| t == *set)).map(BTreeSet::len).sum();
    let pairs = |n: usize| n as f64 * (n as f64 - 1.0) / 2.0;
    let both: f64 = told
        .values()
        .map(|set| {
            let mut of: BTreeMap<&str, usize> = BTreeMap::new();
            for at in set {
                *of.entry(&entries[*at].0).or_default() += 1;
            }
            of.values().map(|n| pairs(*n)).sum::<f64>()
        })
        .sum();
    let (p, r) = (
        both / told.values().map(|s| pairs(s.len())).sum::<f64>().max(1.0),
        both / truth.values().map(|s| pairs(s.len())).sum::<f64>().max(1.0),
    );
    (exact as f64 / entries.len() as f64, 2.0 * p * r / (p + r))
}

#[test]
fn entries_are_put_into_the_groups_of_the_mistakes_that_made_them() {
    let programs = programs();
    let (mut seen, mut aside) = (Vec::new(), Vec::new());
    let mut mistakes = 0;
    for program in &programs {
        let name = program.file_name().expect("a name").to_string_lossy().into_owned();
        let entries = read(program);
        let (accuracy, f1) = score(&entries);
        mistakes += entries.iter().map(|(l, _)| l).collect::<BTreeSet<_>>().len();
        println!("{name:<10} {:>5} entries  accuracy {accuracy:.4}  pairs {f1:.4}", entries.len());
        if std::env::var_os("IZBA_SHOW_GROUPS").is_some_and(|v| *v == *name) {
            let mut table: BTreeMap<(&str, Option<u32>), usize> = BTreeMap::new();
            for (label, group) in &entries {
                *table.entry((label, *group)).or_default() += 1;
            }
            println!("{table:#?}");
        }
        let unique = |(label, group): (String, Option<u32>)| {
            (
                format!("{name} {label}"),
                group.map(|g| {
                    g + 10_000 * programs.iter().position(|p| p == program).unwrap_or(0) as u32
                }),
            )
        };
        if SET_ASIDE.contains(&name.as_str()) {
            aside.extend(entries.into_iter().map(unique))
        } else {
            seen.extend(entries.into_iter().map(unique))
        }
    }
    assert!(
        seen.len() + aside.len() >= 5_000 && mistakes >= 150,
        "{} entries, {mistakes} mistakes",
        seen.len() + aside.len()
    );
    for (which, entries) in [("built with", &seen), ("set aside", &aside)] {
        let (accuracy, f1) = score(entries);
        println!("{which}: {} entries, accuracy {accuracy:.4}, pairs {f1:.4}", entries.len());
        assert!(accuracy >= 0.98 && f1 >= 0.99, "{which}: accuracy {accuracy:.4}, pairs {f1:.4}");
    }
}

#[test]
fn messages_behind_the_first_of_a_script_that_cannot_be_read_stand_under_it() {
    let said = "moor/Pier.java:40: error: class, interface, enum, or record expected\n}\n^\n\
        moor/Pier.java:9: error: ';' expected\nint a\n     ^\n\
        moor/Rope.java:5: error: not a statement\nx;\n^\n";
    let mut engine = Engine::new(std::sync::Arc::new(izba_model::Project::new(
        "/srv/marsh",
        ["moor/Pier.java", "moor/Rope.java"]
            .map(|path| izba_model::ProjectFile { path: path.into(), text: Some("\n".into()) })
            .to_vec(),
    )));
    let source = engine.add_source("javac");
    engine.feed(source, Stream::Out, None, 0, said.as_bytes());
    engine.finish();
    let rows: Vec<_> = engine
        .groups()
        .iter()
        .map(|g| (g.entry.place.as_ref().and_then(|p| p.line), g.hangs, g.later_than.is_some()))
        .collect();
    let first = (Some(9), false, false);
    assert_eq!(rows, [first, (Some(40), true, true), (Some(5), false, false)]);
}
