//! run: a command, as it would be typed; under a debug adapter where one is named. And what is
//! piped in.

use super::act::{Act, is_outside, loads_code};
use super::kind::{Found, Line, Open, Opened, Origin, SourceKind, Wanted};
use crate::debugged::Debugged;
use izba_sources::{Command, CommandSpec, SourceError};
use std::net::SocketAddr;
use std::path::Path;

/// The kind of source for this: a command, as it would be typed.
pub static KIND: SourceKind =
    SourceKind { word: "run", what: "a command, as you type it", origin, acts };

fn origin(wanted: &Wanted, root: &Path) -> Found {
    let what = wanted.what.as_str();
    let folder = wanted.folder.as_ref().map_or_else(|| root.to_owned(), |f| root.join(f));
    if !folder.is_dir() {
        return Err(format!("the folder {} is not there", folder.display()));
    }
    let address = wanted.adapter.as_ref().and_then(|a| a.parse::<SocketAddr>().ok());
    if let (Some(adapter), None) = (&wanted.adapter, address) {
        let words: Vec<String> = what.split_whitespace().map(str::to_owned).collect();
        let debugged = Debugged::by(adapter, &words, &folder, &wanted.environment, &wanted.launch);
        return Ok((what.to_owned(), Box::new(debugged)));
    }
    let environment = wanted.environment.iter().map(|(n, v)| (n.into(), v.into())).collect();
    let spec = CommandSpec {
        words: vec!["sh".into(), "-c".into(), what.into()],
        folder,
        environment,
        pipes: wanted.pipes,
        inherit_input: false,
    };
    let command = Command::new(spec).map_err(|e| e.sentence())?;
    let origin: Origin = match address {
        Some(address) => Box::new(Debugged::at(command, address)),
        None => Box::new(command),
    };
    Ok((what.to_owned(), origin))
}

fn acts(wanted: &Wanted, root: &Path) -> Vec<Act> {
    let mut acts = vec![Act::plain(format!("run {}", wanted.what))];
    if let Some(folder) = wanted.folder.as_ref().filter(|f| is_outside(root, f)) {
        let told = folder.display().to_string();
        acts.push(Act::named(told.clone(), format!("run it in {told}, outside this folder")));
    }
    acts.extend(wanted.environment.iter().map(|(name, value)| match loads_code(name) {
        true => Act::named(name, format!("set {name} to {value}, which can load other code")),
        false => Act::plain(format!("set {name} to {value} for it")),
    }));
    if let Some(adapter) = &wanted.adapter {
        match adapter.parse::<SocketAddr>() {
            Ok(_) => acts.extend(Act::connect(adapter, "steer it at")),
            Err(_) => acts.push(Act::plain(format!("run {adapter}, to steer it"))),
        }
    }
    if !wanted.launch.is_empty() {
        let told = wanted.launch.to_string().trim_end().replace('\n', ", ");
        acts.push(Act::plain(format!("start it with: {told}")));
    }
    acts
}

/// A command, which can be started again.
impl Open for Command {
    fn open(self: Box<Self>, to: Line) -> Result<Opened, SourceError> {
        let running = Some(self.start(to.spool, to.bell)?);
        Ok(Opened { command: Some(*self), running, ..Opened::default() })
    }
}

/// A program that can be paused.
impl Open for Debugged {
    fn open(mut self: Box<Self>, to: Line) -> Result<Opened, SourceError> {
        let command = self.command.take();
        let running = command.as_ref().map(|c| c.start(to.spool, to.bell)).transpose()?;
        Ok(Opened { command, running, debugged: Some(self), ..Opened::default() })
    }
}

/// Standard input, read until it ends.
#[derive(Debug)]
pub struct Input(pub std::fs::File);

impl Open for Input {
    fn open(self: Box<Self>, to: Line) -> Result<Opened, SourceError> {
        izba_sources::read_input(self.0, to.spool, to.bell)?;
        Ok(Opened::by_itself())
    }
}
