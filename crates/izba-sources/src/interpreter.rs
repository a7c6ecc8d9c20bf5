//! `izba run main.py`: which program runs a script, told by its ending.

use crate::SourceError;
use izba_model::dialect::{CompileAndRun, Language};
use std::ffi::OsString;
use std::path::{Path, PathBuf};

/// The words to start: `words` as they are, or with the interpreter of the script that they begin
/// with.
///
/// # Errors
///
/// [`SourceError::NoInterpreter`] when the first word is a script and nothing that runs it is
/// installed.
pub fn find_interpreter(words: &[OsString], folder: &Path) -> Result<Vec<OsString>, SourceError> {
    let Some(first) = words.first() else {
        return Err(SourceError::Start {
            command: String::new(),
            cause: std::io::Error::other("no command was given"),
        });
    };
    let script = folder.join(first);
    if !script.is_file() || is_executable(&script) {
        return Ok(words.to_vec());
    }
    let missing = |looked_for: String| SourceError::NoInterpreter {
        script: first.to_string_lossy().into_owned(),
        looked_for,
    };
    let Some(language) = Language::of(&script.to_string_lossy()) else { return Ok(words.to_vec()) };
    let behind = words.iter().cloned();
    if let Some(CompileAndRun { needs, shell }) = &language.compile_and_run {
        if needs.iter().any(|program| on_path(program).is_none()) {
            return Err(missing(needs.join(" and ")));
        }
        return Ok(["sh", "-c", shell].into_iter().map(OsString::from).chain(behind).collect());
    }
    if language.run_by.is_empty() {
        return Ok(words.to_vec());
    }
    match language.run_by.iter().find(|program| on_path(program).is_some()) {
        Some(program) => Ok(std::iter::once(OsString::from(program)).chain(behind).collect()),
        None => Err(missing(language.run_by.join(", "))),
    }
}

pub(crate) fn on_path(program: &str) -> Option<PathBuf> {
    let path = std::env::var_os("PATH")?;
    std::env::split_paths(&path).map(|folder| folder.join(program)).find(|p| is_executable(p))
}

fn is_executable(path: &Path) -> bool {
    use std::os::unix::fs::PermissionsExt;
    path.metadata().is_ok_and(|m| m.is_file() && m.permissions().mode() & 0o111 != 0)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn scripts_find_what_runs_them_and_commands_stay_as_they_are() {
        let folder = tempfile::tempdir().expect("a temporary folder");
        for name in ["main.py", "main.js", "main.strange", "tool.sh"] {
            std::fs::write(folder.path().join(name), "\n").expect("room");
        }
        let made_runnable = std::process::Command::new("chmod")
            .arg("+x")
            .arg(folder.path().join("tool.sh"))
            .status();
        assert!(made_runnable.is_ok_and(|s| s.success()));
        let words = |all: &[&str]| {
            let all: Vec<OsString> = all.iter().map(OsString::from).collect();
            let found = find_interpreter(&all, folder.path()).map_err(|e| e.sentence());
            found.map(|w| {
                w.iter().map(|w| w.to_string_lossy().into_owned()).collect::<Vec<_>>().join(" ")
            })
        };
        assert_eq!(words(&["main.py", "--night"]).as_deref(), Ok("python3 main.py --night"));
        assert_eq!(words(&["main.js"]).as_deref(), Ok("node main.js"));
        assert_eq!(
            words(&["main.strange"]).as_deref(),
            Ok("main.strange"),
            "the system will say what it thinks of it"
        );
        assert_eq!(words(&["tool.sh"]).as_deref(), Ok("tool.sh"), "it can be run by itself");
        assert_eq!(words(&["python3", "main.py"]).as_deref(), Ok("python3 main.py"));
        assert_eq!(
            words(&["nowhere.py"]).as_deref(),
            Ok("nowhere.py"),
            "what is not there is no script"
        );
        assert!(words(&[]).is_err_and(|e| e.contains("no command was given")));
    }
}
