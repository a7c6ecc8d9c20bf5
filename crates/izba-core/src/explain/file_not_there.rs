//! file-not-there: a file or module is asked for that is not where it is looked for.

use super::{Case, Explanation, Family, Sentence, sure};

/// The family.
pub static FAMILY: Family = Family {
    id: "file-not-there",
    title: "a file that is not there",
    patterns: &[
        sure(92, r"ENOENT: no such file or directory, \w+ '(?<path>[^']+)'"),
        sure(90, r"\[Errno 2\] No such file or directory: '(?<path>[^']+)'"),
        sure(90, r"can't open file '(?<path>[^']+)'"),
        sure(88, r"Cannot find (?:module|package) '(?<path>[^']+)'"),
        sure(88, r"No module named '(?<path>[^']+)'"),
        sure(88, r"module '(?<path>[^']+)' not found"),
        sure(85, r"cannot open (?:file )?'?(?<path>[^'\s]+)'?"),
        sure(85, r"(?:NoSuchFileException|FileNotFoundException): (?<path>\S+)"),
        sure(90, r#"Could not find (?:file|a part of the path) ["'](?<path>[^"']+)["']"#),
        sure(
            85,
            concat!(
                r"(?:script|file|page|picture|sound|style",
                r"|resource) (?:https?://[^/\s]+/)?(?<path>[\w.-]+[\w./-]*) (?:was",
                r"|could) not (?:be )?(?:loaded|found)"
            ),
        ),
        sure(
            88,
            concat!(
                r"(?:include|require)(?:_once)?\((?<path>[^)]+)\): Failed to open stream",
                r"|Failed opening (?:required )?'(?<text>[^']+)'"
            ),
        ),
        sure(85, r"cannot load such file -- (?<path>\S+)"),
        sure(85, r"Can't locate (?<path>\S+) in @INC"),
        sure(80, r"code: 2, kind: NotFound"),
        sure(75, r"^(?<path>[^\s:]+): No such file or directory"),
        sure(
            70,
            r"no (?:picture|sound|file|script|image|asset) (?:is )?called '?(?<path>[\w./-]+)'?",
        ),
    ],
    explain,
    docs: "A script, module, picture, sound or data file is opened that is not there under that \
        name, seen from the folder the program runs in.",
    sample: "ENOENT: no such file or directory, open 'tide.json'",
};

fn explain(case: &Case<'_>) -> Explanation {
    let path = case.fact("path").or(case.fact("text")).unwrap_or("a file");
    let name = path.rsplit(['/', '\\']).next().unwrap_or(path);
    let quoted = case.line().find(name).map(|at| (at, at + name.len()));
    Explanation {
        headline: case.at_place(Sentence::from_name(path).text(" is asked for and is not there")),
        short: format!("{path} is not there"),
        note: "no file of this name is there".into(),
        plain: vec![
            format!(
                "{path} is opened or loaded, and nothing of that name is where it is looked for."
            ),
            "Names on disk have to match to the letter, capitals too. A path that does not \
                begin at the root is looked for from the folder in which the program was \
                started, which may not be the script's own."
                .into(),
        ],
        token: quoted.or(case.entry.token),
    }
}
