// The document of the stand-in page: elements by id, what is listened to, and what the visitor does.
(function (host) {
  "use strict";
  const listeners = new Map();
  const elements = new Map();

  function listen(target, kind, handler) {
    const all = listeners.get(target) ?? new Map();
    listeners.set(target, all);
    all.set(kind, [...(all.get(kind) ?? []), handler]);
  }

  function tell(target, kind, event) {
    for (const handler of listeners.get(target)?.get(kind) ?? []) {
      host.guarded(() => handler.call(target, event));
    }
  }

  class Element {
    constructor(tag, id) {
      this.tagName = tag.toUpperCase();
      this.id = id ?? "";
      this.textContent = "";
      this.children = [];
    }
    addEventListener(kind, handler) {
      listen(this, kind, handler);
    }
    append(...parts) {
      this.children.push(...parts);
    }
    setAttribute(name, value) {
      this[name] = value;
    }
  }

  for (const [tag, id] of host.elements) {
    elements.set(id, new Element(tag, id));
  }
  const document = {
    getElementById: (id) => elements.get(id) ?? null,
    querySelector: (query) => (query.startsWith("#") ? elements.get(query.slice(1)) ?? null : null),
    createElement: (tag) => new Element(tag),
    addEventListener: (kind, handler) => listen(document, kind, handler),
    body: new Element("body"),
  };
  const global = globalThis;
  global.window = global;
  global.document = document;
  global.addEventListener = (kind, handler) => listen(global, kind, handler);
  global.ticketService = host.ticketService;

  function worded(value) {
    if (value instanceof Error) return value.stack && value.stack.includes(value.message) ? value.stack : String(value) + "\n" + (value.stack ?? "");
    return typeof value === "object" && value !== null ? JSON.stringify(value) : String(value);
  }
  const say = (level) => (...values) => host.say(level, values.map(worded).join(" "));
  global.console = { log: say("note"), info: say("note"), debug: say("note"), warn: say("warning"), error: say("error") };

  const timers = [];
  global.setTimeout = (handler, ms, ...given) => timers.push({ at: host.now() + (ms ?? 0), handler: () => handler(...given) });

  global.fetch = (url, options) =>
    new Promise((done, failed) => {
      const [status, text] = host.fetch(String(url), options?.headers ?? {});
      if (status === 0) failed(new TypeError("no answer from " + url));
      else done({ ok: status >= 200 && status < 300, status, text: async () => text, json: async () => JSON.parse(text) });
    });

  host.drive = {
    load: () => tell(global, "load", { type: "load" }),
    click(id) {
      const element = elements.get(id);
      if (element) tell(element, "click", { type: "click", target: element });
      return element !== undefined;
    },
    turn() {
      const now = host.now();
      for (const timer of timers.splice(0)) {
        if (timer.at <= now) host.guarded(timer.handler);
        else timers.push(timer);
      }
    },
  };
})
