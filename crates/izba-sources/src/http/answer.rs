//! Answers to senders over HTTP.

use http_body_util::Full;
use hyper::body::Bytes;
use hyper::header::{HeaderName, HeaderValue};
use hyper::{Response, StatusCode};

/// What a sender is told.
#[derive(Debug)]
pub(crate) struct Answer {
    status: StatusCode,
    headers: Vec<(&'static str, &'static str)>,
    body: String,
    /// Set when the page that asked is not let in, and so may not read the answer.
    foreign: bool,
}

impl Answer {
    /// A status alone.
    pub(crate) fn status(status: StatusCode) -> Answer {
        Answer { status, headers: Vec::new(), body: String::new(), foreign: false }
    }

    /// With a sentence.
    pub(crate) fn text(status: StatusCode, why: impl Into<String>) -> Answer {
        Answer { body: why.into(), ..Answer::status(status) }
            .with("content-type", "text/plain; charset=utf-8")
    }

    /// With a body of this kind.
    #[cfg(feature = "otlp")]
    pub(crate) fn of(status: StatusCode, kind: &'static str, body: impl Into<String>) -> Answer {
        Answer { body: body.into(), ..Answer::status(status) }.with("content-type", kind)
    }

    /// 413: what was sent is too much.
    pub(crate) fn too_large(why: String) -> Answer {
        Answer::text(StatusCode::PAYLOAD_TOO_LARGE, why).closing()
    }

    /// 429: others send so much that there is no room now.
    pub(crate) fn later() -> Answer {
        let why = "too much is sent at a time; send it again in a second";
        Answer::text(StatusCode::TOO_MANY_REQUESTS, why).with("retry-after", "1").closing()
    }

    /// Not for this page: it may not read why, either.
    pub(crate) fn for_nobody(mut self) -> Answer {
        self.foreign = true;
        self
    }

    /// With one more header.
    pub(crate) fn with(mut self, name: &'static str, value: &'static str) -> Answer {
        self.headers.push((name, value));
        self
    }

    /// The connection ends with it, since what the sender still sends is not read.
    pub(crate) fn closing(self) -> Answer {
        self.with("connection", "close")
    }

    /// As it is sent. `origin` is the page that asked, if one did.
    pub(crate) fn response(self, origin: Option<HeaderValue>) -> Response<Full<Bytes>> {
        let mut response = Response::new(Full::new(Bytes::from(self.body)));
        *response.status_mut() = self.status;
        for (name, value) in self.headers {
            let name = HeaderName::from_static(name);
            response.headers_mut().insert(name, HeaderValue::from_static(value));
        }
        if let (Some(origin), false) = (origin, self.foreign) {
            let headers = response.headers_mut();
            headers.insert("access-control-allow-origin", origin);
            headers.insert("vary", HeaderValue::from_static("origin"));
            headers.insert("access-control-allow-methods", HeaderValue::from_static("POST"));
            headers.insert(
                "access-control-allow-headers",
                HeaderValue::from_static("content-type, authorization"),
            );
        }
        response
    }
}
