//! What a page fetches or is handed, followed to where it is written: names with holes, what is spread
//! out, entries gone through, browsers' own calls.

use super::{Case, files, found, hold};

/// A page that reads its levels by number.
const LEVELS: &str = "@@ level.js\nimport { Buoy } from './buoy.js';\n\nexport async function level(n) {\n  \
    const told = await (await fetch(`levels/${n}.json`)).json();\n  const buoys = told.buoys.map((b) => \
    new Buoy(b.at, b.size));\n  return { depth: told.depth, buoys };\n}\n\
    @@ buoy.js\nexport class Buoy {\n  constructor(at, size) {\n    this.place = at;\n    this.size = size;\n  \
    }\n\n  far() {\n    return this.place.x > 100;\n  }\n}\n\
    @@ main.js\nimport { level } from './level.js';\n\nconst first = await level(1);\nfor (const buoy of \
    first.buoys) console.log(buoy.far());\nconsole.log(first.depth.toFixed(1));\n\
    @@ levels/1.json\n{\n  \"depth\": 4,\n  \"buoys\": [\n    { \"at\": { \"x\": 120 }, \"size\": 3 },\n    { \
    \"spot\": { \"x\": 60 }, \"size\": 5 }\n  ]\n}\n";

#[test]
fn a_file_that_is_named_with_a_hole_is_read_as_the_program_reads_it() {
    let text = LEVELS.replace("\"depth\": 4", "\"depth\": \"four\"").replace("\"spot\"", "\"at\"");
    hold(&[
        Case {
            kind: "inputs.lacks",
            files: LEVELS,
            console: "true\nTypeError: Cannot read properties of undefined (reading 'x')\n    at Buoy.far \
                (buoy.js:8:23)\n    at main.js:4:55\n",
            at: "levels/1.json:5",
            edit: ("\"spot\"", "\"at\""),
        },
        Case {
            kind: "inputs.text-for-number",
            files: Box::leak(text.into_boxed_str()),
            console: "true\nfalse\nTypeError: first.depth.toFixed is not a function\n    at main.js:5:25\n",
            at: "levels/1.json:2",
            edit: ("\"four\"", "4"),
        },
        Case {
            kind: "inputs.lacks",
            files: "@@ main.py\nimport json\n\n\ndef crossing(night):\n    with open(f\"nights/{night}.json\") as \
                told:\n        return json.load(told)\n\n\nfor stop in crossing(\"first\"):\n    \
                print(stop[\"name\"], stop[\"wait\"] * 60)\n\
                @@ nights/first.json\n[\n  { \"name\": \"mill\", \"wait\": 2 },\n  { \"name\": \"quay\" },\n  { \
                \"name\": \"lock\", \"wait\": 1 }\n]\n",
            console: "mill 120\nTraceback (most recent call last):\n  File \"main.py\", line 10, in <module>\n    \
                print(stop[\"name\"], stop[\"wait\"] * 60)\n                        ~~~~^^^^^^^^\nKeyError: 'wait'\n",
            at: "nights/first.json:3",
            edit: ("\"quay\" }", "\"quay\", \"wait\": 1 }"),
        },
    ]);
}

#[test]
fn names_that_are_handed_over_meet_those_that_are_looked_up() {
    hold(&[
        // One word of the name stands nowhere else.
        Case {
            kind: "inputs.never-asked",
            files: "@@ keys.js\nconst WAYS = {\n  rowLeft: { x: -1 },\n  rowRihgt: { x: 1 },\n};\nconst ROUND = \
                ['rowLeft', 'rowRight'];\nconst down = new Set();\n\nfunction right() {\n  return 1;\n}\n\n\
                export function way(ticks) {\n  const pressed = [...down].filter((key) => key in WAYS);\n  const \
                names = pressed.length > 0 ? pressed : [ROUND[ticks % ROUND.length]];\n  let x = right() - 1;\n  \
                for (const name of names) {\n    x += WAYS[name].x;\n  }\n  return x;\n}\n\
                @@ main.js\nimport { way } from './keys.js';\n\nconsole.log(way(0), way(1));\n",
            console: "TypeError: Cannot read properties of undefined (reading 'x')\n    at way (keys.js:17:21)\n    \
                at main.js:3:21\n",
            at: "keys.js:3",
            edit: ("rowRihgt", "rowRight"),
        },
        // Only one name is put in, and another one is called.
        Case {
            kind: "inputs.never-asked",
            files: "@@ ferry.js\nexport class Ferry {\n  constructor() {\n    this.hearers = {};\n  }\n\n  on(event, \
                hearer) {\n    this.hearers[event] = hearer;\n  }\n\n  land() {\n    this.hearers.landed(3);\n  \
                }\n}\n@@ main.js\nimport { Ferry } from './ferry.js';\n\nconst ferry = new Ferry();\n\
                ferry.on('arrived', (count) => console.log(count));\nferry.land();\n",
            console: "TypeError: this.hearers.landed is not a function\n    at Ferry.land (ferry.js:11:18)\n    at \
                main.js:5:7\n",
            at: "main.js:4",
            edit: ("'arrived'", "'landed'"),
        },
        Case {
            kind: "inputs.gives-nothing",
            files: "@@ panel.js\nexport class Panel {\n  constructor() {\n    this.fields = { hull: { text: '' }, \
                oil: { text: '' } };\n  }\n\n  show(numbers) {\n    for (const [name, value] of \
                Object.entries(numbers)) {\n      this.fields[name].text = String(value);\n    }\n  }\n}\n\
                @@ main.js\nimport { Panel } from './panel.js';\n\nconst panel = new Panel();\nconst oil = \
                4;\npanel.show({ hull: 3, oil });\npanel.show({ lamps: 2, oil });\nconsole.log(panel.fields.oil, \
                panel.fields.hull);\n",
            console: "TypeError: Cannot set properties of undefined (setting 'text')\n    at Panel.show \
                (panel.js:8:30)\n    at main.js:6:7\n",
            at: "main.js:6",
            edit: ("lamps: 2", "hull: 2"),
        },
    ]);
}

#[test]
fn what_browsers_bring_along_tells_which_argument_does_not_fit() {
    hold(&[Case {
        kind: "inputs.never-asked",
        files: "@@ fog.js\nconst FOG = [\n  { at: 0, colour: 'grey' },\n  { at: 1, color: 'white' },\n];\n\nexport \
            function fog(pen) {\n  const fade = pen.createLinearGradient(0, 0, 9, 0);\n  for (const stop of FOG) \
            {\n    fade.addColorStop(stop.at, stop.colour);\n  }\n  pen.fillStyle = fade;\n}\n\
            @@ main.js\nimport { fog } from './fog.js';\n\nfog(document.querySelector('canvas').getContext('2d'));\n",
        console: "SyntaxError: Failed to execute 'addColorStop' on 'CanvasGradient': The value provided \
            ('undefined') could not be parsed as a color.\n    at fog (fog.js:9:10)\n    at main.js:3:1\n",
        at: "fog.js:3",
        edit: ("color:", "colour:"),
    }]);
}

#[test]
fn a_canvas_is_no_surface() {
    const PAGE: &str = "@@ index.html\n<canvas id=\"marsh\"></canvas>\n<p id=\"hint\"></p>\n<script \
        src=\"main.js\"></script>\n";
    let passed = format!(
        "{PAGE}@@ main.js\nfunction draw(pen) {{\n  pen.fillRect(0, 0, 9, 9);\n}}\nconst canvasBox = \
        document.getElementById('marsh');\ncanvasBox.width = 90;\ndraw(canvasBox);\n"
    );
    let kept = format!(
        "{PAGE}@@ main.js\nfunction draw(pen) {{\n  pen.fillRect(0, 0, 9, 9);\n}}\nconst brush = \
        document.getElementById('marsh');\ndraw(brush);\n"
    );
    let console = |last: u32| {
        format!(
            "TypeError: pen.fillRect is not a function\n    at draw (main.js:2:7)\n    at main.js:{last}:1\n"
        )
    };
    hold(&[
        Case {
            kind: "canvas.element-passed",
            files: Box::leak(passed.clone().into_boxed_str()),
            console: Box::leak(console(6).into_boxed_str()),
            at: "main.js:6",
            edit: ("draw(canvasBox)", "draw(canvasBox.getContext('2d'))"),
        },
        Case {
            kind: "canvas.element-kept",
            files: Box::leak(kept.into_boxed_str()),
            console: Box::leak(console(5).into_boxed_str()),
            at: "main.js:4",
            edit: ("('marsh')", "('marsh').getContext('2d')"),
        },
    ]);
    // Another element has no surface to give.
    let other = files(&passed.replace("'marsh'", "'hint'"));
    let seen = found(&other, &console(6)).expect("an error is read");
    let kinds = seen.suspects.iter().map(|s| format!("{:?}", s.claim.says.kind));
    assert!(kinds.into_iter().all(|k| !k.starts_with("canvas")));
}

/// Of what is spread out nothing is claimed that is not so.
#[test]
fn what_is_spread_out_holds_what_its_parts_hold() {
    let told = |files_of: &str, console: &str| {
        let seen = found(&files(files_of), console).expect("an error is read");
        let likely = seen.suspects.iter().filter(|s| !s.is_reported() && s.confidence >= 0.6);
        likely.map(|s| format!("{}:{} {:?}", s.file, s.line, s.claim.says.kind)).collect::<Vec<_>>()
    };
    // What the inner one has is there, so that it is not missing from the outer one.
    let program = "@@ main.js\nconst base = { sail: { size: 4 } };\nconst boat = { ...base, name: 'Wren' };\n\
        function show(part) {\n  return boat[part].size;\n}\nconsole.log(show('sail'), show('name').toFixed(1), \
        show('mast'));\n";
    let console = "TypeError: Cannot read properties of undefined (reading 'size')\n    at show (main.js:4:21)\n    \
        at main.js:6:60\n";
    let seen = told(program, console);
    assert!(seen.iter().all(|s| !s.contains("'sail'") && s.starts_with("main.js:6")), "{seen:?}");
    // A set that is spread into a list is no key.
    let program = "@@ main.js\nconst held = new Set();\nconst WAYS = { up: { y: 1 } };\nheld.add(prompt('way'));\n\
        for (const name of [...held]) {\n  console.log(WAYS[name].y);\n}\n";
    let console =
        "TypeError: Cannot read properties of undefined (reading 'y')\n    at main.js:5:26\n";
    assert_eq!(told(program, console), Vec::<String>::new());
}

/// A page of plain scripts, which know each other's names, with a store that is filled later.
const GALLEY: &str = "@@ index.html\n<form id=\"order\"><input name=\"dish\"></form>\n<script \
    src=\"store.js\"></script>\n<script src=\"galley.js\"></script>\n\
    @@ store.js\nconst Store = {\n  dishes: [],\n  evening: null,\n\n  async load() {\n    const [dishes, evening] \
    = await Promise.all([\n      fetch('dishes.json').then((r) => r.json()),\n      \
    fetch('evening.json').then((r) => r.json()),\n    ]);\n    this.dishes = dishes;\n    this.evening = \
    evening;\n  },\n\n  dish(id) {\n    return this.dishes.find((d) => d.id === id);\n  },\n};\n\
    @@ galley.js\nfunction spices(dish) {\n  return dish.spices.map((s) => s.trim());\n}\n\nasync function begin() \
    {\n  await Store.load();\n  for (const guest of Store.evening.guests) {\n    \
    console.log(spices(Store.dish(guest.dish)));\n  }\n  console.log(Store.evening.opens.split(':'));\n}\n\nbegin();\n\
    @@ dishes.json\n[\n  { \"id\": \"chowder\", \"spices\": [\"salt\", \"dill\"] },\n  { \"id\": \"rye\", \"spices\": \
    [\"seed\"] }\n]\n\
    @@ evening.json\n{\n  \"guests\": [\n    { \"name\": \"Ada Reed\", \"dish\": \"chowder\" },\n    { \"name\": \
    \"Tom Sedge\", \"dish\": \"rye\" }\n  ],\n  \"opens\": \"19:30\"\n}\n";

fn changed(from: &str, to: &str) -> &'static str {
    assert!(GALLEY.contains(from), "{from}");
    Box::leak(GALLEY.replace(from, to).into_boxed_str())
}

#[test]
fn a_store_that_is_filled_later_is_followed_into_its_files() {
    let spices = "TypeError: Cannot read properties of undefined (reading 'spices')\n    at spices \
        (galley.js:2:15)\n    at begin (galley.js:8:17)\n";
    hold(&[
        Case {
            kind: "inputs.not-among",
            files: changed("\"dish\": \"rye\"", "\"dish\": \"Rye\""),
            console: spices,
            at: "evening.json:4",
            edit: ("\"Rye\"", "\"rye\""),
        },
        Case {
            kind: "inputs.text-for-list",
            files: changed("[\"seed\"]", "\"seed\""),
            console: "TypeError: dish.spices.map is not a function\n    at spices (galley.js:2:22)\n    at \
                begin (galley.js:8:17)\n",
            at: "dishes.json:3",
            edit: ("\"spices\": \"seed\"", "\"spices\": [\"seed\"]"),
        },
        Case {
            kind: "inputs.number-for-text",
            files: changed("\"19:30\"", "19"),
            console: "TypeError: Store.evening.opens.split is not a function\n    at begin (galley.js:10:35)\n",
            at: "evening.json:6",
            edit: ("\"opens\": 19", "\"opens\": \"19\""),
        },
        Case {
            kind: "inputs.lacks",
            files: changed(", \"spices\": [\"seed\"]", ""),
            console: "TypeError: Cannot read properties of undefined (reading 'map')\n    at spices \
                (galley.js:2:22)\n    at begin (galley.js:8:17)\n",
            at: "dishes.json:3",
            edit: ("\"id\": \"rye\"", "\"id\": \"rye\", \"spices\": []"),
        },
        // What is begun and not waited for fills it too late; that it begins empty is meant so.
        Case {
            kind: "idioms.not-awaited",
            files: changed("await Store.load()", "Store.load()"),
            console: "TypeError: Cannot read properties of null (reading 'guests')\n    at begin \
                (galley.js:7:38)\n    at galley.js:13:1\n",
            at: "galley.js:6",
            edit: ("  Store.load()", "  await Store.load()"),
        },
    ]);
}

#[test]
fn a_field_of_a_form_is_one_that_it_has() {
    hold(&[Case {
        kind: "page.no-element",
        files: changed(
            "begin();\n@@",
            "const form = document.getElementById('order');\nform.elements.plates.value = 2;\n@@",
        ),
        console: "TypeError: Cannot set properties of undefined (setting 'value')\n    at galley.js:14:28\n",
        at: "galley.js:14",
        edit: ("elements.plates", "elements.dish"),
    }]);
}

#[test]
fn an_object_written_out_loses_its_functions_as_a_type_does() {
    const CLOCK: &str = "@@ clock.js\nconst clock = {\n  hands: [],\n  begin() {\n    setInterval(this.tick, 9);\n  \
        },\n  tick() {\n    for (const hand of this.hands) console.log(hand);\n  },\n};\nclock.begin();\n";
    hold(&[Case {
        kind: "unbound.handed-over",
        files: CLOCK,
        console: "TypeError: this.hands is not iterable\n    at tick (clock.js:7:29)\n",
        at: "clock.js:4",
        edit: ("this.tick, 9", "() => this.tick(), 9"),
    }]);
}

#[test]
fn an_argument_that_is_left_out_in_front_is_no_exchange() {
    hold(&[Case {
        kind: "swapped.left-out",
        files: "@@ bill.js\nfunction add(guest, dish, plates) {\n  return guest + dish.price.full * plates;\n}\n\n\
            function order(guest, dish, plates) {\n  return add(dish, plates);\n}\nconsole.log(order('Ada', { price: \
            { full: 2 } }, 3));\n",
        console: "TypeError: Cannot read properties of undefined (reading 'full')\n    at add (bill.js:2:29)\n    \
            at order (bill.js:6:10)\n    at bill.js:8:13\n",
        at: "bill.js:6",
        edit: ("add(dish", "add(guest, dish"),
    }]);
    // What is left out at the end is often meant so.
    let trailing = "@@ bill.js\nfunction add(dish, plates, guest) {\n  return dish.price.full * plates;\n}\n\
        const dish = {};\nconst plates = 2;\nconsole.log(add(dish, plates));\n";
    let console = "TypeError: Cannot read properties of undefined (reading 'full')\n    at add (bill.js:2:21)\n    \
        at bill.js:6:13\n";
    let seen = found(&files(trailing), console).expect("an error is read");
    let kinds: Vec<String> =
        seen.suspects.iter().map(|s| format!("{:?}", s.claim.says.kind)).collect();
    assert!(!kinds.iter().any(|k| k == "swapped.left-out"), "{kinds:?}");
}
