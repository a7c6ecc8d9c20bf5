<?php
function lift(int $times {
    return $times;
}
