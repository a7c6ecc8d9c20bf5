//! Writes a source map (ECMA-426) mapping by mapping, in the order of the generated script.

use serde_json::json;

const DIGITS: &[u8; 64] = b"ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";

/// A map under way.
pub(crate) struct MapWriter {
    file: String,
    sources: Vec<(String, String)>,
    mappings: String,
    /// Line and column of the last mapping in the script, and source, line and column as written.
    last: ((u32, u32), [u32; 3]),
    begun: bool,
}

impl MapWriter {
    /// A map of the script `file`.
    pub(crate) fn new(file: &str) -> MapWriter {
        MapWriter {
            file: file.to_owned(),
            sources: Vec::new(),
            mappings: String::new(),
            last: ((0, 0), [0; 3]),
            begun: false,
        }
    }

    /// Adds a source with its text; the number by which mappings name it.
    pub(crate) fn source(&mut self, name: String, text: &str) -> u32 {
        self.sources.push((name, text.to_owned()));
        self.sources.len() as u32 - 1
    }

    /// From `at` on the script is what stands at `written` in `source`; all from 0.
    pub(crate) fn mapping(&mut self, at: (u32, u32), source: u32, written: (u32, u32)) {
        let ((line, column), before) = self.last;
        let new_lines = at.0.saturating_sub(line);
        (0..new_lines).for_each(|_| self.mappings.push(';'));
        if self.begun && new_lines == 0 {
            self.mappings.push(',');
        }
        let from = if new_lines > 0 { 0 } else { column };
        self.number(i64::from(at.1) - i64::from(from));
        let now = [source, written.0, written.1];
        for (now, before) in now.iter().zip(before) {
            self.number(i64::from(*now) - i64::from(before));
        }
        self.last = (at, now);
        self.begun = true;
    }

    /// One number in Base64 VLQ.
    fn number(&mut self, number: i64) {
        let mut left = number.unsigned_abs() << 1 | u64::from(number < 0);
        loop {
            let more = left >> 5 > 0;
            let digit = (left & 31) as usize | if more { 32 } else { 0 };
            self.mappings.push(char::from(DIGITS[digit]));
            left >>= 5;
            if !more {
                return;
            }
        }
    }

    /// The map as JSON.
    pub(crate) fn written(self) -> String {
        let (names, texts): (Vec<String>, Vec<String>) = self.sources.into_iter().unzip();
        json!({
            "version": 3,
            "file": self.file,
            "sources": names,
            "sourcesContent": texts,
            "names": [],
            "mappings": self.mappings,
        })
        .to_string()
    }
}
