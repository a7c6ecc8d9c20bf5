function read(text) {
  return JSON.parse(text);
}

function load(name) {
  try {
    return read('{"tide": 1.2,}');
  } catch (cause) {
    throw new Error(`cannot load ${name}`, { cause });
  }
}

load('tide.json');
