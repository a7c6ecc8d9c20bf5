//! A known report in any dress gives the same answer as without it: every entry of every sample,
//! in columns, labels, boxes, indentation and escapes that no reader knows by name, between other
//! lines, interleaved with another speaker, in any chunks.
#![expect(clippy::disallowed_methods, reason = "a test reads its samples")]

use izba_core::{Engine, GroupView, LineRef};
use izba_model::{Level, Millis, Project, ProjectFile, Stream};
use proptest::prelude::*;
use std::path::Path;
use std::sync::{Arc, LazyLock};

/// A report of a sample: its lines, and what Izba says of them alone.
struct Known {
    name: String,
    project: Arc<Project>,
    lines: Vec<String>,
    answer: Vec<Answer>,
}

/// What is told of an entry, whatever it wears.
#[derive(Debug, Clone, PartialEq, Eq)]
struct Answer {
    kind: Option<String>,
    message: String,
    place: Option<(String, Option<u32>)>,
    steps: Vec<(Option<String>, Option<u32>)>,
    causes: usize,
    family: &'static str,
    reader: String,
}

fn answer_of(group: &GroupView) -> Answer {
    let (entry, report) = (&group.entry, &group.entry.report);
    Answer {
        kind: report.kind.clone(),
        message: report.message.clone(),
        place: entry.place.as_ref().map(|p| (p.file.to_string(), p.line)),
        steps: report.frames.iter().map(|f| (f.file.clone(), f.line)).collect(),
        causes: report.causes.len(),
        family: entry.family.id(),
        reader: report.reader.to_string(),
    }
}

fn read(project: &Arc<Project>, bytes: &[u8], cuts: &[usize]) -> Vec<(Answer, u64, u64)> {
    let mut engine = Engine::new(project.clone());
    let source = engine.add_source("sample");
    engine.start_run(source, None, project.clone());
    let mut from = 0;
    for cut in cuts.iter().map(|c| c % (bytes.len() + 1)).chain([bytes.len()]) {
        if cut > from {
            engine.feed(source, Stream::Out, None::<Millis>, from as u64, &bytes[from..cut]);
            from = cut;
        }
    }
    engine.finish();
    let groups = engine.groups();
    let of = |g: &Arc<GroupView>| (answer_of(g), g.count, g.last_line);
    groups.iter().filter(|g| g.level() >= Level::Warning).map(of).collect()
}

/// The lines from the first to the last of the one report in a console.
fn told(project: &Arc<Project>, console: &str, lines: Vec<String>) -> Vec<String> {
    let mut engine = Engine::new(project.clone());
    let source = engine.add_source("sample");
    engine.start_run(source, None, project.clone());
    engine.feed(source, Stream::Out, None, 0, console.as_bytes());
    engine.finish();
    let of_it = |line: &usize| {
        engine.group_at(LineRef { source, line: *line as u64 }, Stream::Out).is_some()
    };
    let within: Vec<usize> = (0..lines.len()).filter(of_it).collect();
    let (Some(first), Some(last)) = (within.first(), within.last()) else { return lines };
    lines[*first..=*last].to_vec()
}

/// All reports of the samples that hold a step or a place: a sentence that only its level makes an
/// error is nothing without it.
static KNOWN: LazyLock<Vec<Known>> = LazyLock::new(|| {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../cases/consoles");
    let mut known = Vec::new();
    let mut folders: Vec<_> = std::fs::read_dir(&root)
        .expect("the samples")
        .flatten()
        .filter(|of| of.path().is_dir() && of.file_name() != "logs")
        .flat_map(|of| std::fs::read_dir(of.path()).expect("a folder").flatten())
        .map(|folder| folder.path())
        .collect();
    folders.sort();
    for folder in folders {
        let files = std::fs::read_dir(&folder).expect("a folder").flatten().filter_map(|file| {
            let name = file.file_name().into_string().ok()?;
            let text = std::fs::read_to_string(file.path()).ok()?;
            (!["console.txt", "command", "truth"].contains(&name.as_str()))
                .then(|| ProjectFile { path: name.into(), text: Some(text.into()) })
        });
        let project = Arc::new(Project::new("/tmp/night-ferry", files.collect()));
        let Ok(console) = std::fs::read_to_string(folder.join("console.txt")) else { continue };
        let lines: Vec<String> = console.lines().map(str::to_owned).collect();
        let answer = read(&project, console.as_bytes(), &[]);
        // A console with one report, told once, is that report.
        let [(only, 1, _)] = &answer[..] else { continue };
        if only.place.is_none() && only.steps.is_empty() {
            continue;
        }
        // A place and a sentence without any level: behind a time that is how many logs begin each
        // of their lines.
        if only.reader == "placed" {
            continue;
        }
        // The lines of the report, without what the program said before and behind it.
        let lines = told(&project, &console, lines);
        known.push(Known {
            name: folder.strip_prefix(&root).unwrap_or(&folder).display().to_string(),
            project,
            lines,
            answer: vec![only.clone()],
        });
    }
    known
});

/// One column of what every line wears.
#[derive(Debug, Clone)]
enum Column {
    Time,
    Clock,
    Elapsed,
    Level(&'static str),
    Thread,
    Label,
    Worker,
    Process,
    Logger,
    Bar,
    Dash,
}

/// What a report wears.
#[derive(Debug, Clone)]
struct Worn {
    columns: Vec<Column>,
    indent: usize,
    boxed: bool,
    coloured: bool,
    carriage: bool,
    /// How often its text is written into a text on one line; 0 for lines of their own.
    escaped: usize,
    /// Whether another speaker's lines stand between.
    beside: bool,
    around: bool,
}

fn column(of: &Column, at: usize, speaker: usize) -> String {
    match of {
        Column::Time => {
            format!("2026-11-{:02} 09:23:{:02}.{:03}", 20 + at / 60, at % 60, at * 7 % 1000)
        }
        Column::Clock => format!("[09:{:02}:{:02}]", at / 60, at % 60),
        Column::Elapsed => format!("{:8.3}", 1.25 + at as f64 * 0.013),
        Column::Level(word) => (*word).to_owned(),
        Column::Thread => format!("[{}]", ["main", "helper"][speaker]),
        Column::Label => format!("[{}]", ["web-1", "store-2"][speaker]),
        Column::Worker => format!("{}>", ["worker3", "worker4"][speaker]),
        Column::Process => "4127".to_owned(),
        Column::Logger => format!("{}:", ["ferry.deck", "ferry.bar"][speaker]),
        Column::Bar => "|".to_owned(),
        Column::Dash => "-".to_owned(),
    }
}

fn dressed(worn: &Worn, line: &str, at: usize, speaker: usize) -> String {
    let mut out = " ".repeat(worn.indent);
    for of in &worn.columns {
        out += &column(of, at, speaker);
        out.push(' ');
    }
    if worn.boxed {
        out = format!("│ {out}{line:<70} │");
    } else {
        out += line;
    }
    if worn.coloured {
        out = format!("\x1b[31m{out}\x1b[0m");
    }
    out + if worn.carriage { "\r\n" } else { "\n" }
}

const TALK: [&str; 5] = [
    "the ferry leaves the quay",
    "12 cars on deck, 0 errors",
    "lamp lit",
    "course 240, speed 9",
    "the tide is fair",
];

/// The console in which the report stands.
fn console(known: &Known, worn: &Worn) -> String {
    let mut out = String::new();
    let mut at = 0;
    let talk = |out: &mut String, at: &mut usize, count: usize, speaker: usize| {
        for _ in 0..count {
            *out += &dressed(worn, TALK[*at % TALK.len()], *at, speaker);
            *at += 1;
        }
    };
    if worn.around {
        talk(&mut out, &mut at, 7, 0);
    }
    if worn.escaped > 0 {
        let mut text = known.lines.join("\n");
        for _ in 0..worn.escaped {
            let quoted = serde_json::to_string(&text).expect("a text");
            text = quoted[1..quoted.len() - 1].to_owned();
        }
        out += &dressed(worn, &format!("failed with \"{text}\""), at, 0);
        at += 1;
    } else {
        for line in &known.lines {
            out += &dressed(worn, line, at, 0);
            at += 1;
            if worn.beside && at % 2 == 0 {
                talk(&mut out, &mut at, 1, 1);
            }
        }
    }
    if worn.around {
        talk(&mut out, &mut at, 5, 0);
    }
    out
}

fn speaks(columns: &[Column]) -> bool {
    columns.iter().any(|c| matches!(c, Column::Thread | Column::Label | Column::Worker))
}

fn worn() -> impl Strategy<Value = Worn> {
    let column = prop_oneof![
        Just(Column::Time),
        Just(Column::Clock),
        Just(Column::Elapsed),
        prop_oneof![Just("ERROR"), Just("error:"), Just("[ERROR]"), Just("<error>"), Just("E")]
            .prop_map(Column::Level),
        Just(Column::Thread),
        Just(Column::Label),
        Just(Column::Worker),
        Just(Column::Process),
        Just(Column::Logger),
        Just(Column::Bar),
        Just(Column::Dash),
    ];
    let columns = prop::collection::vec(column, 0..5);
    (columns, 0usize..5, any::<[bool; 5]>(), 0usize..6).prop_map(
        |(columns, indent, [boxed, coloured, carriage, beside, around], escaped)| {
            let mut columns = columns;
            // No console begins its lines with a sign, or says the same thing twice.
            while matches!(columns.first(), Some(Column::Bar | Column::Dash | Column::Process)) {
                columns.remove(0);
            }
            let mut seen = Vec::new();
            columns.retain(|c| {
                let new = !seen.contains(&std::mem::discriminant(c));
                seen.push(std::mem::discriminant(c));
                new
            });
            // A level makes an error of what stands around.
            let levelled = columns.iter().any(|c| matches!(c, Column::Level(_)));
            let escaped = escaped.saturating_sub(2);
            Worn {
                indent: if columns.is_empty() && !boxed { indent } else { 0 },
                beside: beside && speaks(&columns) && !levelled && escaped == 0,
                around: around && !levelled,
                boxed: boxed && escaped == 0,
                columns,
                coloured,
                carriage,
                escaped,
            }
        },
    )
}

fn holds(known: &Known, worn: &Worn, cuts: &[usize]) -> Result<(), String> {
    // One line needs no escapes.
    if worn.escaped > 0 && known.lines.len() < 2 {
        return Ok(());
    }
    let text = console(known, worn);
    let found: Vec<Answer> =
        read(&known.project, text.as_bytes(), cuts).into_iter().map(|(a, ..)| a).collect();
    // Where only a level makes an error of a sentence, a second one in the dress has its place, and
    // the first one, with what stands before it, stays in the sentence.
    let levelled = known.answer.iter().all(|a| a.reader == "general");
    let same = |a: &Answer, b: &Answer| {
        let message = match levelled && a.message.ends_with(&b.message) {
            true => b.message.clone(),
            false => a.message.clone(),
        };
        Answer { reader: b.reader.clone(), message, ..a.clone() } == *b
    };
    if found.len() == known.answer.len() && found.iter().zip(&known.answer).all(|(a, b)| same(a, b))
    {
        return Ok(());
    }
    Err(format!("{}: {worn:?}\n{text}\nsaid {found:#?}\nalone {:#?}", known.name, known.answer))
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 10_000, ..ProptestConfig::default() })]

    #[test]
    fn a_known_report_says_the_same_in_any_dress(
        worn in worn(), which in 0usize..1_000, cuts in prop::collection::vec(0usize..4_000, 0..3),
    ) {
        let mut cuts = cuts;
        cuts.sort_unstable();
        let told = holds(&KNOWN[which % KNOWN.len()], &worn, &cuts);
        prop_assert!(told.is_ok(), "{}", told.unwrap_err());
    }
}

/// How often a dress changes an answer, for those who build readers:
/// `cargo test -p izba-core --test dress -- --ignored --nocapture`.
#[test]
#[ignore = "a count, not a check"]
#[expect(clippy::print_stdout, reason = "it is there to be read")]
fn how_often_a_dress_changes_an_answer() {
    use proptest::strategy::ValueTree;
    use proptest::test_runner::TestRunner;
    let mut runner = TestRunner::deterministic();
    let (mut failed, mut shown) = (0, 0);
    let mut by = std::collections::BTreeMap::<String, (u32, u32)>::new();
    let draws: usize = std::env::var("DRAWS").ok().and_then(|d| d.parse().ok()).unwrap_or(2_000);
    let show: usize = std::env::var("SHOW").ok().and_then(|d| d.parse().ok()).unwrap_or(0);
    for draw in 0..draws {
        let worn = worn().new_tree(&mut runner).expect("a dress").current();
        let known = &KNOWN[draw * 7 % KNOWN.len()];
        let wrong = holds(known, &worn, &[draw * 31, draw * 97]);
        let mut tags = vec![known.name.split('/').next().unwrap_or("").to_owned()];
        tags.extend(worn.columns.iter().map(|c| format!("col {c:?}")));
        let flags = [
            (worn.indent > 0, "indent"),
            (worn.boxed, "boxed"),
            (worn.beside, "beside"),
            (worn.around, "around"),
            (worn.escaped > 0, "escaped"),
            (worn.carriage, "carriage"),
            (worn.coloured, "coloured"),
        ];
        tags.extend(flags.iter().filter(|(on, _)| *on).map(|(_, name)| (*name).to_owned()));
        for tag in tags {
            let of = by.entry(tag).or_default();
            of.0 += 1;
            of.1 += u32::from(wrong.is_err());
        }
        if let Err(said) = wrong {
            failed += 1;
            if shown < show {
                shown += 1;
                println!("{said}\n");
            }
        }
    }
    println!("{failed} of {draws} draws over {} reports are answered otherwise", KNOWN.len());
    for (tag, (of, wrong)) in by {
        println!("{wrong:6} of {of:6}  {tag}");
    }
}
