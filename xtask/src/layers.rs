//! Who may lean on whom. Between crates: cargo's own picture of the workspace is held against
//! [`RULE`], which stands in ARCHITECTURE.md too. Inside a crate: imports are read from the source,
//! and neither files nor folders may lean on one another in a circle.

use crate::{Outcome, root, say};
use std::collections::{BTreeMap, BTreeSet};
use std::path::Path;
use std::process::Command;
use syn::visit::Visit;

/// Each crate with those of ours that it may use, from the bottom up: a crate uses only such as
/// stand above it in this list.
const RULE: &[(&str, &[&str])] = &[
    ("izba-standins", &[]),
    ("xtask", &[]),
    ("izba-model", &[]),
    ("izba-console", &["izba-model"]),
    ("izba-code", &["izba-model"]),
    ("izba-cause", &["izba-model"]),
    ("izba-core", &["izba-model", "izba-console", "izba-cause"]),
    ("izba-dap", &["izba-model"]),
    ("izba-draw", &["izba-model", "izba-cause", "izba-core"]),
    ("izba-files", &["izba-model"]),
    ("izba-sources", &["izba-model", "izba-dap"]),
    ("izba-store", &["izba-model", "izba-core", "izba-files"]),
    (
        "izba-watch",
        &[
            "izba-model",
            "izba-console",
            "izba-code",
            "izba-cause",
            "izba-core",
            "izba-dap",
            "izba-draw",
            "izba-files",
            "izba-sources",
            "izba-store",
        ],
    ),
    (
        "izba-learn",
        &["izba-model", "izba-cause", "izba-core", "izba-files", "izba-standins", "izba-watch"],
    ),
    (
        "izba-lsp",
        &["izba-model", "izba-code", "izba-cause", "izba-files", "izba-sources", "izba-watch"],
    ),
    (
        "izba-fuzz",
        &[
            "izba-model",
            "izba-console",
            "izba-code",
            "izba-cause",
            "izba-core",
            "izba-dap",
            "izba-sources",
            "izba-watch",
        ],
    ),
    (
        "izba-app",
        &[
            "izba-model",
            "izba-console",
            "izba-code",
            "izba-cause",
            "izba-core",
            "izba-dap",
            "izba-draw",
            "izba-files",
            "izba-lsp",
            "izba-sources",
            "izba-standins",
            "izba-store",
            "izba-watch",
        ],
    ),
];

pub fn run() -> Outcome {
    crates()?;
    let mut wrong = Vec::new();
    for (name, _) in RULE {
        let folder =
            if *name == "xtask" { root().join(name) } else { root().join("crates").join(name) };
        let found = Crate::read(&folder.join("src"))?;
        for ring in circles(&found.arrows()) {
            wrong.push(format!("{name}: files in a circle: {}", ring.join(", ")));
        }
        for ring in circles(&by_folder(&found.arrows())) {
            wrong.push(format!("{name}: folders in a circle: {}", ring.join(", ")));
        }
    }
    wrong.iter().for_each(|w| say(w));
    if wrong.is_empty() { Ok(()) } else { Err(format!("{} circles", wrong.len())) }
}

/// Compares cargo's picture with the rule.
fn crates() -> Outcome {
    let out = Command::new("cargo")
        .args(["metadata", "--no-deps", "--format-version", "1"])
        .current_dir(root())
        .output()
        .map_err(|e| format!("cargo metadata could not be started: {e}"))?;
    let told: serde_json::Value = serde_json::from_slice(&out.stdout)
        .map_err(|e| format!("cargo metadata said no JSON: {e}"))?;
    let packages = told["packages"].as_array().ok_or("cargo metadata named no packages")?;
    for package in packages {
        let name = package["name"].as_str().unwrap_or("");
        let Some((_, allowed)) = RULE.iter().find(|(n, _)| *n == name) else {
            return Err(format!("the crate {name} is not in the rule of layers"));
        };
        let used = package["dependencies"].as_array().into_iter().flatten();
        // What only tests use is no arrow of the house.
        let used = used.filter(|d| d["kind"].as_str() != Some("dev"));
        for used in used.filter_map(|d| d["name"].as_str()) {
            let ours = RULE.iter().any(|(n, _)| *n == used);
            if ours && !allowed.contains(&used) {
                return Err(format!("{name} may not use {used}"));
            }
        }
    }
    for (at, (name, allowed)) in RULE.iter().enumerate() {
        if let Some(up) = allowed.iter().find(|a| !RULE[..at].iter().any(|(n, _)| n == *a)) {
            return Err(format!("the rule lets {name} lean up on {up}"));
        }
    }
    Ok(())
}

/// A module's path below the crate; the crate itself is empty.
type ModulePath = Vec<String>;

/// One file's module: what it names, and what it hands on under another name.
#[derive(Default)]
struct Module {
    file: String,
    /// Paths that it names, as written.
    named: Vec<Vec<String>>,
    /// Names that it imports, with what they stand for.
    aliases: BTreeMap<String, Vec<String>>,
}

/// The modules of one crate.
#[derive(Default)]
struct Crate {
    modules: BTreeMap<ModulePath, Module>,
}

impl Crate {
    fn read(src: &Path) -> Result<Crate, String> {
        let mut found = Crate::default();
        found.folder(src, src)?;
        Ok(found)
    }

    fn folder(&mut self, folder: &Path, src: &Path) -> Outcome {
        let listed = std::fs::read_dir(folder).map_err(|e| format!("{}: {e}", folder.display()))?;
        for path in listed.flatten().map(|e| e.path()) {
            if path.is_dir() {
                self.folder(&path, src)?;
            } else if path.extension().is_some_and(|e| e == "rs") {
                let text = std::fs::read_to_string(&path).map_err(|e| e.to_string())?;
                let file = path.strip_prefix(src).unwrap_or(&path).display().to_string();
                self.file(&file, &text)?;
            }
        }
        Ok(())
    }

    /// Reads one file; a file of tests is none of the house.
    fn file(&mut self, file: &str, text: &str) -> Outcome {
        let mut path: ModulePath =
            file.trim_end_matches(".rs").split('/').map(str::to_owned).collect();
        match path.last().map(String::as_str) {
            Some("tests" | "main") => return Ok(()),
            Some("mod" | "lib") => drop(path.pop()),
            _ => {}
        }
        let parsed = syn::parse_file(text).map_err(|e| format!("{file}: {e}"))?;
        let mut module = Module { file: file.to_owned(), ..Module::default() };
        Reader { module: &mut module, depth: 0 }.visit_file(&parsed);
        self.modules.insert(path, module);
        Ok(())
    }

    /// The module in which what `path` names in `here` is made.
    fn home(&self, here: &ModulePath, path: &[String], hops: u32) -> Option<ModulePath> {
        let mut at: ModulePath = here.clone();
        let mut rest = path.iter();
        let first = rest.next()?;
        match first.as_str() {
            "crate" => at = Vec::new(),
            "self" => {}
            "super" => drop(at.pop()),
            name => {
                let child = [at.as_slice(), &[name.to_owned()]].concat();
                if self.modules.contains_key(&child) {
                    at = child;
                } else {
                    let alias = self.modules.get(&at)?.aliases.get(name)?;
                    let whole: Vec<String> = alias.iter().chain(rest).cloned().collect();
                    return (hops > 0).then(|| self.home(&at, &whole, hops - 1)).flatten();
                }
            }
        }
        while let Some(name) = rest.next() {
            if name == "super" {
                at.pop();
                continue;
            }
            let child = [at.as_slice(), std::slice::from_ref(name)].concat();
            if self.modules.contains_key(&child) {
                at = child;
                continue;
            }
            let Some(alias) = self.modules.get(&at).and_then(|m| m.aliases.get(name)) else {
                break;
            };
            let whole: Vec<String> = alias.iter().chain(rest).cloned().collect();
            if hops == 0 {
                return None;
            }
            return self.home(&at, &whole, hops - 1).or(Some(at));
        }
        Some(at)
    }

    /// Which file leans on which.
    fn arrows(&self) -> BTreeMap<String, BTreeSet<String>> {
        let mut arrows: BTreeMap<String, BTreeSet<String>> = BTreeMap::new();
        for (path, module) in &self.modules {
            let to = arrows.entry(module.file.clone()).or_default();
            for named in &module.named {
                let home = self.home(path, named, 8).and_then(|home| self.modules.get(&home));
                to.extend(home.map(|m| m.file.clone()).filter(|file| *file != module.file));
            }
        }
        arrows
    }
}

/// Gathers the paths of one file.
struct Reader<'a> {
    module: &'a mut Module,
    /// How many modules inside the file the walk is in.
    depth: usize,
}

/// Whether something is there for tests alone.
fn is_test(attributes: &[syn::Attribute]) -> bool {
    attributes.iter().any(|a| {
        a.path().is_ident("cfg") && a.parse_args::<syn::Ident>().is_ok_and(|i| i == "test")
    })
}

impl Reader<'_> {
    fn tree(&mut self, tree: &syn::UseTree, so_far: &[String], handed_on: bool) {
        let with = |name: &syn::Ident| [so_far, &[name.to_string()]].concat();
        match tree {
            syn::UseTree::Path(path) => self.tree(&path.tree, &with(&path.ident), handed_on),
            syn::UseTree::Name(name) if name.ident == "self" => {
                self.import(so_far.last().cloned().unwrap_or_default(), so_far.to_vec(), handed_on);
            }
            syn::UseTree::Name(name) => {
                self.import(name.ident.to_string(), with(&name.ident), handed_on);
            }
            syn::UseTree::Rename(renamed) => {
                self.import(renamed.rename.to_string(), with(&renamed.ident), handed_on);
            }
            syn::UseTree::Glob(_) => self.module.named.push(so_far.to_vec()),
            syn::UseTree::Group(group) => {
                group.items.iter().for_each(|item| self.tree(item, so_far, handed_on));
            }
        }
    }

    /// What a module only hands on is not leaned on by it.
    fn import(&mut self, name: String, path: Vec<String>, handed_on: bool) {
        if !handed_on {
            self.module.named.push(path.clone());
        }
        self.module.aliases.insert(name, path);
    }
}

impl<'ast> Visit<'ast> for Reader<'_> {
    fn visit_item_mod(&mut self, item: &'ast syn::ItemMod) {
        if !is_test(&item.attrs) {
            self.depth += 1;
            syn::visit::visit_item_mod(self, item);
            self.depth -= 1;
        }
    }

    fn visit_item_fn(&mut self, item: &'ast syn::ItemFn) {
        if !is_test(&item.attrs) {
            syn::visit::visit_item_fn(self, item);
        }
    }

    fn visit_item_use(&mut self, item: &'ast syn::ItemUse) {
        if self.depth == 0 && !is_test(&item.attrs) {
            let handed_on = !matches!(item.vis, syn::Visibility::Inherited);
            self.tree(&item.tree, &[], handed_on);
        }
    }

    fn visit_path(&mut self, path: &'ast syn::Path) {
        if path.segments.len() > 1 && self.depth == 0 {
            self.module.named.push(path.segments.iter().map(|s| s.ident.to_string()).collect());
        }
        syn::visit::visit_path(self, path);
    }
}

/// The same between the crate's top folders and files.
fn by_folder(arrows: &BTreeMap<String, BTreeSet<String>>) -> BTreeMap<String, BTreeSet<String>> {
    let top =
        |file: &str| file.split('/').next().unwrap_or(file).trim_end_matches(".rs").to_owned();
    let mut folders: BTreeMap<String, BTreeSet<String>> = BTreeMap::new();
    for (from, to) in arrows.iter().filter(|(from, _)| *from != "lib.rs") {
        let inner = folders.entry(top(from)).or_default();
        inner.extend(
            to.iter().filter(|t| *t != "lib.rs").map(|t| top(t)).filter(|t| *t != top(from)),
        );
    }
    folders
}

/// The sets in which each leans on each other, by name (Tarjan, 1972, by reach since houses are
/// small).
fn circles(arrows: &BTreeMap<String, BTreeSet<String>>) -> Vec<Vec<String>> {
    let reach = |from: &String| {
        let (mut seen, mut next) = (BTreeSet::new(), vec![from]);
        while let Some(at) = next.pop() {
            for to in arrows.get(at).into_iter().flatten() {
                if seen.insert(to.clone()) {
                    next.push(to);
                }
            }
        }
        seen
    };
    let reached: BTreeMap<&String, BTreeSet<String>> =
        arrows.keys().map(|from| (from, reach(from))).collect();
    let mut found: BTreeSet<Vec<String>> = BTreeSet::new();
    for (from, to) in reached.iter().filter(|(from, to)| to.contains(**from)) {
        let back = |other: &&String| reached.get(other).is_some_and(|r| r.contains(*from));
        found.insert(to.iter().filter(back).cloned().collect());
    }
    found.into_iter().collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn house(files: &[(&str, &str)]) -> Crate {
        let mut found = Crate::default();
        for (file, text) in files {
            found.file(file, text).expect("it parses");
        }
        found
    }

    #[test]
    fn a_circle_is_found_through_what_is_handed_on() {
        let found = house(&[
            ("lib.rs", "mod bell; mod rope;"),
            ("bell/mod.rs", "mod ring; pub use ring::Ring; use crate::rope::Rope;"),
            ("bell/ring.rs", "use crate::rope; fn f() -> rope::Rope { rope::Rope }"),
            ("rope.rs", "use crate::bell::Ring; pub struct Rope;"),
        ]);
        assert_eq!(circles(&found.arrows()), [["bell/ring.rs", "rope.rs"]]);
        assert_eq!(circles(&by_folder(&found.arrows())), [["bell", "rope"]]);
    }

    #[test]
    fn a_registry_over_its_files_is_none_and_neither_are_tests() {
        let found = house(&[
            ("lib.rs", "mod bell;"),
            (
                "bell/mod.rs",
                "mod kind; mod ring; pub use kind::Kind; static ALL: &[Kind] = &[ring::RING];",
            ),
            ("bell/kind.rs", "pub struct Kind; #[cfg(test)] mod tests { use super::super::ring; }"),
            ("bell/ring.rs", "use super::Kind; pub const RING: Kind = Kind;"),
        ]);
        assert_eq!(circles(&found.arrows()), Vec::<Vec<String>>::new());
        let arrows = found.arrows();
        assert!(arrows["bell/mod.rs"].contains("bell/ring.rs"));
        assert_eq!(arrows["bell/ring.rs"].iter().collect::<Vec<_>>(), ["bell/kind.rs"]);
    }

    #[test]
    fn a_registry_that_makes_what_its_files_use_is_one() {
        let found = house(&[
            ("lib.rs", "mod bell;"),
            ("bell/mod.rs", "mod ring; pub struct Kind; static ALL: &[Kind] = &[ring::RING];"),
            ("bell/ring.rs", "use super::Kind; pub const RING: Kind = Kind;"),
        ]);
        assert_eq!(circles(&found.arrows()).len(), 1);
    }
}
