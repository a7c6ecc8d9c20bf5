//! Which of a program's streams a line came by.

/// Which of a program's streams a line came by.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Stream {
    /// Standard output, or the only stream of a file or pipe.
    Out,
    /// Standard error.
    Err,
}

impl Stream {
    /// Its place among the streams of a source: 0 or 1.
    pub fn index(self) -> usize {
        match self {
            Stream::Out => 0,
            Stream::Err => 1,
        }
    }
}
