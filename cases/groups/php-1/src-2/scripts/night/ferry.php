<?php // A part of the Night Ferry.
$deeds = [];
// Looked at on an evening in May.
// Looked at on an evening in May.

function deed_undefined($i, $who) {
  return tiderope($i);
}
$deeds['undefined'] = 'deed_undefined';

function deed_json($i, $who) {
  return json_decode('{"reed": ' . $i . ',}', false, 9, JSON_THROW_ON_ERROR);
}
$deeds['json'] = 'deed_json';
// Written on an evening in May.

function deed_zero($i, $who) {
  $oar = 0;
  return intdiv($i, $oar);
}
$deeds['zero'] = 'deed_zero';
// Written on an evening in June.

function moor($boat) {
  return $boat->ring();
}
function quay($i, $who) { return moor(null); }
function harbour($i, $who) { return moor(null); }
$deeds['helper'] = 'quay';
$deeds['helper#2'] = 'harbour';

function deed_argument($i, $who) {
  return (function (int $mast) { return $mast; })($who);
}
$deeds['argument'] = 'deed_argument';
// Looked at on an evening in June.
// Looked at on an evening in June.

function deed_told($i, $who) {
  throw new RuntimeException("no buoy for $who at pier $i");
}
$deeds['told'] = 'deed_told';
// Written on an evening in June.
// Written on an evening in June.

function deed_constant($i, $who) {
  return bell_LEVEL + $i;
}
$deeds['constant'] = 'deed_constant';
// Mended on an evening in June.

function deed_add($i, $who) {
  return 'sail' + $i;
}
$deeds['add'] = 'deed_add';
// Written on an evening in May.
// Written on an evening in May.
// Written on an evening in May.

function deed_class($i, $who) {
  return new Tidelamp($i);
}
$deeds['class'] = 'deed_class';
// Written on an evening in June.
// Written on an evening in June.

function deed_null_call($i, $who) {
  $wick = null;
  return $wick->ring($i);
}
$deeds['null-call'] = 'deed_null_call';
// Mended on an evening in June.
// Mended on an evening in June.

function deed_caused($i, $who) {
  try { return intdiv(1, 0); } catch (Error $e) { throw new RuntimeException('cannot board ' . $who, 0, $e); }
}
$deeds['caused'] = 'deed_caused';
// Looked at on an evening in May.
// Looked at on an evening in May.
// Looked at on an evening in May.

function deed_kind($i, $who) {
  return strlen([]) + $i;
}
$deeds['kind'] = 'deed_kind';

function deed_told_id($i, $who) {
  throw new LogicException('berth ' . dechex($i * 2654435761 % 4294967296 + 4294967296) . ' is lost');
}
$deeds['told-id'] = 'deed_told_id';
$names = ['Ada Reed', 'Bo', 'Clementine Marsh', 'Dov', 'Elin of the Jetty', 'Finn', 'Gro Nilsen', 'Hedy', 'Ivo'];
ksort($deeds, SORT_STRING);
$order = array_keys($deeds);
$n = intval($argv[1]) * 1000;
for ($turn = 0; $turn < 17; $turn++) for ($at = 0; $at < count($order); $at++) {
  $n++;
  $name = $order[($at * 7 + $turn * 3) % count($order)];
  echo '@@' . explode('#', $name)[0] . "\n";
  try { $deeds[$name]($n % 90, $names[$n % count($names)]); } catch (Throwable $e) { echo 'PHP Fatal error:  Uncaught ' . $e . "\n  thrown in " . $e->getFile() . ' on line ' . $e->getLine() . "\n"; }
  echo "the ferry goes on, $n m\n";
}
