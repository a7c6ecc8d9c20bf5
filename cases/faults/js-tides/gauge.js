class Gauge {
  constructor(place, base, scale) {
    this.place = place;
    this.base = base;
    this.scale = scale;
    this.readings = [];
  }

  read(hour) {
    const wave = Math.round(Math.sin(hour) * this.scale);
    this.readings.push({ hour, level: this.base + wave });
  }

  highest() {
    let best = this.readings[0];
    for (let i = 1; i < this.readings.length; i++) {
      if (this.readings[i].level > best.level) {
        best = this.readings[i];
      }
    }
    return best.level;
  }

  summary() {
    const last = this.readings[this.readings.length - 1];
    return this.place.toUpperCase() + ' ' + last.level;
  }
}

module.exports = { Gauge };
