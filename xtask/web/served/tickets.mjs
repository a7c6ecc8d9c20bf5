// The tickets that were sold.
const sold = new Map();

export function soldFor(name) {
  return sold.get(name) ?? 0;
}

export function priceOf(boat, seats) {
  return boat.price.adult * seats;
}

export function sell(boat, seats) {
  const price = priceOf(boat, seats);
  sold.set(boat.name, soldFor(boat.name) + seats);
  return { number: sold.size, price: price };
}
