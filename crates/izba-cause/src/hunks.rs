//! The edits between two versions of a file as hunks, each of which can be applied or left.

use similar::algorithms::{Capture, Replace, diff_slices};
use similar::{Algorithm, DiffOp};

/// Lines of the old version that others take the place of.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Hunk {
    /// Lines of the old version, from 0, half open.
    pub old: (usize, usize),
    /// Lines of the new version, from 0, half open.
    pub new: (usize, usize),
}

/// The edits that lead from one version to the other, in their order.
pub fn hunks(old: &str, new: &str) -> Vec<Hunk> {
    let (a, b): (Vec<&str>, Vec<&str>) = (old.lines().collect(), new.lines().collect());
    // The crate's own tidying puts operations out of their order at times, so it is left out.
    let mut found = Replace::new(Capture::new());
    if diff_slices(Algorithm::Myers, &mut found, &a, &b).is_err() {
        return Vec::new();
    }
    let ops = found.into_inner().into_ops();
    ops.iter()
        .filter(|op| !matches!(op, DiffOp::Equal { .. }))
        .map(|op| Hunk {
            old: (op.old_range().start, op.old_range().end),
            new: (op.new_range().start, op.new_range().end),
        })
        .collect()
}

/// The old version with the chosen edits alone.
pub fn with_hunks(old: &str, new: &str, hunks: &[Hunk], chosen: impl Fn(usize) -> bool) -> String {
    let (a, b): (Vec<&str>, Vec<&str>) = (old.lines().collect(), new.lines().collect());
    let mut out: Vec<&str> = Vec::new();
    let mut at = 0;
    for (number, hunk) in hunks.iter().enumerate() {
        out.extend(&a[at..hunk.old.0]);
        out.extend(if chosen(number) {
            &b[hunk.new.0..hunk.new.1]
        } else {
            &a[hunk.old.0..hunk.old.1]
        });
        at = hunk.old.1;
    }
    out.extend(&a[at..]);
    let mut text = out.join("\n");
    if old.ends_with('\n') || new.ends_with('\n') {
        text.push('\n');
    }
    text
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn all_edits_make_the_new_version_and_none_the_old_one(old in prop::collection::vec("[a-d]{0,2}", 0..20), new in prop::collection::vec("[a-d]{0,2}", 0..20)) {
            let text = |lines: &[String]| lines.iter().map(|l| format!("{l}\n")).collect::<String>();
            let (old, new) = (text(&old), text(&new));
            let found = hunks(&old, &new);
            let ended = |t: String| if t == "\n" { String::new() } else { t };
            prop_assert_eq!(ended(with_hunks(&old, &new, &found, |_| true)), ended(new.clone()));
            prop_assert_eq!(ended(with_hunks(&old, &new, &found, |_| false)), ended(old.clone()));
        }
    }
}
