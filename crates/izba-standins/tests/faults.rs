//! One test for each planted fault, made from the list: it shows in its source, follows its line, goes with its cure, and
//! the same mistake under another name shows as well. The stand-ins run; nothing is played back.

mod consoles;

use consoles::{Laid, console};
use izba_standins::world::{self, Edit, Fault, faults};
use libtest_mimic::{Arguments, Failed, Trial};

fn main() {
    let args = Arguments::from_args();
    let mut trials = vec![
        Trial::test("a_mended_world_has_nothing_to_say", mended_is_quiet),
        Trial::test("the_list_covers_what_it_should", list_is_whole),
        Trial::test("the_page_of_faults_is_the_list", page_is_current),
    ];
    trials.extend(faults().iter().map(|fault| Trial::test(format!("fault_{}", fault.id), move || check(fault))));
    trials.extend(faults().iter().filter_map(|fault| {
        let real = fault.real.as_ref()?;
        let compare = move || consoles::real::compare(fault, real).map_err(Failed::from);
        Some(Trial::test(format!("real_{}_{}", real.runtime, fault.id), compare).with_ignored_flag(!consoles::real::is_here(real)))
    }));
    libtest_mimic::run(&args, trials).exit();
}

fn check(fault: &Fault) -> Result<(), Failed> {
    let world = Laid::planted();
    let said = world.said(&fault.says, fault.told.as_ref())?;
    holds(&console(&world, &fault.source), &said, !fault.silent, "planted")?;
    if let Some(twin) = &fault.twin {
        let said = world.said(&twin.says, twin.told.as_ref())?;
        holds(&console(&world, &twin.source), &said, true, "planted, in the other source")?;
    }
    if let Some(told) = &fault.told {
        // Lines above it: the number follows.
        world.grow(&told.file);
        let moved = world.said(&fault.says, fault.told.as_ref())?;
        if moved == said {
            return Err(format!("the line did not move: {said}").into());
        }
        holds(&console(&world, &fault.source), &moved, !fault.silent, "with lines above it")?;
    }
    let cured = Laid::planted();
    world::apply(&cured.folder, &fault.cure)?;
    let anywhere = consoles::anywhere(&fault.says);
    holds(&console(&cured, &fault.source), &anywhere, fault.silent, "after its cure")?;
    if let Some(twin) = &fault.twin {
        holds(&console(&cured, &twin.source), &consoles::anywhere(&twin.says), false, "after its cure, in the other source")?;
    }
    if let Some(again) = &fault.again {
        let other = Laid::mended();
        holds(&console(&other, &fault.source), &consoles::anywhere(&again.says), fault.silent, "before it is planted elsewhere")?;
        world::apply(&other.folder, &again.plant)?;
        let says = other.said(&again.says, again.told.as_ref())?;
        holds(&console(&other, &fault.source), &says, !fault.silent, "under another name")?;
    }
    Ok(())
}

fn holds(console: &str, says: &str, expected: bool, when: &str) -> Result<(), Failed> {
    if consoles::says(console, says) == expected {
        return Ok(());
    }
    let verb = if expected { "is missing" } else { "was not expected" };
    // A flood hides what is worth reading.
    let mut seen = std::collections::BTreeSet::new();
    let told: Vec<&str> = console.lines().filter(|l| seen.insert(l.split_once('|').map_or(*l, |(_, rest)| rest))).collect();
    let told: Vec<&str> = told.into_iter().filter(|l| !l.contains("| note ") && !l.contains("<14>") && !l.contains("<15>")).take(150).collect();
    Err(format!("{when}: “{says}” {verb} in:\n{}", told.join("\n")).into())
}

fn mended_is_quiet() -> Result<(), Failed> {
    let world = Laid::mended();
    for source in consoles::SOURCES {
        let said = console(&world, source);
        let wrong: Vec<&str> = said.lines().filter(|l| consoles::is_wrong(source, l)).collect();
        if !wrong.is_empty() {
            return Err(format!("{source} still says:\n{}", wrong.join("\n")).into());
        }
    }
    Ok(())
}

fn list_is_whole() -> Result<(), Failed> {
    let list = faults();
    let elsewhere = list.iter().filter(|f| f.is_elsewhere()).count();
    let mut wrong = Vec::new();
    if list.len() < 32 {
        wrong.push(format!("only {} faults", list.len()));
    }
    if elsewhere * 3 < list.len() {
        wrong.push(format!("only {elsewhere} of {} are elsewhere than told", list.len()));
    }
    for need in ["F2", "F3", "F4", "F5", "F6", "F7", "F8", "F9", "F10", "F11", "F12", "F13", "W8", "W9", "R4", "R5"] {
        if !list.iter().any(|f| f.needs.iter().any(|n| n == need)) {
            wrong.push(format!("nothing stands for {need}"));
        }
    }
    let world = Laid::planted();
    for fault in list {
        if fault.guilty.line(&world.folder).is_none() || fault.told.as_ref().is_some_and(|t| t.line(&world.folder).is_none()) {
            wrong.push(format!("{}: its place is not in the project", fault.id));
        }
        let cures: Vec<&Edit> = fault.cure.iter().filter(|e| e.rename.is_none() && e.find.is_empty()).collect();
        if fault.cure.is_empty() || !cures.is_empty() {
            wrong.push(format!("{}: a cure changes what is there", fault.id));
        }
    }
    if wrong.is_empty() { Ok(()) } else { Err(wrong.join("\n").into()) }
}

fn page_is_current() -> Result<(), Failed> {
    let kept = world::files().get("FAULTS.md").copied().unwrap_or_default();
    if kept == world::page() { Ok(()) } else { Err("FAULTS.md is not what the list says: cargo xtask faults".into()) }
}
