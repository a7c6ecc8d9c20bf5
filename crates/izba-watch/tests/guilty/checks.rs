//! What the checks find without running, and what they must leave alone: code that works.

use super::files;
use izba_cause::checks;
use izba_model::{Project, ProjectFile};
use std::sync::Arc;

/// The places that one check tells of in files that stand behind lines `@@ path`.
fn told(check: &str, text: &str) -> Vec<String> {
    let own = files(text)
        .into_iter()
        .map(|(path, text)| ProjectFile { path: path.into(), text: Some(text.into()) })
        .collect();
    let project = Arc::new(Project::new("/srv/marsh", own));
    let index = izba_code::all_repaired(
        &izba_code::index(project.files().iter().map(|f| (&f.path, f.text.as_ref()))),
        &izba_code::mend::by_grammar,
    );
    checks::all(&index)
        .remarks
        .iter()
        .filter(|r| r.check() == check)
        .map(|r| format!("{}:{}", r.file, r.line))
        .collect()
}

/// What is told of files, and of them after an edit.
fn before_and_after(check: &str, text: &str, edit: (&str, &str)) -> (Vec<String>, Vec<String>) {
    assert_eq!(text.matches(edit.0).count(), 1, "{edit:?}");
    (told(check, text), told(check, &text.replace(edit.0, edit.1)))
}

const NONE: &[String] = &[];

#[test]
fn a_ring_is_told_only_where_something_is_asked_for_before_it_is_there() {
    let python = "@@ main.py\nimport pier\n@@ pier.py\nfrom rope import tie\nLENGTH = 4\ndef \
        moor():\n    tie()\n@@ rope.py\nfrom pier import LENGTH\ndef tie():\n    return LENGTH\n";
    let later =
        ("from pier import LENGTH\ndef tie():\n", "def tie():\n    from pier import LENGTH\n");
    let (before, after) = before_and_after("rings", python, later);
    assert_eq!((before.len(), after.as_slice()), (1, NONE));
    // As a module it is only asked when the function runs.
    let whole = python
        .replace("from pier import LENGTH", "import pier")
        .replace("return LENGTH", "return pier.LENGTH");
    assert_eq!(told("rings", &whole), NONE);
    let types = python.replace(
        "from pier import LENGTH\n",
        "from typing import TYPE_CHECKING\nif TYPE_CHECKING:\n    from pier import LENGTH\n",
    );
    assert_eq!(told("rings", &types), NONE);
    // Started by itself it brings in what it shows; and a name of the language's own is not the
    // script of that name in the same package.
    let guarded = python.replace(
        "from pier import LENGTH\n",
        "if __name__ == '__main__':\n    from pier import LENGTH\n",
    );
    let package = "@@ moor/__init__.py\n@@ moor/rope.py\nfrom logging import INFO\ndef tie(): pass\n@@ \
        moor/logging.py\nfrom moor.rope import tie\nINFO = 1\n";
    assert_eq!(
        (told("rings", &guarded).as_slice(), told("rings", package).as_slice()),
        (NONE, NONE)
    );
}

#[test]
fn where_no_parser_can_be_asked_only_one_sign_is_told() {
    let one = "@@ Pier.cs\nclass Pier {\n    int Planks() {\n        return (4 + 2;\n    }\n}\n";
    assert_eq!(told("parses", one), ["Pier.cs:3"]);
    let strange = "@@ Pier.cs\nclass Pier {\n    weave int Planks() => over { 4 } under 2 ~> 3;\n    \
        int Rope() {\n        return ) 4;\n    }\n}\n";
    assert_eq!(told("parses", strange), NONE);
}

#[test]
fn entities_that_are_declared_elsewhere_are_well() {
    let own =
        "@@ pier.xml\n<!DOCTYPE pier [<!ENTITY rope SYSTEM \"rope.xml\">]>\n<pier>&rope;</pier>\n";
    let other = "@@ pier.xml\n<!DOCTYPE pier SYSTEM \"pier.dtd\">\n<pier>&rope;</pier>\n";
    let none = "@@ pier.xml\n<pier>&rope;</pier>\n";
    assert_eq!((told("parses", own).as_slice(), told("parses", other).as_slice()), (NONE, NONE));
    assert_eq!(told("parses", none), ["pier.xml:1"]);
}

#[test]
fn a_ring_of_scripts_that_hand_out_their_functions_works() {
    let whole = "@@ main.js\nrequire('./pier');\n@@ pier.js\nconst rope = require('./rope');\n\
        module.exports = { moor: () => rope.tie() };\n@@ rope.js\nconst pier = \
        require('./pier');\nmodule.exports = { tie: () => pier.moor };\n";
    let parts = whole
        .replace("module.exports = { moor: () => rope.tie() }", "exports.moor = () => rope.tie()");
    assert_eq!((told("rings", whole).len(), told("rings", &parts).as_slice()), (1, NONE));
    let lua = "@@ pier.lua\nlocal rope = require(\"rope\")\nreturn { moor = rope }\n@@ rope.lua\nlocal \
        pier = require(\"pier\")\nreturn { tie = pier }\n";
    let edit = ("local pier = require(\"pier\")\n", "local pier = nil\n");
    let (before, after) = before_and_after("rings", lua, edit);
    assert_eq!((before.len(), after.as_slice()), (1, NONE));
}

#[test]
fn a_name_is_told_only_of_what_the_project_makes_itself() {
    let own = "@@ pier.py\nclass Pier:\n    def __init__(self):\n        self.planks = 4\n        \
        self.rest = self.planks\n    def repair(self):\n        return self.plans + 1\n\
        pier = Pier()\npier.repair()\nprint(pier.rest)\n";
    assert_eq!(told("names", own), ["pier.py:6"]);
    let based = own.replace("class Pier:", "class Pier(elsewhere.Bridge):");
    let of_others = own.replace("self.plans", "survey().plans");
    assert_eq!(
        (told("names", &based).as_slice(), told("names", &of_others).as_slice()),
        (NONE, NONE)
    );
}

#[test]
fn a_block_that_ends_further_out_than_its_statement_is_told() {
    let slanted = "@@ row.js\nfunction row(seats) {\n    for (const seat of seats) {\n        if \
        (seat.free) {\n            take(seat);\n    }\n        count(seat);\n        }\n}\n";
    assert_eq!(told("blocks", slanted), ["row.js:5"]);
    let set_under = "@@ jetty.js\nvar jetty = {\n        left: 1,\n    },\n    rope = {\n        \
        long: 2,\n    };\n";
    let long_head = "@@ Moor.java\nclass Moor {\n    public void tie(Ship ship)\n            throws \
        Slack {\n        ship.tie();\n    }\n}\n";
    let tabs = "@@ tabs.js\nfunction a() {\n\tif (b) {\n        c();\n    }\n}\n";
    for well in [set_under, long_head, tabs] {
        assert_eq!(told("blocks", well), NONE, "{well}");
    }
}

#[test]
fn a_handler_is_told_only_where_all_its_siblings_are_put_in() {
    let bells = "@@ bells.lua\nlocal Bells = {}\nfunction Bells.onRing() end\nfunction \
        Bells.onStop() end\nfunction Bells.onBreak() end\nfunction Bells.start(bell)\n    \
        bell.ring = Bells.onRing\n    bell.stop = Bells.onStop\nend\nreturn Bells\n";
    let edit = (
        "    bell.ring = Bells.onRing\n",
        "    bell.ring = Bells.onRing\n    bell.split = Bells.onBreak\n",
    );
    let (before, after) = before_and_after("handlers", bells, edit);
    assert_eq!((before, after.as_slice()), (vec!["bells.lua:4".to_owned()], NONE));
    let marked = "@@ BellTest.java\nclass BellTest {\n    @Test\n    void ringsOnce() {}\n    @Test\n    \
        void ringsTwice() {}\n}\n@@ GongTest.java\nclass GongTest {\n    @Test\n    void \
        ringOnce() {}\n}\n";
    assert_eq!(told("handlers", marked), NONE);
}

#[test]
fn data_that_no_code_reads_wires_nothing() {
    let read = "@@ stops.json\n{\"on\": {\"a\": \"arrive\", \"b\": \"depart\", \"c\": \"waite\"}}\n@@ \
        stops.py\nimport json\nHOW = json.load(open('stops.json'))\ndef arrive(): pass\ndef \
        depart(): pass\ndef wait(): pass\n";
    let page = "@@ about.html\n<p><code>arrive</code> <code>git</code> <code>boat</code> <code>plank\
        </code></p>\n@@ stops.py\ndef arrive(): pass\ndef get(): pass\n";
    assert_eq!(told("wiring", page), NONE);
    let flat = read.replace(
        "{\"a\": \"arrive\", \"b\": \"depart\", \"c\": \"waite\"}",
        "[\"arrive\", \"depart\", \"waite\"]",
    );
    assert_eq!(told("wiring", &flat), ["stops.json:1"]);
    assert_eq!(told("wiring", &flat.replace("waite", "wait")), NONE);
}

#[test]
fn a_file_is_missed_only_where_files_of_its_kind_lie() {
    let named = "@@ boat.py\nICON = 'pictures/mast.json'\n@@ pictures/sail.json\n{}\n";
    assert_eq!(told("resources", named), ["boat.py:1"]);
    let bare = named.replace("pictures/mast.json", "mast.json");
    let elsewhere = named.replace("pictures/mast.json", "/usr/share/mast.json");
    assert_eq!(
        (told("resources", &bare).as_slice(), told("resources", &elsewhere).as_slice()),
        (NONE, NONE)
    );
}

#[test]
fn a_key_that_no_code_asks_for_is_told_beside_keys_that_are_asked_for() {
    let lamp = "@@ lamp.json\n{\n\"wick\": 3,\n\"flame\": 2,\n\"smokee\": 4\n}\n@@ lamp.py\ndef \
        light(lamp):\n    return lamp['wick'] + lamp['flame'] + lamp['smoke']\n";
    let (before, after) = before_and_after("wiring", lamp, ("smokee", "smoke"));
    assert_eq!((before, after.as_slice()), (vec!["lamp.json:4".to_owned()], NONE));
    // Where another key beside it is not asked for either, or only one stands there, none has to be.
    let unasked = lamp.replace(" + lamp['flame']", "");
    let few = lamp.replace("\"flame\": 2,\n", "");
    assert_eq!(
        (told("wiring", &unasked).as_slice(), told("wiring", &few).as_slice()),
        (NONE, NONE)
    );
    // Code that names the file asks for all of it.
    let read = unasked.replace("@@ lamp.py\n", "@@ lamp.py\nLAMP = open('lamp.json')\n");
    assert_eq!(told("wiring", &read), ["lamp.json:4"]);
}

#[test]
fn a_print_is_told_that_was_put_in_to_see_something() {
    let seen = "@@ lamp.py\nclass Lamp:\n    def burn(self):\n        print('here')\n        \
        self.oil -= 1\n        print('oil', self.oil)\n        self.glow()\n";
    assert_eq!(told("prints", seen), ["lamp.py:3", "lamp.py:5"]);
    // A table for people, words that say something, a name beside another value.
    let table = seen.replace("        self.glow()\n", "        print('wick', self.wick)\n");
    let words = seen.replace("'here'", "'the lamp is lit'").replace("'oil', ", "'oil left', ");
    let other = seen.replace("'here'", "''").replace("self.oil)", "self.wick)");
    assert_eq!(told("prints", &table), ["lamp.py:3"]);
    assert_eq!(told("prints", &words), NONE);
    assert_eq!(told("prints", &other), NONE);
}

#[test]
fn what_something_opaque_stands_before_is_told_as_hidden() {
    let scene = "@@ scene.json\n{\"layers\": [\"far\", \"near\"],\n\"pictures\": {\"fog\": {\"opaque\": \
        true, \"size\": [40, 20]}, \"gull\": {\"opaque\": true, \"size\": [4, 4]}},\n\"things\": [\n\
        {\"kind\": \"Gull\", \"picture\": \"gull\", \"layer\": \"far\", \"at\": [110, 50]},\n\
        {\"kind\": \"Fog\", \"picture\": \"fog\", \"layer\": \"near\", \"at\": [100, 50]}\n]}\n";
    assert_eq!(told("hidden", scene), ["scene.json:5"]);
    // Beside it (half a width and half a height away, and no farther), on the same layer, before
    // it, and behind glass.
    let at = |x: u32, y: u32| scene.replace("[110, 50]", &format!("[{x}, {y}]"));
    assert_eq!(told("hidden", &at(120, 60)), ["scene.json:5"], "the edge is covered");
    for seen in [
        at(121, 50),
        at(100, 61),
        at(79, 50),
        scene.replace("\"layer\": \"far\"", "\"layer\": \"near\""),
        scene.replace("[\"far\", \"near\"]", "[\"near\", \"far\"]"),
        scene.replace("\"fog\": {\"opaque\": true", "\"fog\": {\"opaque\": false"),
    ] {
        assert_eq!(told("hidden", &seen), NONE, "{seen}");
    }
}

#[test]
fn a_field_is_missed_only_in_what_the_project_makes_from_end_to_end() {
    let made = |first: &str| {
        format!(
            "@@ moor.js\nclass Moor {{\n  constructor() {{\n    this.berth = {first};\n  }}\n  free() \
             {{\n    return this.berth.lenght + this.berth.depth;\n  }}\n  all() {{\n    return \
             this.berth.length;\n  }}\n}}\nmodule.exports = {{ Moor }};\n"
        )
    };
    // A table with its fields written out is known; one with entries, and what comes from
    // elsewhere, may hold anything.
    let own = told("names", &made("{ length: 4, depth: 2 }"));
    assert_eq!(own, ["moor.js:6"]);
    assert_eq!(told("names", &made("{ ...measured, depth: 2 }")), NONE);
    assert_eq!(told("names", &made("measure()")), NONE);
}

#[test]
fn classes_that_no_style_knows_and_events_that_nothing_fires_are_told_where_one_waits_for_them() {
    let page = "@@ index.html\n<link rel=\"stylesheet\" href=\"pier.css\">\n<p class=\"hint\"></p>\n\
        @@ pier.css\n.hint { margin: 0 }\n.moored { color: teal }\n\
        @@ pier.js\nfunction moor(item) {\n  item.classList.add('morred');\n  item.className = 'hint wide';\n}\n\
        item.addEventListener('clik', moor);\nitem.addEventListener('keydown', moor);\n\
        tides.on('flod', moor);\ntides.on('ebb', moor);\ntides.emit('flood', 3);\n";
    assert_eq!(told("styles", page), ["pier.js:2"]);
    assert_eq!(told("events", page), ["pier.js:5", "pier.js:7"]);
    let well = page.replace("morred", "moored").replace("clik", "click").replace("flod", "flood");
    // A name of its own, though near one: that one is used, or it stands there again.
    let own = page
        .replace("<p class=\"hint\">", "<p class=\"hint moored\">")
        .replace("clik", "tide-turned")
        .replace("tides.on('ebb', moor)", "tides.off('flod', moor)");
    for seen in [well, own] {
        assert_eq!(told("styles", &seen), NONE, "{seen}");
        assert_eq!(told("events", &seen), NONE, "{seen}");
    }
}

#[test]
fn a_page_and_its_scripts_are_held_against_each_other() {
    let page = "@@ index.html\n<!doctype html>\n<p id=\"total\"></p>\n<button onclick=\"adFare()\">Add</button>\n\
        <script src=\"bord.js\"></script>\n<script>\n  function addFare() {\n    \
        document.getElementById(\"totla\").append(3);\n  }\n</script>\n@@ board.js\nfunction show() {}\n";
    assert_eq!(told("pages", page), ["index.html:3", "index.html:4", "index.html:7"]);
    let well = page
        .replace("adFare()", "addFare()")
        .replace("bord.js", "board.js")
        .replace("totla", "total");
    assert_eq!(told("pages", &well), Vec::<String>::new());
    // What is a word elsewhere too is spelt right: the page has the slip.
    let word = "@@ index.html\n<p id=\"totla\"></p>\n<script src=\"main.js\"></script>\n@@ main.js\n\
        function total() { return total.all; }\ntotal.all = total();\n\
        document.getElementById(\"total\").append(total());\n";
    let both = [told("wiring", word), told("pages", word)].concat();
    assert_eq!(both, ["index.html:1"], "told once, by whoever is first");
}

#[test]
fn what_a_page_gets_from_elsewhere_or_makes_itself_is_left_alone() {
    let made = "@@ index.html\n<p id=\"total\"></p>\n<script src=\"main.js\"></script>\n<script \
        src=\"built/app.js\"></script>\n<script src=\"https://ferry.example/lib.js\"></script>\n@@ main.js\n\
        document.body.innerHTML += '<p id=\"totals\"></p>';\ndocument.getElementById(\"totals\").append(1);\n\
        ad(1);\n@@ lib/ads.js\nfunction ads() {}\n";
    assert_eq!(told("pages", made), Vec::<String>::new());
    // A module of one's own makes its names for itself.
    let module = "@@ index.html\n<script type=\"module\" src=\"main.js\"></script>\n@@ main.js\n\
        function load() {}\nwindow.lead = () => load;\nlead();\n";
    assert_eq!(told("pages", module), Vec::<String>::new());
}

#[test]
fn a_layout_names_functions_fields_and_types_that_its_code_has() {
    let phone = "@@ src/SeatScreen.kt\nclass SeatScreen {\n    fun onBoard() {}\n    fun onPay() {}\n}\n@@ \
        layout/seat.xml\n<Column xmlns:a=\"urn:a\" a:context=\".SeatScreen\">\n  <Button \
        a:onClick=\"onBoard\" />\n  <Button a:id=\"pay\"\n    a:onClick=\"onPai\" />\n</Column>\n";
    let (before, after) = before_and_after("layouts", phone, ("onPai", "onPay"));
    assert_eq!(
        (before.as_slice(), after.as_slice()),
        (&["layout/seat.xml:4".to_owned()][..], NONE)
    );
    // Gone and not misspelt: told where other names of the layout lead to this code.
    let gone = phone.replace("onPai", "showHistory");
    assert_eq!(told("layouts", &gone), ["layout/seat.xml:4"]);
    // Its type is misspelt.
    let (before, after) = before_and_after(
        "layouts",
        &gone.replace("showHistory", "onPay"),
        (".SeatScreen", ".SeatScren"),
    );
    assert_eq!(
        (before.as_slice(), after.as_slice()),
        (NONE, &["layout/seat.xml:1".to_owned()][..])
    );
    // What is bound by an expression, and a layout of others, is left alone.
    assert_eq!(told("layouts", &phone.replace("\"onPai\"", "\"@{() -> model.pay()}\"")), NONE);
    let others =
        "@@ main.py\ndef row(): pass\n@@ lib/form.xml\n<form><button call=\"sail\" /></form>\n";
    assert_eq!(told("layouts", others), NONE);
}

#[test]
fn connections_of_a_layout_lead_to_code_that_is_read_only_roughly() {
    let phone = "@@ SeatScreen.swift\nclass SeatScreen: Screen {\n    @IBOutlet var titleLabel: \
        Label!\n    @IBAction func pay(_ sender: Any) {\n    }\n}\n@@ Seat.storyboard\n<document>\n \
        <scene>\n  <viewController id=\"a\" customClass=\"SeatScreen\">\n   <view>\n    <button \
        id=\"b\">\n     <connections>\n      <action selector=\"pay:\" destination=\"a\"/>\n     \
        </connections>\n    </button>\n   </view>\n   <connections>\n    <outlet \
        property=\"titleLabel\" destination=\"c\"/>\n   </connections>\n  </viewController>\n \
        </scene>\n</document>\n";
    for (edit, line) in [
        (("selector=\"pay:\"", "selector=\"history:\""), "Seat.storyboard:7"),
        (("property=\"titleLabel\"", "property=\"titleLable\""), "Seat.storyboard:12"),
        (("property=\"titleLabel\"", "property=\"price\""), "Seat.storyboard:12"),
        (("func pay(", "func payAll("), "Seat.storyboard:7"),
    ] {
        let (before, after) = before_and_after("layouts", phone, edit);
        assert_eq!(
            (before.as_slice(), after.as_slice()),
            (NONE, &[line.to_owned()][..]),
            "{edit:?}"
        );
    }
    // Its code is in a language that nobody reads here; and what an element brings by itself.
    let unread = phone.replace("class SeatScreen", "class Other").replace("func pay(", "func go(");
    assert_eq!(told("layouts", &unread), NONE);
    let brings = phone.replace(
        "<view>",
        "<view>\n    <list><connections><outlet property=\"rows\" destination=\"a\"/></connections>\
         </list>",
    );
    assert_eq!(told("layouts", &brings), NONE);
}
