//! The user's editor, opened at a line and column in the way that it understands.

use std::ffi::OsString;
use std::path::Path;

/// How an editor is started.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct EditorCommand {
    /// Program and arguments.
    pub words: Vec<OsString>,
    /// Whether it opens a window of its own and leaves the terminal alone.
    pub windowed: bool,
    /// Whether it was told the line.
    pub at_line: bool,
}

/// How a family of editors is told a place. `{f}`, `{l}` and `{c}` stand for file, line and column.
struct Manner {
    names: &'static [&'static str],
    arguments: &'static [&'static str],
    windowed: bool,
}

const MANNERS: &[Manner] = &[
    Manner {
        names: &["vim", "nvim", "view"],
        arguments: &["+call cursor({l},{c})", "{f}"],
        windowed: false,
    },
    Manner { names: &["gvim"], arguments: &["+call cursor({l},{c})", "{f}"], windowed: true },
    Manner {
        names: &["vi", "joe", "jed", "mg", "mcedit", "pico"],
        arguments: &["+{l}", "{f}"],
        windowed: false,
    },
    Manner { names: &["nano", "ne"], arguments: &["+{l},{c}", "{f}"], windowed: false },
    Manner {
        names: &["emacs", "emacsclient", "micro", "kak"],
        arguments: &["+{l}:{c}", "{f}"],
        windowed: false,
    },
    Manner { names: &["hx", "helix"], arguments: &["{f}:{l}:{c}"], windowed: false },
    Manner {
        names: &["code", "codium", "code-insiders"],
        arguments: &["--goto", "{f}:{l}:{c}"],
        windowed: true,
    },
    Manner { names: &["subl", "zed", "zeditor"], arguments: &["{f}:{l}:{c}"], windowed: true },
    Manner { names: &["gedit", "xed", "pluma"], arguments: &["+{l}:{c}", "{f}"], windowed: true },
    Manner {
        names: &["kate", "kwrite", "mousepad"],
        arguments: &["--line", "{l}", "--column", "{c}", "{f}"],
        windowed: true,
    },
    Manner {
        names: &["geany"],
        arguments: &["--line", "{l}", "--column", "{c}", "{f}"],
        windowed: true,
    },
];

/// The editors that are found here, by the names under which they are known.
pub fn found(installed: impl Fn(&str) -> bool) -> Vec<&'static str> {
    MANNERS.iter().flat_map(|m| m.names).copied().filter(|name| installed(name)).collect()
}

/// Whether a program can be started by its name.
pub fn is_on_path(program: &str) -> bool {
    std::env::var_os("PATH")
        .is_some_and(|p| std::env::split_paths(&p).any(|f| f.join(program).is_file()))
}

/// Editors that a newcomer can leave again; taken when none is set.
const GENTLE: [&str; 2] = ["nano", "micro"];

/// What to start for a place, from `$VISUAL` or `$EDITOR`, or a gentle editor that `installed`
/// knows.
///
/// # Errors
///
/// A sentence for the user when no editor is set and none can be chosen.
pub fn command_for(
    get: impl Fn(&str) -> Option<String>,
    installed: impl Fn(&str) -> bool,
    file: &Path,
    line: u32,
    column: u32,
) -> Result<EditorCommand, String> {
    let set = ["VISUAL", "EDITOR"]
        .iter()
        .filter_map(|name| get(name))
        .map(|v| v.trim().to_owned())
        .find(|v| !v.is_empty());
    let Some(set) = set.or_else(|| GENTLE.iter().find(|e| installed(e)).map(|e| (*e).to_owned()))
    else {
        let here = found(&installed).join(", ");
        return Err(match here.is_empty() {
            true => format!(
                "no editor is found here; install one, and open {} at line {line} meanwhile",
                file.display()
            ),
            false => format!("no editor is chosen yet; I (settings) chooses one of {here}"),
        });
    };
    let mut words: Vec<OsString> = set.split_whitespace().map(OsString::from).collect();
    let name = words
        .first()
        .and_then(|w| Path::new(w).file_name())
        .map(|n| n.to_string_lossy().into_owned())
        .unwrap_or_default();
    let manner = MANNERS.iter().find(|m| m.names.contains(&name.as_str()));
    let Some(manner) = manner else {
        words.push(file.into());
        return Ok(EditorCommand { words, windowed: false, at_line: false });
    };
    for argument in manner.arguments {
        // The file's name may not be text; only places around it are filled in.
        let filled = argument.replace("{l}", &line.to_string()).replace("{c}", &column.to_string());
        words.push(match filled.split_once("{f}") {
            Some((before, after)) => {
                let mut word = OsString::from(before);
                word.push(file);
                word.push(after);
                word
            }
            None => filled.into(),
        });
    }
    let in_terminal = words.iter().any(|w| w == "-nw" || w == "-t" || w == "--tty");
    Ok(EditorCommand { windowed: manner.windowed && !in_terminal, at_line: true, words })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn each_editor_is_told_the_line_in_its_own_way() {
        let line = |editor: &'static str| {
            let get = move |name: &str| {
                (name == "EDITOR" && !editor.is_empty()).then(|| editor.to_owned())
            };
            match command_for(get, |_| false, Path::new("/p/lantern.lua"), 34, 16) {
                Ok(c) => {
                    let words: Vec<_> = c.words.iter().map(|w| w.to_string_lossy()).collect();
                    format!(
                        "{}{}{}",
                        words.join(" "),
                        if c.windowed { "  (window)" } else { "" },
                        if c.at_line { "" } else { "  (no line)" }
                    )
                }
                Err(sentence) => sentence,
            }
        };
        let all = [
            "vim",
            "/usr/bin/vi",
            "nano",
            "emacs -nw",
            "hx",
            "micro",
            "code --wait",
            "kate",
            "gedit",
            "strange --flag",
            "",
        ];
        insta::assert_snapshot!(all.map(line).join("\n"), @r"
        vim +call cursor(34,16) /p/lantern.lua
        /usr/bin/vi +34 /p/lantern.lua
        nano +34,16 /p/lantern.lua
        emacs -nw +34:16 /p/lantern.lua
        hx /p/lantern.lua:34:16
        micro +34:16 /p/lantern.lua
        code --wait --goto /p/lantern.lua:34:16  (window)
        kate --line 34 --column 16 /p/lantern.lua  (window)
        gedit +34:16 /p/lantern.lua  (window)
        strange --flag /p/lantern.lua  (no line)
        no editor is found here; install one, and open /p/lantern.lua at line 34 meanwhile
        ");
    }
}
