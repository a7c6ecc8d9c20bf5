//! From a place in a bundled script to the one that somebody wrote, by the bundle's source map
//! (ECMA-426).

use crate::source_map::SourceMap;
use std::fmt;
use std::sync::{Arc, OnceLock};

/// A bundled script that has a map.
pub struct Bundle {
    /// Path of the script below the project, with `/`.
    path: Arc<str>,
    text: Arc<str>,
    map: OnceLock<Option<SourceMap>>,
}

impl fmt::Debug for Bundle {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.debug_struct("Bundle")
            .field("path", &self.path)
            .field("map_bytes", &self.text.len())
            .finish()
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

    /// The written place of line and column (from 1, in UTF-16 units): a path below the project, as
    /// far as the map leads there, with line and column counted in the same way.
    pub fn written(&self, line: u32, column: u32) -> Option<(String, u32, u32)> {
        let map = self.map.get_or_init(|| SourceMap::decode(&self.text)).as_ref()?;
        let (source, line, column) = map.written(line.checked_sub(1)?, column.checked_sub(1)?)?;
        let source = source
            .split_once("://")
            .map_or(source, |(_, path)| path.split_once('/').map_or(path, |(_, rest)| rest));
        let folder = self.path.rsplit_once('/').map_or("", |(folder, _)| folder);
        let mut parts: Vec<&str> = if source.starts_with('/') {
            Vec::new()
        } else {
            folder.split('/').filter(|p| !p.is_empty()).collect()
        };
        for part in source.split('/') {
            match part {
                "" | "." => {}
                ".." => drop(parts.pop()),
                other => parts.push(other),
            }
        }
        Some((parts.join("/"), line + 1, column + 1))
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
