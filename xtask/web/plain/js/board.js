// Puts it all on the page.
const tide = document.getElementById('tide');
const timetable = document.getElementById('timetable');
const waves = new Waves(document.getElementById('sea'));
let boats = [];

function row(boat) {
  const item = document.createElement('li');
  item.textContent = boat.name + ': ' + boat.free() + ' seats free';
  if (boat.free() === 0) {
    item.classList.add('full');
  }
  return item;
}

function showBoats() {
  timetable.replaceChildren(...boats.map(row));
}

function bookSeats() {
  const seats = Number(document.getElementById('seats').value);
  const boat = roomiest(boats);
  for (let i = 0; i < seats; i++) {
    boat.board('guest ' + i);
  }
  showBoats();
}

const counter = new Worker('js/counter.js');
counter.onmessage = (event) => {
  document.querySelector('.hint').textContent = 'Next boat in ' + event.data.minutes + ' min';
};
counter.postMessage({ from: 9 });

loadBoats().then((loaded) => {
  boats = loaded;
  showBoats();
  setTimeout(() => document.getElementById('book').click(), 300);
});

showTide(tide, new Date().getHours());
setInterval(() => waves.draw(), 50);
