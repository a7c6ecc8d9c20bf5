//! The numbers behind a drawing: as CSV (RFC 4180) and as JSON lines.

use crate::form::DrawError;
use serde_json::{Map, Value};

/// Rows under named columns: the numbers that a drawing stands for.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Table {
    columns: &'static [&'static str],
    rows: Vec<Vec<Value>>,
}

impl Table {
    pub(crate) fn new(columns: &'static [&'static str]) -> Table {
        Table { columns, rows: Vec::new() }
    }

    pub(crate) fn row(&mut self, cells: Vec<Value>) {
        self.rows.push(cells);
    }

    /// How many rows there are.
    pub fn len(&self) -> usize {
        self.rows.len()
    }

    /// Whether the table has no rows.
    pub fn is_empty(&self) -> bool {
        self.rows.is_empty()
    }

    pub(crate) fn jsonl(&self) -> String {
        let object = |row: &Vec<Value>| -> Value {
            let named = self.columns.iter().map(|c| (*c).to_owned()).zip(row.iter().cloned());
            Value::Object(named.collect::<Map<_, _>>())
        };
        self.rows.iter().map(|r| format!("{}\n", object(r))).collect()
    }

    pub(crate) fn csv(&self) -> Result<Vec<u8>, DrawError> {
        let failed = |e: String| DrawError::Numbers(e);
        let mut out = csv::Writer::from_writer(Vec::new());
        out.write_record(self.columns).map_err(|e| failed(e.to_string()))?;
        for row in &self.rows {
            let cell = |v: &Value| match v {
                Value::Null => String::new(),
                Value::String(text) => guarded(text),
                other => other.to_string(),
            };
            out.write_record(row.iter().map(cell)).map_err(|e| failed(e.to_string()))?;
        }
        out.into_inner().map_err(|e| failed(e.to_string()))
    }
}

/// A text from a log that a spreadsheet would take for a formula is marked as text.
fn guarded(text: &str) -> String {
    if text.starts_with(['=', '+', '-', '@', '\t', '\r']) {
        format!("'{text}")
    } else {
        text.to_owned()
    }
}
