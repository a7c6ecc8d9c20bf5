//! The hostile inputs: data that is all alike, scripts nested without end, what is cut short, what is
//! pasted into the wrong file, and logs that go on and on.

use std::fmt::Write;

/// A folder with a log.
pub struct Input {
    pub name: String,
    pub files: Vec<(String, Vec<u8>)>,
    pub log: Vec<u8>,
}

/// An error of a Lua script that lies in each folder, so that all of it is searched.
const LUA: &str = "local t=nil\nprint(t.x)\n";
const LUA_LOG: &str = "lua: m.lua:2: attempt to index a nil value (local 't')\nstack \
                       traceback:\n\tm.lua:2: in main chunk\n\t[C]: in ?\n";

/// Beside a script that fails, this file.
fn beside(name: &str, file: &str, text: impl Into<Vec<u8>>) -> Input {
    Input {
        name: name.into(),
        files: vec![("m.lua".into(), LUA.into()), (file.into(), text.into())],
        log: LUA_LOG.into(),
    }
}

/// A script that its runtime does not take, or that fails somewhere in it.
fn script(name: &str, file: &str, text: impl Into<Vec<u8>>) -> Input {
    let text: Vec<u8> = text.into();
    let lines = text.iter().filter(|b| **b == b'\n').count().max(1);
    let at = lines / 2 + 1;
    let log = match file.rsplit('.').next() {
        Some("lua") => format!("lua: {file}:{at}: unexpected symbol near '('\n"),
        Some("py") => {
            format!("  File \"{file}\", line {at}\n    x\n    ^\nSyntaxError: invalid syntax\n")
        }
        Some("js" | "ts") => {
            format!("{file}:{at}\nx\n^\n\nSyntaxError: Unexpected token ')'\n    at internal:1:1\n")
        }
        Some("java") => {
            format!("{file}:{at}: error: ';' expected\n        x\n         ^\n1 error\n")
        }
        Some("cs") => format!("{file}({at},1): error CS1002: ; expected\n"),
        Some("kt") => format!("{file}:{at}:1: error: expecting an element\n"),
        Some("json") => {
            format!("json.decoder.JSONDecodeError: Expecting value: line {at} column 1\n")
        }
        _ => format!("{file}:{at}:1: error: expected ';' before '}}' token\n"),
    };
    Input { name: name.into(), files: vec![(file.into(), text)], log: log.into() }
}

/// A script that is well as far as its grammar goes, and fails when it runs.
fn running(name: &str, file: &str, text: impl Into<Vec<u8>>) -> Input {
    let mut input = script(name, file, text);
    let lines = input.files[0].1.iter().filter(|b| **b == b'\n').count().max(1);
    let at = lines / 2 + 1;
    let log = match file.rsplit('.').next() {
        Some("lua") => format!(
            "lua: {file}:{at}: attempt to index a nil value (global 'x')\nstack traceback:\n\t\
             {file}:{at}: in main chunk\n"
        ),
        Some("py") => format!(
            "Traceback (most recent call last):\n  File \"{file}\", line {lines}, in <module>\n    \
             x\n  File \"{file}\", line {at}, in x\n    x\nKeyError: 'x'\n"
        ),
        Some("java") => format!(
            "Exception in thread \"main\" java.lang.NullPointerException: Cannot invoke \"x.y()\" \
             because \"x\" is null\n\tat Main.x({file}:{at})\n\tat Main.main({file}:{lines})\n"
        ),
        _ => format!(
            "TypeError: Cannot read properties of undefined (reading 'x')\n    at x ({file}:{at}:1)\n    \
             at {file}:{lines}:1\n"
        ),
    };
    input.log = log.into();
    input
}

/// Only a log, with a script that it may name.
fn log(name: &str, log: impl Into<Vec<u8>>) -> Input {
    Input { log: log.into(), ..beside(name, "notes.md", "") }
}

/// So many pieces, one after the other.
fn joined(count: usize, piece: impl Fn(usize) -> String) -> String {
    (0..count).fold(String::new(), |mut all, n| {
        all.push_str(&piece(n));
        all
    })
}

/// Numbers that are the same on every machine.
fn random(seed: u64) -> impl FnMut() -> u64 {
    let mut state = seed;
    move || {
        state =
            state.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        state >> 33
    }
}

/// A made-up word of three syllables or so.
fn word(next: &mut impl FnMut() -> u64) -> String {
    let mut word = String::new();
    for _ in 0..=(next() % 2 + 2) {
        let at = |n: u64, of: &[u8]| of[(n % of.len() as u64) as usize] as char;
        word.push(at(next(), b"bcdfghklmnprstvw"));
        word.push(at(next(), b"aeiou"));
    }
    word
}

/// All of them.
pub fn all() -> Vec<Input> {
    [data(), nested(), cut_short(), pasted(), large(), logs()].into_iter().flatten().collect()
}

/// Data in which everything is like everything else.
fn data() -> Vec<Input> {
    let items = |n: usize| {
        format!(
            "[\n{}]\n",
            joined(n, |i| {
                format!(
                    "{{\"id\":\"item_{i}\",\"name\":\"iron oak bell\",\"price\":3}}{}\n",
                    if i + 1 < n { "," } else { "" }
                )
            })
        )
    };
    let mut next = random(7);
    let words: Vec<String> = (0..60_000).map(|_| word(&mut next)).collect();
    let list =
        format!("[{}]", words.iter().map(|w| format!("\"{w}\"")).collect::<Vec<_>>().join(",\n"));
    let keys = format!(
        "{{{}}}",
        words[..40_000].iter().map(|w| format!("\"{w}\":\"{w}x\"")).collect::<Vec<_>>().join(",\n")
    );
    let refs = joined(8000, |n| format!("  - {{ id: {}, next: {} }}\n", words[n], words[n + 7]));
    let table = joined(15_000, |n| format!("{},{},{n}\n", words[n], words[n + 1]));
    vec![
        beside("records", "items.json", items(2000)),
        beside("many records", "items.json", items(16_000)),
        beside(
            "a numbered family",
            "items.json",
            format!(
                "[{}]",
                joined(4000, |n| format!(
                    "{{\"id\":\"n{n}\",\"name\":\"n{n}\"}}{}\n",
                    if n < 3999 { "," } else { "" }
                ))
            ),
        ),
        beside(
            "a large family",
            "items.json",
            format!("[{}\"n\"]", joined(80_000, |n| format!("\"n{n}\",\n"))),
        ),
        beside("words", "words.json", list),
        beside("keys", "words.json", keys),
        beside(
            "one key over and over",
            "k.json",
            format!("{{{}\"a\":1}}", joined(60_000, |n| format!("\"key\":{n},\n"))),
        ),
        beside("references", "words.yaml", format!("all:\n{refs}")),
        beside("a table", "words.csv", format!("id,next,n\n{table}")),
        beside(
            "settings",
            "words.ini",
            joined(40_000, |n| format!("{}={}\n", words[n], words[n + 3])),
        ),
        beside(
            "sections",
            "words.toml",
            joined(20_000, |n| format!("[{}_{n}]\nname = \"{}\"\n", words[n], words[n + 3])),
        ),
        beside(
            "elements",
            "words.xml",
            format!(
                "<all>{}</all>",
                joined(20_000, |n| format!(
                    "<item id=\"{}\" to=\"{}\"/>\n",
                    words[n],
                    words[n + 5]
                ))
            ),
        ),
        beside(
            "paths",
            "paths.json",
            format!(
                "[{}\"end\"]",
                joined(16_000, |n| format!("\"assets/{}/{}.png\",\n", words[n], words[n + 1]))
            ),
        ),
    ]
}

/// What is nested, chained or repeated without end.
fn nested() -> Vec<Input> {
    let mut all = vec![
        beside("deep JSON", "deep.json", "[".repeat(450_000) + &"]".repeat(450_000)),
        beside(
            "deep JSON of objects",
            "deep.json",
            "{\"a\":".repeat(150_000) + "1" + &"}".repeat(150_000),
        ),
        beside("deep JSON, open", "deep.json", "[".repeat(900_000)),
        beside("deep XML, open", "deep.xml", "<a>".repeat(50_000)),
        beside("deep XML", "deep.xml", "<a>".repeat(120_000) + &"</a>".repeat(120_000)),
        beside("deep YAML", "deep.yaml", joined(1300, |n| format!("{}a:\n", " ".repeat(n)))),
        beside("deep YAML in a row", "deep.yaml", "[".repeat(400_000)),
        beside("deep YAML of lists", "deep.yaml", "- ".repeat(400_000)),
        beside(
            "aliases of YAML",
            "deep.yaml",
            format!(
                "a0: &a0 [x,x,x,x,x,x,x,x,x]\n{}",
                joined(40, |n| format!(
                    "a{}: &a{} [*a{n},*a{n},*a{n},*a{n},*a{n},*a{n},*a{n},*a{n},*a{n}]\n",
                    n + 1,
                    n + 1
                ))
            ),
        ),
        beside(
            "deep TOML",
            "deep.toml",
            format!(
                "[{}z]\nx = {}1{}\n",
                "a.".repeat(100_000),
                "[".repeat(100_000),
                "]".repeat(100_000)
            ),
        ),
        beside("deep HTML", "deep.html", "<div>".repeat(150_000)),
        beside(
            "entities of XML",
            "deep.xml",
            format!(
                "<!DOCTYPE a [\n<!ENTITY e0 \"xxxxxxxxxx\">\n{}]><a>&e60;</a>",
                joined(60, |n| format!(
                    "<!ENTITY e{} \"&e{n};&e{n};&e{n};&e{n};&e{n};&e{n};&e{n};&e{n};\">\n",
                    n + 1
                ))
            ),
        ),
    ];
    for (ending, call, sum, block, end) in [
        ("lua", "f(", "x=x+", "if x then ", "end "),
        ("py", "f(", "x=x+", "lambda: ", ""),
        ("js", "f(", "x=x+", "if(x){", "}"),
        ("ts", "f(", "x=x+", "if(x){", "}"),
        ("java", "f(", "x=x+", "class A{ void f(){ ", "}}"),
        ("cs", "f(", "x=x+", "class A{ class B{ ", "}}"),
        ("kt", "f(", "x=x+", "if(x){", "}"),
        ("cpp", "f(", "x=x+", "if(x){", "}"),
        ("rb", "f(", "x=x+", "if x; ", "end; "),
        ("gd", "f(", "x=x+", "if x:\n ", ""),
    ] {
        let file = format!("main.{ending}");
        let script = |what: &str, text: String| script(&format!("{ending}: {what}"), &file, text);
        all.extend([
            script("calls, open", call.repeat(4000)),
            script("many calls, open", call.repeat(300_000)),
            script("calls", call.repeat(30_000) + "1" + &")".repeat(30_000)),
            script("a sum", sum.repeat(100_000) + "1\n"),
            script("members", format!("x{}\n", ".a".repeat(300_000))),
            script("blocks, open", block.repeat(20_000)),
            script("blocks", block.repeat(10_000) + &end.repeat(10_000)),
            script("braces", "{".repeat(200_000)),
            script("braces shut", "}".repeat(200_000)),
            script("an open text", format!("x = \"{}", "a b\n".repeat(100_000))),
            script("quotes", "\"'".repeat(200_000)),
            script("ups and downs", "({[".repeat(30_000) + &")}]".repeat(30_000)),
        ]);
    }
    all
}

/// What was cut short.
fn cut_short() -> Vec<Input> {
    let bundle = joined(600, |n| format!("function f{n}(a,b){{return a?b[{n}]:g(a,{{k{n}:b}})}};"));
    let lock = format!(
        "{{\n  \"packages\": {{\n{}",
        joined(4000, |n| format!(
            "    \"node_modules/part{n}\": {{\n      \"version\": \"1.{n}.0\",\n      \"integrity\": \"sha512-{}\",\n      \"requires\": {{ \"part{}\": \"^1.0.0\" }}\n    }},\n",
            "Qm9hdA".repeat(10),
            n + 1
        ))
    );
    vec![
        script("a bundle, cut", "bundle.js", &bundle.as_bytes()[..20_000]),
        script(
            "a large bundle, cut",
            "bundle.js",
            bundle.repeat(25).as_bytes()[..900_000.min(bundle.len() * 25)].to_vec(),
        ),
        running("a bundle", "bundle.js", bundle.repeat(25)),
        beside(
            "a lock file, cut",
            "package-lock.json",
            lock.as_bytes()[..lock.len() - 40].to_vec(),
        ),
        beside("JSON, cut", "items.json", lock.as_bytes()[..lock.len() - 40].to_vec()),
        beside(
            "XML, cut",
            "items.xml",
            format!(
                "<all>{}",
                joined(12_000, |n| format!("<item id=\"i{n}\"><name>bell</name>\n"))
            ),
        ),
    ]
}

/// What stands in a file in which it does not belong.
fn pasted() -> Vec<Input> {
    let trace =
        joined(300, |n| format!("  File \"boat.py\", line {n}, in row{n}\n    row(oars[{n}])\n"));
    let merge = joined(500, |n| {
        format!("<<<<<<< ours\nx{n} = row(a, {n})\n=======\nx{n} = row(b, {n}\n>>>>>>> theirs\n")
    });
    let prose =
        "It's a boat, isn't it? (Nobody knows: \"perhaps\"). Don't ask {again}.\n".repeat(10_000);
    let mut next = random(3);
    let noise: Vec<u8> = (0..900_000).map(|_| next() as u8).collect();
    let letters: String = (0..400_000).map(|_| char::from(32 + (next() % 95) as u8)).collect();
    let mut all = Vec::new();
    for ending in ["py", "js", "lua", "java", "cs", "kt", "ts", "json", "cpp", "xml", "yaml", "gd"]
    {
        let file = format!("main.{ending}");
        let script = |what: &str, text: &[u8]| script(&format!("{ending}: {what}"), &file, text);
        all.extend([
            script("a trace", trace.as_bytes()),
            script("a merge", merge.as_bytes()),
            script("prose", prose.as_bytes()),
            script("noise", &noise),
            script("letters", letters.as_bytes()),
        ]);
    }
    all
}

/// What is simply large, and well.
fn large() -> Vec<Input> {
    let ring = joined(8000, |n| format!("def f{n}(x):\n    return f{}(x)\n\n\n", (n + 1) % 8000));
    let chain = joined(30_000, |n| format!("x{} = x{n}\n", n + 1));
    let classes = joined(8000, |n| {
        format!("class C{}(C{n}):\n    def m(self):\n        return self.v{n}\n\n\n", n + 1)
    });
    let handlers = joined(8000, |n| format!("function on_{n}(a)\n  return a.b{n}\nend\n"));
    let handed = joined(5000, |n| {
        format!("function on_{n}(a)\n  return a.b{n}\nend\ntie('k{n}', on_{n})\n")
    });
    let branches = format!(
        "def f(x):\n{}",
        joined(16_000, |n| format!("    if x == {n}:\n        x = g(x, {n})\n"))
    );
    let uses = format!("let x = null;\n{}", joined(40_000, |n| format!("x = g(x, {n});\n")));
    let table = format!(
        "local t = {{\n{}}}\nprint(t.x.y)\n",
        joined(30_000, |n| format!("  k{n} = {{ name = 'k{n}' }},\n"))
    );
    let java = format!(
        "class Main {{\n{}}}\n",
        joined(8000, |n| format!("  int f{n}(int a) {{ return this.f{}(a).b; }}\n", n + 1))
    );
    vec![
        running("a ring of calls", "main.py", format!("{ring}f0(1)\n")),
        running("a chain of names", "main.py", format!("x0 = None\n{chain}print(x30000.y)\n")),
        running("a chain of classes", "main.py", format!("class C0:\n    pass\n\n\n{classes}")),
        running("handlers", "main.lua", handlers),
        running("handlers handed over", "main.lua", handed),
        running("branches", "main.py", branches),
        running("one name set again and again", "main.js", uses),
        running("a table", "main.lua", table),
        running("methods", "Main.java", java),
        running(
            "texts",
            "main.js",
            joined(25_000, |n| format!("say('word{n}', other{});\n", n * 7)),
        ),
    ]
}

/// Logs.
fn logs() -> Vec<Input> {
    let mut next = random(11);
    let mut many = String::new();
    for _ in 0..12_000 {
        let (a, b, c) = (word(&mut next), word(&mut next), word(&mut next));
        let _ = writeln!(many, "ERROR the {a} of {b} has no {c} in m.lua:2");
    }
    let frames = format!(
        "Traceback (most recent call last):\n{}KeyError: 'x'\n",
        joined(20_000, |n| format!("  File \"m{n}.py\", line {n}, in f{n}\n"))
    );
    let causes = joined(4000, |n| {
        format!(
            "Caused by: java.lang.IllegalStateException: why {n}\n\tat a.b.C{n}.m(C{n}.java:{n})\n\t... 3 more\n"
        )
    });
    vec![
        log("12,000 errors of a kind each", many),
        log("a stack of 20,000 steps", frames),
        log(
            "4,000 causes",
            format!(
                "Exception in thread \"main\" java.lang.Error: x\n\tat a.B.m(B.java:1)\n{causes}"
            ),
        ),
        log("one line", "x".repeat(900_000)),
        log("one line of an error", format!("ERROR {}", "m.lua:2: ".repeat(90_000))),
        log("escapes", "\u{1b}[31m".repeat(150_000)),
        log("an open escape", format!("\u{1b}]0;{}", "x".repeat(900_000))),
        log(
            "deep JSON in a line",
            format!("{{\"level\":\"error\",\"message\":{}", "[".repeat(800_000)),
        ),
        log("bars", "|".repeat(900_000)),
        log("equals", "a=".repeat(400_000)),
        log("colons", format!("ERROR {}", "a:1:".repeat(200_000))),
        log("brackets", format!("ERROR {}", "[(".repeat(400_000))),
        log("indents", joined(1300, |n| format!("{}at x\n", " ".repeat(n)))),
        log("free lines", "\n".repeat(900_000)),
        log("returns", "ERROR x\r".repeat(100_000)),
    ]
}
