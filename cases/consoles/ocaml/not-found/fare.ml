let fares = [ ("adult", 12); ("bike", 3) ]

let fare who = List.assoc who fares

let () =
  print_endline "0 errors";
  print_int (fare "adult" + fare "chlid")
