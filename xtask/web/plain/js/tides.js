// How high the water stands, by hours.
const TIDES = [1.2, 1.9, 2.6, 2.2, 1.5, 0.9];

function tideAt(hour) {
  return TIDES[hour % TIDES.length];
}

function highestTide() {
  let highest = 0;
  for (let i = 0; i < TIDES.length; i++) {
    if (TIDES[i] > highest) {
      highest = TIDES[i];
    }
  }
  return highest;
}

function showTide(element, hour) {
  const height = tideAt(hour);
  element.textContent = 'Water: ' + height.toFixed(1) + ' of ' + highestTide().toFixed(1) + ' m';
}
