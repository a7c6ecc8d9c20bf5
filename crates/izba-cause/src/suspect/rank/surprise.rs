//! How little a line is like the project's other code: the surprise of its least expected token
//! under a small model of which token follows which.
//!
//! The model is made of the project's own scripts of the same language; of the line in question its
//! own tokens are taken out first, so that what stands there once surprises.

use izba_model::code::FileFacts;
use std::cell::OnceCell;
use std::collections::HashMap;
use std::hash::{DefaultHasher, Hash, Hasher};

/// Text that the model is made of, at most, in bytes.
const READ: usize = 256 << 10;
/// How much the frequency of a token alone counts beside what stood before it.
const ALONE: f64 = 2.0;
/// From this surprise on a token is as strange as any, in bits.
const MOST: f64 = 16.0;

/// Which token follows which in the scripts of one language.
#[derive(Default)]
struct Model {
    pairs: HashMap<(u64, u64), u32>,
    /// How often a token stands before another one, and how often it stands at all.
    single: HashMap<u64, (u32, u32)>,
    all: u32,
}

/// The models of a query's scripts, each made when it is first asked for.
pub(super) struct Surprise<'a> {
    scope: &'a [&'a FileFacts],
    models: OnceCell<HashMap<&'static str, Model>>,
}

impl<'a> Surprise<'a> {
    /// For these files.
    pub(super) fn of(scope: &'a [&'a FileFacts]) -> Surprise<'a> {
        Surprise { scope, models: OnceCell::new() }
    }

    /// The surprise of a line, 0 for one that is like all others to 1; 0 for what is no code.
    pub(super) fn line(&self, file: &FileFacts, line: u32) -> f32 {
        let models = self.models.get_or_init(|| self.read());
        let (Some(model), Some(text)) =
            (models.get(file.language.known().base_id()), file.line(line))
        else {
            return 0.0;
        };
        model.line(text)
    }

    fn read(&self) -> HashMap<&'static str, Model> {
        let mut models: HashMap<&'static str, Model> = HashMap::new();
        let mut left = READ;
        for file in self.scope.iter().filter(|f| f.language.is_code()) {
            let Some(rest) = left.checked_sub(file.text.len()) else { continue };
            left = rest;
            let model = models.entry(file.language.known().base_id()).or_default();
            file.text.lines().for_each(|l| model.learn(&tokens(l)));
        }
        models
    }
}

impl Model {
    fn learn(&mut self, line: &[u64]) {
        for pair in line.windows(2) {
            *self.pairs.entry((pair[0], pair[1])).or_default() += 1;
            self.single.entry(pair[0]).or_default().0 += 1;
            self.single.entry(pair[1]).or_default().1 += 1;
            self.all += 1;
        }
    }

    /// The surprise of a line that the model was made of, 0 to 1.
    fn line(&self, text: &str) -> f32 {
        let own = tokens(text);
        let mut most: f64 = 0.0;
        for (at, pair) in own.windows(2).enumerate() {
            let again = own.windows(2).skip(at).filter(|p| p == &pair).count() as u32;
            most = most.max(self.bits(pair[0], pair[1], &own, again));
        }
        (most / MOST).clamp(0.0, 1.0) as f32
    }

    /// The surprise of a token behind another one, in bits, without what the line itself says.
    fn bits(&self, before: u64, token: u64, own: &[u64], again: u32) -> f64 {
        let pair = self.pairs.get(&(before, token)).map_or(0, |n| n.saturating_sub(again));
        let of_own = |t: u64, ends: &[u64]| ends.iter().filter(|o| **o == t).count() as u32;
        let (first, rest) = (&own[..own.len() - 1], &own[1..]);
        let seen = |t: u64| self.single.get(&t).copied().unwrap_or_default();
        let led = seen(before).0.saturating_sub(of_own(before, first));
        let alone = seen(token).1.saturating_sub(of_own(token, rest));
        let kinds = self.single.len() as f64 + 1.0;
        let frequency = (f64::from(alone) + 0.5) / (f64::from(self.all) + 0.5 * kinds);
        -((f64::from(pair) + ALONE * frequency) / (f64::from(led) + ALONE)).log2()
    }
}

/// The tokens of a line with its two ends: words as they are, numbers and texts as one of a kind,
/// signs one by one.
fn tokens(line: &str) -> Vec<u64> {
    let hash = |of: &str| {
        let mut hasher = DefaultHasher::new();
        of.hash(&mut hasher);
        hasher.finish()
    };
    let mut all = vec![hash("\n")];
    let mut rest = line.trim();
    while let Some(c) = rest.chars().next() {
        let word = |c: char| c.is_alphanumeric() || c == '_' || c == '$';
        let end = match c {
            _ if word(c) => rest.find(|c| !word(c)).unwrap_or(rest.len()),
            '"' | '\'' | '`' => rest[1..].find(c).map_or(rest.len(), |at| at + 2),
            _ => c.len_utf8(),
        };
        let token = match c {
            _ if c.is_ascii_digit() => "0",
            '"' | '\'' | '`' => "\"",
            _ => &rest[..end],
        };
        all.push(hash(token));
        rest = rest[end..].trim_start();
    }
    if all.len() > 1 {
        all.push(hash("\n"));
    }
    all
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_stands_once_among_many_alike_surprises() {
        let mut model = Model::default();
        for n in 0..12 {
            model.learn(&tokens(&format!("boat.row(oars[{n}], tide)")));
        }
        let odd = "boat.row(oras[3], tide)";
        model.learn(&tokens(odd));
        let (usual, odd) = (model.line("boat.row(oars[4], tide)"), model.line(odd));
        assert!(odd > 2.0 * usual && odd <= 1.0, "{usual} {odd}");
        assert_eq!(model.line(""), 0.0);
    }

    #[test]
    fn tokens_are_words_signs_and_kinds_of_values() {
        let same = |a: &str, b: &str| tokens(a) == tokens(b);
        assert!(same("x = 1", "  x=27 "));
        assert!(same("say('ahoy')", "say('')") && !same("say(\"ahoy\")", "say(ahoy)"));
        assert!(!same("x = y", "x = z"));
        assert_eq!(tokens("").len(), 1);
        assert_eq!(tokens("say('open").len(), 5, "a text that is not closed goes to the end");
    }
}
