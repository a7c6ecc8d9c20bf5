// The boats, as the harbour lists them.
import { readFile } from 'node:fs/promises';

export async function boats() {
  const text = await readFile('data/boats.json', 'utf8');
  return JSON.parse(text).boats;
}

export async function findBoat(name) {
  const all = await boats();
  return all.find((boat) => boat.name === name);
}
