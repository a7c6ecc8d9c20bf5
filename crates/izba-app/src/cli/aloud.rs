//! A watched project without a screen: what its programs print is passed on, and what Izba found is
//! printed in the end.

use super::say::{pass_on, print, say};
use crate::settings;
use izba_core::RunMark;
use izba_watch::{Answer, Heard, Order, Setup, Watch};
use std::time::Duration;

/// A project without a screen: nobody looks on, and what programs print goes to where ours goes.
pub fn setup(setup: Setup) -> Setup {
    let (settings, wrong) = settings::read(settings::file().as_deref());
    wrong.into_iter().for_each(trouble);
    Setup {
        ahead: false,
        heard: Heard::by(pass_on),
        budget: settings.budget(),
        again_on_save: setup.again_on_save || settings.runs_on_save(),
        ..setup
    }
}

/// Says what went wrong with Izba itself.
pub fn trouble(sentence: String) {
    say(&sentence);
}

/// Says how the first program ended and what Izba found, and ends everything; the exit code of the
/// program.
pub fn end(watch: Watch, name: &str) -> i32 {
    let how = match watch.published().snapshot.sources.first().map(|s| s.mark.clone()) {
        Some(RunMark::Ended { how, .. }) => how,
        _ => "ended".into(),
    };
    watch.order(Order::Sum);
    let found = loop {
        match watch.answer(Duration::from_secs(60)) {
            Some(Answer::Sum(found)) => break found,
            Some(Answer::Trouble(sentence)) => trouble(sentence),
            Some(_) => {}
            None => break String::new(),
        }
    };
    // Before it is told, since what is told last is read first.
    let code = watch.end_telling(trouble);
    print(&format!("\n◎ {name} {how}.\n{found}"));
    code
}
