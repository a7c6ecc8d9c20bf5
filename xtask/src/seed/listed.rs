//! Slips from a list: names mistyped, closers and quotation marks gone, lines gone or moved, numbers
//! emptied. What a beginner's fingers do; many checks were written with them in mind.

use super::change::{Change, Files, mix};
use std::collections::BTreeMap;

/// Changes tried of one kind of slip in one project.
const TRIED: usize = 7;

/// One letter wrong, by the place: swapped, left out, doubled, or another capital.
fn typo(word: &str) -> String {
    let chars: Vec<char> = word.chars().collect();
    let at = 1 + (mix(word) as usize) % (chars.len() - 2).max(1);
    let mut out = chars.clone();
    match mix(&format!("{word}.")) % 4 {
        0 if chars[at] != chars[at - 1] => out.swap(at, at - 1),
        1 => {
            out.remove(at);
        }
        2 => out.insert(at, chars[at]),
        _ => {
            let first = chars[0];
            out[0] = if first.is_uppercase() {
                first.to_ascii_lowercase()
            } else {
                first.to_ascii_uppercase()
            };
        }
    }
    out.into_iter().collect()
}

const WORDS_OF_LANGUAGES: &[&str] = &[
    "local",
    "function",
    "return",
    "then",
    "else",
    "elseif",
    "while",
    "repeat",
    "until",
    "true",
    "false",
    "null",
    "none",
    "None",
    "self",
    "this",
    "class",
    "const",
    "static",
    "public",
    "private",
    "final",
    "void",
    "import",
    "from",
    "using",
    "for",
    "foreach",
    "string",
    "String",
    "double",
    "require",
    "module",
    "exports",
    "pairs",
    "ipairs",
    "print",
    "table",
    "insert",
    "concat",
    "sort",
    "setmetatable",
    "tonumber",
    "console",
    "JSON",
    "parse",
    "Math",
    "java",
    "util",
    "System",
    "Main",
    "main",
    "args",
    "with",
    "open",
    "super",
    "enum",
    "length",
    "push",
    "find",
    "join",
    "sorted",
    "lambda",
    "range",
    "enumerate",
    "Console",
    "WriteLine",
    "Exception",
    "throw",
    "new",
    "yield",
    "def",
    "except",
    "lines",
];

fn words(line: &str) -> Vec<(usize, &str)> {
    let mut out = Vec::new();
    let mut start = None;
    for (at, c) in line.char_indices().chain([(line.len(), ' ')]) {
        let inside = c.is_alphanumeric() || c == '_';
        match (inside, start) {
            (true, None) => start = Some(at),
            (false, Some(from)) => {
                out.push((from, &line[from..at]));
                start = None;
            }
            _ => {}
        }
    }
    out.retain(|(_, w)| {
        w.len() >= 4
            && w.starts_with(|c: char| c.is_alphabetic())
            && !WORDS_OF_LANGUAGES.contains(w)
    });
    out
}

/// Every change worth trying, the same each time.
pub fn changes(files: &Files) -> Vec<Change> {
    let mut all: Vec<Change> = Vec::new();
    let count = |word: &str| {
        files.values().flat_map(|t| t.lines()).flat_map(words).filter(|(_, w)| *w == word).count()
    };
    for (file, text) in files {
        let lines: Vec<&str> = text.lines().collect();
        let code = !file.ends_with("json")
            && !file.ends_with("txt")
            && !file.ends_with("csv")
            && !file.ends_with("ini")
            && !file.ends_with("properties");
        for (index, line) in lines.iter().enumerate() {
            let at = index + 1;
            let mut one = |slip: &'static str, put: String, cause: String| {
                all.push(Change {
                    slip,
                    file: file.clone(),
                    at,
                    take: 1,
                    put: vec![put],
                    guilty: (at, at),
                    cause,
                });
            };
            for (from, word) in words(line) {
                let wrong = typo(word);
                let changed = format!("{}{wrong}{}", &line[..from], &line[from + word.len()..]);
                if !code {
                    one("data-typo", changed, format!("{word} is written {wrong}"));
                } else if count(word) >= 2 {
                    let named = [".csv", ".json", ".txt", ".ini", ".properties"]
                        .iter()
                        .any(|e| line[from + word.len()..].starts_with(e));
                    one(
                        if named { "file-typo" } else { "name-typo" },
                        changed,
                        format!("{word} is written {wrong}"),
                    );
                }
            }
            if !code {
                continue;
            }
            for closer in [")", "]", "}"] {
                if let Some(found) = line.rfind(closer) {
                    let rest = format!("{}{}", &line[..found], &line[found + 1..]);
                    if rest.trim().is_empty() {
                        all.push(Change {
                            slip: "closer-gone",
                            file: file.clone(),
                            at,
                            take: 1,
                            put: vec![],
                            guilty: (at - 1, at),
                            cause: format!("the {closer} is gone"),
                        });
                    } else {
                        all.push(Change {
                            slip: "closer-gone",
                            file: file.clone(),
                            at,
                            take: 1,
                            put: vec![rest],
                            guilty: (at, at),
                            cause: format!("the {closer} is gone"),
                        });
                    }
                }
            }
            if line.trim() == "end" {
                all.push(Change {
                    slip: "closer-gone",
                    file: file.clone(),
                    at,
                    take: 1,
                    put: vec![],
                    guilty: (at - 1, at),
                    cause: "the end is gone".into(),
                });
            }
            let mut one = |slip: &'static str, put: String, cause: String| {
                all.push(Change {
                    slip,
                    file: file.clone(),
                    at,
                    take: 1,
                    put: vec![put],
                    guilty: (at, at),
                    cause,
                });
            };
            if matches!(line.trim(), "end" | "}" | ")" | "};" | "});") {
                let closer = if line.trim() == "end" { " end" } else { "}" };
                one("closer-extra", format!("{line}{closer}"), "one closer too many".into());
            }
            if let Some(found) = line.rfind(['"', '\'']) {
                one(
                    "quote-gone",
                    format!("{}{}", &line[..found], &line[found + 1..]),
                    "a quotation mark is gone".into(),
                );
            }
            if let Some(found) = line.find(", ") {
                one(
                    "comma-gone",
                    format!("{}{}", &line[..found], &line[found + 1..]),
                    "a comma is gone".into(),
                );
            }
            for (from, to) in [
                ("[i]", "[i + 1]"),
                (" < ", " <= "),
                ("- 1]", "]"),
                ("[1]", "[2]"),
                ("[0]", "[1]"),
                (" - 1)", ")"),
            ] {
                if line.contains(from) {
                    one("off-by-one", line.replacen(from, to, 1), format!("{from} became {to}"));
                }
            }
            let open = line.find('(').filter(|_| line.matches('(').count() == 1);
            if let Some((open, close)) = open.zip(line.rfind(')')) {
                let parts: Vec<&str> =
                    line.get(open + 1..close).unwrap_or("").split(", ").collect();
                if parts.len() >= 2
                    && parts.iter().all(|p| !p.is_empty() && !p.contains(['(', '{', '[']))
                    && !line.contains("for ")
                {
                    let mut swapped = parts.clone();
                    swapped.swap(0, 1);
                    one(
                        "order-swapped",
                        format!("{}{}{}", &line[..=open], swapped.join(", "), &line[close..]),
                        "two stand in the wrong order".into(),
                    );
                }
            }
            let number = line.char_indices().find(|(k, c)| {
                c.is_ascii_digit()
                    && line[..*k].ends_with([' ', '('])
                    && !line[..*k].contains(['"', '\'', '['])
            });
            if let Some((from, _)) = number {
                let digits = line[from..].bytes().take_while(u8::is_ascii_digit).count();
                if line[from + digits..].starts_with([',', ' ', ')', ';'])
                    || line.len() == from + digits
                {
                    one(
                        "wrong-kind",
                        format!("{}\"many\"{}", &line[..from], &line[from + digits..]),
                        "a word stands where a number belongs".into(),
                    );
                    let nothing = if file.ends_with("lua") {
                        "nil"
                    } else if file.ends_with("py") {
                        "None"
                    } else {
                        "null"
                    };
                    one(
                        "emptied",
                        format!("{}{nothing}{}", &line[..from], &line[from + digits..]),
                        "nothing stands where a number belongs".into(),
                    );
                }
            }
            let trimmed = line.trim();
            let sets = trimmed.contains(" = ")
                && !trimmed.starts_with("for ")
                && (trimmed.ends_with(';') || !trimmed.ends_with(['{', ',', '(']))
                && !trimmed.starts_with("if ");
            let registers = trimmed.starts_with("board.bind")
                || trimmed.starts_with("deeds[")
                || trimmed.starts_with("table.add")
                || trimmed.starts_with("exports.");
            let brings = trimmed.starts_with("import ")
                || trimmed.starts_with("from ")
                || trimmed.starts_with("using ")
                || trimmed.contains("require(");
            if (sets || registers || brings) && index > 0 {
                let slip = if brings { "import-gone" } else { "line-gone" };
                all.push(Change {
                    slip,
                    file: file.clone(),
                    at,
                    take: 1,
                    put: vec![],
                    guilty: (at - 1, at),
                    cause: format!("gone: {trimmed}"),
                });
            } else if brings {
                all.push(Change {
                    slip: "import-gone",
                    file: file.clone(),
                    at,
                    take: 1,
                    put: vec![],
                    guilty: (1, 1),
                    cause: format!("gone: {trimmed}"),
                });
            }
            // What gives a value, moved below its neighbour.
            let indent = |l: &str| l.len() - l.trim_start().len();
            if sets
                && let Some(next) = lines.get(index + 1)
                && indent(next) == indent(line)
                && !next.trim().is_empty()
                && !next.trim().ends_with(['{', '}'])
            {
                all.push(Change {
                    slip: "too-late",
                    file: file.clone(),
                    at,
                    take: 2,
                    put: vec![(*next).to_owned(), (*line).to_owned()],
                    guilty: (at + 1, at + 1),
                    cause: format!("too late: {trimmed}"),
                });
            }
        }
    }
    // Of many the same ones each time, spread over the files.
    let mut by_slip: BTreeMap<&'static str, Vec<Change>> = BTreeMap::new();
    for change in all {
        by_slip.entry(change.slip).or_default().push(change);
    }
    by_slip
        .into_values()
        .flat_map(|mut list| {
            list.sort_by_key(|c| mix(&format!("{}{}{:?}", c.file, c.at, c.put)));
            list.truncate(TRIED);
            list
        })
        .collect()
}
