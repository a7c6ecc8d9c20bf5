<?php
$tides = ["high" => "21:40"];
for ($i = 0; $i < 3; $i++) {
    echo "low water at ", $tides["low"], "\n";
}
include "table.php";
