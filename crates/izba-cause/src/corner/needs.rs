//! What a piece cannot mean the same without: where the names that it reads are made. Leaving out
//! the line that gives a variable its value, and keeping the one that reads it, would show an error
//! of another origin that looks the same.

use super::Pieces;
use crate::suspect::bindings;
use izba_model::code::{
    At, FileFacts, How, Index, Kind, Language, Role, letters_of, may_be_edit, name_edit,
};
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
            let mut found: Vec<BTreeSet<(usize, usize)>> =
                vec![BTreeSet::new(); pieces.pieces.len()];
            let Some(facts) = facts[at].filter(|f| f.language.is_code()) else {
                return found.into_iter().map(|f| f.into_iter().collect()).collect();
            };
            // What an entry is taken out of by a computed index may be any of its entries.
            for node in facts.tree.all().filter(|n| n.is(Kind::Index)) {
                let computed =
                    node.child(1).is_some_and(|i| !matches!(i.kind(), Kind::Num | Kind::Str));
                let (Some(list), Some(user)) =
                    (node.child(0).filter(|_| computed), pieces.at(node.span().0))
                else {
                    continue;
                };
                for (table_of, table) in tables(index, facts, list, HOPS) {
                    let Some(file) = file_of(&table_of.path) else { continue };
                    let entries: Vec<usize> =
                        table.children().filter_map(|e| files[file].at(e.span().0)).collect();
                    for piece in entries.iter().filter(|_| entries.len() <= MANY) {
                        if file != at || *piece != user && !pieces.is_within(user, *piece) {
                            found[user].insert((file, *piece));
                        }
                    }
                }
            }
            for node in facts
                .tree
                .all()
                .filter(|n| matches!(n.kind(), Kind::Name | Kind::Field) && n.defines().is_none())
            {
                let (Some(word), Some(user)) = (node.text(), pieces.at(node.span().0)) else {
                    continue;
                };
                let mut need = |file: usize, piece: Option<usize>| {
                    let Some(piece) = piece else { return };
                    if file != at || piece != user && !pieces.is_within(user, piece) {
                        found[user].insert((file, piece));
                    }
                };
                let bound =
                    if node.is(Kind::Name) { bindings(facts, node, word) } else { Vec::new() };
                for made in &bound {
                    need(at, pieces.at(made.span().0));
                }
                if node.is(Kind::Field) {
                    for (file, piece) in makers(files, index, facts.language, word, &file_of) {
                        need(file, piece);
                    }
                }
                // What is made nowhere may be meant for what is nearly called so.
                if bound.is_empty() && !index.definitions(word).any(|_| true) {
                    for (file, piece) in near
                        .entry(word.to_owned())
                        .or_insert_with(|| slips(files, index, facts.language, word, &file_of))
                        .iter()
                    {
                        need(*file, *piece);
                    }
                }
            }
            found.into_iter().map(|f| f.into_iter().collect()).collect()
        })
        .collect()
}

/// Assignments that are followed from a list that is read to where it is written out.
const HOPS: u32 = 3;

/// The tables that an expression may stand for: written out where its name is given its value, here
/// or in the file that is brought in.
fn tables<'a>(
    index: &'a Index,
    facts: &'a FileFacts,
    node: At<'a>,
    hops: u32,
) -> Vec<(&'a FileFacts, At<'a>)> {
    if node.is(Kind::Table) {
        return vec![(facts, node)];
    }
    let (Some(word), Some(left)) = (node.last_name(), hops.checked_sub(1)) else {
        return Vec::new();
    };
    let mut values: Vec<(&FileFacts, At<'_>)> = Vec::new();
    match node.kind() {
        Kind::Name => values.extend(
            bindings(facts, node, word)
                .into_iter()
                .filter_map(|b| Some((facts, b.assigned_value()?))),
        ),
        Kind::Field => values.extend(
            index
                .definitions(word)
                .filter(|d| d.file.language == facts.language)
                .filter_map(|d| Some((d.file, d.at.assigned_value()?))),
        ),
        _ => {}
    }
    let mut found = Vec::new();
    for (file, value) in values {
        if let Some(brought) = value.whole().find(|n| n.is(Kind::Import)).and_then(At::text) {
            // The file gives back a table, or a name that stands for one.
            let stem = brought.rsplit(['/', '.']).next().unwrap_or(brought);
            for other in index.code().filter(|f| f.stem() == stem && f.language == file.language) {
                let given = other
                    .tree
                    .all()
                    .filter(|n| n.is(Kind::Return) && n.function().is_none())
                    .filter_map(|n| n.child(0));
                found.extend(given.flat_map(|value| tables(index, other, value, left)));
            }
        } else {
            found.extend(tables(index, file, value, left));
        }
    }
    found.truncate(MANY);
    found
}

/// Where a field of this name is made: in code of the same language and in data.
fn makers(
    files: &[Pieces],
    index: &Index,
    language: Language,
    word: &str,
    file_of: &dyn Fn(&str) -> Option<usize>,
) -> Vec<(usize, Option<usize>)> {
    let mut found: Vec<(usize, Option<usize>)> = Vec::new();
    for made in index.definitions(word).filter(|d| {
        d.file.language == language && matches!(d.how, How::Assigned | How::Key | How::Function)
    }) {
        if let Some(file) = file_of(&made.file.path) {
            found.push((file, files[file].at(made.at.span().0)));
        }
    }
    for data in index.data() {
        let Some(file) = file_of(&data.path) else { continue };
        let lines =
            data.data.iter().filter(|d| d.role == Role::Key && *d.text == *word).map(|d| d.line);
        found.extend(lines.map(|line| (file, key_piece(&files[file], line, word))));
    }
    if found.len() > MANY { Vec::new() } else { found }
}

/// The piece of a data file that begins with this key in a line.
fn key_piece(pieces: &Pieces, line: u32, key: &str) -> Option<usize> {
    let from: usize = pieces.text.split_inclusive('\n').take(line as usize - 1).map(str::len).sum();
    let text = pieces.text.get(from..)?.lines().next()?;
    let at = text.find(&format!("\"{key}\"")).or_else(|| text.find(key));
    at.and_then(|at| pieces.at(from + at)).or_else(|| pieces.on_line(line))
}

/// Where a name is made that is nearly this one.
fn slips(
    files: &[Pieces],
    index: &Index,
    language: Language,
    word: &str,
    file_of: &dyn Fn(&str) -> Option<usize>,
) -> Vec<(usize, Option<usize>)> {
    let letters = letters_of(word);
    let mut found = Vec::new();
    if word.len() < 3 {
        return found;
    }
    for file in index.code().filter(|f| f.language == language) {
        let Some(at) = file_of(&file.path) else { continue };
        for name in file
            .tree
            .words()
            .filter(|w| may_be_edit(letters, letters_of(w)) && name_edit(word, w).is_some())
        {
            found.extend(
                file.tree
                    .named(name)
                    .filter(|n| n.defines().is_some())
                    .map(|n| (at, files[at].at(n.span().0))),
            );
        }
    }
    if found.len() > MANY { Vec::new() } else { found }
}
