//! Who did it: the index of the project's code, made when it is first asked for, and the answer for
//! one error.

use izba_cause::checks::Checked;
use izba_cause::suspect;
use izba_cause::suspect::Findings;
use izba_code::mend::Noticed;
use izba_model::Family;
use izba_model::code::{FileFacts, Index, SyntaxFault};
use izba_model::{Entry, Project};
use std::collections::{BTreeMap, HashMap};
use std::sync::{Arc, Mutex, OnceLock, PoisonError};

/// Repairs of scripts that do not parse: looked for once for each text, whichever of its messages
/// is asked about.
#[derive(Debug, Default)]
pub struct Repairs {
    known: Mutex<HashMap<Arc<str>, Repaired>>,
}

/// What was found for a script.
#[derive(Debug)]
struct Repaired {
    text: Arc<str>,
    /// Line of the message that it was looked for with.
    noticed: u32,
    faults: Vec<SyntaxFault>,
}

/// Lines above a message in which its cause is near.
const NEAR: u32 = 3;

impl Repairs {
    /// Looks for the repairs of all scripts that these messages are about, each with the first
    /// message in it: the later ones need no search of their own then.
    fn prepare<'e>(&self, entries: impl Iterator<Item = &'e Entry>, index: &Index) {
        let mut first: BTreeMap<&str, &Entry> = BTreeMap::new();
        for entry in entries.filter(|e| e.family == Family::DoesNotParse) {
            let line = |e: &Entry| e.place.as_ref().and_then(|p| p.line);
            // A message without a line says nothing of where.
            let Some(place) = entry.place.as_ref().filter(|p| p.line.is_some()) else { continue };
            let known = first.entry(&place.file).or_insert(entry);
            if line(entry) < line(known) {
                *known = entry;
            }
        }
        for entry in first.values() {
            let file = entry.place.as_ref().and_then(|p| index.file(&p.file));
            file.into_iter().for_each(|file| drop(syntax(entry, file, self)));
        }
    }

    /// The faults of a script for the message at `line`: first the one that it comes from.
    fn of(
        &self,
        file: &FileFacts,
        line: u32,
        noticed: impl FnOnce() -> Noticed,
    ) -> Vec<SyntaxFault> {
        let mut known = self.known.lock().unwrap_or_else(PoisonError::into_inner);
        let has = known.get(&file.path).filter(|r| r.text == file.text && r.noticed <= line);
        if let Some(has) = has {
            return behind(&has.faults, line);
        }
        // An earlier message says more: the parser was still in step then.
        let accepts = izba_sources::accepts;
        let faults = izba_code::mend::faults(file.language, &file.text, Some(noticed()), &accepts);
        // What stands below a message is not its cause where something right at it is wrong too.
        let below = faults.first().is_some_and(|f| f.line > line);
        let near = faults.iter().any(|f| f.line <= line && f.line + NEAR >= line);
        let faults = if below && near { behind(&faults, line) } else { faults };
        let one = Repaired { text: file.text.clone(), noticed: line, faults: faults.clone() };
        known.insert(file.path.clone(), one);
        faults
    }
}

/// The faults as a later message sees them: the last one that stands before it is its cause.
fn behind(faults: &[SyntaxFault], line: u32) -> Vec<SyntaxFault> {
    let mut all = faults.to_vec();
    if let Some(at) = all.iter().rposition(|f| f.line <= line) {
        all[..=at].rotate_right(1);
    }
    if let Some(first) = all.first_mut() {
        first.noticed = line.max(first.line);
    }
    all
}

/// The code of a project as it was at one moment.
#[derive(Debug)]
pub struct Guilty {
    project: Arc<Project>,
    index: OnceLock<Index>,
    repaired: OnceLock<Index>,
    repairs: Repairs,
}

impl Guilty {
    /// For the files of `project`; nothing is read before the first question.
    pub fn of(project: &Arc<Project>) -> Guilty {
        Guilty {
            project: project.clone(),
            index: OnceLock::new(),
            repaired: OnceLock::new(),
            repairs: Repairs::default(),
        }
    }

    /// The facts of all files.
    pub fn index(&self) -> &Index {
        let read =
            || izba_code::index(self.project.files().iter().map(|f| (&f.path, f.text.as_ref())));
        self.index.get_or_init(|| read().with_library(self.project.library()))
    }

    /// The facts of all files, with the repairs of those that do not parse.
    pub fn repaired(&self) -> &Index {
        self.repaired.get_or_init(|| izba_code::all_repaired(self.index(), &izba_sources::accepts))
    }

    /// Makes ready for questions about all of these errors.
    pub fn prepare<'e>(&self, entries: impl Iterator<Item = &'e Entry>) {
        self.repairs.prepare(entries, self.index());
    }

    /// What the checks see of one error: for learning the order of suspects.
    pub fn candidates(&self, entry: &Entry) -> Vec<suspect::Candidate> {
        let index = self.index();
        let file = entry.place.as_ref().and_then(|p| index.file(&p.file));
        let syntax = file.map(|f| syntax(entry, f, &self.repairs)).unwrap_or_default();
        suspect::candidates(entry, index, &syntax)
    }

    /// Who is guilty of one error.
    pub fn find(&self, entry: &Entry) -> Findings {
        find(entry, self.index(), &self.repairs)
    }
}

/// What of the project is code and yet not looked into, and whether the checks gave up, in
/// sentences; `None` where all was looked at.
pub fn left_out(index: &Index, checked: &Checked) -> Option<String> {
    let gave_up = checked.gave_up.then(|| GAVE_UP.to_owned());
    let all: Vec<String> = unread(index).into_iter().chain(gave_up).collect();
    (!all.is_empty()).then(|| all.join(" "))
}

/// What is said where there was too much to look at.
const GAVE_UP: &str = "There is too much to compare: not all of it was looked at.";

fn unread(index: &Index) -> Option<String> {
    let left = izba_code::not_looked_into(index);
    let all: Vec<String> = left
        .iter()
        .map(|(language, count)| {
            let files = if *count == 1 { "file" } else { "files" };
            format!("{} {language} {files}", izba_model::text::thousands(*count as u64))
        })
        .collect();
    let (last, others) = all.split_last()?;
    let are = if left.iter().map(|(_, n)| n).sum::<usize>() == 1 { "is" } else { "are" };
    Some(match others {
        [] => format!("{last} {are} not looked into."),
        _ => format!("{} and {last} {are} not looked into.", others.join(", ")),
    })
}

/// Who is guilty of one error, by this index.
pub fn find(entry: &Entry, index: &Index, repairs: &Repairs) -> Findings {
    let file = entry.place.as_ref().and_then(|p| index.file(&p.file));
    let syntax = file.map(|f| syntax(entry, f, repairs)).unwrap_or_default();
    suspect::find(entry, index, &syntax)
}

/// What does not parse in the file of an error that says so.
fn syntax(entry: &Entry, file: &FileFacts, repairs: &Repairs) -> Vec<SyntaxFault> {
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
    repairs.of(file, line, || Noticed {
        line,
        opener: entry.facts.get("line").and_then(|l| l.parse().ok()),
        near: entry.facts.get("near").cloned(),
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_later_message_belongs_to_the_last_fault_before_it_and_is_not_looked_for_again() {
        let text = "function a( {\n}\n\nfunction b() {\n  return [1, 2;\n}\n";
        let file = izba_code::read(&"pier.js".into(), &text.into()).expect("it is a script");
        let (repairs, asked) = (Repairs::default(), std::cell::Cell::new(0));
        let of = |line: u32| {
            let faults = repairs.of(&file, line, || {
                asked.set(asked.get() + 1);
                Noticed { line, ..Noticed::default() }
            });
            (faults.iter().map(|f| f.line).collect::<Vec<_>>(), faults[0].noticed)
        };
        assert_eq!(of(1), (vec![1, 5], 1));
        assert_eq!(of(5), (vec![5, 1], 5));
        assert_eq!(of(3), (vec![1, 5], 3));
        assert_eq!(asked.get(), 1);
    }

    #[test]
    fn what_is_not_looked_into_is_counted_by_language() {
        let said = |paths: &[&str]| {
            let files: Vec<(Arc<str>, Arc<str>)> =
                paths.iter().map(|p| ((*p).into(), "x = 1\n".into())).collect();
            let index = izba_code::index(files.iter().map(|(p, t)| (p, Some(t))));
            left_out(&index, &Checked::default())
        };
        assert_eq!(said(&["a.py", "b.json", "c.png"]), None);
        assert_eq!(said(&["a.py", "b.go"]).as_deref(), Some("1 Go file is not looked into."));
        assert_eq!(
            said(&["b.go", "src/c.cpp", "src/d.cpp"]).as_deref(),
            Some("2 C++ files and 1 Go file are not looked into.")
        );
    }

    #[test]
    fn checks_that_gave_up_say_so_and_others_do_not() {
        let names = |count: usize| -> String {
            // Names of no pattern: each has to be compared with the others.
            let name =
                |n: usize| format!("{:x}", (n as u64 + 1).wrapping_mul(0x9e37_79b9_7f4a_7c15));
            (0..count).map(|n| format!("    k{} = {n}\n", name(n))).collect()
        };
        let said = |count: usize| {
            let text: Arc<str> = format!("def crossing():\n{}    return 1\n", names(count)).into();
            let files: [(Arc<str>, Arc<str>); 1] = [("main.py".into(), text)];
            let index = izba_code::index(files.iter().map(|(p, t)| (p, Some(t))));
            left_out(&index, &izba_cause::checks::all(&index))
        };
        assert_eq!(said(300), None);
        assert_eq!(said(9_000).as_deref(), Some(GAVE_UP));
    }
}
