<?php // A part of the Night Ferry.
$deeds = [];

function deed_null_call($i, $who) {
  $ticket = null;
  return $ticket->ring($i);
}
$deeds['null-call'] = 'deed_null_call';

function deed_undefined($i, $who) {
  return tidefare($i);
}
$deeds['undefined'] = 'deed_undefined';

function deed_kind($i, $who) {
  return strlen([]) + $i;
}
$deeds['kind'] = 'deed_kind';

function deed_told($i, $who) {
  throw new RuntimeException("no seat for $who at pier $i");
}
$deeds['told'] = 'deed_told';

function deed_told_id($i, $who) {
  throw new LogicException('stamp ' . dechex($i * 2654435761 % 4294967296 + 4294967296) . ' is lost');
}
$deeds['told-id'] = 'deed_told_id';

function deed_zero($i, $who) {
  $quay = 0;
  return intdiv($i, $quay);
}
$deeds['zero'] = 'deed_zero';

function deed_add($i, $who) {
  return 'crew' + $i;
}
$deeds['add'] = 'deed_add';

function deed_class($i, $who) {
  return new Tidedock($i);
}
$deeds['class'] = 'deed_class';

function deed_constant($i, $who) {
  return cargo_LEVEL + $i;
}
$deeds['constant'] = 'deed_constant';

function deed_json($i, $who) {
  return json_decode('{"deck": ' . $i . ',}', false, 9, JSON_THROW_ON_ERROR);
}
$deeds['json'] = 'deed_json';

function deed_caused($i, $who) {
  try { return intdiv(1, 0); } catch (Error $e) { throw new RuntimeException('cannot board ' . $who, 0, $e); }
}
$deeds['caused'] = 'deed_caused';

function deed_argument($i, $who) {
  return (function (int $wave) { return $wave; })($who);
}
$deeds['argument'] = 'deed_argument';

function moor($boat) {
  return $boat->ring();
}
function quay($i, $who) { return moor(null); }
function harbour($i, $who) { return moor(null); }
$deeds['helper'] = 'quay';
$deeds['helper#2'] = 'harbour';
$names = ['Ada Reed', 'Bo', 'Clementine Marsh', 'Dov', 'Elin of the Jetty', 'Finn', 'Gro Nilsen', 'Hedy', 'Ivo'];
ksort($deeds, SORT_STRING);
$order = array_keys($deeds);
$n = intval($argv[1]) * 1000;
for ($turn = 0; $turn < 17; $turn++) for ($at = 0; $at < count($order); $at++) {
  $n++;
  $name = $order[($at * 7 + $turn * 3) % count($order)];
  echo '@@' . explode('#', $name)[0] . "\n";
  try { $deeds[$name]($n % 90, $names[$n % count($names)]); } catch (Throwable $e) { echo '[' . gmdate('d-M-Y H:i:s', 1795454000 + $n) . ' UTC] PHP Fatal error:  Uncaught ' . $e . "\n  thrown in " . $e->getFile() . ' on line ' . $e->getLine() . "\n"; }
  echo "the ferry goes on, $n m\n";
}
