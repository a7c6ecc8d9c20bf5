//! SARIF 2.1.0: what is written keeps to the standard's own schema (`standards/sarif-2.1.0.json`,
//! published by OASIS).

use crate::tmux::izba;
use serde_json::Value;
use std::path::Path;
use std::process::Command;

fn sarif(project: &Path, log: &Path) -> Value {
    let out = Command::new(izba())
        .args(["read", "--as", "sarif", "--project"])
        .arg(project)
        .arg(log)
        .env("XDG_STATE_HOME", std::env::temp_dir().join("izba-sarif"))
        .output()
        .expect("it runs");
    serde_json::from_slice(&out.stdout).unwrap_or_else(|e| {
        panic!("{}: {e}: {}", log.display(), String::from_utf8_lossy(&out.stderr))
    })
}

#[test]
fn all_samples_keep_to_the_schema() {
    let mut schema: Value =
        serde_json::from_str(include_str!("standards/sarif-2.1.0.json")).expect("it is JSON");
    // One pattern of the published schema is no regular expression (a bracket too many); we write
    // no `language`.
    for of in ["run", "toolComponent"] {
        schema["definitions"][of]["properties"]["language"]
            .as_object_mut()
            .expect("it is described")
            .remove("pattern");
    }
    let validator = jsonschema::validator_for(&schema).expect("it is a schema");
    let samples = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../cases/consoles");
    let (mut logs, mut results) = (0, 0);
    for language in std::fs::read_dir(&samples)
        .expect("samples are there")
        .flatten()
        .filter(|e| e.path().is_dir())
    {
        // One of each kind of runtime and log is enough here; reading them is tested elsewhere.
        for sample in std::fs::read_dir(language.path())
            .expect("it is a folder")
            .flatten()
            .map(|e| e.path())
            .filter(|p| p.is_dir())
            .take(3)
        {
            for log in
                std::fs::read_dir(&sample).expect("it is a folder").flatten().map(|e| e.path())
            {
                if !log.extension().is_some_and(|x| x == "txt" || x == "log") {
                    continue;
                }
                let told = sarif(&sample, &log);
                let wrong: Vec<String> = validator
                    .iter_errors(&told)
                    .map(|e| format!("{} at {}", e, e.instance_path()))
                    .collect();
                assert!(wrong.is_empty(), "{}: {wrong:?}", log.display());
                results += told["runs"][0]["results"].as_array().map_or(0, Vec::len);
                logs += 1;
            }
        }
    }
    assert!(logs >= 12 && results >= 12, "{logs} logs, {results} results");
}

#[test]
fn a_result_leads_to_its_line_and_its_suspects() {
    let folder = tempfile::tempdir().expect("room");
    // A name that a reference has to escape.
    std::fs::write(
        folder.path().join("low tide.lua"),
        "local tide = { height = 3 }\nlocal function sail()\n  return \
            tide.heigth.unit\nend\nsail()\n",
    )
    .expect("room");
    let log = folder.path().join("console.log");
    std::fs::write(
        &log,
        "lua5.4: low tide.lua:3: attempt to index a nil value (field 'heigth')\nstack \
        traceback:\n\tlow tide.lua:3: in local 'sail'\n\tlow tide.lua:5: in main chunk\n\t[C]: \
        in ?\n",
    )
    .expect("room");
    let told = sarif(folder.path(), &log);
    let result = &told["runs"][0]["results"][0];
    let short = serde_json::json!({
        "ruleId": result["ruleId"], "level": result["level"], "message": result["message"]["text"], "locations": result["locations"],
        "suspect": result["relatedLocations"][0], "newest step": result["stacks"][0]["frames"][0]["location"] == result["locations"][0]
    });
    insta::assert_snapshot!(format!("{short:#}"), @r#"
    {
      "level": "error",
      "locations": [
        {
          "logicalLocations": [
            {
              "kind": "function",
              "name": "sail"
            }
          ],
          "physicalLocation": {
            "artifactLocation": {
              "uri": "low%20tide.lua",
              "uriBaseId": "PROJECT"
            },
            "region": {
              "startLine": 3
            }
          }
        }
      ],
      "message": "`tide.heigth` has no value when low tide.lua reads it at line 3. Did you mean `height`? It says: attempt to index a nil value (field 'heigth').",
      "newest step": true,
      "ruleId": "value-not-there",
      "suspect": {
        "id": 0,
        "message": {
          "text": "`heigth` is written only here; `height` is almost the same: two letters are swapped."
        },
        "physicalLocation": {
          "artifactLocation": {
            "uri": "low%20tide.lua",
            "uriBaseId": "PROJECT"
          },
          "region": {
            "startLine": 3
          }
        },
        "properties": {
          "confidence": 0.55
        }
      }
    }
    "#);
}
