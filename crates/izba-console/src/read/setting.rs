//! What the lines of a source are read against.

use super::layout::Layouts;
use izba_model::project::Project;
use jiff::tz::TimeZone;
use std::sync::Arc;

/// The project, the layouts of the source's lines and where its clock stands. Cheap to share, never
/// changed.
#[derive(Debug, Clone)]
pub struct Setting {
    /// The project as it was when the run started.
    pub project: Arc<Project>,
    /// How the source's lines are divided.
    pub layouts: Arc<Layouts>,
    /// The zone of times that name none.
    pub zone: TimeZone,
}

/// What the readers of lines are handed of it.
#[derive(Debug, Clone, Copy)]
pub struct Reading<'a> {
    /// The project as it was when the run started.
    pub project: &'a Project,
    /// How the source's lines are divided.
    pub layouts: &'a Layouts,
}

impl Setting {
    /// What readers of lines are handed of it.
    pub fn reading(&self) -> Reading<'_> {
        Reading { project: &self.project, layouts: &self.layouts }
    }

    /// A setting without layouts, its clock at UTC.
    pub fn new(project: Arc<Project>) -> Setting {
        Setting { project, layouts: Arc::default(), zone: TimeZone::UTC }
    }

    /// Whether lines would be read alike; not by content, so that a copy of the same files is
    /// another project.
    pub fn is(&self, other: &Setting) -> bool {
        Arc::ptr_eq(&self.project, &other.project) && Arc::ptr_eq(&self.layouts, &other.layouts)
    }
}
