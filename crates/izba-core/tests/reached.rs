//! Requests that get no answer, as runtimes and browsers say it: what is told of them, and what is no
//! such error.

use izba_core::Engine;
use izba_model::{Family, Project, Stream};
use std::sync::Arc;

/// The family and the headline of the first error of a console.
fn told(console: &str) -> Option<(Family, String)> {
    let project = Arc::new(Project::new("/srv/marsh", Vec::new()));
    let mut engine = Engine::new(project.clone());
    let source = engine.add_source("console");
    engine.start_run(source, None, project);
    engine.feed(source, Stream::Out, None, 0, console.as_bytes());
    engine.finish();
    let groups = engine.groups();
    let first = groups.first()?;
    Some((first.entry.family, first.explanation.headline.to_string()))
}

#[test]
fn who_gives_no_answer_and_why_is_told_of_each_runtimes_sentence() {
    for (console, words) in [
        (
            "Error: connect ECONNREFUSED 127.0.0.1:8080\n    at x (node:net:1:1)\n",
            "nothing listens at `127.0.0.1:8080`",
        ),
        (
            "Error: getaddrinfo ENOTFOUND ferry.invalid\n    at x (node:dns:1:1)\n",
            "`ferry.invalid` is not known",
        ),
        (
            "Error: listen EADDRINUSE: address already in use :::3000\n    at x (node:net:1:1)\n",
            "the port `3000` is taken",
        ),
        (
            "Traceback (most recent call last):\n  File \"main.py\", line 3, in <module>\n    s.connect(at)\nConnectionRefusedError: [Errno 111] Connection refused\n",
            "nothing listens at the address that this asks",
        ),
        (
            "Traceback (most recent call last):\n  File \"main.py\", line 3, in <module>\n    s.bind(at)\nOSError: [Errno 98] Address already in use\n",
            "the port is taken",
        ),
        (
            "Exception in thread \"main\" java.net.UnknownHostException: ferry.invalid\n\tat Main.main(Main.java:4)\n",
            "`ferry.invalid` is not known",
        ),
        (
            "[page error] http://localhost:9/fares was not loaded: net::ERR_CONNECTION_REFUSED\n",
            "nothing listens at `http://localhost:9/fares`",
        ),
        (
            "[page error] http://localhost:9/fares was not loaded: net::ERR_FAILED\n",
            "got no answer from `http://localhost:9/fares`",
        ),
        (
            "[page error] http://localhost:9/fares was not loaded: the server answers 503\n",
            "refuses: it answers 503",
        ),
        (
            "[page error] http://localhost:9/x.js was not let in: the policy script-src 'self' forbids it\n",
            "own policy forbids `http://localhost:9/x.js`",
        ),
        (
            "[page error] the socket to ws://localhost:9/ failed\n",
            "the socket to `ws://localhost:9/` couldn't be opened",
        ),
        (
            "[page error] nobody caught this promise: TypeError: Failed to fetch\n",
            "a request got no answer",
        ),
    ] {
        let (family, headline) = told(console).unwrap_or_else(|| panic!("no error: {console}"));
        assert_eq!(family, Family::NotReached, "{console}");
        assert!(headline.to_lowercase().contains(&words.to_lowercase()), "{headline}: {words}");
    }
}

#[test]
fn a_file_that_a_server_does_not_have_is_no_server_that_is_silent() {
    for console in [
        "[page error] http://localhost:9/js/bord.js?v=2 was not loaded: the server answers 404\n",
        "[page error] http://localhost:9/js/bord.js was not loaded: the server answers with a page of HTML, and not with a script\n",
    ] {
        let (family, headline) = told(console).expect("it is an error");
        assert_eq!(family, Family::FileNotThere);
        assert!(headline.contains("js/bord.js"), "{headline}");
    }
    for healthy in ["listening on port 3000\n", "the quay is in use by 3 boats\n"] {
        assert_eq!(told(healthy), None, "{healthy}");
    }
}
