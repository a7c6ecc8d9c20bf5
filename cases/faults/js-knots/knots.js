const LENGTHS = {
  bowline: 0.8,
  clove: 0.5,
  sheet: 0.6,
};

function tie(rope, knot) {
  const used = LENGTHS[knot];
  if (rope.free() < used) {
    throw new Error(`${rope.name} is too short for a ${knot}`);
  }
  rope.add(knot, used);
}

function untie(rope) {
  const last = rope.drop();
  console.log(last.knot + ' is undone');
}

module.exports = { tie, untie };
