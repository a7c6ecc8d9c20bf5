car(van, 4).
car(lorry 9).
car(bike, 1).

main :- forall(car(C, L), format("~w ~w~n", [C, L])).
