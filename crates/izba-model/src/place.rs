//! Where something stands: script, line, column, and the steps that led there.

use serde::{Deserialize, Serialize};
use std::sync::Arc;

/// What a printed column counts.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
pub enum ColumnUnit {
    /// Code units of UTF-16, as JavaScript and .NET count.
    Utf16,
    /// Characters (Unicode scalar values).
    Chars,
    /// Bytes of UTF-8.
    Bytes,
}

/// A printed column, from 1, with what it counts.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
pub struct Column {
    /// The number as printed, from 1.
    pub number: u32,
    /// What it counts.
    pub unit: ColumnUnit,
}

impl Column {
    /// A column that counts characters.
    pub fn chars(number: u32) -> Column {
        Column { number, unit: ColumnUnit::Chars }
    }

    /// The byte offset (from 0) in `line` that this column means; the end of the line when it lies
    /// beyond.
    pub fn to_byte(self, line: &str) -> usize {
        let before = self.number.saturating_sub(1) as usize;
        match self.unit {
            ColumnUnit::Bytes => (0..=before.min(line.len()))
                .rev()
                .find(|at| line.is_char_boundary(*at))
                .unwrap_or(0),
            ColumnUnit::Chars => line.char_indices().nth(before).map_or(line.len(), |(at, _)| at),
            ColumnUnit::Utf16 => {
                let mut units = 0;
                for (at, ch) in line.char_indices() {
                    if units >= before {
                        return at;
                    }
                    units += ch.len_utf16();
                }
                line.len()
            }
        }
    }
}

/// A place in the user's project.
#[derive(Debug, Clone, PartialEq, Eq, Hash, Serialize, Deserialize)]
pub struct Place {
    /// Path relative to the project, with `/`.
    pub file: Arc<str>,
    /// Line, from 1; `None` when only the file is known.
    pub line: Option<u32>,
    /// Column, where one was printed or marked.
    pub column: Option<Column>,
}

/// One step of a stack trace.
#[derive(Debug, Clone, PartialEq, Eq, Hash, Serialize, Deserialize, Default)]
pub struct StackFrame {
    /// The file as the console printed it; `None` for native code.
    pub file: Option<String>,
    /// Line, from 1.
    pub line: Option<u32>,
    /// Column, where printed.
    pub column: Option<Column>,
    /// The function, as the language writes it.
    pub function: Option<String>,
    /// Path relative to the project when the file is own; `None` for outside code.
    pub own: Option<Arc<str>>,
}

impl StackFrame {
    /// The place in the project, when this step is own.
    pub fn place(&self) -> Option<Place> {
        Some(Place { file: self.own.clone()?, line: self.line, column: self.column })
    }
}
