//! The conversation: what the editor says and asks, and what is told to it.

use crate::acts;
use crate::place::{Units, url};
use crate::root::{Checked, Root};
use crate::shown::{self, Heard};
use crate::tell;
use crate::told::Told;
use crossbeam_channel::{Receiver, Sender, select, unbounded};
use izba_files::Saved;
use lsp_server::{Connection, ErrorCode, Message, Notification, Request, RequestId, Response};
use lsp_types::notification::{self as told, Notification as _};
use lsp_types::request::{self as asked, Request as _};
use lsp_types::{
    CodeActionKind, CodeActionOptions, CodeActionParams, CodeActionProviderCapability, CodeLens,
    CodeLensOptions, CodeLensParams, Command, DidChangeTextDocumentParams,
    DidChangeWorkspaceFoldersParams, DidCloseTextDocumentParams, DidOpenTextDocumentParams,
    ExecuteCommandOptions, ExecuteCommandParams, Hover, HoverContents, HoverParams,
    HoverProviderCapability, InitializeParams, MarkupContent, MarkupKind, MessageType, OneOf,
    ProgressParams, ProgressParamsValue, PublishDiagnosticsParams, Range, ServerCapabilities,
    ShowMessageParams, TextDocumentContentChangeEvent, TextDocumentSyncCapability,
    TextDocumentSyncKind, Url, WorkDoneProgress, WorkDoneProgressBegin,
    WorkDoneProgressCreateParams, WorkDoneProgressEnd, WorkspaceFolder,
    WorkspaceFoldersServerCapabilities, WorkspaceServerCapabilities,
};
use serde_json::Value;
use std::collections::HashMap;
use std::path::{Path, PathBuf};
use std::sync::Arc;

/// Where to look.
#[derive(Debug, Clone, Default)]
pub struct Options {
    /// The store in which sessions are found; the usual one where none is named.
    pub store: Option<PathBuf>,
    /// The folder to look at where the editor names none.
    pub folder: Option<PathBuf>,
}

/// How the conversation ended.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Served {
    /// The editor said that it ends.
    Asked,
    /// The editor was gone.
    Gone,
}

/// What the server can do, with columns in the units that both understand.
fn capabilities(units: Units) -> ServerCapabilities {
    let folders = WorkspaceFoldersServerCapabilities {
        supported: Some(true),
        change_notifications: Some(OneOf::Left(true)),
    };
    ServerCapabilities {
        position_encoding: Some(units.kind()),
        text_document_sync: Some(TextDocumentSyncCapability::Kind(
            TextDocumentSyncKind::INCREMENTAL,
        )),
        hover_provider: Some(HoverProviderCapability::Simple(true)),
        code_action_provider: Some(CodeActionProviderCapability::Options(CodeActionOptions {
            code_action_kinds: Some(vec![CodeActionKind::QUICKFIX]),
            ..CodeActionOptions::default()
        })),
        code_lens_provider: Some(CodeLensOptions { resolve_provider: Some(false) }),
        execute_command_provider: Some(ExecuteCommandOptions {
            commands: vec![acts::ASK.into()],
            ..ExecuteCommandOptions::default()
        }),
        workspace: Some(WorkspaceServerCapabilities {
            workspace_folders: Some(folders),
            ..WorkspaceServerCapabilities::default()
        }),
        ..ServerCapabilities::default()
    }
}

fn units_of(client: &InitializeParams) -> Units {
    let general = client.capabilities.general.as_ref();
    Units::offered(general.and_then(|g| g.position_encodings.as_deref()))
}

/// What comes from within: each with the folder that it is of.
enum Inner {
    Checked(PathBuf, Box<Checked>),
    Saved(PathBuf, Saved),
    Heard(PathBuf, Heard),
}

/// A text that the editor has open.
struct Open {
    text: String,
    version: i32,
}

struct Server {
    out: Sender<Message>,
    units: Units,
    options: Options,
    roots: Vec<Root>,
    open: HashMap<Url, Open>,
    inner: Sender<Inner>,
    /// Whether the editor shows how far something is.
    shows_progress: bool,
    /// Whether it asks for lenses again when it is told to.
    renews_lenses: bool,
    requests: i32,
}

/// Talks with an editor until it ends.
///
/// # Errors
///
/// A sentence, when the editor does not begin as the protocol says.
pub fn serve(connection: &Connection, options: Options) -> Result<Served, String> {
    let wrong = |e: lsp_server::ProtocolError| format!("the editor does not speak LSP: {e}");
    let (id, params) = connection.initialize_start().map_err(wrong)?;
    let client: InitializeParams = serde_json::from_value(params)
        .map_err(|e| format!("the editor's first message can't be read: {e}"))?;
    let units = units_of(&client);
    let info = serde_json::json!({
        "capabilities": capabilities(units),
        "serverInfo": { "name": "izba", "version": env!("CARGO_PKG_VERSION") },
    });
    connection.initialize_finish(id, info).map_err(wrong)?;
    let (inner, news) = unbounded();
    let window = client.capabilities.window.as_ref();
    let lenses = client.capabilities.workspace.as_ref().and_then(|w| w.code_lens.as_ref());
    let mut server = Server {
        out: connection.sender.clone(),
        units,
        options,
        roots: Vec::new(),
        open: HashMap::new(),
        inner,
        shows_progress: window.and_then(|w| w.work_done_progress) == Some(true),
        renews_lenses: lenses.and_then(|l| l.refresh_support) == Some(true),
        requests: 0,
    };
    for folder in folders_of(&client, &server.options) {
        server.open_folder(folder);
    }
    Ok(server.run(&connection.receiver, &news))
}

/// The folders that the editor has open.
fn folders_of(client: &InitializeParams, options: &Options) -> Vec<PathBuf> {
    let named = client.workspace_folders.iter().flatten();
    let mut folders: Vec<PathBuf> =
        named.filter_map(|f: &WorkspaceFolder| f.uri.to_file_path().ok()).collect();
    if folders.is_empty() {
        #[expect(deprecated, reason = "older editors name their folder in no other way")]
        let one = client.root_uri.as_ref().and_then(|uri| uri.to_file_path().ok());
        folders.extend(one.or_else(|| options.folder.clone()));
    }
    folders.dedup();
    folders
}

impl Server {
    fn run(mut self, said: &Receiver<Message>, news: &Receiver<Inner>) -> Served {
        let mut over = false;
        loop {
            select! {
                recv(said) -> message => match message {
                    Ok(Message::Request(request)) if request.method == asked::Shutdown::METHOD => {
                        over = true;
                        self.answer(Response::new_ok(request.id, ()));
                    }
                    // Behind the end nothing is answered any more (LSP 3.17, shutdown).
                    Ok(Message::Request(request)) if over => {
                        let code = ErrorCode::InvalidRequest as i32;
                        self.answer(Response::new_err(request.id, code, "it is shut down".into()));
                    }
                    Ok(Message::Request(request)) => self.asked(request),
                    Ok(Message::Notification(n)) if n.method == told::Exit::METHOD => {
                        return if over { Served::Asked } else { Served::Gone };
                    }
                    Ok(Message::Notification(notification)) => self.noted(notification),
                    Ok(Message::Response(_)) => {}
                    Err(_) => return Served::Gone,
                },
                recv(news) -> inner => match inner {
                    Ok(inner) => self.learn(inner),
                    // The server itself holds an end, so that there always is one.
                    Err(_) => return Served::Gone,
                },
            }
        }
    }

    fn open_folder(&mut self, folder: PathBuf) {
        let folder = folder.canonicalize().unwrap_or(folder);
        if self.roots.iter().any(|r| r.path == folder) {
            return;
        }
        self.progress(&folder, true);
        let (found, at) = (self.inner.clone(), folder.clone());
        let (saves, of) = (self.inner.clone(), folder.clone());
        let root = Root::open(
            folder.clone(),
            move |checked| found.send(Inner::Checked(at.clone(), Box::new(checked))).is_ok(),
            move |saved| drop(saves.send(Inner::Saved(of.clone(), saved))),
        );
        let open = Arc::downgrade(&root.open_still);
        self.roots.push(root);
        let (hears, of) = (self.inner.clone(), folder.clone());
        shown::look_on(self.options.store.clone(), folder, open, move |heard| {
            hears.send(Inner::Heard(of.clone(), heard)).is_ok()
        });
    }

    fn close_folder(&mut self, folder: &Path) {
        let Some(at) = self.roots.iter().position(|r| r.path == folder) else { return };
        let mut root = self.roots.remove(at);
        for file in std::mem::take(&mut root.told).into_keys() {
            self.publish(&root.path, &file, Vec::new());
        }
    }

    /// Something was found out, saved or heard.
    fn learn(&mut self, inner: Inner) {
        let (Inner::Checked(folder, _) | Inner::Saved(folder, _) | Inner::Heard(folder, _)) =
            &inner;
        let folder = folder.clone();
        let Some(at) = self.roots.iter().position(|r| r.path == folder) else { return };
        let root = &mut self.roots[at];
        let first = root.checked.project.is_none();
        match inner {
            Inner::Checked(_, checked) => root.checked = *checked,
            Inner::Saved(_, saved) => root.saved(saved),
            Inner::Heard(_, Heard::Begins(socket, stream)) => {
                root.asked.insert(socket, stream);
            }
            Inner::Heard(_, Heard::Told(socket, shown)) => root.hear(socket, *shown),
            Inner::Heard(_, Heard::Ends(socket)) => {
                root.sessions.remove(&socket);
                root.asked.remove(&socket);
            }
        }
        if first && self.roots[at].checked.project.is_some() {
            self.progress(&folder, false);
        }
        self.tell(at);
    }

    /// Tells what is to be told otherwise now.
    fn tell(&mut self, at: usize) {
        let other = tell::renew(&mut self.roots[at], self.units);
        if other.is_empty() {
            return;
        }
        let path = self.roots[at].path.clone();
        for file in other {
            let told = self.roots[at].told.get(&file).into_iter().flatten();
            let all = told.map(|t| t.diagnostic.clone()).collect();
            self.publish(&path, &file, all);
        }
        if self.renews_lenses {
            self.ask_editor::<asked::CodeLensRefresh>(());
        }
    }

    fn publish(&self, root: &Path, file: &str, diagnostics: Vec<lsp_types::Diagnostic>) {
        let Some(uri) = url(root, file) else { return };
        let version = self.open.get(&uri).map(|open| open.version);
        self.say::<told::PublishDiagnostics>(PublishDiagnosticsParams {
            uri,
            diagnostics,
            version,
        });
    }

    fn say<N: told::Notification>(&self, params: N::Params)
    where
        N::Params: serde::Serialize,
    {
        // An editor that is gone hears nothing.
        let _ = self.out.send(Notification::new(N::METHOD.into(), params).into());
    }

    fn ask_editor<R: asked::Request>(&mut self, params: R::Params)
    where
        R::Params: serde::Serialize,
    {
        self.requests += 1;
        let id = RequestId::from(format!("izba-{}", self.requests));
        let _ = self.out.send(Request::new(id, R::METHOD.into(), params).into());
    }

    fn answer(&self, response: Response) {
        let _ = self.out.send(response.into());
    }

    /// Says that a folder is being read, or that it is.
    fn progress(&mut self, folder: &Path, begins: bool) {
        if !self.shows_progress {
            return;
        }
        let name = folder.file_name().unwrap_or_default().to_string_lossy();
        let token = lsp_types::ProgressToken::String(format!("izba-{}", folder.display()));
        let step = if begins {
            let params = WorkDoneProgressCreateParams { token: token.clone() };
            self.ask_editor::<asked::WorkDoneProgressCreate>(params);
            WorkDoneProgress::Begin(WorkDoneProgressBegin {
                title: format!("Izba reads {name}"),
                ..WorkDoneProgressBegin::default()
            })
        } else {
            WorkDoneProgress::End(WorkDoneProgressEnd { message: None })
        };
        let value = ProgressParamsValue::WorkDone(step);
        self.say::<told::Progress>(ProgressParams { token, value });
    }

    fn noted(&mut self, said: Notification) {
        match said.method.as_str() {
            told::DidOpenTextDocument::METHOD => {
                if let Some(p) = read::<DidOpenTextDocumentParams>(said.params) {
                    let (text, version) = (p.text_document.text, p.text_document.version);
                    self.edit(p.text_document.uri, Some(Open { text, version }));
                }
            }
            told::DidChangeTextDocument::METHOD => {
                if let Some(p) = read::<DidChangeTextDocumentParams>(said.params) {
                    let uri = p.text_document.uri;
                    let Some(mut open) = self.open.remove(&uri) else { return };
                    open.version = p.text_document.version;
                    p.content_changes
                        .into_iter()
                        .for_each(|c| apply(&mut open.text, c, self.units));
                    self.edit(uri, Some(open));
                }
            }
            told::DidCloseTextDocument::METHOD => {
                if let Some(p) = read::<DidCloseTextDocumentParams>(said.params) {
                    self.edit(p.text_document.uri, None);
                }
            }
            told::DidChangeWorkspaceFolders::METHOD => {
                if let Some(p) = read::<DidChangeWorkspaceFoldersParams>(said.params) {
                    let path = |f: &WorkspaceFolder| f.uri.to_file_path().ok();
                    let real = |p: PathBuf| p.canonicalize().unwrap_or(p);
                    let gone: Vec<PathBuf> =
                        p.event.removed.iter().filter_map(path).map(real).collect();
                    gone.iter().for_each(|folder| self.close_folder(folder));
                    let added: Vec<PathBuf> = p.event.added.iter().filter_map(path).collect();
                    added.into_iter().for_each(|folder| self.open_folder(folder));
                }
            }
            _ => {}
        }
    }

    /// The editor shows a text, or no longer.
    fn edit(&mut self, uri: Url, open: Option<Open>) {
        let text: Option<Arc<str>> = open.as_ref().map(|o| o.text.as_str().into());
        if let Some((at, file)) = self.place_of(&uri) {
            self.roots[at].edit(file, text);
        }
        match open {
            Some(open) => drop(self.open.insert(uri, open)),
            None => drop(self.open.remove(&uri)),
        }
    }

    /// The folder of a file, the innermost of several, and its path there.
    fn place_of(&self, uri: &Url) -> Option<(usize, Arc<str>)> {
        let path = uri.to_file_path().ok()?;
        let mut found: Vec<(usize, Arc<str>)> = self
            .roots
            .iter()
            .enumerate()
            .filter_map(|(at, r)| Some((at, r.within(&path)?)))
            .collect();
        found.sort_by_key(|(at, _)| std::cmp::Reverse(self.roots[*at].path.as_os_str().len()));
        found.into_iter().next()
    }

    fn asked(&mut self, request: Request) {
        let id = request.id.clone();
        let answer: Result<Value, (ErrorCode, String)> = match request.method.as_str() {
            asked::CodeActionRequest::METHOD => with::<CodeActionParams>(request.params, |p| {
                let place = self.place_of(&p.text_document.uri);
                let offer =
                    |(at, file): (usize, Arc<str>)| acts::offered(&self.roots[at], &file, p.range);
                value(place.map(offer).unwrap_or_default())
            }),
            asked::HoverRequest::METHOD => with::<HoverParams>(request.params, |p| {
                let at = p.text_document_position_params;
                value(self.hover(&at.text_document.uri, at.position.line))
            }),
            asked::CodeLensRequest::METHOD => {
                with::<CodeLensParams>(request.params, |p| value(self.lenses(&p.text_document.uri)))
            }
            asked::ExecuteCommand::METHOD => with::<ExecuteCommandParams>(request.params, |p| {
                if p.command == acts::ASK
                    && let Err(sentence) = acts::ask(&self.roots, &p.arguments)
                {
                    let params = ShowMessageParams { typ: MessageType::WARNING, message: sentence };
                    self.say::<told::ShowMessage>(params);
                }
                Value::Null
            }),
            method => Err((ErrorCode::MethodNotFound, format!("{method} is not known here"))),
        };
        self.answer(match answer {
            Ok(result) => Response::new_ok(id, result),
            Err((code, sentence)) => Response::new_err(id, code as i32, sentence),
        });
    }

    /// What the errors of a line mean.
    fn hover(&self, uri: &Url, line: u32) -> Option<Hover> {
        let (at, file) = self.place_of(uri)?;
        let told = self.roots[at].told.get(&file)?;
        let here: Vec<_> = told.iter().filter(|t| t.diagnostic.range.start.line == line).collect();
        let range = here.first()?.diagnostic.range;
        let means: Vec<&str> = here.iter().map(|t| t.means.as_str()).collect();
        let value = means.join("\n\n---\n\n");
        let contents = MarkupContent { kind: MarkupKind::Markdown, value };
        Some(Hover { contents: HoverContents::Markup(contents), range: Some(range) })
    }

    /// What stands above the lines of a file.
    fn lenses(&self, uri: &Url) -> Vec<CodeLens> {
        let Some((at, file)) = self.place_of(uri) else { return Vec::new() };
        let told = self.roots[at].told.get(&file).into_iter().flatten();
        let lens = |told: &Told| {
            let title = told.above.clone()?;
            let start = told.diagnostic.range.start;
            // Words only: there is nothing to be done by choosing them.
            let command = Some(Command { title, command: String::new(), arguments: None });
            Some(CodeLens { range: Range::new(start, start), command, data: None })
        };
        told.filter_map(lens).collect()
    }
}

/// The parameters of a notification; what can't be read is left alone.
fn read<P: serde::de::DeserializeOwned>(params: Value) -> Option<P> {
    serde_json::from_value(params).ok()
}

/// Answers a request with its parameters, or says that they can't be read.
fn with<P: serde::de::DeserializeOwned>(
    params: Value,
    answer: impl FnOnce(P) -> Value,
) -> Result<Value, (ErrorCode, String)> {
    match serde_json::from_value(params) {
        Ok(params) => Ok(answer(params)),
        Err(e) => Err((ErrorCode::InvalidParams, format!("this can't be read: {e}"))),
    }
}

fn value(answer: impl serde::Serialize) -> Value {
    serde_json::to_value(answer).unwrap_or(Value::Null)
}

/// Makes one change of a text.
fn apply(text: &mut String, change: TextDocumentContentChangeEvent, units: Units) {
    let Some(range) = change.range else {
        *text = change.text;
        return;
    };
    let from = units.byte_of(text, range.start);
    let to = units.byte_of(text, range.end).max(from);
    text.replace_range(from..to, &change.text);
}
