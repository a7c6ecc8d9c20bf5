//! How much work one file may take: a grammar in the middle of a text that it does not understand
//! tries more and more, and somebody waits.

use std::cell::Cell;
use std::time::{Duration, Instant};

/// Brackets open at once, and the share of brackets and operators in a text of some size, beyond
/// which no person wrote it: a tree of it takes hundreds of megabytes and tells nobody anything.
const DEEPEST: u32 = 1_000;
const DENSEST: f32 = 0.35;
const OF_SOME_SIZE: usize = 50_000;

/// Whether a text is a tangle of signs, which is left out like one that is too large. Texts and
/// comments count like code: who wants to know what they are has to read it first.
pub fn is_tangle(text: &str) -> bool {
    let (mut depth, mut deepest, mut signs) = (0u32, 0u32, 0usize);
    for byte in text.bytes() {
        match byte {
            b'(' | b'[' | b'{' => depth += 1,
            b')' | b']' | b'}' => depth = depth.saturating_sub(1),
            b'+' | b'-' | b'*' | b'/' | b'=' | b'<' | b'>' | b'&' | b'|' | b'?' | b'!' => {}
            _ => continue,
        }
        signs += 1;
        deepest = deepest.max(depth);
    }
    deepest > DEEPEST || text.len() > OF_SOME_SIZE && signs as f32 > DENSEST * text.len() as f32
}

/// Steps that are left, and the moment at which it is over in any case.
///
/// Steps are counted by the grammar, so that the same text is given up at the same place on every
/// machine; the clock is for what the grammar does not count, such as looking for the end of a text.
#[derive(Debug)]
pub struct Work {
    steps: Cell<u64>,
    until: Instant,
}

/// The grammar tells of itself after so many of its steps.
const TOLD_AFTER: u64 = 100;

impl Work {
    /// For reading a text of so many bytes once. A text that is well takes one or two steps a byte.
    pub fn reading(bytes: usize) -> Work {
        Work::of(200_000 + 24 * bytes as u64, Duration::from_millis(900))
    }

    /// For all repairs of one file.
    pub fn mending() -> Work {
        Work::of(12_000_000, Duration::from_millis(1100))
    }

    fn of(steps: u64, most: Duration) -> Work {
        // Built for tests it is slower, and the steps are to decide there.
        let most = if cfg!(debug_assertions) { most * 10 } else { most };
        Work { steps: Cell::new(steps), until: Instant::now() + most }
    }

    /// Whether nothing more is to be begun.
    pub fn is_done(&self) -> bool {
        self.steps.get() == 0 || Instant::now() >= self.until
    }

    /// Notes that the grammar told of itself; gives whether it may go on.
    pub fn goes_on(&self) -> bool {
        self.steps.set(self.steps.get().saturating_sub(TOLD_AFTER));
        !self.is_done()
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::lang::with_parser;
    use izba_model::code::Language;

    #[test]
    fn a_grammar_ends_when_its_steps_are_used_up_and_reads_the_next_text_from_its_beginning() {
        let lua = Language::of_id("lua").expect("a language");
        let text = "x = f(1)\n".repeat(400);
        let parse = |work: &Work| {
            with_parser(lua, |p| p.parse(&text, None, work).map(|t| t.root_node().child_count()))
        };
        let few = Work::of(500, Duration::from_secs(600));
        assert_eq!(parse(&few), Some(None));
        assert!(few.is_done());
        let enough = Work::of(1_000_000, Duration::from_secs(600));
        assert_eq!(parse(&enough), Some(Some(400)));
        assert!(!enough.is_done());
    }

    #[test]
    fn what_nobody_wrote_is_a_tangle_and_tables_and_dense_code_are_none() {
        for tangle in ["f(".repeat(1_001), "({[".repeat(400), "x=x+".repeat(20_000)] {
            assert!(is_tangle(&tangle), "{}", &tangle[..20]);
        }
        let nested = format!("{}{}", "f(".repeat(900), ")".repeat(900));
        for text in [
            nested,
            "[0,0,1,-1],".repeat(20_000),
            "a=b+c;".repeat(100),
            "if(a[i]>b)return c.push(d(e,f));".repeat(9_000),
            "# sad :( sad :)\n".repeat(20_000),
        ] {
            assert!(!is_tangle(&text), "{}", &text[..20]);
        }
    }

    #[test]
    fn a_text_that_is_well_takes_a_fraction_of_its_share() {
        for (id, text) in [
            ("lua", "local t = { a = 1, b = f(2, 3) }\nif t.a then g(t.b .. 'x') end\n"),
            ("python", "def f(a, b):\n    if a:\n        return [b, {'c': a.d[1]}]\n"),
            ("javascript", "const f = (a) => { if (a.b) { return `x${a.c}`; } };\n"),
            ("java", "class A { int f(int a) { return this.b.c(a, 1) + 2; } }\n"),
        ] {
            let language = Language::of_id(id).expect("a language");
            let text = text.repeat(2000);
            let work = Work::reading(text.len());
            let all = work.steps.get();
            with_parser(language, |p| p.parse(&text, None, &work).map(|_| ()));
            let used = all - work.steps.get();
            assert!(used * 4 < all, "{id}: {used} of {all}");
        }
    }
}
