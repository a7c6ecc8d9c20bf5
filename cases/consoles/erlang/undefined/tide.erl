#!/usr/bin/env escript
main(_) ->
    io:format("~p~n", [deph(3)]).

depth(H) -> H * 2.
