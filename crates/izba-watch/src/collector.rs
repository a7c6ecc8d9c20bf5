//! A collector that is told what becomes of mistakes, where the user named one (`--tell`, or `[tell]`
//! in `izba.toml`); and, on the other side, what the Izbas of others told a listener of ours.

use crate::kinds::Act;
use izba_core::Snapshot;
use izba_core::class::{Class, Newsroom, SCOPE, Teller, record, resource};
use izba_core::help::Owner;
use izba_sources::{Outbox, Told, collector, drawn_once, is_loopback};
use serde::Deserialize;
use std::net::SocketAddr;
use std::path::Path;
use std::sync::Arc;

/// The file in the store that holds the number under which its owner is told.
const FILE: &str = "teller";

/// Whom to tell.
#[derive(Debug, Clone, PartialEq, Eq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Tell {
    /// The address of the collector, as the user typed it.
    pub to: String,
    /// The name that the user wants to be told under, if any.
    pub name: Option<String>,
}

impl Tell {
    /// Telling this address.
    ///
    /// # Errors
    ///
    /// A sentence, when it is none.
    pub fn new(to: &str, name: Option<String>) -> Result<Tell, String> {
        collector(to).map(|_| Tell { to: to.to_owned(), name })
    }

    /// What it would do, to be allowed where a project's file names it.
    pub(crate) fn act(&self) -> Act {
        let to = self.to.trim().trim_start_matches("http://");
        let host = to.split(['/', '?']).next().unwrap_or(to);
        let here = host.parse().is_ok_and(|at: SocketAddr| is_loopback(at.ip()))
            || host.split(':').next() == Some("localhost");
        match here {
            true => Act::plain(format!("tell a program of this machine at {host} of your errors")),
            false => Act::named(host, format!("tell {host} of your errors")),
        }
    }
}

/// How it goes with telling.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Telling {
    /// The address of the collector.
    pub to: String,
    /// What became of the records.
    pub told: Told,
}

impl Telling {
    /// How it goes, in a sentence without its full stop; with what hinders it, if anything does.
    pub fn sentence(&self) -> String {
        let taken = izba_model::text::counted(self.told.taken, "change was", "changes were");
        let mut words = format!("{taken} told to {}", self.to);
        let left = [
            (self.told.waiting, "waits", "wait"),
            (self.told.dropped, "was dropped", "were dropped"),
        ];
        for (count, one, many) in left.into_iter().filter(|(count, ..)| *count > 0) {
            words.push_str(&format!(", {}", izba_model::text::counted(count, one, many)));
        }
        if let Some(why) = &self.told.trouble {
            words.push_str(&format!(": {why}"));
        }
        words
    }
}

/// Hears what the Izbas of others tell.
#[derive(Debug, Default)]
pub(crate) struct Hearing {
    class: Arc<Class>,
}

impl Hearing {
    /// Hears what a source said: whole lines, as a listener appends them.
    pub(crate) fn hear(&mut self, bytes: &[u8], at: izba_model::Millis) {
        // Logs of others are passed over as they come.
        if !may_tell(bytes) {
            return;
        }
        for line in bytes.split(|b| *b == b'\n').filter(|line| may_tell(line)) {
            Arc::make_mut(&mut self.class).hear(line, at);
        }
    }

    /// All who were heard.
    pub(crate) fn class(&self) -> Arc<Class> {
        self.class.clone()
    }
}

/// Whether an Izba's line may be among these bytes.
fn may_tell(bytes: &[u8]) -> bool {
    memchr::memmem::find(bytes, b"\"izba.mistake\"").is_some()
}

/// A collector that is told.
#[derive(Debug)]
pub struct Collector {
    outbox: Outbox,
    news: Newsroom,
    owner: Owner,
    troubled: bool,
}

impl Collector {
    /// Begins to tell of a project.
    ///
    /// # Errors
    ///
    /// A sentence, when the address is none or no thread can be started.
    pub fn open(tell: &Tell, root: &Path, store: &Path) -> Result<Collector, String> {
        let owner = crate::request::owner();
        let project = root.canonicalize().unwrap_or_else(|_| root.to_owned());
        let project = project.file_name().unwrap_or_default().to_string_lossy().into_owned();
        let teller = Teller { project, session: number(store), name: tell.name.clone() };
        let resource = resource(&teller, &owner);
        let outbox = Outbox::open(collector(&tell.to)?, resource, SCOPE)
            .map_err(|e| format!("nobody can be told: {}", izba_sources::plain_io(&e)))?;
        Ok(Collector { outbox, news: Newsroom::default(), owner, troubled: false })
    }

    /// Tells what is new at a moment; a sentence, when it begins to be hindered.
    pub fn tell(&mut self, snapshot: &Snapshot) -> Option<String> {
        let now = izba_sources::now();
        let news = self.news.news(snapshot, now);
        if !news.is_empty() {
            self.outbox.put(news.iter().map(|news| record(news, &self.owner, now)));
        }
        let trouble = self.outbox.told().trouble;
        let begins = trouble.is_some() && !self.troubled;
        self.troubled = trouble.is_some();
        begins.then(|| self.how().sentence())
    }

    /// Waits a moment for what is on its way.
    pub fn settle(&self) {
        self.outbox.settle();
    }

    /// How it goes.
    pub fn how(&self) -> Telling {
        Telling { to: self.outbox.address().to_owned(), told: self.outbox.told() }
    }
}

/// The number under which the owner of a store is told, the same from session to session. It says
/// nothing of who it is; where it can't be kept, all who can't are told as one.
fn number(store: &Path) -> String {
    drawn_once(&store.join(FILE)).map_or_else(|_| "unknown".to_owned(), |n| n.to_string())
}

#[cfg(test)]
mod tests {
    use super::*;
    use izba_model::Millis;

    #[test]
    fn an_izba_is_heard_among_what_others_say() {
        let mut hearing = Hearing::default();
        hearing.hear(b"{\"message\":\"all well\"}\nno \"izba.mistake\" here\n", Millis(1));
        assert!(hearing.class().is_empty());
        let line = "{\"message\":\"no rope\",\"sender\":{\"id\":\"a\",\"name\":null},\"attributes\":\
                    {\"izba.mistake\":\"1\",\"izba.change\":\"met\"}}";
        hearing.hear(format!("{{\"message\":\"fog\"}}\n{line}\n").as_bytes(), Millis(2));
        assert_eq!(hearing.class().senders.len(), 1);
    }

    #[test]
    fn how_telling_goes_is_said_with_what_waits_and_what_was_lost() {
        let told = Told { taken: 1, waiting: 2, dropped: 3, trouble: None };
        let telling = Telling { to: "http://quay:1/v1/logs".into(), told };
        assert_eq!(
            telling.sentence(),
            "1 change was told to http://quay:1/v1/logs, 2 wait, 3 were dropped"
        );
        let told = Told { dropped: 1, trouble: Some("it answers 401".into()), ..Told::default() };
        let telling = Telling { to: "quay".into(), told };
        let sentence = "0 changes were told to quay, 1 was dropped: it answers 401";
        assert_eq!(telling.sentence(), sentence);
    }
}
