//! The grammars of languages. A new language is one file here with its line in [`GRAMMARS`], and
//! one in `izba-model/dialects`.

mod component;
mod csharp;
mod grammar;
mod html;
mod java;
mod javascript;
mod kotlin;
mod lua;
mod python;
mod tsx;
mod typescript;

pub use grammar::{Grammar, Places, Row, Rule, Writer, child, children, has, unquoted};

use crate::work::Work;
use izba_model::code::{Language, Tree};
use std::cell::RefCell;
use std::ops::ControlFlow;
use tree_sitter::Parser;

/// All languages of code, by id.
static GRAMMARS: &[&Grammar] = &[
    &component::GRAMMAR,
    &csharp::GRAMMAR,
    &html::GRAMMAR,
    &java::GRAMMAR,
    &javascript::GRAMMAR,
    &kotlin::GRAMMAR,
    &lua::GRAMMAR,
    &python::GRAMMAR,
    &tsx::GRAMMAR,
    &typescript::GRAMMAR,
];

fn grammar(language: Language) -> Option<&'static Grammar> {
    GRAMMARS.iter().copied().find(|g| g.id == language.id)
}

/// Whether there is a grammar of the language.
pub fn has_grammar(language: Language) -> bool {
    grammar(language).is_some()
}

/// What the language's grammar calls the places at which something can be left out.
pub fn places(language: Language) -> Option<&'static Places> {
    grammar(language).map(|g| &g.places)
}

/// A text parsed by its grammar, and again after a small change.
pub struct Parsing {
    parser: Parser,
}

impl Parsing {
    /// A parser for a language; `None` for data.
    pub fn new(language: Language) -> Option<Parsing> {
        let grammar = grammar(language)?;
        let mut parser = Parser::new();
        parser.set_language(&(grammar.load)()).ok()?;
        Some(Parsing { parser })
    }

    /// The grammar's own tree of a text, which may hold errors; `None` when that would take more
    /// work than is left.
    pub fn parse(
        &mut self,
        text: &str,
        old: Option<&tree_sitter::Tree>,
        work: &Work,
    ) -> Option<tree_sitter::Tree> {
        let mut told = |_: &tree_sitter::ParseState| match work.goes_on() {
            true => ControlFlow::Continue(()),
            false => ControlFlow::Break(()),
        };
        let options = tree_sitter::ParseOptions::new().progress_callback(&mut told);
        let mut rest = |at: usize, _| text.as_bytes().get(at..).unwrap_or_default();
        let tree = self.parser.parse_with_options(&mut rest, old, Some(options));
        if tree.is_none() {
            // What it had begun is not gone on with.
            self.parser.reset();
        }
        tree
    }
}

thread_local! {
    static PARSERS: RefCell<Vec<(Language, Parsing)>> = const { RefCell::new(Vec::new()) };
}

/// Runs `with` with a parser of this thread; setting one up costs more than most files.
pub fn with_parser<T>(language: Language, with: impl FnOnce(&mut Parsing) -> T) -> Option<T> {
    PARSERS.with_borrow_mut(|all| {
        if !all.iter().any(|(l, _)| *l == language) {
            all.push((language, Parsing::new(language)?));
        }
        let (_, parsing) = all.iter_mut().find(|(l, _)| *l == language)?;
        Some(with(parsing))
    })
}

/// The tree of all languages, from the grammar's own.
pub fn tree(language: Language, text: &str, parsed: &tree_sitter::Tree) -> Tree {
    grammar(language).map_or_else(Tree::default, |g| grammar::tree(g, text, parsed))
}

#[cfg(test)]
mod tests {
    use super::*;
    use izba_model::code::{Flag, Kind};

    #[test]
    fn the_table_is_sorted_and_each_grammar_loads_and_has_its_dialect() {
        assert!(GRAMMARS.is_sorted_by_key(|g| g.id));
        for grammar in GRAMMARS {
            let language = Language::of_id(grammar.id).expect("a file of dialects");
            assert!(language.is_code() && Parsing::new(language).is_some(), "{}", grammar.id);
            assert!(!grammar.places.blocks.is_empty());
            let calls = &language.calls;
            assert!(!calls.adds.is_empty() && !calls.removes.is_empty(), "{}", grammar.id);
        }
    }

    #[test]
    fn every_row_names_kinds_that_a_grammar_has_and_no_kind_stands_in_two() {
        let has = |grammar: &Grammar, kind: &str| {
            let language = (grammar.load)();
            [true, false].iter().any(|named| language.id_for_node_kind(kind, *named) != 0)
        };
        let mut wrong = Vec::new();
        for grammar in GRAMMARS {
            // Two grammars may share their rows.
            let rows = |g: &Grammar| g.nodes.iter().map(|(kinds, _)| *kinds).collect::<Vec<_>>();
            let own = rows(grammar);
            let sharing = || GRAMMARS.iter().filter(|g| rows(g) == own);
            let mut seen: Vec<&str> = Vec::new();
            for kind in grammar.nodes.iter().flat_map(|(kinds, _)| kinds.iter().copied()) {
                if seen.contains(&kind) || !sharing().any(|g| has(g, kind)) {
                    wrong.push(format!("{}: {kind}", grammar.id));
                }
                seen.push(kind);
            }
        }
        assert_eq!(wrong, Vec::<String>::new(), "not in the grammar, or twice");
    }

    #[test]
    fn nothing_and_truth_are_no_names_in_any_language() {
        let lines = [
            ("component", "rope = null; wet = true;"),
            ("csharp", "class A { int f() { rope = null; wet = true; } }"),
            ("html", "rope = null; wet = true;"),
            ("java", "class A { int f() { rope = null; wet = true; } }"),
            ("javascript", "rope = null; wet = true;"),
            ("kotlin", "fun f() { rope = null; wet = true }"),
            ("lua", "rope = nil; wet = true"),
            ("python", "rope = None\nwet = True"),
            ("tsx", "rope = null; wet = true;"),
            ("typescript", "rope = null; wet = true;"),
        ];
        assert!(lines.iter().map(|(id, _)| *id).eq(GRAMMARS.iter().map(|g| g.id)));
        for (id, text) in lines {
            let tree = tree_of(id, text);
            let given = |name: &str| {
                let target = tree.named(name).next().expect("it is assigned");
                target.assigned_value().map(|v| v.kind())
            };
            assert_eq!(given("rope"), Some(Kind::Nil), "{id}");
            assert_eq!(given("wet"), Some(Kind::Bool), "{id}");
        }
    }

    /// The same little program in each language that has all of it: a function with two parameters
    /// that walks a list, counts, asks a field and an entry, calls, and gives back a text.
    const SAME: &[(&str, &str)] = &[
        (
            "component",
            "class Lamp { light(oil: number, boat: Boat): string { let left = oil; \
             for (const wick of boat.wicks) { if (wick.dry) { left -= 1; } } \
             while (left > 3) { burn(boat.wicks[0]); } return 'lit'; } }",
        ),
        (
            "csharp",
            "class Lamp { string Light(int oil, Boat boat) { int left = oil; \
             foreach (var wick in boat.wicks) { if (wick.dry) { left -= 1; } } \
             while (left > 3) { Burn(boat.wicks[0]); } return \"lit\"; } }",
        ),
        (
            "html",
            "class Lamp { light(oil, boat) { let left = oil; \
             for (const wick of boat.wicks) { if (wick.dry) { left -= 1; } } \
             while (left > 3) { burn(boat.wicks[0]); } return 'lit'; } }",
        ),
        (
            "java",
            "class Lamp { String light(int oil, Boat boat) { int left = oil; \
             for (Wick wick : boat.wicks) { if (wick.dry) { left -= 1; } } \
             while (left > 3) { burn(boat.wicks[0]); } return \"lit\"; } }",
        ),
        (
            "javascript",
            "class Lamp { light(oil, boat) { let left = oil; \
             for (const wick of boat.wicks) { if (wick.dry) { left -= 1; } } \
             while (left > 3) { burn(boat.wicks[0]); } return 'lit'; } }",
        ),
        (
            "kotlin",
            "class Lamp {\n fun light(oil: Int, boat: Boat): String {\n  var left = oil\n\
             for (wick in boat.wicks) { if (wick.dry) { left -= 1 } }\n\
             while (left > 3) { burn(boat.wicks[0]) }\n  return \"lit\"\n }\n}",
        ),
        (
            "lua",
            "function Lamp.light(oil, boat)\n local left = oil\n \
             for _, wick in ipairs(boat.wicks) do if wick.dry then left = left - 1 end end\n \
             while left > 3 do burn(boat.wicks[1]) end\n return 'lit'\nend",
        ),
        (
            "python",
            "class Lamp:\n def light(self, oil, boat):\n  left = oil\n  for wick in boat.wicks:\n   \
             if wick.dry:\n    left -= 1\n  while left > 3:\n   burn(boat.wicks[0])\n  return 'lit'\n",
        ),
        (
            "tsx",
            "class Lamp { light(oil: number, boat: Boat): string { let left = oil; \
             for (const wick of boat.wicks) { if (wick.dry) { left -= 1; } } \
             while (left > 3) { burn(boat.wicks[0]); } return 'lit'; } }",
        ),
        (
            "typescript",
            "class Lamp { light(oil: number, boat: Boat): string { let left = oil; \
             for (const wick of boat.wicks) { if (wick.dry) { left -= 1; } } \
             while (left > 3) { burn(boat.wicks[0]); } return 'lit'; } }",
        ),
    ];

    fn tree_of(id: &str, text: &str) -> Tree {
        let language = Language::of_id(id).expect("a language");
        let parsed = with_parser(language, |p| p.parse(text, None, &Work::mending())).flatten();
        tree(language, text, &parsed.expect("it parses"))
    }

    #[test]
    fn one_program_is_one_tree_in_all_languages() {
        assert!(SAME.iter().map(|(id, _)| *id).eq(GRAMMARS.iter().map(|g| g.id)));
        for (id, text) in SAME {
            let tree = tree_of(id, text);
            let all = |kind: Kind| tree.all().filter(|n| n.is(kind)).collect::<Vec<_>>();
            let named = |kind: Kind| all(kind).iter().filter_map(|n| n.text()).collect::<Vec<_>>();
            let function = all(Kind::Func).into_iter().find(|f| f.text().is_some());
            let function = function.unwrap_or_else(|| panic!("{id}: no function"));
            assert!(function.text().is_some_and(|t| t.eq_ignore_ascii_case("light")), "{id}");
            let params = function.params().filter_map(|p| p.text()).filter(|p| *p != "self");
            assert_eq!(params.collect::<Vec<_>>(), ["oil", "boat"], "{id}");
            // What is declared is given the parameter; what counts on, counts on.
            let left = tree.named("left").next().expect("it is declared");
            assert_eq!(left.assigned_value().and_then(|v| v.text()), Some("oil"), "{id}");
            assert_eq!(named(Kind::Str), ["lit"], "{id}");
            assert_eq!((all(Kind::ForIn).len(), all(Kind::While).len()), (1, 1), "{id}");
            assert_eq!((all(Kind::If).len(), all(Kind::Return).len()), (1, 1), "{id}");
            let fields = named(Kind::Field);
            for field in ["wicks", "dry"] {
                assert!(fields.contains(&field), "{id}: {field} in {fields:?}");
            }
            let entry = all(Kind::Index);
            assert_eq!(entry.len(), 1, "{id}");
            assert_eq!(entry[0].child(0).and_then(|n| n.last_name()), Some("wicks"), "{id}");
            let call = |n: &izba_model::code::At<'_>| {
                n.last_name().is_some_and(|name| name.eq_ignore_ascii_case("burn"))
            };
            let calls: Vec<_> = all(Kind::Call).into_iter().filter(call).collect();
            assert_eq!(calls.len(), 1, "{id}");
            assert_eq!(calls[0].arguments().count(), 1, "{id}");
            // The name that the loop gives its entries is made there.
            let wick = tree.named("wick").next().expect("it stands in the loop");
            assert_eq!(wick.defines(), Some(izba_model::code::How::Loop), "{id}");
            assert!(all(Kind::Other).iter().all(|n| !n.has(Flag::Broken)), "{id}");
        }
    }
}
