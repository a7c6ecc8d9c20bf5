let seats = [| "Ada"; "Bo" |]

let at n =
  let name = seats.(n) in
  name ^ "!"

let () = print_endline (at 2)
