//! Records of a spool, given to an engine.

use izba_core::{Engine, SourceId};
use izba_model::Project;
use izba_sources::{Event, Gap, Record};
use std::sync::Arc;

/// Gives one record of a spool to the engine; a run that starts is read against `project`.
pub fn feed_record(engine: &mut Engine, source: SourceId, record: &Record, project: &Arc<Project>) {
    let time = Some(record.time);
    match record.event {
        Event::Bytes(stream) => engine.feed(source, stream, time, record.offset, &record.bytes),
        Event::Typed => engine.end_unfinished(source, time),
        Event::Gap => {
            if let Some(gap) = Gap::of(record) {
                engine.pass_left_out(source, gap.lines, &gap.carry);
            }
        }
        Event::Picture => engine.pictured(source, record.time, record.offset),
        Event::Update => {
            let addresses = String::from_utf8_lossy(&record.bytes);
            engine.update_run(source, record.time, &addresses, project.clone());
        }
        Event::Start => engine.start_run(source, time, project.clone()),
        Event::End { well } => {
            engine.end_run(source, time, String::from_utf8_lossy(&record.bytes).into_owned(), well)
        }
    }
}
