// A part of the Night Ferry.
const deeds = {};

deeds['undef-prop'] = function deed_undef_prop(i, who) {
  const ticket = undefined;
  return ticket.level;
};

deeds['null-prop'] = function deed_null_prop(i, who) {
  const fare = null;
  return fare.level;
};

deeds['name'] = function deed_name(i, who) {
  return tidegate * i;
};

deeds['no-function'] = function deed_no_function(i, who) {
  const seat = {};
  return seat.ring(i);
};

deeds['constant'] = function deed_constant(i, who) {
  const stamp = 1;
  stamp = i;
};

deeds['told'] = function deed_told(i, who) {
  throw new Error(`no quay for ${who} at pier ${i}`);
};

deeds['told-kind'] = function deed_told_kind(i, who) {
  throw new RangeError('the crew is at ' + i + ' of 6');
};

deeds['json'] = function deed_json(i, who) {
  return JSON.parse('{"dock": ' + i + ',}');
};

deeds['length'] = function deed_length(i, who) {
  return new Array(-1 - i);
};

deeds['file-a'] = function deed_file_a(i, who) {
  return require('fs').readFileSync('packs/deck_night.json');
};

deeds['file-b'] = function deed_file_b(i, who) {
  return require('fs').readFileSync('packs/chart_day' + i + '.json');
};

deeds['iterate'] = function deed_iterate(i, who) {
  const wave = i;
  return [...wave];
};

deeds['caused'] = function deed_caused(i, who) {
  try { return undefined.moon; } catch (e) { throw new Error('cannot board ' + who, { cause: e }); }
};

deeds['url'] = function deed_url(i, who) {
  return new URL('lock ' + i);
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
  try { deeds[name](n % 90, names[n % names.length]); console.log('nothing failed: ' + name); } catch (e) { console.log(`{"level":50,"time":${1795454000000 + n},"pid":${n % 977},"msg":"a deed failed","err":{"type":${JSON.stringify(e.name)},"message":${JSON.stringify(e.message)},"stack":${JSON.stringify(e.stack)}}}`); }
  console.log('the ferry goes on, ' + n + ' m');
}
