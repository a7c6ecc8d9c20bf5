//! A language that nobody here has heard of, by its dialect alone: its consoles are read, its
//! errors explained in its own words, its blocks held against their indentation, its files checked.

use izba_cause::explain::explain;
use izba_cause::{checks, pause};
use izba_core::Engine;
use izba_model::{Language, Project, ProjectFile, Stream};
use izba_watch::guilty::Guilty;
use std::sync::Arc;

const QUILL: &str = r##"
name = "Quill"
endings = ["quill"]
readers = []
world = "quill"
nothing = ["void"]
nothing_test = "{} is void"
length = "size of {}"
first_index = 7
itself = "me"

[signs]
line_comments = [";;"]
quotes = ["|"]

[blocks]
by = "words"
middles = ["otherwise"]
pairs = [{ open = "when", close = "done" }, { open = "deed", close = "done" }]
headers = [["when", "so"]]

[names]
builtins = "utter gather"
"##;

const SCRIPT: &str = "deed moor
  when tide > 3 so ;; when it is high
    utter |when|
  otherwise
    rope.tie
  done
 done
";

#[test]
fn a_dialect_alone_makes_a_language_known() {
    let quill = Language::learn("quill", QUILL).expect("it is a dialect");
    let file =
        ProjectFile { path: "marsh/moor.quill".into(), text: Some(SCRIPT.to_owned().into()) };
    let project = Arc::new(Project::new("/srv/marsh", vec![file]));

    // Its console: a place in its file, and a word for nothing that is its own.
    let mut engine = Engine::new(project.clone());
    let source = engine.add_source("console");
    engine.start_run(source, None, project.clone());
    let console = b"marsh/moor.quill:5: error: attempt to index a nil value (local 'rope')\n";
    engine.feed(source, Stream::Out, None, 0, console);
    engine.finish();
    let groups = engine.groups();
    let entry = &groups.first().expect("an error").entry;
    let place = entry.place.as_ref().expect("a place");
    assert_eq!((place.file.as_ref(), place.line), ("marsh/moor.quill", Some(5)));
    let said: Vec<String> = explain(entry).paragraphs().map(ToString::to_string).collect();
    let said = said.join(" ");
    assert!(said.contains("Quill says void"), "{said}");

    // Its blocks, without a grammar: comments and texts hold no words, the last end stands askew.
    let ladder = izba_code::ladder(quill, SCRIPT);
    let spans: Vec<_> = ladder.iter().map(|r| (r.opener.as_ref(), r.from, r.to)).collect();
    assert_eq!(spans, [("deed", 1, Some(7)), ("when", 2, Some(6))]);
    let straight = izba_code::reindented(quill, SCRIPT);
    assert_eq!(straight[3], "  otherwise", "what divides a block stands as deep as its opener");
    assert_eq!(straight[6], "done");

    // Its files are checked, and asked by a debugger in its own words.
    let guilty = Guilty::of(&project);
    let remarks = checks::all(guilty.index()).remarks;
    let told: Vec<_> = remarks.iter().map(|r| (r.check(), r.line)).collect();
    assert_eq!(told, [("blocks", 7)]);
    assert_eq!(pause::nothing_test(quill, "rope").as_deref(), Some("rope is void"));
    assert_eq!(pause::length_of(quill, "ropes").as_deref(), Some("size of ropes"));
    assert!(pause::is_nothing(quill, "void") && !pause::is_nothing(quill, "nil"));
}
