// Runs before the page's own scripts, in each of its frames. It tells through a channel what goes
// wrong in it, and sees to it that what the page prints is no more than a browser can pass on: of a
// value its beginning in words, and so many messages in a second; the others are counted and told.
(channel) => {
  // Of a value so many entries of each list or object, and so many levels below it.
  const ENTRIES = 10, LEVELS = 2;
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
  // The first ten steps of an error are seldom enough.
  Error.stackTraceLimit = 50;
  // What is known of an error that it does not say itself: steps, and what it is about.
  const known = new WeakMap();
  const noted = (error) => {
    const more = error !== null && typeof error === "object" ? known.get(error) : undefined;
    const stack = typeof error.stack === "string" ? error.stack : String(error);
    if (!more) return stack;
    const [head, ...steps] = stack.split("\n    at ");
    const own = steps.length > 0 ? steps : more.steps;
    return [`${head}${more.about}`, ...own].join("\n    at ");
  };
  // The steps that led here, without those of this script.
  const stepsHere = () => (new Error().stack || "").split("\n    at ").slice(1).filter((step) => /:\/\//.test(step));

  // Kept as they are: the page may put others in their places.
  const later = setTimeout.bind(window);
  const { isArray } = Array;
  const tag = Object.prototype.toString;
  const { keys, getOwnPropertyDescriptor, getPrototypeOf } = Object;

  const valueAt = (value, key) => {
    const at = getOwnPropertyDescriptor(value, key);
    return at && "value" in at ? at.value : undefined;
  };
  const nameOf = (value) => {
    const above = getPrototypeOf(value);
    const made = above && valueAt(above, "constructor");
    return (made && valueAt(made, "name")) || "Object";
  };
  const cut = (text, letters) =>
    text.length > letters ? `${text.slice(0, letters)}… (${text.length - letters} more characters)` : text;
  // What a value is and how it begins, in words: the driver tells no more of it than its kind.
  // Nothing of the page is run for that, but what an error says of itself.
  const inWords = (value, depth) => {
    if (typeof value === "string") return depth > 0 ? JSON.stringify(cut(value, 80)) : cut(value, LETTERS);
    if (typeof value === "function") return `function ${valueAt(value, "name") || "without a name"}`;
    if (value === null || typeof value !== "object") return String(value);
    // One of another frame is of another kind of Error.
    if (value instanceof Error || tag.call(value) === "[object Error]") {
      const stack = depth === 0 && typeof value.stack === "string" && noted(value);
      return cut(stack && stack.includes(value.message) ? stack : String(value), LETTERS);
    }
    if (value instanceof Element) return `<${value.localName}${value.id ? ` id="${value.id}"` : ""}>`;
    if (value instanceof Node || value === window) return nameOf(value);
    const list = isArray(value);
    if (list || ArrayBuffer.isView(value) || value instanceof Map || value instanceof Set) {
      const count = value.length ?? value.size ?? value.byteLength;
      const called = list && count <= ENTRIES ? "" : `${nameOf(value)}(${count})`;
      if (!list || depth > LEVELS) return called || "[…]";
      const some = value.slice(0, ENTRIES).map((one) => inWords(one, depth + 1));
      return `${called && `${called} `}[${some.join(", ")}${count > ENTRIES ? ", …" : ""}]`;
    }
    const called = nameOf(value) === "Object" ? "" : nameOf(value);
    if (depth > LEVELS) return called || "{…}";
    const all = keys(value);
    const some = all.slice(0, ENTRIES).map((key) => `${key}: ${inWords(valueAt(value, key), depth + 1)}`);
    const more = all.length > ENTRIES ? `, … ${all.length - ENTRIES} more` : "";
    return `${called && `${called} `}{${some.join(", ")}${more}}`;
  };
  const passed = (value) => {
    if (typeof value !== "string" && typeof value !== "object" && typeof value !== "function") return value;
    try {
      return value === null ? value : inWords(value, 0);
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
        if (may(level)) own.apply(console, values.map(passed));
      },
    };
    console[name] = bound[name];
  }

  // An answer that is no JSON is told without any step, and without its address.
  if (typeof Response === "function") {
    const { json } = Response.prototype;
    Response.prototype.json = {
      json() {
        const steps = stepsHere();
        const kind = (this.headers.get("content-type") || "no kind").split(";")[0];
        const about = ` (${this.url || "an answer"} answered ${this.status} with ${kind})`;
        return json.call(this).catch((error) => {
          if (error instanceof SyntaxError) {
            known.set(error, { steps, about });
            // The browser keeps a rejection without a script from the page; only its log tells it.
            tell({ kind: "about", message: String(error), stack: noted(error) });
          }
          throw error;
        });
      },
    }.json;
  }
  // A socket that fails says nothing to the page's console.
  if (typeof WebSocket === "function") {
    window.WebSocket = new Proxy(WebSocket, {
      construct(made, given, by) {
        const steps = stepsHere();
        const socket = Reflect.construct(made, given, by);
        socket.addEventListener("error", () => {
          if (may("error")) tell({ kind: "socket", url: socket.url, stack: steps.map((step) => `\n    at ${step}`).join("") });
        });
        return socket;
      },
    });
  }

  addEventListener("error", (event) => {
    if (!may("error")) return;
    const part = event.target;
    if (part && part !== window && (part.src || part.href)) {
      tell({ kind: "load", url: part.src || part.href, what: part.tagName.toLowerCase() });
    } else {
      tell({ kind: "error", message: event.message, stack: (event.error && event.error.stack && noted(event.error)) || "", url: event.filename, line: event.lineno, column: event.colno });
    }
  }, true);
  addEventListener("unhandledrejection", (event) => {
    if (!may("error")) return;
    const reason = event.reason;
    const words = reason instanceof Error ? String(reason) : String(passed(reason));
    tell({ kind: "rejection", message: words, stack: (reason && reason.stack && noted(reason)) || "" });
  });
  addEventListener("securitypolicyviolation", (event) => {
    // What was made code of a text has thrown already.
    if (event.blockedURI === "eval" || !may("error")) return;
    // Where no line is told, the part of the page that was kept out is told by what stands in it.
    const part = event.target;
    let code = "";
    if (part instanceof Element && event.blockedURI === "inline" && !event.lineNumber) {
      const about = event.violatedDirective.startsWith("style") ? "style" : "on";
      const given = [...part.attributes].find((a) => a.name === about || (about === "on" && a.name.startsWith("on")));
      code = given ? given.value : part.textContent.trim();
      code = code.split("\n")[0].slice(0, 120);
    }
    tell({ kind: "policy", message: event.violatedDirective, blocked: event.blockedURI, only: event.disposition === "report", code, url: event.sourceFile, line: event.lineNumber, column: event.columnNumber });
  });
}
