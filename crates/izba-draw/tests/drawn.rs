//! What each drawing tells, from the console on: nothing that is drawn stands outside the page, the
//! numbers behind it are those of the engine, and what there is too much of is said to be left out.

use izba_cause::suspect::{Arrow, find};
use izba_core::values::Store;
use izba_core::{Engine, RunSpan, SourceId};
use izba_draw::{Beside, Drawing, Setting, Shape, Sign, ladder, path, ring, runs, values, when};
use izba_model::code::{Index, Language};
use izba_model::{Millis, Project, ProjectFile, Stream};
use std::sync::Arc;

const NIGHT: i64 = 1_764_360_000_000;

fn setting() -> Setting {
    Setting { project: "marsh".into(), now: Millis(NIGHT), utc_offset: 0, by_lines: false }
}

/// The texts of a drawing, from the top.
fn words(drawing: &Drawing) -> Vec<&str> {
    let texts = drawing.shapes.iter().filter_map(|s| match s {
        Shape::Text { y, text, .. } => Some((*y, text.as_str())),
        _ => None,
    });
    let mut texts: Vec<(f64, &str)> = texts.collect();
    texts.sort_by(|a, b| a.0.total_cmp(&b.0));
    texts.into_iter().map(|(_, text)| text).collect()
}

fn says(drawing: &Drawing, part: &str) -> bool {
    words(drawing).iter().any(|w| w.contains(part))
}

/// The numbers behind it, a row each.
fn rows(drawing: &Drawing) -> Vec<serde_json::Value> {
    let text = izba_draw::write(drawing, izba_draw::Form::Jsonl, izba_draw::Look::Dusk);
    let text = String::from_utf8(text.expect("numbers can be written")).expect("it is text");
    text.lines().map(|l| serde_json::from_str(l).expect("each line is a value")).collect()
}

/// All that is drawn stands on the page.
fn fits(drawing: &Drawing) {
    let (wide, high) = drawing.size;
    assert!(wide > 0.0 && high > 0.0);
    let inside = |x: f64, y: f64| {
        assert!((-0.5..=wide + 0.5).contains(&x), "{x} of {wide} in “{}”", drawing.title);
        assert!((-12.0..=high + 24.0).contains(&y), "{y} of {high} in “{}”", drawing.title);
    };
    for shape in &drawing.shapes {
        match shape {
            Shape::Rect { x, y, w, h, .. } => {
                inside(*x, *y);
                inside(x + w, y + h);
            }
            Shape::Line { points, .. } => points.iter().for_each(|(x, y)| inside(*x, *y)),
            Shape::Arrow { from, to, .. } => {
                inside(from.0, from.1);
                inside(to.0, to.1);
            }
            Shape::Text { x, y, .. } | Shape::Sign { x, y, .. } => inside(*x, *y),
        }
    }
}

fn project(files: &[(&str, &str)]) -> Arc<Project> {
    let own = files
        .iter()
        .map(|(path, text)| ProjectFile { path: (*path).into(), text: Some((*text).into()) });
    Arc::new(Project::new("/srv/marsh", own.collect()))
}

fn index(project: &Project) -> Index {
    izba_code::index(project.files().iter().map(|f| (&f.path, f.text.as_ref())))
}

/// An engine that heard a console, with a time for each of its lines.
fn heard(project: &Arc<Project>, console: &str) -> (Engine, SourceId) {
    let mut engine = Engine::new(project.clone());
    let source = engine.add_source("game");
    engine.start_run(source, Some(Millis(NIGHT)), project.clone());
    let mut at = 0;
    for (number, line) in console.split_inclusive('\n').enumerate() {
        let time = Some(Millis(NIGHT + number as i64 * 1000));
        engine.feed(source, Stream::Out, time, at, line.as_bytes());
        at += line.len() as u64;
    }
    (engine, source)
}

const BOAT: &str =
    "local Boat = {}\nfunction Boat.moor(quay)\n  return quay.rope.length\nend\nreturn Boat\n";
const MAIN: &str = "local Boat = require('boat')\nlocal quay = { name = 'mill' }\nlocal function night()\n  \
    Boat.moor(quay)\nend\nnight()\n";
const TRACE: &str = "lua5.4: ./boat.lua:3: attempt to index a nil value (field 'rope')\nstack traceback:\n\t\
    ./boat.lua:3: in function 'boat.moor'\n\tmain.lua:4: in local 'night'\n\tmain.lua:6: in main chunk\n\t[C]: \
    in ?\n";

#[test]
fn a_path_goes_from_where_it_began_to_the_fault_and_on_to_who_did_it() {
    let project = project(&[("main.lua", MAIN), ("boat.lua", BOAT)]);
    let (mut engine, _) = heard(&project, TRACE);
    engine.finish();
    let group = engine.groups().first().cloned().expect("an error was read");
    let bare = path(&group, None, &setting());
    fits(&bare);
    let steps: Vec<(u64, String)> = rows(&bare)
        .iter()
        .filter(|r| r["own"] == true)
        .map(|r| (r["step"].as_u64().expect("a step"), format!("{}:{}", r["file"], r["line"])))
        .collect();
    assert_eq!(
        steps,
        [
            (3, "\"main.lua\":6".to_owned()),
            (2, "\"main.lua\":4".to_owned()),
            (1, "\"boat.lua\":3".to_owned()),
        ]
    );
    assert!(says(&bare, "outside") && says(&bare, "main.lua") && says(&bare, "boat.lua"));
    assert!(!says(&bare, "Where to look first"));
    // The fault bears the sign of an error, and nothing else does.
    let signs = bare.shapes.iter().filter(|s| matches!(s, Shape::Sign { sign: Sign::Error, .. }));
    assert_eq!(signs.count(), 1);
    let found = find(&group.entry, &index(&project), &[]);
    let whole = path(&group, Some(&found), &setting());
    fits(&whole);
    let first = found.suspects.first().expect("a suspect");
    let elsewhere = (&*first.file, first.line) != ("boat.lua", 3);
    assert_eq!(says(&whole, "Where to look first"), elsewhere);
    assert_eq!(rows(&whole).len(), rows(&bare).len() + usize::from(elsewhere));
}

#[test]
fn of_a_deep_path_the_middle_is_left_out_and_all_numbers_are_told() {
    let deep = format!(
        "Traceback (most recent call last):\n{}RecursionError: maximum recursion depth exceeded\n",
        "  File \"main.py\", line 2, in dive\n    return dive(n + 1)\n".repeat(60)
    );
    let project = project(&[("main.py", "def dive(n):\n    return dive(n + 1)\n\n\ndive(0)\n")]);
    let (mut engine, _) = heard(&project, &deep);
    engine.finish();
    let group = engine.groups().first().cloned().expect("an error was read");
    let drawing = path(&group, None, &setting());
    fits(&drawing);
    let steps = group.path().len();
    assert_eq!(rows(&drawing).len(), steps);
    if steps > 24 {
        assert!(says(&drawing, &format!("{}", steps - 24)), "{:?}", words(&drawing));
    }
    let boxes = drawing.shapes.iter().filter(|s| matches!(s, Shape::Rect { .. })).count();
    assert!(boxes <= 26, "{boxes} boxes for {steps} steps");
}

#[test]
fn a_ladder_marks_what_disagrees_and_nothing_of_a_script_that_is_well() {
    let lua = Language::of_id("lua").expect("it ships");
    let of = |text: &str| {
        let drawing = ladder("night.lua", text, &izba_code::ladder(lua, text), &setting());
        fits(&drawing);
        drawing
    };
    let well = "local function tide()\n  if high then\n    ring()\n  end\nend\n";
    let drawing = of(well);
    assert!(drawing.under.contains("all of them closed where they stand"), "{}", drawing.under);
    assert!(!says(&drawing, "is missing") && !says(&drawing, "one too many"));
    assert!(rows(&drawing).iter().all(|r| r["clash"] == "none"));
    let open = of("local function tide()\n  if high then\n    ring()\nend\n");
    assert!(open.under.contains("disagree"), "{}", open.under);
    assert!(says(&open, "the end of line 2 is missing"), "{:?}", words(&open));
    let stray = of("local function tide()\n  ring()\nend\nend\n");
    assert!(says(&stray, "one too many"), "{:?}", words(&stray));
    // Of a long script the part around the fault, and which part it is.
    let long = format!(
        "{}local function tide()\n  if high then\n    ring()\nend\n",
        "ring()\n".repeat(300)
    );
    let drawing = of(&long);
    assert!(says(&drawing, "of 304"), "{:?}", words(&drawing).last());
    assert!(says(&drawing, "the end of line 302 is missing"));
}

#[test]
fn a_ring_names_each_file_once_and_one_arrow_to_cut() {
    let arrow = |from: &str, line: u32, to: &str| Arrow { from: from.into(), line, to: to.into() };
    let arrows = [
        arrow("crew/boat.py", 1, "quay.py"),
        arrow("quay.py", 2, "tide.py"),
        arrow("tide.py", 9, "crew/boat.py"),
    ];
    let drawing = ring(&arrows, &setting());
    fits(&drawing);
    assert_eq!(drawing.under, "marsh, 3 files import one another");
    for name in ["boat.py", "quay.py", "tide.py"] {
        assert_eq!(words(&drawing).iter().filter(|w| **w == name).count(), 1, "{name}");
    }
    let cut: Vec<u64> = rows(&drawing)
        .iter()
        .filter(|r| r["cut"] == true)
        .filter_map(|r| r["line"].as_u64())
        .collect();
    assert_eq!(cut, [9]);
    assert!(says(&drawing, "line 9, cheapest to cut"));
    // One that brings in itself has no arrow to draw, and many stay on the page.
    fits(&ring(&arrows[..1], &setting()));
    let many: Vec<Arrow> =
        (0..40).map(|n| arrow(&format!("m{n}.py"), 1, &format!("m{}.py", (n + 1) % 40))).collect();
    assert_eq!(rows(&ring(&many, &setting())).len(), 40);
}

#[test]
fn runs_are_a_grid_of_counts_with_what_was_changed_before_each() {
    let before = project(&[("main.lua", MAIN), ("boat.lua", BOAT)]);
    let after = project(&[("main.lua", MAIN), ("boat.lua", &BOAT.replace("length", "size"))]);
    let (mut engine, source) = heard(&before, &TRACE.repeat(3));
    engine.start_run(source, Some(Millis(NIGHT + 60_000)), after);
    engine.feed(source, Stream::Out, Some(Millis(NIGHT + 61_000)), 0, b"moored\n");
    engine.finish();
    let drawing = runs("game", engine.runs_of(source), &engine.groups(), &setting());
    fits(&drawing);
    assert_eq!(drawing.under, "marsh, game, 2 runs");
    assert!(says(&drawing, "▴ 1"), "the second run came after an edit: {:?}", words(&drawing));
    let told: Vec<(u64, u64)> = rows(&drawing)
        .iter()
        .map(|r| (r["run"].as_u64().expect("a run"), r["count"].as_u64().expect("a count")))
        .collect();
    assert_eq!(told, [(1, 3)]);
    // The newest of many, and that they are.
    let spans: Vec<RunSpan> = (1..=40)
        .map(|run| RunSpan { run, ran_ms: 90_000, ..engine.runs_of(source)[0].clone() })
        .collect();
    let drawing = runs("game", &spans, &engine.groups(), &setting());
    fits(&drawing);
    assert!(drawing.under.contains("40 runs, the newest 16"), "{}", drawing.under);
    assert!(says(&drawing, "40") && says(&drawing, "25") && !words(&drawing).contains(&"24"));
    // Nothing to draw is said.
    let none = runs("game", &spans, &[], &setting());
    fits(&none);
    assert!(says(&none, "No error and no warning"));
}

#[test]
fn lanes_tell_lines_and_errors_of_each_source() {
    let project = project(&[("main.lua", MAIN), ("boat.lua", BOAT)]);
    let console =
        format!("{}{TRACE}{}", "the tide rises\n".repeat(20), "the tide falls\n".repeat(20));
    let (mut engine, _) = heard(&project, &console);
    engine.add_source("quiet");
    engine.finish();
    let snapshot = engine.snapshot();
    let drawing = when(&snapshot, &setting());
    fits(&drawing);
    assert!(drawing.under.contains("2 sources"), "{}", drawing.under);
    assert!(says(&drawing, "1 error") && says(&drawing, "quiet"), "{:?}", words(&drawing));
    let sum = |key: &str| rows(&drawing).iter().filter_map(|r| r[key].as_u64()).sum::<u64>();
    assert_eq!((sum("lines"), sum("errors")), (snapshot.sources[0].lines, 1));
    // With nothing at a known time there is nothing to lay on an axis.
    let (mut silent, _) = heard(&project, "");
    silent.finish();
    assert!(when(&Engine::new(project).snapshot(), &setting()).shapes.len() == 1);
}

#[test]
fn values_have_an_axis_each_and_say_what_is_not_drawn() {
    let mut store = Store::default();
    for n in 0..50 {
        let line = format!(
            "oil={} depth={} speed={} wind={} sail={} gate={}",
            n,
            n * 2,
            9 - n % 3,
            n % 7,
            n * n,
            if n < 25 { "open" } else { "shut" }
        );
        store.line(0, "Ferry", n, NIGHT + n as i64 * 1000, &line, izba_core::values::told(&line));
    }
    let listed = store.listed();
    let errors = [NIGHT + 10_000, NIGHT + 20_000];
    let beside = Beside { error: Some(("no rope", &errors)), ..Beside::default() };
    let drawing = values(&listed, beside, &setting());
    fits(&drawing);
    assert!(drawing.under.contains("no rope (2 times)"), "{}", drawing.under);
    assert!(
        says(&drawing, "is not drawn") || says(&drawing, "are not drawn"),
        "{:?}",
        words(&drawing)
    );
    assert!(says(&drawing, "open") && says(&drawing, "shut"), "states are lanes");
    // What nobody printed is said.
    let none = values(&[], Beside::default(), &setting());
    fits(&none);
    assert!(says(&none, "No value was printed"));
}
