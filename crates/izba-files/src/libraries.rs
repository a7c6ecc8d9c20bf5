//! The names that installed libraries offer, so that a slip of one of them is seen: the type stubs
//! of JavaScript packages that `package.json` names, and the packages of a Python environment in
//! the project's folder.

use izba_model::pattern::Pattern;
use std::collections::BTreeSet;
use std::path::{Path, PathBuf};

/// At most so many packages are looked at.
const PACKAGES: usize = 60;
/// Of a larger file than this nothing is read, in bytes.
const LARGEST: u64 = 512 * 1024;
/// At most so many names are kept.
const NAMES: usize = 20_000;

/// What a type stub offers: `export function show(…)`, and members, which stand on lines of their
/// own.
static STUB: Pattern = Pattern::new(concat!(
    r"(?m)^\s*(?:export\s+)?(?:declare\s+)?(?:default\s+)?(?:abstract\s+)?",
    r"(?:function|const|let|var|class|interface|type|enum",
    r"|namespace)\s+([A-Za-z_$][\w$]*)|^\s+(?:(?:public|static|readonly|get|set",
    r"|async)\s+)*([A-Za-z_$][\w$]*)\??\s*(?:<[^>\n]*>)?[(:]"
));
/// What a Python module offers at its outermost level.
static MODULE: Pattern =
    Pattern::new(r"(?m)^(?:(?:async\s+)?def|class)\s+(\w+)|^(\w+)\s*(?::[^=\n]+)?=");

/// All names, each once; none where nothing is installed, and nothing that cannot be read.
pub fn library_names(root: &Path) -> Vec<Box<str>> {
    let mut names: BTreeSet<String> = BTreeSet::new();
    for stub in stubs(root).into_iter().chain(modules(root)) {
        let pattern = if stub.extension().is_some_and(|e| e == "ts") { &STUB } else { &MODULE };
        let Some(text) = small(&stub) else { continue };
        let found = pattern.captures_iter(&text).filter_map(|c| c.iter().skip(1).flatten().next());
        names.extend(
            found
                .map(|m| m.as_str())
                .filter(|n| n.len() >= 4 && !n.starts_with('_'))
                .map(str::to_owned),
        );
        if names.len() > NAMES {
            break;
        }
    }
    names.into_iter().take(NAMES).map(String::into_boxed_str).collect()
}

fn small(path: &Path) -> Option<String> {
    crate::read_text(path, LARGEST).ok()
}

/// The type stubs of the packages that `package.json` names.
fn stubs(root: &Path) -> Vec<PathBuf> {
    let read =
        |path: &Path| small(path).and_then(|t| serde_json::from_str::<serde_json::Value>(&t).ok());
    let Some(own) = read(&root.join("package.json")) else { return Vec::new() };
    let named = ["dependencies", "devDependencies"]
        .into_iter()
        .filter_map(|k| own[k].as_object())
        .flat_map(|o| o.keys().cloned());
    let installed = root.join("node_modules");
    let stub = |package: String| {
        let folder = installed.join(&package);
        let told = read(&folder.join("package.json"))
            .and_then(|p| p["types"].as_str().or(p["typings"].as_str()).map(str::to_owned));
        let apart = installed
            .join("@types")
            .join(package.trim_start_matches('@').replace('/', "__"))
            .join("index.d.ts");
        [told.map(|t| folder.join(t)), Some(folder.join("index.d.ts")), Some(apart)]
            .into_iter()
            .flatten()
            .find(|p| p.is_file())
    };
    named.take(PACKAGES).filter_map(stub).collect()
}

/// The outermost modules of the packages of a Python environment.
fn modules(root: &Path) -> Vec<PathBuf> {
    let inside =
        |path: PathBuf| std::fs::read_dir(path).into_iter().flatten().flatten().map(|e| e.path());
    // A module is a folder that begins with a file of its own, or one file.
    let module = |p: PathBuf| match p.is_dir() {
        true => ["__init__.pyi", "__init__.py"]
            .into_iter()
            .map(|name| p.join(name))
            .find(|p| p.is_file()),
        false => p.extension().is_some_and(|e| e == "py" || e == "pyi").then_some(p),
    };
    let mut packages: Vec<PathBuf> = [".venv", "venv", "env"]
        .into_iter()
        .flat_map(|name| inside(root.join(name).join("lib")))
        .flat_map(|python| inside(python.join("site-packages")))
        .filter(|p| {
            !p.file_name().is_some_and(|n| {
                n.to_string_lossy().contains(".dist-info")
                    || n.to_string_lossy().starts_with(['_', '.'])
            })
        })
        .filter_map(module)
        .collect();
    packages.sort();
    packages.truncate(PACKAGES);
    packages
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn names_of_installed_libraries_are_found_and_nothing_else_is_needed() {
        let root = tempfile::tempdir().expect("a temporary folder");
        let write = |path: &str, text: &str| {
            let path = root.path().join(path);
            std::fs::create_dir_all(path.parent().expect("a folder")).expect("room");
            std::fs::write(path, text).expect("room");
        };
        assert!(library_names(root.path()).is_empty());
        write(
            "package.json",
            "{ \"dependencies\": { \"tides\": \"1\", \"gone\": \"1\" \
                }, \"devDependencies\": { \"@marsh/bells\": \"2\" } }",
        );
        write("node_modules/tides/package.json", "{ \"types\": \"lib/tides.d.ts\" }");
        write(
            "node_modules/tides/lib/tides.d.ts",
            "export declare function turnTide(at: number): void;\nexport interface Moon \
                {\n  phase: number;\n  riseOver(marsh: string): boolean;\n}\n",
        );
        write(
            "node_modules/@types/marsh__bells/index.d.ts",
            "declare class ChurchBell {\n  strike(times: number): void;\n}\n",
        );
        write(
            ".venv/lib/python3.11/site-packages/wind/__init__.py",
            "import os\nKNOTS = 4\ndef blow(force):\n    inner = force\nclass Gale:\n    pass\n",
        );
        write(".venv/lib/python3.11/site-packages/fog.py", "def drift(depth):\n    return depth\n");
        let names: Vec<String> = library_names(root.path()).into_iter().map(String::from).collect();
        assert_eq!(
            names,
            [
                "ChurchBell",
                "Gale",
                "KNOTS",
                "Moon",
                "blow",
                "drift",
                "phase",
                "riseOver",
                "strike",
                "turnTide"
            ]
        );
        // Broken, it is as if it were not there.
        write("package.json", "{ \"dependencies\": ");
        assert_eq!(library_names(root.path()).len(), 4);
    }
}
