use strict;
use warnings;
use Carp;

sub seat {
    my ($number) = @_;
    confess "no seat $number" if $number > 3;
    return $number;
}

sub board {
    return seat(shift);
}

print "0 errors\n";
board(4);
