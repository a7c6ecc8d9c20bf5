//! Tokens, pairs and ladders: what each language writes, and what holds of any text.

use super::*;
use proptest::prelude::*;

fn language(id: &str) -> Language {
    Language::of_id(id).expect("a language")
}

/// The tokens of a text, each with a letter for its sort.
fn told(id: &str, text: &str) -> String {
    let each = tokens(language(id), text).into_iter().map(|t| {
        let sort = match t.sort {
            Sort::Word => 'w',
            Sort::Number => 'n',
            Sort::Text => 't',
            Sort::Unclosed => 'u',
            Sort::Sign => 's',
        };
        format!("{sort}{}", t.text.replace('\n', "⏎"))
    });
    each.collect::<Vec<_>>().join(" ")
}

#[test]
fn comments_are_left_out_in_the_way_of_each_language() {
    for (id, text) in [
        ("lua", "a -- b(\nc --[[ d\n ) ]] e --[==[ ]] ]==] f"),
        ("python", "a # b(\nc e # ) \nf"),
        ("javascript", "a // b(\nc /* d\n ) */ e /* ' */ f"),
        ("java", "a // b(\nc /* d\n ) */ e /* \" */ f"),
        ("csharp", "a // b(\nc /* d\n ) */ e /* \" */ f"),
    ] {
        assert_eq!(told(id, text), "wa wc we wf", "{id}");
    }
    // What is never closed hides the rest, and nothing above it.
    assert_eq!(told("javascript", "a /* b\nc"), "wa");
}

#[test]
fn texts_are_one_token_each_and_end_where_their_language_ends_them() {
    assert_eq!(
        told("lua", "x = 'a\\'b' .. [[c\n'd]] .. [=[e]]f]=]"),
        "wx s= t'a\\'b' s.. t[[c⏎'d]] s.. t[=[e]]f]=]"
    );
    assert_eq!(
        told("python", "x = '''a\n'b''' + f\"{c['d']}\""),
        "wx s= t'''a⏎'b''' s+ tf\"{c['d']}\""
    );
    assert_eq!(
        told("javascript", "`a ${ {b: `c`}[d] } e` + 'f'"),
        "t`a ${ {b: `c`}[d] } e` s+ t'f'"
    );
    assert_eq!(told("java", "\"a\\\"b\" + 'c'"), "t\"a\\\"b\" s+ t'c'");
    // One that is not closed ends with its line; what stands below is read.
    assert_eq!(told("lua", "x = 'abc\ny"), "wx s= u'abc wy");
    assert_eq!(told("javascript", "x = \"abc\ny()"), "wx s= u\"abc wy s( s)");
    assert_eq!(told("python", "x = '''abc\ny"), "wx s= u'''abc⏎y");
}

#[test]
fn a_pattern_is_told_from_a_division() {
    assert_eq!(
        told("javascript", "a = /[/\"]'/g; b = c / d / e"),
        "wa s= t/[/\"]'/g s; wb s= wc s/ wd s/ we"
    );
    assert_eq!(told("javascript", "f(/'/) + (a) / 2"), "wf s( t/'/ s) s+ s( wa s) s/ n2");
}

#[test]
fn pairs_are_matched_in_their_order_with_words_as_with_brackets() {
    let lua = language("lua");
    let text = "for i = 1, 2 do f(x[i]) end while a do b() end repeat c() until d";
    let all = tokens(lua, text);
    let told: Vec<String> = pairs(lua, &all)
        .into_iter()
        .map(|p| {
            let at = |t: Option<usize>| t.map_or("-", |t| all[t].text);
            format!("{}{} {}", at(p.open), at(p.close), p.depth)
        })
        .collect();
    assert_eq!(told, ["forend 0", "() 1", "[] 2", "whileend 0", "() 1", "repeatuntil 0", "() 1"]);
    // A field of the name of a block word opens nothing.
    let field = tokens(lua, "a.end = b.function");
    assert!(pairs(lua, &field).is_empty());
    let stray = tokens(lua, "f(]) end");
    let all: Vec<_> = pairs(lua, &stray).iter().map(|p| (p.open, p.close, p.mixed)).collect();
    assert_eq!(all, [(Some(1), Some(2), true), (None, Some(3), false), (None, Some(4), false)]);
}

#[test]
fn a_ladder_tells_what_is_open_stray_or_slanted() {
    let clashes = |text: &str| -> Vec<(u32, Option<u32>, Clash)> {
        ladder(language("lua"), text).into_iter().map(|r| (r.from, r.to, r.clash)).collect()
    };
    let sound = "function a()\n  if b then\n    c(1)\n  end\nend\n";
    assert_eq!(clashes(sound), [(1, Some(5), Clash::None), (2, Some(4), Clash::None)]);
    let open = sound.replace("  end\n", "");
    assert_eq!(clashes(&open), [(1, None, Clash::Open), (2, Some(4), Clash::Slanted)]);
    let stray = format!("{sound}end\n");
    assert_eq!(clashes(&stray)[2], (6, Some(6), Clash::Stray));
    // On one line only what disagrees is told.
    assert_eq!(clashes("f(1)\ng(2\n"), [(2, None, Clash::Open)]);
}

#[test]
fn a_script_is_indented_by_its_blocks_and_python_stays() {
    let flat = "function a()\nif b then\nc([[\n x]])\nelse\nd({\n1,\n})\nend\nend";
    assert_eq!(
        reindented(language("lua"), flat).join("\n"),
        "function a()\n  if b then\n    c([[\n x]])\n  else\n    d({\n      1,\n    })\n  end\nend"
    );
    let python = "if a:\n      b()";
    assert_eq!(reindented(language("python"), python).join("\n"), python);
    // The step is the script's own.
    let wide = "if (a) {\n    b();\nc();\n}";
    assert_eq!(reindented(language("javascript"), wide)[1..3], ["    b();", "    c();"]);
}

#[test]
fn a_sound_script_has_no_unrest_and_each_fault_makes_some() {
    for (id, sound, broken) in [
        ("lua", "if a then\n  b()\nend\n", "if a then\n  b()\n"),
        ("lua", "if a then\n  b()\nend\n", "if a then\nb()\nend\n"),
        ("javascript", "if (a) {\n  b();\n}\n", "if (a {\n  b();\n}\n"),
        ("javascript", "f({\n  a: 1,\n});\n", "f({\n  a: 1,\n]);\n"),
        ("java", "class A {\n  int b;\n}\n", "class A {\n  int b;\n}}\n"),
        ("python", "if a:\n    b()\nc()\n", "b()\n    c()\n"),
    ] {
        let of = |text: &str| unrest(language(id), &tokens(language(id), text));
        assert_eq!(of(sound), 0.0, "{sound}");
        assert!(of(broken) > 0.0, "{broken}");
    }
}

proptest! {
    /// Tokens stand in their order, do not touch what is between them, and know their lines.
    #[test]
    fn tokens_are_parts_of_the_text_in_their_order(
        text in "[a-c1 \t\n'\"`(){}\\[\\]/*#=.,:;\\\\$é-]{0,60}",
        which in 0usize..5,
    ) {
        let language = language(["lua", "python", "javascript", "java", "csharp"][which]);
        let mut end = 0;
        for token in tokens(language, &text) {
            prop_assert!(token.start >= end && !token.text.is_empty());
            prop_assert_eq!(&text[token.start..token.end()], token.text);
            let above = text[..token.start].matches('\n').count() as u32;
            prop_assert_eq!(token.line, above + 1);
            let begun = text[..token.start].rsplit('\n').next().unwrap_or_default();
            prop_assert!(!token.first || !begun.contains(['(', ')', 'b', '1']) || begun.contains(['/', '-', '#', '*']),
                "{:?} behind {:?}", token, begun);
            end = token.end();
        }
    }

    /// Each closer closes one opener above it, and what is within a pair is closed within it.
    #[test]
    fn pairs_lie_within_one_another(text in "[(){}\\[\\] \n]{0,40}") {
        let lua = language("lua");
        let all = pairs(lua, &tokens(lua, &text));
        let spans: Vec<(usize, usize)> =
            all.iter().filter_map(|p| Some((p.open?, p.close?))).collect();
        for (at, one) in spans.iter().enumerate() {
            prop_assert!(one.0 < one.1);
            for other in &spans[at + 1..] {
                let apart = other.0 > one.1 || other.1 < one.0;
                let within = other.0 > one.0 && other.1 < one.1 || one.0 > other.0 && one.1 < other.1;
                prop_assert!(apart || within, "{:?} {:?}", one, other);
            }
        }
    }

    /// What was indented once stays as it is, and only the space before lines is touched.
    #[test]
    fn indenting_again_changes_nothing(lines in prop::collection::vec("(if a then|else|end|f\\(|\\)|x = 1| y\\(\\{|\\}\\)|  z)", 0..12)) {
        let lua = language("lua");
        let text = lines.join("\n");
        let once = reindented(lua, &text);
        prop_assert_eq!(once.iter().map(|l| l.trim()).collect::<Vec<_>>(), text.lines().map(str::trim).collect::<Vec<_>>());
        let again = reindented(lua, &once.join("\n"));
        // The step may be another where the first text had none.
        let deep = |all: &[String]| all.iter().map(|l| l.len() - l.trim_start().len() > 0).collect::<Vec<_>>();
        prop_assert_eq!(deep(&once), deep(&again));
    }
}
