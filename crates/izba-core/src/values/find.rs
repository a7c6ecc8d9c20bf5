//! Which values a line tells: `fuel=0.4`, `tide: 1.82`, “passengers 12 of 30”, the fields of a JSON
//! object, a state word, a number in an otherwise fixed message.

use izba_model::mask::mask;
use izba_model::pattern::Pattern;
use serde_json::Value as Json;

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
/// The longest name of one word.
const LONG: usize = 41;
/// Depth of nested JSON that is gone into.
const DEEP: usize = 4;

/// What stands behind the sign of a pair: a number with its unit, or a word.
static VALUE: Pattern = Pattern::new(
    r#"^(?:(?P<number>-?[0-9]+(?:\.[0-9]+)?(?:[eE][+-]?[0-9]+)?)(?P<unit>%|[a-zA-Zµ°]{1,8}(?:/[a-z]{1,3})?| (?:m|km|cm|mm|s|ms|µs|min|h|kn|kg|g|l|%|°C?|fps|px|[kMG]i?B|B|Hz|V|A|W)\b)?|"?(?P<word>[A-Za-z_][0-9A-Za-z_-]{0,30})"?)(?:[\s,;)\]]|$)"#,
);
static COUNTED: Pattern = Pattern::new(concat!(
    r"(?:^|[\s,;])(?P<name>[A-Za-z_][A-Za-z_-]{1,30})",
    r" (?P<number>-?\d+(?:\.\d+)?)(?P<unit>%|[a-zA-Zµ°]{1,4})?(?: (?:of|out of",
    r"|/) (?P<all>\d+(?:\.\d+)?))?(?:[\s,;.)]|$)"
));
static NUMBER: Pattern =
    Pattern::new(r"(?:^|[\s(=:])(?P<number>-?\d+(?:\.\d+)?)(?P<unit>%)?(?:[\s,;.)%a-zA-Z]|$)");

/// Words before a number that name nothing: “at 3”, “line 3”.
const NO_NAME: &[&str] = &[
    "at", "in", "on", "of", "to", "from", "by", "for", "and", "or", "after", "before", "line",
    "is", "was", "than", "with", "the", "a", "an", "took", "every", "about",
];

/// What a record says of itself, which is no value of the program.
const OF_RECORD: &[&str] = &[
    "time",
    "timestamp",
    "ts",
    "level",
    "severity",
    "levelno",
    "app",
    "logger",
    "line",
    "lineno",
    "pid",
    "thread",
    "trace",
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
        for (name, value) in object.iter().filter(|(name, _)| !OF_RECORD.contains(&name.as_str())) {
            json(name, value, 0, &mut found);
        }
        return found;
    }
    pairs(text, &mut found);
    if !found.is_empty() {
        return found;
    }
    for counted in COUNTED.captures_iter(text) {
        let name = &counted["name"];
        if NO_NAME.contains(&name.to_ascii_lowercase().as_str()) || found.len() >= MOST {
            continue;
        }
        if let Some(value) = finite(&counted["number"]) {
            found.push(Told::Number(
                name.to_owned(),
                value,
                counted.name("unit").map(|u| u.as_str().to_owned()),
            ));
        }
    }
    if !found.is_empty() {
        return found;
    }
    // One number in an otherwise fixed message goes by the message.
    let numbers: Vec<_> = NUMBER.captures_iter(text).collect();
    if let [one] = numbers.as_slice()
        && let Some(value) = finite(&one["number"])
    {
        let shape = mask(text, "").shape;
        // The place of the number is a gap in the name.
        let name = izba_model::text::fit(shape.replace("‹n›", "…").trim(), 60).into_owned();
        if name.chars().filter(|c| c.is_alphabetic()).count() >= 4 {
            found.push(Told::Number(name, value, one.name("unit").map(|u| u.as_str().to_owned())));
        }
    }
    found
}

/// Names before `=` or `: `, with what stands behind. Lines are full of neither, and there are very
/// many lines, so the signs are looked for first.
fn pairs(text: &str, found: &mut Vec<Told>) {
    let mut from = 0;
    while let Some(at) = memchr::memchr2(b'=', b':', &text.as_bytes()[from..]).map(|at| from + at) {
        let behind = &text[at + 1..];
        let value = behind.trim_start();
        let begins = text.len() - value.len();
        let is_pair = text.as_bytes()[at] == b'=';
        let name = name_before(&text[from..at], is_pair);
        from = at + 1;
        // After a colon without a space goes a path, a time or an address.
        let Some(name) = name.filter(|_| is_pair || value.len() < behind.len()) else { continue };
        let Some(values) = VALUE.captures(value) else { continue };
        if found.len() >= MOST {
            return;
        }
        from = begins + values.get(0).map_or(0, |m| m.end());
        match (values.name("number"), values.name("word")) {
            (Some(number), _) => {
                if let Some(value) = finite(number.as_str()) {
                    found.push(Told::Number(
                        name.to_owned(),
                        value,
                        values.name("unit").map(|u| u.as_str().trim().to_owned()),
                    ));
                }
            }
            // After a colon any sentence may follow; a state stands alone.
            (None, Some(word)) if is_pair || word.end() == value.len() => {
                found.push(Told::State(name.to_owned(), word.as_str().to_owned()))
            }
            _ => {}
        }
    }
}

/// The word before a sign; before a colon two of them may be one name.
fn name_before(text: &str, one_word: bool) -> Option<&str> {
    let text = if one_word { text.trim_end() } else { text };
    let word = |text: &str| -> Option<usize> {
        let within = |c: char| c.is_alphanumeric() || matches!(c, '_' | '.' | '-');
        let begins = text.char_indices().rev().take_while(|(_, c)| within(*c)).last()?.0;
        // What a name cannot begin with stands before it.
        let first = text[begins..].find(|c: char| c.is_ascii_alphabetic() || c == '_')?;
        (text.len() - begins - first <= LONG).then_some(begins + first)
    };
    let begins = word(text)?;
    if one_word {
        return Some(&text[begins..]);
    }
    let before = text[..begins].strip_suffix(' ').and_then(|head| word(head).map(|at| (head, at)));
    let begins =
        before.filter(|(head, at)| !head[*at..].contains('.')).map_or(begins, |(_, at)| at);
    Some(&text[begins..])
}

/// A number that can be drawn; one beyond all bounds is none.
fn finite(text: &str) -> Option<f64> {
    text.parse().ok().filter(|v: &f64| v.is_finite())
}

fn json(name: &str, value: &Json, depth: usize, found: &mut Vec<Told>) {
    if found.len() >= MOST || name.is_empty() || name.len() > 80 {
        return;
    }
    match value {
        Json::Number(number) => {
            found.extend(number.as_f64().map(|v| Told::Number(name.to_owned(), v, None)))
        }
        Json::Bool(is) => found.push(Told::State(name.to_owned(), is.to_string())),
        Json::String(word)
            if !word.is_empty()
                && word.len() <= 30
                && word.chars().all(|c| c.is_alphanumeric() || c == '_' || c == '-') =>
        {
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
            Told::Number(name, value, unit) => {
                format!("{name} → {value}{}", unit.as_deref().unwrap_or(""))
            }
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
            let numbers = told(&format!("{pairs} far=1e999 near=-1E308"));
            prop_assert!(numbers.iter().all(|t| !matches!(t, Told::Number(_, v, _) if !v.is_finite())));
        }
    }
}
