//! Cornering while watching: one error at a time, on a thread of its own; what comes of it is told
//! as evidence.

use super::state::Worker;
use crate::before_run;
use crate::cornered::{BUDGET, Corner, CornerFor, CornerView, Cornering, TRIALS};
use crate::cornering::Trials;
use crate::cornering::{self, Mistake, Needs, Progress, Start};
use izba_core::GroupId;
use izba_sources::{Program, Reach};
use std::path::PathBuf;
use std::sync::atomic::AtomicBool;
use std::sync::{Arc, Mutex};

impl Worker {
    /// Begins to corner a group.
    pub(crate) fn corner(&mut self, group: GroupId, sought: CornerFor) {
        let snapshot = self.engine.snapshot();
        let Some(view) = snapshot.groups.iter().find(|g| g.holds(group)).cloned() else { return };
        let Some(source) = self.sources.get(view.source) else { return };
        let alone = source.debugged.as_ref().and_then(|d| d.alone.as_ref());
        let Some(command) = source.command.as_ref().or(alone) else {
            return self.say("Izba did not start this program, so it cannot run a copy of it");
        };
        // A copy must not take the address at which the program itself listens.
        let address = source.debugged.as_ref().and_then(|d| {
            if let Reach::Address(a) = &d.reach { Some(a.to_string()) } else { None }
        });
        let words = command.words().iter().map(|w| match &address {
            Some(address) if w.to_string_lossy().contains(address.as_str()) => {
                w.to_string_lossy().replace(address.as_str(), "127.0.0.1:0").into()
            }
            _ => w.clone(),
        });
        let root = self.root.canonicalize().unwrap_or_else(|_| self.root.clone());
        let folder =
            command.folder().canonicalize().unwrap_or_else(|_| command.folder().to_owned());
        let start = Start {
            program: Program {
                words: words.collect(),
                within: folder.strip_prefix(&root).map(PathBuf::from).unwrap_or_default(),
                environment: command.environment().to_vec(),
                // What the user typed in this run is typed again.
                input: source.typed.clone(),
            },
            project: self.today.clone(),
            beside: self.session.join("copy"),
            budget: if matches!(sought, CornerFor::Fixes(_)) { TRIALS } else { BUDGET },
            needs: Needs::Kept,
            root,
        };
        if matches!(sought, CornerFor::Fixes(_)) {
            self.trying.begin(view.id);
        }
        let mistake = Mistake::of(&view);
        let headline = mistake.headline.clone();
        let show = |how| Arc::new(CornerView { group, headline: headline.clone(), how });
        let first = match &sought {
            CornerFor::Fixes(_) => Corner::Trying(Trials::default()),
            _ => Corner::Running(Progress::default()),
        };
        let slot = Arc::new(Mutex::new(show(first)));
        let (store, name) = (self.store().to_owned(), source.name.clone());
        // The one before ends first: both would use one folder.
        self.cornering = None;
        let stop = Arc::new(AtomicBool::new(false));
        let (ended, out, bell, told) =
            (stop.clone(), slot.clone(), self.bell.clone(), headline.clone());
        let work = move || {
            let put = |how| {
                if let Ok(mut slot) = out.lock() {
                    *slot = Arc::new(CornerView { group, headline: told.clone(), how });
                }
                bell();
            };
            let how = if let CornerFor::Fixes(edits) = &sought {
                let mut tell = |t: &Trials| put(Corner::Trying(t.clone()));
                match cornering::try_fixes(&start, &mistake, edits, &ended, &mut tell) {
                    Ok(tried) => Corner::Tried(Arc::new(tried)),
                    Err(why) => Corner::Failed(why),
                }
            } else if sought == CornerFor::Edits {
                let mut tell = |p: &Progress| put(Corner::Running(p.clone()));
                let found = before_run(&store, &start.root, &name, None, &view).and_then(
                    |(run, before)| {
                        Ok((
                            run,
                            cornering::corner_edits(&start, &before, &mistake, &ended, &mut tell)?,
                        ))
                    },
                );
                match found {
                    Ok((run, (made, progress, complete))) => {
                        Corner::Edits(Arc::new(made), progress, complete, run)
                    }
                    Err(why) => Corner::Failed(why),
                }
            } else {
                let mut tell = |p: &Progress| put(Corner::Running(p.clone()));
                match cornering::corner(&start, &mistake, &ended, &mut tell) {
                    Ok(cornered) => Corner::Left(Arc::new(cornered)),
                    Err(why) => Corner::Failed(why),
                }
            };
            put(how);
        };
        let thread = std::thread::Builder::new().name("corner".into()).spawn(work).ok();
        self.cornering = Some(Cornering { group, stop, slot, told: None, thread });
    }

    /// Whether there is anything new of it; what is left is told as evidence.
    pub(crate) fn look_at_corner(&mut self) -> bool {
        let Some(cornering) = &mut self.cornering else { return false };
        let view = cornering.view();
        if cornering.told.as_ref().is_some_and(|t| Arc::ptr_eq(t, &view)) {
            return false;
        }
        cornering.told = Some(view.clone());
        match &view.how {
            Corner::Left(cornered) => {
                self.detecting.cornered(cornering.group, cornered.clone());
            }
            Corner::Tried(tried) => {
                self.trying.keep(cornering.group, tried.clone());
                self.detecting.tried(cornering.group, tried.clone());
            }
            _ => {}
        }
        true
    }

    /// Keeps the little program that still shows the error, beside what Izba keeps.
    pub(crate) fn keep_corner(&self) {
        let view = self.cornering.as_ref().map(Cornering::view);
        let said = match view.as_ref().map(|v| &v.how) {
            Some(Corner::Left(cornered)) => {
                let folder = self.session.join("cornered");
                let _ = std::fs::remove_dir_all(&folder);
                cornering::save(cornered, &folder)
                    .map_or_else(|why| why, |()| format!("kept in {}", folder.display()))
            }
            _ => "nothing is cornered yet that could be kept".into(),
        };
        self.say(said);
    }
}
