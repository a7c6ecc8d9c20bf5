//! The impure edge: terminal, keys, clock, editor. It turns what happens into messages and does the
//! effects.
#![expect(clippy::disallowed_methods, reason = "the screen is drawn here")]

use crate::command_error::{CommandError, exit};
mod common;
mod effects;
mod linear;

use crate::keymap;
use crate::model::Model;
use crate::settings;
use crate::turn::{Effect, Msg, title, update};
use common::{BATCH, Left, Place, WAIT, edit, in_past, keys_of, new_model, summary, wanted_editor};
use crossterm::event::{
    self, DisableBracketedPaste, DisableMouseCapture, EnableBracketedPaste, EnableMouseCapture,
    Event, KeyCode, KeyEventKind, KeyModifiers,
};
use crossterm::style::Print;
use crossterm::terminal::{
    Clear, ClearType, EnterAlternateScreen, LeaveAlternateScreen, SetTitle, disable_raw_mode,
    enable_raw_mode,
};
use crossterm::{cursor, execute};
use effects::{Desk, Done};
use izba_watch::pace::{Cause, Pace};
use izba_watch::{Answer, Order, Setup, Watch};
use ratatui::backend::CrosstermBackend;
use ratatui::{Frame, Terminal};
use std::io::{self, Stdout, stdout};
use std::os::fd::AsFd;
use std::path::Path;
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, OnceLock};
use std::time::{Duration, Instant};

/// The least between two pictures that only news ask for: nobody reads faster. What the user does
/// is shown at once.
const PICTURE: Duration = Duration::from_millis(80);
/// How often the terminal is looked at for a hang-up, in milliseconds.
const GUARD_MS: u16 = 200;
/// How long an ordinary end may take before it is forced.
const FORCE: Duration = Duration::from_secs(3);
/// The terminal while it is ours. Dropping it gives it back as it was.
struct Screen {
    terminal: Terminal<CrosstermBackend<Stdout>>,
}

impl Screen {
    fn enter() -> io::Result<Screen> {
        let before = std::panic::take_hook();
        std::panic::set_hook(Box::new(move |info| {
            // Whatever thread it was: first the terminal, then the words. Programs end when their
            // terminal closes.
            give_back();
            before(info);
            std::process::exit(101);
        }));
        take(true)?;
        Ok(Screen { terminal: Terminal::new(CrosstermBackend::new(stdout()))? })
    }

    /// Takes the terminal after somebody else had it, and draws everything again. Nothing is asked
    /// of the terminal: one that does not answer is one too.
    fn take_again(&mut self, mouse: bool) -> io::Result<()> {
        take(mouse)?;
        execute!(stdout(), Clear(ClearType::All))?;
        self.terminal = Terminal::new(CrosstermBackend::new(stdout()))?;
        Ok(())
    }

    /// Gives the terminal back to the shell, until that brings Izba to the front again.
    fn step_aside(&mut self, mouse: bool) -> io::Result<()> {
        use nix::sys::signal::{Signal, kill};
        give_back();
        // The whole group stops, as the terminal's own key would have it.
        kill(nix::unistd::Pid::from_raw(0), Signal::SIGSTOP)?;
        self.take_again(mouse)
    }
}

impl Drop for Screen {
    fn drop(&mut self) {
        give_back();
        let _ = std::panic::take_hook();
    }
}

fn take(mouse: bool) -> io::Result<()> {
    enable_raw_mode()?;
    // The terminal keeps the title it had, to be put back at the end.
    execute!(
        stdout(),
        Print("\x1b[22;0t"),
        EnterAlternateScreen,
        EnableBracketedPaste,
        cursor::Hide
    )?;
    if mouse { execute!(stdout(), EnableMouseCapture) } else { Ok(()) }
}

fn give_back() {
    let _ = execute!(
        stdout(),
        DisableMouseCapture,
        DisableBracketedPaste,
        LeaveAlternateScreen,
        Print("\x1b[23;0t"),
        cursor::Show
    );
    let _ = disable_raw_mode();
}

static LINEAR: OnceLock<()> = OnceLock::new();

/// Says that lines are wanted instead of a screen, whatever the settings say.
pub fn go_linear() {
    let _ = LINEAR.set(());
}

/// Opens the screen on what is to be watched, until the user leaves; gives the exit code of the
/// watched command, and what is left to tell when the screen is gone.
///
/// # Errors
///
/// When a source cannot be opened or the terminal cannot be drawn on; the terminal is as before
/// then.
pub fn open(mut setup: Setup) -> Result<(u8, Vec<String>), CommandError> {
    let root = setup.root.canonicalize().unwrap_or_else(|_| setup.root.clone());
    let (settings, mut wrong) = settings::read(settings::file().as_deref());
    wrong.extend(keymap::change(&settings.keys().collect::<Vec<_>>()).err());
    setup.budget = settings.budget();
    setup.again_on_save |= settings.runs_on_save();
    let is_linear = LINEAR.get().is_some() || settings.get("screen") == "lines";
    let (demo, rest, session) = (setup.demo, !setup.later.is_empty(), setup.session.clone());
    let watch = Watch::start(setup)?;
    let leave = Arc::new(AtomicBool::new(false));
    for signal in
        [signal_hook::consts::SIGTERM, signal_hook::consts::SIGHUP, signal_hook::consts::SIGINT]
    {
        let _ = signal_hook::flag::register(signal, leave.clone());
    }
    let aside = Arc::new(AtomicBool::new(false));
    let _ = signal_hook::flag::register(signal_hook::consts::SIGTSTP, aside.clone());
    let over = Arc::new(AtomicBool::new(false));
    let guard = guard(leave.clone(), over.clone(), watch.ender());
    let place = Place { demo, rest, session, aside, settings, wrong };
    let left = guard.and_then(|()| match is_linear {
        true => {
            let _keys = linear::Keys::take()?;
            linear::run(&watch, &root, &leave, &place)
        }
        false => run(&mut Screen::enter()?, &watch, &root, &leave, &place),
    });
    let code = watch.end();
    over.store(true, Ordering::Release);
    let left =
        left.map_err(|e| CommandError::input(format!("the terminal cannot be drawn on: {e}")))?;
    let summary = match left {
        Left::Izba(summary) => summary,
        Left::ThisRun => Vec::new(),
    };
    Ok((u8::try_from(code).unwrap_or(exit::FOUND), summary))
}

/// Sees to it that Izba and what it started end when the terminal is gone.
///
/// Reading keys from a terminal that has hung up never returns, so the thread that draws cannot be
/// relied on then.
fn guard(
    leave: Arc<AtomicBool>,
    over: Arc<AtomicBool>,
    ender: izba_watch::Ender,
) -> io::Result<()> {
    use nix::poll::{PollFd, PollFlags, PollTimeout, poll};
    std::thread::Builder::new().name("guard".into()).spawn(move || {
        let terminal = stdout();
        let mut asked: Option<Instant> = None;
        while !over.load(Ordering::Acquire) {
            // No event is asked for; a hang-up is told all the same.
            let mut waits = [PollFd::new(terminal.as_fd(), PollFlags::empty())];
            let _ = poll(&mut waits, PollTimeout::from(GUARD_MS));
            let gone = waits[0].revents().is_some_and(|r| {
                r.intersects(PollFlags::POLLHUP | PollFlags::POLLERR | PollFlags::POLLNVAL)
            });
            if gone || leave.load(Ordering::Acquire) {
                leave.store(true, Ordering::Release);
                let since = *asked.get_or_insert_with(Instant::now);
                if since.elapsed() > FORCE && !over.load(Ordering::Acquire) {
                    ender.end(FORCE);
                    give_back();
                    std::process::exit(128 + signal_hook::consts::SIGHUP);
                }
                std::thread::sleep(Duration::from_millis(u64::from(GUARD_MS)));
            } else {
                asked = None;
            }
        }
    })?;
    Ok(())
}

/// Takes the terminal and panics in another thread, so that a test can see that it is given back.
///
/// # Errors
///
/// When the terminal cannot be taken.
pub fn panic_on_screen() -> Result<u8, CommandError> {
    let failed =
        |e: io::Error| CommandError::input(format!("the terminal cannot be drawn on: {e}"));
    let _screen = Screen::enter().map_err(failed)?;
    let thread = std::thread::Builder::new().spawn(|| panic!("this panic is asked for"));
    let _ = thread.map_err(failed)?.join();
    Ok(exit::WELL)
}

fn run(
    screen: &mut Screen,
    watch: &Watch,
    root: &Path,
    leave: &AtomicBool,
    place: &Place,
) -> io::Result<Left> {
    let size = screen.terminal.size()?;
    let mut model = new_model(watch, root, place, (size.width, size.height));
    let mut bell = Bell::default();
    let mut shown_title = String::new();
    // Whether what is shown is old, and whether the user waits to see it.
    let mut stale = Some(Cause::Asked);
    let mut pace = Pace::new(PICTURE);
    loop {
        let due = |cause| cause == Cause::Asked || pace.wait(cause).is_zero();
        if stale.take_if(|cause| due(*cause)).is_some() {
            pace.work(|| {
                let draw = |frame: &mut Frame<'_>| {
                    crate::screen::draw(&model, frame.area(), frame.buffer_mut());
                };
                screen.terminal.draw(draw).map(drop)
            })?;
            let title = title(&model);
            if title != shown_title {
                execute!(stdout(), SetTitle(crate::screen::plain(&title)))?;
                shown_title = title;
            }
        }
        let mut messages = Vec::new();
        if event::poll(WAIT)? {
            while messages.len() < BATCH && event::poll(Duration::ZERO)? {
                let event = event::read()?;
                match asks_aside(&event) {
                    true => place.aside.store(true, Ordering::Release),
                    false => messages.extend(keys_of(&event)),
                }
            }
        }
        if place.aside.swap(false, Ordering::AcqRel) {
            screen.step_aside(model.mouse)?;
            let size = screen.terminal.size()?;
            messages.push(Msg::Resized(size.width, size.height));
        }
        let mut published = false;
        while let Some(answer) = watch.answer(Duration::ZERO) {
            if matches!(answer, Answer::Published) {
                published = true
            } else {
                messages.push(Msg::Answer(answer))
            }
        }
        // What the user did, and what was asked for.
        stale = stale.max((!messages.is_empty()).then_some(Cause::Asked));
        if published {
            let news = watch.published();
            let same = Arc::ptr_eq(&news.snapshot.groups, &model.live.snapshot.groups);
            stale = stale.max(Some(if same { Cause::Counts } else { Cause::Rows }));
            messages.push(Msg::Published(news));
        }
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
                        let drawn = |w: &Watch, p: &Place| run(screen, w, root, leave, p);
                        match in_past(*past, root, place, drawn)? {
                            Ok(left @ Left::Izba(_)) => return Ok(left),
                            Ok(Left::ThisRun) => {}
                            Err(said) => drop(update(&mut model, Msg::Say(said))),
                        }
                        let size = screen.terminal.size()?;
                        let _ = update(&mut model, Msg::Resized(size.width, size.height));
                        let _ = update(&mut model, Msg::Published(watch.published()));
                    }
                    Done::Left(Effect::Mouse(true)) => execute!(stdout(), EnableMouseCapture)?,
                    Done::Left(Effect::Mouse(false)) => execute!(stdout(), DisableMouseCapture)?,
                    Done::Left(Effect::Edit { file, line, column }) => {
                        let said = edit_on_screen(screen, &model, &root.join(file), line, column)?;
                        // A Ctrl+C in the editor was meant for the editor.
                        leave.store(false, Ordering::Release);
                        if let Some(said) = said {
                            let _ = update(&mut model, Msg::Say(said));
                        }
                        let size = screen.terminal.size()?;
                        for effect in update(&mut model, Msg::Resized(size.width, size.height)) {
                            if let Effect::Order(order) = effect {
                                watch.order(order);
                            }
                        }
                    }
                    Done::Left(_) => {}
                }
            }
        }
        if bell.rings(&model) {
            execute!(stdout(), Print('\x07'))?;
        }
        if leave.load(Ordering::Acquire) {
            watch.order(Order::Stop);
            return Ok(Left::Izba(summary(&model)));
        }
    }
}

/// The bell at the first error of a run, for those who want it.
#[derive(Default)]
struct Bell {
    /// The runs for which it rang, by source.
    rung: Vec<u32>,
}

impl Bell {
    fn rings(&mut self, model: &Model) -> bool {
        let snapshot = &model.live.snapshot;
        let runs: Vec<u32> = snapshot.sources.iter().map(|s| s.run).collect();
        let fails = |g: &Arc<izba_core::GroupView>| {
            !g.muted && g.level() >= izba_model::Level::Error && g.state != izba_core::State::Quiet
        };
        let first =
            model.settings.rings() && self.rung != runs && snapshot.groups.iter().any(fails);
        if first {
            self.rung = runs;
        }
        first
    }
}

/// Whether it is the key with which any program of a terminal steps aside.
fn asks_aside(event: &Event) -> bool {
    let Event::Key(key) = event else { return false };
    key.code == KeyCode::Char('z')
        && key.modifiers == KeyModifiers::CONTROL
        && key.kind == KeyEventKind::Press
}

/// Opens the editor and comes back, with the screen given back meanwhile where the editor needs it.
fn edit_on_screen(
    screen: &mut Screen,
    model: &Model,
    file: &Path,
    line: u32,
    column: u32,
) -> io::Result<Option<String>> {
    let windowed = wanted_editor(&model.settings, file, line, column).map(|w| w.windowed);
    if windowed != Ok(false) || !file.is_file() {
        return Ok(edit(&model.settings, file, line, column));
    }
    give_back();
    let said = edit(&model.settings, file, line, column);
    screen.take_again(model.mouse)?;
    Ok(said)
}
