//! What Izba makes of real output: every folder below `cases/consoles/` is a test.
#![expect(clippy::disallowed_methods, reason = "a test reads its samples")]

use izba_core::{Engine, answer};
use izba_model::{Millis, Project, ProjectFile, Stream};
use proptest::prelude::*;
use std::fmt::Write;
use std::path::Path;
use std::sync::Arc;

/// The project as it was where the sample ran.
fn project(folder: &Path) -> Arc<Project> {
    let files =
        std::fs::read_dir(folder).expect("the sample's folder").flatten().filter_map(|entry| {
            let name = entry.file_name().into_string().ok()?;
            let text = std::fs::read_to_string(entry.path()).ok()?;
            (!["console.txt", "command", "truth"].contains(&name.as_str()))
                .then(|| ProjectFile { path: name.into(), text: Some(text.into()) })
        });
    Arc::new(Project::new("/tmp/night-ferry", files.collect()))
}

fn read(project: &Arc<Project>, chunks: &[&[u8]], mut between: impl FnMut(&mut Engine)) -> Engine {
    let mut engine = Engine::new(project.clone());
    let source = engine.add_source("sample");
    engine.start_run(source, None, project.clone());
    let mut offset = 0;
    for chunk in chunks {
        engine.feed(source, Stream::Out, None, offset, chunk);
        offset += chunk.len() as u64;
        between(&mut engine);
    }
    engine.finish();
    engine
}

#[test]
fn every_sample_is_read_as_a_person_would() {
    insta::glob!("../../../cases/consoles", "*/*/console.txt", |path| {
        let folder = path.parent().expect("a sample lies in a folder");
        let project = project(folder);
        let engine = read(&project, &[&std::fs::read(path).expect("the sample")], |_| ());
        let mut seen = String::new();
        for group in engine.groups() {
            let (entry, said) = (&group.entry, &group.explanation);
            let report = &entry.report;
            let place = entry.place.as_ref().map_or("no own place".to_owned(), |p| {
                format!(
                    "{}:{}:{}",
                    p.file,
                    p.line.unwrap_or(0),
                    p.column.map_or("-".to_owned(), |c| c.number.to_string())
                )
            });
            let function = entry.function.as_deref().unwrap_or("-");
            let _ = writeln!(
                seen,
                "{} {} at {place} in {function}, {}×, {} frames",
                report.level.word(),
                entry.family.id(),
                group.count,
                report.frames.len()
            );
            let _ = writeln!(
                seen,
                "  says     {}: {}",
                report.kind.as_deref().unwrap_or("-"),
                report.message
            );
            for cause in &report.causes {
                let _ = writeln!(
                    seen,
                    "  because  {}: {}",
                    cause.kind.as_deref().unwrap_or("-"),
                    cause.message
                );
            }
            let _ = writeln!(seen, "  fix      {}", said.headline);
            if let (Some(line), Some((start, end))) = (&entry.line_text, said.token) {
                let _ = writeln!(
                    seen,
                    "  | {line}\n  | {}{} {}",
                    " ".repeat(line[..start].chars().count()),
                    "^".repeat(end - start),
                    said.note
                );
            }
            for paragraph in said.paragraphs() {
                let _ = writeln!(seen, "  > {paragraph}");
            }
        }
        insta::assert_snapshot!(seen);
    });
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(64))]
    /// Any cutting into chunks and any ticks between them give the same JSON as reading the whole.
    #[test]
    fn chunks_and_ticks_make_no_difference(cuts in proptest::collection::vec(0usize..4000, 0..12), ticks in any::<u64>(), which in 0usize..1000) {
        let samples: Vec<_> = walk(Path::new(concat!(env!("CARGO_MANIFEST_DIR"), "/../../cases/consoles")));
        let folder = &samples[which % samples.len()];
        let project = project(folder);
        let bytes = std::fs::read(folder.join("console.txt")).expect("the sample");
        let whole = answer::jsonl(&read(&project, &[&bytes], |_| ()), &answer::Choice::default());
        let mut cuts: Vec<usize> = cuts.into_iter().map(|c| c % (bytes.len() + 1)).chain([0, bytes.len()]).collect();
        cuts.sort_unstable();
        let chunks: Vec<&[u8]> = cuts.windows(2).map(|pair| &bytes[pair[0]..pair[1]]).collect();
        let mut now = 1_700_000_000_000;
        let cut = read(&project, &chunks, |engine| {
            now += 1 + (ticks % 1_000) as i64;
            engine.tick(Millis(now));
            // A screen that looks on changes nothing either.
            let _ = engine.snapshot();
        });
        prop_assert_eq!(whole, answer::jsonl(&cut, &answer::Choice::default()));
    }

    /// Whatever bytes come, reading ends without a panic and says the same twice.
    #[test]
    fn any_bytes_are_read(parts in proptest::collection::vec(prop_oneof![
        proptest::collection::vec(any::<u8>(), 0..40),
        "(Traceback \\(most recent call last\\):|  File \"a.lua\", line 3|\tat \
            a.B.c\\(B.java:4\\)|Caused by: x.Y: z|lua: a.lua:1: no|stack \
            traceback:|a.js:3|    \\^|\\[ERROR\\] x| ---> a.B: c)".prop_map(String::into_bytes),
    ], 0..30)) {
        let project = Arc::new(Project::new("/p", vec![ProjectFile { path: "a.lua".into(), text: Some("x = 1\ny = x.z\n".into()) }]));
        let bytes = parts.join(&b'\n');
        let once = answer::jsonl(&read(&project, &[&bytes], |_| ()), &answer::Choice::default());
        prop_assert_eq!(once, answer::jsonl(&read(&project, &[&bytes], |_| ()), &answer::Choice::default()));
    }
}

fn walk(samples: &Path) -> Vec<std::path::PathBuf> {
    let folders = |of: &Path| -> Vec<_> {
        std::fs::read_dir(of)
            .expect("samples")
            .flatten()
            .map(|e| e.path())
            .filter(|p| p.is_dir())
            .collect()
    };
    let mut all: Vec<_> = folders(samples).iter().flat_map(|language| folders(language)).collect();
    all.sort();
    all
}

#[test]
fn the_page_of_families_is_true() {
    let page =
        std::fs::read_to_string(concat!(env!("CARGO_MANIFEST_DIR"), "/../../docs/FAMILIES.md"))
            .expect("the page");
    let listed: Vec<&str> = page.lines().filter(|l| l.starts_with("- `")).collect();
    let known: Vec<String> =
        izba_model::Family::ALL.iter().map(|f| format!("- `{f}`: {}", f.docs())).collect();
    assert_eq!(listed, known);
}

/// Where a truth lies beside the output, written by hand: a line for each event with level (`?`
/// when it may be left out), kind, own place, steps, count and how its sentence begins. Every event
/// is found, nothing else is.
#[test]
fn what_is_found_is_what_is_true() {
    let mut wrong = String::new();
    let mut events = 0;
    for folder in walk(Path::new(concat!(env!("CARGO_MANIFEST_DIR"), "/../../cases/consoles"))) {
        let Ok(truth) = std::fs::read_to_string(folder.join("truth")) else { continue };
        let project = project(&folder);
        let engine = read(
            &project,
            &[&std::fs::read(folder.join("console.txt")).expect("the sample")],
            |_| (),
        );
        let mut found: Vec<String> = engine
            .groups()
            .iter()
            .map(|g| {
                let (report, place) = (&g.entry.report, g.entry.place.as_ref());
                let place =
                    place.map_or("-".to_owned(), |p| format!("{}:{}", p.file, p.line.unwrap_or(0)));
                let kind = report.kind.as_deref().unwrap_or("-");
                format!(
                    "{} {kind} {place} {} {} {}",
                    report.level.word(),
                    report.frames.len(),
                    g.count,
                    report.message
                )
            })
            .collect();
        for line in truth.lines() {
            events += 1;
            let optional = line.contains("? ");
            let wanted = line.replacen("? ", " ", 1);
            match found.iter().position(|f| f.starts_with(&wanted)) {
                Some(at) => drop(found.remove(at)),
                None if optional => {}
                None => writeln!(wrong, "{}: missing {line}", folder.display()).expect("text"),
            }
        }
        for other in found {
            writeln!(wrong, "{}: false {other}", folder.display()).expect("text");
        }
    }
    assert!(wrong.is_empty() && events > 40, "{events} events\n{wrong}");
}

/// What the public contract says of every line that `--as jsonl` prints, whatever was read.
#[test]
fn no_field_of_the_answer_lies() {
    for folder in walk(Path::new(concat!(env!("CARGO_MANIFEST_DIR"), "/../../cases/consoles"))) {
        let project = project(&folder);
        let log = std::fs::read(folder.join("console.txt")).expect("the sample");
        let lines = answer::jsonl(&read(&project, &[&log], |_| ()), &answer::Choice::default());
        // Records write quotation marks inside texts with a backslash.
        let text = String::from_utf8_lossy(&log).replace("\\\"", "\"");
        for (at, line) in lines.lines().enumerate() {
            let group: serde_json::Value = serde_json::from_str(line).expect("JSON");
            let name = folder.display();
            assert_eq!(
                (group["v"].as_u64(), group["rank"].as_u64()),
                (Some(1), Some(at as u64 + 1)),
                "{name}"
            );
            let message = group["message"].as_str().expect("a message");
            assert!(text.contains(message), "{name}: the console never said {message}");
            let family = group["family"].as_str().expect("a family");
            assert!(izba_model::Family::of_id(family).is_some(), "{name}: {family}");
            if let (Some(file), Some(line)) = (group["file"].as_str(), group["line"].as_u64()) {
                assert!(project.file(file).is_some(), "{name}: {file} is not own");
                assert!(text.contains(&line.to_string()), "{name}: line {line} was never printed");
            }
            for frame in group["frames"].as_array().expect("frames") {
                let own = frame["own"].as_bool().expect("own or not");
                assert_eq!(
                    own,
                    frame["file"].as_str().is_some_and(|f| project.file(f).is_some()),
                    "{name}: {frame}"
                );
            }
            for cause in group["causes"].as_array().expect("causes") {
                assert!(
                    text.contains(cause["message"].as_str().expect("a message")),
                    "{name}: {cause}"
                );
            }
            for nothing in ["state", "follows"] {
                assert!(group[nothing].is_null(), "{name}: {nothing} has no meaning yet");
            }
            // A moment that is told is one that the log prints.
            for moment in
                ["first", "last"].map(|m| &group[m]).into_iter().filter_map(|m| m.as_str())
            {
                let clock = text
                    .split(|c: char| !c.is_ascii_digit())
                    .any(|n| n == &moment[14..16] || n.len() >= 10);
                assert!(clock, "{name}: {moment}");
            }
        }
    }
}
