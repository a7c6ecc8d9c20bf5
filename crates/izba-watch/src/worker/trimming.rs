//! A run that prints without end does not fill the disk: its first part, its newest part and the
//! lines of entries are kept; what lies between is left out, and that is said.

use super::state::Worker;
use crate::trimmed::FIRST;
use izba_core::SourceId;
use izba_sources::{Gap, SpoolWriter};
use std::sync::{Arc, Mutex};

/// What is kept of its newest part.
const NEWEST: u64 = 128 << 20;
/// So much more has to be there before anything is left out.
const STEP: u64 = 32 << 20;
/// A shorter stretch is not worth a gap.
const LEAST: u64 = 1 << 20;
/// What is kept between the two for the sake of entries.
const FOR_ENTRIES: u64 = 64 << 20;

impl Worker {
    /// Leaves out what is beyond the budget of runs that go on.
    pub(crate) fn trim(&mut self) {
        let mut said = None;
        for source in self.sources.iter_mut().filter(|s| s.past.is_none()) {
            let Some(writer) = &source.writer else { continue };
            let to = source.reader.at().saturating_sub(NEWEST);
            if to < source.trimmed.to + STEP {
                continue;
            }
            let ends = (source.trimmed.to, to);
            let all = source.trimmed.kept > FOR_ENTRIES;
            let left = leave_out(&mut self.engine, source.id, writer, ends, all);
            source.trimmed.kept += (to - source.trimmed.to).saturating_sub(left);
            source.trimmed.to = to;
            if left > 0 && !std::mem::replace(&mut source.trimmed.told, true) {
                said = Some(source.name.clone());
            }
        }
        if let Some(name) = said {
            self.trouble(format!(
                "{name} prints more than is kept of one run ({} MB): its beginning, its newest part \
                 and the lines of errors stay, what lies between is left out",
                (FIRST + NEWEST) >> 20
            ));
        }
    }
}

/// Leaves out the quiet stretches between two offsets; how many bytes.
fn leave_out(
    engine: &mut izba_core::Engine,
    source: SourceId,
    writer: &Arc<Mutex<SpoolWriter>>,
    ends: (u64, u64),
    all: bool,
) -> u64 {
    let mut left = 0;
    for (from, to) in engine.quiet_stretches(source, ends, LEAST, all) {
        let carry = to.carry.each_ref().map(|bytes| bytes.to_vec());
        let gap = Gap { lines: to.line - from.line, to: to.offset, carry };
        // Where the file system knows no holes, all of it stays.
        let Ok(freed) = writer.lock().map_or(Ok(0), |w| w.leave_out(from.offset, &gap)) else {
            break;
        };
        if freed > 0 {
            engine.left_out(source, from.offset, to.offset);
        }
        left += freed;
    }
    left
}
