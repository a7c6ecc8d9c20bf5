//! Text in, facts out: the same small program in all languages gives the same tree, nothing that
//! can be typed brings the reading down, and a sign that is taken out of a healthy script is found
//! again.

use izba_code::{mend, read};
use izba_model::code::{FileFacts, Kind, Language};
use proptest::prelude::*;
use std::fmt::Write;
use std::path::{Path, PathBuf};
use std::sync::Arc;

fn facts(path: &str, text: &str) -> FileFacts {
    read(&Arc::from(path), &Arc::from(text)).expect("its language is known")
}

/// A function with a parameter, a field that is set from a list, a condition and a call with a
/// text.
const PROGRAMS: &[(&str, &str)] = &[
    (
        "bell.lua",
        "local bell = {}\nfunction bell.ring(times)\n  bell.last = hours[times]\n  if \
            times > 2 then\n    say(\"late\")\n  end\nend\n",
    ),
    (
        "bell.js",
        "const bell = {};\nfunction ring(times) {\n  bell.last = hours[times];\n  if \
            (times > 2) {\n    say(\"late\");\n  }\n}\n",
    ),
    (
        "bell.ts",
        "const bell = {};\nfunction ring(times: number) {\n  bell.last = hours[times];\n  \
            if (times > 2) {\n    say(\"late\");\n  }\n}\n",
    ),
    (
        "bell.py",
        "bell = {}\ndef ring(times):\n    bell.last = hours[times]\n    if times > \
            2:\n        say(\"late\")\n",
    ),
    (
        "Bell.java",
        "class Bell {\n  void ring(int times) {\n    bell.last = hours[times];\n    if \
            (times > 2) {\n      say(\"late\");\n    }\n  }\n}\n",
    ),
    (
        "Bell.cs",
        "class Bell {\n  void Ring(int times) {\n    bell.last = hours[times];\n    if \
            (times > 2) {\n      say(\"late\");\n    }\n  }\n}\n",
    ),
    (
        "Bell.kt",
        "class Bell {\n  fun ring(times: Int) {\n    bell.last = hours[times]\n    if \
            (times > 2) {\n      say(\"late\")\n    }\n  }\n}\n",
    ),
];

#[test]
fn one_program_in_seven_languages_gives_one_tree() {
    let mut out = String::new();
    for (path, text) in PROGRAMS {
        let facts = facts(path, text);
        assert!(!facts.broken, "{path} parses");
        let ring = facts
            .tree
            .all()
            .find(|n| n.text().is_some_and(|t| t.eq_ignore_ascii_case("ring")))
            .expect("the function");
        let _ = writeln!(out, "{path}\n  {}", ring.sketch());
    }
    insta::assert_snapshot!(out);
}

#[test]
fn a_component_in_markup_is_a_call_with_its_attributes_and_a_plain_element_is_none() {
    let text = "const a = <Quay boats={list} open {...rest}><p id=\"x\">{tide(1)}</p><Pier.Lamp /></Quay>;\n";
    for path in ["quay.jsx", "quay.tsx"] {
        let facts = facts(path, text);
        assert!(!facts.broken, "{path} parses");
        let calls: Vec<String> =
            facts.tree.all().filter(|n| n.is(Kind::Call)).map(|n| n.sketch()).collect();
        insta::allow_duplicates!(insta::assert_debug_snapshot!("markup", calls));
    }
}

#[test]
fn what_is_wrong_in_data_is_said_with_its_line() {
    let files = [
        ("scene.json", "{\n  \"kind\": \"Bell\"\n  \"id\": 1\n}\n"),
        ("scene.json", "{\n  \"kind\": Bell\n}\n"),
        ("scene.json", "[\n  { \"id\": 1 },\n  { \"id\": 2 },\n]\n"),
        ("scene.json", "{\n  \"kind\": [ 1, 2\n"),
        ("form.xml", "<form>\n  <field name=\"from\">\n  <field name=\"to\"/>\n</form>\n"),
        ("form.xml", "<form>\n  <field name=to/>\n</form>\n"),
        ("form.xml", "<form>\n  <title>North & South</title>\n</form>\n"),
        ("form.xml", "<form>\n  <field name=\"to\" name=\"from\"/>\n</form>\n"),
        ("page.html", "<ul><li>first<li>second</ul>\n"),
        ("oil.toml", "level = 4\nwick = \"flat\nburn = 2\n"),
        ("oil.toml", "level = 4\n\nlevel = 5\n"),
        ("oil.toml", "level 4\n"),
        ("tide.yaml", "tide:\n  high: 4\n\tlow: 1\n"),
        ("tide.yaml", "tide:\n  high: 4\n low: 1\n"),
        ("tide.yaml", "tide: \"high\n"),
        ("tide.yaml", "tide: high\n"),
    ];
    let mut out = String::new();
    for (path, text) in files {
        let facts = facts(path, text);
        let said = facts.faults.first().map_or("well".to_owned(), |f| {
            format!("line {}, noticed at {}: {}", f.line, f.noticed, f.what)
        });
        let _ = writeln!(
            out,
            "{path} {:?}\n  {said}",
            text.lines().take(3).collect::<Vec<_>>().join(" / ")
        );
    }
    insta::assert_snapshot!(out);
}

/// All healthy scripts that the seeded faults are made from.
fn healthy() -> Vec<(PathBuf, String)> {
    let seeds = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../cases/faults");
    let folders = std::fs::read_dir(seeds)
        .expect("the seeds are there")
        .flatten()
        .map(|d| d.path())
        .filter(|p| p.is_dir());
    let mut files: Vec<(PathBuf, String)> = folders
        .flat_map(|folder| {
            std::fs::read_dir(folder)
                .expect("a folder")
                .flatten()
                .map(|f| f.path())
                .collect::<Vec<_>>()
        })
        .filter(|p| Language::of(&p.to_string_lossy()).is_some_and(|l| l.is_code()))
        .map(|p| (p.clone(), std::fs::read_to_string(&p).expect("text")))
        .collect();
    files.sort();
    files
}

/// Takes one bracket, quote or block word after the other out of healthy scripts, and counts how
/// often the first fault is told at its line (or, of closers that could stand in either, the line
/// beside it).
#[test]
fn a_sign_that_is_taken_out_is_found_again() {
    let signs: &[(&str, &[&str])] = &[
        ("lua", &["end", "then", ")", "}"]),
        ("js", &["}", ")", "(", "{"]),
        ("py", &[")", "]", ":", "("]),
        ("java", &["}", ")", ";", "{"]),
        ("cs", &["}", ")", ";", "{"]),
    ];
    let files = healthy();
    let mut out = String::new();
    for (ending, signs) in signs {
        let language = Language::of(&format!("x.{ending}")).expect("known");
        for sign in *signs {
            let (mut tried, mut found) = (0, 0);
            for (_, text) in
                files.iter().filter(|(p, _)| p.extension().is_some_and(|e| e == *ending)).take(3)
            {
                let places: Vec<usize> = text
                    .match_indices(sign)
                    .map(|(at, _)| at)
                    .filter(|at| is_word(text, *at, sign))
                    .collect();
                for at in places.iter().step_by(places.len().div_ceil(4).max(1)) {
                    let broken = format!("{}{}", &text[..*at], &text[at + sign.len()..]);
                    let line = text[..*at].matches('\n').count() as u32 + 1;
                    let Some(fault) =
                        mend::faults(language, &broken, None, &mend::by_grammar).into_iter().next()
                    else {
                        continue;
                    };
                    tried += 1;
                    found += usize::from(
                        fault.line.abs_diff(line) <= 1
                            || (fault.line..=fault.to_line).contains(&line),
                    );
                }
            }
            let _ = writeln!(out, "{ending:<5} {sign:<5} {found} of {tried}");
        }
    }
    insta::assert_snapshot!(out);
}

/// Whether a sign stands for itself there: a word not inside a longer one.
fn is_word(text: &str, at: usize, sign: &str) -> bool {
    let letter = |c: Option<char>| c.is_some_and(char::is_alphanumeric);
    !sign.starts_with(char::is_alphabetic)
        || !letter(text[..at].chars().next_back())
            && !letter(text[at + sign.len()..].chars().next())
}

/// Anything that looks a little like code or data, and anything at all.
fn texts() -> impl Strategy<Value = String> {
    let piece = prop_oneof![
        "[a-z]{1,6}",
        "[0-9.]{1,4}",
        r#"[(){}\[\]<>;:,.=+*/"'`#@&-]{1,3}"#,
        Just("\n".to_owned()),
        Just("\n  ".to_owned()),
        Just("\t".to_owned()),
        prop::sample::select(vec![
            "end", "then", "function", "if", "for", "class", "def", "do", "return", "\"\"\"", "[[",
            "]]", "--", "//", "/*", "*/", "${", "\\", "<!--"
        ])
        .prop_map(str::to_owned),
        "\\PC{0,3}",
    ];
    prop::collection::vec(piece, 0..40).prop_map(|parts| parts.join(" "))
}

const ENDINGS: &[&str] = &[
    "lua", "js", "ts", "py", "java", "cs", "kt", "json", "xml", "html", "toml", "yaml", "ini",
    "csv", "txt",
];

proptest! {
    #![proptest_config(ProptestConfig { cases: 96, failure_persistence: None, ..ProptestConfig::default() })]

    #[test]
    fn whatever_is_typed_is_read_and_every_place_lies_in_the_file(text in texts(), ending in prop::sample::select(ENDINGS)) {
        let facts = facts(&format!("any.{ending}"), &text);
        let lines = text.lines().count().max(1) as u32;
        let repaired = izba_code::repaired(&facts, &izba_code::mend::by_grammar);
        let faults = repaired.as_ref().map_or(&facts.faults, |f| &f.faults);
        for fault in faults {
            prop_assert!((1..=lines + 1).contains(&fault.line) && fault.to_line >= fault.line, "{fault:?}");
            prop_assert!(fault.at <= text.len() + 400, "{fault:?}");
            let said = !fault.what.to_string().is_empty();
            prop_assert!((0.0..=1.0).contains(&fault.confidence) && said, "{fault:?}");
        }
        prop_assert!(facts.data.iter().all(|d| (1..=lines).contains(&d.line)), "{:?}", facts.data);
        for node in facts.tree.all() {
            let (from, to) = node.span();
            prop_assert!(from <= to && to <= text.len() && text.is_char_boundary(from) && text.is_char_boundary(to));
        }
        for rung in izba_code::ladder(facts.language, &text) {
            prop_assert!(rung.from >= 1 && rung.from <= lines && rung.to.is_none_or(|to| to >= rung.from && to <= lines), "{rung:?}");
        }
        // Broken scripts are told of, whole ones are not.
        prop_assert_eq!(facts.broken, !faults.is_empty());
    }

    #[test]
    fn a_changed_file_alone_is_read_anew(text in texts()) {
        let files = |second: &str| -> Vec<(Arc<str>, Arc<str>)> { vec![("a.lua".into(), "local a = 1\n".into()), ("b.py".into(), second.into())] };
        let (before, after) = (files("b = 1\n"), files(&text));
        let index = izba_code::index(before.iter().map(|(p, t)| (p, Some(t))));
        let next = izba_code::updated(&index, after.iter().map(|(p, t)| (p, Some(t))));
        let anew = izba_code::index(after.iter().map(|(p, t)| (p, Some(t))));
        let sketch = |index: &izba_model::code::Index| index.code().map(|f| f.tree.all().next().map(|n| n.sketch())).collect::<Vec<_>>();
        prop_assert_eq!(sketch(&next), sketch(&anew));
        prop_assert!(std::ptr::eq(next.file("a.lua").expect("kept"), index.file("a.lua").expect("there")));
    }
}

#[test]
fn a_healthy_script_is_indented_as_it_is_and_a_broken_one_drifts_from_its_fault_on() {
    let (mut lines, mut moved) = (0, Vec::new());
    for (path, text) in healthy() {
        let language = Language::of(&path.to_string_lossy()).expect("known");
        for (at, (is, was)) in
            izba_code::reindented(language, &text).iter().zip(text.lines()).enumerate()
        {
            lines += 1;
            if is != was {
                moved.push(format!(
                    "{}:{} {was}",
                    path.file_name().unwrap_or_default().to_string_lossy(),
                    at + 1
                ));
            }
        }
    }
    // Lines that go on from the one above are indented as their writer likes.
    assert!(moved.len() * 50 < lines, "{} of {lines}: {moved:#?}", moved.len());
    let broken =
        "function tide(h)\n  if h > 2 then\n    rise(h)\nend\n\nfunction ebb(h)\n  fall(h)\nend\n";
    insta::assert_snapshot!(izba_code::reindented(Language::of_id("lua").expect("it ships"), broken).join("\n"), @r"
    function tide(h)
      if h > 2 then
        rise(h)
      end

      function ebb(h)
        fall(h)
      end
    ");
}

proptest! {
    #[test]
    fn any_text_can_be_indented(text in "[a-z(){}\\[\\]\"'\n ]{0,200}", lua in any::<bool>()) {
        let language = if lua { Language::of_id("lua").expect("it ships") } else { Language::of_id("javascript").expect("it ships") };
        let lines = izba_code::reindented(language, &text);
        prop_assert_eq!(lines.len(), text.lines().count());
        for (is, was) in lines.iter().zip(text.lines()) {
            prop_assert_eq!(is.trim_start(), was.trim_start());
        }
    }
}

#[test]
fn what_is_found_behind_a_repair_is_told_by_the_lines_of_the_file() {
    let text = "function rise(h)\n  if h > 2 then\n    lift(h)\nend\n\nfunction ebb(h)\n  if h < 1 \
        then\n    fall(h)\nend\n";
    let faults =
        mend::faults(Language::of_id("lua").expect("it ships"), text, None, &mend::by_grammar);
    let told: Vec<String> = faults.iter().map(|f| format!("{}: {}", f.line, f.what)).collect();
    assert_eq!(told, ["3: the end of this `if` is missing", "8: the end of this `if` is missing"]);
}
