//! What a benchmark measured.

use crate::say;

/// What was measured, a row for each.
#[derive(Default)]
pub struct Report {
    pub rows: Vec<(String, String)>,
}

impl Report {
    /// Keeps a row, and tells it at once.
    pub fn row(&mut self, what: &str, value: &str) {
        say(&format!("{what}: {value}"));
        self.rows.push((what.to_owned(), value.to_owned()));
    }
}

/// The middle one of the values, which it sorts.
pub fn median(values: &mut [f64]) -> f64 {
    percentile(values, 50)
}

/// The value below which so many of a hundred lie.
pub fn percentile(values: &mut [f64], percent: usize) -> f64 {
    values.sort_by(f64::total_cmp);
    values
        .get((values.len() * percent / 100).min(values.len().saturating_sub(1)))
        .copied()
        .unwrap_or(f64::NAN)
}

/// A number with a comma after each three digits.
pub fn thousands(number: u64) -> String {
    let digits = number.to_string();
    digits
        .as_bytes()
        .rchunks(3)
        .rev()
        .map(|c| String::from_utf8_lossy(c).into_owned())
        .collect::<Vec<_>>()
        .join(",")
}
