async function timetable(day) {
  if (day > 5) {
    throw new RangeError(`no ferry on day ${day}`);
  }
  return ['07:10', '09:40'];
}

async function show(day) {
  const times = await timetable(day);
  console.log(times.join(' '));
}

show(2);
show(6);
