//! `izba page URL`: opens a page in a real browser and watches its console.

use super::aloud::Aloud;
use super::shared::{Outcome, Shared};
use crate::command_error::CommandError;
use izba_sources::{PageAt, Store};
use izba_watch::kinds::Page;

#[derive(clap::Args, Debug)]
#[command(after_help = "Examples:\n  izba page http://localhost:8000/\n  izba page \
        index.html                              a page in a file\n  izba page index.html --seconds 10 --as jsonl     without a screen\n  chromium --remote-debugging-port=9222 & izba page \
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
    #[command(flatten)]
    aloud: Aloud,
}

/// The address of what was named: an address, or a file.
fn address_of(named: &str) -> Result<String, CommandError> {
    if named.contains("://") {
        return Ok(named.to_owned());
    }
    let path = std::path::Path::new(named);
    if let Ok(whole) = path.canonicalize()
        && whole.is_file()
    {
        return Ok(format!("file://{}", whole.display()));
    }
    Err(CommandError::wrong_use(
        format!("“{named}” is no page: no file is called that, and an address has a scheme"),
        "name a file, or begin the address with http:// or https://",
    ))
}

pub fn run(shared: &Shared, args: Args) -> Outcome {
    let url = address_of(&args.url)?;
    let watching = args.aloud.endless("a page")?;
    let session = Store::new_session(shared.store.clone())?;
    let name = url.split_once("://").map_or(url.as_str(), |(_, rest)| rest);
    let name = name.trim_end_matches('/').to_owned();
    let at = PageAt { url, join: args.join, headless: args.headless };
    let setup = shared.setup(session, vec![(name, Box::new(Page(at)))]);
    watching.watch(setup)
}
