//! layouts: forms and layouts of phones and desktops (XML) against their code: a handler, field or
//! type that they name and that no code has.
//!
//! What counts as missing is a word that stands in no line of code at all, in whatever language; so
//! code that is read only roughly takes part.

use super::check::{Check, Look, Remark, remark};
use crate::seen::MADE_HERE;
use crate::suspect::{is_for_tools, is_name};
use izba_model::code::{Datum, FileFacts, How, NameEdit, Role, name_edit};
use izba_model::{say, sayings};
use std::collections::BTreeMap;

sayings! {
    "layouts", Name, "../../words/checks/layouts.toml";
    HANDLER_NEARLY = "handler-nearly",
    HANDLER_GONE = "handler-gone",
    FIELD_NEARLY = "field-nearly",
    FIELD_GONE = "field-gone",
    TYPE_NEARLY = "type-nearly",
    OTHERS_LEAD = "others-lead",
}

/// The check for this: what a layout names and no code has.
pub static CHECK: Check =
    Check { id: "layouts", kinds: KINDS, title: "Layouts and their code", look };

/// Attributes that name the function which is called, beside those that begin with `on`.
const CALLS: &[&str] = &["selector", "call", "handler"];
/// Attributes that name the type whose code goes with the layout.
const TYPES: &[&str] = &["customClass", "for", "context", "controller", "Class"];

/// Connections that the platform's own types bring.
const INHERITED: &[&str] =
    &["view", "delegate", "dataSource", "tableView", "collectionView", "navigationController"];

/// What a layout names.
#[derive(Clone, Copy, PartialEq, Eq)]
enum Names {
    Handler,
    /// A field of the type that goes with it.
    Field,
    Type,
}

/// A name in a layout.
struct Named<'a> {
    what: Names,
    name: &'a str,
    line: u32,
    /// The type that goes with the element around it.
    owner: Option<&'a str>,
}

/// A name that code makes, with its place.
type Made<'a> = BTreeMap<&'a str, (How, &'a FileFacts, u32)>;

fn look(look: &Look<'_>) -> Vec<Remark> {
    let layouts = || look.index.data().filter(|f| is_layout(f));
    if layouts().next().is_none() {
        return Vec::new();
    }
    let code: Vec<&FileFacts> = look.whole.code().collect();
    let mut made = Made::new();
    for file in &code {
        for node in file.tree.all() {
            if let (Some(how), Some(name)) = (node.defines(), node.text()) {
                made.entry(name).or_insert((how, file, node.line()));
            }
        }
    }
    let is_said = |name: &str| code.iter().any(|f| has_word(&f.text, name));
    let mut found = Vec::new();
    for file in layouts() {
        let all = named(file);
        // A layout whose type is made here, or whose other names lead to what is made here, is of
        // this code; else its code may be in a language that is not read.
        let is_made = |name: &str, how: How| made.get(name).is_some_and(|(h, ..)| *h == how);
        let handlers = || all.iter().filter(|n| n.what == Names::Handler);
        let leading = handlers().map(|n| n.name).filter(|n| is_made(n, How::Function)).max();
        for one in all.iter().filter(|n| !is_said(n.name)) {
            let kin = match (one.owner, one.what) {
                (Some(owner), _) => Some(owner).filter(|owner| is_made(owner, How::Class)),
                (None, Names::Handler) => leading,
                (None, _) => None,
            };
            found.extend(told(file, one, nearest(&made, one), kin, &made));
        }
    }
    found
}

fn told<'a>(
    file: &FileFacts,
    one: &Named<'a>,
    near: Option<(&'a str, NameEdit)>,
    kin: Option<&str>,
    made: &Made<'_>,
) -> Option<Remark> {
    let name = one.name;
    let Some((other, edit)) = near else {
        let says = match one.what {
            Names::Handler => say!(HANDLER_GONE, name),
            Names::Field => say!(FIELD_GONE, name, owner = one.owner?),
            Names::Type => return None,
        };
        let kin = kin?;
        let one = remark(file, one.line, 0.75, says);
        return Some(match made.get(kin) {
            Some((_, home, line)) => one.saw(&home.path, *line, say!(OTHERS_LEAD, name = kin)),
            None => one,
        });
    };
    let edit = edit.says(name, other);
    let says = match one.what {
        Names::Handler => say!(HANDLER_NEARLY, name, other, edit),
        Names::Field => say!(FIELD_NEARLY, name, other, owner = one.owner?, edit),
        Names::Type => say!(TYPE_NEARLY, name, other, edit),
    };
    let (_, home, line) = made.get(other)?;
    Some(remark(file, one.line, 0.9, says).saw(&home.path, *line, say!(MADE_HERE, name = other)))
}

/// What code makes that is almost called so, of the kind that is wanted.
fn nearest<'a>(made: &Made<'a>, one: &Named<'_>) -> Option<(&'a str, NameEdit)> {
    let fits = |how: How| match one.what {
        Names::Handler => how == How::Function,
        Names::Field => !matches!(how, How::Function | How::Class | How::Import),
        Names::Type => how == How::Class,
    };
    made.iter()
        .filter(|(_, (how, ..))| fits(*how))
        .filter_map(|(other, _)| Some((*other, name_edit(one.name, other)?)))
        .filter(|(_, edit)| *edit <= NameEdit::Letter)
        .min_by_key(|(other, edit)| (*edit, *other))
}

/// Whether a file is a layout: XML that is no page and no business of tools.
fn is_layout(file: &FileFacts) -> bool {
    let name = file.name();
    let ending = name.rsplit_once('.').map_or("", |(_, ending)| ending);
    let layout = matches!(ending, "xml" | "fxml" | "xaml" | "storyboard" | "xib");
    layout && name != "pom.xml" && !is_for_tools(file)
}

/// The names in a layout that have to lead to code.
fn named(file: &FileFacts) -> Vec<Named<'_>> {
    let mut found = Vec::new();
    // The types of the elements that are open, each with the way to its element and its record.
    let mut owners: Vec<(&str, u32, &str)> = Vec::new();
    for datum in file.data.iter().filter(|d| d.role == Role::Value) {
        let Some((way, attribute)) = datum.path.rsplit_once('/') else { continue };
        let attribute = attribute.rsplit(':').next().unwrap_or(attribute);
        let within = |open: &str| way.strip_prefix(open).is_some_and(|w| w.starts_with('/'));
        owners.retain(|(open, record, _)| within(open) || *record == datum.record);
        let owner = owners.last().map(|(_, _, name)| *name);
        let element = way.rsplit('/').next().unwrap_or(way);
        let (what, name) = if TYPES.contains(&attribute) {
            let Some(name) = type_name(datum) else { continue };
            owners.push((way, datum.record, name));
            (Names::Type, name)
        } else if let Some(name) = handler(attribute, datum) {
            (Names::Handler, name)
        } else if element == "outlet" && attribute == "property" {
            // What is connected is a field of the very element that the connections stand in.
            let holder = way.strip_suffix("/connections/outlet");
            let own = owners.last().is_some_and(|(open, ..)| Some(*open) == holder);
            let name = datum.text.as_ref();
            if !own || INHERITED.contains(&name) {
                continue;
            }
            (Names::Field, name)
        } else {
            continue;
        };
        found.push(Named { what, name, line: datum.line, owner });
    }
    found
}

/// The function that an attribute names.
fn handler<'a>(attribute: &str, datum: &'a Datum) -> Option<&'a str> {
    let on = attribute
        .strip_prefix("on")
        .is_some_and(|rest| rest.starts_with(|c: char| c.is_ascii_uppercase()));
    if !on && !CALLS.contains(&attribute) {
        return None;
    }
    // A selector names its arguments behind colons; a controller's function is marked.
    let name = datum.text.split(':').next()?.trim_start_matches('#');
    (is_name(name) && name.len() > 2 && !matches!(name, "true" | "false")).then_some(name)
}

/// The type that an attribute names, without its package.
fn type_name(datum: &Datum) -> Option<&str> {
    let name = datum.text.rsplit('.').next()?;
    (is_name(name) && name.starts_with(|c: char| c.is_ascii_uppercase())).then_some(name)
}

/// Whether a text holds a word whole.
fn has_word(text: &str, word: &str) -> bool {
    let part = |c: char| c.is_alphanumeric() || c == '_';
    text.match_indices(word)
        .any(|(at, _)| !text[..at].ends_with(part) && !text[at + word.len()..].starts_with(part))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_word_is_whole() {
        assert!(has_word("fun onPay() {}", "onPay"));
        assert!(!has_word("fun onPayed() {}; don.onPay2", "onPay"));
    }
}
