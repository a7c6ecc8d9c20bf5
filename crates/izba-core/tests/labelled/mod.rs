//! The labelled entries of `labelled`, for the tests that are scored on them.

use izba_model::{Project, ProjectFile};
use std::path::{Path, PathBuf};
use std::sync::Arc;

fn folder() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../../cases/groups")
}

/// The files below a folder.
pub fn project(root: &Path) -> Arc<Project> {
    fn walk(root: &Path, at: &Path, out: &mut Vec<ProjectFile>) {
        for entry in std::fs::read_dir(at).expect("a folder").flatten() {
            let path = entry.path();
            if path.is_dir() {
                walk(root, &path, out);
                continue;
            }
            let name = path.strip_prefix(root).expect("below it").to_string_lossy().into_owned();
            out.push(ProjectFile {
                path: name.into(),
                text: Some(std::fs::read_to_string(&path).expect("text").into()),
            });
        }
    }
    let mut files = Vec::new();
    walk(root, root, &mut files);
    Arc::new(Project::new("/home/me/ferry", files))
}

/// The programs, by name.
pub fn programs() -> Vec<PathBuf> {
    let mut programs: Vec<PathBuf> = std::fs::read_dir(folder())
        .expect("samples")
        .flatten()
        .map(|e| e.path())
        .filter(|p| p.join("labels.tsv").is_file())
        .collect();
    programs.sort();
    programs
}

/// What a program printed in a run.
pub fn log(program: &Path, run: u32) -> Vec<u8> {
    zstd::decode_all(
        &*std::fs::read(program.join(format!("run-{run}.log.zst"))).expect("it is there"),
    )
    .expect("a log")
}

/// Run, line and mistake of each labelled entry.
pub fn labels(program: &Path) -> Vec<(u32, u64, String)> {
    let labels = std::fs::read_to_string(program.join("labels.tsv")).expect("it is there");
    let split = |line: &str| {
        let mut parts = line.split('\t');
        let mut next = || parts.next().expect("three columns");
        (next().parse().expect("a number"), next().parse().expect("a number"), next().to_owned())
    };
    labels.lines().skip(1).map(split).collect()
}
