//! One test for each planted fault, made from the list: it shows in its source, follows its line,
//! goes with its cure, and the same mistake under another name shows as well. The stand-ins run;
//! nothing is played back.

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
        Trial::test("the_log_of_the_loader_rotates", log_rotates),
        Trial::test("the_bundled_page_has_the_same_faults_behind_its_map", bundled_is_the_same),
        Trial::test("nine_tenths_of_the_phone_are_other_apps", phone_is_noisy),
    ];
    trials.extend(
        faults()
            .iter()
            .map(|fault| Trial::test(format!("fault_{}", fault.id), move || check(fault))),
    );
    trials.extend(faults().iter().filter_map(|fault| {
        let real = fault.real.as_ref()?;
        let compare = move || consoles::real::compare(fault, real).map_err(Failed::from);
        Some(
            Trial::test(format!("real_{}_{}", real.runtime, fault.id), compare)
                .with_ignored_flag(!consoles::real::is_here(real)),
        )
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
        holds(
            &console(&cured, &twin.source),
            &consoles::anywhere(&twin.says),
            false,
            "after its cure, in the other source",
        )?;
    }
    if let Some(again) = &fault.again {
        let other = Laid::mended();
        holds(
            &console(&other, &fault.source),
            &consoles::anywhere(&again.says),
            fault.silent,
            "before it is planted elsewhere",
        )?;
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
    let told: Vec<&str> = console
        .lines()
        .filter(|l| seen.insert(l.split_once('|').map_or(*l, |(_, rest)| rest)))
        .collect();
    let told: Vec<&str> = told
        .into_iter()
        .filter(|l| !l.contains("| note ") && !l.contains("<14>") && !l.contains("<15>"))
        .take(150)
        .collect();
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
    for need in [
        "F2", "F3", "F4", "F5", "F6", "F7", "F8", "F9", "F10", "F11", "F12", "F13", "W8", "W9",
        "R4", "R5",
    ] {
        if !list.iter().any(|f| f.needs.iter().any(|n| n == need)) {
            wrong.push(format!("nothing stands for {need}"));
        }
    }
    let world = Laid::planted();
    for fault in list {
        if fault.guilty.line(&world.folder).is_none()
            || fault.told.as_ref().is_some_and(|t| t.line(&world.folder).is_none())
        {
            wrong.push(format!("{}: its place is not in the project", fault.id));
        }
        let cures: Vec<&Edit> =
            fault.cure.iter().filter(|e| e.rename.is_none() && e.find.is_empty()).collect();
        if fault.cure.is_empty() || !cures.is_empty() {
            wrong.push(format!("{}: a cure changes what is there", fault.id));
        }
    }
    if wrong.is_empty() { Ok(()) } else { Err(wrong.join("\n").into()) }
}

fn page_is_current() -> Result<(), Failed> {
    let kept = world::files().get("FAULTS.md").copied().unwrap_or_default();
    if kept == world::page() {
        Ok(())
    } else {
        Err("FAULTS.md is not what the list says: cargo xtask faults".into())
    }
}

fn log_rotates() -> Result<(), Failed> {
    let world = Laid::planted();
    let log = "addon/logs/loader.log";
    consoles::stand_in(
        &world,
        &["addon", "--hurried", "--seconds", "4000", "--log", log, "--rotate", "20000"],
    );
    let read = |name: &str| {
        std::fs::read_to_string(world.folder.join(name)).map_err(|e| format!("{name}: {e}"))
    };
    let (now, before) = (read(log)?, read("addon/logs/loader.log.1")?);
    if before.len() < 20_000
        || before.len() > 24_000
        || now.len() > 24_000
        || !now.ends_with("the game has ended\n")
    {
        return Err(format!(
            "{} bytes were put aside, {} stand in the log",
            before.len(),
            now.len()
        )
        .into());
    }
    Ok(())
}

fn bundled_is_the_same() -> Result<(), Failed> {
    let world = Laid::planted();
    let bracket = faults().iter().find(|f| f.id == "fares-bracket").ok_or("it is planted")?;
    world::apply(&world.folder, &bracket.cure)?;
    let said = consoles::stand_in(&world, &["page", "--hurried", "--seconds", "1", "--bundled"]);
    let place = said
        .split("TypeError: not a function")
        .nth(1)
        .and_then(|rest| rest.split("/dist/page.min.js:").nth(1))
        .ok_or(said.clone())?;
    let mut numbers = place.split([':', ')']).filter_map(|n| n.parse::<u32>().ok());
    let (line, column) = (numbers.next().ok_or("no line")?, numbers.next().ok_or("no column")?);
    let map =
        std::fs::read(world.folder.join("web/dist/page.min.js.map")).map_err(|e| e.to_string())?;
    let map = sourcemap::SourceMap::from_slice(&map).map_err(|e| e.to_string())?;
    let token = map.lookup_token(line - 1, column - 1).ok_or("the map leads nowhere")?;
    let written =
        (token.get_source().unwrap_or_default().to_owned(), token.get_src_line() as usize + 1);
    let spot = world::Spot { file: "web/js/board.js".into(), find: "departures.foreach".into() };
    let wanted = ("../js/board.js".to_owned(), spot.line(&world.folder).ok_or("it is planted")?);
    if written == wanted {
        Ok(())
    } else {
        Err(format!("{written:?} instead of {wanted:?} in\n{said}").into())
    }
}

fn phone_is_noisy() -> Result<(), Failed> {
    let log = console(&Laid::planted(), "phone");
    let ours: Vec<&str> = log.lines().filter(|l| l.contains(" reedphone ferry-tickets ")).collect();
    let processes: std::collections::BTreeSet<&str> =
        ours.iter().filter_map(|l| l.split(' ').nth(4)).collect();
    let share = ours.len() as f64 / log.lines().count() as f64;
    if (0.05..0.15).contains(&share) && processes.len() >= 5 {
        Ok(())
    } else {
        Err(format!("{share:.2} of it is ours, by {processes:?}").into())
    }
}
