//! Files that a program opens or reads: by a name that is written out, or by one with parts that are
//! put in as it runs, which may be any file that fits.

use super::eval::Eval;
use super::val::{Val, Vals, What};
use izba_model::code::{At, FileFacts, Kind};

/// Objects that open a file when they are made.
const OPENERS: &[&str] = &[
    "FileReader",
    "BufferedReader",
    "InputStreamReader",
    "FileInputStream",
    "StreamReader",
    "Scanner",
    "File",
    "Path",
    "URL",
];

/// What names the file in an object that opens it.
fn opened_by(part: At<'_>) -> At<'_> {
    let mut at = part;
    while let Some(inner) = at
        .arguments()
        .next()
        .filter(|_| at.is(Kind::New) && at.text().is_some_and(|t| OPENERS.contains(&t)))
    {
        at = inner;
    }
    at
}

/// Files that one name with holes may mean, at most.
const FILES: usize = 12;
/// Signs of the fixed parts of such a name, at least: fewer fit anything.
const SIGNS: usize = 4;

/// Calls that give what stands in the file, taken apart.
const PARSES: &[&str] = &[
    "load",
    "parse",
    "loads",
    "getroot",
    "DictReader",
    "items",
    "sections",
    "getDocumentElement",
    "decode",
    "Load",
    "json",
];

impl<'a> Eval<'a, '_> {
    /// A file that a call opens or reads, or what was opened before.
    pub(super) fn opened(
        &mut self,
        file: &'a FileFacts,
        owner: Option<At<'a>>,
        first: Option<At<'a>>,
        name: &str,
    ) -> Option<Vals<'a>> {
        let document = PARSES.contains(&name);
        let handles = [first.map(opened_by), owner];
        for part in handles.into_iter().flatten() {
            let found = self.of(file, part);
            let mut out: Option<Vals<'a>> = None;
            for val in &found.list {
                if let Some(read) = self.read_from(val, document, name) {
                    out.get_or_insert_default().join(read);
                }
            }
            if out.is_some() {
                return out;
            }
            let fitting = self.files_like(file, part);
            if !fitting.is_empty() {
                let read = fitting.into_iter().map(|data| match document {
                    true => self.document(data),
                    false => Vals::one(Val::new(What::Lines(data), data, 1)),
                });
                return Some(read.fold(Vals::default(), |mut all, one| {
                    all.join(one);
                    all
                }));
            }
        }
        None
    }

    /// What reading gives of a name, of what was opened, or of what was read before.
    fn read_from(&self, val: &Val<'a>, document: bool, name: &str) -> Option<Vals<'a>> {
        match &val.what {
            What::Text(text) => {
                let data = self.data_named(text)?;
                Some(match document {
                    true => self.document(data),
                    false => Vals::one(Val::new(What::Lines(data), data, 1)),
                })
            }
            What::Lines(data) if document => Some(self.document(data)),
            What::Lines(_) => Some(Vals::one(val.clone())),
            What::Doc(doc) if name == "items" => {
                let pairs = doc.keys().into_iter().filter_map(|key| {
                    let value = doc.at(&key.word()?).list;
                    let value = value.into_iter().find(|v| v.line == key.line)?;
                    Some(Val::new(What::Items([key.clone(), value].into()), key.file, key.line))
                });
                let pairs: Vec<Val<'a>> = pairs.collect();
                Some(Vals::one(val.made(What::Items(pairs.into()))))
            }
            What::Doc(_) => Some(Vals::one(val.clone())),
            _ => None,
        }
    }

    /// The file of data that an expression opens, as a document.
    pub(super) fn opened_file(&mut self, file: &'a FileFacts, at: At<'a>) -> Option<Vals<'a>> {
        let found = self.opened(file, None, Some(at), "load")?;
        found.list.iter().all(|v| matches!(v.what, What::Doc(_))).then_some(found)
    }

    /// The files of data that a name with holes fits: `levels/${n}.json`, `"levels/" + n + ".json"`.
    fn files_like(&self, file: &FileFacts, node: At<'_>) -> Vec<&'a FileFacts> {
        let fixed = fixed_parts(file, node);
        let signs = fixed.iter().flat_map(|p| p.chars()).filter(|c| c.is_alphanumeric()).count();
        let ends = fixed.last().is_some_and(|last| last.contains('.'));
        if fixed.len() < 2 || signs < SIGNS || !ends {
            return Vec::new();
        }
        let data = self.query.scope.iter().copied().filter(|f| f.language.is_data());
        data.filter(|f| fits(&f.path, &fixed)).take(FILES).collect()
    }
}

/// The fixed parts of a text that is put together: between every two of them is a hole. One part
/// where there is none.
fn fixed_parts(file: &FileFacts, node: At<'_>) -> Vec<String> {
    let joins = |n: At<'_>| n.is(Kind::Bin) && matches!(n.text(), Some("+" | ".." | "/" | "."));
    match node.kind() {
        Kind::Str if node.child(0).is_none() => vec![node.text().unwrap_or_default().to_owned()],
        Kind::Str => {
            let mut parts = Vec::new();
            let mut from = node.span().0;
            for hole in node.children() {
                let before = file.text.get(from..hole.span().0).unwrap_or_default();
                parts.push(bare(before));
                from = hole.span().1;
            }
            parts.push(bare(file.text.get(from..node.span().1).unwrap_or_default()));
            parts
        }
        Kind::Bin if joins(node) => {
            let mut parts: Vec<String> = Vec::new();
            for child in node.children() {
                let mut further = fixed_parts(file, child).into_iter();
                // What stands side by side without a hole is one part.
                if let (Some(last), Some(first)) = (parts.last_mut(), further.next()) {
                    last.push_str(&first);
                } else {
                    parts = fixed_parts(file, child);
                    continue;
                }
                parts.extend(further);
            }
            parts
        }
        // A hole with nothing on either side.
        _ => vec![String::new(), String::new()],
    }
}

/// A piece of a text between two holes, without the signs that stand around those.
fn bare(piece: &str) -> String {
    let quotes = ['"', '\'', '`'];
    let piece = piece.strip_suffix("${").or(piece.strip_suffix("#{")).unwrap_or(piece);
    let piece = piece.strip_suffix('{').unwrap_or(piece);
    let piece = piece.strip_prefix('}').unwrap_or(piece);
    let begin = piece.trim_start_matches(|c: char| matches!(c, 'f' | 'F' | '$' | '@' | 'r'));
    let piece = if begin.starts_with(quotes) { begin } else { piece };
    piece.trim_matches(quotes).to_owned()
}

/// Whether a path, or the end of it from some folder on, is made of these parts with something that
/// is no folder in each hole.
fn fits(path: &str, parts: &[String]) -> bool {
    let Some((first, rest)) = parts.split_first() else { return false };
    let first = first.trim_start_matches("./").trim_start_matches('/');
    let begins = std::iter::once(0).chain(path.match_indices('/').map(|(at, _)| at + 1));
    begins.filter_map(|at| path[at..].strip_prefix(first)).any(|tail| holes_fit(tail, rest))
}

fn holes_fit(tail: &str, rest: &[String]) -> bool {
    let Some((next, further)) = rest.split_first() else { return tail.is_empty() };
    let filled = |hole: &str| !hole.is_empty() && !hole.contains('/');
    if further.is_empty() {
        return tail.strip_suffix(next.as_str()).is_some_and(filled);
    }
    // Two holes side by side are one.
    let mut ends = tail.match_indices(next.as_str()).filter(|(at, _)| filled(&tail[..*at]));
    ends.any(|(at, _)| holes_fit(&tail[at + next.len()..], further))
}

#[cfg(test)]
mod tests {
    use super::*;

    fn parts(of: &[&str]) -> Vec<String> {
        of.iter().map(|p| (*p).to_owned()).collect()
    }

    #[test]
    fn a_name_with_holes_fits_what_fills_each_of_them() {
        let level = parts(&["./levels/", ".json"]);
        assert!(fits("levels/1.json", &level) && fits("public/levels/fog.json", &level));
        assert!(!fits("levels/.json", &level), "an empty hole");
        assert!(!fits("levels/old/1.json", &level), "a hole holds no folder");
        assert!(!fits("sublevels/1.json", &level), "a part of a folder's name is none");
        let two = parts(&["", "_", ".csv"]);
        assert!(fits("quay_3.csv", &two) && !fits("quay.csv", &two) && !fits("_3.csv", &two));
    }

    #[test]
    fn the_signs_around_holes_are_no_part_of_the_name() {
        for (piece, is) in [
            ("`levels/${", "levels/"),
            ("}.json`", ".json"),
            ("f\"data/{", "data/"),
            ("}.csv\"", ".csv"),
            ("$\"maps/{", "maps/"),
            ("}/{", "/"),
        ] {
            assert_eq!(bare(piece), is, "{piece}");
        }
        // Only a sign before a quote is a sign.
        assert_eq!(bare("}forest.txt'"), "forest.txt");
    }

    proptest::proptest! {
        #[test]
        fn a_name_fits_what_it_was_made_of(
            holes in proptest::collection::vec("[a-z0-9-]{1,5}", 1..4),
            between in "[_.][a-z]{1,3}",
        ) {
            let mut path = "data/".to_owned();
            let mut parts = vec!["data/".to_owned()];
            for (nth, hole) in holes.iter().enumerate() {
                let next = if nth + 1 == holes.len() { ".json" } else { &between };
                path = path + hole + next;
                parts.push(next.to_owned());
            }
            proptest::prop_assert!(fits(&path, &parts) && fits(&format!("app/{path}"), &parts));
            let longer = format!("{path}x");
            proptest::prop_assert!(!fits(&longer, &parts));
        }
    }
}
