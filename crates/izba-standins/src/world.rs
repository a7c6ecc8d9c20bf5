//! The demo project: its files, the faults that are planted in them, and their cures.

use include_dir::{Dir, include_dir};
use serde::Deserialize;
use std::collections::BTreeMap;
use std::fs;
use std::io;
use std::path::Path;
use std::sync::LazyLock;

static FILES: Dir<'_> = include_dir!("$CARGO_MANIFEST_DIR/demo/night-ferry");
static LIST: &str = include_str!("../demo/faults.toml");

/// The file that marks a folder as the demo project, so that nothing of the user's is written over.
pub const MARK: &str = "izba.toml";

/// Paths below the project's folder, and texts.
pub fn files() -> BTreeMap<String, &'static str> {
    fn walk(dir: &'static Dir<'static>, found: &mut BTreeMap<String, &'static str>) {
        for file in dir.files() {
            let text = file.contents_utf8().unwrap_or_default();
            found.insert(file.path().to_string_lossy().into_owned(), text);
        }
        for inner in dir.dirs() {
            walk(inner, found);
        }
    }
    let mut found = BTreeMap::new();
    walk(&FILES, &mut found);
    found
}

/// Lays the project out in `folder`. Files that are there already are left as they are, so that
/// mended scripts stay mended; one that a cure put under another name is not laid out again.
///
/// # Errors
///
/// When the folder holds something else (kind [`io::ErrorKind::AlreadyExists`]), or cannot be
/// written.
pub fn lay_out(folder: &Path) -> io::Result<()> {
    check_ours(folder)?;
    for (path, text) in files() {
        let moved = faults()
            .iter()
            .flat_map(|f| &f.cure)
            .filter(|edit| edit.file == path)
            .filter_map(|edit| edit.rename.as_ref());
        if !folder.join(&path).exists() && !moved.into_iter().any(|to| folder.join(to).exists()) {
            write(folder, &path, text)?;
        }
    }
    Ok(())
}

/// Puts the project back as it was at first. What the user added stays.
///
/// # Errors
///
/// As [`lay_out`].
pub fn reset(folder: &Path) -> io::Result<()> {
    check_ours(folder)?;
    for to in faults().iter().flat_map(|f| &f.cure).filter_map(|edit| edit.rename.as_ref()) {
        if !files().contains_key(to) && folder.join(to).exists() {
            fs::remove_file(folder.join(to))?;
        }
    }
    files().into_iter().try_for_each(|(path, text)| write(folder, &path, text))
}

fn check_ours(folder: &Path) -> io::Result<()> {
    let ours = folder.join(MARK).exists();
    let empty = !folder.exists() || fs::read_dir(folder)?.next().is_none();
    if ours || empty {
        Ok(())
    } else {
        Err(io::Error::new(io::ErrorKind::AlreadyExists, "the folder holds something else"))
    }
}

fn write(folder: &Path, path: &str, text: &str) -> io::Result<()> {
    let path = folder.join(path);
    if let Some(parent) = path.parent() {
        fs::create_dir_all(parent)?;
    }
    fs::write(path, text)
}

/// A fault that is planted in the demo project.
#[derive(Debug, Clone, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Fault {
    /// Its name.
    pub id: String,
    /// The source on whose console it shows.
    pub source: String,
    /// The family of errors.
    pub family: String,
    /// The family to which the console's sentence alone would count it, where that is another one.
    pub seems: Option<String>,
    /// The needs of newcomers that it stands for.
    pub needs: Vec<String>,
    /// What the console says, in lines that follow one another closely; `…` stands for anything.
    /// `{line}` is the line where [`Fault::told`] stands now, `{@text}` the line of that text in
    /// the same file. For a fault that says nothing, what the console says only once it is mended.
    pub says: String,
    /// Whether it says nothing.
    #[serde(default)]
    pub silent: bool,
    /// Where the console says that it is, if it names a place.
    pub told: Option<Spot>,
    /// Where it really is.
    pub guilty: Spot,
    /// How to mend it, in words.
    pub mend: String,
    /// What it teaches.
    pub teaches: String,
    /// What mends it.
    pub cure: Vec<Edit>,
    /// The same mistake under another name, planted into the mended project; for each kind of
    /// fault.
    pub again: Option<Again>,
    /// What another source says of the same mistake.
    pub twin: Option<Twin>,
    /// The runtime that, where it is installed, runs the same file for comparison; and what it is
    /// asked.
    pub real: Option<Real>,
}

/// A place in the project, found by what stands there.
#[derive(Debug, Clone, PartialEq, Eq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Spot {
    /// Path below the project's folder.
    pub file: String,
    /// A text in the line, perhaps with lines above it; the end of the file when empty.
    #[serde(default)]
    pub find: String,
}

impl Spot {
    /// Its line in the project as it is now, from 1.
    pub fn line(&self, folder: &Path) -> Option<usize> {
        let text = fs::read_to_string(folder.join(&self.file)).ok()?;
        if self.find.is_empty() {
            return Some(text.lines().count() + 1);
        }
        text.find(&self.find).map(|at| 1 + text[..at + self.find.len()].matches('\n').count())
    }
}

/// What a console says of a fault in the project as it is now: `says` with its lines filled in.
pub fn said_now(folder: &Path, says: &str, told: Option<&Spot>) -> Option<String> {
    let line = match told {
        Some(spot) => spot.line(folder)?.to_string(),
        None => String::new(),
    };
    let mut said = String::new();
    let mut rest = says;
    while let Some((before, after)) = rest.split_once("{@") {
        let (find, behind) = after.split_once('}')?;
        let there = Spot { file: told?.file.clone(), find: find.into() };
        said += before;
        said += &there.line(folder)?.to_string();
        rest = behind;
    }
    Some((said + rest).replace("{line}", &line))
}

/// A change of one file.
#[derive(Debug, Clone, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Edit {
    /// The file.
    pub file: String,
    /// What is replaced; the whole file when empty.
    #[serde(default)]
    pub find: String,
    /// What is put there.
    #[serde(default)]
    pub put: String,
    /// The new path of the file, when it gets one.
    pub rename: Option<String>,
}

/// The same mistake elsewhere in the project, to see that it is no single case.
#[derive(Debug, Clone, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Again {
    /// What plants it.
    pub plant: Vec<Edit>,
    /// What the console says then.
    pub says: String,
    /// Where the console says that it is.
    pub told: Option<Spot>,
}

/// The same mistake as another source tells it.
#[derive(Debug, Clone, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Twin {
    /// The source.
    pub source: String,
    /// What its console says.
    pub says: String,
    /// Where that console says that it is.
    pub told: Option<Spot>,
}

/// What a real runtime is asked about a fault.
#[derive(Debug, Clone, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Real {
    /// `lua`, `node`, `java`, `javac` or `mono`.
    pub runtime: String,
    /// What is called, for those that need to be told.
    #[serde(default)]
    pub call: String,
    /// The name that the language gives the error.
    pub kind: String,
}

/// All faults that are planted in the demo project, as `faults.toml` lists them.
pub fn faults() -> &'static [Fault] {
    #[derive(Deserialize)]
    struct List {
        fault: Vec<Fault>,
    }
    static FAULTS: LazyLock<List> =
        LazyLock::new(|| toml::from_str(LIST).expect("a test reads the list"));
    &FAULTS.fault
}

/// Applies changes to the project in `folder`.
///
/// # Errors
///
/// A sentence when a file, or the text that is to be replaced, is not there; nothing is changed by
/// that edit then.
pub fn apply(folder: &Path, edits: &[Edit]) -> Result<(), String> {
    for edit in edits {
        let path = folder.join(&edit.file);
        let failed = |e: io::Error| format!("{} cannot be changed: {e}", edit.file);
        if let Some(to) = &edit.rename {
            fs::rename(&path, folder.join(to)).map_err(failed)?;
            continue;
        }
        if edit.find.is_empty() {
            write(folder, &edit.file, &edit.put).map_err(failed)?;
            continue;
        }
        let text = fs::read_to_string(&path).map_err(failed)?;
        if !text.contains(&edit.find) {
            return Err(format!(
                "{} no longer holds “{}”; it may be fixed already",
                edit.file,
                edit.find.lines().next().unwrap_or_default()
            ));
        }
        fs::write(&path, text.replacen(&edit.find, &edit.put, 1)).map_err(failed)?;
    }
    Ok(())
}

/// The list of faults as a page for people.
pub fn page() -> String {
    let faults = faults();
    let elsewhere = faults.iter().filter(|f| f.is_elsewhere()).count();
    let mut page = format!(
        "# The faults of Night Ferry\n\nAll {} of them are real: fix one, run again, and it is gone. {} have their guilty line elsewhere than the \
         console says; {} say nothing at all.\nThis page is made from `crates/izba-standins/demo/faults.toml` by `cargo xtask faults`.\n",
        faults.len(),
        elsewhere,
        faults.iter().filter(|f| f.silent).count()
    );
    let mut source = "";
    for fault in faults {
        if fault.source != source {
            source = &fault.source;
            page += &format!("\n## {source}\n");
        }
        let says = if fault.silent {
            "nothing".to_owned()
        } else {
            format!("`{}`", without_lines(&fault.says).replace('\n', "` … `"))
        };
        page += &format!(
            "\n### {}\n\n{}\n\n- family: {} ({})\n- the console says: {says}\n",
            fault.id,
            fault.teaches,
            family_of(fault),
            fault.needs.join(", ")
        );
        if let Some(twin) = &fault.twin {
            page += &format!(
                "- the {} says as well: `{}`\n",
                twin.source,
                without_lines(&twin.says).replace('\n', "` … `")
            );
        }
        if let Some(told) = fault.told.as_ref().filter(|_| fault.is_elsewhere()) {
            page += &format!("- it names: {}\n", spot(told));
        }
        page += &format!(
            "- guilty: {}\n- to fix: {}, or `izba demo --fix {}`\n",
            spot(&fault.guilty),
            fault.mend,
            fault.id
        );
    }
    page
}

fn family_of(fault: &Fault) -> String {
    fault.seems.as_ref().map_or_else(
        || fault.family.clone(),
        |seems| format!("{}, though by its sentence alone {seems}", fault.family),
    )
}

fn without_lines(says: &str) -> String {
    let mut parts = says.split("{@");
    let first = parts.next().unwrap_or_default().to_owned();
    parts
        .fold(first, |text, part| text + "…" + part.split_once('}').map_or(part, |(_, rest)| rest))
        .replace("{line}", "…")
}

fn spot(spot: &Spot) -> String {
    let mut above: Vec<&str> = spot.find.lines().map(str::trim).collect();
    match above.pop() {
        None => format!("`{}`, at its end", spot.file),
        Some(line) if above.is_empty() => format!("`{}`, where it says `{line}`", spot.file),
        Some(line) => format!("`{}`, at the `{line}` below `{}`", spot.file, above.join(" / ")),
    }
}

impl Fault {
    /// Whether the console names a place, and the guilty line is another one.
    pub fn is_elsewhere(&self) -> bool {
        self.told.as_ref().is_some_and(|told| *told != self.guilty)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn laying_out_twice_keeps_what_was_mended_and_a_strange_folder_is_left_alone() {
        let folder = tempfile::tempdir().expect("a temporary folder");
        let script = folder.path().join("scripts/fog.lua");
        lay_out(folder.path()).expect("an empty folder");
        fs::write(&script, "mended").expect("it can be written");
        fs::write(folder.path().join("mine.lua"), "-- mine").expect("it can be written");
        let renamed: Vec<Edit> =
            faults().iter().flat_map(|f| f.cure.clone()).filter(|e| e.rename.is_some()).collect();
        apply(folder.path(), &renamed).expect("the files are there");
        lay_out(folder.path()).expect("our own folder");
        assert_eq!(fs::read_to_string(&script).expect("it is there"), "mended");
        assert!(
            renamed.iter().all(|e| !folder.path().join(&e.file).exists()),
            "a cured name came back"
        );
        reset(folder.path()).expect("our own folder");
        assert_eq!(fs::read_to_string(&script).expect("it is there"), files()["scripts/fog.lua"]);
        assert!(renamed.iter().all(|e| folder.path().join(&e.file).exists()
            && !folder.path().join(e.rename.as_ref().expect("one")).exists()));
        assert!(folder.path().join("mine.lua").exists(), "what the user added stays");
        let strange = tempfile::tempdir().expect("a temporary folder");
        fs::write(strange.path().join("letter.txt"), "dear").expect("it can be written");
        assert!(lay_out(strange.path()).is_err() && reset(strange.path()).is_err());
    }

    #[test]
    fn what_was_mended_by_hand_is_not_mended_again() {
        let folder = tempfile::tempdir().expect("a temporary folder");
        lay_out(folder.path()).expect("an empty folder");
        let fault = &faults()[0];
        apply(folder.path(), &fault.cure).expect("it is as it was");
        let said = apply(folder.path(), &fault.cure).expect_err("it is mended");
        assert!(said.contains("it may be fixed already"), "{said}");
    }
}
