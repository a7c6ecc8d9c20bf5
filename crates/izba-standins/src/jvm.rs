//! How the Java machine prints an exception: its steps, and its causes with the steps that they
//! share left out.

use crate::curly::{Frame, Raised};
use std::rc::Rc;

/// A step in a library, which is no file of the project.
pub fn outside(class: &str, method: &str, file: &str, line: usize) -> Frame {
    Frame { class: class.into(), method: method.into(), file: file.into(), line }
}

/// An exception of the program that runs ours, with steps of its own.
pub fn raised(
    kind: &str,
    message: &str,
    frames: Vec<Frame>,
    cause: Option<Rc<Raised>>,
) -> Rc<Raised> {
    Rc::new(Raised {
        kind: kind.into(),
        message: (!message.is_empty()).then(|| message.to_owned()),
        frames,
        cause,
    })
}

/// The exception with `below` under all its steps, and under those of its causes.
pub fn called_from(raised: &Raised, below: &[Frame]) -> Rc<Raised> {
    let frames = raised.frames.iter().chain(below).cloned().collect();
    Rc::new(Raised {
        frames,
        cause: raised.cause.as_deref().map(|c| called_from(c, below)),
        ..raised.clone()
    })
}

/// The lines of a trace.
pub fn trace(raised: &Raised) -> Vec<String> {
    let mut lines = vec![raised.sentence()];
    let mut told = raised;
    lines.extend(told.frames.iter().map(step));
    while let Some(cause) = told.cause.as_deref() {
        lines.push(format!("Caused by: {}", cause.sentence()));
        let shared = cause
            .frames
            .iter()
            .rev()
            .zip(told.frames.iter().rev())
            .take_while(|(a, b)| a == b)
            .count();
        lines.extend(cause.frames[..cause.frames.len() - shared].iter().map(step));
        if shared > 0 {
            lines.push(format!("\t... {shared} more"));
        }
        told = cause;
    }
    lines
}

fn step(frame: &Frame) -> String {
    let module = if frame.class.starts_with("java.")
        || frame.class.starts_with("sun.")
        || frame.class.starts_with("jdk.")
    {
        "java.base/"
    } else {
        ""
    };
    format!("\tat {module}{}.{}({}:{})", frame.class, frame.method, frame.file, frame.line)
}

/// The steps below everything that runs in a pool of the Java machine.
pub fn pool() -> Vec<Frame> {
    vec![
        outside("java.util.concurrent.Executors$RunnableAdapter", "call", "Executors.java", 539),
        outside("java.util.concurrent.FutureTask", "run", "FutureTask.java", 264),
        outside(
            "java.util.concurrent.ThreadPoolExecutor",
            "runWorker",
            "ThreadPoolExecutor.java",
            1136,
        ),
        outside(
            "java.util.concurrent.ThreadPoolExecutor$Worker",
            "run",
            "ThreadPoolExecutor.java",
            635,
        ),
        outside("java.lang.Thread", "run", "Thread.java", 840),
    ]
}
