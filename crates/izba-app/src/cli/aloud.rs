//! A watched project without a screen: what its programs print is passed on, and what Izba found is
//! printed in the end.

use super::form::Form;
use super::say::{has_screen, pass_on, print, print_as, say};
use super::shared::Outcome;
use crate::command_error::{CommandError, exit};
use crate::settings;
use izba_core::RunMark;
use izba_model::text::counted;
use izba_watch::{Answer, Found, Heard, Order, Setup, Watch, is_over};
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};
use std::time::{Duration, Instant};

/// How a command watches when it shall not draw.
#[derive(clap::Args, Debug, Clone, Copy, Default)]
pub struct Aloud {
    /// Watch for so many seconds without a screen, then tell what was found
    #[arg(long, value_name = "N")]
    seconds: Option<u64>,
    /// How to write what was found, without a screen
    #[arg(long = "as", value_name = "FORM")]
    form: Option<Form>,
}

/// Whether somebody looks on, or what is found is printed.
pub enum Watching {
    /// On the screen.
    OnScreen,
    /// Without one.
    Aloud(Aloud),
}

impl Watching {
    /// Watches so; the exit code.
    ///
    /// # Errors
    ///
    /// When no source can be opened.
    pub fn watch(self, setup: Setup) -> Outcome {
        match self {
            Watching::OnScreen => super::on_screen::on_screen(setup),
            Watching::Aloud(aloud) => watch(setup, aloud),
        }
    }
}

impl Aloud {
    /// Whether anything of it was said.
    pub fn is_asked(self) -> bool {
        self.seconds.is_some() || self.form.is_some()
    }

    /// As [`Aloud::or_screen`], of what does not end by itself.
    ///
    /// # Errors
    ///
    /// Wrong use, where there is no screen and nobody said how long.
    pub fn endless(self, what: &str) -> Result<Watching, CommandError> {
        match self.or_screen() {
            Watching::Aloud(Aloud { seconds: None, .. }) => Err(CommandError::wrong_use(
                format!("without a screen {what} never ends"),
                "say how long, as with --seconds 20, or start it in a terminal",
            )),
            watching => Ok(watching),
        }
    }

    /// How to watch: on the screen where there is one, unless the user wants to be told.
    pub fn or_screen(self) -> Watching {
        if has_screen() && !self.is_asked() { Watching::OnScreen } else { Watching::Aloud(self) }
    }
}

/// How long what was printed is read when the time is over.
const REST: Duration = Duration::from_secs(5);

/// Watches until all has ended, the time is over or a signal asks for the end; then tells what was
/// found. The exit code is that of the program if it ended by itself, else whether an error was
/// found.
fn watch(setup: Setup, aloud: Aloud) -> Outcome {
    let json = aloud.form.is_some_and(Form::is_json);
    let one = setup.sources.len() + setup.wanted.len() == 1;
    let mut prepared = self::setup(setup);
    if json {
        prepared.heard = Heard::default();
    }
    let watch = Watch::start(prepared)?;
    watch.published().troubles.iter().cloned().for_each(trouble);
    // The signal is passed on to the programs, whose end then ends us.
    let asked = Arc::new(AtomicBool::new(false));
    for signal in
        [signal_hook::consts::SIGINT, signal_hook::consts::SIGTERM, signal_hook::consts::SIGHUP]
    {
        let _ = signal_hook::flag::register(signal, asked.clone());
    }
    let begun = Instant::now();
    let most = aloud.seconds.map(Duration::from_secs);
    let mut leaving = false;
    loop {
        let published = watch.published();
        if !published.snapshot.sources.is_empty() && is_over(&published) {
            break;
        }
        if leaving && !published.running {
            break;
        }
        if let Some(most) = most.filter(|most| begun.elapsed() >= *most)
            && (published.backlog == 0 || begun.elapsed() >= most + REST)
        {
            break;
        }
        if let Some(Answer::Trouble(sentence)) = watch.answer(Duration::from_millis(50)) {
            trouble(sentence);
        }
        if asked.swap(false, Ordering::AcqRel) {
            leaving = true;
            watch.order(Order::Stop);
        }
    }
    let ended = is_over(&watch.published());
    let (code, found) = end(watch, json, begun.elapsed());
    Ok(match u8::try_from(code) {
        Ok(code) if one && ended => code,
        Err(_) if one && ended => exit::FOUND,
        _ if found.failed => exit::FOUND,
        _ => exit::WELL,
    })
}

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

/// Says how each source ended and what Izba found, and ends everything; the exit code of the
/// program, and what was found.
pub fn end(watch: Watch, json: bool, took: Duration) -> (i32, Found) {
    let mut told = String::new();
    for source in &watch.published().snapshot.sources {
        let how = match &source.mark {
            RunMark::Ended { how, .. } => how.clone(),
            _ => format!("was watched for {}", counted(took.as_secs(), "second", "seconds")),
        };
        told += &format!("◎ {} {how}.\n", source.name);
    }
    watch.order(Order::Sum { json });
    let found = loop {
        match watch.answer(Duration::from_secs(60)) {
            Some(Answer::Sum(found)) => break found,
            Some(Answer::Trouble(sentence)) => trouble(sentence),
            Some(_) => {}
            None => break Found::default(),
        }
    };
    // Before it is told, since what is told last is read first.
    let code = watch.end_telling(trouble);
    match json {
        true => print_as(json, &found.text),
        false => print(&format!("\n{told}{}", found.text)),
    }
    (code, found)
}
