//! handlers: functions that nothing names, though their siblings are put in somewhere.

use super::check::{Check, Look, Remark, remark};
use crate::seen::{MADE_HERE, PUT_IN_HERE};
use crate::suspect::As;
use izba_model::code::{At, FileFacts, Flag, How, Kind, NameEdit, stem_words};
use izba_model::{say, sayings};

sayings! {
    "handlers", Any, "../../words/checks/handlers.toml";
    NEARLY = "nearly",
    NOTHING_CALLS = "nothing-calls",
}

/// The check for this: functions that nothing names, though their siblings are put in somewhere.
pub static CHECK: Check = Check { id: "handlers", kinds: KINDS, title: "Called by nothing", look };

fn look(look: &Look<'_>) -> Vec<Remark> {
    let mut found = Vec::new();
    for file in look.index.code() {
        let functions: Vec<At<'_>> = file
            .tree
            .all()
            .filter(|n| n.is(Kind::Func) && n.text().is_some() && !n.has(Flag::Constructor))
            .collect();
        for function in &functions {
            let name = function.text().unwrap_or("");
            if look.symbols.count(name) != 1 || name.len() < 3 || name.starts_with("__") {
                continue;
            }
            let words = stem_words(name);
            let sibling = functions
                .iter()
                .filter(|f| *f != function && f.class() == function.class())
                .find_map(|f| {
                    let other = f.text()?;
                    // Called alike, and handed over by name somewhere.
                    let alike = stem_words(other).first() == words.first() && words.len() > 1;
                    alike.then(|| handed(look, other)).flatten().map(|(file, at)| (other, file, at))
                });
            if sibling.is_none()
                && let Some((other, home, line, slip)) = nearly_a_handler(look, file, name)
            {
                let text = say!(NEARLY, name, other, edit = slip.says());
                found.push(remark(file, function.line(), 0.7, text).saw(
                    &home.path,
                    line,
                    say!(MADE_HERE, name = other),
                ));
                continue;
            }
            if let Some((other, home, at)) = sibling {
                let one = remark(file, function.line(), 0.8, say!(NOTHING_CALLS, name, other));
                found.push(one.saw(&home.path, at.line(), say!(PUT_IN_HERE, name = other)));
            }
        }
    }
    found
}

/// A function of other scripts, called by no code, that the engine therefore calls by its name;
/// nearly called like this one.
fn nearly_a_handler<'a>(
    look: &Look<'a>,
    file: &FileFacts,
    name: &str,
) -> Option<(&'a str, &'a FileFacts, u32, NameEdit)> {
    let near = look.symbols.near(name, |_, occurrences| {
        occurrences.iter().any(|s| {
            s.as_what == As::Made(How::Function)
                && s.file.path != file.path
                && s.file.language == file.language
        }) && !occurrences.iter().any(|s| s.file.path == file.path || s.as_what == As::Used)
    });
    let (other, slip) = near.into_iter().find(|(_, slip)| *slip <= NameEdit::Letters)?;
    let occurrence =
        look.symbols.occurrences(other).iter().find(|s| s.as_what == As::Made(How::Function))?;
    Some((other, occurrence.file, occurrence.line, slip))
}

/// Where a function is handed over by its name: in code, or by data.
fn handed<'a>(look: &Look<'a>, name: &str) -> Option<(&'a FileFacts, At<'a>)> {
    look.symbols
        .occurrences(name)
        .iter()
        .filter_map(|s| Some((s.file, s.node?, s.as_what)))
        .find_map(|(file, n, as_what)| {
            let by_name = matches!(n.kind(), Kind::Name | Kind::Field)
                && as_what == As::Used
                && !n.parent().is_some_and(|p| p.is(Kind::Call) && p.child(0) == Some(n));
            by_name.then_some((file, n))
        })
}
