//! Where else? The places that do the same thing in the same way as a suspect: the same shape of
//! code, with names as holes, so that siblings of a mistake are mended with it.

use super::query::Query;
use izba_model::claim::{Fix, Slot, Suspect};
use izba_model::code::{At, FileFacts, Index, Kind};
use serde::Serialize;
use std::collections::{HashMap, HashSet};
use std::sync::Arc;

/// A place that does what another one does, in the same way.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Alike {
    /// Path relative to the project.
    pub file: Arc<str>,
    /// Line, from 1.
    pub line: u32,
    /// What stands there.
    pub text: String,
    /// How many of its names are the same too, 0 to 1.
    pub same: f32,
    /// Whether it is told because the same name stands there, whatever is done with it.
    #[serde(skip)]
    pub(super) again: bool,
    /// The edit that would do there what that of the suspect does, where it is known.
    #[serde(skip)]
    pub fix: Option<Fix>,
}

/// A smaller piece of code than this has the shape of many others.
const LEAST: usize = 5;
/// At least this share of the names has to be the same: the shape alone is chance.
const SHARED: f32 = 0.2;
/// At most this many are told.
const MOST: usize = 8;

/// The places of the same shape as the code that begins on `line` of `path`, those with most names
/// in common first; empty for data, and for code that is too small to have a shape of its own.
pub fn alike(index: &Index, path: &str, line: u32) -> Vec<Alike> {
    let Some(home) = index.file(path) else { return Vec::new() };
    let Some(unit) = units(home)
        .find(|u| u.line() == line)
        .or_else(|| home.tree.on_line(line).next().map(At::step))
    else {
        return Vec::new();
    };
    let (shape, names) = shape_of(unit);
    if names.is_empty() || shape.len() < LEAST {
        return Vec::new();
    }
    let parts = index.parts();
    let mut found: Vec<Alike> = Vec::new();
    for file in
        index.code().filter(|f| f.language == home.language && parts.together(&f.path, &home.path))
    {
        for other in units(file)
            .filter(|o| o.is(unit.kind()) && !(file.path == home.path && o.line() == unit.line()))
        {
            let (its_shape, its_names) = shape_of(other);
            if its_shape != shape {
                continue;
            }
            let shared = names.iter().zip(&its_names).filter(|(a, b)| a == b).count() as f32
                / names.len().max(1) as f32;
            if shared >= SHARED {
                let text = file.line(other.line()).unwrap_or("").trim().to_owned();
                found.push(Alike {
                    file: file.path.clone(),
                    line: other.line(),
                    text,
                    same: shared,
                    again: false,
                    fix: None,
                });
            }
        }
    }
    found.sort_by(|a, b| {
        b.same.total_cmp(&a.same).then_with(|| a.file.cmp(&b.file)).then(a.line.cmp(&b.line))
    });
    found.dedup_by(|a, b| a.file == b.file && a.line == b.line);
    found.truncate(MOST);
    found
}

/// The other lines on which the name stands that a suspect says is misspelt.
pub(super) fn written_again(query: &Query<'_>, first: &Suspect) -> Vec<Alike> {
    let says = &first.claim.says;
    let Some(Slot::Name(name)) = says.slot("name").filter(|_| first.claim.check() == "spelling")
    else {
        return Vec::new();
    };
    let here = |file: &FileFacts, line: u32| *file.path == *first.file && line == first.line;
    let named = query.named(name).filter(|(file, node)| !here(file, node.line()));
    let told = named.map(|(file, node)| Alike {
        file: file.path.clone(),
        line: node.line(),
        text: file.line(node.line()).unwrap_or("").trim().to_owned(),
        same: 1.0,
        again: true,
        fix: None,
    });
    once(told.collect())
}

/// Each line once, and no more than are looked through.
pub(super) fn once(mut found: Vec<Alike>) -> Vec<Alike> {
    let mut seen = HashSet::new();
    found.retain(|a| seen.insert((a.file.clone(), a.line)));
    found.truncate(MOST);
    found
}

/// Everything that is a step of its own: what stands in blocks.
fn units(file: &FileFacts) -> impl Iterator<Item = At<'_>> {
    file.tree.all().filter(|n| {
        n.parent().is_some_and(|p| matches!(p.kind(), Kind::Block | Kind::File))
            && !matches!(n.kind(), Kind::Block | Kind::Func | Kind::Class)
    })
}

/// The kinds of all nodes of a step without the blocks in it, where each name is the number of its
/// first occurrence; and the names.
fn shape_of(unit: At<'_>) -> (Vec<(Kind, String)>, Vec<&str>) {
    let (mut shape, mut names) = (Vec::new(), Vec::new());
    let mut gaps: HashMap<&str, usize> = HashMap::new();
    let mut open = vec![unit];
    while let Some(node) = open.pop() {
        let text = node.text().unwrap_or("");
        let hole = match node.kind() {
            Kind::Name | Kind::Field | Kind::Param | Kind::New | Kind::Type | Kind::Pair
                if !text.is_empty() =>
            {
                names.push(text);
                let next = gaps.len();
                format!("#{}", gaps.entry(text).or_insert(next))
            }
            Kind::Str => String::new(),
            // Operators and numbers make the shape: a loop from 0 is another one than a loop from
            // 1.
            _ => text.to_owned(),
        };
        shape.push((node.kind(), hole));
        let inner: Vec<At<'_>> = node
            .children()
            .filter(|c| !matches!(c.kind(), Kind::Block | Kind::Func | Kind::Class))
            .collect();
        open.extend(inner.into_iter().rev());
    }
    (shape, names)
}
