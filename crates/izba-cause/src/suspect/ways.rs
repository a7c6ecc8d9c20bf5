//! How to fix it: the quick way and the right way, told apart, or one way where there is only one.
//! The words are data of the family, so that anyone can better a sentence without touching code.

use izba_model::claim::LIKELY;
use izba_model::{Family, Suspect};

/// The ways to fix an error.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Ways {
    /// Makes the error go away, where that is another thing.
    pub quick: Option<String>,
    /// Takes its reason away.
    pub right: String,
    /// The line as it would be, or the quick way in the user's language as an example.
    pub sketch: Option<String>,
}

/// The ways to fix an error of a family, by the check that found the first suspect, with the names
/// put in. A suspect that is not likely is no ground for advice: then the usual ways stand.
///
/// `name` is what the error is about; without one it is called “it”. `expression` is an expression
/// of the code that the example may be about: it guards what the usual way names, and would lead
/// away from what a check has found.
pub fn ways(
    family: Family,
    language: &str,
    name: Option<&str>,
    expression: Option<&str>,
    first: Option<&Suspect>,
) -> Option<Ways> {
    let first = first.filter(|s| s.confidence >= LIKELY && !s.is_reported());
    let place = first.map_or("the line".to_owned(), |s| {
        let file = s.file.rsplit('/').next().unwrap_or(&s.file);
        if s.line == 0 { file.to_owned() } else { format!("{file}:{}", s.line) }
    });
    let fill = |text: &String| {
        let name = match name {
            Some(name) if !name.contains('`') => format!("`{name}`"),
            other => other.unwrap_or("it").to_owned(),
        };
        let text = text.replace("{name}", &name).replace("{place}", &place);
        let mut chars = text.chars();
        chars
            .next()
            .map_or_else(String::new, |c| c.to_uppercase().collect::<String>() + chars.as_str())
    };
    let Some(first) = first else {
        let usual = family.ways("usual")?;
        let sketch = family.ways("sketch").and_then(|s| s.get(language));
        return Some(Ways {
            quick: usual.get("quick").map(fill),
            right: usual.get("right").map(fill)?,
            sketch: sketch.and_then(|s| Some(s.replace("{name}", expression?))),
        });
    };
    match family.ways(first.claim.check()) {
        Some(own) => Some(Ways {
            quick: own.get("quick").map(fill),
            right: own.get("right").map(fill)?,
            sketch: None,
        }),
        // What has no words of its own says itself what is to be fixed.
        None => {
            let right = format!("Fix {place}: {}.", first.reason());
            Some(Ways { quick: None, right, sketch: None })
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::suspect::CHECKS;
    use izba_model::claim::{About, Kind, Words};
    use izba_model::say;

    #[test]
    fn every_section_belongs_to_a_check_and_says_its_ways_in_sentences() {
        for family in Family::ALL {
            for section in family.sections().filter(|s| *s != "sketch") {
                let known = section == "usual" || CHECKS.iter().any(|c| c.id == section);
                assert!(known, "{section} is no check");
                let words = family.ways(section).expect("it was listed");
                let whole = |w: &String| w.ends_with('.') && w.len() < 220;
                assert!(words.values().all(whole), "{family}: {section}");
                assert!(words.contains_key("right"));
            }
        }
    }

    #[test]
    fn what_is_not_likely_is_no_ground_for_advice() {
        static SLIP: Kind = Kind { words: &SLIPS, key: "slip" };
        static SLIPS: Words = Words::new("spelling", About::Name, "slip = \"{name} is misspelt\"");
        let mut suspect = Suspect {
            file: "src/oar.lua".into(),
            line: 3,
            to_line: 3,
            claim: say!(SLIP, name = "wieght").into(),
            confidence: LIKELY,
            fix: None,
        };
        let told = |s: &Suspect| {
            ways(Family::NameNotThere, "lua", Some("wieght"), None, Some(s)).expect("it is usual")
        };
        let likely = told(&suspect);
        assert_eq!(likely.quick, None, "there is one way only");
        assert!(likely.right.starts_with("Correct the spelling at oar.lua:3"), "{}", likely.right);
        suspect.confidence = LIKELY - 0.1;
        let perhaps = told(&suspect);
        assert!(perhaps.quick.is_some() && perhaps.right.contains("`wieght`"), "{perhaps:?}");
        assert!(!perhaps.right.contains("oar.lua"), "{}", perhaps.right);
    }
}
