//! Who else hears what programs print, as it arrives: a command line without a screen passes it on,
//! whether or not it can be kept.

use izba_model::Stream;
use izba_sources::Hear;
use std::sync::Arc;

/// Hears the bytes of all programs, each stream in its order; by default nobody does.
#[derive(Default, Clone)]
pub struct Heard(pub(crate) Option<Hear>);

impl Heard {
    /// By this.
    pub fn by(hear: impl Fn(Stream, &[u8]) + Send + Sync + 'static) -> Heard {
        Heard(Some(Arc::new(hear)))
    }
}

impl std::fmt::Debug for Heard {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str(if self.0.is_some() { "Heard(somebody)" } else { "Heard(nobody)" })
    }
}
