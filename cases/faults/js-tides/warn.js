const lines = [];

function flag(gauge, level) {
  lines.push('flag at ' + gauge.place);
  console.log('flag up at ' + gauge.place + ': ' + level);
}

function horn(gauge, level) {
  lines.push('horn at ' + gauge.place);
  console.log('horn at ' + gauge.place + ' for ' + (level - gauge.base));
}

function light(gauge) {
  lines.push('light at ' + gauge.place);
  console.log('light at ' + gauge.place + ', call ' + lines.length);
}

exports.flag = flag;
exports.horn = horn;
exports.light = light;
