//! A breakpoint, and the line on which it stands after the file was edited.

use izba_model::project::Project;
use serde::{Deserialize, Serialize};

/// Where to stop, or what to write down instead.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Breakpoint {
    /// Path relative to the project.
    pub file: String,
    /// Line, from 1, when it was set.
    pub line: u32,
    /// That line's text without its indentation, by which it is found again.
    pub text: String,
    /// Stops only where this holds, in the program's own language.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub condition: Option<String>,
    /// Stops only after it was reached so many times.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub hits: Option<u32>,
    /// Writes this to the log instead of stopping; what stands in `{}` is computed.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub log: Option<String>,
    /// Kept, but not used for now.
    #[serde(default, skip_serializing_if = "is_false")]
    pub off: bool,
    /// Taken off when the program has stopped at it.
    #[serde(default, skip_serializing_if = "is_false")]
    pub once: bool,
}

#[expect(clippy::trivially_copy_pass_by_ref, reason = "serde asks for a reference")]
fn is_false(is: &bool) -> bool {
    !*is
}

/// Lines looked at on each side of where the line was.
const FAR: u32 = 400;

impl Breakpoint {
    /// At a line of a project as it is now; `None` when there is no such line.
    pub fn at(project: &Project, file: &str, line: u32) -> Option<Breakpoint> {
        let text = project.line(file, line)?.trim().to_owned();
        Some(Breakpoint {
            file: file.to_owned(),
            line,
            text,
            condition: None,
            hits: None,
            log: None,
            off: false,
            once: false,
        })
    }

    /// What stays the same when it is changed: two breakpoints of one line are one.
    pub fn key(&self) -> String {
        format!("{}:{}:{}", self.file, self.line, self.text)
    }

    /// The line on which it stands in these files: the nearest one with its text; `None` when that
    /// is gone.
    pub fn line_in(&self, project: &Project) -> Option<u32> {
        let is = |line: u32| {
            line > 0 && project.line(&self.file, line).is_some_and(|l| l.trim() == self.text)
        };
        (0..=FAR)
            .flat_map(|by| [self.line.checked_sub(by), self.line.checked_add(by)])
            .flatten()
            .find(|line| is(*line))
    }

    /// What is special about it, as a half sentence; empty for a plain one.
    pub fn terms(&self) -> String {
        let mut said = Vec::new();
        if let Some(condition) = &self.condition {
            said.push(format!("only when {condition}"));
        }
        if self.once {
            said.push("the next time alone".into());
        }
        if let Some(hits) = self.hits {
            said.push(format!("after {hits} times"));
        }
        if let Some(log) = &self.log {
            said.push(format!("writes “{log}” and goes on"));
        }
        if self.off {
            said.push("switched off".into());
        }
        said.join(", ")
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use izba_model::project::ProjectFile;

    fn project(text: &str) -> Project {
        Project::new("/ferry", vec![ProjectFile { path: "a.lua".into(), text: Some(text.into()) }])
    }

    #[test]
    fn a_breakpoint_follows_its_line() {
        let before = project("local a = 1\nprint(a)\nprint(b)\n");
        let set = Breakpoint::at(&before, "a.lua", 2).expect("the line is there");
        assert_eq!(
            set.line_in(&project("-- one\n-- two\nlocal a = 1\n  print(a)\nprint(b)\n")),
            Some(4)
        );
        assert_eq!(set.line_in(&project("print(a)\n\n\nprint(a)\n")), Some(1));
        assert_eq!(set.line_in(&project("local a = 1\n")), None);
        assert_eq!(Breakpoint::at(&before, "a.lua", 9), None);
        // Two of one line are one, whatever they ask for; two of equal lines are not.
        let asks = Breakpoint { condition: Some("a > 1".into()), ..set.clone() };
        assert_eq!(asks.key(), set.key());
        let again = project("print(a)\nprint(a)\n");
        let keys = [1, 2].map(|n| Breakpoint::at(&again, "a.lua", n).expect("it is there").key());
        assert_ne!(keys[0], keys[1]);
    }

    #[test]
    fn what_is_special_about_it_is_said() {
        let plain = Breakpoint::at(&project("print(a)\n"), "a.lua", 1).expect("it is there");
        assert_eq!(plain.terms(), "");
        let all = Breakpoint {
            condition: Some("a == nil".into()),
            hits: Some(3),
            log: Some("a is {a}".into()),
            off: true,
            once: true,
            ..plain.clone()
        };
        assert_eq!(
            all.terms(),
            "only when a == nil, the next time alone, after 3 times, writes “a is {a}” and goes \
             on, switched off"
        );
        assert_eq!(Breakpoint { off: true, ..plain }.terms(), "switched off");
    }
}
