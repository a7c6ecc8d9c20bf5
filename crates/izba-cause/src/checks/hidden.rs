//! hidden: what nobody sees, since something opaque on a nearer layer stands before it.
//!
//! Read from data that lists its layers from the farthest to the nearest (`layers`), says of an
//! object its `layer` and `picture` and where it stands (`at`), and of a picture its `size` and
//! whether it is `opaque`.

use super::check::{Check, Look, Remark, remark};
use izba_model::code::{Datum, FileFacts, Role};
use izba_model::{say, sayings};
use std::collections::BTreeMap;

sayings! {
    "hidden", Hidden, "../../words/checks/hidden.toml";
    BEFORE = "before",
    FARTHER = "farther",
}

/// The check for this: what nobody sees, since something opaque on a nearer layer stands before it.
pub static CHECK: Check =
    Check { id: "hidden", kinds: KINDS, title: "Hidden behind something", look };

/// One object that is drawn.
struct Drawn<'a> {
    line: u32,
    name: &'a str,
    picture: &'a str,
    layer: &'a str,
    /// Place of its layer, farthest first.
    near: usize,
    at: Option<(f64, f64)>,
}

fn look(look: &Look<'_>) -> Vec<Remark> {
    look.index.files().iter().filter(|f| !f.data.is_empty()).flat_map(|f| of_file(f)).collect()
}

fn of_file(file: &FileFacts) -> Vec<Remark> {
    let end = |d: &Datum| d.path.rsplit('/').next().unwrap_or_default().to_owned();
    let values = || file.data.iter().filter(|d| d.role == Role::Value);
    let layers: Vec<&str> =
        values().filter(|d| end(d) == "layers").map(|d| d.text.as_ref()).collect();
    let mut records: BTreeMap<u32, Vec<&Datum>> = BTreeMap::new();
    values().for_each(|d| records.entry(d.record).or_default().push(d));
    let pair = |found: Vec<&&Datum>| match found
        .iter()
        .map(|d| d.text.parse::<f64>().ok())
        .collect::<Option<Vec<f64>>>()
        .as_deref()
    {
        Some([x, y]) => Some((*x, *y)),
        _ => None,
    };
    let drawn: Vec<Drawn<'_>> = records
        .values()
        .filter_map(|record| {
            let of = |key: &str| record.iter().find(|d| end(d) == key).copied();
            let layer = of("layer")?;
            Some(Drawn {
                line: layer.line,
                name: of("kind").or(of("name")).map_or("", |d| d.text.as_ref()),
                picture: of("picture")?.text.as_ref(),
                layer: &layer.text,
                near: layers.iter().position(|l| *l == layer.text.as_ref())?,
                at: pair(record.iter().filter(|d| end(d) == "at").collect()),
            })
        })
        .collect();
    let of_picture = |name: &str, key: &str| -> Vec<&Datum> {
        values().filter(|d| d.path.ends_with(&format!("{name}/{key}"))).collect()
    };
    let mut found = Vec::new();
    for before in &drawn {
        let opaque = of_picture(before.picture, "opaque").iter().any(|d| d.text.as_ref() == "true");
        let size = pair(of_picture(before.picture, "size").iter().collect());
        let (true, Some((wide, high)), Some((x, y))) = (opaque, size, before.at) else { continue };
        let covers =
            |at: (f64, f64)| (at.0 - x).abs() <= wide / 2.0 && (at.1 - y).abs() <= high / 2.0;
        let behind: Vec<&Drawn<'_>> =
            drawn.iter().filter(|d| d.near < before.near && d.at.is_some_and(covers)).collect();
        if behind.is_empty() {
            continue;
        }
        let names: Vec<&str> = behind.iter().map(|d| d.name).collect();
        let text = say!(BEFORE, name = before.name, layer = before.layer, names);
        let mut one = remark(file, before.line, 0.8, text);
        for hidden in behind.iter().take(3) {
            one = one.saw(
                &file.path,
                hidden.line,
                say!(FARTHER, name = hidden.name, layer = hidden.layer),
            );
        }
        found.push(one);
    }
    found
}
