//! How grave an entry is.

use serde::{Deserialize, Serialize};

/// How grave an entry is, mildest first, so that `>=` reads "or worse".
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum Level {
    /// For those who look for something.
    Debug,
    /// What happens, told in passing.
    Info,
    /// Something is odd; the program goes on.
    Warning,
    /// Something failed.
    Error,
    /// The program ends for it.
    Fatal,
}

impl Level {
    /// Reads a level word as logs write it, in any case; `None` for anything else.
    pub fn from_word(word: &str) -> Option<Level> {
        let mut lower = [0u8; 12];
        let bytes = word.as_bytes();
        if bytes.is_empty() || bytes.len() > lower.len() {
            return None;
        }
        for (to, from) in lower.iter_mut().zip(bytes) {
            *to = from.to_ascii_lowercase();
        }
        Some(match &lower[..bytes.len()] {
            b"fatal" | b"critical" | b"crit" | b"panic" | b"emerg" | b"alert" => Level::Fatal,
            b"error" | b"err" | b"severe" => Level::Error,
            b"warning" | b"warn" => Level::Warning,
            b"info" | b"notice" | b"information" => Level::Info,
            b"debug" | b"trace" | b"verbose" | b"fine" => Level::Debug,
            _ => return None,
        })
    }

    /// Reads a level that is told as a number: 0 to 7 as syslog counts (0 is gravest), else in
    /// steps of ten, where 30 is what is told in passing; `thirty_warns` for those that begin a
    /// step lower.
    pub fn from_number(number: i64, thirty_warns: bool) -> Option<Level> {
        let number = if thirty_warns { number + 10 } else { number };
        Some(match number {
            0..=2 => Level::Fatal,
            3 => Level::Error,
            4 => Level::Warning,
            5 | 6 => Level::Info,
            7..=29 => Level::Debug,
            30..=39 => Level::Info,
            40..=49 => Level::Warning,
            50..=59 => Level::Error,
            60.. => Level::Fatal,
            _ => return None,
        })
    }

    /// The word shown for it.
    pub fn word(self) -> &'static str {
        match self {
            Level::Debug => "debug",
            Level::Info => "info",
            Level::Warning => "warning",
            Level::Error => "error",
            Level::Fatal => "fatal",
        }
    }
}
