//! How long it takes to know the code and to name who did it: an index of 5,000 files (a million
//! lines), one save in it, and the suspects of each seeded fault inside a project of 500 files.
//! `cargo bench -p izba-app --bench code`.
#![expect(clippy::print_stdout, reason = "a benchmark tells its figures")]

use izba_core::Engine;
use izba_model::Family;
use izba_model::{Project, ProjectFile, Stream};
use izba_watch::guilty;
use std::path::Path;
use std::sync::Arc;
use std::time::Instant;

const ENDINGS: [&str; 5] = ["lua", "js", "py", "java", "cs"];

/// A script of about `lines` lines in the language of its ending, made from the seeds with other
/// names.
fn script(seeds: &[(String, String)], number: usize, lines: usize) -> (String, String) {
    let ending = ENDINGS[number % ENDINGS.len()];
    let parts: Vec<&(String, String)> =
        seeds.iter().filter(|(name, _)| name.ends_with(ending)).collect();
    let mut text = String::new();
    let mut at = number;
    while text.lines().count() < lines {
        let (_, part) = parts[at % parts.len()];
        // What may stand only at the beginning of a file is left out of the middle; what ends one
        // ends a block.
        let part: String = part
            .lines()
            .filter(|l| {
                !["using ", "import ", "from ", "package "].iter().any(|w| l.starts_with(w))
            })
            .map(|l| format!("{l}\n"))
            .collect();
        let part = match ending {
            "lua" => format!("do\n{part}end\n"),
            "js" => format!("{{\n{part}}}\n"),
            _ => part,
        };
        // Names of its own, so that the words of the project grow with its files.
        text.push_str(
            &part
                .replace("boat", &format!("boat{number}"))
                .replace("stamp", &format!("stamp{number}"))
                .replace("sailor", &format!("sailor{number}"))
                .replace("lock", &format!("lock{number}"))
                .replace("rope", &format!("rope{number}")),
        );
        at += 1;
    }
    (format!("part{}/file{number}.{ending}", number / 50), text)
}

fn percentile(values: &mut [f64], percent: usize) -> f64 {
    values.sort_by(f64::total_cmp);
    values
        .get((values.len() * percent / 100).min(values.len().saturating_sub(1)))
        .copied()
        .unwrap_or(f64::NAN)
}

fn memory() -> f64 {
    let text = std::fs::read_to_string("/proc/self/statm").unwrap_or_default();
    text.split_whitespace().nth(1).and_then(|n| n.parse::<f64>().ok()).unwrap_or(0.0) * 4096.0 / 1e6
}

fn main() {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../cases/faults");
    let mut seeds = Vec::new();
    for project in std::fs::read_dir(&folder)
        .expect("the seeds are there")
        .flatten()
        .filter(|p| p.path().is_dir())
    {
        for file in std::fs::read_dir(project.path()).expect("a folder").flatten() {
            seeds.push((
                file.file_name().to_string_lossy().into_owned(),
                std::fs::read_to_string(file.path()).expect("text"),
            ));
        }
    }
    seeds.sort();
    let only = std::env::args().skip(1).find(|a| !a.starts_with('-'));
    if only.as_deref() != Some("suspects") {
        index_and_save(&seeds);
    }
    suspects(&folder, &seeds);
}

fn index_and_save(seeds: &[(String, String)]) {
    let files: Vec<(Arc<str>, Arc<str>)> =
        (0..5_000).map(|n| script(seeds, n, 200)).map(|(p, t)| (p.into(), t.into())).collect();
    let lines: usize = files.iter().map(|(_, t)| t.lines().count()).sum();
    let bytes: usize = files.iter().map(|(_, t)| t.len()).sum();
    let before = memory();
    let begun = Instant::now();
    let index = izba_code::index(files.iter().map(|(p, t)| (p, Some(t))));
    let took = begun.elapsed().as_secs_f64();
    let broken = index.files().iter().filter(|f| f.broken).count();
    assert!(broken * 50 < files.len(), "{broken} of the generated files do not parse");
    let read = Instant::now();
    let seen: usize = files
        .iter()
        .map(|(_, t)| t.split(|c: char| !c.is_alphanumeric()).map(str::len).sum::<usize>())
        .sum();
    let words = read.elapsed().as_secs_f64();
    println!(
        "index of 5,000 files, {lines} lines, {:.1} MB: {took:.2} s, {:.0} MB more memory \
            ({:.0} MB by its own count); splitting the same text into words on one thread \
            {words:.2} s ({seen} letters)",
        bytes as f64 / 1e6,
        memory() - before,
        index.memory_usage() as f64 / 1e6
    );
    let mut saves: Vec<f64> = (0..200)
        .map(|n| {
            let (path, text) = &files[n * 7 % files.len()];
            let edited: Arc<str> = format!("{text}\n").into();
            let begun = Instant::now();
            let next = izba_code::updated(
                &index,
                files.iter().map(|(p, t)| (p, Some(if p == path { &edited } else { t }))),
            );
            assert_eq!(next.files().len(), index.files().len());
            begun.elapsed().as_secs_f64() * 1e3
        })
        .collect();
    println!(
        "one save in it: median {:.1} ms, 95th percentile {:.1} ms",
        percentile(&mut saves, 50),
        percentile(&mut saves, 95)
    );
}

fn suspects(folder: &Path, seeds: &[(String, String)]) {
    let around: Vec<(Arc<str>, Arc<str>)> =
        (0..490).map(|n| script(seeds, n, 200)).map(|(p, t)| (p.into(), t.into())).collect();
    let known = izba_code::index(around.iter().map(|(p, t)| (p, Some(t))));
    let cases = std::fs::read_to_string(folder.join("cases.jsonl")).expect("the cases are there");
    let (mut times, mut unread, mut others): (Vec<f64>, Vec<f64>, Vec<f64>) = Default::default();
    for case in cases.lines() {
        let case: serde_json::Value = serde_json::from_str(case).expect("JSON");
        let text = |key: &str| case[key].as_str().unwrap_or("").to_owned();
        let mut own: Vec<ProjectFile> = around
            .iter()
            .map(|(p, t)| ProjectFile { path: p.clone(), text: Some(t.clone()) })
            .collect();
        for entry in std::fs::read_dir(folder.join(text("project"))).expect("there").flatten() {
            let name = entry.file_name().to_string_lossy().into_owned();
            let mut body = std::fs::read_to_string(entry.path()).expect("text");
            if name == text("file") {
                let (at, take) = (
                    case["at"].as_u64().unwrap_or(1) as usize,
                    case["take"].as_u64().unwrap_or(0) as usize,
                );
                let mut lines: Vec<&str> = body.lines().collect();
                let put: Vec<&str> = case["put"]
                    .as_array()
                    .into_iter()
                    .flatten()
                    .filter_map(|p| p.as_str())
                    .collect();
                lines.splice(at - 1..at - 1 + take, put);
                body = lines.join("\n") + "\n";
            }
            own.push(ProjectFile { path: name.into(), text: Some(body.into()) });
        }
        let project = Arc::new(Project::new(format!("/seeds/{}", text("project")), own));
        let index =
            izba_code::updated(&known, project.files().iter().map(|f| (&f.path, f.text.as_ref())));
        let mut engine = Engine::new(project.clone());
        let source = engine.add_source("console");
        engine.start_run(source, None, project.clone());
        engine.feed(source, Stream::Out, None, 0, text("console").as_bytes());
        engine.finish();
        let Some(group) = engine.groups().first().cloned() else { continue };
        let begun = Instant::now();
        let found = guilty::find(&group.entry, &index, &guilty::Repairs::default());
        let took = begun.elapsed().as_secs_f64() * 1e3;
        std::hint::black_box(found);
        times.push(took);
        (if group.entry.family == Family::DoesNotParse { &mut unread } else { &mut others })
            .push(took);
    }
    println!(
        "suspects of {} errors in a project of 500 files: median {:.0} ms, 99th percentile \
            {:.0} ms",
        times.len(),
        percentile(&mut times, 50),
        percentile(&mut times, 99)
    );
    for (what, times) in [("scripts that do not parse", &mut unread), ("all others", &mut others)] {
        println!(
            "  {}, {what}: median {:.0} ms, 99th percentile {:.0} ms",
            times.len(),
            percentile(times, 50),
            percentile(times, 99)
        );
    }
}
