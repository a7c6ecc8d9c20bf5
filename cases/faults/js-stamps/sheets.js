const pages = [
  { title: 'early', from: 1900, rows: 3 },
  { title: 'middle', from: 1930, rows: 2 },
  { title: 'late', from: 1960, rows: 4 },
];

const stamps = [
  { name: ' Red Paddle', year: 1912, row: 0, kind: 'common', count: 4 },
  { name: 'Blue Paddle', year: 1925, row: 2, kind: 'rare', count: 1 },
  { name: 'Night Boat ', year: 1941, row: 1, kind: 'common', count: 2 },
  { name: 'Car Deck', year: 1966, row: 3, kind: 'error', count: 1 },
];

const prices = {
  common: { each: 0.2 },
  rare: { each: 7.5 },
  error: { each: 40 },
};

module.exports = { pages, stamps, prices };
