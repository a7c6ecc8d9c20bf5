//! Steps of paths that a program printed on purpose, or that stand without their error.

use super::general::indented_step;
use super::{Order, at_frames, lua, python};
use izba_model::StackFrame;

/// Reads one line as a step of a path, in any of the forms that are known; no step is made out of a
/// sentence.
pub fn printed_step(text: &str) -> Option<(StackFrame, Order)> {
    if let Some(frame) = python::step(text) {
        return Some((frame, Order::OutermostFirst));
    }
    // What was made safe to be shown has blanks for its tab.
    let tabbed = || text.contains(": in ").then(|| format!("\t{}", text.trim_start()));
    let plain =
        at_frames::step(text).or_else(|| lua::step(&tabbed()?)).or_else(|| indented_step(text))?;
    Some((plain, Order::InnermostFirst))
}
