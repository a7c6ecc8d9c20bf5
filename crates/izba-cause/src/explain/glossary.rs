//! The words that consoles use, with what they mean. They are data: `words/glossary.toml`.

use std::collections::BTreeMap;
use std::sync::LazyLock;

static GLOSSARY: LazyLock<Vec<(Vec<String>, String)>> = LazyLock::new(|| {
    let words: BTreeMap<String, String> =
        toml::from_str(include_str!("../../words/glossary.toml")).unwrap_or_default();
    words
        .into_iter()
        .map(|(words, meaning)| (words.split('|').map(str::to_owned).collect(), meaning))
        .collect()
});

/// The words of the glossary that stand in a text, in the order of the text, each with its meaning;
/// a meaning is told once.
pub fn glossary(text: &str) -> Vec<(&'static str, &'static str)> {
    let small = text.to_lowercase();
    let occurrences = |word: &str| {
        let word = word.to_lowercase();
        let end = |at: usize| at + word.len();
        let letter = |c: Option<char>| c.is_some_and(|c| c.is_alphanumeric() || c == '_');
        small.match_indices(&word).map(|(at, _)| at).find(|at| {
            // Names of kinds hold such words too: TypeError is not told as “type”.
            !letter(small[..*at].chars().next_back()) && !letter(small[end(*at)..].chars().next())
        })
    };
    let mut found: Vec<(usize, &'static str, &'static str)> = Vec::new();
    for (words, meaning) in GLOSSARY.iter() {
        // Of two that begin at one place the longer one is meant.
        if let Some((at, word)) = words
            .iter()
            .filter_map(|w| Some((occurrences(w)?, w)))
            .min_by_key(|(at, w)| (*at, usize::MAX - w.len()))
        {
            found.push((at, word.as_str(), meaning.as_str()));
        }
    }
    found.sort_unstable();
    found.into_iter().map(|(_, word, meaning)| (word, meaning)).collect()
}

#[cfg(test)]
mod tests {
    #[test]
    fn the_words_of_a_sentence_open_into_their_meaning() {
        let told = super::glossary(
            "attempt to index a nil value (field 'wick'); TypeError: stack trace follows, nilly",
        );
        let words: Vec<&str> = told.iter().map(|(w, _)| *w).collect();
        assert_eq!(words, ["index", "nil", "field", "stack trace"]);
        assert!(super::GLOSSARY.len() > 40, "the file is read");
    }
}
