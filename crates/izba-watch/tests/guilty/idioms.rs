//! Code that reads well and cannot be meant so.

use super::{Case, hold};

#[test]
fn what_cannot_be_meant_so_is_told_where_it_stands() {
    hold(&[
        Case {
            kind: "idioms.not-called",
            files: "@@ main.py\nfrom bell import Bell\n\nbell = Bell()\nbell.hang\nprint(bell.rope.strip())\n\
                @@ bell.py\nclass Bell:\n    def __init__(self):\n        self.rope = None\n\n    \
                def hang(self):\n        self.rope = \"hemp\"\n",
            console: "Traceback (most recent call last):\n  File \"main.py\", line 5, in <module>\n    \
                print(bell.rope.strip())\n          ^^^^^^^^^^^^^^^\nAttributeError: 'NoneType' object \
                has no attribute 'strip'\n",
            at: "main.py:4",
            edit: ("bell.hang\n", "bell.hang()\n"),
        },
        Case {
            kind: "idioms.other-counter",
            files: "@@ deck.js\nconst deck = [[1, 2], [3, 4]];\nlet sum = 0;\nfor (let y = 0; y < 2; y++) {\n  \
                for (let x = 0; x < 2; y++) {\n    sum += deck[y][x];\n  }\n}\nconsole.log(sum);\n",
            console: "/srv/marsh/deck.js:5\n    sum += deck[y][x];\n                  ^\n\nTypeError: Cannot \
                read properties of undefined (reading '0')\n    at Object.<anonymous> \
                (/srv/marsh/deck.js:5:19)\n",
            at: "deck.js:4",
            edit: ("x < 2; y++", "x < 2; x++"),
        },
        Case {
            kind: "idioms.no-start",
            files: "@@ fares.js\nconst fares = [{ cents: 3 }, { cents: 4 }];\nconst sum = fares.reduce((s, f) => \
                s + f.cents);\nconsole.log(sum.toFixed(2));\n",
            console: "/srv/marsh/fares.js:3\nconsole.log(sum.toFixed(2));\n                ^\n\nTypeError: \
                sum.toFixed is not a function\n    at Object.<anonymous> (/srv/marsh/fares.js:3:17)\n",
            at: "fares.js:2",
            edit: ("s + f.cents)", "s + f.cents, 0)"),
        },
        Case {
            kind: "idioms.not-awaited",
            files: "@@ tide.js\nasync function read() {\n  return { height: 3 };\n}\nasync function main() {\n  \
                const tide = read();\n  console.log(tide.height.toFixed(1));\n}\nmain();\n",
            console: "/srv/marsh/tide.js:6\n  console.log(tide.height.toFixed(1));\n                          \
                ^\n\nTypeError: Cannot read properties of undefined (reading 'toFixed')\n    at main \
                (/srv/marsh/tide.js:6:27)\n",
            at: "tide.js:5",
            edit: ("= read()", "= await read()"),
        },
        Case {
            kind: "idioms.shared-counter",
            files: "@@ lamps.js\nvar lamps = ['red', 'green'];\nfor (var i = 0; i < lamps.length; i++) {\n  \
                setTimeout(function () { console.log(lamps[i].length); }, 10);\n}\n",
            console: "/srv/marsh/lamps.js:3\n  setTimeout(function () { console.log(lamps[i].length); }, 10);\n\
                ^\n\nTypeError: Cannot read properties of undefined (reading 'length')\n    at \
                Timeout._onTimeout (/srv/marsh/lamps.js:3:49)\n",
            at: "lamps.js:3",
            edit: ("var i = 0", "let i = 0"),
        },
        Case {
            kind: "idioms.dot-for-colon",
            files: "@@ log.lua\nlocal function head(line)\n  local first = line.sub(1, 1)\n  return \
                first:upper()\nend\nprint(head(\"fog\"))\n",
            console: "lua5.4: log.lua:3: attempt to index a nil value (local 'first')\nstack traceback:\n\t\
                log.lua:3: in local 'head'\n\tlog.lua:5: in main chunk\n\t[C]: in ?\n",
            at: "log.lua:2",
            edit: ("line.sub(1, 1)", "line:sub(1, 1)"),
        },
        Case {
            kind: "idioms.by-identity",
            files: "@@ Quay.java\nclass Quay {\n    String name = new String(\"west\");\n    String owner() { return name; }\n    \
                int find(String wanted) {\n        if (owner() == wanted) {\n            return 1;\n        }\n        \
                throw new IllegalStateException(\"no quay \" + wanted);\n    }\n    public static void main(String[] args) {\n        \
                new Quay().find(\"west\");\n    }\n}\n",
            console: "Exception in thread \"main\" java.lang.IllegalStateException: no quay west\n\tat \
                Quay.find(Quay.java:8)\n\tat Quay.main(Quay.java:11)\n",
            at: "Quay.java:5",
            edit: ("owner() == wanted", "owner().equals(wanted)"),
        },
        Case {
            kind: "idioms.used-once",
            files: "@@ rows.py\ndef last(seats):\n    free = (s for s in seats if s > 2)\n    return free[0]\n\n\n\
                print(last([1, 4]))\n",
            console: "Traceback (most recent call last):\n  File \"rows.py\", line 6, in <module>\n    \
                print(last([1, 4]))\n          ^^^^^^^^^^^^\n  File \"rows.py\", line 3, in last\n    return \
                free[0]\n           ~~~~^^^\nTypeError: 'generator' object is not subscriptable\n",
            at: "rows.py:2",
            edit: ("(s for s in seats if s > 2)", "[s for s in seats if s > 2]"),
        },
    ]);
}
