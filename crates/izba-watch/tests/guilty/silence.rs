//! Nothing happens, and nothing is told: which step of the list is likely for what, and which is
//! ruled out by what.

use super::files;
use izba_cause::silence::look;
use izba_model::claim::Verdict;

/// The steps for a name in a program, but the last two, which only a run can tell: verdict, kind and
/// where it was seen.
fn steps(name: &str, text: &str) -> Vec<String> {
    let own: Vec<_> =
        files(text).into_iter().map(|(path, text)| (path.into(), text.into())).collect();
    let index = izba_code::all_repaired(
        &izba_code::index(own.iter().map(|(path, text)| (path, Some(text)))),
        &izba_code::mend::by_grammar,
    );
    let mut steps: Vec<String> = look(name, &index)
        .into_iter()
        .map(|step| {
            let verdict = match step.verdict {
                Verdict::Likely => "likely",
                Verdict::CantTell => "open",
                Verdict::RuledOut => "out",
            };
            let kind = format!("{:?}", step.claim.says.kind);
            let kind = kind.trim_start_matches("silence.").to_owned();
            let seen: Vec<String> =
                step.claim.evidence.iter().map(|e| format!("{}:{}", e.file, e.line)).collect();
            format!("{verdict} {kind} {}", seen.join(" ")).trim_end().to_owned()
        })
        .collect();
    if steps.len() > 1 {
        let open = steps.split_off(steps.len() - 2);
        assert_eq!(open, ["open invisible", "open condition"]);
    }
    steps
}

const PIER: &str = "@@ main.lua\nlocal pier = require(\"pier\")\npier.start(4)\n@@ pier.lua\nlocal \
    Pier = {}\nfunction Pier.onRing(times)\n  return times + 1\nend\nfunction Pier.start(times)\n  \
    Pier.ring = Pier.onRing\nend\nreturn Pier\n";

#[test]
fn what_is_called_and_loaded_and_parses_is_ruled_out() {
    assert_eq!(
        steps("onRing", PIER),
        [
            "out unread-out pier.lua:0",
            "out never-loaded main.lua:1",
            "out nothing-calls pier.lua:6",
            "out misspelt-in",
        ]
    );
    // A script goes by the name of its file, with or without folder and ending.
    assert_eq!(steps("pier", PIER), steps("scripts/pier.lua", PIER));
    assert_eq!(steps("pier", PIER)[..2], steps("onRing", PIER)[..2]);
}

#[test]
fn what_is_not_there_is_told_with_what_is_near_it() {
    assert_eq!(steps("onRingg", PIER), ["likely not-there pier.lua:2"]);
    assert_eq!(steps("peir", PIER), ["likely not-there main.lua:1 pier.lua:1"]);
    assert_eq!(steps("lantern", PIER), ["likely not-there"]);
}

#[test]
fn a_script_that_cannot_be_read_or_that_nothing_names_is_told() {
    let broken = PIER.replace("return times + 1\nend", "return (times + 1\nend");
    assert_eq!(steps("onRing", &broken)[0], "likely unread pier.lua:3");
    let alone = PIER.replace("local pier = require(\"pier\")\npier.start(4)", "print(4)");
    assert_eq!(steps("onRing", &alone)[1], "open never-named");
    // Data that names the file loads it too; the file itself does not.
    let by_data = format!("{alone}@@ rooms.json\n{{\n\"script\": \"scripts/pier.lua\"\n}}\n");
    assert_eq!(steps("onRing", &by_data)[1], "out never-loaded rooms.json:2");
    let itself = alone.replace("return Pier", "print(\"pier\")\nreturn Pier");
    assert_eq!(steps("onRing", &itself)[1], "open never-named");
}

#[test]
fn a_handler_that_nothing_asks_for_is_told_or_the_name_that_is_asked_for_instead() {
    let of = |text: &str| steps("onRing", text).get(2).cloned();
    let otherwise = PIER.replace("Pier.ring = Pier.onRing", "Pier.ring = Pier.onRnig");
    assert_eq!(of(&otherwise).as_deref(), Some("likely called-otherwise pier.lua:6"));
    let nothing = PIER.replace("  Pier.ring = Pier.onRing\n", "");
    assert_eq!(of(&nothing).as_deref(), Some("likely nothing-calls-or-hands pier.lua:2"));
    // What is only printed asks for nothing.
    let printed = PIER.replace("Pier.ring = Pier.onRing", "print(\"onRnig\")");
    assert_eq!(of(&printed).as_deref(), Some("likely nothing-calls-or-hands pier.lua:2"));
}

#[test]
fn a_name_that_leads_nowhere_in_its_script_is_told() {
    let python = "@@ main.py\nfrom pier import Pier\nPier().ring()\n@@ pier.py\nclass Pier:\n    def \
        __init__(self):\n        self.planks = 4\n        self.rest = self.planks\n    def \
        ring(self):\n        return self.plans + self.rest\n";
    let told = |text: &str| steps("ring", text).last().cloned();
    assert_eq!(told(python).as_deref(), Some("likely leads-nowhere pier.py:6"));
    assert_eq!(told(&python.replace("plans", "planks")).as_deref(), Some("out misspelt-in"));
}

#[test]
fn what_is_switched_off_in_code_or_data_is_told_and_what_is_on_is_not() {
    let off = PIER.replace("return Pier\n", "Pier.visible = false\nreturn Pier\n");
    assert_eq!(steps("pier", &off).last().unwrap(), "likely switched-off pier.lua:8");
    let calm = PIER.replace("return Pier\n", "Pier.calm = false\nreturn Pier\n");
    let on = PIER.replace("return Pier\n", "Pier.visible = true\nreturn Pier\n");
    for well in [calm, on] {
        assert_eq!(steps("pier", &well).last().unwrap(), "out misspelt-in");
    }
    let placed = format!(
        "{PIER}@@ rooms.json\n[\n{{\"name\": \"pier\", \"shown\": true}},\n{{\"name\": \"lamp\", \
        \"shown\": false}}\n]\n"
    );
    assert_eq!(steps("pier", &placed).last().unwrap(), "out misspelt-in");
    let hidden = placed.replace("\"shown\": true", "\"shown\": false");
    assert_eq!(steps("Pier", &hidden).last().unwrap(), "likely switched-off rooms.json:2");
}
