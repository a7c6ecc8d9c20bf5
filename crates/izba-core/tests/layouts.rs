//! Layouts of log lines that nobody wrote down: columns in any order, with many separators and forms, and the sentence at the
//! end. The level and the sentence have to come out in 95 of 100.

use izba_core::Level;
use izba_core::read::split_prefix;
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
    let date = prop_oneof![Just("2026-11-23"), Just("23/11/2026"), Just("2026/11/23"), Just("11-23"), Just("23.11.2026")];
    let clock = prop_oneof![Just("06:55:24"), Just("06:55:24.233"), Just("06:55:24,233"), Just("6:55:24.233811")];
    let zone = prop_oneof![4 => Just(""), 1 => Just("Z"), 1 => Just("+01:00")];
    (date, prop_oneof![Just("T"), Just(" ")], clock, zone, 0u8..4).prop_map(|(date, joint, clock, zone, form)| match form {
        0 => clock.to_owned(),
        _ => format!("{date}{joint}{clock}{zone}"),
    })
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
    let names = prop_oneof![Just("tide.gate"), Just("net.Ferry"), Just("ferry::bell"), Just("marsh_loop"), Just("Boat-7")];
    let threads = prop_oneof![Just("main"), Just("worker-3"), Just("4312"), Just("pool-1-thread-2")];
    let separator = prop_oneof![Just(" "), Just(" | "), Just(" - "), Just(" : ")];
    let sentence = prop_oneof![
        Just("the gate does not lift"),
        Just("no rope at the jetty: try again"),
        Just("12 passengers, 3 seats"),
        Just("Boat #3 is late"),
        Just("cannot open tide.json"),
        Just("lost 4 of 30 packets"),
    ];
    (times(), levels(), names, threads, separator, sentence, any::<[bool; 2]>(), 0u8..4, 0u8..3, any::<bool>()).prop_map(
        |(time, (word, level), name, thread, separator, sentence, with, dress, order, padded)| {
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
            let line = format!("{}{}{sentence}", columns.join(separator), if plain { " " } else { separator });
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
            wrong.push(format!("{:?} {:?} of {}", prefix.level, &drawn.line[prefix.rest_at..], drawn.line));
        }
    }
    let right = DRAWS - wrong.len();
    println!("{right} of {DRAWS} layouts are read rightly");
    assert!(right * 100 >= DRAWS * 95, "{right} of {DRAWS}\n{}", wrong[..wrong.len().min(40)].join("\n"));
}
