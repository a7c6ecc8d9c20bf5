export interface Price {
  adult: number;
  child: number;
}

export interface Boat {
  name: string;
  seats: number;
  leaves: string;
  price: Price;
}

export interface Order {
  boat: string;
  adults: number;
  children: number;
}

export const BOATS: Boat[] = [
  { name: 'Heron', seats: 12, leaves: '21:30', price: { adult: 4, child: 2 } },
  { name: 'Plover', seats: 6, leaves: '22:15', price: { adult: 6, child: 3 } },
];

export function boatOf(boats: Boat[], name: string): Boat {
  return boats.filter((boat) => boat.name === name)[0];
}

export function costOf(order: Order, boats: Boat[]): number {
  const boat = boatOf(boats, order.boat);
  return boat.price.adult * order.adults + boat.price.child * order.children;
}
