//! Values that the program prints: looked for in the lines that are there once somebody asks, and
//! in those that come.

use crate::unread::Unread;
use izba_core::GroupId;
use izba_core::values::{Before, Errors, LOOKS, Series, Store, before};
use std::sync::Arc;
use std::sync::mpsc::{Receiver, TryRecvError, channel};
use std::time::{Duration, Instant};

/// How often what is known is shown.
pub(crate) const SHOWN: Duration = Duration::from_millis(400);

/// What the screen shows of values.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct ValuesView {
    /// The series, by source, who prints them, and name.
    pub series: Vec<Arc<Series>>,
    /// When groups were seen.
    pub errors: Arc<Errors>,
    /// Lines that were not looked at yet.
    pub waiting: u64,
    /// Older lines that are not looked at.
    pub left_out: u64,
    /// Values that found no room.
    pub beyond: u64,
    /// What differs before the group that was asked about.
    pub differing: Option<Differing>,
}

/// What differs before a group.
#[derive(Debug, Clone, PartialEq)]
pub struct Differing {
    /// The group.
    pub group: GroupId,
    /// What was found, by numbers in `series`; `None` while it is worked out.
    pub before: Option<Arc<Before>>,
    /// The series that were looked at.
    pub series: Vec<Arc<Series>>,
}

/// What was found so far.
#[derive(Default)]
pub(crate) struct Valuing {
    pub(crate) unread: Unread,
    pub(crate) store: Store,
    pub(crate) shown: Option<Instant>,
    pub(crate) view: Arc<ValuesView>,
    /// The group that is asked about, and what is known of it.
    pub(crate) asked: Option<GroupId>,
    pub(crate) differing: Option<Differing>,
    /// A look under way.
    pub(crate) looking: Option<Receiver<Before>>,
    /// Whether there is something to be shown that no row brought.
    pub(crate) news: bool,
}

impl Valuing {
    /// What is known by now.
    pub(crate) fn view(&self) -> Arc<ValuesView> {
        self.view.clone()
    }

    /// Asks what differs before a group.
    pub(crate) fn ask(&mut self, group: Option<GroupId>) {
        self.asked = group;
        self.news = true;
    }

    /// Whether there are rows that were not looked at.
    pub(crate) fn is_busy(&self, rows: u64) -> bool {
        self.unread.is_busy(rows)
    }

    /// Looks for what differs before the group that is asked about, on a thread of its own,
    /// whenever there is enough news for a look.
    pub(crate) fn differ(&mut self, members: &[GroupId]) {
        match self.looking.as_ref().map(Receiver::try_recv) {
            Some(Err(TryRecvError::Empty)) => return,
            Some(found) => {
                self.looking = None;
                if let (Some(differing), Ok(found)) = (&mut self.differing, found) {
                    differing.before = Some(Arc::new(found));
                }
            }
            None => {}
        }
        let Some(group) = self.asked else { return };
        let errors = self.store.errors().of_all(members);
        let known = before(&[], &errors).known;
        let looks = |known: usize| LOOKS.iter().filter(|l| **l <= known).count();
        if let Some(differing) = self.differing.as_mut().filter(|d| d.group == group) {
            let Some(found) = &mut differing.before else { return };
            // Between two looks only the count goes on.
            if looks(found.known) == looks(known) {
                if found.known != known {
                    Arc::make_mut(found).known = known;
                }
                return;
            }
        }
        let series = self.store.listed();
        self.differing = Some(Differing { group, before: None, series: series.clone() });
        let (told, looking) = channel();
        let job = move || {
            // Nobody may listen any more.
            let _ = told.send(before(&series, &errors));
        };
        if std::thread::Builder::new().name("values".into()).spawn(job).is_ok() {
            self.looking = Some(looking);
        }
    }
}
