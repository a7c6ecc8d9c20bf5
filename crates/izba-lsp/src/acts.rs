//! What the editor offers to do: exact edits, and what a session is asked for.

use crate::place::url;
use crate::root::Root;
use crate::shown::Change;
use crate::told::{Act, Told};
use izba_watch::sharing::{self, Request};
use lsp_types::{
    CodeAction, CodeActionKind, CodeActionOrCommand, Command, Position, Range, TextEdit,
    WorkspaceEdit,
};
use serde_json::{Value, json};
use std::collections::HashMap;
use std::path::Path;

/// The command that asks a session for something; its argument says which and for what.
pub(crate) const ASK: &str = "izba.ask";

/// What can be done about what is told between two lines.
pub(crate) fn offered(root: &Root, file: &str, range: Range) -> Vec<CodeActionOrCommand> {
    let touches = |t: &&Told| {
        let at = t.diagnostic.range;
        at.start.line <= range.end.line && range.start.line <= at.end.line
    };
    let told = root.told.get(file).into_iter().flatten().filter(touches);
    told.flat_map(|t| t.acts.iter().map(move |act| (t, act)))
        .filter_map(|(told, act)| action(root, told, act))
        .map(CodeActionOrCommand::CodeAction)
        .collect()
}

fn action(root: &Root, told: &Told, act: &Act) -> Option<CodeAction> {
    let diagnostics = Some(vec![told.diagnostic.clone()]);
    match act {
        Act::Edit { title, file, changes, same } => {
            let text = root.now.file(file)?.text.as_deref()?;
            let edits: Option<Vec<TextEdit>> =
                changes.iter().map(|change| edit(text, change, *same)).collect();
            let changes = HashMap::from([(url(&root.path, file)?, edits?)]);
            Some(CodeAction {
                title: title.clone(),
                kind: Some(CodeActionKind::QUICKFIX),
                diagnostics,
                edit: Some(WorkspaceEdit { changes: Some(changes), ..WorkspaceEdit::default() }),
                is_preferred: Some(true),
                ..CodeAction::default()
            })
        }
        Act::Ask { title, socket, request } => {
            let arguments = vec![json!({ "session": socket, "request": request })];
            let command =
                Command { title: title.clone(), command: ASK.into(), arguments: Some(arguments) };
            Some(CodeAction {
                title: title.clone(),
                kind: Some(CodeActionKind::QUICKFIX),
                diagnostics,
                command: Some(command),
                ..CodeAction::default()
            })
        }
    }
}

/// An edit of whole lines; `None` where they are no longer what was looked at.
fn edit(text: &str, change: &Change, same: bool) -> Option<TextEdit> {
    let from = change.line.checked_sub(1)?;
    let lines: Vec<&str> = text.split('\n').collect();
    let bare = |line: &str| line.strip_suffix('\r').unwrap_or(line).to_owned();
    let there: Vec<String> =
        lines.iter().skip(from as usize).take(change.before.len()).map(|line| bare(line)).collect();
    if there != change.before || change.before.is_empty() && !same {
        return None;
    }
    let ending = if text.contains("\r\n") { "\r\n" } else { "\n" };
    let count = change.before.len() as u32;
    let ends_there = (from + count) as usize >= lines.len();
    let start = Position::new(from, 0);
    let mut new = change.after.join(ending);
    // A text may end without the end of a line.
    let end = if ends_there && count > 0 {
        let last = lines.last().copied().unwrap_or("");
        // Past the end of a line a position means its end, in any units.
        Position::new(lines.len() as u32 - 1, last.len() as u32)
    } else {
        if !change.after.is_empty() {
            new += ending;
        }
        Position::new(from + count, 0)
    };
    Some(TextEdit { range: Range::new(start, end), new_text: new })
}

/// Does what [`ASK`] names; a sentence where that could not be.
pub(crate) fn ask(roots: &[Root], arguments: &[Value]) -> Result<(), String> {
    let argument = arguments.first().ok_or("nothing is asked for")?;
    let session = argument["session"].as_str().unwrap_or("");
    let request: Request = serde_json::from_value(argument["request"].clone())
        .map_err(|e| format!("this can't be asked for: {e}"))?;
    let gone = "nobody watches this project any more; start Izba again";
    let stream = roots.iter().find_map(|r| r.asked.get(Path::new(session))).ok_or(gone)?;
    sharing::ask(stream, &request).map_err(|_| gone.to_owned())
}

#[cfg(test)]
mod tests {
    use super::*;

    fn done(text: &str, line: u32, before: &[&str], after: &[&str]) -> Option<String> {
        let of = |lines: &[&str]| lines.iter().map(|l| (*l).to_owned()).collect();
        let change = Change { line, before: of(before), after: of(after) };
        let edit = edit(text, &change, true)?;
        let byte = |at: Position| crate::place::Units::Utf16.byte_of(text, at);
        let (from, to) = (byte(edit.range.start), byte(edit.range.end));
        Some(format!("{}{}{}", &text[..from], edit.new_text, &text[to..]))
    }

    #[test]
    fn whole_lines_are_replaced_put_in_and_taken_out_with_the_ends_that_the_text_has() {
        assert_eq!(done("a\nb\nc", 2, &["b"], &["B"]).as_deref(), Some("a\nB\nc"));
        assert_eq!(done("a\nb\nc", 3, &["c"], &["C"]).as_deref(), Some("a\nb\nC"));
        assert_eq!(done("a\r\nb\r\n", 1, &["a"], &["x", "y"]).as_deref(), Some("x\r\ny\r\nb\r\n"));
        assert_eq!(done("a\nb\n", 2, &[], &["n"]).as_deref(), Some("a\nn\nb\n"));
        assert_eq!(done("a\nb\n", 1, &["a"], &[]).as_deref(), Some("b\n"));
        assert_eq!(done("a\nb\n", 1, &["z"], &["y"]), None, "it is another line now");
    }
}
