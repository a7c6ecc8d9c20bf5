//! Lines instead of a screen: keys come in as they do there, and what changed is written below what
//! was said before.

use super::common::{BATCH, Left, Place, WAIT, edit, in_past, keys_of, new_model, summary};
use super::effects::{Desk, Done};
use crate::linear::Told;
use crate::turn::{Effect, Msg, update};
use crossterm::event;
use crossterm::execute;
use crossterm::style::Print;
use crossterm::terminal::{disable_raw_mode, enable_raw_mode};
use izba_watch::{Answer, Watch};
use std::io::{self, stdout};
use std::path::Path;
use std::sync::atomic::{AtomicBool, Ordering};
use std::time::{Duration, Instant};

/// The terminal while keys come one by one. Dropping it gives it back.
pub(super) struct Keys;

impl Keys {
    pub(super) fn take() -> io::Result<Keys> {
        enable_raw_mode()?;
        Ok(Keys)
    }
}

impl Drop for Keys {
    fn drop(&mut self) {
        let _ = disable_raw_mode();
    }
}

/// News that nobody asked for are told no more often than this: a voice needs its time.
const NEWS: Duration = Duration::from_millis(1_000);

/// So long after a key what comes is an answer to it.
const ANSWERED: Duration = Duration::from_millis(300);

/// Tells what is watched in lines until somebody leaves, with the keys of the screen.
///
/// # Errors
///
/// When the terminal cannot be read or written.
pub(super) fn run(
    watch: &Watch,
    root: &Path,
    leave: &AtomicBool,
    place: &Place,
) -> io::Result<Left> {
    let mut model = new_model(watch, root, place, (100, 40));
    // Nothing is drawn, so that nothing is in the way of whoever reads.
    model.tour = None;
    let mut told = Told::default();
    let mut fresh = Instant::now();
    let mut pressed = Instant::now();
    write(&[
        "Izba, line by line. The keys are those of the screen; ? tells them, q leaves.".into()
    ])?;
    write(&told.tell(&model, true))?;
    loop {
        let mut messages = Vec::new();
        if event::poll(WAIT)? {
            while messages.len() < BATCH && event::poll(Duration::ZERO)? {
                messages.extend(keys_of(&event::read()?));
            }
        }
        if !messages.is_empty() {
            pressed = Instant::now();
        }
        let mut published = false;
        while let Some(answer) = watch.answer(Duration::ZERO) {
            match answer {
                Answer::Published => published = true,
                answer => messages.push(Msg::Answer(answer)),
            }
        }
        if published {
            messages.push(Msg::Published(watch.published()));
        }
        let any = !messages.is_empty();
        for msg in messages {
            for effect in update(&mut model, msg) {
                let desk = Desk { watch, root, session: &place.session };
                match desk.carry_out(effect)? {
                    Done::Said(Some(said)) => drop(update(&mut model, Msg::Say(said))),
                    Done::Said(None) => {}
                    Done::Happened(msg) => drop(update(&mut model, msg)),
                    Done::Left(Effect::Quit) => return Ok(Left::Izba(summary(&model))),
                    Done::Left(Effect::LeavePast) => return Ok(Left::ThisRun),
                    Done::Left(Effect::OpenPast(past)) => {
                        let lines = |w: &Watch, p: &Place| run(w, root, leave, p);
                        match in_past(*past, root, place, lines)? {
                            Ok(left @ Left::Izba(_)) => return Ok(left),
                            Ok(Left::ThisRun) => told = Told::default(),
                            Err(said) => drop(update(&mut model, Msg::Say(said))),
                        }
                    }
                    Done::Left(Effect::Edit { file, line, column }) => {
                        let _ = disable_raw_mode();
                        let said = edit(&model.settings, &root.join(file), line, column);
                        enable_raw_mode()?;
                        leave.store(false, Ordering::Release);
                        if let Some(said) = said {
                            let _ = update(&mut model, Msg::Say(said));
                        }
                    }
                    // There is no mouse to take.
                    Done::Left(_) => {}
                }
            }
        }
        // What a key asks for may come a little later than the key.
        let asked = pressed.elapsed() < ANSWERED;
        if any && (asked || fresh.elapsed() >= NEWS) {
            fresh = Instant::now();
            write(&told.tell(&model, asked))?;
        }
        if leave.load(Ordering::Acquire) {
            watch.order(izba_watch::Order::Stop);
            return Ok(Left::Izba(summary(&model)));
        }
    }
}

fn write(lines: &[String]) -> io::Result<()> {
    for line in lines {
        // Keys come raw, so a line begins where it is told to.
        execute!(stdout(), Print(format!("{}\r\n", crate::screen::plain(line))))?;
    }
    Ok(())
}
