const tideClock = { hours: 6 };

for (let turn = 0; turn < 3; turn += 1) {
  try {
    console.log(tideclock.hours);
  } catch (problem) {
    console.error(problem);
  }
}
