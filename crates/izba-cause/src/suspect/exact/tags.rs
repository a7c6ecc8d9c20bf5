//! Edits of a page's tags: a script that runs later, one that is brought in.

use super::place::{Place, only_word};
use izba_model::claim::Fix;

/// The script runs once the whole page is read; one without an address never does.
pub(super) fn deferred(place: &Place<'_>) -> Option<Fix> {
    let tag = only_word(place.line, "<script")?;
    let rest = &place.line[tag.end..];
    let own = &rest[..rest.find('>')?];
    only_word(own, "src").and_then(|_| place.insert(tag.end, " defer"))
}

/// A tag like this one, before it, for another script of the same folder.
pub(super) fn one_more_script(place: &Place<'_>) -> Option<Fix> {
    let (file, other) = (place.name("file")?, place.name("other")?);
    let made = &place.suspect.claim.evidence.first()?.file;
    let folder = made.rsplit_once('/').map_or(String::new(), |(folder, _)| format!("{folder}/"));
    place.index.file(&format!("{folder}{file}"))?;
    let at = only_word(place.line, file)?;
    let tag = format!("{}{other}{}\n", &place.line[..at.start], &place.line[at.end..]);
    Fix::one(&place.file.path, place.span.start..place.span.start, tag)
}
