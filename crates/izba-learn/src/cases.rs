//! Programs whose guilty line is known, as the learner sees them: for each the places that the checks
//! point at, with their features, and which of them are guilty.
//!
//! Two forms are read: the project's own list of seeded faults (`cases/faults/cases.jsonl`), and a
//! folder with one folder for each program that holds `project/`, `console.log` and `truth.json`.

use izba_cause::suspect::Candidate;
use izba_core::Engine;
use izba_model::{Entry, Project, ProjectFile, Stream};
use izba_watch::guilty::Guilty;
use rayon::prelude::*;
use std::path::{Path, PathBuf};
use std::sync::Arc;

/// A place with the features of all that the checks saw there.
#[derive(Debug, Clone, PartialEq)]
pub struct Place {
    /// Whether it is guilty.
    pub guilty: bool,
    /// What was seen there.
    pub sightings: Vec<Sighting>,
}

/// What a check saw at a place.
#[derive(Debug, Clone, PartialEq)]
pub struct Sighting {
    /// Its kind and strength, as they are counted.
    pub kind: String,
    /// How strongly it was seen.
    pub strength: &'static str,
    /// Its features by their number; what became of others like it is the last one.
    pub features: Vec<(u16, f32)>,
}

/// One error whose guilty line is known.
#[derive(Debug, Clone, PartialEq)]
pub struct Case {
    /// The program that was broken.
    pub program: String,
    /// In which way.
    pub slip: String,
    /// The places, in a fixed order.
    pub places: Vec<Place>,
}

/// A guilty stretch of lines, both ends with it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Culprit {
    /// Path relative to the project.
    pub file: String,
    /// First line, from 1; 0 for the file as a whole.
    pub from: u32,
    /// Last line.
    pub to: u32,
}

/// Cases of programs that may be learned from, and of those that are set aside: nothing is learned
/// from them, and they judge.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Cases {
    /// To learn from.
    pub learn: Vec<Case>,
    /// Of programs that `set-aside.txt` beside the cases names, one in a line.
    pub aside: Vec<Case>,
}

/// All cases below these folders.
///
/// # Errors
/// A sentence for what is no folder of cases, or a case that cannot be read.
pub fn read(folders: &[PathBuf]) -> Result<Cases, String> {
    let mut cases = Cases::default();
    for folder in folders {
        let told = |e: String| format!("{}: {e}", folder.display());
        let of = match folder.join("cases.jsonl").is_file() {
            true => seeded(folder),
            false => given(folder),
        };
        let named = std::fs::read_to_string(folder.join("set-aside.txt")).unwrap_or_default();
        let is_aside = |c: &Case| named.lines().any(|name| name == c.program);
        let (aside, learn): (Vec<Case>, Vec<Case>) =
            of.map_err(told)?.into_iter().partition(is_aside);
        cases.learn.extend(learn);
        cases.aside.extend(aside);
    }
    Ok(cases)
}

#[derive(serde::Deserialize)]
struct Seeded {
    project: String,
    slip: String,
    file: String,
    at: usize,
    take: usize,
    put: Vec<String>,
    guilty: (u32, u32),
    console: String,
}

fn seeded(folder: &Path) -> Result<Vec<Case>, String> {
    let text = std::fs::read_to_string(folder.join("cases.jsonl")).map_err(|e| e.to_string())?;
    let all: Result<Vec<Seeded>, _> = text.lines().map(serde_json::from_str).collect();
    let all = all.map_err(|e| e.to_string())?;
    all.into_par_iter().map(|case| broken(folder, case)).collect()
}

/// A healthy project with one stretch of lines exchanged.
fn broken(folder: &Path, case: Seeded) -> Result<Case, String> {
    let home = folder.join(&case.project);
    let mut files: Vec<ProjectFile> = Vec::new();
    for entry in std::fs::read_dir(&home).map_err(|e| e.to_string())?.flatten() {
        let name = entry.file_name().to_string_lossy().into_owned();
        let mut text = std::fs::read_to_string(entry.path()).map_err(|e| e.to_string())?;
        if name == case.file {
            let mut lines: Vec<&str> = text.lines().collect();
            let end = (case.at - 1 + case.take).min(lines.len());
            lines.splice(case.at - 1..end, case.put.iter().map(String::as_str));
            text = lines.join("\n") + "\n";
        }
        files.push(ProjectFile { path: name.into(), text: Some(text.into()) });
    }
    files.sort_by(|a, b| a.path.cmp(&b.path));
    let project = Arc::new(Project::new(format!("/seeds/{}", case.project), files));
    let culprit = Culprit { file: case.file, from: case.guilty.0, to: case.guilty.1 };
    Ok(first_of(&case.project, &case.slip, &project, case.console.as_bytes(), &[culprit]))
}

#[derive(serde::Deserialize)]
struct Truth {
    /// The program; where none is told, each folder is one.
    source: Option<String>,
    /// The way in which it was broken.
    #[serde(alias = "mechanism")]
    operator: String,
    culprits: Vec<Span>,
}

#[derive(serde::Deserialize)]
struct Span {
    file: String,
    from: u32,
    to: u32,
}

fn given(folder: &Path) -> Result<Vec<Case>, String> {
    let entries = std::fs::read_dir(folder).map_err(|e| e.to_string())?.flatten();
    let mut homes: Vec<PathBuf> =
        entries.map(|e| e.path()).filter(|p| p.join("truth.json").is_file()).collect();
    homes.sort();
    if homes.is_empty() {
        return Err("it holds no cases: neither cases.jsonl nor folders with a truth.json".into());
    }
    let one = |home: PathBuf| -> Result<Case, String> {
        let text = |name: &str| std::fs::read(home.join(name)).map_err(|e| format!("{name}: {e}"));
        let truth: Truth = serde_json::from_slice(&text("truth.json")?)
            .map_err(|e| format!("{}: {e}", home.display()))?;
        let own = || home.file_name().unwrap_or_default().to_string_lossy().into_owned();
        let program = truth.source.unwrap_or_else(own);
        let project = Arc::new(izba_files::scan(&home.join("project")));
        let culprits = truth.culprits.into_iter();
        let culprits: Vec<Culprit> =
            culprits.map(|s| Culprit { file: s.file, from: s.from, to: s.to }).collect();
        Ok(first_of(&program, &truth.operator, &project, &text("console.log")?, &culprits))
    };
    homes.into_par_iter().map(one).collect()
}

/// The first error of a console as a case; one without places where none is told.
fn first_of(
    program: &str,
    slip: &str,
    project: &Arc<Project>,
    console: &[u8],
    culprits: &[Culprit],
) -> Case {
    let mut engine = Engine::new(project.clone());
    let source = engine.add_source("console");
    engine.start_run(source, None, project.clone());
    engine.feed(source, Stream::Out, None, 0, console);
    engine.finish();
    match engine.groups().first() {
        Some(group) => case(program, slip, project, &group.entry, culprits),
        None => Case { program: program.into(), slip: slip.into(), places: Vec::new() },
    }
}

/// An error with what the checks see of it, by place.
pub fn case(
    program: &str,
    slip: &str,
    project: &Arc<Project>,
    entry: &Entry,
    culprits: &[Culprit],
) -> Case {
    let seen = Guilty::of(project).candidates(entry);
    let mut places: Vec<((Arc<str>, u32), Place)> = Vec::new();
    for Candidate { file, line, kind, strength, features } in seen {
        let one = Sighting { kind, strength, features };
        let holds = |c: &Culprit| *c.file == *file && (c.from..=c.to).contains(&line);
        let is = culprits.iter().any(holds);
        match places.iter_mut().find(|(at, _)| *at.0 == *file && at.1 == line) {
            Some((_, place)) => place.sightings.push(one),
            None => places.push(((file, line), Place { guilty: is, sightings: vec![one] })),
        }
    }
    let places = places.into_iter().map(|(_, place)| place).collect();
    Case { program: program.into(), slip: slip.into(), places }
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::fs;

    /// A crew that is asked for a name that nobody made, as a folder of one case.
    fn laid_out(home: &Path) {
        let case = home.join("0001");
        fs::create_dir_all(case.join("project")).expect("a folder");
        let write = |name: &str, text: &str| fs::write(case.join(name), text).expect("a file");
        write(
            "project/main.py",
            "def board(crew):\n    return crwe[0]\n\n\nprint(board(['mate']))\n",
        );
        write(
            "console.log",
            "Traceback (most recent call last):\n  File \"main.py\", line 5, in <module>\n    \
                print(board(['mate']))\n  File \"main.py\", line 2, in board\n    return crwe[0]\n\
                NameError: name 'crwe' is not defined\n",
        );
        write(
            "truth.json",
            r#"{"source": "board", "operator": "rename-use", "culprits": [{"file": "main.py", "from": 2, "to": 2}]}"#,
        );
    }

    #[test]
    fn a_case_is_its_places_and_which_of_them_is_guilty() {
        let home = tempfile::tempdir().expect("a folder");
        laid_out(home.path());
        let cases = read(&[home.path().to_owned()]).expect("they can be read");
        let [case] = cases.learn.as_slice() else { panic!("{cases:?}") };
        assert_eq!((case.program.as_str(), case.slip.as_str()), ("board", "rename-use"));
        let guilty: Vec<usize> =
            case.places.iter().filter(|p| p.guilty).map(|p| p.sightings.len()).collect();
        assert!(guilty.len() == 1 && guilty[0] >= 2, "several checks see it: {case:?}");
        assert!(case.places.len() > guilty.len(), "{case:?}");
        // Read again it is the same to the last digit.
        assert_eq!(read(&[home.path().to_owned()]).as_ref(), Ok(&cases));
        fs::write(home.path().join("set-aside.txt"), "board\n").expect("a file");
        let aside = read(&[home.path().to_owned()]).expect("they can be read");
        assert_eq!((aside.learn, aside.aside), (Vec::new(), cases.learn));
    }

    #[test]
    fn a_folder_without_cases_is_told() {
        let home = tempfile::tempdir().expect("a folder");
        let told = read(&[home.path().to_owned()]).expect_err("nothing is there");
        assert!(told.ends_with("neither cases.jsonl nor folders with a truth.json"), "{told}");
        let told = read(&[home.path().join("nowhere")]).expect_err("nothing is there");
        assert!(told.contains("nowhere"), "{told}");
    }
}
