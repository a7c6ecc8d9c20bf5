//! Places of a project in the editor's words: addresses of files, and columns counted in the units
//! that both sides agreed on.

use lsp_types::{Position, PositionEncodingKind, Range, Url};
use std::path::Path;

/// In which units columns are counted (LSP 3.17, `positionEncoding`).
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Units {
    /// Bytes.
    Utf8,
    /// 16-bit units, as every client understands them.
    Utf16,
}

impl Units {
    /// The ones that a client offers and that cost least.
    pub(crate) fn offered(kinds: Option<&[PositionEncodingKind]>) -> Units {
        match kinds {
            Some(kinds) if kinds.contains(&PositionEncodingKind::UTF8) => Units::Utf8,
            _ => Units::Utf16,
        }
    }

    /// What they are called.
    pub(crate) fn kind(self) -> PositionEncodingKind {
        match self {
            Units::Utf8 => PositionEncodingKind::UTF8,
            Units::Utf16 => PositionEncodingKind::UTF16,
        }
    }

    /// How wide a text is.
    pub(crate) fn width(self, text: &str) -> u32 {
        let width = match self {
            Units::Utf8 => text.len(),
            Units::Utf16 => text.encode_utf16().count(),
        };
        u32::try_from(width).unwrap_or(u32::MAX)
    }

    /// The byte of a line at which a column lies; its end where it is shorter.
    pub(crate) fn byte(self, line: &str, column: u32) -> usize {
        let mut passed = 0;
        for (at, c) in line.char_indices() {
            if passed >= column {
                return at;
            }
            passed += match self {
                Units::Utf8 => c.len_utf8() as u32,
                Units::Utf16 => c.len_utf16() as u32,
            };
        }
        line.len()
    }

    /// What is written in a line (from 1) of a text: from its first sign to its last.
    pub(crate) fn written(self, text: &str, line: u32) -> Range {
        let row = line.saturating_sub(1);
        let written = text.lines().nth(row as usize).unwrap_or("");
        let from = written.len() - written.trim_start().len();
        let to = written.trim_end().len().max(from);
        let at = |byte: usize| Position::new(row, self.width(&written[..byte]));
        Range::new(at(from), at(to))
    }

    /// The byte of a text at which a position lies.
    pub(crate) fn byte_of(self, text: &str, at: Position) -> usize {
        let mut begins = 0;
        for (row, line) in text.split_inclusive('\n').enumerate() {
            if row == at.line as usize {
                let body = line.trim_end_matches(['\n', '\r']);
                return begins + self.byte(body, at.character);
            }
            begins += line.len();
        }
        text.len()
    }
}

/// The address of a file of the project at `root`.
pub(crate) fn url(root: &Path, file: &str) -> Option<Url> {
    Url::from_file_path(root.join(file)).ok()
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn a_line_is_told_from_its_first_sign_to_its_last_in_the_units_of_the_client() {
        let text = "tide\n  潮 = 🜚  \r\n";
        let range = |from, to| Range::new(Position::new(1, from), Position::new(1, to));
        assert_eq!(Units::Utf16.written(text, 2), range(2, 8));
        assert_eq!(Units::Utf8.written(text, 2), range(2, 12));
        assert_eq!(Units::Utf8.written(text, 9).start, Position::new(8, 0));
    }

    proptest! {
        /// Every position of a text leads to the byte that it was made of.
        #[test]
        fn there_and_back(text in "(a|é|潮|🜚|\n|\r\n| ){0,40}", at in any::<prop::sample::Index>()) {
            let starts: Vec<usize> = text.char_indices().map(|(at, _)| at).collect();
            prop_assume!(!starts.is_empty());
            let byte = starts[at.index(starts.len())];
            prop_assume!(!text[byte..].starts_with('\n'));
            let row = text[..byte].matches('\n').count() as u32;
            let begins = text[..byte].rfind('\n').map_or(0, |n| n + 1);
            for units in [Units::Utf8, Units::Utf16] {
                let column = units.width(&text[begins..byte]);
                prop_assert_eq!(units.byte_of(&text, Position::new(row, column)), byte);
            }
        }
    }
}
