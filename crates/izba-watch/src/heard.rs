//! Who else hears what programs print, as it is read: a command line without a screen passes it on.

use izba_model::Stream;

/// Takes the bytes of one stream.
type Hear = Box<dyn FnMut(Stream, &[u8]) + Send>;

/// Hears the bytes of all programs, in the order in which they are read; by default nobody does.
#[derive(Default)]
pub struct Heard(pub(crate) Option<Hear>);

impl Heard {
    /// By this.
    pub fn by(hear: impl FnMut(Stream, &[u8]) + Send + 'static) -> Heard {
        Heard(Some(Box::new(hear)))
    }
}

impl std::fmt::Debug for Heard {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str(if self.0.is_some() { "Heard(somebody)" } else { "Heard(nobody)" })
    }
}
