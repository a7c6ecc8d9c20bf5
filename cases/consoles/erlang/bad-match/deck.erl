#!/usr/bin/env escript
main(_) ->
    io:format("0 errors~n"),
    board(van).

board(Car) ->
    {ok, Place} = place(Car),
    io:format("~p at ~p~n", [Car, Place]).

place(van) -> {full, 12};
place(_) -> {ok, 3}.
