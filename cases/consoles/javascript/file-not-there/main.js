const fs = require('fs');

function sound(name) {
  return fs.readFileSync(`sounds/${name}.txt`, 'utf8');
}

console.log(sound('bell'));
