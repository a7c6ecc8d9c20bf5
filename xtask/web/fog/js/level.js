// Reads a level and makes what floats in it.
import { Buoy } from './buoy.js';
import { Passenger } from './passenger.js';

const KINDS = { red: { hit: 1, size: 9 }, green: { hit: 2, size: 12 }, wreck: { hit: 3, size: 20 } };

export async function loadLevel(number) {
  const response = await fetch(`levels/${number}.json`);
  const told = await response.json();
  return {
    name: told.name,
    hull: told.hull,
    harbour: told.harbour,
    buoys: told.buoys.map((b) => new Buoy(b.x, b.y, KINDS[b.kind])),
    passengers: told.passengers.map((p) => new Passenger(p.name, p.at)),
  };
}
