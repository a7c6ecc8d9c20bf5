//! `cargo xtask dialects`: asks each runtime that is installed which names come with it, and writes
//! them into the dialects, so that nobody types them by hand.

use crate::{Outcome, root, say};
use std::collections::BTreeSet;
use std::fs;
use std::process::Command;

/// How one runtime is asked. It prints a line for each name: `builtins`, `members` or `modules`, a
/// blank, and the name.
struct Asked {
    dialect: &'static str,
    /// The command; the script is written to `$1`, in a folder of its own.
    shell: &'static str,
    file: &'static str,
    script: &'static str,
}

const ASKED: &[Asked] = &[
    Asked {
        dialect: "python",
        shell: "python3 -I \"$1\"",
        file: "names.py",
        script: include_str!("dialects/names.py"),
    },
    Asked {
        dialect: "javascript",
        shell: "node \"$1\"",
        file: "names.js",
        script: include_str!("dialects/names.js"),
    },
    Asked {
        dialect: "lua",
        shell: "lua5.4 \"$1\"",
        file: "names.lua",
        script: include_str!("dialects/names.lua"),
    },
    Asked {
        dialect: "java",
        shell: "java \"$1\"",
        file: "Names.java",
        script: include_str!("dialects/Names.java"),
    },
    Asked {
        dialect: "csharp",
        shell: "mcs -out:names.exe \"$1\" && mono names.exe",
        file: "Names.cs",
        script: include_str!("dialects/Names.cs"),
    },
];

/// The sections of names, in the order in which they stand.
const SECTIONS: [&str; 3] = ["builtins", "members", "modules"];
/// What stands above the names.
const MADE: &str = "# What the runtime itself names; made by `cargo xtask dialects`.\n";
/// Columns of a line of names.
const WIDTH: usize = 98;

pub fn run() -> Outcome {
    for asked in ASKED {
        let path =
            root().join("crates/izba-model/dialects").join(format!("{}.toml", asked.dialect));
        let before = fs::read_to_string(&path).map_err(|e| format!("{}: {e}", path.display()))?;
        match ask(asked) {
            Ok(told) => {
                let after = with_names(&before, &told)?;
                fs::write(&path, after).map_err(|e| format!("{}: {e}", path.display()))?;
                let counted = told.lines().count();
                say(&format!("{:<12} {counted} names", asked.dialect));
            }
            // A runtime that is not here leaves what is known as it is.
            Err(why) => say(&format!("{:<12} as it was: {why}", asked.dialect)),
        }
    }
    Ok(())
}

fn ask(asked: &Asked) -> Result<String, String> {
    let folder = tempfile::tempdir().map_err(|e| e.to_string())?;
    fs::write(folder.path().join(asked.file), asked.script).map_err(|e| e.to_string())?;
    let words = ["-c", asked.shell, "sh", asked.file];
    let told = Command::new("sh").args(words).current_dir(folder.path()).output();
    let told = told.map_err(|e| e.to_string())?;
    if !told.status.success() {
        let why = String::from_utf8_lossy(&told.stderr);
        return Err(why.lines().next().unwrap_or("it failed").to_owned());
    }
    Ok(String::from_utf8_lossy(&told.stdout).into_owned())
}

/// The text of a dialect with the names that a runtime told; what was typed by hand (`more`) stays
/// as far as the runtime did not tell it.
fn with_names(dialect: &str, told: &str) -> Result<String, String> {
    let at = dialect.find("[names]").ok_or("the dialect has no names")?;
    let table: toml::Table = toml::from_str(dialect).map_err(|e| e.to_string())?;
    let typed = table["names"].get("more").or(table["names"].get("known"));
    let typed = typed.and_then(|v| v.as_str()).unwrap_or("").to_owned();
    let mut known: BTreeSet<&str> = BTreeSet::new();
    let mut out = dialect[..at].to_owned();
    if !out.ends_with(MADE) {
        out.push_str(MADE);
    }
    out.push_str("[names]\n");
    for section in SECTIONS {
        let names: BTreeSet<&str> = told
            .lines()
            .filter_map(|l| l.strip_prefix(section)?.strip_prefix(' '))
            .filter(|name| !known.contains(name))
            .collect();
        out.push_str(&section_of(section, names.iter().copied()));
        known.extend(names);
    }
    out.push_str("# What it does not tell: of pages, of engines' own dialects.\n");
    let more = typed.split_whitespace().filter(|name| !known.contains(name));
    out.push_str(&section_of("more", more));
    Ok(out)
}

fn section_of<'a>(section: &str, names: impl Iterator<Item = &'a str>) -> String {
    let mut out = format!("{section} = \"\"\"");
    let mut column = WIDTH;
    for name in names {
        if column + name.len() + 1 > WIDTH {
            out.push('\n');
            column = 0;
        } else {
            out.push(' ');
            column += 1;
        }
        out.push_str(name);
        column += name.len();
    }
    out.push_str("\n\"\"\"\n");
    out
}

/// Whether the file is there; for tests of the table.
#[cfg(test)]
fn dialect_exists(id: &str) -> bool {
    root().join(format!("crates/izba-model/dialects/{id}.toml")).is_file()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn told_names_take_the_place_of_typed_ones_and_the_rest_stays() {
        let dialect = "name = \"M\"\n\n[names]\nmore = \"\"\"\nprint onTick\n\"\"\"\n";
        let told = "builtins print\nmembers upper\nmembers print\nmodules tide\nnonsense x\n";
        let once = with_names(dialect, told).expect("it has names");
        insta::assert_snapshot!(once, @r#"
        name = "M"

        # What the runtime itself names; made by `cargo xtask dialects`.
        [names]
        builtins = """
        print
        """
        members = """
        upper
        """
        modules = """
        tide
        """
        # What it does not tell: of pages, of engines' own dialects.
        more = """
        onTick
        """
        "#);
        assert_eq!(with_names(&once, told).as_deref(), Ok(once.as_str()), "asked again, the same");
        assert!(ASKED.iter().all(|a| dialect_exists(a.dialect)));
    }
}
