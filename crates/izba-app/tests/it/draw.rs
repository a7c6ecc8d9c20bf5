//! Drawings: each from the demo, as text that can be compared, as XML that parses, as a PDF whose
//! words can be found; and the command.

use crate::commands::{izba_in, said};
use crate::views::{START, looked_into};
use izba_core::values::{Store, told};
use izba_draw::{Form, Look, Setting, write};
use izba_model::Millis;
use izba_watch::ValuesView;
use izba_watch::drawing::{DRAWINGS, Subject};
use std::process::Stdio;

/// The values of the demo, and a subject for each drawing.
fn values(group: izba_core::GroupId) -> ValuesView {
    let mut store = Store::default();
    for second in 0..48_i64 {
        let tide = 1.2 + 0.8 * (second as f64 / 16.0 * std::f64::consts::TAU).sin();
        let at = START + second * 1_000;
        let line = format!(
            "tide={tide:.2}m fuel={:.2} gate={}",
            1.0 - second as f64 / 100.0,
            if second % 20 < 12 { "open" } else { "shut" }
        );
        store.line(0, "TideClock#1", second as u64, at, &line, told(&line));
        if tide > 1.9 {
            store.error(group, at + 100);
        }
    }
    ValuesView { series: store.listed(), errors: store.errors(), ..ValuesView::default() }
}

/// The words of a PDF, as somebody would select them.
fn words_of(pdf: &[u8]) -> String {
    use std::io::Write;
    let mut reader = std::process::Command::new("pdftotext")
        .args(["-raw", "-", "-"])
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .spawn()
        .expect("pdftotext is there (Debian: poppler-utils; cargo xtask test installs it)");
    reader.stdin.take().expect("it reads").write_all(pdf).expect("it reads all");
    String::from_utf8_lossy(&reader.wait_with_output().expect("it ends").stdout).into_owned()
}

#[test]
fn each_drawing_is_made_from_the_demo_in_every_form() {
    let model = looked_into((142, 42));
    let snapshot = &model.live.snapshot;
    let group = snapshot
        .groups
        .iter()
        .find(|g| g.explanation.short.bare().contains("wick"))
        .expect("the lantern fails");
    let values = values(group.id);
    let setting = Setting {
        project: "night-ferry".into(),
        now: Millis(START + 60_000),
        utc_offset: 0,
        by_lines: false,
    };
    for known in DRAWINGS {
        let names: &[String] = if known.id == "ladder" { &["scripts/fog.lua".into()] } else { &[] };
        let subject = Subject {
            snapshot,
            code: &model.live.code,
            values: Some(&values),
            group: Some(group),
            source: 0,
            names,
            setting: setting.clone(),
        };
        let drawing = known.draw(&subject).unwrap_or_else(|e| panic!("{}: {e}", known.id));
        let svg = String::from_utf8(write(&drawing, Form::Svg, Look::Dusk).expect("it is drawn"))
            .expect("it is text");
        let tree = roxmltree::Document::parse(&svg).expect("it is well-formed");
        insta::assert_snapshot!(format!("drawing_{}", known.id), svg);
        // The same words stand in both, and none is a picture of letters.
        let selected =
            words_of(&write(&drawing, Form::Pdf, Look::Paper).expect("it becomes a PDF"))
                .split_whitespace()
                .collect::<Vec<_>>()
                .join(" ");
        let mut texts = tree
            .descendants()
            .filter(|n| n.has_tag_name("text"))
            .filter_map(|n| n.text())
            .map(str::trim);
        assert!(
            texts.all(|t| t.split_whitespace().all(|word| selected.contains(word))),
            "{}: {selected}",
            known.id
        );
        // The numbers are the same in both forms.
        let csv =
            String::from_utf8(write(&drawing, Form::Csv, Look::Dusk).expect("they are written"))
                .expect("it is text");
        let jsonl =
            String::from_utf8(write(&drawing, Form::Jsonl, Look::Dusk).expect("they are written"))
                .expect("it is text");
        assert!(
            csv.lines().count() > jsonl.lines().count() && !drawing.table.is_empty(),
            "{}",
            known.id
        );
        assert!(
            jsonl
                .lines()
                .all(|l| serde_json::from_str::<serde_json::Value>(l).is_ok_and(|v| v.is_object()))
        );
    }
}

#[test]
fn the_command_draws_logs_and_kept_runs_and_says_what_it_cannot() {
    let folder = tempfile::tempdir().expect("a folder");
    let log: String =
        (0..40).map(|n| format!("tide={}.{} fuel=0.9\n", n % 3, n % 10)).collect::<String>()
            + "lua5.4: ferry.lua:1: the tide is too high\n";
    std::fs::write(folder.path().join("play.log"), log).expect("it is written");
    std::fs::write(folder.path().join("ferry.lua"), "print('tide=1')\nerror('aground')\n")
        .expect("it is written");
    let izba = |words: &[&str]| said(&izba_in(folder.path(), words, b""));
    let run = izba(&["run", "ferry.lua"]);
    assert!(run.contains("exit code 1"), "{run}");
    let calls: [&[&str]; 11] = [
        &["draw", "values", "tide", "--from", "play.log", "-o", "tide.csv"],
        &["draw", "values", "tide", "--of", "error+", "--from", "play.log", "-o", "tide.svg"],
        &["draw", "when", "-o", "when.pdf", "--paper"],
        &["draw", "path", "-o", "path.svg"],
        &["draw", "runs", "-o", "runs.jsonl"],
        &["draw", "ring", "-o", "ring.svg"],
        &["draw", "values", "depth", "--from", "play.log", "-o", "x.svg"],
        &["draw", "ladder", "moon.lua", "-o", "x.svg"],
        &["draw", "map", "-o", "x.svg"],
        &["draw", "when", "-o", "x.png"],
        &["draw", "when", "--run", "9", "-o", "x.svg"],
    ];
    let told: Vec<String> =
        calls.iter().map(|c| format!("{}\n  {}", c.join(" "), izba(c))).collect();
    insta::assert_snapshot!(told.join("\n"), @r#"
    draw values tide --from play.log -o tide.csv
      0: tide.csv: tide
    draw values tide --of error+ --from play.log -o tide.svg
      0: tide.svg: tide
    draw when -o when.pdf --paper
      0: when.pdf: When: lines and errors over time
    draw path -o path.svg
      0: path.svg: How it came to: aground
    draw runs -o runs.jsonl
      0: runs.jsonl: Mistakes by runs
    draw ring -o ring.svg
      3: izba: no files import one another in a circle
    draw values depth --from play.log -o x.svg
      3: izba: no value is printed under the name depth; there are fuel, tide
    draw ladder moon.lua -o x.svg
      3: izba: there is no moon.lua in this project
    draw map -o x.svg
      2: izba: map is nothing that can be drawn /       it can be when, runs, values, path, ladder, ring
    draw when -o x.png
      2: izba: a drawing cannot be written as .png /       it can be .svg, .pdf, .csv or .jsonl
    draw when --run 9 -o x.svg
      3: izba: no run 9 is kept of this project; izba runs lists those that are
    "#);
    let csv = std::fs::read_to_string(folder.path().join("tide.csv")).expect("it was written");
    assert_eq!(csv.lines().count(), 41, "{csv}");
    let svg = std::fs::read_to_string(folder.path().join("tide.svg")).expect("it was written");
    assert!(svg.contains("line of the log") && svg.contains("the tide is too high"), "{svg}");
    assert!(!folder.path().join("x.svg").exists());
}
