//! What a value is was mistaken: a list, an object, a text, a module, a field that is worked out.

use super::{Case, hold};

#[test]
fn another_kind_of_thing_than_was_thought() {
    hold(&[
        Case {
            kind: "inputs.whole-as-key",
            files: r#"@@ bell.js
const deeds = {
  ring(turn) {
    return 'ding ' + turn.times;
  },
  rest(turn) {
    return '- ' + turn.times;
  },
};

for (const turn of [{ deed: 'ring', times: 2 }, { deed: 'rest', times: 1 }]) {
  const deed = deeds[turn];
  console.log(deed(turn));
}
"#,
            console: r#"/srv/marsh/bell.js:12
  console.log(deed(turn));
              ^

TypeError: deed is not a function
    at Object.<anonymous> (/srv/marsh/bell.js:12:15)

Node.js v20.20.2
"#,
            at: "bell.js:11",
            edit: ("deeds[turn]", "deeds[turn.deed]"),
        },
        Case {
            kind: "inputs.not-parsed",
            files: r#"@@ main.js
const fs = require('fs');

const night = fs.readFileSync(__dirname + '/night.json', 'utf8');

for (const stop of night.stops) {
  console.log(stop.quay);
}
@@ night.json
{ "stops": [{ "quay": "north" }, { "quay": "mill" }] }
"#,
            console: r#"/srv/marsh/main.js:5
for (const stop of night.stops) {
                         ^

TypeError: night.stops is not iterable
    at Object.<anonymous> (/srv/marsh/main.js:5:26)

Node.js v20.20.2
"#,
            at: "main.js:3",
            edit: (
                "fs.readFileSync(__dirname + '/night.json', 'utf8')",
                "JSON.parse(fs.readFileSync(__dirname + '/night.json', 'utf8'))",
            ),
        },
        Case {
            kind: "inputs.list-has-not",
            files: r#"@@ log.js
class Log {
  constructor() {
    this.lines = [];
  }

  add(text) {
    this.lines.push({ text });
  }

  newest() {
    const line = this.lines.last;
    return line.text;
  }
}

const log = new Log();
log.add('lamp lit');
console.log(log.newest());
"#,
            console: r#"/srv/marsh/log.js:12
    return line.text;
                ^

TypeError: Cannot read properties of undefined (reading 'text')
    at Log.newest (/srv/marsh/log.js:12:17)
    at Object.<anonymous> (/srv/marsh/log.js:18:17)

Node.js v20.20.2
"#,
            at: "log.js:11",
            edit: ("this.lines.last;", "this.lines[0];"),
        },
        Case {
            kind: "inputs.object-is-no-list",
            files: r#"@@ log.js
class Log {
  constructor() {
    this.lines = {};
  }

  texts() {
    return this.lines.map((line) => line.text);
  }
}

console.log(new Log().texts());
"#,
            console: r#"/srv/marsh/log.js:7
    return this.lines.map((line) => line.text);
                      ^

TypeError: this.lines.map is not a function
    at Log.texts (/srv/marsh/log.js:7:23)
    at Object.<anonymous> (/srv/marsh/log.js:11:23)

Node.js v20.20.2
"#,
            at: "log.js:3",
            edit: ("this.lines = {}", "this.lines = []"),
        },
        Case {
            kind: "inputs.is-getter",
            files: r#"@@ hold.js
class Hold {
  constructor(size) {
    this.size = size;
    this.crates = [];
  }

  get room() {
    return this.size - this.crates.length;
  }
}

module.exports = { Hold };
@@ main.js
const { Hold } = require('./hold');

const hold = new Hold(4);
console.log(hold.room());
"#,
            console: r#"/srv/marsh/main.js:4
console.log(hold.room());
                 ^

TypeError: hold.room is not a function
    at Object.<anonymous> (/srv/marsh/main.js:4:18)

Node.js v20.20.2
"#,
            at: "hold.js:7",
            edit: ("  get room()", "  room()"),
        },
        Case {
            kind: "inputs.whole-module",
            files: r#"@@ hold.js
class Hold {
  constructor(size) {
    this.size = size;
  }
}

module.exports = { Hold };
@@ main.js
const Hold = require('./hold');

const hold = new Hold(4);
console.log(hold.size);
"#,
            console: r#"/srv/marsh/main.js:3
const hold = new Hold(4);
             ^

TypeError: Hold is not a constructor
    at Object.<anonymous> (/srv/marsh/main.js:3:14)

Node.js v20.20.2
"#,
            at: "main.js:1",
            edit: ("const Hold =", "const { Hold } ="),
        },
        Case {
            kind: "inputs.one-handed-out",
            files: r#"@@ hold.js
function unload(hold) {
  return hold.pop();
}

module.exports = unload;
@@ main.js
const { unload } = require('./hold');

console.log(unload(['tea']));
"#,
            console: "/srv/marsh/main.js:3\nconsole.log(unload(['tea']));\n            ^\n\nTypeError: \
                unload is not a function\n    at Object.<anonymous> (/srv/marsh/main.js:3:13)\n",
            at: "main.js:1",
            edit: ("const { unload } =", "const unload ="),
        },
        Case {
            kind: "inputs.one-handed-out",
            files: r#"@@ hold.js
function load(hold, crate) {
  hold.push(crate);
}

function unload(hold) {
  return hold.pop();
}

module.exports = load;
@@ main.js
const { load, unload } = require('./hold');

const hold = [];
load(hold, 'tea');
console.log(unload(hold));
"#,
            console: r#"/srv/marsh/main.js:4
load(hold, 'tea');
^

TypeError: load is not a function
    at Object.<anonymous> (/srv/marsh/main.js:4:1)

Node.js v20.20.2
"#,
            at: "hold.js:9",
            edit: ("module.exports = load;", "module.exports = { load, unload };"),
        },
        Case {
            kind: "inputs.list-by-name",
            files: r#"@@ board.py
class Board:
    def __init__(self):
        self.keys = []

    def hang(self, cabin, key):
        self.keys[cabin] = key


board = Board()
board.hang("aft", 7)
print(board.keys)
"#,
            console: r#"Traceback (most recent call last):
  File "/srv/marsh/board.py", line 10, in <module>
    board.hang("aft", 7)
  File "/srv/marsh/board.py", line 6, in hang
    self.keys[cabin] = key
    ~~~~~~~~~^^^^^^^
TypeError: list indices must be integers or slices, not str
"#,
            at: "board.py:3",
            edit: ("self.keys = []", "self.keys = {}"),
        },
        Case {
            kind: "inputs.text-is-kept",
            files: r#"@@ crane.py
class Crane:
    def __init__(self, name):
        self.name = name

    def lift(self, crate):
        crate.crane = self.name


class Crate:
    def __init__(self, mark):
        self.mark = mark
        self.crane = None

    def label(self):
        return self.mark + " by " + self.crane.name


crate = Crate("tea")
Crane("north").lift(crate)
print(crate.label())
"#,
            console: r#"Traceback (most recent call last):
  File "/srv/marsh/crane.py", line 20, in <module>
    print(crate.label())
          ^^^^^^^^^^^^^
  File "/srv/marsh/crane.py", line 15, in label
    return self.mark + " by " + self.crane.name
                                ^^^^^^^^^^^^^^^
AttributeError: 'str' object has no attribute 'name'
"#,
            at: "crane.py:6",
            edit: ("crate.crane = self.name", "crate.crane = self"),
        },
    ]);
}

#[test]
fn wholes_for_parts_and_parts_for_wholes() {
    hold(&[
        Case {
            kind: "inputs.not-called-here",
            files: r#"@@ hold.py
class Hold:
    def __init__(self, limit):
        self.limit = limit

    def room(self):
        return self.limit - 2


holds = [Hold(4), Hold(6)]
print(holds[0].room > holds[1].room)
"#,
            console: r#"Traceback (most recent call last):
  File "/srv/marsh/hold.py", line 10, in <module>
    print(holds[0].room > holds[1].room)
          ^^^^^^^^^^^^^^^^^^^^^^^^^^^^^
TypeError: '>' not supported between instances of 'method' and 'method'
"#,
            at: "hold.py:10",
            edit: ("holds[0].room > holds[1].room", "holds[0].room() > holds[1].room()"),
        },
        Case {
            kind: "inputs.keys-gone-through",
            files: r#"@@ main.py
import json


def build(rows):
    return [row["mark"] for row in rows]


plan = json.load(open("plan.json"))
print(build(plan))
@@ plan.json
{
  "rule": "first",
  "crates": [{ "mark": "tea" }, { "mark": "ice" }]
}
"#,
            console: r#"Traceback (most recent call last):
  File "/srv/marsh/main.py", line 9, in <module>
    print(build(plan))
          ^^^^^^^^^^^
  File "/srv/marsh/main.py", line 5, in build
    return [row["mark"] for row in rows]
           ^^^^^^^^^^^^^^^^^^^^^^^^^^^^^
  File "/srv/marsh/main.py", line 5, in <listcomp>
    return [row["mark"] for row in rows]
            ~~~^^^^^^^^
TypeError: string indices must be integers, not 'str'
"#,
            at: "main.py:9",
            edit: ("build(plan)", "build(plan['crates'])"),
        },
        Case {
            kind: "inputs.no-such-key",
            files: r#"@@ main.js
const steps = require('./steps.json');

const ropes = { bow: { free: 4 }, stern: { free: 3 } };

for (const step of steps) {
  const rope = ropes[step.name];
  console.log(rope.free);
}
@@ steps.json
[
  { "rope": "bow", "deed": "cut" },
  { "rope": "stern", "deed": "tie" }
]
"#,
            console: r#"/srv/marsh/main.js:7
  console.log(rope.free);
                   ^

TypeError: Cannot read properties of undefined (reading 'free')
    at Object.<anonymous> (/srv/marsh/main.js:7:20)

Node.js v20.20.2
"#,
            at: "main.js:6",
            edit: ("step.name", "step.rope"),
        },
        Case {
            kind: "inputs.list-asked",
            files: r#"@@ main.lua
local function rows()
  local found = {}
  for n = 1, 3 do
    found[#found + 1] = { n }
  end
  return found
end

local function report(words)
  return words.title .. ": all well"
end

print(report(rows()))
"#,
            console: r#"lua5.4: main.lua:10: attempt to concatenate a nil value (field 'title')
stack traceback:
	main.lua:10: in local 'report'
	main.lua:13: in main chunk
	[C]: in ?
"#,
            at: "main.lua:13",
            edit: ("report(rows())", "report({ title = 'night' })"),
        },
        Case {
            kind: "inputs.split-otherwise",
            files: r#"@@ main.py
deeds = {"lay": len, "cut": len}
for line in open("orders.txt"):
    words = line.strip().split(",")
    print(deeds[words[0]](words))
@@ orders.txt
lay bow 40
cut bow 12
"#,
            console: r#"Traceback (most recent call last):
  File "/srv/marsh/main.py", line 4, in <module>
    print(deeds[words[0]](words))
          ~~~~~^^^^^^^^^^
KeyError: 'lay bow 40'
"#,
            at: "main.py:3",
            edit: ("split(\",\")", "split(\" \")"),
        },
    ]);
}
