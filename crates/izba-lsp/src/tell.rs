//! What is told of the files of a folder: the errors of programs that are watched, at the line that
//! is guilty, and what is found wrong without running.

use crate::place::{Units, url};
use crate::root::{Root, Session};
use crate::shown::{Change, Edit, Group, Suspect};
use crate::told::{Act, Told};
use izba_cause::checks::Remark;
use izba_model::Project;
use izba_model::claim::{Fix, LIKELY};
use izba_watch::sharing::Request;
use lsp_types::{
    Diagnostic, DiagnosticRelatedInformation, DiagnosticSeverity, Location, NumberOrString,
};
use std::collections::BTreeMap;
use std::path::Path;
use std::sync::Arc;

/// Who tells it, beside each diagnostic.
pub(crate) const SOURCE: &str = "izba";
/// Places beside the one that is told, at most.
const RELATED: usize = 8;

/// Makes anew what is told of a folder, and gives the files of which something else is told now.
pub(crate) fn renew(root: &mut Root, units: Units) -> Vec<Arc<str>> {
    let told = all(root, units);
    let of = |told: Option<&Vec<Told>>| -> Vec<Diagnostic> {
        told.into_iter().flatten().map(|t| t.diagnostic.clone()).collect()
    };
    let mut other: Vec<Arc<str>> = Vec::new();
    for file in told.keys().chain(root.told.keys()) {
        if !other.contains(file) && of(told.get(file)) != of(root.told.get(file)) {
            other.push(file.clone());
        }
    }
    root.told = told;
    other
}

/// All that is told, by file.
fn all(root: &Root, units: Units) -> BTreeMap<Arc<str>, Vec<Told>> {
    let mut told: BTreeMap<Arc<str>, Vec<Told>> = BTreeMap::new();
    for (socket, session) in &root.sessions {
        for group in session.shown.groups.iter().filter(|g| is_told(g)) {
            if let Some((file, one)) = of_group(root, units, socket, session, group) {
                told.entry(file).or_default().push(one);
            }
        }
    }
    for remark in &root.checked.remarks {
        let Some((file, one)) = of_remark(root, units, remark) else { continue };
        let at = told.entry(file).or_default();
        // What struck says it better.
        let known =
            at.iter().any(|t| t.diagnostic.range.start.line == one.diagnostic.range.start.line);
        if !known {
            at.push(one);
        }
    }
    told.retain(|_, all| !all.is_empty());
    told
}

/// Whether an error is there now, and no other one brought it.
fn is_told(group: &Group) -> bool {
    !group.muted
        && group.follows.is_none()
        && group.state.as_deref() != Some("quiet")
        && matches!(group.level.as_str(), "error" | "warning" | "fatal")
}

/// The suspect that is to be told instead of the line that the console names.
fn guilty(group: &Group) -> Option<&Suspect> {
    group.suspects.first().filter(|s| s.confidence >= LIKELY && s.line > 0)
}

fn of_group(
    root: &Root,
    units: Units,
    socket: &Path,
    session: &Session,
    group: &Group,
) -> Option<(Arc<str>, Told)> {
    let suspect = guilty(group);
    let (file, line) = match suspect {
        Some(suspect) => (suspect.file.clone(), suspect.line),
        None => (group.file.clone()?, group.line?),
    };
    let today = session.files.line_today(&root.now, &file, line);
    let text = root.now.file(&file)?.text.clone()?;
    // A mistake is accused until the next run; a line that is another one now may be mended.
    let was = session.files.line(&file, line).map(str::trim);
    let changed = was.is_some_and(|was| root.now.line(&file, today).map(str::trim) != Some(was));
    let mut message = group.headline.clone();
    if let Some(suspect) = suspect {
        message = format!("{message}\n{}", capital(&suspect.reason));
    }
    let kind = group.kind.as_ref().map_or(String::new(), |k| format!("{k}: "));
    message = format!("{message}\nThe console says: {kind}{}", group.message);
    if changed {
        message += "\nYou changed this line since; the next run shows whether it is gone.";
    }
    let severity = match group.level.as_str() {
        _ if changed => DiagnosticSeverity::INFORMATION,
        "warning" => DiagnosticSeverity::WARNING,
        _ => DiagnosticSeverity::ERROR,
    };
    let diagnostic = Diagnostic {
        range: units.written(&text, today),
        severity: Some(severity),
        code: suspect.map(|s| NumberOrString::String(s.kind.clone())),
        source: Some(SOURCE.into()),
        message,
        related_information: Some(related(root, units, session, group, (&file, line))),
        ..Diagnostic::default()
    };
    let means =
        format!("**{}**\n\n{}", group.headline, without(&group.explanation, &group.headline));
    let above = format!("struck {} in this run · {}", times(group.count), group.source);
    let acts = acts(root, socket, session, group);
    Some((file, Told { diagnostic, acts, means, above: Some(above) }))
}

/// An explanation without the sentence that stands above it.
fn without<'e>(explanation: &'e str, headline: &str) -> &'e str {
    explanation.strip_prefix(headline).unwrap_or(explanation).trim()
}

fn capital(text: &str) -> String {
    let mut signs = text.chars();
    signs.next().map_or(String::new(), |c| c.to_uppercase().collect::<String>() + signs.as_str())
}

fn times(count: u64) -> String {
    match count {
        1 => "once".into(),
        2 => "twice".into(),
        n => format!("{} times", izba_model::text::thousands(n)),
    }
}

/// The other places: the console's own, what speaks for the suspect, and the way.
fn related(
    root: &Root,
    units: Units,
    session: &Session,
    group: &Group,
    told: (&Arc<str>, u32),
) -> Vec<DiagnosticRelatedInformation> {
    let console =
        group.file.iter().zip(group.line).map(|(f, l)| (f, l, "the console names this line"));
    let mut places: Vec<(&Arc<str>, u32, String)> =
        console.map(|(f, l, words)| (f, l, words.to_owned())).collect();
    let evidence = guilty(group).into_iter().flat_map(|s| &s.evidence);
    places.extend(evidence.map(|e| (&e.file, e.line, e.saw.clone())));
    let steps = group.frames.iter().filter(|f| f.own);
    places.extend(steps.filter_map(|f| {
        let by = f.function.as_ref().map_or("it came by here".into(), |n| format!("in {n}"));
        Some((f.file.as_ref()?, f.line?, by))
    }));
    let mut out: Vec<DiagnosticRelatedInformation> = Vec::new();
    let mut known = vec![told];
    for (file, line, message) in places {
        if line == 0 || known.contains(&(file, line)) || out.len() >= RELATED {
            continue;
        }
        known.push((file, line));
        let today = session.files.line_today(&root.now, file, line);
        let text = root.now.file(file).and_then(|f| f.text.clone());
        let (Some(text), Some(uri)) = (text, url(&root.path, file)) else { continue };
        let location = Location { uri, range: units.written(&text, today) };
        out.push(DiagnosticRelatedInformation { location, message });
    }
    out
}

/// What can be done about an error: the edits of its suspects, and what its session is asked for.
fn acts(root: &Root, socket: &Path, session: &Session, group: &Group) -> Vec<Act> {
    let mut acts: Vec<Act> = Vec::new();
    for Edit { suspect, file, says, changes } in &group.edits {
        // An edit of one that is hardly suspected leads away.
        let worth = group.suspects.get(suspect - 1).is_some_and(|s| s.confidence >= LIKELY / 2.0);
        if worth && !changes.is_empty() {
            acts.push(Act::Edit {
                title: capital(says),
                file: file.clone(),
                changes: shifted(&session.files, &root.now, file, changes),
                same: is_same(&session.files, &root.now, file),
            });
        }
    }
    if let Some(suspect) = guilty(group) {
        acts.push(Act::Ask {
            title: format!("Rule out {}:{}: it is innocent", suspect.file, suspect.line),
            socket: socket.to_owned(),
            request: Request::RuleOut(group.id, 1),
        });
    }
    acts.push(Act::Ask {
        title: "Set this error aside".into(),
        socket: socket.to_owned(),
        request: Request::SetAside(group.id),
    });
    acts
}

/// The same changes where their lines stand now.
fn shifted(was: &Project, now: &Project, file: &Arc<str>, changes: &[Change]) -> Vec<Change> {
    let today = |line: u32| was.line_today(now, file, line);
    changes.iter().map(|c| Change { line: today(c.line), ..c.clone() }).collect()
}

fn is_same(was: &Project, now: &Project, file: &str) -> bool {
    let text = |project: &Project| project.file(file).and_then(|f| f.text.clone());
    text(was) == text(now)
}

fn of_remark(root: &Root, units: Units, remark: &Remark) -> Option<(Arc<str>, Told)> {
    let looked_at = root.checked.project.as_ref()?;
    let file = &remark.file;
    let text = root.now.file(file)?.text.clone()?;
    let today = looked_at.line_today(&root.now, file, remark.line.max(1));
    let severity = match remark.stops {
        true => DiagnosticSeverity::ERROR,
        false if remark.confidence >= LIKELY => DiagnosticSeverity::WARNING,
        false => DiagnosticSeverity::INFORMATION,
    };
    let related = remark.claim.evidence.iter().filter(|e| e.line > 0).take(RELATED);
    let related = related.filter_map(|e| {
        let text = root.now.file(&e.file)?.text.clone()?;
        let line = looked_at.line_today(&root.now, &e.file, e.line);
        let location =
            Location { uri: url(&root.path, &e.file)?, range: units.written(&text, line) };
        Some(DiagnosticRelatedInformation { location, message: e.saw.to_string() })
    });
    let message = capital(&remark.text());
    let diagnostic = Diagnostic {
        range: units.written(&text, today),
        severity: Some(severity),
        code: Some(NumberOrString::String(format!("{:?}", remark.claim.says.kind))),
        source: Some(SOURCE.into()),
        related_information: Some(related.collect()),
        message: message.clone(),
        ..Diagnostic::default()
    };
    let acts = repairs(root, looked_at, remark).into_iter().collect();
    Some((file.clone(), Told { diagnostic, acts, means: message, above: None }))
}

/// The edit after which a script can be read.
fn repairs(root: &Root, looked_at: &Project, remark: &Remark) -> Option<Act> {
    let facts = root.checked.index.file(&remark.file)?;
    let fault = facts.faults.iter().find(|f| f.line == remark.line && f.piece.is_some())?;
    let fix = Fix::new(&remark.file, fault.piece.iter().cloned().collect())?;
    let of =
        |c: izba_model::claim::Change| Change { line: c.line, before: c.before, after: c.after };
    let changes: Vec<Change> = fix.changes(&facts.text).into_iter().map(of).collect();
    Some(Act::Edit {
        title: capital(&fix.says(&facts.text)),
        file: remark.file.clone(),
        changes: shifted(looked_at, &root.now, &remark.file, &changes),
        same: is_same(looked_at, &root.now, &remark.file),
    })
}
