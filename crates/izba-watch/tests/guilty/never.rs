//! What should have happened and has no place in the program.

use super::{Case, found, hold, of_kind};

#[test]
fn a_field_that_nobody_sets_is_told_where_the_others_are_set() {
    hold(&[
        Case {
            kind: "never.never-set",
            files: "@@ ferry.py\nclass Ferry:\n    def __init__(self, name):\n        self.name = name\n        \
                self.boats = []\n\n    def load(self):\n        return self.deck.strip()\n\n\nFerry(\"Wren\").load()\n",
            console: "Traceback (most recent call last):\n  File \"ferry.py\", line 10, in <module>\n    \
                Ferry(\"Wren\").load()\n  File \"ferry.py\", line 7, in load\n    return \
                self.deck.strip()\n           ^^^^^^^^^\nAttributeError: 'Ferry' object has no attribute 'deck'\n",
            at: "ferry.py:3",
            edit: (
                "        self.boats = []\n",
                "        self.boats = []\n        self.deck = \"a\"\n",
            ),
        },
        Case {
            kind: "never.hidden-by-local",
            files: "@@ Quay.cs\nusing System.Collections.Generic;\nclass Quay {\n    List<string> boats;\n    public \
                Quay() {\n        List<string> boats = new List<string>();\n    }\n    public void Moor(string b) {\n        \
                boats.Add(b);\n    }\n    static void Main() { new Quay().Moor(\"Wren\"); }\n}\n",
            console: "Unhandled Exception:\nSystem.NullReferenceException: Object reference not set to an instance of an \
                object\n  at Quay.Moor (System.String b) [0x00000] in /srv/marsh/Quay.cs:8 \n  at Quay.Main () [0x00000] \
                in /srv/marsh/Quay.cs:10 \n",
            at: "Quay.cs:5",
            edit: ("        List<string> boats = new", "        boats = new"),
        },
        Case {
            kind: "never.never-set-idle",
            files: "@@ Boat.java\nclass Boat {\n    private Quay at;\n    private int fuel;\n    void land(Quay q) {\n        \
                fuel = 3;\n    }\n    int leave() {\n        return at.depth() + fuel;\n    }\n}\nclass Quay {\n    int \
                depth() { return 2; }\n    public static void main(String[] args) {\n        Boat b = new Boat();\n        \
                b.land(new Quay());\n        b.leave();\n    }\n}\n",
            console: "Exception in thread \"main\" java.lang.NullPointerException: Cannot invoke \"Quay.depth()\" because \
                \"this.at\" is null\n\tat Boat.leave(Boat.java:8)\n\tat Quay.main(Boat.java:16)\n",
            at: "Boat.java:4",
            edit: ("        fuel = 3;\n", "        fuel = 3;\n        at = q;\n"),
        },
        Case {
            kind: "never.never-set-own",
            files: "@@ hero.js\nfunction Guard(x) {\n  this.x = x;\n  this.lives = 3;\n}\nmodule.exports = Guard;\n\
                @@ main.js\nconst Guard = require('./hero');\nconst guard = new Guard(1);\nguard.bag.push('rope');\n",
            console: "/srv/marsh/main.js:3\nguard.bag.push('rope');\n          ^\n\nTypeError: Cannot read properties \
                of undefined (reading 'push')\n    at Object.<anonymous> (/srv/marsh/main.js:3:11)\n",
            at: "hero.js:3",
            edit: ("  this.lives = 3;\n", "  this.lives = 3;\n  this.bag = [];\n"),
        },
        Case {
            kind: "never.write-only",
            files: "@@ hold.py\nclass Hold:\n    def __init__(self):\n        self.taken = 0\n        self.limit = \
                None\n\n    def weigh(self, text):\n        self.limti = int(text)\n@@ main.py\nfrom hold import \
                Hold\n\nhold = Hold()\nhold.weigh(\"20\")\nprint(hold.taken < hold.limit)\n",
            console: "Traceback (most recent call last):\n  File \"main.py\", line 5, in <module>\n    \
                print(hold.taken < hold.limit)\n          ^^^^^^^^^^^^^^^^^^^^^^^\nTypeError: '<' not supported between \
                instances of 'int' and 'NoneType'\n",
            at: "hold.py:7",
            edit: ("self.limti", "self.limit"),
        },
    ]);
}

#[test]
fn a_field_that_is_only_counted_on_from_never_begins() {
    let files = "@@ player.lua\nlocal Player = {}\nPlayer.__index = Player\n\nfunction Player.new(name)\n  \
        local self = setmetatable({}, Player)\n  self.name = name\n  self.energy = 10\n  return self\nend\n\n\
        function Player:walk(steps)\n  self.position = self.position + steps\nend\n\nreturn Player\n\
        @@ main.lua\nlocal Player = require(\"player\")\nPlayer.new(\"Ada\"):walk(2)\n";
    let console = "lua5.4: ./player.lua:12: attempt to perform arithmetic on a nil value (field 'position')\n\
        stack traceback:\n\t./player.lua:12: in function 'player.walk'\n\tmain.lua:2: in main chunk\n\t[C]: in ?\n";
    hold(&[Case {
        kind: "never.never-set-own",
        files,
        console,
        at: "player.lua:7",
        edit: ("  self.energy = 10\n", "  self.energy = 10\n  self.position = 0\n"),
    }]);
    // What helps itself out is a first value.
    let helped = files.replace("self.position + steps", "(self.position or 0) + steps");
    let seen = found(&super::files(&helped), console).expect("an error is read");
    assert!(of_kind(&seen, "never.never-set-own").is_none(), "{:#?}", seen.suspects);
    // And of what never begins nobody says that every declaration of it has a value.
    let seen = found(&super::files(files), console).expect("an error is read");
    let ruled_out: Vec<String> =
        seen.reasons.iter().map(|r| format!("{:?}", r.claim.says.kind)).collect();
    assert!(!ruled_out.iter().any(|k| k == "missing.never-given"), "{ruled_out:?}");
}

#[test]
fn what_is_not_handed_on_not_given_back_and_not_called_is_told() {
    hold(&[
        Case {
            kind: "never.no-super",
            files: "@@ base.py\nclass Base:\n    def __init__(self, options):\n        self.options = options\n\n    def \
                run(self):\n        self.draw()\n@@ fog.py\nfrom base import Base\n\n\nclass Fog(Base):\n    def \
                __init__(self, options):\n        self.dx = 2\n\n    def draw(self):\n        \
                print(self.options[\"char\"])\n\n\nFog({\"char\": 3}).run()\n",
            console: "Traceback (most recent call last):\n  File \"fog.py\", line 12, in <module>\n    Fog({\"char\": \
                3}).run()\n  File \"base.py\", line 6, in run\n    self.draw()\n  File \"fog.py\", line 9, in draw\n    \
                print(self.options[\"char\"])\n          ^^^^^^^^^^^^\nAttributeError: 'Fog' object has no attribute \
                'options'\n",
            at: "fog.py:5",
            edit: (
                "        self.dx = 2\n",
                "        super().__init__(options)\n        self.dx = 2\n",
            ),
        },
        Case {
            kind: "never.no-super-known",
            files: "@@ room.mjs\nimport { EventEmitter } from 'node:events';\nexport class Room extends EventEmitter {\n  \
                constructor(lines) {\n    this.lines = lines;\n  }\n}\nnew Room([]);\n",
            console: "file:///srv/marsh/room.mjs:4\n    this.lines = lines;\n    ^\n\nReferenceError: Must call super \
                constructor in derived class before accessing 'this' or returning from derived constructor\n    at new \
                Room (file:///srv/marsh/room.mjs:4:5)\n    at file:///srv/marsh/room.mjs:7:1\n",
            at: "room.mjs:3",
            edit: ("    this.lines = lines;\n", "    super();\n    this.lines = lines;\n"),
        },
        Case {
            kind: "never.no-return",
            files: "@@ start.js\nfunction start(text) {\n  const parts = text.split(',');\n  const at = { x: parts[0] };\n}\n\
                const place = start('1,2');\nconsole.log(place.x);\n",
            console: "/srv/marsh/start.js:6\nconsole.log(place.x);\n                  ^\n\nTypeError: Cannot read \
                properties of undefined (reading 'x')\n    at Object.<anonymous> (/srv/marsh/start.js:6:19)\n",
            at: "start.js:3",
            edit: ("  const at = { x: parts[0] };\n", "  return { x: parts[0] };\n"),
        },
        Case {
            kind: "never.other-override",
            files: "@@ signal.py\nclass Signal:\n    def give(self):\n        self.sound()\n\n    def sound(self):\n        \
                raise NotImplementedError(\"a signal has to sound\")\n@@ horn.py\nfrom signal import Signal\n\n\n\
                class Horn(Signal):\n    def suond(self):\n        print(\"hoo\")\n\n\nHorn().give()\n",
            console: "Traceback (most recent call last):\n  File \"horn.py\", line 9, in <module>\n    \
                Horn().give()\n  File \"signal.py\", line 3, in give\n    self.sound()\n  File \"signal.py\", line 6, in \
                sound\n    raise NotImplementedError(\"a signal has to sound\")\nNotImplementedError: a signal has to \
                sound\n",
            at: "horn.py:5",
            edit: ("suond", "sound"),
        },
        Case {
            kind: "never.not-called",
            files: "@@ quay.py\nclass Quay:\n    def __init__(self):\n        self.moored = []\n\n    def moor(self, \
                boat):\n        self.moored.append(boat)\n\n    def open(self, names):\n        for name in \
                names:\n            self.moor(name)\n\n    def first(self):\n        return self.moored[0]\n\
                @@ main.py\nfrom quay import Quay\n\nquay = Quay()\nprint(quay.first())\n",
            console: "Traceback (most recent call last):\n  File \"main.py\", line 4, in <module>\n    \
                print(quay.first())\n          ^^^^^^^^^^^^\n  File \"quay.py\", line 13, in first\n    return \
                self.moored[0]\n           ~~~~~~~~~~~^^^\nIndexError: list index out of range\n",
            at: "main.py:3",
            edit: ("quay = Quay()\n", "quay = Quay()\nquay.open([\"Wren\"])\n"),
        },
        Case {
            kind: "never.late-local",
            files: "@@ kit.lua\nlocal Kit = {}\nfunction Kit.make(title)\n  return { title = title, parts = usual }\nend\n\
                local usual = { \"oar\", \"rope\" }\nreturn Kit\n@@ main.lua\nlocal Kit = require(\"kit\")\n\
                print(#Kit.make(\"raft\").parts)\n",
            console: "lua5.4: main.lua:2: attempt to get length of a nil value (field 'parts')\nstack \
                traceback:\n\tmain.lua:2: in main chunk\n\t[C]: in ?\n",
            at: "kit.lua:5",
            edit: ("parts = usual }", "parts = {} }"),
        },
        Case {
            kind: "never.lost-local",
            files: "@@ count.lua\nlocal function count(boats)\n  local numbre = 0\n  for _, boat in ipairs(boats) do\n    \
                number = (number or 0) + boat.seats\n  end\n  return number\nend\nprint(count({}) + 1)\n",
            console: "lua5.4: count.lua:8: attempt to perform arithmetic on a nil value\nstack traceback:\n\t\
                count.lua:8: in main chunk\n\t[C]: in ?\n",
            at: "count.lua:2",
            edit: ("local numbre", "local number"),
        },
        Case {
            kind: "never.forgotten-lookup",
            files: "@@ sail.js\nconst CLOTH = { linen: { weight: 18 }, hemp: { weight: 70 } };\nclass Sail {\n  \
                constructor(spec) {\n    this.cloth = spec.cloth;\n  }\n  load() {\n    return \
                this.cloth.weight.toFixed(1);\n  }\n}\nmodule.exports = { Sail };\n@@ main.js\nconst { Sail } = \
                require('./sail');\nconst sails = require('./sails.json').map((spec) => new Sail(spec));\n\
                console.log(sails.map((sail) => sail.load()));\n@@ sails.json\n[ { \"cloth\": \"linen\" },\n  { \"cloth\": \
                \"hemp\" } ]\n",
            console: "/srv/marsh/sail.js:7\n    return this.cloth.weight.toFixed(1);\n                             \
                ^\n\nTypeError: Cannot read properties of undefined (reading 'toFixed')\n    at Sail.load \
                (/srv/marsh/sail.js:7:30)\n    at /srv/marsh/main.js:3:38\n    at Array.map (<anonymous>)\n",
            at: "sail.js:4",
            edit: ("= spec.cloth", "= CLOTH[spec.cloth]"),
        },
    ]);
}
