depth(H, D) :-
    Low = 2,
    D is H * 2.

name(north).
depth_of(north, 3).
name(south).

main :- depth(3, D), print(D), nl.
