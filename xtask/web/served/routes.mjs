// Which address answers what.
import { boats, findBoat } from './boats.mjs';
import { sell, soldFor } from './tickets.mjs';

export async function answerTo(method, path, body) {
  if (method === 'GET' && path === '/api/boats') {
    const all = await boats();
    return all.map((boat) => ({ ...boat, sold: soldFor(boat.name) }));
  }
  if (method === 'POST' && path === '/api/tickets') {
    const boat = await findBoat(body.boat);
    return sell(boat, body.seats);
  }
  if (method === 'GET' && path === '/api/tide') {
    return { height: 1.8, rising: true };
  }
  return null;
}
