//! Rough trees: the same little program in each language, what only one of them has, and any text.

use super::{is_rough, tree};
use izba_model::code::{Flag, How, Kind, Language, Tree};
use proptest::prelude::*;

/// A type with a function of two parameters that walks a list, counts, asks a field and an entry,
/// calls, and gives back a text.
const SAME: &[(&str, &str)] = &[
    (
        "cpp",
        "class Lamp { public: string light(int oil, Boat* boat) { int left = oil; \
         for (auto& wick : boat->wicks) { if (wick.dry) { left -= 1; } } \
         while (left > 3) { burn(boat->wicks[0]); } return \"lit\"; } };",
    ),
    (
        "dart",
        "class Lamp { String light(int oil, Boat boat) { var left = oil; \
         for (final wick in boat.wicks) { if (wick.dry) { left -= 1; } } \
         while (left > 3) { burn(boat.wicks[0]); } return 'lit'; } }",
    ),
    (
        "go",
        "type Lamp struct {\n}\nfunc (l *Lamp) Light(oil int, boat *Boat) string {\n left := oil\n \
         for _, wick := range boat.wicks {\n if wick.dry {\n left -= 1\n }\n }\n for left > 3 {\n \
         burn(boat.wicks[0])\n }\n return \"lit\"\n}\n",
    ),
    (
        "perl",
        "package Lamp;\nsub light { my ($self, $oil, $boat) = @_;\n my $left = $oil;\n \
         foreach my $wick (@{$boat->{wicks}}) { if ($wick->{dry}) { $left -= 1; } }\n \
         while ($left > 3) { burn($boat->wicks->[0]); }\n return 'lit'; }\n",
    ),
    (
        "php",
        "<?php class Lamp { function light(int $oil, $boat) { $left = $oil; \
         foreach ($boat->wicks as $wick) { if ($wick->dry) { $left -= 1; } } \
         while ($left > 3) { burn($boat->wicks[0]); } return 'lit'; } }",
    ),
    (
        "ruby",
        "class Lamp\n def light(oil, boat)\n  left = oil\n  for wick in boat.wicks\n   \
         if wick.dry then left -= 1 end\n  end\n  while left > 3\n   burn(boat.wicks[0])\n  end\n  \
         return 'lit'\n end\nend\n",
    ),
    (
        "rust",
        "struct Lamp {}\nimpl Lamp { fn light(&self, oil: i32, boat: &Boat) -> String { \
         let mut left = oil; for wick in boat.wicks { if wick.dry { left -= 1; } } \
         while left > 3 { burn(boat.wicks[0]); } return \"lit\"; } }",
    ),
    (
        "swift",
        "class Lamp { func light(oil: Int, boat: Boat) -> String { var left = oil\n \
         for wick in boat.wicks { if wick.dry { left -= 1 } }\n \
         while left > 3 { burn(boat.wicks[0]) }\n return \"lit\" } }",
    ),
];

fn of(id: &str, text: &str) -> Tree {
    tree(Language::of_id(id).expect("a language"), text)
}

#[test]
fn one_program_is_one_tree_in_all_languages() {
    for (id, text) in SAME {
        let language = Language::of_id(id).expect("a language");
        assert!(is_rough(language) && !crate::lang::has_grammar(language), "{id}");
        let tree = of(id, text);
        let all = |kind: Kind| tree.all().filter(|n| n.is(kind)).collect::<Vec<_>>();
        let function = all(Kind::Func)
            .into_iter()
            .find(|f| f.text().is_some_and(|t| t.eq_ignore_ascii_case("light")));
        let function = function.unwrap_or_else(|| panic!("{id}: no function"));
        assert!(function.has(Flag::Method), "{id}");
        let params = function.params().filter_map(|p| p.text());
        let params: Vec<&str> = params.filter(|p| !matches!(*p, "self" | "l")).collect();
        assert_eq!(params, ["oil", "boat"], "{id}");
        let left = tree.named("left").next().expect("it is declared");
        assert_eq!(left.assigned_value().and_then(|v| v.text()), Some("oil"), "{id}");
        assert!(tree.named("lit").any(|n| n.is(Kind::Str)), "{id}");
        let loops = (all(Kind::ForIn).len(), all(Kind::While).len());
        assert_eq!(loops, (1, 1), "{id}");
        assert_eq!((all(Kind::If).len(), all(Kind::Return).len()), (1, 1), "{id}");
        let named =
            |word: &str| tree.named(word).any(|n| matches!(n.kind(), Kind::Field | Kind::Str));
        assert!(named("wicks") && named("dry"), "{id}");
        let burn = tree.named("burn").next().and_then(|n| n.parent()).expect("it is called");
        assert!(burn.is(Kind::Call) && burn.arguments().count() == 1, "{id}");
        assert!(burn.arguments().all(|a| a.is(Kind::Index)), "{id}");
        let wick = tree.named("wick").next().expect("it stands in the loop");
        assert_eq!(wick.defines(), Some(How::Loop), "{id}");
        assert!(tree.named("Lamp").any(|n| n.is(Kind::Class)), "{id}");
    }
}

/// A node drawn with all below it.
fn drawn(id: &str, text: &str) -> String {
    let tree = of(id, text);
    let root = tree.root().expect("a file");
    root.children().map(|c| c.sketch()).collect::<Vec<_>>().join("\n")
}

#[test]
fn what_only_one_of_them_has() {
    let lines = [
        (
            "ruby",
            "@boats << boat unless @boats.full?",
            "(If (Un not (Field full? (Field boats (Name self)))) (Block (Call (Field push (Field boats \
             (Name self))) (Name boat))))",
        ),
        (
            "ruby",
            "puts boats.map { |b| b.name }, :done",
            "(Call (Name puts) (Call (Field map (Name boats)) (Func (Params (Param b)) (Block (Field \
             name (Name b))))) (Str done))",
        ),
        (
            "go",
            "boat := &Boat{Name: \"teal\"}",
            "(Assign (Targets (Name boat)) (Values (New Boat (Pair Name (Str teal)))))",
        ),
        (
            "rust",
            "let c = '{'; println!(\"{}\", c);",
            "(Assign (Targets (Name c)) (Values (Str {)))\n(Call (Name println) (Str {}) (Name c))",
        ),
        (
            "cpp",
            "int depth(int);\nPier pier(\"mill\", 3);",
            "(Other)\n(Assign (Targets (Name pier)) (Values (New Pier (Str mill) (Num 3))) (Type Pier))",
        ),
        (
            "php",
            "$sum .= $rows['tea'] ?? 0;",
            "(Assign (Targets (Name sum)) (Values (Bin ?? (Index (Name rows) (Str tea)) (Num 0))))",
        ),
        (
            "swift",
            "guard let one = boats.first else { return }",
            "(If (Un not (Assign (Targets (Name one)) (Values (Field first (Name boats))))) (Block \
             (Return)))",
        ),
        (
            "perl",
            "die \"no\" unless $pier->{count} > 1;",
            "(If (Un not (Bin > (Index (Name pier) (Str count)) (Num 1))) (Block (Throw (Str no))))",
        ),
        ("rust", "fn f() -> i32 { g() }", "(Func f (Params) (Block (Return (Call (Name g)))))"),
        ("rust", "fn f() { g(); }", "(Func f (Params) (Block (Call (Name g))))"),
        ("ruby", "def f\n @a\nend", "(Func f (Params) (Block (Return (Field a (Name self)))))"),
    ];
    for (id, text, expected) in lines {
        assert_eq!(drawn(id, text), expected, "{id}: {text}");
    }
}

#[test]
fn however_long_a_chain_is_the_tree_stays_shallow_and_what_follows_is_read() {
    for link in [".a", "+ 1", "(1)", "[1]", ".a(1)"] {
        for (id, _) in SAME {
            let text = format!("x = b{};\ny = c;\n", link.repeat(4_000));
            let tree = of(id, &text);
            let deepest = tree.all().map(|n| n.ancestors().count()).max();
            assert!(deepest.is_some_and(|d| d < 400), "{id} {link}: {deepest:?}");
        }
    }
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 128, ..ProptestConfig::default() })]

    /// Any text is read to its end, and every node stands in its parent and in the text.
    #[test]
    fn any_text_is_read(
        which in 0usize..8,
        words in proptest::collection::vec(
            "[(){}\\[\\]<>;:,.=|&@$'\"\n]|if|end|do|def|fn|class|for|in|return|x|let|::|->|=>",
            0..60,
        ),
    ) {
        let (id, _) = SAME[which];
        let text = words.join(" ");
        let tree = of(id, &text);
        for node in tree.all() {
            let (from, to) = node.span();
            prop_assert!(from <= to && to <= text.len());
            prop_assert!(node.line() as usize <= text.lines().count().max(1));
        }
    }

    /// What is cut off in the middle of a program leaves what stands above as it was.
    #[test]
    fn what_is_cut_off_is_still_read(which in 0usize..8, cut in 0usize..400) {
        let (id, text) = SAME[which];
        let cut = cut.min(text.len());
        let tree = of(id, &text[..cut]);
        prop_assert!(tree.all().count() >= 1);
    }
}
