//! What is done several times in one way, and once otherwise.

use super::{Case, hold};

#[test]
fn the_odd_one_among_siblings_is_told() {
    hold(&[
        Case {
            kind: "siblings.other-order",
            files: "@@ map.py\nclass Map:\n    def __init__(self):\n        self.rows = [[1, 2, 3]]\n\n    def \
                get(self, place):\n        x, y = place\n        return self.rows[y][x]\n\n    def mark(self, \
                place):\n        y, x = place\n        self.rows[y][x] = 0\n\n\nMap().mark((2, 0))\n",
            console: "Traceback (most recent call last):\n  File \"map.py\", line 14, in <module>\n    \
                Map().mark((2, 0))\n  File \"map.py\", line 11, in mark\n    self.rows[y][x] = 0\n    \
                ~~~~~~~~~^^^\nIndexError: list index out of range\n",
            at: "map.py:10",
            edit: ("        y, x = place", "        x, y = place"),
        },
        Case {
            kind: "siblings.crossed",
            files: "@@ main.js\nfunction land(boat, q) {\n  q.boats.push(boat);\n}\nfunction arrive(boat, \
                quay) {\n  land(quay, boat);\n}\narrive({ name: 'Wren' }, { boats: [] });\n",
            console: "/srv/marsh/main.js:2\n  q.boats.push(boat);\n          ^\n\nTypeError: Cannot read \
                properties of undefined (reading 'push')\n    at land (/srv/marsh/main.js:2:11)\n    at arrive \
                (/srv/marsh/main.js:5:3)\n    at Object.<anonymous> (/srv/marsh/main.js:7:1)\n",
            at: "main.js:5",
            edit: ("land(quay, boat)", "land(boat, quay)"),
        },
        Case {
            kind: "siblings.twin",
            files: "@@ hold.js\nfunction place(hold, box) {\n  const row = Math.min(box.row + 1, hold.rows - 1);\n  \
                const seat = Math.min(box.seat + 1, hold.seats);\n  return hold.places[row][seat].free;\n}\n\
                place({ rows: 1, seats: 1, places: [[{ free: 1 }]] }, { row: 0, seat: 0 });\n",
            console: "/srv/marsh/hold.js:4\n  return hold.places[row][seat].free;\n                                \
                ^\n\nTypeError: Cannot read properties of undefined (reading 'free')\n    at place \
                (/srv/marsh/hold.js:4:33)\n    at Object.<anonymous> (/srv/marsh/hold.js:6:1)\n",
            at: "hold.js:3",
            edit: ("hold.seats)", "hold.seats - 1)"),
        },
        Case {
            kind: "siblings.filled-twice",
            files: "@@ Fares.java\nclass Fares {\n    Integer[] cents = new Integer[4];\n    Fares() {\n        \
                cents[0] = 120;\n        cents[1] = 150;\n        cents[1] = 210;\n        cents[3] = 300;\n    \
                }\n    public static void main(String[] args) {\n        System.out.println(new Fares().cents[2] \
                * 2);\n    }\n}\n",
            console: "Exception in thread \"main\" java.lang.NullPointerException: Cannot invoke \
                \"java.lang.Integer.intValue()\" because \"Fares.cents[2]\" is null\n\tat \
                Fares.main(Fares.java:10)\n",
            at: "Fares.java:6",
            edit: ("cents[1] = 210", "cents[2] = 210"),
        },
        Case {
            kind: "siblings.short-loop",
            files: "@@ signs.js\nfunction signs(boats) {\n  const out = [];\n  for (let i = 0; i < boats.length - 1; \
                i++) {\n    out[i] = boats[i] + '!';\n  }\n  return out;\n}\nconst all = signs(['Wren', 'Tern']);\n\
                console.log(all[1].trim());\n",
            console: "/srv/marsh/signs.js:9\nconsole.log(all[1].trim());\n                   ^\n\nTypeError: \
                Cannot read properties of undefined (reading 'trim')\n    at Object.<anonymous> \
                (/srv/marsh/signs.js:9:20)\n",
            at: "signs.js:3",
            edit: ("boats[i] + '!'", "boats[i] + boats[i + 1]"),
        },
        Case {
            kind: "siblings.few-parameters",
            files: "@@ acts.py\nacts = {\n    \"load\": lambda boat, box: boat.append(box),\n    \"drop\": lambda \
                boat: boat.pop(),\n    \"swap\": lambda boat, box: boat.insert(0, box),\n}\nacts[\"drop\"]([], 3)\n",
            console: "Traceback (most recent call last):\n  File \"acts.py\", line 6, in <module>\n    \
                acts[\"drop\"]([], 3)\nTypeError: <lambda>() takes 1 positional argument but 2 were given\n",
            at: "acts.py:3",
            edit: ("lambda boat: boat.pop()", "lambda boat, box: boat.pop()"),
        },
    ]);
}
