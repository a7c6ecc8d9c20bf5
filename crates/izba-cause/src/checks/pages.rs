//! pages: names that a page and its scripts have for one another, and that are one slip apart.

use super::check::{Check, Look, Remark, remark};
use crate::seen::{LIES_HERE, MADE_HERE};
use crate::suspect::{
    As, Asked, By, Occurrence, asks_page, is_made_by_script, is_outside_name, loaded, names, pages,
};
use izba_model::claim::Slot;
use izba_model::code::{At, Element, FileFacts, How, Kind, NameEdit, name_edit};
use izba_model::{say, sayings};
use std::collections::BTreeSet;
use std::sync::Arc;

sayings! {
    "pages", Any, "../../words/checks/pages.toml";
    NO_SCRIPT = "no-script",
    NO_ELEMENT = "no-element",
    NO_FUNCTION = "no-function",
    NOBODY_ASKS = "nobody-asks",
    ELEMENT_HERE = "element-here",
    ASKED_HERE = "asked-here",
}

/// The check for this: names that a page and its scripts have for one another.
pub static CHECK: Check =
    Check { id: "pages", kinds: KINDS, title: "Pages and their scripts", look };

fn look(look: &Look<'_>) -> Vec<Remark> {
    let mut found = Vec::new();
    for page in pages(look.index) {
        found.extend(scripts(look, page));
    }
    for file in look.index.code() {
        let here = loaded(look.index, file);
        let of: BTreeSet<_> = here.iter().map(|l| l.page.path.as_ref()).collect();
        // What several pages run is asked for different things by each.
        let (Some(page), 1, false) = (of.first().copied(), of.len(), file.broken) else { continue };
        let Some(page) = look.index.file(page) else { continue };
        found.extend(elements(look, page, file));
        if here.iter().all(|l| !l.script.module) {
            found.extend(functions(look, page, file));
        }
    }
    found
}

/// Scripts that a page loads under a name that one beside them nearly has.
fn scripts(look: &Look<'_>, page: &FileFacts) -> Vec<Remark> {
    let tags = page.elements.iter().filter_map(|e| Some((e, e.script.as_ref()?.from.as_deref()?)));
    let one = |(tag, from): (&Element, &str)| {
        let from = from.split(['?', '#']).next()?;
        let (folder, name) = from.rsplit_once('/').unwrap_or(("", from));
        let base = |p: &str| p.rsplit('/').next().unwrap_or(p).to_owned();
        let stem = |name: &str| name.split('.').next().unwrap_or(name).to_owned();
        if from.contains("://") || from.starts_with("//") || name.contains(['{', '$', '<', '%']) {
            return None;
        }
        let on_disk = &look.index.on_disk;
        if on_disk.iter().any(|p| base(p) == name) {
            return None;
        }
        // Beside where it is looked for, one of almost this name.
        let folder = folder.trim_start_matches(['.', '/']);
        let beside = |p: &&Arc<str>| {
            let of = p.rsplit_once('/').map_or("", |(folder, _)| folder);
            of.ends_with(folder) && p.ends_with(".js")
        };
        let near = on_disk.iter().filter(beside).find(|p| {
            let slip = name_edit(&stem(&base(p)), &stem(name));
            slip.is_some_and(|s| s <= NameEdit::Letter || s == NameEdit::Case)
                && stem(name).len() > 2
        })?;
        let says = say!(NO_SCRIPT, name, other = base(near));
        Some(remark(page, tag.line, 0.9, says).saw(near, 0, say!(LIES_HERE)))
    };
    tags.filter_map(one).collect()
}

/// Elements that a script asks for, and that its page has under almost this name.
fn elements(look: &Look<'_>, page: &FileFacts, file: &FileFacts) -> Vec<Remark> {
    let calls = file.tree.all().filter_map(|n| asks_page(file, n));
    let one = |asked: Asked<'_>| {
        let there = |name: &str| names(page, asked.by).any(|(other, _)| other == name);
        // One tag for another is no slip of the pen.
        if asked.by == By::Tag
            || there(asked.name)
            || is_made_by_script(look.index, asked.by, asked.name)
        {
            return None;
        }
        let used = |other: &str| {
            let all = look.index.code().flat_map(|f| f.tree.named(other).map(move |n| (f, n)));
            all.into_iter().any(|(f, n)| n.parent().is_some_and(|p| asks_page(f, p).is_some()))
        };
        let mut near = names(page, asked.by).filter(|(other, _)| {
            name_edit(asked.name, other).is_some_and(|s| s <= NameEdit::Letter) && !used(other)
        });
        let (other, element) = near.next().filter(|_| near.next().is_none())?;
        let slip = name_edit(asked.name, other)?;
        // What stands elsewhere as a word too is spelt right.
        if look.symbols.count(asked.name) > look.symbols.count(other) + 1 {
            let edit = slip.says(other, asked.name);
            let says = say!(NOBODY_ASKS, name = other, other = asked.name, edit);
            let line = asked.call.line();
            return Some(remark(page, element.line, 0.9, says).saw(
                &file.path,
                line,
                say!(ASKED_HERE),
            ));
        }
        let edit = slip.says(asked.name, other);
        let says =
            say!(NO_ELEMENT, page = Slot::place(page.name()), name = asked.name, other, edit);
        Some(remark(file, asked.call.line(), 0.9, says).saw(
            &page.path,
            element.line,
            say!(ELEMENT_HERE),
        ))
    };
    calls.filter_map(one).collect()
}

/// Functions that are called and that nothing makes, where one has almost this name that nothing calls.
fn functions(look: &Look<'_>, page: &FileFacts, file: &FileFacts) -> Vec<Remark> {
    // A script from elsewhere may make anything.
    let far = page.elements.iter().filter_map(|e| e.script.as_ref()?.from.as_deref());
    if far.into_iter().any(|from| from.contains("://") || from.starts_with("//")) {
        return Vec::new();
    }
    let calls = file.tree.all().filter(|n| n.is(Kind::Call)).filter_map(|n| n.child(0));
    let one = |callee: At<'_>| {
        let name = callee.text().filter(|n| callee.is(Kind::Name) && n.len() > 2)?;
        if look.symbols.is_made(name) || is_outside_name(look.index, Some(file.language), name) {
            return None;
        }
        let made = |o: &Occurrence<'_>| {
            matches!(o.as_what, As::Made(How::Function))
                && loaded(look.index, o.file).iter().any(|l| l.page.path == page.path)
        };
        // Made, and named nowhere else: it waits for this call.
        let near = look.symbols.near_of_many(name, |_, all| all.len() == 1 && all.iter().all(made));
        let [(other, slip)] = near.as_slice() else { return None };
        if *slip > NameEdit::Letter {
            return None;
        }
        let home = look.symbols.occurrences(other).first()?;
        let says = say!(NO_FUNCTION, name, other = *other, edit = slip.says(name, other));
        Some(remark(file, callee.line(), 0.9, says).saw(
            &home.file.path,
            home.line,
            say!(MADE_HERE, name = *other),
        ))
    };
    calls.filter_map(one).collect()
}
