//! What the console itself says of where the mistake is.

use super::{Case, hold};

#[test]
fn what_the_console_tells_is_taken() {
    hold(&[
        Case {
            kind: "told.comment-told",
            files: "@@ bell.lua\nlocal bell = 3\n--[[ how it rings\nlocal rope = 4\nprint(bell, rope)\n",
            console: "lua5.4: bell.lua:5: unfinished long comment (starting at line 2) near '<eof>'\n",
            at: "bell.lua:2",
            edit: ("--[[ how it rings", "-- how it rings"),
        },
        Case {
            kind: "told.comment-open",
            files: "@@ Boat.cs\nclass Boat {\n    /* what it holds\n    int seats = 4;\n    static void Main() {}\n}\n",
            console: "Boat.cs(7,1): error CS1035: End-of-file found, '*/' expected\nCompilation failed: 1 \
                error(s), 0 warnings\n",
            at: "Boat.cs:2",
            edit: ("/* what it holds", "// what it holds"),
        },
        Case {
            kind: "told.data-broken",
            files: "@@ main.py\nimport json\n\nprint(json.load(open(\"fares.json\")))\n\
                @@ fares.json\n{\n  \"child\": 3\n  \"dog\": 1\n}\n",
            console: "Traceback (most recent call last):\n  File \"/srv/marsh/main.py\", line 3, in <module>\n    \
                print(json.load(open(\"fares.json\")))\n          ^^^^^^^^^^^^^^^^^^^^^^^^^^^^^\n  File \
                \"/usr/lib/python3.11/json/decoder.py\", line 353, in raw_decode\njson.decoder.JSONDecodeError: \
                Expecting ',' delimiter: line 3 column 3 (char 17)\n",
            at: "fares.json:2",
            edit: ("\"child\": 3\n", "\"child\": 3,\n"),
        },
        Case {
            kind: "told.not-exported",
            files: "@@ main.mjs\nimport { toll } from './toll.mjs';\nconsole.log(toll);\n\
                @@ toll.mjs\nconst toll = 4;\nexport const day = 1;\n",
            console: "file:///srv/marsh/main.mjs:1\nimport { toll } from './toll.mjs';\n         ^^^^\nSyntaxError: \
                The requested module './toll.mjs' does not provide an export named 'toll'\n    at \
                ModuleJob._instantiate (node:internal/modules/esm/module_job:180:21)\n",
            at: "toll.mjs:1",
            edit: ("const toll = 4", "export { day as toll }"),
        },
        Case {
            kind: "told.nothing-given",
            files: "@@ Deck.cs\nclass Deck {\n    int[] seats = { 1 };\n    int First() {\n        \
                seats.GetLength(0);\n    }\n}\n",
            console: "Deck.cs(3,9): error CS0161: `Deck.First()': not all code paths return a value\nCompilation \
                failed: 1 error(s), 0 warnings\n",
            at: "Deck.cs:4",
            edit: ("seats.GetLength(0);", "return seats.GetLength(0);"),
        },
        Case {
            kind: "told.bring-in",
            files: "@@ Deck.cs\nusing System;\n\nclass Deck {\n    static int Sum(int[] seats) { return \
                seats.Max(); }\n}\n",
            console: "Deck.cs(4,48): error CS1061: Type `int[]' does not contain a definition for `Max' and no \
                extension method `Max' of type `int[]' could be found. Are you missing `System.Linq' using \
                directive?\nCompilation failed: 1 error(s), 0 warnings\n",
            at: "Deck.cs:1",
            edit: ("using System;", "using System.Linq;"),
        },
    ]);
}
