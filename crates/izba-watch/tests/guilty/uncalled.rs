//! Functions that are named and not called, and the exact edits of what is missing in whole.

use super::{Case, files, found, hold};

#[test]
fn what_is_named_and_not_called_is_told() {
    hold(&[
        Case {
            kind: "uncalled.told",
            files: "@@ fares.py\nfares = {\"child\": 3, \"dog\": 1}\nfor who, cents in fares.items:\n    print(who, cents)\n",
            console: "Traceback (most recent call last):\n  File \"/srv/marsh/fares.py\", line 2, in <module>\n    \
                for who, cents in fares.items:\nTypeError: 'builtin_function_or_method' object is not iterable\n",
            at: "fares.py:2",
            edit: ("fares.items:", "fares.items():"),
        },
        Case {
            kind: "uncalled.told",
            files: "@@ Log.cs\nclass Log {\n    static int Words(string line) {\n        return line.Trim.Length;\n    }\n    \
                static void Main() { Words(\"a\"); }\n}\n",
            console: "Log.cs(3,21): error CS0119: Expression denotes a `method group', where a `variable', `value' or \
                `type' was expected\nCompilation failed: 1 error(s), 0 warnings\n",
            at: "Log.cs:3",
            edit: ("line.Trim.", "line.Trim()."),
        },
        Case {
            kind: "uncalled.here",
            files: "@@ Quay.java\nclass Quay {\n    int depth() { return 4; }\n    public static void main(String[] args) {\n        \
                Quay quay = new Quay();\n        System.out.println(quay.depth * 2);\n    }\n}\n",
            console: "Quay.java:5: error: cannot find symbol\n        System.out.println(quay.depth * 2);\n                               \
                ^\n  symbol:   variable depth\n  location: variable quay of type Quay\n1 error\n",
            at: "Quay.java:5",
            edit: ("quay.depth *", "quay.depth() *"),
        },
        Case {
            kind: "uncalled.here",
            files: "@@ quay.js\nclass Quay {\n  boats() { return ['Wren']; }\n}\nconst quay = new Quay();\n\
                quay.boats.forEach(b => console.log(b));\n",
            console: "/srv/marsh/quay.js:5\nquay.boats.forEach(b => console.log(b));\n           ^\n\nTypeError: \
                quay.boats.forEach is not a function\n    at Object.<anonymous> (/srv/marsh/quay.js:5:12)\n",
            at: "quay.js:5",
            edit: ("quay.boats.", "quay.boats()."),
        },
    ]);
}

/// What is said of a console, as kinds.
fn kinds(project: &str, console: &str) -> Vec<String> {
    let found = found(&files(project), console).expect("it is an error");
    found.suspects.iter().map(|s| format!("{:?}", s.claim.says.kind)).collect()
}

#[test]
fn what_is_handed_over_as_a_function_or_read_like_a_field_is_left_alone() {
    let said = kinds(
        "@@ bell.py\nclass Bell:\n    def __init__(self, rope):\n        rope.on(\"pull\", self.ring) + 1\n\n    \
            def ring(self):\n        return 1\n\n    @property\n    def tone(self):\n        return None\n\n    \
            def twice(self):\n        return self.tone * 2\n\n\nclass Rope:\n    def on(self, what, then):\n        \
            return None\n\n\nBell(Rope())\n",
        "Traceback (most recent call last):\n  File \"/srv/marsh/bell.py\", line 21, in <module>\n    Bell(Rope())\n  File \
            \"/srv/marsh/bell.py\", line 3, in __init__\n    rope.on(\"pull\", self.ring) + 1\nTypeError: unsupported operand \
            type(s) for +: 'NoneType' and 'int'\n",
    );
    assert!(!said.iter().any(|k| k.starts_with("uncalled")), "{said:?}");
    let read = kinds(
        "@@ bell.py\nclass Bell:\n    @property\n    def tone(self):\n        return None\n\n    def twice(self):\n        \
            return self.tone * 2\n\n\nBell().twice()\n",
        "Traceback (most recent call last):\n  File \"/srv/marsh/bell.py\", line 10, in <module>\n    Bell().twice()\n  File \
            \"/srv/marsh/bell.py\", line 7, in twice\n    return self.tone * 2\nTypeError: unsupported operand type(s) for *: \
            'NoneType' and 'int'\n",
    );
    assert!(!read.iter().any(|k| k.starts_with("uncalled")), "{read:?}");
}

/// A program, what its console says, and what its first suspect's edit makes of a file.
fn mended(project: &str, console: &str) -> Option<String> {
    let files = files(project);
    let found = found(&files, console)?;
    let fix = found.suspects.first()?.fix.clone()?;
    let (_, text) = files.iter().find(|(path, _)| **path == *fix.file)?;
    fix.apply(text)
}

#[test]
fn what_comes_with_the_language_is_brought_in_by_a_whole_line() {
    let java = "package ferry;\n\nclass Quay {\n    public static void main(String[] args) {\n        \
        List<String> boats = new java.util.ArrayList<>();\n        System.out.println(boats);\n    }\n}\n";
    let said = "Quay.java:5: error: cannot find symbol\n        List<String> boats = new java.util.ArrayList<>();\n        ^\n  \
        symbol:   class List\n  location: class Quay\n1 error\n";
    let mended_java = mended(&format!("@@ Quay.java\n{java}"), said).expect("an edit");
    assert_eq!(mended_java, java.replace("\n\nclass", "\n\nimport java.util.List;\nclass"));

    let module = "import { tide } from './tide.mjs';\nconst table = fs.readFileSync('tide.txt', 'utf8');\n\
        console.log(tide, table);\n";
    let files = format!("@@ main.mjs\n{module}@@ tide.mjs\nexport const tide = 3;\n");
    let said = "file:///srv/marsh/main.mjs:2\nconst table = fs.readFileSync('tide.txt', 'utf8');\n              ^\n\n\
        ReferenceError: fs is not defined\n    at file:///srv/marsh/main.mjs:2:15\n";
    let mended_module = mended(&files, said).expect("an edit");
    assert!(mended_module.contains("'./tide.mjs';\nimport fs from \"fs\";\n"), "{mended_module}");

    let python = "def shuffle(boats):\n    import os\n    return random.choice(boats)\n\n\nprint(shuffle([1, 2]))\n";
    let said = "Traceback (most recent call last):\n  File \"/srv/marsh/main.py\", line 6, in <module>\n    \
        print(shuffle([1, 2]))\n  File \"/srv/marsh/main.py\", line 3, in shuffle\n    return random.choice(boats)\n\
        NameError: name 'random' is not defined\n";
    let mended_python = mended(&format!("@@ main.py\n{python}"), said).expect("an edit");
    assert_eq!(mended_python, format!("import random\n{python}"));
}

#[test]
fn an_object_is_begun_as_its_base_is_with_what_both_are_given() {
    let own = "class Tug(Boat):\n    def __init__(self, name, pull):\n        self.pull = pull\n\n\nprint(Tug(\"Wren\", 3).name)\n";
    let base = "class Boat:\n    def __init__(self, name, seats=4):\n        self.name = name\n        self.seats = seats\n\n\n";
    let said = "Traceback (most recent call last):\n  File \"/srv/marsh/boats.py\", line 12, in <module>\n    \
        print(Tug(\"Wren\", 3).name)\nAttributeError: 'Tug' object has no attribute 'name'\n";
    let text = mended(&format!("@@ boats.py\n{base}{own}"), said).expect("an edit");
    let begun = "pull):\n        super().__init__(name)\n        self.pull";
    assert_eq!(text, format!("{base}{own}").replace("pull):\n        self.pull", begun));
    // What the base wants and nobody has is the user's to know.
    let wants = base.replace("seats=4", "seats");
    let none = mended(&format!("@@ boats.py\n{wants}{own}"), said);
    assert_eq!(none, None);
}
