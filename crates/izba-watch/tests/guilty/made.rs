//! What is made and never read, made twice, never made; loops that never run.

use super::{Case, hold};

#[test]
fn what_nothing_reads_is_what_nothing_makes() {
    hold(&[
        Case {
            kind: "never.unread-for-unmade",
            files: r#"@@ watch.py
def watch(first, second):
    rows = []
    for hour in range(first, second):
        rows.append(hour)
    words = ", ".join(str(row) for row in rows)
    return "hours " + text + " (" + str(len(text)) + ")"


print(watch(2, 5))
"#,
            console: r#"Traceback (most recent call last):
  File "/srv/marsh/watch.py", line 9, in <module>
    print(watch(2, 5))
          ^^^^^^^^^^^
  File "/srv/marsh/watch.py", line 6, in watch
    return "hours " + text + " (" + str(len(text)) + ")"
                      ^^^^
NameError: name 'text' is not defined. Did you mean: 'next'?
"#,
            at: "watch.py:5",
            edit: ("    words =", "    text ="),
        },
        Case {
            kind: "never.made-twice",
            files: r#"@@ ledger.lua
local Ledger = {}
Ledger.__index = Ledger

function Ledger.new()
  return setmetatable({ sum = 0 }, Ledger)
end

function Ledger:add(amount)
  self.sum = self.sum + amount
end

function Ledger:add(amount)
  self.sum = self.sum - amount
end

local ledger = Ledger.new()
ledger:add(4)
ledger:take(1)
"#,
            console: r#"lua5.4: ledger.lua:18: attempt to call a nil value (method 'take')
stack traceback:
	ledger.lua:18: in main chunk
	[C]: in ?
"#,
            at: "ledger.lua:12",
            edit: (
                "function Ledger:add(amount)\n  self.sum = self.sum - amount",
                "function Ledger:take(amount)\n  self.sum = self.sum - amount",
            ),
        },
        Case {
            kind: "never.never-made",
            files: r#"@@ Main.java
import java.util.List;

public class Main {
    static class Hold {
        private List<String> crates;

        void stow(String mark) {
            crates.add(mark);
        }
    }

    public static void main(String[] args) {
        new Hold().stow("tea");
    }
}
"#,
            console: r#"Exception in thread "main" java.lang.NullPointerException: Cannot invoke "java.util.List.add(Object)" because "this.crates" is null
	at Main$Hold.stow(Main.java:8)
	at Main.main(Main.java:13)
"#,
            at: "Main.java:5",
            edit: (
                "private List<String> crates;",
                "private List<String> crates = new java.util.ArrayList<>();",
            ),
        },
    ]);
}

#[test]
fn code_that_reads_well_and_does_something_else() {
    hold(&[
        Case {
            kind: "idioms.never-runs",
            files: r#"@@ lamps.js
const lamps = [];

for (let hour = 0; hour > 4; hour++) {
  lamps.push({ hour });
}

const last = lamps[lamps.length - 1];
console.log(last.hour);
"#,
            console: r#"/srv/marsh/lamps.js:8
console.log(last.hour);
                 ^

TypeError: Cannot read properties of undefined (reading 'hour')
    at Object.<anonymous> (/srv/marsh/lamps.js:8:18)

Node.js v20.20.2
"#,
            at: "lamps.js:3",
            edit: ("hour > 4", "hour < 4"),
        },
        Case {
            kind: "idioms.by-name",
            files: r#"@@ sums.lua
local sums = {}

local function add(what, amount)
  sums.what = (sums.what or 0) + amount
end

local function take(what, amount)
  sums[what] = sums[what] - amount
end

add("tea", 4)
take("tea", 1)
"#,
            console: r#"lua5.4: sums.lua:8: attempt to perform arithmetic on a nil value (field '?')
stack traceback:
	sums.lua:8: in local 'take'
	sums.lua:12: in main chunk
	[C]: in ?
"#,
            at: "sums.lua:4",
            edit: ("sums.what = (sums.what or 0)", "sums[what] = (sums[what] or 0)"),
        },
        Case {
            kind: "swapped.colon-needless",
            files: r#"@@ fares.lua
local Fares = {}

function Fares:price(metres)
  return metres * 2
end

function Fares.total(list)
  local sum = 0
  for _, metres in ipairs(list) do
    sum = sum + Fares.price(metres)
  end
  return sum
end

print(Fares.total({ 3, 4 }))
"#,
            console: r#"lua5.4: fares.lua:4: attempt to perform arithmetic on a nil value (local 'metres')
stack traceback:
	fares.lua:4: in field 'price'
	fares.lua:10: in field 'total'
	fares.lua:15: in main chunk
	[C]: in ?
"#,
            at: "fares.lua:3",
            edit: ("Fares:price(metres)\n", "Fares.price(metres)\n"),
        },
        Case {
            kind: "wiring.put-in-otherwise|inputs.never-asked",
            files: r#"@@ main.py
deeds = {}
deeds["Lay"] = len
deeds["cut"] = len
for line in open("orders.txt"):
    word = line.split()[0]
    print(deeds[word](line))
@@ orders.txt
cut bow 2
lay stern 4
lay mast 3
"#,
            console: r#"10
Traceback (most recent call last):
  File "/srv/marsh/main.py", line 6, in <module>
    print(deeds[word](line))
          ~~~~~^^^^^^
KeyError: 'lay'
"#,
            at: "main.py:2",
            edit: ("deeds[\"Lay\"]", "deeds[\"lay\"]"),
        },
    ]);
}

#[test]
fn names_that_hold_something_else() {
    hold(&[
        Case {
            kind: "idioms.number-as-entry",
            files: r#"@@ main.js
const steps = [{ deed: 'cut' }, { deed: 'tie' }];

steps.forEach((number, step) => {
  console.log(number, step.deed.toUpperCase());
});
"#,
            console: r#"/srv/marsh/main.js:4
  console.log(number, step.deed.toUpperCase());
                                ^

TypeError: Cannot read properties of undefined (reading 'toUpperCase')
    at /srv/marsh/main.js:4:33
    at Array.forEach (<anonymous>)
    at Object.<anonymous> (/srv/marsh/main.js:3:7)

Node.js v20.20.2
"#,
            at: "main.js:3",
            edit: ("(number, step)", "(step, number)"),
        },
        Case {
            kind: "idioms.exports-alone",
            files: r#"@@ rope.js
class Rope {
  constructor(metres) {
    this.metres = metres;
  }
}

exports = Rope;
@@ main.js
const Rope = require('./rope');

console.log(new Rope(4).metres);
"#,
            console: r#"/srv/marsh/main.js:3
console.log(new Rope(4).metres);
            ^

TypeError: Rope is not a constructor
    at Object.<anonymous> (/srv/marsh/main.js:3:13)

Node.js v20.20.2
"#,
            at: "rope.js:7",
            edit: ("exports = Rope;", "module.exports = Rope;"),
        },
        Case {
            kind: "idioms.keys-of-list",
            files: r#"@@ main.js
const gauges = [{ read() { return 1; } }, { read() { return 2; } }];

for (const gauge in gauges) {
  console.log(gauge.read());
}
"#,
            console: r#"/srv/marsh/main.js:4
  console.log(gauge.read());
                    ^

TypeError: gauge.read is not a function
    at Object.<anonymous> (/srv/marsh/main.js:4:21)

Node.js v20.20.2
"#,
            at: "main.js:3",
            edit: ("gauge in gauges", "gauge of gauges"),
        },
        Case {
            kind: "idioms.made-inside",
            files: r#"@@ main.lua
for number = 1, 3 do
  local berths = {}
  berths[number] = { depth = number }
end

print(berths[1].depth)
"#,
            console: r#"lua5.4: main.lua:6: attempt to index a nil value (global 'berths')
stack traceback:
	main.lua:6: in main chunk
	[C]: in ?
"#,
            at: "main.lua:2",
            edit: (
                "for number = 1, 3 do\n  local berths = {}",
                "local berths = {}\nfor number = 1, 3 do",
            ),
        },
        Case {
            kind: "keeps.tied-to-nothing",
            files: r#"@@ lamp.lua
local Lamp = {}
Lamp.__index = Lamp

function Lamp.new(place)
  local self = setmetatable({}, lamp)
  self.place = place
  return self
end

function Lamp:label()
  return self.place:upper()
end

print(Lamp.new("stern"):label())
"#,
            console: r#"lua5.4: lamp.lua:14: attempt to call a nil value (method 'label')
stack traceback:
	lamp.lua:14: in main chunk
	[C]: in ?
"#,
            at: "lamp.lua:5",
            edit: ("setmetatable({}, lamp)", "setmetatable({}, Lamp)"),
        },
        Case {
            kind: "never.hidden-by-local",
            files: r#"@@ gauge.js
class Gauge {
  constructor(place) {
    this.place = place;
    const readings = [];
  }

  read(level) {
    this.readings.push(level);
  }
}

new Gauge('mill').read(4);
"#,
            console: r#"/srv/marsh/gauge.js:8
    this.readings.push(level);
                  ^

TypeError: Cannot read properties of undefined (reading 'push')
    at Gauge.read (/srv/marsh/gauge.js:8:19)
    at Object.<anonymous> (/srv/marsh/gauge.js:12:19)

Node.js v20.20.2
"#,
            at: "gauge.js:4",
            edit: ("const readings = [];", "this.readings = [];"),
        },
    ]);
}
