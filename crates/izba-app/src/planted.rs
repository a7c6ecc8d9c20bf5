//! Which planted fault of the demo a group is, so that the demo can mend it for those who want to
//! see it go quiet. Without the demo no group is one.

use crate::model::Model;
use izba_core::GroupView;
use std::path::Path;

#[cfg(feature = "demo")]
pub use izba_standins::world::Fault;

/// Without the demo no fault is planted, so that there is none to name.
#[cfg(not(feature = "demo"))]
#[derive(Debug)]
pub enum Fault {}

#[cfg(feature = "demo")]
/// The planted fault that a group is, told by its place or else by its words.
pub fn fault_of(model: &Model, group: &GroupView) -> Option<&'static Fault> {
    let project = &model.shown.snapshot.project;
    let by_place = |fault: &&Fault| {
        let (Some(told), Some(place)) = (&fault.told, &group.entry.place) else { return false };
        let last = told.find.lines().last().unwrap_or("");
        let there = place.line.and_then(|line| project.line(&place.file, line));
        told.file == *place.file
            && there.map_or(last.is_empty(), |text| !last.is_empty() && text.contains(last))
    };
    let message = group.entry.report.message.as_str();
    let said = |fault: &&Fault| message.len() > 12 && fault.says.contains(message);
    let causes = |fault: &&Fault| {
        group
            .entry
            .report
            .causes
            .iter()
            .any(|c| c.message.len() > 12 && fault.says.contains(&c.message))
    };
    izba_standins::world::faults()
        .iter()
        .find(by_place)
        .or_else(|| izba_standins::world::faults().iter().find(said))
        .or_else(|| izba_standins::world::faults().iter().find(causes))
}

/// No group is a planted fault.
#[cfg(not(feature = "demo"))]
pub fn fault_of(_: &Model, _: &GroupView) -> Option<&'static Fault> {
    None
}

/// Mends a fault in the demo's folder; what is said of it.
#[cfg(feature = "demo")]
pub fn mend(root: &Path, fault: &Fault) -> String {
    match izba_standins::world::apply(root, &fault.cure) {
        Ok(()) => format!("fixed: {}", fault.mend),
        Err(why) => why,
    }
}

/// There is none to be mended.
#[cfg(not(feature = "demo"))]
pub fn mend(_: &Path, fault: &Fault) -> String {
    match *fault {}
}
