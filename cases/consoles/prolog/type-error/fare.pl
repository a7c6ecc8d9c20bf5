fare(adult, 12).
fare(child, six).

total([], 0).
total([W|Ws], T) :-
    fare(W, F),
    total(Ws, Rest),
    T is F + Rest.

main :- total([adult, child], T), print(T), nl.
