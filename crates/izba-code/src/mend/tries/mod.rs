//! The repairs that are worth trying: one sign or word put in, taken out or exchanged. Each file
//! here knows slips of one nature.

mod attempt;
mod between;
mod closers;
mod doubled;
mod exchanged;
mod extra;
mod openers;
mod tags;
mod texts;

pub use attempt::{Look, Try};

use crate::signs::pairs;
use attempt::MOST;

/// All repairs that are worth trying near a spot, the likeliest first.
pub fn all(look: &Look<'_>) -> Vec<Try> {
    let pairs = pairs(look.language, look.tokens);
    let mut out = Vec::new();
    // What is noticed at the end of the file may be anywhere in it: there the first block whose end
    // stands at another depth is as good a place.
    let slanted = pairs.iter().find_map(|p| {
        let (open, close) = (&look.tokens[p.open?], &look.tokens[p.close?]);
        (close.first && close.line > open.line && close.indent != open.indent).then_some(open.line)
    });
    let hot: Vec<u32> = [look.noticed, look.stumbles, slanted].into_iter().flatten().collect();
    let mark = |t: &Try| {
        t.cost + 0.004 * hot.iter().map(|h| h.abs_diff(t.line)).min().unwrap_or(0).min(100) as f32
    };
    for tries in [
        extra::one_too_many(look, &pairs),
        closers::closer_missing(look, &pairs),
        openers::opener_missing(look, &pairs),
        openers::bracket_opener_missing(look, &pairs),
        exchanged::exchanged(look, &pairs),
        between::between_neighbours(look),
        doubled::typed_twice(look),
        texts::quotes(look),
        tags::not_together(look),
    ] {
        // Dense code gives many; the usual ones and those nearest to where it was noticed come
        // first.
        let mut tries = tries;
        tries.sort_by(|a, b| mark(a).total_cmp(&mark(b)));
        out.extend(tries.into_iter().take(MOST));
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use izba_model::claim::misworded;

    /// What is nothing but brackets, quotes or one long line gives no more repairs than somebody
    /// could look through, and takes no more memory than they do.
    #[test]
    fn however_much_is_wrong_few_repairs_are_thought_of() {
        use crate::signs::tokens;
        use izba_model::code::Language;
        let texts = [
            "f(".repeat(4000),
            "{".repeat(6000),
            "}])".repeat(3000),
            "({[".repeat(2000) + &")}]".repeat(2000),
            "\"'".repeat(4000),
            "if x then ".repeat(2000),
            "<<<<<<< a\nx = f(a, 1\n=======\n".repeat(800),
        ];
        for (id, text) in
            ["lua", "python", "javascript"].iter().flat_map(|id| texts.iter().map(move |t| (id, t)))
        {
            let language = Language::of_id(id).expect("a language");
            let read = tokens(language, text);
            let pairs = pairs(language, &read);
            let look = Look {
                language,
                text,
                tokens: &read,
                noticed: Some(1),
                opener: None,
                near: None,
                stumbles: Some(1),
            };
            for (nature, tries) in [
                ("closers", closers::closer_missing(&look, &pairs)),
                ("openers", openers::bracket_opener_missing(&look, &pairs)),
                ("exchanged", exchanged::exchanged(&look, &pairs)),
                ("between", between::between_neighbours(&look)),
                ("texts", texts::quotes(&look)),
            ] {
                let begins = &text[..6];
                assert!(tries.len() < 16_000, "{id} {begins} {nature}: {}", tries.len());
            }
        }
    }

    #[test]
    fn every_repair_says_what_is_wrong() {
        let all = [
            between::KINDS,
            closers::KINDS,
            doubled::KINDS,
            exchanged::KINDS,
            extra::KINDS,
            openers::KINDS,
            tags::KINDS,
            texts::KINDS,
            super::super::KINDS,
            crate::wellformed::KINDS,
        ];
        for kinds in all {
            assert_eq!(misworded(kinds), Vec::<String>::new());
        }
    }
}
