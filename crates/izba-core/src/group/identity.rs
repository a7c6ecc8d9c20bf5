//! What makes two entries the same mistake: family, shape and the own place as it read when the run started.

use crate::model::Entry;
use crate::project::Project;
use regex::Regex;
use std::sync::LazyLock;

/// Version of the scheme; a stored identity of another version has to be made anew.
pub const SCHEME: u32 = 1;

/// The identity of a group, taken from one entry alone and never from what else was seen.
///
/// It holds no line number: an edit above the line, or a moved file, leaves it as it is.
#[derive(Debug, Clone, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct Identity(String);

static CHANGING: LazyLock<Regex> = LazyLock::new(|| {
    Regex::new(concat!(
        r"(?P<uuid>[0-9a-fA-F]{8}-[0-9a-fA-F]{4}-[0-9a-fA-F]{4}-[0-9a-fA-F]{4}-[0-9a-fA-F]{12})|(?P<address>\b0x[0-9a-fA-F]+)|",
        r#"(?P<path>(?:[A-Za-z]:\\|/|\./|\.\./)[^\s'"`,:;()]*[/\\][^\s'"`,:;()]*)|"#,
        r#"(?P<quoted>"[^"]*"|'[^']*')|(?P<number>-?\d+(?:\.\d+)*)"#
    ))
    .expect("the pattern is fixed")
});

/// The shape of a message: what changes from one time to the next is taken out.
///
/// Numbers, addresses, ids and paths always; a quoted part only when it is no plain name, since names tell mistakes apart.
pub fn shape(message: &str) -> String {
    let first = message.lines().next().unwrap_or("");
    CHANGING
        .replace_all(first, |found: &regex::Captures<'_>| {
            let whole = &found[0];
            if found.name("quoted").is_some() {
                let inner = &whole[1..whole.len() - 1];
                let plain = !inner.is_empty()
                    && inner.chars().all(|c| c.is_alphabetic() || matches!(c, '_' | '.' | ':' | ';' | '(' | ')' | '{' | '}' | '=' | '<' | '>'));
                return if plain { whole.to_owned() } else { "‹text›".to_owned() };
            }
            if found.name("path").is_some() { "‹path›" } else { "‹n›" }.to_owned()
        })
        .into_owned()
}

impl Identity {
    /// The identity of everything that is not kept apart any more, because there are too many groups already.
    pub fn beyond() -> Identity {
        Identity("beyond".to_owned())
    }

    /// The identity of `entry`, whose place is looked up in `project` (as it was when the run started).
    pub fn of(entry: &Entry, project: &Project) -> Identity {
        let report = &entry.report;
        let mut parts = vec![
            SCHEME.to_string(),
            entry.family.id.to_owned(),
            report.code.clone().unwrap_or_default(),
            report.kind.clone().unwrap_or_default(),
            shape(&report.message),
        ];
        if !report.causes.is_empty() {
            parts.push(entry.root_kind.clone().unwrap_or_default());
            parts.push(shape(&entry.root_message));
        }
        parts.extend(report.details.iter().map(|d| shape(d)));
        match &entry.place {
            Some(place) => {
                parts.push(place.file.rsplit('/').next().unwrap_or("").to_owned());
                parts.push(entry.function.clone().unwrap_or_default());
                let text = entry.line_text.as_deref().map(normalised);
                let twin = text.as_deref().and_then(|text| {
                    let source = project.file(&place.file)?.text.as_deref()?;
                    let above = source.lines().take(place.line? as usize).filter(|l| normalised(l) == text).count();
                    Some(above.to_string())
                });
                parts.push(text.unwrap_or_else(|| place.line.map_or(String::new(), |l| l.to_string())));
                parts.push(twin.unwrap_or_default());
            }
            None => {
                let first = report.head.as_ref().or(report.frames.first());
                parts.push(first.and_then(|f| f.file.clone()).unwrap_or_default());
                parts.push(first.and_then(|f| f.line).map_or(String::new(), |l| l.to_string()));
            }
        }
        Identity(parts.join("\u{1}"))
    }
}

fn normalised(line: &str) -> String {
    line.split_whitespace().collect::<Vec<_>>().join(" ")
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::model::{Level, Report, StackFrame};
    use crate::project::ProjectFile;

    #[test]
    fn shapes_keep_names_and_lose_numbers() {
        let shapes = [
            "index 7 of a list of 6",
            "attempt to index a nil value (local 'wick')",
            "cannot open '/home/me/ferry/tide 3.json'",
            "no route to \"pier 9\"",
            "object at 0x7ffe12 took 3.25 s",
            "'end' expected near <eof>",
        ]
        .map(shape)
        .join("\n");
        insta::assert_snapshot!(shapes, @r"
        index ‹n› of a list of ‹n›
        attempt to index a nil value (local 'wick')
        cannot open ‹text›
        no route to ‹text›
        object at ‹n› took ‹n› s
        'end' expected near <eof>
        ");
    }

    #[test]
    fn an_identity_outlives_edits_above_and_tells_two_lines_apart() {
        let project = |text: &str| Project::new("/p", vec![ProjectFile { path: "a.lua".into(), text: Some(text.into()) }]);
        let of = |project: &Project, line: u32| {
            let mut report = Report::new("lua", Level::Error, "attempt to index a nil value (local 'x')");
            report.head = Some(StackFrame { file: Some("a.lua".into()), line: Some(line), ..StackFrame::default() });
            Identity::of(&Entry::resolve(report, project, None), project)
        };
        let (before, after) = (project("x.y()\nz()\nx.y()\n"), project("-- new\n\n  x.y()\nz()\nx.y()\n"));
        assert_eq!(of(&before, 1), of(&after, 3));
        assert_ne!(of(&before, 1), of(&before, 3), "the same words on two lines are two places");
    }
}
