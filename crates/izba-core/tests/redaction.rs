//! How much of what is nobody's business passes, and how much that is harmless is taken out: on two
//! hundred kinds of secrets (`redaction/make.py`), half of which were set aside while rules were
//! written, and on lines of consoles and code.

use izba_core::help::{Owner, redact};
use izba_model::text::decode;
use std::path::{Path, PathBuf};

struct Planted {
    name: String,
    aside: bool,
    text: String,
    secret: String,
}

fn planted() -> Vec<Planted> {
    let file = include_str!("redaction/planted.txt");
    let kinds = file.split("\n== ").skip(1);
    kinds
        .map(|kind| {
            let (head, text) = kind.split_once('\n').expect("a name, then lines");
            let (name, aside) = match head.strip_suffix(" aside") {
                Some(name) => (name, true),
                None => (head, false),
            };
            let text = text.trim_end_matches('\n').replace('␛', "\u{1b}");
            let from = text.find('⟦').expect("a secret") + '⟦'.len_utf8();
            let to = text.find('⟧').expect("its end");
            let secret = text[from..to].to_owned();
            Planted { name: name.into(), aside, text: text.replace(['⟦', '⟧'], ""), secret }
        })
        .collect()
}

fn plain(text: &str) -> String {
    text.lines().map(|l| decode(l.as_bytes()).into_owned()).collect::<Vec<_>>().join("\n")
}

/// Whether a secret can still be read: a whole line of it, or more than half of one.
fn passes(planted: &Planted) -> bool {
    let left = plain(&redact(&planted.text, &Owner::default()).text);
    plain(&planted.secret).lines().any(|line| {
        let signs: Vec<char> = line.chars().collect();
        let half = signs.len().div_ceil(2).max(4).min(signs.len());
        signs.windows(half).any(|part| left.contains(&part.iter().collect::<String>()))
    })
}

#[test]
fn secrets_of_two_hundred_kinds_do_not_pass() {
    let all = planted();
    let mut shares = Vec::new();
    for aside in [false, true] {
        let kinds: Vec<&Planted> = all.iter().filter(|p| p.aside == aside).collect();
        let passed: Vec<&str> =
            kinds.iter().filter(|p| passes(p)).map(|p| p.name.as_str()).collect();
        shares.push(passed.len() as f64 / kinds.len() as f64);
        #[expect(clippy::print_stderr, reason = "the figure is what is asked for")]
        {
            let which = if aside { "set aside" } else { "at hand" };
            // What was set aside is counted, not told.
            let names = if aside { String::new() } else { format!(": {}", passed.join(" ")) };
            eprintln!("{which}: {} of {} pass{names}", passed.len(), kinds.len());
        }
    }
    assert!(shares.iter().all(|share| *share <= 0.03), "{shares:.3?} pass");
}

fn files(folder: &Path, into: &mut Vec<PathBuf>) {
    let mut here: Vec<PathBuf> =
        std::fs::read_dir(folder).into_iter().flatten().flatten().map(|e| e.path()).collect();
    here.sort();
    for path in here {
        match path.is_dir() {
            true => files(&path, into),
            false => into.push(path),
        }
    }
}

#[test]
#[expect(clippy::disallowed_methods, reason = "tests may read samples")]
fn harmless_lines_stay() {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("../..");
    let mut found = Vec::new();
    files(&root.join("cases"), &mut found);
    files(&root.join("crates/izba-standins/demo"), &mut found);
    let lines: Vec<String> = found
        .iter()
        .filter_map(|path| std::fs::read_to_string(path).ok())
        .flat_map(|text| text.lines().map(plain).collect::<Vec<_>>())
        .filter(|line| line.len() > 8)
        .collect();
    let step = (lines.len() / 5_000).max(1);
    let some: Vec<&String> = lines.iter().step_by(step).take(5_000).collect();
    assert!(some.len() >= 4_000, "{}", some.len());
    let touched: Vec<String> = some
        .iter()
        .filter_map(|line| {
            let redacted = redact(line, &Owner::default());
            let what = redacted.taken.first()?;
            Some(format!("{} ({}): {line}", what.what, what.was))
        })
        .collect();
    let share = touched.len() as f64 / some.len() as f64;
    #[expect(clippy::print_stderr, reason = "the figure is what is asked for")]
    {
        eprintln!("{} of {} harmless lines are touched", touched.len(), some.len());
    }
    assert!(share <= 0.01, "{share:.4}:\n{}", touched.join("\n"));
}
