//! Reading the current run of a source anew, with what the user taught since: as if it had been
//! known from its first line on.

use super::{Engine, RunMark, SourceId};
use crate::digest::Placed;
use izba_console::learn::KeptLine;
use izba_console::trace::Lanes;
use izba_model::Stream;

impl Engine {
    /// Forgets what the current run of `source` told, and reads its lines anew; `lines` are all of
    /// them, in order. What comes next goes on behind them.
    pub fn read_again(&mut self, source: SourceId, lines: impl Iterator<Item = KeptLine>) {
        let Some(entry) = self.sources.get_mut(source.0) else { return };
        let (run, first) = (entry.run.max(1), entry.run_first_line);
        entry.spans.retain(|span| span.first < first);
        entry.overlooked.clear();
        let setting = entry.setting.clone();
        if let Some(started) = entry.run_started.or_else(|| self.timeline.start()) {
            self.timeline.forget(source.0, started);
        }
        self.groups.forget_run(source.0, run);
        let mut lanes = [Lanes::default(), Lanes::default()];
        let mut done = Vec::new();
        for KeptLine { number, time, stream, text } in lines.filter(|l| l.number >= first) {
            lanes[stream.index()].line(number, time, &text, setting.reading(), &mut |assembled| {
                done.push(assembled)
            });
            if !lanes[stream.index()].took(number) {
                self.sources[source.0].overlooked.see(number, stream, &text, setting.reading());
            }
            for assembled in done.drain(..) {
                self.entry(source, stream, Placed::new(assembled, &setting));
            }
        }
        self.sources[source.0].assemblers = lanes;
        if let RunMark::Ended { how, well } = self.sources[source.0].mark.clone() {
            self.close_entries(source);
            let time = self.now;
            self.end_told(source, time, how, well);
        }
    }

    /// Ends the entries that are open.
    pub(super) fn close_entries(&mut self, source: SourceId) {
        for stream in [Stream::Out, Stream::Err] {
            let mut done = Vec::new();
            let entry = &mut self.sources[source.0];
            let mut assembler = std::mem::take(&mut entry.assemblers[stream.index()]);
            let setting = entry.setting.clone();
            assembler.finish(setting.reading(), &mut |a| done.push(a));
            for assembled in done {
                self.entry(source, stream, Placed::new(assembled, &setting));
            }
        }
    }
}
