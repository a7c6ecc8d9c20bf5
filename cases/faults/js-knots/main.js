const Rope = require('./rope');
const { tie, untie } = require('./knots');
const steps = require('./steps.json');

const ropes = {};

const deeds = {
  cut(step) {
    ropes[step.rope] = new Rope(step.rope, step.metres);
  },
  tie(step) {
    tie(ropes[step.rope], step.knot);
  },
  untie(step) {
    untie(ropes[step.rope]);
  },
};

steps.forEach((step, number) => {
  const deed = deeds[step.deed];
  deed(step);
  console.log(`${number + 1}. ${step.deed} ${step.rope}`);
});

const left = Object.values(ropes).map((rope) => rope.free().toFixed(1));
console.log(left.join(' '));
