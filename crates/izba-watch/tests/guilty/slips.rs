//! Slips that programs of nobody here showed: what a function takes, lines that do nothing, what is
//! set for another, keys that no line has. The consoles are what the real runtimes said.

use super::{Case, files, found, hold};

#[test]
fn what_a_function_takes_fits_what_it_is_given_and_reads() {
    hold(&[
        Case {
            kind: "takes.no-room",
            files: r#"@@ boat.lua
local Boat = {}
Boat.__index = Boat

function Boat:init(name)
  self.name = name
  self.hold = hold
end

function Boat:weigh()
  return self.hold * 2
end

return Boat
@@ main.lua
local Boat = require("boat")

local wren = setmetatable({}, Boat)
wren:init("Wren", 4)
print(wren:weigh())
"#,
            console: r"lua5.4: ./boat.lua:10: attempt to perform arithmetic on a nil value (field 'hold')
stack traceback:
	./boat.lua:10: in function 'boat.weigh'
	main.lua:5: in main chunk
	[C]: in ?
",
            at: "boat.lua:4",
            edit: (":init(name)", ":init(name, hold)"),
        },
        Case {
            kind: "takes.no-room",
            files: r#"@@ main.py
def toll(boats):
    return len(boats) * fare


print(toll(["Wren", "Tern"], 3))
"#,
            console: r#"Traceback (most recent call last):
  File "/srv/marsh/main.py", line 5, in <module>
    print(toll(["Wren", "Tern"], 3))
          ^^^^^^^^^^^^^^^^^^^^^^^^^
TypeError: toll() takes 1 positional argument but 2 were given
"#,
            at: "main.py:1",
            edit: ("def toll(boats):", "def toll(boats, fare):"),
        },
        Case {
            kind: "takes.other-name",
            files: r#"@@ main.js
class Harbour {
  berth(quay, side) {
    return boat.name + side;
  }
}

const boat1 = { boat: { name: "Wren" } };
console.log(new Harbour().berth(boat1.boat, "left"));
"#,
            console: r"/srv/marsh/main.js:3
    return boat.name + side;
    ^

ReferenceError: boat is not defined
    at Harbour.berth (/srv/marsh/main.js:3:5)
    at Object.<anonymous> (/srv/marsh/main.js:8:27)
",
            at: "main.js:2",
            edit: ("  berth(quay, side) {", "  berth(boat, side) {"),
        },
        Case {
            kind: "crossed.in-definition",
            files: r#"@@ main.js
function column(width, text) {
  return text.padEnd(width, " ");
}

console.log(column("Wren", 8));
console.log(column("Tern", 6));
"#,
            console: r#"/srv/marsh/main.js:2
  return text.padEnd(width, " ");
              ^

TypeError: text.padEnd is not a function
    at column (/srv/marsh/main.js:2:15)
    at Object.<anonymous> (/srv/marsh/main.js:5:13)
"#,
            at: "main.js:1",
            edit: ("(width, text)", "(text, width)"),
        },
        Case {
            kind: "crossed.in-call",
            files: r#"@@ main.js
function column(text, width) {
  return text.padEnd(width, " ");
}

console.log(column(8, "Wren"));
"#,
            console: r#"/srv/marsh/main.js:2
  return text.padEnd(width, " ");
              ^

TypeError: text.padEnd is not a function
    at column (/srv/marsh/main.js:2:15)
    at Object.<anonymous> (/srv/marsh/main.js:5:13)
"#,
            at: "main.js:5",
            edit: ("column(8, \"Wren\")", "column(\"Wren\", 8)"),
        },
        Case {
            kind: "siblings.crossed-by-all",
            files: r#"@@ boat.lua
local Boat = {}
Boat.__index = Boat

function Boat:init(hold, name)
  self.name = name
  self.hold = hold
end

function Boat.new(name, hold)
  local self = setmetatable({}, Boat)
  self:init(name, hold)
  return self
end

function Boat.small(name)
  local self = setmetatable({}, Boat)
  local hold = 2
  self:init(name, hold)
  return self
end

function Boat:weigh()
  return self.hold * 2
end

return Boat
@@ main.lua
local Boat = require("boat")

print(Boat.new("Wren", 4):weigh())
print(Boat.small("Tern"):weigh())
"#,
            console: r"lua5.4: ./boat.lua:23: attempt to mul a 'string' with a 'number'
stack traceback:
	[C]: in metamethod 'mul'
	./boat.lua:23: in function 'boat.weigh'
	main.lua:3: in main chunk
	[C]: in ?
",
            at: "boat.lua:4",
            edit: (":init(hold, name)", ":init(name, hold)"),
        },
    ]);
}

#[test]
fn what_cannot_be_meant_as_it_stands_is_told() {
    hold(&[
        Case {
            kind: "odd.dropped",
            files: r#"@@ main.js
const boats = [{ name: "Wren" }, { name: "Tern" }];
function count(all) {
  if (!all) {
    return 1;
  }
  boats.length;
}
function last() {
  return boats[count(true) - 1];
}
console.log(last().name);
"#,
            console: r"/srv/marsh/main.js:11
console.log(last().name);
                  ^

TypeError: Cannot read properties of undefined (reading 'name')
    at Object.<anonymous> (/srv/marsh/main.js:11:19)
",
            at: "main.js:6",
            edit: ("  boats.length;", "  return boats.length;"),
        },
        Case {
            kind: "odd.text-counted",
            files: r"@@ main.js
function line(quay) {
  return 'to ' - quay;
}
console.log(line('mill').padEnd(9));
",
            console: r"/srv/marsh/main.js:4
console.log(line('mill').padEnd(9));
                         ^

TypeError: line(...).padEnd is not a function
    at Object.<anonymous> (/srv/marsh/main.js:4:26)
",
            at: "main.js:2",
            edit: ("'to ' - quay", "'to ' + quay"),
        },
        Case {
            kind: "odd.in-quotes",
            files: r#"@@ main.js
function total(loads) {
  let sum = "0";
  for (const load of loads) {
    sum += load;
  }
  return sum;
}
console.log(total([2, 3]).toFixed(1));
"#,
            console: r"/srv/marsh/main.js:8
console.log(total([2, 3]).toFixed(1));
                          ^

TypeError: total(...).toFixed is not a function
    at Object.<anonymous> (/srv/marsh/main.js:8:27)
",
            at: "main.js:2",
            edit: ("let sum = \"0\";", "let sum = 0;"),
        },
        Case {
            kind: "odd.nothing-counted",
            files: r"@@ main.js
const loads = [{ tons: 2 }, { tons: 3 }];
for (let at = loads.length - null; at >= 0; at--) {
  console.log(loads[at].tons);
}
",
            console: r"/srv/marsh/main.js:3
  console.log(loads[at].tons);
                        ^

TypeError: Cannot read properties of undefined (reading 'tons')
    at Object.<anonymous> (/srv/marsh/main.js:3:25)
",
            at: "main.js:2",
            edit: ("loads.length - null", "loads.length - 1"),
        },
        Case {
            kind: "odd.in-quotes-here",
            files: r#"@@ main.lua
local function empty(hold)
  return hold <= "0"
end
print(empty(3))
"#,
            console: r"lua5.4: main.lua:2: attempt to compare number with string
stack traceback:
	main.lua:2: in local 'empty'
	main.lua:4: in main chunk
	[C]: in ?
",
            at: "main.lua:2",
            edit: ("<= \"0\"", "<= 0"),
        },
        Case {
            kind: "anew.each-turn",
            files: r#"@@ main.js
class Quay {
  constructor(names) {
    for (const name of names) {
    this.boats = [];
      this.boats.push({ name });
    }
  }
  second() {
    return this.boats[1].name;
  }
}
console.log(new Quay(["Wren", "Tern"]).second());
"#,
            console: r"/srv/marsh/main.js:9
    return this.boats[1].name;
                         ^

TypeError: Cannot read properties of undefined (reading 'name')
    at Quay.second (/srv/marsh/main.js:9:26)
    at Object.<anonymous> (/srv/marsh/main.js:12:40)
",
            at: "main.js:4",
            edit: (
                "    for (const name of names) {\n    this.boats = [];\n",
                "    this.boats = [];\n    for (const name of names) {\n",
            ),
        },
    ]);
}

#[test]
fn what_is_set_elsewhere_is_not_set_here() {
    hold(&[
        Case {
            kind: "never.never-set",
            files: r#"@@ main.js
class Harbour {
  constructor(name) {
    this.name = name;
  }
  moor(boat) {
    this.boats[boat] = 1;
  }
}
class Fleet {
  constructor() {
    this.boats = [];
  }
  size() {
    return this.boats.length;
  }
}
new Fleet().size();
new Harbour("mill").moor("Wren");
"#,
            console: r"/srv/marsh/main.js:6
    this.boats[boat] = 1;
                     ^

TypeError: Cannot set properties of undefined (setting 'Wren')
    at Harbour.moor (/srv/marsh/main.js:6:22)
    at Object.<anonymous> (/srv/marsh/main.js:18:21)
",
            at: "main.js:3",
            edit: ("    this.name = name;\n", "    this.name = name;\n    this.boats = {};\n"),
        },
        Case {
            kind: "never.hidden-by-local",
            files: r#"@@ main.py
class Lamp:
    def __init__(self, name):
        self.name = name
        level = 0

    def raise_to(self, level):
        self.level = level

    def shown(self):
        return self.level * 2


print(Lamp("north").shown())
"#,
            console: r#"Traceback (most recent call last):
  File "/srv/marsh/main.py", line 13, in <module>
    print(Lamp("north").shown())
          ^^^^^^^^^^^^^^^^^^^^^
  File "/srv/marsh/main.py", line 10, in shown
    return self.level * 2
           ^^^^^^^^^^
AttributeError: 'Lamp' object has no attribute 'level'
"#,
            at: "main.py:4",
            edit: ("        level = 0", "        self.level = 0"),
        },
        Case {
            kind: "never.hides-outer",
            files: r#"@@ main.lua
local quay = nil

local function open()
  local quay = { name = "mill" }
  print(quay.name)
end

open()
print(quay.name)
"#,
            console: r"mill
lua5.4: main.lua:9: attempt to index a nil value (local 'quay')
stack traceback:
	main.lua:9: in main chunk
	[C]: in ?
",
            at: "main.lua:4",
            edit: ("  local quay =", "  quay ="),
        },
        Case {
            kind: "never.set-alone",
            files: r#"@@ main.js
function Boat(name) {
  this.name = name;
  crew = [];
}
const boat = new Boat("Wren");
console.log(boat.crew.length);
"#,
            console: r"/srv/marsh/main.js:6
console.log(boat.crew.length);
                      ^

TypeError: Cannot read properties of undefined (reading 'length')
    at Object.<anonymous> (/srv/marsh/main.js:6:23)
",
            at: "main.js:3",
            edit: ("  crew = []", "  this.crew = []"),
        },
        Case {
            kind: "never.entry-of-object",
            files: r#"@@ main.js
const fs = require('fs');
const rows = JSON.parse(fs.readFileSync(__dirname + '/boats.json', 'utf8'));
const boats = rows.map((row) => ({ name: row.name, fare: row.fare }));
for (const boat of boats) {
  console.log(boat.name, boat.fare);
  console.log(boat.tons.toFixed(1));
}
@@ boats.json
[
  { "name": "Wren", "fare": 2, "tons": 4 },
  { "name": "Tern", "fare": 3, "tons": 2 }
]
"#,
            console: r"Wren 2
/srv/marsh/main.js:6
  console.log(boat.tons.toFixed(1));
                        ^

TypeError: Cannot read properties of undefined (reading 'toFixed')
    at Object.<anonymous> (/srv/marsh/main.js:6:25)
",
            at: "main.js:3",
            edit: ("fare: row.fare }", "fare: row.fare, tons: row.tons }"),
        },
        Case {
            kind: "never.nothing-to-call",
            files: r#"@@ main.lua
local quay = require("quay")

local function moored(boat)
  print(boat)
end

quay.open()
@@ quay.lua
local quay = {}

function quay.open()
  quay.onMoor("Wren")
end

return quay
"#,
            console: r"lua5.4: ./quay.lua:4: attempt to call a nil value (field 'onMoor')
stack traceback:
	./quay.lua:4: in function 'quay.open'
	main.lua:7: in main chunk
	[C]: in ?
",
            at: "main.lua:5",
            edit: ("\nquay.open()", "\nquay.onMoor = moored\nquay.open()"),
        },
        Case {
            kind: "never.never-begun",
            files: r#"@@ main.lua
boats = 3

local function wait()
  if boats > 5 then
    late = late + 1
  end
end

wait()
print("late: " .. late)
"#,
            console: r"lua5.4: main.lua:10: attempt to concatenate a nil value (global 'late')
stack traceback:
	main.lua:10: in main chunk
	[C]: in ?
",
            at: "main.lua:1",
            edit: ("boats = 3\n", "boats = 3\nlate = 0\n"),
        },
        Case {
            kind: "never.unused-for-unmade",
            files: r"@@ main.js
class Bell {
  constructor(note) {
    this.note = note;
  }
  swing() {
    return this.note + 1;
  }
  ring() {
    return this.pitch() * 2;
  }
}
console.log(new Bell(3).ring());
",
            console: r"/srv/marsh/main.js:9
    return this.pitch() * 2;
                ^

TypeError: this.pitch is not a function
    at Bell.ring (/srv/marsh/main.js:9:17)
    at Object.<anonymous> (/srv/marsh/main.js:12:25)
",
            at: "main.js:5",
            edit: ("  swing() {", "  pitch() {"),
        },
    ]);
}

#[test]
fn what_the_console_says_of_the_line_itself_is_true_of_it() {
    hold(&[
        Case {
            kind: "told.new-missing",
            files: r#"@@ main.js
class Boat {
  constructor(name) {
    this.name = name;
  }
}
const boat = Boat("Wren");
console.log(boat.name);
"#,
            console: r#"/srv/marsh/main.js:6
const boat = Boat("Wren");
             ^

TypeError: Class constructor Boat cannot be invoked without 'new'
    at Object.<anonymous> (/srv/marsh/main.js:6:14)
"#,
            at: "main.js:6",
            edit: ("= Boat(", "= new Boat("),
        },
        Case {
            kind: "told.refused-here",
            files: r"@@ main.js
const fs = require('fs');
const text = fs.readFileSync(__filename, 'ut8');
console.log(text.length);
",
            console: r"throw new ERR_INVALID_ARG_VALUE('encoding', encoding, reason);
    ^

TypeError [ERR_INVALID_ARG_VALUE]: The argument 'encoding' is invalid encoding. Received 'ut8'
    at Object.readFileSync (node:fs:442:13)
    at Object.<anonymous> (/srv/marsh/main.js:2:17)
  code: 'ERR_INVALID_ARG_VALUE'
}
",
            at: "main.js:2",
            edit: ("'ut8'", "'utf8'"),
        },
        Case {
            kind: "told.data-broken",
            files: r#"@@ main.js
const fs = require('fs');
const boats = JSON.parse(fs.readFileSync(__dirname + '/boats.json', 'utf8'));
console.log(boats.length);
@@ boats.json
[
  { "name": "Wren", "tons": x },
  { "name": "Tern", "tons": 2 }
]
"#,
            console: r#"<anonymous_script>:2
  { "name": "Wren", "tons": x },
                            ^

SyntaxError: Unexpected token 'x', ...", "tons": x },
  { ""... is not valid JSON
    at JSON.parse (<anonymous>)
    at Object.<anonymous> (/srv/marsh/main.js:2:20)
"#,
            at: "boats.json:2",
            edit: ("\"tons\": x", "\"tons\": 4"),
        },
        Case {
            kind: "unlisted.written-otherwise",
            files: r#"@@ main.py
fares = {}
for line in open("fares.txt"):
    name, fare = line.strip().split("|")
    fares[name] = int(fare)

for stop in ["quay", "mill", "spit"]:
    print(fares[stop])
@@ fares.txt
quay|2
mlil|4
spit|9
"#,
            console: r#"2
Traceback (most recent call last):
  File "/srv/marsh/main.py", line 7, in <module>
    print(fares[stop])
          ~~~~~^^^^^^
KeyError: 'mill'
"#,
            at: "fares.txt:2",
            edit: ("mlil|4", "mill|4"),
        },
        Case {
            kind: "unlisted.line-missing",
            files: r#"@@ main.py
fares = {}
for line in open("fares.txt"):
    name, fare = line.strip().split("|")
    fares[name] = int(fare)

for stop in ["quay", "mill", "spit"]:
    print(fares[stop])
@@ fares.txt
quay|2
spit|9
"#,
            console: r#"2
Traceback (most recent call last):
  File "/srv/marsh/main.py", line 7, in <module>
    print(fares[stop])
          ~~~~~^^^^^^
KeyError: 'mill'
"#,
            at: "fares.txt:1",
            edit: ("quay|2\n", "quay|2\nmill|4\n"),
        },
        Case {
            kind: "imports.not-brought-in",
            files: r"@@ main.js
const boat = require('./boat');
const quay = require('./quay');
console.log(boat.name, lamp.name, quay.name);
@@ boat.js
exports.name = 'Wren';
@@ lamp.js
exports.name = 'north';
@@ quay.js
exports.name = 'mill';
",
            console: r"/srv/marsh/main.js:3
console.log(boat.name, lamp.name, quay.name);
                       ^

ReferenceError: lamp is not defined
    at Object.<anonymous> (/srv/marsh/main.js:3:24)
",
            at: "main.js:1",
            edit: (
                "const boat = require('./boat');\n",
                "const boat = require('./boat');\nconst lamp = require('./lamp');\n",
            ),
        },
    ]);
}

#[test]
fn what_others_beside_it_do_is_done_here_too() {
    hold(&[
        Case {
            kind: "takes.like-its-neighbours",
            files: r#"@@ main.lua
local calls = {}
calls.moor = function(boat, quay)
  return boat.name .. quay.name
end
calls.turn = function(boat)
  return quay.name .. boat.name
end

local boat, mill = { name = "Wren" }, { name = "mill" }
for _, call in pairs(calls) do
  print(call(boat, mill))
end
"#,
            console: r"Wrenmill
lua5.4: main.lua:6: attempt to index a nil value (global 'quay')
stack traceback:
	main.lua:6: in local 'call'
	main.lua:11: in main chunk
	[C]: in ?
",
            at: "main.lua:5",
            edit: ("calls.turn = function(boat)", "calls.turn = function(boat, quay)"),
        },
        Case {
            kind: "takes.other-name",
            files: r#"@@ main.lua
local function say(txt)
  io.write("* ", text, "\n")
end

say("cast off")
"#,
            console: r"* lua5.4: main.lua:2: bad argument #2 to 'write' (string expected, got nil)
stack traceback:
	[C]: in function 'io.write'
	main.lua:2: in local 'say'
	main.lua:5: in main chunk
	[C]: in ?
",
            at: "main.lua:1",
            edit: ("say(txt)", "say(text)"),
        },
        Case {
            kind: "never.hidden-from-others",
            files: r#"@@ main.lua
require("fares")
print(fares.mill)
@@ fares.lua
local fares = { mill = 4 }
function toll(stop)
  return fares[stop]
end
"#,
            console: r"lua5.4: main.lua:2: attempt to index a nil value (global 'fares')
stack traceback:
	main.lua:2: in main chunk
	[C]: in ?
",
            at: "fares.lua:1",
            edit: ("local fares = {", "fares = {"),
        },
        Case {
            kind: "keeps.set-to-itself",
            files: r#"@@ main.lua
local Boat = {}
Boat.__index = Boat

function Boat.new(name)
  local self = setmetatable({}, Boat)
  name = name
  return self
end

function Boat:call()
  return self.name:upper()
end

print(Boat.new("Wren"):call())
"#,
            console: r"lua5.4: main.lua:11: attempt to index a nil value (field 'name')
stack traceback:
	main.lua:11: in method 'call'
	main.lua:14: in main chunk
	[C]: in ?
",
            at: "main.lua:6",
            edit: ("  name = name", "  self.name = name"),
        },
        Case {
            kind: "imports.not-brought-in",
            files: r#"@@ main.lua
local lamp = require("lamp")
local quay = require("quay")
print(quay.light(), lamp.on())
@@ lamp.lua
local lamp = {}
function lamp.on()
  return 1
end
return lamp
@@ quay.lua
local quay = {}
function quay.light()
  return lamp.on()
end
return quay
"#,
            console: r"lua5.4: ./quay.lua:3: attempt to index a nil value (global 'lamp')
stack traceback:
	./quay.lua:3: in function 'quay.light'
	main.lua:3: in main chunk
	[C]: in ?
",
            at: "quay.lua:1",
            edit: ("local quay = {}\n", "local lamp = require(\"lamp\")\nlocal quay = {}\n"),
        },
        Case {
            kind: "never.not-called",
            files: r"@@ main.js
const tower = { bells: {} };
function loadBells(list) {
  for (const bell of list) {
    tower.bells[bell.id] = bell;
  }
}
function ring() {
  console.log(tower.bells.main.id);
}
ring();
",
            console: r"/srv/marsh/main.js:8
  console.log(tower.bells.main.id);
                               ^

TypeError: Cannot read properties of undefined (reading 'id')
    at ring (/srv/marsh/main.js:8:32)
    at Object.<anonymous> (/srv/marsh/main.js:10:1)
",
            at: "main.js:9",
            edit: ("\nring();\n", "\nloadBells([{ id: \"main\" }]);\nring();\n"),
        },
    ]);
}

#[test]
fn a_number_is_a_number_in_lists_and_loops_too() {
    hold(&[
        Case {
            kind: "odd.in-quotes-here",
            files: r#"@@ main.lua
local picks = { 2, 1, "1", 1 }
local boats = { "Wren", "Tern" }
for _, pick in ipairs(picks) do
  print(boats[pick]:upper())
end
"#,
            console: r"TERN
WREN
lua5.4: main.lua:4: attempt to index a nil value (field '?')
stack traceback:
	main.lua:4: in main chunk
	[C]: in ?
",
            at: "main.lua:1",
            edit: ("\"1\"", "1"),
        },
        Case {
            kind: "odd.nothing-counted",
            files: r#"@@ main.lua
local boats = { "Wren", "Tern" }
for i = nil, #boats do
  print(boats[i])
end
"#,
            console: r"lua5.4: main.lua:2: bad 'for' initial value (number expected, got nil)
stack traceback:
	main.lua:2: in main chunk
	[C]: in ?
",
            at: "main.lua:2",
            edit: ("for i = nil,", "for i = 1,"),
        },
        Case {
            kind: "odd.text-counted",
            files: r#"@@ main.lua
local out = "boats: "
for i = 1, 2 do
  out = out + i .. ", "
end
print(out)
"#,
            console: r"lua5.4: main.lua:3: attempt to add a 'string' with a 'number'
stack traceback:
	[C]: in metamethod 'add'
	main.lua:3: in main chunk
	[C]: in ?
",
            at: "main.lua:3",
            edit: ("out + i ..", "out .. i .."),
        },
    ]);
}
/// What looks like one of these slips and is none.
#[test]
fn what_is_meant_so_is_left_alone() {
    let python = "Traceback (most recent call last):\n  File \"main.py\", line 5, in <module>\n    \
        print(boats[2])\n          ~~~~~^^^\nIndexError: list index out of range\n";
    let lua = "lua5.4: main.lua:5: attempt to index a nil value (local 'boat')\n";
    for (kind, text, console) in [
        // A path is put together with the sign of division.
        (
            "odd",
            "@@ main.py\nfrom pathlib import Path\nbase = Path(\".\")\nnames = base / \"boats\" / \"2\"\nboats = \
                [names]\nprint(boats[2])\n",
            python,
        ),
        // What a turn of the loop hands on is its own.
        (
            "anew",
            "@@ main.py\nrows, boats = [], [1]\nfor name in [\"Wren\"]:\n    row = []\n    row.append(name); \
                rows.append(row)\nprint(boats[2])\nprint(row)\n",
            python,
        ),
        // A function of any number of values has room for all.
        (
            "takes",
            "@@ main.lua\nlocal function log(...)\n  print(where, ...)\nend\nlocal boat\nprint(boat.name)\nlog(1, 2)\n",
            lua,
        ),
        // Texts may be written as numbers where none is counted with.
        (
            "odd",
            "@@ main.lua\nlocal berths = { first = \"1\", second = \"2\" }\nprint(berths.first .. \
                berths.second)\nlocal boat\n\nprint(boat.name)\n",
            "lua5.4: main.lua:5: attempt to index a nil value (local 'boat')\n",
        ),
    ] {
        let seen = found(&files(text), console).expect("an error");
        let of_it: Vec<String> = seen
            .suspects
            .iter()
            .filter(|s| s.claim.check() == kind)
            .map(|s| format!("{}:{} {:?}", s.file, s.line, s.claim.says))
            .collect();
        assert!(of_it.is_empty(), "{kind}: {of_it:?}\n{text}");
    }
}
