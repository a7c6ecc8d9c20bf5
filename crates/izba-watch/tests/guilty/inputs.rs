//! The value that does not fit, followed to where it is written.

use super::{Case, hold};

const BENCH: &str = "@@ rig.lua\nlocal Rig = {}\nRig.__index = Rig\nfunction Rig:haul(step) return \
    step.turns end\nfunction Rig:slack(step) return step.turns * 2 end\nreturn Rig\n@@ main.lua\nlocal \
    Rig = require(\"rig\")\nlocal rig = setmetatable({}, Rig)\nfor _, step in ipairs(require(\"plan\")) \
    do\n  local work = rig[step.verb]\n  print(work(rig, step))\nend\n@@ plan.lua\nreturn {\n  { verb = \
    \"haul\", turns = 2 },\n  { verb = \"reef\", turns = 1 },\n}\n";

#[test]
fn the_word_that_leads_nowhere_is_told_where_it_is_written() {
    hold(&[
        Case {
            kind: "inputs.gives-nothing",
            files: BENCH,
            console: "2\nlua5.4: main.lua:5: attempt to call a nil value (local 'work')\nstack \
                traceback:\n\tmain.lua:5: in main chunk\n\t[C]: in ?\n",
            at: "plan.lua:3",
            edit: ("\"reef\"", "\"slack\""),
        },
        Case {
            kind: "inputs.odd-value",
            files: "@@ main.py\nimport json\n\nSHADE = {\"dim\": 0, \"bright\": 1}\n\n\ndef shade(word):\n    if \
                word not in SHADE:\n        raise ValueError(\"no such shade \" + word)\n    return \
                SHADE[word]\n\n\nfor lamp, text in json.load(open(\"lamps.json\")).items():\n    number, word = \
                text.split(\"/\")\n    print(lamp, int(number), shade(word))\n\
                @@ lamps.json\n{\n  \"mast\": \"3/dim\",\n  \"stern\": \"1/bright\",\n  \"hatch\": \
                \"2/brigth\"\n}\n",
            console: "mast 3 0\nstern 1 1\nTraceback (most recent call last):\n  File \"main.py\", line 14, in \
                <module>\n    print(lamp, int(number), shade(word))\n                             \
                ^^^^^^^^^^^\n  File \"main.py\", line 8, in shade\n    raise ValueError(\"no such shade \" + \
                word)\nValueError: no such shade brigth\n",
            at: "lamps.json:4",
            edit: ("2/brigth", "2/bright"),
        },
        Case {
            kind: "inputs.lacks",
            files: "@@ main.py\nclass Pass:\n    def __init__(self, code):\n        self.code = code\n\n    def \
                number(self):\n        return int(self.code.split(\"-\")[1])\n\n\nheld = []\n\
                held.append(Pass(\"NF-4\"))\nheld.append(Pass(\"NF7\"))\nheld.append(Pass(\"NF-9\"))\n\
                print([p.number() for p in held])\n",
            console: "Traceback (most recent call last):\n  File \"main.py\", line 13, in <module>\n    \
                print([p.number() for p in held])\n  File \"main.py\", line 13, in <listcomp>\n    print([p.number() \
                for p in held])\n           ^^^^^^^^^^\n  File \"main.py\", line 6, in number\n    return \
                int(self.code.split(\"-\")[1])\n               ~~~~~~~~~~~~~~~~~~~~^^^\nIndexError: list index out \
                of range\n",
            at: "main.py:11",
            edit: ("NF7", "NF-7"),
        },
        Case {
            kind: "inputs.never-asked",
            files: "@@ toll.py\nTOLL = {}\n\n\ndef know(word, cents):\n    TOLL[word] = cents\n\n\nknow(\"longboat\", \
                9)\nknow(\"raft\", 2)\n\n\ndef toll(word):\n    return TOLL.get(word)\n\
                @@ main.py\nfrom toll import toll\n\nfor line in open(\"boats.csv\"):\n    number, word = \
                line.strip().split(\",\")\n    print(number, toll(word) * 2)\n\
                @@ boats.csv\n1,raft\n2,boat\n3,raft\n4,boat\n",
            console: "1 4\nTraceback (most recent call last):\n  File \"main.py\", line 5, in <module>\n    \
                print(number, toll(word) * 2)\n                  ~~~~~~~~~~~^~~\nTypeError: unsupported operand \
                type(s) for *: 'NoneType' and 'int'\n",
            at: "toll.py:8",
            edit: ("\"longboat\"", "\"boat\""),
        },
        Case {
            kind: "inputs.not-registered",
            files: "@@ crew.js\nclass Crew {\n  constructor() {\n    this.acts = {};\n    this.acts['haul'] = \
                this.onHaul;\n    this.acts['row'] = this.onRow;\n  }\n  onHaul() { return 1; }\n  onRow() { return \
                2; }\n  onBail() { return 3; }\n  act(word) {\n    const done = this.acts[word];\n    return \
                done.call(this);\n  }\n}\nmodule.exports = { Crew };\n@@ night.json\n[\"haul\", \"bail\", \"row\"]\n\
                @@ main.js\nconst { Crew } = require('./crew');\nconst crew = new Crew();\nfor (const word of \
                require('./night.json')) console.log(crew.act(word));\n",
            console: "1\n/srv/marsh/crew.js:12\n    return done.call(this);\n                ^\n\nTypeError: Cannot \
                read properties of undefined (reading 'call')\n    at Crew.act (/srv/marsh/crew.js:12:17)\n    at \
                Object.<anonymous> (/srv/marsh/main.js:3:67)\n",
            at: "crew.js:5",
            edit: (
                "    this.acts['row']",
                "    this.acts['bail'] = this.onBail;\n    this.acts['row']",
            ),
        },
        Case {
            kind: "inputs.belongs-to-type",
            files: "@@ lamp.js\nclass Lamp {\n  constructor() { this.oil = 2; }\n  burn() { return this.oil; }\n  \
                static trim() { return 1; }\n}\nmodule.exports = { Lamp };\n@@ main.js\nconst { Lamp } = \
                require('./lamp');\nconst lamp = new Lamp();\nfor (const verb of ['burn', 'trim']) {\n  \
                console.log(lamp[verb].call(lamp));\n}\n",
            console: "2\n/srv/marsh/main.js:4\n  console.log(lamp[verb].call(lamp));\n                         \
                ^\n\nTypeError: Cannot read properties of undefined (reading 'call')\n    at Object.<anonymous> \
                (/srv/marsh/main.js:4:26)\n",
            at: "lamp.js:4",
            edit: ("static trim", "trim"),
        },
    ]);
}

#[test]
fn what_was_made_of_a_value_is_held_against_what_is_offered() {
    hold(&[
        Case {
            kind: "inputs.made-wrongly",
            files: "@@ main.py\nRANKS = {\"mate\": 1, \"pilot\": 3}\n\n\ndef rank(word):\n    found = \
                RANKS.get(word[:3])\n    if found is None:\n        raise ValueError(\"no rank for \" + word)\n    \
                return found\n\n\nfor word in [\"mate\", \"pilot\"]:\n    print(rank(word))\n",
            console: "Traceback (most recent call last):\n  File \"main.py\", line 12, in <module>\n    \
                print(rank(word))\n          ^^^^^^^^^^\n  File \"main.py\", line 7, in rank\n    raise \
                ValueError(\"no rank for \" + word)\nValueError: no rank for mate\n",
            at: "main.py:5",
            edit: ("word[:3]", "word"),
        },
        Case {
            kind: "inputs.head-line",
            files: "@@ Guns.cs\nusing System.IO;\nclass Bells {\n    static void Main() {\n        string[] lines = \
                File.ReadAllLines(\"bells.csv\");\n        for (int i = 0; i < lines.Length; i++) {\n            \
                string[] parts = lines[i].Split(';');\n            int weight = int.Parse(parts[1]);\n        }\n    \
                }\n}\n@@ bells.csv\nname;weight\nfog;30\nwatch;12\n",
            console: "Unhandled Exception:\nSystem.FormatException: Input string was not in a correct format.\n  at \
                System.Int32.Parse (System.String s) [0x00019] in <12b418>:0 \n  at Bells.Main () [0x0002f] in \
                /srv/marsh/Guns.cs:7 \n",
            at: "Guns.cs:5",
            edit: ("int i = 0", "int i = 1"),
        },
        Case {
            kind: "inputs.stays-text",
            files: "@@ main.lua\nlocal function deep(fathoms)\n  return fathoms > 9\nend\nfor line in \
                io.lines(\"depths.txt\") do\n  local place, fathoms = line:match(\"^(%w+) (%d+)$\")\n  print(place, \
                deep(fathoms))\nend\n@@ depths.txt\nreed 12\nmill 3\n",
            console: "lua5.4: main.lua:2: attempt to compare number with string\nstack traceback:\n\tmain.lua:2: in \
                local 'deep'\n\tmain.lua:6: in main chunk\n\t[C]: in ?\n",
            at: "main.lua:6",
            edit: ("deep(fathoms))", "deep(tonumber(fathoms)))"),
        },
        Case {
            kind: "inputs.function-itself",
            files: "@@ log.lua\nlocal log = { lines = {} }\nfunction log.use(clock)\n  log.clock = clock\nend\n\
                function log.add(text)\n  log.lines[#log.lines + 1] = { text = text, at = log.clock }\nend\n\
                function log.show()\n  for _, line in ipairs(log.lines) do\n    print(line.text .. \" \" .. \
                line.at)\n  end\nend\nreturn log\n@@ main.lua\nlocal log = require(\"log\")\nlog.use(function() \
                return 3 end)\nlog.add(\"cast off\")\nlog.show()\n",
            console: "lua5.4: ./log.lua:10: attempt to concatenate a function value (field 'at')\nstack \
                traceback:\n\t./log.lua:10: in function 'log.show'\n\tmain.lua:4: in main chunk\n\t[C]: in ?\n",
            at: "log.lua:6",
            edit: ("at = log.clock }", "at = log.clock() }"),
        },
        Case {
            kind: "inputs.not-converted",
            files: "@@ main.py\nclass Lamp:\n    def __init__(self, oil):\n        self.oil = oil\n\n    def \
                show(self):\n        return \"oil \" + self.oil + \", half \" + str(self.oil / 2)\n\n\n\
                print(Lamp(4).show())\n",
            console: "Traceback (most recent call last):\n  File \"main.py\", line 9, in <module>\n    \
                print(Lamp(4).show())\n          ^^^^^^^^^^^^^^\n  File \"main.py\", line 6, in show\n    return \
                \"oil \" + self.oil + \", half \" + str(self.oil / 2)\n           ~~~~~~~^~~~~~~~~~\nTypeError: can \
                only concatenate str (not \"int\") to str\n",
            at: "main.py:6",
            edit: (" + self.oil + ", " + str(self.oil) + "),
        },
        Case {
            kind: "inputs.handed-crosswise|swapped.arguments-crossed",
            files: "@@ crew.lua\nlocal names = { \"Ada\", \"Bo\" }\nlocal function show(sign)\n  return \
                table.concat(sign, names)\nend\nprint(show(\", \"))\n",
            console: "lua5.4: crew.lua:3: bad argument #1 to 'concat' (table expected, got string)\nstack \
                traceback:\n\t[C]: in function 'table.concat'\n\tcrew.lua:3: in local 'show'\n\tcrew.lua:5: in main \
                chunk\n\t[C]: in ?\n",
            at: "crew.lua:3",
            edit: ("concat(sign, names)", "concat(names, sign)"),
        },
    ]);
}

#[test]
fn what_nobody_puts_in_or_hands_out_is_told_where_it_should_be() {
    hold(&[
        Case {
            kind: "inputs.loop-does-nothing",
            files: "@@ main.js\nconst plan = require('./plan.json');\nconst moored = new Map();\nfor (const boat of \
                plan.boats) {\n}\nfunction seats(id) {\n  const boat = moored.get(id);\n  return boat.seats;\n}\n\
                console.log(seats('wren'));\n@@ plan.json\n{ \"boats\": [ { \"id\": \"wren\", \"seats\": 4 } ] }\n",
            console: "/srv/marsh/main.js:7\n  return boat.seats;\n              ^\n\nTypeError: Cannot read properties \
                of undefined (reading 'seats')\n    at seats (/srv/marsh/main.js:7:15)\n    at Object.<anonymous> \
                (/srv/marsh/main.js:9:13)\n",
            at: "main.js:3",
            edit: ("plan.boats) {\n", "plan.boats) {\n  moored.set(boat.id, boat);\n"),
        },
        Case {
            kind: "inputs.not-handed-out",
            files: "@@ toll.js\nconst LIMIT = { boats: 4 };\nfunction pay(n) { return n; }\nfunction back(n) { return -n; }\n\n\
                exports.pay = pay;\nexports.back = back;\n@@ main.js\nconst { pay, LIMIT } = require('./toll');\n\
                const n = pay(3);\nconsole.log(n < LIMIT.boats);\n",
            console: "/srv/marsh/main.js:3\nconsole.log(n < LIMIT.boats);\n                      ^\n\nTypeError: Cannot \
                read properties of undefined (reading 'boats')\n    at Object.<anonymous> \
                (/srv/marsh/main.js:3:23)\n",
            at: "toll.js:5",
            edit: ("exports.back = back;", "exports.back = back;\nexports.LIMIT = LIMIT;"),
        },
        Case {
            kind: "inputs.local-only|access.local",
            files: "@@ rope.lua\nlocal rope = {}\nlocal function knot(n)\n  return n * 2\nend\nfunction rope.coil(n)\n  \
                return knot(n) + 1\nend\nreturn rope\n@@ main.lua\nlocal rope = require(\"rope\")\n\
                print(rope.knot(3))\n",
            console: "lua5.4: main.lua:2: attempt to call a nil value (field 'knot')\nstack traceback:\n\tmain.lua:2: \
                in main chunk\n\t[C]: in ?\n",
            at: "rope.lua:2",
            edit: ("return rope\n", "rope.knot = knot\nreturn rope\n"),
        },
        Case {
            kind: "inputs.no-return-at-end",
            files: "@@ winch.lua\nlocal Winch = {}\n\nfunction Winch.turn(n)\n  return n * 3\nend\n@@ main.lua\nlocal \
                Winch = require(\"winch\")\nprint(Winch.turn(4))\n",
            console: "lua5.4: main.lua:2: attempt to index a boolean value (local 'Winch')\nstack \
                traceback:\n\tmain.lua:2: in main chunk\n\t[C]: in ?\n",
            at: "winch.lua:5",
            edit: ("  return n * 3\nend\n", "  return n * 3\nend\nreturn Winch\n"),
        },
        Case {
            kind: "inputs.too-small",
            files: "@@ Deck.java\nclass Deck {\n    private final String[] seats;\n    Deck(int count) {\n        seats = \
                new String[count];\n    }\n    void take(String who, int at) {\n        seats[at] = who;\n    }\n    \
                public static void main(String[] args) {\n        Deck deck = new Deck(2);\n        for (int i = 0; i \
                < 3; i++) {\n            deck.take(\"Bo\", i);\n        }\n    }\n}\n",
            console: "Exception in thread \"main\" java.lang.ArrayIndexOutOfBoundsException: Index 2 out of bounds for \
                length 2\n\tat Deck.take(Deck.java:7)\n\tat Deck.main(Deck.java:12)\n",
            at: "Deck.java:10",
            edit: ("new Deck(2)", "new Deck(3)"),
        },
        Case {
            kind: "inputs.never-set",
            files: "@@ boat.lua\nlocal Boat = {}\nfunction Boat.new(row, seat)\n  local boat = {}\n  boat.seat = seat\n  \
                boat.oars = 2\n  return boat\nend\nreturn Boat\n@@ main.lua\nlocal Boat = require(\"boat\")\nlocal rows \
                = { { 5, 6 }, { 7, 8 } }\nlocal boat = Boat.new(1, 2)\nprint(rows[boat.row][boat.seat])\n",
            console: "lua5.4: main.lua:4: attempt to index a nil value (field '?')\nstack traceback:\n\tmain.lua:4: in \
                main chunk\n\t[C]: in ?\n",
            at: "boat.lua:3",
            edit: ("  boat.seat = seat\n", "  boat.row = row\n  boat.seat = seat\n"),
        },
    ]);
}
