<?php
function price(array $prices, string $kind): int {
    if (!isset($prices[$kind])) {
        throw new OutOfRangeException("no price for $kind");
    }
    return $prices[$kind];
}

function board(string $kind): void {
    try {
        price(["adult" => 4], $kind);
    } catch (OutOfRangeException $e) {
        throw new RuntimeException("nobody can board", 0, $e);
    }
}

echo "0 errors\n";
board("child");
