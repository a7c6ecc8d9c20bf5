//! What does not parse: one slip in a script that is well, the line that has to be told, and the
//! line as it is mended.

use super::*;
use crate::signs::Sort;

/// Scripts that are well, each with things that slips are made of.
const SOUND: &[(&str, &str)] = &[
    (
        "lua",
        "local pier = {}\n\nfunction pier.moor(boat, rope)\n  if rope.length < 4 then\n    \
        print(\"too short: \" .. rope.length)\n    return nil\n  end\n  for i = 1, #pier do\n    \
        pier[i] = { boat = boat, rope = rope }\n  end\n  return pier\nend\n\nreturn pier\n",
    ),
    (
        "python",
        "import math\n\n\nclass Pier:\n    def __init__(self, planks):\n        self.planks = \
        planks\n        self.boats = {\"heron\": 1, \"eel\": 2}\n\n    def moor(self, boat):\n        \
        if boat not in self.boats:\n            raise KeyError(boat)\n        return \
        math.sqrt(self.planks[0] * 2)\n\n\nprint(Pier([4, 5]).moor(\"eel\"))\n",
    ),
    (
        "javascript",
        "const ropes = [1, 2, 3];\n\nfunction moor(boat, { length, slack }) {\n  if (length < 4) {\n    \
        console.log(`too short: ${length}`);\n    return null;\n  }\n  return ropes.map((rope) => {\n    \
        return { boat, rope: rope + slack };\n  });\n}\n\nmodule.exports = { moor };\n",
    ),
    (
        "java",
        "import java.util.List;\n\nclass Pier {\n    private final List<String> boats = \
        List.of(\"heron\", \"eel\");\n\n    int moor(String boat, int length) {\n        if (length < 4) {\n            \
        System.out.println(\"too short: \" + length);\n            return -1;\n        }\n        return \
        boats.indexOf(boat);\n    }\n}\n",
    ),
    (
        "csharp",
        "using System;\n\nclass Pier\n{\n    string[] boats = { \"heron\", \"eel\" };\n\n    int Moor(string \
        boat, int length)\n    {\n        if (length < 4)\n        {\n            \
        Console.WriteLine(\"too short: \" + length);\n            return -1;\n        }\n        return \
        Array.IndexOf(boats, boat);\n    }\n}\n",
    ),
];

fn language(id: &str) -> Language {
    Language::of_id(id).expect("a language")
}

fn all(id: &str, text: &str) -> Vec<SyntaxFault> {
    faults(language(id), text, None, &by_grammar)
}

/// A script with one of its tokens gone, and the line it stood on.
fn without(id: &str, text: &str, gone: impl Fn(&Token<'_>) -> bool) -> Vec<(String, u32, String)> {
    let all = tokens(language(id), text);
    let chosen = all.iter().filter(|t| gone(t));
    chosen
        .map(|t| (format!("{}{}", &text[..t.start], &text[t.end()..]), t.line, t.text.to_owned()))
        .collect()
}

#[test]
fn sound_scripts_have_no_faults() {
    for (id, text) in SOUND {
        assert_eq!(all(id, text), [], "{id}");
    }
}

/// Of all the ways to lose one sign: how many are told at their line, and what is missed.
fn score(sign: impl Fn(&Token<'_>) -> bool + Copy, slack: u32) -> (usize, usize, String) {
    let (mut told, mut count, mut missed) = (0, 0, String::new());
    for (id, text) in SOUND {
        for (broken, line, sign) in without(id, text, sign) {
            let found = all(id, &broken);
            // What is taken as it is, is no fault.
            let Some(first) = found.first() else { continue };
            count += 1;
            if (first.line..=first.to_line.max(first.line)).any(|l| l.abs_diff(line) <= slack) {
                told += 1;
            } else {
                missed += &format!("{id}:{line} {sign} told at {}\n", first.line);
            }
        }
    }
    (told, count, missed)
}

#[test]
fn a_bracket_that_was_left_out_is_told_at_its_line() {
    let brackets = |t: &Token<'_>| matches!(t.text, "(" | ")" | "[" | "]");
    let (told, count, missed) = score(brackets, 0);
    assert!(count >= 50 && told * 100 >= count * 95, "{told} of {count}\n{missed}");
}

#[test]
fn an_end_of_a_block_that_was_left_out_is_told_near_its_line() {
    let ends = |t: &Token<'_>| matches!(t.text, "}" | "end");
    let (told, count, missed) = score(ends, 1);
    assert!(count >= 15 && told * 100 >= count * 90, "{told} of {count}\n{missed}");
}

#[test]
fn what_has_to_stand_between_two_things_is_told_where_it_is_gone() {
    let between = |t: &Token<'_>| matches!(t.text, "," | ":" | "then" | "do" | "=");
    let (told, count, missed) = score(between, 0);
    assert!(count >= 20 && told * 100 >= count * 85, "{told} of {count}\n{missed}");
}

#[test]
fn a_quote_that_was_left_out_is_told_at_its_line() {
    for (id, text) in SOUND {
        for token in tokens(language(id), text).iter().filter(|t| t.sort == Sort::Text) {
            if token.text.contains('\n') || token.text.starts_with('`') {
                continue;
            }
            for at in [token.start, token.end() - 1] {
                let broken = format!("{}{}", &text[..at], &text[at + 1..]);
                let found = all(id, &broken);
                let line = found.first().map(|f| f.line);
                assert_eq!(line, Some(token.line), "{id} {} without {at}", token.text);
            }
        }
    }
}

#[test]
fn the_line_is_told_as_it_is_mended() {
    for (id, broken, line, mended) in [
        ("lua", "print((1 + 2)\nprint(3)\n", 1, "print((1 + 2))"),
        ("lua", "if a\n  b()\nend\n", 1, "if a then"),
        ("lua", "boat:moor\nreturn 2\n", 1, "boat:moor()"),
        ("lua", "local a = {}\n\na.moor(b)\n  f(b)\nend\n\nreturn a\n", 3, "function a.moor(b)"),
        ("python", "def moor:\n    return 2\n", 1, "def moor():"),
        ("javascript", "class A {\n  moor {\n    f(1);\n  }\n}\n", 2, "  moor() {"),
        ("lua", "local t = { 1, 2\nprint(t)\n", 1, "}"),
        ("python", "def moor(boat)\n    return boat\n", 1, "def moor(boat):"),
        ("python", "print('tide)\nprint(2)\n", 1, "print('tide')"),
        ("javascript", "const a = [1, 2;\nf(a);\n", 1, "const a = [1, 2];"),
        ("javascript", "f(1, 2));\ng();\n", 1, "f(1, 2);"),
        ("java", "class A {\n  int b = 4\n  int c;\n}\n", 2, "  int b = 4;"),
    ] {
        let found = all(id, broken);
        let first = found.first().map(|f| (f.line, f.mended.as_deref()));
        assert_eq!(first, Some((line, Some(mended))), "{broken}");
        assert_eq!(found.len(), 1, "{broken} {found:?}");
    }
}

/// A component with tags in all the ways in which they are written.
const TAGGED: &str = "import { Rope } from './rope';\n\nexport function Pier({ boats, onMoor }) {\n  if \
    (boats.length < 1) {\n    return <p>Nothing's here</p>;\n  }\n  return (\n    <section \
    className=\"pier\">\n      <Rope length={boats.length > 2 ? 4 : 2} />\n      <ul>\n        \
    {boats.map((boat) => (\n          <li key={boat.name}>{boat.name}</li>\n        ))}\n      \
    </ul>\n      <button onClick={() => onMoor(boats[0])}>\n        Moor <b>now</b>\n      \
    </button>\n    </section>\n  );\n}\n";

#[test]
fn a_tag_that_is_not_closed_is_told_where_it_opens_or_has_to_end_and_closed_there() {
    for id in ["javascript", "tsx"] {
        assert_eq!(all(id, TAGGED), [], "{id}");
        let closers: Vec<(usize, &str)> = TAGGED
            .match_indices("</")
            .map(|(at, _)| (at, TAGGED[at..].split_inclusive('>').next().expect("its end")))
            .collect();
        assert_eq!(closers.len(), 6);
        for (at, closer) in closers {
            let broken = format!("{}{}", &TAGGED[..at], &TAGGED[at + closer.len()..]);
            let found = all(id, &broken);
            let first = found.first().unwrap_or_else(|| panic!("{id} without {closer}"));
            let opener = closer.replace('/', "");
            let opens = TAGGED[..at].rfind(opener.trim_end_matches('>')).expect("it opens");
            let line = |at: usize| TAGGED[..at].matches('\n').count() as u32 + 1;
            assert!(
                (line(opens)..=line(at)).contains(&first.line),
                "{id} {closer} told at {}: {found:?}",
                first.line
            );
            let piece = first.piece.as_ref().expect("an edit");
            let mended = format!(
                "{}{}{}",
                &broken[..piece.at],
                piece.insert,
                &broken[piece.at + piece.remove..]
            );
            let bare = |text: &str| text.replace([' ', '\n'], "");
            assert_eq!(bare(&mended), bare(TAGGED), "{id} {closer}");
        }
    }
}

#[test]
fn a_tag_that_closes_nothing_or_another_is_told() {
    for (from, to, mended) in [
        ("</b>\n", "</i>\n", "        Moor <b>now</b>"),
        ("</b>\n", "</b></b>\n", "        Moor <b>now</b>"),
        ("length={boats.length > 2 ? 4 : 2} />", "length={4}>", "      <Rope length={4} />"),
    ] {
        // Not all of this is refused by the grammar: the console says that it can't be read.
        let broken = TAGGED.replacen(from, to, 1);
        let noticed = Noticed { line: 17, ..Noticed::default() };
        let found = faults(language("tsx"), &broken, Some(noticed), &by_grammar);
        let first = found.first().and_then(|f| f.mended.as_deref());
        assert_eq!(first, Some(mended), "{to}: {found:?}");
    }
}

#[test]
fn several_faults_are_told_each_at_its_own_line_though_repairs_put_lines_in() {
    let broken = "function a()\n  b(\nend\n\nfunction c()\n  d[1 = 2\nend\n";
    let lines: Vec<u32> = all("lua", broken).iter().map(|f| f.line).collect();
    assert_eq!(lines, [2, 6]);
    let open = "function a()\n  if b then\n    c()\nend\n\nfunction d(e\n  f()\nend\n";
    let mut lines: Vec<u32> = all("lua", open).iter().map(|f| f.line).collect();
    lines.sort_unstable();
    assert_eq!(lines, [3, 6]);
}

#[test]
fn what_the_languages_own_parser_says_is_kept_to() {
    let lua = language("lua");
    let broken = "print((1 + 2)\n";
    let takes = |_: Language, _: &str| Some(true);
    assert_eq!(faults(lua, broken, None, &takes), []);
    let free = faults(lua, broken, None, &by_grammar);
    assert_eq!(free[0].mended.as_deref(), Some("print((1 + 2))"));
    // Where it refuses all, nothing is left out.
    let refuses = |_: Language, _: &str| Some(false);
    assert_eq!(faults(lua, broken, None, &refuses)[0].mended, free[0].mended);
}

#[test]
fn what_no_sign_mends_is_told_where_reading_stopped() {
    let found = all("lua", "local a = 1\n<<<<<<< ours\nlocal b = 2\n");
    assert_eq!(found[0].line, 2, "{found:?}");
}
