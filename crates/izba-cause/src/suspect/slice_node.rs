//! A place that a value may have come through.

use izba_model::code::{At, FileFacts};
use std::sync::Arc;

/// One place that the value may have come through.
#[derive(Debug, Clone, Copy)]
pub struct SliceNode<'a> {
    /// Its file.
    pub file: &'a FileFacts,
    /// The node, in code.
    pub node: Option<At<'a>>,
    /// Line, from 1.
    pub(super) line: u32,
    /// How near to the error, 0 to 1.
    pub weight: f32,
}

impl<'a> SliceNode<'a> {
    /// Line of the node in its file, counted from 1.
    pub fn line(&self) -> u32 {
        self.line
    }

    /// Path of the file in which the node stands.
    pub fn path(&self) -> &'a Arc<str> {
        &self.file.path
    }
}
