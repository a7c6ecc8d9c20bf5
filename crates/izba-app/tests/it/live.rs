//! The five languages, run live under `izba run`: the sentence has to name the right own file and
//! line.

use crate::tmux::izba;
use std::path::Path;
use std::process::{Command, Stdio};

/// Runs the samples of one language live and compares the sentence with that of the kept output.
#[track_caller]
fn check(language: &str, script: &str) {
    let samples = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../cases/consoles").join(language);
    let mut seen = 0;
    for sample in std::fs::read_dir(&samples).expect("samples").flatten().map(|e| e.path()) {
        let folder = tempfile::tempdir().expect("a temporary folder");
        for file in std::fs::read_dir(&sample)
            .expect("a sample")
            .flatten()
            .filter(|f| f.file_name() != "console.txt")
        {
            std::fs::copy(file.path(), folder.path().join(file.file_name())).expect("room");
        }
        let kept = first_line(
            Command::new(izba())
                .args(["--project"])
                .arg(&sample)
                .arg("read")
                .arg(sample.join("console.txt")),
        );
        let mut live = Command::new(izba());
        live.current_dir(folder.path()).args(["--project", ".", "run", script]);
        let live = first_line(&mut live);
        assert_eq!(live, kept, "{}", sample.display());
        assert!(live.to_lowercase().contains("line "), "{live}");
        seen += 1;
    }
    assert!(seen >= 4, "{language} has {seen} samples");
}

fn first_line(command: &mut Command) -> String {
    let state = tempfile::tempdir().expect("a temporary folder");
    let out = command
        .env("XDG_STATE_HOME", state.path())
        .env_remove("PYTHONUNBUFFERED")
        .stdin(Stdio::null())
        .output()
        .expect("it runs");
    let text = String::from_utf8_lossy(&out.stdout).into_owned();
    text.lines().find(|l| l.starts_with("Fix first: ")).map(str::to_owned).unwrap_or(text)
}

#[test]
fn lua_runs_live() {
    check("lua", "main.lua");
}

#[test]
fn javascript_runs_live() {
    check("javascript", "main.js");
}

#[test]
fn python_runs_live() {
    check("python", "main.py");
}

#[test]
fn java_runs_live() {
    check("java", "Main.java");
}

#[test]
fn csharp_runs_live() {
    check("csharp", "Gate.cs");
}
