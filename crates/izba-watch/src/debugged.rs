//! A program under a debug adapter.

use izba_dap::Begin;
use izba_sources::{Command, CommandSpec, Reach};
use std::collections::BTreeMap;
use std::net::SocketAddr;
use std::path::Path;

/// A program under a debug adapter.
#[derive(Debug)]
pub struct Debugged {
    /// The program, where Izba starts it itself; else the adapter does.
    pub command: Option<Command>,
    /// Where the adapter is.
    pub reach: Reach,
    /// How it begins.
    pub begin: Begin,
    /// The program by itself, without any adapter, where the adapter starts it.
    pub alone: Option<Command>,
}

impl Debugged {
    /// A program whose adapter listens at an address, once it runs.
    pub fn at(command: Command, address: SocketAddr) -> Debugged {
        Debugged {
            command: Some(command),
            reach: Reach::Address(address),
            begin: Begin::Attach(serde_json::json!({})),
            alone: None,
        }
    }

    /// An adapter, as a command line, that starts a program: the words of what to run, and what the
    /// adapter asks for beyond that in words of its own.
    pub fn by(
        adapter: &str,
        words: &[String],
        folder: &Path,
        environment: &BTreeMap<String, String>,
        launch: &toml::Table,
    ) -> Debugged {
        let program = words.first().map_or("", String::as_str);
        let path = folder.join(program);
        let program =
            if path.is_file() { path.to_string_lossy().into_owned() } else { program.to_owned() };
        let mut arguments = serde_json::json!({
            "name": "izba", "type": "izba", "request": "launch",
            "program": program, "args": words.get(1..).unwrap_or_default(),
            "cwd": folder.to_string_lossy(), "env": environment,
            "console": "internalConsole", "stopOnEntry": false
        });
        // What the user says of it comes first.
        for (name, value) in launch {
            arguments[name] = serde_json::to_value(value).unwrap_or_default();
        }
        let reach = match adapter.parse::<SocketAddr>() {
            Ok(address) => Reach::Address(address),
            Err(_) => Reach::Command {
                words: ["sh", "-c", &format!("exec {adapter}")].map(Into::into).to_vec(),
                folder: folder.to_owned(),
                environment: environment.iter().map(|(n, v)| (n.into(), v.into())).collect(),
            },
        };
        let spec = CommandSpec {
            words: words.iter().map(Into::into).collect(),
            folder: folder.to_owned(),
            environment: environment.iter().map(|(n, v)| (n.into(), v.into())).collect(),
            pipes: true,
            inherit_input: false,
        };
        Debugged {
            command: None,
            reach,
            begin: Begin::Launch(arguments),
            alone: Command::new(spec).ok(),
        }
    }
}
