//! The commonest sentences of five languages, and what Izba says of each: read this page aloud.

use izba_cause::explain;
use izba_cause::suspect::Findings;
use izba_model::claim::{About, Kind, LIKELY, Saying, Suspect, Words};
use izba_model::{Entry, Level, Project, ProjectFile, Report, StackFrame, say};
use std::fmt::Write;

/// One error at the line `source` of a file, with the column where it is printed.
fn entry_of(file: &str, kind: &str, message: &str, source: &str, column: Option<u32>) -> Entry {
    let project = Project::new(
        "/p",
        vec![ProjectFile { path: file.into(), text: Some(format!("{source}\n").into()) }],
    );
    let reader = match file.rsplit('.').next() {
        Some("lua") => "lua",
        Some("py") => "python",
        Some("js") => "javascript",
        _ => "at-frames",
    };
    let mut report = Report::new(reader, Level::Error, message);
    report.kind = (!kind.is_empty()).then(|| kind.to_owned());
    report.head = Some(StackFrame {
        file: Some(file.to_owned()),
        line: Some(1),
        column: column.map(izba_model::Column::chars),
        ..StackFrame::default()
    });
    Entry::resolve(report, &project, None)
}

/// Explains one error.
fn explained(file: &str, kind: &str, message: &str, source: &str, column: Option<u32>) -> String {
    let entry = entry_of(file, kind, message, source, column);
    let said = explain::explain(&entry);
    let mut out =
        format!("{kind} {message}\n  {}: {}\n  | {source}\n", entry.family.id(), said.headline);
    if let Some((start, end)) = said.token {
        assert!(source.get(start..end).is_some(), "the token lies in the line");
        let _ = writeln!(
            out,
            "  | {}{} {}",
            " ".repeat(source[..start].chars().count()),
            "^".repeat(source[start..end].chars().count().max(1)),
            said.note
        );
    }
    let _ = writeln!(out, "  {}", said.plain[0]);
    out
}

fn all(cases: &[(&str, &str, &str, &str, Option<u32>)]) -> String {
    cases
        .iter()
        .map(|(file, kind, message, source, column)| {
            explained(file, kind, message, source, *column)
        })
        .collect::<Vec<_>>()
        .join("\n")
}

#[test]
fn lua_sentences() {
    insta::assert_snapshot!(all(&[
        (
            "a.lua",
            "",
            "attempt to index a nil value (field '?')",
            "self.flame = wicks[9].length",
            None
        ),
        ("a.lua", "", "attempt to index a nil value (upvalue 'tide')", "return tide.height", None),
        ("a.lua", "", "attempt to call a nil value (method 'rign')", "bell:rign(3)", None),
        ("a.lua", "", "attempt to call a table value (local 'bell')", "bell(3)", None),
        ("a.lua", "", "attempt to compare number with nil", "if depth < self.limit then", None),
        (
            "a.lua",
            "",
            "attempt to concatenate a nil value (local 'name')",
            "print('welcome ' .. name)",
            None
        ),
        (
            "a.lua",
            "",
            "bad argument #1 to 'ipairs' (table expected, got nil)",
            "for _, seat in ipairs(seats) do",
            None
        ),
        (
            "a.lua",
            "",
            "bad argument #2 to 'random' (interval is empty)",
            "return math.random(5, 1)",
            None
        ),
        ("a.lua", "", "'=' expected near 'then'", "if tide then", None),
        ("a.lua", "", "unfinished string near '\"near bank)'", "print(\"near bank)", None),
        ("a.lua", "", "stack overflow", "return deeper(n + 1)", None),
        ("a.lua", "", "number has no integer representation", "return 1.5 | 2", None),
    ]));
}

#[test]
fn javascript_sentences() {
    insta::assert_snapshot!(all(&[
        (
            "a.js",
            "TypeError",
            "Cannot set properties of null (setting 'textContent')",
            "document.querySelector('#tide').textContent = '1.8';",
            Some(33)
        ),
        (
            "a.js",
            "TypeError",
            "Cannot destructure property 'name' of 'passenger' as it is undefined.",
            "const { name } = passenger;",
            Some(9)
        ),
        ("a.js", "TypeError", "bell.rign is not a function", "bell.rign();", Some(6)),
        ("a.js", "TypeError", "seats is not iterable", "for (const seat of seats) {}", Some(20)),
        (
            "a.js",
            "ReferenceError",
            "Cannot access 'tide' before initialization",
            "console.log(tide);",
            Some(13)
        ),
        (
            "a.js",
            "SyntaxError",
            "Identifier 'tide' has already been declared",
            "let tide = 2;",
            Some(5)
        ),
        ("a.js", "SyntaxError", "missing ) after argument list", "ring(3;", Some(7)),
        ("a.js", "RangeError", "Invalid array length", "const seats = new Array(-1);", Some(15)),
        ("a.js", "RangeError", "Maximum call stack size exceeded", "return deeper();", Some(8)),
        (
            "a.js",
            "Error",
            "Cannot find module './berth'",
            "const berth = require('./berth');",
            None
        ),
    ]));
}

#[test]
fn python_sentences() {
    insta::assert_snapshot!(all(&[
        (
            "a.py",
            "AttributeError",
            "'Ferry' object has no attribute 'pasengers'. Did you mean: 'passengers'?",
            "print(ferry.pasengers)",
            None
        ),
        (
            "a.py",
            "AttributeError",
            "module 'math' has no attribute 'squareroot'",
            "math.squareroot(4)",
            None
        ),
        (
            "a.py",
            "UnboundLocalError",
            "cannot access local variable 'tide' where it is not associated with a value",
            "return tide",
            None
        ),
        ("a.py", "KeyError", "'child'", "return PRICES['child']", None),
        ("a.py", "TypeError", "'NoneType' object is not subscriptable", "return row[0]", None),
        (
            "a.py",
            "TypeError",
            "board() missing 1 required positional argument: 'seat'",
            "board('Ada')",
            None
        ),
        ("a.py", "TypeError", "'int' object is not callable", "tide()", None),
        (
            "a.py",
            "ValueError",
            "invalid literal for int() with base 10: 'twelve'",
            "seats = int('twelve')",
            None
        ),
        (
            "a.py",
            "IndentationError",
            "expected an indented block after function definition on line 1",
            "print(1)",
            None
        ),
        (
            "a.py",
            "ImportError",
            "cannot import name 'fars' from 'tickets' (/p/tickets.py)",
            "from tickets import fars",
            None
        ),
        ("a.py", "ZeroDivisionError", "division by zero", "return fuel / trips", None),
        (
            "a.py",
            "FileNotFoundError",
            "[Errno 2] No such file or directory: 'tide.csv'",
            "open('tide.csv')",
            None
        ),
    ]));
}

#[test]
fn java_and_csharp_sentences() {
    insta::assert_snapshot!(all(&[
        (
            "A.java",
            "java.lang.NullPointerException",
            "Cannot read field \"oil\" because the return value \
                of \"Lantern.find(String)\" is null",
            "return find(name).oil;",
            None
        ),
        ("A.java", "java.lang.NullPointerException", "", "passenger.board(ferry.seat(3));", None),
        (
            "A.java",
            "java.lang.ClassCastException",
            "class java.lang.String cannot be cast to class java.lang.Integer \
                (java.lang.String and java.lang.Integer are in module java.base)",
            "int n = (Integer) value;",
            None
        ),
        (
            "A.java",
            "java.lang.NumberFormatException",
            "For input string: \"twelve\"",
            "int n = Integer.parseInt(text);",
            None
        ),
        (
            "A.java",
            "java.lang.StringIndexOutOfBoundsException",
            "begin 0, end 9, length 4",
            "return name.substring(0, 9);",
            None
        ),
        (
            "A.java",
            "java.lang.IndexOutOfBoundsException",
            "Index 0 out of bounds for length 0",
            "return seats.get(0);",
            None
        ),
        ("A.java", "", "reached end of file while parsing", "}", Some(2)),
        (
            "A.cs",
            "System.ArgumentNullException",
            "Value cannot be null. (Parameter 'ticket')",
            "Open(ticket);",
            None
        ),
        (
            "A.cs",
            "System.Collections.Generic.KeyNotFoundException",
            "The given key 'A12' was not present in the dictionary.",
            "return booked[\"A12\"];",
            None
        ),
        (
            "A.cs",
            "System.FormatException",
            "Input string was not in a correct format.",
            "return int.Parse(text);",
            None
        ),
        ("A.cs", "", "`Gate' does not contain a definition for `Opn'", "gate.Opn();", Some(6)),
        (
            "A.cs",
            "System.IO.FileNotFoundException",
            "Could not find file \"/p/tide.json\"",
            "File.ReadAllText(\"tide.json\");",
            None
        ),
    ]));
}

static SLIPS: Words =
    Words::new("spelling", About::Name, "near = \"{name} is misspelt; {other} is near\"");
static NEAR: Kind = Kind { words: &SLIPS, key: "near" };
static FAULTS: Words =
    Words::new("syntax", About::Syntax, "fault = \"{fault}\"\ncomma = \"a comma is missing here\"");
static FAULT: Kind = Kind { words: &FAULTS, key: "fault" };
static COMMA: Kind = Kind { words: &FAULTS, key: "comma" };

fn found(file: &str, line: u32, says: Saying, confidence: f32) -> Findings {
    let suspect = Suspect {
        file: file.into(),
        line,
        to_line: line,
        claim: says.into(),
        confidence,
        fix: None,
    };
    Findings { suspects: vec![suspect], ..Findings::default() }
}

#[test]
fn what_is_known_of_a_slip_comes_before_what_the_console_makes_of_it() {
    let entry = entry_of(
        "a.lua",
        "",
        "'}' expected (to close '{' at line 4) near '{'",
        "{ colour = 'red' }",
        None,
    );
    let plain = explain::explain(&entry);
    let told = |findings: &Findings| explain::explain_found(&entry, &plain, findings);
    let comma = || say!(FAULT, fault = Saying::new(&COMMA));
    // The very line, another line, another file.
    let here = told(&found("a.lua", 1, comma(), 0.9));
    assert_eq!(here.headline.to_string(), "a.lua can't be read. Line 1: a comma is missing here.");
    assert_eq!((here.slip, here.note.to_string().as_str()), (None, "a comma is missing here"));
    let above = told(&found("a.lua", 6, comma(), LIKELY));
    assert_eq!(above.headline.to_string(), "a.lua can't be read. Line 6: a comma is missing here.");
    assert_eq!(above.slip, Some(("a.lua".into(), 6)));
    assert!(above.plain[0].bare().starts_with("Lua noticed it only at line 1"));
    assert!(above.advice.is_empty() && !plain.advice.is_empty());
    let far = told(&found("b/oar.lua", 2, comma(), 0.9));
    assert!(far.plain[0].bare().ends_with("the slip is in oar.lua, line 2."), "{far:?}");
    // What is only thinkable changes nothing.
    assert_eq!(told(&found("a.lua", 6, comma(), LIKELY - 0.1)), plain);
}

#[test]
fn a_slip_of_spelling_is_asked_about_in_the_first_sentence() {
    let entry = entry_of("a.py", "KeyError", "'wieght'", "return item['wieght']", None);
    let plain = explain::explain(&entry);
    let near = say!(NEAR, name = "wieght", other = "weight");
    let said = explain::explain_found(&entry, &plain, &found("b.py", 1, near.clone(), 0.8));
    assert_eq!(
        said.headline.to_string(),
        "There is no key `wieght` (a.py, line 1). Did you mean `weight`?"
    );
    assert_eq!(said.plain, plain.plain, "what it means stays");
    assert_eq!(explain::explain_found(&entry, &plain, &found("b.py", 1, near, 0.4)), plain);
}
