//! How to mend it: the quick way and the right way, told apart. The words are data of the family,
//! so that anyone can better a sentence without touching code.

use izba_model::claim::LIKELY;
use izba_model::{Family, Suspect};

/// The two ways to mend an error.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Ways {
    /// Makes the error go away.
    pub quick: String,
    /// Takes its reason away.
    pub right: String,
    /// The line as it would be, or the quick way in the user's language as an example.
    pub sketch: Option<String>,
}

/// The ways to mend an error of a family, by the check that found the first suspect, with the names
/// put in.
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
    let chosen =
        first.and_then(|s| family.ways(s.claim.check())).or_else(|| family.ways("usual"))?;
    // What is likely and has no words of its own says itself what is to be mended.
    let likely = first.filter(|s| {
        s.confidence >= LIKELY && !s.is_reported() && family.ways(s.claim.check()).is_none()
    });
    let usual = likely.is_none() && first.is_none_or(|s| family.ways(s.claim.check()).is_none());
    let sketch = family.ways("sketch").and_then(|s| s.get(language)).filter(|_| usual);
    Some(Ways {
        quick: chosen.get("quick").map(fill)?,
        right: match likely {
            Some(suspect) => format!("Mend {place}: {}.", suspect.reason()),
            None => chosen.get("right").map(fill)?,
        },
        sketch: sketch.and_then(|s| Some(s.replace("{name}", expression?))),
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::suspect::CHECKS;

    #[test]
    fn every_section_belongs_to_a_check_and_says_both_ways_in_sentences() {
        for family in Family::ALL {
            for section in family.sections().filter(|s| *s != "sketch") {
                let known = section == "usual" || CHECKS.iter().any(|c| c.id == section);
                assert!(known, "{section} is no check");
                let words = family.ways(section).expect("it was listed");
                let whole = |w: &String| w.ends_with('.') && w.len() < 220;
                assert!(words.values().all(whole), "{family}: {section}");
                assert!(words.contains_key("quick") && words.contains_key("right"));
            }
        }
    }
}
