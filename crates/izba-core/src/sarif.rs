//! The answer as SARIF 2.1.0 (OASIS, “Static Analysis Results Interchange Format”): families are
//! rules, groups are results, suspects are related locations, what the user set aside is
//! suppressed.

use crate::answer::{Choice, chosen};
use crate::engine::Engine;
use crate::group::GroupView;
use izba_cause::suspect::Findings;
use izba_model::claim::{Piece, Suspect, Verdict};
use izba_model::family::Family;
use izba_model::{ColumnUnit, Level, Place, Project, StackFrame};
use serde_json::{Value, json};
use std::collections::BTreeSet;

/// Where the standard's schema lies.
const SCHEMA: &str =
    "https://docs.oasis-open.org/sarif/sarif/v2.1.0/errata01/os/schemas/sarif-schema-2.1.0.json";
/// What paths are relative to.
const BASE: &str = "PROJECT";
/// Steps of one path.
const STEPS: usize = 200;

/// The groups that are chosen, as one log of one run; `version` is that of the program that writes
/// it.
pub fn sarif(engine: &Engine, choice: &Choice<'_>, version: &str) -> Value {
    let groups = chosen(engine, choice);
    let rules: BTreeSet<Family> = groups.iter().map(|g| g.entry.family).collect();
    let index: Vec<Family> = rules.iter().copied().collect();
    let project = engine.snapshot().project;
    let results: Vec<Value> = groups.iter().map(|g| result(g, &index, choice, &project)).collect();
    let described: Vec<Value> = rules
        .iter()
        .map(|f| {
            json!({
                "id": f,
                "name": f,
                "shortDescription": {"text": sentence(f.title())},
                "fullDescription": {"text": sentence(f.docs())},
                "defaultConfiguration": {"level": "error"}
            })
        })
        .collect();
    json!({
        "$schema": SCHEMA,
        "version": "2.1.0",
        "runs": [{
            "tool": {"driver": {"name": "Izba", "semanticVersion": version, "rules": described}},
            "columnKind": "unicodeCodePoints",
            "results": results
        }]
    })
}

/// A sentence ends with a full stop, as the standard asks.
fn sentence(text: &str) -> String {
    // It may begin with a name, which keeps its letters.
    let text = text.trim().to_owned();
    if text.ends_with(['.', '!', '?']) { text } else { text + "." }
}

fn result(group: &GroupView, rules: &[Family], choice: &Choice<'_>, project: &Project) -> Value {
    let entry = &*group.entry;
    let report = &entry.report;
    let found: Findings = choice.finder.map(|f| (f.0)(entry)).unwrap_or_default();
    let kind = report.kind.as_ref().map_or(String::new(), |k| format!("{k}: "));
    let level = match report.level {
        Level::Fatal | Level::Error => "error",
        Level::Warning => "warning",
        _ => "note",
    };
    let mut result = json!({
        "ruleId": entry.family,
        "ruleIndex": rules.iter().position(|r| *r == entry.family),
        "level": level,
        "message": {"text": format!("{} {}", sentence(&group.told(Some(&found)).headline.to_string()), sentence(&format!("It says: {kind}{}", report.message)))},
        "occurrenceCount": group.count.max(1),
        "partialFingerprints": {"izbaGroup/v1": group.identity.to_string()}
    });
    if let Some(place) = &entry.place {
        let mut location = json!({"physicalLocation": physical(place)});
        if let Some(function) = &entry.function {
            location["logicalLocations"] = json!([{"name": function, "kind": "function"}]);
        }
        result["locations"] = json!([location]);
    }
    let related: Vec<Value> = found
        .suspects
        .iter()
        .filter(|s| !s.is_reported())
        .enumerate()
        .map(|(at, s)| suspect(at, s))
        .collect();
    if !related.is_empty() {
        result["relatedLocations"] = related.into();
    }
    let fixes: Vec<Value> = found.suspects.iter().filter_map(|s| fix(s, project)).collect();
    if !fixes.is_empty() {
        result["fixes"] = fixes.into();
    }
    if !report.frames.is_empty() {
        let frames: Vec<Value> = report.frames.iter().take(STEPS).map(frame).collect();
        result["stacks"] = json!([{"message": {"text": sentence("steps that led here, the newest first")}, "frames": frames}]);
    }
    if group.muted {
        result["suppressions"] =
            json!([{"kind": "external", "justification": "set aside by the user"}]);
    }
    let told = |verdict: Verdict| {
        found.reasons.iter().filter(|r| r.verdict == verdict).map(|r| r.text()).collect::<Vec<_>>()
    };
    result["properties"] = json!({"likely": told(Verdict::Likely), "cannotTell": told(Verdict::CantTell), "ruledOut": told(Verdict::RuledOut)});
    result
}

/// A path as a reference: what a reference may not hold is escaped.
fn reference(path: &str) -> String {
    let mut out = String::with_capacity(path.len());
    for byte in path.bytes() {
        match byte {
            b'a'..=b'z' | b'A'..=b'Z' | b'0'..=b'9' | b'-' | b'.' | b'_' | b'~' | b'/' => {
                out.push(char::from(byte))
            }
            _ => out.push_str(&format!("%{byte:02X}")),
        }
    }
    out
}

fn physical(place: &Place) -> Value {
    let mut physical =
        json!({"artifactLocation": {"uri": reference(&place.file), "uriBaseId": BASE}});
    if let Some(line) = place.line.filter(|l| *l > 0) {
        physical["region"] = json!({"startLine": line});
        if let Some(column) = place.column.filter(|c| c.number > 0 && c.unit == ColumnUnit::Chars) {
            physical["region"]["startColumn"] = column.number.into();
        }
    }
    physical
}

fn suspect(at: usize, suspect: &Suspect) -> Value {
    let place = Place { file: suspect.file.clone(), line: Some(suspect.line), column: None };
    let mut physical = physical(&place);
    if suspect.line > 0 && suspect.to_line > suspect.line {
        physical["region"]["endLine"] = suspect.to_line.into();
    }
    json!({
        "id": at, "physicalLocation": physical,
        "message": {"text": sentence(&suspect.reason())},
        "properties": {"confidence": (f64::from(suspect.confidence) * 1000.0).round() / 1000.0},
    })
}

/// The exact edit of a suspect (SARIF 2.1.0, 3.55): what is taken out by lines and columns, in
/// characters, and what is put in.
fn fix(suspect: &Suspect, project: &Project) -> Option<Value> {
    let fix = suspect.fix.as_ref()?;
    let text = project.file(&fix.file)?.text.as_ref()?;
    fix.apply(text)?;
    let point = |at: usize| {
        let begin = text[..at].rfind('\n').map_or(0, |n| n + 1);
        (text[..at].matches('\n').count() + 1, text[begin..at].chars().count() + 1)
    };
    let replacement = |piece: &Piece| {
        let ((line, column), (to_line, to_column)) =
            (point(piece.at), point(piece.at + piece.remove));
        json!({
            "deletedRegion": {"startLine": line, "startColumn": column, "endLine": to_line, "endColumn": to_column},
            "insertedContent": {"text": piece.insert},
        })
    };
    let replacements: Vec<Value> = fix.pieces().iter().map(replacement).collect();
    Some(json!({
        "description": {"text": sentence(&fix.says(text))},
        "artifactChanges": [{
            "artifactLocation": {"uri": reference(&fix.file), "uriBaseId": BASE},
            "replacements": replacements,
        }],
    }))
}

fn frame(frame: &StackFrame) -> Value {
    let mut location = json!({});
    if let Some(place) = frame.place() {
        location["physicalLocation"] = physical(&place);
    } else if let Some(file) = &frame.file {
        location["physicalLocation"] = json!({"artifactLocation": {"uri": reference(file)}});
        if let Some(line) = frame.line.filter(|l| *l > 0) {
            location["physicalLocation"]["region"] = json!({"startLine": line});
        }
    }
    if let Some(function) = &frame.function {
        location["logicalLocations"] = json!([{"name": function, "kind": "function"}]);
    }
    json!({"location": location})
}
