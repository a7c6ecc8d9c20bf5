//! Readers: which lines belong together as one entry, and what they say. One file for each form of
//! trace.
//!
//! A reader looks at a line and may begin a [`Draft`]; the draft takes the lines that follow until
//! one is not its own. A new language is one file here and one line in [`READERS`].

mod announced;
mod assembler;
mod at_form;
mod at_frames;
mod beginning;
mod boxed;
mod bulleted;
mod diagnostic;
mod dotnet;
mod drawn;
mod escaped;
mod excerpt;
mod findings;
mod general;
mod go;
mod grave;
mod javascript;
mod jvm;
mod lanes;
mod lua;
mod native;
mod numbered;
mod perl;
mod php;
mod placed;
mod printed;
mod python;
mod python_group;
mod reader;
mod records;
mod ruby;
mod rust;
mod sections;
mod steps;
mod taught;
mod traced;
mod v8;

pub use assembler::{Assembled, Assembler, read_text};
pub use grave::{Grave, is_recap, looks_grave};
pub use lanes::Lanes;
pub use printed::printed_step;
pub(crate) use reader::FRAME_CAP;
pub use reader::{Begin, Draft, Inside, Order, Reader, Start, Take, Within};

pub use steps::place_in;

/// All readers, by id. The most confident one reads a line, so their order means nothing.
pub static READERS: &[&Reader] = &[
    &announced::READER,
    &at_frames::READER,
    &boxed::READER,
    &bulleted::READER,
    &diagnostic::READER,
    &drawn::READER,
    &escaped::READER,
    &findings::READER,
    &general::READER,
    &go::READER,
    &javascript::READER,
    &lua::READER,
    &native::READER,
    &numbered::READER,
    &perl::READER,
    &php::READER,
    &placed::READER,
    &python::READER,
    &python_group::READER,
    &records::READER,
    &ruby::READER,
    &rust::READER,
    &sections::READER,
    &taught::READER,
    &traced::READER,
];

#[cfg(test)]
mod tests {
    use super::*;
    use crate::read::Layouts;
    use izba_model::project::Project;

    #[test]
    fn the_table_is_sorted_and_each_reader_is_surest_of_its_sample() {
        assert!(READERS.is_sorted_by_key(|r| r.id));
        let project = Project::default();
        for reader in READERS.iter().filter(|r| !r.sample.is_empty()) {
            let prefix = crate::read::split_prefix(reader.sample);
            let start = Start {
                text: reader.sample,
                prefix: &prefix,
                before: None,
                heading: None,
                project: &project,
                layouts: &Layouts::default(),
                inside: assembler::inside,
                within: beginning::within,
            };
            let surest = READERS
                .iter()
                .filter_map(|r| Some((r.id, (r.begins)(&start)?.confidence)))
                .max_by_key(|(_, sure)| *sure);
            assert_eq!(surest.map(|(id, _)| id), Some(reader.id), "{}", reader.sample);
        }
    }
}
