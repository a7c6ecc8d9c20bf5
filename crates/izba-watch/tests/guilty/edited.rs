//! What was changed between a run without an error and the first run with it.

use super::files;
use izba_cause::suspect::{Edits, Findings, weigh_edits};
use izba_core::Engine;
use izba_model::code::Index;
use izba_model::{Project, ProjectFile, Stream};
use izba_watch::guilty;
use std::sync::Arc;

fn index(text: &str) -> (Arc<Project>, Index) {
    let own = files(text)
        .into_iter()
        .map(|(path, text)| ProjectFile { path: path.into(), text: Some(text.into()) })
        .collect();
    let project = Arc::new(Project::new("/srv/marsh", own));
    let index = izba_code::index(project.files().iter().map(|f| (&f.path, f.text.as_ref())));
    (project, index)
}

/// What is found for the error of a console after an edit, and for the same without knowing of it.
fn after_edit(before: &str, edit: (&str, &str), console: &str) -> (Findings, Findings) {
    assert_eq!(before.matches(edit.0).count(), 1, "{edit:?}");
    let (_, old) = index(before);
    let (project, new) = index(&before.replace(edit.0, edit.1));
    let mut engine = Engine::new(project.clone());
    let source = engine.add_source("console");
    engine.start_run(source, None, project);
    engine.feed(source, Stream::Out, None, 0, console.as_bytes());
    engine.finish();
    let entry = engine.groups()[0].entry.clone();
    let without = guilty::find(&entry, &new, &guilty::Repairs::default());
    let mut with = without.clone();
    weigh_edits(&mut with, &Edits::between(&old, &new), &entry);
    (with, without)
}

const TIDES: &str = "@@ tides.json\n{\"low\": \"0.4\", \"high\": \"3.1\"}\n@@ tide.py\nimport \
    json\n\n\ndef load(path):\n    return json.load(open(path))\n\n\ndef span(tides):\n    return \
    float(tides['high']) - float(tides['low'])\n\n\nprint(span(load('tides.json')))\n";

#[test]
fn a_single_edit_is_a_suspect_and_lifts_what_was_one() {
    let said = "Traceback (most recent call last):\n  File \"tide.py\", line 12, in <module>\n    \
        print(span(load('tides.json')))\n          ~~~~^^^^^^^^^^^^^^^^^^^^\n  File \"tide.py\", line 9, in \
        span\n    return float(tides['high']) - float(tides['low'])\n           \
        ~~~~~^^^^^^^^^^^^^^^\nValueError: could not convert string to float: 'x3.1'\n";
    let (with, without) = after_edit(TIDES, ("\"3.1\"", "\"x3.1\""), said);
    let place = |f: &Findings| {
        f.suspects.first().map(|s| (s.file.to_string(), s.line, s.confidence)).expect("a suspect")
    };
    assert_eq!((place(&with).0.as_str(), place(&with).1), ("tides.json", 1));
    assert!(place(&with).2 >= place(&without).2, "{:?} {:?}", with.suspects, without.suspects);
    let told = format!("{:?}", with.suspects[0].claim);
    assert!(told.contains("changed") && told.contains("3.1"), "{told}");
}

#[test]
fn that_the_reported_line_was_changed_says_more_than_that_it_is_reported() {
    let old = "@@ watch.py\nnames = ['ebb', 'flood']\nlimit = int('3')\nprint([names[i % 2] for i \
        in range(limit)])\n";
    let said = "Traceback (most recent call last):\n  File \"watch.py\", line 3, in <module>\n    \
        print([names[i % 3] for i in range(limit)])\n           ~~~~~^^^^^^^\nIndexError: list \
        index out of range\n";
    let (with, without) = after_edit(old, ("i % 2", "i % 3"), said);
    let first = |f: &Findings| f.suspects.first().map(|s| (s.line, s.claim.check().to_owned()));
    assert_eq!(first(&without), Some((3, "reported".into())), "{:?}", without.suspects);
    assert_eq!(first(&with), Some((3, "edited".into())), "{:?}", with.suspects);
    // The reasons, which the screen shows, begin with it.
    assert_eq!(with.reasons.first().map(|r| r.claim.check()), Some("edited"));
    assert_eq!(with.suspects.iter().filter(|s| s.line == 3).count(), 1, "{:?}", with.suspects);
}

#[test]
fn many_edits_and_free_lines_say_nothing() {
    let said = "Traceback (most recent call last):\n  File \"tide.py\", line 13, in <module>\n    \
        print(span(load('tides.json')))\nZeroDivisionError: division by zero\n";
    let (with, without) = after_edit(TIDES, ("import json\n", "import json\n\n"), said);
    assert_eq!(with, without);
    let lines: String = (0..60).map(|n| format!("a{n} = {n}\n\nb{n} = 1\n")).collect();
    let old = format!("@@ many.py\n{lines}");
    let new = (0..60)
        .fold(old.clone(), |t, n| t.replace(&format!("a{n} = {n}\n"), &format!("a{n} = 0{n}\n")));
    assert!(Edits::between(&index(&old).1, &index(&new).1).is_empty());
    assert!(!Edits::between(&index(&old).1, &index(&old.replace("a7 = 7", "a7 = 8")).1).is_empty());
}
