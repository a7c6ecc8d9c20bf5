// The boats and their seats.
class Boat {
  constructor(name, seats) {
    this.name = name;
    this.seats = seats;
    this.guests = [];
  }

  free() {
    return this.seats - this.guests.length;
  }

  board(guest) {
    if (this.free() > 0) {
      this.guests.push(guest);
    }
    return this.free();
  }
}

async function loadBoats() {
  const answer = await fetch('data/boats.json');
  const read = await answer.json();
  return read.boats.map((one) => new Boat(one.name, one.seats));
}

function roomiest(boats) {
  let best = boats[0];
  for (const boat of boats) {
    if (boat.free() > best.free()) {
      best = boat;
    }
  }
  return best;
}
