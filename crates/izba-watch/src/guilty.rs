//! Who did it: the index of the project's code, made when it is first asked for, and the answer for
//! one error.

use izba_cause::suspect;
use izba_cause::suspect::Findings;
use izba_model::Family;
use izba_model::code::{FileFacts, Index, SyntaxFault};
use izba_model::{Entry, Project};
use std::sync::{Arc, OnceLock};

/// The code of a project as it was at one moment.
#[derive(Debug)]
pub struct Guilty {
    project: Arc<Project>,
    index: OnceLock<Index>,
    repaired: OnceLock<Index>,
}

impl Guilty {
    /// For the files of `project`; nothing is read before the first question.
    pub fn of(project: &Arc<Project>) -> Guilty {
        Guilty { project: project.clone(), index: OnceLock::new(), repaired: OnceLock::new() }
    }

    /// The facts of all files.
    pub fn index(&self) -> &Index {
        let read =
            || izba_code::index(self.project.files().iter().map(|f| (&f.path, f.text.as_ref())));
        self.index.get_or_init(|| read().with_library(self.project.library()))
    }

    /// The facts of all files, with the repairs of those that do not parse.
    pub fn repaired(&self) -> &Index {
        self.repaired.get_or_init(|| izba_code::all_repaired(self.index()))
    }

    /// Who is guilty of one error.
    pub fn find(&self, entry: &Entry) -> Findings {
        find(entry, self.index())
    }
}

/// Who is guilty of one error, by this index.
pub fn find(entry: &Entry, index: &Index) -> Findings {
    let file = entry.place.as_ref().and_then(|p| index.file(&p.file));
    let syntax = file.map(|f| syntax(entry, f)).unwrap_or_default();
    suspect::find(entry, index, &syntax)
}

/// What does not parse in the file of an error that says so.
fn syntax(entry: &Entry, file: &FileFacts) -> Vec<SyntaxFault> {
    if entry.family != Family::DoesNotParse {
        return Vec::new();
    }
    if !file.language.is_code() {
        return file.faults.clone();
    }
    // A script that can be read is well: then it was data that could not be.
    if !file.broken {
        return Vec::new();
    }
    let line = entry.place.as_ref().and_then(|p| p.line).unwrap_or(1);
    let opener = entry.facts.get("line").and_then(|l| l.parse().ok());
    izba_code::mend::faults(
        file.language,
        &file.text,
        Some(izba_code::mend::Noticed { line, opener, near: entry.facts.get("near").cloned() }),
    )
}
