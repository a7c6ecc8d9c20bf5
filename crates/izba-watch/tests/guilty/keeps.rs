//! Objects that do not keep what they should hold.

use super::{Case, hold};

#[test]
fn what_an_object_should_hold_goes_elsewhere() {
    hold(&[
        Case {
            kind: "keeps.set-to-itself",
            files: r#"@@ Main.java
public class Main {
    static class Lamp {
        private String place;

        Lamp(String place) {
            place = place;
        }

        String label() {
            return place.toUpperCase();
        }
    }

    public static void main(String[] args) {
        System.out.println(new Lamp("stern").label());
    }
}
"#,
            console: r#"Exception in thread "main" java.lang.NullPointerException: Cannot invoke "String.toUpperCase()" because "this.place" is null
	at Main$Lamp.label(Main.java:10)
	at Main.main(Main.java:15)
"#,
            at: "Main.java:6",
            edit: ("            place = place;", "            this.place = place;"),
        },
        Case {
            kind: "keeps.turned-round",
            files: r#"@@ lamp.js
class Lamp {
  constructor(place) {
    place = this.place;
  }

  label() {
    return this.place.toUpperCase();
  }
}

console.log(new Lamp('stern').label());
"#,
            console: r#"/srv/marsh/lamp.js:7
    return this.place.toUpperCase();
                      ^

TypeError: Cannot read properties of undefined (reading 'toUpperCase')
    at Lamp.label (/srv/marsh/lamp.js:7:23)
    at Object.<anonymous> (/srv/marsh/lamp.js:11:31)

Node.js v20.20.2
"#,
            at: "lamp.js:3",
            edit: ("place = this.place;", "this.place = place;"),
        },
        Case {
            kind: "keeps.shared-by-all",
            files: r#"@@ Main.java
import java.util.List;

public class Main {
    static class Lamp {
        static String place;
        final int hours;

        Lamp(String place, int hours) {
            this.place = place;
            this.hours = hours;
        }
    }

    static Lamp at(List<Lamp> lamps, String place) {
        for (Lamp lamp : lamps) {
            if (lamp.place.equals(place)) {
                return lamp;
            }
        }
        return null;
    }

    public static void main(String[] args) {
        List<Lamp> lamps = List.of(new Lamp("bow", 4), new Lamp("stern", 6));
        System.out.println(at(lamps, "bow").hours);
    }
}
"#,
            console: r#"Exception in thread "main" java.lang.NullPointerException: Cannot read field "hours" because the return value of "Main.at(java.util.List, String)" is null
	at Main.main(Main.java:25)
"#,
            at: "Main.java:5",
            edit: ("        static String place;", "        String place;"),
        },
        Case {
            kind: "keeps.other-given-back",
            files: r#"@@ Main.java
import java.util.HashMap;
import java.util.Map;

public class Main {
    static class Plan {
        final Map<String, String> lines = new HashMap<>();

        static Plan read() {
            Plan plan = new Plan();
            plan.lines.put("first", "Mill Quay");
            return new Plan();
        }
    }

    public static void main(String[] args) {
        Plan plan = Plan.read();
        System.out.println(plan.lines.get("first").length());
    }
}
"#,
            console: r#"Exception in thread "main" java.lang.NullPointerException: Cannot invoke "String.length()" because the return value of "java.util.Map.get(Object)" is null
	at Main.main(Main.java:17)
"#,
            at: "Main.java:11",
            edit: ("            return new Plan();", "            return plan;"),
        },
        Case {
            kind: "keeps.like-a-constructor",
            files: r#"@@ lamp.py
class Lamp:
    def _init_(self, place):
        self.place = place

    def label(self):
        return self.place.upper()


print(Lamp("stern").label())
"#,
            console: r#"Traceback (most recent call last):
  File "/srv/marsh/lamp.py", line 9, in <module>
    print(Lamp("stern").label())
          ^^^^^^^^^^^^^
TypeError: Lamp() takes no arguments
"#,
            at: "lamp.py:2",
            edit: ("_init_", "__init__"),
        },
        Case {
            kind: "keeps.nearly-index",
            files: r#"@@ lamp.lua
local Lamp = {}
Lamp._index = Lamp

function Lamp.new(place)
  return setmetatable({ place = place }, Lamp)
end

function Lamp:label()
  return self.place:upper()
end

local lamp = Lamp.new("stern")
print(lamp:label())
"#,
            console: r#"lua5.4: lamp.lua:13: attempt to call a nil value (method 'label')
stack traceback:
	lamp.lua:13: in main chunk
	[C]: in ?
"#,
            at: "lamp.lua:2",
            edit: ("Lamp._index", "Lamp.__index"),
        },
        Case {
            kind: "keeps.no-index",
            files: r#"@@ lamp.lua
local Lamp = {}

function Lamp.new(place)
  return setmetatable({ place = place }, Lamp)
end

function Lamp:label()
  return self.place:upper()
end

local lamp = Lamp.new("stern")
print(lamp:label())
"#,
            console: r#"lua5.4: lamp.lua:12: attempt to call a nil value (method 'label')
stack traceback:
	lamp.lua:12: in main chunk
	[C]: in ?
"#,
            at: "lamp.lua:1",
            edit: ("local Lamp = {}\n", "local Lamp = {}\nLamp.__index = Lamp\n"),
        },
        Case {
            kind: "keeps.not-tied",
            files: r#"@@ lamp.lua
local Lamp = {}
Lamp.__index = Lamp

function Lamp.new(place)
  local self = { place = place }
  return self
end

function Lamp:label()
  return self.place:upper()
end

local lamp = Lamp.new("stern")
print(lamp:label())
"#,
            console: r#"lua5.4: lamp.lua:14: attempt to call a nil value (method 'label')
stack traceback:
	lamp.lua:14: in main chunk
	[C]: in ?
"#,
            at: "lamp.lua:5",
            edit: ("{ place = place }", "setmetatable({ place = place }, Lamp)"),
        },
    ]);
}
