//! What goes wrong between a page, its scripts and its server: methods without their object, constants
//! that change, addresses that nobody answers to, and which of two names is spelt right.

use super::{Case, files, found, hold};

#[test]
fn methods_without_their_object_and_constants_that_change_are_told() {
    hold(&[
        Case {
            kind: "unbound.handed-over",
            files: "@@ sea.js\nclass Sea {\n  constructor() {\n    this.waves = [];\n  }\n  move() {\n    \
                this.waves.push(1);\n  }\n}\nconst sea = new Sea();\nsetTimeout(sea.move, 5);\n",
            console: "/srv/marsh/sea.js:6\n    this.waves.push(1);\n               ^\n\nTypeError: Cannot read \
                properties of undefined (reading 'push')\n    at Timeout.move [as _onTimeout] (/srv/marsh/sea.js:6:16)\n    \
                at listOnTimeout (node:internal/timers:573:17)\n",
            at: "sea.js:10",
            edit: ("sea.move", "() => sea.move()"),
        },
        Case {
            kind: "constant.made-to-stay",
            files: "@@ tide.js\nconst height = 1;\nfunction rise() {\n  height = 2;\n}\nrise();\n",
            console: "/srv/marsh/tide.js:3\n  height = 2;\n         ^\n\nTypeError: Assignment to constant variable.\n    \
                at rise (/srv/marsh/tide.js:3:10)\n    at Object.<anonymous> (/srv/marsh/tide.js:5:1)\n",
            at: "tide.js:1",
            edit: ("const height", "let height"),
        },
        Case {
            kind: "addresses.nearly",
            files: "@@ office.js\nexport async function tide() {\n  return fetch('/api/tides');\n}\n\
                @@ routes.js\nexport function answer(path) {\n  if (path === '/api/tide') {\n    return 3;\n  }\n}\n",
            console: "[page error] http://127.0.0.1:8000/api/tides was not loaded: the server answers 404\n    at tide \
                (http://127.0.0.1:8000/office.js:2:10)\n",
            at: "office.js:2",
            edit: ("/api/tides", "/api/tide"),
        },
        Case {
            kind: "addresses.other-method",
            files: "@@ office.js\nexport async function book(berth) {\n  return fetch('/api/berths', {\n    method: 'PUT',\n    \
                body: berth,\n  });\n}\n\
                @@ routes.js\nexport function answer(method, path) {\n  if (method === 'GET' && path === '/api/berths') {\n    \
                return [];\n  }\n  if (method === 'POST' && path === '/api/berths') {\n    return 3;\n  }\n}\n",
            console: "[page error] http://127.0.0.1:8000/api/berths was not loaded: the server answers 404\n    at book \
                (http://127.0.0.1:8000/office.js:2:10)\n",
            at: "office.js:3",
            edit: ("'PUT'", "'POST'"),
        },
        Case {
            kind: "idioms.not-awaited",
            files: "@@ boats.js\nasync function load() {\n  const answer = await fetch('boats.txt');\n  const read = \
                answer.json();\n  return read.boats.map(String);\n}\nload();\n",
            console: "[page error] nobody caught this promise: TypeError: Cannot read properties of undefined (reading \
                'map')\n    at load (http://127.0.0.1:8000/boats.js:4:21)\n",
            at: "boats.js:3",
            edit: ("= answer.json()", "= await answer.json()"),
        },
    ]);
}

const OFFICE: &str = "@@ web/quay.js\nasync function ask(address, order) {\n  const answer = await fetch(address, {\n    \
    method: 'POST',\n    body: JSON.stringify(order),\n  });\n  return answer.json();\n}\n\
    export async function show(boat) {\n  const slip = await ask('/slips', { boat: boat, berths: 2 });\n  \
    return `${slip.number}: ${slip.fee.toFixed(2)}`;\n}\n\
    @@ slips.mjs\nexport function cut(asked) {\n  const fee = feeOf(asked.boat, asked.berths);\n  return { \
    number: 1, charge: fee };\n}\nfunction feeOf(boat, berths) {\n  return boat.length * berths;\n}\n\
    @@ server.mjs\nimport { cut } from './slips.mjs';\nexport async function answer(request, response) {\n  \
    let text = '';\n  for await (const part of request) text += part;\n  response.end(JSON.stringify(cut(\
    JSON.parse(text))));\n}\n";

#[test]
fn what_is_sent_under_another_name_than_it_is_asked_for_is_told_on_the_side_that_stands_alone() {
    let on_the_page = "[page error] nobody caught this promise: TypeError: Cannot read properties of undefined \
        (reading 'toFixed')\n    at show (http://127.0.0.1:8000/quay.js:10:40)\n";
    let on_the_server = "/srv/marsh/slips.mjs:6\n  return boat.length * berths;\n              ^\n\n\
        TypeError: Cannot read properties of undefined (reading 'length')\n    \
        at feeOf (file:///srv/marsh/slips.mjs:6:15)\n    at cut (file:///srv/marsh/slips.mjs:2:15)\n    \
        at answer (file:///srv/marsh/server.mjs:5:31)\n";
    let asks_otherwise = OFFICE.replace("asked.boat", "asked.name").leak();
    let sends_otherwise = OFFICE.replace("{ boat: boat, berths", "{ boats: boat, berths").leak();
    hold(&[
        Case {
            kind: "messages.sent-as",
            files: OFFICE,
            console: on_the_page,
            at: "slips.mjs:3",
            edit: ("charge: fee", "fee: fee"),
        },
        Case {
            kind: "messages.asked-as",
            files: asks_otherwise,
            console: on_the_server,
            at: "slips.mjs:2",
            edit: ("asked.name", "asked.boat"),
        },
        Case {
            kind: "messages.sent-as",
            files: sends_otherwise,
            console: on_the_server,
            at: "web/quay.js:9",
            edit: ("{ boats: boat", "{ boat: boat"),
        },
    ]);
}

#[test]
fn what_a_component_keeps_and_what_it_hands_on_is_followed_into_those_that_it_draws() {
    let files = "@@ Harbour.tsx\nimport { useState } from 'react';\nimport { Board } from './Board';\n\
        export const BOATS = [{ name: 'Wren', berth: 4 }, { name: 'Smew', berth: 6 }];\n\
        export function Harbour() {\n  const [log, setLog] = useState<string[]>();\n  \
        return <Board boats={BOATS} chosen={'Wren '} log={log} />;\n}\n\
        @@ Board.tsx\nfunction berthOf(boats: Boat[], name: string) {\n  \
        return boats.filter((boat) => boat.name === name)[0];\n}\n\
        export function Board({ boats, chosen, log }: Props) {\n  const berth = berthOf(boats, chosen);\n  \
        return <p>{berth.berth} {log.length}</p>;\n}\n";
    hold(&[
        Case {
            kind: "inputs.not-among",
            files,
            console: "[page error] TypeError: Cannot read properties of undefined (reading 'berth')\n    at Board \
                (http://127.0.0.1:5173/Board.tsx:6:20)\n",
            at: "Harbour.tsx:6",
            edit: ("'Wren '", "'Wren'"),
        },
        Case {
            kind: "inputs.nothing-here",
            files,
            console: "[page error] TypeError: Cannot read properties of undefined (reading 'length')\n    at Board \
                (http://127.0.0.1:5173/Board.tsx:6:32)\n",
            at: "Harbour.tsx:5",
            edit: ("useState<string[]>()", "useState<string[]>([])"),
        },
    ]);
}

#[test]
fn of_a_failed_test_the_line_that_gives_the_value_is_told_and_the_sign_that_would_give_the_wanted_one()
 {
    let files = "@@ buoy.js\nexport class Buoy {\n  constructor(chain) {\n    this.chain = chain;\n    this.drift = 2;\n  }\n  \
        reach(wind) {\n    return this.chain * this.drift + wind;\n  }\n}\n\
        @@ buoy.test.js\nimport { Buoy } from './buoy.js';\ntest('wind shortens it', () => {\n  const buoy = new Buoy(5);\n  \
        expect(buoy.reach(3)).toBe(7);\n});\n";
    let console = "AssertionError: expected 13 to be 7\n    at /srv/marsh/buoy.test.js:4:25\n";
    hold(&[
        Case {
            kind: "tested.other-sign",
            files,
            console,
            at: "buoy.js:7",
            edit: ("drift + wind", "drift - wind"),
        },
        Case {
            kind: "tested.made-here",
            files: files.replace("* this.drift +", "* this.slack +").leak(),
            console,
            at: "buoy.js:7",
            edit: ("buoy.reach(3)", "3"),
        },
    ]);
}

#[test]
fn what_somebody_else_sends_and_what_only_a_test_says_is_left_alone() {
    let on_the_page = "[page error] nobody caught this promise: TypeError: Cannot read properties of undefined \
        (reading 'toFixed')\n    at show (http://127.0.0.1:8000/quay.js:10:40)\n";
    let told = |files_: &str| -> Vec<String> {
        let found = found(&files(files_), on_the_page).expect("an error");
        found.suspects.iter().map(|s| format!("{:?}", s.claim.says.kind)).collect()
    };
    assert!(told(OFFICE).contains(&"messages.sent-as".into()));
    // It is sent in another way too.
    let other = format!(
        "{OFFICE}export function again(response, fee) {{\n  response.json({{ ...cut(2), fee }});\n}}\n"
    );
    assert!(!told(&other).iter().any(|k| k.starts_with("messages")), "{:?}", told(&other));
    // A test of another part is no part of what runs.
    let looked = "@@ rates.js\nconst RATES = { hulls: 40, paint: 25 };\nexport function costOf(job) {\n  \
        return RATES[job.work].valueOf() * job.hours;\n}\n@@ quay.js\nimport { costOf } from './rates.js';\n\
        costOf(JSON.parse(process.argv[2]));\n\
        @@ test/rates.test.js\nimport { costOf } from '../rates.js';\n\
        costOf({ work: 'hull', hours: 3 });\n";
    let console = "/srv/marsh/rates.js:3\n  return RATES[job.work].valueOf() * job.hours;\n                         \
        ^\n\nTypeError: Cannot read properties of undefined (reading 'valueOf')\n    \
        at costOf (file:///srv/marsh/rates.js:3:26)\n    at file:///srv/marsh/quay.js:2:1\n";
    let found = found(&files(looked), console).expect("an error");
    assert!(found.suspects.iter().all(|s| !s.file.contains("test")), "{:?}", found.suspects);
}

#[test]
fn what_is_kept_in_a_variable_is_followed_by_its_name() {
    let page = "@@ quay.js\nasync function call(method, address) {\n  const answer = await fetch(address, { method });\n  \
        return answer.json();\n}\nconst moor = (boat) => call('POST', `/moor?boat=${boat}`);\n\
        class Log {\n  constructor() {\n    this.all = [];\n  }\n  note(boat) {\n    this.all.push(boat);\n  }\n}\n\
        const log = new Log();\nasync function submit() {\n  const slip = moor('Wren');\n  \
        log.note(slip.berth.name);\n}\nsubmit();\n\
        @@ routes.mjs\nroute('POST', '/moor', ({ query }) => ({ berth: { name: query.get('boat') } }));\n";
    let lost = page
        .replace("const slip = moor", "const slip = await moor")
        .replace("  log.note(slip", "  const note = log.note;\n  note(slip");
    let verb = page
        .replace("const slip = moor", "const slip = await moor")
        .replace("call('POST'", "call('PUT'");
    let slip = page
        .replace("const slip = moor", "const slip = await moor")
        .replace("'/moor', (", "'/moro', (");
    let moored = slip.replace("const log =", "const moor_all = 'moor';\nconst log =");
    hold(&[
        Case {
            kind: "idioms.not-awaited",
            files: page,
            console: "[page error] nobody caught this promise: TypeError: Cannot read properties of undefined (reading \
                'name')\n    at submit (http://127.0.0.1:8000/quay.js:17:23)\n",
            at: "quay.js:16",
            edit: ("= moor(", "= await moor("),
        },
        Case {
            kind: "unbound.handed-over",
            files: lost.leak(),
            console: "[page error] nobody caught this promise: TypeError: Cannot read properties of undefined (reading \
                'all')\n    at note (http://127.0.0.1:8000/quay.js:11:10)\n    at submit (http://127.0.0.1:8000/quay.js:18:3)\n",
            at: "quay.js:17",
            edit: ("= log.note;", "= log.note.bind(log);"),
        },
        Case {
            kind: "addresses.other-method",
            files: verb.leak(),
            console: "[page error] http://127.0.0.1:8000/moor?boat=Wren was not loaded: the server answers 404\n    at call \
                (http://127.0.0.1:8000/quay.js:2:24)\n",
            at: "quay.js:5",
            edit: ("'PUT'", "'POST'"),
        },
        Case {
            kind: "addresses.answers-nearly",
            files: moored.leak(),
            console: "[page error] http://127.0.0.1:8000/moor?boat=Wren was not loaded: the server answers 404\n    at call \
                (http://127.0.0.1:8000/quay.js:2:24)\n",
            at: "routes.mjs:1",
            edit: ("'/moro'", "'/moor'"),
        },
    ]);
}

#[test]
fn what_is_handed_on_unwaited_or_taken_out_of_its_object_is_told_where_that_is_done() {
    let quay = "@@ tides.ts\nexport async function tides(): Promise<Tide[]> {\n  const answer = await \
        fetch('/tides.json');\n  return answer.json();\n}\nexport function high(all: Tide[]): Tide {\n  \
        return all.filter((tide) => tide.height > 2).at(-1)!;\n}\n\
        @@ gauge.ts\nexport class Gauge {\n  private seen: number[] = [];\n  note(height: number): void {\n    \
        this.seen.push(height);\n  }\n}\n\
        @@ main.ts\nimport { Gauge } from './gauge';\nimport { high, tides } from './tides';\n\
        const gauge = new Gauge();\nconst { note } = gauge;\nnote(high(tides() as never).height);\n";
    hold(&[
        Case {
            kind: "idioms.not-awaited",
            files: quay,
            console: "[page error] TypeError: all.filter is not a function\n    at high \
                (http://127.0.0.1:5173/tides.ts:6:14)\n    at http://127.0.0.1:5173/main.ts:5:6\n",
            at: "main.ts:5",
            edit: ("(tides() as", "(await tides() as"),
        },
        Case {
            kind: "unbound.handed-over",
            files: quay,
            console: "[page error] TypeError: Cannot read properties of undefined (reading 'seen')\n    at note \
                (http://127.0.0.1:5173/gauge.ts:4:10)\n    at http://127.0.0.1:5173/main.ts:5:1\n",
            at: "main.ts:4",
            edit: ("const { note } = gauge;", "const note = (h) => gauge.note(h);"),
        },
    ]);
    // The last of a list is no key that is missing in it.
    let data = "@@ tides.json\n{ \"tides\": [ { \"height\": 1 }, { \"height\": 3 } ] }\n@@ main.js\n\
        import { readFileSync } from 'node:fs';\n\
        const { tides } = JSON.parse(readFileSync('tides.json', 'utf8'));\n\
        console.log(tides.filter((tide) => tide.height > 4).at(-1).height);\n";
    let console = "/srv/marsh/main.js:3\nconsole.log(tides.filter((tide) => tide.height > 4).at(-1).height);\n\n\
        TypeError: Cannot read properties of undefined (reading 'height')\n    \
        at file:///srv/marsh/main.js:3:60\n";
    let found = found(&files(data), console).expect("an error");
    let lacks =
        |s: &&izba_model::claim::Suspect| format!("{:?}", s.claim.says.kind) == "inputs.lacks";
    assert_eq!(found.suspects.iter().find(lacks), None);
}

/// Kind, file and line of what is told, first ones first.
fn told(project: &str, console: &str) -> Vec<(String, String, u32)> {
    let found = found(&files(project), console).expect("it is an error");
    let one = |s: &izba_model::claim::Suspect| {
        (format!("{:?}", s.claim.says.kind), s.file.to_string(), s.line)
    };
    found.suspects.iter().map(one).collect()
}

/// `say` prints a name that is not there.
fn lacks(name: &str, made: &str) -> (String, u32) {
    let project = format!(
        "@@ tide.js\nclass Tide {{\n  {made}() {{\n    return 'high';\n  }}\n}}\nconst seats = \
         4;\nconsole.log(seats, new Tide().{name}());\n"
    );
    let console = format!(
        "/srv/marsh/tide.js:7\nconsole.log(seats, new Tide().{name}());\n                              ^\n\nTypeError: \
         (intermediate value).{name} is not a function\n    at Object.<anonymous> (/srv/marsh/tide.js:7:31)\n"
    );
    let all = told(&project, &console);
    let (kind, _, line) = all.first().expect("a suspect").clone();
    (kind, line)
}

#[test]
fn of_two_names_that_stand_once_the_one_made_of_known_words_is_right() {
    assert_eq!(lacks("freeSeat", "freeSeats"), ("spelling.only-here".into(), 7));
    assert_eq!(lacks("freeSeats", "freeSeat"), ("spelling.made-otherwise".into(), 2));
}

#[test]
fn an_index_that_is_counted_on_behind_its_wrap_is_told_and_one_below_it_is_not() {
    let tides = |index: &str| {
        let project = format!(
            "@@ tide.js\nconst TIDES = [1, 2, 3];\nfunction at(hour) {{\n  return \
             TIDES[{index}];\n}}\nfunction show(hour) {{\n  const height = at(hour);\n  return \
             height.toFixed(1);\n}}\nshow(2);\n"
        );
        let console = "/srv/marsh/tide.js:7\n  return height.toFixed(1);\n                ^\n\nTypeError: Cannot read \
            properties of undefined (reading 'toFixed')\n    at show (/srv/marsh/tide.js:7:17)\n    at Object.<anonymous> \
            (/srv/marsh/tide.js:9:1)\n";
        told(&project, console)
    };
    let wrapped = |all: &[(String, String, u32)]| {
        all.iter().any(|(kind, _, line)| kind == "bounds.past-the-wrap" && *line == 3)
    };
    assert!(wrapped(&tides("hour % TIDES.length + 1")));
    assert!(!wrapped(&tides("(hour + 1) % TIDES.length")));
    assert!(!wrapped(&tides("hour % TIDES.length + 0")));
}

#[test]
fn what_keeps_its_object_or_is_another_file_is_left_alone() {
    let console = "/srv/marsh/sea.js:6\n    this.waves.push(1);\n               ^\n\nTypeError: Cannot read properties of \
        undefined (reading 'push')\n    at Sea.move (/srv/marsh/sea.js:6:16)\n    at Timeout._onTimeout \
        (/srv/marsh/sea.js:10:22)\n";
    let project = "@@ sea.js\nclass Sea {\n  constructor() {\n    this.depth = [];\n  }\n  move() {\n    \
        this.waves.push(1);\n  }\n}\nconst sea = new Sea();\nsetTimeout(() => sea.move(), 5);\n";
    let all = told(project, console);
    assert!(!all.iter().any(|(kind, ..)| kind.starts_with("unbound")), "{all:?}");
    let picture = "[page error] http://127.0.0.1:8000/boats.png was not loaded: the server answers 404\n    at \
        http://127.0.0.1:8000/index.html:1:1\n";
    let page = "@@ index.html\n<img src=\"boats.png\">\n@@ routes.js\nconst boat = '/boat';\n";
    let all = told(page, picture);
    assert!(!all.iter().any(|(kind, ..)| kind.starts_with("addresses")), "{all:?}");
}

/// What a page is told of whose boats come from data.
fn of_data(key: &str) -> Vec<(String, String, u32)> {
    let project = format!(
        "@@ boats.js\nlet boats = [];\nasync function load() {{\n  const answer = await \
         fetch('boats.json');\n  const read = await answer.json();\n  for (const boat of read.boats) \
         {{\n    boats.push(boat.name);\n  }}\n}}\nload();\n@@ boats.json\n{{\n  \"{key}\": [ {{ \"name\": \
         \"Heron\" }} ]\n}}\n"
    );
    let console = "[page error] nobody caught this promise: TypeError: read.boats is not iterable\n    at load \
        (http://127.0.0.1:8000/boats.js:5:27)\n[page error] TypeError: Cannot read properties of undefined (reading \
        'name')\n    at load (http://127.0.0.1:8000/boats.js:5:27)\n";
    told(&project, console)
}

#[test]
fn a_key_that_only_a_variable_bears_is_still_one_that_nobody_asks_for() {
    let told = |key: &str| {
        let all = of_data(key);
        all.iter().any(|(kind, file, line)| {
            kind == "wiring.key-nearly" && file == "boats.json" && *line == 2
        })
    };
    assert!(told("boat"), "{:?}", of_data("boat"));
    assert!(!told("boats"), "{:?}", of_data("boats"));
}

#[test]
fn a_tag_that_nearly_names_the_script_is_told_and_not_the_one_that_needs_it() {
    let project = "@@ index.html\n<p>Ferry</p>\n<script src=\"boat.js\"></script>\n<script src=\"quay.js\"></script>\n\
        @@ boats.js\nfunction loadBoats() {\n  return [];\n}\n@@ quay.js\nconst all = loadBoats();\n";
    let console = "[page error] ReferenceError: loadBoats is not defined\n    at \
        http://127.0.0.1:8000/quay.js:1:13\n";
    let (kind, file, line) = told(project, console).first().expect("a suspect").clone();
    assert_eq!((kind.as_str(), file.as_str(), line), ("page.tag-nearly", "index.html", 2));
}

#[test]
fn what_is_kept_under_a_name_that_nobody_reads_is_told_where_it_is_kept() {
    let project = "@@ lamp.js\nclass Lamp {\n  constructor(name, at) {\n    this.name = name;\n    this.place = \
        at;\n  }\n  draw() {\n    return this.at.x;\n  }\n}\nnew Lamp('Quay', {}).draw();\n";
    let console = "/srv/marsh/lamp.js:7\n    return this.at.x;\n                   ^\n\nTypeError: Cannot read properties of \
        undefined (reading 'x')\n    at Lamp.draw (/srv/marsh/lamp.js:7:20)\n    at Object.<anonymous> \
        (/srv/marsh/lamp.js:10:23)\n";
    let (_, file, line) = told(project, console).first().expect("a suspect").clone();
    assert_eq!((file.as_str(), line), ("lamp.js", 4));
}

#[test]
fn what_is_looked_for_under_a_name_that_nothing_bears_is_told_where_it_is_named() {
    let of = |name: &str| {
        let project = format!(
            "@@ sea.js\nconst lamps = require('./lamps.json');\nfunction find(name) {{\n  return \
             lamps.find((lamp) => lamp.name === name);\n}}\nfunction toggle(name) {{\n  find(name).lit = \
             true;\n}}\ntoggle('{name}');\n@@ lamps.json\n[\n  {{ \"name\": \"North Mole\" }},\n  {{ \
             \"name\": \"Reed Bank\" }}\n]\n"
        );
        let console = "/srv/marsh/sea.js:6\n  find(name).lit = true;\n                 ^\n\nTypeError: Cannot set \
            properties of undefined (setting 'lit')\n    at toggle (/srv/marsh/sea.js:6:18)\n    at \
            Object.<anonymous> (/srv/marsh/sea.js:8:1)\n";
        told(&project, console)
    };
    let named = |all: &[(String, String, u32)], kind: &str| {
        all.iter().any(|(k, file, line)| k == kind && file == "sea.js" && *line == 8)
    };
    // The search itself may be told, which says the same of the same line.
    for (name, kind) in [("North Mule", "texts.no-entry-near"), ("Heron Tower", "texts.no-entry")] {
        let told = of(name);
        assert!(named(&told, kind) || named(&told, "inputs.not-among"), "{name}: {told:?}");
    }
    assert!(!of("North Mole").iter().any(|(kind, ..)| kind.starts_with("texts.no-entry")));
}

/// What is told of a component that takes `boats` out of its attributes, where a page hands it these.
fn of_markup(attributes: &str) -> Vec<(String, String, u32)> {
    let project = format!(
        "@@ List.tsx\nexport function List({{ boats, quay }}) {{\n  return <p>{{boats.length}}</p>;\n}}\n\
         @@ App.tsx\nimport {{ List }} from './List';\nfunction boat(boat) {{\n  return boat.name;\n}}\nexport \
         function App() {{\n  return <List {attributes} />;\n}}\n"
    );
    let console = "[page error] TypeError: Cannot read properties of undefined (reading 'length')\n    at List \
        (http://127.0.0.1:8000/List.tsx:2:20)\n";
    told(&project, console)
}

#[test]
fn what_a_component_is_not_handed_is_told_where_it_is_drawn() {
    let at = |kind: &str| (kind.to_owned(), "App.tsx".to_owned(), 6);
    assert_eq!(of_markup("boat={['Heron']}")[0], at("inputs.never-asked"));
    assert_eq!(of_markup("tide={3}")[0], at("inputs.not-handed-over"));
    for attributes in ["boats={['Heron']}", "{...all}"] {
        let all = of_markup(attributes);
        assert!(
            !all.iter().any(|(kind, ..)| kind.starts_with("inputs.n")),
            "{attributes}: {all:?}"
        );
    }
}

#[test]
fn what_was_looked_up_by_nobody_knows_what_is_not_missing_in_data() {
    let project = "@@ tickets.mjs\nexport function priceOf(boat) {\n  return boat.price.adult;\n}\n\
        @@ boats.mjs\nimport { readFile } from 'node:fs/promises';\nimport { priceOf } from './tickets.mjs';\nexport \
        async function find(name) {\n  const all = JSON.parse(await readFile('boats.json', 'utf8')).boats;\n  return \
        priceOf(all.find((boat) => boat.name === name));\n}\n@@ boats.json\n{\n  \"boats\": [\n    { \"name\": \
        \"Heron\", \"price\": { \"adult\": 4 } }\n  ]\n}\n";
    let console = "TypeError: Cannot read properties of undefined (reading 'price')\n    at priceOf \
        (/srv/marsh/tickets.mjs:2:15)\n    at find (/srv/marsh/boats.mjs:5:10)\n";
    let all = told(project, console);
    assert!(!all.iter().any(|(kind, ..)| kind == "inputs.lacks"), "{all:?}");
}
