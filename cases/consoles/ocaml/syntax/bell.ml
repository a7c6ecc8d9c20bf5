let ring times =
  for i = 1 to times
    print_endline "ding"
  done

let () = ring 3
