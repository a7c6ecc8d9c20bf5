use strict;
use warnings;

my $rope;
print "length ", 3 + $rope, "\n";
$rope->pull(2);
