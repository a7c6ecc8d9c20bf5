#!/usr/bin/env escript
main(_) ->
    Fares = [12, three, 5],
    io:format("~p~n", [total(Fares)]).

total([]) -> 0;
total([H | T]) ->
    H + total(T).
