//! Places that only the words of an error tell: a component that it names, a file that was not loaded,
//! code that was kept out, a path in quotes. Each counts only where one line of the project is so.

use crate::Place;
use crate::pattern::Pattern;
use crate::project::Project;

/// The one place that the words of an error mean, its sentence and what is added to that, where it has
/// no other.
pub(crate) fn place_in_words(
    message: &str,
    details: &[String],
    project: &Project,
) -> Option<Place> {
    let whole = || format!("{message} {}", details.join(" "));
    place_of_keyless(&whole(), project).or_else(|| {
        std::iter::once(message).chain(details.iter().map(String::as_str)).find_map(|said| {
            place_of_component(said, project)
                .or_else(|| place_of_address(said, project))
                .or_else(|| place_of_part(said, project))
        })
    })
}

/// Where the component of a page is made that a library names: `Check the render method of
/// `Timetable`.`, `An error occurred in the <Timetable> component.`
fn place_of_component(said: &str, project: &Project) -> Option<Place> {
    static NAMED: Pattern = Pattern::new(
        r"(?:render method of [`'\x22]|\b(?:in|of) (?:the )?<)(?P<name>[A-Z]\w*)[`'\x22>]",
    );
    let name = NAMED.found(said)?["name"].to_owned();
    let heads = ["function ", "const ", "class "].map(|word| format!("{word}{name}"));
    let makes = |line: &str| {
        heads.iter().any(|head| {
            let behind = line.find(head.as_str()).and_then(|at| line.get(at + head.len()..));
            behind.is_some_and(|rest| !rest.starts_with(|c: char| c.is_alphanumeric()))
        })
    };
    only_line(project, &name, makes)
}

/// The one line of the project that is so, among those of the files that hold `word`; `None` where
/// there are several.
fn only_line(project: &Project, word: &str, is: impl Fn(&str) -> bool) -> Option<Place> {
    let mut found = project.files().iter().flat_map(|file| {
        let text = file.text.as_deref().filter(|t| t.contains(word)).unwrap_or_default();
        let lines = text.lines().enumerate().filter(|(_, line)| is(line));
        lines.map(|(at, _)| Place {
            file: file.path.clone(),
            line: Some(at as u32 + 1),
            column: None,
        })
    });
    let place = found.next()?;
    found.next().is_none().then_some(place)
}

/// Where the part of a page stands that its policy keeps out, told by the code in it.
fn place_of_part(said: &str, project: &Project) -> Option<Place> {
    let (_, code) = said.split_once(" was not let in: the policy ")?.1.split_once(" forbid")?;
    let code = code.split_once(" it: ")?.1.trim();
    (code.len() >= 3).then_some(())?;
    // Where it stands as an attribute, else anywhere.
    let given = ["=\"", "='"].map(|begin| format!("{begin}{code}"));
    let as_attribute = |line: &str| given.iter().any(|given| line.contains(given.as_str()));
    only_line(project, code, as_attribute)
        .or_else(|| only_line(project, code, |line| line.contains(code)))
}

/// Where a list's elements are made without a key, in the component that a library names for that:
/// the one tag without it that is made for each entry there.
fn place_of_keyless(said: &str, project: &Project) -> Option<Place> {
    let at = said.contains("unique \"key\" prop").then(|| place_of_component(said, project))??;
    let text = project.file(&at.file)?.text.clone()?;
    let lines: Vec<&str> = text.lines().collect();
    let head = at.line? as usize;
    // Its code goes on to the next line that begins as its head does.
    let code = lines.get(head..)?.iter().take_while(|l| !l.starts_with('}')).count();
    let made = (head..head + code).filter(|n| lines[*n].contains(".map("));
    let tags = made.filter_map(|n| {
        (n..(n + 3).min(lines.len())).find(|at| {
            let made = lines[*at].split_once("=>").filter(|_| *at == n);
            let line = made.map_or(lines[*at], |(_, made)| made);
            line.trim_start_matches([' ', '\t', '(']).starts_with('<')
        })
    });
    let mut keyless = tags.filter(|n| !lines[*n].contains("key="));
    let tag = keyless.next().filter(|_| keyless.next().is_none())?;
    Some(Place { line: Some(tag as u32 + 1), ..at })
}

/// The one line of the project that names in quotes what a page could not load, where nothing tells
/// who asked for it, as of a worker.
fn place_of_address(said: &str, project: &Project) -> Option<Place> {
    static NOT_LOADED: Pattern =
        Pattern::new(r"^https?://[^/\s]+/(?:[^?#\s]*/)?(?P<name>[\w.-]+\.\w+)\S* was not loaded: ");
    let name = NOT_LOADED.found(said)?["name"].to_owned();
    let names = |line: &str| {
        line.match_indices(&name).any(|(at, _)| {
            line[..at].ends_with(['"', '\'', '`', '/'])
                && line[at + name.len()..].starts_with(['"', '\'', '`', '?'])
        })
    };
    only_line(project, &name, names)
}

/// The one line of a file that holds a path which a sentence about this file quotes: `Cannot find
/// module '/srv/fog.mjs' imported from /srv/quay.mjs`.
pub(crate) fn line_of_quoted(said: &str, file: &str, project: &Project) -> Option<u32> {
    let text = project.file(file)?.text.as_deref()?;
    let quoted = said.split(['"', '\'', '`']).skip(1).step_by(2);
    let mut paths = quoted.filter(|q| q.contains(['/', '.']) && !q.contains(' ') && q.len() > 2);
    let holds = |line: &str, part: &str| {
        let word = |c: Option<char>| c.is_some_and(|c| c.is_alphanumeric() || c == '_');
        line.match_indices(part).any(|(at, _)| {
            !word(line[..at].chars().next_back()) && !word(line[at + part.len()..].chars().next())
        })
    };
    let only = |part: &str| {
        let mut lines = text.lines().enumerate().filter(|(_, line)| holds(line, part));
        let (at, _) = lines.next()?;
        lines.next().is_none().then_some(at as u32 + 1)
    };
    paths.find_map(|path| only(path).or_else(|| only(path.rsplit('/').next().unwrap_or(path))))
}
