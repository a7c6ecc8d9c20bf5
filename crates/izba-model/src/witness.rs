//! What the project itself says of an entry: in which order its steps were taken, and which words
//! of its sentence name an object and a handler.

use crate::excerpt::find_word;
use crate::pattern::Pattern;
use crate::place::StackFrame;
use crate::project::Project;

/// Readers whose language prints its steps in an order that is known.
const ORDERED: &[&str] = &[
    "dotnet",
    "drawn",
    "go",
    "javascript",
    "jvm",
    "lua",
    "native",
    "perl",
    "php",
    "python",
    "python-group",
    "ruby",
    "rust",
];

/// `in handler noon of object oven`, and the like.
static HANDLER_FIRST: Pattern = Pattern::new(concat!(
    r#"(?i)\b(?:handler|event|callback|function|method|action|state|signal|step) ["'`“]?"#,
    r#"(?P<handler>\w+)["'`”]?(?:\(\))? (?:of|on|for|in) (?:the )?(?:(?:object|node|entity|actor"#,
    r#"|instance|sprite|scene|layer|component) )?["'`“]?(?P<object>\w[\w#-]*)"#
));
/// `the object oven (an Oven) was handling "noon"`, and the like.
static OBJECT_FIRST: Pattern = Pattern::new(concat!(
    r#"(?i)\b(?:object|node|entity|actor|instance|sprite|scene|layer|component) ["'`“]?"#,
    r#"(?P<object>\w[\w#-]*)["'`”]?(?: \([^)]{0,40}\))?,?(?:'s| (?:was|is|while|when|in|its|during"#,
    r#"|running|handling|handler|event|callback)){1,4} ["'`“]?(?P<handler>\w+)"#
));
/// `oven.noon: `, `[oven] noon: `.
static COLUMNS: Pattern = Pattern::new(concat!(
    r"^\W{0,3}(?:\[(?P<owner>\w[\w#-]*)\] |(?P<object>[A-Za-z_]\w*(?:#\w+)?)[.:]{1,2})",
    r"(?P<handler>[A-Za-z_]\w*)(?:\(\))?: "
));

/// Turns steps round that were told from the outside in, by a reader that knows no order.
pub(crate) fn order(reader: &str, frames: &mut [StackFrame], project: &Project) {
    if !ORDERED.contains(&reader) && from_outside(frames, project) {
        frames.reverse();
    }
}

/// The object and the handler that a sentence names, both known in the project.
pub(crate) fn named(text: &str, project: &Project) -> Option<(String, String)> {
    if text.len() > 1_000 || project.files().is_empty() {
        return None;
    }
    [&HANDLER_FIRST, &OBJECT_FIRST, &COLUMNS].into_iter().find_map(|form| {
        let found = form.found(text)?;
        let object = found.name("object").or(found.name("owner"))?.as_str();
        let handler = found.name("handler")?.as_str();
        // What is counted bears a number behind its name.
        let stem = object.split('#').next().unwrap_or(object);
        let bare = stem.trim_end_matches(|c: char| c.is_ascii_digit()).trim_end_matches(['_', '-']);
        let nobody = ["self", "this", "the", "a", "an", "its"].contains(&stem);
        let known = project.has_word(stem) || bare.len() > 1 && project.has_word(bare);
        let both = known && project.has_word(handler) && !nobody;
        both.then(|| (object.to_owned(), handler.to_owned()))
    })
}

/// Whether each step but the last calls the next one, by what stands in its line, and none is
/// called by it.
fn from_outside(frames: &[StackFrame], project: &Project) -> bool {
    let calls = |from: &StackFrame, to: &StackFrame| {
        let name = to.function.as_deref().and_then(last_name);
        let line = from.own.as_deref().zip(from.line).and_then(|(file, n)| project.line(file, n));
        line.zip(name).is_some_and(|(line, name)| find_word(line, name, None).is_some())
    };
    let own: Vec<&StackFrame> = frames.iter().filter(|f| f.own.is_some()).collect();
    let pairs = || own.windows(2).map(|pair| (pair[0], pair[1]));
    own.len() >= 2
        && pairs().all(|(before, after)| calls(before, after))
        && !pairs().any(|(before, after)| calls(after, before))
}

/// The last name of a function: `share` of `Oven.share()`.
fn last_name(function: &str) -> Option<&str> {
    let mut words = function.split(|c: char| !c.is_alphanumeric() && c != '_');
    words.rfind(|w| !w.is_empty())
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::ProjectFile;

    fn project() -> Project {
        let code =
            "object oven\n  on noon do bake(3)\n  to bake do share(heat)\n  to share do heat / 0\n";
        let data = "{\"name\": \"oven_left\", \"kind\": \"lantern\"}";
        let file =
            |path: &str, text: &str| ProjectFile { path: path.into(), text: Some(text.into()) };
        Project::new("/srv/quay", vec![file("oven.tow", code), file("scene.json", data)])
    }

    fn heard(message: &str) -> Option<(String, String)> {
        named(message, &project())
    }

    #[test]
    fn object_and_handler_are_those_that_the_project_knows() {
        for told in [
            "no heat in handler noon of object oven_left",
            "while the object oven_left (a Oven) was handling \"noon\"",
            "oven_left.noon: there is no heat",
            "[oven_left] noon: there is no heat",
            "event noon on oven_left failed",
        ] {
            let wanted = ("oven_left".to_owned(), "noon".to_owned());
            assert_eq!(heard(told), Some(wanted), "{told}");
        }
        assert_eq!(heard("lantern#3.noon: no oil").map(|(o, _)| o).as_deref(), Some("lantern#3"));
        for other in [
            "no heat in handler dusk of object oven_left",
            "quay.noon: there is no heat",
            "the object of the game is in its noon hour",
            "self.noon: no heat",
        ] {
            assert_eq!(heard(other), None, "{other}");
        }
    }

    #[test]
    fn steps_that_were_told_from_outside_are_turned_round_and_others_stay() {
        let step = |function: &str, line| StackFrame {
            file: Some("oven.tow".into()),
            line: Some(line),
            function: Some(function.into()),
            own: Some("oven.tow".into()),
            ..StackFrame::default()
        };
        let lines = |reader: &str, frames: &[(&str, u32)]| {
            let mut frames: Vec<_> = frames.iter().map(|(f, l)| step(f, *l)).collect();
            order(reader, &mut frames, &project());
            frames.iter().filter_map(|f| f.line).collect::<Vec<_>>()
        };
        let outside = [("noon", 2), ("Oven.bake()", 3), ("share", 4)];
        assert_eq!(lines("boxed", &outside), [4, 3, 2]);
        let inside = [("share", 4), ("bake", 3), ("noon", 2)];
        assert_eq!(lines("boxed", &inside), [4, 3, 2]);
        // Of a language whose order is known nothing is turned, and nothing without a witness.
        assert_eq!(lines("lua", &outside), [2, 3, 4]);
        assert_eq!(lines("boxed", &[("a", 2), ("b", 4)]), [2, 4]);
    }
}
