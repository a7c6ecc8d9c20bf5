//! What pages hold that scripts ask for, and how they ask.

use izba_model::code::{At, Element, FileFacts, Index, Kind};

/// The pages of a project.
pub(crate) fn pages(index: &Index) -> impl Iterator<Item = &FileFacts> {
    index.files().iter().map(AsRef::as_ref).filter(|f| !f.elements.is_empty())
}

/// What an element is asked for by.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum By {
    /// The one name that it has.
    Id,
    /// A name that it shares with others.
    Class,
    /// What it is.
    Tag,
    /// The name or the one name by which a form knows it.
    Field,
}

/// An element that a script asks for by name.
pub(crate) struct Asked<'a> {
    /// The script.
    pub(crate) file: &'a FileFacts,
    /// Where it asks.
    pub(crate) call: At<'a>,
    /// By what.
    pub(crate) by: By,
    /// The name.
    pub(crate) name: &'a str,
}

/// What a call asks the page for, where it names it to the letter.
pub(crate) fn asks_page<'a>(file: &'a FileFacts, call: At<'a>) -> Option<Asked<'a>> {
    let text = call.arguments().next().filter(|a| a.is(Kind::Str))?.text()?;
    let (by, name) = match call.last_name()? {
        "getElementById" => (By::Id, text),
        "getElementsByClassName" => (By::Class, text),
        "getElementsByTagName" => (By::Tag, text),
        // Of `canvas#board` the one name says it all.
        "querySelector" | "querySelectorAll" => match text.find(['#', '.']) {
            Some(at) if text[at..].starts_with('#') => (By::Id, &text[at + 1..]),
            Some(at) => (By::Class, &text[at + 1..]),
            None => (By::Tag, text),
        },
        _ => return None,
    };
    let before = text.strip_suffix(name).map_or("", |b| b.trim_end_matches(['#', '.']));
    if !before.chars().all(char::is_alphanumeric) {
        return None;
    }
    let whole =
        !name.is_empty() && name.chars().all(|c| c.is_alphanumeric() || matches!(c, '_' | '-'));
    (call.is(Kind::Call) && whole).then_some(Asked { file, call, by, name })
}

/// What is asked of a form: `form.elements.dish`.
pub(crate) fn asks_form<'a>(file: &'a FileFacts, node: At<'a>) -> Option<Asked<'a>> {
    let name = node.text().filter(|n| !matches!(*n, "length" | "item" | "namedItem"))?;
    let owner = node.child(0).filter(|o| o.is(Kind::Field) && o.is_called("elements"))?;
    (node.is(Kind::Field) && !node.is_callee() && owner.child(0).is_some()).then_some(Asked {
        file,
        call: node,
        by: By::Field,
        name,
    })
}

/// What a page calls its elements.
pub(crate) fn names(page: &FileFacts, by: By) -> impl Iterator<Item = (&str, &Element)> {
    page.elements.iter().flat_map(move |e| {
        let id = e.id.as_deref().filter(|_| by == By::Id);
        let tag = Some(e.tag.as_ref()).filter(|_| by == By::Tag);
        let field = [&e.name, &e.id].into_iter().filter(move |_| by == By::Field);
        let field = field.filter_map(Option::as_deref);
        let classes = e.classes.iter().map(AsRef::as_ref).filter(move |_| by == By::Class);
        id.into_iter().chain(tag).chain(field).chain(classes).map(move |name| (name, e))
    })
}

/// Elements that a page has though their tags are not written: HTML, section 13.1.2.4.
const UNWRITTEN: &[&str] = &["html", "head", "body", "tbody", "colgroup"];

/// Whether a script may make an element of that name: it stands there in another place than where one
/// is asked for.
pub(crate) fn is_made_by_script(index: &Index, by: By, name: &str) -> bool {
    if by == By::Tag && UNWRITTEN.contains(&name) {
        return true;
    }
    let tag = format!("<{name}");
    index.code().any(|f| {
        f.tree.all().filter(|n| n.is(Kind::Str)).any(|n| {
            let text = n.text().unwrap_or("");
            let asks = || n.parent().is_some_and(|p| asks_page(f, p).is_some());
            text.contains(name)
                && (text == name && !asks()
                    || text.contains(&tag)
                    || by != By::Tag && (text.contains("id=") || text.contains("class=")))
        })
    })
}
