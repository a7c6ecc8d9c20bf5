const say = (level, msg, more = "") => console.log(`ts=2026-11-23T20:00:01Z level=${level} msg="${msg}" ${more}`);
say("info", "ready, errors=0");
say("warn", "the rope is worn", "rope=3");
say("error", "no ticket for \\\"two\\\"", "ticket=7");
