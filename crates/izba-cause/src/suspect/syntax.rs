//! syntax: the script does not parse, and one repair lets it be read.

use super::check::{Check, Seen, Strength};
use super::query::Query;
use izba_model::claim::{Evidence, Verdict};
use izba_model::{say, sayings};

sayings! {
    "syntax", Syntax, "../../words/suspects/syntax.toml";
    FAULT = "fault",
    NOTICED_LATER = "noticed-later",
    CAN_BE_READ = "can-be-read",
    LINE_READS = "line-reads",
    NEXT = "next",
}

/// The check for this: the script does not parse, and one repair lets it be read.
pub static CHECK: Check =
    Check { id: "syntax", kinds: KINDS, applies: |query| !query.syntax.is_empty(), look };

/// From this share on a repair is better than the others.
const SURE: f32 = 0.7;

fn look(query: &Query<'_>, seen: &mut Seen) {
    let (Some(path), Some(fault)) = (query.path(), query.syntax.first()) else { return };
    let file = query.file.map(|f| f.name().to_owned()).unwrap_or_default();
    let reason = if fault.line == fault.noticed {
        say!(FAULT, fault = fault.what)
    } else {
        say!(NOTICED_LATER, fault = fault.what, line = fault.noticed)
    };
    let strength = match fault.what.kind.key {
        // Where the parser gave up is no more than where it gave up.
        "unmended" => Strength::Weak,
        _ if fault.confidence >= SURE => Strength::Plain,
        _ => Strength::Strong,
    };
    let suspect = seen.suspect(path, fault.line, strength, reason);
    suspect.to(fault.to_line);
    for (line, saw) in &fault.seen {
        suspect.saw(path, *line, saw.clone());
    }
    if let Some(mended) = &fault.mended {
        let text = mended.trim();
        // The whole can be read only where nothing else is wrong in it.
        let saw = match query.syntax.len() {
            1 => say!(CAN_BE_READ, file, text),
            _ => say!(LINE_READS, text),
        };
        suspect.saw(path, fault.line, saw);
    }
    for (line, what, _) in &fault.others {
        seen.suspect(path, *line, Strength::Weak, say!(FAULT, fault = what));
    }
    for next in query.syntax.iter().skip(1) {
        let evidence =
            vec![Evidence { file: path.clone(), line: next.line, saw: next.what.clone() }];
        seen.reason(Verdict::Likely, say!(NEXT, line = next.line, fault = next.what), evidence);
    }
}
