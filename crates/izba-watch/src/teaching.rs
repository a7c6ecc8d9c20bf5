//! What teaching would change, told before it is kept.

use izba_console::learn::KeptLine;
use izba_console::read::Layout;
use izba_core::Engine;
use izba_model::{Level, Project, SafeText};
use std::sync::Arc;

/// Lines of a run that are read to tell what teaching would change.
pub const TRIED: u64 = 20_000;
/// Groups that are told of.
const GROUPS: usize = 4;

/// A run read twice: as it is read now, and as it would be.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Tried {
    /// Lines that were read, the latest of the run.
    pub lines: u64,
    /// Lines that have the form.
    pub fit: u64,
    /// Errors and warnings by kind, now and then.
    pub groups: (usize, usize),
    /// Lines that look as if they mattered and are not understood, now and then.
    pub overlooked: (u64, u64),
    /// The first groups that would be there and are not now: how grave, in words, and where.
    pub new: Vec<(Level, SafeText, Option<String>)>,
}

impl Tried {
    /// Reads `lines` as they are read now, and with `layout` before `taught`.
    pub fn of(
        project: &Arc<Project>,
        taught: &[Arc<Layout>],
        layout: &Arc<Layout>,
        lines: &[KeptLine],
    ) -> Tried {
        let read = |layouts: Vec<Arc<Layout>>| {
            let mut engine = Engine::new(project.clone());
            let source = engine.add_source("tried");
            engine.start_run(source, None, project.clone());
            engine.set_taught(source, layouts);
            let mut offset = 0;
            for KeptLine { time, stream, text, .. } in lines {
                let bytes = format!("{text}\n");
                engine.feed(source, *stream, *time, offset, bytes.as_bytes());
                offset += bytes.len() as u64;
            }
            engine.finish();
            engine
        };
        let all = std::iter::once(layout).chain(taught).cloned().collect();
        let (now, then) = (read(taught.to_vec()), read(all));
        let (before, after) = (now.groups(), then.groups());
        let said = |g: &Arc<izba_core::GroupView>| {
            let place = g.entry.place.as_ref();
            (g.entry.report.level, g.entry.report.message.clone(), place.cloned())
        };
        let known: Vec<_> = before.iter().map(said).collect();
        let new = after.iter().filter(|g| !known.contains(&said(g))).take(GROUPS).map(|g| {
            let line = |p: &izba_model::Place| p.line.map_or(String::new(), |l| format!(":{l}"));
            let place = g.entry.place.as_ref().map(|p| format!("{}{}", p.file, line(p)));
            (g.level(), SafeText::new(&g.explanation.short.to_string()), place)
        });
        Tried {
            lines: lines.len() as u64,
            fit: lines.iter().filter(|l| layout.parts(&l.text).is_some()).count() as u64,
            groups: (before.len(), after.len()),
            overlooked: (now.count_overlooked(), then.count_overlooked()),
            new: new.collect(),
        }
    }
}
