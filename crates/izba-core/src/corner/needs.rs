//! What a piece cannot mean the same without: where the names that it reads are made. Leaving out the line that gives a variable
//! its value, and keeping the one that reads it, would show an error of another origin that looks the same.

use super::Pieces;
use crate::code::{FileFacts, How, Index, Kind, Role, letters_of, may_slip, slip};
use crate::suspect::bindings;
use std::collections::{BTreeMap, BTreeSet};

/// A field of which more are made says nothing about this one.
const MANY: usize = 12;

/// For each piece of each file the pieces (file, piece) that it needs.
pub fn needs(files: &[Pieces], index: &Index) -> Vec<Vec<Vec<(usize, usize)>>> {
    let facts: Vec<Option<&FileFacts>> = files.iter().map(|f| index.file(&f.path)).collect();
    let file_of = |path: &str| files.iter().position(|f| *f.path == *path);
    let mut near: BTreeMap<String, Vec<(usize, Option<usize>)>> = BTreeMap::new();
    files
        .iter()
        .enumerate()
        .map(|(at, pieces)| {
            let mut found: Vec<BTreeSet<(usize, usize)>> = vec![BTreeSet::new(); pieces.pieces.len()];
            let Some(facts) = facts[at].filter(|f| f.language.is_code()) else { return found.into_iter().map(|f| f.into_iter().collect()).collect() };
            for node in facts.tree.all().filter(|n| matches!(n.kind(), Kind::Name | Kind::Field) && n.makes().is_none()) {
                let (Some(word), Some(user)) = (node.text(), pieces.at(node.span().0)) else { continue };
                let mut need = |file: usize, piece: Option<usize>| {
                    let Some(piece) = piece else { return };
                    if file != at || piece != user && !pieces.is_within(user, piece) {
                        found[user].insert((file, piece));
                    }
                };
                let bound = if node.is(Kind::Name) { bindings(facts, node, word) } else { Vec::new() };
                for made in &bound {
                    need(at, pieces.at(made.span().0));
                }
                if node.is(Kind::Field) {
                    for (file, piece) in makers(files, index, word, &file_of) {
                        need(file, piece);
                    }
                }
                // What is made nowhere may be meant for what is nearly called so.
                if bound.is_empty() && !index.definitions(word).any(|_| true) {
                    for (file, piece) in near.entry(word.to_owned()).or_insert_with(|| slips(files, index, word, &file_of)).iter() {
                        need(*file, *piece);
                    }
                }
            }
            found.into_iter().map(|f| f.into_iter().collect()).collect()
        })
        .collect()
}

/// Where a field of this name is made: in code and data.
fn makers(files: &[Pieces], index: &Index, word: &str, file_of: &dyn Fn(&str) -> Option<usize>) -> Vec<(usize, Option<usize>)> {
    let mut found: Vec<(usize, Option<usize>)> = Vec::new();
    for made in index.definitions(word).filter(|d| matches!(d.how, How::Assigned | How::Key | How::Function)) {
        if let Some(file) = file_of(&made.file.path) {
            found.push((file, files[file].at(made.at.span().0)));
        }
    }
    for data in index.data() {
        let Some(file) = file_of(&data.path) else { continue };
        let lines = data.data.iter().filter(|d| d.role == Role::Key && *d.text == *word).map(|d| d.line);
        found.extend(lines.map(|line| (file, files[file].on_line(line))));
    }
    if found.len() > MANY { Vec::new() } else { found }
}

/// Where a name is made that is nearly this one.
fn slips(files: &[Pieces], index: &Index, word: &str, file_of: &dyn Fn(&str) -> Option<usize>) -> Vec<(usize, Option<usize>)> {
    let letters = letters_of(word);
    let mut found = Vec::new();
    if word.len() < 3 {
        return found;
    }
    for file in index.code() {
        let Some(at) = file_of(&file.path) else { continue };
        for name in file.tree.words().filter(|w| may_slip(letters, letters_of(w)) && slip(word, w).is_some()) {
            found.extend(file.tree.named(name).filter(|n| n.makes().is_some()).map(|n| (at, files[at].at(n.span().0))));
        }
    }
    if found.len() > MANY { Vec::new() } else { found }
}
