//! Each check, asked twice: once where what it looks for is there, and once after the evidence was
//! changed. What it says has to change with it.

use izba_cause::checks;
use izba_cause::pause::{Part, Seen, Spoken, Witness, weigh};
use izba_cause::suspect::Findings;
use izba_core::Engine;
use izba_model::claim::{LIKELY, Verdict, WORTH};
use izba_model::code::Language;
use izba_model::{Project, ProjectFile, Stream};
use izba_watch::guilty::Guilty;
use std::fmt::Write;
use std::sync::Arc;

/// A check, the files with what stands in them, what the console says, and the edit that takes the
/// evidence away: what is written for what, or another name for the file where nothing is to be
/// found in it.
struct Case {
    check: &'static str,
    files: &'static [(&'static str, &'static str)],
    console: &'static str,
    edit: (&'static str, &'static str, &'static str),
}

const CASES: &[Case] = &[
    Case {
        check: "takes",
        files: &[("toll.py", "def toll(boats):\n    return boats * fare\n\n\nprint(toll(2, 3))\n")],
        console: "Traceback (most recent call last):\n  File \"toll.py\", line 5, in <module>\n    \
            print(toll(2, 3))\n          ^^^^^^^^^^\nTypeError: toll() takes 1 positional argument but 2 were given\n",
        edit: ("toll.py", "def toll(boats):", "def toll(boats, fare):"),
    },
    Case {
        check: "anew",
        files: &[(
            "quay.js",
            "class Quay {\n  fill(names) {\n    for (const name of names) {\n      this.boats = [];\n      \
                this.boats.push({ name });\n    }\n  }\n  second() {\n    return this.boats[1].name;\n  }\n}\n\
                const quay = new Quay();\nquay.fill([1, 2]);\nquay.second();\n",
        )],
        console: "/ferry/quay.js:9\n    return this.boats[1].name;\n                         ^\n\nTypeError: Cannot \
            read properties of undefined (reading 'name')\n    at Quay.second (/ferry/quay.js:9:26)\n    at \
            Object.<anonymous> (/ferry/quay.js:14:6)\n",
        edit: ("quay.js", "      this.boats = [];\n", "      this.last = [];\n"),
    },
    Case {
        check: "odd",
        files: &[(
            "hold.lua",
            "local function empty(hold)\n  return hold <= \"0\"\nend\nprint(empty(3))\n",
        )],
        console: "lua5.4: hold.lua:2: attempt to compare number with string\n",
        edit: ("hold.lua", "\"0\"", "0"),
    },
    Case {
        check: "crossed",
        files: &[(
            "column.js",
            "function column(text, width) {\n  return text.padEnd(width);\n}\nconsole.log(column(8, 'Wren'));\n",
        )],
        console: "/ferry/column.js:2\n  return text.padEnd(width);\n              ^\n\nTypeError: text.padEnd is \
            not a function\n    at column (/ferry/column.js:2:15)\n    at Object.<anonymous> (/ferry/column.js:4:13)\n",
        edit: ("column.js", "column(8, 'Wren')", "column('Wren', 8)"),
    },
    Case {
        check: "unlisted",
        files: &[
            (
                "fares.py",
                "fares = {}\nfor line in open(\"fares.txt\"):\n    name, fare = line.split(\"|\")\n    \
                    fares[name] = fare\nprint(fares[\"mill\"])\n",
            ),
            ("fares.txt", "quay|2\nmlil|4\n"),
        ],
        console: "Traceback (most recent call last):\n  File \"fares.py\", line 5, in <module>\n    \
            print(fares[\"mill\"])\n          ~~~~~^^^^^^^^\nKeyError: 'mill'\n",
        edit: ("fares.txt", "mlil|4", "mill|4"),
    },
    Case {
        check: "unbound",
        files: &[(
            "sea.js",
            "class Sea {\n  constructor() {\n    this.waves = [];\n  }\n  move() {\n    \
                this.waves.push(1);\n  }\n}\nconst sea = new Sea();\nsetTimeout(sea.move, 5);\n",
        )],
        console: "/ferry/sea.js:6\n    this.waves.push(1);\n               ^\n\nTypeError: Cannot read \
            properties of undefined (reading 'push')\n    at Timeout.move [as _onTimeout] (/ferry/sea.js:6:16)\n",
        edit: ("sea.js", "setTimeout(sea.move, 5)", "setTimeout(() => sea.move(), 5)"),
    },
    Case {
        check: "canvas",
        files: &[
            ("quay.html", "<canvas id=\"quay\"></canvas>\n<script src=\"quay.js\"></script>\n"),
            (
                "quay.js",
                "const pen = document.getElementById('quay');\nfunction draw() {\n  pen.fillRect(0, 0, 2, 2);\n}\n\
                    draw();\n",
            ),
        ],
        console: "/ferry/quay.js:3\n  pen.fillRect(0, 0, 2, 2);\n      ^\n\nTypeError: pen.fillRect is not a \
            function\n    at draw (/ferry/quay.js:3:7)\n    at /ferry/quay.js:5:1\n",
        edit: ("quay.js", "('quay')", "('quay').getContext('2d')"),
    },
    Case {
        check: "constant",
        files: &[("tide.js", "const height = 1;\nfunction rise() {\n  height = 2;\n}\nrise();\n")],
        console: "/ferry/tide.js:3\n  height = 2;\n         ^\n\nTypeError: Assignment to constant \
            variable.\n    at rise (/ferry/tide.js:3:10)\n",
        edit: ("tide.js", "const height", "let height"),
    },
    Case {
        check: "addresses",
        files: &[
            ("office.js", "function tide() {\n  return fetch('/api/tides');\n}\n"),
            ("routes.js", "function answer(path) {\n  return path === '/api/tide';\n}\n"),
        ],
        console: "[page error] http://127.0.0.1:8000/api/tides was not loaded: the server answers 404\n    \
            at tide (http://127.0.0.1:8000/office.js:2:10)\n",
        edit: ("routes.js", "/api/tide'", "/api/boats'"),
    },
    Case {
        check: "messages",
        files: &[
            (
                "web/tides.js",
                "async function show() {\n  const answer = await fetch('/tides');\n  const tide = await \
                    answer.json();\n  list.append(tide.hour, tide.height.toFixed(1));\n}\nshow();\n",
            ),
            (
                "harbour.js",
                "function tides(response) {\n  response.json({ hour: 6, heigth: 2.5 });\n}\n",
            ),
        ],
        console: "[page error] nobody caught this promise: TypeError: Cannot read properties of undefined \
            (reading 'toFixed')\n    at show (http://127.0.0.1:8000/tides.js:4:39)\n",
        edit: ("harbour.js", "heigth", "height"),
    },
    Case {
        check: "tested",
        files: &[
            ("toll.py", "def toll(berths, cents):\n    return berths / cents\n"),
            (
                "test_toll.py",
                "from toll import toll\n\ndef test_toll():\n    assert toll(4, 2) == 8\n",
            ),
        ],
        console: "Traceback (most recent call last):\n  File \"test_toll.py\", line 4, in test_toll\n    \
            assert toll(4, 2) == 8\nAssertionError: assert 2.0 == 8\n",
        edit: ("toll.py", "def toll", "def tolls"),
    },
    Case {
        check: "keeps",
        files: &[(
            "lamp.lua",
            "local Lamp = {}\nLamp._index = Lamp\nfunction Lamp.new()\n  return setmetatable({}, \
                Lamp)\nend\nfunction Lamp:light() return 1 end\nlocal lamp = Lamp.new()\n\
                print(lamp:light())\n",
        )],
        console: "lua5.4: lamp.lua:8: attempt to call a nil value (method 'light')\n",
        edit: ("lamp.lua", "Lamp._index", "Lamp.__index"),
    },
    Case {
        check: "rows",
        files: &[
            (
                "fares.lua",
                "local fares = {}\nfor line in io.lines(\"fares.csv\") do\n  local name, fare = \
                    line:match(\"(.*),(.*)\")\n  fares[name or line] = fare\nend\nprint(fares.far * 2)\n",
            ),
            ("fares.csv", "near,2\nmill,4\nfar;7\nspit,9\n"),
        ],
        console: "lua5.4: fares.lua:6: attempt to perform arithmetic on a nil value (field 'far')\n",
        edit: ("fares.csv", "far;7", "far,7"),
    },
    Case {
        check: "access",
        files: &[
            ("Boat.java", "class Boat {\n    private int load() { return 4; }\n}\n"),
            (
                "Quay.java",
                "class Quay {\n    int sum(Boat boat) {\n        return boat.load();\n    }\n}\n",
            ),
        ],
        console: "Quay.java:3: error: load() has private access in Boat\n        return \
            boat.load();\n                   ^\n1 error\n",
        edit: ("Boat.java", "private int load", "int load"),
    },
    Case {
        check: "kinds",
        files: &[
            ("wind.lua", "local set = read(\"wind.json\")\nlocal gust = set.force * 2\n"),
            ("wind.json", "{\n  \"force\": \"4 knots\"\n}\n"),
        ],
        console: "lua5.4: wind.lua:2: attempt to perform arithmetic on a string value (field 'force')\n",
        edit: ("wind.json", "\"4 knots\"", "4"),
    },
    Case {
        check: "bounds",
        files: &[(
            "crew.lua",
            "local hands = { \"first\", \"second\" }\nfor seat = 0, #hands do\n  local \
                hand = hands[seat]\n  print(hand:upper())\nend\n",
        )],
        console: "lua5.4: crew.lua:4: attempt to index a nil value (local 'hand')\n",
        edit: ("crew.lua", "seat = 0", "seat = 1"),
    },
    Case {
        check: "lists",
        files: &[(
            "names.py",
            "NAMES = [\n    \"first\",\n    None,\n    \"third\",\n]\nfor name in \
                NAMES:\n    print(name.upper())\n",
        )],
        console: "Traceback (most recent call last):\n  File \"/ferry/names.py\", line 7, in \
            <module>\n    print(name.upper())\n          ^^^^^^^^^^\nAttributeError: \
            'NoneType' object has no attribute 'upper'\n",
        edit: ("names.py", "    None,\n", "    \"second\",\n"),
    },
    Case {
        check: "loops",
        files: &[
            ("main.js", "const tide = require(\"./tide\");\ntide.turn();\n"),
            ("tide.js", "const moon = require(\"./moon\");\nexports.turn = () => moon.pull();\n"),
            (
                "moon.js",
                "const tide = require(\"./tide\");\nconst now = tide.turn();\nexports.pull \
                    = () => now;\n",
            ),
        ],
        console: "/ferry/moon.js:2\nconst now = tide.turn();\n                 ^\n\nTypeError: \
            tide.turn is not a function\n    at Object.<anonymous> (/ferry/moon.js:2:18)\n    \
            at Object.<anonymous> (/ferry/tide.js:1:14)\n    at Object.<anonymous> \
            (/ferry/main.js:1:14)\n",
        edit: ("tide.js", "require(\"./moon\")", "require(\"./stars\")"),
    },
    Case {
        check: "changing",
        files: &[(
            "crew.py",
            "crew = {\"first\": 1, \"second\": 2}\n\ndef leave(name):\n    \
                crew.pop(name)\n\nfor name in crew:\n    if crew[name] < 2:\n        \
                leave(name)\n",
        )],
        console: "Traceback (most recent call last):\n  File \"/ferry/crew.py\", line 6, in \
            <module>\n    for name in crew:\nRuntimeError: dictionary changed size during \
            iteration\n",
        edit: ("crew.py", "for name in crew:", "for name in list(names):"),
    },
    Case {
        check: "circles",
        files: &[
            (
                "winch.js",
                "const gears = require(\"./gears.json\");\nfunction turn(id) {\n  const \
                    gear = gears.find((g) => g.id === id);\n  return turn(gear.drives) + \
                    1;\n}\nturn(\"drum\");\n",
            ),
            (
                "gears.json",
                "[\n  { \"id\": \"drum\", \"drives\": \"pawl\" },\n  \
                    { \"id\": \"pawl\", \"drives\": \"chain\" },\n  \
                    { \"id\": \"chain\", \"drives\": \"drum\" }\n]\n",
            ),
        ],
        console: "/ferry/winch.js:3\n  const gear = gears.find((g) => g.id === \
            id);\n                     ^\n\nRangeError: gear drum: the circle has no end, \
            stack overflow\n    at turn (/ferry/winch.js:3:22)\n    at turn \
            (/ferry/winch.js:4:10)\n",
        edit: ("gears.json", "\"drives\": \"drum\"", "\"drives\": \"chain-end\""),
    },
    Case {
        check: "far",
        files: &[
            (
                "page.js",
                "async function nextSeat(seat) {\n  const answer = await \
                    fetch(\"/seats/next?seat=\" + seat);\n  if (!answer.ok) {\n    throw new \
                    Error(await answer.text());\n  }\n}\nnextSeat(3);\n",
            ),
            (
                "Seats.kt",
                "class Seats {\n    private val free = listOf(\"bow\", \"stern\")\n    fun \
                    next(seat: Int): String {\n        return free[seat]\n    }\n}\n",
            ),
        ],
        console: "/ferry/page.js:4\n    throw new Error(await answer.text());\n    ^\n\nError: \
            java.lang.IndexOutOfBoundsException: Index 3 out of bounds for length 2\n    at \
            nextSeat (/ferry/page.js:4:11)\n",
        edit: ("Seats.kt", "free[seat]", "free.getOrElse(seat) { \"none\" }"),
    },
    Case {
        check: "gaps",
        files: &[
            (
                "lamps.js",
                "const setup = require(\"./setup.json\");\nconst oil = \
                    setup.oil.litres;\nconst wind = setup.wind.knots;\nconsole.log(oil, wind, \
                    setup.title);\n",
            ),
            ("setup.json", "{\n  \"title\": \"lamps\",\n  \"wind\": { \"knots\": 4 }\n}\n"),
        ],
        console: "/ferry/lamps.js:2\nconst oil = setup.oil.litres;\n                      \
            ^\n\nTypeError: Cannot read properties of undefined (reading 'litres')\n    at \
            Object.<anonymous> (/ferry/lamps.js:2:23)\n",
        edit: ("setup.json", "\"title\"", "\"oil\": { \"litres\": 2 },\n  \"title\""),
    },
    Case {
        check: "missing",
        files: &[(
            "boat.js",
            "class Boat {\n  constructor(name, load) {\n    this.name = name;\n  }\n\n  \
                weigh() {\n    return this.load.tons;\n  }\n}\nnew Boat(\"skiff\", { tons: 3 \
                }).weigh();\n",
        )],
        console: "/ferry/boat.js:7\n    return this.load.tons;\n                     \
            ^\n\nTypeError: Cannot read properties of undefined (reading 'tons')\n    at \
            Boat.weigh (/ferry/boat.js:7:22)\n    at Object.<anonymous> \
            (/ferry/boat.js:10:35)\n",
        edit: ("boat.js", "this.name = name;", "this.name = name;\n    this.load = load;"),
    },
    Case {
        check: "removed",
        files: &[(
            "lamp.lua",
            "local lamp = { wick = { length = 3 } }\nlocal function out()\n  lamp.wick = \
                nil\nend\nout()\nprint(lamp.wick.length)\n",
        )],
        console: "lua5.4: lamp.lua:6: attempt to index a nil value (field 'wick')\n",
        edit: ("lamp.lua", "lamp.wick = nil", "lamp.lit = false"),
    },
    Case {
        check: "imports",
        files: &[
            (
                "log.lua",
                "local Log = {}\nfunction Log.keep()\n  return \
                    Knots.holds(3)\nend\nprint(Log.keep())\n",
            ),
            ("knots.lua", "Knots = {}\nfunction Knots.holds(n)\n  return n > 2\nend\n"),
        ],
        console: "lua5.4: log.lua:3: attempt to index a nil value (global 'Knots')\n",
        edit: ("log.lua", "local Log = {}", "require(\"knots\") local Log = {}"),
    },
    Case {
        check: "order",
        files: &[(
            "bell.lua",
            "local Bell = {}\nfunction Bell.ring()\n  return \
                Bell.rope.length\nend\nprint(Bell.ring())\nBell.rope = { length = 4 }\n",
        )],
        console: "lua5.4: bell.lua:3: attempt to index a nil value (field 'rope')\nstack \
            traceback:\n\tbell.lua:3: in function 'Bell.ring'\n\tbell.lua:5: in main chunk\n",
        edit: ("bell.lua", "\nBell.rope = { length = 4 }", ""),
    },
    Case {
        check: "overlap",
        files: &[(
            "ferry.lua",
            "local Ferry = { way = 0 }\nfunction Ferry:crossing()\n  if self.way > 0 \
                then\n    error(\"under way already\")\n  end\n  self.way = 1\n  wait(4)\n  \
                self.way = 0\nend\nfunction Ferry:cast_off()\n  routine(self.crossing, \
                self)\nend\nreturn Ferry\n",
        )],
        console: "lua5.4: ferry.lua:4: under way already\n",
        edit: ("ferry.lua", "  self.way = 1\n", ""),
    },
    Case {
        check: "paths",
        files: &[
            ("chart.lua", "local chart = io.open(\"maps/north.txt\")\nprint(chart:read())\n"),
            ("maps/nort.txt", "north 4\n"),
        ],
        console: "lua5.4: chart.lua:1: maps/north.txt: No such file or directory\n",
        edit: ("maps/nort.txt", "", "maps/north.txt"),
    },
    Case {
        check: "raised",
        files: &[
            (
                "lantern.lua",
                "local me = read(\"scene.json\")\nif me.level > 5 then\n  error(\"lantern \
                    2 fell into the water\")\nend\n",
            ),
            (
                "scene.json",
                "[\n  { \"script\": \"lantern.lua\", \"id\": 1, \"level\": 2 },\n  \
                    { \"script\": \"lantern.lua\", \"id\": 2, \"level\": 7 }\n]\n",
            ),
        ],
        console: "lua5.4: lantern.lua:3: lantern 2 fell into the water\n",
        edit: ("lantern.lua", "me.level", "broken"),
    },
    Case {
        check: "reported",
        files: &[(
            "seats.lua",
            "local seats = { 1, 2 }\nlocal n = #seats\nprint(seats[n + 1].row)\n",
        )],
        console: "lua5.4: seats.lua:3: attempt to index a nil value (field '?')\n",
        edit: ("seats.lua", "seats[n + 1]", "seats[n]"),
    },
    Case {
        check: "spelling",
        files: &[(
            "tide.lua",
            "local function height(hour)\n  return hour / \
                6\nend\nprint(height(2))\nprint(heigth(3))\n",
        )],
        console: "lua5.4: tide.lua:5: attempt to call a nil value (global 'heigth')\n",
        edit: (
            "tide.lua",
            "local function height(hour)\n  return hour / 6\nend\nprint(height(2))\n",
            "\n\n\n\n",
        ),
    },
    Case {
        check: "syntax",
        files: &[(
            "fog.lua",
            "local Fog = {}\nfunction Fog.tick(dt)\n  if dt > 1 then\n    Fog.depth = \
                0\nend\nreturn Fog\n",
        )],
        console: "lua5.4: fog.lua:7: 'end' expected (to close 'function' at line 2) near <eof>\n",
        edit: ("fog.lua", "    Fog.depth = 0\n", "    Fog.depth = 0\n  end\n"),
    },
    Case {
        check: "texts",
        files: &[
            ("signal.lua", "local target = \"Bell\"\ntarget:ring()\n"),
            ("scene.json", "{\n  \"kind\": \"Bell\"\n}\n"),
        ],
        console: "lua5.4: signal.lua:2: attempt to call a nil value (method 'ring')\n",
        edit: ("signal.lua", "\"Bell\"", "find(4)"),
    },
    // No name tells which is which, but their kinds do, and both calls speak against the
    // definition.
    Case {
        check: "swapped",
        files: &[(
            "Yard.cs",
            "public class Yard\n{\n    public void Lay(int metres, string mark)\n    \
                {\n        Note(mark + metres);\n    }\n    public static void Main()\n    \
                {\n        Yard yard = new Yard();\n        yard.Lay(\"bow\", 12);\n        \
                yard.Lay(\"stern\", 9);\n    }\n}\n",
        )],
        console: "Yard.cs(10,14): error CS1502: The best overloaded method match for `Yard.Lay(int, \
            string)' has some invalid arguments\nYard.cs(10,18): error CS1503: Argument `#1' \
            cannot convert `string' expression to type `int'\n",
        edit: ("Yard.cs", "Lay(int metres, string mark)", "Lay(string mark, int metres)"),
    },
    Case {
        check: "swapped",
        files: &[(
            "oil.lua",
            "local Oil = {}\nfunction Oil.burn(self, share)\n  return self.left * \
                share\nend\nlocal oil = { left = 2, burn = Oil.burn }\nprint(oil.burn(3))\n",
        )],
        console: "lua5.4: oil.lua:3: attempt to index a number value (local 'self')\nstack \
            traceback:\n\toil.lua:3: in function 'burn'\n\toil.lua:6: in main chunk\n",
        edit: ("oil.lua", "oil.burn(3)", "oil:burn(3)"),
    },
    Case {
        check: "unread",
        files: &[
            (
                "RouteBook.java",
                "class RouteBook {\n    String first() {\n        Route route = \
                    load(\"routes.json\");\n        return route.name();\n    }\n}\n",
            ),
            ("routes.json", "[\n  { \"name\": \"north\" },\n]\n"),
        ],
        console: "Exception in thread \"main\" java.lang.NullPointerException: Cannot \
            invoke \"Route.name()\" because \"<local1>\" is null\n\tat \
            RouteBook.first(RouteBook.java:4)\n",
        edit: ("routes.json", "},\n]", "}\n]"),
    },
    Case {
        check: "wiring",
        files: &[
            (
                "game.lua",
                "local scene = read(\"scene.json\")\nlocal handlers = {}\nfunction \
                    handlers.touch() end\nfunction handlers.leave() \
                    end\nhandlers[scene.on]()\n",
            ),
            ("scene.json", "[\n  { \"on\": \"toch\" },\n  { \"on\": \"leave\" }\n]\n"),
        ],
        console: "lua5.4: game.lua:5: attempt to call a nil value (field '?')\n",
        edit: ("scene.json", "toch", "touch"),
    },
];

fn project(files: &[(&str, String)]) -> Arc<Project> {
    let files = files
        .iter()
        .map(|(path, text)| ProjectFile { path: (*path).into(), text: Some(text.as_str().into()) })
        .collect();
    Arc::new(Project::new("/ferry", files))
}

fn edited(case: &Case, edit: bool) -> Arc<Project> {
    let (file, find, put) = case.edit;
    let files: Vec<(&str, String)> = case
        .files
        .iter()
        .map(|(path, text)| {
            assert!(*path != file || text.contains(find), "{}: nothing to edit", case.check);
            if edit && *path == file && find.is_empty() {
                return (put, (*text).to_owned());
            }
            (
                *path,
                if edit && *path == file { text.replace(find, put) } else { (*text).to_owned() },
            )
        })
        .collect();
    project(&files)
}

fn find(project: &Arc<Project>, console: &str) -> Findings {
    let mut engine = Engine::new(project.clone());
    let source = engine.add_source("console");
    engine.start_run(source, None, project.clone());
    engine.feed(source, Stream::Out, None, 0, console.as_bytes());
    engine.finish();
    let groups = engine.groups();
    Guilty::of(project).find(&groups.first().expect("the console tells an error").entry)
}

/// Checks whose cases stand in `izba-watch/tests/guilty`.
const ELSEWHERE: [&str; 7] = ["idioms", "inputs", "never", "page", "siblings", "told", "uncalled"];

/// How sure the surest suspect of a check is; of what others saw at the same place it is evidence.
fn strength(check: &str, found: &Findings) -> f32 {
    let suspects = found.suspects.iter().filter(|s| s.claim.check() == check);
    suspects.map(|s| s.confidence).fold(0.0, f32::max)
}

/// What one check says: the surest of its suspects, or the verdict of the reason that it looked
/// into.
fn said(check: &str, found: &Findings) -> (String, String) {
    let suspect = found.suspects.iter().find(|s| s.claim.check() == check);
    let reason = found.reasons.iter().find(|r| r.claim.check() == check);
    let verdict = match (suspect, reason) {
        (Some(s), _) if s.confidence >= LIKELY => "likely",
        (Some(_), _) => Verdict::CantTell.word(),
        (None, Some(r)) => r.verdict.word(),
        (None, None) => "nothing",
    };
    let text = suspect
        .map(|s| format!("{}:{} {}", s.file, s.line, s.reason()))
        .or_else(|| reason.map(|r| r.text()))
        .unwrap_or_default();
    (verdict.to_owned(), text)
}

#[test]
fn the_verdict_of_each_check_changes_with_its_evidence() {
    let mut out = String::new();
    let mut stuck = Vec::new();
    for case in CASES {
        let (before, after) =
            (find(&edited(case, false), case.console), find(&edited(case, true), case.console));
        let ((was, said_before), (is, said_after)) =
            (said(case.check, &before), said(case.check, &after));
        let _ = writeln!(out, "{}\n  {was}: {said_before}\n  {is}: {said_after}", case.check);
        let (before, after) = (strength(case.check, &before), strength(case.check, &after));
        if before < WORTH || after >= before {
            stuck.push(case.check);
        }
    }
    assert!(stuck.is_empty(), "suspected before and less so after: {stuck:?}\n{out}");
    let checked: Vec<&str> = CASES.iter().map(|c| c.check).chain(ELSEWHERE).collect();
    let unasked: Vec<&str> = izba_cause::suspect::CHECKS
        .iter()
        .map(|c| c.id)
        .filter(|id| !checked.contains(id))
        .collect();
    assert!(unasked.is_empty(), "no case for {unasked:?}");
    insta::assert_snapshot!(out);
}

/// What is said of a name that one file asks for, with where the first suspect stands.
fn spelt(files: &[(&str, &str)], console: &str) -> (String, Option<(String, u32)>) {
    let files: Vec<(&str, String)> = files.iter().map(|(p, t)| (*p, (*t).to_owned())).collect();
    let found = find(&project(&files), console);
    let first = found.suspects.first().map(|s| (s.file.to_string(), s.line));
    (said("spelling", &found).1, first)
}

#[test]
fn a_slip_of_a_languages_own_name_is_told_and_no_name_is_near_one_by_chance() {
    let python = |line: &str, said: &str| {
        let console = format!(
            "Traceback (most recent call last):\n  File \"/ferry/lock.py\", line 4, in <module>\n    \
            {line}\n{said}\n"
        );
        spelt(&[("lock.py", &format!("import fog\n\ncrew = fog.crew()\n{line}\n"))], &console).0
    };
    let node = |line: &str, said: &str| {
        let console = format!("/ferry/knot.js:1\n{line}\n\n{said}\n    at /ferry/knot.js:1:8\n");
        spelt(&[("knot.js", &format!("{line}\n"))], &console).0
    };
    // Slips of what the language has, each in the way in which it is asked for.
    let slips = [
        (
            python("pritn(crew)", "NameError: name 'pritn' is not defined"),
            "it has `print`: two letters are swapped",
        ),
        (
            node("[4].pusch(3);", "TypeError: [4].pusch is not a function"),
            "it has `push`: one letter differs",
        ),
    ];
    for (said, meant) in slips {
        assert!(said.contains(meant), "{said}");
    }
    // Names of their own: near what only a module has, two letters off, short, a plural, or asked
    // for in another way.
    let lacks = |name: &str| format!("AttributeError: 'Crew' object has no attribute '{name}'");
    let own = [
        python("crew.scores()", &lacks("scores")),
        python("crew.level()", &lacks("level")),
        python("crew.counts()", &lacks("counts")),
        node("4n.tie(3);", "TypeError: 4n.tie is not a function"),
        node("print(tile);", "ReferenceError: tile is not defined"),
    ];
    for said in own {
        assert!(!said.contains("is no name of"), "{said}");
    }
}

#[test]
fn what_was_made_under_a_slip_is_found_though_a_library_has_the_name_too() {
    let ask = "const store = require(\"./store\");\nstore.load(3);\n";
    let console = "/ferry/main.js:2\nstore.load(3);\n      ^\n\nTypeError: store.load is not a \
        function\n    at Object.<anonymous> (/ferry/main.js:2:7)\n";
    let made = |name: &str| format!("exports.keep = 1;\nclass Store {{\n  {name}() {{}}\n}}\n");
    let at = |name: &str| spelt(&[("main.js", ask), ("store.js", &made(name))], console).1;
    assert_eq!(at("laod"), Some(("store.js".to_owned(), 3)));
    assert_ne!(at("fetch"), Some(("store.js".to_owned(), 3)));
}

/// A check of what can be found without running, the files, and the edit after which it has nothing
/// to say.
const REMARKS: &[Case] = &[
    Case {
        check: "parses",
        files: &[("fog.lua", "local depth = (4\nprint(depth)\n")],
        console: "",
        edit: ("fog.lua", "(4", "(4)"),
    },
    Case {
        check: "rings",
        files: &[
            ("tide.js", "import { pull } from \"./moon.js\";\nexport const turn = pull;\n"),
            ("moon.js", "import { turn } from \"./tide.js\";\nexport const pull = turn;\n"),
        ],
        console: "",
        edit: ("moon.js", "import { turn } from \"./tide.js\";", "const turn = 2;"),
    },
    Case {
        check: "wiring",
        files: &[
            (
                "game.lua",
                "local on = {}\nfunction on.touch() end\nfunction on.leave() end\nreturn on\n",
            ),
            (
                "scene.json",
                "[\n  { \"on\": \"toch\" },\n  { \"on\": \"leave\" },\n  \
                    { \"on\": \"touch\" }\n]\n",
            ),
        ],
        console: "",
        edit: ("scene.json", "toch", "touch"),
    },
    Case {
        check: "layouts",
        files: &[
            ("Seat.java", "class Seat {\n    void onBoard() {}\n    void onPay() {}\n}\n"),
            (
                "seat.xml",
                "<Column>\n  <Button onClick=\"onBoard\" />\n  <Button onClick=\"onPai\" />\n</Column>\n",
            ),
        ],
        console: "",
        edit: ("seat.xml", "onPai", "onPay"),
    },
    Case {
        check: "resources",
        files: &[("chart.lua", "show(\"pictures/moon.png\")\n"), ("pictures/mon.png", "")],
        console: "",
        edit: ("chart.lua", "moon.png", "mon.png"),
    },
    Case {
        check: "names",
        files: &[(
            "lamp.lua",
            "local Lamp = {}\nfunction Lamp.shine()\n  return brightnes\nend\nbrightness = \
                4\nreturn Lamp\n",
        )],
        console: "",
        edit: ("lamp.lua", "brightnes\n", "brightness\n"),
    },
    // Silent: the engine's own name, taught in izba.toml, is misspelt on assignment.
    Case {
        check: "names",
        files: &[
            ("izba.toml", "names = [\"brightness\"]\n"),
            ("lamp.lua", "brigthness = 4\nprint(\"lit\")\n"),
        ],
        console: "",
        edit: ("lamp.lua", "brigthness", "brightness"),
    },
    Case {
        check: "hidden",
        files: &[(
            "scene.json",
            "{\n  \"layers\": [\"far\", \"near\"],\n  \"pictures\": { \"fog\": { \"size\": \
                [40, 40], \"opaque\": true }, \"gull\": { \"size\": [4, 4] } \
                },\n  \"objects\": [\n    \
                { \"kind\": \"Fog\", \"picture\": \"fog\", \"layer\": \"near\", \"at\": [20, \
                20] },\n    { \"kind\": \"Gull\", \"picture\": \"gull\", \"layer\": \"far\", \"at\": [30, 10] }\n  ]\n}\n",
        )],
        console: "",
        edit: ("scene.json", "[30, 10]", "[90, 10]"),
    },
    Case {
        check: "handlers",
        files: &[
            (
                "gull.lua",
                "local Gull = {}\nfunction Gull:touched()\n  self.up = true\nend\nreturn Gull\n",
            ),
            (
                "lantern.lua",
                "local Lantern = {}\nfunction Lantern:touch()\n  self.up = \
                    true\nend\nreturn Lantern\n",
            ),
        ],
        console: "",
        edit: ("gull.lua", "touched", "touch"),
    },
    Case {
        check: "blocks",
        files: &[(
            "reeds.js",
            "function sway(wind) {\n  if (wind > 1) {\n    bend(wind);\n}\n  }\n",
        )],
        console: "",
        edit: ("reeds.js", "}\n  }\n", "  }\n}\n"),
    },
    Case {
        check: "pages",
        files: &[
            ("quay.html", "<script src=\"baord.js\"></script>\n"),
            ("board.js", "let boat = 1;\n"),
        ],
        console: "",
        edit: ("quay.html", "baord.js", "board.js"),
    },
    Case {
        check: "styles",
        files: &[
            ("quay.css", ".moored { color: teal }\n"),
            ("quay.js", "export function moor(item) {\n  item.classList.add('morred');\n}\n"),
        ],
        console: "",
        edit: ("quay.js", "'morred'", "'moored'"),
    },
    Case {
        check: "events",
        files: &[(
            "bell.js",
            "export function hang(bell) {\n  bell.addEventListener('clik', ring);\n}\n",
        )],
        console: "",
        edit: ("bell.js", "'clik'", "'click'"),
    },
    Case {
        check: "prints",
        files: &[("bell.py", "def ring(times):\n    print(\"here\")\n    return times\n")],
        console: "",
        edit: ("bell.py", "print(\"here\")", "times += 1"),
    },
];

#[test]
fn a_remark_goes_with_what_it_is_about() {
    let mut out = String::new();
    let mut stuck = Vec::new();
    for case in REMARKS {
        let told = |edit: bool| {
            let project = edited(case, edit);
            let guilty = Guilty::of(&project);
            checks::all(guilty.repaired()).remarks.into_iter().find(|r| r.check() == case.check)
        };
        let (before, after) = (told(false), told(true));
        let _ = writeln!(
            out,
            "{}: {}",
            case.check,
            before.as_ref().map_or("nothing".into(), |r| format!(
                "{}:{} {}",
                r.file,
                r.line,
                r.text()
            ))
        );
        if before.is_none() || after.is_some() {
            stuck.push((case.check, after.map(|r| r.text())));
        }
    }
    assert!(stuck.is_empty(), "told before and not after: {stuck:?}\n{out}");
    let asked: Vec<&str> = REMARKS.iter().map(|c| c.check).collect();
    assert_eq!(
        checks::CHECKS.iter().map(|c| c.id).filter(|id| !asked.contains(id)).count(),
        0,
        "a check without a case"
    );
    insta::assert_snapshot!(out);
}

/// A stop in a line, with what each expression of it was.
fn stop(file: &str, line: u32, values: &[(&str, Part, &str, Option<u64>)]) -> Witness {
    let one = |(text, part, shown, fields): &(&str, Part, &str, Option<u64>)| {
        let spoken = Spoken { text: (*text).into(), line, part: *part, asked: true };
        (spoken, Some(Seen { shown: (*shown).into(), kind: None, entries: None, fields: *fields }))
    };
    Witness {
        file: file.into(),
        line,
        text: String::new(),
        at_error: true,
        values: values.iter().map(one).collect(),
    }
}

#[test]
fn what_a_stop_shows_changes_the_verdict() {
    // Whether the index is past the end, only the program knows: how far it counts comes from
    // outside.
    let script = "local crew = { \"first\", \"second\" }\nlocal seat = tonumber(arg[1])\nlocal hand = \
        crew[seat]\nprint(hand.name)\n";
    let project = Arc::new(Project::new(
        "/ferry",
        vec![ProjectFile { path: "crew.lua".into(), text: Some(script.into()) }],
    ));
    let found = find(&project, "lua5.4: crew.lua:4: attempt to index a nil value (local 'hand')\n");
    let told = |found: &Findings| -> Vec<String> {
        found.reasons.iter().filter(|r| r.verdict == Verdict::Likely).map(|r| r.text()).collect()
    };
    let before = told(&found);
    let values = |seat: &'static str| {
        let entry = Part::Entry { list: 0, index: 1 };
        stop(
            "crew.lua",
            4,
            &[
                ("crew", Part::Value, "list of 2", None),
                ("seat", Part::Value, seat, None),
                ("#crew", Part::Length { of: 0 }, "2", None),
                ("crew[seat]", entry, "nil", None),
            ],
        )
    };
    let mut past = found.clone();
    weigh(&mut past, &values("5"), Language::of_id("lua").expect("it ships"));
    assert!(
        told(&past).iter().any(|t| t == "`seat` is 5, but `crew` has 2 entries"),
        "{:?}",
        past.reasons
    );
    let mut within = found.clone();
    weigh(&mut within, &values("2"), Language::of_id("lua").expect("it ships"));
    assert_eq!(told(&within), before, "an index within its list says nothing");

    // Something that a reason says was taken away was there all the same.
    let script = "local lamp = { wick = { length = 3 } }\nlocal function out()\n  lamp.wick = \
        nil\nend\nout()\nprint(lamp.wick.length)\n";
    let project = Arc::new(Project::new(
        "/ferry",
        vec![ProjectFile { path: "lamp.lua".into(), text: Some(script.into()) }],
    ));
    let found = find(&project, "lua5.4: lamp.lua:6: attempt to index a nil value (field 'wick')\n");
    let of_taken = |found: &Findings| {
        found
            .reasons
            .iter()
            .find(|r| r.text().starts_with("nothing is put into `wick`"))
            .map(|r| r.verdict)
    };
    let (before, lua) = (of_taken(&found), Language::of_id("lua").expect("it ships"));
    assert!(before.is_some_and(|v| v != Verdict::RuledOut), "{:?}", found.reasons);
    let mut there = found.clone();
    let wick = |value: &'static str, object: Option<u64>| {
        stop("lamp.lua", 6, &[("wick", Part::Value, value, object)])
    };
    weigh(&mut there, &wick("Wick#1", Some(9)), lua);
    assert_eq!(of_taken(&there), Some(Verdict::RuledOut));
    let mut gone = found.clone();
    weigh(&mut gone, &wick("nil", None), lua);
    assert_eq!(of_taken(&gone), before);
}

#[test]
fn a_call_that_takes_away_is_known_by_the_language_and_no_other_call_is() {
    // The same little script in several languages; `{}` is what is done to the list before one of
    // its entries is read.
    let scripts = [
        (
            "main.lua",
            "local boats = { { name = 'Tern' } }\nlocal function moor()\n  boats:{}(1)\nend\n\
             moor()\nprint(boats[1].name)\n",
            "lua: main.lua:6: attempt to index a nil value (field '?')\nstack traceback:\n\
             \tmain.lua:6: in main chunk\n\t[C]: in ?\n",
            "remove",
            "measure",
        ),
        (
            "main.py",
            "boats = {'tern': None}\ndef moor():\n    boats.{}('tern')\nmoor()\n\
             print(boats['tern'].name)\n",
            "Traceback (most recent call last):\n  File \"main.py\", line 5, in <module>\n    \
             print(boats['tern'].name)\nKeyError: 'tern'\n",
            "pop",
            "get",
        ),
    ];
    for (file, script, console, takes, other) in scripts {
        let told = |call: &str| {
            let text = script.replace("{}", call);
            let found = find(&project(&[(file, text)]), console);
            let taken = found.suspects.iter().find(|s| s.claim.check() == "removed");
            taken.map(|s| (s.line, s.claim.subject().map(str::to_owned)))
        };
        assert_eq!(told(takes), Some((3, Some("boats".to_owned()))), "{file}: {takes}");
        assert_eq!(told(other), None, "{file}: {other} takes nothing away");
    }
}
