set fares(adult) 12
proc fare {who} {
    global fares
    return $fares($who)
}
foreach who {adult child dog} {
    if {[catch {puts [fare $who]} why]} {
        puts stderr "fares.tcl: ERROR no fare for $who: $why"
    }
}
puts "done"
