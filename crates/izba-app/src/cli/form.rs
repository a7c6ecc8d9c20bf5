//! How a command answers: in sentences, or as JSON, one object for each thing that it tells.

/// What `--as` takes.
#[derive(Debug, Clone, Copy, PartialEq, Eq, clap::ValueEnum)]
pub enum Form {
    /// Sentences for people
    Text,
    /// One JSON object on a line for each thing that is told
    Jsonl,
}

impl Form {
    /// Whether it is JSON.
    pub fn is_json(self) -> bool {
        self == Form::Jsonl
    }
}
