// Tells the parts of the page of one another.
const bus = new EventTarget();

export function tell(name, detail) {
  bus.dispatchEvent(new CustomEvent(name, { detail }));
}

export function hear(name, listener) {
  bus.addEventListener(name, (event) => listener(event.detail));
}
