//! page: what a page of HTML holds against what its scripts ask for: elements by their names, and the
//! order in which scripts are loaded.

use super::brought::{Loaded, loaded};
use super::check::{Check, Seen, Strength};
use super::elements::{Asked, By, asks_form, asks_page, is_made_by_script, names, pages};
use super::query::Query;
use izba_model::Family;
use izba_model::claim::{Saying, Slot};
use izba_model::code::{At, Element, FileFacts, How, Kind, NameEdit, name_edit};
use izba_model::{say, sayings};
use std::collections::BTreeSet;

sayings! {
    "page", Any, "../../words/suspects/page.toml";
    NO_ELEMENT = "no-element",
    ELEMENT_NEARLY = "element-nearly",
    PAGE_NEARLY = "page-nearly",
    TOO_EARLY = "too-early",
    LOADED_LATER = "loaded-later",
    NOT_LOADED = "not-loaded",
    TAG_NEARLY = "tag-nearly",
    ASKED_HERE = "asked-here",
    ELEMENT_HERE = "element-here",
    THEY_ARE = "they-are",
    NEEDED_HERE = "needed-here",
    MADE_HERE = "made-here",
    ID = "id",
    CLASS = "class",
    TAG = "tag",
    FIELD = "field",
}

/// The check for this: what a page holds against what its scripts ask for.
pub static CHECK: Check = Check {
    id: "page",
    kinds: KINDS,
    applies: |query| {
        query.file.is_some_and(|f| f.language.is_code())
            && query.index.files().iter().any(|f| !f.elements.is_empty())
    },
    look,
};

fn look(query: &Query<'_>, seen: &mut Seen) {
    match query.family() {
        Family::ValueNotThere | Family::WrongKind => elements(query, seen),
        Family::NameNotThere => loading(query, seen),
        _ => {}
    }
}

/// The elements that the failing value comes from.
fn asked_for<'a>(query: &Query<'a>) -> Vec<Asked<'a>> {
    let asked = |n| asks_page(query.file?, n).or_else(|| asks_form(query.file?, n));
    let on_line = query.on_line().filter_map(asked);
    let mut all: Vec<Asked<'a>> = on_line.collect();
    for from in query.slice.iter().filter(|m| m.weight > 0.3) {
        let values = from.node.into_iter().flat_map(|n| {
            // What is assigned there is what comes through.
            n.assigned_value().into_iter().flat_map(At::whole).chain(n.whole())
        });
        let asked = |n| asks_page(from.file, n).or_else(|| asks_form(from.file, n));
        all.extend(values.filter_map(asked));
    }
    let mut seen = BTreeSet::new();
    all.retain(|a| seen.insert((a.file.path.clone(), a.call.id())));
    all
}

fn what(by: By) -> Saying {
    match by {
        By::Id => say!(ID),
        By::Class => say!(CLASS),
        By::Tag => say!(TAG),
        By::Field => say!(FIELD),
    }
}

/// Elements that a script asks for and no page has, or not yet.
fn elements(query: &Query<'_>, seen: &mut Seen) {
    for asked in asked_for(query) {
        let tags = loaded(query.index, asked.file);
        // What a page runs by another script is not told here; then the only page is meant.
        let all = || pages(query.index);
        let on: Vec<&FileFacts> = match tags.is_empty() {
            true if all().count() == 1 => all().collect(),
            true => return,
            false => tags.iter().map(|l| l.page).collect(),
        };
        let [page] = on.as_slice() else { continue };
        let found = names(page, asked.by).find(|(name, _)| *name == asked.name);
        match found {
            Some((_, element)) => too_early(query, &asked, &tags, element, seen),
            None if !is_made_by_script(query.index, asked.by, asked.name) => {
                missing(query, &asked, page, seen)
            }
            None => {}
        }
    }
}

/// How often a name stands in the project as a word by itself, beyond where it is asked for or given
/// to an element.
fn elsewhere(query: &Query<'_>, name: &str) -> usize {
    let lower = name.to_lowercase();
    let part = |c: char| c.is_alphanumeric() || c == '_';
    let whole = |text: &str, at: usize| {
        !text[..at].ends_with(part) && !text[at + lower.len()..].starts_with(part)
    };
    let named = |text: &str, at: usize| {
        text[..at].ends_with(['"', '\'', '#', '.'])
            && text[at + lower.len()..].starts_with(['"', '\''])
    };
    let texts = query.scope.iter().map(|f| f.text.to_lowercase());
    texts
        .map(|text| {
            let all = text.match_indices(&lower).map(|(at, _)| at);
            all.filter(|at| whole(&text, *at) && !named(&text, *at)).count()
        })
        .sum()
}

/// No element bears the name.
fn missing(query: &Query<'_>, asked_for: &Asked<'_>, page: &FileFacts, seen: &mut Seen) {
    let Asked { file, call, by, name } = *asked_for;
    let uses = |name: &str| {
        let all = query.index.code().flat_map(|f| f.tree.named(name).map(move |n| (f, n)));
        all.filter(|(f, n)| n.parent().is_some_and(|p| asks_page(f, p).is_some())).count()
    };
    let mut near: Vec<(NameEdit, &str, &Element)> = names(page, by)
        .filter_map(|(other, element)| Some((name_edit(name, other)?, other, element)))
        .collect();
    near.sort_by_key(|(edit, other, _)| (*edit, *other));
    let page_name = Slot::place(page.name());
    let Some((edit, other, element)) = near.first().copied() else {
        let reason = say!(NO_ELEMENT, page = page_name, what = what(by), name);
        let suspect = seen.suspect(&file.path, call.line(), Strength::Plain, reason);
        let mut names: Vec<&str> = names(page, by).map(|(name, _)| name).collect();
        names.sort_unstable();
        names.dedup();
        names.truncate(8);
        if !names.is_empty() {
            suspect.saw(&page.path, 1, say!(THEY_ARE, names = names.as_slice()));
        }
        return;
    };
    // Asked for again and again under one name, and never under the other, or a word that stands
    // elsewhere too: the page has the slip.
    let again = uses(name) > 1 && uses(other) == 0;
    if again || elsewhere(query, name) > elsewhere(query, other) {
        let says = say!(
            PAGE_NEARLY,
            what = what(by),
            name = other,
            other = name,
            edit = edit.says(other, name)
        );
        let suspect = seen.suspect(&page.path, element.line, Strength::Plain.of_slip(edit), says);
        suspect.saw(&file.path, call.line(), say!(ASKED_HERE));
        return;
    }
    let says = say!(
        ELEMENT_NEARLY,
        page = page_name,
        what = what(by),
        name,
        other,
        edit = edit.says(name, other)
    );
    let suspect = seen.suspect(&file.path, call.line(), Strength::Plain.of_slip(edit), says);
    suspect.saw(&page.path, element.line, say!(ELEMENT_HERE));
}

/// Whether the error came while its script was loaded: whatever began it stands in no function.
fn while_loading(query: &Query<'_>) -> bool {
    // A handler in a tag is no function of the code; the browser tells whose it is.
    let named = query
        .entry
        .report
        .frames
        .iter()
        .rfind(|f| f.own.is_some())
        .and_then(|f| f.function.as_ref());
    named.is_none() && query.steps.last().is_some_and(|s| s.function.is_none())
}

/// The tag of a page that asks for nearly this script, where no file is called as it says.
fn misspelt_tag<'a>(
    query: &Query<'a>,
    page: &'a FileFacts,
    script: &FileFacts,
) -> Option<(&'a Element, &'a str)> {
    page.elements.iter().find_map(|tag| {
        let from = tag.script.as_ref()?.from.as_deref()?.split(['?', '#']).next()?;
        let asked = from.rsplit('/').next()?;
        let there = |p: &std::sync::Arc<str>| p.rsplit('/').next() == Some(asked);
        let near = name_edit(asked, script.name()).is_some_and(|edit| edit < NameEdit::Word);
        (near && !query.index.on_disk.iter().any(there)).then_some((tag, asked))
    })
}

/// The element comes in the page only behind the script that asks for it.
fn too_early(
    query: &Query<'_>,
    asked: &Asked<'_>,
    tags: &[Loaded<'_>],
    element: &Element,
    seen: &mut Seen,
) {
    let mut first = tags.iter().filter(|l| match &l.script.from {
        Some(_) => true,
        // In the page itself it is the one that holds the line.
        None => l.tag.line <= asked.call.line(),
    });
    let Some(Loaded { page, tag, script }) = first.next_back() else { return };
    if script.deferred || tag.line >= element.line || !while_loading(query) {
        return;
    }
    let what = what(asked.by);
    let page_name = Slot::place(page.name());
    let says = say!(TOO_EARLY, page = page_name, what, name = asked.name, line = element.line);
    let suspect = seen.suspect(&page.path, tag.line, Strength::Plain, says);
    suspect.saw(&asked.file.path, asked.call.line(), say!(ASKED_HERE));
    suspect.saw(&page.path, element.line, say!(ELEMENT_HERE));
}

/// Where a script makes a name that all scripts of its page know.
fn makes<'a>(file: &'a FileFacts, name: &str) -> Option<At<'a>> {
    file.tree.named(name).find(|n| {
        matches!(n.defines(), Some(How::Function | How::Class | How::Assigned))
            && n.function().is_none()
            && n.class().is_none()
            && !n.is(Kind::Field)
    })
}

/// A name that another script of the page makes, which is loaded later or not at all.
fn loading(query: &Query<'_>, seen: &mut Seen) {
    let (Some(file), Some(name)) = (query.file, query.asked.as_deref()) else { return };
    let here = loaded(query.index, file);
    let [needs] = here.as_slice() else { return };
    if needs.script.module {
        return;
    }
    let others = query
        .index
        .code()
        .filter(|f| f.path != file.path && f.language.shares_names_with(&file.language));
    let makers: Vec<(&FileFacts, At<'_>)> =
        others.filter_map(|f| Some((f, makes(f, name)?))).collect();
    let [(maker, made)] = makers.as_slice() else { return };
    let tags = loaded(query.index, maker);
    let (file_name, maker_name) = (Slot::place(file.name()), Slot::place(maker.name()));
    let suspect = match tags.iter().find(|l| l.page.path == needs.page.path) {
        Some(later)
            if later.tag.line > needs.tag.line
                || later.script.deferred && !needs.script.deferred =>
        {
            if later.script.module || !while_loading(query) {
                return;
            }
            let says = say!(
                LOADED_LATER,
                file = maker_name,
                name,
                other = file_name,
                line = needs.tag.line
            );
            let suspect = seen.suspect(&later.page.path, later.tag.line, Strength::Plain, says);
            suspect.saw(&needs.page.path, needs.tag.line, say!(NEEDED_HERE))
        }
        Some(_) => return,
        // Another page may load it for itself.
        None => match misspelt_tag(query, needs.page, maker) {
            Some((tag, asked)) => {
                let says = say!(TAG_NEARLY, name = asked, other = maker.name());
                seen.suspect(&needs.page.path, tag.line, Strength::Plain, says)
            }
            None => {
                let from = needs.script.from.as_deref().unwrap_or("");
                let says = say!(NOT_LOADED, file = file_name, name, other = maker_name, from);
                seen.suspect(&needs.page.path, needs.tag.line, Strength::Plain, says)
            }
        },
    };
    suspect.saw(&maker.path, made.line(), say!(MADE_HERE, name));
}
