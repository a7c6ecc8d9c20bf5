//! The same program in another dress: what is found must not hang on files of others that lie
//! beside it, on how names are spelt, on how deep lines stand, or on comments.

use izba_model::code::{How, Index, Kind};
use std::collections::BTreeSet;

/// The files of a program, and what its console said.
pub type Program = (Vec<(String, String)>, String);

/// One way to dress a program; `None` where it does not fit this one.
pub type Dress = fn(&Program) -> Option<Program>;

/// All of them, by what they change.
pub const ALL: [(&str, Dress); 4] = [
    ("files of others beside it", with_others),
    ("other names", with_other_names),
    ("deeper lines", with_deeper_lines),
    ("comments", with_comments),
];

/// Another program in a folder of its own, in four languages.
fn with_others((files, console): &Program) -> Option<Program> {
    let mut files = files.clone();
    let others = [
        (
            "other/barn.py",
            "CROPS = ['oat', 'rye']\n\n\ndef store(crop, weight):\n    return CROPS.index(crop) * weight\n",
        ),
        (
            "other/barn.lua",
            "local crops = { \"oat\", \"rye\" }\nlocal function store(crop)\n  return crops[crop]\nend\nreturn store\n",
        ),
        (
            "other/barn.js",
            "const crops = new Map();\nexports.store = (crop, weight) => crops.set(crop, weight);\n",
        ),
        (
            "other/Barn.java",
            "class Barn {\n    private final int weight;\n    Barn(int weight) {\n        this.weight = weight;\n    }\n}\n",
        ),
        ("other/barn.json", "{\"oat\": 4, \"rye\": 7}\n"),
    ];
    files.extend(others.map(|(path, text)| (path.to_owned(), text.to_owned())));
    Some((files, console.clone()))
}

/// Every name that the program makes itself, and that stands in no text and no data, with two
/// letters more.
fn with_other_names((files, console): &Program) -> Option<Program> {
    let index = index(files);
    let mut names: BTreeSet<&str> = BTreeSet::new();
    let mut kept: BTreeSet<String> = BTreeSet::new();
    for file in index.code() {
        for node in file.tree.all() {
            let Some(text) = node.text() else { continue };
            match node.defines() {
                // What is brought in may be the library's; a member may be its too.
                Some(How::Assigned | How::Parameter | How::Loop)
                    if node.is(Kind::Name) || node.is(Kind::Param) =>
                {
                    names.insert(text);
                }
                Some(_) => drop(kept.insert(text.to_owned())),
                None if matches!(node.kind(), Kind::Str | Kind::Field | Kind::Pair) => {
                    kept.extend(words(text).map(str::to_owned));
                }
                None => {}
            }
        }
    }
    let data = index.data().flat_map(|f| f.data.iter()).map(|d| d.text.to_string());
    kept.extend(data.chain(index.files().iter().map(|f| f.stem().to_owned())));
    let long = |name: &&str| {
        name.len() > 3 && !kept.contains(*name) && !matches!(*name, "self" | "this" | "args")
    };
    let names: Vec<&str> = names.into_iter().filter(long).collect();
    let rename = |text: &str| {
        names.iter().fold(text.to_owned(), |text, name| renamed(&text, name, &format!("{name}zu")))
    };
    // The signs under a line that the console repeats would stand elsewhere.
    let signs = console.lines().any(|l| l.contains('^') || l.contains('~'));
    (!names.is_empty() && !signs).then(|| {
        let files = files.iter().map(|(path, text)| (path.clone(), rename(text))).collect();
        (files, rename(console))
    })
}

/// All lines twice as deep.
fn with_deeper_lines((files, console): &Program) -> Option<Program> {
    let deeper = |(path, text): &(String, String)| {
        let lines = text.lines().map(|line| {
            let depth = line.len() - line.trim_start_matches(' ').len();
            format!("{}{line}\n", " ".repeat(depth))
        });
        (path.clone(), lines.collect())
    };
    // Columns would be others, and so would the lines of texts over several lines.
    let moves = files.iter().any(|(path, text)| {
        path.ends_with(".js") || text.contains("\"\"\"") || text.contains("[[")
    });
    let files: Vec<(String, String)> = files.iter().map(deeper).collect();
    (!moves).then(|| (files, console.clone()))
}

/// A comment behind every line that ends a statement.
fn with_comments((files, console): &Program) -> Option<Program> {
    let with = |(path, text): &(String, String)| {
        let sign = match path.rsplit('.').next() {
            Some("py") => " # moored",
            Some("lua") => " -- moored",
            Some("js" | "java" | "cs") => " // moored",
            _ => "",
        };
        let lines = text.lines().map(|line| {
            let ends = line.trim_end().ends_with([')', ';', ']', '}']);
            format!("{line}{}\n", if ends { sign } else { "" })
        });
        (path.clone(), lines.collect())
    };
    Some((files.iter().map(with).collect(), console.clone()))
}

fn index(files: &[(String, String)]) -> Index {
    let files: Vec<_> = files.iter().map(|(p, t)| (p.as_str().into(), t.as_str().into())).collect();
    izba_code::index(files.iter().map(|(p, t)| (p, Some(t))))
}

fn words(text: &str) -> impl Iterator<Item = &str> {
    text.split(|c: char| !c.is_alphanumeric() && c != '_').filter(|w| !w.is_empty())
}

/// A text with one word in place of another.
fn renamed(text: &str, old: &str, new: &str) -> String {
    let part = |c: char| c.is_alphanumeric() || c == '_';
    let mut out = String::new();
    let mut rest = text;
    while let Some(at) = rest.find(old) {
        let (before, behind) = (&rest[..at], &rest[at + old.len()..]);
        let inside =
            before.chars().next_back().or_else(|| out.chars().next_back()).is_some_and(part)
                || behind.chars().next().is_some_and(part);
        out.push_str(before);
        out.push_str(if inside { old } else { new });
        rest = behind;
    }
    out + rest
}
