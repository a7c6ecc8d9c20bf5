//! What must not matter: files of another program beside it, comments, other names, other
//! formatting; and what is well in a program that has one mistake.

use super::{files, found};

const PROGRAM: &str = "@@ main.lua\nlocal Rig = require(\"rig\")\nlocal rig = setmetatable({}, Rig)\nfor _, \
    step in ipairs(require(\"plan\")) do\n  local work = rig[step.verb]\n  print(work(rig, step))\nend\n\
    @@ rig.lua\nlocal Rig = {}\nRig.__index = Rig\nfunction Rig:haul(step) return step.turns end\n\
    function Rig:slack(step) return step.turns * 2 end\nreturn Rig\n@@ plan.lua\nreturn {\n  { verb = \
    \"haul\", turns = 2 },\n  { verb = \"reef\", turns = 1 },\n}\n";
const CONSOLE: &str = "2\nlua5.4: main.lua:5: attempt to call a nil value (local 'work')\nstack \
    traceback:\n\tmain.lua:5: in main chunk\n\t[C]: in ?\n";

fn first(files: &[(String, String)], console: &str) -> (String, u32) {
    let found = found(files, console).expect("an error is read");
    let suspect = found.suspects.first().expect("somebody is suspected");
    (suspect.file.to_string(), suspect.line)
}

#[test]
fn other_programs_comments_and_names_change_no_first_suspect() {
    let own = files(PROGRAM);
    let told = first(&own, CONSOLE);
    assert_eq!(told, ("plan.lua".to_owned(), 3));
    // Another program beside it, in another language and with words of its own.
    let mut beside = own.clone();
    beside.push((
        "other/app.py".into(),
        "class Rig:\n    def haul(self):\n        return 1\n".into(),
    ));
    beside.push(("other/words.json".into(), "[\"reef\", \"haul\", \"slack\"]\n".into()));
    assert_eq!(first(&beside, CONSOLE), told);
    // Comments at the ends of lines.
    let commented: Vec<(String, String)> = own
        .iter()
        .map(|(path, text)| {
            let lines: Vec<String> = text.lines().map(|l| format!("{l} -- as it was")).collect();
            (path.clone(), lines.join("\n"))
        })
        .collect();
    assert_eq!(first(&commented, CONSOLE), told);
    // All names anew.
    let renamed = |text: &str| {
        [
            ("haul", "zarp"),
            ("slack", "quib"),
            ("reef", "moxt"),
            ("verb", "deed"),
            ("turns", "loops"),
            ("work", "job"),
        ]
        .iter()
        .fold(text.to_owned(), |text, (from, to)| text.replace(from, to))
    };
    let anew: Vec<(String, String)> = own.iter().map(|(p, t)| (p.clone(), renamed(t))).collect();
    assert_eq!(first(&anew, &renamed(CONSOLE)), told);
}

#[test]
fn what_is_well_beside_a_mistake_is_not_accused() {
    // Each of these lines looks like a slip of a kind that is known, and is none.
    let well = "@@ well.js\nclass Base { constructor() { this.a = 1; } }\nclass Derived extends Base { \
        constructor() { super(); this.b = 2; } }\nfunction log(text) { console.log(text); }\nconst on = { log };\n\
        for (var i = 0; i < 3; i++) { log(i); }\nconst sum = [1, 2].reduce((a, b) => a + b);\nasync function read() { \
        return 1; }\nconst later = read();\nlater.then(log);\nconst row = Math.min(1, 2);\nconst seat = Math.min(3, \
        4);\nmodule.exports = { Base, Derived, on, sum, row, seat };\n@@ main.js\nconst { Derived } = \
        require('./well');\nconst it = new Derived();\nconsole.log(it.c.d);\n";
    let console = "/srv/marsh/main.js:3\nconsole.log(it.c.d);\n                 ^\n\nTypeError: Cannot read \
        properties of undefined (reading 'd')\n    at Object.<anonymous> (/srv/marsh/main.js:3:18)\n";
    let found = found(&files(well), console).expect("an error is read");
    let accused: Vec<String> = found
        .suspects
        .iter()
        .filter(|s| {
            let check = s.claim.check();
            matches!(check, "idioms" | "siblings" | "told")
                || check == "never" && s.file.as_ref() != "well.js"
        })
        .map(|s| format!("{}:{} {}", s.file, s.line, s.reason()))
        .collect();
    assert!(accused.is_empty(), "{accused:#?}");
}
