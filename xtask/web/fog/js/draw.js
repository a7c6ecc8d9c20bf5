// Draws the marsh.
const COLOURS = { boat: '#e8e2d0', passenger: '#9fc3a8', harbour: '#6b5a3a' };
const FOG = [
  { at: 0, colour: 'rgba(200, 210, 220, 0.35)' },
  { at: 1, colour: 'rgba(200, 210, 220, 0)' },
];

function disc(pen, place, size, colour) {
  pen.fillStyle = colour;
  pen.beginPath();
  pen.arc(place.x, place.y, size, 0, Math.PI * 2);
  pen.fill();
}

function fog(pen, limits) {
  const fade = pen.createLinearGradient(0, 0, limits.width, 0);
  for (const stop of FOG) {
    fade.addColorStop(stop.at, stop.colour);
  }
  pen.fillStyle = fade;
  pen.fillRect(0, 0, limits.width, limits.height);
}

export function draw(pen, boat, level, limits) {
  pen.clearRect(0, 0, limits.width, limits.height);
  pen.fillStyle = COLOURS.harbour;
  pen.fillRect(level.harbour.x, level.harbour.y, level.harbour.width, 60);
  for (const buoy of level.buoys) {
    disc(pen, buoy.place, buoy.kind.size, buoy.kind.hit > 1 ? '#4f8a5b' : '#b8503c');
  }
  for (const passenger of level.passengers.filter((p) => !p.aboard)) {
    disc(pen, passenger.place, 5, COLOURS.passenger);
  }
  disc(pen, boat.place, boat.size, COLOURS.boat);
  fog(pen, limits);
}
