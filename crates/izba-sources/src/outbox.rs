//! Telling a collector: records of logs are gathered, sent together over HTTP in the JSON form of
//! OTLP, and tried again while nobody takes them, as the standard asks (OTLP 1.x, “Failures”). What
//! waits is bounded: when the collector stays away, the oldest records are dropped and counted.

use serde_json::{Value, json};
use std::collections::VecDeque;
use std::sync::{Arc, Condvar, Mutex, MutexGuard, PoisonError};
use std::time::{Duration, Instant};

/// Records that wait at most.
const WAITING: usize = 2_000;
/// Records of one request.
const BATCH: usize = 200;
/// So long more records are waited for before some are sent.
const GATHER: Duration = Duration::from_millis(500);
/// The first wait after a failure; each further one is twice as long.
const FIRST_WAIT: Duration = Duration::from_secs(1);
/// The longest wait after a failure.
const LONGEST_WAIT: Duration = Duration::from_secs(30);
/// So long a collector may take for an answer, in seconds.
const PATIENCE: u64 = 5;
/// So long the rest is waited for in the end.
const REST: Duration = Duration::from_secs(1);

/// How it goes with telling.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Told {
    /// Records that the collector took.
    pub taken: u64,
    /// Records that wait.
    pub waiting: u64,
    /// Records that were given up: too many waited, or the collector will not have them.
    pub dropped: u64,
    /// What hinders it now.
    pub trouble: Option<String>,
}

#[derive(Debug, Default)]
struct Tray {
    records: VecDeque<Value>,
    told: Told,
    /// Whether records are on their way.
    sending: bool,
    /// Whether somebody waits for them.
    hurried: bool,
    over: bool,
}

#[derive(Debug, Default)]
struct Shared {
    tray: Mutex<Tray>,
    changed: Condvar,
}

impl Tray {
    fn standing(&self) -> Told {
        Told { waiting: self.records.len() as u64, ..self.told.clone() }
    }
}

impl Shared {
    fn tray(&self) -> MutexGuard<'_, Tray> {
        self.tray.lock().unwrap_or_else(PoisonError::into_inner)
    }
}

/// Tells a collector until it is dropped; what waits then has a second to leave.
#[derive(Debug)]
pub struct Outbox {
    shared: Arc<Shared>,
    address: String,
}

/// What became of a request.
enum Answer {
    Taken,
    /// It may be taken later.
    Later(String),
    /// It will never be taken.
    Never(String),
}

/// The address at which a collector takes logs, made of what somebody typed: `127.0.0.1:4318`,
/// `http://collector:4318`, or one with a path of its own; a question behind it stays, such as
/// `?access_token=…`.
///
/// # Errors
///
/// A sentence, when it is no such address.
pub fn collector(typed: &str) -> Result<String, String> {
    let typed = typed.trim();
    let rest = typed.strip_prefix("http://").unwrap_or(typed);
    if typed.starts_with("https://") {
        return Err(format!(
            "{typed} wants encryption, which is not spoken here: name a collector of this machine \
             that passes it on"
        ));
    }
    let (host, path) = rest.split_at(rest.find(['/', '?']).unwrap_or(rest.len()));
    let (path, question) = path.split_at(path.find('?').unwrap_or(path.len()));
    let (name, port) = host.rsplit_once(':').unwrap_or((host, ""));
    let well = !name.is_empty()
        && host.chars().all(|c| c.is_ascii_alphanumeric() || "-.:[]_".contains(c))
        && port.parse::<u16>().is_ok_and(|port| port > 0)
        && path.chars().chain(question.chars()).all(|c| c.is_ascii_graphic());
    if !well {
        return Err(format!("“{typed}” is no address of a collector, such as 127.0.0.1:4318"));
    }
    let path = if path.len() > 1 { path } else { "/v1/logs" };
    Ok(format!("http://{host}{path}{question}"))
}

/// An address without what only its owner should see.
fn shown(address: &str) -> &str {
    address.split('?').next().unwrap_or(address)
}

impl Outbox {
    /// Tells the collector at an address of [`collector`], under this resource and scope.
    ///
    /// # Errors
    ///
    /// When no thread can be started.
    pub fn open(address: String, resource: Value, scope: &str) -> std::io::Result<Outbox> {
        let shared = Arc::new(Shared::default());
        let scope = json!({ "name": scope, "version": env!("CARGO_PKG_VERSION") });
        let outbox = Outbox { shared: shared.clone(), address: address.clone() };
        let request = move |records: &[Value]| {
            json!({ "resourceLogs": [{
                "resource": resource,
                "scopeLogs": [{ "scope": scope, "logRecords": records }],
            }]})
            .to_string()
        };
        std::thread::Builder::new()
            .name("outbox".into())
            .spawn(move || deliver(&shared, |records| post(&address, request(records))))?;
        Ok(outbox)
    }

    /// The address that is told, without its question.
    pub fn address(&self) -> &str {
        shown(&self.address)
    }

    /// Takes records to be told; of too many the oldest are dropped.
    pub fn put(&self, records: impl IntoIterator<Item = Value>) {
        let mut tray = self.shared.tray();
        tray.records.extend(records);
        let over = tray.records.len().saturating_sub(WAITING);
        tray.records.drain(..over);
        tray.told.dropped += over as u64;
        drop(tray);
        self.shared.changed.notify_all();
    }

    /// Sends what waits, for a second at most.
    pub fn settle(&self) {
        let mut tray = self.shared.tray();
        tray.hurried = true;
        self.shared.changed.notify_all();
        let until = Instant::now() + REST;
        // A failure ends the hurry.
        while tray.hurried && (tray.sending || !tray.records.is_empty()) {
            let Some(left) = until.checked_duration_since(Instant::now()) else { break };
            let waited = self.shared.changed.wait_timeout(tray, left);
            tray = waited.unwrap_or_else(PoisonError::into_inner).0;
        }
        tray.hurried = false;
    }

    /// How it goes.
    pub fn told(&self) -> Told {
        self.shared.tray().standing()
    }
}

impl Drop for Outbox {
    fn drop(&mut self) {
        self.shared.tray().over = true;
        self.settle();
    }
}

/// Sends what is put into the tray until it is over and empty, or a failure comes after that.
fn deliver(shared: &Shared, post: impl Fn(&[Value]) -> Answer) {
    let mut wait = FIRST_WAIT;
    while let Some(batch) = gathered(shared) {
        let answer = post(&batch);
        let mut tray = shared.tray();
        tray.sending = false;
        match answer {
            Answer::Taken => {
                tray.told.taken += batch.len() as u64;
                tray.told.trouble = None;
                wait = FIRST_WAIT;
            }
            Answer::Never(why) => {
                tray.told.dropped += batch.len() as u64;
                tray.told.trouble = Some(why);
            }
            Answer::Later(why) => {
                tray.told.trouble = Some(why);
                tray.hurried = false;
                for record in batch.into_iter().rev() {
                    tray.records.push_front(record);
                }
                if tray.over {
                    break;
                }
                let until = Instant::now() + wait;
                wait = (wait * 2).min(LONGEST_WAIT);
                while let Some(left) = until.checked_duration_since(Instant::now())
                    && !tray.over
                    && !tray.hurried
                {
                    let waited = shared.changed.wait_timeout(tray, left);
                    tray = waited.unwrap_or_else(PoisonError::into_inner).0;
                }
            }
        }
        drop(tray);
        shared.changed.notify_all();
    }
    shared.changed.notify_all();
}

/// The next records to be sent, after a moment in which more may come; `None` when it is over.
fn gathered(shared: &Shared) -> Option<Vec<Value>> {
    let mut tray = shared.tray();
    while tray.records.is_empty() {
        if tray.over {
            return None;
        }
        tray = shared.changed.wait(tray).unwrap_or_else(PoisonError::into_inner);
    }
    let until = Instant::now() + GATHER;
    while let Some(left) = until.checked_duration_since(Instant::now())
        && !tray.over
        && !tray.hurried
        && tray.records.len() < BATCH
    {
        tray = shared.changed.wait_timeout(tray, left).unwrap_or_else(PoisonError::into_inner).0;
    }
    let count = tray.records.len().min(BATCH);
    tray.sending = true;
    Some(tray.records.drain(..count).collect())
}

/// Sends a request; what the answer means is the standard's: these four may be tried again.
fn post(address: &str, body: String) -> Answer {
    let asked = minreq::post(address)
        .with_header("content-type", "application/json")
        .with_body(body)
        .with_timeout(PATIENCE)
        .with_max_redirects(0)
        .send_lazy();
    match asked.map(|answer| answer.status_code) {
        Ok(200..=299) => Answer::Taken,
        Ok(401 | 403) => Answer::Never(
            "nobody is let in without the token: --tell 'HOST:4318?access_token=…'".into(),
        ),
        Ok(status @ (429 | 502 | 503 | 504)) => {
            Answer::Later(format!("it answers {status}; it is tried again"))
        }
        Ok(status) => Answer::Never(format!("it answers {status} and will not have it")),
        Err(_) => Answer::Later("nobody answers; it is tried again".into()),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;
    use std::cell::RefCell;

    #[test]
    fn an_address_is_made_whole_or_refused_with_what_is_wrong() {
        for (typed, address) in [
            ("127.0.0.1:4318", "http://127.0.0.1:4318/v1/logs"),
            (" http://collector:4318/ ", "http://collector:4318/v1/logs"),
            ("[::1]:4318", "http://[::1]:4318/v1/logs"),
            ("http://quay:80/in/v1/logs", "http://quay:80/in/v1/logs"),
            ("quay:80?access_token=a", "http://quay:80/v1/logs?access_token=a"),
        ] {
            assert_eq!(collector(typed).as_deref(), Ok(address));
        }
        for typed in ["", "4318", "collector", "http://:4318", "a b:1", "quay:0", "quay:99999"] {
            assert!(collector(typed).is_err_and(|why| why.contains("no address")), "{typed}");
        }
        assert!(collector("https://quay:1").is_err_and(|why| why.contains("encryption")));
    }

    proptest! {
        #[test]
        fn whatever_is_typed_gives_an_address_of_one_line_or_a_sentence(typed in "\\PC{0,40}") {
            if let Ok(address) = collector(&typed) {
                prop_assert!(address.starts_with("http://"));
                prop_assert!(address.chars().all(|c| c.is_ascii_graphic()));
            }
        }
    }

    /// Delivers what is in the tray with these answers, one after the other; the batches that were
    /// sent.
    fn delivered(records: usize, answers: Vec<Answer>) -> (Vec<usize>, Told) {
        let shared = Shared::default();
        shared.tray().records.extend((0..records).map(Value::from));
        shared.tray().over = true;
        let (sent, answers) = (RefCell::new(Vec::new()), RefCell::new(answers));
        deliver(&shared, |batch| {
            sent.borrow_mut().push(batch.len());
            answers.borrow_mut().pop().unwrap_or(Answer::Taken)
        });
        (sent.into_inner(), shared.tray().standing())
    }

    #[test]
    fn many_records_leave_in_batches_and_what_is_refused_is_counted() {
        let (sent, told) = delivered(450, vec![Answer::Never("no".into())]);
        assert_eq!(sent, [200, 200, 50]);
        assert_eq!((told.taken, told.dropped, told.waiting), (250, 200, 0));
    }

    #[test]
    fn what_nobody_takes_waits_in_its_order_and_is_lost_to_no_one() {
        let (sent, told) = delivered(3, vec![Answer::Later("away".into())]);
        assert_eq!(sent, [3]);
        assert_eq!((told.taken, told.dropped, told.waiting), (0, 0, 3));
        assert_eq!(told.trouble.as_deref(), Some("away"));
    }

    #[test]
    fn of_too_many_the_oldest_are_dropped() {
        let outbox = Outbox { shared: Arc::default(), address: String::new() };
        outbox.put((0..WAITING + 7).map(Value::from));
        assert_eq!((outbox.told().waiting, outbox.told().dropped), (WAITING as u64, 7));
        assert_eq!(outbox.shared.tray().records.front(), Some(&Value::from(7)));
        outbox.shared.tray().records.clear();
    }
}
