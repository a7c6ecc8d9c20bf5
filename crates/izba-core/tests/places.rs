//! From a printed file name to an own file, and from a line then to the line now: properties over
//! projects at random.

use izba_model::mask::mask;
use izba_model::{Project, ProjectFile};
use proptest::prelude::*;
use std::collections::BTreeSet;

fn path() -> impl Strategy<Value = String> {
    proptest::collection::vec("[a-c]{1,2}", 1..4)
        .prop_map(|parts| format!("{}.lua", parts.join("/")))
}

fn project(paths: &BTreeSet<String>) -> Project {
    Project::new(
        "/home/me/ferry",
        paths
            .iter()
            .map(|p| ProjectFile { path: p.as_str().into(), text: Some("".into()) })
            .collect(),
    )
}

proptest! {
    /// What stands before a name never leads to another file than the one it ends with.
    #[test]
    fn a_printed_name_finds_its_own_file_or_none(paths in proptest::collection::btree_set(path(), 1..12), which in any::<prop::sample::Index>(), before in "(/srv/[x-z]{2}/|\\./|C:\\\\dev\\\\|file:///home/me/ferry/|/home/me/ferry/|http://localhost:80/|)") {
        let project = project(&paths);
        let own = paths.iter().nth(which.index(paths.len())).expect("there is one");
        let found = project.find(&format!("{before}{own}"));
        if let Some(found) = &found {
            let fits = found.ends_with(own.as_str()) || own.ends_with(&**found);
            prop_assert!(fits, "{before}{own} led to {found}");
        }
        if before.is_empty() || before == "./" || before.contains("/home/me/ferry/") {
            prop_assert_eq!(found.as_deref(), Some(own.as_str()));
        }
    }

    /// Lines put in and taken out elsewhere do not lose a line that is still there.
    #[test]
    fn a_line_is_found_again_after_edits_elsewhere(before in 0usize..20, after in 0usize..20, put in 0usize..5, taken in 0usize..5) {
        let lines = |n: usize, what: &str| (0..n).map(|i| format!("{what} {i}\n")).collect::<String>();
        let old = format!("{}the fault\n{}", lines(before, "above"), lines(after, "below"));
        let new = format!("{}{}the fault\n{}", lines(put, "new"), lines(before.saturating_sub(taken), "above"), lines(after, "below"));
        let of = |text: String| Project::new("/p", vec![ProjectFile { path: "a.lua".into(), text: Some(text.into()) }]);
        let (old, new) = (of(old), of(new));
        let today = old.line_today(&new, "a.lua", before as u32 + 1);
        prop_assert_eq!(new.line("a.lua", today), Some("the fault"));
    }

    /// The same sentence with other numbers has the same shape.
    #[test]
    fn other_numbers_make_no_other_shape(a in 0u32..100_000, b in 0u32..100_000) {
        let say = |n: u32| mask(&format!("seat {n} of row #{n} took {n}.5 s at 0x{n:x}, see /tmp/ferry/{n}.log"), "").shape;
        prop_assert_eq!(say(a), say(b));
    }
}

/// A path that is cut on the left may mean several own files: the name in that line, then the
/// function decides; where neither does, all are offered and none is claimed.
#[test]
fn of_several_files_of_one_name_what_the_console_says_decides() {
    let module = |function: &str, name: &str| {
        format!(
            "local M = {{}}\nfunction M.{function}({name})\n  return {name}.depth\nend\nreturn M\n"
        )
    };
    let files =
        [("tide/init.lua", module("rise", "moon")), ("fog/init.lua", module("drift", "wind"))];
    let project = std::sync::Arc::new(Project::new(
        "/ferry",
        files
            .iter()
            .map(|(path, text)| ProjectFile {
                path: (*path).into(),
                text: Some(text.as_str().into()),
            })
            .collect(),
    ));
    let placed = |name: &str, function: &str| {
        let mut engine = izba_core::Engine::new(project.clone());
        let source = engine.add_source("console");
        engine.start_run(source, None, project.clone());
        let console = format!(
            "lua5.4: ...init.lua:3: attempt to index a nil value (local '{name}')\nstack \
                traceback:\n\t...init.lua:3: in function '{function}'\n\t[C]: in ?\n"
        );
        engine.feed(source, izba_model::Stream::Out, None, 0, console.as_bytes());
        engine.finish();
        let entry = engine.groups()[0].entry.clone();
        let may_be: Vec<&str> = entry.may_be.iter().map(|p| &*p.file).collect();
        format!("{} | {}", entry.place.as_ref().map_or("none", |p| &*p.file), may_be.join(", "))
    };
    assert_eq!(placed("wind", "M.spin"), "fog/init.lua | ");
    assert_eq!(placed("height", "M.rise"), "tide/init.lua | ");
    assert_eq!(placed("height", "M.spin"), "none | fog/init.lua, tide/init.lua");
}
