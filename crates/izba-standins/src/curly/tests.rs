//! What the small compiler says and does, beyond the faults that the demo plants.

use super::{Language, Machine, Value, check, parse};
use proptest::prelude::*;

/// What the compiler says of a source, a line each; or what running `main` of its first class
/// gives.
fn said(language: Language, source: &str) -> String {
    let classes = match parse("f", source, language) {
        Ok(classes) => classes,
        Err(p) => return format!("{}:{} {} {}", p.line, p.column, p.code, p.message),
    };
    let problems =
        if language == Language::Kotlin { Vec::new() } else { check(language, &classes, &classes) };
    if !problems.is_empty() {
        return problems
            .iter()
            .map(|p| {
                format!("{}:{} {} {}", p.line, p.column, p.code, p.message.replace('\n', " /"))
            })
            .collect::<Vec<_>>()
            .join("; ");
    }
    let Some(first) = classes.first().map(|c| c.name.clone()) else { return "nothing".into() };
    let mut machine = Machine::new(language, classes);
    let ran = machine
        .make(&first, Vec::new())
        .and_then(|object| machine.call(&object, "main", Vec::new()));
    let printed = machine.take_said().join(" ");
    match ran {
        Ok(value) => format!("{printed}={}", value.spoken()),
        Err(raised) => {
            let steps: Vec<String> =
                raised.frames.iter().take(3).map(|f| format!("{}:{}", f.method, f.line)).collect();
            format!("{printed}!{} at {}", raised.sentence(), steps.join(" "))
        }
    }
}

#[track_caller]
fn check_said(language: Language, cases: &[(&str, &str)]) {
    for (source, expected) in cases {
        assert_eq!(said(language, source), *expected, "{source}");
    }
}

#[test]
fn java_is_compiled_and_run_as_java_is() {
    check_said(
        Language::Java,
        &[
            (
                "class A { int main() { int s = 0; for (int n : two()) { s += n; } return \
                    s * 10 % 7; } List<Integer> two() { return null; } }",
                "!java.lang.NullPointerException: Cannot \
                    invoke \"java.util.List.iterator()\" because the return value \
                    of \"A.two()\" is null at main:1",
            ),
            (
                "class A { String main() { int i = 0; while (i < 3) { i++; if (i == 2) { \
                    break; } } return \"i\" + i + -i; } }",
                "=i2-2",
            ),
            (
                "class A { int main() { try { return one(); } catch (RuntimeException e) { \
                    System.out.println(e.getMessage()); throw new \
                    IllegalStateException(\"late\", e); } } int one() { throw new \
                    RuntimeException(\"early\"); } }",
                "early!java.lang.IllegalStateException: late at main:1",
            ),
            (
                "class A {\n int main() {\n  return Integer.parseInt(\"x\");\n }\n}",
                "!java.lang.NumberFormatException: For input string: \"x\" at \
                    forInputString:67 parseInt:668 main:3",
            ),
            (
                "class A { int main() { return main(); } }",
                "!java.lang.StackOverflowError at main:1 main:1 main:1",
            ),
            (
                "class A { B b; int main() { return b.c.size(); } }\nclass B { C c; \
                    }\nclass C { int size() { return 1; } }",
                "!java.lang.NullPointerException: Cannot read field \"c\" \
                    because \"this.b\" is null at main:1",
            ),
            (
                "class A { int main() { return find(\"x\").size(); } C find(String s) { \
                    return null; } }\nclass C { int size() { return 1; } }",
                "!java.lang.NullPointerException: Cannot invoke \"C.size()\" because the \
                    return value of \"A.find(String)\" is null at main:1",
            ),
            (
                "class A { int main() { return 1 / 0; } }",
                "!java.lang.ArithmeticException: / by zero at main:1",
            ),
            (
                "class A { int main() { while (true) { } } }",
                "!java.lang.InterruptedException: stopped after 1000000 steps at main:1",
            ),
            (
                "class A { static int main() { return lost + own(); } int own() { return \
                    nine; } int nine = \"9\"; }",
                "1:38  cannot find symbol /  symbol:   variable lost /  location: class A; \
                    1:45  non-static method own() cannot be referenced from a static context; \
                    1:92  incompatible types: String cannot be converted to int",
            ),
            ("class A {\n int main() {\n  return 1\n }\n}", "3:10  ';' expected"),
            ("class A { int main() { return 1; }", "1:34  reached end of file while parsing"),
            ("class A { String s = \"open; }", "1:22  unclosed string literal"),
        ],
    );
}

#[test]
fn csharp_is_compiled_as_csharp_is() {
    check_said(
        Language::CSharp,
        &[
            (
                "class A { public int main() { int a; int b = 1; return 2; } }",
                "1:35 CS0168 The variable `a' is declared but never used; 1:42 CS0219 The \
                    variable `b' is assigned but its value is never used",
            ),
            (
                "class A { public int main() { foreach (var x in new List<int>()) { return \
                    x; } return y; } }",
                "1:87 CS0103 The name `y' does not exist in the current context",
            ),
            (
                "class A { int go(string s) { return 1; } public int main() { return go(4); } }",
                "1:72 CS1503 Argument `#1' cannot convert `int' expression to type `string'",
            ),
            (
                "class A { public int main() { var b = new B(); return b.size; } }\nclass B { }",
                "1:57 CS1061 Type `B' does not contain a definition for `size' and no \
                    extension method `size' of type `B' could be found. Are you missing an \
                    assembly reference?",
            ),
            (
                "class A { public int main() { return (1; } }",
                "1:40 CS1525 Unexpected symbol `;', expecting `)'",
            ),
        ],
    );
}

#[test]
fn kotlin_is_run_as_kotlin_is() {
    check_said(
        Language::Kotlin,
        &[
            (
                "class A {\n fun main(): Int {\n  val xs = listOf(1, 2, 3)\n  var s = 0\n  \
                    for (x in xs) {\n   s = s + x\n  }\n  println(\"sum $s!\")\n  return \
                    xs[3]\n }\n}",
                "sum 6!!java.lang.IndexOutOfBoundsException: Index 3 out of bounds for \
                    length 3 at outOfBounds:100 checkIndex:302 checkIndex:385",
            ),
            (
                "class A {\n fun main() = word(\"b\")\n fun word(w: String): Int {\n  when \
                    (w) {\n   \"a\", \"b\" -> return 2\n   else -> return 3\n  }\n }\n}",
                "=2",
            ),
            (
                "class A { fun main() { val m: Map<String, String>? = null\n println(m!!.size) } }",
                "!java.lang.NullPointerException at main:2",
            ),
            ("class A {\n fun main() {\n  val = 3\n }\n}", "3:7  Expecting an element"),
        ],
    );
}

#[test]
fn values_cross_from_json_and_back_into_words() {
    let json = serde_json::json!({"a": [1, 2.5, null, true], "b": "text"});
    assert_eq!(Value::from_json(&json).spoken(), "{a=[1, 2.5, null, true], b=text}");
}

proptest! {
    /// Whatever a beginner makes of a source, the compiler answers, and points into the file.
    #[test]
    fn any_edit_of_a_source_is_answered(which in 0usize..24, at in 0usize..4000, len in 0usize..12, put in "[(){};.,=+\"a-z0-9 \n<>!]{0,6}") {
        let files: Vec<_> = crate::world::files().into_iter().filter(|(p, _)| [".java", ".cs", ".kt"].iter().any(|e| p.ends_with(e))).collect();
        let (path, text) = &files[which % files.len()];
        let language = match path.rsplit('.').next() {
            Some("java") => Language::Java,
            Some("cs") => Language::CSharp,
            _ => Language::Kotlin,
        };
        let chars: Vec<char> = text.chars().collect();
        let at = at % chars.len();
        let edited: String = chars[..at].iter().copied().chain(put.chars()).chain(chars[(at + len).min(chars.len())..].iter().copied()).collect();
        let lines = edited.lines().count().max(1);
        match parse(path, &edited, language) {
            Err(problem) => prop_assert!((1..=lines).contains(&problem.line), "{}: {problem:?}", edited),
            Ok(classes) => {
                for problem in check(language, &classes, &classes) {
                    prop_assert!((1..=lines).contains(&problem.line));
                }
            }
        }
    }

    #[test]
    fn deep_nesting_is_refused_not_fatal(depth in prop_oneof![1usize..80, 2000usize..3000]) {
        let source = format!("class A {{ int main() {{ return {}1{}; }} }}", "(".repeat(depth), ")".repeat(depth));
        let parsed = parse("f", &source, Language::Java);
        prop_assert_eq!(parsed.is_ok(), depth <= 38);
    }
}
