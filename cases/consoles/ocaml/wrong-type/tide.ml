let depth hour low =
  low + hour * 2

let () =
  print_endline (depth 3 4)
