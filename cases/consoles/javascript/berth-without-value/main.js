const { berth } = require('./berths');

console.log('the timetable is read');

function depth(boat) {
  return berth(boat).depth + 1;
}

console.log(depth('Marigold'));
console.log(depth('Dabchick'));
