const fs = require('fs');
const path = require('path');
const { Gauge } = require('./gauge');
const warn = require('./warn');

const setup = JSON.parse(fs.readFileSync(path.join(__dirname, 'setup.json'), 'utf8'));
const gauges = setup.gauges.map((row) => new Gauge(row.place, row.base, row.scale));

function gaugeAt(place) {
  return gauges.find((gauge) => gauge.place === place);
}

function measure(hour) {
  for (const gauge of gauges) {
    gauge.read(hour);
  }
}

for (let hour = 0; hour < 6; hour++) {
  measure(hour);
}

for (const rule of setup.rules) {
  const gauge = gaugeAt(rule.place);
  const level = gauge.highest();
  if (level > rule.above) {
    warn[rule.action](gauge, level);
  }
}

console.log(gauges.map((gauge) => gauge.summary()).join('; '));
