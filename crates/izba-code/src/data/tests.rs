//! What is read of data: each form, broken files, and any text.

use super::*;
use proptest::prelude::*;

/// All keys and values: `line role path text record`.
fn told(name: &str, text: &str) -> Vec<String> {
    let language = Language::of(name).expect("data");
    let all = read(language, text).into_iter().map(|d| {
        let role = if d.role == Role::Key { "key" } else { "value" };
        format!("{} {role} {}={} #{}", d.line, d.path, d.text, d.record)
    });
    all.collect()
}

#[test]
fn json_tells_keys_values_ways_and_records() {
    let text = "{\n \"name\": \"heron\",\n \"boats\": [\n  {\"deck\": 2, \"out\": -1.5e3},\n  \
        {\"deck\": true}\n ],\n \"a\": {\"b\": \"x: y\"}\n}\n";
    assert_eq!(
        told("ferry.json", text),
        [
            "2 key =name #1",
            "2 value name=heron #1",
            "3 key =boats #1",
            "4 key boats=deck #2",
            "4 value boats/deck=2 #2",
            "4 key boats=out #2",
            "4 value boats/out=-1.5e3 #2",
            "5 key boats=deck #3",
            "5 value boats/deck=true #3",
            // What follows a list is of the record that holds it.
            "7 key =a #1",
            "7 key a=b #1",
            "7 value a/b=x: y #1",
        ]
    );
}

#[test]
fn broken_json_is_read_as_far_as_it_goes() {
    // A quote that is not closed ends with its line; what follows has its own line.
    assert_eq!(
        told("a.json", "{\"tide\": \"low\n\"gate\": 4"),
        ["1 key =tide #1", "1 value tide=low #1", "2 key =gate #1", "2 value gate=4 #1"]
    );
    assert_eq!(told("a.json", "]}}{\"a\\\"b\": 1"), ["1 key =a\\\"b #1", "1 value a\\\"b=1 #1"]);
    assert_eq!(told("a.json", "\"\\"), ["1 value =\\ #0"]);
}

#[test]
fn in_a_list_a_text_before_a_colon_is_no_key() {
    assert_eq!(told("a.json", "[\"a\": 1]"), ["1 value =a #1", "1 value =1 #1"]);
}

#[test]
fn xml_tells_elements_attributes_and_texts() {
    let text = "<?xml version='1.0'?>\n<!-- <gone/> -->\n<pier name=\"mill\" deep='4'>\n  <lamp \
        lit=yes />\n  oak\n</pier>\n";
    assert_eq!(
        told("pier.xml", text),
        [
            "3 key =pier #1",
            "3 key pier=name #1",
            "3 value pier/name=mill #1",
            "3 key pier=deep #1",
            "3 value pier/deep=4 #1",
            "4 key pier=lamp #2",
            "4 key pier/lamp=lit #2",
            "4 value pier/lamp/lit=yes #2",
            "5 value pier=oak #2",
        ]
    );
}

#[test]
fn scripts_in_pages_are_no_data_and_elements_that_are_never_closed_hold_nothing_up() {
    let page = "<ul><li>bow<li>stern</ul><script>if (a < b) { c = '<i>'; }</script><p id=end>";
    let told = told("index.html", page);
    assert!(told.iter().all(|t| !t.contains("c =") && !t.contains("=i ")), "{told:?}");
    assert_eq!(told.last().map(String::as_str), Some("1 value p/id=end #5"));
}

#[test]
fn settings_tell_sections_keys_and_the_parts_of_lists() {
    let toml = "# lamp\nhours = [6, \"22\"]\n[lamp.oil]\nleft = 0.5\nwick.long = true\n";
    assert_eq!(
        told("a.toml", toml),
        [
            "2 key =hours #0",
            "2 value hours=6 #0",
            "2 value hours=22 #0",
            "3 key =lamp.oil #1",
            "4 key =left #1",
            "4 value left=0.5 #1",
            "5 key =wick.long #1",
            "5 key wick=long #1",
            "5 value wick.long=true #1",
        ]
    );
    let ini = "; lamp\n[lamp]\noil: 4\nbare\n";
    assert_eq!(
        told("a.ini", ini),
        ["2 key =lamp #1", "3 key =oil #1", "3 value oil=4 #1", "4 value =bare #1"]
    );
}

#[test]
fn yaml_tells_its_levels_and_items() {
    let yaml = "boats:\n  - name: heron\n    deck: 2\n  - eel\ntide:\n  low: '0.4'\nend: x\n";
    assert_eq!(
        told("a.yaml", yaml),
        [
            "1 key =boats #0",
            "2 key boats=name #1",
            "2 value boats/name=heron #1",
            "3 key boats=deck #1",
            "3 value boats/deck=2 #1",
            "4 value boats=eel #2",
            "5 key =tide #2",
            "6 key tide=low #2",
            "6 value tide/low=0.4 #2",
            "7 key =end #2",
            "7 value end=x #2",
        ]
    );
}

#[test]
fn tables_have_columns_by_name_or_number_and_running_text_has_none() {
    let csv = "boat,deck\n\"heron\", 2\n# none\n\neel,1\ngull,1\n";
    assert_eq!(
        told("a.csv", csv),
        [
            "1 key =boat #1",
            "1 key =deck #1",
            "2 value boat=heron #2",
            "2 value deck=2 #2",
            "5 value boat=eel #3",
            "5 value deck=1 #3",
            "6 value boat=gull #4",
            "6 value deck=1 #4",
        ]
    );
    // Without numbers the first row is a row like the others.
    assert_eq!(
        told("a.csv", "heron;mill\neel;quay\n")[..2],
        ["1 value 0=heron #1", "1 value 1=mill #1"]
    );
    let orders = "tie bow\nslack stern\n";
    assert_eq!(told("orders.txt", orders)[2..], ["2 value 0=slack #2", "2 value 1=stern #2"]);
    let prose = "The ferry left at four, and nobody was on the pier.\nThe lamp was out.\n";
    assert!(told("read.txt", prose).is_empty());
    let printed = ["at main.js:5", "File \"main.py\", line 5, in row", "Gate.cs(5,3): no gate"];
    for line in printed {
        assert!(told("saved.txt", &format!("{line}\n{orders}")).is_empty(), "{line}");
    }
    let names = "main.js 5\nv1.5: 3\nferry.lua: 2 boats\n";
    assert!(!told("order.txt", names).is_empty());
}

#[test]
fn what_is_too_long_is_no_name_and_what_is_too_deep_has_the_way_of_what_lies_above() {
    assert!(told("a.json", &format!("\"{}\"", "x".repeat(LONGEST + 1))).is_empty());
    let deep = format!("{}\"end\": 1", "{\"a\": ".repeat(DEEPEST + 9));
    let told = told("a.json", &deep);
    let ways = told.iter().map(|t| t.matches("a/").count()).max();
    assert!(ways <= Some(DEEPEST), "{ways:?}");
}

/// Values with all that is in them: keys and texts without what JSON has to escape.
fn value() -> impl Strategy<Value = serde_json::Value> {
    use serde_json::Value;
    let leaf = prop_oneof![
        any::<bool>().prop_map(Value::from),
        any::<i32>().prop_map(Value::from),
        "[a-z]{1,6}( [a-z]{1,4})?".prop_map(Value::from),
    ];
    leaf.prop_recursive(4, 40, 5, |inner| {
        prop_oneof![
            prop::collection::vec(inner.clone(), 0..5).prop_map(Value::from),
            prop::collection::btree_map("[a-z]{1,6}", inner, 0..5)
                .prop_map(|m| Value::Object(m.into_iter().collect())),
        ]
    })
}

/// What is in a value, in its order: role, way and text.
fn inside(value: &serde_json::Value, way: &str, all: &mut Vec<(Role, String, String)>) {
    use serde_json::Value;
    let at = |key: &str| if way.is_empty() { key.to_owned() } else { format!("{way}/{key}") };
    match value {
        Value::Object(entries) => {
            for (key, value) in entries {
                all.push((Role::Key, way.to_owned(), key.clone()));
                inside(value, &at(key), all);
            }
        }
        Value::Array(items) => items.iter().for_each(|item| inside(item, way, all)),
        Value::String(text) => all.push((Role::Value, way.to_owned(), text.clone())),
        other => all.push((Role::Value, way.to_owned(), other.to_string())),
    }
}

proptest! {
    #[test]
    fn all_of_a_sound_file_is_told_in_its_order_however_it_is_set(value in value(), pretty: bool) {
        let text = match pretty {
            true => serde_json::to_string_pretty(&value),
            false => serde_json::to_string(&value),
        }
        .expect("it is JSON");
        let language = Language::of("a.json").expect("data");
        let told = read(language, &text);
        let mut expected = Vec::new();
        inside(&value, "", &mut expected);
        let as_told: Vec<_> =
            told.iter().map(|d| (d.role, d.path.to_string(), d.text.to_string())).collect();
        prop_assert_eq!(as_told, expected);
        for datum in &told {
            let line = text.lines().nth(datum.line as usize - 1).expect("a line of the file");
            prop_assert!(line.contains(datum.text.as_ref()), "{:?} {}", datum, line);
        }
    }

    #[test]
    fn any_text_is_read_and_each_name_stands_on_its_line(
        text in "[<>/a-c=\"'\\[\\]{}:,;#|\\- \n\\\\é]{0,80}",
    ) {
        for name in ["a.json", "a.xml", "a.toml", "a.ini", "a.yaml", "a.csv"] {
            let Some(language) = Language::of(name) else { continue };
            for datum in read(language, &text) {
                // The name of a section stands there without what trims it.
                let line = text.lines().nth(datum.line as usize - 1);
                let first = datum.text.lines().next().unwrap_or_default();
                prop_assert!(
                    line.is_some_and(|l| l.contains(first)),
                    "{} {:?} {:?}", name, datum, line
                );
            }
        }
    }
}
