//! Slips at random along the grammar: a piece of the tree is left out, written twice, replaced by
//! another piece of its kind, or two beside each other change places. Nothing here knows what any
//! check looks for. The same text gives the same slips each time.

use super::change::{Change, Files, mix};
use tree_sitter::{Language, Node, Parser};

/// Changes tried of one kind of slip in one project.
const TRIED: usize = 16;

/// Makes a slip at a piece of a file, with a number to choose by; the text after it.
type Slip = fn(&File, &Piece, u64) -> Option<String>;

/// Kinds of slips, each from one piece of a file's tree and the others of the project's tree.
const SLIPS: &[(&str, Slip)] = &[
    ("left-out", left_out),
    ("twice", twice),
    ("another", another),
    ("two-swapped", two_swapped),
    ("other-sign", other_sign),
];

struct File<'t> {
    name: &'t str,
    text: &'t str,
    pieces: Vec<Piece>,
}

/// A piece of a tree: its kind in the grammar, its bytes, its parent's bytes, and whether it has a
/// name in the grammar (signs and keywords have none).
struct Piece {
    kind: u16,
    from: usize,
    to: usize,
    parent: (usize, usize),
    named: bool,
}

fn language(file: &str) -> Option<Language> {
    Some(match file.rsplit_once('.')?.1 {
        "lua" => tree_sitter_lua::LANGUAGE.into(),
        "js" => tree_sitter_javascript::LANGUAGE.into(),
        "py" => tree_sitter_python::LANGUAGE.into(),
        "java" => tree_sitter_java::LANGUAGE.into(),
        "cs" => tree_sitter_c_sharp::LANGUAGE.into(),
        _ => return None,
    })
}

/// Slips at random, the same each time, spread over the files of code.
pub fn changes(files: &Files) -> Vec<Change> {
    let files: Vec<File> = files.iter().filter_map(|(name, text)| file(name, text)).collect();
    let mut out = Vec::new();
    for (slip, make) in SLIPS {
        let mut places: Vec<(u64, &File, &Piece)> = files
            .iter()
            .flat_map(|f| f.pieces.iter().map(move |p| (f, p)))
            .map(|(f, p)| (mix(&format!("{slip} {} {} {}", f.name, p.from, p.to)), f, p))
            .collect();
        places.sort_by_key(|(chance, ..)| *chance);
        let made = places.into_iter().filter_map(|(chance, file, piece)| {
            let after = make(file, piece, chance)?;
            let words: String = file.text[piece.from..piece.to].chars().take(60).collect();
            let cause = format!("{slip}: {words}");
            Change::between(slip, file.name, file.text, &after, cause)
        });
        out.extend(made.take(TRIED));
    }
    out
}

fn file<'t>(name: &'t str, text: &'t str) -> Option<File<'t>> {
    let mut parser = Parser::new();
    parser.set_language(&language(name)?).ok()?;
    let tree = parser.parse(text, None)?;
    let mut pieces = Vec::new();
    let mut open: Vec<Node> = vec![tree.root_node()];
    while let Some(node) = open.pop() {
        let mut cursor = node.walk();
        for child in node.children(&mut cursor) {
            pieces.push(Piece {
                kind: child.kind_id(),
                from: child.start_byte(),
                to: child.end_byte(),
                parent: (node.start_byte(), node.end_byte()),
                named: child.is_named() && !child.is_extra(),
            });
            open.push(child);
        }
    }
    pieces.retain(|p| p.to > p.from);
    pieces.sort_by_key(|p| (p.from, p.to));
    Some(File { name, text, pieces })
}

fn put(text: &str, from: usize, to: usize, instead: &str) -> String {
    format!("{}{instead}{}", &text[..from], &text[to..])
}

fn left_out(file: &File, piece: &Piece, _: u64) -> Option<String> {
    if !piece.named {
        return None;
    }
    // A line that holds nothing else goes as a whole.
    let text = file.text;
    let begin = text[..piece.from].rfind('\n').map_or(0, |n| n + 1);
    let alone = text[begin..piece.from].trim().is_empty();
    let rest = text[piece.to..].split_inclusive('\n').next().unwrap_or("");
    if alone && rest.trim().trim_end_matches([';', ',']).is_empty() {
        return Some(put(text, begin, piece.to + rest.len(), ""));
    }
    let after = rest.strip_prefix(", ").map_or(0, |_| 2);
    Some(put(text, piece.from, piece.to + after, ""))
}

fn twice(file: &File, piece: &Piece, _: u64) -> Option<String> {
    let words = &file.text[piece.from..piece.to];
    let between = if file.text[piece.to..].starts_with(',') { ", " } else { " " };
    piece.named.then(|| put(file.text, piece.to, piece.to, &format!("{between}{words}")))
}

fn another(file: &File, piece: &Piece, chance: u64) -> Option<String> {
    if !piece.named {
        return None;
    }
    let words = &file.text[piece.from..piece.to];
    let others: Vec<&str> = file
        .pieces
        .iter()
        .filter(|p| p.kind == piece.kind)
        .map(|p| &file.text[p.from..p.to])
        .filter(|other| *other != words && !other.contains(words) && !words.contains(other))
        .collect();
    let other = others.get((chance / 7) as usize % others.len().max(1))?;
    Some(put(file.text, piece.from, piece.to, other))
}

fn two_swapped(file: &File, piece: &Piece, _: u64) -> Option<String> {
    if !piece.named {
        return None;
    }
    let next =
        file.pieces.iter().find(|p| p.named && p.parent == piece.parent && p.from >= piece.to)?;
    let (text, a, b) = (file.text, piece, next);
    let (one, two) = (&text[a.from..a.to], &text[b.from..b.to]);
    (one != two)
        .then(|| format!("{}{two}{}{one}{}", &text[..a.from], &text[a.to..b.from], &text[b.to..]))
}

fn other_sign(file: &File, piece: &Piece, chance: u64) -> Option<String> {
    let words = &file.text[piece.from..piece.to];
    let sign =
        |w: &str| !w.is_empty() && w.len() <= 3 && w.bytes().all(|b| b.is_ascii_punctuation());
    if piece.named || !sign(words) {
        return None;
    }
    let mut signs: Vec<&str> = file
        .pieces
        .iter()
        .filter(|p| !p.named)
        .map(|p| &file.text[p.from..p.to])
        .filter(|other| sign(other) && *other != words)
        .collect();
    signs.sort_unstable();
    signs.dedup();
    let other = signs.get((chance / 7) as usize % signs.len().max(1))?;
    Some(put(file.text, piece.from, piece.to, other))
}

#[cfg(test)]
mod tests {
    use super::changes;
    use std::collections::BTreeMap;

    #[test]
    fn each_slip_changes_one_file_and_is_the_same_each_time() {
        let text = "local a = 1\nlocal b = a + 2\nprint(a, b)\nprint(b * 3)\n";
        let files = BTreeMap::from([("main.lua".to_owned(), text.to_owned())]);
        let (first, again) = (changes(&files), changes(&files));
        let told = |all: &[super::Change]| -> Vec<String> {
            all.iter().map(|c| format!("{} {} {:?}", c.slip, c.at, c.put)).collect()
        };
        assert_eq!(told(&first), told(&again));
        for slip in super::SLIPS {
            assert!(first.iter().any(|c| c.slip == slip.0), "{}: {:?}", slip.0, told(&first));
        }
        for change in &first {
            assert_ne!(super::super::change::apply(text, change), text, "{}", change.cause);
            assert!(change.guilty.0 >= 1 && change.guilty.0 <= change.guilty.1);
        }
    }
}
