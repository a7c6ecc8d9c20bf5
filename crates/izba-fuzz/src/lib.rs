//! Everything that takes bytes from outside, each as a function of bytes that may neither panic nor
//! go on without end. `fuzz/` hands them to a fuzzer; the test here tries each with a few hundred
//! inputs from a fixed seed. One more is a function and its line in [`TARGETS`].

use izba_core::{Engine, Phrase};
use izba_model::code::{Index, Language};
use izba_model::{Project, ProjectFile, Stream};
use std::sync::Arc;

/// A function of bytes from outside.
pub type Target = fn(&[u8]);

/// All of them, by their names.
pub const TARGETS: &[(&str, Target)] = &[
    ("console", console),
    ("layout", layout),
    ("data", data),
    ("script", script),
    ("phrase", phrase),
    ("adapter", adapter),
    ("otlp", otlp),
    ("syslog", syslog),
    ("maps", maps),
    ("segment", segment),
    ("settings", settings),
    ("report", report),
    ("note", note),
    ("redact", redact),
];

fn lossy(bytes: &[u8]) -> String {
    String::from_utf8_lossy(bytes).into_owned()
}

/// A console in chunks of any length, in two streams, with a project that it may name.
pub fn console(bytes: &[u8]) {
    let Some((&size, rest)) = bytes.split_first() else { return };
    let file = ProjectFile {
        path: "main.lua".into(),
        text: Some("local t = {}\nprint(t.name.x)\n".into()),
    };
    let project = Arc::new(Project::new("/ferry", vec![file]));
    let mut engine = Engine::new(project.clone());
    let source = engine.add_source("game");
    engine.start_run(source, None, project);
    let mut at = 0;
    for (number, chunk) in rest.chunks(usize::from(size) + 1).enumerate() {
        let stream = if number % 3 == 0 { Stream::Err } else { Stream::Out };
        engine.feed(source, stream, None, at, chunk);
        at += chunk.len() as u64;
    }
    engine.finish();
    let _ = izba_core::answer::jsonl(&engine, &izba_core::answer::Choice::default());
}

/// Lines whose columns are looked for, and a reader file.
pub fn layout(bytes: &[u8]) {
    let text = lossy(bytes);
    let lines: Vec<&str> = text.lines().collect();
    for layout in izba_console::read::layout::infer(&lines) {
        for line in &lines {
            let _ = layout.parts(line);
        }
    }
    for taught in izba_watch::readers::parse(&text).unwrap_or_default() {
        for line in &lines {
            let _ = taught.parts(line);
        }
    }
}

fn index(name: &str, text: &str) -> Index {
    let (name, text): (Arc<str>, Arc<str>) = (name.into(), text.into());
    izba_code::index([(&name, Some(&text))])
}

/// A file of data, checked.
pub fn data(bytes: &[u8]) {
    const ENDINGS: &[&str] = &["json", "toml", "yaml", "yml", "csv", "xml", "html", "ini", "env"];
    let Some((&kind, rest)) = bytes.split_first() else { return };
    let ending = ENDINGS[usize::from(kind) % ENDINGS.len()];
    let index = index(&format!("items.{ending}"), &lossy(rest));
    let _ = izba_cause::checks::all(&index);
}

/// A script, read, mended and checked.
pub fn script(bytes: &[u8]) {
    let Some((&kind, rest)) = bytes.split_first() else { return };
    let code: Vec<Language> = Language::all().into_iter().filter(|l| l.is_code()).collect();
    let language = code[usize::from(kind) % code.len()];
    let Some(ending) = language.endings.first() else { return };
    let text = lossy(rest);
    let _ = izba_code::mend::faults(language, &text, None, &izba_code::mend::by_grammar);
    let _ = izba_cause::checks::all(&index(&format!("main.{ending}"), &text));
}

/// A filter, as it is typed.
pub fn phrase(bytes: &[u8]) {
    if let Err(problem) = Phrase::parse(&lossy(bytes)) {
        let _ = problem.to_string();
    }
}

/// What a debug adapter sends, in pieces.
pub fn adapter(bytes: &[u8]) {
    let Some((&size, rest)) = bytes.split_first() else { return };
    let mut reader = izba_dap::wire::Decoder::default();
    for chunk in rest.chunks(usize::from(size) + 1) {
        reader.feed(chunk);
        while reader.piece().is_some() {}
    }
}

/// An export of OpenTelemetry (logs, traces, metrics) in protobuf, and as JSON.
pub fn otlp(bytes: &[u8]) {
    let _ = izba_sources::lines_of_export(bytes);
}

/// What a sender of syslog sends.
pub fn syslog(bytes: &[u8]) {
    let mut rest = bytes;
    // What is used up is never nothing and never more than there is.
    loop {
        let used = izba_sources::whole_messages(rest, |_| {});
        assert!(used <= rest.len(), "more was used than there is");
        if used == 0 {
            return;
        }
        rest = &rest[used..];
    }
}

/// A source map.
pub fn maps(bytes: &[u8]) {
    let project = Project::new("/ferry", Vec::new());
    let project = project.with_bundles(vec![("dist/app.js".into(), lossy(bytes).into())]);
    for line in [1, 2, 1_000_000] {
        let _ = project.written("dist/app.js", line, line * 7);
    }
}

/// A segment of the spool, plain or sealed.
pub fn segment(bytes: &[u8]) {
    let Ok(folder) = tempfile::tempdir_in(if std::path::Path::new("/dev/shm").is_dir() {
        "/dev/shm".into()
    } else {
        std::env::temp_dir()
    }) else {
        return;
    };
    let path = folder.path().join("a.seg");
    if std::fs::write(&path, bytes).is_err() {
        return;
    }
    if let Ok(mut reader) = izba_sources::SpoolReader::open(&path) {
        let mut before = reader.at();
        while let Ok(Some(_)) = reader.next_record() {
            assert!(reader.at() > before, "it goes on");
            before = reader.at();
        }
    }
    let _ = izba_sources::seal(&path);
}

/// Settings of a project, and what somebody types as a source.
pub fn settings(bytes: &[u8]) {
    let (text, nowhere) = (lossy(bytes), std::path::Path::new("/nowhere"));
    for wanted in izba_watch::wanted::parse_settings(&text, nowhere).unwrap_or_default() {
        let _ = wanted.acts(nowhere);
    }
    if let Ok(wanted) = izba_watch::kinds::Wanted::parse(&text, nowhere) {
        let _ = wanted.acts(nowhere);
    }
}

/// A report of tests in XML.
pub fn report(bytes: &[u8]) {
    let text = lossy(bytes);
    let project = Project::new("/ferry", Vec::new());
    let _ = izba_console::report::is_test_report(&text);
    let _ = izba_console::report::failed_tests(&text, &project);
}

/// A note.
pub fn note(bytes: &[u8]) {
    if let Ok(note) = izba_core::notes::Note::parse(&lossy(bytes)) {
        let again = izba_core::notes::Note::parse(&note.write());
        assert!(again.is_ok(), "what is written can be read");
    }
}

/// A text out of which is taken what is nobody's business.
pub fn redact(bytes: &[u8]) {
    let owner = izba_core::help::Owner {
        home: Some("/home/ferryman".into()),
        user: Some("ferryman".into()),
        machine: Some("heron-7".into()),
    };
    let redacted = izba_core::help::redact(&lossy(bytes), &owner);
    assert!(!redacted.text.contains("/home/ferryman"), "the home folder is taken out");
    assert!(!redacted.text.contains('\u{1b}'), "nothing a terminal obeys is left");
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::path::Path;

    /// Numbers from a fixed seed (xorshift, Marsaglia 2003).
    struct Chance(u64);

    impl Chance {
        fn below(&mut self, most: usize) -> usize {
            self.0 ^= self.0 << 13;
            self.0 ^= self.0 >> 7;
            self.0 ^= self.0 << 17;
            (self.0 % most.max(1) as u64) as usize
        }
    }

    /// What the targets are begun with: samples of what each takes.
    fn seeds(name: &str) -> Vec<Vec<u8>> {
        let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../fuzz/seeds").join(name);
        let mut files: Vec<_> = std::fs::read_dir(folder)
            .into_iter()
            .flatten()
            .flatten()
            .map(|entry| entry.path())
            .collect();
        files.sort();
        files.iter().filter_map(|path| std::fs::read(path).ok()).collect()
    }

    /// One of the seeds with some of it changed, doubled, cut or mixed with another.
    fn mutated(seeds: &[Vec<u8>], chance: &mut Chance) -> Vec<u8> {
        const SIGNS: &[u8] =
            b"{}[]()<>\"'\\/:;,.=#|-_%$@&*!?`~^+ \n\t\r\x00\x1b\x7f\x80\xc3\xff09azAZ";
        let mut bytes = seeds[chance.below(seeds.len())].clone();
        for _ in 0..=chance.below(6) {
            let at = chance.below(bytes.len() + 1);
            let to = (at + chance.below(40)).min(bytes.len());
            match chance.below(6) {
                0 => drop(bytes.drain(at..to)),
                1 => bytes.insert(at, SIGNS[chance.below(SIGNS.len())]),
                2 if at < bytes.len() => bytes[at] = chance.below(256) as u8,
                3 => {
                    let part = bytes[at..to].repeat(1 + chance.below(60));
                    bytes.splice(at..at, part);
                }
                4 => {
                    let other = &seeds[chance.below(seeds.len())];
                    let from = chance.below(other.len() + 1);
                    bytes.splice(at..at, other[from..].iter().copied().take(200));
                }
                _ => bytes.truncate(at),
            }
        }
        bytes.truncate(20_000);
        bytes
    }

    /// Of each target: a minute and a half for all of them.
    const INPUTS: usize = 1_000;

    #[test]
    fn whatever_comes_is_answered() {
        for (name, target) in TARGETS {
            let seeds = seeds(name);
            assert!(!seeds.is_empty(), "{name} has seeds");
            seeds.iter().for_each(|seed| target(seed));
            let mut chance = Chance(0x1db7_a5eed);
            for _ in 0..INPUTS {
                let input = mutated(&seeds, &mut chance);
                let shown = input.clone();
                let went = std::panic::catch_unwind(|| target(&input));
                assert!(went.is_ok(), "{name} fails on {:?}", String::from_utf8_lossy(&shown));
            }
        }
    }
}
