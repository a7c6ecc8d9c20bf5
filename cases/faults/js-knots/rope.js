class Rope {
  constructor(name, metres) {
    this.name = name;
    this.metres = metres;
    this.knots = [];
  }

  add(knot, used) {
    this.knots.push({ knot, used });
  }

  drop() {
    return this.knots.pop();
  }

  free() {
    return this.knots.reduce((sum, entry) => sum - entry.used, this.metres);
  }
}

module.exports = Rope;
