//! The kinds of sources. One more is a file here and its line in the list below.

mod act;
mod connect;
mod follow;
mod kind;
#[cfg(feature = "otlp")]
mod otlp;
mod page;
mod reports;
mod run;
mod senders;

pub use act::Act;
pub use connect::Address;
pub use follow::{File, file_name};
pub use kind::{Line, Open, Opened, Origin, SourceKind, Wanted};
#[cfg(feature = "otlp")]
pub use otlp::Otlp;
pub use page::Page;
pub(crate) use page::is_to_come as is_page_to_come;
pub use reports::Reports;
pub use run::Input;
pub use senders::Senders;

use serde::Deserialize;
use std::collections::BTreeMap;
use std::path::PathBuf;

/// A kind, as sources are known by it.
pub type Kind = &'static SourceKind;

macro_rules! kinds {
    ($($(#[$only:meta])? $word:ident = $kind:path),* $(,)?) => {
        /// All kinds, in the order in which they are offered.
        pub static KINDS: &[Kind] = &[$($(#[$only])? &$kind),*];

        /// One source as `izba.toml` names it: exactly one of the kinds.
        #[derive(Deserialize)]
        #[serde(deny_unknown_fields)]
        pub(crate) struct Named {
            pub(crate) name: Option<String>,
            $($(#[$only])? $word: Option<String>,)*
            #[serde(default)]
            pub(crate) again_on_save: bool,
            #[serde(default)]
            pub(crate) own: Vec<String>,
            pub(crate) folder: Option<PathBuf>,
            #[serde(default)]
            pub(crate) environment: BTreeMap<String, String>,
            #[serde(default)]
            pub(crate) pipes: bool,
            pub(crate) action: Option<String>,
            pub(crate) adapter: Option<String>,
            #[serde(default)]
            pub(crate) launch: toml::Table,
        }

        impl Named {
            /// What it names to be watched.
            pub(crate) fn kinds(&mut self) -> Vec<(Kind, String)> {
                let named = [$($(#[$only])? (&$kind, self.$word.take())),*];
                named.into_iter().filter_map(|(kind, what)| Some((kind as Kind, what?))).collect()
            }
        }
    };
}

kinds! {
    run = run::KIND,
    follow = follow::KIND,
    page = page::KIND,
    connect = connect::KIND,
    syslog = senders::SYSLOG,
    lines = senders::LINES,
    #[cfg(feature = "otlp")] otlp = otlp::KIND,
    reports = reports::KIND,
}

/// A command that Izba starts and watches.
pub static RUN: Kind = &run::KIND;
/// A file that grows, the newest of a folder, or all that fit a pattern.
pub static FOLLOW: Kind = &follow::KIND;
/// A web page in a browser that Izba opens or joins.
pub static PAGE: Kind = &page::KIND;

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn each_word_names_one_kind_and_opens_or_says_why_not() {
        let folder = tempfile::tempdir().expect("a folder");
        for kind in KINDS {
            let same = KINDS.iter().filter(|k| k.word == kind.word).count();
            assert_eq!(same, 1, "{}", kind.word);
            let mut named: Named = toml::from_str(&format!("{} = \"x\"", kind.word)).expect("one");
            assert_eq!(named.kinds(), [(*kind, "x".to_owned())]);
            // What fits no address or page is told in a sentence that names it.
            match (kind.origin)(&Wanted::new(kind, "no address"), folder.path()) {
                Ok((name, _)) => assert!(!name.is_empty()),
                Err(why) => assert!(why.contains("no address"), "{}: {why}", kind.word),
            }
        }
    }

    fn origin(kind: Kind, what: &str, root: &std::path::Path) -> Result<String, String> {
        (kind.origin)(&Wanted::new(kind, what), root).map(|(name, _)| name)
    }

    #[test]
    fn a_page_is_an_address_and_may_be_joined_in_a_running_browser() {
        let root = std::path::Path::new("/nowhere");
        let page = |what| origin(PAGE, what, root);
        assert_eq!(page("http://localhost:8000/"), Ok("localhost:8000".into()));
        assert_eq!(page("http://localhost:8000 join 127.0.0.1:9222"), Ok("localhost:8000".into()));
        let no_address = page("http://localhost:8000 join nine").expect_err("no address");
        assert!(no_address.contains("“nine” is no address of a browser"), "{no_address}");
        let no_page = page("localhost:8000").expect_err("no page");
        assert!(no_page.contains("begin it with http://"), "{no_page}");
    }

    #[test]
    fn a_file_is_called_by_its_name_and_what_stands_for_many_by_its_pattern() {
        let folder = tempfile::tempdir().expect("a folder");
        let root = folder.path();
        std::fs::create_dir(root.join("logs")).expect("room");
        let follow = |what| origin(FOLLOW, what, root);
        assert_eq!(follow("logs/tide.log"), Ok("tide.log".into()));
        assert_eq!(follow("logs"), Ok("logs".into()), "the newest of a folder");
        assert_eq!(follow("logs/*.log"), Ok("logs/*.log".into()));
        let pattern = |path: &str| File(root.join(path)).pattern().is_some();
        assert!(pattern("logs/*.log") && !pattern("logs/tide.log"));
        // A star may be part of a name.
        std::fs::write(root.join("logs/a*.log"), "").expect("room");
        assert!(!pattern("logs/a*.log"));
    }

    #[test]
    fn a_command_runs_in_its_folder_or_says_that_it_is_not_there() {
        let folder = tempfile::tempdir().expect("a folder");
        let wanted = Wanted { folder: Some("quay".into()), ..Wanted::new(RUN, "lua5.4 main.lua") };
        let why = (RUN.origin)(&wanted, folder.path()).map(|_| ()).expect_err("no folder");
        assert!(why.contains("quay is not there"), "{why}");
        std::fs::create_dir(folder.path().join("quay")).expect("room");
        let (name, origin) = (RUN.origin)(&wanted, folder.path()).expect("it can be started");
        assert_eq!(name, "lua5.4 main.lua");
        assert!(origin.pattern().is_none());
        // Under an adapter it is a program that can be paused.
        let paused = Wanted { adapter: Some("127.0.0.1:4711".into()), ..wanted };
        let (_, origin) = (RUN.origin)(&paused, folder.path()).expect("it can be started");
        assert!(format!("{origin:?}").starts_with("Debugged"), "{origin:?}");
    }
}
