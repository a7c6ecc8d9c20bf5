//! A note as a file: the head in TOML between two lines of `+++`, then Markdown.

use serde::{Deserialize, Serialize};

/// The mark above and below the head.
const FENCE: &str = "+++";
/// Longer files are no notes.
const LONGEST: usize = 1 << 20;

/// What a note is about.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, Default)]
#[serde(default)]
pub struct Head {
    /// What the error is, in Izba's words.
    pub title: String,
    /// Its family.
    pub family: String,
    /// The kind that the language gives it.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub kind: Option<String>,
    /// Its code, where it has one.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub code: Option<String>,
    /// The console's own sentence.
    pub message: String,
    /// The sentence with its changing parts taken out.
    pub shape: String,
    /// The script, relative to its project.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub file: Option<String>,
    /// The function.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub function: Option<String>,
    /// The line of the script, with single spaces.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub text: Option<String>,
    /// The project in which it was met.
    pub project: String,
    /// The day, as RFC 3339 writes it.
    pub met: String,
    /// Words of the user's own.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub tags: Vec<String>,
}

/// A note that the user wrote about an error, with what it is about.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Note {
    /// What it is about.
    pub head: Head,
    /// What was written, as Markdown.
    pub body: String,
}

/// Why a file is no note.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum NoteProblem {
    /// The head is missing.
    #[error("its first line is not +++, so it has no head")]
    NoHead,
    /// The head is not closed.
    #[error("the +++ that closes its head is missing")]
    Open,
    /// It is too long.
    #[error("it is longer than a note can be (1 MB)")]
    Long,
    /// The head cannot be read.
    #[error("line {line}: {why}")]
    Head {
        /// The line of the file, from 1.
        line: usize,
        /// What the reader of TOML says.
        why: String,
    },
}

impl Note {
    /// Reads a note.
    ///
    /// # Errors
    ///
    /// When the file has no head, or one that is not TOML; the line is named.
    pub fn parse(text: &str) -> Result<Note, NoteProblem> {
        if text.len() > LONGEST {
            return Err(NoteProblem::Long);
        }
        let text = text.strip_prefix('\u{feff}').unwrap_or(text).replace("\r\n", "\n");
        let rest = text
            .strip_prefix(FENCE)
            .and_then(|r| r.strip_prefix('\n'))
            .ok_or(NoteProblem::NoHead)?;
        let end = if rest.starts_with("+++\n") {
            0
        } else {
            rest.find("\n+++\n").map(|at| at + 1).ok_or(NoteProblem::Open)?
        };
        let head = toml::from_str(&rest[..end]).map_err(|e| {
            let line = e.span().map_or(2, |s| rest[..s.start.min(end)].matches('\n').count() + 2);
            NoteProblem::Head { line, why: e.message().to_owned() }
        })?;
        Ok(Note { head, body: rest[end + FENCE.len()..].trim_matches('\n').to_owned() })
    }

    /// Writes it as the text of a file, which reads back the same.
    pub fn write(&self) -> String {
        // A head of texts and lists of texts is always TOML.
        let head = toml::to_string(&self.head).unwrap_or_default();
        format!("{FENCE}\n{head}{FENCE}\n\n{}\n", self.body.trim_matches('\n'))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn what_is_written_is_read_again(title in "\\PC{0,40}", message in "[\\PC\n+\"\\\\]{0,60}", text in proptest::option::of("\\PC{0,30}"), tags in prop::collection::vec("\\PC{0,8}", 0..3), body in "[\\PC\n+]{0,80}") {
            let head = Head { title, message, text, tags, family: "other".into(), ..Head::default() };
            let note = Note { head, body: body.trim_matches('\n').to_owned() };
            prop_assert_eq!(Note::parse(&note.write()), Ok(note.clone()));
            // As an editor of another system leaves it, unless the line ends are the text's own.
            if !note.body.contains('\r') {
                prop_assert_eq!(Note::parse(&note.write().replace('\n', "\r\n")).map(|n| n.body), Ok(note.body));
            }
        }

        #[test]
        fn any_file_is_answered(text in "[\\PC\n+=\"]{0,120}") {
            let _ = Note::parse(&text);
            let _ = Note::parse(&format!("+++\n{text}"));
        }
    }

    #[test]
    fn what_is_wrong_is_said_with_its_line() {
        let all = [
            "",
            "no head\n",
            "+++\ntitle = \"a\"\n",
            "+++\ntitle = \"a\"\nfamily = other\n+++\n",
            "+++\n+++\n",
        ];
        let told: Vec<String> = all
            .iter()
            .map(|t| {
                format!(
                    "{t:?}   {}",
                    Note::parse(t).map_or_else(|p| p.to_string(), |_| "a note".into())
                )
            })
            .collect();
        insta::assert_snapshot!(told.join("\n"), @r#"
    ""   its first line is not +++, so it has no head
    "no head\n"   its first line is not +++, so it has no head
    "+++\ntitle = \"a\"\n"   the +++ that closes its head is missing
    "+++\ntitle = \"a\"\nfamily = other\n+++\n"   line 3: string values must be quoted, expected literal string
    "+++\n+++\n"   a note
    "#);
    }
}
