// Runs before the page's own scripts, in each of its frames. It tells through a channel what goes
// wrong in it, and sees to it that what the page prints is no more than a browser can pass on: the
// beginning of a large value, and so many messages in a second; the others are counted and told.
(channel) => {
  // Entries of one list or object, levels, and things in all that are passed on of one value.
  const ENTRIES = 100, LEVELS = 4, THINGS = 1000;
  const LETTERS = 20000;
  // Messages in a second; what goes wrong has as many of its own.
  const MOST = 300;

  const told = { note: 0, error: 0 };
  const left = { note: 0, error: 0 };
  let since = performance.now();
  let ends = false;
  const tell = (what) => channel(JSON.stringify(what));

  const tellLeft = () => {
    ends = false;
    for (const level of ["note", "error"]) {
      if (left[level] > 0) tell({ kind: "left", level, count: left[level] });
      left[level] = 0;
    }
  };
  // Whether one more may be passed on now.
  const may = (level) => {
    const now = performance.now();
    if (now - since >= 1000) {
      since = now;
      told.note = told.error = 0;
    }
    if (told[level] < MOST) {
      told[level] += 1;
      return true;
    }
    left[level] += 1;
    if (!ends) {
      ends = true;
      later(tellLeft, 1000);
    }
    return false;
  };
  // Kept as they are: the page may put others in their places.
  const later = setTimeout.bind(window);
  const { isArray } = Array;
  const { keys, getOwnPropertyDescriptor, getPrototypeOf } = Object;

  const isPlain = (value) => {
    if (isArray(value)) return true;
    const above = getPrototypeOf(value);
    return above === null || getPrototypeOf(above) === null;
  };
  const tooLong = (value) => typeof value === "string" && value.length > LETTERS;
  const cutText = (value) =>
    `${value.slice(0, LETTERS)}… (${value.length - LETTERS} more characters)`;
  const valueAt = (value, key) => {
    const at = getOwnPropertyDescriptor(value, key);
    return at && "value" in at ? at.value : undefined;
  };
  // Things in a value, counted no further than THINGS; nothing of the page is run for it.
  const size = (value, depth, room) => {
    if (tooLong(value)) return room + 1;
    if (value === null || typeof value !== "object" || depth > LEVELS) return 1;
    if (ArrayBuffer.isView(value) || value instanceof Map || value instanceof Set)
      return value.length ?? value.size ?? value.byteLength;
    if (isArray(value) && value.length > room) return value.length;
    if (value instanceof Node || value instanceof Error) return 1;
    let count = 1;
    for (const key of keys(value)) {
      count += size(valueAt(value, key), depth + 1, room - count);
      if (count > room) break;
    }
    return count;
  };
  // The beginning of a value.
  const beginning = (value, depth) => {
    if (tooLong(value)) return cutText(value);
    if (value === null || typeof value !== "object") return value;
    if (value instanceof Node || value instanceof Error) return value;
    if (depth > LEVELS) return isArray(value) ? "[…]" : "{…}";
    const called = value.constructor && value.constructor.name;
    if (ArrayBuffer.isView(value) || value instanceof Map || value instanceof Set) {
      const count = value.length ?? value.size ?? value.byteLength;
      return `${called} of ${count}`;
    }
    if (isArray(value)) {
      const some = value.slice(0, ENTRIES).map((one) => beginning(one, depth + 1));
      if (value.length > ENTRIES) some.push(`… and ${value.length - ENTRIES} more`);
      return some;
    }
    const all = keys(value);
    const some = {};
    for (const key of all.slice(0, ENTRIES)) some[key] = beginning(valueAt(value, key), depth + 1);
    if (all.length > ENTRIES) some["…"] = `and ${all.length - ENTRIES} more`;
    if (!isPlain(value) && called) some["…of"] = called;
    return some;
  };
  const bounded = (value) => {
    try {
      return size(value, 0, THINGS) > THINGS ? beginning(value, 0) : value;
    } catch {
      // What forbids to be looked at is passed on by its kind.
      return typeof value;
    }
  };

  for (const name of ["log", "info", "debug", "warn", "error", "trace", "dir", "table"]) {
    const own = console[name];
    const level = name === "warn" || name === "error" ? "error" : "note";
    const bound = {
      [name](...values) {
        if (may(level)) own.apply(console, values.map(bounded));
      },
    };
    console[name] = bound[name];
  }

  addEventListener("error", (event) => {
    if (!may("error")) return;
    const part = event.target;
    if (part && part !== window && (part.src || part.href)) {
      tell({ kind: "load", url: part.src || part.href, what: part.tagName.toLowerCase() });
    } else {
      tell({ kind: "error", message: event.message, stack: (event.error && event.error.stack) || "", url: event.filename, line: event.lineno, column: event.colno });
    }
  }, true);
  addEventListener("unhandledrejection", (event) => {
    if (!may("error")) return;
    const reason = event.reason;
    const words = reason instanceof Error ? String(reason) : typeof reason === "object" ? JSON.stringify(bounded(reason)) : String(reason);
    tell({ kind: "rejection", message: words, stack: (reason && reason.stack) || "" });
  });
  addEventListener("securitypolicyviolation", (event) => {
    if (!may("error")) return;
    tell({ kind: "policy", message: event.violatedDirective, blocked: event.blockedURI, url: event.sourceFile, line: event.lineNumber, column: event.columnNumber });
  });
}
