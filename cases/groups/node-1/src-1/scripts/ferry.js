// A part of the Night Ferry.
const deeds = {};

deeds['undef-prop'] = function deed_undef_prop(i, who) {
  const wick = undefined;
  return wick.level;
};

deeds['null-prop'] = function deed_null_prop(i, who) {
  const rope = null;
  return rope.level;
};

deeds['name'] = function deed_name(i, who) {
  return tideplank * i;
};

deeds['no-function'] = function deed_no_function(i, who) {
  const buoy = {};
  return buoy.ring(i);
};

deeds['constant'] = function deed_constant(i, who) {
  const berth = 1;
  berth = i;
};

deeds['told'] = function deed_told(i, who) {
  throw new Error(`no oar for ${who} at pier ${i}`);
};

deeds['told-kind'] = function deed_told_kind(i, who) {
  throw new RangeError('the sail is at ' + i + ' of 6');
};

deeds['json'] = function deed_json(i, who) {
  return JSON.parse('{"lamp": ' + i + ',}');
};

deeds['length'] = function deed_length(i, who) {
  return new Array(-1 - i);
};

deeds['file-a'] = function deed_file_a(i, who) {
  return require('fs').readFileSync('packs/reed_night.json');
};

deeds['file-b'] = function deed_file_b(i, who) {
  return require('fs').readFileSync('packs/hull_day' + i + '.json');
};

deeds['iterate'] = function deed_iterate(i, who) {
  const mast = i;
  return [...mast];
};

deeds['caused'] = function deed_caused(i, who) {
  try { return undefined.keel; } catch (e) { throw new Error('cannot board ' + who, { cause: e }); }
};

deeds['url'] = function deed_url(i, who) {
  return new URL('tiller ' + i);
};

function moor(boat) {
  return boat.pier.name;
}
deeds['helper'] = function quay(i, who) { return moor({ who }); };
deeds['helper#2'] = function harbour(i, who) { return moor({ i }); };

function pair(i) {
  let x;
  if (i % 2) return x.y;
  return x.y.z;
}
deeds['pair-a'] = () => pair(1);
deeds['pair-b'] = () => pair(2);
const names = ['Ada Reed', 'Bo', 'Clementine Marsh', 'Dov', 'Elin of the Jetty', 'Finn', 'Gro Nilsen', 'Hedy', 'Ivo'];
const order = Object.keys(deeds).sort();
let n = Number(process.argv[2]) * 1000;
for (let turn = 0; turn < 17; turn++) for (let at = 0; at < order.length; at++) {
  n++;
  const name = order[(at * 7 + turn * 3) % order.length];
  console.log('@@' + name.split('#')[0]);
  try { deeds[name](n % 90, names[n % names.length]); console.log('nothing failed: ' + name); } catch (e) { console.log(e.stack + (e.cause ? '\n  [cause]: ' + e.cause.stack.replace(/\n/g, '\n  ') : '')); }
  console.log('the ferry goes on, ' + n + ' m');
}
