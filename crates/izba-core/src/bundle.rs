//! From a place in a bundled script to the one that somebody wrote, by the bundle's source map (ECMA-426).

use std::fmt;
use std::sync::{Arc, OnceLock};

/// A bundled script that has a map.
pub struct Bundle {
    /// Path of the script below the project, with `/`.
    path: Arc<str>,
    text: Arc<str>,
    map: OnceLock<Option<sourcemap::SourceMap>>,
}

impl fmt::Debug for Bundle {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.debug_struct("Bundle").field("path", &self.path).field("map_bytes", &self.text.len()).finish()
    }
}

impl Bundle {
    /// The script at `path`, with the text of its map; the map is only read once it is needed.
    pub fn new(path: Arc<str>, text: Arc<str>) -> Bundle {
        Bundle { path, text, map: OnceLock::new() }
    }

    /// Path of the script below the project.
    pub fn path(&self) -> &str {
        &self.path
    }

    /// The written place of line and column (from 1, in UTF-16 units): a path below the project, as far as the map leads
    /// there, with line and column counted in the same way.
    pub fn written(&self, line: u32, column: u32) -> Option<(String, u32, u32)> {
        let map = self.map.get_or_init(|| sourcemap::decode_slice(self.text.as_bytes()).ok().and_then(flat)).as_ref()?;
        let token = map.lookup_token(line.checked_sub(1)?, column.checked_sub(1)?)?;
        let source = token.get_source()?;
        let source = source.split_once("://").map_or(source, |(_, path)| path.split_once('/').map_or(path, |(_, rest)| rest));
        let folder = self.path.rsplit_once('/').map_or("", |(folder, _)| folder);
        let mut parts: Vec<&str> = if source.starts_with('/') { Vec::new() } else { folder.split('/').filter(|p| !p.is_empty()).collect() };
        for part in source.split('/') {
            match part {
                "" | "." => {}
                ".." => drop(parts.pop()),
                other => parts.push(other),
            }
        }
        Some((parts.join("/"), token.get_src_line() + 1, token.get_src_col() + 1))
    }
}

/// A map of maps as one.
fn flat(map: sourcemap::DecodedMap) -> Option<sourcemap::SourceMap> {
    match map {
        sourcemap::DecodedMap::Regular(map) => Some(map),
        sourcemap::DecodedMap::Index(index) => index.flatten().ok(),
        sourcemap::DecodedMap::Hermes(_) => None,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_place_in_a_bundle_leads_to_the_written_one_and_nonsense_leads_nowhere() {
        // const a = 1; in web/src/a.js stands at column 11 of the bundle.
        let text = r#"{"version":3,"sources":["../src/a.js"],"names":[],"mappings":"UAAA,MAEM"}"#;
        let bundle = Bundle::new("web/dist/all.min.js".into(), text.into());
        assert_eq!(bundle.written(1, 11), Some(("web/src/a.js".into(), 1, 1)));
        assert_eq!(bundle.written(1, 18), Some(("web/src/a.js".into(), 3, 7)));
        assert_eq!(bundle.written(0, 1), None);
        assert_eq!(Bundle::new("x.js".into(), "no map".into()).written(1, 1), None);
    }
}
