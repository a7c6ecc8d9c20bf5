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

#[test]
fn what_is_there_is_told_by_what_is_looked_for() {
    hold(&[
        Case {
            kind: "inputs.meant-otherwise",
            files: r#"@@ crew.py
class Hand:
    def __init__(self, name, watch):
        self.name = name
        self.watch = watch


crew = [Hand("Ilse", "dawn"), Hand("Tm", "dusk")]
captain = "Tom"


def hand(name):
    for one in crew:
        if one.name == name:
            return one


for name in ["Ilse", "Tom"]:
    print(hand(name).watch)
"#,
            console: r#"dawn
Traceback (most recent call last):
  File "/srv/marsh/crew.py", line 18, in <module>
    print(hand(name).watch)
          ^^^^^^^^^^^^^^^^
AttributeError: 'NoneType' object has no attribute 'watch'
"#,
            at: "crew.py:7",
            edit: ("Hand(\"Tm\"", "Hand(\"Tom\""),
        },
        Case {
            kind: "inputs.entry-missing",
            files: r#"@@ crew.py
class Hand:
    def __init__(self, name, watch):
        self.name = name
        self.watch = watch


crew = []
crew.append(Hand("Ilse", "dawn"))
crew.append(Hand("Tom", "dusk"))
captain = "Mara"


def hand(name):
    for one in crew:
        if one.name == name:
            return one


for name in ["Ilse", "Tom", "Mara"]:
    print(hand(name).watch)
"#,
            console: r#"dawn
dusk
Traceback (most recent call last):
  File "/srv/marsh/crew.py", line 20, in <module>
    print(hand(name).watch)
          ^^^^^^^^^^^^^^^^
AttributeError: 'NoneType' object has no attribute 'watch'
"#,
            at: "crew.py:9",
            edit: (
                "crew.append(Hand(\"Tom\", \"dusk\"))",
                "crew.append(Hand(\"Tom\", \"dusk\"))\ncrew.append(Hand(\"Mara\", \"noon\"))",
            ),
        },
        Case {
            kind: "inputs.whole-compared",
            files: r#"@@ gauges.js
const gauges = [{ place: 'mill', level: 4 }, { place: 'weir', level: 6 }];
const rules = [{ place: 'mill', above: 3 }];

function gaugeAt(place) {
  return gauges.find((gauge) => gauge.place === place);
}

for (const rule of rules) {
  console.log(gaugeAt(rule).level > rule.above);
}
"#,
            console: r#"/srv/marsh/gauges.js:9
  console.log(gaugeAt(rule).level > rule.above);
                           ^

TypeError: Cannot read properties of undefined (reading 'level')
    at Object.<anonymous> (/srv/marsh/gauges.js:9:28)

Node.js v20.20.2
"#,
            at: "gauges.js:9",
            edit: ("gaugeAt(rule)", "gaugeAt(rule.place)"),
        },
        Case {
            kind: "inputs.not-made-entry",
            files: r#"@@ Yard.java
import java.util.ArrayList;
import java.util.List;

public class Yard {
    static class Rope {
        final String mark;

        Rope(String mark) {
            this.mark = mark;
        }
    }

    final List<Rope> ropes = new ArrayList<>();

    void lay(String mark) {
        Rope rope = new Rope(mark);
    }

    Rope find(String mark) {
        for (Rope rope : ropes) {
            if (rope.mark.equals(mark)) {
                return rope;
            }
        }
        return null;
    }

    public static void main(String[] args) {
        Yard yard = new Yard();
        yard.lay("bow");
        System.out.println(yard.find("bow").mark);
    }
}
"#,
            console: r#"Exception in thread "main" java.lang.NullPointerException: Cannot read field "mark" because the return value of "Yard.find(String)" is null
	at Yard.main(Yard.java:31)
"#,
            at: "Yard.java:16",
            edit: (
                "Rope rope = new Rope(mark);",
                "Rope rope = new Rope(mark);\n        ropes.add(rope);",
            ),
        },
    ]);
}
