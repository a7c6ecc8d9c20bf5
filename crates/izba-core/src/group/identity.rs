//! What makes two entries the same mistake: family, shape and the own place as it read when the run
//! started.

use izba_model::Entry;
use izba_model::Family;
use izba_model::mask::{Masked, function_name, mask};
use izba_model::project::Project;
use serde::{Deserialize, Serialize};

/// Version of the scheme; a stored identity of another version has to be made anew.
pub const SCHEME: u32 = 2;

/// The identity of a group, taken from one entry alone and never from what else was seen.
///
/// It holds no line number: an edit above the line, or a moved file, leaves it as it is.
#[derive(Debug, Clone, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
pub struct Identity(std::sync::Arc<str>);

/// All that is told of one entry for grouping it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Likeness {
    /// What makes it the same mistake as others of its source.
    pub identity: Identity,
    /// What another source that tells the same mistake in its own way has in common with it.
    pub across: Identity,
    /// The same without the text of the line: what is left when that line was edited.
    pub edited: Option<Identity>,
    /// Its message.
    pub masked: Masked,
    /// Who called the function that failed, as file and function; the first own step in another
    /// function.
    pub caller: Option<String>,
}

impl std::fmt::Display for Identity {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str(&self.0)
    }
}

impl Identity {
    /// The identity of everything that is not kept apart any more, because there are too many
    /// groups already.
    pub fn beyond() -> Identity {
        Identity("beyond".into())
    }

    /// What a text that was written down stands for.
    pub fn from_text(text: impl Into<String>) -> Identity {
        Identity(text.into().into())
    }

    /// The text to write down.
    pub fn as_str(&self) -> &str {
        &self.0
    }

    /// The identity of `entry`, whose place is looked up in `project` (as it was when the run
    /// started).
    pub fn of(entry: &Entry, project: &Project) -> Identity {
        Likeness::of(entry, project).identity
    }
}

impl Likeness {
    /// Looks at `entry`, whose place is looked up in `project` (as it was when the run started).
    pub fn of(entry: &Entry, project: &Project) -> Likeness {
        let report = &entry.report;
        let source = entry
            .place
            .as_ref()
            .and_then(|p| project.file(&p.file))
            .and_then(|f| f.text.as_deref());
        let line = entry.place.as_ref().and_then(|p| p.line);
        // What a parser misses is no data: the sentence stays as it is.
        let parses = entry.family != Family::DoesNotParse;
        let around = source
            .zip(line)
            .filter(|_| parses)
            .map(|(text, line)| around(text, line))
            .unwrap_or_default();
        // The outermost sentence was made where the outermost exception was thrown.
        let outer = report
            .frames
            .iter()
            .find(|f| f.own.is_some())
            .filter(|_| !report.causes.is_empty() && parses);
        let text = outer
            .and_then(|f| project.file(f.own.as_deref()?)?.text.as_deref())
            .zip(outer.and_then(|f| f.line));
        let masked = mask(
            &report.message,
            text.map(|(text, line)| self::around(text, line)).as_deref().unwrap_or(&around),
        );
        let root = if report.causes.is_empty() {
            masked.shape.clone()
        } else {
            mask(&entry.root_message, &around).shape
        };
        let mut parts = vec![
            SCHEME.to_string(),
            entry.family.id().to_owned(),
            report.code.clone().unwrap_or_default(),
            report.kind.clone().unwrap_or_default(),
            masked.shape.clone(),
        ];
        if !report.causes.is_empty() {
            parts.push(entry.root_kind.clone().unwrap_or_default());
            parts.push(root.clone());
        }
        parts.extend(report.details.iter().map(|d| mask(d, &around).shape));
        let mut across = vec!["across".to_owned(), entry.family.id().to_owned(), root];
        let mut edited = None;
        match &entry.place {
            Some(place) => {
                let file = place.file.rsplit('/').next().unwrap_or("").to_owned();
                let function =
                    entry.function.as_deref().map(function_name).unwrap_or_default().into_owned();
                parts.push(file.clone());
                parts.push(function);
                if entry.line_text.is_some() {
                    edited = Some(Identity(parts.join("\u{1}").into()));
                }
                let text = entry.line_text.as_deref().map(normalised);
                let twin = text.as_deref().zip(source).map(|(text, source)| {
                    let above = source
                        .lines()
                        .take(line.unwrap_or(0) as usize)
                        .filter(|l| normalised(l) == text)
                        .count();
                    above.to_string()
                });
                let text = text.unwrap_or_else(|| line.map_or(String::new(), |l| l.to_string()));
                let twin = twin.unwrap_or_default();
                across.extend([file, text.clone(), twin.clone()]);
                parts.extend([text, twin]);
            }
            None => {
                let first = report.head.as_ref().or(report.frames.first());
                let file = first.and_then(|f| f.file.clone()).unwrap_or_default();
                let line = first.and_then(|f| f.line).map_or(String::new(), |l| l.to_string());
                across.extend([
                    file.rsplit(['/', '\\']).next().unwrap_or("").to_owned(),
                    line.clone(),
                ]);
                // Without a place only the very words tell that two sources mean the same.
                across.push(report.message.clone());
                parts.extend([file, line]);
            }
        }
        Likeness {
            identity: Identity(parts.join("\u{1}").into()),
            across: Identity(across.join("\u{1}").into()),
            edited,
            masked,
            caller: caller(entry),
        }
    }
}

/// The source around a line: what a statement of several lines says may stand on those beside it.
fn around(text: &str, line: u32) -> String {
    let from = line.saturating_sub(2) as usize;
    text.lines().skip(from).take(if line > 1 { 4 } else { 3 }).collect::<Vec<_>>().join("\n")
}

/// The first own step behind the place that stands in another function.
fn caller(entry: &Entry) -> Option<String> {
    let place = entry.place.as_ref()?;
    let report = &entry.report;
    let own = |frames: &[izba_model::StackFrame]| frames.iter().any(|f| f.own.is_some());
    let frames = report
        .causes
        .iter()
        .rev()
        .map(|c| c.frames.as_slice())
        .find(|f| own(f))
        .unwrap_or(&report.frames);
    let mut own = frames
        .iter()
        .filter(|f| f.own.is_some())
        .skip_while(|f| f.own.as_ref() != Some(&place.file) || f.line != place.line);
    own.next()?;
    let next = own.find(|f| {
        f.function.as_deref() != entry.function.as_deref() || f.own.as_ref() != Some(&place.file)
    })?;
    let file = next.own.as_deref()?.rsplit('/').next()?.to_owned();
    Some(match next.function.as_deref() {
        Some(function) => format!("{} in {file}", function_name(function)),
        None => file,
    })
}

fn normalised(line: &str) -> String {
    line.split_whitespace().collect::<Vec<_>>().join(" ")
}

#[cfg(test)]
mod tests {
    use super::*;
    use izba_model::project::ProjectFile;
    use izba_model::{Level, Report, StackFrame};

    #[test]
    fn an_identity_outlives_edits_above_and_tells_two_lines_apart() {
        let project = |text: &str| {
            Project::new("/p", vec![ProjectFile { path: "a.lua".into(), text: Some(text.into()) }])
        };
        let of = |project: &Project, line: u32| {
            let mut report =
                Report::new("lua", Level::Error, "attempt to index a nil value (local 'x')");
            report.head = Some(StackFrame {
                file: Some("a.lua".into()),
                line: Some(line),
                ..StackFrame::default()
            });
            Identity::of(&Entry::resolve(report, project, None), project)
        };
        let (before, after) =
            (project("x.y()\nz()\nx.y()\n"), project("-- new\n\n  x.y()\nz()\nx.y()\n"));
        assert_eq!(of(&before, 1), of(&after, 3));
        assert_ne!(of(&before, 1), of(&before, 3), "the same words on two lines are two places");
    }
}
