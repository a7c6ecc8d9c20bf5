//! What a page holds against what its scripts ask for.

use super::{Case, files, found, hold};

const BUTTON: &str = "@@ index.html\n<!doctype html>\n<button id=\"go\">Go</button>\n<script src=\"board.js\"></script>\n\
    @@ board.js\nconst button = document.getElementById(\"start\");\nbutton.addEventListener(\"click\", \
    () => console.log(\"go\"));\n";
const NO_BUTTON: &str = "[page error] TypeError: Cannot read properties of null (reading 'addEventListener')\n    at \
    http://127.0.0.1:8000/board.js:2:8\n";
const EARLY: &str = "@@ index.html\n<!doctype html>\n<head>\n<script src=\"board.js\"></script>\n</head>\n\
    <ul id=\"boats\"></ul>\n@@ board.js\nconst list = document.querySelector(\"#boats\");\nlist.append(\"Wren\");\n";
const TOO_EARLY: &str = "[page error] TypeError: Cannot read properties of null (reading 'append')\n    at \
    http://127.0.0.1:8000/board.js:2:6\n";
const ORDER: &str = "@@ index.html\n<!doctype html>\n<script src=\"main.js\"></script>\n<script src=\"fares.js\"></script>\n\
    @@ main.js\nconst cents = fareOf(\"child\");\nconsole.log(cents);\n@@ fares.js\nfunction fareOf(who) { return \
    { child: 2 }[who]; }\n";
const NOT_MADE: &str = "[page error] ReferenceError: fareOf is not defined\n    at http://127.0.0.1:8000/main.js:1:15\n";

#[test]
fn what_a_page_lacks_or_has_too_late_is_told_with_its_edit() {
    hold(&[
        Case {
            kind: "page.no-element",
            files: BUTTON,
            console: NO_BUTTON,
            at: "board.js:1",
            edit: ("id=\"go\"", "id=\"start\""),
        },
        Case {
            kind: "page.element-nearly",
            files: "@@ index.html\n<p id=\"total\"></p>\n<script>\nfunction show(cents) {\n  \
                document.getElementById(\"totla\").textContent = cents;\n}\nshow(3);\n</script>\n",
            console: "[page error] TypeError: Cannot set properties of null (setting 'textContent')\n    at show \
                (http://127.0.0.1:8000/:4:48)\n    at http://127.0.0.1:8000/:6:1\n",
            at: "index.html:4",
            edit: ("\"totla\"", "\"total\""),
        },
        Case {
            kind: "page.too-early",
            files: EARLY,
            console: TOO_EARLY,
            at: "index.html:3",
            edit: ("<script src", "<script defer src"),
        },
        Case {
            kind: "page.too-early",
            files: "@@ index.html\n<head>\n<script src=\"board.js\"></script>\n</head>\n<body>\n<h1>Quay</h1>\n\
                @@ board.js\nconst title = document.querySelector(\"h1\");\ntitle.append(\"Wren\");\n",
            console: TOO_EARLY,
            at: "index.html:2",
            edit: ("<script src", "<script defer src"),
        },
        Case {
            kind: "page.no-element",
            files: "@@ index.html\n<h1>Quay</h1>\n<script src=\"board.js\"></script>\n\
                @@ board.js\nconst place = document.querySelector(\"canvas\");\nplace.append(\"Wren\");\n",
            console: TOO_EARLY,
            at: "board.js:1",
            edit: ("<h1>Quay</h1>", "<canvas></canvas>"),
        },
        Case {
            kind: "page.loaded-later",
            files: ORDER,
            console: NOT_MADE,
            at: "index.html:3",
            edit: (
                "<script src=\"main.js\"></script>\n<script src=\"fares.js\"></script>\n",
                "<script \
                src=\"fares.js\"></script>\n<script src=\"main.js\"></script>\n",
            ),
        },
        Case {
            kind: "page.not-loaded",
            files: "@@ web/index.html\n<script src=\"js/main.js\"></script>\n@@ web/js/main.js\nconst cents = \
                fareOf(\"child\");\n@@ web/js/fares.js\nfunction fareOf(who) { return { child: 2 }[who]; }\n",
            console: "[page error] ReferenceError: fareOf is not defined\n    at \
                http://127.0.0.1:8000/js/main.js:1:15\n",
            at: "web/index.html:1",
            edit: (
                "<script src=\"js/main",
                "<script src=\"js/fares.js\"></script><script src=\"js/main",
            ),
        },
        Case {
            kind: "idioms.not-awaited",
            files: "@@ index.html\n<script>\n  async function load() {\n    const answer = await fetch(\"fares.json\");\n    \
                const fares = answer.json();\n    console.log(fares.child.toFixed(2));\n  }\n  load();\n</script>\n\
                @@ fares.json\n{ \"child\": 2 }\n",
            console: "[page error] nobody caught this promise: TypeError: Cannot read properties of undefined \
                (reading 'toFixed')\n    at load (http://127.0.0.1:8000/:5:29)\n",
            at: "index.html:4",
            edit: ("= answer.json()", "= await answer.json()"),
        },
    ]);
}

/// What is said of the page by this check and by the one for imports.
fn kinds(project: &str, console: &str) -> Vec<String> {
    let found = found(&files(project), console).expect("it is an error");
    let kinds = found.suspects.iter().map(|s| format!("{:?}", s.claim.says.kind));
    kinds.filter(|k| k.starts_with("page.") || k.starts_with("imports.")).collect()
}

#[test]
fn what_a_script_makes_or_waits_for_is_left_alone() {
    let made = BUTTON.replace(
        "const button",
        "document.body.innerHTML += \"<p id='start'></p>\";\nconst button",
    );
    let later = NO_BUTTON.replace(":2:8", ":3:8");
    assert_eq!(kinds(&made, &later), Vec::<String>::new(), "a script makes it");
    assert_eq!(kinds(&EARLY.replace("<script", "<script defer"), TOO_EARLY), Vec::<String>::new());
    assert_eq!(
        kinds(&EARLY.replace("<script", "<script type=\"module\""), TOO_EARLY),
        Vec::<String>::new()
    );
    // What a button starts runs once the page is there.
    let clicked = TOO_EARLY.replace("    at http", "    at moor (http").replace(":2:6", ":2:6)")
        + "    at HTMLButtonElement.onclick (http://127.0.0.1:8000/:5:3)\n";
    assert_eq!(kinds(EARLY, &clicked), Vec::<String>::new());
    // The other order is well, and then nothing brings anything in by itself.
    let (first, second) =
        ("<script src=\"main.js\"></script>\n", "<script src=\"fares.js\"></script>\n");
    let well = ORDER.replace(&format!("{first}{second}"), &format!("{second}{first}"));
    assert_eq!(kinds(&well, NOT_MADE), Vec::<String>::new());
}
