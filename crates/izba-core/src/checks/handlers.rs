//! handlers: functions that nothing names, though their siblings are put in somewhere.

use super::{Check, Look, Remark, remark};
use crate::code::{At, FileFacts, Flag, Kind, stem_words};
use crate::suspect::As;

/// The check.
pub static CHECK: Check = Check { id: "handlers", title: "Called by nothing", look };

fn look(look: &Look<'_>) -> Vec<Remark> {
    let mut found = Vec::new();
    for file in look.index.code() {
        let functions: Vec<At<'_>> = file.tree.all().filter(|n| n.is(Kind::Func) && n.text().is_some() && !n.has(Flag::Constructor)).collect();
        for function in &functions {
            let name = function.text().unwrap_or("");
            if look.words.count(name) != 1 || name.len() < 3 || name.starts_with("__") {
                continue;
            }
            let words = stem_words(name);
            let sibling = functions.iter().filter(|f| *f != function && f.class() == function.class()).find_map(|f| {
                let other = f.text()?;
                // Called alike, and handed over by name somewhere.
                let alike = stem_words(other).first() == words.first() && words.len() > 1;
                alike.then(|| handed(look, other)).flatten().map(|(file, at)| (other, file, at))
            });
            if let Some((other, home, at)) = sibling {
                let one = remark(CHECK.id, file, function.line(), 0.8, format!("nothing calls {name} or hands it on; {other} is handed on"));
                found.push(one.saw(&home.path, at.line(), format!("{other} is put in here")));
            }
        }
    }
    found
}

/// Where a function is handed over by its name: in code, or by data.
fn handed<'a>(look: &Look<'a>, name: &str) -> Option<(&'a FileFacts, At<'a>)> {
    look.words.stands(name).iter().filter_map(|s| Some((s.file, s.node?, s.as_what))).find_map(|(file, n, as_what)| {
        let by_name = matches!(n.kind(), Kind::Name | Kind::Field)
            && as_what == As::Used
            && !n.parent().is_some_and(|p| p.is(Kind::Call) && p.child(0) == Some(n));
        by_name.then_some((file, n))
    })
}
