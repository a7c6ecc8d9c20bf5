//! What pages hold that scripts ask for, and how they ask.

use izba_model::code::{At, Element, FileFacts, Index, Kind};

/// The pages of a project.
pub(crate) fn pages(index: &Index) -> impl Iterator<Item = &FileFacts> {
    index.files().iter().map(AsRef::as_ref).filter(|f| !f.elements.is_empty())
}

/// An element that a script asks for by name.
pub(crate) struct Asked<'a> {
    /// The script.
    pub(crate) file: &'a FileFacts,
    /// Where it asks.
    pub(crate) call: At<'a>,
    /// Whether by a class, and not by the one name that an element has.
    pub(crate) class: bool,
    /// The name.
    pub(crate) name: &'a str,
}

/// What a call asks the page for, where it names it to the letter.
pub(crate) fn asks_page<'a>(file: &'a FileFacts, call: At<'a>) -> Option<Asked<'a>> {
    let text = call.arguments().next().filter(|a| a.is(Kind::Str))?.text()?;
    let (class, name) = match call.last_name()? {
        "getElementById" => (false, text),
        "getElementsByClassName" => (true, text),
        "querySelector" | "querySelectorAll" => match text.strip_prefix('#') {
            Some(id) => (false, id),
            None => (true, text.strip_prefix('.')?),
        },
        _ => return None,
    };
    let whole =
        !name.is_empty() && name.chars().all(|c| c.is_alphanumeric() || matches!(c, '_' | '-'));
    (call.is(Kind::Call) && whole).then_some(Asked { file, call, class, name })
}

/// What a page calls its elements.
pub(crate) fn names(page: &FileFacts, class: bool) -> impl Iterator<Item = (&str, &Element)> {
    page.elements.iter().flat_map(move |e| {
        let ids = e.id.as_deref().filter(|_| !class);
        let classes = e.classes.iter().map(AsRef::as_ref).filter(move |_| class);
        ids.into_iter().chain(classes).map(move |name| (name, e))
    })
}

/// Whether a script may make an element of that name: it stands there in another place than where one
/// is asked for.
pub(crate) fn is_made_by_script(index: &Index, name: &str) -> bool {
    index.code().any(|f| {
        f.tree.all().filter(|n| n.is(Kind::Str)).any(|n| {
            let text = n.text().unwrap_or("");
            let asks = || n.parent().is_some_and(|p| asks_page(f, p).is_some());
            text.contains(name)
                && (text == name && !asks() || text.contains("id=") || text.contains("class="))
        })
    })
}
