//! A project's `izba.toml` may be a stranger's: it can name commands, addresses and files. What it
//! would do is shown and asked once, for each folder and content, before anything of it is done.
//! What reaches beyond the folder or this machine is asked for by its name.

use crate::collector::Tell;
use crate::kinds::{Act, Wanted};
use crate::wanted::{self, FILE, Refused};
use izba_model::text::counted;
use izba_store::{StoreError, Trust, Trusted, hash};
use std::collections::BTreeSet;
use std::path::{Path, PathBuf};

/// The settings of a folder, with what the user allowed them.
#[derive(Debug)]
pub struct Settings {
    folder: PathBuf,
    content: String,
    wanted: Vec<Wanted>,
    tell: Option<Tell>,
    trust: Trust,
    /// Set when what needs no name was allowed; with what was allowed by name.
    given: Option<BTreeSet<String>>,
}

/// What the settings would do that was not allowed yet.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Asked {
    /// What one answer allows.
    pub plain: Vec<Act>,
    /// What each needs its own.
    pub named: Vec<Act>,
}

/// The settings of the project in `root`; none where it has no file. `store` is the folder in which
/// answers are kept.
///
/// # Errors
///
/// When the file cannot be read as settings, or others than the user may have written it.
pub fn look(root: &Path, store: &Path) -> Result<Option<Settings>, Refused> {
    let Some(text) = wanted::text(root)? else { return Ok(None) };
    if let Some(why) = izba_files::others_wrote(&root.join(FILE)) {
        let text = format!("{FILE} in {} {why}: it is not followed", root.display());
        let hint = "if you trust it, make it yours alone (chown, chmod go-w) or copy it to a \
                    folder of your own; what you name yourself needs no settings: izba run …";
        return Err(Refused { text, hint: Some(hint.into()) });
    }
    let folder = root.canonicalize().unwrap_or_else(|_| root.to_owned());
    let (trust, content) = (Trust::of(store), hash(text.as_bytes()));
    let given = trust.given(&folder, &content);
    let (wanted, tell) = wanted::parse(&text, root)?;
    Ok(Some(Settings { folder, content, wanted, tell, trust, given }))
}

impl Settings {
    /// The folder that they are of.
    pub fn folder(&self) -> &Path {
        &self.folder
    }

    /// What is to be asked before [`Settings::sources`] gives all of them; `None` when nothing is.
    pub fn asked(&self) -> Option<Asked> {
        let mut asked = Asked::default();
        let sources = self.wanted.iter().flat_map(|w| w.acts(&self.folder));
        for act in sources.chain(self.tell.iter().map(Tell::act)) {
            let (list, known) = match &act.name {
                None => (&mut asked.plain, self.given.is_some()),
                Some(name) => {
                    (&mut asked.named, self.given.as_ref().is_some_and(|g| g.contains(name)))
                }
            };
            if !known && !list.contains(&act) {
                list.push(act);
            }
        }
        (asked != Asked::default()).then_some(asked)
    }

    /// Allows what needs no name, and what is named; the answer is kept for the next time.
    ///
    /// # Errors
    ///
    /// When it cannot be kept; it holds for now all the same.
    pub fn allow(&mut self, named: impl IntoIterator<Item = String>) -> Result<(), StoreError> {
        let given = self.given.get_or_insert_default();
        given.extend(named);
        let named = given.clone();
        self.trust.give(Trusted {
            folder: self.folder.clone(),
            content: self.content.clone(),
            named,
        })
    }

    fn may(&self, act: &Act) -> bool {
        match (&act.name, &self.given) {
            (_, None) => false,
            (None, Some(_)) => true,
            (Some(name), Some(given)) => given.contains(name),
        }
    }

    /// Who is told of errors, where that is allowed.
    pub fn tell(&self) -> Option<Tell> {
        self.tell.clone().filter(|tell| self.may(&tell.act()))
    }

    /// The sources all of whose acts are allowed, and a sentence about those that are left out.
    pub fn sources(self) -> (Vec<Wanted>, Option<String>) {
        let all = self.wanted.len();
        let folder = &self.folder;
        let may = |wanted: &&Wanted| wanted.acts(folder).iter().all(|act| self.may(act));
        let allowed: Vec<Wanted> = self.wanted.iter().filter(may).cloned().collect();
        let out = (all - allowed.len()) as u64;
        let told = counted(out, "source of izba.toml is", "sources of izba.toml are");
        (allowed, (out > 0).then(|| format!("{told} left out, as you said")))
    }
}

/// Does what changes a project's settings on the user's word, so that the new ones are allowed where
/// the old ones were: what stood there was allowed, or would do nothing, or was not there.
pub(crate) fn on_the_users_word<T>(root: &Path, store: &Path, change: impl FnOnce() -> T) -> T {
    let before = look(root, store);
    let done = change();
    let (named, refused) = match before {
        Ok(None) => (Some(BTreeSet::new()), Vec::new()),
        Ok(Some(settings)) => {
            let asked = settings.asked();
            let quiet = asked.is_none();
            (settings.given.or_else(|| quiet.then(BTreeSet::new)), asked.unwrap_or_default().named)
        }
        Err(_) => (None, Vec::new()),
    };
    if let (Some(mut named), Ok(Some(mut after))) = (named, look(root, store)) {
        // What the user typed on the screen was done already; what was refused before stays so.
        let new = after.asked().into_iter().flat_map(|a| a.named).filter(|a| !refused.contains(a));
        named.extend(new.filter_map(|a| a.name));
        // What cannot be kept is asked the next time.
        let _ = after.allow(named);
    }
    done
}

#[cfg(test)]
mod tests {
    use super::*;

    struct Place {
        folder: tempfile::TempDir,
        store: tempfile::TempDir,
    }

    impl Place {
        fn with(text: &str) -> Place {
            let folder = tempfile::tempdir().expect("a folder");
            let place = Place { folder, store: tempfile::tempdir().expect("a folder") };
            place.write(text);
            place
        }

        fn write(&self, text: &str) {
            std::fs::write(self.folder.path().join(FILE), text).expect("room");
        }

        fn look(&self) -> Settings {
            look(self.folder.path(), self.store.path()).expect("settings").expect("a file")
        }

        fn asked(&self) -> (Vec<String>, Vec<String>) {
            let asked = self.look().asked().unwrap_or_default();
            let words = |acts: Vec<Act>| acts.into_iter().map(|a| a.does).collect();
            (words(asked.plain), words(asked.named))
        }
    }

    const BOTH: &str = "[[source]]\nrun = \"lua5.4 main.lua\"\n[source.environment]\nLD_PRELOAD = \
        \"./x.so\"\nROOM = \"2\"\n[[source]]\nfollow = \"tide.log\"\n[[source]]\nfollow = \
        \"/etc/passwd\"\n[[source]]\nsyslog = \"0.0.0.0:5514\"\n[[source]]\nlines = \
        \"127.0.0.1:5515\"\n";

    #[test]
    fn what_settings_would_do_is_asked_once_and_again_when_they_change() {
        let place = Place::with(BOTH);
        let (plain, named) = place.asked();
        assert_eq!(
            plain,
            [
                "run lua5.4 main.lua",
                "set ROOM to 2 for it",
                "take what programs of this machine send to 127.0.0.1:5515"
            ]
        );
        assert_eq!(
            named,
            [
                "set LD_PRELOAD to ./x.so, which can load other code",
                "read /etc/passwd, which lies outside this folder",
                "take what anybody who reaches this machine sends to 0.0.0.0:5514"
            ]
        );
        // Unasked, only what reads inside is there.
        let phrases =
            |s: Settings| s.sources().0.iter().map(Wanted::phrase).collect::<Vec<_>>().join(", ");
        assert_eq!(phrases(place.look()), "follow tide.log");
        place.look().allow(["/etc/passwd".to_owned()]).expect("room");
        assert_eq!(
            phrases(place.look()),
            "follow tide.log, follow /etc/passwd, lines 127.0.0.1:5515"
        );
        let (plain, named) = place.asked();
        assert!(plain.is_empty() && named.len() == 2, "{plain:?} {named:?}");
        place.write(&format!("{BOTH}\n[[source]]\nrun = \"rm -r harbour\"\n"));
        assert_eq!(place.asked().0.len(), 4);
    }

    #[test]
    fn whom_settings_would_tell_is_asked_and_beyond_this_machine_by_name() {
        let near = Place::with("[tell]\nto = \"127.0.0.1:4318\"\n");
        assert_eq!(
            near.asked().0,
            ["tell a program of this machine at 127.0.0.1:4318 of your errors"]
        );
        assert_eq!(near.look().tell(), None, "nothing is told unasked");
        near.look().allow([]).expect("room");
        assert_eq!(near.look().tell().map(|t| t.to), Some("127.0.0.1:4318".into()));
        let far = Place::with("[tell]\nto = \"http://quay.example:4318\"\nname = \"Wren\"\n");
        assert_eq!(far.asked().1, ["tell quay.example:4318 of your errors"]);
        far.look().allow([]).expect("room");
        assert_eq!(far.look().tell(), None);
        far.look().allow(["quay.example:4318".to_owned()]).expect("room");
        assert_eq!(far.look().tell().and_then(|t| t.name), Some("Wren".into()));
        // What is no address is refused with its place.
        let text = "[tell]\nto = \"the teacher\"\n";
        std::fs::write(near.folder.path().join(FILE), text).expect("room");
        let refused = look(near.folder.path(), near.store.path()).expect_err("no address");
        assert!(refused.text.contains("[tell]: “the teacher” is no address"), "{}", refused.text);
    }

    #[test]
    fn what_only_reads_inside_is_not_asked() {
        let place = Place::with("[[source]]\nfollow = \"logs/*.log\"\n");
        assert!(place.look().asked().is_none());
        assert_eq!(place.look().sources().0.len(), 1);
    }

    #[test]
    fn what_the_user_adds_is_allowed_and_what_came_between_is_not() {
        let place = Place::with("");
        let (root, store) = (place.folder.path(), place.store.path());
        let run = |what: &str| Wanted::new(crate::kinds::RUN, what);
        on_the_users_word(root, store, || wanted::keep(root, &[run("lua5.4 main.lua")]))
            .expect("room");
        assert!(place.look().asked().is_none());
        // What was refused by its name stays so when something is added.
        let with = "[[source]]\nrun = \"lua5.4 main.lua\"\n[[source]]\nfollow = \"/etc/passwd\"\n";
        place.write(with);
        place.look().allow([]).expect("room");
        on_the_users_word(root, store, || wanted::keep(root, &[run("lua5.4 tide.lua")]))
            .expect("room");
        assert_eq!(
            place.asked(),
            (
                vec![],
                vec![
                    "read /etc/passwd, which lies outside this \
            folder"
                        .to_owned()
                ]
            )
        );
        // Somebody else changes the file while Izba runs; what the user keeps then allows nothing.
        place.write("[[source]]\nrun = \"rm -r harbour\"\n");
        on_the_users_word(root, store, || wanted::keep(root, &[run("lua5.4 main.lua")]))
            .expect("room");
        assert_eq!(place.asked().0, ["run rm -r harbour", "run lua5.4 main.lua"]);
    }

    #[test]
    fn settings_that_others_may_write_are_refused() {
        use std::os::unix::fs::PermissionsExt;
        let place = Place::with(BOTH);
        let path = place.folder.path().join(FILE);
        std::fs::set_permissions(&path, PermissionsExt::from_mode(0o666)).expect("it is ours");
        let refused = look(place.folder.path(), place.store.path()).expect_err("not ours alone");
        assert!(refused.text.contains("can be written by everybody"), "{}", refused.text);
    }
}
