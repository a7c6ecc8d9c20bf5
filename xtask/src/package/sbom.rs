//! The list of what is built into the binary: every crate that cargo links, with its version,
//! licence and sum, and who asks for whom, as CycloneDX 1.6 in JSON. It has no serial number and no
//! time, so that the same source gives the same list.

use super::tools::{output, read};
use serde_json::{Value, json};
use std::collections::{BTreeMap, BTreeSet};
use std::path::Path;
use std::process::Command;

/// The crate that becomes the binary.
const BINARY: &str = "izba-app";

/// The list for the repository at `source`.
pub fn of(source: &Path, version: &str) -> Result<String, String> {
    let cargo = std::env::var("CARGO").unwrap_or_else(|_| "cargo".into());
    let target = format!("{}-unknown-linux-gnu", std::env::consts::ARCH);
    let told = output(
        Command::new(cargo)
            .args(["metadata", "--locked", "--format-version", "1", "--filter-platform", &target])
            .current_dir(source),
    )?;
    let metadata = serde_json::from_str(&told).map_err(|e| format!("cargo metadata: {e}"))?;
    let lock = read(&source.join("Cargo.lock"))?;
    let lock: toml::Table = lock.parse().map_err(|e| format!("Cargo.lock: {e}"))?;
    let list = list(&metadata, &lock, version)?;
    serde_json::to_string_pretty(&list).map(|text| text + "\n").map_err(|e| e.to_string())
}

/// The list, from what cargo tells of all crates and from the sums in its lock file.
fn list(metadata: &Value, lock: &toml::Table, version: &str) -> Result<Value, String> {
    let packages = by_id(&metadata["packages"]);
    let nodes = by_id(&metadata["resolve"]["nodes"]);
    let first = packages
        .iter()
        .find(|(_, package)| package["name"] == BINARY)
        .map(|(id, _)| *id)
        .ok_or_else(|| format!("cargo knows no crate {BINARY}"))?;
    let linked = linked_with(first, &nodes);
    let sums = sums(lock);
    let purl = |id: &str| {
        let package = packages.get(id).copied().unwrap_or(&Value::Null);
        format!("pkg:cargo/{}@{}", text(&package["name"]), text(&package["version"]))
    };
    let components: Vec<Value> =
        linked.keys().filter(|id| **id != first).map(|id| component(packages[id], &sums)).collect();
    let dependencies: Vec<Value> = linked
        .iter()
        .map(|(id, on)| {
            json!({ "ref": purl(id), "dependsOn": on.iter().map(|id| purl(id)).collect::<Vec<_>>() })
        })
        .collect();
    Ok(json!({
        "bomFormat": "CycloneDX",
        "specVersion": "1.6",
        "version": 1,
        "metadata": { "component": {
            "type": "application", "bom-ref": purl(first), "name": "izba", "version": version,
            "licenses": [{ "expression": text(&packages[first]["license"]) }],
        }},
        "components": components,
        "dependencies": dependencies,
    }))
}

fn component(package: &Value, sums: &BTreeMap<(String, String), String>) -> Value {
    let (name, version) = (text(&package["name"]), text(&package["version"]));
    let purl = format!("pkg:cargo/{name}@{version}");
    let mut component = json!({
        "type": "library", "bom-ref": purl, "name": name, "version": version, "purl": purl,
    });
    if let Some(licence) = package["license"].as_str() {
        // Cargo once let `/` stand for OR, which is none of SPDX's words.
        component["licenses"] = json!([{ "expression": licence.replace('/', " OR ") }]);
    }
    if let Some(sum) = sums.get(&(name.to_owned(), version.to_owned())) {
        component["hashes"] = json!([{ "alg": "SHA-256", "content": sum }]);
    }
    // What runs in the compiler alone is in no binary.
    let in_compiler = |target: &Value| {
        target["kind"].as_array().is_some_and(|kinds| kinds.contains(&json!("proc-macro")))
    };
    if package["targets"].as_array().is_some_and(|targets| targets.iter().any(in_compiler)) {
        component["scope"] = json!("excluded");
    }
    component
}

/// Every crate that is linked when `first` is, each with those that it asks for itself.
fn linked_with<'a>(
    first: &'a str,
    nodes: &BTreeMap<&'a str, &'a Value>,
) -> BTreeMap<&'a str, BTreeSet<&'a str>> {
    let mut linked = BTreeMap::new();
    let mut open = vec![first];
    while let Some(id) = open.pop() {
        if linked.contains_key(id) {
            continue;
        }
        let asked = nodes.get(id).and_then(|node| node["deps"].as_array());
        let on: BTreeSet<&str> = asked
            .into_iter()
            .flatten()
            .filter(|dep| {
                let mut kinds = dep["dep_kinds"].as_array().into_iter().flatten();
                kinds.any(|kind| kind["kind"].is_null())
            })
            .filter_map(|dep| dep["pkg"].as_str())
            .collect();
        open.extend(&on);
        linked.insert(id, on);
    }
    linked
}

fn by_id(values: &Value) -> BTreeMap<&str, &Value> {
    values.as_array().into_iter().flatten().filter_map(|v| Some((v["id"].as_str()?, v))).collect()
}

fn sums(lock: &toml::Table) -> BTreeMap<(String, String), String> {
    let packages = lock.get("package").and_then(toml::Value::as_array);
    let of = |package: &toml::Value, key: &str| {
        package.get(key).and_then(toml::Value::as_str).map(str::to_owned)
    };
    packages
        .into_iter()
        .flatten()
        .filter_map(|p| Some(((of(p, "name")?, of(p, "version")?), of(p, "checksum")?)))
        .collect()
}

fn text(value: &Value) -> &str {
    value.as_str().unwrap_or_default()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn world() -> (Value, toml::Table) {
        let package = |name: &str, kind: &str| {
            json!({ "id": format!("id-{name}"), "name": name, "version": "1.0.0",
                "license": "MIT/Apache-2.0", "targets": [{ "kind": [kind] }] })
        };
        let dep = |name: &str, kind: Value| json!({ "pkg": format!("id-{name}"), "dep_kinds": [{ "kind": kind }] });
        let node =
            |name: &str, deps: Vec<Value>| json!({ "id": format!("id-{name}"), "deps": deps });
        let metadata = json!({
            "packages": [package("izba-app", "bin"), package("tide", "lib"), package("rope", "lib"),
                package("derive", "proc-macro"), package("cc", "lib"), package("probe", "lib")],
            "resolve": { "nodes": [
                node("izba-app", vec![dep("tide", Value::Null), dep("probe", json!("dev"))]),
                node("tide", vec![dep("rope", Value::Null), dep("cc", json!("build")),
                    dep("derive", Value::Null)]),
                node("rope", vec![]), node("derive", vec![]), node("cc", vec![]),
                node("probe", vec![]),
            ]},
        });
        let lock = "[[package]]\nname = \"rope\"\nversion = \"1.0.0\"\nchecksum = \"ab12\"\n";
        (metadata, lock.parse().expect("a lock file"))
    }

    #[test]
    fn what_is_linked_is_listed_and_what_only_builds_or_tests_is_not() {
        let (metadata, lock) = world();
        let list = list(&metadata, &lock, "0.1.0").expect("a list");
        let named: Vec<&str> = list["components"]
            .as_array()
            .expect("components")
            .iter()
            .map(|c| text(&c["name"]))
            .collect();
        assert_eq!(named, ["derive", "rope", "tide"]);
        assert_eq!(list["components"][0]["scope"], "excluded");
        assert_eq!(list["components"][1]["hashes"][0]["content"], "ab12");
        assert_eq!(list["components"][2]["licenses"][0]["expression"], "MIT OR Apache-2.0");
    }

    #[test]
    fn every_reference_leads_to_something_that_is_listed() {
        let (metadata, lock) = world();
        let list = list(&metadata, &lock, "0.1.0").expect("a list");
        let parts = list["components"].as_array().expect("components").iter();
        let mut known: BTreeSet<&str> = parts.map(|c| text(&c["bom-ref"])).collect();
        known.insert(text(&list["metadata"]["component"]["bom-ref"]));
        for row in list["dependencies"].as_array().expect("dependencies") {
            assert!(known.contains(text(&row["ref"])), "{row}");
            for on in row["dependsOn"].as_array().expect("a list") {
                assert!(known.contains(text(on)), "{row}");
            }
        }
    }
}
