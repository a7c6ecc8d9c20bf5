//! Functions of the project that look for something and find nothing: why.

use super::{Case, hold};

#[test]
fn what_is_looked_for_is_told_by_what_is_there() {
    hold(&[
        Case {
            kind: "inputs.has-no-member",
            files: r#"@@ deck.js
class Bunk {
  constructor(number, guest) {
    this.number = number;
    this.guest = guest;
  }
}

const bunks = [new Bunk(1, 'Ilse'), new Bunk(2, 'Tom')];

function bunkOf(guest) {
  return bunks.find((bunk) => bunk.name === guest);
}

for (const guest of ['Ilse', 'Tom']) {
  console.log(guest, bunkOf(guest).number);
}
"#,
            console: r#"/srv/marsh/deck.js:15
  console.log(guest, bunkOf(guest).number);
                                  ^

TypeError: Cannot read properties of undefined (reading 'number')
    at Object.<anonymous> (/srv/marsh/deck.js:15:35)

Node.js v20.20.2
"#,
            at: "deck.js:11",
            edit: ("bunk.name", "bunk.guest"),
        },
        Case {
            kind: "inputs.kept-otherwise",
            files: r#"@@ deck.js
class Bunk {
  constructor(number, guest) {
    this.number = number;
    this.sleeper = guest;
  }
}

const bunks = [new Bunk(1, 'Ilse'), new Bunk(2, 'Tom')];

function bunkOf(guest) {
  return bunks.find((bunk) => bunk.guest === guest);
}

console.log(bunkOf('Tom').number);
"#,
            console: r#"/srv/marsh/deck.js:14
console.log(bunkOf('Tom').number);
                         ^

TypeError: Cannot read properties of undefined (reading 'number')
    at Object.<anonymous> (/srv/marsh/deck.js:14:26)

Node.js v20.20.2
"#,
            at: "deck.js:4",
            edit: ("this.sleeper = guest", "this.guest = guest"),
        },
        Case {
            kind: "inputs.not-read",
            files: r#"@@ crew.py
class Hand:
    def __init__(self, name, watch):
        self.name = name
        self.watch = watch


crew = [Hand("Ilse", "dawn"), Hand("Tom", "dusk")]
captain = "Mara"


def hand(name):
    for one in crew:
        if one.name == captain:
            return one
    return None


print(hand("Tom").watch)
"#,
            console: r#"Traceback (most recent call last):
  File "/srv/marsh/crew.py", line 18, in <module>
    print(hand("Tom").watch)
          ^^^^^^^^^^^^^^^^^
AttributeError: 'NoneType' object has no attribute 'watch'
"#,
            at: "crew.py:13",
            edit: ("one.name == captain", "one.name == name"),
        },
        Case {
            kind: "inputs.not-among",
            files: r#"@@ crew.py
class Hand:
    def __init__(self, name, watch):
        self.name = name
        self.watch = watch


def crew():
    return [Hand("Ilse", "dawn"), Hand("Tom", "dusk")]


def hand(name):
    for one in crew():
        if one.name == name:
            return one


for name in ["Ilse", "Tomm"]:
    print(hand(name).watch)
"#,
            console: r#"dawn
Traceback (most recent call last):
  File "/srv/marsh/crew.py", line 18, in <module>
    print(hand(name).watch)
          ^^^^^^^^^^^^^^^^
AttributeError: 'NoneType' object has no attribute 'watch'
"#,
            at: "crew.py:17",
            edit: ("\"Tomm\"", "\"Tom\""),
        },
        Case {
            kind: "inputs.none-reaches",
            files: r#"@@ tides.lua
local FARES = {
  { upto = 4, fare = 2 },
  { upto = 9, fare = 3 },
}

local function fare(metres)
  for _, row in ipairs(FARES) do
    if metres <= row.upto then
      return row.fare
    end
  end
end

for _, boat in ipairs({ { metres = 3 }, { metres = 8 }, { metres = 12 } }) do
  print(fare(boat.metres) * 2)
end
"#,
            console: r#"4
6
lua5.4: tides.lua:15: attempt to perform arithmetic on a nil value
stack traceback:
	tides.lua:15: in main chunk
	[C]: in ?
"#,
            at: "tides.lua:3",
            edit: ("upto = 9", "upto = 19"),
        },
    ]);
}
