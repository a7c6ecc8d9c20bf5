//! A source map (ECMA-426): from a place in a generated script to the one that somebody wrote.

use serde::Deserialize;

/// One mapping: where it begins in the generated script, and where that was written; all from 0,
/// columns in UTF-16 units.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
struct Mapping {
    line: u32,
    column: u32,
    /// Source, line and column; `None` where the script was made by nobody.
    written: Option<(u32, u32, u32)>,
}

/// A decoded map; a map of sections is one list like any other.
#[derive(Debug, Default)]
pub(crate) struct SourceMap {
    sources: Vec<String>,
    /// By place.
    mappings: Vec<Mapping>,
}

#[derive(Deserialize)]
struct Told {
    #[serde(default, rename = "sourceRoot")]
    source_root: Option<String>,
    #[serde(default)]
    sources: Vec<Option<String>>,
    #[serde(default)]
    mappings: String,
    #[serde(default)]
    sections: Vec<Section>,
}

#[derive(Deserialize)]
struct Section {
    offset: Offset,
    map: Told,
}

#[derive(Deserialize, Clone, Copy)]
struct Offset {
    line: u32,
    column: u32,
}

impl SourceMap {
    /// Decodes a map; `None` when the text is none. A mapping that cannot be read ends its line.
    pub(crate) fn decode(text: &str) -> Option<SourceMap> {
        // Some servers put a line before it that keeps a page from running it as a script.
        let text =
            text.strip_prefix(")]}'").map_or(text, |t| t.split_once('\n').map_or(t, |s| s.1));
        let told: Told = serde_json::from_str(text).ok()?;
        let mut map = SourceMap::default();
        map.add(&told, Offset { line: 0, column: 0 }, true);
        map.mappings.sort();
        (!map.mappings.is_empty()).then_some(map)
    }

    fn add(&mut self, told: &Told, offset: Offset, sections: bool) {
        let base = self.sources.len() as u32;
        let root = told.source_root.as_deref().unwrap_or("").trim_end_matches('/');
        self.sources.extend(told.sources.iter().map(|source| {
            let source = source.as_deref().unwrap_or("");
            if root.is_empty() { source.to_owned() } else { format!("{root}/{source}") }
        }));
        let mut written = [0i64; 3];
        for (line, groups) in told.mappings.split(';').enumerate() {
            let mut column = 0i64;
            for group in groups.split(',').filter(|g| !g.is_empty()) {
                let Some(numbers) = numbers(group) else { break };
                column += numbers[0];
                if let [_, source, line, place, ..] = numbers.as_slice() {
                    written[0] += source;
                    written[1] += line;
                    written[2] += place;
                }
                let Ok(at) = u32::try_from(column) else { break };
                let [source, by, place] = written.map(u32::try_from);
                let known = told.sources.len() as u32;
                let written = match (source, by, place) {
                    (Ok(source), Ok(by), Ok(place)) if numbers.len() >= 4 && source < known => {
                        Some((base.saturating_add(source), by, place))
                    }
                    _ => None,
                };
                let shift = if line == 0 { offset.column } else { 0 };
                self.mappings.push(Mapping {
                    line: offset.line.saturating_add(line as u32),
                    column: at.saturating_add(shift),
                    written,
                });
            }
        }
        // The standard has no sections in sections.
        for section in told.sections.iter().filter(|_| sections) {
            self.add(&section.map, section.offset, false);
        }
    }

    /// Where the generated place (from 0) was written: source, line and column, from 0.
    ///
    /// The last mapping of that line at or before the column tells; one that names no source says
    /// that nobody wrote this.
    pub(crate) fn written(&self, line: u32, column: u32) -> Option<(&str, u32, u32)> {
        let after = self.mappings.partition_point(|m| (m.line, m.column) <= (line, column));
        let mapping = self.mappings[..after].last().filter(|m| m.line == line)?;
        let (source, line, column) = mapping.written?;
        Some((self.sources.get(source as usize)?, line, column))
    }
}

/// The numbers of one group in Base64 VLQ: five bits a sign, the lowest bit of the first the sign
/// of the number.
fn numbers(group: &str) -> Option<Vec<i64>> {
    let mut numbers = Vec::with_capacity(5);
    let (mut value, mut shift) = (0i64, 0u32);
    for byte in group.bytes() {
        let digit = match byte {
            b'A'..=b'Z' => byte - b'A',
            b'a'..=b'z' => byte - b'a' + 26,
            b'0'..=b'9' => byte - b'0' + 52,
            b'+' => 62,
            b'/' => 63,
            _ => return None,
        };
        // The standard's numbers have 32 bits.
        if shift > 30 {
            return None;
        }
        value |= i64::from(digit & 31) << shift;
        shift += 5;
        if digit & 32 == 0 {
            numbers.push(if value & 1 == 1 { -(value >> 1) } else { value >> 1 });
            (value, shift) = (0, 0);
        }
    }
    (shift == 0 && !numbers.is_empty()).then_some(numbers)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn the_last_mapping_of_the_line_tells() {
        let text = r#"{"version":3,"sources":["a.js"],"names":[],"mappings":"UAAA,MAEM,K;EAGD"}"#;
        let map = SourceMap::decode(text).expect("a map");
        assert_eq!(map.written(0, 9), None, "nothing begins before");
        assert_eq!(map.written(0, 12), Some(("a.js", 0, 0)));
        assert_eq!(map.written(0, 17), Some(("a.js", 2, 6)));
        assert_eq!(map.written(0, 40), None, "made by nobody");
        assert_eq!(map.written(1, 1), None, "another line's mapping says nothing");
        assert_eq!(map.written(1, 2), Some(("a.js", 5, 5)));
    }

    #[test]
    fn sections_and_roots_are_followed() {
        let text = r#"{"version":3,"sections":[
            {"offset":{"line":0,"column":0},"map":{"version":3,"sources":["a.js"],"mappings":"AAAA"}},
            {"offset":{"line":3,"column":5},"map":{"version":3,"sourceRoot":"src/",
             "sources":["b.js"],"mappings":"AACA;AACA"}}]}"#;
        let map = SourceMap::decode(text).expect("a map");
        assert_eq!(map.written(0, 0), Some(("a.js", 0, 0)));
        assert_eq!(map.written(3, 6), Some(("src/b.js", 1, 0)));
        assert_eq!(map.written(4, 0), Some(("src/b.js", 2, 0)));
    }

    proptest! {
        #[test]
        fn any_text_is_a_map_or_none(text in "[A-Za-z0-9+/,;]{0,80}", line in 0u32..4, column in 0u32..99) {
            let told = serde_json::json!({"version": 3, "sources": ["a.js"], "mappings": text});
            if let Some(map) = SourceMap::decode(&told.to_string()) {
                let _ = map.written(line, column);
            }
            let _ = SourceMap::decode(&text);
        }
    }
}
