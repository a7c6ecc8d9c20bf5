//! `izba page URL`: opens a page in a real browser and watches its console.

use super::say::has_screen;
use super::shared::{Outcome, Shared};
use crate::command_error::CommandError;
use izba_sources::{PageAt, Store};
use izba_watch::Setup;
use izba_watch::kinds::Page;

#[derive(clap::Args, Debug)]
#[command(after_help = "Examples:\n  izba page http://localhost:8000/\n  izba page \
        file:///home/me/game/index.html\n  chromium --remote-debugging-port=9222 & izba page \
        http://localhost:8000/ --join 127.0.0.1:9222\n\nNeeds Chromium and its driver (Debian \
        packages chromium and chromium-driver).")]
pub struct Args {
    /// The address of the page
    url: String,
    /// Join a browser that runs already and waits for debuggers at this address
    #[arg(long, value_name = "ADDR")]
    join: Option<std::net::SocketAddr>,
    /// Without a window, even where there is a display
    #[arg(long)]
    headless: bool,
}

pub fn run(shared: &Shared, args: Args) -> Outcome {
    if !has_screen() {
        return Err(CommandError::wrong_use(
            "page needs a terminal to draw on",
            "start it in a terminal",
        ));
    }
    if !args.url.contains("://") {
        return Err(CommandError::wrong_use(
            format!("“{}” is no address of a page", args.url),
            "begin it with http://, https:// or file://",
        ));
    }
    let session = Store::new_session(shared.store.clone())?;
    let name = args
        .url
        .split_once("://")
        .map_or(args.url.as_str(), |(_, rest)| rest)
        .trim_end_matches('/')
        .to_owned();
    let at = PageAt { url: args.url, join: args.join, headless: args.headless };
    super::on_screen::on_screen(Setup::new(
        shared.root(),
        session,
        vec![(name, Box::new(Page(at)))],
    ))
}
