//! Projects that are made of nothing but the like: nothing among it is called odd, a real slip in it
//! is still found, and what would take too long is given up and says so.

use super::{files, found};
use izba_cause::suspect::Findings;

fn findings(files: &[(&str, &str)], console: &str) -> Findings {
    let own = |(path, text): &(&str, &str)| ((*path).to_owned(), (*text).to_owned());
    let files: Vec<(String, String)> = files.iter().map(own).collect();
    found(&files, console).expect("an error")
}

const ABSENT: &str = "lua: m.lua:2: attempt to index a nil value (local 't')\nstack \
                      traceback:\n\tm.lua:2: in main chunk\n\t[C]: in ?\n";

#[test]
fn a_family_of_numbered_records_accuses_none_of_them() {
    let records: Vec<String> = (0..600)
        .map(|n| format!("{{\"id\":\"item_{n}\",\"kind\":\"bell\",\"price\":3}}"))
        .collect();
    let items = format!("[\n{}\n]\n", records.join(",\n"));
    let script = "local t = nil\nprint(t.x)\n";
    let all = findings(&[("m.lua", script), ("items.json", &items)], ABSENT);
    let of_data: Vec<_> = all.suspects.iter().filter(|s| &*s.file == "items.json").collect();
    assert!(of_data.is_empty(), "{of_data:?}");
}

#[test]
fn among_many_records_the_misspelt_one_is_found() {
    let mut records: Vec<String> =
        (0..600).map(|n| format!("{{\"id\":\"item_{n}\",\"bell\":\"ring_{}\"}}", n % 3)).collect();
    records[411] = "{\"id\":\"item_411\",\"bell\":\"rnig_1\"}".to_owned();
    let items = format!("[\n{}\n]\n", records.join(",\n"));
    let script = "local items = load('items.json')\nlocal rings = { ring_0 = 'ding', ring_1 = \
                  'dong', ring_2 = 'dang' }\nfor _, item in ipairs(items) do\n  \
                  print(#rings[item.bell])\nend\n";
    let said = "lua: m.lua:4: attempt to get length of a nil value (field '?')\nstack \
                traceback:\n\tm.lua:4: in main chunk\n\t[C]: in ?\n";
    let all = findings(&[("m.lua", script), ("items.json", &items)], said);
    let mut of_data = all.suspects.iter().filter(|s| &*s.file == "items.json").map(|s| s.line);
    assert_eq!(of_data.next(), Some(413), "{:?}", all.suspects);
    // Those of whom there are many are right.
    assert_eq!(of_data.next(), None, "{:?}", all.suspects);
}

#[test]
fn a_search_that_would_take_too_long_says_so_and_claims_nothing() {
    let branches: String =
        (0..6000).map(|n| format!("    if x == {n}:\n        x = g(x, {n})\n")).collect();
    let script =
        format!("def g(x, y):\n    return x\n\n\ndef f(x):\n{branches}    return x.y\n\n\nf(1)\n");
    let lines = script.lines().count();
    let said = format!(
        "Traceback (most recent call last):\n  File \"main.py\", line {lines}, in <module>\n    \
         f(1)\n  File \"main.py\", line {}, in f\n    return x.y\n           ^^^\nAttributeError: 'int' \
         object has no attribute 'y'\n",
        lines - 3
    );
    let all = findings(&[("main.py", &script)], &said);
    let told = all.reasons.iter().any(|r| r.claim.check() == "given-up");
    assert!(told, "{:?}", all.reasons);
    // A short program of the same form is looked through.
    let short = files(
        "@@ main.py\ndef g(x, y):\n    return x\n\n\ndef f(x):\n    if x == 1:\n        \
                       x = g(x, 1)\n    return x.y\n\n\nf(1)\n",
    );
    let said = "Traceback (most recent call last):\n  File \"main.py\", line 11, in <module>\n    \
                f(1)\n  File \"main.py\", line 8, in f\n    return x.y\n           \
                ^^^\nAttributeError: 'int' object has no attribute 'y'\n";
    let all = found(&short, said).expect("an error");
    assert!(all.reasons.iter().all(|r| r.claim.check() != "given-up"), "{:?}", all.reasons);
}
