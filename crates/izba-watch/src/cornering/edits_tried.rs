//! Which edits are tried of an error: those of its suspects one by one, then, beside the one that
//! holds, the same edit wherever the same is done.

use izba_cause::suspect::Findings;
use izba_model::Project;
use izba_model::claim::{Change, Fix};
use std::sync::Arc;

/// Edits that are tried of one error at most, and as many of the same elsewhere.
pub const MOST_TRIED: usize = 8;

/// The edits that are to be tried of one error.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Edits {
    /// In the order in which they are tried, until one holds.
    pub fixes: Vec<Fix>,
    /// The edit that may be made elsewhere too, and what it is there.
    pub alike: Option<(Fix, Vec<Fix>)>,
}

impl Edits {
    /// Those of suspects that are at least so sure, and of what is like the first of them.
    pub fn of(findings: &Findings, from: f32) -> Edits {
        let sure = findings.suspects.iter().filter(|s| s.confidence >= from);
        let fixes = sure.filter_map(|s| s.fix.clone()).take(MOST_TRIED).collect();
        let first = findings.suspects.first().and_then(|s| s.fix.clone());
        let elsewhere: Vec<Fix> =
            findings.alike.iter().filter_map(|a| a.fix.clone()).take(MOST_TRIED).collect();
        let alike = first.filter(|_| !elsewhere.is_empty()).map(|first| (first, elsewhere));
        Edits { fixes, alike }
    }

    /// With this one before all others; what is like the first suspect stands for it there.
    pub fn beginning_with(mut self, fix: &Fix) -> Edits {
        if self.alike.as_ref().is_some_and(|(_, elsewhere)| elsewhere.contains(fix)) {
            return self;
        }
        self.fixes.retain(|f| f != fix);
        self.fixes.insert(0, fix.clone());
        self.fixes.truncate(MOST_TRIED);
        self
    }

    /// What the edit that holds is elsewhere; empty where nobody knows.
    pub fn like(&self, held: &Fix) -> &[Fix] {
        match &self.alike {
            Some((first, elsewhere)) if first == held => elsewhere,
            _ => &[],
        }
    }
}

/// Texts of files, as they are to be.
pub(super) type Texts = Vec<(Arc<str>, Option<String>)>;

/// Some edits made together.
#[derive(Debug, Clone, Default)]
pub(super) struct Together {
    fixes: Vec<Fix>,
    changes: Vec<(Arc<str>, Vec<Change>)>,
}

impl Together {
    /// With one more; `None` where its file has no text.
    pub(super) fn and(&self, fix: &Fix, project: &Project) -> Option<Together> {
        let text = project.file(&fix.file)?.text.clone()?;
        let mut more = self.clone();
        more.changes.push((fix.file.clone(), fix.changes(&text)));
        more.fixes.push(fix.clone());
        Some(more)
    }

    /// The texts of the files with all of them; `None` where two take the same bytes, or one does not
    /// fit its file.
    pub(super) fn texts(&self, project: &Project) -> Option<Texts> {
        let all: Vec<&Fix> = self.fixes.iter().collect();
        let text = |fix: &Fix| {
            let made = fix.apply(project.file(&fix.file)?.text.as_ref()?)?;
            Some((fix.file.clone(), Some(made)))
        };
        Fix::together(&all)?.iter().map(text).collect()
    }

    /// Whether a line of a file, as it is with them, is one of theirs.
    pub(super) fn touches(&self, file: &str, line: u32) -> bool {
        let of_file = || self.changes.iter().filter(|(path, _)| **path == *file);
        of_file().flat_map(|(_, changes)| changes).any(|c| {
            let above = of_file().flat_map(|(_, all)| all).filter(|a| a.line < c.line);
            let by: i64 = above.map(|a| a.after.len() as i64 - a.before.len() as i64).sum();
            let from = i64::from(c.line) + by;
            // What was taken out leaves the line behind it.
            (from..from + c.after.len().max(1) as i64).contains(&i64::from(line))
        })
    }

    /// Where a line of a file stands behind them: further down by what was put in above it.
    pub(super) fn moved(&self, file: &str, line: u32) -> u32 {
        let of_file = self.changes.iter().filter(|(path, _)| **path == *file);
        let above = |c: &&Change| c.line + c.before.len() as u32 <= line;
        let by: i64 = of_file
            .flat_map(|(_, changes)| changes)
            .filter(above)
            .map(|c| c.after.len() as i64 - c.before.len() as i64)
            .sum();
        u32::try_from(i64::from(line) + by).unwrap_or(1)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use izba_model::ProjectFile;

    const OARS: &str = "row(1)\nrest(1)\nrow(2)\n";

    fn edit(at: &str, with: &str) -> Fix {
        let from = OARS.find(at).expect("it stands there");
        Fix::one(&"oars.lua".into(), from..from + at.len(), with).expect("it changes something")
    }

    fn project() -> Project {
        let text = Some(OARS.into());
        Project::new("/srv/marsh", vec![ProjectFile { path: "oars.lua".into(), text }])
    }

    #[test]
    fn edits_of_one_file_are_made_together_and_lines_move_by_all_of_them() {
        let project = project();
        let two = Together::default().and(&edit("row(1)", "haul()\nrow(1)"), &project);
        let two = two.and_then(|t| t.and(&edit("row(2)", "row(3)"), &project)).expect("they fit");
        let texts = two.texts(&project).expect("they are apart");
        assert_eq!(texts[0].1.as_deref(), Some("haul()\nrow(1)\nrest(1)\nrow(3)\n"));
        assert_eq!((two.moved("oars.lua", 3), two.moved("sail.lua", 3)), (4, 3));
        let touched: Vec<u32> = (1..6).filter(|n| two.touches("oars.lua", *n)).collect();
        assert_eq!(touched, [1, 4]);
        let clash = two.and(&edit("row(2)", "rest(2)"), &project).expect("there is a text");
        assert_eq!(clash.texts(&project), None, "both take the same bytes");
    }

    #[test]
    fn what_is_like_the_first_suspect_is_tried_behind_it_and_not_before() {
        let (first, elsewhere) = (edit("row(1)", "haul(1)"), edit("row(2)", "haul(2)"));
        let edits = Edits {
            fixes: vec![first.clone()],
            alike: Some((first.clone(), vec![elsewhere.clone()])),
        };
        assert_eq!(edits.clone().beginning_with(&elsewhere), edits);
        assert_eq!(edits.like(&first), [elsewhere]);
        let other = edit("rest(1)", "rest(2)");
        assert_eq!(edits.clone().beginning_with(&other).fixes, [other.clone(), first]);
        assert!(edits.like(&other).is_empty());
    }
}
