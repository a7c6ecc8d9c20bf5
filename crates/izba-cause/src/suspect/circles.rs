//! circles: records of data that name one another in a circle.

use super::check::{Check, Seen, Strength};
use super::loops::Arrow;
use super::query::Query;
use izba_model::Family;
use izba_model::code::{Datum, FileFacts, Role};
use izba_model::{say, sayings};
use std::collections::{BTreeMap, BTreeSet, HashMap};

/// Of a table of more columns only so many are looked at as names, and as references.
const COLUMNS: usize = 40;

sayings! {
    "circles", Any, "../../words/suspects/circles.toml";
    CLOSES = "closes",
    LEADS_TO = "leads-to",
}

/// The check for this: records of data that name one another in a circle.
pub static CHECK: Check = Check {
    id: "circles",
    kinds: KINDS,
    applies: |query| query.family() != Family::DoesNotParse,
    look,
};

/// The circles of one data file, each once, with the key that the references stand under: arrows
/// from the name of a record to the name that it refers to. The last one leads from the record that
/// stands lowest back up.
pub fn circles(file: &FileFacts) -> Vec<(&str, Vec<Arrow>)> {
    let mut records: BTreeMap<u32, Vec<&Datum>> = BTreeMap::new();
    file.data
        .iter()
        .filter(|d| d.role == Role::Value)
        .for_each(|d| records.entry(d.record).or_default().push(d));
    // Under which key names stand that others refer to: of one path, each once.
    let mut by_path: BTreeMap<&str, Vec<&Datum>> = BTreeMap::new();
    records.values().flatten().for_each(|d| by_path.entry(&d.path).or_default().push(d));
    let names: Vec<(&str, BTreeSet<&str>)> = by_path
        .iter()
        .map(|(path, all)| {
            (*path, all, all.iter().map(|d| d.text.as_ref()).collect::<BTreeSet<&str>>())
        })
        .filter(|(_, all, set)| {
            set.len() == all.len()
                && set.len() >= 2
                && set.iter().all(|t| t.parse::<f64>().is_err())
        })
        .map(|(path, _, set)| (path, set))
        .collect();
    let parent = |path: &str| path.rsplit_once('/').map_or("", |(p, _)| p).to_owned();
    let mut found: Vec<(&str, Vec<Arrow>)> = Vec::new();
    let fields: Vec<HashMap<&str, &Datum>> = records
        .values()
        .map(|record| record.iter().rev().map(|d| (d.path.as_ref(), *d)).collect())
        .collect();
    for (id, known) in names.iter().take(COLUMNS) {
        let beside = by_path.keys().filter(|p| *p != id && parent(p) == parent(id));
        for reference in beside.take(COLUMNS) {
            // All that stands there has to be such a name.
            let mut arrows: BTreeMap<&str, (&str, u32)> = BTreeMap::new();
            let mut strange = false;
            for record in &fields {
                if let (Some(name), Some(to)) = (record.get(id), record.get(reference)) {
                    strange |= !known.contains(to.text.as_ref());
                    arrows.insert(&name.text, (&to.text, to.line));
                }
            }
            if strange || arrows.len() < 2 {
                continue;
            }
            let mut seen: BTreeSet<&str> = BTreeSet::new();
            for start in arrows.keys() {
                let mut way: Vec<&str> = Vec::new();
                let mut at = *start;
                while seen.insert(at) {
                    way.push(at);
                    match arrows.get(at) {
                        Some((next, _)) => at = next,
                        None => break,
                    }
                }
                let circle: Vec<&str> = way
                    .iter()
                    .position(|w| *w == at)
                    .map_or_else(Vec::new, |from| way[from..].to_vec());
                let closed =
                    arrows.get(way.last().copied().unwrap_or("")).is_some_and(|(to, _)| *to == at);
                if circle.len() < 2 || !closed {
                    continue;
                }
                let mut ring: Vec<Arrow> = circle
                    .iter()
                    .filter_map(|name| {
                        arrows.get(name).map(|(to, line)| Arrow {
                            from: (*name).into(),
                            line: *line,
                            to: (*to).into(),
                        })
                    })
                    .collect();
                let lowest =
                    ring.iter().enumerate().max_by_key(|(_, a)| a.line).map_or(0, |(at, _)| at);
                ring.rotate_left(lowest + 1);
                found.push((reference.rsplit('/').next().unwrap_or(reference), ring));
            }
        }
    }
    found
}

/// The circle in words, each file once and the first one again at its end.
pub fn words(ring: &[Arrow]) -> String {
    let names: Vec<&str> =
        ring.iter().map(|a| a.from.as_ref()).chain(ring.first().map(|a| a.from.as_ref())).collect();
    names.join(" → ")
}

fn look(query: &Query<'_>, seen: &mut Seen) {
    for file in query.scope.iter().filter(|f| !f.data.is_empty()) {
        for (_, ring) in circles(file) {
            let Some(last) = ring.last() else { continue };
            let said = ring.iter().filter(|a| query.says(&a.from)).count();
            let endless = ["tack overflow", "StackOverflow", "recursion", "call stack"]
                .iter()
                .any(|w| query.said.contains(w));
            let tie = query.data_tie(
                file,
                file.data.iter().find(|d| d.line == last.line).map_or(0, |d| d.record),
                "",
            );
            let strength = if said > 0 || endless { Strength::Strong } else { Strength::Weak };
            let suspect =
                seen.suspect(&file.path, last.line, strength, say!(CLOSES, ring = words(&ring)));
            suspect.tied(tie);
            for arrow in &ring {
                suspect.saw(
                    &file.path,
                    arrow.line,
                    say!(LEADS_TO, name = arrow.from, other = arrow.to),
                );
            }
        }
    }
}
