//! A file in pieces that can be left out so that the rest still parses: statements, members,
//! branches, entries of lists.

use crate::lang::{self, Places};
use crate::work::Work;
use izba_model::code::{Group, Language, Piece, Pieces};
use izba_model::dialect::Form;
use std::sync::Arc;
use tree_sitter::Node;

/// The file in pieces; without any where its language is not known.
pub fn pieces(path: &Arc<str>, text: &Arc<str>) -> Pieces {
    let mut found = Pieces { path: path.clone(), text: text.clone(), ..Pieces::default() };
    let Some(language) = Language::of(path) else { return found };
    match language.data {
        Some(Form::Json) => json(text, &mut found),
        Some(Form::Table) => lines(text, &mut found),
        Some(_) => {}
        None => {
            if let Some(places) = lang::places(language) {
                lang::with_parser(language, |parser| {
                    let parsed = parser.parse(text.as_ref(), None, &Work::reading(text.len()))?;
                    walk(parsed.root_node(), None, 0, places, &mut found);
                    Some(())
                });
            }
        }
    }
    found
}

/// JSON is read as what it comes from: the expression of a script, in brackets so that it is one.
fn json(text: &Arc<str>, found: &mut Pieces) {
    let Some(language) = Language::of_id("javascript") else { return };
    let Some(places) = lang::places(language) else { return };
    let script = format!("({text})");
    lang::with_parser(language, |parser| {
        let parsed = parser.parse(&script, None, &Work::reading(script.len()))?;
        let mut cursor = parsed.walk();
        // The one statement that all of it is stays.
        for statement in parsed.root_node().named_children(&mut cursor) {
            walk(statement, None, 1, places, found);
        }
        Some(())
    });
    // All were counted from behind the bracket.
    for piece in &mut found.pieces {
        piece.span = (piece.span.0.saturating_sub(1), piece.span.1.saturating_sub(1));
    }
    for comma in found.groups.iter_mut().flat_map(|g| g.commas.iter_mut()) {
        *comma = comma.saturating_sub(1);
    }
}

/// Of a file of lines each line is a piece.
fn lines(text: &str, found: &mut Pieces) {
    let mut from = 0;
    for (line, number) in text.split_inclusive('\n').zip(1..) {
        if !line.trim().is_empty() {
            found.pieces.push(Piece {
                parent: None,
                span: (from, from + line.trim_end().len()),
                lines: (number, number),
            });
        }
        from += line.len();
    }
}

/// How deep is gone.
const DEEPEST: usize = 200;

fn walk(node: Node<'_>, parent: Option<usize>, depth: usize, words: &Places, found: &mut Pieces) {
    if depth > DEEPEST {
        return;
    }
    let kind = node.kind();
    let (is_block, is_list) = (words.blocks.contains(&kind), words.lists.contains(&kind));
    let mut group = Group {
        if_empty: words.if_empty.filter(|_| is_block && node.parent().is_some()),
        ..Group::default()
    };
    let mut cursor = node.walk();
    for child in node.children(&mut cursor) {
        if is_list && child.kind() == "," && group.commas.len() + 1 == group.items.len() {
            group.commas.push(child.start_byte());
        }
        if !child.is_named() || child.is_extra() {
            continue;
        }
        let is_piece = (is_block || is_list) && child.end_byte() > child.start_byte()
            || words.branches.contains(&child.kind());
        let inner = if is_piece {
            let lines =
                (child.start_position().row as u32 + 1, child.end_position().row as u32 + 1);
            found.pieces.push(Piece {
                parent,
                span: (child.start_byte(), child.end_byte()),
                lines,
            });
            let at = found.pieces.len() - 1;
            if is_block || is_list {
                group.items.push(at);
            }
            Some(at)
        } else {
            parent
        };
        walk(child, inner, depth + 1, words, found);
    }
    if !group.items.is_empty() {
        found.groups.push(group);
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Leaves each piece out in turn; those after which the rest does not parse.
    fn broken(path: &str, text: &str) -> (usize, Vec<String>) {
        let (path, text): (Arc<str>, Arc<str>) = (path.into(), text.into());
        let all = pieces(&path, &text);
        let mut failed = Vec::new();
        for (at, piece) in all.pieces.iter().enumerate() {
            let mut gone = vec![false; all.pieces.len()];
            gone[at] = true;
            let left: Arc<str> = all.without(&gone).into();
            assert_eq!(
                (left.len(), left.lines().count()),
                (text.len(), text.lines().count()),
                "all keeps its place"
            );
            if crate::read(&path, &left).is_some_and(|f| f.broken) {
                failed.push(text[piece.span.0..piece.span.1].to_owned());
            }
        }
        (all.pieces.len(), failed)
    }

    #[test]
    fn whatever_is_left_out_of_the_demo_and_the_seeds_the_rest_parses() {
        let root = std::path::Path::new(env!("CARGO_MANIFEST_DIR")).join("../..");
        let mut counted = 0;
        let mut folders =
            vec![root.join("cases/faults"), root.join("crates/izba-standins/demo/night-ferry")];
        while let Some(folder) = folders.pop() {
            for entry in std::fs::read_dir(&folder).expect("it is there").flatten() {
                let path = entry.path();
                if path.is_dir() {
                    folders.push(path);
                    continue;
                }
                let name =
                    path.file_name().map(|n| n.to_string_lossy().into_owned()).unwrap_or_default();
                let Ok(text) = std::fs::read_to_string(&path) else { continue };
                let healthy = crate::read(&name.as_str().into(), &text.as_str().into())
                    .is_some_and(|f| !f.broken);
                if healthy {
                    let (count, failed) = broken(&name, &text);
                    counted += count;
                    assert!(failed.is_empty(), "{}: {failed:?}", path.display());
                }
            }
        }
        assert!(counted > 1_500, "{counted}");
    }

    #[test]
    fn nested_pieces_and_empty_blocks() {
        let text =
            "def fare(kind):\n    if kind:\n        return [1,\n                2]\n    return 0\n";
        let all = pieces(&"a.py".into(), &text.into());
        let spans: Vec<String> = all
            .pieces
            .iter()
            .map(|p| {
                format!(
                    "{} in {}",
                    text[p.span.0..p.span.1].lines().next().unwrap_or(""),
                    p.parent.map_or("the file".into(), |n| n.to_string())
                )
            })
            .collect();
        insta::assert_snapshot!(spans.join("\n"), @r"
        def fare(kind): in the file
        if kind: in 0
        return [1, in 1
        1 in 2
        2 in 2
        return 0 in 0
        ");
        let gone = |which: &[usize]| (0..6).map(|at| which.contains(&at)).collect::<Vec<bool>>();
        assert_eq!(
            all.without(&gone(&[3])),
            "def fare(kind):\n    if kind:\n        return [  \n                2]\n    return 0\n"
        );
        assert_eq!(
            all.without(&gone(&[2, 3, 4, 5])),
            "def fare(kind):\n    if kind:\n        pass      \n                  \n            \n"
        );
    }
}
