//! Whole inputs on all cores: batches of chunks are read on their own side by side, while the batch
//! before goes through the engine in order.

use izba_core::{Digest, Engine, SourceId};
use izba_model::Stream;
use izba_sources::ToUtf8;
use rayon::prelude::*;
use std::borrow::Cow;
use std::io::Read;

/// Bytes of one chunk.
const CHUNK: usize = 512 * 1024;
/// Chunks of a batch for each core.
const CHUNKS: usize = 6;

type Batch = Vec<(Vec<u8>, Option<Digest>)>;

/// Feeds all of `input` to a source, which has no known times.
///
/// # Errors
///
/// When reading fails; what was read before is in the engine.
pub fn feed_all(
    engine: &mut Engine,
    source: SourceId,
    input: &mut (dyn Read + Send),
) -> std::io::Result<()> {
    let most = CHUNKS * rayon::current_num_threads();
    // Small at first: what a source's lines look like is found in the first of them, and holds for
    // those after.
    let mut chunks = 1;
    // Three batches are under way: one is read from the disk, one on its own, one goes through the
    // engine.
    let (mut read, mut digested, mut spare) = (Batch::new(), Batch::new(), Batch::new());
    let (mut offset, mut outcome, mut ended, mut text) = (0, Ok(()), false, ToUtf8::default());
    while !(ended && read.is_empty() && digested.is_empty()) {
        let setting = engine.setting_of(source);
        let mut next = Batch::new();
        rayon::join(
            || {
                for (bytes, digest) in &mut digested {
                    if let Some(digest) = digest.take() {
                        engine.feed_digested(source, Stream::Out, None, offset, bytes, digest);
                    }
                    offset += bytes.len() as u64;
                }
            },
            || {
                let digest = |(bytes, digest): &mut (Vec<u8>, Option<Digest>)| {
                    *digest = Some(Digest::of(bytes, Stream::Out, None, &setting))
                };
                rayon::join(
                    || read.par_iter_mut().for_each(digest),
                    || {
                        if !ended {
                            outcome = fill(&mut next, &mut spare, chunks, input, &mut text);
                            ended = outcome.is_err() || next.is_empty();
                        }
                    },
                )
            },
        );
        chunks = (chunks * 2).min(most);
        spare.append(&mut digested);
        digested = std::mem::replace(&mut read, next);
    }
    outcome
}

/// Reads the next batch; an empty one is the end.
fn fill(
    batch: &mut Batch,
    spare: &mut Batch,
    chunks: usize,
    input: &mut dyn Read,
    text: &mut ToUtf8,
) -> std::io::Result<()> {
    while batch.len() < chunks {
        let mut bytes = spare.pop().map_or_else(Vec::new, |(bytes, _)| bytes);
        bytes.clear();
        let filled = Read::take(&mut *input, CHUNK as u64).read_to_end(&mut bytes)?;
        if filled == 0 {
            return Ok(());
        }
        if let Cow::Owned(text) = text.feed(&bytes) {
            bytes = text;
        }
        batch.push((bytes, None));
    }
    Ok(())
}
