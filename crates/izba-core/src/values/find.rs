//! Which values a line tells: `fuel=0.4`, `tide: 1.82`, “passengers 12 of 30”, the fields of a JSON object, a state word, a number
//! in an otherwise fixed message.

use crate::group::mask;
use regex::Regex;
use serde_json::Value as Json;
use std::sync::LazyLock;

/// One value under its name.
#[derive(Debug, Clone, PartialEq)]
pub enum Told {
    /// A number with its unit, if one stands behind it.
    Number(String, f64, Option<String>),
    /// A word.
    State(String, String),
}

/// Values of one line that are taken.
const MOST: usize = 24;
/// Depth of nested JSON that is gone into.
const DEEP: usize = 4;

static PAIR: LazyLock<Regex> = LazyLock::new(|| {
    Regex::new(r#"(?P<name>[A-Za-z_][\w.-]{0,40}(?: [A-Za-z_][\w-]{0,20})?)(?P<sign>\s*=\s*|:\s+)(?:(?P<number>-?\d+(?:\.\d+)?(?:[eE][+-]?\d+)?)(?P<unit>%|[a-zA-Zµ°]{1,8}(?:/[a-z]{1,3})?| (?:m|km|cm|mm|s|ms|µs|min|h|kn|kg|g|l|%|°C?|fps|px|[kMG]i?B|B|Hz|V|A|W)\b)?|"?(?P<word>[A-Za-z_][\w-]{0,30})"?)(?:[\s,;)\]]|$)"#)
        .expect("the pattern is fixed")
});
static COUNTED: LazyLock<Regex> = LazyLock::new(|| {
    Regex::new(r"(?:^|[\s,;])(?P<name>[A-Za-z_][A-Za-z_-]{1,30}) (?P<number>-?\d+(?:\.\d+)?)(?P<unit>%|[a-zA-Zµ°]{1,4})?(?: (?:of|out of|/) (?P<all>\d+(?:\.\d+)?))?(?:[\s,;.)]|$)")
        .expect("the pattern is fixed")
});
static NUMBER: LazyLock<Regex> =
    LazyLock::new(|| Regex::new(r"(?:^|[\s(=:])(?P<number>-?\d+(?:\.\d+)?)(?P<unit>%)?(?:[\s,;.)%a-zA-Z]|$)").expect("the pattern is fixed"));

/// Words before a number that name nothing: “at 3”, “line 3”.
const NO_NAME: &[&str] = &[
    "at", "in", "on", "of", "to", "from", "by", "for", "and", "or", "after", "before", "line", "is", "was", "than", "with", "the", "a", "an", "took",
    "every", "about",
];

/// The values that a message tells; `text` is the line without its prefix.
pub fn told(text: &str) -> Vec<Told> {
    let mut found = Vec::new();
    let text = text.trim();
    if text.len() > 4096 {
        return found;
    }
    if let Some(at) = text.find('{')
        && let Ok(Json::Object(object)) = serde_json::from_str::<Json>(&text[at..])
    {
        for (name, value) in &object {
            json(name, value, 0, &mut found);
        }
        return found;
    }
    for pair in PAIR.captures_iter(text) {
        if found.len() >= MOST {
            return found;
        }
        let name = pair["name"].trim();
        let name = name.rsplit(' ').next().filter(|_| pair["sign"].contains('=')).unwrap_or(name).to_owned();
        match (pair.name("number"), pair.name("word")) {
            (Some(number), _) => {
                if let Ok(value) = number.as_str().parse() {
                    found.push(Told::Number(name, value, pair.name("unit").map(|u| u.as_str().trim().to_owned())));
                }
            }
            // After a colon any sentence may follow; a state stands alone.
            (None, Some(word)) if pair["sign"].contains('=') || word.end() == text.len() => found.push(Told::State(name, word.as_str().to_owned())),
            _ => {}
        }
    }
    if !found.is_empty() {
        return found;
    }
    for counted in COUNTED.captures_iter(text) {
        let name = &counted["name"];
        if NO_NAME.contains(&name.to_ascii_lowercase().as_str()) || found.len() >= MOST {
            continue;
        }
        if let Ok(value) = counted["number"].parse() {
            found.push(Told::Number(name.to_owned(), value, counted.name("unit").map(|u| u.as_str().to_owned())));
        }
    }
    if !found.is_empty() {
        return found;
    }
    // One number in an otherwise fixed message goes by the message.
    let numbers: Vec<_> = NUMBER.captures_iter(text).collect();
    if let [one] = numbers.as_slice()
        && let Ok(value) = one["number"].parse()
    {
        let shape = mask(text, "").shape;
        // The place of the number is a gap in the name.
        let name = crate::text::fit(shape.replace("‹n›", "…").trim(), 60).into_owned();
        if name.chars().filter(|c| c.is_alphabetic()).count() >= 4 {
            found.push(Told::Number(name, value, one.name("unit").map(|u| u.as_str().to_owned())));
        }
    }
    found
}

fn json(name: &str, value: &Json, depth: usize, found: &mut Vec<Told>) {
    if found.len() >= MOST || name.is_empty() || name.len() > 80 {
        return;
    }
    match value {
        Json::Number(number) => found.extend(number.as_f64().map(|v| Told::Number(name.to_owned(), v, None))),
        Json::Bool(is) => found.push(Told::State(name.to_owned(), is.to_string())),
        Json::String(word) if !word.is_empty() && word.len() <= 30 && word.chars().all(|c| c.is_alphanumeric() || c == '_' || c == '-') => {
            found.push(Told::State(name.to_owned(), word.clone()));
        }
        Json::Object(inner) if depth < DEEP => {
            for (key, value) in inner {
                json(&format!("{name}.{key}"), value, depth + 1, found);
            }
        }
        _ => {}
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn shown(text: &str) -> String {
        let one = |t: &Told| match t {
            Told::Number(name, value, unit) => format!("{name} → {value}{}", unit.as_deref().unwrap_or("")),
            Told::State(name, word) => format!("{name} → {word}"),
        };
        told(text).iter().map(one).collect::<Vec<_>>().join("; ")
    }

    #[test]
    fn values_are_found_in_what_people_print() {
        let all = [
            "fuel=0.4 speed=-3.5kn",
            "tide: 1.82",
            "passengers 12 of 30",
            "x = 3, y = 4, gate=open",
            "state: closing",
            "tide 1.82",
            r#"{"fuel": 0.4, "at": {"x": 3}, "gate": "open", "lit": true, "text": "a sentence of words"}"#,
            "loaded 14 files",
            "the game begins",
            "channel 3: 4 ms late, buffer filled again",
            "took 33 ms",
            "level: 9 is past the end",
            "opening the default device: failed",
            "cpu load 93%",
        ];
        let told: Vec<String> = all.iter().map(|t| format!("{t}   |   {}", shown(t))).collect();
        insta::assert_snapshot!(told.join("\n"), @r#"
    fuel=0.4 speed=-3.5kn   |   fuel → 0.4; speed → -3.5kn
    tide: 1.82   |   tide → 1.82
    passengers 12 of 30   |   passengers → 12
    x = 3, y = 4, gate=open   |   x → 3; y → 4; gate → open
    state: closing   |   state → closing
    tide 1.82   |   tide → 1.82
    {"fuel": 0.4, "at": {"x": 3}, "gate": "open", "lit": true, "text": "a sentence of words"}   |   at.x → 3; fuel → 0.4; gate → open; lit → true
    loaded 14 files   |   loaded → 14
    the game begins   |   
    channel 3: 4 ms late, buffer filled again   |   channel …: … ms late, buffer filled again → 4
    took 33 ms   |   took … ms → 33
    level: 9 is past the end   |   level → 9
    opening the default device: failed   |   default device → failed
    cpu load 93%   |   load → 93%
    "#);
    }

    proptest! {
        #[test]
        fn any_line_is_answered(text in "\\PC{0,80}", pairs in "([a-z]{1,5}[=:] ?-?[0-9]{1,20}(\\.[0-9]{1,5})?[ ,]){0,30}") {
            prop_assert!(told(&text).len() <= MOST);
            prop_assert!(told(&pairs).len() <= MOST);
        }
    }
}
