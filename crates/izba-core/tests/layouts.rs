//! Layouts of log lines that nobody wrote down: columns in any order, with many separators and
//! forms, and the sentence at the end. The level and the sentence have to come out in 95 of 100.

#![expect(clippy::disallowed_methods, reason = "tests read the samples from disk")]

use izba_console::read::split_prefix;
use izba_model::Level;
use proptest::prelude::*;
use proptest::strategy::ValueTree;
use proptest::test_runner::TestRunner;

#[derive(Debug, Clone)]
struct Drawn {
    line: String,
    level: Level,
    sentence: String,
}

fn times() -> impl Strategy<Value = String> {
    let date = prop_oneof![
        Just("2026-11-23"),
        Just("23/11/2026"),
        Just("2026/11/23"),
        Just("11-23"),
        Just("23.11.2026")
    ];
    let clock = prop_oneof![
        Just("06:55:24"),
        Just("06:55:24.233"),
        Just("06:55:24,233"),
        Just("6:55:24.233811")
    ];
    let zone = prop_oneof![4 => Just(""), 1 => Just("Z"), 1 => Just("+01:00")];
    (date, prop_oneof![Just("T"), Just(" ")], clock, zone, 0u8..4).prop_map(
        |(date, joint, clock, zone, form)| match form {
            0 => clock.to_owned(),
            _ => format!("{date}{joint}{clock}{zone}"),
        },
    )
}

fn levels() -> impl Strategy<Value = (String, Level)> {
    prop_oneof![
        Just(("ERROR".to_owned(), Level::Error)),
        Just(("error".to_owned(), Level::Error)),
        Just(("Err".to_owned(), Level::Error)),
        Just(("WARN".to_owned(), Level::Warning)),
        Just(("Warning".to_owned(), Level::Warning)),
        Just(("FATAL".to_owned(), Level::Fatal)),
        Just(("critical".to_owned(), Level::Fatal)),
    ]
}

/// A column as its layout dresses it.
fn dressed(word: &str, dress: u8) -> String {
    match dress {
        0 => format!("[{word}]"),
        1 => format!("<{word}>"),
        _ => word.to_owned(),
    }
}

fn drawn() -> impl Strategy<Value = Drawn> {
    let names = prop_oneof![
        Just("tide.gate"),
        Just("net.Ferry"),
        Just("ferry::bell"),
        Just("marsh_loop"),
        Just("Boat-7")
    ];
    let threads =
        prop_oneof![Just("main"), Just("worker-3"), Just("4312"), Just("pool-1-thread-2")];
    let separator = prop_oneof![Just(" "), Just(" | "), Just(" - "), Just(" : ")];
    let sentence = prop_oneof![
        Just("the gate does not lift"),
        Just("no rope at the jetty: try again"),
        Just("12 passengers, 3 seats"),
        Just("Boat #3 is late"),
        Just("cannot open tide.json"),
        Just("lost 4 of 30 packets"),
    ];
    (
        times(),
        levels(),
        names,
        threads,
        separator,
        sentence,
        any::<[bool; 2]>(),
        0u8..4,
        0u8..3,
        any::<bool>(),
    )
        .prop_map(
            |(
                time,
                (word, level),
                name,
                thread,
                separator,
                sentence,
                with,
                dress,
                order,
                padded,
            )| {
                let plain = separator == " ";
                // Bare columns side by side could be read by nobody: something sets them off.
                let dress = if plain { dress % 2 } else { dress };
                let word = if padded { format!("{word:<8}") } else { word };
                let mut columns = vec![dressed(&word, dress)];
                if with[0] {
                    columns.insert(usize::from(order == 0), dressed(name, dress));
                }
                if with[1] {
                    let at = if order == 2 { 0 } else { columns.len() };
                    columns.insert(at, dressed(thread, dress));
                }
                columns.insert(0, dressed(&time, if dress == 0 { 0 } else { 2 }));
                let line = format!(
                    "{}{}{sentence}",
                    columns.join(separator),
                    if plain { " " } else { separator }
                );
                Drawn { line, level, sentence: sentence.into() }
            },
        )
}

#[test]
#[expect(clippy::print_stdout, reason = "the rate is news")]
fn of_random_layouts_ninety_five_in_a_hundred_are_read_rightly() {
    let mut runner = TestRunner::deterministic();
    let strategy = drawn();
    let mut wrong = Vec::new();
    const DRAWS: usize = 2_000;
    for _ in 0..DRAWS {
        let drawn = strategy.new_tree(&mut runner).expect("a layout").current();
        let prefix = split_prefix(&drawn.line);
        if prefix.level != Some(drawn.level) || drawn.line[prefix.rest_at..] != drawn.sentence {
            wrong.push(format!(
                "{:?} {:?} of {}",
                prefix.level,
                &drawn.line[prefix.rest_at..],
                drawn.line
            ));
        }
    }
    let right = DRAWS - wrong.len();
    println!("{right} of {DRAWS} layouts are read rightly");
    assert!(
        right * 100 >= DRAWS * 95,
        "{right} of {DRAWS}\n{}",
        wrong[..wrong.len().min(40)].join("\n")
    );
}

/// One log of a layout that no code lists: forms of time and level, separators, order.
#[derive(Debug, Clone)]
struct Night {
    lines: Vec<String>,
    truth: Vec<(Level, String, String, String)>,
}

fn moment(form: u8, tick: u64) -> String {
    let (ms, s, m, h) = (tick * 37 % 1000, tick / 3 % 60, tick / 180 % 60, 20);
    match form {
        0 => format!("{h}h{m:02}m{s:02}s"),
        1 => format!("@{}.{ms:03}", 1_763_931_324 + tick / 3),
        2 => format!("+{:06}.{ms:03}", tick / 3),
        3 => format!("2026_11_23~{h}_{m:02}_{s:02}"),
        4 => format!("23nov26-{h}{m:02}{s:02}.{ms:03}"),
        5 => format!("day 327 {h}:{m:02}:{s:02}"),
        6 => format!("{}", 8_000 + tick * 333),
        7 => format!("{h}.{m:02}.{s:02}"),
        _ => format!("T{:05}s{ms:03}", tick / 3),
    }
}

const FORMS: [[&str; 4]; 8] = [
    ["ERRO", "WRNG", "INFR", "DBG"],
    ["EE", "WW", "II", "DD"],
    ["3", "4", "6", "7"],
    ["er", "wa", "in", "de"],
    ["50", "40", "30", "20"],
    ["lvl=E", "lvl=W", "lvl=I", "lvl=D"],
    ["Fai", "Wng", "Ntc", "Vrb"],
    ["SEV", "WARNG", "INFORM", "FINEST"],
];

fn nights() -> impl Strategy<Value = Night> {
    let separators = prop_oneof![
        Just(" ~ "),
        Just(" :: "),
        Just("; "),
        Just(" // "),
        Just("\t"),
        Just(" > "),
        Just(" "),
        Just(" · "),
        Just(" » "),
        Just("|"),
        Just(" - "),
        Just(" --> "),
        Just(";")
    ];
    (0u8..9, 0usize..8, separators, 0u8..3, 0u8..4, any::<[bool; 2]>(), any::<u64>()).prop_map(
        |(time, form, separator, dress, order, with, seed)| {
            let sentences = [
                ("the gate lifts for boat 7", 2),
                ("tide is 1.82 and rises", 3),
                ("a passenger came aboard", 2),
                ("lamp trimmed", 3),
                ("bell rung twice: it is eight", 2),
                ("low oil in the lamp", 1),
                ("cannot lift the gate, rope missing", 0),
                ("no answer from jetty 3", 1),
                ("depth could not be read", 0),
                ("next stop is the marsh", 2),
            ];
            let levels = [Level::Error, Level::Warning, Level::Info, Level::Debug];
            let names = ["deck", "engine.room", "bridge"];
            // Bare words side by side could be read by nobody: something sets the first ones off.
            let dressed = |word: &str, at: usize| match (dress, separator) {
                (0, _) | (_, " ") if at < 3 => format!("[{word}]"),
                (1, _) if at == 1 => format!("<{word}>"),
                _ => word.to_owned(),
            };
            let mut chance = seed | 1;
            let (mut lines, mut truth) = (Vec::new(), Vec::new());
            for tick in 0..80u64 {
                chance ^= chance << 13;
                chance ^= chance >> 7;
                chance ^= chance << 17;
                let (sentence, level) = sentences[if chance % 10 < 8 {
                    [0, 1, 2, 3, 4, 9][(chance / 16 % 6) as usize]
                } else {
                    (chance / 16 % 10) as usize
                }];
                let name = names[(chance / 1024 % 3) as usize];
                let when = moment(time, tick * 5 + chance / 64 % 4);
                let mut columns = vec![when.clone(), FORMS[form][level].to_owned()];
                if with[0] {
                    columns.insert(if order == 1 { 0 } else { 2 }, name.to_owned());
                }
                if with[1] {
                    columns.push("4312".to_owned());
                }
                if order == 2 {
                    columns.swap(0, 1);
                }
                let columns: Vec<String> =
                    columns.iter().enumerate().map(|(at, c)| dressed(c, at)).collect();
                lines.push(format!("{}{separator}{sentence}", columns.join(separator)));
                truth.push((
                    levels[level],
                    when,
                    if with[0] { name.to_owned() } else { String::new() },
                    sentence.to_owned(),
                ));
            }
            Night { lines, truth }
        },
    )
}

#[test]
#[expect(clippy::print_stdout, reason = "the rate is news")]
fn of_layouts_that_no_code_lists_ninety_five_in_a_hundred_are_found() {
    let mut runner = TestRunner::deterministic();
    let strategy = nights();
    let mut wrong = Vec::new();
    const DRAWS: usize = 400;
    for _ in 0..DRAWS {
        let night = strategy.new_tree(&mut runner).expect("a night").current();
        let lines: Vec<&str> = night.lines.iter().map(String::as_str).collect();
        let found = izba_console::read::layout::infer(&lines);
        let miss = found.first().map_or(Some("nothing found".to_owned()), |layout| {
            night.lines.iter().zip(&night.truth).find_map(
                |(line, (level, when, name, sentence))| {
                    let Some(prefix) = layout.prefix(line) else {
                        return Some(format!("{} does not fit", layout.template));
                    };
                    let time = prefix.time.map_or("", |(from, to)| &line[from..to]);
                    let right = prefix.level == Some(*level)
                        && time.contains(when.as_str())
                        && prefix.name.as_deref().unwrap_or("") == name
                        && &line[prefix.rest_at..] == sentence;
                    (!right).then(|| {
                        format!(
                            "{} reads {:?} {time:?} {:?} {:?}",
                            layout.template,
                            prefix.level,
                            prefix.name,
                            &line[prefix.rest_at..]
                        )
                    })
                },
            )
        });
        if let Some(miss) = miss {
            wrong.push(format!("{miss}\n    of {}\n       {}", night.lines[0], night.lines[1]));
        }
    }
    let right = DRAWS - wrong.len();
    println!("{right} of {DRAWS} layouts are found");
    assert!(
        right * 100 >= DRAWS * 95,
        "{right} of {DRAWS}\n{}",
        wrong[..wrong.len().min(25)].join("\n")
    );
}

#[test]
fn layouts_of_real_logs_are_found() {
    let root =
        std::path::Path::new(concat!(env!("CARGO_MANIFEST_DIR"), "/../../cases/consoles/logs"));
    let mut folders: Vec<_> = std::fs::read_dir(root)
        .expect("samples")
        .flatten()
        .map(|e| e.path())
        .filter(|p| p.is_dir())
        .collect();
    folders.sort();
    let found: Vec<String> = folders
        .iter()
        .map(|folder| {
            let text =
                std::fs::read_to_string(folder.join("console.txt")).expect("the sample").repeat(4);
            let lines: Vec<&str> = text.lines().collect();
            let layouts: Vec<String> = izba_console::read::layout::infer(&lines)
                .iter()
                .map(|l| l.template.to_string())
                .collect();
            format!(
                "{}: {}",
                folder.file_name().map_or_else(String::new, |n| n.to_string_lossy().into_owned()),
                layouts.join("  and  ")
            )
        })
        .collect();
    insta::assert_snapshot!(found.join("\n"), @"
        java-util: 
        key-value: {time} level={level} {message}
        python-columns: {time} | {level} | {name} | {message}
        python-default: 
        python-json:
        ");
}
