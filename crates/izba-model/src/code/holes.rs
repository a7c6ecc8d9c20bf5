//! Names of files with parts that are put in as the program runs: `levels/${n}.json`,
//! `"levels/" + n + ".json"`. Any file that fits may be meant.

use super::{At, FileFacts, Kind};

/// Signs of the fixed parts, at least: fewer fit anything.
const SIGNS: usize = 4;

/// Pieces of one name that are put together, at most.
const PIECES: usize = 32;

/// A name with holes.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct HoledName {
    /// Its fixed parts: between every two of them is a hole.
    fixed: Vec<String>,
}

impl HoledName {
    /// The name of a file that an expression puts together; `None` where it has no hole, or does not
    /// end like one of a file.
    pub fn of(file: &FileFacts, node: At<'_>) -> Option<HoledName> {
        // This is asked of every node of a project: nearly all are turned away here.
        let holed = match node.kind() {
            Kind::Str => node.child(0).is_some(),
            _ => joins(node),
        };
        if !holed {
            return None;
        }
        let fixed = fixed_parts(file, node);
        let signs = fixed.iter().flat_map(|p| p.chars()).filter(|c| c.is_alphanumeric()).count();
        let ends = fixed.last().is_some_and(|last| last.contains('.') && !last.contains(' '));
        (fixed.len() > 1 && signs >= SIGNS && ends).then_some(HoledName { fixed })
    }

    /// Whether a path may be meant: it, or the end of it from some folder on, is made of the fixed parts
    /// with something in each hole that is no folder.
    pub fn fits(&self, path: &str) -> bool {
        fits(path, &self.fixed)
    }

    /// The folder in which it looks, where that is written before the first hole.
    pub fn folder(&self) -> Option<&str> {
        let (before, _) = self.fixed.first()?.rsplit_once('/')?;
        before.rsplit('/').next().filter(|f| !f.is_empty() && *f != "." && *f != "..")
    }
}

/// Whether two texts, or a text and something else, are put together here.
fn joins(node: At<'_>) -> bool {
    node.is(Kind::Bin) && matches!(node.text(), Some("+" | ".." | "/" | "."))
}

/// The fixed parts of a text that is put together. One part where there is no hole.
fn fixed_parts(file: &FileFacts, node: At<'_>) -> Vec<String> {
    let mut parts = vec![String::new()];
    let put = |text: &str, parts: &mut Vec<String>| match parts.last_mut() {
        // What stands side by side without a hole is one part.
        Some(last) => last.push_str(text),
        None => parts.push(text.to_owned()),
    };
    let mut open = vec![node];
    let mut pieces = 0;
    while let Some(next) = open.pop() {
        pieces += 1;
        if pieces > PIECES {
            return vec![String::new()];
        }
        if joins(next) {
            let children: Vec<At<'_>> = next.children().collect();
            open.extend(children.into_iter().rev());
        } else if next.is(Kind::Str) {
            let mut from = next.span().0;
            for hole in next.children() {
                put(&bare(file.text.get(from..hole.span().0).unwrap_or_default()), &mut parts);
                parts.push(String::new());
                from = hole.span().1;
            }
            let whole = next.text().filter(|_| from == next.span().0);
            let rest = bare(file.text.get(from..next.span().1).unwrap_or_default());
            put(whole.unwrap_or(&rest), &mut parts);
        } else {
            parts.push(String::new());
        }
    }
    parts
}

/// A piece of a text between two holes, without the signs that stand around those.
fn bare(piece: &str) -> String {
    let quotes = ['"', '\'', '`'];
    let piece = piece.strip_suffix("${").or(piece.strip_suffix("#{")).unwrap_or(piece);
    let piece = piece.strip_suffix('{').unwrap_or(piece);
    let piece = piece.strip_prefix('}').unwrap_or(piece);
    let begin = piece.trim_start_matches(['f', 'F', '$', '@', 'r']);
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
            let (deeper, longer) = (format!("app/{path}"), format!("{path}x"));
            proptest::prop_assert!(fits(&path, &parts) && fits(&deeper, &parts));
            proptest::prop_assert!(!fits(&longer, &parts));
        }
    }
}
