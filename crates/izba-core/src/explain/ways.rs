//! How to mend it: the quick way and the right way, told apart. The words are data, one file for
//! each family in `words/`, so that anyone can better a sentence without touching code.

use crate::suspect::Suspect;
use std::collections::BTreeMap;
use std::sync::LazyLock;

/// The two ways to mend an error.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Ways {
    /// Makes the error go away.
    pub quick: String,
    /// Takes its reason away.
    pub right: String,
    /// The quick way in the user's language, as an example.
    pub sketch: Option<String>,
}

type Sections = BTreeMap<String, BTreeMap<String, String>>;

macro_rules! words {
    ($($id:literal),* $(,)?) => { &[$(($id, include_str!(concat!("../../words/", $id, ".toml")))),*] };
}

/// The files of words, by family.
static FILES: &[(&str, &str)] = words![
    "dependency-ring",
    "does-not-parse",
    "file-not-there",
    "loose-wiring",
    "name-not-there",
    "not-open",
    "other",
    "out-of-range",
    "value-not-there",
    "wrong-kind",
];

static WORDS: LazyLock<BTreeMap<&'static str, Sections>> = LazyLock::new(|| {
    FILES.iter().map(|(id, text)| (*id, toml::from_str(text).unwrap_or_default())).collect()
});

/// The ways to mend an error of a family, by the check that found the first suspect, with the names
/// put in.
///
/// `name` is what the error is about; without one it is called “it”.
pub fn ways(
    family: &str,
    language: &str,
    name: Option<&str>,
    first: Option<&Suspect>,
) -> Option<Ways> {
    let sections = WORDS.get(family)?;
    let place = first.map_or("the line".to_owned(), |s| {
        let file = s.file.rsplit('/').next().unwrap_or(&s.file);
        if s.line == 0 { file.to_owned() } else { format!("{file}:{}", s.line) }
    });
    let fill = |text: &String| {
        let text = text.replace("{name}", name.unwrap_or("it")).replace("{place}", &place);
        let mut chars = text.chars();
        chars
            .next()
            .map_or_else(String::new, |c| c.to_uppercase().collect::<String>() + chars.as_str())
    };
    let chosen = first.and_then(|s| sections.get(s.check)).or_else(|| sections.get("usual"))?;
    let sketch = sections.get("sketch").and_then(|s| s.get(language)).filter(|_| name.is_some());
    Some(Ways {
        quick: chosen.get("quick").map(fill)?,
        right: chosen.get("right").map(fill)?,
        sketch: sketch.map(|s| s.replace("{name}", name.unwrap_or("it"))),
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_family_has_its_words_and_every_section_belongs_to_a_check() {
        for family in crate::explain::FAMILIES {
            let sections =
                WORDS.get(family.id).unwrap_or_else(|| panic!("{} has no words", family.id));
            assert!(
                sections.contains_key("usual"),
                "{} has no usual way, or its file cannot be read",
                family.id
            );
            for (section, words) in sections.iter().filter(|(s, _)| *s != "sketch") {
                assert!(
                    section == "usual" || crate::suspect::CHECKS.iter().any(|c| c.id == section),
                    "{section} is no check"
                );
                assert!(
                    words.values().all(|w| w.ends_with('.') && w.len() < 220),
                    "{}: {section}",
                    family.id
                );
                assert!(words.contains_key("quick") && words.contains_key("right"));
            }
        }
    }
}
