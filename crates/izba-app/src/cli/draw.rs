//! `izba draw WHAT -o FILE`: a drawing of a kept run, of logs, or of the code, as SVG or PDF, or
//! the numbers behind it.

use super::logs::phrase_of;
use super::say::print;
use super::shared::{Outcome, Shared};
use crate::command_error::{CommandError, exit};
use izba_console::RawLine;
use izba_console::read::Splitter;
use izba_core::filter::Around;
use izba_core::values::{Differs, Store as Values, before};
use izba_core::{Engine, GroupView, LineRef, SourceId};
use izba_draw::{Form, Look, Setting, write};
use izba_model::text::decode;
use izba_model::{Project, SafeText, Stream};
use izba_sources::{Event, SpoolReader, Store};
use izba_watch::drawing::{DRAWINGS, Known, Subject};
use izba_watch::guilty::Guilty;
use izba_watch::readers;
use izba_watch::{Code, ValuesView, feed_record, kept_run};
use std::fs::File;
use std::io::Read;
use std::path::{Path, PathBuf};
use std::sync::Arc;

#[derive(clap::Args, Debug)]
#[command(
    after_help = "Examples:\n  izba draw when -o evening.svg                 the newest run that is \
        kept\n  izba draw values tide fuel --of \"in gauge.lua\" -o tide.pdf --paper   and \
        says what differs just before it\n  izba draw path --of \"in lantern.lua\" -o \
        path.svg\n  izba draw runs --source \"marsh engine\" -o runs.svg\n  izba draw ladder \
        scripts/fog.lua -o fog.pdf\n  izba draw ring -o ring.svg\n  izba draw values --from \
        console.log -o values.csv   the numbers behind it\n  izba draw \
        list                                what can be drawn"
)]
pub struct Args {
    /// when, runs, values, path, ladder or ring; list tells what each shows
    what: String,
    /// Names: of values, or of a script
    names: Vec<String>,
    /// Where to write it; the ending says how: .svg, .pdf, .csv or .jsonl
    #[arg(short, long, value_name = "FILE")]
    output: Option<PathBuf>,
    /// Which error is meant, where there are several: a filter phrase
    #[arg(long, value_name = "PHRASE")]
    of: Option<String>,
    /// Logs to draw from, instead of a kept run
    #[arg(long, value_name = "FILE", num_args = 1..)]
    from: Vec<PathBuf>,
    /// A run of the ledger, instead of the newest
    #[arg(long, value_name = "RUN", conflicts_with = "from")]
    run: Option<u32>,
    /// Whose runs
    #[arg(long, value_name = "NAME", conflicts_with = "from")]
    source: Option<String>,
    /// Dark on white, to be printed
    #[arg(long)]
    paper: bool,
}

/// What was read of a run or of logs.
struct Gathered {
    engine: Engine,
    project: Arc<Project>,
    values: Values,
    /// Whether no line told a time, so that lines are counted instead.
    by_lines: bool,
}

pub fn run(shared: &Shared, args: &Args) -> Outcome {
    if args.what == "list" {
        print(&DRAWINGS.iter().map(|k| format!("{:<8} {}\n", k.id, k.says)).collect::<String>());
        return Ok(exit::WELL);
    }
    let known = Known::of(&args.what).ok_or_else(|| {
        let all: Vec<&str> = DRAWINGS.iter().map(|k| k.id).collect();
        CommandError::wrong_use(
            format!("{} is nothing that can be drawn", args.what),
            format!("it can be {}", all.join(", ")),
        )
    })?;
    let output = args.output.as_deref().ok_or_else(|| {
        CommandError::wrong_use(
            "where to write it is missing",
            format!("add -o {}.svg, or .pdf, .csv, .jsonl", known.id),
        )
    })?;
    let ending = output.extension().map(|e| e.to_string_lossy().into_owned()).unwrap_or_default();
    let form = Form::of_ending(&ending).ok_or_else(|| {
        CommandError::wrong_use(
            format!("a drawing cannot be written as .{ending}"),
            "it can be .svg, .pdf, .csv or .jsonl",
        )
    })?;
    let phrase = phrase_of(args.of.as_deref())?;
    let gathered = gather(shared, args, known.id)?;
    let snapshot = gathered.engine.snapshot();
    let names: Vec<String> = snapshot.sources.iter().map(|s| s.name.clone()).collect();
    let now = izba_sources::now();
    let utc_offset = jiff::Zoned::now().offset().seconds();
    let around = Around { sources: &names, now: Some(now), utc_offset };
    let fits =
        |g: &&Arc<GroupView>| !g.muted && phrase.as_ref().is_none_or(|p| p.fits_group(g, &around));
    // Of values only the error that was asked for is marked; a path is that of the first one.
    let group =
        snapshot.groups.iter().find(fits).filter(|_| phrase.is_some() || known.id != "values");
    if let (Some(text), None) = (&args.of, group) {
        return Err(CommandError::input(format!("no error fits {text}")));
    }
    let index =
        izba_code::index(gathered.project.files().iter().map(|f| (&f.path, f.text.as_ref())));
    let mut code = Code { index: Arc::new(index), ..Code::default() };
    if let (Some(group), "path") = (group, known.id) {
        let guilty = Guilty::of(&gathered.project);
        guilty.prepare(std::iter::once(&*group.entry));
        code.findings.insert(group.id, Arc::new(guilty.find(&group.entry)));
    }
    let values = ValuesView {
        series: gathered.values.listed(),
        errors: gathered.values.errors(),
        ..ValuesView::default()
    };
    let setting = Setting {
        project: gathered.project.name().to_owned(),
        now,
        utc_offset,
        by_lines: gathered.by_lines,
    };
    let subject = Subject {
        snapshot: &snapshot,
        code: &code,
        values: Some(&values),
        group,
        source: 0,
        names: &args.names,
        setting,
    };
    let drawing = known.draw(&subject).map_err(CommandError::input)?;
    let look = if args.paper { Look::Paper } else { Look::Dusk };
    let bytes = write(&drawing, form, look).map_err(|e| CommandError::input(e.to_string()))?;
    std::fs::write(output, &bytes).map_err(|e| {
        CommandError::input(format!(
            "{} cannot be written: {}",
            output.display(),
            izba_sources::plain_io(&e)
        ))
    })?;
    print(&format!("{}: {}\n", output.display(), drawing.title));
    if let (Some(group), "values") = (group, known.id) {
        print(&differs(&values, group));
    }
    Ok(exit::WELL)
}

/// What differs just before an error, of all values that were printed, in sentences; nothing where
/// it came too seldom.
fn differs(values: &ValuesView, group: &GroupView) -> String {
    let found = before(&values.series, &values.errors.of_all(&group.members));
    let line = |f: &Differs| {
        let verdict = if f.sure { "likely" } else { "can't tell" };
        format!(
            "{verdict}: {}; {}\n",
            SafeText::new(&f.sentence(&values.series[f.series], found.moments)),
            f.trust(found.looked)
        )
    };
    found.told().map(line).collect()
}

fn gather(shared: &Shared, args: &Args, what: &str) -> Result<Gathered, CommandError> {
    let root = shared.root();
    let scan = || Arc::new(izba_files::scan(&root));
    let taught = readers::read_file(&root.join(readers::FILE)).map_err(CommandError::input)?;
    if !args.from.is_empty() {
        let project = scan();
        let engine = super::logs::logs(shared, &project, &args.from)?;
        let mut gathered = Gathered { engine, project, values: Values::default(), by_lines: false };
        if what == "values" {
            for (at, path) in args.from.iter().enumerate() {
                values_of_file(&mut gathered, SourceId(at), path)?;
            }
        }
        return Ok(gathered);
    }
    // What is drawn of the code alone needs no run.
    if matches!(what, "ladder" | "ring") && args.run.is_none() && args.of.is_none() {
        let project = scan();
        return Ok(Gathered {
            engine: engine(&project),
            project,
            values: Values::default(),
            by_lines: false,
        });
    }
    let store = Store::look(shared.store.clone())?;
    let kept = kept_run(store.folder(), &root, args.source.as_deref(), args.run)
        .map_err(CommandError::input)?;
    let project = kept.past.project.clone();
    let mut gathered = Gathered {
        engine: engine(&project),
        project: project.clone(),
        values: Values::default(),
        by_lines: false,
    };
    let name = kept.past.run.card.source.clone();
    let source = gathered.engine.add_source(name.clone());
    gathered.engine.set_taught(source, readers::of_source(&taught, &name, None));
    gathered.engine.recall(source, kept.runs, kept.groups);
    super::logs::follow_wishes(shared, &mut gathered.engine)?;
    let mut reader = SpoolReader::open_one(&kept.past.segment)?;
    while let Some(record) = reader.next_record()? {
        feed_record(&mut gathered.engine, source, &record, &project);
        gathered.engine.tick(record.time);
    }
    gathered.engine.note_edits(source, &kept.past.run.card.edits);
    gathered.engine.finish();
    if what == "values" {
        let mut reader = SpoolReader::open_one(&kept.past.segment)?;
        let mut splitter = Splitter::default();
        let Gathered { engine, values, .. } = &mut gathered;
        let mut each = |number: u64, line: RawLine<'_>| {
            take(engine, values, source, number, &line, line.time.map(|t| t.0))
        };
        while let Some(record) = reader.next_record()? {
            match record.event {
                Event::Bytes(stream) => splitter.feed(
                    stream,
                    Some(record.time),
                    record.offset,
                    &record.bytes,
                    &mut each,
                ),
                Event::Picture => {}
                Event::Gap => {
                    if let Some(gap) = izba_sources::Gap::of(&record) {
                        splitter.skip(gap.lines, &gap.carry);
                    }
                }
                Event::Start | Event::End { .. } | Event::Typed | Event::Update => {
                    splitter.finish(Some(record.time), &mut each)
                }
            }
        }
    }
    Ok(gathered)
}

fn engine(project: &Arc<Project>) -> Engine {
    let mut engine = Engine::new(project.clone());
    engine.set_zone(jiff::tz::TimeZone::system());
    engine
}

/// Values and sightings of one line.
fn take(
    engine: &Engine,
    values: &mut Values,
    source: SourceId,
    number: u64,
    line: &RawLine<'_>,
    time: Option<i64>,
) {
    let Some(time) = time else { return };
    match engine.group_at(LineRef { source, line: number }, line.stream) {
        Some((group, true)) => values.error(group, time),
        Some(_) => {}
        None => values.read(source.0, &engine.layouts(source), number, time, &decode(&line.bytes)),
    }
}

/// Values of a log: at the times that its lines print, or, where none does, by the numbers of its
/// lines.
fn values_of_file(
    gathered: &mut Gathered,
    source: SourceId,
    path: &Path,
) -> Result<(), CommandError> {
    let failed = |e: std::io::Error| {
        CommandError::input(format!(
            "cannot read {}: {}",
            path.display(),
            izba_sources::plain_io(&e)
        ))
    };
    let zone = jiff::tz::TimeZone::system();
    let layouts = gathered.engine.layouts(source);
    let by_lines = gathered.engine.snapshot().timeline.start().is_none();
    gathered.by_lines |= by_lines;
    let mut last = None;
    let mut input = File::open(path).map_err(failed)?;
    let (mut splitter, mut offset, mut chunk) = (Splitter::default(), 0u64, vec![0; 1 << 16]);
    let Gathered { engine, values, .. } = gathered;
    let mut each = |number: u64, line: RawLine<'_>| {
        let text = decode(&line.bytes);
        let printed = layouts
            .prefix(&text)
            .time
            .and_then(|(from, to)| izba_model::moment::printed(text.get(from..to)?)?.at(&zone));
        // A line without a time came right after the one before it.
        last = printed.map(|t| t.0).or(last);
        take(
            engine,
            values,
            source,
            number,
            &line,
            if by_lines { Some(number as i64) } else { last },
        );
    };
    loop {
        let read = input.read(&mut chunk).map_err(failed)?;
        if read == 0 {
            break;
        }
        splitter.feed(Stream::Out, None, offset, &chunk[..read], &mut each);
        offset += read as u64;
    }
    splitter.finish(None, &mut each);
    Ok(())
}
