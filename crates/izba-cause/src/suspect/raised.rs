//! raised: the program raised the error itself, because a condition was met; where what the
//! condition reads comes from.

use super::check::{Check, Seen, Strength};
use super::query::Query;
use super::raises::{conditions, raises};
use izba_model::claim::Saying;
use izba_model::code::{At, FileFacts, Kind, Role};
use izba_model::{say, sayings};

sayings! {
    "raised", Any, "../../words/suspects/raised.toml";
    SENTENCE_MADE = "sentence-made",
    CONDITION_READS = "condition-reads",
    RAISED_HERE = "raised-here",
}

/// The check for this: the program raised the error itself, because a condition was met.
pub static CHECK: Check = Check {
    id: "raised",
    kinds: KINDS,
    applies: |query| query.file.is_some() && condition(query).is_some(),
    look,
};

fn condition<'a>(query: &Query<'a>) -> Option<At<'a>> {
    let file = query.file?;
    if !raises(file, query.line) {
        return None;
    }
    conditions(file, query.line).next()
}

fn look(query: &Query<'_>, seen: &mut Seen) {
    let Some(file) = query.file else { return };
    if query.entry.place.is_none() {
        seen.suspect(&file.path, query.line, Strength::Weak, say!(SENTENCE_MADE));
    }
    // The number of the object that the sentence speaks of.
    let number = |text: &str| text.chars().all(|c| c.is_ascii_digit());
    let told: Vec<&str> = query
        .said
        .split(|c: char| !c.is_alphanumeric())
        .chain(
            query
                .entry
                .report
                .object
                .as_deref()
                .unwrap_or("")
                .split(|c: char| !c.is_alphanumeric()),
        )
        .filter(|w| !w.is_empty() && number(w))
        .collect();
    let names_script = |data: &FileFacts, record: u32| {
        data.data.iter().any(|d| {
            d.record.abs_diff(record) <= 1
                && d.role == Role::Value
                && d.text.rsplit('/').next() == Some(file.name())
        })
    };
    let mut found: Vec<(&FileFacts, u32, f32, Strength, Saying)> = Vec::new();
    for sliced in query.slice.iter().filter(|m| m.node.is_none() && m.weight > 0.25) {
        let Some(datum) = sliced.file.data.iter().find(|d| {
            d.line == sliced.line()
                && d.role == Role::Value
                && value_on_trail(query, d.path.as_ref())
        }) else {
            continue;
        };
        if !names_script(sliced.file, datum.record)
            || found
                .iter()
                .any(|(f, line, ..)| f.path == sliced.file.path && *line == sliced.line())
        {
            continue;
        }
        // Records carry a number of their own: under `id`, or whatever stands under a key of that
        // nature.
        let own = sliced.file.data.iter().filter(|d| {
            d.line == datum.line
                && d.role == Role::Value
                && number(&d.text)
                && told.contains(&d.text.as_ref())
        });
        let identified = own.clone().any(|d| {
            matches!(d.path.rsplit('/').next(), Some("id" | "number" | "no" | "nr" | "index"))
        });
        let key = datum.path.rsplit('/').next().unwrap_or_default().to_owned();
        // What does not meet the condition as it is written may do so once it was counted on.
        let against = met(query, &key, &datum.text) == Some(false);
        let strength = match (identified, against) {
            (true, false) => Strength::Strong,
            (true, true) | (false, false) => Strength::Fair,
            (false, true) => Strength::Faint,
        };
        found.push((
            sliced.file,
            sliced.line(),
            sliced.weight,
            strength,
            say!(CONDITION_READS, name = key, value = datum.text),
        ));
    }
    let alone = found.len() == 1;
    let any_identified = found.iter().any(|(.., strength, _)| *strength >= Strength::Strong);
    for (data, line, tie, strength, reason) in found {
        let strength = match strength {
            Strength::Fair if alone => Strength::Strong,
            Strength::Fair if any_identified => Strength::Weak,
            _ => strength,
        };
        let suspect = seen.suspect(&data.path, line, strength, reason);
        suspect.saw(&file.path, query.line, say!(RAISED_HERE)).tied(tie);
    }
}

/// Whether a number meets the condition, where that compares it with another one.
fn met(query: &Query<'_>, key: &str, value: &str) -> Option<bool> {
    let condition = condition(query).filter(|c| c.is(Kind::Bin))?;
    let (left, right) = (condition.child(0)?, condition.child(1)?);
    let number =
        |n: At<'_>| n.text().filter(|_| n.is(Kind::Num)).and_then(|t| t.parse::<f64>().ok());
    let value: f64 = value.parse().ok()?;
    let (a, b) = match (left.last_name() == Some(key), right.last_name() == Some(key)) {
        (true, false) => (value, number(right)?),
        (false, true) => (number(left)?, value),
        _ => return None,
    };
    Some(match condition.text()? {
        ">" => a > b,
        ">=" => a >= b,
        "<" => a < b,
        "<=" => a <= b,
        "==" | "===" => (a - b).abs() < f64::EPSILON,
        _ => return None,
    })
}

fn value_on_trail(query: &Query<'_>, path: &str) -> bool {
    let key = path.rsplit('/').next().unwrap_or(path);
    query
        .slice
        .iter()
        .filter_map(|m| m.node)
        .any(|n| matches!(n.kind(), Kind::Field | Kind::Name) && n.is_called(key))
}
